import type { SensorKind } from '#schema/common.ts';
import type { Stem, StemForm } from '#schema/unit.ts';

/** May this sensor go onto this stem? */
export type FitVerdict = 'yes' | 'care' | 'no';

/** Why. The words are made elsewhere. */
export type FitReason =
  | 'metalStem'
  | 'flowThroughOnRubber'
  | 'rubberOnMotorcycle'
  | 'oldRubber'
  | 'metalOnlySchool'
  | 'lightCapSchool'
  | 'schoolsDiffer'
  | 'rubberAgeUnknown'
  | 'stemUnknown'
  | 'longStem'
  | 'extension'
  | 'dualInner'
  | 'shopWork'
  | 'sealedCell';

/** What is known of a wheel and its sensor. */
export interface FitQuestion {
  kind: SensorKind;
  stem?: Stem | undefined;
  stemForm?: StemForm | undefined;
  /** Year the stem was fitted, and the year it is now. */
  stemYear?: number | undefined;
  year: number;
  motorcycle: boolean;
  /** The inner wheel of a dual pair. */
  dualInner: boolean;
  /** The school on light caps that holds for the rig; undefined while none was chosen. */
  school?: 'lightCap' | 'metalOnly' | undefined;
}

export interface FitJudgement {
  verdict: FitVerdict;
  reasons: FitReason[];
}

/** A rubber stem is old from this age on, years: it should have been changed with the tire. Assumed. */
export const OLD_RUBBER_YEARS = 6;

const rank: Record<FitVerdict, number> = { yes: 0, care: 1, no: 2 };

/**
 * Judge a sensor on a stem (common practice, no source): a flow-through on rubber never; on a motorcycle nothing on rubber; old
 * rubber never; a light cap on sound rubber by the school that was chosen, metal being safer.
 */
export function judgeFit(q: FitQuestion): FitJudgement {
  const reasons: FitReason[] = [];
  let verdict: FitVerdict = 'yes';
  const say = (v: FitVerdict, reason: FitReason) => {
    reasons.push(reason);
    if (rank[v] > rank[verdict]) verdict = v;
  };
  if (q.kind === 'internal') {
    // It brings its own valve, or sits on a band: the stem that is there does not matter.
    say('yes', 'shopWork');
    say('yes', 'sealedCell');
    return { verdict, reasons };
  }
  if (q.stem === undefined) say('care', 'stemUnknown');
  else if (q.stem === 'metal') say('yes', 'metalStem');
  else {
    if (q.kind === 'flowThrough') say('no', 'flowThroughOnRubber');
    if (q.motorcycle) say('no', 'rubberOnMotorcycle');
    if (q.stemYear !== undefined && q.year - q.stemYear >= OLD_RUBBER_YEARS) say('no', 'oldRubber');
    if (q.kind === 'cap') {
      if (q.school === 'metalOnly') say('no', 'metalOnlySchool');
      else say('care', q.school === 'lightCap' ? 'lightCapSchool' : 'schoolsDiffer');
      if (q.stemYear === undefined) say('care', 'rubberAgeUnknown');
    }
  }
  if (q.stemForm === 'extension') say('care', 'extension');
  else if (q.stemForm === 'long') say('care', 'longStem');
  if (q.dualInner) say('care', 'dualInner');
  return { verdict, reasons };
}
