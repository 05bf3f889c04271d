import { ABSOLUTE_ZERO_C } from '../../units/units.ts';
import type { WatchEvent } from '../ledger.ts';
import { coldEvidence, end, growWorse, raise } from '../ledger.ts';
import { median } from '../median.ts';
import { WATCH } from '../parameters.ts';
import { guessGas, type WatchedKind, type WheelMemory } from '../wheel.ts';
import { type Axle, type Rig, type Rule, suppressed, type Wheel } from './rule.ts';
import { isFrozen } from './stuck.ts';

const spanOf = (kind: WatchedKind) => WATCH.apartSpanSigmas * Math.hypot(WATCH.apartTempK[kind], WATCH.apartPressureK);
/** How far the two signs of heat may differ before one of them is taken for a bad sensor, K. */
const SPAN_K: Record<WatchedKind, number> = {
  ideal: spanOf('ideal'),
  cap: spanOf('cap'),
  flowThrough: spanOf('flowThrough'),
  internal: spanOf('internal'),
};

/**
 * How much hotter the gas is by both signs together, K: the mean of what temperature and pressure say, each weighed by its variance.
 * The pressure's sign is first kept within `SPAN_K` of the temperature's.
 */
export function bothSigns(overTempK: number, overPressureK: number, kind: WatchedKind): number {
  const most = SPAN_K[kind];
  const pressureK = Math.min(overTempK + most, Math.max(overTempK - most, overPressureK));
  const a = 1 / WATCH.apartTempK[kind] ** 2;
  const b = 1 / WATCH.apartPressureK ** 2;
  return (overTempK * a + pressureK * b) / (a + b);
}

/** Unit, axle and side: the same for both wheels of a dual pair. */
const sideOf = (position: string): string => position.slice(0, 3);

/** Index of the other wheel of a dual pair, or -1. */
const twinAmong = (there: readonly Wheel[], i: number): number =>
  there.findIndex((w, j) => j !== i && sideOf(w.position) === sideOf(there[i]?.position ?? ''));

// Scratch lists, so that a comparison makes none. They hold nothing from one call to the next.
const there: Wheel[] = [];
const logs: number[] = [];
const gases: number[] = [];
/** Gas temperatures with no habit taken out, °C. */
const shown: number[] = [];

/** Wheels of an axle that can be compared now. */
function comparable(axle: Axle, ms: number, rig: Rig): void {
  there.length = 0;
  // While one is filled, and the other follows, nothing is to be compared.
  for (const w of axle.wheels) {
    const m = w.memory;
    if (w.filling || (m.filledMs !== null && ms - m.filledMs < WATCH.filledMs)) {
      there.length = 0;
      return;
    }
    if (m.lastMs === null || ms - m.lastMs > WATCH.apartFreshMs || m.askedMs != null || suppressed(w)) continue;
    if (rig.sleepAware && isFrozen(w, ms, rig)) continue;
    there.push(w);
  }
  // A sensor that was just put on still shows the air, and would make a settled one look hot. New together, they warm together.
  if (there.some((w) => w.memory.putOnMs != null) && there.some((w) => w.memory.putOnMs == null)) {
    let kept = 0;
    for (const w of there) if (w.memory.putOnMs == null) there[kept++] = w;
    there.length = kept;
  }
}

/** The gas of a wheel, °C. Where its display corrects the pressure, the temperature it shows is all there is of its heat. */
function gasShown(w: Wheel, air: number | null): number {
  const { correctedToC, sensorKind } = w.limits;
  if (correctedToC === undefined) return w.memory.gasC;
  return guessGas(sensorKind, w.memory.lastC, false, air === null ? null : { tempC: air, spreadK: 0 }).tempC;
}

/** Compare the wheels of an axle with each other. */
function compare(axle: Axle, ms: number, rig: Rig, out: WatchEvent[]): void {
  axle.nextMs = ms + WATCH.apartStepMs;
  if (rig.track) return;
  comparable(axle, ms, rig);
  const n = there.length;
  if (n < 2) return;
  const { ambientKpa } = rig.around;
  const air = rig.around.airC ?? rig.guessedAir?.tempC ?? null;
  if (logs.length > n) {
    logs.length = n;
    gases.length = n;
    shown.length = n;
  }
  let leastGas = Number.POSITIVE_INFINITY;
  for (let i = 0; i < n; i += 1) {
    const w = there[i] as Wheel;
    logs[i] = Math.log(w.memory.lastKpa + ambientKpa);
    const gasC = gasShown(w, air);
    gases[i] = gasC;
    shown[i] = gasC;
    if (gasC < leastGas) leastGas = gasC;
  }
  const middle = median(logs);
  const rise = Math.max(0, median(gases) - (air ?? leastGas));
  for (let i = 0; i < n; i += 1) {
    const m = (there[i] as Wheel).memory;
    if (m.habit === null) {
      m.habit = (logs[i] as number) - middle;
      m.habitMs = ms;
    }
    logs[i] = (logs[i] as number) - m.habit;
    gases[i] = (gases[i] as number) - m.riseHabit * rise;
  }
  const T = median(gases) - ABSOLUTE_ZERO_C;
  for (let i = 0; i < n; i += 1) judgeOne(i, ms, T, rise, rig, out);
}

/**
 * What a wheel was hotter by when the rig set off, K: the sun was on its side. It fades on the move, as a tire cools; what a hub adds comes on top.
 * @param bothK how much hotter it is now
 */
function sunAtStart(m: WheelMemory, ms: number, bothK: number, rig: Rig): number {
  const since = rig.busySinceMs;
  if (!rig.sleepAware || since === null || rig.around.moving !== null) return 0;
  if (m.sunMs < since) {
    m.sunMs = ms;
    m.sunK = ms - since > WATCH.sunWithinMs ? 0 : Math.min(WATCH.sunMostK, Math.max(0, bothK));
  }
  return m.sunK === 0 ? 0 : m.sunK * Math.exp((m.sunMs - ms) / WATCH.sunFadesMs);
}

/** A difference of pressure without what one step of a coarse sensor may be. */
function blurred(over: number, m: WheelMemory, ambientKpa: number): number {
  const step = m.stepKpa < WATCH.apartStepKpa ? 0 : m.stepKpa / (m.lastKpa + ambientKpa);
  return Math.sign(over) * Math.max(0, Math.abs(over) - step);
}

/** One wheel of `there` against the others. @param T middle gas temperature, K @param rise of the axle's gas over the air, K */
function judgeOne(i: number, ms: number, T: number, rise: number, rig: Rig, out: WatchEvent[]): void {
  const { ambientKpa } = rig.around;
  const wheel = there[i] as Wheel;
  const m = wheel.memory;
  const { sensorKind } = wheel.limits;
  const overTempK = hotterBy(i);
  const over = (logs[i] as number) - median(logs, i);
  const overPressureK = T * blurred(over, m, ambientKpa);
  const signs = bothSigns(overTempK, overPressureK, sensorKind);
  const both = signs - sunAtStart(m, ms, signs, rig);
  // A pressure that was corrected already has no heat in it.
  const air = wheel.limits.correctedToC === undefined ? over - overTempK / T : over;
  // Brakes and bearings warm a wheel on the move; at rest it is the sun.
  const rolls = !rig.sleepAware || rig.busySinceMs !== null || rig.around.moving === true || m.active.apart !== undefined;
  const hotK = wheel.axle.pooled ? WATCH.apartPooledK : WATCH.apartK;
  const hotter =
    rolls &&
    overTempK >= (wheel.axle.pooled ? WATCH.apartPooledLeastK : WATCH.apartLeastK) &&
    both >= hotK &&
    !mateLoses(i, overTempK, overPressureK, T, ambientKpa, hotK);
  const lower = !wheel.axle.pooled && isLower(i, over, air, overTempK, ambientKpa);
  const alarm = m.active.apart;
  if (hotter || lower) {
    m.apartSinceMs ??= ms;
    const value = hotter ? both : over * (m.lastKpa + ambientKpa);
    if (alarm) {
      if (Math.abs(value) > Math.abs(alarm.worst)) {
        alarm.worst = value;
        growWorse(wheel, 'apart', ms, alarm, hotter ? WATCH.worseK / 2 : WATCH.worseKpa / 2, out);
      }
    } else if (ms - m.apartSinceMs >= WATCH.apartHoldMs) {
      const limit = hotter ? hotK : -WATCH.apartShare * (m.lastKpa + ambientKpa);
      const other = twinAmong(there, i);
      const twin = other < 0 ? {} : { overTwinK: (gases[i] as number) - (gases[other] as number) };
      raise(wheel, 'apart', ms, limit, value, out, {
        how: hotter ? 'hotter' : 'lower',
        overTempK,
        overPressureK,
        ...twin,
        ...coldEvidence(m),
      });
    }
  } else {
    m.apartSinceMs = null;
    const back = WATCH.apartBackShare;
    if (alarm && (alarm.evidence?.how === 'lower' ? air > -back * WATCH.apartShare : both < back * hotK)) {
      end(wheel, 'apart', ms, out);
    }
  }
  learn(wheel, ms, both, over, overTempK, rise, alarm !== undefined);
}

/**
 * How much hotter the gas is by temperature, K. A habit may explain heat but not make it: after days with the sun on the left, the sun on
 * the right would count twice.
 */
function hotterBy(i: number): number {
  const usual = (gases[i] as number) - median(gases, i);
  return usual <= 0 ? usual : Math.min(usual, Math.max(0, (shown[i] as number) - median(shown, i)));
}

/** A logarithm of pressure that differs by this is the same. */
const ROUNDING = 1e-9;

/** Lower in pressure than the others: against its habit, or (where the temperature is the gas's) outright. */
function isLower(i: number, over: number, air: number, overTempK: number, ambientKpa: number): boolean {
  const { memory, limits } = there[i] as Wheel;
  const ideal = limits.sensorKind === 'ideal';
  const cooler = WATCH.apartCoolerSigmas * WATCH.apartTempK[limits.sensorKind];
  const least = Math.max(WATCH.apartShare, (WATCH.apartSteps * memory.stepKpa) / (memory.lastKpa + ambientKpa));
  if (over <= -least && air <= -least && (ideal || overTempK > -cooler)) return true;
  // Above its habit it isn't falling; at it, it may have been low from the first reading on. A rounding error is neither.
  if (over > ROUNDING || !ideal) return false;
  let sum = 0;
  for (let j = 0; j < there.length; j += 1) if (j !== i) sum += (there[j] as Wheel).memory.heldKpa + ambientKpa;
  return (memory.heldKpa + ambientKpa) / (sum / (there.length - 1)) <= 1 - WATCH.apartOutrightShare;
}

/** Learn the wheel's habits (a side in the sun, an uneven load) while nothing is wrong with it. */
function learn(wheel: Wheel, ms: number, both: number, over: number, overTempK: number, rise: number, rang: boolean): void {
  const m = wheel.memory;
  const gap = Math.min(ms - m.habitMs, WATCH.apartFreshMs);
  m.habitMs = ms;
  if (rang || m.active.rapid !== undefined || m.active.slow !== undefined) return;
  if (Math.abs(both) > WATCH.habitHeatShare * WATCH.apartK || Math.abs(over) > WATCH.habitPressureShare * WATCH.apartShare)
    return;
  const share = (WATCH.habitGain * gap) / WATCH.apartHabitMs;
  m.habit = (m.habit ?? 0) + share * over;
  if (rise >= WATCH.habitRiseK && wheel.limits.sensorKind !== 'ideal') m.riseHabit += (share * overTempK) / rise;
}

/** Another wheel of the axle is losing air: that this one reads more says nothing about its heat. */
function mateLoses(but: number, overTempK: number, overPressureK: number, T: number, ambientKpa: number, hotK: number): boolean {
  const { position: mine, memory: a, limits } = there[but] as Wheel;
  if (there.length === 2) {
    // Of two, that this one reads more may be what the other has lost: it is when that explains half of it, or when the rest isn't hot.
    const b = (there[1 - but] as Wheel).memory;
    if (b.bestKpa !== null && a.bestKpa !== null) {
      const lost = b.bestHeldKpa - b.heldKpa - Math.max(0, a.bestHeldKpa - a.heldKpa);
      const lostK = (T * Math.max(0, lost)) / (a.lastKpa + ambientKpa);
      if (lostK > WATCH.apartExplainsShare * overPressureK) return true;
      if (bothSigns(overTempK, overPressureK - lostK, limits.sensorKind) < hotK) return true;
    }
  }
  let losing = 0;
  for (let j = 0; j < there.length; j += 1) {
    if (j === but) continue;
    const { position, memory } = there[j] as Wheel;
    const { active } = memory;
    if (!active.rapid && !active.slow && active.apart?.evidence?.how !== 'lower') continue;
    // Of duals the harder one takes over the load of the softer and warms: the loss is the cause.
    if (sideOf(position) === sideOf(mine)) return true;
    losing += 1;
  }
  return losing * 2 >= there.length - 1 && losing > 0;
}

/** Hotter or lower than the other wheels on its axle. */
export const apart: Rule = { kinds: ['apart'], compare };
