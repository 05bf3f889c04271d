import { useMemo, useRef, useState } from 'react';
import { walkRound } from '#core/fitting/cards.ts';
import type { RigWheel } from '#core/rig/positions.ts';
import { convert } from '#core/units/units.ts';
import { type Slip, sameAsBefore, slipOf } from '#core/watch/slips.ts';
import type { WatchView } from '#schema/alarm.ts';
import type { PressureUnit } from '#schema/common.ts';
import { useWatchCommands } from '../../data/queries.ts';
import { Box } from '../../parts/Box.tsx';
import { Switch } from '../../parts/controls.tsx';
import { fieldFigure, parseNumber, timeOfDay } from '../../parts/format.ts';
import { placeInWords } from '../../parts/words.ts';
import { useDraft } from '../../state/drafts.ts';
import { usePreferences } from '../../state/preferences.ts';
import { toast } from '../../state/toast.ts';

interface Draft {
  unit: PressureUnit;
  withTemp: boolean;
  pressures: Record<string, string>;
  temps: Record<string, string>;
}

const units = (['kPa', 'bar', 'psi'] as const).map((u) => ({ value: u, text: u }));
const decimals: Record<PressureUnit, number> = { psi: 1, bar: 2, kPa: 0 };

function slipWords(slip: Slip, value: string, unit: PressureUnit): string {
  const meant = 'meant' in slip ? `${slip.meant.toFixed(decimals[unit])} ${unit}` : '';
  switch (slip.kind) {
    case 'unit':
      return `Is ${value} in ${slip.readAs}? That would be ${meant}.`;
    case 'swapped':
      return `${value} ${unit} is far from the likely ${meant}. A low tire, or two digits swapped?`;
    case 'far':
      return `Far from the likely ${slip.likely.toFixed(decimals[unit])} ${unit}. Read again; if it is so, press Enter.`;
  }
}

/** At a stop: what a closed monitor shows, wheel after wheel in walking order, figures only. */
export function TypedRound({ view, wheels, onClose }: { view: WatchView; wheels: readonly RigWheel[]; onClose: () => void }) {
  const prefs = usePreferences();
  const commands = useWatchCommands(view.rigId);
  const key = `round.${view.rigId}`;
  const [draft, setDraft, dropRound] = useDraft<Draft>(key, { unit: prefs.pressure, withTemp: false, pressures: {}, temps: {} });
  const [accepted, setAccepted] = useState<ReadonlySet<string>>(new Set());
  const [asked, setAsked] = useState<string | null>(null);
  const [problem, setProblem] = useState('');
  const [copied, setCopied] = useState(false);
  const [saving, setSaving] = useState(false);
  const list = useRef<HTMLOListElement>(null);
  const { unit, withTemp } = draft;
  const order = useMemo(
    () =>
      walkRound(
        wheels.filter((w) => w.wheel.sensor && !view.resting.includes(w.position[0] as string)),
        'front',
      ),
    [wheels, view.resting],
  );
  const views = useMemo(() => new Map(view.wheels.map((w) => [w.position, w])), [view.wheels]);
  const change = (next: Partial<Draft>) => setDraft((d) => ({ ...d, ...next }));

  const figureAt = (p: string) => parseNumber(draft.pressures[p] ?? '');
  const faultOf = (p: string): string => {
    const text = draft.pressures[p] ?? '';
    if (text.trim() === '') return '';
    const value = parseNumber(text);
    if (value === null) return 'isn’t a number';
    const kpa = convert(value, unit, 'kPa');
    return kpa < 0 || kpa > 2500 ? 'no tire holds that' : '';
  };
  const slipAt = (p: string): Slip | null => {
    const value = figureAt(p);
    if (value === null || accepted.has(`${p} ${value} ${unit}`)) return null;
    const w = views.get(p);
    return slipOf({ position: p, value, unit, likelyKpa: w?.pressureKpa ?? w?.coldKpa ?? null });
  };
  const filled = order.filter((w) => (draft.pressures[w.position] ?? '').trim() !== '');

  const focus = (name: string) => list.current?.querySelector<HTMLInputElement>(`input[name="${name}"]`)?.focus();
  const save = async () => {
    if (filled.length === 0) return setProblem('Type at least one figure.');
    const wrong = filled.find((w) => faultOf(w.position) !== '');
    if (wrong) return focus(`p${wrong.position}`);
    const doubtful = filled.find((w) => slipAt(w.position) !== null);
    if (doubtful) {
      setAsked(doubtful.position);
      return focus(`p${doubtful.position}`);
    }
    const badTemp =
      withTemp &&
      filled.find((w) => (draft.temps[w.position] ?? '').trim() !== '' && parseNumber(draft.temps[w.position] ?? '') === null);
    if (badTemp) return focus(`t${badTemp.position}`);
    const round = filled.map((w) => {
      const before = views.get(w.position)?.pressureKpa ?? null;
      return { value: figureAt(w.position) as number, before: before === null ? null : Number(fieldFigure(before, unit)) };
    });
    if (!copied && sameAsBefore(round)) return setCopied(true);
    setSaving(true);
    try {
      const answer = await commands.typed(
        filled.map((w) => {
          const temp = withTemp ? parseNumber(draft.temps[w.position] ?? '') : null;
          return {
            position: w.position,
            pressureKpa: convert(figureAt(w.position) as number, unit, 'kPa'),
            tempC: temp === null ? null : convert(temp, prefs.temp, 'C'),
          };
        }),
      );
      dropRound(draft);
      const many = `${filled.length} ${filled.length === 1 ? 'reading' : 'readings'}`;
      toast(
        'waits' in answer
          ? `${many} kept on this device. They are not judged before the connection is back: look at the figures yourself.`
          : `${many} kept and judged.`,
      );
      onClose();
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
      setSaving(false);
    }
  };
  const onEnter = (i: number, field: 'p' | 't') => {
    const p = order[i]?.position as string;
    if (faultOf(p) !== '') return;
    const slip = slipAt(p);
    if (field === 'p' && slip) {
      if (asked !== p) return setAsked(p);
      setAccepted(new Set([...accepted, `${p} ${figureAt(p)} ${unit}`]));
    }
    setAsked(null);
    if (field === 'p' && withTemp) return focus(`t${p}`);
    const next = order[i + 1];
    if (next) focus(`p${next.position}`);
    else void save();
  };

  return (
    <Box open onClose={onClose} title="Type readings" focusOn="ol input">
      <p className="mb-3 text-body">
        At a stop, with the rig standing: the figures your monitor shows, in walking order. Enter goes to the next wheel. Leave
        out a wheel that shows none.
      </p>
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <Switch label="Unit of the figures" value={unit} options={units} onChange={(u) => change({ unit: u })} />
        <label className="flex min-h-[44px] items-center gap-2 text-body">
          <input type="checkbox" checked={withTemp} onChange={(e) => change({ withTemp: e.target.checked })} />
          with temperatures
        </label>
      </div>
      <ol ref={list}>
        {order.map((w, i) => {
          const p = w.position;
          const v = views.get(p);
          const fault = faultOf(p);
          const slip =
            fault === '' && (asked === p || document.activeElement?.getAttribute('name') !== `p${p}`) ? slipAt(p) : null;
          return (
            <li key={p} className="border-b border-rule py-1.5">
              <div className="flex items-center gap-2">
                <label htmlFor={`round-${p}`} className="min-w-0 grow">
                  <b className="text-head">{p}</b>{' '}
                  <span className="narrow block text-note text-ink2">
                    {placeInWords(w.local, w.unit.name, w.unit.axles.length).replace(', as seen from the driver’s seat', '')}
                    {v?.pressureKpa != null && v.time !== null
                      ? `; last ${fieldFigure(v.pressureKpa, unit)}, ${timeOfDay(v.time, view.time)}`
                      : ''}
                  </span>
                </label>
                <input
                  id={`round-${p}`}
                  name={`p${p}`}
                  className="input figure w-[104px]! text-big"
                  inputMode="decimal"
                  enterKeyHint="next"
                  autoComplete="off"
                  value={draft.pressures[p] ?? ''}
                  aria-invalid={fault !== '' || slip !== null || undefined}
                  aria-describedby={fault !== '' || slip !== null ? `round-${p}-says` : undefined}
                  onChange={(e) => {
                    setCopied(false);
                    change({ pressures: { ...draft.pressures, [p]: e.target.value } });
                  }}
                  onKeyDown={(e) => {
                    if (e.key !== 'Enter') return;
                    e.preventDefault();
                    onEnter(i, 'p');
                  }}
                />
                {withTemp && (
                  <input
                    name={`t${p}`}
                    aria-label={`Temperature of ${p}, °${prefs.temp}`}
                    placeholder={`°${prefs.temp}`}
                    className="input figure w-[72px] text-head"
                    inputMode="decimal"
                    autoComplete="off"
                    value={draft.temps[p] ?? ''}
                    onChange={(e) => change({ temps: { ...draft.temps, [p]: e.target.value } })}
                    onKeyDown={(e) => {
                      if (e.key !== 'Enter') return;
                      e.preventDefault();
                      onEnter(i, 't');
                    }}
                  />
                )}
              </div>
              {(fault !== '' || slip) && (
                <p id={`round-${p}-says`} className="error flex flex-wrap items-center gap-2" role="alert">
                  {fault !== '' ? `${draft.pressures[p]} ${fault}` : slip && slipWords(slip, draft.pressures[p] ?? '', unit)}
                  {slip && 'meant' in slip && (
                    <>
                      {/* The typed figure first: a tire that really is low must not be made well by a press. */}
                      <button
                        type="button"
                        className="btn btn-small"
                        onClick={() => {
                          setAccepted(new Set([...accepted, `${p} ${figureAt(p)} ${unit}`]));
                          setAsked(null);
                        }}
                      >
                        It reads {draft.pressures[p]} {unit}
                      </button>
                      <button
                        type="button"
                        className="btn btn-small"
                        onClick={() => {
                          change({ pressures: { ...draft.pressures, [p]: String(Number(slip.meant.toFixed(decimals[unit]))) } });
                          setAsked(null);
                          const next = order[i + 1];
                          if (next) focus(`p${next.position}`);
                        }}
                      >
                        It reads {slip.meant.toFixed(decimals[unit])} {unit}
                      </button>
                    </>
                  )}
                </p>
              )}
            </li>
          );
        })}
      </ol>
      {copied && (
        <p className="mt-3 border-2 border-ink p-3 text-body" role="alert">
          Every figure is the last one to the digit. A sleeping monitor goes on showing its last values. Did you read them just
          now? <b>Press again if so.</b>
        </p>
      )}
      {problem !== '' && (
        <p className="error mt-2" role="alert">
          {problem}
        </p>
      )}
      <p className="mt-4 flex flex-wrap gap-2">
        <button type="button" className="btn btn-solid" disabled={saving} onClick={() => void save()}>
          Keep {filled.length} of {order.length}
        </button>
        <button
          type="button"
          className="btn"
          onClick={() => {
            change({ pressures: {}, temps: {} });
            setAccepted(new Set());
            focus(`p${order[0]?.position}`);
          }}
        >
          Start over
        </button>
      </p>
    </Box>
  );
}
