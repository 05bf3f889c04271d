import { type ReactNode, useEffect, useState } from 'react';
import { useForm } from 'react-hook-form';
import { Link, useSearchParams } from 'react-router';
import { SCENES } from '#core/bench/scenes.ts';
import { BENCH_FACTORS, type BenchCommand, type BenchFactor, type BenchView, SCENE_IDS, type SceneId } from '#schema/bench.ts';
import { validators } from '../../../generated/forms.js';
import { useBench, useBenchCommand } from '../../data/queries.ts';
import { Field, Notice, SheetHead, Switch } from '../../parts/controls.tsx';
import { duration, parseNumber, timeOfDay, useFormat } from '../../parts/format.ts';
import { PlainWheel } from '../../parts/PlainWheel.tsx';
import { RigPlan, useLie } from '../../parts/RigPlan.tsx';
import { checkedBy } from '../../state/forms.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { Drills } from './Drills.tsx';

/** Ways to lose air, by the size of the hole (assumed, but for the bead and the burst). */
const holes = [
  { mm: 0.1, text: 'Leaking valve core, 0.1 mm' },
  { mm: 0.5, text: 'Pin hole, 0.5 mm' },
  { mm: 2, text: 'Nail pulled out, 2 mm' },
  { mm: 40, text: 'Burst, 40 mm' },
];

interface Conditions {
  kmh: string;
  air: string;
}

function Drive({ bench, run }: { bench: BenchView; run: (c: BenchCommand) => void }) {
  const f = useFormat();
  const toC = (text: string) => {
    const n = parseNumber(text);
    return n === null ? Number.NaN : f.temp === 'F' ? ((n - 32) * 5) / 9 : n;
  };
  const airText = String(Math.round(f.temp === 'F' ? bench.airC * 1.8 + 32 : bench.airC));
  const form = useForm<Conditions, unknown, { kmh: number; airC: number }>({
    defaultValues: { kmh: bench.kmh > 0 ? String(Math.round(bench.kmh)) : '80', air: airText },
    resolver: checkedBy(validators.bench, ({ kmh, air }: Conditions) => ({
      value: { kmh: parseNumber(kmh) ?? Number.NaN, airC: toC(air) },
    })),
    mode: 'onChange',
  });
  useEffect(() => {
    if (!form.getFieldState('air').isDirty) form.setValue('air', airText);
  }, [airText, form]);
  const errors = form.formState.errors as { kmh?: object; airC?: object };
  const [track, setTrack] = useState(bench.track);
  const drive = form.handleSubmit(({ kmh }) => run({ action: 'drive', kmh, track }));
  const air = form.handleSubmit(({ airC }) => run({ action: 'air', tempC: airC }));
  return (
    <form onSubmit={drive} noValidate className="grid grid-cols-2 items-start gap-3">
      <Field
        label="Speed"
        unit="km/h"
        inputMode="decimal"
        error={errors.kmh ? 'Over 0 to 250 km/h' : undefined}
        {...form.register('kmh')}
      />
      <div className="flex gap-2 pt-[22px]">
        <button type="submit" className="btn grow">
          {bench.kmh > 0 ? 'Set speed' : 'Drive'}
        </button>
        <button type="button" className="btn grow" disabled={bench.kmh === 0} onClick={() => run({ action: 'stop' })}>
          Stop
        </button>
      </div>
      <Field
        label="Air"
        unit={`°${f.temp}`}
        inputMode="text"
        error={errors.airC ? `${f.temperature(-50)} to ${f.temperature(60)}` : undefined}
        {...form.register('air')}
      />
      <div className="pt-[22px]">
        <button type="button" className="btn w-full" onClick={() => void air()}>
          Set air temperature
        </button>
      </div>
      <label className="col-span-2 flex min-h-[40px] items-center gap-2">
        <input type="checkbox" checked={track} onChange={(e) => setTrack(e.target.checked)} />
        On a track: tires get hotter, and within a lap
      </label>
    </form>
  );
}

/** How fast a scene runs unless told otherwise: slowly enough to be followed, and over within ten minutes where that can be. */
const sceneFactor = (lengthS: number): BenchFactor => BENCH_FACTORS.find((f) => lengthS / f <= 600) ?? 600;

/** Scenes to practise on: what happens, and what a good watch makes of it. */
function Scenes({ bench, units, run }: { bench: BenchView; units: number; run: (c: BenchCommand) => void }) {
  const [scene, setScene] = useState<SceneId>('nail');
  const words = SCENES[scene];
  const factor = sceneFactor(words.lengthS);
  const playing = bench.scene;
  return (
    <section aria-label="Scenes">
      <h2 className="mb-2 border-b border-ink pb-1">Scenes to practise on</h2>
      {playing ? (
        <>
          <p className="font-semibold">{SCENES[playing.id].title}</p>
          <p className="text-body">
            {SCENES[playing.id].text} {SCENES[playing.id].expect}
          </p>
          <progress className="ink-progress my-2" max={1} value={playing.done} aria-label="How much of the scene is over" />
          <p>
            <button type="button" className="btn" onClick={() => run({ action: 'endScene' })}>
              End the scene
            </button>
          </p>
        </>
      ) : (
        <>
          <div className="field">
            <label htmlFor="scene">Scene</label>
            <select id="scene" className="input" value={scene} onChange={(e) => setScene(e.target.value as SceneId)}>
              {SCENE_IDS.filter((id) => SCENES[id].units <= units).map((id) => (
                <option key={id} value={id}>
                  {SCENES[id].title}
                </option>
              ))}
            </select>
          </div>
          <p className="mt-2 text-body">
            {words.text} It takes {duration(words.lengthS)} of the bench’s time: at {factor}x, {duration(words.lengthS / factor)}{' '}
            of yours. To which wheel it happens is drawn: find it on the watch.
          </p>
          <p className="mt-1 text-body text-ink2">{words.expect}</p>
          <p className="mt-2">
            <button type="button" className="btn" onClick={() => run({ action: 'scene', scene, factor })}>
              Play the scene
            </button>
          </p>
        </>
      )}
    </section>
  );
}

const parts = [
  { value: 'bench', text: 'Bench' },
  { value: 'drills', text: 'Drills' },
] as const;

/** A simulated kit on the rig, and drills that are played on it. */
export default function Bench() {
  const [search, setSearch] = useSearchParams();
  const drills = search.get('part') === 'drills';
  const choice = (
    <div className="mb-4">
      <Switch
        parts
        label="Part of the bench"
        value={drills ? 'drills' : 'bench'}
        options={parts}
        onChange={(p) => setSearch(p === 'bench' ? {} : { part: p }, { replace: true })}
      />
    </div>
  );
  if (!drills) return <OnBench choice={choice} />;
  return (
    <>
      <SheetHead title="Bench">What does this alarm mean, and what do you do?</SheetHead>
      {choice}
      <Drills />
    </>
  );
}

/** The kit itself: everything that can go wrong, where nothing can. */
function OnBench({ choice }: { choice: ReactNode }) {
  const { rig, units, wheels } = useRig();
  const f = useFormat();
  const lie = useLie();
  const { data: bench } = useBench(rig.id);
  const command = useBenchCommand(rig.id);
  const [position, setPosition] = useState(wheels[0]?.position ?? '');
  const [hole, setHole] = useState('0.5');
  const run = (c: BenchCommand) => command.mutate(c, { onError: toastError });
  if (!bench)
    return (
      <>
        <SheetHead title="Bench">One moment…</SheetHead>
        {choice}
      </>
    );
  if (!bench.open) {
    return (
      <>
        <SheetHead title="Bench">
          A simulated kit on your own rig: it drives, warms, cools and leaks by physics, and its sensors wake, send and fall
          asleep as real ones do. Its readings go through the same watch as real ones, marked as practice.
        </SheetHead>
        {choice}
        <p>
          <button type="button" className="btn btn-solid" onClick={() => run({ action: 'open' })}>
            Open the bench
          </button>
        </p>
        <p className="mt-4 max-w-[70ch] text-body text-ink2">
          While the bench is open its clock drives this rig’s watch. Put it away before you drive: what it said is forgotten then,
          and real readings count.
        </p>
      </>
    );
  }
  const byPosition = new Map(bench.wheels.map((w) => [w.position, w]));
  const wheel = byPosition.get(position) ?? bench.wheels[0];
  const putAway = () =>
    command.mutate(
      { action: 'close' },
      { onError: toastError, onSuccess: () => toast('The bench is closed. The watch waits for real readings.') },
    );
  return (
    <>
      <SheetHead
        title="Bench"
        aside={
          <div className="flex gap-2">
            <Link className="btn" to={`/rigs/${rig.id}/watch`}>
              See it on the watch
            </Link>
            <button type="button" className="btn" onClick={putAway}>
              Close the bench
            </button>
          </div>
        }
      >
        {bench.running ? `Time runs at ${bench.factor}x` : 'Time is stopped'}
        {bench.time && `, bench clock ${timeOfDay(bench.time)}`}.{' '}
        {bench.kmh > 0 ? `Driving at ${Math.round(bench.kmh)} km/h${bench.track ? ' on a track' : ''}` : 'Standing'}, air{' '}
        {f.temperature(bench.airC)}, {Math.round(bench.altitudeM)} m up. The plan shows what a perfect gauge would say.
      </SheetHead>
      {choice}
      <div className="grid gap-x-8 gap-y-6 xl:grid-cols-[minmax(0,1fr)_352px]">
        <div className="min-w-0">
          <RigPlan
            label="Wheels on the bench"
            units={units}
            wheels={wheels}
            lie={lie}
            wheel={(w) => {
              const b = byPosition.get(w.position);
              return (
                <PlainWheel
                  wheel={w}
                  selected={w.position === wheel?.position}
                  paired={Boolean(b?.sensorId)}
                  onSelect={setPosition}
                >
                  <span className="wheel-head narrow text-note leading-tight">
                    <span className="font-semibold">{w.position}</span>
                    <span>{b && b.holeMm > 0 ? 'leaks' : b?.quiet ? 'quiet' : b && b.hubRiseK > 0 ? 'hot hub' : ''}</span>
                  </span>
                  <span className="flex flex-wrap items-baseline gap-1">
                    <span className="figure text-title leading-none font-bold">{b ? f.figure(b.pressureKpa) : ''}</span>
                    <span className="narrow text-note">{f.unit}</span>
                  </span>
                  <span className="narrow text-note leading-tight">
                    gas {b ? f.temperature(b.gasC) : ''}, {b?.sensorId ? (b.awake ? 'awake' : 'asleep') : 'no sensor'}
                  </span>
                </PlainWheel>
              );
            }}
          />
        </div>
        <div className="flex flex-col gap-5">
          <section aria-label="Road and weather">
            <h2 className="mb-2 border-b border-ink pb-1">Road and weather</h2>
            <Drive bench={bench} run={run} />
          </section>
          {wheel && (
            <section aria-label={`Wheel ${wheel.position}`}>
              <h2 className="mb-2 border-b border-ink pb-1">Wheel {wheel.position}</h2>
              <div className="field">
                <label htmlFor="hole">How the air gets out</label>
                <select id="hole" className="input" value={hole} onChange={(e) => setHole(e.target.value)}>
                  {holes.map((h) => (
                    <option key={h.mm} value={h.mm}>
                      {h.text}
                    </option>
                  ))}
                </select>
              </div>
              <div className="mt-2 flex flex-wrap gap-2">
                <button
                  type="button"
                  className="btn"
                  onClick={() => run({ action: 'leak', position: wheel.position, holeMm: Number(hole) })}
                >
                  Let air out of {wheel.position}
                </button>
                {wheel.holeMm > 0 && (
                  <button type="button" className="btn" onClick={() => run({ action: 'mend', position: wheel.position })}>
                    Close the hole
                  </button>
                )}
                <button type="button" className="btn" onClick={() => run({ action: 'inflate', position: wheel.position })}>
                  Fill to cold target
                </button>
                <button
                  type="button"
                  className="btn"
                  disabled={wheel.sensorId === null}
                  onClick={() => run({ action: 'quiet', position: wheel.position, quiet: !wheel.quiet })}
                >
                  {wheel.quiet ? 'Let the sensor report' : 'Silence the sensor'}
                </button>
                <button
                  type="button"
                  className="btn"
                  onClick={() => run({ action: 'hub', position: wheel.position, riseK: wheel.hubRiseK > 0 ? 0 : 60 })}
                >
                  {wheel.hubRiseK > 0 ? 'Cool the hub' : `Hot hub, ${f.difference(60)} over`}
                </button>
              </div>
            </section>
          )}
          <Scenes bench={bench} units={units.length} run={run} />
          <Notice>Practice only. While the bench is open its clock drives this rig’s watch: put it away before you drive.</Notice>
        </div>
        <section aria-label="Time" className="next-step xl:col-span-2">
          <button
            type="button"
            className={`btn ${bench.running ? '' : 'btn-solid'}`}
            onClick={() => run(bench.running ? { action: 'pause' } : { action: 'run' })}
          >
            {bench.running ? 'Pause' : 'Run'}
          </button>
          <Switch
            label="How fast time runs"
            value={String(bench.factor)}
            options={BENCH_FACTORS.map((v) => ({ value: String(v), text: `${v}x` }))}
            onChange={(v) => run({ action: 'run', factor: Number(v) as BenchFactor })}
          />
        </section>
      </div>
    </>
  );
}
