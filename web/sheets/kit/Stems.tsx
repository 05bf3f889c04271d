import { useState } from 'react';
import { bendingNm, stemLoad } from '#core/fitting/stem.ts';
import { type FitJudgement, judgeFit } from '#core/kit/fit.ts';
import { kindAt, withKind } from '#core/kit/kinds.ts';
import { partsOf } from '#core/kit/parts.ts';
import { SENSOR_TRAITS, STEM_LEVER_MM, valveRadiusM } from '#core/kit/sensors.ts';
import { isMotorcycle, type RigWheel } from '#core/rig/positions.ts';
import type { SensorKind } from '#schema/common.ts';
import type { Stem, StemForm, Unit, Wheel } from '#schema/unit.ts';
import { useRecords } from '../../data/queries.ts';
import { Field, Notice, Switch } from '../../parts/controls.tsx';
import { Section } from '../../parts/Drawing.tsx';
import { dayHere, parseNumber } from '../../parts/format.ts';
import { PlainWheel } from '../../parts/PlainWheel.tsx';
import { RigPlan, useLie, useNarrow } from '../../parts/RigPlan.tsx';
import { SavedField } from '../../parts/SavedField.tsx';
import { fitWords, kindNames, placeInWords } from '../../parts/words.ts';
import { asBefore } from '../../state/holders.ts';
import { tryMarking } from '../../state/marking.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { withWheel } from '../../state/wheels.ts';

const kinds = (['cap', 'flowThrough', 'internal'] as const).map((value) => ({ value, text: kindNames[value] }));
const verdicts: Record<FitJudgement['verdict'], string> = { yes: 'yes', care: 'with care', no: 'no' };
const forms: { value: StemForm; text: string }[] = [
  { value: 'short', text: 'Short' },
  { value: 'standard', text: 'Standard' },
  { value: 'long', text: 'Long' },
  { value: 'angled', text: 'Angled' },
  { value: 'extension', text: 'Extension' },
];

/** A rolling tire is a little smaller than a new one standing free. Assumed: 3 %. */
const ROLLING_SHARE = 0.97;

/** The force a sensor puts on its stem at speed, beside the other kinds. */
function StemForce({ wheel }: { wheel: RigWheel }) {
  const [speed, setSpeed] = useState('100');
  const kmh = parseNumber(speed);
  const marking = 'marking' in wheel.holder ? wheel.holder.marking : undefined;
  const tire = marking ? tryMarking(marking) : null;
  if (tire === null || typeof tire === 'string') {
    return (
      <p className="text-body text-ink2">
        Type the tire’s marking on the Layout sheet and the force on this stem can be worked out.
      </p>
    );
  }
  const radius = (tire.diameterMm / 2000) * ROLLING_SHARE;
  const valve = valveRadiusM(tire.rimIn);
  const rim = (tire.rimIn * 0.0254) / 2;
  const rows =
    kmh === null || kmh < 0 || kmh > 400
      ? []
      : (['cap', 'flowThrough'] as const).map((kind) => ({
          kind,
          ...stemLoad(SENSOR_TRAITS[kind].massKg, valve, kmh / 3.6, radius, rim),
        }));
  const most = Math.max(1, ...rows.map((r) => r.forceN));
  const inside = wheel.wheel.stemInsideMm;
  const form = wheel.wheel.stemForm ?? 'standard';
  return (
    <div className="flex flex-col gap-2">
      <Field
        label="Your top speed"
        unit="km/h"
        inputMode="decimal"
        value={speed}
        onChange={(e) => setSpeed(e.target.value)}
        error={rows.length === 0 ? '0 to 400 km/h' : undefined}
      />
      <ul className="text-note">
        {rows.map((r) => (
          <li key={r.kind} className="py-1">
            <span className="flex justify-between gap-2">
              <span>
                {kindNames[r.kind]}, {Math.round(SENSOR_TRAITS[r.kind].massKg * 1000)} g
              </span>
              <span className="figure font-semibold">{r.forceN.toFixed(1)} N outward</span>
            </span>
            <span aria-hidden className="mt-[2px] block h-[9px] bg-cyan" style={{ width: `${(100 * r.forceN) / most}%` }} />
            <span className="text-ink2">
              {Math.round(r.accelerationG)} times its weight; {((r.balanceMassKg ?? 0) * 1000).toFixed(1)} g at the rim edge
              balance it; it bends{' '}
              {form === 'short' ? '' : `this ${form} stem with ${bendingNm(r.forceN, STEM_LEVER_MM[form]).toFixed(2)} Nm, `}a
              short one with {bendingNm(r.forceN, STEM_LEVER_MM.short).toFixed(2)} Nm
              {inside !== undefined &&
                `; ${
                  SENSOR_TRAITS[r.kind].lengthMm - inside > 0
                    ? `stands out ${Math.round(SENSOR_TRAITS[r.kind].lengthMm - inside)} mm past the rim`
                    : `stays ${Math.round(inside - SENSOR_TRAITS[r.kind].lengthMm)} mm inside the rim`
                }`}
              .
            </span>
          </li>
        ))}
      </ul>
      <p className="text-note text-ink2">
        m (v/R)² r with the valve {Math.round(valve * 1000)} mm from the axle (assumed: 40 mm inside the rim) and a rolling radius
        of {Math.round(radius * 1000)} mm. Tape test: a strip of tape on the rim under the sensor shows after a drive whether the
        stem swings out.
      </p>
    </div>
  );
}

/** A unit with every wheel of it changed, spares too. */
const onAllWheels = (unit: Unit, put: (w: Wheel) => Wheel): Unit => ({
  ...unit,
  axles: unit.axles.map((a) => ({ ...a, wheels: a.wheels.map(put) })),
  spares: unit.spares.map((s) => ({ ...s, wheel: put(s.wheel) })),
});

/** What may go onto which stem. */
export default function Stems() {
  const { rig, units, wheels } = useRig();
  const { putUnit, putUnits, changeRig } = useRecords();
  const narrow = useNarrow();
  const lie = useLie();
  const [position, setPosition] = useState(wheels[0]?.position ?? '');
  const [words, setWords] = useState('');
  const wheel = wheels.find((w) => w.position === position) ?? wheels[0];
  if (!wheel) return null;
  const year = new Date().getFullYear();
  const kindOf = (w: RigWheel): SensorKind => kindAt(w, rig);
  const judge = (w: RigWheel, kind: SensorKind): FitJudgement =>
    judgeFit({
      kind,
      stem: w.wheel.stem,
      stemForm: w.wheel.stemForm,
      stemYear: w.wheel.stemYear,
      year,
      motorcycle: isMotorcycle(w.unit),
      dualInner: w.place === 'LI' || w.place === 'RI',
      school: rig.capSchool,
    });
  const save = async (unit: Unit, said: string) => {
    try {
      const before = units.find((u) => u.id === unit.id);
      const saved = await putUnit(unit);
      toast(said, {
        undo: () => (before ? putUnit({ ...before, version: saved.version }).then(() => undefined, toastError) : undefined),
      });
    } catch (error) {
      toastError(error);
    }
  };
  const change = (said: string, work: (w: Wheel) => Wheel) => void save(withWheel(wheel, work), `${wheel.position}: ${said}.`);
  // All wheels of an axle mostly have the same stems.
  const likeAxle = () => {
    const { stem, stemForm, stemYear } = wheel.wheel;
    const put = (w: Wheel): Wheel => ({
      ...w,
      ...(stem ? { stem } : {}),
      ...(stemForm ? { stemForm } : {}),
      ...(stemYear ? { stemYear } : {}),
    });
    void save(onAllWheels(wheel.unit, put), `All stems of ${wheel.unit.name} are like ${wheel.position}’s.`);
  };
  const unseen = wheels.filter((w) => w.wheel.stem === undefined && kindOf(w) !== 'internal');
  /** The stems that nobody has looked at yet, all at once. */
  const allStems = async (stem: Stem) => {
    const before = units;
    const changed = units.flatMap((u) => {
      const open = unseen.filter((w) => w.unit.id === u.id).map((w) => w.local);
      return open.length === 0 ? [] : [onAllWheels(u, (w) => (open.includes(w.position) ? { ...w, stem } : w))];
    });
    try {
      const saved = await putUnits(changed);
      toast(`${unseen.length} stems are ${stem}.`, {
        undo: () => putUnits(asBefore(before, saved)).then(() => undefined, toastError),
      });
    } catch (error) {
      toastError(error);
    }
  };
  const kind = kindOf(wheel);
  const own = judge(wheel, kind);
  const { fitOverride } = wheel.wheel;
  const override = () => {
    if (words.trim().length < 10) return;
    change('the override is noted', (w) => ({ ...w, fitOverride: { words: words.trim(), at: new Date().toISOString(), kind } }));
    setWords('');
  };
  const noes = wheels.filter((w) => judge(w, kindOf(w)).verdict === 'no');
  return (
    <div className="grid gap-x-8 gap-y-6 xl:grid-cols-[minmax(0,1fr)_372px]">
      <div className="min-w-0">
        <RigPlan
          label="Stems and sensors of the rig"
          units={units}
          wheels={wheels}
          lie={lie}
          tallness={narrow ? 70 : 84}
          wheel={(w) => {
            const k = kindOf(w);
            const { verdict } = judge(w, k);
            return (
              <PlainWheel wheel={w} selected={w === wheel} paired={w.wheel.stem !== undefined} onSelect={setPosition}>
                <span className="narrow flex justify-between text-note">
                  <b>{w.position}</b>
                  <span
                    className={
                      verdict === 'no'
                        ? 'bg-ink px-1 font-bold text-paper'
                        : verdict === 'care' && w.wheel.stem
                          ? 'bg-yellow px-1 text-[#10151a]'
                          : ''
                    }
                  >
                    {k !== 'internal' && !w.wheel.stem ? 'not looked at' : verdict === 'care' ? 'care' : verdicts[verdict]}
                  </span>
                </span>
                <span className="narrow text-note leading-tight">
                  {kindNames[k]}
                  <br />
                  <span className="text-ink2">{w.wheel.stem ? `${w.wheel.stem} stem` : ''}</span>
                </span>
              </PlainWheel>
            );
          }}
        />
        {unseen.length > 0 && (
          <div className="mt-4 flex flex-wrap items-center gap-2">
            <p className="mr-2 text-body font-semibold">
              {unseen.length === 1 ? '1 stem to look at' : `${unseen.length} stems to look at`}
            </p>
            <button type="button" className="btn btn-solid" onClick={() => void allStems('metal')}>
              {unseen.length === wheels.length ? 'All stems are metal' : 'The rest are metal'}
            </button>
            <button type="button" className="btn" onClick={() => void allStems('rubber')}>
              {unseen.length === wheels.length ? 'All are rubber' : 'The rest are rubber'}
            </button>
          </div>
        )}
        <p className="mt-3 text-body">
          {noes.length > 0 ? (
            <b>
              Not like this: {noes.map((w) => w.position).join(', ')}.{' '}
              {noes.some((w) => w.wheel.fitOverride) ? 'Some are overridden in the owner’s words.' : ''}
            </b>
          ) : (
            'No sensor here sits on a stem that must not carry it.'
          )}
        </p>
        <div className="mt-5 grid items-start gap-x-8 gap-y-4 lg:grid-cols-[minmax(0,1fr)_minmax(0,320px)]">
          <fieldset className="border-t border-ink pt-2">
            <legend className="pr-3 text-body font-bold">Light caps on rubber: your school for this rig</legend>
            {(
              [
                ['metalOnly', 'Metal stems only', 'Safer. A sensor never sits on rubber.'],
                [
                  'lightCap',
                  'A light cap on a sound rubber stem is fine',
                  'Many do it, with caps of about 8 g on stems as new as the tire.',
                ],
              ] as const
            ).map(([value, title, text]) => (
              <label key={value} className="flex cursor-pointer gap-3 border-b border-rule py-2">
                <input
                  type="radio"
                  name="school"
                  className="mt-1 size-[18px] shrink-0 accent-ink"
                  checked={rig.capSchool === value}
                  onChange={() => void changeRig(rig.id, (now) => ({ ...now, capSchool: value })).catch(toastError)}
                />
                <span>
                  <b>{title}</b>
                  <span className="block text-note text-ink2">{text}</span>
                </span>
              </label>
            ))}
          </fieldset>
          <figure>
            <Section kind={kind} stem={wheel.wheel.stemForm} loose={partsOf(rig, kind)} />
            <figcaption className="text-note text-ink2">
              {kindNames[kind]} on {wheel.position}, cut through
            </figcaption>
          </figure>
        </div>
      </div>
      <aside aria-label={`Stem of ${wheel.position}`} className="flex flex-col gap-4">
        <div>
          <h2 className="border-b border-ink pb-1">Wheel {wheel.position}</h2>
          <p className="mt-1 text-body text-ink2">{placeInWords(wheel.local, wheel.unit.name, wheel.unit.axles.length)}</p>
        </div>
        <div className="flex flex-wrap items-center gap-2">
          <Switch
            label={`Stem of ${wheel.position} is of`}
            value={wheel.wheel.stem ?? ''}
            options={[
              { value: 'metal', text: 'Metal' },
              { value: 'rubber', text: 'Rubber' },
            ]}
            onChange={(stem) => change(`${stem} stem`, (w) => ({ ...w, stem: stem as 'metal' | 'rubber' }))}
          />
          <select
            aria-label={`Form of the stem of ${wheel.position}`}
            className="input w-auto!"
            value={wheel.wheel.stemForm ?? ''}
            onChange={(e) => {
              const form = e.target.value;
              change('form of the stem', (w) => {
                const { stemForm: _old, ...rest } = w;
                return form === '' ? rest : { ...rest, stemForm: form as StemForm };
              });
            }}
          >
            <option value="">Form not said</option>
            {forms.map((f) => (
              <option key={f.value} value={f.value}>
                {f.text}
              </option>
            ))}
          </select>
        </div>
        <div className="flex flex-wrap items-center gap-2 text-note">
          <span className="text-ink2">Sensors of {wheel.unit.name}</span>
          <Switch
            label={`Kind of sensors of ${wheel.unit.name}`}
            value={kind}
            options={kinds}
            onChange={(k) =>
              void save(withKind(wheel.unit, k, wheel.local), `${wheel.unit.name}: ${kindNames[k].toLowerCase()} sensors.`)
            }
          />
        </div>
        <div className="flex items-center gap-2 text-note">
          <span className="text-ink2">Valve looks</span>
          <Switch
            label={`Valve of ${wheel.position} looks`}
            value={wheel.wheel.valveFacing ?? ''}
            options={[
              { value: 'out', text: 'Outward' },
              { value: 'in', text: 'Inward' },
            ]}
            onChange={(v) =>
              change(`valve looks ${v === 'in' ? 'inward' : 'outward'}`, (w) => ({ ...w, valveFacing: v as 'in' | 'out' }))
            }
          />
        </div>
        <div className="grid grid-cols-2 gap-3">
          <SavedField
            key={`year ${wheel.position}`}
            label="Stem fitted in the year"
            value={wheel.wheel.stemYear === undefined ? '' : String(wheel.wheel.stemYear)}
            check={(t) =>
              t.trim() === '' || (/^\d{4}$/.test(t.trim()) && Number(t) >= 1950 && Number(t) <= year)
                ? null
                : `A year up to ${year}`
            }
            onSave={(t) =>
              change('year of the stem', (w) => {
                const { stemYear: _old, ...rest } = w;
                return t === '' ? rest : { ...rest, stemYear: Number(t) };
              })
            }
          />
          <SavedField
            key={`inside ${wheel.position}`}
            label="Tip inside the rim edge"
            unit="mm"
            value={wheel.wheel.stemInsideMm === undefined ? '' : String(wheel.wheel.stemInsideMm)}
            check={(t) => {
              const n = parseNumber(t);
              return t.trim() === '' || (n !== null && n >= -100 && n <= 200) ? null : 'Millimetres, −100 to 200';
            }}
            onSave={(t) =>
              change('rim clearance', (w) => {
                const { stemInsideMm: _old, ...rest } = w;
                const n = parseNumber(t);
                return n === null ? rest : { ...rest, stemInsideMm: n };
              })
            }
          />
        </div>
        {wheel.wheel.stem && (
          <button type="button" className="btn btn-small self-start" onClick={likeAxle}>
            All stems of {wheel.unit.name} are like this
          </button>
        )}
        <ul className="border-t border-ink text-body">
          {(['cap', 'flowThrough', 'internal'] as const).map((k) => {
            const j = judge(wheel, k);
            return (
              <li key={k} className="border-b border-rule py-2">
                <span className="flex justify-between gap-2">
                  <b>
                    {kindNames[k]}
                    {k === kind ? (wheel.wheel.sensor ? ' (is on it)' : ' (usual here)') : ''}
                  </b>
                  <b className={j.verdict === 'no' ? 'bg-ink px-2 text-paper' : ''}>{verdicts[j.verdict]}</b>
                </span>
                {j.reasons.map((r) => (
                  <span key={r} className="block text-note text-ink2">
                    {fitWords(r)}
                  </span>
                ))}
              </li>
            );
          })}
        </ul>
        {fitOverride && (
          <Notice tone="act">
            <b>Overridden on {dayHere(fitOverride.at)}:</b> “{fitOverride.words}”{' '}
            <button
              type="button"
              className="underline underline-offset-3"
              onClick={() =>
                change('the override is taken back', (w) => {
                  const { fitOverride: _old, ...rest } = w;
                  return rest;
                })
              }
            >
              Take it back
            </button>
          </Notice>
        )}
        {own.verdict === 'no' && !fitOverride && (
          <Notice tone="act">
            <b>{kindNames[kind]} on this stem: no.</b> Have a metal stem fitted, or take another kind. If you go ahead anyway,
            write down why: it goes on the report with the date.
            <div className="mt-2 flex items-end gap-2">
              <Field
                className="grow"
                label="Why you’re going ahead"
                value={words}
                maxLength={300}
                onChange={(e) => setWords(e.target.value)}
              />
              <button type="button" className="btn" disabled={words.trim().length < 10} onClick={override}>
                Note it
              </button>
            </div>
          </Notice>
        )}
        <div>
          <h2 className="mb-2 border-b border-ink pb-1">Force on the stem</h2>
          <StemForce wheel={wheel} />
        </div>
      </aside>
    </div>
  );
}
