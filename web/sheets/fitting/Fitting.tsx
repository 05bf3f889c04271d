import { Link } from 'react-router';
import { type FittingStep, fittingCard, USUAL_OPTIONS, type WalkFrom, walkRound } from '#core/fitting/cards.ts';
import { hissLossKpa } from '#core/fitting/hiss.ts';
import { hasNuts } from '#core/report/report.ts';
import { isMotorcycle, type RigWheel, settingOf } from '#core/rig/positions.ts';
import { KPA_PER_PSI } from '#core/units/units.ts';
import type { Fitting as FittingNotes, Unit } from '#schema/unit.ts';
import { useRecords } from '../../data/queries.ts';
import { Notice, SheetHead, Switch } from '../../parts/controls.tsx';
import { idText, parseNumber, useFormat } from '../../parts/format.ts';
import { SmallPlan } from '../../parts/RigPlan.tsx';
import { SavedField } from '../../parts/SavedField.tsx';
import { placeInWords } from '../../parts/words.ts';
import { bubbleAdvice, fittingCautionWords, fittingStepWords } from '../../parts/words-fitting.ts';
import { useDraft } from '../../state/drafts.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { withWheel } from '../../state/wheels.ts';
import { Drawing } from './Drawing.tsx';
import { Photos } from './Photos.tsx';

const AIR_UNKNOWN_LITRES = 40;

/** The parts go onto the rig: wheel by wheel, step by step, in the order of the shortest walk. */
export default function Fitting() {
  const { rig, units, wheels } = useRig();
  const f = useFormat();
  const { changeUnit, changeRig } = useRecords();
  const options = rig.fitting ?? USUAL_OPTIONS;
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
      options,
    });
  const doneOf = (w: RigWheel) => new Set(w.wheel.fitting?.done.map((d) => d.code) ?? []);
  const finished = (w: RigWheel) => cardOf(w).steps.every((s) => doneOf(w).has(s));
  const wheel = order.find((w) => w.position === view.at) ?? order.find((w) => !finished(w)) ?? order[0];
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
  const put = async (change: (n: FittingNotes) => FittingNotes, said?: string) => {
    let before: Unit | null = null;
    try {
      await changeUnit(wheel.unit.id, (u) => {
        before = u;
        return withWheel(wheel, (w) => ({ ...w, fitting: change(w.fitting ?? { done: [] }) }), u);
      });
      if (said)
        toast(said, {
          undo: async () => {
            if (before) await changeUnit(wheel.unit.id, (u) => ({ ...(before as Unit), version: u.version })).catch(toastError);
          },
        });
    } catch (error) {
      toastError(error);
    }
  };
  const tick = (code: FittingStep) =>
    void put((n) => ({ ...n, done: [...n.done.filter((d) => d.code !== code), { code, at: new Date().toISOString() }] }));
  const back = () => void put((n) => ({ ...n, done: n.done.slice(0, -1) }));
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
  const text = step && fittingStepWords(step, wheel.position, kind);
  const all = finishedCount === order.length;
  return (
    <>
      <SheetHead
        title="Fitting"
        aside={
          <p className="figure text-[20px] font-semibold">
            {finishedCount} of {order.length} fitted
            {all ? '' : `, about ${Math.max(1, Math.round(left * Math.max(0.3, pace)))} min left`}
          </p>
        }
      >
        Wheel by wheel, in the order of the shortest walk round the rig. Tick as you go; stop anywhere.
      </SheetHead>
      <div className="mb-4 flex flex-wrap items-center gap-x-5 gap-y-2 text-[14px]">
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
        {(
          [
            ['boots', 'Dust boots'],
            ['lockNuts', 'Lock nuts'],
            ['antiTheft', 'One-piece anti-theft kind'],
          ] as const
        ).map(([name, label]) => (
          <label key={name} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="size-[18px] accent-ink"
              checked={options[name]}
              onChange={(e) => {
                // Read now: by the time the change is made the box shows what is stored again.
                const { checked } = e.target;
                void changeRig(rig.id, (now) => ({
                  ...now,
                  fitting: { ...USUAL_OPTIONS, ...now.fitting, [name]: checked },
                })).catch(toastError);
              }}
            />
            {label}
          </label>
        ))}
      </div>
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
                    <span>
                      {i + 1}. {w.position}
                    </span>
                    <span className="narrow text-[13px]">
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
              <span className="figure text-[60px] leading-none font-bold">{wheel.position}</span>
              <p className="text-[14px] text-ink2">{placeInWords(wheel.local, wheel.unit.name, wheel.unit.axles.length)}</p>
              <p className="text-[15px]">
                {kind === 'flowThrough' ? 'Flow-through' : kind === 'cap' ? 'Cap' : 'Internal'}{' '}
                <b className="figure text-[19px]">{idText(wheel.wheel.sensor)}</b>
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
            <div className="mt-3 border-2 border-ink p-4">
              <div className="flex flex-wrap gap-x-6 gap-y-2">
                <Drawing step={step} kind={kind} text={text.head} />
                <div className="min-w-[220px] flex-1">
                  <p className="text-[14px] text-ink2">
                    Step {index + 1} of {card.steps.length}
                  </p>
                  <p className="text-[24px] leading-tight font-bold">{text.head}</p>
                  <p className="mt-2 text-[16px]">{text.why}</p>
                  {text.mistake && (
                    <p className="mt-1 text-[15px] text-ink2">
                      <b>Mind:</b> {text.mistake}
                    </p>
                  )}
                </div>
              </div>
              {step === 'soap' ? (
                <div className="mt-3 flex flex-wrap gap-3">
                  <button
                    type="button"
                    className="btn btn-solid min-h-[56px] grow text-[18px]"
                    onClick={() =>
                      void put((n) => ({
                        ...n,
                        leak: 'none',
                        done: [...n.done.filter((d) => d.code !== 'soap'), { code: 'soap', at: new Date().toISOString() }],
                      }))
                    }
                  >
                    No bubbles
                  </button>
                  <button
                    type="button"
                    className="btn min-h-[56px] grow text-[18px]"
                    onClick={() => void put((n) => ({ ...n, leak: 'bubbles' }), `${wheel.position}: bubbles. See what to try.`)}
                  >
                    Bubbles
                  </button>
                  <button type="button" className="btn min-h-[56px]" disabled={(notes?.done.length ?? 0) === 0} onClick={back}>
                    One back
                  </button>
                </div>
              ) : (
                <div className="mt-3 flex flex-wrap gap-3">
                  <button type="button" className="btn btn-solid min-h-[56px] grow text-[18px]" onClick={() => tick(step)}>
                    Done, next
                  </button>
                  <button type="button" className="btn min-h-[56px]" disabled={(notes?.done.length ?? 0) === 0} onClick={back}>
                    One back
                  </button>
                </div>
              )}
            </div>
          ) : (
            <div className="mt-3 border-2 border-ink p-4">
              <p className="text-[22px] font-bold">{wheel.position} is fitted.</p>
              <div className="mt-3 flex flex-wrap gap-3">
                {!all && (
                  <button
                    type="button"
                    className="btn btn-solid min-h-[52px]"
                    onClick={() => look({ at: order.find((w) => !finished(w))?.position ?? '' })}
                  >
                    Next wheel: {order.find((w) => !finished(w))?.position}
                  </button>
                )}
                <button type="button" className="btn min-h-[52px]" onClick={back}>
                  One back
                </button>
              </div>
            </div>
          )}
          {notes?.leak === 'bubbles' && (
            <div className="mt-3">
              <Notice tone="act">
                <b>Bubbles at {wheel.position}: it leaks.</b>
                <ol className="mt-1 list-decimal pl-5">
                  {bubbleAdvice.map((a) => (
                    <li key={a}>{a}</li>
                  ))}
                </ol>
              </Notice>
            </div>
          )}
          <ul className="mt-3 text-[14px]">
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
          <ul className="mt-2 text-[15px]">
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
            <p className="text-[15px]">Tightened again after the first drive, {rig.fitting.retightenedAt.slice(0, 10)}.</p>
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
                    fitting: { ...USUAL_OPTIONS, ...now.fitting, retightenedAt: new Date().toISOString() },
                  })).catch(toastError)
                }
              >
                Done after the drive
              </button>
            </Notice>
          )}
        </div>
      )}
      <p className="mt-6">
        <Link className={all ? 'btn btn-solid' : 'btn'} to={`/rigs/${rig.id}/watch`}>
          {all ? 'Next: see that every sensor is heard' : 'Watch'}
        </Link>
      </p>
    </>
  );
}
