import type { SensorKind } from '#schema/common.ts';
import { AIR_GAS_CONSTANT, ambientAtAltitude } from '../air/atmosphere.ts';
import { FieldError } from '../errors.ts';
import { SENSOR_PHYSICS } from '../kit/physics.ts';
import { orificeFlow } from '../leak/orifice.ts';
import { isSensorKey, sensorKey } from '../pairing/ids.ts';
import { ABSOLUTE_ZERO_C } from '../units/units.ts';
import { BENCH, cellVoltage } from './parameters.ts';
import { between, normal, type RandomState, uniform } from './random.ts';
import type { BenchFrame, BenchSensor, BenchState, BenchWheel, BenchWheelSetup } from './state.ts';

/** A tire nobody has set a pressure for yet is filled to this, kPa. Assumed. */
export const UNSET_COLD_KPA = 250;

const volumeM3 = (w: BenchWheelSetup) => w.airLitres / 1000;
/** Gas temperature of a wheel, °C. */
export const gasC = (w: BenchWheel): number => w.baseC + w.hubK;

/** Absolute pressure of a mass of air in a tire, kPa (ideal gas law: p = m R T / V). */
function absKpaAt(w: BenchWheel, tempC: number): number {
  return (w.massKg * AIR_GAS_CONSTANT * (tempC - ABSOLUTE_ZERO_C)) / volumeM3(w) / 1000;
}

/** What a perfect gauge says, kPa. */
export function gaugeKpa(state: BenchState, w: BenchWheel): number {
  return absKpaAt(w, gasC(w)) - ambientAtAltitude(state.altitudeM);
}

/** Mass of air that shows a gauge pressure at a gas temperature here, kg. */
function massFor(state: BenchState, w: BenchWheelSetup, gaugePressureKpa: number, tempC: number): number {
  const abs = (gaugePressureKpa + ambientAtAltitude(state.altitudeM)) * 1000;
  return (abs * volumeM3(w)) / (AIR_GAS_CONSTANT * (tempC - ABSOLUTE_ZERO_C));
}

export interface BenchSetup {
  seed: number;
  /** Event time at which it begins, ms since the epoch. */
  startMs: number;
  airC: number;
  altitudeM: number;
  wheels: BenchWheelSetup[];
}

/** A bench with every tire at its cold target and as warm as the air. */
export function createBench(setup: BenchSetup): BenchState {
  const state: BenchState = {
    random: { s: setup.seed >>> 0 },
    startMs: setup.startMs,
    nowS: 0,
    kmh: 0,
    airC: setup.airC,
    altitudeM: setup.altitudeM,
    wheels: [],
    sensors: [],
  };
  for (const w of setup.wheels) addWheel(state, w);
  return state;
}

function addWheel(state: BenchState, setup: BenchWheelSetup): void {
  state.wheels.push({
    ...setup,
    massKg: massFor(state, setup, setup.coldKpa, setup.coldTempC),
    baseC: state.airC,
    hubK: 0,
    hubRiseK: 0,
    holeMm: 0,
    permeation: 0,
  });
}

/**
 * Take over a changed rig: tires that stay keep their air, new ones come filled, those that left take their sensor off.
 * A tire whose volume estimate changed keeps its pressure.
 */
export function changeWheels(state: BenchState, wheels: readonly BenchWheelSetup[]): void {
  const before = new Map(state.wheels.map((w) => [w.position, w]));
  state.wheels = [];
  for (const setup of wheels) {
    const old = before.get(setup.position);
    if (!old) {
      addWheel(state, setup);
      continue;
    }
    const massKg = (old.massKg * setup.airLitres) / old.airLitres;
    state.wheels.push({ ...old, ...setup, massKg });
  }
  const there = new Set(wheels.map((w) => w.position));
  for (const s of state.sensors) if (s.at !== null && !there.has(s.at)) s.at = null;
}

/** Put a sensor of known ID in the tray or straight onto a wheel. Its errors come from the bench's own seed. */
export function addSensor(state: BenchState, id: string, kind: SensorKind, at: string | null): BenchSensor {
  const physics = SENSOR_PHYSICS[kind];
  const [low, high] = physics.shareRange;
  const r = state.random;
  const sensor: BenchSensor = {
    id,
    kind,
    at: null,
    share: Math.min(high, Math.max(low, physics.share + 0.05 * normal(r))),
    errorKpa: physics.errorKpa * Math.min(3, Math.max(-3, normal(r))),
    shownC: state.airC,
    awakeUntilS: 0,
    nextSampleS: 0,
    nextSendS: 0,
    sleepAfterS: between(r, BENCH.sleepAfterS[0], BENCH.sleepAfterS[1]),
    sentKpa: null,
    rolledM: 0,
    quiet: false,
    usedMah: 0,
  };
  state.sensors.push(sensor);
  if (at !== null) fitSensor(state, id, at);
  return sensor;
}

/** A new ID that no sensor on the bench has: six digits, or a key where this kit shows none. */
export function freshId(state: BenchState): string {
  for (;;) {
    const id = state.noIds
      ? sensorKey(Array.from({ length: 11 }, () => Math.floor(uniform(state.random) * 36)))
      : Math.floor(uniform(state.random) * 0xffffff)
          .toString(16)
          .toUpperCase()
          .padStart(6, '0');
    if (!state.sensors.some((s) => s.id === id)) return id;
  }
}

/**
 * Lay out a kit that shows IDs, or one that shows none. Loose sensors that no position was captured with yet take what they should have.
 */
export function layOut(state: BenchState, ids: boolean): void {
  if ((state.noIds ?? false) === !ids) return;
  state.noIds = !ids;
  for (const s of state.sensors) {
    if (s.at === null && state.monitor?.labels[s.id] === undefined && isSensorKey(s.id) === ids) s.id = freshId(state);
  }
}

export function sensorById(state: BenchState, id: string): BenchSensor {
  const sensor = state.sensors.find((s) => s.id === id.toUpperCase());
  if (!sensor) throw new FieldError('/sensorId', `no sensor ${id} on the bench`);
  return sensor;
}

export function wheelAt(state: BenchState, position: string): BenchWheel {
  const wheel = state.wheels.find((w) => w.position === position);
  if (!wheel) throw new FieldError('/position', `no wheel ${position} on the bench`);
  return wheel;
}

/** Screw a sensor onto a wheel; whichever was there goes to the tray. The pressure step wakes it. */
export function fitSensor(state: BenchState, id: string, position: string): void {
  wheelAt(state, position);
  const sensor = sensorById(state, id);
  for (const s of state.sensors) if (s.at === position && s !== sensor) s.at = null;
  sensor.at = position;
  sensor.sentKpa = null;
  sensor.rolledM = 0;
  wake(state, sensor);
}

/** Take a sensor off: it lies in the tray and reads no pressure. */
export function unfitSensor(state: BenchState, id: string): void {
  const sensor = sensorById(state, id);
  sensor.at = null;
  wake(state, sensor);
}

/** Wake a sensor by handling it: it stays awake as long as after a drive. */
export const wakeSensor = (state: BenchState, sensor: BenchSensor): void => wake(state, sensor);

function wake(state: BenchState, sensor: BenchSensor, forS = sensor.sleepAfterS): void {
  sensor.awakeUntilS = Math.max(sensor.awakeUntilS, state.nowS + forS);
  sensor.nextSampleS = Math.min(sensor.nextSampleS, state.nowS + 1);
  sensor.nextSendS = Math.min(sensor.nextSendS, state.nowS + 1);
}

/**
 * Fill or bleed a tire to a gauge pressure now, kPa; without one, to its cold target as that reads at its gas temperature now.
 */
export function inflate(state: BenchState, position: string, kpa?: number): void {
  const wheel = wheelAt(state, position);
  wheel.massKg =
    kpa === undefined ? massFor(state, wheel, wheel.coldKpa, wheel.coldTempC) : massFor(state, wheel, kpa, gasC(wheel));
}

/**
 * Gas temperature a tire comes to in the end, °C, hub heat left out:
 * `air + 25 K * (v / 90 km/h)^0.8 * (load / rated)^0.9 * (cold target / cold pressure)^0.4` (assumed; see `BENCH`).
 * @param loadShare load over rated load
 * @param pressureShare cold pressure now over cold target
 */
export function endTempC(airC: number, kmh: number, loadShare: number, pressureShare: number): number {
  return endAt(airC, riseAt(kmh), ofLoad(loadShare), ofPressure(pressureShare));
}

/** Rise at a speed, the rated load and the cold target, K. */
const riseAt = (kmh: number): number => BENCH.riseK * (kmh / BENCH.referenceKmh) ** BENCH.speedExponent;

/** @param byLoad as of `ofLoad` @param byPressure as of `ofPressure` */
const endAt = (airC: number, riseK: number, byLoad: number, byPressure: number): number => airC + riseK * byLoad * byPressure;

/** How much warmer a load makes a tire, of the rise at its rated load. */
const ofLoad = (loadShare: number): number => loadShare ** BENCH.loadExponent;

/** How much warmer a pressure makes a tire, of the rise at its cold target. */
const ofPressure = (pressureShare: number): number =>
  (1 / Math.max(BENCH.leastPressureShare, pressureShare)) ** BENCH.pressureExponent;

/** Powers by the place of a wheel in its bench: load and cold pressure stay for thousands of steps, and powers took a tenth of the time. */
class Powers {
  readonly #of: (x: number) => number;
  readonly #asked: number[] = [];
  readonly #answers: number[] = [];
  constructor(of: (x: number) => number) {
    this.#of = of;
  }
  at(place: number, x: number): number {
    // What was asked last may be of another bench: only the same figure has the same answer.
    if (this.#asked[place] !== x) {
      this.#asked[place] = x;
      this.#answers[place] = this.#of(x);
    }
    return this.#answers[place] as number;
  }
}
const loadPowers = new Powers(ofLoad);
const pressurePowers = new Powers(ofPressure);

/** What all wheels and sensors of a step share: it is worked out once, since a year is millions of steps. */
interface Step {
  dtS: number;
  /** Ambient pressure, kPa absolute. */
  ambient: number;
  rolling: boolean;
  /** Rise at this speed, K. */
  riseK: number;
  /** What is left of a difference after the step, by what lags. */
  left: Decay;
}

/** `exp(-dt / tau)` of each lag. */
interface Decay {
  dtS: number;
  parked: number;
  rolling: number;
  track: number;
  hub: number;
  sensor: Record<SensorKind, number>;
}

function decayOver(dtS: number): Decay {
  const left = (tauS: number) => Math.exp(-dtS / tauS);
  return {
    dtS,
    parked: left(BENCH.tauParkedS),
    rolling: left(BENCH.tauRollingS),
    track: left(BENCH.tauTrackS),
    hub: left(BENCH.hubTauS),
    sensor: {
      cap: left(SENSOR_PHYSICS.cap.tauS),
      flowThrough: left(SENSOR_PHYSICS.flowThrough.tauS),
      internal: left(SENSOR_PHYSICS.internal.tauS),
    },
  };
}

/** Of the last step: steps of one length follow each other, most of them at one height. */
let lastDecay = decayOver(1);
let lastAir = { altitudeM: 0, ambient: ambientAtAltitude(0) };

/** Ambient pressure at a height, kPa absolute. */
function ambientAt(altitudeM: number): number {
  if (lastAir.altitudeM !== altitudeM) lastAir = { altitudeM, ambient: ambientAtAltitude(altitudeM) };
  return lastAir.ambient;
}

/** What is left after the lag of a step. */
const lag = (from: number, to: number, left: number) => to + (from - to) * left;

/** Seconds in 30 days: the month of the loss through the rubber. */
const MONTH_S = 30 * 86400;

/** Share of the rated load on a wheel now, by its own cold pressure, kPa. */
function loadNow(w: BenchWheel, coldNow: number, ambient: number, byPosition: Map<string, BenchWheel>): number {
  const twin = w.twin ? byPosition.get(w.twin) : undefined;
  if (!twin) return w.loadShare;
  // Duals share the load by pressure (assumed): the softer one carries less.
  const mine = Math.max(0, coldNow);
  const other = Math.max(0, absKpaAt(twin, twin.coldTempC) - ambient);
  return mine + other > 0 ? (w.loadShare * 2 * mine) / (mine + other) : w.loadShare;
}

function stepWheel(state: BenchState, w: BenchWheel, place: number, now: Step, byPosition: Map<string, BenchWheel>): void {
  const { dtS, ambient, left } = now;
  const rolling = now.rolling && !w.spare;
  const airC = state.airC + (w.sunK ?? 0);
  if (rolling) {
    const coldNow = absKpaAt(w, w.coldTempC) - ambient;
    const byLoad = loadPowers.at(place, loadNow(w, coldNow, ambient, byPosition));
    const road = endAt(airC, now.riseK, byLoad, pressurePowers.at(place, coldNow / w.coldKpa));
    const track = state.track === true;
    w.baseC = lag(w.baseC, track ? airC + BENCH.trackRise * (road - airC) : road, track ? left.track : left.rolling);
    w.hubK = lag(w.hubK, w.hubRiseK * BENCH.hubShare, left.hub);
  } else {
    w.baseC = lag(w.baseC, airC, left.parked);
    w.hubK = lag(w.hubK, 0, left.parked);
  }
  if (w.permeation > 0) {
    const abs = absKpaAt(w, gasC(w));
    const lost = ((abs - ambient) * w.permeation * dtS) / MONTH_S;
    if (lost > 0) w.massKg *= 1 - lost / abs;
  }
  if (w.holeMm > 0) leakFor(w, dtS, ambient);
}

/** Let air out through the hole, in steps that take at most 2 % of the air, so that a burst is not overdrawn. */
function leakFor(w: BenchWheel, dtS: number, ambient: number): void {
  const T = gasC(w) - ABSOLUTE_ZERO_C;
  const empty = (ambient * 1000 * volumeM3(w)) / (AIR_GAS_CONSTANT * T);
  let rest = dtS;
  for (let i = 0; i < 1000 && rest > 0 && w.massKg > empty; i += 1) {
    const flow = orificeFlow(w.holeMm, absKpaAt(w, gasC(w)), ambient, T);
    if (flow <= 0) return;
    const dt = Math.min(rest, (0.02 * w.massKg) / flow);
    w.massKg = Math.max(empty, w.massKg - flow * dt);
    rest -= dt;
  }
}

/**
 * How long a sleeping sensor waits between two life signs, s: 10 to 60 min, or null for one in three, which gives none. It is a habit of
 * the sensor, so it follows from its ID.
 */
export function lifeSignS(id: string): number | null {
  const r: RandomState = { s: Number.parseInt(id, 36) >>> 0 };
  return uniform(r) < 1 / 3 ? null : between(r, BENCH.lifeSignS[0], BENCH.lifeSignS[1]);
}

/** Habits of the sensors that were asked for: a sleeping one is asked each half minute. */
const habits = new Map<string, number | null>();
function habitOf(id: string): number | null {
  let habit = habits.get(id);
  if (habit === undefined) {
    // Years of drawn rigs have no end of sensors.
    if (habits.size > 1000) habits.clear();
    habit = lifeSignS(id);
    habits.set(id, habit);
  }
  return habit;
}

/** Chance that a copy of a frame is lost: under 2.5 V frames begin to fail, at 2.3 V all of them (assumed). */
function frameLoss(volts: number): number {
  const failing = volts >= BENCH.failingV ? 0 : volts <= BENCH.deadV ? 1 : 0.5;
  return failing + (1 - failing) * BENCH.copyLoss;
}

function stepSensor(state: BenchState, s: BenchSensor, w: BenchWheel | undefined, now: Step, out: BenchFrame[]): void {
  const { dtS } = now;
  const airC = state.airC + (w?.sunK ?? 0);
  const target = w ? airC + s.share * (gasC(w) - airC) : airC;
  s.shownC = lag(s.shownC, target, now.left.sensor[s.kind]);
  const rolling = now.rolling && w !== undefined && !w.spare;
  if (rolling) {
    s.rolledM += (state.kmh / 3.6) * dtS;
    if (s.kind !== 'internal' || s.rolledM >= BENCH.internalWakeM) {
      s.awakeUntilS = Math.max(s.awakeUntilS, state.nowS + s.sleepAfterS);
    }
  }
  if (
    state.kmh > 0 &&
    w?.spare &&
    state.nowS >= s.nextSendS + between(state.random, BENCH.spareShakeS[0], BENCH.spareShakeS[1])
  ) {
    wake(state, s, BENCH.stepAwakeS);
  }
  const awake = state.nowS < s.awakeUntilS;
  s.usedMah += (BENCH.sleepUa * dtS) / 3.6e6;
  if (!awake) s.rolledM = rolling ? s.rolledM : 0;
  if (state.nowS < s.nextSampleS) {
    // A sensor that has just woken need not wait out its long sleeping interval.
    if (awake && s.nextSampleS - state.nowS > BENCH.sampleS[1]) s.nextSampleS = state.nowS + BENCH.sampleS[0];
    return;
  }
  s.usedMah += BENCH.sampleUc / 3.6e6;
  s.nextSampleS = state.nowS + (awake ? between(state.random, BENCH.sampleS[0], BENCH.sampleS[1]) : BENCH.asleepSampleS);
  const kpa = w ? Math.max(0, absKpaAt(w, gasC(w)) - now.ambient + s.errorKpa) : 0;
  const stepped = s.sentKpa !== null && Math.abs(kpa - s.sentKpa) >= BENCH.sendStepKpa;
  const sign = state.lifeSigns && !awake ? habitOf(s.id) : null;
  const alive = sign !== null && state.nowS >= s.nextSendS + sign;
  if (!stepped && !alive && !(awake && state.nowS >= s.nextSendS)) return;
  if (stepped) s.awakeUntilS = Math.max(s.awakeUntilS, state.nowS + BENCH.stepAwakeS);
  s.nextSendS = state.nowS + between(state.random, BENCH.sendS[0], BENCH.sendS[1]);
  s.sentKpa = kpa;
  s.usedMah += (BENCH.copies * BENCH.frameUc) / 3.6e6;
  const batteryV = cellVoltage(s.usedMah, s.shownC);
  let heard = false;
  for (let copy = 0; copy < BENCH.copies; copy += 1) {
    const loss = frameLoss(batteryV);
    if (uniform(state.random) >= loss) heard = true;
  }
  if (!heard || s.quiet || (s.at !== null && state.deaf?.includes(s.at[0] as string))) return;
  out.push({
    sensorId: s.id,
    ms: Math.round(state.startMs + state.nowS * 1000),
    pressureKpa: Math.round(kpa / BENCH.stepKpa) * BENCH.stepKpa,
    tempC: Math.round(s.shownC / BENCH.stepK) * BENCH.stepK,
    batteryV: Math.round(batteryV * 100) / 100,
  });
}

/**
 * Let time pass on the bench.
 * @param seconds how long, event time
 * @param dtS length of a step, s: 1 for sensors that behave like sensors, longer to bridge days at rest
 * @returns the frames heard, in order
 */
export function advance(state: BenchState, seconds: number, dtS = 1): BenchFrame[] {
  const out: BenchFrame[] = [];
  const byPosition = wheelsByPosition(state);
  let rest = seconds;
  while (rest > 1e-9) {
    const dt = Math.min(dtS, rest);
    rest -= dt;
    step(state, dt, byPosition, out);
  }
  return out;
}

/** Wheels of a bench by position, for `step`. */
export const wheelsByPosition = (state: BenchState): Map<string, BenchWheel> => new Map(state.wheels.map((w) => [w.position, w]));

/** One step of the bench, dtS long; what is heard goes to `out`. */
export function step(state: BenchState, dtS: number, byPosition: Map<string, BenchWheel>, out: BenchFrame[]): void {
  if (lastDecay.dtS !== dtS) lastDecay = decayOver(dtS);
  const now: Step = {
    dtS,
    ambient: ambientAt(state.altitudeM),
    rolling: state.kmh > 0,
    riseK: state.kmh > 0 ? riseAt(state.kmh) : 0,
    left: lastDecay,
  };
  state.nowS += dtS;
  const { wheels, sensors } = state;
  for (let i = 0; i < wheels.length; i += 1) stepWheel(state, wheels[i] as BenchWheel, i, now, byPosition);
  for (let i = 0; i < sensors.length; i += 1) {
    const s = sensors[i] as BenchSensor;
    // Most lists have a wheel and its sensor in the same place.
    const w = wheels[i];
    stepSensor(state, s, s.at === null ? undefined : w?.position === s.at ? w : byPosition.get(s.at), now, out);
  }
}

/** Event time now, ms since the epoch. */
export const benchMs = (state: BenchState): number => Math.round(state.startMs + state.nowS * 1000);
