import { useMemo, useSyncExternalStore } from 'react';
import { type AlarmGroup, groupAlarms } from '#core/watch/group.ts';
import type { Alarm, WatchView, WheelView } from '#schema/alarm.ts';
import { useAlarms, useWatch } from '../../data/queries.ts';
import { askForNotices } from '../../parts/notices.ts';
import { onSound, ring, soundRunning, wakeSound } from '../../parts/sound.ts';
import { setPreferences, usePreferences } from '../../state/preferences.ts';
import { toast } from '../../state/toast.ts';

export interface Calls {
  view: WatchView | undefined;
  error: Error | null;
  groups: AlarmGroup[];
  past: Alarm[];
  byPosition: ReadonlyMap<string, WheelView>;
  /** An alarm would be heard: sound is wanted, and the browser gives it. */
  sound: boolean;
  silenced: string | null;
  /** Watch and alarms were both read: what is not there is not. */
  known: boolean;
}

/** Alarms of a rig as the screen shows them. */
export function useCalls(rigId: string): Calls {
  const watch = useWatch(rigId);
  const alarms = useAlarms(rigId);
  const { sound } = usePreferences();
  const running = useSyncExternalStore(onSound, soundRunning);
  const view = watch.data;
  const byPosition = useMemo(() => new Map(view?.wheels.map((w) => [w.position, w])), [view]);
  const groups = useMemo(
    () => groupAlarms(alarms.data?.filter((a) => a.toTime === null) ?? [], view?.wheels ?? []),
    [alarms.data, view],
  );
  const past = useMemo(() => alarms.data?.filter((a) => a.toTime !== null) ?? [], [alarms.data]);
  return {
    view,
    error: watch.error,
    groups,
    past,
    byPosition,
    sound: sound && running,
    silenced: view?.silencedUntil ?? null,
    known: view !== undefined && alarms.data !== undefined,
  };
}

/** Sound on, by a press: it rings once, so that it is heard that it works. */
export async function turnSoundOn(): Promise<void> {
  if (await wakeSound()) {
    setPreferences({ sound: true });
    ring();
    askForNotices();
  } else toast('This browser gives no sound.', { tone: 'error' });
}
