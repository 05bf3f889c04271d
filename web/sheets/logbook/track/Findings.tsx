import { temperatureFor } from '#core/gas/gas.ts';
import type { RigWheel } from '#core/rig/positions.ts';
import {
  type Direction,
  type RunWheel,
  type TrackFinding,
  trackAdvice,
  trackFindings,
  weatherShift,
} from '#core/track/sessions.ts';
import { type Format, useFormat } from '../../../parts/format.ts';
import { airOf, readingsOf, type TypedDay } from './day.ts';

/** What a difference means, in words. */
function findingWords(x: TrackFinding, f: Format): string {
  switch (x.code) {
    case 'corner':
      return x.explained === null
        ? `${x.position} rose the most, by ${f.pressure(x.riseKpa)}.`
        : x.explained
          ? `${x.position} rose the most, by ${f.pressure(x.riseKpa)}: the corner that this circuit loads most.`
          : `${x.position} rose the most, by ${f.pressure(x.riseKpa)}, and this circuit doesn’t load it most. Look for a dragging brake, and at the alignment.`;
    case 'side':
      return `Axle ${x.axle}: ${x.more === 'L' ? 'left' : 'right'} rose ${f.pressure(x.byKpa)} more${
        x.explained === null ? '' : x.explained ? ', the outer side of most corners' : ', though it is the inner side here'
      }. Start it with less air than the other side.`;
    case 'end':
      return `The ${x.more === 'front' ? 'fronts' : 'rears'} rose ${f.pressure(x.byKpa)} more than the ${
        x.more === 'front' ? 'rears: the front does the work' : 'fronts: the rear does the work'
      }.`;
  }
}

/** What the last session's readings say beside each other: corners, sides, ends, gas and weather. */
export function Findings({
  day,
  wheels,
  session,
  direction,
}: {
  day: TypedDay;
  wheels: readonly RigWheel[];
  session: number;
  direction: Direction | null;
}) {
  const f = useFormat();
  const airs = day.sessions.map((s) => airOf(s.air, f.temp) ?? null);
  const run = wheels.flatMap((w): (RunWheel & { coldAirC: number | null })[] => {
    // The target doesn't matter for what the readings say.
    const readings = readingsOf(day, w.position);
    const a = trackAdvice({ position: w.position, targetHotKpa: 200, sessions: readings });
    if (!a || w.axleIndex === null) return [];
    const set = readings.findLastIndex((r) => r.coldKpa !== undefined);
    return [
      {
        position: w.position,
        axle: w.axleIndex + 1,
        side: w.place === 'C' || w.place === 'S' ? null : (w.place[0] as 'L' | 'R'),
        coldKpa: a.coldKpa,
        lapKpa: a.lapKpa,
        coldAirC: airs[set] ?? null,
      },
    ];
  });
  if (run.length === 0)
    return (
      <p className="mt-4 max-w-[70ch] text-body text-ink2">
        Type each wheel’s cold pressure, and after the session its peak or what it read in the pit. Cold means three hours at
        rest: a “cold” pressure set just after a drive isn’t.
      </p>
    );
  const first = run[0] as (typeof run)[number];
  const nowC = airs[session] ?? null;
  const shift = first.coldAirC === null || nowC === null ? null : weatherShift(first.coldKpa, first.coldAirC, nowC);
  const gases = run.flatMap((w) => (w.coldAirC === null ? [] : temperatureFor(w.coldKpa, w.coldAirC, w.lapKpa)));
  const external = wheels.some((w) => w.wheel.sensor && w.wheel.sensor.kind !== 'internal');
  return (
    <section aria-label="What it says" className="mt-4">
      <h2 className="mb-1 text-body">What session {session + 1} says</h2>
      <ul className="list-[square] pl-5 text-body">
        {trackFindings(run, direction).map((x) => (
          <li key={`${x.code} ${'axle' in x ? x.axle : ''}`}>{findingWords(x, f)}</li>
        ))}
        {gases.length > 0 && (
          <li>
            By their pressures the tires reached {f.temperature(Math.min(...gases))}
            {Math.max(...gases) - Math.min(...gases) >= 1 && ` to ${f.temperature(Math.max(...gases))}`} inside.
            {external && ' A sensor on the valve shows about half of that rise, so its own temperature is not used here.'}
          </li>
        )}
        {shift !== null && Math.abs(shift) >= 1 && (
          <li>
            The air is {f.difference(Math.abs((nowC as number) - (first.coldAirC as number)))} {shift > 0 ? 'warmer' : 'cooler'}{' '}
            than when they were set cold: that alone makes {f.pressure(Math.abs(shift))} {shift > 0 ? 'more' : 'less'}.
          </li>
        )}
        <li>A wheel under its target is left as it is while hot; start it with more air next time.</li>
      </ul>
    </section>
  );
}
