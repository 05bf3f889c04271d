import { type Remote, wrap } from 'comlink';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { RestPoint, WheelLeak } from '#core/leak/history.ts';
import type { ChartAnswer } from '#schema/history.ts';
import { useChart, useSpan, useWatch } from '../../data/queries.ts';
import { limitsFrom } from '../../parts/chart/series.ts';
import { useRig } from '../../state/useRig.ts';
import type { Leaks, LeaksWork } from './leaks.worker.ts';

const DAY = 86_400_000;
const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 10_000;
const NO_STARTS: { position: string; points: RestPoint[] }[] = [];
const NO_LEAKS: WheelLeak[] = [];

/** What losses are worked out from. */
interface Question {
  series: ChartAnswer['series'];
  /** As text, for what is asked stays the same while this does. */
  limits: string;
}

/**
 * The losses that a question has, worked out beside the page: a year of nine wheels takes half a second. One question at a time; of those that
 * come meanwhile the last is next.
 */
function useWorkedOut(question: Question | null): { of: Question; found: Leaks } | null {
  const [answer, setAnswer] = useState<{ of: Question; found: Leaks } | null>(null);
  const [fault, setFault] = useState<unknown>(null);
  const next = useRef<Question | null>(null);
  const ask = useRef<() => void>(() => undefined);
  useEffect(() => {
    let worker: Worker;
    let work: Remote<LeaksWork>;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let waitMs = FIRST_WAIT_MS;
    let busy: Question | null = null;
    const begin = () => {
      worker = new Worker(new URL('./leaks.worker.ts', import.meta.url), { type: 'module' });
      work = wrap(worker);
      // Its file didn't come, as when the line is down: the log goes on without it meanwhile.
      worker.onerror = () => {
        worker.terminate();
        next.current ??= busy;
        busy = null;
        timer = setTimeout(begin, waitMs);
        waitMs = Math.min(2 * waitMs, LONGEST_WAIT_MS);
      };
      ask.current();
    };
    ask.current = () => {
      const of = next.current;
      if (busy !== null || of === null) return;
      busy = of;
      next.current = null;
      work
        .leaks(of.series, JSON.parse(of.limits))
        .then((found) => setAnswer({ of, found }), setFault)
        .finally(() => {
          busy = null;
          ask.current();
        });
    };
    begin();
    return () => {
      clearTimeout(timer);
      worker.terminate();
    };
  }, []);
  useEffect(() => {
    next.current = question;
    ask.current();
  }, [question]);
  if (fault !== null) throw fault;
  return answer;
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
  // The view is new with every reading, the limits are not.
  const limits = useMemo(() => (view ? JSON.stringify(limitsFrom(view.wheels)) : null), [view]);
  const series = chart.data?.series;
  const question = useMemo(() => (series && limits ? { series, limits } : null), [series, limits]);
  const answer = useWorkedOut(question);
  return {
    starts: answer?.found.starts ?? NO_STARTS,
    leaks: answer?.found.leaks ?? NO_LEAKS,
    from,
    to,
    positions,
    pending: span.isPending,
    /** Readings are being fetched, or what they say is being worked out. */
    working: chart.isFetching || (question !== null && answer?.of !== question),
  };
}
