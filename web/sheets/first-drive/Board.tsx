import { useQuery } from '@tanstack/react-query';
import type { SensorKind } from '#schema/common.ts';
import { ask } from '../../data/api.ts';
import { useRecords, useWatch } from '../../data/queries.ts';
import { Notice } from '../../parts/controls.tsx';
import { duration, useFormat } from '../../parts/format.ts';
import { Wide } from '../../parts/Wide.tsx';
import { toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';

/** How long a first word takes (common practice, no source): 2 to 10 minutes for a rig; internal ones after about 30 m of rolling. */
const normal: Record<SensorKind, string> = {
  cap: 'a tap on the wheel, or 2 to 10 minutes of driving',
  flowThrough: 'a tap on the wheel, or 2 to 10 minutes of driving',
  internal: 'about 30 m of rolling, then 2 to 10 minutes',
};
const WORRY_S = 600;
/** The board looks at this long a time from the start. */
const LOOKED_AT_MS = 2 * 3_600_000;

const tries = [
  'Is the right vehicle’s list open, the trailer connected, the monitor awake and not only on its charger?',
  'Tap the wheel, or drive 10 minutes: sensors sleep.',
  'Battery: film pulled, plus side up, O-ring seated, no corrosion.',
  'Unscrew the sensor and screw it on again, snugly.',
  'Swap test: put it on a wheel whose sensor works. Does the fault follow the sensor, or stay with the valve?',
  'Pair it again; then look at monitor place and repeater.',
];

/** Acquisition board: who has spoken since the start, after how long, and who has not. */
export default function Board() {
  const { rig, wheels } = useRig();
  const f = useFormat();
  const watch = useWatch(rig.id).data;
  const { changeRig } = useRecords();
  const started = rig.firstDrive?.startedAt;
  const heard = useQuery({
    queryKey: ['heard', rig.id, started],
    queryFn: () =>
      ask('readings', {
        params: { rig: rig.id },
        query: { from: started ?? '', to: new Date(Date.parse(started ?? '') + LOOKED_AT_MS).toISOString(), step: 5 },
      }),
    enabled: started !== undefined,
    refetchInterval: 5000,
  }).data;
  const now = watch?.time ?? new Date().toISOString();
  const startedMs = started === undefined ? Number.NaN : Date.parse(started);
  /** The monitor shows it, whether or not a program passes it on. */
  const tick = (position: string) =>
    void changeRig(rig.id, (r) => ({
      ...r,
      firstDrive: { ...r.firstDrive, heard: { ...r.firstDrive?.heard, [position]: now } },
    })).catch(toastError);
  const begin = () =>
    void changeRig(rig.id, (r) => ({ ...r, firstDrive: { ...r.firstDrive, startedAt: now, heard: {} } })).catch(toastError);
  const paired = wheels.filter((w) => w.wheel.sensor);
  if (paired.length === 0) return <p>No wheel has a sensor yet: pair and fit them first.</p>;
  const waitedS = started ? Math.max(0, (Date.parse(now) - Date.parse(started)) / 1000) : 0;
  const rows = paired.map((wheel) => {
    const { position } = wheel;
    const view = watch?.wheels.find((v) => v.position === position);
    const later = (time: string | null | undefined) => Date.parse(time ?? '') - startedMs;
    const lastMs = later(view?.time);
    const times = [
      // A step of readings may have begun before the start.
      ...(heard?.readings.filter((r) => r.position === position).map((r) => Math.max(0, later(r.time))) ?? []),
      later(rig.firstDrive?.heard?.[position]),
      // What the watch has just heard isn't among the readings yet.
      ...(heard && lastMs <= LOOKED_AT_MS ? [lastMs] : []),
    ].filter((ms) => ms >= 0);
    // Not in the hours the board looks at, but since.
    const isLater = times.length === 0 && lastMs > LOOKED_AT_MS;
    const waits = started !== undefined && times.length === 0 && !isLater;
    // Until the readings are here nobody knows that there are none.
    const worries = waits && waitedS > WORRY_S && heard !== undefined;
    const text = isLater
      ? `after more than ${duration(LOOKED_AT_MS / 1000)}`
      : times.length > 0
        ? `after ${duration(Math.min(...times) / 1000)}`
        : worries
          ? `nothing for ${duration(waitedS)}`
          : waits
            ? 'waiting'
            : '';
    return { wheel, view, text, isLater, waits, worries };
  });
  const unheard = rows.filter((r) => r.waits);
  return (
    <>
      <div className="flex flex-wrap items-center gap-4">
        <button type="button" className={`btn ${started ? '' : 'btn-solid btn-tall text-head'}`} onClick={begin}>
          {started ? 'Start again from now' : 'Start: switch on, tap the wheels, drive'}
        </button>
        {started && (
          <p className="figure text-head font-semibold">
            {paired.length - unheard.length} of {paired.length} heard, {duration(waitedS)} since the start
          </p>
        )}
      </div>
      <p className="mt-2 max-w-[70ch] text-body text-ink2">
        Do not work the screen while driving. Wait before you worry: 6 to 7 minutes for a whole rig are usual.
      </p>
      <Wide label="Acquisition board" className="mt-4">
        <table className="sheet-table">
          <thead>
            <tr>
              <th scope="col">Wheel</th>
              <th scope="col">First word</th>
              <th scope="col">It says</th>
              <th scope="col">Normal for it</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(({ wheel: w, view, text, isLater, waits, worries }) => (
              <tr key={w.position}>
                <td className="figure text-head font-bold">{w.position}</td>
                <td className={worries ? 'font-bold text-magenta' : ''}>
                  <span className={isLater ? '' : 'whitespace-nowrap'}>{text}</span>
                  {waits && (
                    <button
                      type="button"
                      className="btn btn-small ml-2"
                      aria-label={`The monitor shows ${w.position}`}
                      onClick={() => tick(w.position)}
                    >
                      The monitor shows it
                    </button>
                  )}
                </td>
                <td className="narrow">
                  {view && view.pressureKpa !== null && started && !waits && view.state === 'live'
                    ? f.pressure(view.pressureKpa)
                    : ''}
                </td>
                <td className="text-note text-ink2">
                  {w.place === 'S' ? 'a tap on it: it doesn’t roll, so it reports rarely' : normal[w.wheel.sensor?.kind ?? 'cap']}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Wide>
      {unheard.some((r) => r.worries) && (
        <div className="mt-4 max-w-[72ch]">
          <Notice>
            <b>{unheard.map((r) => r.wheel.position).join(', ')}: not heard. In this order:</b>
            <ol className="mt-1 list-decimal pl-5">
              {tries.map((t) => (
                <li key={t}>{t}</li>
              ))}
            </ol>
          </Notice>
        </div>
      )}
    </>
  );
}
