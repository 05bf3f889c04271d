import { studentT975 } from '../../leak/estimate.ts';
import type { WatchEvent } from '../ledger.ts';
import { coldEvidence, end, growWorse, raise, report } from '../ledger.ts';
import { median } from '../median.ts';
import { WATCH } from '../parameters.ts';
import { type AlarmEvidence, forgetAir, keepTrend, lostInWindow, rawFall, type WaitingLoss, type WheelMemory } from '../wheel.ts';
import { type Judged, likelyTakenOff, type Rig, type Rule, suppressed, type Wheel } from './rule.ts';

const DAY_MS = 86_400_000;

/** Its cold-equivalent pressure without what the whole rig is off by, kPa. */
const own = (memory: Readonly<WheelMemory>): number => memory.heldKpa - memory.shiftKpa;

/** Sums over a stretch of points, for a straight line through it. */
interface Line {
  slope: number;
  /** Sum of the squared residuals, and of the squared times about their mean. */
  rest: number;
  sxx: number;
}

/** The line of least squares through points from one index up to another. */
function lineThrough(days: readonly number[], kpa: readonly number[], from: number, to: number): Line {
  const n = to - from;
  let meanX = 0;
  let meanY = 0;
  for (let i = from; i < to; i += 1) {
    meanX += (days[i] as number) / n;
    meanY += (kpa[i] as number) / n;
  }
  let sxx = 0;
  let sxy = 0;
  let syy = 0;
  for (let i = from; i < to; i += 1) {
    const x = (days[i] as number) - meanX;
    const y = (kpa[i] as number) - meanY;
    sxx += x * x;
    sxy += x * y;
    syy += y * y;
  }
  const slope = sxx > 0 ? sxy / sxx : 0;
  return { slope, rest: Math.max(0, syy - slope * sxy), sxx };
}

/**
 * How fast the cold-equivalent pressure falls now, kPa a day, with a 95 % interval. A leak begins at some moment, so the points since the tire
 * held the most are split where two straight lines fit them best, and the later one counts. Nothing is said while the interval is wide or may
 * hold no loss at all. (Least squares with Student's interval, and what a step of the sensor may hide over the stretch.)
 */
export function trendOf(memory: Readonly<WheelMemory>): AlarmEvidence {
  const from = memory.bestMs - WATCH.trendStepMs;
  const days: number[] = [];
  const kpa: number[] = [];
  memory.trendMs.forEach((ms, i) => {
    if (ms < from) return;
    days.push((ms - memory.bestMs) / DAY_MS);
    kpa.push(memory.trendKpa[i] as number);
  });
  const nowDays = ((memory.lastMs ?? memory.bestMs) - memory.bestMs) / DAY_MS;
  if (days.length > 0 && nowDays - (days.at(-1) as number) > WATCH.trendLeastDays) {
    days.push(nowDays);
    kpa.push(own(memory));
  }
  const n = days.length;
  if (n < 2) return {};
  const whole = lineThrough(days, kpa, 0, n);
  let start = 0;
  let least = whole.rest / WATCH.trendBreakGain;
  for (let b = 1; b <= n - 3; b += 1) {
    const rest = lineThrough(days, kpa, 0, b).rest + lineThrough(days, kpa, b, n).rest;
    if (rest < least) {
      least = rest;
      start = b;
    }
  }
  const { slope, rest, sxx } = start === 0 ? whole : lineThrough(days, kpa, start, n);
  const m = n - start;
  const span = (days[n - 1] as number) - (days[start] as number);
  const scatter = m > 2 ? studentT975(m - 2) * Math.sqrt(rest / (m - 2) / sxx) : 0;
  const hidden = (WATCH.trendHides * (WATCH.stepKpa + memory.stepKpa)) / span;
  const half = Math.hypot(scatter, hidden);
  if (!(slope + half < 0) || half > WATCH.trendWidest * -slope) return {};
  return { rateKpaPerDay: slope, rateLowKpaPerDay: slope - half, rateHighKpaPerDay: slope + half };
}

function slowEvidence(memory: WheelMemory): AlarmEvidence {
  const lossKpa = memory.bestHeldKpa - own(memory);
  return { ...coldEvidence(memory), ...trendOf(memory), lossKpa, sinceMs: memory.bestMs };
}

/**
 * Rapid: this much of the likely figure lost inside the window. Of a real sensor some steps of it, and most of it in the raw reading: a cap
 * that warms as the wind stops makes the gas look hotter, and the tire emptier.
 */
function isRapid({ memory, limits }: Wheel, lostKpa: number, rig: Rig): boolean {
  if (lostKpa < WATCH.rapidKpa) return false;
  // In the pit some psi are let out by hand, and a hot tire cools within a lap; a burst takes more, also of the raw reading.
  if (rig.track && (lostKpa < WATCH.rapidTrackKpa || rawFall(memory) < WATCH.rapidTrackKpa)) return false;
  if (limits.sensorKind === 'ideal') return true;
  const raw = rawFall(memory);
  return raw >= WATCH.rapidRawShare * lostKpa && raw > WATCH.rapidSteps * memory.stepKpa - WATCH.stepLeastKpa;
}

function judgeRapid(wheel: Wheel, ms: number, lostKpa: number, rig: Rig, out: WatchEvent[]): void {
  const { memory } = wheel;
  const { rapid } = memory.active;
  if (!rapid) {
    if (isRapid(wheel, lostKpa, rig)) {
      const evidence = { ...coldEvidence(memory), lossKpa: lostKpa };
      raise(wheel, 'rapid', ms, WATCH.rapidKpa, lostKpa, out, evidence, likelyTakenOff(wheel, ms, rig) ? 'note' : undefined);
    }
    return;
  }
  const start = (rapid.evidence?.heldKpa ?? 0) + (rapid.evidence?.lossKpa ?? 0);
  if (start - memory.heldKpa > rapid.worst) {
    rapid.worst = start - memory.heldKpa;
    report('worse', wheel.position, 'rapid', ms, rapid, out);
  }
  if (lostKpa < WATCH.rapidEndKpa) {
    end(wheel, 'rapid', ms, out);
    // That loss has been reported: a slow one is measured from here.
    memory.bestKpa = null;
  }
}

/** The most the tire has surely held is measured from here. */
function startFrom(memory: WheelMemory, ms: number, lowKpa: number): void {
  memory.bestKpa = lowKpa;
  memory.bestMs = ms;
  memory.bestHeldKpa = own(memory);
}

/** Slow: interval arithmetic. The most it has surely held, compared with the most it can hold now. */
function judgeSlow(wheel: Wheel, reading: Readonly<Judged>, rig: Rig, out: WatchEvent[]): void {
  const { memory } = wheel;
  const { ms, previousMs } = reading;
  memory.lossWaits = null;
  // Two readings close together must agree.
  const near = ms - previousMs <= WATCH.confirmMs;
  // What the rig is off by may be none of this wheel's: it takes credit from neither end.
  const shift = memory.shiftKpa;
  const low =
    (near && reading.previousLowKpa < memory.heldLowKpa ? reading.previousLowKpa : memory.heldLowKpa) - Math.max(0, shift);
  const high =
    (near && reading.previousHighKpa > memory.heldHighKpa ? reading.previousHighKpa : memory.heldHighKpa) - Math.min(0, shift);
  if (memory.bestKpa !== null) {
    memory.bestKpa -= (WATCH.rubberShare * Math.max(0, memory.bestKpa) * (ms - reading.judgedMs)) / WATCH.monthMs;
  }
  const { slow } = memory.active;
  if (slow) {
    if (high < memory.leastKpa) {
      memory.leastKpa = high;
      slow.worst = high;
      // What was lost when it was first reported, and how fast, is not what is lost now: each step has its own figures.
      growWorse(wheel, 'slow', ms, slow, WATCH.worseKpa / 2, out, () => slowEvidence(memory));
    } else if (low > memory.leastKpa + WATCH.slowBackKpa) {
      // Surely more than it held: air was put in.
      end(wheel, 'slow', ms, out);
      forgetAir(memory);
      startFrom(memory, ms, low);
    }
    return;
  }
  if (memory.bestKpa === null || low > memory.bestKpa) {
    startFrom(memory, ms, low);
    return;
  }
  if (memory.active.rapid || ms - memory.bestMs < WATCH.slowLeastMs) return;
  // Near the low limit what is likely counts, elsewhere only what is sure. A cold morning gets there too, with all the air it was set to.
  const { lowKpa, coldKpa, sensorKind } = wheel.limits;
  const missing = coldKpa === null || own(memory) <= (1 - WATCH.likelyShare) * coldKpa;
  const likely = missing && lowKpa !== null && memory.lastKpa <= lowKpa + WATCH.nearLowKpa;
  const lossKpa = Math.max(memory.bestKpa - high, likely ? memory.bestHeldKpa - own(memory) - WATCH.likelyKpa : 0);
  if (lossKpa <= 0) return;
  const loss = { lossKpa, highKpa: high, aloneKpa: reading.rested || sensorKind === 'ideal' ? 0 : WATCH.aloneKpa };
  const others = commonLoss(wheel, ms, rig);
  // The first one heard after a night: the others will tell what is common.
  if (others === null && ms - memory.awakeMs < WATCH.awakeWaitMs && hasOthers(wheel, rig)) memory.lossWaits = loss;
  else raiseSlow(wheel, ms, loss, others ?? loss.aloneKpa, out);
}

/** @param commonKpa what the rest of the rig seems to have lost too */
function raiseSlow(wheel: Wheel, ms: number, { lossKpa, highKpa }: WaitingLoss, commonKpa: number, out: WatchEvent[]): void {
  const { memory } = wheel;
  if (memory.bestKpa === null || lossKpa <= commonKpa) return;
  memory.leastKpa = highKpa;
  raise(wheel, 'slow', ms, memory.bestKpa, highKpa, out, slowEvidence(memory));
}

/**
 * A loss has waited long enough. A parked sensor speaks only when it has lost another step, hours later, and the others don't speak at all: then
 * nobody is left to wait for.
 */
function judgeWaiting(wheel: Wheel, ms: number, rig: Rig, out: WatchEvent[]): void {
  const { memory } = wheel;
  const { lossWaits, active } = memory;
  if (lossWaits === null || ms - memory.awakeMs < WATCH.awakeWaitMs) return;
  memory.lossWaits = null;
  if (wheel.filling || rig.track || active.rapid || active.slow || memory.askedMs != null || suppressed(wheel)) return;
  raiseSlow(wheel, ms, lossWaits, commonLoss(wheel, ms, rig) ?? lossWaits.aloneKpa, out);
}

/** What the other wheels seem to have lost too, kPa: air and altitude that the watch doesn't know about. Null: there is no other to ask. */
function commonLoss(wheel: Wheel, ms: number, rig: Rig): number | null {
  const losses: number[] = [];
  for (const w of rig.list) {
    const m = w.memory;
    if (w === wheel || w.limits.rests || m.lastMs === null || m.bestKpa === null || ms - m.lastMs > WATCH.commonMs) continue;
    if (m.active.rapid || m.active.slow || suppressed(w)) continue;
    losses.push(Math.max(0, m.bestHeldKpa - own(m)));
  }
  return losses.length === 0 ? null : median(losses);
}

/** Whether another wheel may be heard that can tell what is common. */
const hasOthers = (wheel: Wheel, rig: Rig): boolean =>
  rig.sleepAware && rig.list.some((w) => w !== wheel && !w.limits.rests && w.memory.lastMs !== null && !suppressed(w));

/** Rapid and slow loss, with the temperature taken out. */
export const loss: Rule = {
  kinds: ['rapid', 'slow'],
  judge(wheel, reading, rig, out) {
    const { memory } = wheel;
    const { ms } = reading;
    const lostKpa = lostInWindow(memory, ms, memory.heldKpa, reading.kpa);
    if (wheel.filling) return;
    judgeRapid(wheel, ms, lostKpa, rig, out);
    if (rig.track) return;
    // A sensor that fell to nothing may be off its valve: the owner is asked, and it is no slow loss.
    if (memory.askedMs != null) return;
    // One put on a hot tire shows the air at first. Taken at its word, the tire would hold more than it does, and lose it as the sensor
    // warms.
    if (memory.putOnMs != null) return;
    keepTrend(memory, ms, own(memory));
    judgeSlow(wheel, reading, rig, out);
  },
  scan(ms, rig, out) {
    for (const wheel of rig.list) judgeWaiting(wheel, ms, rig, out);
  },
};
