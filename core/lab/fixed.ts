import { median, quantileSorted } from 'simple-statistics';
import { ambientAtAltitude } from '../air/atmosphere.ts';
import type { Day } from '../climate/daily.ts';
import { KPA_PER_PSI } from '../units/units.ts';
import { Chance } from './chance.ts';
import { airCourse, drivesOf, gasRise, type LabRig, type LabWheel, type Stretch, sunAtHour, sunOn, TAU_MIN } from './world.ts';

/**
 * Monitors with fixed limits over thousands of days: the same world as `live`, looked at only when a limit can be crossed: at the start of a
 * drive, through it, at its end, just after, and a few times through a parked day.
 */

const MIN = 60_000;
const HOUR = 60 * MIN;
const DAY = 24 * HOUR;
const ZERO_C = -273.15;

/** Limits of one rule, wheel by wheel in the rig's order. */
export interface LabRule {
  name: string;
  limits: readonly { lowKpa: number | null; highKpa: number | null }[];
  /** Temperature limit of the sensor, °C. */
  hotC: number;
}

/** One alarm of a monitor with fixed limits. */
export interface FixedRing {
  rule: number;
  wheel: number;
  kind: 'low' | 'high' | 'hot';
  ms: number;
  /** The reading that rang: kPa, or °C of a hot one. */
  value: number;
  airC: number;
}

export interface FixedFault {
  kind: 'leak' | 'hub';
  wheel: number;
  fromMs: number;
  /** Of a leak at its full pressure, kPa an hour; of a hub, K. */
  size: number;
}

/** What a moment of the walk looked like, for a chart. */
export interface FixedMoment {
  ms: number;
  airC: number;
  driving: boolean;
  /** Reading of each wheel, kPa; NaN where its sensor says nothing. */
  kpa: Float64Array;
}

interface FixedListener {
  ring?: (r: FixedRing) => void;
  moment?: (m: FixedMoment) => void;
  /** Of the wheel with the fault: its cold-equivalent pressure, kPa. True: enough was seen. */
  fault?: (ms: number, coldKpa: number, driving: boolean) => boolean;
}

/** Minutes between two looks at a drive; a fault needs them closer. */
const LOOK_MIN = 10;

/** The kinds of alarm, in the order of their bits. */
const KINDS = ['low', 'high', 'hot'] as const;

/**
 * Live days under several rules at once.
 * @param from first day to live, index in `days`; the walk begins with it
 * @param fault lived beside the same tire without it: a ring that both have is none of the fault's
 */
export function liveFixed(
  rig: LabRig,
  days: readonly Day[],
  startMs: number,
  rules: readonly LabRule[],
  to: FixedListener,
  { from = 0, count = days.length - from, fault }: { from?: number; count?: number; fault?: FixedFault } = {},
): void {
  // With a fault only that wheel is lived, and the same tire once more without the fault.
  const wheels = fault ? Array.from({ length: 2 }, () => rig.wheels[fault.wheel] as LabWheel) : rig.wheels;
  const n = wheels.length;
  const at = (t: number) => fault?.wheel ?? t;
  const low = rules.map((r) => Float64Array.from(wheels, (_, t) => r.limits[at(t)]?.lowKpa ?? Number.NEGATIVE_INFINITY));
  const high = rules.map((r) => Float64Array.from(wheels, (_, t) => r.limits[at(t)]?.highKpa ?? Number.POSITIVE_INFINITY));
  const homeKpa = ambientAtAltitude(rig.homeM);
  const setK = rig.setC - ZERO_C;
  const airAt = airCourse(days, startMs, rig.homeM);
  const air = new Float64Array(n);
  const gas = new Float64Array(n).fill(rig.setC);
  const sensor = new Float64Array(n).fill(rig.setC);
  const sent = new Float64Array(n).fill(Number.NaN);
  const kpa = new Float64Array(n);
  /** What rings now, a bit for each kind, by rule and tire. */
  const on = new Uint8Array(rules.length * n);
  /** Inside these no rule rings; most readings are. */
  const calmLow = Float64Array.from(wheels, (_, t) => Math.max(...low.map((l) => l[t] as number)));
  const calmHigh = Float64Array.from(wheels, (_, t) => Math.min(...high.map((h) => h[t] as number)));
  const calmHotC = Math.min(...rules.map((r) => r.hotC));
  const loud = new Uint8Array(n);
  const first = new Chance(rig.seed * 104_729 + from * 31 + 3);
  for (let t = 0; t < n; t += 1) air[t] = ((wheels[t] as LabWheel).coldKpa * (1 + first.normal() * 0.008) + homeKpa) / setK;
  if (fault) air[1] = air[0] as number;
  let lastMs = startMs + from * DAY;
  let weatherKpa = 0;
  let over = false;

  /** The bits after a reading: rings at its limit, ends 1 psi (2 K) behind it. */
  const bits = (before: number, reads: number, c: number, lowKpa: number, highKpa: number, hotC: number): number =>
    (reads <= lowKpa || ((before & 1) !== 0 && reads <= lowKpa + KPA_PER_PSI) ? 1 : 0) |
    (reads >= highKpa || ((before & 2) !== 0 && reads >= highKpa - KPA_PER_PSI) ? 2 : 0) |
    (c >= hotC || ((before & 4) !== 0 && c >= hotC - 2) ? 4 : 0);

  const judge = (t: number, reads: number, c: number, ms: number, airC: number) => {
    if (loud[t] === 0 && reads > (calmLow[t] as number) && reads < (calmHigh[t] as number) && c < calmHotC) return;
    loud[t] = 0;
    for (let r = 0; r < rules.length; r += 1) {
      const i = r * n + t;
      const before = on[i] as number;
      const { hotC } = rules[r] as LabRule;
      const now = bits(before, reads, c, (low[r] as Float64Array)[t] as number, (high[r] as Float64Array)[t] as number, hotC);
      if (now !== 0) loud[t] = 1;
      if (now === before) continue;
      on[i] = now;
      // What the tire without the fault rings too is none of the fault's.
      const fresh = now & ~before & (fault ? ~(on[r * n + 1] as number) : 7);
      if (fresh === 0 || (fault && t === 1)) continue;
      for (const [k, kind] of KINDS.entries())
        if (fresh & (1 << k)) to.ring?.({ rule: r, wheel: at(t), kind, ms, value: kind === 'hot' ? c : reads, airC });
    }
  };

  const look = (ms: number, heightM: number, kmh: number, sun: { K: number; side: number }, radio: Chance, speaks: boolean) => {
    const dtMin = (ms - lastMs) / MIN;
    lastMs = ms;
    const airC = airAt(ms, heightM);
    const ambientKpa = ambientAtAltitude(heightM) + weatherKpa;
    const moving = kmh > 0;
    const stay = Math.exp(-dtMin / (moving ? TAU_MIN.moving : TAU_MIN.parked));
    // The tire without the fault goes first, so that what both ring is known.
    for (let t = n - 1; t >= 0; t -= 1) {
      const wheel = wheels[t] as LabWheel;
      let a = (air[t] as number) * (1 - (wheel.rubber * dtMin) / 43_200);
      let extra = 0;
      if (fault && t === 0 && ms > fault.fromMs) {
        const minutes = Math.min(dtMin, (ms - fault.fromMs) / MIN);
        if (fault.kind === 'leak') {
          // A hole loses in proportion to what is over the air outside.
          const inside = Math.max(0, a * setK - homeKpa);
          a = (inside * Math.exp((-fault.size * minutes) / 60 / wheel.coldKpa) + homeKpa) / setK;
        } else extra = fault.size / 3;
      }
      air[t] = a;
      const cold = a * setK - homeKpa;
      const sunK = sunOn(sun.K, sun.side, wheel.side, moving);
      const end = airC + gasRise(sunK, kmh, wheel.coldKpa, cold, extra);
      const g = end + ((gas[t] as number) - end) * stay;
      gas[t] = g;
      const aim = airC + sunK * 0.7 + wheel.sees * (g - airC - sunK * 0.7);
      const c = aim + ((sensor[t] as number) - aim) * Math.exp(-dtMin / wheel.lagMin);
      sensor[t] = c;
      if (fault && t === 0) over = to.fault?.(ms, cold, moving) === true;
      const gauge = a * (g - ZERO_C) - ambientKpa + wheel.biasKpa;
      const reads = Math.max(0, Math.round((gauge + wheel.noiseKpa * radio.normal()) / wheel.stepKpa) * wheel.stepKpa);
      // At rest a sensor that speaks only when its pressure has moved stays quiet while it hasn't.
      const quiet =
        !speaks &&
        (rig.speech === 'quiet' ||
          (rig.speech === 'step' && Math.abs(gauge - (sent[t] as number)) < Math.max(13.8, wheel.stepKpa * 1.5)));
      kpa[t] = quiet ? Number.NaN : reads;
      if (quiet) continue;
      sent[t] = reads;
      judge(t, reads, c, ms, airC);
    }
    to.moment?.({ ms, airC, driving: moving, kpa });
  };

  // A fault is looked at so often that it loses 2 kPa between two looks at the most.
  const faultMin = fault?.kind === 'leak' ? Math.min(LOOK_MIN, Math.max(1, 120 / fault.size)) : LOOK_MIN;
  for (let d = from; d < Math.min(days.length, from + count) && !over; d += 1) {
    const dayMs = startMs + d * DAY;
    // Each day has draws of its own, so that one of them can be lived again.
    const world = new Chance(rig.seed * 104_729 + d * 7919 + 11);
    const radio = new Chance(rig.seed * 15_485_863 + d * 104_729 + 5);
    weatherKpa = 0.8 * weatherKpa + world.normal() * 0.65;
    const sunny = world.odds(0.5);
    const side = world.pick([-1, 1] as const);
    const sun = (ms: number) => ({ side, K: sunny ? sunAtHour((ms - dayMs) / HOUR) : 0 });
    const drives = drivesOf(rig, world, dayMs);
    let heightM = rig.homeM;
    let stoppedMs = Number.NEGATIVE_INFINITY;
    // Parked: every hour and a half, closer while the tires still cool.
    const rest = (until: number) => {
      const end = stoppedMs + 8 * MIN;
      if (end > lastMs && end < until) look(end, heightM, 0, sun(end), radio, true);
      while (lastMs < until - MIN) {
        const most = lastMs - stoppedMs < 2 * HOUR ? 30 * MIN : 90 * MIN;
        const at = Math.min(until - MIN, lastMs + most);
        look(at, heightM, 0, sun(at), radio, false);
      }
    };
    const drive = (s: Stretch) => {
      const minutes = (s.toMs - s.fromMs) / MIN;
      const looks = Math.max(2, Math.ceil(minutes / (fault && s.toMs > fault.fromMs ? faultMin : LOOK_MIN)));
      for (let i = 0; i <= looks; i += 1) {
        const ms = s.fromMs + ((s.toMs - s.fromMs) * i) / looks;
        heightM = s.fromM + ((s.toM - s.fromM) * i) / looks;
        look(ms, heightM, s.kmh, sun(ms), radio, true);
      }
      stoppedMs = s.toMs;
    };
    // Every fortnight the owner fills what is short, cold and at home.
    if (d % 14 === 5 && !(fault && dayMs > fault.fromMs - DAY)) {
      rest(dayMs + 5.5 * HOUR);
      for (let t = 0; t < n; t += 1) {
        const { coldKpa } = wheels[t] as LabWheel;
        if ((air[t] as number) * setK - homeKpa < coldKpa * 0.97) air[t] = (coldKpa + homeKpa) / setK;
      }
    }
    for (const s of drives) {
      rest(s.fromMs);
      drive(s);
    }
    rest(dayMs + DAY);
  }
}

/** A figure with how far it spreads from draw to draw: the tenth and the ninetieth of a hundred. */
export interface Spread {
  middle: number;
  low: number;
  high: number;
}

/** The mean with the tenth and ninetieth percentiles. */
export function spreadOf(values: readonly number[]): Spread {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = values.reduce((a, b) => a + b, 0) / values.length;
  return { middle, low: quantileSorted(sorted, 0.1), high: quantileSorted(sorted, 0.9) };
}

/**
 * A share with its 80 % interval, after Wilson (1927).
 * @param z 1.2816 leaves a tenth on each side
 */
export function shareOf(hits: number, n: number, z = 1.2816): Spread {
  if (n === 0) return { middle: 0, low: 0, high: 1 };
  const p = hits / n;
  const mid = (p + (z * z) / (2 * n)) / (1 + (z * z) / n);
  const half = (z / (1 + (z * z) / n)) * Math.sqrt((p * (1 - p)) / n + (z * z) / (4 * n * n));
  return { middle: p, low: Math.max(0, mid - half), high: Math.min(1, mid + half) };
}

/** What became of leaks under a rule. */
export interface LeakFigures {
  n: number;
  heard: number;
  /** Heard while the tire could still carry its load. */
  inTime: Spread;
  /** From the start of the leak to the alarm, hours, of those that were heard; null when none was. */
  delayH: number | null;
  /** Air that was gone at the alarm, share of the cold pressure. */
  airGone: number | null;
  /** Driven over 10 minutes under the load minimum before it was heard. */
  drivenUnder: number;
}

/** What was seen of one leak. */
export interface LeakSeen {
  beganMs: number;
  heardMs: number | null;
  underMs: number | null;
  /** Share of its cold pressure that was gone when it was heard. */
  airGone: number | null;
  drivenUnderMin: number;
}

/** Figures of the leaks that were lived. One that neither was heard nor came under its load minimum says nothing, and is left out. */
export function leakFigures(all: readonly LeakSeen[]): LeakFigures {
  const told = all.filter((l) => l.heardMs !== null || l.underMs !== null);
  const heard = told.filter((l) => l.heardMs !== null);
  const inTime = heard.filter((l) => l.underMs === null || (l.heardMs as number) <= l.underMs);
  const middle = (list: number[]) => (list.length > 0 ? median(list) : null);
  return {
    n: told.length,
    heard: heard.length,
    inTime: shareOf(inTime.length, told.length),
    delayH: middle(heard.map((l) => ((l.heardMs as number) - l.beganMs) / HOUR)),
    airGone: middle(heard.map((l) => l.airGone ?? 0)),
    drivenUnder: told.filter((l) => l.drivenUnderMin > 10).length,
  };
}

/** Live one fault under several rules: what each of them heard of it. */
export function fixedFault(
  rig: LabRig,
  days: readonly Day[],
  startMs: number,
  rules: readonly LabRule[],
  fault: FixedFault,
  lengthDays: number,
): LeakSeen[] {
  const wheel = rig.wheels[fault.wheel] as LabWheel;
  const out = rules.map(
    (): LeakSeen => ({ beganMs: fault.fromMs, heardMs: null, underMs: null, airGone: null, drivenUnderMin: 0 }),
  );
  let cold = wheel.coldKpa;
  let lastMs = fault.fromMs;
  const from = Math.max(0, Math.floor((fault.fromMs - startMs) / DAY) - 1);
  liveFixed(
    rig,
    days,
    startMs,
    rules,
    {
      fault: (ms, coldKpa, driving) => {
        if (ms <= fault.fromMs) return false;
        const minutes = (ms - lastMs) / MIN;
        lastMs = ms;
        cold = coldKpa;
        if (fault.kind === 'leak' && coldKpa < wheel.loadMinimumKpa)
          for (const o of out) {
            o.underMs ??= ms;
            if (driving && o.heardMs === null) o.drivenUnderMin += minutes;
          }
        return out.every((o) => o.heardMs !== null);
      },
      ring: ({ rule, wheel: w, kind, ms }) => {
        const o = out[rule] as LeakSeen;
        if (w !== fault.wheel || ms <= fault.fromMs || o.heardMs !== null) return;
        if (fault.kind === 'leak' && kind !== 'low') return;
        o.heardMs = ms;
        o.airGone = Math.max(0, 1 - cold / wheel.coldKpa);
      },
    },
    { from, count: lengthDays + 1, fault },
  );
  return out;
}
