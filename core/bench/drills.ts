import type { AlarmKind } from '#schema/alarm.ts';
import type { SceneId } from '#schema/bench.ts';
import { Watch, type WatchEvent, type WheelLimits } from '../watch/watch.ts';
import { addSensor, benchMs, createBench, freshId } from './bench.ts';
import { between, uniform } from './random.ts';
import { advanceScene, beginScene } from './scenes.ts';
import type { BenchWheelSetup } from './state.ts';

/**
 * Drills: a scene is played on a bench of its own until something rings, and the owner says what it means and what to do. Scored by the mistakes
 * that matter.
 */

/** What comes of a choice: nothing bad, time lost, money or air lost, or somebody hurt. */
export type Harm = 'right' | 'idle' | 'costly' | 'dangerous';

/** What a mistake costs. Ours. */
export const HARM_POINTS: Record<Harm, number> = { right: 0, idle: 0, costly: 1, dangerous: 3 };

export interface DrillQuestion {
  code: 'means' | 'act';
  options: readonly { code: string; harm: Harm }[];
}
export interface Drill {
  id: SceneId;
  /** The alarm that is asked about. */
  kind: AlarmKind;
  questions: readonly [DrillQuestion, DrillQuestion];
}

const means = (...options: [string, Harm][]): DrillQuestion => ({
  code: 'means',
  options: options.map(([code, harm]) => ({ code, harm })),
});
const act = (...options: [string, Harm][]): DrillQuestion => ({ ...means(...options), code: 'act' });

/** The five drills, in the order of how often owners meet them. The standing of each choice: common practice, no source. */
export const DRILLS: readonly Drill[] = [
  {
    id: 'coldNight',
    kind: 'low',
    questions: [
      means(['cold', 'right'], ['leaks', 'costly'], ['cells', 'idle'], ['wrongLimits', 'costly']),
      act(['resetCold', 'right'], ['lowerLimits', 'dangerous'], ['warmsUp', 'dangerous'], ['overfill', 'costly']),
    ],
  },
  {
    id: 'nail',
    kind: 'slow',
    questions: [
      means(['leak', 'right'], ['weather', 'dangerous'], ['drift', 'dangerous'], ['rubber', 'costly']),
      act(['fillAndLook', 'right'], ['waitForLow', 'dangerous'], ['fillDaily', 'costly'], ['sealant', 'costly']),
    ],
  },
  {
    id: 'weakCell',
    kind: 'silent',
    questions: [
      means(['unknown', 'right'], ['lastWasGood', 'dangerous'], ['burst', 'idle'], ['asleep', 'costly']),
      act(['lookAtTire', 'right'], ['driveOn', 'dangerous'], ['pairAll', 'costly'], ['otherMonitor', 'idle']),
    ],
  },
  {
    id: 'brake',
    kind: 'apart',
    questions: [
      means(['hub', 'right'], ['tooMuchAir', 'costly'], ['sun', 'dangerous'], ['sensor', 'dangerous']),
      act(['stopAndCool', 'right'], ['bleed', 'dangerous'], ['water', 'costly'], ['tonight', 'dangerous']),
    ],
  },
  {
    id: 'burst',
    kind: 'rapid',
    questions: [
      means(['losing', 'right'], ['radio', 'dangerous'], ['sensorOff', 'dangerous'], ['colder', 'idle']),
      act(['slowGently', 'right'], ['brakeHard', 'dangerous'], ['toTheShop', 'dangerous'], ['watchScreen', 'dangerous']),
    ],
  },
];

/** A wheel as the monitor shows it when it rings. */
export interface DrillWheel {
  position: string;
  kpa: number;
  tempC: number;
  /** What it showed half an hour before; over the night for the cold night. */
  beforeKpa: number;
  beforeC: number;
  /** Seconds since it was heard. */
  ageS: number;
}

/** The moment at which it rings. */
export interface DrillMoment {
  kind: AlarmKind;
  /** Wheels that ring. */
  positions: string[];
  wheels: DrillWheel[];
  driving: boolean;
  airC: number;
  beforeAirC: number;
  /** Between the two looks, minutes. */
  minutes: number;
}

const MIN = 60_000;

/**
 * Play a drill on a bench of the rig until it rings.
 * @param setups wheels of the rig; spares are left out
 * @param limitsOf what the watch is given of a wheel; its low limit is drawn in where the cold is to ring it
 * @returns null where the rig lacks what the drill needs: a second wheel on an axle to compare a hot one with
 */
export function playDrill(
  drill: Drill,
  seed: number,
  setups: readonly BenchWheelSetup[],
  limitsOf: (position: string) => WheelLimits,
): DrillMoment | null {
  const wheels = setups.filter((w) => !w.spare);
  const random = { s: (seed ^ 0x5bd1e995) >>> 0 };
  const airC = drill.id === 'weakCell' ? -10 : Math.round(between(random, 12, 22));
  const state = createBench({ seed, startMs: Date.UTC(2026, 3, 1, 6), airC, altitudeM: 300, wheels });
  const at = new Map<string, string>();
  const limits: Record<string, WheelLimits> = {};
  for (const w of wheels) {
    const own = limitsOf(w.position);
    at.set(
      addSensor(state, freshId(state), own.sensorKind === 'ideal' ? 'cap' : (own.sensorKind ?? 'cap'), w.position).id,
      w.position,
    );
    // A monitor whose low limit is 5 % under cold, as some set it: that is what a cold night rings.
    limits[w.position] = drill.id === 'coldNight' ? { ...own, lowKpa: w.coldKpa * 0.95 } : { ...own, lowKpa: w.coldKpa * 0.8 };
  }
  const watch = new Watch(limits, { sleepAware: true });
  const events: WatchEvent[] = [];
  const shown = new Map<string, { ms: number; kpa: number; tempC: number }[]>();
  const play = (seconds: number) => {
    for (const f of advanceScene(state, seconds)) {
      const position = at.get(f.sensorId);
      if (!position) continue;
      watch.read(position, f.ms, f.pressureKpa, f.tempC, events, f.batteryV);
      const list = shown.get(position);
      const entry = { ms: f.ms, kpa: f.pressureKpa, tempC: f.tempC };
      if (list) list.push(entry);
      else shown.set(position, [entry]);
    }
    watch.tick(benchMs(state), events);
  };
  // A short drive first, so that every sensor was heard once.
  state.kmh = 60;
  play(5 * 60);
  state.kmh = 0;
  play(drill.id === 'coldNight' ? 3 * 3600 : 60);
  const beganMs = benchMs(state);
  try {
    beginScene(state, drill.id);
  } catch {
    return null;
  }
  const rings = (): string[] => {
    if (drill.id !== 'coldNight') {
      const e = events.find((x) => x.type === 'raised' && x.kind === drill.kind && x.atMs > beganMs);
      return e ? [e.position] : [];
    }
    // The monitor rings by its own limits, once the owner comes in the morning and every sensor wakes.
    if (state.scene) return [];
    return wheels.filter((w) => (last(w.position)?.kpa ?? Number.POSITIVE_INFINITY) <= w.coldKpa * 0.95).map((w) => w.position);
  };
  const last = (position: string) => shown.get(position)?.at(-1);
  let positions: string[] = [];
  for (let i = 0; i < 4000 && positions.length === 0 && state.scene; i += 1) {
    play(drill.id === 'nail' || drill.id === 'coldNight' ? 300 : 15);
    if (drill.id === 'coldNight' && !state.scene) {
      // The scene has put the air back: the morning is as cold as the night's end.
      state.airC = airC - 20;
      state.kmh = 5;
      play(90);
      state.kmh = 0;
    }
    positions = rings();
  }
  if (positions.length === 0) return null;
  const nowMs = benchMs(state);
  const spanMs = drill.id === 'coldNight' ? nowMs - beganMs : Math.min(30 * MIN, nowMs - beganMs);
  const nowAirC = state.airC;
  return {
    kind: drill.kind,
    positions,
    wheels: wheels.flatMap((w) => {
      const list = shown.get(w.position) ?? [];
      const now = list.at(-1);
      if (!now) return [];
      const before = list.findLast((x) => x.ms <= nowMs - spanMs) ?? (list[0] as typeof now);
      return [
        {
          position: w.position,
          kpa: now.kpa,
          tempC: now.tempC,
          beforeKpa: before.kpa,
          beforeC: before.tempC,
          ageS: Math.round((nowMs - now.ms) / 1000),
        },
      ];
    }),
    driving: state.kmh > 0,
    airC: nowAirC,
    beforeAirC: airC,
    minutes: Math.round(spanMs / MIN),
  };
}

/** The options of a question in an order of their own for each seed. */
export function shuffled(question: DrillQuestion, seed: number): DrillQuestion['options'] {
  const r = { s: (seed * 31 + question.code.length) >>> 0 };
  const list = [...question.options];
  for (let i = list.length - 1; i > 0; i -= 1) {
    const j = Math.floor(uniform(r) * (i + 1));
    [list[i], list[j]] = [list[j] as (typeof list)[number], list[i] as (typeof list)[number]];
  }
  return list;
}

/** What came of some drills: mistakes by what they harm, and points lost. */
export interface DrillScore {
  right: number;
  asked: number;
  mistakes: Record<Exclude<Harm, 'right'>, number>;
  points: number;
}

/** @param answers the option chosen for each question of each drill, by drill and question */
export function scoreOf(answers: Readonly<Record<string, Partial<Record<DrillQuestion['code'], string>>>>): DrillScore {
  const out: DrillScore = { right: 0, asked: 0, mistakes: { idle: 0, costly: 0, dangerous: 0 }, points: 0 };
  for (const drill of DRILLS) {
    for (const q of drill.questions) {
      const harm = q.options.find((o) => o.code === answers[drill.id]?.[q.code])?.harm;
      if (harm === undefined) continue;
      out.asked += 1;
      if (harm === 'right') out.right += 1;
      else out.mistakes[harm] += 1;
      out.points += HARM_POINTS[harm];
    }
  }
  return out;
}
