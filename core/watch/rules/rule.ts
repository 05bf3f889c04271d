import type { AlarmKind } from '#schema/alarm.ts';
import { ABSOLUTE_ZERO_C } from '../../units/units.ts';
import type { WatchEvent } from '../ledger.ts';
import { WATCH } from '../parameters.ts';
import {
  type ActiveAlarm,
  type AirGuess,
  type LimitsInPlace,
  type WheelLimits,
  type WheelMemory,
  waitsFitting,
} from '../wheel.ts';

/** What is known about a rig besides its readings. Null: unknown. */
export interface Surroundings {
  /** Air temperature as given (typed, or the bench's), °C. */
  airC: number | null;
  /** Whether the rig is rolling. */
  moving: boolean | null;
  /** Absolute ambient pressure, kPa. */
  ambientKpa: number;
}

/** A wheel under watch. */
export interface Wheel {
  position: string;
  /** Letter of its unit. */
  unit: string;
  /** Its place in the rig's list. */
  index: number;
  axle: Axle;
  limits: LimitsInPlace;
  memory: WheelMemory;
  /** Air at this wheel, when it was given for this wheel alone. */
  ownAir: AirGuess | null;
  /** Being filled: low, rapid and slow don't sound. */
  filling: boolean;
  /** No alarm is active on it. */
  calm: boolean;
}

/** The wheels of one axle. */
export interface Axle {
  wheels: Wheel[];
  /** When they are next compared with each other, ms. */
  nextMs: number;
  /** Wheels of several axles that have one wheel each: alike in heat, not in pressure. */
  pooled: boolean;
}

/** What every rule can see of the rig. */
export interface Rig {
  list: Wheel[];
  units: Map<string, Wheel[]>;
  /**
   * True: a wheel counts as not reporting only while others are heard, because a rig that stops puts all its sensors to sleep; a unit
   * that vanishes as a whole is one alarm. False: each wheel is judged alone.
   */
  sleepAware: boolean;
  around: Surroundings;
  /** The air, guessed from the coolest sensor. */
  guessedAir: AirGuess | null;
  /** Since when the rig has been awake without a pause; null while it is quiet. */
  busySinceMs: number | null;
  /** What all its wheels are off by alike, kPa: the height, or air that isn't known. */
  offsetKpa: number;
  /** How often its wheels have moved on in temperature, all together. */
  moves: number;
  /** A unit is said to be disconnected. */
  resting: boolean;
  /** Units that are missing as a whole. */
  missing: Map<string, ActiveAlarm>;
  /** Repeaters with a weak supply, by the letter of the unit they are mounted on. */
  repeater: Map<string, ActiveAlarm>;
  /** A track day: pressures are changed hot, and corners load the wheels unlike. */
  track: boolean;
}

/** A reading as the rules judge it, with what the wheel's memory was before it. One object, reused: the watch reads millions. */
export interface Judged {
  ms: number;
  /** Gauge pressure as read, kPa. */
  kpa: number;
  /** Temperature as read, °C; -Infinity when the reading has none. */
  tempC: number;
  /** Time of the wheel's reading before, ms; NaN for its first (a number in any case, so that storing it makes no object). */
  previousMs: number;
  /** Time of the last reading that was judged in full, ms. */
  judgedMs: number;
  /** Lowest and highest cold-equivalent pressure of the reading before, kPa. */
  previousLowKpa: number;
  previousHighKpa: number;
  /** The rig has been at rest for three hours. */
  rested: boolean;
}

/**
 * One rule of the watch. A rule decides from its arguments alone: no clock, no state of its own. What it has to remember is in the
 * wheel's memory, and what it decides goes through the ledger into `out`.
 */
export interface Rule {
  /** Kinds of alarm it may raise. */
  kinds: readonly AlarmKind[];
  /** A reading has arrived after a long gap, or while something is active; the wheel's memory is still what it was before. */
  arrived?(wheel: Wheel, reading: Readonly<Judged>, rig: Rig, out: WatchEvent[]): void;
  /** A reading with news, of a wheel whose alarms may sound. */
  judge?(wheel: Wheel, reading: Readonly<Judged>, rig: Rig, out: WatchEvent[]): void;
  /** The wheels of an axle are due to be compared, also with readings that only repeat the last ones. */
  compare?(axle: Axle, ms: number, rig: Rig, out: WatchEvent[]): void;
  /** A reading that gives its cell's voltage, after all rules have judged it, also of a wheel whose alarms are suppressed. */
  cell?(wheel: Wheel, ms: number, volts: number, tempC: number, out: WatchEvent[]): void;
  /** The last reading is judged again: limits have changed, or a silence of the wheel is over. */
  again?(wheel: Wheel, reading: Readonly<Judged>, rig: Rig, out: WatchEvent[]): void;
  /** Event time has moved on, in steps of `WATCH.scanMs` where the rig is sleep-aware. */
  scan?(ms: number, rig: Rig, out: WatchEvent[]): void;
}

/** Its unit is said to be disconnected, and nothing says otherwise. */
export const disconnected = (limits: Pick<WheelLimits, 'resting'>, memory: Pick<WheelMemory, 'alongside'>): boolean =>
  limits.resting === true && memory.alongside !== true;

/** No alarm sounds for it: not fitted yet, off its valve, disconnected. */
export const suppressed = ({ limits, memory }: Wheel): boolean =>
  disconnected(limits, memory) || memory.offSinceMs != null || waitsFitting(limits, memory);

/** Its sensor was taken off or put on lately. */
export const justHandled = (memory: WheelMemory, ms: number): boolean =>
  ms - (memory.handledMs ?? Number.NEGATIVE_INFINITY) <= WATCH.handledMs;

/**
 * Whether a sensor that fell to nothing was most likely taken off: the rig is parked, or it only seems awake because the owner goes from wheel
 * to wheel. The owner is asked then, and nothing sounds yet.
 */
export function likelyTakenOff(wheel: Wheel, ms: number, rig: Rig): boolean {
  const { askedMs } = wheel.memory;
  if (!rig.sleepAware || askedMs == null || rig.around.moving === true || ms - askedMs >= WATCH.askedMs) return false;
  if (rig.busySinceMs === null) return true;
  return ms - rig.busySinceMs < WATCH.handledMs && rig.list.some((w) => w !== wheel && justHandled(w.memory, ms));
}

/** Gas temperature above absolute zero: a reading without a temperature says nothing about heat. */
export const hasTemperature = (tempC: number): boolean => tempC > ABSOLUTE_ZERO_C;
