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
  /** When the wheel was last heard after the start; null where it wasn't. */
  const lastMs = (position: string): number | null => {
    const at = Date.parse(watch?.wheels.find((w) => w.position === position)?.time ?? '');
    return at >= startedMs ? at : null;
  };
  const first = (position: string): number | null => {
    const times = heard?.readings.filter((r) => r.position === position).map((r) => Date.parse(r.time)) ?? [];
    const seen = Date.parse(rig.firstDrive?.heard?.[position] ?? '');
    if (seen >= startedMs) times.push(seen);
    // What the watch has just heard isn't among the readings yet.
    const last = lastMs(position);
    if (heard && last !== null && last - startedMs <= LOOKED_AT_MS) times.push(last);
    return times.length === 0 ? null : Math.max(0, (Math.min(...times) - startedMs) / 1000);
  };
  /** It has been heard, though not in the hours the board looks at. */
  const isLater = (position: string): boolean => (lastMs(position) ?? 0) - startedMs > LOOKED_AT_MS;
  const wordOf = (position: string) => {
    if (!started) return { text: '', waits: false, worries: false };
    const s = first(position);
    if (s !== null) return { text: `after ${duration(s)}`, waits: false, worries: false };
    if (isLater(position)) return { text: 'after more than 2 h', waits: false, worries: false };
    // Until the readings are here nobody knows that there are none.
    const worries = waitedS > WORRY_S && heard !== undefined;
    return { text: worries ? `nothing for ${duration(waitedS)}` : 'waiting', waits: true, worries };
  };
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
  const unheard = paired.filter((w) => wordOf(w.position).waits);
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
            {paired.map((w) => {
              const word = wordOf(w.position);
              const view = watch?.wheels.find((v) => v.position === w.position);
              return (
                <tr key={w.position}>
                  <td className="figure text-head font-bold">{w.position}</td>
                  <td className={word.worries ? 'font-bold text-magenta' : ''}>
                    {word.text}
                    {word.waits && (
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
                    {view && view.pressureKpa !== null && started && !word.waits && view.state === 'live'
                      ? f.pressure(view.pressureKpa)
                      : ''}
                  </td>
                  <td className="text-note text-ink2">
                    {w.place === 'S'
                      ? 'a tap on it: it doesn’t roll, so it reports rarely'
                      : normal[w.wheel.sensor?.kind ?? 'cap']}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </Wide>
      {unheard.some((w) => wordOf(w.position).worries) && (
        <div className="mt-4 max-w-[72ch]">
          <Notice>
            <b>{unheard.map((w) => w.position).join(', ')}: not heard. In this order:</b>
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
