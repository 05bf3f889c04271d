import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { wrap } from 'comlink';
import { useMemo } from 'react';
import type { RestPoint, WheelLeak } from '#core/leak/history.ts';
import { useChart, useSpan, useWatch } from '../../data/queries.ts';
import { limitsFrom } from '../../parts/chart/series.ts';
import { useRig } from '../../state/useRig.ts';
import type { LeaksWork } from './leaks.worker.ts';

const DAY = 86_400_000;
const NO_STARTS: { position: string; points: RestPoint[] }[] = [];
const NO_LEAKS: WheelLeak[] = [];

/** What each wheel loses, by its cold starts of the last days that were heard; a year of it takes too long for the page's own thread. */
export function useLeaks(days: number) {
  const { rig, wheels } = useRig();
  const view = useWatch(rig.id).data;
  const span = useSpan(rig.id);
  const positions = useMemo(() => wheels.filter((w) => w.wheel.sensor).map((w) => w.position), [wheels]);
  const to = span.data?.to ? Math.ceil(Date.parse(span.data.to) / 3_600_000) * 3_600_000 : null;
  const from = (to ?? 0) - days * DAY;
  const chart = useChart(rig.id, from, to ?? 0, positions, 2000, to !== null);
  // The view is new with every reading, the limits are not.
  const limits = useMemo(() => (view ? JSON.stringify(limitsFrom(view.wheels)) : null), [view]);
  const series = chart.data?.series;
  const found = useQuery({
    queryKey: ['leaks', rig.id, from, to, positions, limits, chart.dataUpdatedAt],
    enabled: series !== undefined && limits !== null && !chart.isPlaceholderData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
    placeholderData: keepPreviousData,
    throwOnError: true,
    queryFn: async ({ signal }) => {
      const worker = new Worker(new URL('./leaks.worker.ts', import.meta.url), { type: 'module' });
      try {
        return await new Promise<Awaited<ReturnType<LeaksWork['leaks']>>>((resolve, reject) => {
          worker.onerror = () => reject(new Error('The losses could not be worked out.'));
          signal.addEventListener('abort', () => reject(signal.reason));
          wrap<LeaksWork>(worker)
            .leaks(series ?? [], JSON.parse(limits ?? '{}'))
            .then(resolve, reject);
        });
      } finally {
        worker.terminate();
      }
    },
  });
  return {
    starts: found.data?.starts ?? NO_STARTS,
    leaks: found.data?.leaks ?? NO_LEAKS,
    from,
    to,
    positions,
    pending: span.isPending,
    /** Readings are being fetched, or what they say is being worked out. */
    working: chart.isFetching || found.isFetching,
  };
}
