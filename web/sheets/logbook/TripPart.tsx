import { wrap } from 'comlink';
import { useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { v4 as newId } from 'uuid';
import { riseForShare } from '#core/pressure/hot-run.ts';
import { unitLetter } from '#core/rig/positions.ts';
import { beforeLeaving } from '#core/trip/before.ts';
import { type TripAxle, type TripStage, tripOutlook } from '#core/trip/outlook.ts';
import { LAPSE_K_PER_M, type ProfilePoint, thinned } from '#core/trip/track.ts';
import { convert, KPA_PER_PSI } from '#core/units/units.ts';
import type { TempUnit } from '#schema/common.ts';
import type { Trip } from '#schema/unit.ts';
import { useRecords } from '../../data/queries.ts';
import { Field, Switch } from '../../parts/controls.tsx';
import { parseNumber, useFormat } from '../../parts/format.ts';
import { HeadRow } from '../../parts/HeadRow.tsx';
import { save } from '../../parts/save.ts';
import { Wide } from '../../parts/Wide.tsx';
import { useDraft } from '../../state/drafts.ts';
import { usePlans } from '../../state/plans.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useCells } from '../../state/useCells.ts';
import { useRig } from '../../state/useRig.ts';
import { writeGpx } from './gpx.ts';
import type { GpxWork } from './gpx.worker.ts';
import type { GpxWay } from './gpx-reader.ts';
import { placesOf } from './places.ts';
import { TripChart } from './TripChart.tsx';

interface TypedStage {
  name: string;
  km: string;
  height: string;
}
interface TypedTrip {
  /** Of the trip that is kept; empty while it never was. */
  id?: string;
  name?: string;
  /** Letters of the units that stay at home. */
  stays?: string[];
  from: 'typed' | 'file';
  air: string;
  stages: TypedStage[];
  file: { name: string; profile: ProfilePoint[]; note: string } | null;
}
const fresh = (): TypedTrip => ({
  from: 'typed',
  air: '',
  stages: [
    { name: 'Start', km: '0', height: '' },
    { name: '', km: '', height: '' },
  ],
  file: null,
});

const counted = (n: number, which: string, what: string): string =>
  n === 0 ? '' : n === 1 ? `1 point ${which} was ${what}` : `${n} points ${which} were ${what}`;

/** What an owner should know of a file. */
function noteOf({ withoutHeight, bad, gaps }: GpxWay): string {
  return [
    counted(withoutHeight, 'without a height', 'passed over'),
    counted(bad, 'without a place', 'left out'),
    gaps.count === 0
      ? ''
      : `${gaps.count === 1 ? 'a gap' : `${gaps.count} gaps`} of ${Math.round(gaps.km)} km ${gaps.count === 1 ? 'counts' : 'count'} as a straight line`,
  ]
    .filter(Boolean)
    .join('; ');
}

/** So many places of a way are kept: a pass is among them, as each stretch keeps its lowest and its highest. */
const KEPT_POINTS = 240;

/** A kept trip, to be typed on. */
function typedTrip(t: Trip, temp: TempUnit): TypedTrip {
  const head = {
    id: t.id,
    name: t.name,
    stays: t.stays ?? [],
    air: t.airC === undefined ? '' : String(Number(convert(t.airC, 'C', temp).toFixed(1))),
  };
  if (t.file === undefined)
    return {
      ...head,
      from: 'typed',
      stages: t.stages.map((s) => ({ name: s.name ?? '', km: String(s.km), height: String(s.heightM) })),
      file: null,
    };
  return {
    ...head,
    from: 'file',
    stages: fresh().stages,
    file: { name: t.file, profile: t.stages.map(({ km, heightM, lat, lon }) => ({ km, heightM, lat, lon })), note: '' },
  };
}

/** Heights and kilometres of typed stages; a text where one can't be. */
function profileTyped(stages: readonly TypedStage[]): { points: ProfilePoint[]; errors: Record<string, string> } {
  const errors: Record<string, string> = {};
  const points: ProfilePoint[] = [];
  let last = -1;
  stages.forEach((s, i) => {
    if (s.km.trim() === '' && s.height.trim() === '') return;
    const km = parseNumber(s.km);
    const heightM = parseNumber(s.height);
    if (km === null || km < 0) errors[`km${i}`] = '0 km or more';
    else if (km <= last) errors[`km${i}`] = `After the stage before: over ${last} km`;
    if (heightM === null || heightM < -400 || heightM > 6000) errors[`height${i}`] = '−400 to 6000 m';
    if (km !== null) last = Math.max(last, km);
    if (!errors[`km${i}`] && !errors[`height${i}`]) points.push({ km: km as number, heightM: heightM as number });
  });
  return { points, errors };
}

/** Places whose whereabouts are known. */
const located = (points: readonly ProfilePoint[]) =>
  points.flatMap(({ lat, lon, heightM }) => (lat === undefined || lon === undefined ? [] : [{ lat, lon, heightM }]));

/** Name of the stage that a place of a typed way belongs to: empty rows are no places. */
const nameAt = (stages: readonly TypedStage[], i: number): string =>
  stages.filter((s) => s.km.trim() !== '' || s.height.trim() !== '')[i]?.name.trim() ?? '';

/** Over the low limit at the coldest stop: 1 psi, as close as one sets a pressure (common practice, no source). */
const MARGIN_KPA = KPA_PER_PSI;

/** A battery with less left than this is changed before a trip, months. Ours. */
const TRIP_CELL_MONTHS = 2;

/** Batteries that might end on the way. */
function BeforeCells({ stays }: { stays: readonly string[] }) {
  const { rig } = useRig();
  const { cells } = useCells();
  const soon = cells.filter(
    (c) =>
      c.wheel.wheel.sensor?.kind !== 'internal' &&
      !stays.includes(c.wheel.position[0] as string) &&
      c.forecast !== null &&
      c.forecast.leftMonths < TRIP_CELL_MONTHS,
  );
  if (soon.length === 0) return null;
  return (
    <p className="mt-3 max-w-[68ch] text-body">
      <b>Batteries before you leave:</b> {soon.map((c) => c.wheel.position).join(', ')}.{' '}
      <Link className="underline underline-offset-3" to={`/rigs/${rig.id}/upkeep?part=cells`}>
        How long each lasts
      </Link>
    </p>
  );
}

/** What to set an axle to at the start, and why more than usual. */
function Before({
  axle,
  setM,
  stages,
  profile,
}: {
  axle: TripAxle & { maxColdKpa: number | undefined; minimumKpa: number | undefined };
  setM: number;
  stages: readonly TripStage[];
  profile: readonly ProfilePoint[];
}) {
  const f = useFormat();
  const b = beforeLeaving(axle, setM, stages, MARGIN_KPA, axle.maxColdKpa);
  const short = axle.minimumKpa !== undefined && axle.coldKpa < axle.minimumKpa;
  return (
    <>
      <b className="figure text-head">{f.pressure(b.usualKpa)}</b> at {f.temperature(stages[0]?.airC ?? 0)}
      {b.neededKpa !== null && b.at !== null && (
        <span className="block">
          {b.blocked === null
            ? `or ${f.pressure(b.neededKpa)}, so that low doesn’t ring at rest at km ${Math.round(profile[b.at]?.km ?? 0)}`
            : b.blocked === 'maximum'
              ? 'low rings on the way, and the tire may not have more: lower the limit'
              : 'low rings on the way, and with more high would: set the limits apart'}
        </span>
      )}
      {short && (
        <span className="block font-semibold text-magenta">
          under the load minimum, {f.pressure(axle.minimumKpa as number)} cold
        </span>
      )}
    </>
  );
}

/** The pressures of a trip: at rest and on the move, by height and air. */
export function TripPart() {
  const whole = useRig();
  const { rig, units } = whole;
  const f = useFormat();
  const plans = usePlans(whole);
  const { changeRig } = useRecords();
  const [typed, setTyped, drop] = useDraft<TypedTrip>(
    `trip.${rig.id}`,
    rig.trips?.[0] ? typedTrip(rig.trips[0], f.temp) : fresh(),
  );
  const [problem, setProblem] = useState<string | null>(null);
  /** The file that is being read, and who reads it. */
  const [reads, setReads] = useState<string | null>(null);
  const reading = useRef<Worker | null>(null);
  const [axle, setAxle] = useState<string | null>(null);
  const put = (change: Partial<TypedTrip>) => setTyped({ ...typed, ...change });
  const { points: typedPoints, errors } = useMemo(() => profileTyped(typed.stages), [typed.stages]);
  const profile = typed.from === 'file' ? (typed.file?.profile ?? []) : typedPoints;
  const airTyped = parseNumber(typed.air);
  const airC = airTyped === null ? null : convert(airTyped, f.temp, 'C');
  const airWrong = typed.air.trim() !== '' && (airC === null || airC < -40 || airC > 50);
  const stays = typed.stays ?? [];
  const axles = plans.flatMap((p) => {
    const { cold, limits } = p.setting;
    if (!cold || p.first.place === 'S' || stays.includes(p.code[0] as string)) return [];
    return [
      {
        axle: p.code,
        coldKpa: cold.kpa,
        maxColdKpa: p.facts.maxColdKpa,
        minimumKpa: p.facts.minimum?.kpa ?? undefined,
        coldTempC: cold.tempC,
        // Without a learned figure 10 % more on the move (common practice, no source).
        riseK: riseForShare(cold.kpa, cold.tempC, p.day?.hotShare ?? 0.1),
        ...(limits?.lowKpa == null ? {} : { lowKpa: limits.lowKpa }),
        ...(limits?.highKpa == null ? {} : { highKpa: limits.highKpa }),
      },
    ];
  });
  const startM = profile[0]?.heightM ?? 0;
  const setM = rig.climate?.altitudeSetM ?? startM;
  const there =
    airC === null || airWrong
      ? []
      : profile.map((p) => ({ altitudeM: p.heightM, airC: airC - LAPSE_K_PER_M * (p.heightM - startM) }));
  const out = there.length >= 2 && axles.length > 0 ? tripOutlook(axles, setM, there) : null;
  const stopReading = () => {
    reading.current?.terminate();
    reading.current = null;
    setReads(null);
  };
  const load = async (file: File | undefined) => {
    if (!file) return;
    stopReading();
    const own = new Worker(new URL('./gpx.worker.ts', import.meta.url), { type: 'module' });
    reading.current = own;
    setProblem(null);
    setReads(file.name);
    try {
      const way = await new Promise<GpxWay>((done, failed) => {
        own.onerror = () => failed(new Error('The file can’t be read now. Choose it again.'));
        wrap<GpxWork>(own).read(file).then(done, failed);
      });
      // What was typed meanwhile stays.
      if (reading.current === own)
        setTyped((now) => ({ ...now, file: { name: file.name, profile: way.profile, note: noteOf(way) } }));
    } catch (e) {
      if (reading.current === own) setProblem((e as Error).message);
    } finally {
      if (reading.current === own) stopReading();
    }
  };
  const chosen = axles.find((a) => a.axle === axle) ?? axles[0];
  const index = chosen ? axles.indexOf(chosen) : -1;
  const unit = (kpa: number) => convert(kpa, 'kPa', f.unit);
  if (plans.every((p) => !p.setting.cold)) return <p>Set a cold pressure for an axle first.</p>;
  const kept = rig.trips ?? [];
  const same = kept.find((t) => t.id === typed.id);
  const stages = profile.length > 2 * KEPT_POINTS ? thinned(profile, KEPT_POINTS) : profile;
  const keep = async () => {
    const id = typed.id || newId();
    const trip: Trip = {
      id,
      name: (typed.name ?? '').trim() || 'Trip',
      ...(airC === null || airWrong ? {} : { airC }),
      ...(stays.length > 0 ? { stays } : {}),
      ...(typed.from === 'file' && typed.file ? { file: typed.file.name.slice(0, 120) } : {}),
      stages: stages.map((p, i) => ({
        ...(typed.from === 'typed' && nameAt(typed.stages, i) ? { name: nameAt(typed.stages, i) } : {}),
        km: Math.round(p.km * 1000) / 1000,
        heightM: p.heightM,
        ...(p.lat === undefined || p.lon === undefined ? {} : { lat: p.lat, lon: p.lon }),
      })),
    };
    try {
      await changeRig(rig.id, (now) => ({ ...now, trips: [...(now.trips ?? []).filter((t) => t.id !== id), trip].slice(-20) }));
      put({ id, name: trip.name });
      toast('The trip is kept.');
    } catch (e) {
      toastError(e);
    }
  };
  const remove = async () => {
    if (!same) return;
    try {
      await changeRig(rig.id, (now) => ({ ...now, trips: (now.trips ?? []).filter((t) => t.id !== same.id) }));
      drop(fresh());
      toast('The trip is deleted.', {
        undo: () =>
          void changeRig(rig.id, (now) => ({ ...now, trips: [...(now.trips ?? []), same] }))
            .then(() => drop(typedTrip(same, f.temp)))
            .catch(toastError),
      });
    } catch (e) {
      toastError(e);
    }
  };
  return (
    <div className="grid gap-x-8 gap-y-6 xl:grid-cols-[336px_minmax(0,1fr)]">
      <section aria-label="The way">
        <div className="mb-3 grid grid-cols-2 items-start gap-3">
          {kept.length > 0 && (
            <div className="field">
              <label htmlFor="trip-kept">Trip</label>
              <select
                id="trip-kept"
                className="input"
                value={same ? same.id : ''}
                onChange={(e) => {
                  const next = kept.find((t) => t.id === e.target.value);
                  const before = typed;
                  // The file was for the trip that was open.
                  stopReading();
                  drop(next ? typedTrip(next, f.temp) : fresh());
                  toast(next ? `${next.name} is open.` : 'A new trip.', { undo: () => setTyped(before) });
                }}
              >
                <option value="">A new trip</option>
                {kept.map((t) => (
                  <option key={t.id} value={t.id}>
                    {t.name}
                  </option>
                ))}
              </select>
            </div>
          )}
          <Field
            label="Name"
            maxLength={60}
            placeholder="such as to the pass"
            value={typed.name ?? ''}
            onChange={(e) => put({ name: e.target.value })}
          />
        </div>
        {units.length > 1 && (
          <fieldset className="mb-3 flex flex-wrap gap-x-4">
            <legend className="text-note text-ink2">What goes</legend>
            {units.map((u, i) => {
              const letter = unitLetter(i);
              return (
                <label key={u.id} className="flex min-h-[40px] items-center gap-2">
                  <input
                    type="checkbox"
                    checked={!stays.includes(letter)}
                    onChange={(e) => put({ stays: e.target.checked ? stays.filter((s) => s !== letter) : [...stays, letter] })}
                  />
                  {u.name}
                </label>
              );
            })}
          </fieldset>
        )}
        <Switch
          label="Where the heights come from"
          value={typed.from}
          options={[
            { value: 'typed', text: 'Typed stages' },
            { value: 'file', text: 'GPX file' },
          ]}
          onChange={(from) => put({ from })}
        />
        <Field
          className="mt-3"
          label="Air at the start"
          unit={`°${f.temp}`}
          inputMode="text"
          value={typed.air}
          error={airWrong ? `${f.temperature(-40)} to ${f.temperature(50)}` : undefined}
          onChange={(e) => put({ air: e.target.value })}
        />
        {typed.from === 'file' ? (
          <div className="field mt-3">
            <label htmlFor="gpx">GPX file with heights</label>
            <input
              id="gpx"
              type="file"
              accept=".gpx,application/gpx+xml"
              className="input py-1.5"
              onChange={(e) => void load(e.target.files?.[0])}
            />
            {reads !== null && (
              <p className="mt-1 text-body" role="status">
                Reading {reads}…
              </p>
            )}
            {problem && (
              <p className="error" role="alert">
                {problem}
              </p>
            )}
            {typed.file && reads === null && (
              <p className="mt-1 text-body">
                {typed.file.name}: {Math.round(typed.file.profile.at(-1)?.km ?? 0)} km,{' '}
                {Math.round(Math.min(...typed.file.profile.map((p) => p.heightM)))} to{' '}
                {Math.round(Math.max(...typed.file.profile.map((p) => p.heightM)))} m. {typed.file.note && `${typed.file.note}.`}
              </p>
            )}
          </div>
        ) : (
          <>
            <ol className="mt-3 flex flex-col gap-3">
              {typed.stages.map((s, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: a stage is its place in the list
                <li key={i} className="grid grid-cols-[minmax(0,1fr)_84px_96px] items-start gap-2">
                  <Field
                    label={`Stage ${i + 1}`}
                    value={s.name}
                    maxLength={40}
                    onChange={(e) => put({ stages: typed.stages.map((x, j) => (j === i ? { ...x, name: e.target.value } : x)) })}
                  />
                  <Field
                    label="km"
                    inputMode="decimal"
                    value={s.km}
                    error={errors[`km${i}`]}
                    onChange={(e) => put({ stages: typed.stages.map((x, j) => (j === i ? { ...x, km: e.target.value } : x)) })}
                  />
                  <Field
                    label="Height, m"
                    inputMode="text"
                    value={s.height}
                    error={errors[`height${i}`]}
                    onChange={(e) =>
                      put({ stages: typed.stages.map((x, j) => (j === i ? { ...x, height: e.target.value } : x)) })
                    }
                  />
                </li>
              ))}
            </ol>
            <p className="mt-3 flex gap-2">
              <button
                type="button"
                className="btn btn-small"
                disabled={typed.stages.length >= 40}
                onClick={() => put({ stages: [...typed.stages, { name: '', km: '', height: '' }] })}
              >
                Add a stage
              </button>
              <button
                type="button"
                className="btn btn-small"
                disabled={typed.stages.length <= 2}
                onClick={() => put({ stages: typed.stages.slice(0, -1) })}
              >
                Remove the last
              </button>
            </p>
          </>
        )}
        <p className="mt-4 flex flex-wrap gap-2">
          <button
            type="button"
            className="btn"
            disabled={profile.length < 2 || Object.keys(errors).length > 0}
            onClick={() => void keep()}
          >
            Keep the trip
          </button>
          {out && profile.some((p) => p.lat !== undefined) && (
            <button
              type="button"
              className="btn"
              onClick={() =>
                save(
                  new Blob([writeGpx((typed.name ?? '').trim() || 'Trip', located(stages), placesOf(profile, axles, out, f))], {
                    type: 'application/gpx+xml',
                  }),
                  `${(typed.name ?? '').trim() || 'Trip'}.gpx`,
                )
              }
            >
              Export GPX
            </button>
          )}
          {same && (
            <button type="button" className="btn" onClick={() => void remove()}>
              Delete the trip
            </button>
          )}
        </p>
        <p className="mt-4 text-body text-ink2">
          The air gets 6.5 °C cooler with each 1,000 m. Pressures were set at {Math.round(setM)} m.
        </p>
      </section>
      <section aria-label="Pressures on the way" className="min-w-0">
        {axles.length === 0 ? (
          <p>Choose what goes: no axle of it has a cold pressure.</p>
        ) : !out || !chosen ? (
          <p className="max-w-[56ch]">
            Type the air at the start and at least two stages with their heights, or choose a GPX file. The pressures of each axle
            along the way will be here.
          </p>
        ) : (
          <>
            <Switch
              label="Axle of the chart"
              value={chosen.axle}
              options={axles.map((a) => ({ value: a.axle, text: a.axle }))}
              onChange={setAxle}
            />
            <div className="mt-3">
              <TripChart
                points={profile.map((p, i) => ({
                  ...p,
                  rest: unit(out.stages[i]?.axles[index]?.restKpa ?? 0),
                  running: unit(out.stages[i]?.axles[index]?.runningKpa ?? 0),
                }))}
                low={chosen.lowKpa === undefined ? null : unit(chosen.lowKpa)}
                high={chosen.highKpa === undefined ? null : unit(chosen.highKpa)}
                unit={f.unit}
                label={`Pressure of ${chosen.axle} along the way, at rest and running, ${f.unit}`}
              />
            </div>
            <Wide label="Pressures by axle" className="mt-4">
              <table className="sheet-table">
                <HeadRow names={['Axle', 'Set before leaving', 'Lowest at rest', 'Highest running', 'What a fixed limit does']} />
                <tbody className="narrow">
                  {axles.map((a, i) => {
                    const own = out.stages.map((s) => s.axles[i]);
                    const rest = Math.min(...own.map((x) => x?.restKpa ?? Number.POSITIVE_INFINITY));
                    const running = Math.max(...own.map((x) => x?.runningKpa ?? 0));
                    const first = (kind: 'low' | 'high') => {
                      const at = own.findIndex((x) => x?.rings.includes(kind));
                      return at < 0 ? '' : `rings ${kind} from km ${Math.round(profile[at]?.km ?? 0)}`;
                    };
                    return (
                      <tr key={a.axle}>
                        <th scope="row" className="border-b-rule! font-semibold text-ink!">
                          {a.axle}
                        </th>
                        <td>
                          <Before axle={a} setM={setM} stages={there} profile={profile} />
                        </td>
                        <td>{f.pressure(rest)}</td>
                        <td>{f.pressure(running)}</td>
                        <td>{[first('low'), first('high')].filter(Boolean).join('; ') || 'stays quiet'}</td>
                      </tr>
                    );
                  })}
                </tbody>
              </table>
            </Wide>
            <BeforeCells stays={stays} />
            <p className="mt-3 max-w-[68ch] text-body">
              Don’t let air out at the top: a gauge reads more there because the air outside presses less. Set the cold pressures
              before you leave, in the valley, for the load you carry.
            </p>
          </>
        )}
      </section>
    </div>
  );
}
