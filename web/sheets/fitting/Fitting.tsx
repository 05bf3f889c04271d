import { Link } from 'react-router';
import { fittingCard, type WalkFrom, walkRound } from '#core/fitting/cards.ts';
import { hissLossKpa } from '#core/fitting/hiss.ts';
import { hasNuts, partsOf } from '#core/kit/parts.ts';
import { isMotorcycle, type RigWheel, settingOf } from '#core/rig/positions.ts';
import { KPA_PER_PSI } from '#core/units/units.ts';
import { useRecords } from '../../data/queries.ts';
import { Notice, SheetHead, Switch } from '../../parts/controls.tsx';
import { dayHere, idText, parseNumber, useFormat } from '../../parts/format.ts';
import { LoosePartsBox } from '../../parts/LoosePartsBox.tsx';
import { Photos } from '../../parts/Photos.tsx';
import { SmallPlan } from '../../parts/RigPlan.tsx';
import { SavedField } from '../../parts/SavedField.tsx';
import { BubbleAdvice, StepBox } from '../../parts/StepBox.tsx';
import { kindNames, placeInWords } from '../../parts/words.ts';
import { fittingCautionWords, fittingStepWords } from '../../parts/words-fitting.ts';
import { useDraft } from '../../state/drafts.ts';
import { toastError } from '../../state/toast.ts';
import { useFittingNotes } from '../../state/useFittingNotes.ts';
import { useRig } from '../../state/useRig.ts';

const AIR_UNKNOWN_LITRES = 40;

/** The parts go onto the rig: wheel by wheel, step by step, in the order of the shortest walk. */
export default function Fitting() {
  const { rig, units, wheels } = useRig();
  const f = useFormat();
  const { changeRig } = useRecords();
  const key = `fitting.${rig.id}`;
  const [view, setView] = useDraft<{ from: WalkFrom; at: string }>(key, { from: 'front', at: '' });
  const look = (next: Partial<typeof view>) => setView({ ...view, ...next });
  const order = walkRound(wheels, view.from).filter((w) => w.wheel.sensor);
  const cardOf = (w: RigWheel) =>
    fittingCard({
      kind: w.wheel.sensor?.kind ?? 'cap',
      stem: w.wheel.stem,
      stemForm: w.wheel.stemForm,
      valveFacing: w.wheel.valveFacing,
      dualInner: w.place.endsWith('I'),
      motorcycle: isMotorcycle(w.unit),
      newCell: w.wheel.sensor?.cellSince === undefined && w.wheel.sensor?.kind !== 'internal',
      parts: partsOf(rig, w.wheel.sensor?.kind ?? 'cap'),
    });
  const doneOf = (w: RigWheel) => new Set(w.wheel.fitting?.done.map((d) => d.code) ?? []);
  const finished = (w: RigWheel) => cardOf(w).steps.every((s) => doneOf(w).has(s));
  const wheel = order.find((w) => w.position === view.at) ?? order.find((w) => !finished(w)) ?? order[0];
  const { put, tick, back } = useFittingNotes(wheel ?? (wheels[0] as RigWheel));
  if (!wheel) {
    return (
      <>
        <SheetHead title="Fitting">Wheel by wheel, in the order of the shortest walk round the rig.</SheetHead>
        <p>
          No wheel has a sensor yet.{' '}
          <Link className="underline underline-offset-3" to={`/rigs/${rig.id}/pairing`}>
            Pair them first
          </Link>
          , then each gets a card of its own here.
        </p>
      </>
    );
  }
  const card = cardOf(wheel);
  const notes = wheel.wheel.fitting;
  const done = doneOf(wheel);
  const kind = wheel.wheel.sensor?.kind ?? 'cap';
  const index = card.steps.findIndex((s) => !done.has(s));
  const step = card.steps[index];
  // What a wheel took so far, from its first tick to its last; the rest is reckoned by that.
  const took = order.flatMap((w) => {
    const times = w.wheel.fitting?.done.map((d) => Date.parse(d.at)) ?? [];
    const minutes = (Math.max(...times) - Math.min(...times)) / 60_000;
    return finished(w) && times.length > 1 && minutes < 120 ? [{ minutes, planned: cardOf(w).minutes }] : [];
  });
  const pace = took.length > 0 ? took.reduce((a, t) => a + t.minutes, 0) / took.reduce((a, t) => a + t.planned, 0) : 1;
  const left = order
    .filter((w) => !finished(w))
    .reduce(
      (a, w) => a + (cardOf(w).minutes * cardOf(w).steps.filter((s) => !doneOf(w).has(s)).length) / cardOf(w).steps.length,
      0,
    );
  const finishedCount = order.filter(finished).length;
  const lossOf = (w: RigWheel) => {
    const cold = settingOf(w, rig.loadState).cold;
    const s = w.wheel.fitting?.hissS;
    return cold && s ? hissLossKpa(cold.kpa, cold.tempC, w.holder.airLitres ?? AIR_UNKNOWN_LITRES, s) : 0;
  };
  const topUp = order.filter((w) => lossOf(w) > KPA_PER_PSI);
  const bubbles = order.filter((w) => w.wheel.fitting?.leak === 'bubbles');
  const parts = partsOf(rig, kind);
  const text = step && fittingStepWords(step, wheel.position, kind, parts);
  const nextStep = card.steps.slice(index + 1).find((s) => !done.has(s));
  const all = finishedCount === order.length;
  return (
    <>
      <SheetHead
        title="Fitting"
        aside={
          <p className="figure text-head font-semibold">
            {finishedCount} of {order.length} fitted
            {all ? '' : `, about ${Math.max(1, Math.round(left * Math.max(0.3, pace)))} min left`}
          </p>
        }
      >
        Wheel by wheel, in the order of the shortest walk round the rig. Tick as you go; stop anywhere.
      </SheetHead>
      {/* Set once, then out of the way of whoever kneels at a wheel. */}
      <details className="mb-4 border-b border-rule pb-2 text-body">
        <summary className="min-h-[32px]">Where you start, and loose parts</summary>
        <div className="my-3 flex flex-wrap items-center gap-3">
          <span className="text-ink2">You stand</span>
          <Switch
            label="Where you stand"
            value={view.from}
            options={[
              { value: 'front', text: 'In front' },
              { value: 'left', text: 'Left of it' },
              { value: 'right', text: 'Right of it' },
              { value: 'behind', text: 'Behind' },
            ]}
            onChange={(from) => look({ from, at: '' })}
          />
        </div>
        <LoosePartsBox />
      </details>
      <div className="grid gap-x-10 gap-y-6 lg:grid-cols-[220px_minmax(0,1fr)]">
        <nav aria-label="Wheels in walking order" className="max-lg:overflow-x-auto">
          <ol className="flex gap-2 lg:flex-col">
            {order.map((w, i) => {
              const d = cardOf(w).steps.filter((s) => doneOf(w).has(s)).length;
              return (
                <li key={w.position}>
                  <button
                    type="button"
                    className={`btn w-full justify-between ${w === wheel ? 'btn-solid' : ''}`}
                    aria-current={w === wheel ? 'step' : undefined}
                    onClick={() => look({ at: w.position })}
                  >
                    <span className="whitespace-nowrap">
                      {i + 1}. {w.position}
                    </span>
                    <span className="narrow whitespace-nowrap text-note">
                      {finished(w) ? 'done' : d > 0 ? `${d} of ${cardOf(w).steps.length}` : ''}
                    </span>
                  </button>
                </li>
              );
            })}
          </ol>
        </nav>
        <section aria-label={`Card of ${wheel.position}`}>
          <div className="flex items-start justify-between gap-4">
            <div>
              <h2 className="figure text-fig3 leading-none font-bold">{wheel.position}</h2>
              <p className="text-body text-ink2">{placeInWords(wheel.local, wheel.unit.name, wheel.unit.axles.length)}</p>
              <p className="text-body">
                {kindNames[kind]} <b className="figure text-head">{idText(wheel.wheel.sensor)}</b>
              </p>
            </div>
            <div className="max-sm:hidden">
              <SmallPlan
                units={units}
                wheels={wheels}
                ink={(w) => (w === wheel ? 'print' : w.wheel.sensor && finished(w) ? 'steady' : 'bare')}
              />
            </div>
          </div>
          {step && text ? (
            <StepBox
              wheel={wheel}
              kind={kind}
              index={index}
              count={card.steps.length}
              text={text}
              drawn={step}
              soap={step === 'soap'}
              next={nextStep && fittingStepWords(nextStep, wheel.position, kind, parts).head}
              canBack={(notes?.done.length ?? 0) > 0}
              onDone={() => void tick(step)}
            />
          ) : (
            <div className="mt-3 border-2 border-ink p-4">
              <h3 className="text-big font-bold">{all ? 'Every wheel is fitted.' : `${wheel.position} is fitted.`}</h3>
              <div className="mt-3 flex flex-wrap gap-3">
                {!all && (
                  <button
                    type="button"
                    className="btn btn-solid btn-tall"
                    onClick={() => look({ at: order.find((w) => !finished(w))?.position ?? '' })}
                  >
                    Next wheel: {order.find((w) => !finished(w))?.position}
                  </button>
                )}
                <button type="button" className="btn btn-tall" onClick={() => void back()}>
                  One back
                </button>
              </div>
            </div>
          )}
          <BubbleAdvice wheel={wheel} />
          <ul className="mt-3 text-body">
            {card.cautions.map((c) => (
              <li key={c} className="border-l-4 border-ink py-[2px] pl-3">
                {fittingCautionWords[c]}
              </li>
            ))}
          </ul>
          <div className="mt-4 grid max-w-[640px] gap-4 sm:grid-cols-[170px_minmax(0,1fr)]">
            <SavedField
              label="Hissed for"
              unit="s"
              inputMode="decimal"
              value={notes?.hissS === undefined ? '' : String(notes.hissS)}
              draft={`${key}.${wheel.position}.hiss`}
              check={(t) => {
                if (t.trim() === '') return null;
                const n = parseNumber(t);
                return n === null ? 'Type seconds' : n < 0 || n > 600 ? 'Between 0 and 600 s' : null;
              }}
              onSave={(t) => {
                const n = parseNumber(t);
                void put(({ hissS: _old, ...rest }) => (n === null || n === 0 ? rest : { ...rest, hissS: n }));
              }}
              hint={lossOf(wheel) > 0 ? `about ${f.pressure(lossOf(wheel))} lost` : undefined}
            />
            <SavedField
              label={`Note on ${wheel.position}`}
              value={notes?.note ?? ''}
              draft={`${key}.${wheel.position}.note`}
              check={(t) => (t.length > 500 ? 'At most 500 characters' : null)}
              onSave={(t) => void put(({ note: _old, ...rest }) => (t === '' ? rest : { ...rest, note: t }))}
            />
          </div>
          <Photos
            position={wheel.position}
            ids={notes?.photos ?? []}
            onChange={(photos) =>
              void put(
                ({ photos: _old, ...rest }) => (photos.length > 0 ? { ...rest, photos } : rest),
                `${wheel.position}: photos changed`,
              )
            }
          />
        </section>
      </div>
      {(topUp.length > 0 || bubbles.length > 0) && (
        <section aria-label="Top-up list" className="mt-6">
          <h2 className="border-b border-ink pb-1">Before you drive</h2>
          <ul className="mt-2 text-body">
            {bubbles.map((w) => (
              <li key={`b${w.position}`}>
                <b>{w.position}</b> leaks: cure it first.
              </li>
            ))}
            {topUp.map((w) => {
              const cold = settingOf(w, rig.loadState).cold;
              return (
                <li key={w.position}>
                  <b>{w.position}</b> lost about {f.pressure(lossOf(w))}: top it up to{' '}
                  {cold ? f.exact(cold.kpa, cold.typed) : 'its target'} cold.
                </li>
              );
            })}
          </ul>
        </section>
      )}
      {all && hasNuts(rig, wheels) && (
        <div className="mt-6 max-w-[72ch]">
          {rig.fitting?.retightenedAt ? (
            <p className="text-body">Tightened again after the first drive, {dayHere(rig.fitting.retightenedAt)}.</p>
          ) : (
            <Notice>
              <b>After the first drive, tighten every nut again,</b> a quarter turn at most, and look at the tape: a mark means
              the stem bends outward.{' '}
              <button
                type="button"
                className="btn btn-small mt-2"
                onClick={() =>
                  void changeRig(rig.id, (now) => ({
                    ...now,
                    fitting: { ...now.fitting, retightenedAt: new Date().toISOString() },
                  })).catch(toastError)
                }
              >
                Done after the drive
              </button>
            </Notice>
          )}
        </div>
      )}
      {all && (
        <p className="next-step">
          <Link className="btn btn-solid" to={`/rigs/${rig.id}/radio`}>
            Next: radio
          </Link>
        </p>
      )}
    </>
  );
}
