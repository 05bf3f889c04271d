import { useEffect, useRef, useState } from 'react';
import { v4 as newId } from 'uuid';
import { runMinutes } from '#core/topup/plan.ts';
import { displayRoundS, type FillFigure, judgeFill } from '#core/topup/round.ts';
import type { LogEntry } from '#schema/unit.ts';
import { useLiveState } from '../../../data/live.ts';
import { useMonitor, useRecords, useWatchCommands } from '../../../data/queries.ts';
import { Field, Notice } from '../../../parts/controls.tsx';
import { duration, useFormat } from '../../../parts/format.ts';
import { useAge } from '../../../parts/useAge.ts';
import { placeInWords } from '../../../parts/words.ts';
import { toast, toastError } from '../../../state/toast.ts';
import type { RoundProps } from './RoundPlan.tsx';
import { type FillWheel, HANDLING_MIN, nextOf, type Outcome, typedKpa, USUAL_FLOW } from './round.ts';

/** Within this a reading stands still, kPa: about a tenth of a psi, the last digit of a display. */
const STILL_KPA = 0.8;

/** The column of the wheel that is filled: level is now, the line its figure, notches its limits, dots what is still to go in. */
function Column({ wheel, toKpa }: { wheel: FillWheel; toKpa: number }) {
  const { lowKpa, highKpa } = wheel.view;
  const top = Math.max(highKpa ?? toKpa * 1.2, toKpa * 1.1, wheel.nowKpa ?? 0) * 1.04;
  const bottom = Math.min(lowKpa ?? toKpa * 0.8, toKpa * 0.8, Math.max(0, wheel.nowKpa ?? toKpa)) * 0.85;
  const at = (kpa: number) => `${(100 * Math.min(1, Math.max(0, (kpa - bottom) / (top - bottom)))).toFixed(1)}%`;
  const now = wheel.fresh ? wheel.nowKpa : null;
  return (
    <div aria-hidden className="relative h-full min-h-[300px] w-[54px] border-2 border-ink">
      {now !== null && now < toKpa && <div className="halftone-cyan absolute inset-x-0 bottom-0" style={{ height: at(toKpa) }} />}
      {now !== null && (
        <div
          className={`absolute inset-x-0 bottom-0 ${now > toKpa + 6.9 ? 'bg-magenta' : 'bg-cyan'}`}
          style={{ height: at(now) }}
        />
      )}
      {[lowKpa, highKpa].map(
        (kpa) => kpa !== null && <div key={kpa} className="absolute inset-x-[-8px] h-[2px] bg-ink" style={{ bottom: at(kpa) }} />,
      )}
      <div className="absolute inset-x-[-12px] h-[5px] bg-ink" style={{ bottom: `calc(${at(toKpa)} - 2px)` }} />
    </div>
  );
}

/** One wheel of the round, large: what to pump it to, what it reads now, and that it is done. */
export function RoundWheel({ view, list, round, setRound, tools, whole, current }: RoundProps & { current: FillWheel }) {
  const f = useFormat();
  const { rig, units, wheels } = whole;
  const commands = useWatchCommands(rig.id);
  const { addToLog } = useRecords();
  const lost = useLiveState() === 'lost';
  const monitor = useMonitor(rig);
  const position = current.view.position;
  const ageS = useAge(view, current.view);
  const kind = current.view.sensorKind;
  const roundS = displayRoundS(view.wheels.filter((w) => w.sensorId !== null).length, monitor?.scanS);
  const [busy, setBusy] = useState(false);
  const leaving = useRef(false);
  const figure: FillFigure | null = round.to[position] ?? current.figure;
  // Fixed when its turn comes, or as soon as its own temperature is known: a sensor that was just put on shows the air.
  const better =
    current.figure !== null &&
    (round.to[position] === undefined ||
      (round.to[position]?.by !== 'tire' && current.figure.by === 'tire' && round.before[position] === undefined));
  const seen = round.before[position];
  useEffect(() => {
    if (!better && seen !== undefined) return;
    setRound((now) => ({
      ...now,
      before:
        now.before[position] === undefined ? { ...now.before, [position]: current.fresh ? current.nowKpa : null } : now.before,
      to: better && current.figure ? { ...now.to, [position]: current.figure } : now.to,
    }));
  }, [better, seen, position, current.fresh, current.nowKpa, current.figure, setRound]);
  // A reading is believed once it has not moved for one round of the display.
  // A figure that was typed before says nothing of what happens at the valve now.
  const live = current.fresh && current.view.source !== 'typed' ? current.nowKpa : null;
  const [calm, setCalm] = useState(false);
  // What stands is the figure on the display: a sensor that trembles by less than that has not moved.
  const [stood, setStood] = useState(live);
  if (live === null ? stood !== null : stood === null || Math.abs(live - stood) > STILL_KPA) setStood(live);
  useEffect(() => {
    setCalm(false);
    if (stood === null) return;
    const timer = setTimeout(() => setCalm(true), roundS * 1000);
    return () => clearTimeout(timer);
  }, [stood, roundS]);

  const typed = round.gauge[position] ?? { text: '', unit: f.unit };
  const gaugeKpa = typedKpa(typed.text, typed.unit);
  const tool = tools.find((t) => t.name === round.tool.trim());
  const offset = tool?.offsetKpa ?? 0;
  const toKpa = figure?.kpa ?? 0;
  const readKpa = live ?? (gaugeKpa == null ? (current.fresh ? current.nowKpa : null) : gaugeKpa - offset);
  const judged = readKpa === null ? null : judgeFill(readKpa, toKpa);
  // Over its figure before anything was pumped in: hot, it is left; what was pumped in too much comes out again.
  const wasRight = seen != null && figure !== null && judgeFill(seen, toKpa).state !== 'under';

  /** Keep what came of this wheel and go on. */
  const leave = async (how: Outcome['how'], by: 'hand' | 'itself' = 'hand') => {
    if (leaving.current) return;
    leaving.current = true;
    setBusy(true);
    const afterKpa = live ?? (gaugeKpa == null ? null : gaugeKpa - offset);
    // With the stream lost the rig's clock is where it was: this device's own is nearer.
    const at = lost && view.clock === 'wall' ? new Date().toISOString() : view.time;
    const outcome: Outcome = { how, beforeKpa: seen ?? null, afterKpa, at };
    const stated = gaugeKpa == null ? afterKpa : gaugeKpa;
    const says = JSON.stringify([how, stated]);
    const begun = round.entries?.[position];
    const id = begun?.says === says ? begun.id : newId();
    setRound((now) => ({ ...now, entries: { ...now.entries, [position]: { id, says } } }));
    const entry: LogEntry | null =
      how === 'skipped' || (how === 'right' && gaugeKpa == null)
        ? null
        : {
            id,
            at,
            kind: how === 'filled' ? 'filled' : 'checked',
            position,
            ...(how === 'filled' && seen != null && seen > 0 ? { before: { kpa: seen } } : {}),
            ...(stated === null ? {} : { after: { kpa: stated, ...(gaugeKpa == null ? {} : { typed }) } }),
            ...(round.tool.trim() ? { tool: round.tool.trim() } : {}),
            // Only a gauge that was read beside its sensor says something about the gauge.
            ...(gaugeKpa == null || live === null ? {} : { sensorKpa: live }),
            ...(stated === null ? { note: 'Its pressure was not read after that.' } : {}),
            ...(view.clock === 'bench' ? { practice: true as const } : {}),
          };
    const next = nextOf({ queue: round.queue, done: { ...round.done, [position]: outcome } }, position);
    try {
      if (entry) await addToLog(rig.id, entry);
      const left = round.queue.filter((p) => p !== position && round.done[p] === undefined);
      const sensors = new Set(view.wheels.filter((w) => w.sensorId !== null).map((w) => w.position));
      if (next === null || view.topUp) await commands.topUp(left.filter((p) => sensors.has(p)));
      setRound(({ entries, ...now }) => {
        const { [position]: _, ...open } = entries ?? {};
        return { ...now, entries: open, done: { ...now.done, [position]: outcome }, at: next };
      });
      if (by === 'itself')
        toast(
          `${position} is done${afterKpa === null ? '' : `: ${f.pressure(afterKpa)}`}. ${next === null ? 'That was the last one.' : `Next: ${next}.`}`,
        );
    } catch (error) {
      leaving.current = false;
      setBusy(false);
      toastError(error);
    }
  };
  const itself = calm && judged?.state === 'done' && live !== null && seen != null && !wasRight;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once it is done, whatever else changes
  useEffect(() => {
    if (itself) void leave('filled', 'itself');
  }, [itself]);

  const w = wheels.find((x) => x.position === position);
  const unit = w && units[w.unitIndex];
  const flow = tool?.flowLitresPerMin ?? (Number(round.flow.replace(',', '.')) || USUAL_FLOW);
  const add = judged?.state === 'under' ? judged.byKpa : 0;
  const done = round.queue.filter((p) => round.done[p] !== undefined);
  const rest = round.queue.filter((p) => p !== position && round.done[p] === undefined);
  const off = current.view.offTime !== null;
  const asked = current.view.askedTime !== null;
  const small = current.view.loadMinimumKpa !== null && (current.view.coldKpa ?? 0) < current.view.loadMinimumKpa;
  return (
    <section aria-label={`Filling ${position}`} className="max-w-[560px]" data-round>
      <h1 className="sr-only md:hidden">Top-up round</h1>
      <p className="mb-2 flex justify-between border-b-2 border-ink pb-1 text-body text-ink2">
        <span>
          Wheel {round.queue.indexOf(position) + 1} of {round.queue.length}
        </span>
        <button
          type="button"
          className="underline underline-offset-3"
          onClick={() => {
            setRound((now) => ({ ...now, at: null }));
            void commands.topUp([]).catch(toastError);
          }}
        >
          End the round
        </button>
      </p>
      <div className="grid grid-cols-[78px_minmax(0,1fr)] gap-4 pl-3">
        <Column wheel={current} toKpa={toKpa} />
        <div className="min-w-0">
          <h2 className="figure text-fig2 leading-none font-bold">{position}</h2>
          <p className="mb-2 text-note leading-snug text-ink2">
            {unit && placeInWords(position.slice(1), unit.name, unit.axles.length)} ·{' '}
            {kind === 'cap' ? 'cap comes off first' : kind === 'flowThrough' ? 'pump through the sensor' : 'pump at its valve'}
          </p>
          {figure === null ? (
            <p>No cold pressure is set.</p>
          ) : (
            <>
              <p className="text-body text-ink2">
                Fill to
                {figure.by === 'tire'
                  ? `, at this tire’s ${f.temperature(figure.tempC)}`
                  : figure.by === 'air'
                    ? `, at ${f.temperature(figure.tempC)}`
                    : ', with no temperature known'}
              </p>
              <p className="figure text-fig4 leading-none font-bold" data-to>
                {f.figure(figure.kpa)}
              </p>
              <p className="narrow mb-2 text-body font-semibold">
                {f.unit}
                {current.view.coldKpa !== null &&
                  figure.by !== 'none' &&
                  `, that is ${f.figure(current.view.coldKpa)} at ${f.temperature(current.view.coldTempC ?? 20)}`}
              </p>
              {figure.spreadKpa > 10 && (
                <p className="text-body">It may be {f.pressure(figure.spreadKpa)} off: set it again when the tire is cold.</p>
              )}
              {Math.abs(offset) >= 1 && (
                <p className="text-body font-semibold">
                  Your {round.tool.trim()} reads {f.pressure(Math.abs(offset))} {offset > 0 ? 'high' : 'low'}: stop at{' '}
                  {f.pressure(figure.kpa + offset)} on it.
                </p>
              )}
            </>
          )}
          <p className="mt-2 text-body text-ink2">
            {current.view.time === null
              ? 'Not heard yet'
              : current.fresh
                ? `Heard ${duration(ageS ?? 0)} ago`
                : off || asked
                  ? 'Sensor off its valve'
                  : `Last reading, ${duration(ageS ?? 0)} old`}
          </p>
          <p className="figure text-fig1 leading-none" aria-live="polite" data-now>
            {current.nowKpa === null || off || asked
              ? '–'
              : current.fresh
                ? f.figure(current.nowKpa)
                : `(${f.figure(current.nowKpa)})`}{' '}
            <span className="text-body">{f.unit}</span>
          </p>
        </div>
      </div>
      <p role="status" className={`mt-3 min-h-[26px] text-head font-bold ${judged?.state === 'over' ? 'text-magenta' : ''}`}>
        {judged === null || figure === null
          ? ''
          : judged.state === 'done'
            ? live === null || calm
              ? 'Right, within 1 psi'
              : `Stop: it is right. Wait ${roundS} s before you believe it.`
            : judged.state === 'over'
              ? wasRight && figure.by === 'tire' && figure.spreadKpa > 10
                ? `${f.pressure(judged.byKpa)} over, but it isn’t cold: leave it`
                : `Too much: let out ${f.pressure(judged.byKpa)}, stop at ${f.pressure(figure.kpa)}`
              : `${f.pressure(judged.byKpa)} to go, about ${Math.max(1, Math.round(runMinutes(judged.byKpa, current.airLitres, flow)))} min`}
      </p>
      <div className="mt-2 grid grid-cols-[minmax(0,1fr)_auto] gap-2">
        <button
          type="button"
          className="btn btn-solid btn-tall text-head"
          disabled={busy || figure === null}
          onClick={() => void leave(wasRight && judged?.state === 'done' ? 'right' : 'filled')}
        >
          {wasRight && judged?.state === 'done' ? 'It was right, next' : rest.length === 0 ? 'Filled, done' : 'Filled, next'}
        </button>
        <button type="button" className="btn btn-tall" disabled={busy} onClick={() => void leave('skipped')}>
          Leave it out
        </button>
      </div>
      <div className="mt-3 grid grid-cols-2 items-start gap-3">
        <Field
          label={round.tool.trim() ? `${round.tool.trim()} reads` : 'Your gauge reads'}
          unit={typed.unit}
          inputMode="decimal"
          value={typed.text}
          error={gaugeKpa === null ? `Over 0, up to ${f.pressure(1400)}` : undefined}
          onChange={(e) =>
            setRound((now) => ({ ...now, gauge: { ...now.gauge, [position]: { text: e.target.value, unit: typed.unit } } }))
          }
        />
        {gaugeKpa != null && live !== null && (
          <p className="pt-[26px] text-body">
            {f.pressure(Math.abs(gaugeKpa - live))} {gaugeKpa >= live ? 'over' : 'under'} the sensor
          </p>
        )}
      </div>
      <p className="mt-3 text-body">
        {kind === 'cap'
          ? `Sensor off, pump to ${figure ? f.figure(figure.kpa) : ''}, sensor back on until snug, nut against it, soapy water. `
          : ''}
        {add > 0 && `With it about ${Math.max(1, Math.round(HANDLING_MIN + runMinutes(add, current.airLitres, flow)))} min. `}
        The display steps through the tires: wait one round ({roundS} s) before you believe it. Within 1 psi is done.
      </p>
      {small && (
        <div className="mt-2">
          <Notice tone="act">
            This cold pressure is under the load minimum, {f.pressure(current.view.loadMinimumKpa as number)} cold. The tire can’t
            carry its load at it: look at Pressures.
          </Notice>
        </div>
      )}
      {round.queue.length > 1 && (
        <table className="sheet-table mt-4">
          <thead>
            <tr>
              <th scope="col">{rest.length > 0 ? 'Then' : 'Done'}</th>
              <th scope="col">now, {f.unit}</th>
              <th scope="col">to, {f.unit}</th>
              <th scope="col">add, {f.unit}</th>
            </tr>
          </thead>
          <tbody className="narrow">
            {rest.map((p) => {
              const x = list.find((l) => l.view.position === p);
              const to = round.to[p] ?? x?.figure ?? null;
              const now = x?.nowKpa ?? null;
              return (
                <tr key={p}>
                  <th scope="row" className="border-b-rule!">
                    <button type="button" className="btn btn-small" onClick={() => setRound((r) => ({ ...r, at: p }))}>
                      {p}
                    </button>
                  </th>
                  <td>{now === null ? '–' : x?.fresh ? f.figure(now) : `(${f.figure(now)})`}</td>
                  <td>{to === null ? '–' : f.figure(to.kpa)}</td>
                  <td>{to === null || now === null ? '–' : f.figure(Math.max(0, to.kpa - now))}</td>
                </tr>
              );
            })}
            {done.map((p) => (
              <tr key={p} className="text-ink2">
                <th scope="row" className="border-b-rule!">
                  {p}
                </th>
                <td colSpan={3}>
                  {round.done[p]?.how === 'skipped' ? 'left out' : 'done'}
                  {round.done[p]?.afterKpa != null && `, ${f.pressure(round.done[p]?.afterKpa as number)}`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
