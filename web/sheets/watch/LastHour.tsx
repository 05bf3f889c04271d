import { useMemo } from 'react';
import { convert } from '#core/units/units.ts';
import type { AlarmGroup } from '#core/watch/group.ts';
import type { WatchView } from '#schema/alarm.ts';
import { useAlarms, useChart } from '../../data/queries.ts';
import { ChartPart } from '../../parts/chart/ChartPart.tsx';
import { linesOf, marksOf } from '../../parts/chart/series.ts';
import { useFormat } from '../../parts/format.ts';

const HOUR = 3_600_000;

/** The last hour before the latest reading: how far each wheel is from what it should read. */
export default function LastHour({ rigId, view, groups }: { rigId: string; view: WatchView; groups: readonly AlarmGroup[] }) {
  const f = useFormat();
  const alarms = useAlarms(rigId);
  const last = view.wheels.reduce((ms, w) => (w.time === null ? ms : Math.max(ms, Date.parse(w.time))), 0);
  // On to the next full minute: the picture is made again then, not with every reading.
  const to = Math.ceil(last / 60_000) * 60_000;
  // By name, so that a reading of the same wheels changes nothing of the picture.
  const key = view.wheels
    // A sensor that isn't on its valve yet reads zero: that says nothing of a tire.
    .filter((w) => w.sensorId !== null && w.coldKpa !== null && w.state !== 'notFitted')
    .map((w) => w.position)
    .join();
  const positions = useMemo(() => (key === '' ? [] : key.split(',')), [key]);
  const chart = useChart(rigId, to - HOUR, to, positions, 400, last > 0);
  const urgent = groups.filter((g) => g.severity !== 'note').flatMap((g) => g.positions);
  const urgentKey = urgent.join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: wheels that are the same by name
  const lines = useMemo(
    () =>
      chart.data
        ? linesOf(
            chart.data,
            'gap',
            view.wheels,
            view.airC,
            { kpa: (v) => convert(v, 'kPa', f.unit), c: (v) => v },
            new Map(urgent.map((p) => [p, 'act'])),
          )
        : [],
    [chart.data, f.unit, key, urgentKey],
  );
  const marks = useMemo(() => marksOf(alarms.data ?? [], positions, to - HOUR, to), [alarms.data, positions, to]);
  // Figures typed without a temperature have no gap to show.
  if (!lines.some((l) => l.points.some((p) => p.y !== null))) return null;
  return (
    <section className="mt-6" aria-label="Last hour">
      <h2 className="text-body">
        Last hour, gap to the cold target{' '}
        <span className="font-normal text-ink2">{f.unit}, warm-up and air temperature taken out</span>
      </h2>
      <ChartPart
        lines={lines}
        marks={marks}
        from={to - HOUR}
        to={to}
        stepS={chart.data?.stepS ?? 0}
        title={`Gap of each wheel to its cold target in the last hour, ${f.unit}`}
        height={220}
        zero
      />
    </section>
  );
}
