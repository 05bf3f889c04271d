import { pressureAt } from '#core/gas/gas.ts';
import { KPA_PER_PSI } from '#core/units/units.ts';
import type { WatchView, WheelView } from '#schema/alarm.ts';
import { useFormat } from '../../parts/format.ts';
import { isFresh } from '../../parts/words.ts';

/** What a wheel has to be filled to now, kPa: its cold pressure at the temperature it shows, or as it is where it shows none. */
export const fillToKpa = (w: Pick<WheelView, 'coldKpa' | 'coldTempC' | 'tempC' | 'correctedToC'>): number | null =>
  w.coldKpa === null ? null : pressureAt(w.coldKpa, w.coldTempC ?? 20, w.correctedToC ?? w.tempC ?? w.coldTempC ?? 20);

/** The wheels that are being filled, each with what it reads, what to fill to, and whether it is done. */
export function FillList({ view }: { view: WatchView }) {
  const f = useFormat();
  const wheels = view.wheels.filter((w) => view.topUp?.positions.includes(w.position));
  return (
    <ul aria-label="Being filled" className="mb-3 border-t border-ink text-[15px]">
      {wheels.map((w) => {
        const to = fillToKpa(w);
        const now = w.pressureKpa;
        const done = to !== null && now !== null && now >= to - KPA_PER_PSI;
        return (
          <li key={w.position} className="flex flex-wrap items-baseline justify-between gap-x-3 border-b border-rule py-2">
            <b>{w.position}</b>
            <span className="figure text-[22px]">
              {now === null ? 'not heard' : isFresh(w) ? f.pressure(now) : `(${f.pressure(now)})`}
            </span>
            <span>{to === null ? 'no cold pressure set' : done ? 'done' : `fill to ${f.pressure(to)}`}</span>
          </li>
        );
      })}
    </ul>
  );
}
