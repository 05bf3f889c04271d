import { type HotJudgement, judgeHot, judgeTrip, type TripJudgement, type Verdict } from '#core/alarms/judge.ts';
import { FieldError } from '#core/errors.ts';
import type { SensorKind } from '#schema/common.ts';
import type { Judged } from '../../parts/words-limits.ts';
import type { AxlePlan } from '../../state/plans.ts';

/** An axle's limits judged on its day. */
export interface AxleJudgement {
  plan: AxlePlan;
  question: Judged;
  /** The judgement, or why there is none. */
  trip: TripJudgement | string;
  hot: (HotJudgement & { hotC: number; airC: number; kind: SensorKind }) | null;
}

/** Limits to be judged on an axle: those in trial, or those in force. */
export interface TrialLimits {
  lowKpa: number | null;
  highKpa: number | null;
  hotC: number;
}

/** Judge an axle; null while its cold pressure, its day or its low limit is unknown. */
export function judgeAxle(plan: AxlePlan, limits: TrialLimits | undefined): AxleJudgement | null {
  const { cold } = plan.setting;
  if (!cold || !plan.day || !limits || limits.lowKpa === null) return null;
  const { day } = plan;
  const question: Judged = {
    coldKpa: cold.kpa,
    coldTempC: cold.tempC,
    lowKpa: limits.lowKpa,
    highKpa: limits.highKpa,
    loadMinimumKpa: plan.facts.minimum?.kpa ?? 0,
    day,
  };
  let trip: TripJudgement | string;
  try {
    trip = judgeTrip({
      ...question,
      coldestC: day.coldestC,
      runningC: day.runningC,
      altitudeSetM: day.altitudeSetM,
      passM: day.passM,
    });
  } catch (error) {
    if (!(error instanceof FieldError)) throw error;
    trip = error.message;
  }
  const kind = plan.first.wheel.sensor?.kind;
  const hot = kind
    ? { ...judgeHot(limits.hotC, kind, day.hottestC, day.runningC), hotC: limits.hotC, airC: day.hottestC, kind }
    : null;
  return { plan, question, trip, hot };
}

export const broken = (j: AxleJudgement | null): Verdict[] =>
  j && typeof j.trip !== 'string' ? j.trip.verdicts.filter((v): v is Verdict => v !== 'ok') : [];
