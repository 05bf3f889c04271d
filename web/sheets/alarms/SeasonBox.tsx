import { putSeason, seasonIsOver, withoutSeasons } from '#core/alarms/seasons.ts';
import type { SeasonName, Setting } from '#schema/unit.ts';
import { Notice } from '../../parts/controls.tsx';
import { useFormat } from '../../parts/format.ts';
import { dayOfYear } from '../../parts/words-limits.ts';
import type { AxlePlan } from '../../state/plans.ts';

/** Today as month and day. */
export const today = (): string => {
  const d = new Date();
  return `${String(d.getMonth() + 1).padStart(2, '0')}-${String(d.getDate()).padStart(2, '0')}`;
};

/** The two seasons of an axle: which is in force, when the other comes, and the change between them. */
export function SeasonBox({ plan, onPut }: { plan: AxlePlan; onPut: (said: string, change: (s: Setting) => Setting) => void }) {
  const f = useFormat();
  const { seasons } = plan.setting;
  if (!seasons) return null;
  const other: SeasonName = seasons.inForce === 'winter' ? 'summer' : 'winter';
  const over = seasonIsOver(plan.setting, today());
  const line = (name: SeasonName) => {
    const { cold, limits } = seasons[name];
    const high = limits.highKpa === null ? 'and up' : `to ${f.figure(limits.highKpa)}`;
    return `${limits.lowKpa === null ? '' : f.figure(limits.lowKpa)} ${high} ${f.unit}, ${f.exact(cold.kpa, cold.typed)} set at ${f.temperature(cold.tempC)}`;
  };
  const text = (
    <>
      <p>
        <b>
          {plan.code}: {seasons.inForce} limits are in force,
        </b>{' '}
        {line(seasons.inForce)}.{' '}
        {over
          ? `Since ${dayOfYear(seasons[other].from)} it is ${other}: reset the cold pressure, switch here, and key the monitor.`
          : `From ${dayOfYear(seasons[other].from)}: ${line(other)}.`}
      </p>
      <span className="mt-2 flex flex-wrap gap-2">
        <button
          type="button"
          className={`btn btn-small ${over ? 'btn-solid' : ''}`}
          onClick={() => onPut(`${plan.code}: ${other} limits are in force`, (s) => putSeason(s, other))}
        >
          Change to {other}
        </button>
        <button
          type="button"
          className="btn btn-small"
          onClick={() => onPut(`${plan.code} has one pair of limits for all the year`, withoutSeasons)}
        >
          Give up seasons
        </button>
      </span>
    </>
  );
  return over ? <Notice>{text}</Notice> : <div className="border border-rule p-3 text-body">{text}</div>;
}
