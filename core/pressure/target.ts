import { pressureAt } from '../gas/gas.ts';
import { KPA_PER_PSI } from '../units/units.ts';
import { loadAt } from './load.ts';

/** Schools of choosing a cold pressure. `startLow` is shown with what it does, and not endorsed. */
export const COLD_SCHOOLS = ['placard', 'byLoad', 'rating', 'startLow'] as const;
export type ColdSchool = (typeof COLD_SCHOOLS)[number];

/** How far under the rating the school starts that wants the hot tire to run at its rating (common practice, no source). */
export const START_LOW_KPA = 6 * KPA_PER_PSI;

/** What is known for a choice. */
export interface TargetQuestion {
  placardKpa?: number | undefined;
  /** What carries the load, kPa. */
  minimumKpa?: number | null | undefined;
  /** The pressure beside the maximum load on the sidewall. */
  referenceKpa?: number | undefined;
  capacityKg?: number | null | undefined;
  loadKg?: number | undefined;
}

export interface ColdChoice {
  school: ColdSchool;
  /** Null while something it needs is unknown. */
  kpa: number | null;
  /** The load asked for less than the placard: the placard holds. */
  raisedToPlacard?: boolean;
  missing?: 'placard' | 'minimum' | 'reference';
  /** For `startLow`: what the tire carries at it, kg, and by how much less than at its rating, as a share. */
  carriesKg?: number;
  lessShare?: number;
  /** For `startLow`: it carries less than the load that was weighed. */
  tooLittle?: boolean;
}

/** What every school gives. Never under the placard, but for the school that is shown as a warning. */
export function coldChoices(q: TargetQuestion): ColdChoice[] {
  const placard = q.placardKpa ?? 0;
  const out: ColdChoice[] = [
    q.placardKpa === undefined ? { school: 'placard', kpa: null, missing: 'placard' } : { school: 'placard', kpa: q.placardKpa },
  ];
  if (q.minimumKpa === undefined || q.minimumKpa === null) out.push({ school: 'byLoad', kpa: null, missing: 'minimum' });
  else {
    const raised = placard > q.minimumKpa;
    out.push({ school: 'byLoad', kpa: raised ? placard : q.minimumKpa, ...(raised ? { raisedToPlacard: true } : {}) });
  }
  if (q.referenceKpa === undefined) {
    out.push({ school: 'rating', kpa: null, missing: 'reference' }, { school: 'startLow', kpa: null, missing: 'reference' });
    return out;
  }
  const raised = placard > q.referenceKpa;
  out.push({ school: 'rating', kpa: raised ? placard : q.referenceKpa, ...(raised ? { raisedToPlacard: true } : {}) });
  const low = q.referenceKpa - START_LOW_KPA;
  const startLow: ColdChoice = { school: 'startLow', kpa: low > 0 ? low : null, lessShare: START_LOW_KPA / q.referenceKpa };
  if (low > 0 && q.capacityKg) {
    startLow.carriesKg = loadAt(low, q.referenceKpa, q.capacityKg);
    if (q.loadKg !== undefined) startLow.tooLittle = startLow.carriesKg < q.loadKg;
  }
  out.push(startLow);
  return out;
}

/** What is wrong with a cold pressure that is to be set. */
export interface ColdFault {
  code: 'underMinimum' | 'underPlacard' | 'overSidewall' | 'overRim' | 'overIndex' | 'overTable';
  /** The tire cannot do what is asked of it: hard to save by accident. */
  stop: boolean;
  /** The figure it breaks: a pressure, or for the index a load in kg. */
  kpa?: number;
  kg?: number;
}

/** Hold a cold pressure against what the tire must carry and what tire and rim allow. */
export function coldFaults(
  coldKpa: number,
  q: {
    minimumKpa?: number | null | undefined;
    placardKpa?: number | undefined;
    /** The sidewall's highest cold pressure. */
    maxColdKpa?: number | undefined;
    rimMaxKpa?: number | undefined;
    faults?: readonly ('overIndex' | 'overTable')[] | undefined;
    capacityKg?: number | null | undefined;
  },
): ColdFault[] {
  const out: ColdFault[] = [];
  // A figure that was converted there and back isn't below itself.
  const slack = 0.05;
  for (const code of q.faults ?? [])
    out.push({ code, stop: true, ...(code === 'overIndex' && q.capacityKg ? { kg: q.capacityKg } : {}) });
  if (q.minimumKpa && coldKpa < q.minimumKpa - slack) out.push({ code: 'underMinimum', stop: true, kpa: q.minimumKpa });
  if (q.placardKpa && coldKpa < q.placardKpa - slack) out.push({ code: 'underPlacard', stop: true, kpa: q.placardKpa });
  if (q.maxColdKpa && coldKpa > q.maxColdKpa + slack) out.push({ code: 'overSidewall', stop: true, kpa: q.maxColdKpa });
  if (q.rimMaxKpa && coldKpa > q.rimMaxKpa + slack) out.push({ code: 'overRim', stop: true, kpa: q.rimMaxKpa });
  return out;
}

/**
 * The cold pressure to set at `coldTempC` so that the coldest start still carries the load, kPa gauge: the load minimum brought from
 * the coldest air to the setting temperature, same gas (ideal gas law).
 */
export const targetForColdStart = (minimumKpa: number, coldTempC: number, coldestC: number): number =>
  coldestC >= coldTempC ? minimumKpa : pressureAt(minimumKpa, coldestC, coldTempC);
