import { proxy, type Remote, wrap } from 'comlink';
import Papa from 'papaparse';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import type { FixedAnswer, LabFigures, LabQuestion, RingDay } from '#core/lab/compare.ts';
import type { LabRule } from '#core/lab/fixed.ts';
import { LAB_SCHOOLS, labRule, ownLimits, ownRule } from '#core/lab/own.ts';
import { useMonitor } from '../../data/queries.ts';
import { Field, SheetHead } from '../../parts/controls.tsx';
import { parseNumber } from '../../parts/format.ts';
import { HeadRow } from '../../parts/HeadRow.tsx';
import { save } from '../../parts/save.ts';
import { Wide } from '../../parts/Wide.tsx';
import { useDraft } from '../../state/drafts.ts';
import { useRig } from '../../state/useRig.ts';
import { DayPart } from './DayPart.tsx';
import { LabChart, type LabPoint } from './LabChart.tsx';
import type { LabWork } from './lab.worker.ts';
import { useOwn } from './useOwn.ts';
import { COLUMNS, csvRows, nameOf, SIZE_WORDS, WATCH_WORDS } from './words.ts';

/** What was worked out last, for whoever leaves the sheet and comes back. */
interface Run {
  question: LabQuestion;
  fixed: FixedAnswer | null;
  watch: LabFigures | null;
}
let last: { rigId: string; run: Run } | null = null;

type Work = { share: number; watchShare: number } | null;

const spawn = () => new Worker(new URL('./lab.worker.ts', import.meta.url), { type: 'module' });

/** The typed shares of the owner's own rule; null while nothing is typed, a text where it can't be. */
function typedRule(low: string, high: string): { lowShare: number; highShare: number | null } | string | null {
  if (low.trim() === '' && high.trim() === '') return null;
  const l = parseNumber(low);
  const h = high.trim() === '' ? null : parseNumber(high);
  if (l === null || l < 1 || l > 60) return 'Low must be 1 to 60 % under cold.';
  if (high.trim() !== '' && (h === null || h < 1 || h > 100)) return 'High must be 1 to 100 % over cold, or empty.';
  return { lowShare: l / 100, highShare: h === null ? null : h / 100 };
}

/** Every rule on the owner's rig and in its weather: false alarms against what is heard in time. */
export default function Lab() {
  const { rig } = useRig();
  const monitor = useMonitor(rig);
  const { axles, days, own, source } = useOwn(monitor ?? null);
  const [typed, setTyped] = useDraft(`lab.${rig.id}`, { low: '', high: '', seed: '' });
  const [run, setRun] = useState<Run | null>(last?.rigId === rig.id ? last.run : null);
  const [work, setWork] = useState<Work>(null);
  const [failed, setFailed] = useState(false);
  const workers = useRef<Worker[]>([]);
  const stop = useCallback(() => {
    for (const w of workers.current) w.terminate();
    workers.current = [];
    setWork(null);
  }, []);
  useEffect(() => stop, [stop]);
  useEffect(() => {
    if (run) last = { rigId: rig.id, run };
  }, [run, rig.id]);

  const ownTyped = typedRule(typed.low, typed.high);
  const seedTyped = typed.seed.trim() === '' ? null : parseNumber(typed.seed);
  const seedWrong =
    typed.seed.trim() !== '' && (seedTyped === null || !Number.isInteger(seedTyped) || seedTyped < 0 || seedTyped > 1e6);
  const rules = useMemo(() => {
    const schools = LAB_SCHOOLS.map((s) => labRule(s.name, axles, s.rule));
    const yours = axles.length > 0 ? ownRule('yours', axles) : null;
    const typedOne =
      ownTyped !== null && typeof ownTyped === 'object'
        ? labRule('own', axles, () =>
            ownTyped.highShare === null
              ? { school: 'lowOnly', lowShare: ownTyped.lowShare }
              : { school: 'share', lowShare: ownTyped.lowShare, highShare: ownTyped.highShare },
          )
        : null;
    return [yours, typedOne, ...schools].filter((r): r is LabRule => r !== null);
  }, [axles, ownTyped]);

  const begin = async () => {
    if (!own) return;
    stop();
    setFailed(false);
    const seed = seedTyped ?? Math.floor(Math.random() * 1e6);
    const question: LabQuestion = { rig: own, days, rules, seed };
    const [a, b] = [spawn(), spawn()];
    workers.current = [a, b];
    const current = () => workers.current[0] === a;
    for (const w of [a, b])
      w.onerror = () => {
        if (!current()) return;
        stop();
        setFailed(true);
      };
    setRun({ question, fixed: null, watch: null });
    setWork({ share: 0, watchShare: 0 });
    const fixed = wrap<LabWork>(a).fixed(
      question,
      proxy((share: number) => current() && setWork((s) => s && { ...s, share })),
    );
    const watch = wrap<LabWork>(b).watch(
      { ...question, rules: [], limits: ownLimits(axles) },
      proxy((share: number) => current() && setWork((s) => s && { ...s, watchShare: share })),
    );
    const parts = [
      fixed.then((answer) => current() && setRun((r) => r && { ...r, fixed: answer })),
      watch.then((answer) => current() && setRun((r) => r && { ...r, watch: answer })),
    ];
    await Promise.all(parts);
    if (!current()) return;
    b.terminate();
    workers.current = [];
    a.terminate();
    setWork(null);
  };

  // A day is lived again in a worker of its own, which is kept while the sheet is open: with its one proxy, for the worker ends with that.
  const dayWorker = useRef<{ worker: Worker; work: Remote<LabWork> } | null>(null);
  useEffect(
    () => () => {
      dayWorker.current?.worker.terminate();
      dayWorker.current = null;
    },
    [],
  );
  const question = run?.question;
  const again = useCallback(
    async (rule: LabRule, day: RingDay) => {
      if (!dayWorker.current) {
        const worker = spawn();
        dayWorker.current = { worker, work: wrap<LabWork>(worker) };
      }
      const { rig: r, seed, days: d } = question as LabQuestion;
      return await dayWorker.current.work.day({ rig: r, seed, days: d }, rule, day);
    },
    [question],
  );

  const points: LabPoint[] = useMemo(() => {
    const fixed = run?.fixed?.figures.map((figures, i) => ({ name: run.question.rules[i]?.name ?? '', figures })) ?? [];
    return run?.watch ? [{ name: 'watch', figures: run.watch }, ...fixed] : fixed;
  }, [run]);
  const yours = points.find((p) => p.name === 'own') ?? points.find((p) => p.name === 'yours');
  const watch = points.find((p) => p.name === 'watch');
  const narrow = window.innerWidth < 700;
  const csv = () => {
    const text = Papa.unparse(csvRows(points, run?.question.seed ?? 0), { newline: '\r\n' });
    save(new Blob([`${text}\r\n`], { type: 'text/csv' }), `${rig.name} rules.csv`);
  };

  if (days.length < 365 || own === null) {
    return (
      <>
        <SheetHead title="Rules lab">
          Every rule for limits on your own rig: how often it alarms for nothing in a year, and how many leaks it reports in time.
        </SheetHead>
        <p className="max-w-[64ch]">
          {own === null ? 'No axle has a cold pressure yet. ' : ''}
          {days.length < 365 ? 'The lab needs a year of weather, day by day. ' : ''}
          <Link className="underline underline-offset-3" to={`/rigs/${rig.id}/pressures`}>
            {own === null
              ? 'Set the cold pressures on Pressures'
              : 'Read a weather file on Pressures, or make a typical year there'}
          </Link>
          .
        </p>
      </>
    );
  }
  const guessed = axles.filter((a) => a.loadMinimumKpa === null).map((a) => a.code);
  return (
    <>
      <SheetHead title="Rules lab">
        {own.wheels.length} wheels, {days.length.toLocaleString('en-GB')} days of {source}
        {run ? `, seed ${run.question.seed}` : ''}.
      </SheetHead>
      <div className="grid gap-x-8 gap-y-6 xl:grid-cols-[minmax(0,1fr)_352px]">
        <div className="min-w-0">
          {points.length > 0 ? (
            <>
              <p className="text-body text-ink2">Up and to the left is better.</p>
              <LabChart points={points} height={narrow ? 380 : 480} narrow={narrow} />
            </>
          ) : (
            <p className="max-w-[62ch] py-6">
              {work
                ? 'One moment…'
                : `Run the lab to compare your limits, ${LAB_SCHOOLS.length} schools and the watch on this rig: ${SIZE_WORDS}, with sensors whose errors, lags and habits differ from year to year.`}
            </p>
          )}
          {points.length > 0 && (
            <Wide label="All figures" className="mt-4">
              <table className="sheet-table">
                <caption className="pb-1 text-left text-body text-ink2">
                  In brackets: the tenth and the ninetieth of a hundred draws; for shares, an 80 % interval.
                </caption>
                <HeadRow names={['Rule', ...COLUMNS.map((c) => c.head)]} />
                <tbody className="narrow">
                  {points.map((p) => (
                    <tr key={p.name}>
                      <th scope="row" className="border-b-rule! font-semibold text-ink!">
                        {nameOf(p.name)}
                      </th>
                      {COLUMNS.map((c) => (
                        <td key={c.head} className="whitespace-nowrap">
                          {c.text(p.figures)}
                        </td>
                      ))}
                    </tr>
                  ))}
                </tbody>
              </table>
            </Wide>
          )}
        </div>
        <div className="flex flex-col gap-5 max-xl:order-first">
          <section aria-label="What is compared">
            <form
              noValidate
              onSubmit={(e) => {
                e.preventDefault();
                if (typeof ownTyped !== 'string' && !seedWrong) void begin();
              }}
            >
              <div className="grid grid-cols-3 items-start gap-3">
                <Field
                  label="Own rule: low"
                  unit="%"
                  inputMode="decimal"
                  value={typed.low}
                  aria-invalid={typeof ownTyped === 'string' ? true : undefined}
                  onChange={(e) => setTyped({ ...typed, low: e.target.value })}
                />
                <Field
                  label="High"
                  unit="%"
                  inputMode="decimal"
                  value={typed.high}
                  onChange={(e) => setTyped({ ...typed, high: e.target.value })}
                />
                <Field
                  label="Seed"
                  inputMode="numeric"
                  placeholder="drawn"
                  value={typed.seed}
                  error={seedWrong ? '0 to 1,000,000' : undefined}
                  onChange={(e) => setTyped({ ...typed, seed: e.target.value })}
                />
              </div>
              {typeof ownTyped === 'string' && (
                <p className="error" role="alert">
                  {ownTyped}
                </p>
              )}
              <div className="mt-3 flex flex-wrap items-center gap-2">
                {work ? (
                  <>
                    {/* Keys: were it the same button, the press that stops would also submit the form, and begin again. */}
                    <button key="stop" type="button" className="btn" onClick={stop}>
                      Stop
                    </button>
                    <span className="flex grow flex-col gap-1">
                      <progress className="ink-progress" max={1} value={work.share} aria-label="Rules" />
                      <progress className="ink-progress" max={1} value={work.watchShare} aria-label="The watch" />
                    </span>
                    <span className="figure text-body" aria-live="off">
                      rules {Math.round(work.share * 100)} %<br />
                      watch {Math.round(work.watchShare * 100)} %
                    </span>
                  </>
                ) : (
                  <>
                    <button key="run" type="submit" className="btn btn-solid">
                      {run ? 'Run the lab again' : 'Run the lab'}
                    </button>
                    {points.length > 0 && (
                      <button type="button" className="btn" onClick={csv}>
                        Export CSV
                      </button>
                    )}
                  </>
                )}
              </div>
              {failed && <p className="error mt-2">The calculation stopped. Run it again.</p>}
            </form>
          </section>
          {watch && yours && (
            <section aria-label="Yours and the watch">
              <h2 className="border-b border-ink pb-1">
                {nameOf(yours.name).replace(/^./, (c) => c.toUpperCase())} and the watch
              </h2>
              <table className="w-full">
                <thead>
                  <tr className="text-note text-ink2">
                    <td />
                    <th scope="col" className="text-left font-normal">
                      yours
                    </th>
                    <th scope="col" className="text-left font-normal">
                      watch
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {COLUMNS.map((c) => (
                    <tr key={c.head} className="border-t border-rule">
                      <th scope="row" className="py-1.5 text-left text-body font-normal">
                        {c.head}
                      </th>
                      {[yours, watch].map((p) => (
                        <td key={p.name} className="figure pr-2 text-body font-semibold whitespace-nowrap">
                          {c.text(p.figures).replace(/ \(.*\)$/, '')}
                        </td>
                      ))}
                    </tr>
                  ))}
                </tbody>
              </table>
            </section>
          )}
          {run?.fixed && <DayPart question={run.question} rules={run.question.rules} days={run.fixed.days} again={again} />}
          <section aria-label="What the figures are worth" className="text-body text-ink2">
            <p>
              {SIZE_WORDS}. {WATCH_WORDS} “In time” is before the tire can’t carry its load. A leak in a parked tire whose sensor
              says nothing is heard late by every rule.
            </p>
            {guessed.length > 0 && (
              <p className="mt-2">
                No load is set for {guessed.join(', ')}: the load minimum is taken as 80 % of the cold pressure there.
              </p>
            )}
            <p className="mt-2">
              Sensors, drives and leaks are drawn, so these are figures of a model, not of your tires. They show which rule is
              better, not what will happen.
            </p>
          </section>
        </div>
      </div>
    </>
  );
}
