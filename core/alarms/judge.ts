import type { SensorKind } from '#schema/common.ts';
import { ambientAtAltitude } from '../air/atmosphere.ts';
import { FieldError } from '../errors.ts';
import { pressureAt } from '../gas/gas.ts';
import { gasTempFrom, sensorTempC } from '../kit/physics.ts';

/** What can be said against a pair of limits; `ok` alone when nothing can. */
export const VERDICTS = ['nuisance-low', 'nuisance-high', 'unprotected-low', 'unprotected-hot', 'sleeping-high'] as const;
export type Verdict = (typeof VERDICTS)[number];

/** A tire, its limits and its day. */
export interface JudgeQuestion {
  coldKpa: number;
  /** Temperature at which the cold figure and the load minimum hold, °C. */
  coldTempC: number;
  lowKpa: number;
  highKpa: number | null;
  /** Cold pressure that carries the load, kPa at `coldTempC`; 0 when it is unknown, and then nothing is said of it. */
  loadMinimumKpa: number;
  /** Air at the coldest start, and gas in the running tire, °C. */
  coldestC: number;
  runningC: number;
  /** Where the pressure was set and where it is read, m. */
  altitudeSetM?: number | undefined;
  altitudeReadM?: number | undefined;
}

export interface Judgement {
  /** Gauge pressure where it is read, at the coldest start and in the running tire, kPa. */
  coldestStartKpa: number;
  hotRunKpa: number;
  /** The low alarm, read in the running tire, brought back to the setting temperature and place: what the tire would hold cold. */
  lowAlarmHotColdKpa: number;
  verdicts: (Verdict | 'ok')[];
}

/** A high alarm this far over the hot run guards nothing. */
export const SLEEPING_FACTOR = 1.25;

/** Where the day takes a tire: gauge pressures at a reading place. */
export function dayOf(q: Omit<JudgeQuestion, 'lowKpa' | 'highKpa' | 'loadMinimumKpa'>): {
  coldestStartKpa: number;
  hotRunKpa: number;
} {
  const ambientAbsKpa = ambientAtAltitude(q.altitudeSetM ?? 0);
  const toAmbientAbsKpa = ambientAtAltitude(q.altitudeReadM ?? q.altitudeSetM ?? 0);
  const ambients = { ambientAbsKpa, toAmbientAbsKpa };
  return {
    coldestStartKpa: pressureAt(q.coldKpa, q.coldTempC, q.coldestC, ambients),
    hotRunKpa: pressureAt(q.coldKpa, q.coldTempC, q.runningC, ambients),
  };
}

/**
 * Hold a pair of limits against the tire's load and its day. All by the gas law with absolute pressures and the standard atmosphere.
 * @throws FieldError where the limits contradict each other or the tire would hold no air at its coldest start
 */
export function judge(q: JudgeQuestion): Judgement {
  if (q.highKpa !== null && q.lowKpa >= q.highKpa) throw new FieldError('/lowKpa', 'must be under the high alarm');
  if (q.runningC < q.coldestC) throw new FieldError('/runningC', 'must not be under the coldest start');
  const { coldestStartKpa, hotRunKpa } = dayOf(q);
  if (!(coldestStartKpa > 0)) throw new FieldError('/coldestC', 'puts the coldest start at or under zero');
  const lowAlarmHotColdKpa = pressureAt(q.lowKpa, q.runningC, q.coldTempC, {
    ambientAbsKpa: ambientAtAltitude(q.altitudeReadM ?? q.altitudeSetM ?? 0),
    toAmbientAbsKpa: ambientAtAltitude(q.altitudeSetM ?? 0),
  });
  const verdicts: Judgement['verdicts'] = [];
  if (coldestStartKpa <= q.lowKpa) verdicts.push('nuisance-low');
  if (q.highKpa !== null && hotRunKpa >= q.highKpa) verdicts.push('nuisance-high');
  if (q.lowKpa < q.loadMinimumKpa) verdicts.push('unprotected-low');
  if (lowAlarmHotColdKpa < q.loadMinimumKpa) verdicts.push('unprotected-hot');
  if (q.highKpa !== null && q.highKpa > SLEEPING_FACTOR * hotRunKpa) verdicts.push('sleeping-high');
  return { coldestStartKpa, hotRunKpa, lowAlarmHotColdKpa, verdicts: verdicts.length > 0 ? verdicts : ['ok'] };
}

/** A tire over its whole trip: where it is set and the highest pass. */
export interface TripQuestion extends Omit<JudgeQuestion, 'altitudeReadM'> {
  passM?: number | undefined;
}

export interface TripJudgement extends Judgement {
  /** Which place each figure is from, where it is the pass. */
  atPass: { coldestStart: boolean; hotRun: boolean; lowAlarmHot: boolean };
}

/** Judge at home and on the pass and take the worse of each: the lowest start, the highest run, the lowest alarm. */
export function judgeTrip({ passM, ...q }: TripQuestion): TripJudgement {
  const home = judge(q);
  const none = { coldestStart: false, hotRun: false, lowAlarmHot: false };
  if (passM === undefined) return { ...home, atPass: none };
  const pass = judge({ ...q, altitudeReadM: passM });
  const found = new Set([...home.verdicts, ...pass.verdicts]);
  const verdicts = VERDICTS.filter((v) => found.has(v));
  return {
    coldestStartKpa: Math.min(home.coldestStartKpa, pass.coldestStartKpa),
    hotRunKpa: Math.max(home.hotRunKpa, pass.hotRunKpa),
    lowAlarmHotColdKpa: Math.min(home.lowAlarmHotColdKpa, pass.lowAlarmHotColdKpa),
    verdicts: verdicts.length > 0 ? verdicts : ['ok'],
    atPass: {
      coldestStart: pass.coldestStartKpa < home.coldestStartKpa,
      hotRun: pass.hotRunKpa > home.hotRunKpa,
      lowAlarmHot: pass.lowAlarmHotColdKpa < home.lowAlarmHotColdKpa,
    },
  };
}

/** Gas temperatures at which tires fail, from and to, °C (common practice, no source). */
export const FAILING_C = { from: 77, to: 93 } as const;

export interface HotJudgement {
  /** Gas in the tire when the limit rings, °C. */
  gasWhenRingsC: number;
  /** The limit that would ring at 77 °C of gas, °C on the sensor. */
  limitForFailingC: number;
  /** What the sensor shows on an ordinary hot run, °C. */
  ordinaryShownC: number;
  /** `sleeping-hot`: the gas passes 93 °C before it rings. `nuisance-hot`: an ordinary run rings it. */
  verdict: 'sleeping-hot' | 'nuisance-hot' | 'ok';
}

/**
 * Hold a temperature limit against what the sensor can see: a sensor outside shows only a share of the gas's rise over the air.
 * @param hotC limit on the sensor, °C
 * @param airC air it is judged in: the hottest afternoon, where it rings earliest
 * @param runningC gas of an ordinary run, °C
 */
export function judgeHot(hotC: number, kind: SensorKind, airC: number, runningC: number): HotJudgement {
  const gasWhenRingsC = gasTempFrom(kind, hotC, airC);
  const ordinaryShownC = sensorTempC(kind, runningC, airC);
  return {
    gasWhenRingsC,
    limitForFailingC: sensorTempC(kind, FAILING_C.from, airC),
    ordinaryShownC,
    verdict: gasWhenRingsC > FAILING_C.to ? 'sleeping-hot' : hotC <= ordinaryShownC ? 'nuisance-hot' : 'ok',
  };
}
