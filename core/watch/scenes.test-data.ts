import { addSensor, benchMs, createBench, gasC } from '#core/bench/bench.ts';
import { between, type RandomState, uniform } from '#core/bench/random.ts';
import { advanceScene, beginScene, SCENES } from '#core/bench/scenes.ts';
import type { BenchFrame, BenchState, BenchWheelSetup, SceneRun } from '#core/bench/state.ts';
import type { SceneId } from '#schema/bench.ts';
import type { SensorKind } from '#schema/common.ts';
import { ambientAtAltitude } from '../air/atmosphere.ts';
import { pressureAt } from '../gas/gas.ts';
import { Watch, type WatchEvent, type WheelLimits } from './watch.ts';

const RIGS: { positions: string[]; cold: [number, number]; litres: number; units: number }[] = [
  { positions: ['A1L', 'A1R', 'A2L', 'A2R'], cold: [210, 260], litres: 30, units: 1 },
  { positions: ['A1C', 'A2C'], cold: [220, 290], litres: 12, units: 1 },
  {
    positions: ['A1L', 'A1R', 'A2L', 'A2R', 'B1L', 'B1R', 'B2L', 'B2R'],
    cold: [340, 550],
    litres: 52,
    units: 2,
  },
  {
    positions: ['A1L', 'A1R', 'A2LO', 'A2LI', 'A2RI', 'A2RO', 'B1L', 'B1R', 'B2L', 'B2R'],
    cold: [380, 620],
    litres: 66,
    units: 2,
  },
];
const HOUR = 3600;
const KINDS: SensorKind[] = ['cap', 'flowThrough', 'internal'];
const TWIN: Record<string, string> = { LO: 'LI', LI: 'LO', RI: 'RO', RO: 'RI' };

export interface ScenePlay {
  state: BenchState;
  run: SceneRun;
  watch: Watch;
  limits: Record<string, WheelLimits>;
  events: WatchEvent[];
  /** Event time at which the scene began, ms. */
  startMs: number;
  /** Event time at which a question was asked, ms. */
  askedMs: number | null;
}

/** How much of the gas's rise a kind of sensor shows, from and to, where it isn't as the watch believes. Such a sensor has no lag either. */
export type StrangeSensors = Record<SensorKind, readonly [number, number]>;

/** Cap sensors from 0.38 to 0.65 where the watch takes 0.43 to 0.6; the others as far off. */
const STRANGE: StrangeSensors = { cap: [0.38, 0.65], flowThrough: [0.28, 0.42], internal: [0.82, 0.98] };

/**
 * Of a hundred rigs drawn at random one may miss what its scene should do. Over 500 seeds of each scene none did (26 November 2026); of 4,000 nails
 * two do, on motorcycles with sensors that aren't as the watch believes.
 */
export const MOST_MISSES = 1;

/** So many seeds from a first one, spread over all there are. */
export const seedsFrom = (first: number, count: number): number[] =>
  Array.from({ length: count }, (_, i) => (first + i * 2654435761) >>> 0);

/** What went wrong in each of these plays of a scene, a line a seed; every third rig has sensors that aren't as the watch believes. */
export function missesOf(id: SceneId, seeds: readonly number[]): string[] {
  return seeds.flatMap((seed, i) => {
    const faults = faultsOfScene(id, seed, i % 3 === 2 ? STRANGE : undefined);
    return faults.length === 0 ? [] : [`seed ${seed}${i % 3 === 2 ? ', strange sensors' : ''}: ${faults.join('; ')}`];
  });
}

/**
 * A rig drawn from the seed, driven once and rested a night, and then the scene played under the watch.
 * @param pairOf the limits of a wheel by its cold pressure; without it limits that neither the night nor the drive can reach
 * @param strange sensors that aren't as the watch believes; without it those of the bench, which share their model with the watch
 */
export function playScene(
  id: SceneId,
  seed: number,
  pairOf?: (coldKpa: number) => { lowKpa: number | null; highKpa: number | null },
  strange?: StrangeSensors,
): ScenePlay {
  const r: RandomState = { s: seed >>> 0 };
  const rigs = RIGS.filter((x) => x.units >= SCENES[id].units && (id !== 'brake' || x.positions.length > 2));
  const rig = rigs[Math.floor(uniform(r) * rigs.length)] as (typeof RIGS)[number];
  const airC = id === 'weakCell' ? -10 : between(r, 5, 25);
  const byAxle = new Map<string, number>();
  const wheels: BenchWheelSetup[] = rig.positions.map((position) => {
    const axle = position.slice(0, 2);
    const coldKpa = byAxle.get(axle) ?? Math.round(between(r, rig.cold[0], rig.cold[1]));
    byAxle.set(axle, coldKpa);
    const place = position.slice(2);
    const twin = TWIN[place] ? axle + TWIN[place] : null;
    return { position, coldKpa, coldTempC: 20, airLitres: rig.litres, loadShare: between(r, 0.7, 1), twin, spare: false };
  });
  const loads = new Map<string, number>();
  for (const w of wheels) {
    // The sides of an axle differ a little in load.
    const axle = w.position.slice(0, 2);
    const load = loads.get(axle) ?? w.loadShare;
    loads.set(axle, load);
    w.loadShare = load * between(r, 0.95, 1.05);
  }
  const startMs = Date.UTC(2026, 3, 1, 6);
  const altitudeM = id === 'climb' ? 310 : between(r, 0, 900);
  const state = createBench({ seed, startMs, airC, altitudeM, wheels });
  const limits: Record<string, WheelLimits> = {};
  const sensorOf = new Map<string, string>();
  const kindOf = new Map<string, SensorKind>();
  wheels.forEach((w, i) => {
    const unit = w.position[0] as string;
    const kind = kindOf.get(unit) ?? (KINDS[Math.floor(uniform(r) * KINDS.length)] as SensorKind);
    kindOf.set(unit, kind);
    const sensor = addSensor(
      state,
      (0x10000 * (i + 1) + Math.floor(uniform(r) * 0xffff)).toString(16).toUpperCase(),
      kind,
      w.position,
    );
    sensorOf.set(sensor.id, w.position);
    // The owner sets the low limit under the coldest start as this sensor reads it, the high one over the hottest run.
    const coldest = pressureAt(w.coldKpa, 20, airC - 22) + sensor.errorKpa;
    const low = Math.min(0.9 * w.coldKpa, coldest - 8);
    limits[w.position] = {
      lowKpa: low,
      highKpa: 1.5 * w.coldKpa + 20,
      hotC: 75,
      coldKpa: w.coldKpa,
      coldTempC: 20,
      sensorKind: kind,
      ...pairOf?.(w.coldKpa),
    };
  });
  const watch = new Watch(limits, { sleepAware: true });
  const events: WatchEvent[] = [];
  const told = uniform(r) < 0.5;
  const play: ScenePlay = { state, run: null as unknown as SceneRun, watch, limits, events, startMs: 0, askedMs: null };
  // The share is a habit of the sensor, so it is drawn once; what it shows follows the gas at once.
  const shareOf = new Map<string, number>();
  let outsideC = state.airC;
  const shown = (f: BenchFrame, position: string): number => {
    const wheel = state.wheels.find((w) => w.position === position);
    const sensor = state.sensors.find((x) => x.id === f.sensorId);
    if (!strange || !wheel || !sensor || sensor.at === null) return f.tempC;
    const [from, to] = strange[sensor.kind];
    const share = shareOf.get(sensor.id) ?? between({ s: Number.parseInt(sensor.id, 16) >>> 0 }, from, to);
    shareOf.set(sensor.id, share);
    // The bench puts the air back at the end of a scene, after these frames were sent.
    if (!play.run || state.scene) outsideC = state.airC;
    const air = outsideC + (wheel.sunK ?? 0);
    return Math.round(air + share * (gasC(wheel) - air));
  };
  const feed = (frames: BenchFrame[]) => {
    for (const f of frames) {
      const position = sensorOf.get(f.sensorId);
      if (position) watch.read(position, f.ms, f.pressureKpa, shown(f, position), events, f.batteryV);
    }
    watch.tick(benchMs(state), events);
  };
  const around = () => {
    if (!told) return;
    watch.surround({
      airC: Math.round(state.airC),
      moving: state.kmh > 0,
      ambientKpa: Math.round(ambientAtAltitude(state.altitudeM) * 2) / 2,
    });
  };
  const pass = (seconds: number, stepS: number, dtS: number, between?: () => void) => {
    const end = state.nowS + seconds;
    while (state.nowS < end - 1e-9) {
      around();
      feed(advanceScene(state, Math.min(stepS, end - state.nowS), dtS));
      between?.();
    }
  };
  // A drive and a night, so that the watch knows the rig.
  state.lifeSigns = true;
  state.kmh = 75;
  pass(75 * 60, 60, 2);
  state.kmh = 0;
  pass(9 * 3600, 300, 2);
  // Half the fillings are at a stop in mid-drive: the sensor cools in the hand and is screwed back onto a hot tire.
  const midDrive = id === 'topUp' && uniform(r) < 0.5;
  if (midDrive) {
    state.kmh = 75;
    pass(HOUR, 60, 2);
    state.kmh = 0;
  }
  play.run = beginScene(state, id);
  play.startMs = benchMs(state);
  const { run } = play;
  const ms = () => benchMs(state);
  const long = id === 'healthyFortnight' || id === 'nail';
  if (id === 'topUp') {
    const mode = uniform(r) < 0.5;
    if (mode) watch.startTopUp([run.at], ms(), events);
    let answered = false;
    pass(run.endS - state.nowS, 5, 1, () => {
      const asked = watch.memory(run.at)?.askedMs;
      if (asked != null && play.askedMs === null) play.askedMs = asked;
      if (asked != null && !answered && ms() - asked >= 30_000) {
        watch.answerOff(run.at, true, ms(), events);
        answered = true;
      }
    });
    if (midDrive) {
      state.kmh = 75;
      pass(HOUR, 60, 2);
    }
  } else if (id === 'trailerSwapped') {
    const rest = (resting: boolean) => {
      const next: Record<string, WheelLimits> = {};
      for (const [p, l] of Object.entries(limits)) next[p] = p.startsWith(run.at) ? { ...l, resting } : l;
      watch.configure(next, new Set(), events);
    };
    pass(25 * 60, 60, 2);
    rest(true);
    pass(95 * 60, 60, 2);
    // Another trailer comes on, with sensors of its own; they are put on while its tires are hot.
    state.deaf = [];
    const changed = rig.positions.filter((p) => p.startsWith(run.at));
    changed.forEach((p, i) => {
      const kind = limits[p]?.sensorKind as SensorKind;
      const { id: fresh } = addSensor(state, (0xe00000 + i).toString(16).toUpperCase(), kind, p);
      for (const [id, at] of sensorOf) if (at === p) sensorOf.delete(id);
      sensorOf.set(fresh, p);
    });
    watch.configure(limits, new Set(changed), events);
    pass(60 * 60, 60, 2);
  } else {
    pass(run.endS - state.nowS, long ? 60 : 10, id === 'burst' ? 1 : long ? 8 : 2);
  }
  return play;
}

/** What a scene must ring, and must not; an empty list when it held. */
export function faultsOfScene(id: SceneId, seed: number, strange?: StrangeSensors): string[] {
  const { run, events, startMs, limits, askedMs, watch } = playScene(id, seed, undefined, strange);
  const faults: string[] = [];
  const raised = events.filter((e) => e.type === 'raised');
  const minute = (ms: number) => (ms - startMs) / 60_000;
  const first = (position: string, kind: string) => raised.find((e) => e.position === position && e.kind === kind);
  const must = (position: string, kind: string, fromMin: number, byMin: number) => {
    const e = first(position, kind);
    if (!e) faults.push(`${position} ${kind} was not raised`);
    else if (minute(e.atMs) < fromMin || minute(e.atMs) > byMin)
      faults.push(`${position} ${kind} at ${minute(e.atMs).toFixed(2)} min`);
  };
  const only = (allowed: (position: string, kind: string) => boolean) => {
    for (const e of raised) {
      if (!allowed(e.position, e.kind)) faults.push(`${e.position} ${e.kind} at ${minute(e.atMs).toFixed(2)} min`);
    }
  };
  const other = (position: string) => position !== run.at;
  switch (id) {
    case 'coldNight':
    case 'trailerSwapped':
    case 'healthyFortnight':
      only(() => false);
      break;
    case 'climb':
      only((_, kind) => kind === 'high' || kind === 'low');
      for (const e of raised) {
        const l = limits[e.position] as WheelLimits;
        if (e.kind === 'high' && e.value < (l.highKpa as number)) faults.push(`${e.position} high under its limit`);
        if (e.kind === 'low' && e.value > (l.lowKpa as number)) faults.push(`${e.position} low over its limit`);
      }
      break;
    case 'nail': {
      const low = first(run.at, 'low');
      must(run.at, 'slow', 5, low ? minute(low.atMs) : 60 * 60);
      must(run.at, 'low', 5, 60 * 60);
      if (low && low.value > (limits[run.at]?.lowKpa as number)) faults.push('low over its limit');
      // The harder twin of a dual takes over the load and warms.
      only((position, kind) =>
        other(position)
          ? kind === 'apart' && position.slice(0, 3) === run.at.slice(0, 3)
          : kind !== 'rapid' && kind !== 'silent' && kind !== 'battery',
      );
      break;
    }
    case 'burst':
      must(run.at, 'rapid', 30, 30.5);
      must(run.at, 'low', 30, 35);
      only((position, kind) => !other(position) && kind !== 'slow');
      break;
    case 'brake':
      // A sensor that shows less of the gas's rise than the watch believes takes longer.
      must(run.at, 'apart', 20, strange ? 60 : 40);
      only((position, kind) => !other(position) && kind === 'apart');
      break;
    case 'weakCell':
      must(run.at, 'battery', 0, 60);
      must(run.at, 'silent', 60, 80);
      only((position, kind) => !other(position) && (kind === 'battery' || kind === 'silent'));
      break;
    case 'lostRepeater':
      must(run.at, 'silent', 30, 45);
      if (raised.length !== 1) faults.push(`${raised.length} alarms`);
      break;
    case 'topUp':
      if (askedMs === null) faults.push('no question');
      only((position, kind) => !other(position) && (kind === 'low' || kind === 'rapid'));
      for (const e of raised) if (askedMs !== null && e.atMs > askedMs + 30_000) faults.push(`${e.kind} after the answer`);
      for (const p of Object.keys(limits)) {
        const open = Object.keys(watch.memory(p)?.active ?? {});
        if (open.length > 0) faults.push(`${p} still ${open.join(' ')}`);
      }
      break;
  }
  return faults;
}
