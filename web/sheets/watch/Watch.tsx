import { useEffect, useMemo, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link } from 'react-router';
import type { Alarm, WatchView, WheelView } from '#schema/alarm.ts';
import { setPreferences, usePreferences } from '../../app/preferences.ts';
import { useRig } from '../../app/useRig.ts';
import { useLiveState } from '../../data/live.ts';
import { useAcknowledge, useAlarms, useBench, useSilence, useWatch } from '../../data/queries.ts';
import { SheetHead } from '../../parts/controls.tsx';
import { Facts } from '../../parts/Facts.tsx';
import { duration, type Format, inPairs, timeOfDay, useFormat } from '../../parts/format.ts';
import { RigPlan, useLie } from '../../parts/RigPlan.tsx';
import { ring, wakeSound } from '../../parts/sound.ts';
import { toast, toastError } from '../../parts/toast.ts';
import { WheelCard } from '../../parts/WheelCard.tsx';
import { alarmWords, inkOf, placeInWords } from '../../parts/words.ts';

const urgency = { stop: 0, look: 1, know: 2 } as const;

/** What must be done first comes first: urgency, then what nobody has seen yet, then the newest. */
const inOrder = (alarms: readonly Alarm[]): Alarm[] =>
  [...alarms].sort(
    (a, b) =>
      urgency[a.severity] - urgency[b.severity] ||
      Number(a.acknowledgedAt !== null) - Number(b.acknowledgedAt !== null) ||
      b.fromTime.localeCompare(a.fromTime),
  );

function AlarmItem({
  alarm,
  wheel,
  view,
  onSelect,
}: {
  alarm: Alarm;
  wheel: WheelView | undefined;
  view: WatchView;
  onSelect: () => void;
}) {
  const f = useFormat();
  const acknowledge = useAcknowledge(view.rigId);
  const words = alarmWords(alarm, wheel, f, view.time);
  const bar = { stop: 'border-t-4 border-magenta', look: 'border-t-4 border-ink', know: 'border-t border-ink' }[alarm.severity];
  return (
    <li className={`pt-3 pb-5 max-md:pb-3 ${bar}`} data-alarm={`${alarm.position} ${alarm.kind}`}>
      <div className="flex items-baseline justify-between gap-3">
        <h3>
          <button type="button" className="text-left hover:underline" onClick={onSelect}>
            {words.title}
          </button>
        </h3>
        <span className="narrow text-[13px] font-semibold whitespace-nowrap text-ink2">
          {timeOfDay(alarm.fromTime, view.time)}
        </span>
      </div>
      <p className={`mt-1 text-[14px] ${alarm.severity === 'stop' && alarm.acknowledgedAt === null ? '' : 'max-md:hidden'}`}>
        {words.text}
      </p>
      <p className="mt-2">
        {alarm.acknowledgedAt === null ? (
          <button
            type="button"
            className={`btn ${alarm.severity === 'stop' ? 'btn-solid' : ''}`}
            disabled={acknowledge.isPending}
            onClick={() => acknowledge.mutate(alarm.id, { onError: toastError })}
          >
            Acknowledge {alarm.position}
          </button>
        ) : (
          <span className="text-[13px] text-ink2">
            Acknowledged {timeOfDay(alarm.acknowledgedAt, view.time)}. The mark stays until the cause is gone.
          </span>
        )}
      </p>
    </li>
  );
}

function headLine(view: WatchView, bench: { kmh: number } | undefined, f: Format): string {
  const paired = view.wheels.filter((w) => w.sensorId !== null);
  const live = paired.filter((w) => w.state === 'live').length;
  const parts: string[] = [];
  if (view.clock === 'bench' && bench)
    parts.push(bench.kmh > 0 ? `Driving on the bench, ${Math.round(bench.kmh)} km/h.` : 'Standing on the bench.');
  if (paired.length === 0) parts.push('No sensor is paired yet.');
  else parts.push(`${live} of ${paired.length} sensors heard in the last 5 min.`);
  if (view.airC !== null) parts.push(`Air ${f.temperature(view.airC)}.`);
  return parts.join(' ');
}

/** All wheels as a list: for reading out, and for the exact figures. */
function WheelTable({ view, connected }: { view: WatchView; connected: boolean }) {
  const f = useFormat();
  const figure = (kpa: number | null) => (kpa === null ? '' : f.figure(kpa));
  return (
    <div className="overflow-x-auto">
      <table className="sheet-table">
        <caption className="pb-1 text-left text-[16px] font-bold">
          All wheels <span className="text-[13px] font-normal text-ink2">pressures in {f.unit}</span>
        </caption>
        <thead>
          <tr>
            {['Wheel', 'Reads', 'Expected now', 'Cold', 'Low', 'High', 'Sensor', 'Last heard'].map((h) => (
              <th key={h} scope="col">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody className="narrow">
          {view.wheels.map((w) => {
            const ink = inkOf(w, connected);
            const fresh = ink === 'steady' || ink === 'look' || ink === 'act';
            return (
              <tr key={w.position}>
                <th scope="row" className="border-b-rule! font-semibold text-ink!">
                  {w.position}
                </th>
                <td className="font-semibold">
                  {w.pressureKpa === null ? '' : fresh ? figure(w.pressureKpa) : `(${figure(w.pressureKpa)})`}
                </td>
                <td>{fresh && w.expectedKpa !== null ? `about ${figure(w.expectedKpa)}` : ''}</td>
                <td className="whitespace-nowrap">
                  {w.coldKpa === null ? '' : `${figure(w.coldKpa)} at ${f.temperature(w.coldTempC ?? 20)}`}
                </td>
                <td>{figure(w.lowKpa)}</td>
                <td>{figure(w.highKpa)}</td>
                <td className="whitespace-nowrap">{w.tempC === null ? '' : f.temperature(w.tempC)}</td>
                <td className="whitespace-nowrap">
                  {w.time === null ? (w.sensorId === null ? 'no sensor' : 'not yet') : timeOfDay(w.time, view.time)}
                  {ink === 'silent' ? ', silent' : ink === 'asleep' ? ', asleep' : ink === 'old' ? ', old' : ''}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

function WheelDetail({ w, view, words }: { w: WheelView; view: WatchView; words: string }) {
  const f = useFormat();
  const rows: [string, string][] = [
    ['Sensor', w.sensorId ? `${inPairs(w.sensorId)}, ${w.sensorKind === 'flowThrough' ? 'flow-through' : w.sensorKind}` : 'none'],
    ['Last heard', w.time ? `${timeOfDay(w.time, view.time)}, ${duration(w.ageS ?? 0)} before the rig’s clock` : 'not yet'],
    ['Cold target', w.coldKpa === null ? 'not set' : `${f.pressure(w.coldKpa)} at ${f.temperature(w.coldTempC ?? 20)}`],
    [
      'Rings',
      `${w.lowKpa === null ? 'no low' : `low at ${f.pressure(w.lowKpa)}`}, ${w.highKpa === null ? 'no high' : `high at ${f.pressure(w.highKpa)}`}${w.hotC === null ? '' : `, hot at ${f.temperature(w.hotC)}`}`,
    ],
  ];
  return (
    <section aria-label={`Wheel ${w.position}`} className="border-t border-ink pt-3">
      <h3>
        {w.position} <span className="font-normal text-ink2">{words}</span>
      </h3>
      <Facts rows={rows} />
    </section>
  );
}

/** What every tire says now, and what to do about it. */
export default function Watch() {
  const { rig, units, wheels } = useRig();
  const f = useFormat();
  const watch = useWatch(rig.id);
  const alarms = useAlarms(rig.id);
  const bench = useBench(rig.id);
  const acknowledge = useAcknowledge(rig.id);
  const silence = useSilence(rig.id);
  const { sound } = usePreferences();
  const lie = useLie();
  const connected = useLiveState() === 'open';
  const [selected, setSelected] = useState<string | null>(null);
  const view = watch.data;
  const byPosition = useMemo(() => new Map(view?.wheels.map((w) => [w.position, w])), [view]);
  const open = useMemo(() => inOrder(alarms.data?.filter((a) => a.toTime === null) ?? []), [alarms.data]);
  const past = alarms.data?.filter((a) => a.toTime !== null).slice(0, 5) ?? [];
  const loud = open.some((a) => a.acknowledgedAt === null && a.severity !== 'know');
  const silenced = view?.silencedUntil ?? null;

  // How long a reading took from the wire to the screen, for whoever measures it.
  // biome-ignore lint/correctness/useExhaustiveDependencies: runs after every view that was painted
  useEffect(() => {
    requestAnimationFrame(() => performance.mark('watch-painted'));
  }, [view]);

  useEffect(() => {
    if (!loud || !sound || silenced !== null) return;
    ring();
    const again = setInterval(ring, 4000);
    return () => clearInterval(again);
  }, [loud, sound, silenced]);
  // A silence ends by itself.
  useEffect(() => {
    if (silenced === null) return;
    const end = setTimeout(() => void watch.refetch(), Math.max(0, Date.parse(silenced) - Date.now()) + 200);
    return () => clearTimeout(end);
  }, [silenced, watch.refetch]);

  const toggleSilence = () => silence.mutate(silenced === null ? 10 : 0, { onError: toastError });
  const turnOn = async () => {
    if (await wakeSound()) {
      setPreferences({ sound: true });
      ring();
    } else toast('This browser gives no sound.', { tone: 'error' });
  };
  useHotkeys('a', () => {
    const first = open.find((a) => a.acknowledgedAt === null);
    if (first) acknowledge.mutate(first.id, { onError: toastError });
  });
  useHotkeys('s', toggleSilence);
  useHotkeys('n', () => {
    const order = open.map((a) => a.position);
    const next = order[(order.indexOf(selected ?? '') + 1) % Math.max(1, order.length)];
    if (!next) return;
    setSelected(next);
    document.querySelector<HTMLElement>(`[data-position="${next}"]`)?.focus();
  });

  if (!view) return <SheetHead title="Watch">{watch.error ? watch.error.message : 'One moment…'}</SheetHead>;
  const practice = view.clock === 'bench';
  const detail = selected === null ? undefined : byPosition.get(selected);
  const detailWheel = wheels.find((w) => w.position === selected);
  const unpaired = view.wheels.filter((w) => w.sensorId === null).length;
  return (
    <>
      <SheetHead
        title="Watch"
        aside={
          practice && (
            <p className="border-2 border-ink px-3 py-1 text-[14px] font-semibold">Practice: these values come from the bench</p>
          )
        }
      >
        {headLine(view, bench.data, f)}
      </SheetHead>
      <div className="grid gap-x-8 gap-y-6 xl:grid-cols-[minmax(0,1fr)_336px] xl:grid-rows-[auto_1fr]">
        <div className="min-w-0 xl:row-span-2">
          <RigPlan
            label="Wheels of the rig"
            units={units}
            wheels={wheels}
            lie={lie}
            wheel={(w) => {
              const wheelView = byPosition.get(w.position);
              return wheelView ? (
                <WheelCard
                  view={wheelView}
                  connected={connected}
                  selected={selected === w.position}
                  onSelect={() => setSelected(w.position)}
                />
              ) : null;
            }}
          />
          {unpaired === view.wheels.length && (
            <p className="mt-4">
              No sensor is paired, so there is nothing to watch yet.{' '}
              <Link className="btn btn-solid ml-2" to={`/rigs/${rig.id}/pairing`}>
                Pair the sensors
              </Link>
            </p>
          )}
          <div className="mt-6 max-md:hidden">
            <WheelTable view={view} connected={connected} />
          </div>
        </div>
        <aside aria-label="Alarms" className="max-xl:order-first">
          <div className="mb-3 flex flex-wrap items-baseline justify-between gap-2">
            <h2 className="text-[18px]" aria-live="polite">
              {open.length === 0 ? 'No alarm is open' : open.length === 1 ? '1 alarm open' : `${open.length} alarms open`}
            </h2>
            <span className="flex gap-2">
              {!sound ? (
                <button type="button" className="btn btn-small" onClick={() => void turnOn()}>
                  Turn sound on
                </button>
              ) : (
                <button type="button" className="btn btn-small" onClick={() => setPreferences({ sound: false })}>
                  Turn sound off
                </button>
              )}
              <button type="button" className="btn btn-small" aria-pressed={silenced !== null} onClick={toggleSilence}>
                {silenced === null ? 'Silence 10 min' : `Silent until ${timeOfDay(silenced)}`} <span className="kbd">S</span>
              </button>
            </span>
          </div>
          <ul>
            {open.map((a) => (
              <AlarmItem
                key={a.id}
                alarm={a}
                wheel={byPosition.get(a.position)}
                view={view}
                onSelect={() => setSelected(a.position)}
              />
            ))}
          </ul>
          {open.length === 0 && (
            <p className="text-[14px] text-ink2">
              {view.wheels.some((w) => w.state === 'live')
                ? 'Every tire that is heard is inside its limits.'
                : 'Nothing is heard just now, so nothing can ring. Look at the tires before you drive.'}
            </p>
          )}
        </aside>
        <div className="xl:col-start-2">
          {detail && detailWheel && (
            <WheelDetail
              w={detail}
              view={view}
              words={placeInWords(detailWheel.local, detailWheel.unit.name, detailWheel.unit.axles.length)}
            />
          )}
          {past.length > 0 && (
            <section className="mt-6 border-t border-rule pt-3">
              <h3>Earlier</h3>
              <ul className="mt-1 text-[14px]">
                {past.map((a) => (
                  <li key={a.id} className="flex justify-between gap-2 border-b border-rule py-1">
                    <span>
                      {a.position} {a.kind}
                      {a.practice ? ', practice' : ''}
                    </span>
                    <span className="narrow text-ink2">
                      {timeOfDay(a.fromTime, view.time)} to {timeOfDay(a.toTime as string, view.time)}
                    </span>
                  </li>
                ))}
              </ul>
            </section>
          )}
          <p className="mt-6 text-[13px] text-ink2">
            Do not work the screen while driving. A monitor does not replace a gauge or an eye on the tread.
          </p>
        </div>
      </div>
    </>
  );
}
