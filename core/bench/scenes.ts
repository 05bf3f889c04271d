import type { SceneId } from '#schema/bench.ts';
import { ambientAtAltitude } from '../air/atmosphere.ts';
import { FieldError } from '../errors.ts';
import { orificeFlow } from '../leak/orifice.ts';
import { ABSOLUTE_ZERO_C } from '../units/units.ts';
import { fitSensor, gasC, gaugeKpa, inflate, step, unfitSensor, wheelAt, wheelsByPosition } from './bench.ts';
import { BENCH } from './parameters.ts';
import { between, normal, type RandomState, uniform } from './random.ts';
import type { BenchFrame, BenchSensor, BenchState, BenchWheel, SceneRun } from './state.ts';

const MIN = 60;
const HOUR = 3600;
const DAY = 86400;

/** What a scene is, in words for the owner. */
export interface SceneWords {
  title: string;
  text: string;
  /** What a good watch does. */
  expect: string;
  /** Event time it takes, s. */
  lengthS: number;
  /** It needs a second unit. */
  units: 1 | 2;
}

/** The scenes by name. */
export const SCENES: Record<SceneId, SceneWords> = {
  coldNight: {
    title: 'Cold night',
    text: 'The rig stands and the air falls by 20 K in ten hours.',
    expect: 'No leak is reported: all tires drop together, as the cold predicts.',
    lengthS: 11 * HOUR,
    units: 1,
  },
  climb: {
    title: 'Climb to the pass',
    text: 'An hour of driving, 1,630 m up.',
    expect: 'No alarm but where a limit is really crossed.',
    lengthS: 75 * MIN,
    units: 1,
  },
  nail: {
    title: 'Nail',
    text: 'A tire loses 2 to 20 kPa an hour, driven and parked by turns.',
    expect: 'A slow leak is reported before the low limit is reached.',
    lengthS: 60 * HOUR,
    units: 1,
  },
  burst: {
    title: 'Burst',
    text: '100 kPa gone in half a minute, at speed.',
    expect: 'A rapid loss is reported before the 30 seconds are over, then low.',
    lengthS: 35 * MIN,
    units: 1,
  },
  brake: {
    title: 'Dragging brake',
    text: 'One hub grows hot while the rig drives.',
    expect: 'That wheel is reported as hotter than the other wheel of its axle within 20 minutes.',
    lengthS: 60 * MIN,
    units: 1,
  },
  weakCell: {
    title: 'Weak cell',
    text: 'A cold drive with a cell near its end; an hour later it dies.',
    expect: 'Battery first, silence when it fails, no loss of air.',
    lengthS: 100 * MIN,
    units: 1,
  },
  lostRepeater: {
    title: 'Lost repeater',
    text: 'In mid-drive all sensors of one unit go unheard.',
    expect: 'One alarm for the unit within 15 minutes, not one for each wheel.',
    lengthS: 60 * MIN,
    units: 2,
  },
  healthyFortnight: {
    title: 'Healthy fortnight',
    text: 'Twenty drives in fourteen days of changing weather.',
    expect: 'No alarm at all.',
    lengthS: 14 * DAY,
    units: 1,
  },
  topUp: {
    title: 'Top-up',
    text: 'A sensor is unscrewed, the tire filled, the sensor put back.',
    expect: 'The watch asks whether the sensor is off, and rings no loss after the answer.',
    lengthS: 20 * MIN,
    units: 1,
  },
  trailerSwapped: {
    title: 'Trailer dropped',
    text: 'The rear unit stays behind while the rest drives on.',
    expect: 'Disconnected, none of its wheels is missed.',
    lengthS: 3 * HOUR,
    units: 2,
  },
};

/** Letters of a bench's units. */
const unitsOf = (state: BenchState): string[] => [...new Set(state.wheels.map((w) => w.position[0] as string))];

const pick = <T>(r: RandomState, list: readonly T[]): T => list[Math.floor(uniform(r) * list.length)] as T;

/** Wheels that roll and whose sensor is on them. */
const candidates = (state: BenchState): BenchWheel[] =>
  state.wheels.filter((w) => !w.spare && state.sensors.some((s) => s.at === w.position));

/** The axle part of a position. */
const axleMates = (state: BenchState, w: BenchWheel): BenchWheel[] =>
  candidates(state).filter((o) => o !== w && o.position.slice(0, 2) === w.position.slice(0, 2));

/**
 * Begin a scene on a bench. What is left open is drawn from the bench's own generator, so that a seed gives the same scene.
 * @param at wheel or unit it happens to; drawn when not given
 * @throws FieldError at `/scene` when the rig lacks what the scene needs
 */
export function beginScene(state: BenchState, id: SceneId, at?: string): SceneRun {
  const r = state.random;
  const wheels = candidates(state);
  const units = unitsOf(state);
  if (wheels.length === 0) throw new FieldError('/scene', 'needs a wheel with a sensor on it');
  if (SCENES[id].units > units.length) throw new FieldError('/scene', 'needs a rig of two units');
  const fitting = id === 'brake' ? wheels.filter((w) => axleMates(state, w).length > 0) : wheels;
  if (fitting.length === 0) throw new FieldError('/scene', 'needs an axle with two sensors, to hold one wheel against the other');
  const size =
    id === 'nail' ? between(r, 2, 20) : id === 'brake' ? between(r, 60, 80) : id === 'coldNight' ? 20 : id === 'burst' ? 100 : 0;
  const run: SceneRun = {
    id,
    startS: state.nowS,
    endS: state.nowS + SCENES[id].lengthS,
    at: at ?? (SCENES[id].units === 2 ? (units.at(-1) as string) : pick(r, fitting).position),
    size,
    airC: state.airC,
    altitudeM: state.altitudeM,
    drives: drivesOf(r, id),
    days: [],
    done: [],
  };
  if (SCENES[id].units === 1) wheelAt(state, run.at);
  if (id === 'healthyFortnight') {
    let mean = 0;
    for (let day = 0; day <= 14; day += 1) {
      run.days.push(mean);
      mean = Math.min(10, Math.max(-10, mean + 2.5 * normal(r)));
    }
    for (const w of state.wheels) w.permeation = between(r, 0.01, 0.03);
  }
  state.lifeSigns = true;
  state.scene = run;
  return run;
}

function drivesOf(r: RandomState, id: SceneId): SceneRun['drives'] {
  const drive = (fromS: number, toS: number, kmh = between(r, 70, 100)) => ({ fromS, toS, kmh, sun: null, sunK: 0 });
  switch (id) {
    case 'coldNight':
    case 'topUp':
      return [];
    case 'climb':
      return [drive(0, 75 * MIN)];
    case 'nail': {
      const list = [];
      for (let from = 0; from < 60 * HOUR; from += 12 * HOUR) list.push(drive(from, from + 2.5 * HOUR));
      return list;
    }
    case 'burst':
    case 'brake':
    case 'lostRepeater':
    case 'weakCell':
      return [drive(0, SCENES[id].lengthS)];
    case 'trailerSwapped':
      return [drive(0.5 * HOUR, 3 * HOUR)];
    case 'healthyFortnight': {
      const list: SceneRun['drives'] = [];
      for (let i = 0; i < 20; i += 1) {
        const slot = (14 * DAY) / 20;
        const fromS = i * slot + between(r, 0, slot - 4 * HOUR);
        const sun = uniform(r) < 0.4 ? (uniform(r) < 0.5 ? 'L' : 'R') : null;
        list.push({
          fromS,
          toS: fromS + between(r, 20 * MIN, 3.5 * HOUR),
          kmh: between(r, 40, 110),
          sun,
          sunK: between(r, 1, 6),
        });
      }
      return list;
    }
  }
}

const KMH_STEP_S = 300;

/** Set speed, weather, holes and heat as the scene has them now. Called before each step of the bench. */
export function steerScene(state: BenchState): void {
  const run = state.scene;
  if (!run) return;
  const t = state.nowS - run.startS;
  const drive = run.drives.find((d) => t >= d.fromS && t < d.toS);
  // Traffic: the speed wavers from one stretch to the next.
  state.kmh = drive ? drive.kmh * (1 + 0.12 * Math.sin((t - drive.fromS) / KMH_STEP_S)) : 0;
  const sun = drive?.sun ?? null;
  for (const w of state.wheels) w.sunK = drive && sun !== null && sun === (w.position.includes('L') ? 'L' : 'R') ? drive.sunK : 0;
  switch (run.id) {
    case 'coldNight':
      state.airC = run.airC - run.size * Math.min(1, t / (10 * HOUR));
      break;
    case 'climb': {
      const up = 1630 * Math.min(1, t / HOUR);
      state.altitudeM = run.altitudeM + up;
      state.airC = run.airC - 0.0065 * up;
      break;
    }
    case 'nail':
      state.airC = run.airC + 6 * Math.sin((2 * Math.PI * t) / DAY);
      once(run, 'hole', t >= 5 * MIN, () => {
        const w = wheelAt(state, run.at);
        w.holeMm = holeFor(state, w, run.size / HOUR);
      });
      break;
    case 'burst':
      once(run, 'hole', t >= 30 * MIN, () => {
        const w = wheelAt(state, run.at);
        const abs = gaugeKpa(state, w) + ambientAtAltitude(state.altitudeM);
        // Choked flow falls with the absolute pressure: the loss of 30 s is exponential.
        const rate = (-Math.log(1 - Math.min(0.9, run.size / abs)) / 30) * abs;
        w.holeMm = holeFor(state, w, rate);
      });
      break;
    case 'brake':
      once(run, 'heat', t >= 20 * MIN, () => {
        wheelAt(state, run.at).hubRiseK = run.size;
      });
      break;
    case 'weakCell':
      once(run, 'cell', true, () => {
        const cell = sensorOn(state, run.at);
        // 2.5 V at -10 °C, 2.61 V at 20 °C.
        cell.usedMah = BENCH.cellMah * 0.8852;
        // As after a night in that air: nothing steams.
        state.airC = -10;
        for (const w of state.wheels) w.baseC = -10;
        for (const s of state.sensors) s.shownC = -10;
      });
      once(run, 'dead', t >= 60 * MIN, () => {
        sensorOn(state, run.at).usedMah = BENCH.cellMah;
      });
      break;
    case 'lostRepeater':
      once(run, 'lost', t >= 30 * MIN, () => {
        state.deaf = [...(state.deaf ?? []), run.at];
      });
      break;
    case 'healthyFortnight': {
      const day = Math.min(13, Math.floor(t / DAY));
      const part = t / DAY - day;
      const mean = (run.days[day] as number) * (1 - part) + (run.days[day + 1] as number) * part;
      state.airC = run.airC + mean + 6 * Math.sin((2 * Math.PI * t) / DAY);
      state.altitudeM = run.altitudeM + 150 * Math.sin((2 * Math.PI * t) / (3 * DAY));
      break;
    }
    case 'topUp':
      once(run, 'off', t >= 2 * MIN, () => {
        const s = sensorOn(state, run.at);
        run.done.push(`sensor ${s.id}`);
        unfitSensor(state, s.id);
      });
      once(run, 'on', t >= 7 * MIN, () => {
        inflate(state, run.at);
        const id = run.done.find((d) => d.startsWith('sensor '))?.slice(7) as string;
        fitSensor(state, id, run.at);
      });
      break;
    case 'trailerSwapped':
      once(run, 'dropped', t >= 30 * MIN, () => {
        state.deaf = [...(state.deaf ?? []), run.at];
      });
      break;
  }
}

function once(run: SceneRun, name: string, when: boolean, work: () => void): void {
  if (!when || run.done.includes(name)) return;
  run.done.push(name);
  work();
}

function sensorOn(state: BenchState, position: string): BenchSensor {
  const sensor = state.sensors.find((s) => s.at === position);
  if (!sensor) throw new FieldError('/at', `no sensor on ${position}`);
  return sensor;
}

/** Diameter of a hole that lets out so much now, mm. Flow goes with the square of the diameter. @param rate kPa a second */
export function holeFor(state: BenchState, w: BenchWheel, rate: number): number {
  const T = gasC(w) - ABSOLUTE_ZERO_C;
  const ambient = ambientAtAltitude(state.altitudeM);
  const abs = gaugeKpa(state, w) + ambient;
  const share = orificeFlow(1, abs, ambient, T) / w.massKg;
  return Math.sqrt(rate / (abs * share));
}

/** End the scene: what it changed in the weather and on the road goes back, a hole stays till it is mended. */
export function endScene(state: BenchState): void {
  const run = state.scene;
  if (!run) return;
  delete state.scene;
  state.kmh = 0;
  state.airC = run.airC;
  state.altitudeM = run.altitudeM;
  state.deaf = [];
  for (const w of state.wheels) {
    w.sunK = 0;
    w.hubRiseK = 0;
  }
}

/**
 * Let time pass on a bench, the scene steered as it goes; a scene that is over ends.
 * @param seconds how long, event time
 * @param dtS length of a step on the road, s; a parked rig whose sensors sleep is stepped by their sampling of 30 s
 */
export function advanceScene(state: BenchState, seconds: number, dtS = 1): BenchFrame[] {
  const out: BenchFrame[] = [];
  const byPosition = wheelsByPosition(state);
  const endS = state.nowS + seconds;
  while (state.nowS < endS - 1e-9) {
    steerScene(state);
    const asleep = state.kmh === 0 && state.sensors.every((s) => state.nowS >= s.awakeUntilS);
    const dt = Math.min(asleep ? Math.max(dtS, BENCH.asleepSampleS) : dtS, endS - state.nowS);
    step(state, dt, byPosition, out);
    if (state.scene && state.nowS >= state.scene.endS) endScene(state);
  }
  return out;
}
