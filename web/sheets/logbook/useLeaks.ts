import { useMemo } from 'react';
import { leaksOf, type RestPoint, type WheelLeak } from '#core/leak/history.ts';
import { compensate } from '#core/watch/compensate.ts';
import type { ChartAnswer } from '#schema/history.ts';
import { useChart, useSpan, useWatch } from '../../data/queries.ts';
import { limitsFrom } from '../../parts/chart/series.ts';
import { useRig } from '../../state/useRig.ts';

const DAY = 86_400_000;

/** The cold start of each day: the coolest reading of it, brought to the temperature of the cold pressure. */
function coldStarts(answer: ChartAnswer, held: ReturnType<typeof compensate>): { position: string; points: RestPoint[] }[] {
  return answer.series.map(({ position, points }) => {
    const days = new Map<number, { c: number; point: RestPoint }>();
    points.forEach((p, i) => {
      const kpa = held.get(position)?.[i] ?? null;
      const c = p.lowC ?? p.lastC;
      if (kpa === null || c === null) return;
      const day = Math.floor(p.lastMs / DAY);
      const best = days.get(day);
      if (!best || c < best.c) days.set(day, { c, point: { ms: p.lastMs, kpa } });
    });
    return { position, points: [...days.values()].map((d) => d.point).sort((a, b) => a.ms - b.ms) };
  });
}

/** What each wheel loses, by its cold starts of the last days that were heard. */
export function useLeaks(days: number) {
  const { rig, wheels } = useRig();
  const view = useWatch(rig.id).data;
  const span = useSpan(rig.id);
  const positions = useMemo(() => wheels.filter((w) => w.wheel.sensor).map((w) => w.position), [wheels]);
  const to = span.data?.to ? Math.ceil(Date.parse(span.data.to) / 3_600_000) * 3_600_000 : null;
  const from = (to ?? 0) - days * DAY;
  const chart = useChart(rig.id, from, to ?? 0, positions, 2000, to !== null);
  const starts = useMemo(
    () => (chart.data && view ? coldStarts(chart.data, compensate(chart.data.series, limitsFrom(view.wheels), null)) : []),
    [chart.data, view],
  );
  const leaks = useMemo((): WheelLeak[] => leaksOf(starts), [starts]);
  return { starts, leaks, from, to, positions, pending: span.isPending, fetching: chart.isFetching };
}
