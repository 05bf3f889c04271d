import { ambientAtAltitude } from '../air/atmosphere.ts';
import type { Day } from '../climate/daily.ts';
import type { WatchedKind } from '../watch/wheel.ts';
import { Chance } from './chance.ts';

/**
 * A world to try alarms in, apart from the bench: what a tire, a sensor, the weather and an owner do, with figures drawn again for each rig. It
 * knows nothing of the rules. Every range is assumed, and wide on purpose: a rule that only works with one model of a sensor fails here.
 */

const MIN = 60_000;
const HOUR = 60 * MIN;
const DAY = 24 * HOUR;
const ZERO_C = -273.15;

/** How sensors speak while the rig is parked: not at all, a sign of life now and then, or only when the pressure has moved. */
export type ParkedSpeech = 'quiet' | 'life' | 'step';

export interface LabWheel {
  position: string;
  kind: Exclude<WatchedKind, 'ideal'>;
  coldKpa: number;
  /** Cold pressure that carries its load, kPa. */
  loadMinimumKpa: number;
  /** Share of the gas's rise over the air that its sensor sees, moving and parked (the wind stops, the rim warms the cap). */
  sees: number;
  seesParked: number;
  lagMin: number;
  /** Step of its pressure, kPa; of its temperature, K. */
  stepKpa: number;
  stepK: number;
  biasKpa: number;
  noiseKpa: number;
  /** What it loses through the rubber, share a month. */
  rubber: number;
  /** Share of frames that are lost. */
  dropout: number;
  /** Left or right, for the sun. */
  side: -1 | 0 | 1;
  spare: boolean;
  litres: number;
}

export interface LabRig {
  seed: number;
  wheels: LabWheel[];
  /** Where it lives, m, and the temperature its pressures were set at, °C. */
  homeM: number;
  setC: number;
  speech: ParkedSpeech;
  lifeMin: number;
  /** Days on which it is used, share; whether it goes over a pass at times. */
  use: number;
  mountains: number;
  /** It takes its cap sensors off to fill. */
  capsOff: boolean;
  /** Height of its pass, m; drawn for each day when left out. */
  passM?: number;
}

export type LabFault =
  | { kind: 'leak'; position: string; atDay: number; kpaPerHour: number }
  | { kind: 'hub'; position: string; atDay: number; riseK: number }
  | { kind: 'stuck'; position: string; atDay: number }
  | { kind: 'dead'; position: string; atDay: number }
  | { kind: 'repeater'; unit: string; atDay: number };

/** What is drawn for a wheel's sensor, tire and way to be heard. */
export function drawWheel(
  c: Chance,
  at: Pick<LabWheel, 'position' | 'kind' | 'coldKpa' | 'loadMinimumKpa' | 'stepKpa'> & { place: string },
): LabWheel {
  const { place, ...own } = at;
  const { kind } = own;
  const sees = { cap: c.between(0.35, 0.7), flowThrough: c.between(0.25, 0.5), internal: c.between(0.82, 0.98) }[kind];
  return {
    ...own,
    sees,
    seesParked: kind === 'internal' ? sees : Math.min(0.95, sees + c.between(0, 0.25)),
    lagMin: { cap: c.between(2, 6), flowThrough: c.between(3, 7), internal: c.between(0.5, 2.5) }[kind],
    stepK: 1,
    biasKpa: c.normal() * (kind === 'internal' ? 3.4 : 6.9) * 0.7,
    noiseKpa: c.between(0.1, 0.6),
    rubber: c.between(0.008, 0.028),
    dropout: c.between(0.01, 0.12),
    side: place.startsWith('L') ? -1 : place.startsWith('R') ? 1 : 0,
    spare: false,
    litres: own.coldKpa > 350 ? c.between(45, 80) : c.between(25, 40),
  };
}

/** What is drawn for a rig. `steps`: kPa that its sensors may have as their step. */
export function drawRig(
  seed: number,
  steps: readonly number[] = [3.447, 6.895],
  speech?: { how: ParkedSpeech; lifeMin: number },
): LabRig {
  const c = new Chance(seed * 7919 + 17);
  const shape = c.pick(['car', 'car', 'carTrailer', 'truckTrailer', 'motorcycle'] as const);
  const wheels: LabWheel[] = [];
  const axle = (code: string, kpa: number, places: readonly string[], kind: LabWheel['kind'], step: number) => {
    const loadMinimumKpa = kpa * c.between(0.74, 0.84);
    for (const place of places)
      wheels.push(drawWheel(c, { position: `${code}${place}`, place, kind, coldKpa: kpa, loadMinimumKpa, stepKpa: step }));
  };
  const kind = c.pick(['cap', 'cap', 'flowThrough', 'internal'] as const);
  const step = c.pick(steps);
  const two = ['L', 'R'];
  if (shape === 'motorcycle') {
    axle('A1', c.between(200, 250), ['C'], kind === 'flowThrough' ? 'cap' : kind, step);
    axle('A2', c.between(220, 290), ['C'], kind === 'flowThrough' ? 'cap' : kind, step);
  } else if (shape === 'truckTrailer') {
    axle('A1', c.between(380, 480), two, kind, step);
    axle('A2', c.between(380, 520), c.odds(0.5) ? ['LO', 'LI', 'RI', 'RO'] : two, kind, step);
    for (const code of c.odds(0.5) ? ['B1', 'B2'] : ['B1']) axle(code, c.between(420, 560), two, kind, step);
  } else {
    axle('A1', c.between(210, 260), two, kind, step);
    axle('A2', c.between(210, 290), two, kind, step);
    if (shape === 'carTrailer') axle('B1', c.between(250, 450), two, kind, step);
  }
  return {
    seed,
    wheels,
    homeM: c.odds(0.7) ? c.between(0, 600) : c.between(600, 1500),
    setC: c.between(8, 24),
    speech: speech?.how ?? c.pick(['quiet', 'life', 'step'] as const),
    lifeMin: speech?.lifeMin ?? c.pick([8, 15, 30, 60]),
    use: c.between(0.3, 0.9),
    mountains: c.odds(0.3) ? c.between(0.01, 0.06) : 0,
    capsOff: kind === 'cap' && c.odds(0.7),
  };
}

/** A rig as its owner has it, for the lab: spares left out, for they don't roll. */
export interface OwnRig {
  wheels: Pick<LabWheel, 'position' | 'kind' | 'coldKpa' | 'loadMinimumKpa'>[];
  /** Step of what its monitor shows, kPa. */
  stepKpa: number;
  homeM: number;
  setC: number;
  /** Height of a pass that it goes over now and then, m. */
  passM?: number | undefined;
}

/** An owner's rig with all that nobody knows of it drawn: its sensors' errors and lags, its use, how its kit speaks when parked. */
export function drawOwn(own: OwnRig, seed: number): LabRig {
  const c = new Chance(seed * 7919 + 29);
  const wheels = own.wheels.map((w) => drawWheel(c, { ...w, stepKpa: own.stepKpa, place: w.position.slice(2) }));
  return {
    seed,
    wheels,
    homeM: own.homeM,
    setC: own.setC,
    speech: c.pick(['quiet', 'life', 'step'] as const),
    lifeMin: c.pick([15, 30, 60]),
    use: c.between(0.3, 0.9),
    mountains: own.passM === undefined ? 0 : c.between(0.01, 0.06),
    capsOff: own.wheels.some((w) => w.kind === 'cap') && c.odds(0.7),
    ...(own.passM === undefined ? {} : { passM: own.passM }),
  };
}

/** A stretch of a day: driving or not, how fast, and the height at its two ends, m. */
export interface Stretch {
  fromMs: number;
  toMs: number;
  kmh: number;
  fromM: number;
  toM: number;
}

/** The drives of one day, in order; between them the rig stands where the last one ended, and at night at home. */
export function drivesOf(rig: LabRig, c: Chance, dayMs: number): Stretch[] {
  if (!c.odds(rig.use)) return [];
  const out: Stretch[] = [];
  let at = dayMs + c.between(6, 12) * HOUR;
  const legs = c.whole(1, 4);
  let heightM = rig.homeM;
  const pass = c.odds(rig.mountains);
  for (let i = 0; i < legs; i += 1) {
    const last = i === legs - 1;
    const minutes = Math.min(300, Math.exp(c.between(2.3, 5.2)));
    const toM = last ? rig.homeM : pass ? (rig.passM ?? c.between(1800, 2500)) : Math.max(0, heightM + c.normal() * 80);
    const toMs = at + Math.max(minutes, Math.abs(toM - heightM) / 18) * MIN;
    if (toMs > dayMs + 23.5 * HOUR) break;
    out.push({ fromMs: at, toMs, kmh: c.between(25, 115), fromM: heightM, toM });
    heightM = toM;
    at = toMs + Math.exp(c.between(1.2, 5.3)) * MIN;
  }
  return out;
}

/** Air over the hours of some days: coldest at 6, warmest at 15, 6.5 K a kilometre cooler above home. @returns °C by time and height */
export function airCourse(days: readonly Day[], startMs: number, homeM: number): (ms: number, heightM: number) => number {
  return (ms, heightM) => {
    const i = Math.min(days.length - 1, Math.max(0, Math.floor((ms - startMs) / DAY)));
    const hour = ((ms - startMs) % DAY) / HOUR;
    const day = days[i] as Day;
    const before = days[Math.max(0, i - 1)] as Day;
    const after = days[Math.min(days.length - 1, i + 1)] as Day;
    const half = (share: number) => (1 - Math.cos(Math.PI * share)) / 2;
    const base =
      hour < 6
        ? before.maxC + (day.minC - before.maxC) * half((hour + 9) / 15)
        : hour < 15
          ? day.minC + (day.maxC - day.minC) * half((hour - 6) / 9)
          : day.maxC + (after.minC - day.maxC) * half((hour - 15) / 15);
    return base - 0.0065 * (heightM - homeM);
  };
}

/** Where the gas of a tire is heading, °C over the air: the sun, and flexing that grows with speed and in a soft tire. */
export const gasRise = (sunK: number, kmh: number, coldKpa: number, nowColdKpa: number, extraK = 0): number =>
  sunK + (kmh > 0 ? 25 * (kmh / 90) ** 0.8 * Math.min(2.5, (coldKpa / Math.max(30, nowColdKpa)) ** 0.6) + extraK : 0);

/** How fast it gets there, minutes. */
export const TAU_MIN = { moving: 22, parked: 38 } as const;

/** The sun on a wheel of a side, K, of what it is at this hour. */
export const sunOn = (K: number, sunSide: number, wheelSide: number, moving: boolean): number =>
  K * (wheelSide === 0 ? 0.6 : wheelSide === sunSide ? 1 : 0.15) * (moving ? 0.4 : 1);

/** The sun at an hour of a sunny day, K. */
export const sunAtHour = (hour: number): number => (hour > 9 && hour < 17 ? 7 * Math.sin((Math.PI * (hour - 9)) / 8) : 0);

export interface LabReading {
  position: string;
  ms: number;
  kpa: number;
  tempC: number;
}

export interface LabListener {
  reading: (r: LabReading) => void;
  /** Event time moves on, about once a minute while driving, less often at rest. */
  time?: (ms: number) => void;
  /** How things really are, when time moves on: cold-equivalent pressures at the place where they were set. */
  really?: (ms: number, coldKpa: ReadonlyMap<string, number>, driving: boolean) => void;
}

interface State {
  wheel: LabWheel;
  /** Air in the tire: absolute pressure over absolute temperature, kPa/K. */
  air: number;
  gasC: number;
  sensorC: number;
  sentKpa: number;
  nextLifeMs: number;
  /** Frozen figures of a stuck sensor. */
  stuck: { kpa: number; tempC: number } | null;
}

/**
 * Live some days of a rig: weather, height, barometer, sun, drives, breaks, filling, and what each sensor sends. The same seed lives the same
 * days, with and without a fault.
 * @param days minimum and maximum of each day, °C, at sea level of the place it lives
 * @param startMs midnight before the first day, ms since the epoch
 */
export function live(rig: LabRig, days: readonly Day[], startMs: number, faults: readonly LabFault[], to: LabListener): void {
  const world = new Chance(rig.seed * 104_729 + 3);
  const radio = new Chance(rig.seed * 15_485_863 + 5);
  const homeKpa = ambientAtAltitude(rig.homeM);
  const states = rig.wheels.map((wheel): State => {
    const cold = wheel.coldKpa * (1 + world.normal() * 0.008);
    return {
      wheel,
      air: (cold + homeKpa) / (rig.setC - ZERO_C),
      gasC: rig.setC,
      sensorC: rig.setC,
      sentKpa: Number.NaN,
      nextLifeMs: startMs + world.between(0, rig.lifeMin) * MIN,
      stuck: null,
    };
  });
  let weatherKpa = 0;
  let awakeUntilMs = startMs;
  const coldNow = new Map<string, number>();
  const coldOf = (s: State) => s.air * (rig.setC - ZERO_C) - homeKpa;
  const airAt = airCourse(days, startMs, rig.homeM);
  // Frames of one step come in the order of their time.
  const sent: LabReading[] = [];
  const send = (s: State, ms: number, ambientKpa: number) => {
    const { wheel } = s;
    for (const f of faults) {
      const began = ms >= startMs + f.atDay * DAY;
      if (!began) continue;
      if (f.kind === 'dead' && f.position === wheel.position) return;
      if (f.kind === 'repeater' && wheel.position.startsWith(f.unit)) return;
    }
    if (radio.odds(wheel.dropout)) return;
    const gauge = Math.max(0, s.air * (s.gasC - ZERO_C) - ambientKpa);
    const raw = gauge + wheel.biasKpa + wheel.noiseKpa * radio.normal();
    let kpa = gauge <= 0.5 ? 0 : Math.max(0, Math.round(raw / wheel.stepKpa) * wheel.stepKpa);
    let tempC = Math.round(s.sensorC / wheel.stepK) * wheel.stepK;
    const stuck = faults.some((f) => f.kind === 'stuck' && f.position === wheel.position && ms >= startMs + f.atDay * DAY);
    if (stuck) {
      s.stuck ??= { kpa, tempC };
      ({ kpa, tempC } = s.stuck);
    }
    s.sentKpa = kpa;
    sent.push({ position: wheel.position, ms, kpa, tempC });
  };
  const hand = () => {
    sent.sort((a, b) => a.ms - b.ms);
    for (const r of sent) to.reading(r);
    sent.length = 0;
  };
  const step = (ms: number, dtMs: number, kmh: number, heightM: number, sun: { side: number; K: number }, stoppedMs: number) => {
    const dtMin = dtMs / MIN;
    const airC = airAt(ms, heightM);
    const ambientKpa = ambientAtAltitude(heightM) + weatherKpa;
    const moving = kmh > 0;
    for (const s of states) {
      const { wheel } = s;
      s.air *= 1 - (wheel.rubber * dtMin) / (30 * 1440);
      let extra = 0;
      for (const f of faults) {
        if (ms < startMs + f.atDay * DAY) continue;
        if (f.kind === 'leak' && f.position === wheel.position) {
          // A hole loses in proportion to what is over the air outside.
          const gauge = Math.max(0, s.air * (s.gasC - ZERO_C) - ambientKpa);
          s.air -= (((f.kpaPerHour * dtMin) / 60) * (gauge / wheel.coldKpa)) / (rig.setC - ZERO_C);
        }
        if (f.kind === 'hub' && f.position === wheel.position && moving) extra = f.riseK / 3;
      }
      const sunK = sunOn(sun.K, sun.side, wheel.side, moving);
      const end = airC + gasRise(sunK, kmh, wheel.coldKpa, coldOf(s), extra);
      const tau = moving ? TAU_MIN.moving : TAU_MIN.parked;
      s.gasC = end + (s.gasC - end) * Math.exp(-dtMin / tau);
      const still = Math.min(1, Math.max(0, (ms - stoppedMs) / (8 * MIN)));
      const sees = moving ? wheel.sees : wheel.sees + (wheel.seesParked - wheel.sees) * still;
      const aim = airC + sunK * 0.7 + sees * (s.gasC - airC - sunK * 0.7);
      s.sensorC = aim + (s.sensorC - aim) * Math.exp(-dtMin / wheel.lagMin);
      coldNow.set(wheel.position, coldOf(s));
    }
    if (moving) awakeUntilMs = ms + world.between(5, 15) * MIN;
    for (const s of states) {
      const at = ms + Math.floor(radio.between(0, Math.min(dtMs, MIN) * 0.9));
      if (ms < awakeUntilMs) {
        send(s, at, ambientKpa);
        s.nextLifeMs = at + rig.lifeMin * MIN * radio.between(0.9, 1.1);
        continue;
      }
      const gauge = s.air * (s.gasC - ZERO_C) - ambientKpa + s.wheel.biasKpa;
      const moved = Math.abs(gauge - s.sentKpa) >= Math.max(13.8, s.wheel.stepKpa * 1.5);
      if (rig.speech === 'step' && moved) send(s, at, ambientKpa);
      else if (rig.speech === 'life' && ms >= s.nextLifeMs) {
        send(s, at, ambientKpa);
        s.nextLifeMs += rig.lifeMin * MIN * radio.between(0.9, 1.1);
        if (s.nextLifeMs < ms) s.nextLifeMs = ms + rig.lifeMin * MIN;
      }
    }
    hand();
    to.time?.(ms + Math.min(dtMs, MIN));
    to.really?.(ms, coldNow, moving);
  };

  for (let d = 0; d < days.length; d += 1) {
    const dayMs = startMs + d * DAY;
    weatherKpa = 0.8 * weatherKpa + world.normal() * 0.65;
    const sunny = world.odds(0.5);
    const drives = drivesOf(rig, world, dayMs);
    const parkedSide = world.pick([-1, 1] as const);
    let ms = dayMs;
    let heightM = rig.homeM;
    let stoppedMs = dayMs - DAY;
    const sunAt = (t: number): { side: number; K: number } => {
      const hour = ((t - startMs) % DAY) / HOUR;
      return { side: parkedSide, K: sunny ? sunAtHour(hour) : 0 };
    };
    const rest = (until: number) => {
      while (ms < until) {
        // Short steps while the sensors still speak and the tires cool, longer ones through the night.
        const most = ms < awakeUntilMs ? MIN : ms - stoppedMs < 3 * HOUR ? 5 * MIN : 10 * MIN;
        const most2 = rig.speech === 'life' ? Math.min(most, rig.lifeMin * MIN) : most;
        const dt = Math.min(most2, until - ms);
        step(ms, dt, 0, heightM, sunAt(ms), stoppedMs);
        ms += dt;
      }
    };
    // Now and then the owner looks at the pressures at home in the morning and fills what is short.
    const looks = d % 14 === 5 && !faults.some((f) => d >= f.atDay);
    if (looks) {
      rest(dayMs + 5.5 * HOUR);
      for (const s of states) {
        if (coldOf(s) > s.wheel.coldKpa * 0.97) continue;
        const before = s.air;
        const full = (s.wheel.coldKpa + homeKpa) / (rig.setC - ZERO_C);
        const ambientKpa = homeKpa + weatherKpa;
        if (rig.capsOff) {
          s.air = ambientKpa / (s.gasC - ZERO_C);
          send(s, ms, ambientKpa);
          s.air = before;
          ms += 3 * MIN;
        } else {
          for (const part of [0.35, 0.7]) {
            s.air = before + (full - before) * part;
            ms += 20_000;
            send(s, ms, ambientKpa);
          }
        }
        s.air = full;
        ms += 30_000;
        s.sensorC = rig.capsOff ? airAt(ms, heightM) : s.sensorC;
        send(s, ms, ambientKpa);
      }
      hand();
    }
    for (const drive of drives) {
      rest(drive.fromMs);
      while (ms < drive.toMs) {
        const share = (ms - drive.fromMs) / (drive.toMs - drive.fromMs);
        heightM = drive.fromM + (drive.toM - drive.fromM) * share;
        const dt = Math.min(MIN, drive.toMs - ms);
        step(ms, dt, drive.kmh, heightM, sunAt(ms), stoppedMs);
        ms += dt;
      }
      heightM = drive.toM;
      stoppedMs = ms;
    }
    rest(dayMs + DAY);
  }
}
