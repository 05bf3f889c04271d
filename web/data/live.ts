import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { Alarm, WatchView, WheelView } from '#schema/alarm.ts';
import type { BenchView } from '#schema/bench.ts';
import { addressOf } from './address.ts';
import { noteAlarm, noteWheel, withAlarm } from './newer.ts';
import { type ImportProgress, keys } from './queries.ts';
import { sharedValue } from './shared-value.ts';

/** Whether the stream of the rig is there: without it nothing on the page is live. */
export type LiveState = 'connecting' | 'open' | 'lost';

/** State of the stream that `useLive` keeps open. */
const state = sharedValue<LiveState>('connecting');
export const useLiveState = state.use;

/** Asked again after this, ms. */
const RECONNECT_MS = 1000;
/** No word from the server for this long means the line is dead, ms (it says something every 2.5 s). */
const DEAD_AFTER_MS = 6500;

/** Keep the rig's event stream open and feed the caches from it. */
export function useLive(rigId: string | null): void {
  const client = useQueryClient();
  useEffect(() => {
    if (rigId === null) return;
    let source: EventSource;
    let again: ReturnType<typeof setTimeout> | undefined;
    let ended = false;

    let dead: ReturnType<typeof setTimeout> | undefined;
    // Wheels that came since the last frame was painted: one change of the page for all of them.
    const waiting = new Map<string, WheelView>();
    const flush = () => {
      if (waiting.size === 0) return;
      const wheels = new Map(waiting);
      waiting.clear();
      client.setQueryData<WatchView>(keys.watch(rigId), (view) =>
        view ? { ...view, wheels: view.wheels.map((w) => wheels.get(w.position) ?? w) } : view,
      );
    };
    const patchWheel = (wheel: WheelView) => {
      noteWheel(rigId, wheel);
      // A page that is not shown paints no frames.
      if (waiting.size === 0) {
        if (document.hidden) setTimeout(flush, 100);
        else requestAnimationFrame(flush);
      }
      waiting.set(wheel.position, wheel);
    };
    const patchAlarm = (alarm: Alarm) => {
      noteAlarm(rigId, alarm);
      const before = client.getQueryData<Alarm[]>(keys.alarms(rigId))?.find((a) => a.id === alarm.id);
      if (before?.shelvedUntil !== alarm.shelvedUntil) void client.invalidateQueries({ queryKey: keys.shelves(rigId) });
      client.setQueryData<Alarm[]>(keys.alarms(rigId), (list) => list && withAlarm(list, alarm));
    };
    const lost = () => {
      clearTimeout(dead);
      state.set('lost');
      // A browser gives up for good when the server is gone long enough: ask again ourselves.
      source.close();
      clearTimeout(again);
      if (!ended) again = setTimeout(connect, RECONNECT_MS);
    };
    const connect = () => {
      source = new EventSource(addressOf('live', { params: { rig: rigId } }));
      const on = <T>(name: string, take: (data: T) => void) =>
        source.addEventListener(name, (e) => take(JSON.parse((e as MessageEvent<string>).data) as T));
      const alive = () => {
        clearTimeout(dead);
        dead = setTimeout(lost, DEAD_AFTER_MS);
      };
      source.addEventListener('here', alive);
      source.onopen = () => {
        alive();
        state.set('open');
        // What happened while nobody listened.
        for (const queryKey of [
          keys.watch(rigId),
          keys.alarms(rigId),
          keys.bench(rigId),
          keys.charts(rigId),
          keys.units,
          keys.rigs,
        ]) {
          void client.invalidateQueries({ queryKey });
        }
      };
      source.onerror = lost;
      for (const name of ['wheel', 'alarm', 'bench', 'rig', 'import']) source.addEventListener(name, alive);
      on<WheelView>('wheel', patchWheel);
      on<Alarm>('alarm', patchAlarm);
      on<BenchView>('bench', (bench) => {
        client.setQueryData(keys.bench(rigId), bench);
        client.setQueryData<WatchView>(keys.watch(rigId), (view) =>
          view && bench.open && bench.time
            ? { ...view, time: bench.time, clock: 'bench', airC: bench.airC, moving: bench.kmh > 0 }
            : view,
        );
      });
      on<ImportProgress>('import', (progress) => client.setQueryData(keys.importOf(rigId), progress));
      on('rig', () => {
        for (const queryKey of [keys.rigs, keys.units, keys.watch(rigId)]) void client.invalidateQueries({ queryKey });
      });
    };
    state.set('connecting');
    connect();
    return () => {
      ended = true;
      clearTimeout(again);
      clearTimeout(dead);
      source.close();
    };
  }, [client, rigId]);
}
