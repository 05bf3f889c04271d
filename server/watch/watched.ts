import { pressureAt } from '#core/gas/gas.ts';
import { gasTempFrom } from '#core/kit/physics.ts';
import { type RigWheel, settingOf, watchedWheels } from '#core/rig/positions.ts';
import { stampOf } from '#core/rig/stamp.ts';
import { limitsInForce } from '#core/watch/limits.ts';
import { WATCH } from '#core/watch/parameters.ts';
import { unreadView, wheelNeeds } from '#core/watch/unread.ts';
import { stateOf } from '#core/watch/view.ts';
import { type ActiveAlarm, type Checkpoint, Watch, type WheelLimits, type WheelMemory } from '#core/watch/watch.ts';
import type { AlarmKind, WheelView } from '#schema/alarm.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { ReadingSource } from '#schema/reading.ts';
import type { Rig, Unit } from '#schema/unit.ts';

const iso = (ms: number) => new Date(ms).toISOString();

/** The bench's clock and weather, while it drives the rig. */
export interface BenchClock {
  ms: number;
  airC: number;
  moving: boolean;
  /** Absolute ambient pressure, kPa. */
  ambientKpa: number;
}

/** What a page was last told of a wheel. */
export interface Sent {
  state: string;
  time: string | null;
  /** Age as far as words tell it: minutes, then full hours; null while the figure is live or there is none. */
  age: number | null;
}

export function sentOf({ state, time, ageS }: WheelView): Sent {
  const age = state === 'live' || ageS === null ? null : ageS < 6000 ? Math.round(ageS / 60) : Math.round(ageS / 3600) * 60;
  return { state, time, age };
}

/** A wheel of a rig that a sensor is paired to. */
export interface Place {
  rigId: string;
  position: string;
  /** It is the wheel's second source: shown, never judged. */
  second?: boolean;
}
/** Sensor ID to the wheels it is paired to; sensors of units in no rig have an empty list. */
export type Places = Map<string, Place[]>;

/** The sound of a rig is off for a time. */
export interface Silence {
  /** Wall clock, ms. */
  untilMs: number;
  /** How long it was meant to last, ms. */
  durationMs: number;
  /** Wall clock when it was last looked at, ms. */
  seenMs: number;
}

/**
 * Until when the sound of a rig is off, ms; null when it is on. It ends by its duration: a clock that is set back doesn't make it longer.
 * @param nowMs wall clock
 */
export function silencedUntil(watched: Watched, nowMs: number): number | null {
  const s = watched.silence;
  if (!s) return null;
  if (nowMs < s.seenMs) s.untilMs -= s.seenMs - nowMs;
  s.seenMs = nowMs;
  s.untilMs = Math.min(s.untilMs, nowMs + s.durationMs);
  if (s.untilMs <= nowMs) watched.silence = null;
  return watched.silence && s.untilMs;
}

/** What a wheel's second source said last, and how long it had been since the time before. */
export interface SecondReading {
  ms: number;
  kpa: number;
  tempC: number | null;
  everyMs: number | null;
}

/** One rig under watch. */
export interface Watched {
  rig: Rig;
  units: Unit[];
  /** Its monitor, which the watch stands in for. */
  monitor: Monitor | null;
  wheels: RigWheel[];
  byPosition: Map<string, RigWheel>;
  watch: Watch;
  /** Source of the last reading of each wheel. */
  sources: Map<string, ReadingSource>;
  /** The last reading of each wheel's second source. */
  seconds: Map<string, SecondReading>;
  /** The sound is off; null: it is on. */
  silence: Silence | null;
  /** One of its alarms at least is shelved. */
  shelved: boolean;
  /** Letters of units that are disconnected. */
  resting: Set<string>;
  bench: BenchClock | null;
  /** What was last sent, to send only what changed. */
  sent: Map<string, Sent>;
  /** What the database holds of where the watch goes back to for a late reading. */
  keptCheckpoint: Checkpoint | null;
}

/** The clock of a rig, ms: the bench's while it drives the rig, else the wall clock. */
export const clockMs = (watched: Watched, nowMs: number): number => watched.bench?.ms ?? nowMs;

/** Says whether a rig, its units and its monitor are still the same documents. */
export const stamp = (w: Watched): string => stampOf(w.rig, w.units, w.monitor);

export function assemble(rig: Rig, units: ReadonlyMap<string, Unit>, monitors: ReadonlyMap<string, Monitor>): Watched {
  const own = rig.unitIds.flatMap((id) => units.get(id) ?? []);
  const wheels = watchedWheels(rig, own);
  const watched: Watched = {
    rig,
    units: own,
    monitor: monitors.get(rig.monitorId ?? '') ?? null,
    wheels,
    byPosition: new Map(wheels.map((w) => [w.position, w])),
    watch: new Watch({}, { sleepAware: true }),
    sources: new Map(),
    seconds: new Map(),
    silence: null,
    shelved: false,
    resting: new Set(),
    bench: null,
    sent: new Map(),
    keptCheckpoint: null,
  };
  watched.watch = new Watch(limitsOf(watched), { sleepAware: true });
  return watched;
}

/** Limits of every wheel that has a sensor. */
export function limitsOf(watched: Watched): Record<string, WheelLimits> {
  const out: Record<string, WheelLimits> = {};
  for (const w of watched.wheels) {
    if (!w.wheel.sensor) continue;
    const { cold, limits } = settingOf(w, watched.rig.loadState);
    const { lowKpa, highKpa } = limitsInForce({ cold, limits }, watched.monitor);
    const needs = wheelNeeds(w, watched.rig);
    out[w.position] = {
      lowKpa,
      highKpa,
      hotC: limits?.hotC ?? null,
      coldKpa: cold?.kpa ?? null,
      coldTempC: cold?.tempC ?? 20,
      loadMinimumKpa: needs.loadMinimumKpa ?? undefined,
      maxColdKpa: needs.maxColdKpa ?? undefined,
      sensorKind: w.wheel.sensor.kind,
      ...(watched.monitor?.correctsToC === undefined ? {} : { correctedToC: watched.monitor.correctsToC }),
      rests: w.place === 'S',
      ...(w.wheel.sensor.cellSince === undefined ? {} : { cellSinceMs: Date.parse(w.wheel.sensor.cellSince) }),
      ...(watched.resting.has(w.position[0] as string) ? { resting: true } : {}),
      ...(w.wheel.sensor.fitted === false ? { waitsFitting: true } : {}),
    };
  }
  return out;
}

/** When a wheel of the rig was heard last, ms since the epoch. */
export function lastHeard(watched: Watched): number {
  let last = Number.NEGATIVE_INFINITY;
  for (const w of watched.wheels) last = Math.max(last, watched.watch.memory(w.position)?.lastMs ?? Number.NEGATIVE_INFINITY);
  return last;
}

const secondView = (name: string, r: SecondReading | undefined, nowMs: number): WheelView['second'] => ({
  name,
  pressureKpa: r?.kpa ?? null,
  tempC: r?.tempC ?? null,
  time: r ? iso(r.ms) : null,
  ageS: r ? Math.max(0, Math.round((nowMs - r.ms) / 1000)) : null,
  everyS: r?.everyMs == null ? null : Math.round(r.everyMs / 1000),
});

/** Kinds of alarm on a wheel: those that ask for something, and those that are only noted. */
function activeOf(memory: Readonly<WheelMemory> | undefined): Pick<WheelView, 'active' | 'noted'> {
  const all = Object.entries(memory?.active ?? {}) as [AlarmKind, ActiveAlarm][];
  const kinds = (noted: boolean) => all.filter(([, a]) => (a.priority === 'note') === noted).map(([k]) => k);
  const noted = kinds(true);
  return { active: kinds(false), ...(noted.length > 0 ? { noted } : {}) };
}

/** A wheel as a page gets it; null at a position the rig doesn't have. @param nowMs the rig's clock, ms */
export function wheelView(watched: Watched, position: string, nowMs: number): WheelView | null {
  const w = watched.byPosition.get(position);
  if (!w) return null;
  const memory = w.wheel.sensor ? watched.watch.memory(position) : undefined;
  const { cold } = settingOf(w, watched.rig.loadState);
  const heard = memory !== undefined && memory.lastMs !== null;
  const airC = watched.bench?.airC ?? null;
  const kind = w.wheel.sensor?.kind ?? null;
  const held = heard && !memory.noTemp && cold !== undefined;
  const correctedToC = watched.monitor?.correctsToC;
  const expectedKpa =
    held && cold && kind && airC !== null
      ? pressureAt(cold.kpa, cold.tempC, correctedToC ?? gasTempFrom(kind, memory.lastC, airC))
      : null;
  const busy = watched.watch.busySinceMs !== null && heard && lastHeard(watched) > nowMs - WATCH.busyWindowMs;
  return {
    ...unreadView(w, watched.rig, watched.monitor),
    state: stateOf(memory, nowMs, busy && w.place !== 'S', {
      waitsFitting: w.wheel.sensor?.fitted === false,
      resting: watched.resting.has(position[0] as string),
    }),
    pressureKpa: heard ? memory.lastKpa : null,
    tempC: heard && !memory.noTemp ? memory.lastC : null,
    time: heard ? iso(memory.lastMs as number) : null,
    ageS: heard ? Math.max(0, Math.round((nowMs - (memory.lastMs as number)) / 1000)) : null,
    practice: watched.sources.get(position) === 'bench',
    expectedKpa,
    heldKpa: held ? memory.heldKpa : null,
    heldLowKpa: held ? memory.heldLowKpa : null,
    heldHighKpa: held ? memory.heldHighKpa : null,
    aheadTime: memory?.aheadMs == null ? null : iso(memory.aheadMs),
    askedTime: memory?.askedMs == null ? null : iso(memory.askedMs),
    offTime: memory?.offSinceMs == null ? null : iso(memory.offSinceMs),
    filling: watched.watch.topUp?.positions.includes(position) ?? false,
    source: watched.sources.get(position) ?? null,
    second: w.wheel.second ? secondView(w.wheel.second.name, watched.seconds.get(position), nowMs) : null,
    ...activeOf(memory),
  };
}
