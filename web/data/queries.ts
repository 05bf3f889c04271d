import { QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { LearnedRise } from '#core/pressure/hot-run.ts';
import { type RigWheel, wheelsOf } from '#core/rig/positions.ts';
import type { Alarm, WatchView } from '#schema/alarm.ts';
import type { BenchCommand, BenchView } from '#schema/bench.ts';
import type { ChartAnswer, ImportAnswer } from '#schema/history.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { NewRig, NewUnit, Rig, Unit } from '#schema/unit.ts';
import { ApiProblem, api } from './api.ts';

export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      refetchOnWindowFocus: true,
      retry: (count, error) => (error instanceof ApiProblem && error.status >= 400 ? false : count < 2),
    },
  },
});

export const keys = {
  rigs: ['rigs'] as const,
  units: ['units'] as const,
  monitors: ['monitors'] as const,
  watch: (rigId: string) => ['watch', rigId] as const,
  alarms: (rigId: string) => ['alarms', rigId] as const,
  bench: (rigId: string) => ['bench', rigId] as const,
  charts: (rigId: string) => ['charts', rigId] as const,
  importOf: (rigId: string) => ['import', rigId] as const,
  hotRun: (rigId: string) => ['hotRun', rigId] as const,
};

export const useRigs = () => useQuery({ queryKey: keys.rigs, queryFn: () => api<Rig[]>('GET', '/rigs') });
export const useUnits = () => useQuery({ queryKey: keys.units, queryFn: () => api<Unit[]>('GET', '/units') });
export const useMonitors = () => useQuery({ queryKey: keys.monitors, queryFn: () => api<Monitor[]>('GET', '/monitors') });
export const useWatch = (rigId: string) =>
  useQuery({
    queryKey: keys.watch(rigId),
    queryFn: () => newestWatch(rigId, () => api<WatchView>('GET', `/rigs/${rigId}/watch`)),
  });
export const useAlarms = (rigId: string) =>
  useQuery({
    queryKey: keys.alarms(rigId),
    queryFn: () => newestAlarms(rigId, () => api<Alarm[]>('GET', `/rigs/${rigId}/alarms?limit=50`)),
  });
export const useBench = (rigId: string) =>
  useQuery({ queryKey: keys.bench(rigId), queryFn: () => api<BenchView>('GET', `/rigs/${rigId}/bench`) });

/** What an ordinary run adds, as the rig's own readings show it, axle by axle. */
export const useLearned = (rigId: string) =>
  useQuery({
    queryKey: keys.hotRun(rigId),
    queryFn: () => api<{ axles: Record<string, LearnedRise> }>('GET', `/rigs/${rigId}/hot-run`),
  });

/** The rig's monitor, when one was chosen. */
export function useMonitor(rig: Rig): Monitor | null {
  const monitors = useMonitors();
  return monitors.data?.find((m) => m.id === rig.monitorId) ?? null;
}

/** A rig with its units in order and its wheels in plan order. */
export interface WholeRig {
  rig: Rig;
  units: Unit[];
  wheels: RigWheel[];
}

/** The units of a rig, in order. */
export const unitsOf = (rig: Rig, units: readonly Unit[]): Unit[] =>
  rig.unitIds.flatMap((id) => units.find((u) => u.id === id) ?? []);

/** The rig of an id: `undefined` while it loads, `null` when there is none. */
export function useWholeRig(rigId: string): WholeRig | null | undefined {
  const rigs = useRigs();
  const units = useUnits();
  return useMemo(() => {
    if (!rigs.data || !units.data) return undefined;
    const rig = rigs.data.find((r) => r.id === rigId);
    if (!rig) return null;
    const own = unitsOf(rig, units.data);
    return { rig, units: own, wheels: wheelsOf(own) };
  }, [rigs.data, units.data, rigId]);
}

const replaceIn = <T extends { id: string }>(list: T[] | undefined, doc: T): T[] =>
  list?.some((d) => d.id === doc.id) ? list.map((d) => (d.id === doc.id ? doc : d)) : [...(list ?? []), doc];

let rigChanges: Promise<unknown> = Promise.resolve();
let unitChanges: Promise<unknown> = Promise.resolve();

/** Everything that changes documents, with the caches brought in line. */
export function useRecords() {
  const client = useQueryClient();
  return useMemo(() => {
    const putUnit = async (unit: Unit): Promise<Unit> => {
      try {
        const saved = await api<Unit>('PUT', `/units/${unit.id}`, unit);
        client.setQueryData<Unit[]>(keys.units, (list) => replaceIn(list, saved));
        void client.invalidateQueries({ queryKey: ['watch'] });
        return saved;
      } catch (error) {
        if (error instanceof ApiProblem && error.status === 409) void client.invalidateQueries({ queryKey: keys.units });
        throw error;
      }
    };
    const putRig = async (rig: Rig): Promise<Rig> => {
      const saved = await api<Rig>('PUT', `/rigs/${rig.id}`, rig);
      client.setQueryData<Rig[]>(keys.rigs, (list) => replaceIn(list, saved));
      void client.invalidateQueries({ queryKey: ['watch'] });
      return saved;
    };
    /** Change the rig as it is stored now, one change after the other, so that two in a row do not meet on one version. */
    const changeRig = (id: string, work: (rig: Rig) => Rig): Promise<Rig> => {
      const run = rigChanges.then(() => {
        const now = client.getQueryData<Rig[]>(keys.rigs)?.find((r) => r.id === id);
        if (!now) throw new Error('There is no such rig any more.');
        return putRig(work(now));
      });
      rigChanges = run.catch(() => undefined);
      return run;
    };
    /** Change a unit as it is stored now, one change after the other. */
    const changeUnit = (id: string, work: (unit: Unit) => Unit): Promise<Unit> => {
      const run = unitChanges.then(() => {
        const now = client.getQueryData<Unit[]>(keys.units)?.find((u) => u.id === id);
        if (!now) throw new Error('There is no such unit any more.');
        return putUnit(work(now));
      });
      unitChanges = run.catch(() => undefined);
      return run;
    };
    const addUnit = async (unit: NewUnit): Promise<Unit> => {
      const saved = await api<Unit>('POST', '/units', unit);
      client.setQueryData<Unit[]>(keys.units, (list) => replaceIn(list, saved));
      return saved;
    };
    const addRig = async (rig: NewRig): Promise<Rig> => {
      const saved = await api<Rig>('POST', '/rigs', rig);
      client.setQueryData<Rig[]>(keys.rigs, (list) => replaceIn(list, saved));
      return saved;
    };
    const refresh = () =>
      Promise.all([keys.rigs, keys.units, keys.monitors].map((queryKey) => client.invalidateQueries({ queryKey })));
    /** Delete a rig and the units that no other rig holds. Gives back the way back. */
    const removeRig = async (rig: Rig): Promise<() => Promise<void>> => {
      const others = (client.getQueryData<Rig[]>(keys.rigs) ?? []).filter((r) => r.id !== rig.id);
      const own = rig.unitIds.filter((id) => !others.some((r) => r.unitIds.includes(id)));
      await api('DELETE', `/rigs/${rig.id}`);
      for (const id of own) await api('DELETE', `/units/${id}`);
      await refresh();
      return async () => {
        for (const id of own) await api('POST', `/units/${id}/restore`);
        await api('POST', `/rigs/${rig.id}/restore`);
        await refresh();
      };
    };
    /** Take a unit out of every rig and delete it; a rig that would be left without units goes with it. Gives back the way back. */
    const removeUnit = async (unit: Unit): Promise<() => Promise<void>> => {
      const rigs = (client.getQueryData<Rig[]>(keys.rigs) ?? []).filter((r) => r.unitIds.includes(unit.id));
      for (const rig of rigs) {
        if (rig.unitIds.length === 1) await api('DELETE', `/rigs/${rig.id}`);
        else await api('PUT', `/rigs/${rig.id}`, { ...rig, unitIds: rig.unitIds.filter((id) => id !== unit.id) });
      }
      await api('DELETE', `/units/${unit.id}`);
      await refresh();
      return async () => {
        await api('POST', `/units/${unit.id}/restore`);
        for (const rig of rigs) {
          if (rig.unitIds.length === 1) await api('POST', `/rigs/${rig.id}/restore`);
          else await api('PUT', `/rigs/${rig.id}`, { ...rig, version: rig.version + 1 });
        }
        await refresh();
      };
    };
    const importRig = async (doc: unknown, leaveOutTaken: boolean): Promise<Rig> => {
      const rig = await api<Rig>('POST', `/rigs/import${leaveOutTaken ? '?sensors=free' : ''}`, doc);
      await refresh();
      return rig;
    };
    return { putUnit, changeUnit, putRig, changeRig, addUnit, addRig, removeRig, removeUnit, importRig };
  }, [client]);
}

export function useAcknowledge(rigId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (alarmId: string) => newestAlarm(rigId, () => api<Alarm>('POST', `/rigs/${rigId}/alarms/${alarmId}/acknowledge`)),
    onSuccess: (alarm) => client.setQueryData<Alarm[]>(keys.alarms(rigId), (list) => replaceIn(list, alarm)),
  });
}

export function useSilence(rigId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (minutes: number) => newestWatch(rigId, () => api<WatchView>('POST', `/rigs/${rigId}/silence`, { minutes })),
    onSuccess: (view) => client.setQueryData(keys.watch(rigId), view),
  });
}

/** What the owner tells the watch beside readings; each answers with the watch as it stands then. */
export function useWatchCommands(rigId: string) {
  const client = useQueryClient();
  return useMemo(() => {
    const send = async (path: string, body: unknown): Promise<WatchView> => {
      const view = await newestWatch(rigId, () => api<WatchView>('POST', `/rigs/${rigId}/${path}`, body));
      client.setQueryData(keys.watch(rigId), view);
      void client.invalidateQueries({ queryKey: keys.alarms(rigId) });
      return view;
    };
    return {
      rest: (unit: string, resting: boolean) => send('rest', { unit, resting }),
      repeater: (volts: number) => send('repeater', { volts }),
      topUp: (positions: readonly string[]) => send('top-up', { positions }),
      answer: (position: string, answer: 'off' | 'on' | 'set') => send('answer', { position, answer }),
      typed: async (readings: readonly { position: string; pressureKpa: number; tempC: number | null }[]) => {
        const answer = await api<{ accepted: number; repeated: number }>('POST', `/rigs/${rigId}/typed`, { readings });
        for (const queryKey of [keys.watch(rigId), keys.alarms(rigId), keys.charts(rigId)]) {
          void client.invalidateQueries({ queryKey });
        }
        return answer;
      },
    };
  }, [client, rigId]);
}

export const useChart = (rigId: string, from: number, to: number, positions: readonly string[], points: number, enabled = true) =>
  useQuery({
    queryKey: [...keys.charts(rigId), from, to, positions.join(), points],
    queryFn: () =>
      api<ChartAnswer>(
        'GET',
        `/rigs/${rigId}/chart?from=${new Date(from).toISOString()}&to=${new Date(to).toISOString()}&positions=${positions.join()}&points=${points}`,
      ),
    enabled: enabled && positions.length > 0,
    placeholderData: (before: ChartAnswer | undefined) => before,
  });

/** Alarms of a stretch, for a chart of it. */
export const useAlarmsBetween = (rigId: string, from: number, to: number, enabled: boolean) =>
  useQuery({
    queryKey: [...keys.charts(rigId), 'alarms', from, to],
    queryFn: () =>
      api<Alarm[]>(
        'GET',
        `/rigs/${rigId}/alarms?limit=500&from=${new Date(from).toISOString()}&to=${new Date(to).toISOString()}`,
      ),
    enabled,
  });

/** First and last reading of the rig's sensors. */
export const useSpan = (rigId: string) =>
  useQuery({
    queryKey: [...keys.charts(rigId), 'span'],
    queryFn: () => api<{ from: string | null; to: string | null }>('GET', `/rigs/${rigId}/span`),
  });

/** How an import stands, as the stream tells it. */
export type ImportProgress = ImportAnswer & { job?: string; done?: boolean };
export const useImportProgress = (rigId: string) =>
  useQuery<ImportProgress | null>({ queryKey: keys.importOf(rigId), queryFn: () => null, enabled: false, initialData: null });

import { newestAlarm, newestAlarms, newestWatch } from './newer.ts';

export interface BenchAnswer {
  bench: BenchView;
  /** How a press of the save key was taken, and the code that stood then. */
  saved?: 'saved' | 'nothingToSave' | 'needsLongPress' | 'taken' | 'refused';
  code?: string;
}

export function useBenchCommand(rigId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (command: BenchCommand) => api<BenchAnswer>('POST', `/rigs/${rigId}/bench`, command),
    onSuccess: ({ bench }, command) => {
      client.setQueryData(keys.bench(rigId), bench);
      if (command.action === 'open' || command.action === 'close') {
        void client.invalidateQueries({ queryKey: keys.watch(rigId) });
        void client.invalidateQueries({ queryKey: keys.alarms(rigId) });
      }
    },
  });
}
