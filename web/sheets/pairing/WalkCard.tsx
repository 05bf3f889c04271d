import { type ReactNode, useEffect } from 'react';
import type { FittingQuestion, FittingStep } from '#core/fitting/cards.ts';
import { PAIRING_ACTS, walkCard, walkStage } from '#core/fitting/walk.ts';
import { partsOf } from '#core/kit/parts.ts';
import type { Shows } from '#core/pairing/signs.ts';
import { isMotorcycle, type RigWheel } from '#core/rig/positions.ts';
import { convert } from '#core/units/units.ts';
import type { SensorKind } from '#schema/common.ts';
import type { PairingStyle, Rig } from '#schema/unit.ts';
import { fieldFigure, parseNumber, useFormat } from '../../parts/format.ts';
import { SavedField } from '../../parts/SavedField.tsx';
import { BubbleAdvice, StepBox } from '../../parts/StepBox.tsx';
import { fittingCautionWords } from '../../parts/words-fitting.ts';
import { useFittingNotes } from '../../state/useFittingNotes.ts';
import { useRig } from '../../state/useRig.ts';
import { walkStepWords } from './words.ts';

const questionOf = (rig: Rig, wheel: RigWheel, kind: SensorKind): FittingQuestion => ({
  kind,
  stem: wheel.wheel.stem,
  stemForm: wheel.wheel.stemForm,
  valveFacing: wheel.wheel.valveFacing,
  dualInner: wheel.place.endsWith('I'),
  motorcycle: isMotorcycle(wheel.unit),
  newCell: wheel.wheel.sensor?.cellSince === undefined,
  parts: partsOf(rig, kind),
});

/** The steps of a wheel and the one that is to be done now; -1 when the wheel is finished. */
export function walkOf(rig: Rig, wheel: RigWheel, style: PairingStyle, kind: SensorKind) {
  const card = walkCard(style, questionOf(rig, wheel, kind));
  const done = new Set(wheel.wheel.fitting?.done.map((d) => d.code) ?? []);
  return { ...card, done, stage: walkStage(card.steps, done, wheel.wheel.sensor !== null) };
}

/** Pairing and fitting of one wheel as one card, for kits whose sensors end on the valve. */
export function WalkCard({
  wheel,
  style,
  kind,
  shows,
  place,
  mark,
  markFields,
  stopped,
  off,
  onSensorOn,
  next,
  onNext,
  children,
}: {
  wheel: RigWheel;
  style: PairingStyle;
  kind: SensorKind;
  shows: Shows;
  /** What the leaflet calls its place on the monitor. */
  place: string | null;
  /** What is printed on a coded sensor; null in a tray. */
  mark: string | null;
  markFields: ReactNode;
  /** This sensor may not go onto this stem. */
  stopped: boolean;
  /** The sensor is off again and has been long enough: it goes back on. */
  off: boolean;
  /** The sensor is on: its sign is awaited from now on. */
  onSensorOn: () => void;
  /** The wheel that comes next; null when all are done. */
  next: string | null;
  onNext: (position: string) => void;
  /** Whatever shows and records the monitor's sign. */
  children: ReactNode;
}) {
  const { rig } = useRig();
  const f = useFormat();
  const { put, tick, untick } = useFittingNotes(wheel);
  const { steps, cautions, stage, done } = walkOf(rig, wheel, style, kind);
  // The count-down is over: the walk is back at screwing the sensor on.
  const takeOff = off && done.has('sensorOn');
  useEffect(() => {
    if (takeOff) void untick('sensorOn');
  }, [takeOff, untick]);
  const words = (i: number) => {
    const step = steps[i];
    return step && walkStepWords(step, { position: wheel.position, style, kind, shows, parts: partsOf(rig, kind), mark, place });
  };
  const step = steps[stage];
  const text = words(stage);
  if (!step || !text) {
    return (
      <div className="mt-3 border-2 border-ink p-4">
        <p className="text-big font-bold">{wheel.position} is paired and fitted.</p>
        <BubbleAdvice wheel={wheel} />
        {next && (
          <button type="button" className="btn btn-solid mt-3 btn-tall" onClick={() => onNext(next)}>
            Go on with {next}
          </button>
        )}
        {children}
      </div>
    );
  }
  const left = steps.map((_, i) => i).filter((i) => i > stage && !done.has(steps[i] as string));
  const drawn = !PAIRING_ACTS.has(step) && step !== 'mark' ? (step as FittingStep) : undefined;
  const forward = () => {
    // The film is what goes in with the cell: Fitting doesn't ask for it again.
    void tick(...(step === 'cellIn' ? ['cellIn', 'film'] : [step]));
    if (step === 'sensorOn') onSensorOn();
  };
  const gauge = wheel.wheel.fitting?.gauge;
  return (
    <>
      <StepBox
        wheel={wheel}
        kind={kind}
        index={stage}
        count={steps.length}
        text={text}
        next={left[0] === undefined ? undefined : words(left[0])?.head}
        drawn={drawn}
        soap={step === 'soap'}
        canBack={done.size > 0}
        onDone={step === 'sign' || (stopped && step === 'sensorOn') ? undefined : forward}
      >
        {step === 'gauge' && (
          <div className="mt-3">
            <SavedField
              label={`Gauge at ${wheel.position} (may be left empty)`}
              unit={f.unit}
              className="max-w-[220px]"
              inputMode="decimal"
              value={gauge ? (gauge.typed?.unit === f.unit ? gauge.typed.text : fieldFigure(gauge.kpa, f.unit)) : ''}
              draft={`walk.${rig.id}.${wheel.position}.gauge`}
              check={(t) => {
                const n = parseNumber(t);
                if (t.trim() === '') return null;
                const kpa = n === null ? null : convert(n, f.unit, 'kPa');
                return kpa === null ? 'Type a pressure' : kpa <= 0 || kpa > 2500 ? 'Over 0, up to 2500 kPa' : null;
              }}
              onSave={(t) =>
                void put(({ gauge: _old, ...rest }) => {
                  const n = parseNumber(t);
                  return n === null
                    ? rest
                    : { ...rest, gauge: { kpa: convert(n, f.unit, 'kPa'), typed: { text: t, unit: f.unit } } };
                })
              }
            />
          </div>
        )}
        {step === 'mark' && markFields}
      </StepBox>
      {step === 'sign' && children}
      <BubbleAdvice wheel={wheel} />
      <ul className="mt-3 text-body">
        {cautions.map((c) => (
          <li key={c} className="border-l-4 border-ink py-[2px] pl-3">
            {fittingCautionWords[c]}
          </li>
        ))}
      </ul>
    </>
  );
}
