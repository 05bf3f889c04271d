import { useEffect, useRef, useState } from 'react';
import { useForm } from 'react-hook-form';
import { Link } from 'react-router';
import { isMotorcycle, type RigWheel } from '#core/rig/positions.ts';
import type { SensorKind } from '#schema/common.ts';
import type { Sensor, Unit } from '#schema/unit.ts';
import { validators } from '../../../generated/forms.js';
import { useRig } from '../../app/useRig.ts';
import { ApiProblem } from '../../data/api.ts';
import { checkedBy } from '../../data/forms.ts';
import { useBench, useBenchCommand, useRecords } from '../../data/queries.ts';
import { withWheel } from '../../data/wheels.ts';
import { Field, Notice, SheetHead, Switch } from '../../parts/controls.tsx';
import { inPairs } from '../../parts/format.ts';
import { PlainWheel } from '../../parts/PlainWheel.tsx';
import { RigPlan, useLie, useNarrow } from '../../parts/RigPlan.tsx';
import { StandSwitch } from '../../parts/StandSwitch.tsx';
import { toast, toastError } from '../../parts/toast.ts';
import { placeInWords } from '../../parts/words.ts';

const OPEN = 'FFFFFF';

/** What a capture has come to. */
interface Capture {
  sensorId: string;
  code: string;
  /** The code stands: nothing more comes. */
  whole: boolean;
}

/** The unit with another sensor (or none) on one wheel. */
const withSensor = (wheel: RigWheel, sensor: Sensor | null): Unit => withWheel(wheel, (w) => ({ ...w, sensor }));

const kinds: { value: SensorKind; text: string }[] = [
  { value: 'cap', text: 'Cap' },
  { value: 'flowThrough', text: 'Flow-through' },
  { value: 'internal', text: 'Internal' },
];

export default function Pairing() {
  const { rig, units, wheels } = useRig();
  const narrow = useNarrow();
  const lie = useLie();
  const bench = useBench(rig.id);
  const command = useBenchCommand(rig.id);
  const { putUnit } = useRecords();
  const open = wheels.filter((w) => !w.wheel.sensor);
  const [position, setPosition] = useState(() => (open[0] ?? wheels[0])?.position ?? '');
  const wheel = wheels.find((w) => w.position === position) ?? wheels[0];
  const [capture, setCapture] = useState<Capture | null>(null);
  const [kind, setKind] = useState<SensorKind>('cap');
  const timers = useRef<number[]>([]);
  const card = useRef<HTMLDivElement>(null);
  const form = useForm<{ id: string }>({
    defaultValues: { id: '' },
    resolver: checkedBy(validators.sensorId, ({ id }: { id: string }) => ({
      value: { id: id.replaceAll(' ', '').toUpperCase() },
    })),
  });
  const forget = () => {
    for (const t of timers.current) clearTimeout(t);
    timers.current = [];
    setCapture(null);
    form.reset();
  };
  useEffect(
    () => () => {
      for (const t of timers.current) clearTimeout(t);
    },
    [],
  );
  const select = (p: string) => {
    forget();
    setPosition(p);
  };

  const hold = async (sensorId: string) => {
    forget();
    try {
      const { frames } = await command.mutateAsync({ action: 'hold', sensorId });
      const sensor = bench.data?.tray.find((s) => s.id === sensorId);
      if (sensor) setKind(sensor.kind);
      setCapture({ sensorId, code: '', whole: false });
      timers.current = (frames ?? []).map((f, i) =>
        window.setTimeout(() => setCapture({ sensorId, code: f.code, whole: i === (frames?.length ?? 0) - 1 }), f.afterMs),
      );
    } catch (error) {
      toastError(error);
    }
  };

  const save = async (id: string, fromTray: boolean) => {
    if (!wheel) return;
    const before = wheel.wheel.sensor;
    try {
      const saved = await putUnit(withSensor(wheel, { id, kind, pairedAt: new Date().toISOString() }));
      // On the bench the sensor goes onto the valve at once; on the road that is the owner's next act.
      if (fromTray) await command.mutateAsync({ action: 'fit', sensorId: id, position: wheel.position });
      toast(`${wheel.position} is ${inPairs(id)}.`, {
        undo: () => putUnit({ ...withSensor(wheel, before), version: saved.version }).then(() => undefined, toastError),
      });
      forget();
      const next = open.find((w) => w.position !== wheel.position);
      if (next) setPosition(next.position);
      card.current?.focus();
    } catch (error) {
      if (error instanceof ApiProblem && error.errors[0]) form.setError('id', { message: error.errors[0].detail });
      else toastError(error);
    }
  };
  const typed = form.handleSubmit(({ id }) => save(id, false));
  const clear = async () => {
    if (!wheel?.wheel.sensor) return;
    const before = wheel.wheel.sensor;
    try {
      const saved = await putUnit(withSensor(wheel, null));
      toast(`${wheel.position} is open.`, {
        undo: () => putUnit({ ...withSensor(wheel, before), version: saved.version }).then(() => undefined, toastError),
      });
    } catch (error) {
      toastError(error);
    }
  };

  if (!wheel) return null;
  const paired = wheels.length - open.length;
  const shown = capture ? capture.code : (wheel.wheel.sensor?.id ?? OPEN);
  const refused = kind === 'flowThrough' && wheel.wheel.stem === 'rubber';
  const ready = capture?.whole === true && capture.code.length === 6 && !refused;
  const caution = (
    <Notice>
      <b>Right after pairing, before fitting, a sensor reads zero and a low alarm rings.</b> That is expected: acknowledge it.
      Pair after the vehicle has stood 10 minutes or more, with all other sensors 3 m away: they may answer instead.
    </Notice>
  );
  return (
    <>
      <SheetHead
        title="Pairing"
        aside={
          <p className="figure text-[20px] font-semibold">
            {paired} of {wheels.length} paired
          </p>
        }
      >
        Open a position, hold one sensor near, wait for all six digits, save.{' '}
        {open.length === 0 ? 'Every position is full.' : `Without a sensor: ${open.map((w) => w.position).join(', ')}.`}
      </SheetHead>
      <div className="grid gap-x-8 gap-y-6 xl:grid-cols-[minmax(0,1fr)_400px]">
        <div className="min-w-0">
          <div className="mb-3">
            <StandSwitch />
          </div>
          <RigPlan
            label="Positions of the rig"
            units={units}
            wheels={wheels}
            lie={lie}
            size={100}
            tallness={narrow ? 52 : 74}
            wheel={(w) => (
              <PlainWheel
                wheel={w}
                selected={w === wheel}
                paired={w.wheel.sensor !== null}
                stripe={w.wheel.sensor !== null}
                label={`${w.position}: ${w.wheel.sensor ? inPairs(w.wheel.sensor.id) : 'open'}`}
                onSelect={select}
              >
                <span className="figure text-[22px] leading-none font-bold">{w.position}</span>
                <span className="narrow text-[13px]">{w.wheel.sensor ? inPairs(w.wheel.sensor.id) : 'open'}</span>
              </PlainWheel>
            )}
          />
          <div className="mt-6 flex flex-wrap gap-2">
            {open.length === 0 && (
              <Link className="btn btn-solid" to={`/rigs/${rig.id}/watch`}>
                Next: watch
              </Link>
            )}
            <Link className="btn" to={`/rigs/${rig.id}/bench`}>
              {bench.data?.open ? 'To the bench' : 'Open the bench'}
            </Link>
          </div>
          <div className="mt-6 max-w-[72ch] max-xl:hidden">{caution}</div>
        </div>
        <div ref={card} tabIndex={-1} className="outline-none">
          <div className="flex items-center gap-4">
            <span className="figure text-[76px] leading-none font-bold">{wheel.position}</span>
            <p className="text-[15px] leading-snug text-ink2">
              {placeInWords(wheel.local, wheel.unit.name, wheel.unit.axles.length)}
            </p>
          </div>
          <ol className="mt-3">
            {[
              ['Other sensors are 3 m away', null],
              [
                wheel.wheel.sensor
                  ? `The position holds ${inPairs(wheel.wheel.sensor.id)}`
                  : `The position is open: it shows ${inPairs(OPEN)}`,
                null,
              ],
              ['Hold one sensor to the monitor’s edge', 'A short code may come first. Wait until all six digits stand.'],
              ['Read the six digits and save', null],
            ].map(([head, text], i) => (
              <li key={head} className={`flex gap-4 border-t py-2 ${i === 2 ? 'border-t-[3px] border-ink' : 'border-rule'}`}>
                <span className="figure w-4 text-[19px] font-semibold">{i + 1}</span>
                <span>
                  <span className={`text-[16px] ${i === 2 ? 'font-bold' : ''}`}>{head}</span>
                  {text && <span className="block text-[14px] text-ink2">{text}</span>}
                </span>
              </li>
            ))}
          </ol>
          <div className="flex items-center justify-between border border-ink px-4 py-2" role="status" aria-label="Captured ID">
            <span className="figure text-[34px] leading-none font-bold">
              {inPairs(shown)}
              {capture && (
                <span className="text-ink2">
                  {inPairs('_'.repeat(6 - shown.length)).replace(/^/, shown.length > 0 ? ' ' : '')}
                </span>
              )}
            </span>
            <span className="text-right text-[13px] text-ink2">
              {capture === null
                ? wheel.wheel.sensor
                  ? 'saved'
                  : 'open'
                : capture.whole
                  ? 'six of six: it stands'
                  : capture.code === ''
                    ? 'waiting for an answer'
                    : `${capture.code.length} of six so far: wait`}
            </span>
          </div>
          <div className="mt-3 flex items-center gap-3">
            <span className="text-[13px] text-ink2">Sensor</span>
            <Switch label="Kind of sensor" value={kind} options={kinds} onChange={setKind} />
          </div>
          {refused && (
            <div className="mt-3">
              <Notice tone="act">
                <b>No: {wheel.position} has a rubber stem.</b> A flow-through sensor cracks it, leaks or shears it off. Have a
                metal stem fitted, or use a cap.
              </Notice>
            </div>
          )}
          {!refused && wheel.wheel.stem === 'rubber' && kind !== 'internal' && (
            <div className="mt-3">
              <Notice tone={isMotorcycle(wheel.unit) ? 'act' : 'look'}>
                {isMotorcycle(wheel.unit) ? (
                  <>
                    <b>{wheel.position} has a rubber stem: metal only on a motorcycle.</b> A sensor that shears the stem empties
                    the tire while riding. Have a metal stem fitted before this sensor goes on.
                  </>
                ) : (
                  <>{wheel.position} has a rubber stem. Many fit a light cap on a sound one; a metal stem is safer.</>
                )}
              </Notice>
            </div>
          )}
          <div className="mt-3 flex flex-wrap gap-2">
            <button
              type="button"
              className="btn btn-solid grow"
              disabled={!ready}
              onClick={() => capture && void save(capture.code, true)}
            >
              Save to {wheel.position}
            </button>
            {capture && (
              <button type="button" className="btn" onClick={forget}>
                No answer, leave it
              </button>
            )}
            {!capture && wheel.wheel.sensor && (
              <button type="button" className="btn" onClick={() => void clear()}>
                Delete, to open
              </button>
            )}
          </div>
          <section className="mt-6" aria-labelledby="tray">
            <h2 id="tray" className="border-b border-ink pb-1">
              Bench sensors in the tray
            </h2>
            {!bench.data?.open ? (
              <p className="mt-2 text-[14px]">
                Practise with simulated sensors first.{' '}
                <button
                  type="button"
                  className="btn btn-small ml-1"
                  onClick={() => command.mutate({ action: 'open' }, { onError: toastError })}
                >
                  Lay out the bench kit
                </button>
              </p>
            ) : bench.data.tray.length === 0 ? (
              <p className="mt-2 text-[14px] text-ink2">The tray is empty: every bench sensor is on a wheel.</p>
            ) : (
              <ul className="mt-2 flex flex-wrap gap-2">
                {bench.data.tray.slice(0, 12).map((s, i) => (
                  <li key={s.id}>
                    <button
                      type="button"
                      className="btn btn-small"
                      disabled={capture !== null && !capture.whole}
                      onClick={() => void hold(s.id)}
                    >
                      Hold sensor {i + 1} near
                    </button>
                  </li>
                ))}
              </ul>
            )}
          </section>
          <form onSubmit={typed} className="mt-6" noValidate>
            <h2 className="border-b border-ink pb-1">Or type the ID from the monitor</h2>
            <div className="mt-2 flex items-start gap-2">
              <Field
                label={`ID for ${wheel.position}`}
                className="grow"
                placeholder="4C A1 E0"
                autoCapitalize="characters"
                spellCheck={false}
                error={form.formState.errors.id?.message}
                {...form.register('id')}
              />
              <button type="submit" className="btn mt-[22px]" disabled={refused}>
                Save
              </button>
            </div>
          </form>
          <div className="mt-6 xl:hidden">{caution}</div>
        </div>
      </div>
    </>
  );
}
