import { QueryClient, queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { v4 as newId } from 'uuid';
import { type RigWheel, watchedWheels, wheelsOf } from '#core/rig/positions.ts';
import type { Alarm, TrackRequest, WatchView } from '#schema/alarm.ts';
import type { BenchCommand } from '#schema/bench.ts';
import type { ChangeStep, ChangesAnswer } from '#schema/changes.ts';
import type { RigExport } from '#schema/exchange.ts';
import type { ChartAnswer, ImportAnswer } from '#schema/history.ts';
import type { LogEvent } from '#schema/log.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { Answer } from '#schema/routes.ts';
import type { LogEntry, NewRig, NewUnit, Rig, Unit } from '#schema/unit.ts';
import { ApiProblem, ask, soon } from './api.ts';
import { newestAlarm, newestAlarms, newestDocuments, newestWatch, noteStored } from './newer.ts';
import {
  type DocumentKind,
  type Documents,
  isOffline,
  keepDocument,
  keepLogEntry,
  keepRound,
  logged,
  onDocumentSent,
  outboxRead,
  rigsWithWaiting,
  unitsWithWaiting,
  unlessOffline,
  waits,
} from './outbox.ts';

export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      // Without a connection the worker answers with what it kept.
      networkMode: 'always',
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
  shelves: (rigId: string) => ['shelves', rigId] as const,
  bench: (rigId: string) => ['bench', rigId] as const,
  charts: (rigId: string) => ['charts', rigId] as const,
  importOf: (rigId: string) => ['import', rigId] as const,
  hotRun: (rigId: string) => ['hotRun', rigId] as const,
};

const rigsQuery = queryOptions({
  queryKey: keys.rigs,
  queryFn: async () => {
    const [rigs] = await Promise.all([newestDocuments(() => ask('rigs.list', {})), outboxRead]);
    return rigsWithWaiting(rigs);
  },
});
const unitsQuery = queryOptions({
  queryKey: keys.units,
  queryFn: async () => {
    const [units] = await Promise.all([newestDocuments(() => ask('units.list', {})), outboxRead]);
    return unitsWithWaiting(units);
  },
});
const monitorsQuery = queryOptions({ queryKey: keys.monitors, queryFn: () => newestDocuments(() => ask('monitors.list', {})) });
export const useRigs = () => useQuery(rigsQuery);
export const useUnits = () => useQuery(unitsQuery);
/** @param fresh ask again where one is chosen: a monitor that was described elsewhere is in no event of this rig */
export const useMonitors = (fresh = false) => useQuery(fresh ? { ...monitorsQuery, staleTime: 0 } : monitorsQuery);

/** Rigs whose watch was opened without a connection: nothing of it was read. */
const unread = new Set<string>();
export const isUnread = (rigId: string): boolean => unread.has(rigId);

/** The watch of a rig. Opened without a connection it has the rig's wheels and limits, and no reading. */
async function watchOf(rigId: string): Promise<WatchView> {
  try {
    const view = await newestWatch(rigId, () => ask('watch', { params: { rig: rigId } }));
    unread.delete(rigId);
    return view;
  } catch (error) {
    if (!isOffline(error) || queryClient.getQueryData(keys.watch(rigId)) !== undefined) throw error;
    const [rigs, units, monitors, { unreadWatch }] = await Promise.all([
      queryClient.ensureQueryData(rigsQuery),
      queryClient.ensureQueryData(unitsQuery),
      queryClient.ensureQueryData(monitorsQuery).catch(() => []),
      import('./unread-watch.ts'),
    ]);
    const rig = rigs.find((r) => r.id === rigId);
    if (!rig) throw error;
    unread.add(rigId);
    return unreadWatch(rig, unitsOf(rig, units), monitors.find((m) => m.id === rig.monitorId) ?? null, new Date());
  }
}

export const useWatch = (rigId: string) => useQuery({ queryKey: keys.watch(rigId), queryFn: () => watchOf(rigId) });
export const useAlarms = (rigId: string) =>
  useQuery({
    queryKey: keys.alarms(rigId),
    queryFn: () => newestAlarms(rigId, () => ask('alarms', { params: { rig: rigId }, query: { limit: 50 } })),
  });
export const useBench = (rigId: string) =>
  useQuery({ queryKey: keys.bench(rigId), queryFn: () => ask('bench', { params: { rig: rigId } }) });

/** What an ordinary run adds, as the rig's own readings show it, axle by axle. */
export const useLearned = (rigId: string) =>
  useQuery({
    queryKey: keys.hotRun(rigId),
    queryFn: () => ask('hotRun', { params: { rig: rigId } }),
  });

/** The rig's monitor, when one was chosen. `useWholeRig` has waited for it, so null is that there is none, or that nobody can say. */
export function useMonitor(rig: Rig): Monitor | null {
  const monitors = useMonitors();
  return monitors.data?.find((m) => m.id === rig.monitorId) ?? null;
}

/** A rig with its units in order and its wheels in plan order. */
export interface WholeRig {
  rig: Rig;
  units: Unit[];
  /** Those that the kit watches. */
  wheels: RigWheel[];
  /** Those too that have a system of their own. */
  allWheels: RigWheel[];
}

/** The units of a rig, in order. */
export const unitsOf = (rig: Rig, units: readonly Unit[]): Unit[] =>
  rig.unitIds.flatMap((id) => units.find((u) => u.id === id) ?? []);

/** The rig of an id: `undefined` while it loads, `null` when there is none. */
export function useWholeRig(rigId: string): WholeRig | null | undefined {
  const { data: rigList, refetch: askRigs } = useRigs();
  const { data: unitList, refetch: askUnits } = useUnits();
  const { data: monitorList, failureCount, errorUpdateCount, refetch: askMonitors } = useMonitors();
  const missing = rigId !== '' && rigList !== undefined && !rigList.some((r) => r.id === rigId);
  // It may have been made elsewhere since the list was read: there is no such rig only when the server says so.
  const [asked, setAsked] = useState('');
  useEffect(() => {
    if (!missing || asked === rigId) return;
    void Promise.all([askRigs(), askUnits()]).finally(() => setAsked(rigId));
  }, [missing, asked, rigId, askRigs, askUnits]);
  // Limits are judged by what the monitor ends with: without it they would be judged by what the owner wishes, if only while it loads.
  const wanted = rigList?.find((r) => r.id === rigId)?.monitorId;
  // Once it failed the page goes on without it, also while it is asked again.
  const waitsForMonitor = wanted != null && monitorList === undefined && failureCount === 0 && errorUpdateCount === 0;
  const unknown = wanted != null && monitorList !== undefined && !monitorList.some((m) => m.id === wanted);
  useEffect(() => {
    // Described elsewhere since the list was read.
    if (unknown) void askMonitors();
  }, [unknown, askMonitors]);
  return useMemo(() => {
    if (!rigList || !unitList || waitsForMonitor) return undefined;
    const rig = rigList.find((r) => r.id === rigId);
    if (!rig) return rigId === '' || asked === rigId ? null : undefined;
    const own = unitsOf(rig, unitList);
    return { rig, units: own, wheels: watchedWheels(rig, own), allWheels: wheelsOf(own) };
  }, [rigList, unitList, waitsForMonitor, rigId, asked]);
}

const replaceIn = <T extends { id: string }>(list: T[] | undefined, doc: T): T[] =>
  list?.some((d) => d.id === doc.id) ? list.map((d) => (d.id === doc.id ? doc : d)) : [...(list ?? []), doc];

const LISTS = { unit: keys.units, rig: keys.rigs } as const;
onDocumentSent((kind, doc) => {
  noteStored(doc);
  queryClient.setQueryData<(typeof doc)[]>(LISTS[kind], (list) => replaceIn(list, doc));
});

/** Run changes of one kind of document one after the other, so that two in a row don't meet on one version. */
const inTurn = <T>(client: QueryClient, scope: 'rigs' | 'units' | 'monitors', work: () => Promise<T>): Promise<T> =>
  client
    .getMutationCache()
    .build<T, Error, void, unknown>(client, { mutationFn: work, scope: { id: scope }, networkMode: 'always' })
    .execute();

/** Everything that changes documents, with the caches brought in line. */
export function useRecords() {
  const client = useQueryClient();
  return useMemo(() => {
    /** Keep a change that can't be sent now: the page goes on with it. */
    const wait = async <K extends DocumentKind>(kind: K, doc: Documents[K], tried: boolean): Promise<Documents[K]> => {
      const before = client.getQueryData<Documents[K][]>(LISTS[kind])?.find((d) => d.id === doc.id) ?? doc;
      await keepDocument(kind, doc, before, tried);
      client.setQueryData<Documents[K][]>(LISTS[kind], (list) => replaceIn(list, doc));
      return doc;
    };
    /** Store a changed document; without a connection it waits. */
    const put = async <K extends DocumentKind>(
      kind: K,
      doc: Documents[K],
      send: () => Promise<Documents[K]>,
      keep = (d: Documents[K]) => wait(kind, d, true),
    ): Promise<Documents[K]> => {
      if (waits(kind, doc.id)) return wait(kind, doc, false);
      try {
        const saved = await send();
        noteStored(saved);
        client.setQueryData<Documents[K][]>(LISTS[kind], (list) => replaceIn(list, saved));
        void client.invalidateQueries({ queryKey: ['watch'] });
        return saved;
      } catch (error) {
        if (isOffline(error)) return keep(doc);
        if (error instanceof ApiProblem && error.status === 409) void client.invalidateQueries({ queryKey: LISTS[kind] });
        throw error;
      }
    };
    const putUnit = (unit: Unit): Promise<Unit> =>
      put('unit', unit, () => ask('units.replace', { params: { id: unit.id }, body: unit, signal: soon() }));
    const putRig = (rig: Rig, keep?: (rig: Rig) => Promise<Rig>): Promise<Rig> =>
      put('rig', rig, () => ask('rigs.replace', { params: { id: rig.id }, body: rig, signal: soon() }), keep);
    /** Change the rig as it is stored now, one change after the other, so that two in a row do not meet on one version. */
    const changeRig = (id: string, work: (rig: Rig) => Rig, keep?: (rig: Rig) => Promise<Rig>): Promise<Rig> => {
      return inTurn(client, 'rigs', async () => {
        const now = client.getQueryData<Rig[]>(keys.rigs)?.find((r) => r.id === id);
        if (!now) throw new Error('This rig has been deleted.');
        return putRig(work(now), keep);
      });
    };
    /** Add an entry to the rig's log; without a connection it waits by itself and is added to the log as it is then. */
    const addToLog = (id: string, entry: LogEntry): Promise<Rig> => {
      return changeRig(
        id,
        (rig) => logged(rig, entry),
        async (rig) => {
          await keepLogEntry(id, entry);
          client.setQueryData<Rig[]>(keys.rigs, (list) => replaceIn(list, rig));
          return rig;
        },
      );
    };
    /** Change a unit as it is stored now, one change after the other. */
    const changeUnit = (id: string, work: (unit: Unit) => Unit): Promise<Unit> => {
      return inTurn(client, 'units', async () => {
        const now = client.getQueryData<Unit[]>(keys.units)?.find((u) => u.id === id);
        if (!now) throw new Error('This unit has been deleted.');
        return putUnit(work(now));
      });
    };
    /** Change a monitor as it is stored now, one change after the other. */
    const changeMonitor = (id: string, work: (monitor: Monitor) => Monitor): Promise<Monitor> => {
      return inTurn(client, 'monitors', async () => {
        const now = client.getQueryData<Monitor[]>(keys.monitors)?.find((m) => m.id === id);
        if (!now) throw new Error('This monitor has been deleted.');
        const saved = await ask('monitors.replace', { params: { id }, body: work(now) });
        noteStored(saved);
        client.setQueryData<Monitor[]>(keys.monitors, (list) => replaceIn(list, saved));
        return saved;
      });
    };
    const addUnit = async (unit: NewUnit): Promise<Unit> => {
      const saved = await ask('units.create', { body: unit });
      client.setQueryData<Unit[]>(keys.units, (list) => replaceIn(list, saved));
      return saved;
    };
    const addRig = async (rig: NewRig): Promise<Rig> => {
      const saved = await ask('rigs.create', { body: rig });
      client.setQueryData<Rig[]>(keys.rigs, (list) => replaceIn(list, saved));
      return saved;
    };
    const refresh = () =>
      Promise.all([keys.rigs, keys.units, keys.monitors].map((queryKey) => client.invalidateQueries({ queryKey })));
    /** Several changes of documents at once: all of them are made, or none. */
    const changeAll = async (steps: ChangeStep[]): Promise<ChangesAnswer> => {
      try {
        const now = await ask('change', { body: { steps } });
        noteStored(...now.units, ...now.rigs, ...now.monitors);
        client.setQueryData<Unit[]>(keys.units, now.units);
        client.setQueryData<Rig[]>(keys.rigs, now.rigs);
        client.setQueryData<Monitor[]>(keys.monitors, now.monitors);
        // Not of a rig that is gone now: its part of the page is still there for a moment.
        const there = new Set(now.rigs.map((r) => r.id));
        void client.invalidateQueries({ queryKey: ['watch'], predicate: (q) => there.has(String(q.queryKey[1])) });
        return now;
      } catch (error) {
        if (error instanceof ApiProblem && error.status === 409) void refresh();
        throw error;
      }
    };
    /** Replace units, all of them or none. @returns them as they are stored now */
    const putUnits = async (units: readonly Unit[]): Promise<Unit[]> => {
      if (units.length === 0) return [];
      const now = await changeAll(units.map((doc) => ({ do: 'putUnit', doc })));
      return units.flatMap((u) => now.units.find((n) => n.id === u.id) ?? []);
    };
    const remove = (kind: 'rigs' | 'units', id: string): ChangeStep => ({ do: 'delete', kind, id });
    const restore = (kind: 'rigs' | 'units', id: string): ChangeStep => ({ do: 'restore', kind, id });
    /** Delete a rig and the units that are in no other rig. @returns what takes it back */
    const removeRig = async (rig: Rig): Promise<() => Promise<void>> => {
      const others = (client.getQueryData<Rig[]>(keys.rigs) ?? []).filter((r) => r.id !== rig.id);
      const own = rig.unitIds.filter((id) => !others.some((r) => r.unitIds.includes(id)));
      await changeAll([remove('rigs', rig.id), ...own.map((id) => remove('units', id))]);
      return async () => void (await changeAll([...own.map((id) => restore('units', id)), restore('rigs', rig.id)]));
    };
    /** Take a unit out of every rig and delete it; a rig that would be left without units goes with it. @returns what takes it back */
    const removeUnit = async (unit: Unit): Promise<() => Promise<void>> => {
      const rigs = (client.getQueryData<Rig[]>(keys.rigs) ?? []).filter((r) => r.unitIds.includes(unit.id));
      const alone = (rig: Rig) => rig.unitIds.length === 1;
      const without = (rig: Rig): Rig => ({ ...rig, unitIds: rig.unitIds.filter((id) => id !== unit.id) });
      await changeAll([
        ...rigs.map((rig): ChangeStep => (alone(rig) ? remove('rigs', rig.id) : { do: 'putRig', doc: without(rig) })),
        remove('units', unit.id),
      ]);
      return async () =>
        void (await changeAll([
          restore('units', unit.id),
          ...rigs.map(
            (rig): ChangeStep =>
              alone(rig) ? restore('rigs', rig.id) : { do: 'putRig', doc: { ...rig, version: rig.version + 1 } },
          ),
        ]));
    };
    const importRig = async (doc: RigExport, leaveOutTaken: boolean): Promise<Rig> => {
      const rig = await ask('rigs.import', { query: leaveOutTaken ? { sensors: 'free' } : {}, body: doc });
      await refresh();
      return rig;
    };
    return {
      putUnit,
      changeUnit,
      putRig,
      changeRig,
      addToLog,
      changeMonitor,
      addUnit,
      addRig,
      changeAll,
      putUnits,
      removeRig,
      removeUnit,
      importRig,
    };
  }, [client]);
}

export function useAcknowledge(rigId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (alarmId: string) => newestAlarm(rigId, () => ask('acknowledge', { params: { rig: rigId, alarm: alarmId } })),
    onSuccess: (alarm) => client.setQueryData<Alarm[]>(keys.alarms(rigId), (list) => replaceIn(list, alarm)),
  });
}

/** Shelve one alarm for some minutes; 0 ends it. */
export function useShelve(rigId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ id, minutes }: { id: string; minutes: number }) =>
      newestAlarm(rigId, () => ask('shelve', { params: { rig: rigId, alarm: id }, body: { minutes } })),
    onSuccess: (alarm) => {
      client.setQueryData<Alarm[]>(keys.alarms(rigId), (list) => replaceIn(list, alarm));
      void client.invalidateQueries({ queryKey: keys.shelves(rigId) });
    },
  });
}

/** What is due on a rig; asked again when its records change. */
export const useDue = ({ rig, units }: WholeRig) =>
  useQuery({
    queryKey: ['due', rig.id, rig.version, ...units.map((u) => u.version)],
    queryFn: () => ask('due', { params: { rig: rig.id } }),
  });

/** What the app wrote down by itself, and drives that the readings show. */
export const useEvents = (rigId: string, stamp: string) =>
  useQuery({
    queryKey: ['events', rigId, stamp],
    queryFn: () => ask('events', { params: { rig: rigId } }),
    placeholderData: (before: LogEvent[] | undefined) => before,
  });

/** Alarms of the last year, for the log. */
export const useAlarmHistory = (rigId: string) =>
  useQuery({
    queryKey: [...keys.alarms(rigId), 'history'],
    queryFn: () => ask('alarms', { params: { rig: rigId }, query: { limit: 500 } }),
  });

/** What was shelved, the latest first. */
export const useShelves = (rigId: string, enabled: boolean) =>
  useQuery({ queryKey: keys.shelves(rigId), queryFn: () => ask('shelves', { params: { rig: rigId } }), enabled });

export function useSilence(rigId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (minutes: number) => newestWatch(rigId, () => ask('silence', { params: { rig: rigId }, body: { minutes } })),
    onSuccess: (view) => client.setQueryData(keys.watch(rigId), view),
  });
}

/** What the owner tells the watch beside readings; each answers with the watch as it is then. */
export function useWatchCommands(rigId: string) {
  const client = useQueryClient();
  return useMemo(() => {
    const params = { rig: rigId };
    const taken = async (sent: () => Promise<WatchView>): Promise<WatchView> => {
      const view = await newestWatch(rigId, sent);
      client.setQueryData(keys.watch(rigId), view);
      void client.invalidateQueries({ queryKey: keys.alarms(rigId) });
      return view;
    };
    return {
      rest: (unit: string, resting: boolean) => taken(() => ask('rest', { params, body: { unit, resting } })),
      repeater: (volts: number) => taken(() => ask('repeater', { params, body: { volts } })),
      // Without a connection the watch hears nothing of these wheels either.
      topUp: (positions: readonly string[]) =>
        unlessOffline(taken(() => ask('topUp', { params, body: { positions: [...positions] } }))),
      track: (mode: TrackRequest['mode'], minutes?: number) =>
        taken(() => ask('track', { params, body: { mode, ...(minutes === undefined ? {} : { minutes }) } })),
      answer: (position: string, answer: 'off' | 'on' | 'set') =>
        taken(() => ask('answer', { params, body: { position, answer } })),
      typed: async (readings: readonly { position: string; pressureKpa: number; tempC: number | null }[]) => {
        const body = { id: newId(), readings: [...readings] };
        let answer: Answer<'typed'>;
        try {
          answer = await ask('typed', { params: { rig: rigId }, body, signal: soon() });
        } catch (error) {
          if (!isOffline(error)) throw error;
          await keepRound(rigId, body);
          return {
            time: new Date().toISOString(),
            accepted: readings.length,
            repeated: 0,
            unknownSensor: 0,
            ahead: 0,
            waits: true,
          };
        }
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
      ask('chart', {
        params: { rig: rigId },
        query: { from: new Date(from).toISOString(), to: new Date(to).toISOString(), positions: positions.join(), points },
      }),
    enabled: enabled && positions.length > 0,
    placeholderData: (before: ChartAnswer | undefined) => before,
  });

/** Alarms of a stretch, for a chart of it. */
export const useAlarmsBetween = (rigId: string, from: number, to: number, enabled: boolean) =>
  useQuery({
    queryKey: [...keys.charts(rigId), 'alarms', from, to],
    queryFn: () =>
      ask('alarms', {
        params: { rig: rigId },
        query: { limit: 500, from: new Date(from).toISOString(), to: new Date(to).toISOString() },
      }),
    enabled,
  });

/** First and last reading of the rig's sensors. */
export const useSpan = (rigId: string) =>
  useQuery({
    queryKey: [...keys.charts(rigId), 'span'],
    queryFn: () => ask('span', { params: { rig: rigId } }),
  });

/** How an import stands, as the stream tells it. */
export type ImportProgress = ImportAnswer & { job?: string; done?: boolean };
export const useImportProgress = (rigId: string) =>
  useQuery<ImportProgress | null>({ queryKey: keys.importOf(rigId), queryFn: () => null, enabled: false, initialData: null });

export function useBenchCommand(rigId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (command: BenchCommand) => ask('benchCommand', { params: { rig: rigId }, body: command }),
    onSuccess: ({ bench }, command) => {
      client.setQueryData(keys.bench(rigId), bench);
      if (command.action === 'open' || command.action === 'close') {
        void client.invalidateQueries({ queryKey: keys.watch(rigId) });
        void client.invalidateQueries({ queryKey: keys.alarms(rigId) });
      }
    },
  });
}
