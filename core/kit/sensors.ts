import type { SensorKind } from '#schema/common.ts';
import type { StemForm } from '#schema/unit.ts';

/** What a kind of sensor is like. Common practice, no source; masses are the middle of what is met. */
export interface SensorTrait {
  /** Mass of one, kg. */
  massKg: number;
  /** How far it sticks out past the stem, mm. Assumed. */
  lengthMm: number;
  /** Years a cell lasts; null: the cell is sealed in and lasts as long as `lifeYears`. */
  cellYears: number | null;
  /** Years the sensor lasts when its cell is sealed in. */
  lifeYears: number | null;
  /** Air can be put in through it. */
  inflateThrough: boolean;
}

export const SENSOR_TRAITS: Record<SensorKind, SensorTrait> = {
  cap: { massKg: 0.008, lengthMm: 15, cellYears: 1, lifeYears: null, inflateThrough: false },
  flowThrough: { massKg: 0.02, lengthMm: 22, cellYears: 1, lifeYears: null, inflateThrough: true },
  internal: { massKg: 0.032, lengthMm: 0, cellYears: null, lifeYears: 4, inflateThrough: true },
};

/** How far a sensor's middle sits from the root of the stem, by the stem's form, mm. Assumed. */
export const STEM_LEVER_MM: Record<StemForm, number> = { short: 25, standard: 40, long: 60, angled: 40, extension: 85 };

/** Height of the valve over the wheel's centre: a little inside the rim edge. Assumed: 40 mm. */
export const valveRadiusM = (rimIn: number): number => (rimIn * 0.0254) / 2 - 0.04;
