import type { HintWhy } from '#core/faults/hints.ts';

/** What is known of the rig, in words. */
export const HINT_WORDS: Record<HintWhy, string> = {
  cellOld: 'Its battery is past its time',
  cellYoung: 'Its battery is young',
  cellSign: 'Its low-battery sign is on',
  handled: 'Its sensor was handled in the last month',
  quietRig: 'The whole rig is quiet',
  othersHeard: 'The others are heard',
  farAway: 'Its signal reaches the dash only just, or not',
  nearBy: 'Its signal reaches the dash with reserve',
  resting: 'A unit is disconnected here',
  neverHeard: 'It was never heard since it was paired',
  unitMissing: 'A whole unit is missed',
  noRepeater: 'There is no repeater',
  warm: 'It was driven just now',
  cold: 'The cold explains its low reading',
  oldFigure: 'The figure is an old one',
};
