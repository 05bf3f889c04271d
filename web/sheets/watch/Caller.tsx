import { useEffect, useRef } from 'react';
import { isKnownAlarm, noteKnownAlarms } from '../../data/newer.ts';
import { useWatch } from '../../data/queries.ts';
import { useFormat } from '../../parts/format.ts';
import { notice } from '../../parts/notices.ts';
import { ring, wakeSound } from '../../parts/sound.ts';
import { groupWords } from '../../parts/words-alarms.ts';
import { usePreferences } from '../../state/preferences.ts';
import { Announcer } from './Announcer.tsx';
import { useCalls } from './useCalls.ts';

/** How often the call is repeated, ms. */
const AGAIN_MS = 4000;

/** The call of a rig's alarms, on whatever sheet one is: the sound, the screen reader's word, the notice of the system. */
export default function Caller({ rigId }: { rigId: string }) {
  const f = useFormat();
  const { view, groups, byPosition, sound, silenced, known } = useCalls(rigId);
  const { refetch } = useWatch(rigId);
  const wanted = usePreferences().sound;

  // Sound was wanted when the page was here last: the first press anywhere gives it.
  useEffect(() => {
    if (!wanted || sound) return;
    const wake = () => void wakeSound();
    for (const press of ['pointerdown', 'keydown']) window.addEventListener(press, wake);
    return () => {
      for (const press of ['pointerdown', 'keydown']) window.removeEventListener(press, wake);
    };
  }, [wanted, sound]);

  const loud = groups.some((g) => !g.acknowledged && g.shelvedUntil === null && g.severity !== 'note');
  useEffect(() => {
    if (!loud || !sound || silenced !== null) return;
    ring();
    const again = setInterval(ring, AGAIN_MS);
    return () => clearInterval(again);
  }, [loud, sound, silenced]);

  // A silence ends by itself.
  useEffect(() => {
    if (silenced === null) return;
    const end = setTimeout(() => void refetch(), Math.max(0, Date.parse(silenced) - Date.now()) + 200);
    return () => clearTimeout(end);
  }, [silenced, refetch]);

  // The system tells of what is new and asks for a stop, when the owner has allowed it. What came while this part
  // of the page was still loading is new too.
  const told = useRef<Set<string> | null>(null);
  const now = view?.time;
  useEffect(() => {
    if (!now || !known) return;
    const first = told.current === null;
    told.current ??= new Set();
    for (const g of groups) {
      const key = `${g.key} ${g.fromTime} ${g.severity}`;
      if (told.current.has(key)) continue;
      told.current.add(key);
      const ids = g.parts.map((a) => a.id);
      const before = first && ids.every((id) => isKnownAlarm(rigId, id));
      noteKnownAlarms(rigId, ids);
      if (before || g.severity === 'note') continue;
      const words = groupWords(g, byPosition, f, now);
      void notice(words.title, words.text, g.key).catch(() => undefined);
    }
  }, [groups, byPosition, f, now, known, rigId]);

  return now ? <Announcer groups={groups} byPosition={byPosition} now={now} /> : null;
}
