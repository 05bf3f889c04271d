import { useEffect, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { v4 as newId } from 'uuid';
import { factorsOf, hintsOf } from '#core/faults/hints.ts';
import type { FaultAnswer } from '#core/faults/next.ts';
import { diagnose } from '#core/faults/session.ts';
import { BRANCH_IDS, BRANCHES, type BranchId } from '#core/faults/tables.ts';
import type { LogEntry } from '#schema/unit.ts';
import { useRecords, useWatch } from '../../data/queries.ts';
import { Notice } from '../../parts/controls.tsx';
import { duration, useFormat } from '../../parts/format.ts';
import { HeadRow } from '../../parts/HeadRow.tsx';
import { Wide } from '../../parts/Wide.tsx';
import { useDraft } from '../../state/drafts.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { HINT_WORDS } from './hint-words.ts';
import { Odds } from './Odds.tsx';
import { useFacts } from './useFacts.ts';
import { BRANCH_WORDS, CAUSE_WORDS, TEST_WORDS } from './words.ts';

/** A search for a fault, so far. */
interface Search {
  branch: BranchId | null;
  /** The wheel it is about; empty: none in particular. */
  wheel: string;
  answers: FaultAnswer[];
  cannot: string[];
  ruledOut: string[];
  /** A test the owner chose instead of the proposed one. */
  chosen: string | null;
}
const fresh: Search = { branch: null, wheel: '', answers: [], cannot: [], ruledOut: [], chosen: null };

/** Branches that are about one wheel. */
const OF_A_WHEEL: readonly BranchId[] = ['one', 'wrong', 'rings', 'quiet'];

/** So many tests are listed at first. */
const SHOWN = 6;

const percent = (p: number) => (p >= 0.995 ? 'over 99 %' : p < 0.005 ? 'under 1 %' : `${Math.round(100 * p)} %`);

/** Say what you see, do the test that tells the most a minute, until the cause is as good as sure. */
export function FindPart() {
  const whole = useRig();
  const { rig, wheels } = whole;
  const f = useFormat();
  const view = useWatch(rig.id).data;
  const { changeRig } = useRecords();
  const [search, setParams] = useSearchParams();
  const [now, setNow, drop] = useDraft<Search>(`faults.${rig.id}`, fresh);
  // From an alarm: its wheel and what it is about.
  const [fromBranch, fromWheel] = [search.get('branch'), search.get('wheel') ?? ''];
  const [all, setAll] = useState(false);
  const taken = useRef('');
  useEffect(() => {
    const key = `${fromBranch} ${fromWheel}`;
    if (!fromBranch || taken.current === key || !(BRANCH_IDS as readonly string[]).includes(fromBranch)) return;
    taken.current = key;
    setNow({ ...fresh, branch: fromBranch as BranchId, wheel: fromWheel });
    setParams({}, { replace: true });
  }, [fromBranch, fromWheel, setNow, setParams]);
  const facts = useFacts(whole, view, now.branch, now.wheel);

  if (now.branch === null || facts === null)
    return (
      <section aria-label="What do you see?">
        <h2 className="mb-3 text-head">What do you see?</h2>
        <ul className="grid max-w-[760px] gap-3 sm:grid-cols-2">
          {BRANCH_IDS.map((b) => (
            <li key={b}>
              <button
                type="button"
                className="btn h-full min-h-[76px] w-full flex-col items-start! text-left whitespace-normal"
                onClick={() => setNow({ ...fresh, branch: b, wheel: OF_A_WHEEL.includes(b) ? (firstTroubled(view) ?? '') : '' })}
              >
                <span className="block text-head font-bold">{BRANCH_WORDS[b].title}</span>
                <span className="block text-body font-normal">{BRANCH_WORDS[b].about}</span>
              </button>
            </li>
          ))}
        </ul>
      </section>
    );

  const branch = BRANCHES[now.branch];
  const tests = TEST_WORDS[now.branch];
  const causes = CAUSE_WORDS[now.branch];
  const hints = hintsOf(facts);
  const d = diagnose({
    branch,
    changes: rig.faults?.[now.branch],
    hints: factorsOf(hints),
    answers: now.answers,
    cannot: now.cannot,
    ruledOut: now.ruledOut,
  });
  const first = d.causes[0];
  const second = d.causes[1];
  const test = now.chosen ?? d.next?.test ?? null;
  const words = test === null ? undefined : tests[test];
  const minutesOf = (id: string) => rig.faults?.[branch.id]?.minutes?.[id] ?? branch.tests.find((t) => t.id === id)?.minutes ?? 0;
  const answer = (outcome: string) =>
    test !== null && setNow((n) => ({ ...n, answers: [...n.answers, { test, outcome }], chosen: null }));
  const back = (i: number) => setNow((n) => ({ ...n, answers: n.answers.filter((_, k) => k !== i), chosen: null }));
  const restart = () => {
    const before = now;
    drop({ ...fresh });
    toast('Begun again.', { undo: () => setNow(before) });
  };
  const finish = async (cause: string) => {
    const steps = now.answers.map((a) => `${tests[a.test]?.name}: ${tests[a.test]?.outcomes[a.outcome]?.toLowerCase()}`);
    const entry: LogEntry = {
      id: newId(),
      at: new Date().toISOString(),
      kind: cause === 'cell' || cause === 'cells' || cause === 'jumps' || cause === 'cellSign' ? 'cell' : 'repair',
      ...(now.wheel ? { position: now.wheel } : {}),
      note: `${causes[cause]?.name}. ${steps.join('; ')}`.slice(0, 1000),
      ...(view?.clock === 'bench' ? { practice: true as const } : {}),
    };
    try {
      await changeRig(rig.id, (r) => ({ ...r, log: [...(r.log ?? []), entry] }));
      drop({ ...fresh });
      toast('It is in the log.', {
        undo: () =>
          void changeRig(rig.id, (r) => ({ ...r, log: (r.log ?? []).filter((e) => e.id !== entry.id) })).catch(toastError),
      });
    } catch (error) {
      toastError(error);
    }
  };
  const v = view?.wheels.find((w) => w.position === now.wheel);
  const most = Math.max(1e-9, ...d.ranking.map((r) => r.bitsPerMinute));
  return (
    <div className="grid gap-x-10 gap-y-6 xl:grid-cols-[minmax(0,1fr)_400px]">
      <div className="min-w-0">
        <div className="mb-4 flex flex-wrap items-center gap-x-4 gap-y-1 border border-ink px-3 py-2 text-body">
          <b>{BRANCH_WORDS[branch.id].title}</b>
          {OF_A_WHEEL.includes(branch.id) && (
            <label className="flex items-center gap-2">
              Wheel
              <select
                className="input w-[92px]"
                value={now.wheel}
                onChange={(e) => setNow((n) => ({ ...n, wheel: e.target.value }))}
              >
                <option value="">any</option>
                {wheels.map((w) => (
                  <option key={w.position} value={w.position}>
                    {w.position}
                  </option>
                ))}
              </select>
            </label>
          )}
          {v?.time && (
            <span>
              heard {duration(v.ageS ?? 0)} ago{v.pressureKpa !== null && ` at ${f.pressure(v.pressureKpa)}`}
            </span>
          )}
          <button type="button" className="ml-auto underline underline-offset-3" onClick={restart}>
            Begin again
          </button>
        </div>
        {d.state !== 'ask' && now.chosen === null ? (
          <Conclusion
            d={d}
            names={causes}
            rigId={rig.id}
            wheel={now.wheel}
            onHelped={(c) => void finish(c)}
            onNot={(c) => setNow((n) => ({ ...n, ruledOut: [...n.ruledOut, c] }))}
          />
        ) : (
          words &&
          test !== null && (
            <section aria-label="Next test" className="border-2 border-ink p-5">
              <p className="text-body text-ink2">
                Test {now.answers.length + 1}, about {minutesOf(test) === 1 ? '1 minute' : `${minutesOf(test)} minutes`}
              </p>
              <h2 className="my-1 text-big leading-tight max-md:text-big">{words.act}</h2>
              <p className="mb-4 text-body">{words.hint}</p>
              <div className="next-step">
                {Object.entries(words.outcomes).map(([o, text]) => (
                  <button key={o} type="button" className="btn btn-solid btn-tall text-body" onClick={() => answer(o)}>
                    {text}
                  </button>
                ))}
                <button
                  type="button"
                  className="btn btn-tall"
                  onClick={() => setNow((n) => ({ ...n, cannot: [...n.cannot, test], chosen: null }))}
                >
                  Can’t do this now
                </button>
              </div>
            </section>
          )
        )}
        {(now.answers.length > 0 || hints.length > 0 || now.cannot.length > 0) && (
          <section aria-label="What is known" className="mt-5">
            <h2 className="mb-1 border-b border-ink pb-1 text-body">What is known</h2>
            <ul className="text-body">
              {now.answers.map((a, i) => (
                <li key={a.test} className="flex items-baseline justify-between gap-3 border-b border-rule py-1">
                  <span>
                    {tests[a.test]?.name}: <b>{tests[a.test]?.outcomes[a.outcome]}</b>
                  </span>
                  <button
                    type="button"
                    className="underline underline-offset-3"
                    aria-label={`Change ${tests[a.test]?.name}`}
                    onClick={() => back(i)}
                  >
                    change
                  </button>
                </li>
              ))}
              {hints.map((h) => (
                <li key={h.why} className="border-b border-rule py-1">
                  {HINT_WORDS[h.why]} <span className="text-ink2">known</span>
                </li>
              ))}
              {now.cannot.map((c) => (
                <li key={c} className="flex items-baseline justify-between gap-3 border-b border-rule py-1">
                  <span>{tests[c]?.name}: can’t be done now</span>
                  <button
                    type="button"
                    className="underline underline-offset-3"
                    aria-label={`Ask ${tests[c]?.name} after all`}
                    onClick={() => setNow((n) => ({ ...n, cannot: n.cannot.filter((x) => x !== c) }))}
                  >
                    ask it
                  </button>
                </li>
              ))}
            </ul>
          </section>
        )}
        {d.ranking.length > 0 && (
          <Wide label="Why this test" className="mt-5">
            <table className="sheet-table [&_td]:align-middle">
              <caption className="pb-1 text-left text-body font-bold">Why this one</caption>
              <HeadRow names={['Test', 'Minutes', 'Tells', 'A minute']} />
              <tbody className="narrow">
                {d.ranking.slice(0, all ? undefined : SHOWN).map((r) => (
                  <tr key={r.test}>
                    <td>
                      <button
                        type="button"
                        className={`text-left underline-offset-3 hover:underline ${r.test === test ? 'font-bold' : ''}`}
                        aria-pressed={r.test === test}
                        onClick={() => setNow((n) => ({ ...n, chosen: r.test }))}
                      >
                        {tests[r.test]?.name}
                      </button>
                    </td>
                    <td className="figure">{minutesOf(r.test)}</td>
                    <td className="figure whitespace-nowrap">{r.bits.toFixed(2)} bit</td>
                    <td className="w-[40%]">
                      <div
                        className={r.test === test ? 'h-[12px] bg-ink' : 'halftone-cyan h-[12px]'}
                        style={{ width: `${((100 * r.bitsPerMinute) / most).toFixed(1)}%` }}
                      />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Wide>
        )}
        {d.ranking.length > SHOWN && !all && (
          <p className="mt-2">
            <button type="button" className="btn btn-small" onClick={() => setAll(true)}>
              All {d.ranking.length} tests
            </button>
          </p>
        )}
      </div>
      <section aria-label="What it may be">
        <h2 className="mb-2 border-b border-ink pb-1">What it may be</h2>
        <Odds list={d.causes.map((c) => ({ ...c, name: causes[c.cause]?.name ?? c.cause }))} marked={now.answers.length > 0} />
        <p className="mt-2 text-note text-ink2">
          {now.answers.length > 0 && 'Dashed: before your last answer. '}How often each is and what a test shows are common
          practice and guesses, no source;{' '}
          <Link className="underline underline-offset-3" to={`/rigs/${rig.id}/faults?part=table`}>
            see and change them
          </Link>
          .
        </p>
        {(branch.id === 'one' || branch.id === 'many') && (
          <div className="mt-4">
            <Notice>Until it is heard, nobody watches {now.wheel || 'these tires'}. Look at the tires at every stop.</Notice>
          </div>
        )}
        {first && second && d.state === 'advise' && (
          <p className="mt-3 text-body">
            {percent(first.odds)} against {percent(second.odds)}: not sure.
          </p>
        )}
      </section>
    </div>
  );
}

/** The first wheel that is in trouble. */
function firstTroubled(view: ReturnType<typeof useWatch>['data']): string | null {
  return (
    view?.wheels.find((w) => w.sensorId !== null && (w.state === 'silent' || w.state === 'notHeard'))?.position ??
    view?.wheels.find((w) => w.active.length > 0)?.position ??
    null
  );
}

/** What it comes down to: the cause, its repair and the proof; or the two likeliest where nothing more can be asked. */
function Conclusion({
  d,
  names,
  rigId,
  wheel,
  onHelped,
  onNot,
}: {
  d: ReturnType<typeof diagnose>;
  names: (typeof CAUSE_WORDS)[BranchId];
  rigId: string;
  wheel: string;
  onHelped: (cause: string) => void;
  onNot: (cause: string) => void;
}) {
  const [first, second] = d.causes;
  if (!first) return null;
  const w = names[first.cause];
  const other = second && d.state === 'advise' ? names[second.cause] : undefined;
  return (
    <section aria-label="What to do" className="border-2 border-ink p-5">
      <p className="text-body text-ink2">
        {d.state === 'found'
          ? `As good as sure, ${percent(first.odds)}`
          : `Nothing left to ask tells enough. The likeliest, ${percent(first.odds)}`}
      </p>
      <h2 className="my-1 text-big leading-tight">{w?.name}</h2>
      <p className="text-body">{w?.repair}</p>
      <p className="mt-2 text-body">
        <b>Proof:</b> {w?.proof}
      </p>
      {other && second && (
        <p className="mt-3 text-body">
          If that doesn’t help, {percent(second.odds)}: <b>{other.name}</b>. {other.repair}
        </p>
      )}
      {w?.job && (
        <p className="mt-3">
          <Link className="btn" to={`/rigs/${rigId}/upkeep?job=${w.job}${wheel ? `&wheel=${wheel}` : ''}`}>
            Do it step by step
          </Link>
        </p>
      )}
      <p className="mt-4 flex flex-wrap gap-2">
        <button type="button" className="btn btn-solid btn-tall" onClick={() => onHelped(first.cause)}>
          It helped, write it down
        </button>
        <button type="button" className="btn btn-tall" onClick={() => onNot(first.cause)}>
          It didn’t help
        </button>
      </p>
    </section>
  );
}
