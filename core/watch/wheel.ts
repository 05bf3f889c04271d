import type { AlarmKind, Severity } from '#schema/alarm.ts';
import type { SensorKind } from '#schema/common.ts';
import { SENSOR_PHYSICS } from '../kit/physics.ts';
import { GAS_GUESS } from '../pressure/now.ts';
import { ABSOLUTE_ZERO_C } from '../units/units.ts';
import { WATCH } from './parameters.ts';

/** `ideal`: the temperature it tells is the gas's. */
export type WatchedKind = SensorKind | 'ideal';

/** What the watch compares a wheel with. Null: no such limit, or unknown. */
export interface WheelLimits {
  lowKpa: number | null;
  highKpa: number | null;
  hotC: number | null;
  /** Cold target, and the temperature it was set at (20 °C unless given). */
  coldKpa: number | null;
  coldTempC?: number;
  /** Least cold pressure that carries the load, kPa at `coldTempC`; left out: unknown. */
  loadMinimumKpa?: number | undefined;
  /** Highest cold pressure of tire and rim, kPa; left out: unknown. */
  maxColdKpa?: number | undefined;
  /** How its sensor sees the gas; `ideal` unless given. */
  sensorKind?: WatchedKind;
  /** Its pressures come from a display that has brought them to this temperature already, °C: they aren't corrected again. */
  correctedToC?: number | undefined;
  /** Air around it as told, °C; the rig's unless given. */
  airC?: number;
  /** Day its cell was put in, ms since the epoch. */
  cellSinceMs?: number;
  /** A spare: it does not roll, so its sensor sleeps through the drive and is not missed. */
  rests?: boolean;
  /** Its unit is disconnected: it raises no alarm. */
  resting?: boolean;
  /** Paired at the table and not on its valve yet: it reads zero and raises no alarm until it was once heard with pressure. */
  waitsFitting?: boolean;
}

/** Limits with every field in its place: the engine looks at millions of readings, and an object of one shape is fast to look at. */
export const inPlace = (l: WheelLimits) => ({
  lowKpa: l.lowKpa,
  highKpa: l.highKpa,
  hotC: l.hotC,
  coldKpa: l.coldKpa,
  coldTempC: l.coldTempC ?? 20,
  loadMinimumKpa: l.loadMinimumKpa ?? null,
  maxColdKpa: l.maxColdKpa ?? null,
  sensorKind: l.sensorKind ?? ('ideal' as WatchedKind),
  correctedToC: l.correctedToC,
  airC: l.airC,
  cellSinceMs: l.cellSinceMs,
  rests: l.rests ?? false,
  resting: l.resting ?? false,
  waitsFitting: l.waitsFitting ?? false,
});
export type LimitsInPlace = ReturnType<typeof inPlace>;

/** What an alarm was raised on, as far as it bears on its kind. */
export interface AlarmEvidence {
  /** Apart: by heat or by air; silent: a whole unit. */
  how?: 'hotter' | 'lower' | 'unit';
  /** What brought a reading over its limit: air, or temperature and height alone. */
  cause?: 'air' | 'weather';
  /** Cold equivalent of the reading and the span it may lie in, kPa at the temperature of the cold target. */
  heldKpa?: number;
  heldLowKpa?: number;
  heldHighKpa?: number;
  /** Air lost, kPa of cold pressure, and since when. */
  lossKpa?: number;
  sinceMs?: number;
  /** Change of the cold equivalent, kPa a day, and its 95 % interval. */
  rateKpaPerDay?: number;
  rateLowKpaPerDay?: number;
  rateHighKpaPerDay?: number;
  /** Gas over the rest of the axle, K, as temperature and as pressure tell it. */
  overTempK?: number;
  overPressureK?: number;
  /** Gas over the other wheel of the dual pair, K, by temperature. */
  overTwinK?: number;
  /** Volts as read, and at 20 °C. */
  volts?: number;
  voltsAt20?: number;
  /** The cell is older than its kind lives. */
  oldCell?: boolean;
}

/** An alarm that is active. */
export interface ActiveAlarm {
  fromMs: number;
  /** The limit crossed, in the unit of the kind (kPa, °C, s, K, V). */
  limit: number;
  /** The reading that raised it. */
  value: number;
  /** The furthest past the limit since. */
  worst: number;
  /** What it asks for, where that isn't what its kind asks for. */
  priority?: Severity;
  /** Since when the reading is back, though not surely. */
  backMs?: number | undefined;
  /** The worst that was reported; kinds that grow slowly are reported step by step. */
  reported?: number;
  evidence?: AlarmEvidence;
}

/** A slow loss as the wheel's last reading shows it. */
export interface WaitingLoss {
  /** What is missing, and the most the tire can hold now, kPa of cold equivalent. */
  lossKpa: number;
  highKpa: number;
  /** How much must be missing while no other wheel tells what is common, kPa. */
  aloneKpa: number;
}

/** All that the watch remembers of a wheel. Plain data, so that it can be stored and taken up again. */
export interface WheelMemory {
  lastMs: number | null;
  lastKpa: number;
  /** Last temperature told. */
  lastC: number;
  /** When a reading was last looked at in full: one that repeats the last figures within a minute is not. */
  doneMs: number;
  /** The last reading was typed without a temperature. */
  noTemp?: boolean;
  /** The latest intervals between readings, ms, at most `WATCH.habitLength`; a ring, in no order of time. */
  intervals: number[];
  /** Where the ring takes the next one. */
  next: number;
  /** Heard with pressure since it was paired: from then on a zero is a zero. */
  fitted?: boolean;
  /** The owner says its sensor is off the valve, since when. */
  offSinceMs?: number | null;
  /** It fell to nothing at one stroke: was the sensor taken off? Since when. */
  askedMs?: number | null;
  /** What it held when it last sounded as low, kPa of cold pressure, and when, ms: no more lost, it needn't sound each morning. */
  lowToldKpa?: number;
  lowToldMs?: number;
  /** Its unit is said to be disconnected: since when it has been heard all the same, without a long pause; null: it isn't heard. */
  restSinceMs?: number | null;
  /** Its unit is said to be disconnected, and is on the road all the same: it is watched. */
  alongside?: boolean;
  /** How much hotter it was than its axle when the rig set off, K, and when that was, ms. */
  sunK: number;
  sunMs: number;
  /** When air was last put in, as its readings showed it, ms; null: never. */
  filledMs: number | null;
  /** When its sensor was last taken off or put on. */
  handledMs?: number | null;
  /**
   * Since when its sensor sits on the valve, while it has not taken the wheel's temperature yet: until then its temperature proves
   * nothing. `PUT_ON_NEXT`: from its next reading on. Null: long enough, or unknown to be new.
   */
  putOnMs?: number | null;
  /** It was restarted because its last reading was dated this far ahead of the clock, ms since the epoch; null once it was heard again. */
  aheadMs?: number | null;
  active: Partial<Record<AlarmKind, ActiveAlarm>>;
  /** Gas: the likely temperature, °C. */
  gasC: number;
  /** Cold equivalent, kPa gauge, and the span it may lie in. */
  heldKpa: number;
  heldLowKpa: number;
  heldHighKpa: number;
  /** Step of its readings as they showed it, kPa; 0: unknown, or the gas itself. */
  stepKpa: number;
  /** What it usually shows as its cold-equivalent pressure, kPa, and how many readings that is from; 0: none yet. */
  usualKpa: number;
  usualCount: number;
  /** When that was last learned, ms. */
  usualAtMs: number;
  /** The same of cold starts alone, when every sensor shows the gas. */
  startKpa: number;
  startCount: number;
  /** It was heard again after hours: until then it is a cold start, ms. */
  startMs: number;
  /** What the whole rig was off by at its last reading (height, air), kPa: its own loss is measured without it. */
  shiftKpa: number;
  /** Since when its figures haven't changed, and how often the rig had moved on by then. */
  sameSinceMs: number;
  sameMoves: number;
  /** The temperature it last moved on to, °C. */
  anchorC: number;
  /** When, ms. */
  movedMs: number;
  /** Its last interval, and the shortest of late, ms; 0: none yet. */
  gapMs: number;
  denseMs: number;
  /** Since when it has been heard without a long gap, ms. */
  awakeMs: number;
  /** How much one reading differs from the next, kPa. */
  trembleKpa: number;
  /** Highest cold equivalents of the rapid window, falling; `peakHead` is the first that counts. */
  peakMs: number[];
  peakKpa: number[];
  /** The raw readings beside them. */
  peakRawKpa: number[];
  peakHead: number;
  /** The most it has surely held, kPa of cold equivalent, when, and the likely figure then. Null before the first. */
  bestKpa: number | null;
  bestMs: number;
  bestHeldKpa: number;
  /** Since a slow loss was raised: the least it has surely held at most. */
  leastKpa: number;
  /** A loss that waits for other wheels to tell what is common; null: none does. */
  lossWaits: WaitingLoss | null;
  /** Points of the trend. */
  trendMs: number[];
  trendKpa: number[];
  /** Apart: its habits against the axle: log of pressure, share of the axle's rise. Null before the first. */
  habit: number | null;
  riseHabit: number;
  habitMs: number;
  apartSinceMs: number | null;
  weakOnce: boolean;
}

export const freshMemory = (): WheelMemory => ({
  lastMs: null,
  lastKpa: 0,
  lastC: 0,
  doneMs: 0,
  noTemp: false,
  intervals: [],
  next: 0,
  fitted: false,
  offSinceMs: null,
  askedMs: null,
  lowToldKpa: 0,
  lowToldMs: 0,
  restSinceMs: null,
  alongside: false,
  sunK: 0,
  sunMs: 0,
  filledMs: null,
  handledMs: null,
  putOnMs: null,
  aheadMs: null,
  active: {},
  gasC: 0,
  heldKpa: 0,
  heldLowKpa: 0,
  heldHighKpa: 0,
  stepKpa: 0,
  usualKpa: 0,
  usualCount: 0,
  usualAtMs: 0,
  startKpa: 0,
  startCount: 0,
  startMs: 0,
  shiftKpa: 0,
  sameSinceMs: 0,
  sameMoves: 0,
  anchorC: 0,
  movedMs: 0,
  gapMs: 0,
  denseMs: 0,
  awakeMs: 0,
  trembleKpa: 0,
  peakMs: [],
  peakKpa: [],
  peakRawKpa: [],
  peakHead: 0,
  bestKpa: null,
  bestMs: 0,
  bestHeldKpa: 0,
  leastKpa: 0,
  lossWaits: null,
  trendMs: [],
  trendKpa: [],
  habit: null,
  riseHabit: 0,
  habitMs: 0,
  apartSinceMs: null,
  weakOnce: false,
});

/** A copy that shares nothing. A memory stored by an older version gets what it lacks. */
export function copyMemory(memory: WheelMemory): WheelMemory {
  const active: WheelMemory['active'] = {};
  for (const kind in memory.active) {
    const alarm = memory.active[kind as AlarmKind];
    if (alarm) active[kind as AlarmKind] = { ...alarm };
  }
  return {
    ...memory,
    intervals: memory.intervals.slice(),
    peakMs: memory.peakMs.slice(memory.peakHead),
    peakKpa: memory.peakKpa.slice(memory.peakHead),
    peakRawKpa: memory.peakRawKpa.slice(memory.peakHead),
    peakHead: 0,
    trendMs: memory.trendMs.slice(),
    trendKpa: memory.trendKpa.slice(),
    lossWaits: memory.lossWaits && { ...memory.lossWaits },
    active,
  };
}

/** A memory as it was stored, whatever version wrote it. */
export function memoryFrom(stored: Partial<WheelMemory>): WheelMemory {
  const memory = copyMemory({ ...freshMemory(), ...stored });
  // An older version called it `told`.
  for (const alarm of Object.values(memory.active) as (ActiveAlarm & { told?: number })[]) {
    if (alarm.told !== undefined) alarm.reported ??= alarm.told;
  }
  return memory;
}

/** Whether a sensor lies loose still, so that nothing it says is an alarm. */
export const waitsFitting = (limits: Pick<WheelLimits, 'waitsFitting'>, memory: Readonly<WheelMemory>): boolean =>
  limits.waitsFitting === true && memory.fitted !== true;

/** The air as far as it is known, °C. */
export interface AirGuess {
  tempC: number;
  spreadK: number;
}

/** Gas temperature now: likely, and the span it may lie in, °C. One object, reused: the watch makes millions. */
export const gas = { tempC: 0, lowC: 0, highC: 0 };

const seen = (kind: SensorKind) => ({
  least: GAS_GUESS.share[kind][0],
  most: GAS_GUESS.share[kind][1],
  share: SENSOR_PHYSICS[kind].share,
  lagUnderK: WATCH.lagUnderK[kind],
  lagOverK: WATCH.lagOverK[kind],
});
export const PUT_ON_NEXT = -1;

/** How long a sensor that was just put on takes to show the wheel's temperature, ms: `WATCH.settleLags` of its lags leave under 1 % of the step. */
export const SETTLE_MS: Record<WatchedKind, number> = {
  ideal: 0,
  cap: WATCH.settleLags * 1000 * SENSOR_PHYSICS.cap.tauS,
  flowThrough: WATCH.settleLags * 1000 * SENSOR_PHYSICS.flowThrough.tauS,
  internal: WATCH.settleLags * 1000 * SENSOR_PHYSICS.internal.tauS,
};

/** How each kind of sensor sees the gas, looked up once. */
const SEEN = { cap: seen('cap'), flowThrough: seen('flowThrough'), internal: seen('internal') };

/**
 * Temperature of the gas from what a sensor shows. An external one shows a share of the gas's rise over the air, late; the share differs
 * from sensor to sensor (`GAS_GUESS.share`). After three hours at rest every sensor shows the gas.
 * @param air the air; null: unknown, so that the gas may be anything over what is shown
 * @returns the module's own `gas` object
 */
export function guessGas(kind: WatchedKind, shownC: number, rested: boolean, air: AirGuess | null): typeof gas {
  if (kind === 'ideal') {
    gas.tempC = shownC;
    gas.lowC = shownC - WATCH.idealSpreadK;
    gas.highC = shownC + WATCH.idealSpreadK;
    return gas;
  }
  if (rested || !air) {
    gas.tempC = shownC;
    gas.lowC = shownC - WATCH.restUnderK;
    gas.highC = shownC + WATCH.restOverK + (rested ? 0 : WATCH.unknownAirK);
    return gas;
  }
  const { least, most, share, lagUnderK, lagOverK } = SEEN[kind];
  const a = air.tempC;
  const spreadK = air.spreadK;
  const coolest = a - spreadK;
  const warmest = a + spreadK;
  gas.tempC = shownC > a ? a + (shownC - a) / share : shownC;
  const low = (shownC > warmest ? warmest + (shownC - warmest) / most : shownC - WATCH.coolSensorK) - lagUnderK;
  gas.lowC = Math.max(low, Math.min(coolest, shownC) - WATCH.restUnderK);
  gas.highC = (shownC > coolest ? coolest + (shownC - coolest) / least : shownC + WATCH.coolSensorK) + lagOverK;
  return gas;
}

/**
 * Take the temperature out of a reading: what it would be at the temperature of the cold target (ideal gas, constant volume, absolute
 * values), with the span that the gas's and the reading's own uncertainty leave.
 */
export function holdReading(
  memory: WheelMemory,
  ms: number,
  kpa: number,
  coldTempC: number,
  ambientKpa: number,
  guess: typeof gas,
  free: boolean,
): void {
  const T = coldTempC - ABSOLUTE_ZERO_C;
  const abs = kpa + ambientKpa;
  let { tempC } = guess;
  if (!free && memory.lastMs !== null) {
    // The sensor jumps (rain, sun, a brake beside it); the gas cannot.
    const gap = ms - memory.doneMs;
    if (gap < WATCH.gasGapMs) {
      const most = (WATCH.gasKPerMin * gap) / 60_000;
      tempC = Math.min(memory.gasC + most, Math.max(memory.gasC - most, tempC));
    }
  }
  const held = (abs * T) / (tempC - ABSOLUTE_ZERO_C) - ambientKpa;
  if (memory.lastMs !== null && ms - memory.lastMs <= WATCH.trembleGapMs) {
    const step = Math.min(WATCH.trembleMostKpa, Math.abs(held - memory.heldKpa));
    memory.trembleKpa += (step - memory.trembleKpa) / WATCH.trembleReadings;
  }
  const margin = WATCH.stepKpa + memory.stepKpa / 2 + Math.min(WATCH.trembleMostKpa, WATCH.trembleFactor * memory.trembleKpa);
  memory.gasC = tempC;
  memory.heldKpa = held;
  memory.heldLowKpa = ((abs - margin) * T) / (guess.highC - ABSOLUTE_ZERO_C) - ambientKpa;
  memory.heldHighKpa = ((abs + margin) * T) / (guess.lowC - ABSOLUTE_ZERO_C) - ambientKpa;
}

/** Put a cold equivalent into the rapid window and say how much was lost inside it, kPa. The window keeps only falling figures. */
export function lostInWindow(memory: WheelMemory, ms: number, kpa: number, rawKpa: number): number {
  const { peakMs, peakKpa, peakRawKpa } = memory;
  let head = memory.peakHead;
  const had = peakKpa.length;
  let length = had;
  while (length > head && (peakKpa[length - 1] as number) <= kpa) length -= 1;
  if (length < had) {
    peakMs[length] = ms;
    peakKpa[length] = kpa;
    peakRawKpa[length] = rawKpa;
    // Cutting an array is dear: it is done only when more than one figure goes.
    if (length + 1 < had) {
      peakMs.length = length + 1;
      peakKpa.length = length + 1;
      peakRawKpa.length = length + 1;
    }
  } else {
    peakMs.push(ms);
    peakKpa.push(kpa);
    peakRawKpa.push(rawKpa);
  }
  const from = ms - WATCH.rapidWindowMs;
  while ((peakMs[head] as number) < from) head += 1;
  if (head > 64) {
    peakMs.splice(0, head);
    peakKpa.splice(0, head);
    peakRawKpa.splice(0, head);
    head = 0;
  }
  memory.peakHead = head;
  return (peakKpa[head] as number) - kpa;
}

/** What the raw reading fell by since the figure that the rapid window begins with, kPa. */
export const rawFall = (memory: Readonly<WheelMemory>): number =>
  (memory.peakRawKpa[memory.peakHead] ?? memory.lastKpa) - memory.lastKpa;

/** The rapid window starts again. */
export function emptyWindow(memory: WheelMemory): void {
  memory.peakMs.length = 0;
  memory.peakKpa.length = 0;
  memory.peakRawKpa.length = 0;
  memory.peakHead = 0;
}

/** Keep a point of the trend now and then; a full trend drops its oldest. */
export function keepTrend(memory: WheelMemory, ms: number, kpa: number): void {
  const { trendMs, trendKpa } = memory;
  const last = trendMs.length - 1;
  if (last >= 0 && ms - (trendMs[last] as number) < WATCH.trendStepMs) return;
  trendMs.push(ms);
  trendKpa.push(kpa);
  if (trendMs.length > WATCH.trendLength) {
    trendMs.shift();
    trendKpa.shift();
  }
}

/** Forget what a change of the air in it makes void: it was filled, bled on purpose, or its sensor came back. */
export function forgetAir(memory: WheelMemory): void {
  emptyWindow(memory);
  memory.bestKpa = null;
  memory.lossWaits = null;
  memory.usualCount = 0;
  memory.startCount = 0;
  memory.lowToldMs = 0;
  memory.trendMs.length = 0;
  memory.trendKpa.length = 0;
  memory.habit = null;
  memory.apartSinceMs = null;
}

/** A cell's voltage as it would be at 20 °C: it falls by 0.15 V down to -20 °C (assumed, linear). */
export const voltsAt20 = (volts: number, tempC: number): number =>
  volts + (WATCH.cellColdV * Math.min(40, Math.max(0, 20 - tempC))) / 40;
