import type { SensorKind } from '#schema/common.ts';
import { isMotorcycle, type RigWheel } from '../rig/positions.ts';
import { judgeFit } from './fit.ts';
import { SENSOR_TRAITS } from './sensors.ts';

/** What could be bought for every wheel; `mixed` is caps on vehicles and flow-through on trailers. */
export const BUYING_OPTIONS = ['cap', 'flowThrough', 'internalValve', 'internalBand', 'mixed'] as const;
export type BuyingOption = (typeof BUYING_OPTIONS)[number];

/** The owner's own prices, in any one currency. */
export interface Prices {
  capSensor?: number | undefined;
  flowThroughSensor?: number | undefined;
  internalSensor?: number | undefined;
  cell?: number | undefined;
  metalStem?: number | undefined;
  shopWheel?: number | undefined;
}

/** One column of the comparison. */
export interface BuyingColumn {
  option: BuyingOption;
  /** Wheels whose stem takes it as it is. */
  fits: string[];
  /** Wheels whose stem nobody has looked at yet. */
  unknown: string[];
  /** Wheels that need a metal stem first. */
  newStems: string[];
  /** Wheels a tire shop must work on: internal sensors, and new stems. */
  shopWheels: number;
  /** Cells, or whole sensors with a sealed cell, that are used up over the years, beyond the first. */
  cells: number;
  sensorsAgain: number;
  /** Added mass over all wheels, kg. */
  addedKg: number;
  /** Air goes in with the sensor on. */
  inflateThrough: 'all' | 'some' | 'none';
  /** Sits outside, where rain, theft and kerbs reach it. */
  outside: boolean;
  /** All of it, in the owner's currency; null while a price it needs is not typed. */
  cost: number | null;
}

const kindFor = (option: BuyingOption, w: RigWheel): SensorKind =>
  option === 'mixed'
    ? w.unit.kind === 'trailer'
      ? 'flowThrough'
      : 'cap'
    : option === 'cap' || option === 'flowThrough'
      ? option
      : 'internal';

/**
 * What each way of buying asks of this rig (common practice, no source, for lives and masses).
 * @param years over which cells and costs are counted, 1 to 20
 * @param year the year it is now, for the age of rubber stems
 */
export function compareBuying(
  wheels: readonly RigWheel[],
  options: { years: number; year: number; prices: Prices; school?: 'lightCap' | 'metalOnly' | undefined },
): BuyingColumn[] {
  return BUYING_OPTIONS.map((option) => {
    const column: BuyingColumn = {
      option,
      fits: [],
      unknown: [],
      newStems: [],
      shopWheels: 0,
      cells: 0,
      sensorsAgain: 0,
      addedKg: 0,
      inflateThrough: 'none',
      outside: false,
      cost: 0,
    };
    let through = 0;
    const pay = (price: number | undefined, pieces: number) => {
      if (pieces === 0 || column.cost === null) return;
      column.cost = price === undefined ? null : column.cost + price * pieces;
    };
    for (const w of wheels) {
      const kind = kindFor(option, w);
      const trait = SENSOR_TRAITS[kind];
      const { verdict } = judgeFit({
        kind,
        stem: w.wheel.stem,
        stemForm: w.wheel.stemForm,
        stemYear: w.wheel.stemYear,
        year: options.year,
        motorcycle: isMotorcycle(w.unit),
        dualInner: w.place === 'LI' || w.place === 'RI',
        school: options.school,
      });
      const newStem = verdict === 'no';
      if (newStem) column.newStems.push(w.position);
      else if (kind !== 'internal') column[w.wheel.stem === undefined ? 'unknown' : 'fits'].push(w.position);
      if (newStem || kind === 'internal') column.shopWheels += 1;
      if (trait.inflateThrough) through += 1;
      column.addedKg += trait.massKg;
      if (kind !== 'internal') column.outside = true;
      // The first cell comes with the sensor.
      if (trait.cellYears !== null) column.cells += Math.max(0, Math.ceil(options.years / trait.cellYears) - 1);
      else column.sensorsAgain += Math.max(0, Math.ceil(options.years / (trait.lifeYears ?? options.years)) - 1);
    }
    const count = (kind: SensorKind) => wheels.filter((w) => kindFor(option, w) === kind).length;
    pay(options.prices.capSensor, count('cap'));
    pay(options.prices.flowThroughSensor, count('flowThrough'));
    pay(options.prices.internalSensor, count('internal') + column.sensorsAgain);
    pay(options.prices.cell, column.cells);
    pay(options.prices.metalStem, column.newStems.length);
    // A sensor whose sealed cell is spent means the shop again.
    pay(options.prices.shopWheel, column.shopWheels + column.sensorsAgain);
    column.inflateThrough = through === wheels.length ? 'all' : through > 0 ? 'some' : 'none';
    return column;
  });
}
