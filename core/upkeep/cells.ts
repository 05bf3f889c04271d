import { BENCH } from '../bench/parameters.ts';

/** Capacity of cells by the type printed on them, mAh: typical figures (IEC 60086 size codes; capacities from memory). */
export const CELL_MAH: Readonly<Record<string, number>> = {
  CR1225: 48,
  CR1616: 55,
  CR1620: 75,
  CR1632: 140,
  CR2016: 90,
  CR2025: 160,
  CR2032: 225,
  CR2050: 345,
  CR2450: 620,
};

/** Shares of its capacity that a cell gives: a poor one, and a good one. Assumed. */
const GIVES = [0.75, 1] as const;
/** A sensor's draw differs from the model by this, either way. Assumed. */
const DRAW = [0.75, 1.3] as const;
/** At -10 °C and under a cell gives so much less before its voltage drops too far. Assumed. */
const COLD_LOSS = 0.25;

const HOURS_A_YEAR = 8766;
/** A frame and its copies go out about once a minute on the move. Trade. */
const FRAMES_PER_HOUR = 60 * BENCH.copies;
const mah = (microCoulomb: number, timesPerHour: number): number => (microCoulomb * 1e-6 * timesPerHour) / 3.6;

/**
 * Charge that a sensor takes in an hour, mAh: sleep current, samples each 30 s asleep and each 5 s awake, frames on the move (assumed; the table
 * of the bench).
 */
export function drawMah(rolling: boolean): number {
  const sleep = BENCH.sleepUa / 1000;
  return rolling
    ? sleep + mah(BENCH.sampleUc, 3600 / 5) + mah(BENCH.frameUc, FRAMES_PER_HOUR)
    : sleep + mah(BENCH.sampleUc, 3600 / BENCH.asleepSampleS);
}

export interface CellQuestion {
  /** Type as printed on it. */
  cell: string;
  /** What the owner or the leaflet says it lasts, months. */
  cellMonths: number;
  /** Hours on the move in a year. */
  drivenHours: number;
  /** Coldest morning it has to start on, °C; undefined: unknown. */
  coldestC?: number | undefined;
  /** Months since it was put in. */
  ageMonths: number;
  /** Last voltage it told, brought to 20 °C; undefined: none. */
  voltsAt20?: number | undefined;
}

export interface CellForecast {
  /** Months it lasts from new, by use and cold: the least and the most. */
  leastMonths: number;
  mostMonths: number;
  likelyMonths: number;
  /** When to change it, months from new: what the owner said, or what is likely by use where that comes before. */
  changeAtMonths: number;
  /** What its voltage says of it: `fresh`, `falling` (past 85 %), `spent`; null without a voltage. */
  byVoltage: 'fresh' | 'falling' | 'spent' | null;
  /** Months that are left until it should be changed; 0: now. */
  leftMonths: number;
  /** What decides: the owner's figure, the use, or the voltage. */
  by: 'owner' | 'use' | 'voltage';
}

/** Voltages at 20 °C under which a cell falls, and under which frames fail. Trade for the second, assumed the first. */
const FALLING_V = 2.75;
const SPENT_V = 2.5;

/**
 * How long a cell lasts, as a range. An unknown type is taken at the owner's months alone.
 */
export function cellForecast(q: CellQuestion): CellForecast {
  const capacity = CELL_MAH[q.cell.toUpperCase()];
  const year = q.drivenHours * drawMah(true) + Math.max(0, HOURS_A_YEAR - q.drivenHours) * drawMah(false);
  const cold = q.coldestC !== undefined && q.coldestC <= -10 ? 1 - COLD_LOSS : 1;
  const months = (share: number, draw: number) =>
    capacity === undefined ? q.cellMonths : (12 * capacity * share) / (year * draw);
  const leastMonths = capacity === undefined ? q.cellMonths : months(GIVES[0] * cold, DRAW[1]);
  const mostMonths = capacity === undefined ? q.cellMonths : months(GIVES[1], DRAW[0]);
  const byVoltage =
    q.voltsAt20 === undefined ? null : q.voltsAt20 < SPENT_V ? 'spent' : q.voltsAt20 < FALLING_V ? 'falling' : ('fresh' as const);
  const likelyMonths = months(((GIVES[0] + GIVES[1]) / 2) * cold, 1);
  const useFirst = likelyMonths < q.cellMonths;
  const changeAtMonths = Math.min(q.cellMonths, Math.max(1, likelyMonths));
  const left =
    byVoltage === 'spent'
      ? 0
      : byVoltage === 'falling'
        ? Math.min(1, changeAtMonths - q.ageMonths)
        : changeAtMonths - q.ageMonths;
  return {
    leastMonths,
    likelyMonths,
    mostMonths,
    changeAtMonths,
    byVoltage,
    leftMonths: Math.max(0, left),
    by: byVoltage === 'spent' || byVoltage === 'falling' ? 'voltage' : useFirst ? 'use' : 'owner',
  };
}
