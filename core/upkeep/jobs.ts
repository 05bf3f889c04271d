/**
 * Guided jobs as data: parts, tools, steps, minutes. Words are made in the web. All of it is common practice, no source; minutes are assumed.
 */

export const JOB_IDS = [
  'cell',
  'sealedCell',
  'wake',
  'retighten',
  'gauge',
  'spare',
  'stems',
  'oldTires',
  'storage',
  'monitorCharge',
  'monitorReset',
  'monitorMount',
  'repeaterCharge',
  'repeaterFuse',
  'repeaterReset',
] as const;
export type JobId = (typeof JOB_IDS)[number];

/** How an external sensor opens. */
export const HOUSINGS = ['screws', 'twoPart', 'screwLid', 'clip'] as const;
export type Housing = (typeof HOUSINGS)[number];

export interface Job {
  id: JobId;
  minutes: number;
  /** Pieces that are used up, by the item of the box. */
  parts: readonly ('cell' | 'seal')[];
  tools: readonly string[];
  steps: readonly string[];
  /** It is done at one wheel, and is written down for that wheel. */
  atWheel: boolean;
}

const CELL_STEPS: Record<Housing, readonly string[]> = {
  screws: ['off', 'twoScrews', 'pry'],
  twoPart: ['off', 'twoPartTool'],
  screwLid: ['off', 'lidByHand'],
  clip: ['off', 'pry', 'leverClip'],
};
const CELL_TOOLS: Record<Housing, readonly string[]> = {
  screws: ['smallCross', 'pick'],
  twoPart: ['twoPartTool'],
  screwLid: [],
  clip: ['pick', 'woodStick'],
};

/** The steps of a job. @param housing of the sensor, where the job opens one */
export function jobOf(id: JobId, housing: Housing = 'screws'): Job {
  const job = (minutes: number, steps: readonly string[], tools: readonly string[] = [], more: Partial<Job> = {}): Job => ({
    id,
    minutes,
    parts: [],
    tools,
    steps,
    atWheel: false,
    ...more,
  });
  switch (id) {
    case 'cell':
      return job(
        8,
        [...CELL_STEPS[housing], 'sealOut', 'cellOut', 'look', 'film', 'plusUp', 'sealIn', 'close', 'fit', 'heard'],
        ['wrench', ...CELL_TOOLS[housing], 'soap'],
        { parts: ['cell', 'seal'], atWheel: true },
      );
    case 'sealedCell':
      return job(
        90,
        [
          'newSensorFirst',
          'measure',
          'polarity',
          'drill',
          'cutTabs',
          'tabsOnly',
          'bridge',
          'portFree',
          'tape',
          'wakeAtVehicle',
          'tireOn',
        ],
        ['meter', 'iron', 'drillStop', 'clamp', 'glasses'],
        { atWheel: true },
      );
    case 'wake':
      return job(5, ['wakeTool', 'wakeStep', 'wakeLetGo', 'wakeRoll'], ['wakeTool'], { atWheel: true });
    case 'retighten':
      return job(2, ['snug', 'nut', 'soap', 'tapeMark'], ['wrench', 'soap'], { atWheel: true });
    case 'gauge':
      return job(20, ['rested', 'gaugeEach', 'beside', 'median'], ['gauge']);
    case 'spare':
      return job(5, ['spareGauge', 'spareFill', 'spareHeard'], ['gauge', 'pump']);
    case 'stems':
      return job(10, ['stemsAsk', 'stemsMetal', 'stemsTorque', 'stemsBook']);
    case 'oldTires':
      return job(20, ['tiresWalls', 'tiresTread', 'tiresShop', 'tiresNew']);
    case 'storage':
      return job(20, ['storeOff', 'storePouch', 'storeCaps', 'storeSleep', 'storeNote'], ['wrench']);
    case 'monitorCharge':
      return job(5, ['runDown', 'chargeFull', 'unplug', 'solar']);
    case 'monitorReset':
      return job(40, ['resetWhy', 'resetNote', 'resetPress', 'resetUnits', 'resetLimits', 'resetPair', 'resetTest']);
    case 'monitorMount':
      return job(10, ['mountDash', 'mountMetal', 'mountSun', 'mountTest']);
    case 'repeaterCharge':
      return job(10, ['repeaterOut', 'charge4h', 'repeaterBack', 'repeaterHeard'], ['charger']);
    case 'repeaterFuse':
      return job(10, ['chock', 'fuseOut', 'terminals', 'volts', 'repeaterHeard'], ['meter']);
    case 'repeaterReset':
      return job(30, ['keyWalk', 'axleCount', 'pairAll', 'repeaterHeard']);
  }
}
