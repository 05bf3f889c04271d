import { type QueryKey, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { Alarm, RigEvent, WatchView, WheelView } from '#schema/alarm.ts';
import type { BenchView } from '#schema/bench.ts';
import { addressOf } from './address.ts';
import { behind } from './behind.ts';
import { DEAD_AFTER_MS, type Listener, type LiveAsk, LiveLine, type LiveWord } from './live-line.ts';
import { noteAlarm, noteWheel, withAlarm } from './newer.ts';
import { type ImportProgress, isUnread, keys } from './queries.ts';
import { sharedValue } from './shared-value.ts';

/** The answer to a change comes within this after the stream tells of it, as a rule, ms. */
const OWN_CHANGE_MS = 100;

/** Whether the stream of the rig is there: without it nothing on the page is live. */
export type LiveState = 'connecting' | 'open' | 'lost';

/** State of the stream that `useLive` keeps open. */
const state = sharedValue<LiveState>('connecting');
export const useLiveState = state.use;

/** Ask the one line of this browser; where there are no shared workers, a line of the page's own. */
function lineOf(tell: (word: LiveWord) => void): { ask(ask: LiveAsk): void; leave(): void } {
  if (typeof SharedWorker === 'undefined') {
    const own = new LiveLine((rigs, last) => addressOf('liveRigs', { query: { rigs, last } }));
    const listener: Listener = { rigId: null, tell };
    return {
      ask: (ask) => ('want' in ask ? own.want(listener, ask.want, ask.after) : own.again()),
      leave: () => own.leave(listener),
    };
  }
  const worker = new SharedWorker(new URL('./live.worker.ts', import.meta.url), { type: 'module', name: 'druckwerk-live' });
  worker.port.onmessage = ({ data }: MessageEvent<LiveWord>) => tell(data);
  return {
    ask: (ask) => worker.port.postMessage(ask),
    leave: () => worker.port.postMessage({ bye: true }),
  };
}

/** The rig that this page was sent for, and the last event of it before; null once that was taken. */
let sentAfter = document.querySelector<HTMLMetaElement>('meta[name="live-after"]')?.content.split(' ') ?? null;

/** The last event of a rig that was before this page: only for the first stream, since later ones know better. */
function takeSentAfter(rigId: string): string | undefined {
  const [rig, after] = sentAfter ?? [];
  sentAfter = null;
  return rig === rigId ? after : undefined;
}

/** Keep the rig's event stream open and feed the caches from it. */
export function useLive(rigId: string | null): void {
  const client = useQueryClient();
  useEffect(() => {
    if (rigId === null) return;
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
    // The page listens for life itself too: the line may be dead in the worker's hands.
    const lost = () => {
      clearTimeout(dead);
      state.set('lost');
    };
    const alive = () => {
      clearTimeout(dead);
      dead = setTimeout(() => {
        lost();
        line.ask({ again: true });
      }, DEAD_AFTER_MS);
    };
    const takeBench = (bench: BenchView) => {
      client.setQueryData(keys.bench(rigId), bench);
      client.setQueryData<WatchView>(keys.watch(rigId), (view) =>
        view && bench.open && bench.time
          ? { ...view, time: bench.time, clock: 'bench', airC: bench.airC, moving: bench.kmh > 0 }
          : view,
      );
    };
    const refresh = (names: readonly QueryKey[]) => {
      for (const queryKey of names) void client.invalidateQueries({ queryKey });
    };
    // A change of this page's own comes back here, often before the answer to it: that is waited for, and what the page has then isn't asked again.
    let change: RigEvent | undefined;
    let changeTimer: ReturnType<typeof setTimeout> | undefined;
    const takeChange = (event: RigEvent) => {
      change = event;
      changeTimer ??= setTimeout(() => {
        changeTimer = undefined;
        if (change) refresh(behind(client, change));
      }, OWN_CHANGE_MS);
    };
    const takeEvent = ({ name, data }: Extract<LiveWord, { kind: 'event' }>) => {
      if (name === 'wheel') patchWheel(data as WheelView);
      else if (name === 'alarm') patchAlarm(data as Alarm);
      else if (name === 'bench') takeBench(data as BenchView);
      else if (name === 'import') client.setQueryData(keys.importOf(rigId), data as ImportProgress);
      else takeChange(data as RigEvent);
    };
    const line = lineOf((word) => {
      if (word.kind === 'lost') lost();
      else {
        alive();
        if (word.kind === 'open') {
          state.set('open');
          if (isUnread(rigId)) refresh([keys.watch(rigId), keys.alarms(rigId)]);
        } else if (word.kind === 'event') takeEvent(word);
        // What happened while nobody listened.
        else if (word.kind === 'again')
          refresh([
            keys.watch(rigId),
            keys.alarms(rigId),
            keys.bench(rigId),
            keys.charts(rigId),
            keys.units,
            keys.rigs,
            keys.monitors,
          ]);
      }
    });
    const want = () => line.ask({ want: rigId, after: takeSentAfter(rigId) });
    const leave = () => line.leave();
    state.set('connecting');
    want();
    // A browser may keep a page that was left and show it again.
    window.addEventListener('pagehide', leave);
    window.addEventListener('pageshow', want);
    return () => {
      window.removeEventListener('pagehide', leave);
      window.removeEventListener('pageshow', want);
      clearTimeout(dead);
      clearTimeout(changeTimer);
      leave();
    };
  }, [client, rigId]);
}
