import { useEffect, useMemo, useRef, useState } from 'react';
import { axleOf } from '#core/rig/positions.ts';
import { convert } from '#core/units/units.ts';
import { stateOf } from '#core/watch/view.ts';
import { Watch, type WatchEvent, type WheelLimits } from '#core/watch/watch.ts';
import type { AlarmKind, WheelView } from '#schema/alarm.ts';
import { ask as askServer } from '../../data/api.ts';
import { useSpan, useWatch } from '../../data/queries.ts';
import { limitsFrom } from '../../parts/chart/series.ts';
import { SheetHead, Switch } from '../../parts/controls.tsx';
import { fieldFigure, parseNumber, timeOfDay, useFormat } from '../../parts/format.ts';
import { HeadRow } from '../../parts/HeadRow.tsx';
import { RigPlan, useLie } from '../../parts/RigPlan.tsx';
import { WheelCard } from '../../parts/WheelCard.tsx';
import { kindWords } from '../../parts/words-kinds.ts';
import { toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { type Stretch, StretchFields } from './StretchFields.tsx';
import { WatchTabs } from './Tabs.tsx';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const spans = [
  ['1 h', HOUR],
  ['6 h', 6 * HOUR],
  ['1 day', 24 * HOUR],
  ['1 week', 168 * HOUR],
  ['1 month', 720 * HOUR],
] as const;
const speeds = (['1', '10', '60', '300', '1000'] as const).map((s) => ({ value: s, text: `${s}×` }));
type Speed = (typeof speeds)[number]['value'];

interface ReplayAlarm {
  position: string;
  kind: AlarmKind;
  fromTime: string;
  toTime: string | null;
}
interface ReplayAnswer {
  readings: number;
  alarms: ReplayAlarm[];
}
type Changed = Record<string, { low?: string; high?: string; hot?: string }>;

const isWrong = (text: string) => text.trim() !== '' && parseNumber(text) === null;

/** A stretch of history through the watch again: would it have rung, with these limits or others? */
export default function Replay() {
  const { rig, wheels } = useRig();
  const f = useFormat();
  const watch = useWatch(rig.id);
  const span = useSpan(rig.id);
  const [stretch, setStretch] = useState<Stretch | null>(null);
  const [changed, setChanged] = useState<Changed>({});
  const [answer, setAnswer] = useState<ReplayAnswer | null>(null);
  const [busy, setBusy] = useState(false);
  // An answer is one to the stretch and the limits it was asked for.
  const choose = (next: Stretch) => {
    setStretch(next);
    setAnswer(null);
  };
  const change = (next: Changed) => {
    setChanged(next);
    setAnswer(null);
  };
  const view = watch.data;
  const lastMs = span.data?.to ? Date.parse(span.data.to) : null;
  const { from, to } = stretch ?? { from: (lastMs ?? 0) - 6 * HOUR, to: lastMs ?? 0 };

  // One row for each axle: its wheels have the same limits.
  const axles = useMemo(() => {
    const map = new Map<string, WheelView[]>();
    for (const w of view?.wheels ?? []) {
      if (w.sensorId === null) continue;
      const key = axleOf(w.position);
      map.set(key, [...(map.get(key) ?? []), w]);
    }
    return [...map];
  }, [view]);
  const limits = useMemo(() => {
    const out: Record<string, WheelLimits> = limitsFrom(view?.wheels ?? []);
    for (const [axle, list] of axles) {
      const c = changed[axle];
      if (!c) continue;
      const take = (text: string | undefined, unit: 'C' | 'F' | typeof f.unit, old: number | null) => {
        if (text === undefined) return old;
        if (text.trim() === '') return null;
        const v = parseNumber(text);
        return v === null ? old : unit === 'C' || unit === 'F' ? convert(v, unit, 'C') : convert(v, unit, 'kPa');
      };
      for (const w of list) {
        const l = out[w.position];
        if (!l) continue;
        l.lowKpa = take(c.low, f.unit, l.lowKpa);
        l.highKpa = take(c.high, f.unit, l.highKpa);
        l.hotC = take(c.hot, f.temp, l.hotC);
      }
    }
    return out;
  }, [view, axles, changed, f.unit, f.temp]);

  const anyWrong = Object.values(changed).some((c) => Object.values(c).some(isWrong));

  const ask = async () => {
    setBusy(true);
    try {
      const body = {
        from: new Date(from).toISOString(),
        to: new Date(to).toISOString(),
        limits: Object.fromEntries(
          Object.entries(limits).map(([p, { lowKpa, highKpa, hotC }]) => [p, { lowKpa, highKpa, hotC }]),
        ),
      };
      setAnswer(await askServer('replay', { params: { rig: rig.id }, body }));
    } catch (error) {
      toastError(error);
    }
    setBusy(false);
  };

  return (
    <>
      <SheetHead title="Watch">
        A stretch of history through the watch again, with today’s limits or others: would it have rung?
      </SheetHead>
      <WatchTabs rigId={rig.id} />
      {lastMs === null || !view ? (
        <p>{span.isPending ? 'One moment…' : 'Nothing has been heard yet, so there is nothing to play again.'}</p>
      ) : (
        <>
          <section aria-label="Stretch" className="mb-5">
            <h2 className="mb-2 text-body">Which stretch?</h2>
            <div className="flex flex-wrap items-center gap-2">
              <Switch
                label="How long a stretch"
                value={String(spans.find(([, ms]) => Math.abs(to - from - ms) < 1000)?.[1] ?? '')}
                options={spans.map(([text, ms]) => ({ value: String(ms), text }))}
                onChange={(ms) => choose({ from: to - Number(ms), to })}
              />
              <StretchFields from={from} to={to} onChange={choose} />
            </div>
          </section>
          <section aria-label="Limits" className="mb-5 overflow-x-auto">
            <h2 className="mb-1 text-body">
              With which limits?{' '}
              <span className="font-normal text-ink2">today’s, unless you write others; they are tried here only</span>
            </h2>
            <table className="sheet-table max-w-[560px]">
              <HeadRow names={['Axle', `Low, ${f.unit}`, `High, ${f.unit}`, `Hot, °${f.temp}`]} />
              <tbody>
                {axles.map(([axle, list]) => {
                  const w = list[0] as WheelView;
                  const shown = {
                    low: w.lowKpa === null ? '' : fieldFigure(w.lowKpa, f.unit),
                    high: w.highKpa === null ? '' : fieldFigure(w.highKpa, f.unit),
                    hot: w.hotC === null ? '' : convert(w.hotC, 'C', f.temp).toFixed(0),
                  };
                  return (
                    <tr key={axle}>
                      <th scope="row" className="border-b-rule! font-semibold text-ink!">
                        {axle}
                      </th>
                      {(['low', 'high', 'hot'] as const).map((field) => {
                        const text = changed[axle]?.[field] ?? shown[field];
                        const wrong = isWrong(text);
                        return (
                          <td key={field}>
                            <input
                              className="input w-[92px]"
                              inputMode="decimal"
                              aria-label={`${field} of axle ${axle}`}
                              aria-invalid={wrong || undefined}
                              aria-errormessage={wrong ? `replay-${axle}-${field}` : undefined}
                              value={text}
                              onChange={(e) => change({ ...changed, [axle]: { ...changed[axle], [field]: e.target.value } })}
                            />
                            {wrong && (
                              <p id={`replay-${axle}-${field}`} className="error" role="alert">
                                isn’t a number
                              </p>
                            )}
                          </td>
                        );
                      })}
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </section>
          {answer && (
            <section aria-label="What would have rung" className="mb-5" aria-live="polite">
              <h2 className="text-head">
                {answer.readings === 0
                  ? 'Nothing was heard in that stretch'
                  : answer.alarms.length === 0
                    ? 'It would not have rung'
                    : `It would have rung ${answer.alarms.length === 1 ? 'once' : `${answer.alarms.length} times`}`}{' '}
                <span className="text-body font-normal text-ink2">{answer.readings.toLocaleString('en-GB')} readings</span>
              </h2>
              <ul className="mt-1 max-h-[240px] overflow-auto text-body">
                {answer.alarms.slice(0, 300).map((a) => (
                  <li
                    key={`${a.position} ${a.kind} ${a.fromTime}`}
                    className="flex max-w-[560px] justify-between gap-2 border-b border-rule py-1"
                  >
                    <span>
                      {a.position} {kindWords[a.kind]}
                    </span>
                    <span className="narrow text-ink2">
                      {timeOfDay(a.fromTime)} {a.toTime === null ? 'to the end' : `to ${timeOfDay(a.toTime)}`}
                    </span>
                  </li>
                ))}
              </ul>
            </section>
          )}
          <Player
            key={`${from} ${to}`}
            from={from}
            to={to}
            limits={limits}
            positions={wheels.map((w) => w.position)}
            views={view.wheels}
          />
          <p className="next-step">
            <button type="button" className="btn btn-solid" disabled={busy || anyWrong} onClick={() => void ask()}>
              {busy ? 'Reading…' : 'Would it have rung?'}
            </button>
            {Object.keys(changed).length > 0 && (
              <button type="button" className="btn" onClick={() => change({})}>
                Today’s limits
              </button>
            )}
          </p>
        </>
      )}
    </>
  );
}

/** What was heard, played at a chosen speed: the plan as the watch would have shown it. */
function Player({
  from,
  to,
  limits,
  positions,
  views,
}: {
  from: number;
  to: number;
  limits: Record<string, WheelLimits>;
  positions: readonly string[];
  views: readonly WheelView[];
}) {
  const { rig, units, wheels } = useRig();
  const lie = useLie();
  const [readings, setReadings] = useState<{ position: string; ms: number; kpa: number; tempC: number; volts: number }[] | null>(
    null,
  );
  const [problem, setProblem] = useState('');
  const [speed, setSpeed] = useState<Speed>('60');
  const [playing, setPlaying] = useState(false);
  const [atMs, setAtMs] = useState(from);
  const engine = useRef<{ watch: Watch; next: number; ms: number; limits: Record<string, WheelLimits> } | null>(null);

  const load = async () => {
    setProblem('');
    try {
      const answer = await askServer('readings', {
        params: { rig: rig.id },
        query: { from: new Date(from).toISOString(), to: new Date(to).toISOString() },
      });
      const list = answer.readings.map((r) => ({
        position: r.position,
        ms: Date.parse(r.time),
        kpa: r.pressureKpa,
        tempC: r.tempC ?? Number.NaN,
        volts: r.batteryV ?? Number.NaN,
      }));
      list.sort((a, b) => a.ms - b.ms);
      setReadings(list);
      // It begins where something was heard: an empty hour before that shows nothing.
      setAtMs(list[0]?.ms ?? from);
      setPlaying(list.length > 0);
      if (list.length === 0) setProblem('Nothing was heard in that stretch.');
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    }
  };

  /** Bring the watch to a moment: on from where it is, or from the start when that lies behind. */
  const goTo = useMemo(
    () => (ms: number) => {
      if (!readings) return;
      let e = engine.current;
      const events: WatchEvent[] = [];
      const fresh = !e || ms < e.ms || e.limits !== limits;
      if (fresh) e = { watch: new Watch(limits, { sleepAware: true }), next: 0, ms: from, limits };
      if (!e) return;
      while (e.next < readings.length) {
        const r = readings[e.next] as (typeof readings)[number];
        if (r.ms > ms) break;
        e.watch.read(r.position, r.ms, r.kpa, r.tempC, events, r.volts);
        e.next += 1;
      }
      e.watch.tick(ms, events);
      e.ms = ms;
      engine.current = e;
      setAtMs(ms);
    },
    [readings, limits, from],
  );

  // All that rings in the stretch, so that each can be jumped to before it was played.
  const rings = useMemo(() => {
    const events: WatchEvent[] = [];
    const through = new Watch(limits, { sleepAware: true });
    // A silence is noticed by the clock: it is looked at each minute, as the watch does.
    let tickMs = from;
    for (const r of readings ?? []) {
      for (; tickMs < r.ms; tickMs += MINUTE) through.tick(tickMs, events);
      through.read(r.position, r.ms, r.kpa, r.tempC, events, r.volts);
    }
    for (; tickMs <= to; tickMs += MINUTE) through.tick(tickMs, events);
    return events.filter((x) => x.type === 'raised').sort((a, b) => a.fromMs - b.fromMs);
  }, [readings, limits, from, to]);

  useEffect(() => {
    if (!playing || !readings) return;
    let frame = 0;
    let last = performance.now();
    let shown = 0;
    const begin = readings[0]?.ms ?? from;
    let ms = Math.max(begin, engine.current?.ms ?? from);
    if (ms >= to) ms = begin;
    const step = (now: number) => {
      ms = Math.min(to, ms + (now - last) * Number(speed));
      last = now;
      // Ten pictures a second are enough for an eye.
      if (now - shown > 95 || ms >= to) {
        shown = now;
        goTo(ms);
      }
      if (ms < to) frame = requestAnimationFrame(step);
      else setPlaying(false);
    };
    frame = requestAnimationFrame(step);
    return () => cancelAnimationFrame(frame);
  }, [playing, readings, speed, goTo, from, to]);

  const watch = engine.current?.watch;
  const shown = useMemo(() => {
    const base = new Map(views.map((v) => [v.position, v]));
    return new Map(
      positions.map((p): [string, WheelView | undefined] => {
        const v = base.get(p);
        if (!v) return [p, undefined];
        const memory = v.sensorId === null ? undefined : watch?.memory(p);
        const heard = memory !== undefined && memory.lastMs !== null;
        const l = limits[p];
        return [
          p,
          {
            ...v,
            state: v.sensorId === null ? 'notPaired' : stateOf(memory, atMs, (watch?.busySinceMs ?? null) !== null),
            pressureKpa: heard ? memory.lastKpa : null,
            tempC: heard ? memory.lastC : null,
            time: heard ? new Date(memory.lastMs as number).toISOString() : null,
            ageS: heard ? Math.round((atMs - (memory.lastMs as number)) / 1000) : null,
            lowKpa: l?.lowKpa ?? null,
            highKpa: l?.highKpa ?? null,
            hotC: l?.hotC ?? null,
            expectedKpa: null,
            aheadTime: null,
            askedTime: null,
            offTime: null,
            filling: false,
            active: Object.keys(memory?.active ?? {}) as AlarmKind[],
          },
        ];
      }),
    );
  }, [views, positions, watch, atMs, limits]);

  return (
    <section aria-label="Player">
      <h2 className="mb-2 text-body">Play it</h2>
      {!readings ? (
        <p>
          <button type="button" className="btn" onClick={() => void load()}>
            Load the readings and play
          </button>
        </p>
      ) : (
        <>
          <div className="mb-3 flex flex-wrap items-center gap-3">
            <button type="button" className="btn btn-solid" onClick={() => setPlaying(!playing)}>
              {playing ? 'Pause' : atMs >= to ? 'Play again' : 'Play'}
            </button>
            <Switch label="Speed" value={speed} options={speeds} onChange={setSpeed} />
            <output className="figure text-head">{timeOfDay(new Date(atMs).toISOString())}</output>
          </div>
          <input
            type="range"
            className="mb-3 w-full"
            aria-label="Moment"
            aria-valuetext={timeOfDay(new Date(atMs).toISOString())}
            min={from}
            max={to}
            step={1000}
            value={atMs}
            onChange={(e) => {
              setPlaying(false);
              goTo(Number(e.target.value));
            }}
          />
          <p className="mb-2 text-body font-semibold">Played again: nothing here is live.</p>
          <RigPlan
            label="Wheels as the watch would have shown them"
            units={units}
            wheels={wheels}
            lie={lie}
            wheel={(w) => {
              const v = shown.get(w.position);
              return v ? <WheelCard view={v} connected selected={false} onSelect={nothing} /> : null;
            }}
          />
          {rings.length > 0 && (
            <section className="mt-4" aria-label="What rings in this stretch">
              <h3>
                {rings.length === 1 ? 'It rings once' : `It rings ${rings.length} times`}
                <span className="font-normal text-ink2">, jump to one</span>
              </h3>
              <ul className="mt-2 flex max-h-[200px] flex-wrap gap-2 overflow-auto">
                {rings.slice(0, 200).map((e) => (
                  <li key={`${e.position} ${e.kind} ${e.atMs}`}>
                    <button
                      type="button"
                      className="btn btn-small"
                      data-past={e.atMs <= atMs || undefined}
                      onClick={() => {
                        setPlaying(false);
                        goTo(e.atMs);
                      }}
                    >
                      <span className={e.atMs <= atMs ? 'font-bold' : 'font-normal'}>
                        {timeOfDay(new Date(e.atMs).toISOString())} {e.position} {kindWords[e.kind]}
                      </span>
                    </button>
                  </li>
                ))}
              </ul>
            </section>
          )}
        </>
      )}
      {problem !== '' && (
        <p className="error mt-2" role="alert">
          {problem}
        </p>
      )}
    </section>
  );
}

const nothing = () => undefined;
