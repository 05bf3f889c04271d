import type { AlarmKind } from '#schema/alarm.ts';

/** What the watch holds a wheel against. Null: no such limit, or not known. */
export interface WheelLimits {
  lowKpa: number | null;
  highKpa: number | null;
  hotC: number | null;
  /** Cold target; it bounds the hysteresis when limits sit close to it. */
  coldKpa: number | null;
  /** A spare: it does not roll, so its sensor sleeps through the drive and is not missed. */
  rests?: boolean;
  /** Paired at the table and not on its valve yet: it reads zero, and nothing rings until it was once heard with pressure. */
  waitsFitting?: boolean;
}

/** An alarm that is active. */
export interface ActiveAlarm {
  fromMs: number;
  /** The limit crossed, in the unit of the kind (kPa, °C, s). */
  limit: number;
  /** The reading that raised it. */
  value: number;
  /** The furthest past the limit since. */
  worst: number;
}

/** All that the watch remembers of a wheel. Plain data, so that it can be stored and taken up again. */
export interface WheelMemory {
  lastMs: number | null;
  lastKpa: number;
  lastC: number;
  /** The latest intervals between readings, ms, at most `HABIT_LENGTH`; a ring, in no order of time. */
  intervals: number[];
  /** Where the ring takes the next one. */
  next: number;
  /** Heard with pressure since it was paired: from then on a zero is a zero. */
  fitted?: boolean;
  active: Partial<Record<AlarmKind, ActiveAlarm>>;
}

/** The watch's whole memory: what `Watch` is built from again after a stop. */
export interface WatchSnapshot {
  wheels: Record<string, WheelMemory>;
  /** Since when most wheels have been heard without a pause; null while the rig is quiet. */
  busySinceMs: number | null;
  /** Event time up to which the watch has looked for silence. */
  scannedMs: number | null;
}

/** Something that happened to an alarm. */
export interface WatchEvent {
  type: 'raised' | 'worse' | 'returned';
  position: string;
  kind: AlarmKind;
  /** Event time of the change, ms since the epoch. */
  atMs: number;
  fromMs: number;
  limit: number;
  value: number;
  worst: number;
}

/** Nothing for this long is the least that counts as silence, ms (15 min). */
export const SILENT_AFTER_MS = 15 * 60_000;
/** And for this many of the wheel's own median intervals. */
export const SILENT_INTERVALS = 10;
/** How many intervals make a wheel's habit. */
export const HABIT_LENGTH = 200;
/** Most wheels must have been heard within this time for the rig to count as awake, ms. */
export const BUSY_WINDOW_MS = 5 * 60_000;
/** A reading is live up to this age, ms: sensors send about once a minute on the move and fall asleep after 5 min or more. */
export const LIVE_FOR_MS = 5 * 60_000;

/** Hysteresis of pressure, kPa (1 psi: a sensor's coarsest step), and of temperature, K. Assumed. */
const PRESSURE_HYSTERESIS_KPA = 6.894757293168;
const HOT_HYSTERESIS_K = 3;
/** Event time between two looks for silence, ms. */
const SCAN_MS = 10_000;

/** The middle of a list of numbers; the mean of the two middle ones when their count is even. */
export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const mid = sorted.length >> 1;
  return sorted.length % 2 === 1 ? (sorted[mid] as number) : ((sorted[mid - 1] as number) + (sorted[mid] as number)) / 2;
}

/** A sensor that reads this much or more sits on a valve, kPa (5 psi). Assumed. */
export const FITTED_FROM_KPA = 5 * PRESSURE_HYSTERESIS_KPA;

/** Whether a sensor lies loose still, so that nothing it says is an alarm. */
export const waitsFitting = (limits: Pick<WheelLimits, 'waitsFitting'>, memory: Readonly<WheelMemory>): boolean =>
  limits.waitsFitting === true && memory.fitted !== true;

const freshMemory = (): WheelMemory => ({ lastMs: null, lastKpa: 0, lastC: 0, intervals: [], next: 0, active: {} });

/**
 * After how long without a reading a wheel counts as silent, ms: over 15 min and over ten of its own median intervals.
 * Null while its habit is not known (fewer than two readings).
 */
export function silentAfterMs(memory: WheelMemory): number | null {
  if (memory.intervals.length === 0) return null;
  return Math.max(SILENT_AFTER_MS, SILENT_INTERVALS * median(memory.intervals));
}

/** A wheel under watch. */
interface WatchedWheel {
  position: string;
  limits: WheelLimits;
  memory: WheelMemory;
}

export interface WatchOptions {
  /**
   * True: a wheel is silent only while most others are heard, for a rig that stops puts all its sensors to sleep.
   * False: each wheel on its own.
   */
  sleepAware: boolean;
}

/**
 * The watch of one rig: takes readings in event time, says when alarms rise and return. It never looks at a clock: time
 * comes with the readings and with `tick`. Same readings, same answer.
 */
export class Watch {
  readonly #wheels = new Map<string, WatchedWheel>();
  readonly #sleepAware: boolean;
  #busySinceMs: number | null;
  #scannedMs: number | null;

  constructor(wheels: Readonly<Record<string, WheelLimits>>, options: WatchOptions, snapshot?: WatchSnapshot) {
    for (const [position, limits] of Object.entries(wheels)) {
      const kept = snapshot?.wheels[position];
      this.#wheels.set(position, { position, limits, memory: kept ? structuredCopy(kept) : freshMemory() });
    }
    this.#sleepAware = options.sleepAware;
    this.#busySinceMs = snapshot?.busySinceMs ?? null;
    this.#scannedMs = snapshot?.scannedMs ?? null;
  }

  /** What is remembered of a wheel, or undefined for a position that is not watched. Not to be changed. */
  memory(position: string): Readonly<WheelMemory> | undefined {
    return this.#wheels.get(position)?.memory;
  }

  /** Since when most wheels have been heard without a pause, ms; null while the rig is quiet. */
  get busySinceMs(): number | null {
    return this.#busySinceMs;
  }

  snapshot(): WatchSnapshot {
    const wheels: Record<string, WheelMemory> = {};
    for (const { position, memory } of this.#wheels.values()) wheels[position] = structuredCopy(memory);
    return { wheels, busySinceMs: this.#busySinceMs, scannedMs: this.#scannedMs };
  }

  /**
   * Take a reading. One that is not younger than the wheel's last is passed over.
   * @param ms event time, ms since the epoch
   * @param kpa gauge pressure as read
   * @param tempC temperature as read
   * @param out takes what happened, in order
   * @returns false when the reading was passed over
   */
  read(position: string, ms: number, kpa: number, tempC: number, out: WatchEvent[]): boolean {
    const wheel = this.#wheels.get(position);
    if (!wheel) return false;
    const { memory } = wheel;
    if (memory.lastMs !== null) {
      const interval = ms - memory.lastMs;
      if (interval <= 0) return false;
      if (interval > SILENT_AFTER_MS) this.#endGap(position, memory, ms, out);
      memory.intervals[memory.next] = interval;
      memory.next = (memory.next + 1) % HABIT_LENGTH;
    }
    memory.lastMs = ms;
    memory.lastKpa = kpa;
    memory.lastC = tempC;
    if (wheel.limits.waitsFitting && kpa >= FITTED_FROM_KPA) memory.fitted = true;
    this.#judge(wheel, ms, out);
    if (this.#sleepAware && (this.#scannedMs === null || ms - this.#scannedMs >= SCAN_MS)) this.tick(ms, out);
    return true;
  }

  /**
   * Let event time pass: wheels that should have been heard by now are silent.
   * @param ms event time, ms since the epoch
   */
  tick(ms: number, out: WatchEvent[]): void {
    if (this.#scannedMs !== null && ms < this.#scannedMs) return;
    this.#scannedMs = ms;
    if (this.#sleepAware) {
      let known = 0;
      let heard = 0;
      for (const { memory: m } of this.#wheels.values()) {
        if (m.lastMs === null) continue;
        known += 1;
        if (ms - m.lastMs <= BUSY_WINDOW_MS) heard += 1;
      }
      // Half of the wheels, and two at the least: one sensor that was tapped does not make a rig awake.
      const busy = heard >= Math.max(known > 2 ? 2 : 1, known / 2);
      if (!busy) this.#busySinceMs = null;
      else this.#busySinceMs ??= ms;
      if (this.#busySinceMs === null) return;
    }
    for (const { position, memory, limits } of this.#wheels.values()) {
      if (memory.lastMs === null || ms - memory.lastMs <= SILENT_AFTER_MS || memory.active.silent) continue;
      if ((this.#sleepAware && limits.rests) || waitsFitting(limits, memory)) continue;
      const after = silentAfterMs(memory);
      if (after === null) continue;
      const from = this.#sleepAware ? Math.max(memory.lastMs, this.#busySinceMs ?? ms) : memory.lastMs;
      if (ms - from > after) this.#raise(position, memory, 'silent', from + after, after / 1000, memory.lastKpa, out);
    }
  }

  /**
   * Take new limits: wheels that left are forgotten, new ones begin unheard, the others are judged again by their last reading.
   * @param reset positions whose sensor is another one now; they begin unheard
   */
  configure(wheels: Readonly<Record<string, WheelLimits>>, reset: ReadonlySet<string>, out: WatchEvent[]): void {
    for (const { position, memory } of this.#wheels.values()) {
      if (wheels[position] && !reset.has(position)) continue;
      for (const kind of Object.keys(memory.active) as AlarmKind[]) {
        this.#return(position, memory, kind, memory.lastMs ?? 0, out);
      }
      this.#wheels.delete(position);
    }
    for (const [position, limits] of Object.entries(wheels)) {
      const wheel = this.#wheels.get(position);
      if (!wheel) {
        this.#wheels.set(position, { position, limits, memory: freshMemory() });
        continue;
      }
      wheel.limits = limits;
      if (wheel.memory.lastMs !== null) this.#judge(wheel, wheel.memory.lastMs, out);
    }
  }

  /** A gap has just ended with a reading: was it silence? */
  #endGap(position: string, memory: WheelMemory, ms: number, out: WatchEvent[]): void {
    if (!this.#sleepAware && !memory.active.silent) {
      const after = silentAfterMs(memory);
      const last = memory.lastMs as number;
      if (after !== null && ms - last > after) {
        this.#raise(position, memory, 'silent', last + after, after / 1000, memory.lastKpa, out);
      }
    }
    if (memory.active.silent) this.#return(position, memory, 'silent', ms, out);
  }

  #judge({ position, memory, limits }: WatchedWheel, ms: number, out: WatchEvent[]): void {
    const { lastKpa: kpa, lastC: tempC, active } = memory;
    const { lowKpa, highKpa, hotC, coldKpa } = limits;
    if (waitsFitting(limits, memory)) {
      for (const kind of Object.keys(active) as AlarmKind[]) this.#return(position, memory, kind, ms, out);
      return;
    }
    if (lowKpa !== null && kpa <= lowKpa) this.#past(position, memory, 'low', ms, lowKpa, kpa, -1, out);
    else if (active.low && (lowKpa === null || kpa >= lowKpa + hysteresis(lowKpa, coldKpa))) {
      this.#return(position, memory, 'low', ms, out);
    }
    if (highKpa !== null && kpa >= highKpa) this.#past(position, memory, 'high', ms, highKpa, kpa, 1, out);
    else if (active.high && (highKpa === null || kpa <= highKpa - hysteresis(highKpa, coldKpa))) {
      this.#return(position, memory, 'high', ms, out);
    }
    if (hotC !== null && tempC >= hotC) this.#past(position, memory, 'hot', ms, hotC, tempC, 1, out);
    else if (active.hot && (hotC === null || tempC <= hotC - HOT_HYSTERESIS_K)) this.#return(position, memory, 'hot', ms, out);
  }

  #past(
    position: string,
    memory: WheelMemory,
    kind: AlarmKind,
    ms: number,
    limit: number,
    value: number,
    direction: 1 | -1,
    out: WatchEvent[],
  ): void {
    const alarm = memory.active[kind];
    if (!alarm) {
      this.#raise(position, memory, kind, ms, limit, value, out);
      return;
    }
    alarm.limit = limit;
    if ((value - alarm.worst) * direction > 0) {
      alarm.worst = value;
      out.push({ type: 'worse', position, kind, atMs: ms, fromMs: alarm.fromMs, limit, value: alarm.value, worst: value });
    }
  }

  #raise(
    position: string,
    memory: WheelMemory,
    kind: AlarmKind,
    ms: number,
    limit: number,
    value: number,
    out: WatchEvent[],
  ): void {
    memory.active[kind] = { fromMs: ms, limit, value, worst: value };
    out.push({ type: 'raised', position, kind, atMs: ms, fromMs: ms, limit, value, worst: value });
  }

  #return(position: string, memory: WheelMemory, kind: AlarmKind, ms: number, out: WatchEvent[]): void {
    const alarm = memory.active[kind];
    if (!alarm) return;
    delete memory.active[kind];
    const { fromMs, limit, value, worst } = alarm;
    out.push({ type: 'returned', position, kind, atMs: ms, fromMs, limit, value, worst });
  }
}

/**
 * How far a reading must come back before its alarm returns, kPa: 1 psi, but never more than half the way from the limit
 * to the cold target, so that a tire put back to its target always ends its alarm.
 */
export function hysteresis(limitKpa: number, coldKpa: number | null): number {
  if (coldKpa === null) return PRESSURE_HYSTERESIS_KPA;
  return Math.min(PRESSURE_HYSTERESIS_KPA, Math.abs(coldKpa - limitKpa) / 2);
}

function structuredCopy(memory: WheelMemory): WheelMemory {
  const active: WheelMemory['active'] = {};
  for (const [kind, alarm] of Object.entries(memory.active)) active[kind as AlarmKind] = { ...alarm };
  return { ...memory, intervals: [...memory.intervals], active };
}
