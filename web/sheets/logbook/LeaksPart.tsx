import { Suspense, useMemo, useState } from 'react';
import { daysUntil, type WheelLeak } from '#core/leak/history.ts';
import { convert } from '#core/units/units.ts';
import { useWatch } from '../../data/queries.ts';
import type { ChartLine } from '../../parts/chart/ChartPart.tsx';
import { Switch } from '../../parts/controls.tsx';
import { minus, useFormat } from '../../parts/format.ts';
import { HeadRow } from '../../parts/HeadRow.tsx';
import { lazyPart } from '../../parts/lazy-part.ts';
import { Wide } from '../../parts/Wide.tsx';
import { useRig } from '../../state/useRig.ts';
import { Suspects } from './Suspects.tsx';
import { useLeaks } from './useLeaks.ts';

const ChartPart = lazyPart(async () => ({ default: (await import('../../parts/chart/ChartPart.tsx')).ChartPart }));

const DAY = 86_400_000;
const SPANS = [
  { value: '30', text: '30 days' },
  { value: '90', text: '90 days' },
  { value: '365', text: '1 year' },
] as const;

const VERDICT: Record<WheelLeak['verdict'], string> = {
  fell: 'Fell lately',
  leaking: 'Leaking',
  common: 'Falls as the others do',
  holding: 'Holds its air',
  unclear: 'Unclear',
};

const losing = (l: WheelLeak) => l.verdict === 'leaking' || l.verdict === 'fell';

const days = (n: number) => (n < 1.5 ? '1 day' : n < 400 ? `${Math.round(n)} days` : 'over a year');
const until = (left: ReturnType<typeof daysUntil>): string =>
  left === null ? '–' : left.most === null ? `${days(left.least)} or more` : `${days(left.least)} to ${days(left.most)}`;

/** What each wheel loses, from its cold starts: how fast, since when, and how long that lasts. */
export function LeaksPart() {
  const { rig, wheels } = useRig();
  const f = useFormat();
  const view = useWatch(rig.id).data;
  const [length, setLength] = useState<(typeof SPANS)[number]['value']>('90');
  const [picked, setPicked] = useState<string | null>(null);
  const { starts, leaks, from, to, positions, pending, working } = useLeaks(Number(length));
  const turn = (kpa: number) => convert(kpa, 'kPa', f.unit);
  const worst = leaks.find((l) => l.verdict === 'fell' || l.verdict === 'leaking')?.position ?? leaks[0]?.position ?? null;
  const shown = picked ?? worst;
  const own = leaks.find((l) => l.position === shown);
  const lines = useMemo((): ChartLine[] => {
    const order = wheels.map((w) => w.position);
    const out: ChartLine[] = starts.map((s) => ({
      label: s.position,
      order: Math.max(0, order.indexOf(s.position)),
      strong: s.position === shown ? 'one' : null,
      points: s.points.map((p) => ({ x: p.ms, y: convert(p.kpa, 'kPa', f.unit) })),
    }));
    if (own?.slope) {
      const end = starts.find((s) => s.position === shown)?.points.at(-1)?.ms ?? own.fromMs;
      const at = (ms: number, perDay: number) => convert(own.bySlopeKpa - (perDay * (end - ms)) / DAY, 'kPa', f.unit);
      const { perDay, lowPerDay, highPerDay } = own.slope;
      out.push({
        label: 'slope',
        order: 0,
        strong: null,
        points: Array.from({ length: 24 }, (_, i) => own.fromMs + ((end - own.fromMs) * i) / 23).map((ms) => ({
          x: ms,
          y: at(ms, perDay),
          low: Math.min(at(ms, lowPerDay), at(ms, highPerDay)),
          high: Math.max(at(ms, lowPerDay), at(ms, highPerDay)),
        })),
      });
    }
    return out;
  }, [starts, shown, own, wheels, f.unit]);
  if (positions.length === 0) return <p>Pair the sensors first.</p>;
  if (to === null)
    return (
      <p>
        {pending
          ? 'One moment…'
          : 'Nothing has been heard yet. Once there are some days of readings, each wheel’s loss will be here.'}
      </p>
    );
  const rate = (kpa: number) => minus((turn(kpa) * 30).toFixed(f.unit === 'bar' ? 2 : f.unit === 'kPa' ? 0 : 1));
  const views = new Map(view?.wheels.map((w) => [w.position, w]));
  return (
    <section aria-label="Leaks">
      <div className="mb-3">
        <Switch label="How far back" value={length} options={SPANS} onChange={setLength} />
      </div>
      <h2 className="text-body">
        Cold-equivalent pressure at each day’s cold start <span className="font-normal text-ink2">{f.unit}</span>
      </h2>
      <Suspense fallback={<div className="h-[320px]" />}>
        {lines.some((l) => l.points.length > 0) ? (
          <ChartPart
            lines={lines}
            marks={(own?.fills ?? []).map(({ ms }) => ({ ms, label: `${shown} filled` }))}
            from={from}
            to={to}
            stepS={2 * 86_400}
            title={`Cold-equivalent pressure of each wheel, ${f.unit}; ${shown} with its slope`}
            height={320}
          />
        ) : (
          <p className="py-6 text-ink2">{working ? 'One moment…' : 'No readings in that time.'}</p>
        )}
      </Suspense>
      <div className="mt-4 grid gap-x-8 gap-y-4 xl:grid-cols-[minmax(0,1fr)_336px]">
        <Wide label="Losses by wheel">
          <table className="sheet-table">
            <HeadRow names={['Wheel', 'Verdict', `A month, ${f.unit}`, 'Holds now', 'To its low limit', 'To its load minimum']} />
            <tbody className="narrow">
              {[...leaks]
                .sort((a, b) => Number(losing(b)) - Number(losing(a)))
                .map((l) => {
                  const v = views.get(l.position);
                  return (
                    <tr key={l.position}>
                      <th scope="row" className="border-b-rule! text-ink!">
                        <button
                          type="button"
                          className="btn btn-small"
                          aria-pressed={l.position === shown}
                          onClick={() => setPicked(l.position)}
                        >
                          {l.position}
                        </button>
                      </th>
                      <td className={losing(l) ? 'font-bold text-magenta' : ''}>
                        {VERDICT[l.verdict]}
                        {l.latelyKpa !== null && ` by ${f.pressure(l.latelyKpa)}`}
                      </td>
                      <td className="whitespace-nowrap">
                        {l.slope
                          ? `${rate(l.slope.perDay)} (${rate(l.slope.lowPerDay)} to ${rate(l.slope.highPerDay)})`
                          : 'too few days'}
                      </td>
                      <td className="whitespace-nowrap">about {f.pressure(l.nowKpa)}</td>
                      <td className="whitespace-nowrap">
                        {l.verdict === 'leaking' && v?.lowKpa != null ? until(daysUntil(l, v.lowKpa)) : '–'}
                      </td>
                      <td className="whitespace-nowrap">
                        {l.verdict === 'leaking' && v?.loadMinimumKpa != null ? until(daysUntil(l, v.loadMinimumKpa)) : '–'}
                      </td>
                    </tr>
                  );
                })}
            </tbody>
          </table>
        </Wide>
        <div className="flex flex-col gap-4 max-xl:order-first">
          {own && losing(own) ? (
            <Suspects leak={own} nowMs={to} />
          ) : leaks.some(losing) ? (
            <p className="text-body">
              {leaks
                .filter(losing)
                .map((l) => l.position)
                .join(', ')}{' '}
              losing air: choose the wheel to see where to look first.
            </p>
          ) : leaks.length === 0 ? null : (
            <p className="text-body">
              {leaks.every((l) => l.verdict === 'holding')
                ? 'No wheel loses more than rubber lets through.'
                : leaks.some((l) => l.verdict === 'common')
                  ? 'All wheels fall alike. Check one with a gauge: if it is as low as shown, fill them all.'
                  : 'No wheel surely loses more than rubber lets through. An unclear one needs more days.'}
            </p>
          )}
          <p className="text-body text-ink2">
            Rubber lets 1 to 3 % a month through. The slope is the middle of all slopes between two days, so one bad reading
            doesn’t move it; in brackets its 95 % interval. It begins where air was last put in.
          </p>
        </div>
      </div>
    </section>
  );
}
