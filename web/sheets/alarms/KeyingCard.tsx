import { useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { asKeyed, type Card, type CardStep, keyingCard } from '#core/alarms/card.ts';
import { toKpa } from '#core/alarms/grid.ts';
import { keyedAt, keyedInto, rigKeyed } from '#core/alarms/keyed.ts';
import { explainMismatch } from '#core/alarms/keying.ts';
import { listsOf, modeFor, placeName } from '#core/kit/lists.ts';
import { placesOf } from '#core/kit/map.ts';
import { axleOf } from '#core/rig/positions.ts';
import { convert } from '#core/units/units.ts';
import type { LoadState } from '#schema/common.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { Keyed } from '#schema/unit.ts';
import { useRecords } from '../../data/queries.ts';
import { Field, Notice } from '../../parts/controls.tsx';
import { dayHere, makeFormat, parseNumber, useFormat } from '../../parts/format.ts';
import { HeldStops, useHeldStops } from '../../parts/HeldStops.tsx';
import { mismatchWords, saveWords, shownFigure, stepReason, unmetWords, walkWords } from '../../parts/words-limits.ts';
import { useDraft } from '../../state/drafts.ts';
import { holders } from '../../state/holders.ts';
import { usePlans } from '../../state/plans.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { cardAxles } from './cardAxles.ts';
import { PracticeKeys } from './PracticeKeys.tsx';

/** What the monitor shows before the card begins. */
type From = 'keyed' | 'factory' | LoadState;

interface Progress {
  /** The card that was begun: its steps, so that another card does not inherit the ticks. */
  ids: string[];
  done: string[];
  read: Record<string, string>;
}

const field: Record<CardStep['field'], string> = {
  low: 'Low',
  high: 'High',
  baseline: 'Normal',
  hot: 'Temperature',
  coldTemp: 'Low temperature',
};
const isTemperature = (s: Pick<CardStep, 'field'>) => s.field === 'hot' || s.field === 'coldTemp';

/** Seconds as one says them. */
const spanOf = (seconds: number): string =>
  seconds < 90 ? `about ${Math.max(1, Math.round(seconds))} s` : `about ${Math.round(seconds / 60)} min`;

/** Why a temperature that was read back is another one. */
function tempMismatch(read: number, s: CardStep, unit: 'C' | 'F'): string {
  if (read === s.from) return 'That is the old value: you left the menu without saving. Key it again and save.';
  const other = unit === 'C' ? 'F' : 'C';
  if (Math.abs(convert(s.to, unit, other) - read) < 1)
    return `That is the same temperature in °${other}. The monitor’s unit was changed; set it back first.`;
  return 'Not the temperature that was to be keyed. Key it again and save.';
}

/** The order of keys on the screen, one step at a time, and on paper. */
export function KeyingCard({ monitor }: { monitor: Monitor | null }) {
  const whole = useRig();
  const { rig } = whole;
  const f = useFormat();
  const { changeMonitor } = useRecords();
  const list = useMemo(() => holders(whole), [whole]);
  const plans = usePlans(whole);
  const coldestC = useMemo(() => {
    const days = plans.flatMap((p) => (p.day ? [p.day.coldestC] : []));
    return days.length > 0 ? Math.min(...days) : undefined;
  }, [plans]);
  const { accepted } = useHeldStops(monitor);
  const keyed = useMemo(() => rigKeyed(rig, whole.units, monitor), [rig, whole.units, monitor]);
  const [chosen, setFrom] = useState<From | null>(null);
  const from: From = chosen ?? (keyed ? 'keyed' : 'factory');
  const key = `card.${rig.id}`;
  const [kept, put, dropKept] = useDraft<Progress>(key, { ids: [], done: [], read: {} });

  const before = useMemo((): Keyed | null => {
    if (!monitor || from === 'factory') return null;
    if (from === 'keyed') return keyed;
    const own = keyingCard(monitor, cardAxles(list, from), null, coldestC);
    return asKeyed(own, new Date().toISOString(), from, null);
  }, [from, monitor, list, keyed, coldestC]);
  const card: Card | null = useMemo(
    () => (monitor ? keyingCard(monitor, cardAxles(list, rig.loadState), before, coldestC) : null),
    [monitor, list, rig.loadState, before, coldestC],
  );
  const ids = card?.steps.map((s) => s.id) ?? [];
  const same = JSON.stringify(ids) === JSON.stringify(kept.ids);
  const progress: Progress = same ? kept : { ids, done: [], read: {} };
  const done = new Set(progress.done);
  const nextIndex = card ? card.steps.findIndex((s) => !done.has(s.id)) : -1;
  const step = card?.steps[nextIndex];
  // The large step is what the eye is on: the space bar ticks it.
  useEffect(() => {
    document.title = step ? `Step ${nextIndex + 1} of ${ids.length}` : 'Keying card';
  }, [step, nextIndex, ids.length]);

  if (!monitor || !card) {
    return (
      <p className="max-w-[60ch]">
        Which monitor has to be keyed?{' '}
        <Link className="underline underline-offset-3" to={`/rigs/${rig.id}/kit?part=monitor`}>
          Choose or describe it on Kit
        </Link>
        . Then every key press is listed here in the right order.
      </p>
    );
  }
  const places = placesOf(rig, whole.units, monitor);
  // The card speaks the unit in which a key is pressed; the owner's stands beside it in brackets.
  const own = makeFormat(monitor.unit, f.temp);
  const tempUnit = monitor.tempUnit ?? 'C';
  const beside = (s: CardStep, v: number | null): string => {
    if (v === null) return '';
    if (isTemperature(s)) return f.temp === tempUnit ? '' : ` (${f.temperature(convert(v, tempUnit, 'C'))})`;
    return f.unit === monitor.unit ? '' : ` (${f.pressure(toKpa(v, monitor.unit))})`;
  };
  const figure = (s: CardStep, v: number | null) =>
    v === null ? 'unknown' : isTemperature(s) ? `${v}\u00a0°${tempUnit}` : shownFigure(v, monitor);
  const groupName = (group: string): string => {
    const axles = card.groups.find((g) => g.group === group)?.axles ?? [];
    if (group === 'all') return 'All wheels';
    if (axles.length === 0) return `Group ${card.groups.findIndex((g) => g.group === group) + 1}, not used`;
    const name = list.find((h) => h.code === axles[0])?.name ?? '';
    // What the leaflet calls the places of this group, where that was typed.
    const own = whole.wheels.filter((w) => axles.includes(axleOf(w.position)));
    const named = own.flatMap((w) => placeName(monitor, places[w.position]) ?? []);
    const leaflet = named.length > 0 ? ` (${named.join(', ')})` : '';
    if (axles.length > 1) return `${axles.join(' + ')}${leaflet}`;
    return group.includes(' wheel ') ? group : `${axles[0] ?? group}, ${name}${leaflet}`;
  };
  const tick = (s: CardStep, on: boolean) =>
    put({ ...progress, ids, done: on ? [...progress.done, s.id] : progress.done.filter((d) => d !== s.id) });
  const finish = async () => {
    const at = new Date().toISOString();
    let old: Monitor | null = null;
    try {
      await changeMonitor(monitor.id, (now) => {
        old = now;
        const into = keyedAt(rig, whole.units, now);
        return { ...now, ...keyedInto(asKeyed(card, at, rig.loadState, keyed), card.groups, into) };
      });
      dropKept();
      setFrom('keyed');
      toast('Noted: these limits are in the monitor.', {
        undo: async () => {
          await changeMonitor(monitor.id, (now) => (old ? { ...old, version: now.version } : now)).catch(toastError);
        },
      });
    } catch (error) {
      toastError(error);
    }
  };

  const walkText = (s: CardStep) => {
    const text = walkWords(s, monitor.menu?.order === 'free');
    return text && text[0]?.toUpperCase() + text.slice(1);
  };
  const unpaired = whole.wheels.filter((w) => !w.wheel.sensor).length;
  const readKey = (group: string, which: string) => `${group} ${which}`;
  /** Temperatures to be read back, as the monitor shows them. */
  const temperatures = card.steps.filter(isTemperature);
  const tempFaults = temperatures.flatMap((s) => {
    const text = progress.read[readKey('all', s.field)] ?? '';
    const n = parseNumber(text);
    if (text.trim() === '' || n === s.to) return [];
    return [{ field: s.field, text: n === null ? 'Type a number' : tempMismatch(n, s, tempUnit) }];
  });
  const mismatches = Object.entries(card.afterwards).flatMap(([group, a]) =>
    (['low', 'high', 'baseline'] as const).flatMap((which) => {
      const wanted = a[which];
      const text = progress.read[readKey(group, which)] ?? '';
      const n = parseNumber(text);
      if (wanted === null || text.trim() === '') return [];
      if (n === null) return [{ group, which, text: 'Type a number' }];
      if (which === 'baseline')
        return Math.abs(n - wanted) > 1e-6
          ? [{ group, which, text: 'Not the normal pressure that was to be keyed. Key it again and save.' }]
          : [];
      const m = explainMismatch(
        n,
        { group, field: which },
        { ends: card.afterwards },
        monitor,
        Object.fromEntries(Object.entries(before?.groups ?? {}).map(([g, v]) => [g, { low: v.low, high: v.high }])),
      );
      return m ? [{ group, which, text: mismatchWords(m, card) }] : [];
    }),
  );
  // The menu shows the list that is open: the wrong one takes the keys without a word.
  const openLists = monitor.units > 1 ? [...new Set(listsOf(rig, monitor).flatMap((l) => (l === null ? [] : [l + 1])))] : [];
  const mode = modeFor(monitor, whole.wheels.length);
  const limitNames = monitor.groups === 'baseline' ? (['baseline'] as const) : (['low', 'high'] as const);
  const loadStates = (['empty', 'loaded', 'towing'] as const).filter(
    (s) => s !== rig.loadState && list.some((h) => h.first.holder.settings[s]?.limits),
  );
  const option = (value: From, text: string) => (
    <option key={value} value={value}>
      {text}
    </option>
  );
  return (
    <div className="keying-card flex flex-col">
      <div className="mb-3 hidden print:block">
        <p className="text-head font-bold">
          Keying card, {rig.name}, {rig.loadState}
        </p>
        <p className="text-note">{monitor.name}</p>
      </div>
      <div className="mb-4 flex flex-wrap items-end gap-x-6 gap-y-3 max-md:order-1 max-md:mt-5 print:hidden">
        <label className="text-note text-ink2">
          The {monitor.name} shows now
          <select className="input block min-w-[260px] text-ink" value={from} onChange={(e) => setFrom(e.target.value as From)}>
            {keyed && option('keyed', `what was keyed last (${dayHere(keyed.at)}, ${keyed.loadState})`)}
            {option('factory', 'its factory presets')}
            {loadStates.map((s) => option(s, `the limits of “${s}”`))}
          </select>
        </label>
        <button type="button" className="btn" onClick={() => window.print()} disabled={card.steps.length === 0}>
          Print card
        </button>
      </div>
      {(openLists.length > 0 || mode) && (
        <p className="mb-3 text-body">
          {openLists.length > 0 && (
            <>
              Switch the monitor to <b>list {openLists.join(' and list ')}</b> first.{' '}
            </>
          )}
          {mode && (
            <>
              Set it to {mode.wheels} wheels: {mode.keys}.
            </>
          )}
        </p>
      )}
      <div className="print:hidden">
        <HeldStops monitor={monitor} />
      </div>
      {card.steps.length === 0 ? (
        <>
          <p className="text-body font-semibold">
            {card.bare.length === list.length
              ? 'No axle has limits yet: pick a rule for each first.'
              : 'Nothing to key: the monitor shows all of it already.'}
          </p>
          {card.bare.length < list.length && from !== 'keyed' && (
            <p className="mt-3 print:hidden">
              <button type="button" className="btn btn-solid btn-tall" onClick={() => void finish()}>
                I looked: it shows all of it
              </button>
            </p>
          )}
        </>
      ) : (
        <>
          <p className="mb-3 max-w-[74ch] text-body text-ink2 print:text-note">
            {card.steps.length} {card.steps.length === 1 ? 'step' : 'steps'}, about{' '}
            {card.presses + card.navigationPresses + card.confirmPresses} presses
            {card.seconds === null ? '' : ` (${spanOf(card.seconds)} at the keys)`}
            {card.rounds === null
              ? ''
              : card.rounds === 1
                ? ', once through the menu'
                : `, ${card.rounds} times round the menu: its order and the interlock are against each other`}
            . The first axle that blinks is {groupName(card.firstBlinks ?? '')}: look which one it is before you press.{' '}
            {card.groups.length > 1 &&
              monitor.menu?.order !== 'free' &&
              monitor.menu?.wrap !== 'both' &&
              'Gone one past it? Then you must step all the way round again.'}{' '}
            {monitor.menu?.timeoutS !== undefined &&
              `Don’t pause for ${monitor.menu.timeoutS} s: the menu closes by itself, and what isn’t saved is lost.`}{' '}
            {monitor.menu?.starts === 'preset' &&
              'It begins at its presets each time it is opened: key all of them, whatever it showed before.'}{' '}
            Charge the monitor first, and do it at a table indoors.
          </p>
          {monitor.learnedOnly === true && unpaired > 0 && (
            <div className="mb-3 print:hidden">
              <Notice>
                This monitor’s menu shows only wheels whose sensor is paired, and {unpaired} {unpaired === 1 ? 'is' : 'are'} not.{' '}
                <Link className="underline underline-offset-3" to={`/rigs/${rig.id}/pairing`}>
                  Pair the sensors first
                </Link>
                .
              </Notice>
            </div>
          )}
          {step ? (
            <section
              aria-label="This step"
              className="border-2 border-ink p-4 short:order-first short:mb-4 short:p-2 print:hidden"
            >
              <p className="text-body text-ink2">
                Step {nextIndex + 1} of {card.steps.length}
              </p>
              <p className="text-title leading-tight font-bold">
                {groupName(step.group)}: {field[step.field].toLowerCase()}
              </p>
              <p className="figure my-2 text-fig3 leading-none short:text-fig1 font-bold" data-testid="card-to">
                {figure(step, step.to)}
              </p>
              <p className="text-body">
                {beside(step, step.to) && <>{beside(step, step.to).trim()}, </>}
                from {figure(step, step.from)}
                {step.presses !== null &&
                  `, ${step.presses} ${step.presses === 1 ? 'press' : 'presses'} ${step.from !== null && step.to < step.from ? 'down' : 'up'}`}
                {step.heldS !== null && `, or hold the key for about ${Math.round(step.heldS)} s`}
              </p>
              {walkText(step) && <p className="mt-1 text-body">{walkText(step)}.</p>}
              {stepReason(step) && <p className="mt-1 text-body text-ink2">{stepReason(step)}</p>}
              <div className="next-step">
                <button type="button" className="btn btn-solid btn-tall grow text-head" onClick={() => tick(step, true)}>
                  Done, next
                </button>
                <button
                  type="button"
                  className="btn btn-tall"
                  disabled={nextIndex === 0}
                  onClick={() => tick(card.steps[nextIndex - 1] as CardStep, false)}
                >
                  One back
                </button>
              </div>
            </section>
          ) : (
            <section aria-label="Save and read back" className="border-2 border-ink p-4 print:hidden">
              <p className="text-big leading-tight font-bold">
                {monitor.saves
                  ? saveWords[monitor.saves]
                  : 'Save as your monitor does, then leave the menu: some need one more press, some a long one.'}
              </p>
              <p className="mt-2 text-body">Then step through the limits and compare. Type what differs, or all of it:</p>
              <div className="mt-3 grid gap-x-6 gap-y-3 sm:grid-cols-2">
                {Object.entries(card.afterwards).flatMap(([group, a]) =>
                  limitNames.flatMap((which) =>
                    a[which] === null ? (
                      []
                    ) : (
                      <Field
                        key={readKey(group, which)}
                        label={`${groupName(group)}: ${field[which].toLowerCase()}, should show ${shownFigure(a[which], monitor)}`}
                        inputMode="decimal"
                        unit={monitor.unit}
                        value={progress.read[readKey(group, which)] ?? ''}
                        error={mismatches.find((m) => m.group === group && m.which === which)?.text}
                        onChange={(e) =>
                          put({ ...progress, ids, read: { ...progress.read, [readKey(group, which)]: e.target.value } })
                        }
                      />
                    ),
                  ),
                )}
                {temperatures.map((s) => (
                  <Field
                    key={s.field}
                    label={`All wheels: ${field[s.field].toLowerCase()}, should show ${figure(s, s.to)}`}
                    inputMode="decimal"
                    unit={`°${tempUnit}`}
                    value={progress.read[readKey('all', s.field)] ?? ''}
                    error={tempFaults.find((t) => t.field === s.field)?.text}
                    onChange={(e) =>
                      put({ ...progress, ids, read: { ...progress.read, [readKey('all', s.field)]: e.target.value } })
                    }
                  />
                ))}
              </div>
              <div className="mt-4 flex flex-wrap gap-3">
                <button
                  type="button"
                  className="btn btn-solid btn-tall text-body"
                  disabled={mismatches.length > 0 || tempFaults.length > 0 || !accepted}
                  onClick={() => void finish()}
                >
                  It shows all of this
                </button>
                <button type="button" className="btn btn-tall" onClick={() => tick(card.steps.at(-1) as CardStep, false)}>
                  One back
                </button>
              </div>
            </section>
          )}
          <table className="sheet-table mt-5">
            <caption className="sr-only">All steps of the card</caption>
            <thead>
              <tr>
                <th scope="col">Step</th>
                <th scope="col">Axle</th>
                <th scope="col">Set</th>
                <th scope="col">From</th>
                <th scope="col">To</th>
                <th scope="col" className="max-md:hidden print:table-cell">
                  How, and why here
                </th>
              </tr>
            </thead>
            <tbody>
              {card.steps.map((s, i) => (
                <tr key={s.id} className={done.has(s.id) ? 'text-ink2' : ''}>
                  <td>
                    <label className="flex items-center gap-2">
                      <input
                        type="checkbox"
                        className="size-[18px] accent-ink"
                        checked={done.has(s.id)}
                        aria-label={`Step ${i + 1} done`}
                        onChange={(e) => tick(s, e.target.checked)}
                      />
                      {i + 1}
                    </label>
                  </td>
                  <td className="font-semibold">{groupName(s.group)}</td>
                  <td>{field[s.field]}</td>
                  <td className="narrow whitespace-nowrap">{figure(s, s.from)}</td>
                  <td className="figure text-head font-bold whitespace-nowrap">{figure(s, s.to)}</td>
                  <td className="text-note text-ink2 max-md:hidden print:table-cell">
                    {[walkText(s), stepReason(s)].filter(Boolean).join('. ')}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <div className="mt-3 hidden text-note print:block">
            <p className="font-semibold">
              {monitor.saves ? saveWords[monitor.saves] : 'Save as your monitor does, then leave the menu.'} Read back:
            </p>
            {Object.entries(card.afterwards).map(([group, a]) => (
              <p key={group}>
                {groupName(group)}: {limitNames.flatMap((n) => (a[n] === null ? [] : shownFigure(a[n], monitor))).join(' / ')}
              </p>
            ))}
          </div>
        </>
      )}
      {(card.unmet.length > 0 || card.hotUnmet.length > 0 || card.hotWishedC !== null) && (
        <section aria-label="Trade-offs" className="mt-5">
          <h2 className="pb-1">Trade-offs</h2>
          <ul className="text-body">
            {card.unmet.map((u) => (
              <li key={`${u.axle} ${u.field}`}>{unmetWords(u, own)}</li>
            ))}
            {card.hotWishedC !== null && card.hotC !== null && (
              <li>
                Temperature: {f.temperature(card.hotC)} instead of {f.temperature(card.hotWishedC)}, because the monitor’s range
                ends there.
              </li>
            )}
            {card.hotUnmet.length > 0 && (
              <li>
                One temperature serves all: {card.hotUnmet.join(', ')} would sound later by{' '}
                {card.hotUnmet.length === 1 ? 'its' : 'their'} own rule.
              </li>
            )}
          </ul>
        </section>
      )}
      {from === 'keyed' && card.openPoints.length > 0 && (
        <section aria-label="Open points" className="mt-5 print:hidden">
          <Notice>
            {card.openPoints.map((p) => (
              <p key={p.group}>
                <b>{groupName(p.group)}:</b>{' '}
                {p.code === 'neverKeyed'
                  ? 'never keyed. At its factory figure it guards a pressure that is not this rig’s.'
                  : 'the monitor shows other limits than the plan.'}
              </p>
            ))}
          </Notice>
        </section>
      )}
      {card.groups.length > 0 && (
        <PracticeKeys
          monitor={monitor}
          groups={card.groups.map((g) => g.group)}
          name={groupName}
          at={step?.group}
          wanted={card.afterwards}
          temperatures={temperatures}
        />
      )}
      {card.bare.length > 0 && (
        <p className="mt-4 max-w-[70ch] text-body text-ink2 print:hidden">
          {card.bare.join(', ')} {card.bare.length === 1 ? 'has' : 'have'} no rule: left as shown. Some also key limits on groups
          they don’t use, so that nothing odd can alarm.
        </p>
      )}
      {from === 'keyed' && card.steps.length === 0 && (
        <p className="mt-4 print:hidden">
          <Link className="btn btn-solid" to={`/rigs/${rig.id}/pairing`}>
            Next: pairing
          </Link>
        </p>
      )}
    </div>
  );
}
