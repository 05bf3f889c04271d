import { fillFigure, judgeFill } from '#core/topup/round.ts';
import type { WatchView } from '#schema/alarm.ts';
import { useFormat } from '../../parts/format.ts';
import { isFresh } from '../../parts/words.ts';

/** The wheels that are being filled, each with what it reads, what to fill to, and whether it is done. */
export function FillList({ view }: { view: WatchView }) {
  const f = useFormat();
  const wheels = view.wheels.filter((w) => view.topUp?.positions.includes(w.position));
  return (
    <ul aria-label="Being filled" className="mb-3 border-t border-ink text-body">
      {wheels.map((w) => {
        const to = fillFigure({ ...w, fresh: isFresh(w) }, view.airC)?.kpa ?? null;
        const now = w.pressureKpa;
        const judged = to === null || now === null || !isFresh(w) ? null : judgeFill(now, to);
        return (
          <li key={w.position} className="flex flex-wrap items-baseline justify-between gap-x-3 border-b border-rule py-2">
            <b>{w.position}</b>
            <span className="figure text-big">
              {now === null ? 'not heard' : isFresh(w) ? f.pressure(now) : `(${f.pressure(now)})`}
            </span>
            <span>
              {to === null
                ? 'no cold pressure set'
                : judged?.state === 'done'
                  ? 'done'
                  : judged?.state === 'over'
                    ? `${f.pressure(judged.byKpa)} over`
                    : `fill to ${f.pressure(to)}`}
            </span>
          </li>
        );
      })}
    </ul>
  );
}
