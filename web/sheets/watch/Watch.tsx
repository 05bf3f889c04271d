import { Suspense, useCallback, useEffect, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, useSearchParams } from 'react-router';
import { unitLetter } from '#core/rig/positions.ts';
import type { AlarmGroup } from '#core/watch/group.ts';
import type { WatchView } from '#schema/alarm.ts';
import { useLiveState } from '../../data/live.ts';
import { useBench, useSilence } from '../../data/queries.ts';
import { SheetHead } from '../../parts/controls.tsx';
import { FaultBoundary } from '../../parts/FaultBoundary.tsx';
import { type Format, timeOfDay, useFormat } from '../../parts/format.ts';
import { lazyPart } from '../../parts/lazy-part.ts';
import { RigPlan, SmallPlan, useLie, useNarrow } from '../../parts/RigPlan.tsx';
import { TrackMode } from '../../parts/TrackMode.tsx';
import { WheelCard } from '../../parts/WheelCard.tsx';
import { inkOf, placeInWords } from '../../parts/words.ts';
import { groupWords, sharedAdvice } from '../../parts/words-alarms.ts';
import { kindWords } from '../../parts/words-kinds.ts';
import { setPreferences } from '../../state/preferences.ts';
import { toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { AlarmItem, Questions, ShelfLog, useAcknowledgeGroup } from './AlarmList.tsx';
import { FillList } from './FillList.tsx';
import { Handling } from './Handling.tsx';
import { SecondSource } from './SecondSource.tsx';
import { WatchTabs } from './Tabs.tsx';
import { TypedRound } from './TypedRound.tsx';
import { UnsetLimits, withoutLimits } from './UnsetLimits.tsx';
import { turnSoundOn, useCalls } from './useCalls.ts';
import { WheelDetail } from './WheelDetail.tsx';
import { WheelTable } from './WheelTable.tsx';

const LastHour = lazyPart(() => import('./LastHour.tsx'));

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

/** How many alarms are open; what is only noted is no alarm. */
function openWords(groups: readonly AlarmGroup[]): string {
  const notes = groups.filter((g) => g.severity === 'note').length;
  const n = groups.length - notes;
  const alarms = n === 0 ? 'No alarm is open' : n === 1 ? '1 alarm open' : `${n} alarms open`;
  return notes === 0 ? alarms : `${alarms}, ${notes === 1 ? '1 note' : `${notes} notes`}`;
}

/** What every tire says now, and what to do about it. */
export default function Watch() {
  const { rig, units, wheels } = useRig();
  const f = useFormat();
  const { view, error, groups, past, byPosition, sound, silenced, known } = useCalls(rig.id);
  const bench = useBench(rig.id);
  const acknowledge = useAcknowledgeGroup(rig.id);
  const silence = useSilence(rig.id);
  const lie = useLie();
  const stream = useLiveState();
  const connected = stream === 'open';
  const narrow = useNarrow();
  const wide = !useNarrow('(max-width: 1279px)');
  const [search, setSearch] = useSearchParams();
  const [selected, setSelected] = useState<string | null>(null);
  const [typing, setTyping] = useState(false);
  // What the address asked for is done once: a reload doesn't do it again.
  useEffect(() => {
    const wheel = search.get('wheel');
    const type = search.get('type');
    if (wheel === null && type === null) return;
    if (wheel !== null) setSelected(wheel);
    if (type === 'readings') setTyping(true);
    setSearch({}, { replace: true });
  }, [search, setSearch]);
  // Pressed again, a wheel is let go.
  const select = useCallback((position: string) => setSelected((now) => (now === position ? null : position)), []);

  const toggleSilence = () => silence.mutate(silenced === null ? 10 : 0, { onError: toastError });
  useHotkeys('a', () => {
    const first = groups.find((g) => !g.acknowledged);
    if (first) acknowledge(first);
  });
  useHotkeys('s', toggleSilence);
  useHotkeys('n', () => {
    const order = groups.flatMap((g) => g.positions).filter((p) => byPosition.has(p));
    const next = order[(order.indexOf(selected ?? '') + 1) % Math.max(1, order.length)];
    if (!next) return;
    setSelected(next);
    document.querySelector<HTMLElement>(`[data-position="${next}"]`)?.focus();
  });

  useHotkeys('r', (e) => {
    e.preventDefault();
    setTyping(true);
  });

  if (!view) return <SheetHead title="Watch">{error ? error.message : 'One moment…'}</SheetHead>;
  const practice = view.clock === 'bench';
  const shared = sharedAdvice(groups.map((g) => groupWords(g, byPosition, f, view.time).text));
  const detail = selected === null ? undefined : byPosition.get(selected);
  const detailWheel = wheels.find((w) => w.position === selected);
  const unitNames = new Map(units.map((u, i) => [unitLetter(i), u.name]));
  const unpaired = view.wheels.filter((w) => w.sensorId === null).length;
  const plan = (
    <div>
      <RigPlan
        label="Wheels of the rig"
        tallness={lie === 'up' ? 106 : 88}
        units={units}
        wheels={wheels}
        lie={lie}
        wheel={(w) => {
          const wheelView = byPosition.get(w.position);
          return wheelView ? (
            <WheelCard view={wheelView} connected={connected} selected={selected === w.position} onSelect={select} />
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
    </div>
  );
  const chart = (
    <div className="min-w-0">
      {view.wheels.some((w) => w.time !== null) && (
        <FaultBoundary what="The chart of the last hour" about="The plan and the alarms still work.">
          <Suspense fallback={<div className="mt-6 h-[260px]" />}>
            <LastHour rigId={rig.id} view={view} groups={groups} />
          </Suspense>
        </FaultBoundary>
      )}
      <div className="mt-6 max-md:hidden">
        <WheelTable view={view} connected={connected} />
      </div>
    </div>
  );
  const beside = detail && detailWheel && (
    <div className="mb-6 max-xl:mb-0">
      <WheelDetail
        onClose={() => setSelected(null)}
        w={detail}
        view={view}
        alarms={[...groups.flatMap((g) => g.parts), ...past]}
        words={placeInWords(detailWheel.local, detailWheel.unit.name, detailWheel.unit.axles.length)}
      >
        <SecondSource key={detail.position} w={detail} view={view} wheel={detailWheel} />
      </WheelDetail>
    </div>
  );
  const alarms = (
    <aside aria-label="Alarms">
      <div className="mb-3 flex flex-wrap items-baseline justify-between gap-2">
        <h2 className="text-head">{known ? openWords(groups) : stream === 'lost' ? 'Alarms unknown' : 'Alarms'}</h2>
        <span className="flex gap-2">
          {!sound ? (
            <button type="button" className="btn btn-small" onClick={() => void turnSoundOn()}>
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
      <UnsetLimits view={view} />
      <Questions view={view} names={unitNames} />
      {shared.length > 0 && <p className="mb-2 text-body font-semibold">{shared.join(' ')}</p>}
      <ul>
        {groups.map((g) => (
          <AlarmItem key={g.key} group={g} view={view} byPosition={byPosition} shared={shared} onSelect={select} />
        ))}
      </ul>
      {view.track && (
        <div className="mb-3">
          <TrackMode view={view} offer={false} />
        </div>
      )}
      {view.topUp && <FillList view={view} />}
      {groups.length === 0 && !view.topUp && (
        <p className="text-body text-ink2">
          {!known
            ? stream === 'lost' && 'The alarms were not read: there is no connection. Check the tires with a gauge.'
            : !view.wheels.some((w) => w.state === 'live')
              ? 'No sensor is reporting, so no alarm can sound. Check the tires before you drive.'
              : withoutLimits(view).length > 0
                ? 'No alarms, but not every wheel has limits.'
                : 'Every tire that is heard is inside its limits.'}
        </p>
      )}
    </aside>
  );
  const rest = (
    <div className="mt-6">
      <Handling view={view} units={units} repeater={rig.repeater !== undefined} />
      {past.length > 0 && (
        <section className="mt-6 border-t border-rule pt-3">
          <h3>Earlier</h3>
          <ul className="mt-1 text-body">
            {past.slice(0, 5).map((a) => (
              <li key={a.id} className="flex justify-between gap-2 border-b border-rule py-1">
                <span>
                  {a.position} {kindWords[a.kind]}
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
      <ShelfLog view={view} />
      <p className="mt-6 text-note text-ink2">
        Do not work the screen while driving. A monitor does not replace a gauge or an eye on the tread.
      </p>
    </div>
  );
  // In the order they are read, also by a screen reader and the Tab key: where there is one column, alarms come before the plan.
  return (
    <>
      <SheetHead
        title="Watch"
        aside={
          practice && (
            <p className="border-2 border-ink px-3 py-1 text-body font-semibold">Practice: these values come from the bench</p>
          )
        }
      >
        {headLine(view, bench.data, f)}
      </SheetHead>
      <WatchTabs rigId={rig.id}>
        <button type="button" className="btn btn-small" onClick={() => setTyping(true)}>
          Type readings <span className="kbd">R</span>
        </button>
        <Link className="btn btn-small" to={`/rigs/${rig.id}/watch/drive`}>
          Drive view
        </Link>
      </WatchTabs>
      {wide ? (
        <div className="grid grid-cols-[minmax(0,1fr)_336px] items-start gap-x-8">
          <div className="min-w-0">
            {plan}
            {chart}
          </div>
          <div className="min-w-0">
            {beside}
            {alarms}
            {rest}
          </div>
        </div>
      ) : (
        <div className="flex flex-col gap-y-6 [&>*]:min-w-0">
          {narrow && <SmallPlan units={units} wheels={wheels} ink={(w) => inkOf(byPosition.get(w.position), connected)} />}
          {alarms}
          {plan}
          {beside}
          {chart}
          {rest}
        </div>
      )}
      {typing && <TypedRound view={view} wheels={wheels} onClose={() => setTyping(false)} />}
    </>
  );
}
