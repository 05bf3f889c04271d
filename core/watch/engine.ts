import type { AlarmKind } from '#schema/alarm.ts';
import { STANDARD_AMBIENT_KPA } from '../air/atmosphere.ts';
import { estimateLeak } from '../leak/estimate.ts';
import { REST_HOURS } from '../pressure/now.ts';
import { axleOf } from '../rig/positions.ts';
import { ABSOLUTE_ZERO_C } from '../units/units.ts';
import { WATCH } from './parameters.ts';
import {
  type ActiveAlarm,
  type AirGuess,
  type AlarmEvidence,
  copyMemory,
  emptyWindow,
  forgetAir,
  freshMemory,
  guessGas,
  holdReading,
  inPlace,
  keepTrend,
  type LimitsInPlace,
  lostInWindow,
  memoryFrom,
  PUT_ON_NEXT,
  SETTLE_MS,
  voltsAt20,
  type WatchedKind,
  type WheelLimits,
  type WheelMemory,
  waitsFitting,
} from './wheel.ts';

/** Something that happened to an alarm. Position is a wheel, or a unit's letter when a whole unit is meant. */
export interface WatchEvent {
  /** `corrected`, `withdrawn`: a late reading showed that the alarm begun at `oldFromMs` was otherwise, or was none. */
  type: 'raised' | 'worse' | 'returned' | 'corrected' | 'withdrawn';
  position: string;
  kind: AlarmKind;
  /** Event time of the change, ms since the epoch. */
  atMs: number;
  fromMs: number;
  limit: number;
  value: number;
  worst: number;
  evidence?: AlarmEvidence | undefined;
  /** For `corrected` and `withdrawn`: when it was said to begin before, and how it ends now. */
  oldFromMs?: number;
  toMs?: number | null;
}

/** What is known of a rig beside its readings. Null: not known. */
export interface Surroundings {
  /** Air as told (typed, or the bench's), °C. */
  airC: number | null;
  /** Whether the rig rolls. */
  moving: boolean | null;
  /** Absolute ambient pressure, kPa. */
  ambientKpa: number;
}

/** Wheels that are being filled. */
export interface TopUp {
  positions: string[];
  untilMs: number;
  /** One of them was heard under its target since. */
  begun: boolean;
}

/** The engine's whole memory, plain data. */
export interface EngineSnapshot {
  wheels: Record<string, WheelMemory>;
  /** Units that are missed as a whole. */
  units: Record<string, ActiveAlarm>;
  /** The repeater's weak supply, by the letter of the unit it stands on. */
  repeater: Record<string, ActiveAlarm>;
  /** When the wheels of an axle are held against each other next. */
  axles: Record<string, number>;
  /** Since when the rig has been awake without a pause; null while it is quiet. */
  busySinceMs: number | null;
  /** Event time up to which the watch has looked for silence. */
  scannedMs: number | null;
  movedMs: number | null;
  air: AirGuess | null;
  airMs: number;
  around: Surroundings;
  topUp: TopUp | null;
}

/** Nothing for this long is the least that counts as silence, ms (15 min). */
export const SILENT_AFTER_MS = 15 * 60_000;
/** And for this many of the wheel's own median intervals. */
export const SILENT_INTERVALS = 10;
/** How many intervals make a wheel's habit. */
export const HABIT_LENGTH = 200;
/** Half of a unit's wheels must have been heard within this time for the rig to count as awake, ms. */
export const BUSY_WINDOW_MS = 5 * 60_000;
/** A reading is live up to this age, ms: sensors send about once a minute on the move and fall asleep after 5 min or more. */
export const LIVE_FOR_MS = 5 * 60_000;

/**
 * The middle of a list of numbers; the mean of the two middle ones when their count is even.
 * @param but index of one that is left out
 */
export function median(values: readonly number[], but = -1): number {
  const n = but < 0 ? values.length : values.length - 1;
  if (n <= 4) {
    // The usual axle: no list need be made for it.
    let sum = 0;
    let least = Number.POSITIVE_INFINITY;
    let most = Number.NEGATIVE_INFINITY;
    for (let i = 0; i < values.length; i += 1) {
      if (i === but) continue;
      const v = values[i] as number;
      sum += v;
      if (v < least) least = v;
      if (v > most) most = v;
    }
    return n <= 2 ? sum / n : n === 3 ? sum - least - most : (sum - least - most) / 2;
  }
  const sorted = values.filter((_, i) => i !== but).sort((a, b) => a - b);
  const mid = n >> 1;
  return n % 2 === 1 ? (sorted[mid] as number) : ((sorted[mid - 1] as number) + (sorted[mid] as number)) / 2;
}

/**
 * After how long without a reading a wheel counts as silent, ms: over 15 min and over ten of its own median intervals.
 * Null while its habit is not known (fewer than two readings).
 */
export function silentAfterMs(memory: Pick<WheelMemory, 'intervals'>): number | null {
  if (memory.intervals.length === 0) return null;
  return Math.max(SILENT_AFTER_MS, SILENT_INTERVALS * median(memory.intervals));
}

/**
 * How far a reading must come back before its alarm returns, kPa: 1 psi, but never more than half the way from the limit
 * to the cold target, so that a tire put back to its target always ends its alarm.
 */
export function hysteresis(limitKpa: number, coldKpa: number | null): number {
  if (coldKpa === null) return WATCH.pressureHysteresisKpa;
  return Math.min(WATCH.pressureHysteresisKpa, Math.abs(coldKpa - limitKpa) / 2);
}

/** A wheel under watch. */
interface WatchedWheel {
  position: string;
  unit: string;
  axle: WatchedAxle;
  limits: LimitsInPlace;
  memory: WheelMemory;
  /** Its own air, when that was told. */
  told: AirGuess | null;
  /** Being filled: low and rapid do not ring. */
  filling: boolean;
  /** No alarm is active on it. */
  calm: boolean;
}

interface WatchedAxle {
  wheels: WatchedWheel[];
  nextMs: number;
}

export interface EngineOptions {
  /**
   * True: a wheel is silent only while others are heard, for a rig that stops puts all its sensors to sleep; a unit that
   * vanishes as a whole is one alarm. False: each wheel on its own.
   */
  sleepAware: boolean;
}

const REST_MS = REST_HOURS * 3_600_000;
export const NO_SURROUNDINGS: Surroundings = { airC: null, moving: null, ambientKpa: STANDARD_AMBIENT_KPA };

const spanOf = (kind: WatchedKind) => 3 * Math.hypot(WATCH.apartTempK[kind], WATCH.apartPressureK);
/** How far the two signs of heat may lie apart before one of them is taken for a bad sensor, K. */
const APART_SPAN_K: Record<WatchedKind, number> = {
  ideal: spanOf('ideal'),
  cap: spanOf('cap'),
  flowThrough: spanOf('flowThrough'),
  internal: spanOf('internal'),
};

/** What the two signs of heat say together, K of gas: each by its standard deviation, the pressure held near the temperature. */
function bothSigns(overTempK: number, overPressureK: number, kind: WatchedKind): number {
  const most = APART_SPAN_K[kind];
  const pressureK = Math.min(overTempK + most, Math.max(overTempK - most, overPressureK));
  const a = 1 / WATCH.apartTempK[kind] ** 2;
  const b = 1 / WATCH.apartPressureK ** 2;
  return (overTempK * a + pressureK * b) / (a + b);
}

const toldAir = (tempC: number | null): AirGuess | null => (tempC === null ? null : { tempC, spreadK: WATCH.airToldK });

/** The other wheel of a dual pair, or -1. */
const twinAmong = (there: readonly WatchedWheel[], i: number): number =>
  there.findIndex((w, j) => j !== i && w.position.slice(0, 3) === there[i]?.position.slice(0, 3));

const copyAlarms = (alarms: ReadonlyMap<string, ActiveAlarm>): Record<string, ActiveAlarm> =>
  Object.fromEntries([...alarms].map(([unit, alarm]) => [unit, { ...alarm }]));

/** A trend has turned when this many of its latest points are there to tell so. */
const LATEST_POINTS = 8;

/** A trend of cold equivalents, kPa a day, from the moment the tire held the most; where its later half is surely faster, of that. */
export function trendOf(memory: Readonly<WheelMemory>): AlarmEvidence {
  const from = memory.bestMs - WATCH.trendStepMs;
  const points: { time: string; pressureKpa: number; tempC: number }[] = [];
  memory.trendMs.forEach((ms, i) => {
    if (ms >= from) points.push({ time: new Date(ms).toISOString(), pressureKpa: memory.trendKpa[i] as number, tempC: 20 });
  });
  const whole = estimateLeak(points);
  const half = points.length >= 2 * LATEST_POINTS ? estimateLeak(points.slice(points.length >> 1)) : whole;
  const faster = half.highKpaPerDay !== null && whole.rateKpaPerDay !== null && half.highKpaPerDay < whole.rateKpaPerDay;
  const { rateKpaPerDay, lowKpaPerDay, highKpaPerDay } = faster ? half : whole;
  if (rateKpaPerDay !== null && lowKpaPerDay !== null && highKpaPerDay !== null) {
    return { rateKpaPerDay, rateLowKpaPerDay: lowKpaPerDay, rateHighKpaPerDay: highKpaPerDay };
  }
  const days = ((memory.lastMs ?? memory.bestMs) - memory.bestMs) / 86_400_000;
  return days > 0 ? { rateKpaPerDay: (memory.heldKpa - memory.bestHeldKpa) / days } : {};
}

/**
 * One pass over readings in the order of their time. It never looks at a clock: time comes with the readings and with `scan`.
 * Same readings, same answer. `Watch` puts late readings into their place around it.
 */
export class Engine {
  readonly #wheels = new Map<string, WatchedWheel>();
  #list: WatchedWheel[] = [];
  #units = new Map<string, WatchedWheel[]>();
  readonly #missing = new Map<string, ActiveAlarm>();
  readonly #repeater = new Map<string, ActiveAlarm>();
  readonly #sleepAware: boolean;
  #busySinceMs: number | null;
  #scannedMs: number | null;
  #movedMs: number | null;
  #air: AirGuess | null;
  #airMs: number;
  #around: Surroundings;
  #topUp: TopUp | null;
  // Scratch of the comparison of an axle's wheels.
  readonly #there: WatchedWheel[] = [];
  readonly #logs: number[] = [];
  readonly #gases: number[] = [];

  constructor(wheels: Readonly<Record<string, WheelLimits>>, options: EngineOptions, snapshot?: Partial<EngineSnapshot>) {
    this.#sleepAware = options.sleepAware;
    this.#busySinceMs = snapshot?.busySinceMs ?? null;
    this.#scannedMs = snapshot?.scannedMs ?? null;
    this.#movedMs = snapshot?.movedMs ?? null;
    this.#air = snapshot?.air ? { ...snapshot.air } : null;
    this.#airMs = snapshot?.airMs ?? 0;
    this.#around = snapshot?.around ?? NO_SURROUNDINGS;
    this.#topUp = snapshot?.topUp ? { ...snapshot.topUp } : null;
    for (const [position, limits] of Object.entries(wheels)) {
      const kept = snapshot?.wheels?.[position];
      this.#add(position, limits, kept ? memoryFrom(kept) : freshMemory());
    }
    this.#index();
    for (const [unit, alarm] of Object.entries(snapshot?.units ?? {})) {
      if (this.#units.has(unit)) this.#missing.set(unit, { ...alarm });
    }
    for (const [unit, alarm] of Object.entries(snapshot?.repeater ?? {})) this.#repeater.set(unit, { ...alarm });
    for (const w of this.#list) w.axle.nextMs = snapshot?.axles?.[axleOf(w.position)] ?? 0;
  }

  #add(position: string, limits: WheelLimits, memory: WheelMemory): void {
    this.#wheels.set(position, {
      position,
      unit: position[0] as string,
      axle: { wheels: [], nextMs: 0 },
      limits: inPlace(limits),
      memory,
      told: toldAir(limits.airC ?? null),
      filling: false,
      calm: Object.keys(memory.active).length === 0,
    });
  }

  #index(): void {
    this.#list = [...this.#wheels.values()];
    this.#units = new Map();
    const axles = new Map<string, WatchedAxle>();
    for (const w of this.#list) {
      const unit = this.#units.get(w.unit);
      if (unit) unit.push(w);
      else this.#units.set(w.unit, [w]);
      const key = axleOf(w.position);
      const axle = axles.get(key) ?? { wheels: [], nextMs: w.axle.nextMs };
      axles.set(key, axle);
      axle.wheels.push(w);
      w.axle = axle;
      w.filling = this.#topUp?.positions.includes(w.position) ?? false;
    }
  }

  /** What is remembered of a wheel, or undefined for a position that is not watched. Not to be changed. */
  memory(position: string): Readonly<WheelMemory> | undefined {
    return this.#wheels.get(position)?.memory;
  }

  get busySinceMs(): number | null {
    return this.#busySinceMs;
  }

  get scannedMs(): number | null {
    return this.#scannedMs;
  }

  get topUp(): TopUp | null {
    return this.#topUp;
  }

  get around(): Surroundings {
    return this.#around;
  }

  /** The air as told or as guessed, or null. */
  get air(): AirGuess | null {
    return toldAir(this.#around.airC) ?? this.#air;
  }

  /** Weak supplies of repeaters. */
  get repeater(): ReadonlyMap<string, ActiveAlarm> {
    return this.#repeater;
  }

  /** Units that are missed as a whole. */
  get missing(): ReadonlyMap<string, ActiveAlarm> {
    return this.#missing;
  }

  rested(ms: number): boolean {
    return this.#sleepAware && this.#movedMs !== null && ms - this.#movedMs >= REST_MS;
  }

  snapshot(): EngineSnapshot {
    const wheels: Record<string, WheelMemory> = {};
    for (const { position, memory } of this.#list) wheels[position] = copyMemory(memory);
    return { ...this.rigState(), wheels };
  }

  /** The snapshot without the wheels. */
  rigState(): Omit<EngineSnapshot, 'wheels'> {
    return {
      units: copyAlarms(this.#missing),
      repeater: copyAlarms(this.#repeater),
      axles: Object.fromEntries(this.#list.map((w) => [axleOf(w.position), w.axle.nextMs])),
      busySinceMs: this.#busySinceMs,
      scannedMs: this.#scannedMs,
      movedMs: this.#movedMs,
      air: this.#air && { ...this.#air },
      airMs: this.#airMs,
      around: this.#around,
      topUp: this.#topUp && { ...this.#topUp },
    };
  }

  surround(around: Surroundings): void {
    this.#around = around;
  }

  /**
   * Take a reading. One that is not younger than the wheel's last is passed over.
   * @param ms event time, ms since the epoch
   * @param kpa gauge pressure as read
   * @param tempC temperature as read
   * @param volts of its cell; NaN when not told
   * @param out takes what happened, in order
   * @returns false when the reading was passed over
   */
  read(position: string, ms: number, kpa: number, tempC: number, volts: number, out: WatchEvent[]): boolean {
    const wheel = this.#wheels.get(position);
    if (!wheel) return false;
    const { memory } = wheel;
    const prevMs = memory.lastMs;
    if (prevMs !== null && ms <= prevMs) return false;
    if (this.#sleepAware && (this.#scannedMs === null || ms - this.#scannedMs >= WATCH.scanMs)) this.scan(ms, out);
    if (prevMs !== null) {
      const interval = ms - prevMs;
      if (interval > SILENT_AFTER_MS) this.#endGap(wheel, ms, out);
      memory.intervals[memory.next] = interval;
      memory.next = (memory.next + 1) % HABIT_LENGTH;
    }
    if (memory.active.silent) this.#return(wheel, 'silent', ms, out);
    if (this.#missing.size > 0) this.#foundUnit(wheel.unit, ms, out);
    if (kpa === memory.lastKpa && tempC === memory.lastC && wheel.calm && this.#repeats(wheel, ms)) {
      memory.lastMs = ms;
      this.#apartIfDue(wheel.axle, ms, out);
      this.#after(wheel, ms, volts, tempC, out);
      return true;
    }
    // biome-ignore lint/suspicious/noSelfCompare: NaN stands for a reading without a temperature
    if (tempC !== tempC) {
      this.#readWithoutTemperature(wheel, ms, kpa, out);
      return true;
    }
    // Readings that only repeated the last figures: it held as much until then.
    if (prevMs !== null && prevMs > memory.doneMs && !memory.noTemp) lostInWindow(memory, prevMs, memory.heldKpa);
    memory.noTemp = false;
    const rested = this.rested(ms);
    const { sensorKind: kind, coldTempC } = wheel.limits;
    const told = wheel.told;
    if (kind !== 'ideal' && told === null && this.#around.airC === null) this.#guessAir(ms, tempC, rested);
    const ambientKpa = this.#around.ambientKpa;
    const guess = guessGas(kind, tempC, rested, kind === 'ideal' ? null : (told ?? this.air));
    if (memory.putOnMs === PUT_ON_NEXT) memory.putOnMs = ms;
    // It has taken the wheel's temperature: from here on that counts, and what it showed on the way does not.
    const settled = memory.putOnMs != null && ms - memory.putOnMs >= SETTLE_MS[kind];
    if (settled) {
      memory.putOnMs = null;
      emptyWindow(memory);
    }
    const before = memory.lastKpa;
    const prevLow = memory.heldLowKpa;
    const prevHigh = memory.heldHighKpa;
    holdReading(memory, ms, kpa, coldTempC, ambientKpa, guess, kind === 'ideal' || settled);
    const doneMs = prevMs === null ? ms : memory.doneMs;
    memory.doneMs = ms;
    memory.lastMs = ms;
    memory.lastKpa = kpa;
    memory.lastC = tempC;
    if (kpa >= WATCH.fittedFromKpa) {
      if (wheel.limits.waitsFitting) memory.fitted = true;
      this.#backOn(wheel, ms, out);
    } else if (prevMs !== null && before >= WATCH.fittedFromKpa && this.#around.moving !== true) {
      memory.askedMs = ms;
      memory.handledMs = ms;
    }
    if (this.#silenced(wheel)) this.#rest(wheel, ms, out);
    else {
      this.#loss(wheel, ms, prevMs, doneMs, prevLow, prevHigh, rested, out);
      this.#limits(wheel, ms, kpa, tempC, out);
      this.#apartIfDue(wheel.axle, ms, out);
      if (wheel.filling) this.#filled(ms, out);
    }
    this.#after(wheel, ms, volts, tempC, out);
    return true;
  }

  /** It is heard with pressure: a sensor that was off is back on its valve, and what the tire holds now begins anew. */
  #backOn(wheel: WatchedWheel, ms: number, out: WatchEvent[]): void {
    const { memory } = wheel;
    if (memory.askedMs == null && memory.offSinceMs == null) return;
    memory.askedMs = null;
    memory.offSinceMs = null;
    memory.handledMs = ms;
    memory.putOnMs = ms;
    if (memory.active.rapid) this.#return(wheel, 'rapid', ms, out);
    forgetAir(memory);
  }

  /** Whether a reading with the last figures tells nothing new. */
  #repeats(wheel: WatchedWheel, ms: number): boolean {
    const { memory } = wheel;
    return (
      ms - memory.doneMs < WATCH.repeatMs && !memory.noTemp && memory.askedMs == null && !this.#silenced(wheel) && !wheel.filling
    );
  }

  /** What every reading tells beside pressure and temperature: its cell, and that the rig is awake. */
  #after(wheel: WatchedWheel, ms: number, volts: number, tempC: number, out: WatchEvent[]): void {
    // biome-ignore lint/suspicious/noSelfCompare: NaN stands for a reading without volts
    if (volts === volts && !wheel.limits.resting) this.#battery(wheel, ms, volts, tempC, out);
    if (this.#sleepAware) {
      if (this.#busySinceMs === null && this.#isBusy(ms)) this.#busySinceMs = ms;
      if (this.#movedMs === null || (this.#around.moving ?? this.#busySinceMs !== null)) this.#movedMs = ms;
    }
  }

  /** A typed figure without a temperature: held against low and high alone. */
  #readWithoutTemperature(wheel: WatchedWheel, ms: number, kpa: number, out: WatchEvent[]): void {
    const { memory } = wheel;
    memory.lastMs = ms;
    memory.lastKpa = kpa;
    memory.noTemp = true;
    if (kpa >= WATCH.fittedFromKpa) {
      if (wheel.limits.waitsFitting) memory.fitted = true;
      this.#backOn(wheel, ms, out);
    }
    this.#judgeAgain(wheel, ms, out);
  }

  /** Nothing rings for it: not fitted, off its valve, disconnected. */
  #silenced(wheel: WatchedWheel): boolean {
    const { limits, memory } = wheel;
    return limits.resting === true || memory.offSinceMs != null || waitsFitting(limits, memory);
  }

  /** Hold the last reading of a wheel against its limits, or end what is active when it rests. */
  #judgeAgain(wheel: WatchedWheel, ms: number, out: WatchEvent[]): void {
    const { lastKpa, lastC, noTemp } = wheel.memory;
    if (this.#silenced(wheel)) this.#rest(wheel, ms, out);
    else this.#limits(wheel, ms, lastKpa, noTemp ? Number.NEGATIVE_INFINITY : lastC, out);
  }

  /** End what is active on a wheel that rests. */
  #rest(wheel: WatchedWheel, ms: number, out: WatchEvent[]): void {
    for (const kind of Object.keys(wheel.memory.active) as AlarmKind[]) {
      if (kind !== 'battery' || wheel.limits.resting) this.#return(wheel, kind, ms, out);
    }
  }

  /** The air is at most what the coolest sensor shows; it may have warmed since. */
  #guessAir(ms: number, shownC: number, rested: boolean): void {
    const air = this.#air;
    if (air === null) this.#air = { tempC: shownC, spreadK: WATCH.airGuessedK };
    else if (rested) air.tempC = shownC;
    else {
      const hours = Math.max(0, ms - this.#airMs) / 3_600_000;
      air.tempC = Math.min(air.tempC + WATCH.airCreepKPerHour * hours, shownC);
    }
    this.#airMs = ms;
  }

  #limits(wheel: WatchedWheel, ms: number, kpa: number, tempC: number, out: WatchEvent[]): void {
    const { active } = wheel.memory;
    const { lowKpa, highKpa, hotC, coldKpa } = wheel.limits;
    if (lowKpa !== null && kpa <= lowKpa && !wheel.filling) this.#past(wheel, 'low', ms, lowKpa, kpa, -1, out);
    else if (active.low && (wheel.filling || lowKpa === null || kpa >= lowKpa + hysteresis(lowKpa, coldKpa))) {
      this.#return(wheel, 'low', ms, out);
    }
    if (highKpa !== null && kpa >= highKpa) this.#past(wheel, 'high', ms, highKpa, kpa, 1, out);
    else if (active.high && (highKpa === null || kpa <= highKpa - hysteresis(highKpa, coldKpa))) {
      this.#return(wheel, 'high', ms, out);
    }
    if (hotC !== null && tempC >= hotC) this.#past(wheel, 'hot', ms, hotC, tempC, 1, out);
    else if (active.hot && (hotC === null || (tempC <= hotC - WATCH.hotHysteresisK && tempC > ABSOLUTE_ZERO_C)))
      this.#return(wheel, 'hot', ms, out);
  }

  /** Rapid and slow loss, temperature taken out. */
  #loss(
    wheel: WatchedWheel,
    ms: number,
    prevMs: number | null,
    doneMs: number,
    prevLow: number,
    prevHigh: number,
    rested: boolean,
    out: WatchEvent[],
  ): void {
    const { memory } = wheel;
    const { active } = memory;
    const lost = lostInWindow(memory, ms, memory.heldKpa);
    if (wheel.filling) return;
    const rapid = active.rapid;
    if (rapid) {
      const start = (rapid.evidence?.heldKpa ?? 0) + (rapid.evidence?.lossKpa ?? 0);
      if (start - memory.heldKpa > rapid.worst) {
        rapid.worst = start - memory.heldKpa;
        this.#tell('worse', wheel.position, 'rapid', ms, rapid, out);
      }
      if (lost < WATCH.rapidEndKpa) {
        this.#return(wheel, 'rapid', ms, out);
        // That loss has been told: a slow one is measured from here.
        memory.bestKpa = null;
      }
    } else if (lost >= WATCH.rapidKpa) {
      this.#raise(wheel, 'rapid', ms, WATCH.rapidKpa, lost, out, { ...this.#held(memory), lossKpa: lost });
    }
    // A sensor that fell to nothing may be off its valve: that is asked, and is no slow loss.
    if (memory.askedMs != null) return;
    // One put on a hot tire shows the air at first: taken at its word, the tire would hold more than it does, and lose it as the sensor warms.
    if (memory.putOnMs != null) return;
    keepTrend(memory, ms);
    const near = prevMs !== null && ms - prevMs <= WATCH.confirmMs;
    const low = near && prevLow < memory.heldLowKpa ? prevLow : memory.heldLowKpa;
    const high = near && prevHigh > memory.heldHighKpa ? prevHigh : memory.heldHighKpa;
    if (memory.bestKpa !== null && prevMs !== null) {
      memory.bestKpa -= (WATCH.rubberShare * Math.max(0, memory.bestKpa) * (ms - doneMs)) / WATCH.monthMs;
    }
    const slow = active.slow;
    if (slow) {
      if (high < memory.leastKpa) {
        memory.leastKpa = high;
        slow.worst = high;
        // What was lost when it was told, and how fast, is not what is lost now: each step is told with its own figures.
        this.#creep(wheel, 'slow', ms, slow, WATCH.worseKpa / 2, out, () => this.#slowEvidence(memory));
      } else if (low > memory.leastKpa + 2) {
        // Surely more than it held: air was put in.
        this.#return(wheel, 'slow', ms, out);
        forgetAir(memory);
        memory.bestKpa = low;
        memory.bestMs = ms;
        memory.bestHeldKpa = memory.heldKpa;
      }
      return;
    }
    if (memory.bestKpa === null || low > memory.bestKpa) {
      memory.bestKpa = low;
      memory.bestMs = ms;
      memory.bestHeldKpa = memory.heldKpa;
      return;
    }
    if (memory.active.rapid || ms - memory.bestMs < WATCH.slowLeastMs) return;
    // With the low limit at hand what is likely counts, else only what is sure.
    const { lowKpa } = wheel.limits;
    const likely = lowKpa !== null && memory.lastKpa <= lowKpa + WATCH.nearLowKpa;
    const loss = Math.max(memory.bestKpa - high, likely ? memory.bestHeldKpa - memory.heldKpa - WATCH.likelyKpa : 0);
    if (loss <= 0) return;
    const common = this.#common(wheel, ms) ?? (rested || wheel.limits.sensorKind === 'ideal' ? 0 : WATCH.aloneKpa);
    if (loss <= common) return;
    memory.leastKpa = high;
    this.#raise(wheel, 'slow', ms, memory.bestKpa, high, out, this.#slowEvidence(memory));
  }

  #slowEvidence(memory: WheelMemory): AlarmEvidence {
    const lossKpa = memory.bestHeldKpa - memory.heldKpa;
    return { ...this.#held(memory), ...trendOf(memory), lossKpa, sinceMs: memory.bestMs };
  }

  #held(memory: WheelMemory): AlarmEvidence {
    return { heldKpa: memory.heldKpa, heldLowKpa: memory.heldLowKpa, heldHighKpa: memory.heldHighKpa };
  }

  /** What the other wheels seem to have lost too, kPa: air and altitude that the watch does not know of. Null: no other to ask. */
  #common(wheel: WatchedWheel, ms: number): number | null {
    const losses: number[] = [];
    for (const w of this.#list) {
      const m = w.memory;
      if (w === wheel || w.limits.rests || m.lastMs === null || m.bestKpa === null || ms - m.lastMs > WATCH.commonMs) continue;
      if (m.active.rapid || m.active.slow || this.#silenced(w)) continue;
      losses.push(Math.max(0, m.bestHeldKpa - m.heldKpa));
    }
    return losses.length === 0 ? null : median(losses);
  }

  /** Hold the wheels of an axle against each other, when it is time. */
  #apartIfDue(axle: WatchedAxle, ms: number, out: WatchEvent[]): void {
    if (ms >= axle.nextMs && axle.wheels.length > 1) this.#apart(axle, ms, out);
  }

  #apart(axle: WatchedAxle, ms: number, out: WatchEvent[]): void {
    axle.nextMs = ms + WATCH.apartStepMs;
    const there = this.#there;
    const logs = this.#logs;
    const gases = this.#gases;
    there.length = 0;
    for (const w of axle.wheels) {
      const m = w.memory;
      if (m.lastMs === null || ms - m.lastMs > WATCH.apartFreshMs || w.filling || m.askedMs != null || this.#silenced(w))
        continue;
      there.push(w);
    }
    // Beside one that has settled, one that has not shows the air still, and would make the other look hot. New together, they warm together.
    if (there.some((w) => w.memory.putOnMs != null) && there.some((w) => w.memory.putOnMs == null)) {
      let kept = 0;
      for (const w of there) if (w.memory.putOnMs == null) there[kept++] = w;
      there.length = kept;
    }
    const n = there.length;
    if (n < 2) return;
    const { ambientKpa } = this.#around;
    const air = this.air?.tempC ?? null;
    logs.length = 0;
    gases.length = 0;
    let leastGas = Number.POSITIVE_INFINITY;
    for (const w of there) {
      logs.push(Math.log(w.memory.lastKpa + ambientKpa));
      gases.push(w.memory.gasC);
      if (w.memory.gasC < leastGas) leastGas = w.memory.gasC;
    }
    const middle = median(logs);
    const rise = Math.max(0, median(gases) - (air ?? leastGas));
    for (let i = 0; i < n; i += 1) {
      const m = (there[i] as WatchedWheel).memory;
      if (m.habit === null) {
        m.habit = (logs[i] as number) - middle;
        m.habitMs = ms;
      }
      logs[i] = (logs[i] as number) - m.habit;
      gases[i] = (gases[i] as number) - m.riseHabit * rise;
    }
    const T = median(gases) - ABSOLUTE_ZERO_C;
    for (let i = 0; i < n; i += 1) {
      const wheel = there[i] as WatchedWheel;
      const m = wheel.memory;
      const overTempK = (gases[i] as number) - median(gases, i);
      const over = (logs[i] as number) - median(logs, i);
      const overPressureK = T * over;
      const { sensorKind } = wheel.limits;
      const sigma = WATCH.apartTempK[sensorKind];
      const both = bothSigns(overTempK, overPressureK, sensorKind);
      const air = over - overTempK / T;
      const lossing = m.active.rapid !== undefined || m.active.slow !== undefined;
      const hotter =
        overTempK >= WATCH.apartLeastK && both >= WATCH.apartK && !this.#mateLoses(there, i, overTempK, overPressureK, T);
      let lower = over <= -WATCH.apartShare && air <= -WATCH.apartShare && (sensorKind === 'ideal' || overTempK > -2 * sigma);
      if (!lower && over < 0 && sensorKind === 'ideal') {
        let sum = 0;
        for (let j = 0; j < n; j += 1) if (j !== i) sum += (there[j] as WatchedWheel).memory.heldKpa + ambientKpa;
        lower = (m.heldKpa + ambientKpa) / (sum / (n - 1)) <= 1 - WATCH.apartOutrightShare;
      }
      const alarm = m.active.apart;
      if (hotter || lower) {
        m.apartSinceMs ??= ms;
        const value = hotter ? both : over * (m.lastKpa + ambientKpa);
        if (alarm) {
          if (Math.abs(value) > Math.abs(alarm.worst)) {
            alarm.worst = value;
            this.#creep(wheel, 'apart', ms, alarm, hotter ? WATCH.worseK / 2 : WATCH.worseKpa / 2, out);
          }
        } else if (ms - m.apartSinceMs >= WATCH.apartHoldMs) {
          const limit = hotter ? WATCH.apartK : -WATCH.apartShare * (m.lastKpa + ambientKpa);
          const other = twinAmong(there, i);
          const twin = other < 0 ? {} : { overTwinK: (gases[i] as number) - (gases[other] as number) };
          this.#raise(wheel, 'apart', ms, limit, value, out, {
            how: hotter ? 'hotter' : 'lower',
            overTempK,
            overPressureK,
            ...twin,
            ...this.#held(m),
          });
        }
      } else {
        m.apartSinceMs = null;
        if (alarm && (alarm.evidence?.how === 'lower' ? air > -0.6 * WATCH.apartShare : both < 0.6 * WATCH.apartK)) {
          this.#return(wheel, 'apart', ms, out);
        }
      }
      const gap = Math.min(ms - m.habitMs, WATCH.apartFreshMs);
      m.habitMs = ms;
      if (Math.abs(both) > 0.55 * WATCH.apartK || Math.abs(over) > 0.5 * WATCH.apartShare || lossing || alarm) continue;
      const share = gap / WATCH.apartHabitMs;
      m.habit = (m.habit ?? 0) + share * over * 0.5;
      if (rise >= 8 && sensorKind !== 'ideal') m.riseHabit += (share * 0.5 * overTempK) / rise;
    }
  }

  /** Another wheel of the axle is losing air: that this one reads more tells nothing of its heat. */
  #mateLoses(there: readonly WatchedWheel[], but: number, overTempK: number, overPressureK: number, T: number): boolean {
    const { position: mine, memory: a, limits } = there[but] as WatchedWheel;
    if (there.length === 2) {
      // Of two, that this one reads more may be what the other has lost: so it is when that explains half of it, or when what it leaves is not hot.
      const b = (there[1 - but] as WatchedWheel).memory;
      if (b.bestKpa !== null && a.bestKpa !== null) {
        const lost = b.bestHeldKpa - b.heldKpa - Math.max(0, a.bestHeldKpa - a.heldKpa);
        const lostK = (T * Math.max(0, lost)) / (a.lastKpa + this.#around.ambientKpa);
        if (lostK > 0.5 * overPressureK || bothSigns(overTempK, overPressureK - lostK, limits.sensorKind) < WATCH.apartK)
          return true;
      }
    }
    let loses = 0;
    for (let j = 0; j < there.length; j += 1) {
      if (j === but) continue;
      const { position, memory } = there[j] as WatchedWheel;
      const { active } = memory;
      if (!active.rapid && !active.slow && active.apart?.evidence?.how !== 'lower') continue;
      // Of duals the harder twin takes over the load of the softer and warms: the loss is the cause.
      if (position.slice(0, 3) === mine.slice(0, 3)) return true;
      loses += 1;
    }
    return loses * 2 >= there.length - 1 && loses > 0;
  }

  #battery(wheel: WatchedWheel, ms: number, volts: number, tempC: number, out: WatchEvent[]): void {
    const { memory, limits } = wheel;
    const at20 = voltsAt20(volts, tempC);
    const life = wheel.limits.sensorKind === 'ideal' ? WATCH.cellLifeMs.cap : WATCH.cellLifeMs[wheel.limits.sensorKind];
    const oldCell = limits.cellSinceMs !== undefined && ms - limits.cellSinceMs > life;
    const limit = oldCell ? WATCH.cellOldLowV : WATCH.cellLowV;
    if (at20 < limit) {
      if (memory.active.battery) {
        if (at20 < memory.active.battery.worst) memory.active.battery.worst = at20;
      } else if (memory.weakOnce || at20 < WATCH.cellVeryLowV) {
        this.#raise(wheel, 'battery', ms, limit, at20, out, { volts, voltsAt20: at20, ...(oldCell ? { oldCell } : {}) });
      }
      memory.weakOnce = true;
    } else {
      memory.weakOnce = false;
      if (memory.active.battery && at20 >= limit + WATCH.cellBackV) this.#return(wheel, 'battery', ms, out);
    }
  }

  #isBusy(ms: number): boolean {
    let known = 0;
    let heard = 0;
    let awake = false;
    for (const wheels of this.#units.values()) {
      let k = 0;
      let h = 0;
      for (const { memory, limits } of wheels) {
        if (memory.lastMs === null || limits.rests || limits.resting) continue;
        k += 1;
        if (ms - memory.lastMs <= BUSY_WINDOW_MS && ms - (memory.handledMs ?? Number.NEGATIVE_INFINITY) > WATCH.handledMs) h += 1;
      }
      known += k;
      heard += h;
      if (k > 0 && h >= k / 2) awake = true;
    }
    // Half of a unit, and two wheels at the least: one sensor that was tapped does not make a rig awake.
    return awake && heard >= (known > 2 ? 2 : 1);
  }

  /** Let event time pass: wheels that should have been heard by now are silent, top-up mode ends. */
  scan(ms: number, out: WatchEvent[]): void {
    if (!this.#sleepAware) {
      if (this.#scannedMs === null || ms > this.#scannedMs) this.#scannedMs = ms;
      for (const wheel of this.#list) {
        const { memory } = wheel;
        if (memory.lastMs === null || ms - memory.lastMs <= SILENT_AFTER_MS || memory.active.silent || this.#silenced(wheel))
          continue;
        const after = silentAfterMs(memory);
        if (after !== null && ms - memory.lastMs > after) this.#lose(wheel, memory.lastMs + after, after, out);
      }
      return;
    }
    const step = WATCH.scanMs;
    const last = Math.floor(ms / step) * step;
    let at = this.#scannedMs === null ? last : this.#scannedMs + step;
    while (at <= last) {
      this.#scannedMs = at;
      this.#scanAt(at, out);
      // While the rig is quiet nothing can happen between two readings but what the last look finds too.
      at = this.#busySinceMs === null && at < last ? last : at + step;
    }
  }

  #scanAt(ms: number, out: WatchEvent[]): void {
    if (this.#topUp && ms >= this.#topUp.untilMs) this.endTopUp(this.#topUp.untilMs, out);
    for (const w of this.#list) {
      const off = w.memory.offSinceMs;
      if (off != null && (ms - off >= WATCH.offMs || this.#around.moving === true)) {
        w.memory.offSinceMs = null;
        this.#judgeAgain(w, ms, out);
      }
    }
    if (!this.#isBusy(ms)) {
      this.#busySinceMs = null;
      return;
    }
    const since = this.#busySinceMs ?? ms;
    this.#busySinceMs = since;
    // A rig that is known to stand puts its sensors to sleep one by one.
    if (this.#around.moving === false) return;
    for (const [unit, wheels] of this.#units) {
      if (this.#units.size > 1 && !this.#missing.has(unit)) this.#scanUnit(unit, wheels, ms, since, out);
    }
    for (const wheel of this.#list) {
      const { memory, limits } = wheel;
      if (memory.lastMs === null || ms - memory.lastMs <= SILENT_AFTER_MS || memory.active.silent) continue;
      if (limits.rests || this.#silenced(wheel) || this.#missing.has(wheel.unit)) continue;
      const after = silentAfterMs(memory);
      if (after === null || ms - Math.max(memory.lastMs, since) <= after) continue;
      if (this.#othersSpeak((w) => w !== wheel, ms)) this.#lose(wheel, ms, after, out);
    }
  }

  /** A whole unit that stays away while others are heard: the repeater, or a trailer left behind. */
  #scanUnit(unit: string, wheels: readonly WatchedWheel[], ms: number, since: number, out: WatchEvent[]): void {
    let count = 0;
    let lastMs = Number.NEGATIVE_INFINITY;
    let slowest = 0;
    for (const w of wheels) {
      if (w.memory.lastMs === null || w.limits.rests || this.#silenced(w)) continue;
      if (w.memory.active.silent) continue;
      if (ms - Math.max(w.memory.lastMs, since) <= WATCH.unitSilentMs) return;
      count += 1;
      lastMs = Math.max(lastMs, w.memory.lastMs);
      slowest = Math.max(slowest, w.memory.intervals.length === 0 ? 0 : median(w.memory.intervals));
    }
    if (count < 2 || ms - Math.max(lastMs, since) <= SILENT_INTERVALS * slowest) return;
    if (!this.#othersSpeak((w) => w.unit !== unit, ms)) return;
    const seconds = (ms - lastMs) / 1000;
    const alarm: ActiveAlarm = {
      fromMs: ms,
      limit: WATCH.unitSilentMs / 1000,
      value: seconds,
      worst: seconds,
      evidence: { how: 'unit', sinceMs: lastMs },
    };
    this.#missing.set(unit, alarm);
    this.#tell('raised', unit, 'silent', ms, alarm, out);
  }

  #foundUnit(unit: string, ms: number, out: WatchEvent[]): void {
    const alarm = this.#missing.get(unit);
    if (!alarm) return;
    this.#missing.delete(unit);
    this.#tell('returned', unit, 'silent', ms, alarm, out);
  }

  /** Half of the others were heard just now, by their own habits: so it is not that the rig fell asleep. */
  #othersSpeak(which: (w: WatchedWheel) => boolean, ms: number): boolean {
    let known = 0;
    let heard = 0;
    for (const w of this.#list) {
      const { memory, limits } = w;
      if (!which(w) || memory.lastMs === null || limits.rests || memory.active.silent || this.#silenced(w)) continue;
      if (this.#missing.has(w.unit)) continue;
      const usual = memory.intervals.length === 0 ? 0 : median(memory.intervals);
      if (ms - (memory.handledMs ?? Number.NEGATIVE_INFINITY) <= WATCH.handledMs) continue;
      // One that has itself been away for long says nothing of the rig.
      if (ms - memory.lastMs > SILENT_AFTER_MS) continue;
      known += 1;
      if (ms - memory.lastMs <= Math.max(WATCH.othersWithinMs, WATCH.othersIntervals * usual)) heard += 1;
    }
    return known > 0 && heard >= known / 2;
  }

  #lose(wheel: WatchedWheel, fromMs: number, afterMs: number, out: WatchEvent[]): void {
    const { memory } = wheel;
    this.#raise(wheel, 'silent', fromMs, afterMs / 1000, memory.lastKpa, out, { sinceMs: memory.lastMs as number });
  }

  /** A gap has just ended with a reading: was it silence? */
  #endGap(wheel: WatchedWheel, ms: number, out: WatchEvent[]): void {
    const { memory } = wheel;
    if (!this.#sleepAware && !memory.active.silent && !this.#silenced(wheel)) {
      const after = silentAfterMs(memory);
      const last = memory.lastMs as number;
      if (after !== null && ms - last > after) this.#lose(wheel, last + after, after, out);
    }
  }

  /**
   * Take new limits: wheels that left are forgotten, new ones begin unheard, the others are judged again by their last reading.
   * @param reset positions whose sensor is another one now; they begin unheard
   */
  configure(wheels: Readonly<Record<string, WheelLimits>>, reset: ReadonlySet<string>, out: WatchEvent[]): void {
    for (const wheel of this.#list) {
      if (wheels[wheel.position] && !reset.has(wheel.position)) continue;
      this.#endAll(wheel, out);
      this.#wheels.delete(wheel.position);
    }
    for (const [position, limits] of Object.entries(wheels)) {
      const wheel = this.#wheels.get(position);
      if (!wheel) {
        // Another sensor than before, or the first: it may have been screwed on just now.
        this.#add(position, limits, { ...freshMemory(), putOnMs: PUT_ON_NEXT });
        continue;
      }
      const before = wheel.limits;
      wheel.limits = inPlace(limits);
      wheel.told = toldAir(limits.airC ?? null);
      // Cold equivalents at another temperature, or through another kind of sensor, are other figures.
      if (wheel.limits.coldTempC !== before.coldTempC || wheel.limits.sensorKind !== before.sensorKind) forgetAir(wheel.memory);
      // Nothing is asked of a unit that is put away.
      if (wheel.limits.resting) wheel.memory.askedMs = null;
      if (wheel.memory.lastMs !== null) this.#judgeAgain(wheel, wheel.memory.lastMs, out);
    }
    this.#index();
    for (const [unit, alarm] of [...this.#missing]) {
      const there = this.#units.get(unit)?.some((w) => !w.limits.resting);
      if (there) continue;
      this.#missing.delete(unit);
      this.#tell('returned', unit, 'silent', alarm.fromMs, alarm, out);
    }
  }

  #endAll(wheel: WatchedWheel, out: WatchEvent[]): void {
    for (const kind of Object.keys(wheel.memory.active) as AlarmKind[]) this.#return(wheel, kind, wheel.memory.lastMs ?? 0, out);
  }

  /** Whether every wheel that is being filled is at its target: then filling is over. One that was never under it is not done yet. */
  #filled(ms: number, out: WatchEvent[]): void {
    const topUp = this.#topUp;
    if (!topUp) return;
    let all = true;
    for (const w of this.#list) {
      if (!w.filling) continue;
      const { coldKpa } = w.limits;
      const under = coldKpa === null || w.memory.askedMs != null || w.memory.heldKpa < coldKpa - WATCH.atTargetKpa;
      if (!under) continue;
      all = false;
      topUp.begun = true;
    }
    if (all && topUp.begun) this.endTopUp(ms, out);
  }

  /** The wheels named are being filled: no low, no rapid for them, until all are at their target or half an hour is over. */
  startTopUp(positions: readonly string[], ms: number, out: WatchEvent[]): void {
    this.#topUp = { positions: [...positions], untilMs: ms + WATCH.topUpMs, begun: false };
    for (const w of this.#list) {
      w.filling = positions.includes(w.position);
      if (!w.filling) continue;
      for (const kind of ['low', 'rapid', 'slow'] as const) if (w.memory.active[kind]) this.#return(w, kind, ms, out);
    }
  }

  /** Filling is over: the wheels are judged by what they hold now. */
  endTopUp(ms: number, out: WatchEvent[]): void {
    this.#topUp = null;
    for (const w of this.#list) {
      if (!w.filling) continue;
      w.filling = false;
      forgetAir(w.memory);
      if (w.memory.lastMs !== null) this.#judgeAgain(w, ms, out);
    }
  }

  /**
   * The owner answers whether a sensor that fell to nothing was taken off. Off: nothing rings for it until it is heard with pressure again,
   * the rig rolls, or an hour is over.
   */
  answerOff(position: string, off: boolean, ms: number, out: WatchEvent[]): void {
    const wheel = this.#wheels.get(position);
    if (!wheel) return;
    wheel.memory.askedMs = null;
    if (!off) return;
    wheel.memory.offSinceMs = ms;
    this.#rest(wheel, ms, out);
    forgetAir(wheel.memory);
  }

  /**
   * What the repeater's own supply is at.
   * @param unit letter of the unit it stands on
   */
  tellRepeater(unit: string, volts: number, ms: number, out: WatchEvent[]): void {
    const limit = volts < WATCH.repeaterIsCellUnderV ? WATCH.repeaterCellLowV : WATCH.repeaterLowV;
    const alarm = this.#repeater.get(unit);
    if (volts >= limit + (alarm ? WATCH.repeaterBackV : 0)) {
      if (!alarm) return;
      this.#repeater.delete(unit);
      this.#tell('returned', unit, 'battery', Math.max(ms, alarm.fromMs), alarm, out);
    } else if (volts < limit && !alarm) {
      const weak: ActiveAlarm = { fromMs: ms, limit, value: volts, worst: volts, evidence: { volts } };
      this.#repeater.set(unit, weak);
      this.#tell('raised', unit, 'battery', ms, weak, out);
    } else if (alarm && volts < alarm.worst) {
      alarm.worst = volts;
      this.#tell('worse', unit, 'battery', ms, alarm, out);
    }
  }

  /** The owner set the pressure on purpose: losses are measured from here. */
  takeAsSet(position: string, ms: number, out: WatchEvent[]): void {
    const wheel = this.#wheels.get(position);
    if (!wheel) return;
    for (const kind of ['slow', 'rapid', 'apart'] as const) if (wheel.memory.active[kind]) this.#return(wheel, kind, ms, out);
    forgetAir(wheel.memory);
  }

  #past(
    wheel: WatchedWheel,
    kind: AlarmKind,
    ms: number,
    limit: number,
    value: number,
    direction: 1 | -1,
    out: WatchEvent[],
  ): void {
    const alarm = wheel.memory.active[kind];
    if (!alarm) {
      this.#raise(wheel, kind, ms, limit, value, out, this.#held(wheel.memory));
      return;
    }
    alarm.limit = limit;
    if ((value - alarm.worst) * direction > 0) {
      alarm.worst = value;
      alarm.evidence = this.#held(wheel.memory);
      this.#tell('worse', wheel.position, kind, ms, alarm, out);
    }
  }

  /** Tell that an alarm has grown worse, a step at a time. */
  #creep(
    wheel: WatchedWheel,
    kind: AlarmKind,
    ms: number,
    alarm: ActiveAlarm,
    step: number,
    out: WatchEvent[],
    evidence?: () => AlarmEvidence,
  ): void {
    if (Math.abs(alarm.worst - (alarm.told ?? alarm.value)) < step) return;
    alarm.told = alarm.worst;
    if (evidence) alarm.evidence = evidence();
    this.#tell('worse', wheel.position, kind, ms, alarm, out);
  }

  #raise(
    wheel: WatchedWheel,
    kind: AlarmKind,
    ms: number,
    limit: number,
    value: number,
    out: WatchEvent[],
    evidence?: AlarmEvidence,
  ): void {
    const alarm: ActiveAlarm = { fromMs: ms, limit, value, worst: value, ...(evidence ? { evidence } : {}) };
    wheel.memory.active[kind] = alarm;
    wheel.calm = false;
    this.#tell('raised', wheel.position, kind, ms, alarm, out);
  }

  #return(wheel: WatchedWheel, kind: AlarmKind, ms: number, out: WatchEvent[]): void {
    const alarm = wheel.memory.active[kind];
    if (!alarm) return;
    // Not `delete`: it makes a slow object of what every reading looks at.
    const { [kind]: _over, ...rest } = wheel.memory.active;
    wheel.memory.active = rest;
    wheel.calm = Object.keys(rest).length === 0;
    this.#tell('returned', wheel.position, kind, Math.max(ms, alarm.fromMs), alarm, out);
  }

  #tell(type: WatchEvent['type'], position: string, kind: AlarmKind, atMs: number, alarm: ActiveAlarm, out: WatchEvent[]): void {
    const { fromMs, limit, value, worst, evidence } = alarm;
    out.push({ type, position, kind, atMs, fromMs, limit, value, worst, ...(evidence ? { evidence } : {}) });
  }
}
