import type { AlarmGroup } from '#core/watch/group.ts';
import type { WheelView } from '#schema/alarm.ts';
import { useFormat } from '../../parts/format.ts';
import { groupWords } from '../../parts/words-alarms.ts';

/** Alarms for a screen reader: what asks for a stop breaks in, the rest waits its turn. */
export function Announcer({
  groups,
  byPosition,
  now,
}: {
  groups: readonly AlarmGroup[];
  byPosition: ReadonlyMap<string, WheelView>;
  now: string;
}) {
  const f = useFormat();
  // Titles alone: they change only when another alarm comes, not with every reading.
  const titles = (stop: boolean) =>
    groups
      .filter((g) => (g.severity === 'stop') === stop && !g.acknowledged && g.shelvedUntil === null)
      .map((g) => groupWords(g, byPosition, f, now).title)
      .join('. ');
  return (
    <>
      <p className="sr-only" role="alert">
        {titles(true)}
      </p>
      <p className="sr-only" role="status" aria-live="polite">
        {titles(false)}
      </p>
    </>
  );
}
