import { useMemo, useState } from 'react';
import { riseForShare } from '#core/pressure/hot-run.ts';
import { tripOutlook } from '#core/trip/outlook.ts';
import { LAPSE_K_PER_M, type ProfilePoint, profileOf } from '#core/trip/track.ts';
import { convert } from '#core/units/units.ts';
import { Field, Switch } from '../../parts/controls.tsx';
import { parseNumber, useFormat } from '../../parts/format.ts';
import { HeadRow } from '../../parts/HeadRow.tsx';
import { Wide } from '../../parts/Wide.tsx';
import { useDraft } from '../../state/drafts.ts';
import { usePlans } from '../../state/plans.ts';
import { useRig } from '../../state/useRig.ts';
import { readGpx } from './gpx.ts';
import { TripChart } from './TripChart.tsx';

interface TypedStage {
  name: string;
  km: string;
  height: string;
}
interface TypedTrip {
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

/** The pressures of a trip: at rest and on the move, by height and air. */
export function TripPart() {
  const whole = useRig();
  const { rig } = whole;
  const f = useFormat();
  const plans = usePlans(whole);
  const [typed, setTyped] = useDraft<TypedTrip>(`trip.${rig.id}`, fresh());
  const [problem, setProblem] = useState<string | null>(null);
  const [axle, setAxle] = useState<string | null>(null);
  const put = (change: Partial<TypedTrip>) => setTyped({ ...typed, ...change });
  const { points: typedPoints, errors } = useMemo(() => profileTyped(typed.stages), [typed.stages]);
  const profile = typed.from === 'file' ? (typed.file?.profile ?? []) : typedPoints;
  const airTyped = parseNumber(typed.air);
  const airC = airTyped === null ? null : convert(airTyped, f.temp, 'C');
  const airWrong = typed.air.trim() !== '' && (airC === null || airC < -40 || airC > 50);
  const axles = plans.flatMap((p) => {
    const { cold, limits } = p.setting;
    if (!cold || p.first.place === 'S') return [];
    return [
      {
        axle: p.code,
        coldKpa: cold.kpa,
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
  const out =
    profile.length >= 2 && airC !== null && !airWrong && axles.length > 0
      ? tripOutlook(
          axles,
          setM,
          profile.map((p) => ({ altitudeM: p.heightM, airC: airC - LAPSE_K_PER_M * (p.heightM - startM) })),
        )
      : null;
  const load = async (file: File | undefined) => {
    if (!file) return;
    setProblem(null);
    try {
      const read = readGpx(await file.text());
      const notes = [
        counted(read.withoutHeight, 'without a height', 'passed over'),
        counted(read.bad, 'without a place', 'left out'),
      ].filter(Boolean);
      put({ from: 'file', file: { name: file.name, profile: profileOf(read.points), note: notes.join('; ') } });
    } catch (e) {
      setProblem((e as Error).message);
    }
  };
  const chosen = axles.find((a) => a.axle === axle) ?? axles[0];
  const index = chosen ? axles.indexOf(chosen) : -1;
  const unit = (kpa: number) => convert(kpa, 'kPa', f.unit);
  if (axles.length === 0) return <p>Set a cold pressure for an axle first.</p>;
  return (
    <div className="grid gap-x-8 gap-y-6 xl:grid-cols-[336px_minmax(0,1fr)]">
      <section aria-label="The way">
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
            {problem && (
              <p className="error" role="alert">
                {problem}
              </p>
            )}
            {typed.file && (
              <p className="mt-1 text-[14px]">
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
        <p className="mt-4 text-[14px] text-ink2">
          The air gets 6.5 °C cooler with each 1,000 m. Pressures were set at {Math.round(setM)} m.
        </p>
      </section>
      <section aria-label="Pressures on the way" className="min-w-0">
        {!out || !chosen ? (
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
                <HeadRow names={['Axle', 'Lowest at rest', 'Highest running', 'What a fixed limit does']} />
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
                        <td>{f.pressure(rest)}</td>
                        <td>{f.pressure(running)}</td>
                        <td>{[first('low'), first('high')].filter(Boolean).join('; ') || 'stays quiet'}</td>
                      </tr>
                    );
                  })}
                </tbody>
              </table>
            </Wide>
            <p className="mt-3 max-w-[68ch] text-[14px]">
              Don’t let air out at the top: a gauge reads more there because the air outside presses less. Set the cold pressures
              before you leave, in the valley, for the load you carry.
            </p>
          </>
        )}
      </section>
    </div>
  );
}
