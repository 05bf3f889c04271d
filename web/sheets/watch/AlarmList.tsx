import { Link } from 'react-router';
import type { AlarmGroup } from '#core/watch/group.ts';
import type { Alarm, WatchView, WheelView } from '#schema/alarm.ts';
import { useAcknowledge, useShelve, useShelves, useWatchCommands } from '../../data/queries.ts';
import { dayAndTime, timeOfDay, useFormat } from '../../parts/format.ts';
import { alarmWords, groupWords, withoutAdvice } from '../../parts/words-alarms.ts';
import { kindWords } from '../../parts/words-kinds.ts';
import { toastError } from '../../state/toast.ts';

/** Acknowledge every part of a group that nobody has seen yet. */
export function useAcknowledgeGroup(rigId: string) {
  const acknowledge = useAcknowledge(rigId);
  return (group: AlarmGroup) => {
    for (const a of group.parts) if (a.acknowledgedAt === null) acknowledge.mutate(a.id, { onError: toastError });
  };
}

const bars = { stop: 'border-t-4 border-magenta', look: 'border-t-4 border-ink', note: 'border-t border-ink' } as const;

/** One alarm as the screen shows it: what is wrong, how much, what to do, and its other parts. */
export function AlarmItem({
  group,
  view,
  byPosition,
  onSelect,
  shared = [],
}: {
  group: AlarmGroup;
  view: WatchView;
  byPosition: ReadonlyMap<string, WheelView>;
  onSelect: (position: string) => void;
  /** Advice that is said once above all alarms. */
  shared?: readonly string[];
}) {
  const f = useFormat();
  const acknowledge = useAcknowledgeGroup(view.rigId);
  const commands = useWatchCommands(view.rigId);
  const words = groupWords(group, byPosition, f, view.time);
  const [position] = group.positions as [string];
  const isUnit = position.length === 1;
  const others = group.cold ? [] : group.parts.slice(1);
  const slow = group.parts.some((p) => p.kind === 'slow' || (p.kind === 'apart' && p.evidence?.how === 'lower'));
  return (
    <li
      className={`pt-3 pb-5 max-md:pb-3 ${bars[group.severity]}`}
      data-alarm={`${group.key} ${group.parts.map((p) => p.kind).join(' ')}`}
    >
      <div className="flex items-baseline justify-between gap-3">
        <h3>
          {isUnit || group.cold ? (
            words.title
          ) : (
            <button type="button" className="text-left hover:underline" onClick={() => onSelect(position)}>
              {words.title}
            </button>
          )}
        </h3>
        <span className="narrow text-note font-semibold whitespace-nowrap text-ink2">{timeOfDay(group.fromTime, view.time)}</span>
      </div>
      <p className={`mt-1 text-body ${group.acknowledged ? 'max-md:hidden' : ''}`}>{withoutAdvice(words.text, shared)}</p>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        {group.acknowledged ? (
          <span className="text-note text-ink2">
            Acknowledged {timeOfDay(group.parts[0]?.acknowledgedAt ?? view.time, view.time)}. The mark stays until the cause is
            gone. If it gets worse, it sounds again.
          </span>
        ) : (
          <button
            type="button"
            className={`btn ${group.severity === 'stop' ? 'btn-solid' : ''}`}
            onClick={() => acknowledge(group)}
          >
            Acknowledge {group.cold ? 'the cold' : isUnit ? `unit ${position}` : position}
          </button>
        )}
        {isUnit && group.parts.some((a) => a.kind === 'silent') && (
          <button type="button" className="btn" onClick={() => void commands.rest(position, true).catch(toastError)}>
            Disconnect {position}
          </button>
        )}
        <FurtherLinks group={group} rigId={view.rigId} isUnit={isUnit} />
        <ShelveButtons group={group} view={view} />
        {slow && (
          <button type="button" className="btn" onClick={() => void commands.answer(position, 'set').catch(toastError)}>
            I let that air out
          </button>
        )}
      </div>
      {others.length > 0 && (
        <details className="mt-1 text-body">
          <summary className="cursor-pointer">Also: {others.map((a) => kindWords[a.kind]).join(', ')}</summary>
          <ul className="mt-1 border-l border-rule pl-3">
            {others.map((a) => (
              <li key={a.id} className="mt-1">
                {alarmWords(a, byPosition.get(a.position), f, view.time).text}
              </li>
            ))}
          </ul>
        </details>
      )}
    </li>
  );
}

/** Where an alarm leads: what to do at the roadside, the search for a fault, the job. */
function FurtherLinks({ group, rigId, isUnit }: { group: AlarmGroup; rigId: string; isUnit: boolean }) {
  if (group.cold) return null;
  const position = group.positions[0] as string;
  const has = (...kinds: Alarm['kind'][]) => group.parts.some((a) => kinds.includes(a.kind));
  const at = `/rigs/${rigId}`;
  return (
    <>
      {group.severity === 'stop' && !isUnit && (
        <Link className="btn" to={`${at}/faults?part=roadside&wheel=${position}`}>
          At the roadside
        </Link>
      )}
      {has('silent') && (
        <Link className="btn" to={`${at}/faults?branch=${isUnit ? 'many' : 'one'}&wheel=${isUnit ? '' : position}`}>
          Find the fault
        </Link>
      )}
      {has('stuck') && (
        <Link className="btn" to={`${at}/faults?branch=wrong&wheel=${position}`}>
          Find the fault
        </Link>
      )}
      {has('battery') && !isUnit && (
        <Link className="btn" to={`${at}/upkeep?job=cell&wheel=${position}`}>
          Change its battery
        </Link>
      )}
    </>
  );
}

/** How long an alarm may be shelved, minutes. One that asks for a stop is shelved for less. */
const SHELVES = {
  stop: [10, 30],
  look: [15, 60, 480],
} as const;
const shelfText = (minutes: number) => (minutes < 60 ? `${minutes} min` : `${minutes / 60} h`);

/** Shelve an alarm for a time, or end that. */
function ShelveButtons({ group, view }: { group: AlarmGroup; view: WatchView }) {
  const shelve = useShelve(view.rigId);
  if (group.severity === 'note') return null;
  const all = (minutes: number) => {
    for (const a of group.parts)
      if (a.severity !== 'note' || a.shelvedUntil !== undefined) shelve.mutate({ id: a.id, minutes }, { onError: toastError });
  };
  const name = group.cold ? 'the cold' : (group.positions[0] as string);
  if (group.shelvedUntil !== null)
    return (
      <>
        <span className="w-full text-body font-semibold">
          Shelved until {timeOfDay(group.shelvedUntil, view.time)}. If it gets worse, it sounds again.
        </span>
        <button type="button" className="btn" onClick={() => all(0)}>
          Stop shelving {name}
        </button>
      </>
    );
  // A part that asks for a stop may be shelved for less, and the group goes with it.
  const most = SHELVES[group.parts.some((a) => a.severity === 'stop') ? 'stop' : 'look'];
  return (
    <details className="w-full text-body">
      <summary className="cursor-pointer">Shelve {name} for a time</summary>
      <span className="mt-1 flex flex-wrap items-center gap-2">
        {most.map((minutes) => (
          <button key={minutes} type="button" className="btn btn-small" onClick={() => all(minutes)}>
            Shelve for {shelfText(minutes)}
          </button>
        ))}
        <span className="w-full text-note text-ink2">
          It makes no sound for that time. The mark stays, and it sounds again if it gets worse.
        </span>
      </span>
    </details>
  );
}

const ends = { owner: 'ended by you', time: 'time was up', worse: 'it got worse', gone: 'its cause was gone' } as const;

/** What was shelved, and how it ended. */
export function ShelfLog({ view }: { view: WatchView }) {
  const { data } = useShelves(view.rigId, true);
  if (!data || data.length === 0) return null;
  return (
    <details className="mt-6 border-t border-rule pt-3">
      <summary className="cursor-pointer font-bold">Shelved alarms, {data.length}</summary>
      <ul className="mt-1 text-body">
        {data.slice(0, 20).map((s) => (
          <li key={`${s.alarmId} ${s.fromTime}`} className="border-b border-rule py-1">
            {s.position} {kindWords[s.kind]}, {timeOfDay(s.fromTime, view.time)} to{' '}
            {timeOfDay(s.ended?.time ?? s.untilTime, view.time)}: {s.ended ? ends[s.ended.by] : 'shelved now'}
          </li>
        ))}
      </ul>
    </details>
  );
}

/** A sensor that fell to nothing at one stroke: was it taken off? */
export function Questions({ view, names = new Map() }: { view: WatchView; names?: ReadonlyMap<string, string> }) {
  const f = useFormat();
  const commands = useWatchCommands(view.rigId);
  const asked = view.wheels.filter((w) => w.askedTime !== null);
  const off = view.wheels.filter((w) => w.offTime !== null);
  const ahead = view.wheels.filter((w) => w.aheadTime !== null);
  // Disconnected, and watched all the same: its sensors report as on the road.
  const alongside = view.resting.filter((unit) =>
    view.wheels.some((w) => w.position.startsWith(unit) && w.state !== 'resting' && w.state !== 'notPaired'),
  );
  if (asked.length === 0 && off.length === 0 && ahead.length === 0 && alongside.length === 0) return null;
  return (
    <ul className="mb-3">
      {alongside.map((unit) => (
        <li key={unit} className="mb-2 border-2 border-ink p-3" data-alongside={unit}>
          <p className="font-semibold">{names.get(unit) ?? `Unit ${unit}`} reports as on the road</p>
          <p className="text-body">
            It is disconnected here, but its sensors have been heard for 20 minutes without a pause. Its limits are watched.
            Connect it, so that a missing sensor is noticed too.
          </p>
          <p className="mt-2">
            <button type="button" className="btn" onClick={() => void commands.rest(unit, false).catch(toastError)}>
              Connect {names.get(unit) ?? unit}
            </button>
          </p>
        </li>
      ))}
      {asked.map((w) => (
        <li key={w.position} className="border-2 border-ink p-3 mb-2" data-question={w.position}>
          <p className="font-semibold">Did you take the sensor off {w.position}?</p>
          <p className="text-body">
            It fell to {f.pressure(w.pressureKpa ?? 0)} at one stroke, {timeOfDay(w.askedTime as string, view.time)}. A sensor
            that is unscrewed reads like this; so does an empty tire.
          </p>
          <p className="mt-2 flex flex-wrap gap-2">
            <button type="button" className="btn" onClick={() => void commands.answer(w.position, 'off').catch(toastError)}>
              Yes, it is off
            </button>
            <button type="button" className="btn" onClick={() => void commands.answer(w.position, 'on').catch(toastError)}>
              No, it is on
            </button>
          </p>
        </li>
      ))}
      {ahead.map((w) => (
        <li key={w.position} className="mb-2 border-2 border-ink p-3 text-body">
          <b>{w.position} has started again.</b> Its last reading was dated {dayAndTime(Date.parse(w.aheadTime as string))}, which
          is ahead of the clock. It was set aside, and the next reading counts. If this happens again, check the clock of this
          computer and of whatever sends the readings.
        </li>
      ))}
      {off.map((w) => (
        <li key={w.position} className="mb-2 border border-ink p-3 text-body">
          <b>{w.position}</b>: its sensor is off the valve, as you said. It won’t alarm until it is heard with pressure again, you
          drive off, or an hour is over.
        </li>
      ))}
    </ul>
  );
}
