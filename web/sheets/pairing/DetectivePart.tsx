import { useState } from 'react';
import { toKpa } from '#core/alarms/grid.ts';
import { moveSensor } from '#core/pairing/book.ts';
import { detect, mostBleed, planDetective, type SeenRound, type Suspect } from '#core/pairing/detective.ts';
import { convert } from '#core/units/units.ts';
import { useBench, useBenchCommand, useMonitor, useWatch } from '../../data/queries.ts';
import { Notice } from '../../parts/controls.tsx';
import { parseNumber, useFormat } from '../../parts/format.ts';
import { useDraft } from '../../state/drafts.ts';
import { usePlans } from '../../state/plans.ts';
import { toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { usePairing } from './usePairing.ts';
import { detectiveWords } from './words.ts';

/** A proof under way: what was known when it began, and what was seen. */
interface Proof {
  suspects: Suspect[];
  stepKpa: number;
  seen: Seen[];
}
interface Seen {
  before: Record<string, string>;
  after: Record<string, string>;
}

/** Which sensor is on which wheel: let a little air out of the fewest wheels, and see which position drops. */
export function DetectivePart() {
  const whole = useRig();
  const { rig, wheels } = whole;
  const f = useFormat();
  const plans = usePlans(whole);
  const monitor = useMonitor(rig);
  const watch = useWatch(rig.id).data;
  const bench = useBench(rig.id).data;
  const command = useBenchCommand(rig.id);
  const { change } = usePairing();
  const key = `detective.${rig.id}`;
  const [out, setOut] = useState<string[]>([]);
  const [kept, setKept, drop] = useDraft<Proof | null>(key, null);
  const seen = kept?.seen ?? [];
  const unit = monitor?.unit ?? f.unit;
  const step = monitor?.step ?? (unit === 'psi' ? 1 : unit === 'bar' ? 0.1 : 10);
  // Readings from the watch come in finer steps than a small display shows.
  const live = (watch?.wheels.filter((w) => w.state === 'live').length ?? 0) >= 2;
  const stepKpa = kept?.stepKpa ?? (live ? 1 : toKpa(step, unit));
  const able = wheels.filter((w) => w.wheel.sensor && w.place !== 'S');
  const current = able
    .filter((w) => !out.includes(w.position))
    .flatMap((w): Suspect[] => {
      const own = plans.find((p) => p.first.holder === w.holder);
      const view = watch?.wheels.find((v) => v.position === w.position);
      const kpa = view?.expectedKpa ?? own?.setting.cold?.kpa;
      return kpa === undefined || kpa === null
        ? []
        : [{ position: w.position, kpa, minimumKpa: own?.facts.minimum?.kpa ?? null }];
    });
  // The figures of a proof that has begun stand still.
  const suspects = kept?.suspects ?? current;
  const put = (next: Seen[]) => setKept({ suspects, stepKpa, seen: next });
  const restarted = () => drop();
  const plan = planDetective(suspects, stepKpa);
  const rounds = plan.rounds;
  const kpaOf = (text: string | undefined) => {
    const n = parseNumber(text ?? '');
    return n === null ? undefined : convert(n, f.unit, 'kPa');
  };
  const full = seen.slice(0, rounds.length).flatMap((s, i): SeenRound[] => {
    const read = (part: Record<string, string>) =>
      Object.fromEntries(
        suspects.flatMap((w) => (kpaOf(part[w.position]) === undefined ? [] : [[w.position, kpaOf(part[w.position]) as number]])),
      );
    const before = read(s.before);
    const after = read(s.after);
    const whole2 = suspects.every((w) => before[w.position] !== undefined && after[w.position] !== undefined);
    return whole2 ? [{ bleeds: rounds[i] ?? [], before, after }] : [];
  });
  const answer = full.length > 0 ? detect(suspects, full, stepKpa) : null;
  const at = Math.min(full.length, rounds.length);
  const finished = full.length >= rounds.length && rounds.length > 0;
  const edit = (i: number, part: keyof Seen, position: string, text: string) => {
    const next = [...seen];
    const row = next[i] ?? { before: {}, after: {} };
    next[i] = { ...row, [part]: { ...row[part], [position]: text } };
    put(next);
  };
  const fromWatch = (i: number, part: keyof Seen) => {
    const values = Object.fromEntries(
      suspects.flatMap((s) => {
        const v = watch?.wheels.find((w) => w.position === s.position);
        return v && v.pressureKpa !== null ? [[s.position, convert(v.pressureKpa, 'kPa', f.unit).toFixed(3)]] : [];
      }),
    );
    const next = [...seen];
    next[i] = { ...(next[i] ?? { before: {}, after: {} }), [part]: values };
    put(next);
  };
  const letOut = async (i: number) => {
    for (const b of rounds[i] ?? []) {
      const now = bench?.wheels.find((w) => w.position === b.position)?.pressureKpa;
      if (now !== undefined)
        await command.mutateAsync({ action: 'inflate', position: b.position, kpa: now - b.kpa }).catch(toastError);
    }
  };
  const putRight = async () => {
    for (const [a, b] of answer?.pairs ?? []) {
      const wa = wheels.find((w) => w.position === a);
      const wb = wheels.find((w) => w.position === b);
      if (!wa || !wb || wa.unit.id !== wb.unit.id) continue;
      await change(wa, `${a} and ${b} are exchanged in the book. Exchange them on the monitor too.`, (u, time) =>
        moveSensor(u, wa.local, wb.local, time),
      );
      if (bench?.open) await command.mutateAsync({ action: 'exchange', a, b }).catch(toastError);
    }
  };
  if (able.length < 2) return <p>Two wheels with sensors are needed. Pair them first.</p>;
  return (
    <div className="grid gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,360px)_minmax(0,1fr)]">
      <section aria-label="The plan">
        <h2 className="border-b border-ink pb-2">The plan</h2>
        <p className="mt-2 text-body text-ink2">
          A little air is let out of {plan.touched.length === 1 ? 'one wheel' : `${plan.touched.length} wheels`}, never over 5 %
          and never under what carries the load. The others follow. Readings come in steps of {f.pressure(stepKpa)}
          {live ? ' (from the watch)' : ''}.
        </p>
        <fieldset className="mt-3">
          <legend className="text-note text-ink2">Wheels under suspicion</legend>
          <div className="flex flex-wrap gap-x-4 gap-y-1">
            {able.map((w) => (
              <label key={w.position} className="flex items-center gap-2">
                <input
                  type="checkbox"
                  className="size-[18px] accent-ink"
                  checked={!out.includes(w.position)}
                  onChange={(e) => {
                    setOut(e.target.checked ? out.filter((p) => p !== w.position) : [...out, w.position]);
                    restarted();
                  }}
                />
                {w.position}
              </label>
            ))}
          </div>
        </fieldset>
        <ol className="mt-3 border-t border-ink">
          {rounds.map((bleeds, i) => (
            <li
              key={bleeds.map((b) => b.position).join()}
              className={`border-b border-rule py-2 ${i === at && !finished ? 'font-bold' : ''}`}
            >
              {i + 1}. {bleeds.map((b) => `${f.pressure(b.kpa)} out of ${b.position}`).join(', ')}
            </li>
          ))}
        </ol>
        {plan.weak.length > 0 && (
          <p className="mt-2 text-body">
            {plan.weak.join(', ')}: 5 % is little against these steps; the answer may be “not sure”. Warming one wheel in the sun,
            or the swap test, may tell more.
          </p>
        )}
        {plan.cannot.length > 0 && (
          <p className="mt-2 text-body">
            {plan.cannot
              .map((p) => `${p} has only ${f.pressure(mostBleed(suspects.find((s) => s.position === p) as Suspect))} to spare`)
              .join(', ')}
            : too little to tell. Fill it first.
          </p>
        )}
        {seen.length > 0 && (
          <button type="button" className="btn btn-small mt-3" onClick={restarted}>
            Start again
          </button>
        )}
      </section>
      <section aria-label="What is seen">
        {answer && (
          <div className="mb-4" aria-live="polite">
            <Notice tone={answer.verdict === 'swapped' ? 'act' : 'look'}>
              <p className="text-head font-semibold">{detectiveWords(answer)}</p>
              {finished && answer.pairs.length > 0 && (
                <button type="button" className="btn mt-2" onClick={() => void putRight()}>
                  Put the book right
                </button>
              )}
              {finished && <p className="mt-2">Fill the bled wheels again.</p>}
            </Notice>
          </div>
        )}
        {!finished && rounds[at] && (
          <>
            <h2 className="border-b border-ink pb-2">
              Go {at + 1} of {rounds.length}
            </h2>
            <ol className="mt-2 flex flex-col gap-2 text-body">
              <li>
                1. Note what every position shows.{' '}
                {live && (
                  <button type="button" className="btn btn-small" onClick={() => fromWatch(at, 'before')}>
                    Take it from the watch
                  </button>
                )}
              </li>
              <li>
                2. Let out {rounds[at].map((b) => `${f.pressure(b.kpa)} at ${b.position}`).join(', ')}, by a gauge.{' '}
                {bench?.open && (
                  <button type="button" className="btn btn-small" onClick={() => void letOut(at)}>
                    Let it out on the bench
                  </button>
                )}
              </li>
              <li>
                3. Wait until all have sent again, and note it.{' '}
                {live && (
                  <button type="button" className="btn btn-small" onClick={() => fromWatch(at, 'after')}>
                    Take the new figures
                  </button>
                )}
              </li>
            </ol>
            <table className="mt-3 text-body">
              <thead>
                <tr className="text-left text-note text-ink2">
                  <th className="pr-4 font-semibold">Position</th>
                  <th className="pr-4 font-semibold">Before, {f.unit}</th>
                  <th className="font-semibold">After, {f.unit}</th>
                </tr>
              </thead>
              <tbody>
                {suspects.map((s) => (
                  <tr key={s.position}>
                    <td className="figure pr-4 text-head font-bold">{s.position}</td>
                    {(['before', 'after'] as const).map((part) => (
                      <td key={part} className="py-[2px] pr-4">
                        <input
                          className="input w-[110px]"
                          inputMode="decimal"
                          aria-label={`${s.position} ${part}`}
                          value={seen[at]?.[part][s.position] ?? ''}
                          onChange={(e) => edit(at, part, s.position, e.target.value)}
                        />
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </>
        )}
      </section>
    </div>
  );
}
