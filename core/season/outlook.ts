import { ambientAtAltitude } from '../air/atmosphere.ts';
import { pressureAt, temperatureFor } from '../gas/gas.ts';

/** When the cold of a season takes a cold start to its low limit. */
export interface SeasonOutlook {
  /** Dates whose start at the night's minimum reads at or under the low limit. */
  nights: string[];
  first: string | null;
  last: string | null;
  /** Cold pressure, at the temperature it was set at, whose start on the coldest of the days reads just the low limit, kPa. */
  resetKpa: number;
}

/**
 * Cold starts over some days against a low limit: constant volume, ideal gas, at one height.
 * @param days at least one, in any order
 * @throws FieldError at a pressure or temperature that can't be
 */
export function seasonOutlook({
  coldKpa,
  coldTempC,
  lowKpa,
  days,
  altitudeM = 0,
}: {
  coldKpa: number;
  coldTempC: number;
  lowKpa: number;
  days: readonly { date: string; minC: number }[];
  altitudeM?: number | undefined;
}): SeasonOutlook {
  const ambientAbsKpa = ambientAtAltitude(altitudeM);
  const nights = days
    .filter((d) => pressureAt(coldKpa, coldTempC, d.minC, { ambientAbsKpa }) <= lowKpa)
    .map((d) => d.date)
    .sort();
  const coldestC = Math.min(...days.map((d) => d.minC));
  return {
    nights,
    first: nights[0] ?? null,
    last: nights.at(-1) ?? null,
    resetKpa: pressureAt(lowKpa, coldestC, coldTempC, { ambientAbsKpa }),
  };
}

/** The temperature of a cold start at which it reads just the low limit, °C. */
export const crossingC = (coldKpa: number, coldTempC: number, lowKpa: number, altitudeM = 0): number =>
  temperatureFor(coldKpa, coldTempC, lowKpa, { ambientAbsKpa: ambientAtAltitude(altitudeM) });
