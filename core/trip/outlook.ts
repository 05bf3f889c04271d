import { ambientAtAltitude } from '../air/atmosphere.ts';
import { FieldError } from '../errors.ts';
import { pressureAt } from '../gas/gas.ts';

/** Axles times stages at most: an answer of some 90 MB. */
const MOST_ANSWERS = 1_000_000;

/** An axle on a trip. */
export interface TripAxle {
  axle: string;
  /** Cold pressure, where and at what it was set. */
  coldKpa: number;
  coldTempC: number;
  /** Gas over the air when running, K. */
  riseK: number;
  lowKpa?: number | undefined;
  highKpa?: number | undefined;
}

/** A place on the way. */
export interface TripStage {
  altitudeM: number;
  airC: number;
}

export interface TripAxleThere {
  axle: string;
  /** Gauge pressure there after a rest, the gas as warm as the air, and on the move, kPa. */
  restKpa: number;
  runningKpa: number;
  /** What a fixed limit would ring there, for physics alone. */
  rings: ('low' | 'high')[];
}

/**
 * Pressures of each axle at places of a trip: constant volume, ideal gas, gauge pressures against the standard atmosphere of each height.
 * @param altitudeSetM where the cold pressures were set, m
 * @throws FieldError at a pressure or temperature that can't be, at `/stages` when they are too many for so many axles
 */
export function tripOutlook(
  axles: readonly TripAxle[],
  altitudeSetM: number,
  stages: readonly TripStage[],
): { stages: { axles: TripAxleThere[] }[] } {
  if (axles.length * stages.length > MOST_ANSWERS)
    throw new FieldError(
      '/stages',
      `${stages.length} for ${axles.length} axles are too many: axles times stages must be at most ${MOST_ANSWERS}`,
    );
  const ambientAbsKpa = ambientAtAltitude(altitudeSetM);
  return {
    stages: stages.map(({ altitudeM, airC }) => {
      const toAmbientAbsKpa = ambientAtAltitude(altitudeM);
      return {
        axles: axles.map((a): TripAxleThere => {
          const at = (tempC: number) => pressureAt(a.coldKpa, a.coldTempC, tempC, { ambientAbsKpa, toAmbientAbsKpa });
          const restKpa = at(airC);
          const runningKpa = at(airC + a.riseK);
          return {
            axle: a.axle,
            restKpa,
            runningKpa,
            rings: [
              ...(a.lowKpa !== undefined && restKpa <= a.lowKpa ? (['low'] as const) : []),
              ...(a.highKpa !== undefined && runningKpa >= a.highKpa ? (['high'] as const) : []),
            ],
          };
        }),
      };
    }),
  };
}
