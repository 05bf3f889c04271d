import { wrap } from 'comlink';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { RestPoint, WheelLeak } from '#core/leak/history.ts';
import type { ChartAnswer } from '#schema/history.ts';
import { useChart, useSpan, useWatch } from '../../data/queries.ts';
import { limitsFrom } from '../../parts/chart/series.ts';
import { type Answerer, Latest } from '../../parts/latest.ts';
import { useRig } from '../../state/useRig.ts';
import type { Leaks, LeaksWork } from './leaks.worker.ts';

const DAY = 86_400_000;
const NO_STARTS: { position: string; points: RestPoint[] }[] = [];
const NO_LEAKS: WheelLeak[] = [];

/** What losses are worked out from. */
interface Question {
  series: ChartAnswer['series'];
  /** As text, for what is asked stays the same while this does. */
  limits: string;
}

function worker(gone: () => void): Answerer<Question, Leaks> {
  const own = new Worker(new URL('./leaks.worker.ts', import.meta.url), { type: 'module' });
  const work = wrap<LeaksWork>(own);
  // Its file didn't come, as when the line is down: the log goes on without it meanwhile.
  own.onerror = gone;
  return { ask: (of) => work.leaks(of.series, JSON.parse(of.limits)), end: () => own.terminate() };
}

/** The losses that a question has, worked out beside the page: a year of nine wheels takes half a second. */
function useWorkedOut(question: Question | null): { of: Question; found: Leaks } | null {
  const [answer, setAnswer] = useState<{ of: Question; found: Leaks } | null>(null);
  const [fault, setFault] = useState<unknown>(null);
  const latest = useRef<Latest<Question, Leaks> | null>(null);
  useEffect(() => {
    latest.current = new Latest(worker, setAnswer, setFault);
    return () => latest.current?.end();
  }, []);
  useEffect(() => latest.current?.ask(question), [question]);
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
