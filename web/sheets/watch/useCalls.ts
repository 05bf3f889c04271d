import { useEffect, useMemo, useRef } from 'react';
import { type AlarmGroup, groupAlarms } from '#core/watch/group.ts';
import type { Alarm, WatchView, WheelView } from '#schema/alarm.ts';
import { setPreferences, usePreferences } from '../../app/preferences.ts';
import { useAlarms, useWatch } from '../../data/queries.ts';
import { useFormat } from '../../parts/format.ts';
import { askForNotices, notice } from '../../parts/notices.ts';
import { ring, wakeSound } from '../../parts/sound.ts';
import { toast } from '../../parts/toast.ts';
import { groupWords } from '../../parts/words-alarms.ts';

export interface Calls {
  view: WatchView | undefined;
  error: Error | null;
  groups: AlarmGroup[];
  past: Alarm[];
  byPosition: ReadonlyMap<string, WheelView>;
  sound: boolean;
  silenced: string | null;
}

/** Alarms of a rig as the screen shows them, and the call that goes with them. */
export function useCalls(rigId: string): Calls {
  const f = useFormat();
  const watch = useWatch(rigId);
  const alarms = useAlarms(rigId);
  const { sound } = usePreferences();
  const view = watch.data;
  const byPosition = useMemo(() => new Map(view?.wheels.map((w) => [w.position, w])), [view]);
  const groups = useMemo(
    () => groupAlarms(alarms.data?.filter((a) => a.toTime === null) ?? [], view?.wheels ?? []),
    [alarms.data, view],
  );
  const past = useMemo(() => alarms.data?.filter((a) => a.toTime !== null) ?? [], [alarms.data]);
  const loud = groups.some((g) => !g.acknowledged && g.severity !== 'know');
  const silenced = view?.silencedUntil ?? null;

  useEffect(() => {
    if (!loud || !sound || silenced !== null) return;
    ring();
    const again = setInterval(ring, 4000);
    return () => clearInterval(again);
  }, [loud, sound, silenced]);

  // A silence ends by itself.
  const { refetch } = watch;
  useEffect(() => {
    if (silenced === null) return;
    const end = setTimeout(() => void refetch(), Math.max(0, Date.parse(silenced) - Date.now()) + 200);
    return () => clearTimeout(end);
  }, [silenced, refetch]);

  // The system tells of what is new and asks for a stop, when the owner has allowed it.
  const told = useRef<Set<string> | null>(null);
  const now = view?.time;
  useEffect(() => {
    if (!now || !alarms.data) return;
    const first = told.current === null;
    told.current ??= new Set();
    for (const g of groups) {
      const key = `${g.key} ${g.fromTime} ${g.severity}`;
      if (told.current.has(key)) continue;
      told.current.add(key);
      if (first || g.severity === 'know') continue;
      const words = groupWords(g, byPosition, f, now);
      void notice(words.title, words.text, g.key).catch(() => undefined);
    }
  }, [groups, byPosition, f, now, alarms.data]);

  return { view, error: watch.error, groups, past, byPosition, sound, silenced };
}

/** Sound on, by a press: it rings once, so that it is heard that it works. */
export async function turnSoundOn(): Promise<void> {
  if (await wakeSound()) {
    setPreferences({ sound: true });
    ring();
    askForNotices();
  } else toast('This browser gives no sound.', { tone: 'error' });
}
