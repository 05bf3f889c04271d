import { KPA_PER_PSI } from '../units/units.ts';

const MIN = 60_000;

/**
 * What the watch holds readings against, in one table. Standing of each: law, memory (published, quoted from memory), trade (common
 * practice, no source), assumed (ours, open to change).
 */
export const WATCH = {
  /** Hysteresis of pressure, kPa (a sensor's coarsest step), and of temperature, K. Assumed. */
  pressureHysteresisKpa: KPA_PER_PSI,
  hotHysteresisK: 3,
  /** Of the way from a limit to the cold pressure, never more than this share. Assumed. */
  hysteresisShare: 0.5,
  /** A sensor's step counts this many times, up to this share of the way from limit to cold pressure; a return this near holds so long, ms. Assumed. */
  hysteresisSteps: 1.5,
  hysteresisMostShare: 0.8,
  backHoldMs: 2 * MIN,
  /**
   * The cold explains a low where no more than this share of the cold pressure is missing (rubber, a sensor that is off, one step), or where
   * no more than that share of what it usually shows is missing; a run explains a high up to this share over the cold pressure. Assumed.
   */
  weatherLossShare: 0.065,
  weatherKeptShare: 0.04,
  weatherGainShare: 0.04,
  /** Its cold-equivalent pressure may then be this much under the limit itself, as a share of the cold pressure: one step. Assumed. */
  weatherBelowShare: 0.015,
  /** What a wheel usually shows counts from so many readings, and what the rig is off by from so many; after the last it forgets. Assumed. */
  usualFrom: 30,
  usualOffsetFrom: 5,
  usualMost: 200,
  /** A cold start: heard again after so long, for so long, ms; what it shows then is learned from so many readings, each for so much. Assumed. */
  startGapMs: 150 * MIN,
  startForMs: 10 * MIN,
  startFrom: 8,
  startShare: 0.02,
  /** What a run may add to the maximum of tire or rim, which is a cold figure. Assumed. */
  runShare: 0.2,
  /** A sensor that fell to nothing while parked is taken to be off its valve for so long, ms. Assumed. */
  askedMs: 20 * MIN,
  /** Steps of a sensor are learned from differences between these, kPa: less is trembling, more is no step. Assumed. */
  stepLeastKpa: 0.2,
  stepMostKpa: 18,
  /** A rapid loss is at least so many steps, and so much of it is seen in the raw reading. Assumed. */
  rapidSteps: 2,
  rapidRawShare: 0.6,
  /** A sensor that reads this much or more sits on a valve, kPa (5 psi). Assumed. */
  fittedFromKpa: 5 * KPA_PER_PSI,
  /** Rapid: this much lost inside this window, temperature taken out. Kpa: contract. */
  rapidKpa: 14,
  rapidWindowMs: 2 * MIN,
  /** A rapid loss is over when less than this was lost in the last window, kPa. Assumed. */
  rapidEndKpa: 7,
  /** Gas of a road tire changes no faster than this, K a minute (25 K with a lag of 22 min is 1.14). Assumed. */
  gasKPerMin: 1.5,
  /** Over a gap of this length the gas may have gone anywhere, ms. Assumed. */
  gasGapMs: 10 * MIN,
  /** Spread of the gas where the sensor sits in it, K: an ideal sensor, and any sensor after three hours at rest (under and over). Assumed. */
  idealSpreadK: 0.75,
  restUnderK: 2.5,
  restOverK: 4,
  /** What the lag of a sensor and its step of 1 K can hide, K of gas, under and over. Assumed. */
  lagUnderK: { cap: 5, flowThrough: 6, internal: 2.5 },
  lagOverK: { cap: 7, flowThrough: 9, internal: 3 },
  /** Spread of the air, K: told, and guessed from the coolest the sensors have shown. Assumed. */
  airToldK: 2,
  airGuessedK: 5,
  /** The guessed air may have warmed this much an hour since, K. Assumed. */
  airCreepKPerHour: 1.5,
  /** What any reading may be off by its step, kPa, and how much of its own trembling is added. Assumed. */
  stepKpa: 1,
  trembleFactor: 2.5,
  trembleMostKpa: 8,
  /** Readings closer than this say how much a sensor trembles; it is a running mean over about this many. Assumed. */
  trembleGapMs: 150_000,
  trembleReadings: 16,
  /** Gas may be this much hotter than a sensor shows while the air is unknown, and this much cooler or hotter where it shows no rise, K. Assumed. */
  unknownAirK: 40,
  coolSensorK: 2,
  /** A sensor that was just put on shows the wheel's temperature after this many of its lags: under 1 % of the step is left. Law. */
  settleLags: 5,
  /** Rubber itself loses up to this share of the pressure in 30 days (memory): no leak. */
  rubberShare: 0.03,
  monthMs: 30 * 86_400_000,
  /** This near to the low limit a likely loss is reported too, when it is this much, kPa, and this share of the cold target is missing. Assumed. */
  nearLowKpa: 3,
  likelyKpa: 12,
  likelyShare: 0.07,
  /** What is lost in less than this is no slow loss, ms. Assumed. */
  slowLeastMs: 20 * MIN,
  /** Two readings closer than this must agree that air was lost. Assumed. */
  confirmMs: 5 * MIN,
  /** Another wheel tells what is common when it was heard within this time. Assumed. */
  commonMs: 70 * MIN,
  /** After a gap this long, the others are waited for so long before a wheel is judged alone, ms. Assumed. */
  awakeGapMs: 150 * MIN,
  awakeWaitMs: 15 * MIN,
  /** What a wheel usually shows is learned over this, ms; a reading counts for at most this. Assumed. */
  usualMs: 10 * 1440 * MIN,
  usualMostMs: 60 * MIN,
  usualEachMs: 2 * MIN,
  /** The whole rig is off by what its wheels agree on, beyond this and up to that, kPa: height, and air that isn't known. Assumed. */
  offsetEachMs: 2 * MIN,
  offsetFromKpa: 2,
  offsetMostKpa: 35,
  /** A step under this doesn't blur the comparison of an axle, kPa; a coarser one does. Assumed. */
  apartStepKpa: 10,
  /** Two figures may each be a step off: lower is by more steps than this. Assumed. */
  apartSteps: 2.2,
  /** A wheel with no other to compare with and no rest behind it must lose this much more, kPa. Assumed. */
  aloneKpa: 10,
  /** The trend keeps a point at most this often and this many. Assumed. */
  trendStepMs: 10 * MIN,
  trendLength: 64,
  /**
   * A trend has a break where two lines leave so many times less than one; its interval may be this wide, as a share of the rate, and so many
   * steps of the sensor may hide in it; the figure of now counts as a point of its own when it is this much younger than the last, days. Assumed.
   */
  trendBreakGain: 3,
  trendWidest: 0.75,
  trendHides: 1.5,
  trendLeastDays: 1 / 1440,
  /** Surely holding this much more than the least of a slow loss means that air was put in, kPa. Assumed. */
  slowBackKpa: 2,
  /** Apart: standard deviation of the gas's difference told by temperature, by kind, and by pressure, K. Assumed. */
  apartTempK: { ideal: 0.75, cap: 6, flowThrough: 8, internal: 1.5 },
  apartPressureK: 2.5,
  /** The two signs of heat may differ by this many standard deviations. Assumed. */
  apartSpanSigmas: 3,
  /** Lower: no cooler than this many standard deviations, else the cold explains it. Assumed. */
  apartCoolerSigmas: 2,
  /** Hotter by this much of gas on both signs together, at least this much by temperature alone. Assumed. */
  apartK: 11,
  apartLeastK: 5,
  /**
   * Wheels of other axles: their sensors differ more than their heat, and they lose air too. By temperature alone, and on both signs together, K.
   * Assumed.
   */
  apartPooledLeastK: 9,
  apartPooledK: 13.5,
  /** One side in the sun: at most this much, K, seen so soon after the rig set off, fading with this, ms. Assumed. */
  sunMostK: 12,
  sunWithinMs: 6 * MIN,
  sunFadesMs: 30 * MIN,
  /** Lower by this share of the absolute pressure against its habit, and against the axle outright. Assumed. */
  apartShare: 0.05,
  apartOutrightShare: 0.12,
  /** The alarm returns under this share of its limit. Assumed. */
  apartBackShare: 0.6,
  /** Of two wheels: the other's loss explains that this one reads more when it is over this share of it. Assumed. */
  apartExplainsShare: 0.3,
  /** Habits are learned only under these shares of the limits, this much of each difference, and those of the rise from this rise on, K. Assumed. */
  habitHeatShare: 0.55,
  habitPressureShare: 0.5,
  habitGain: 0.5,
  habitRiseK: 8,
  /** It must last this long; wheels are compared with each other this often; a habit is learned over this. Assumed. */
  apartHoldMs: 2 * MIN,
  apartStepMs: MIN,
  apartHabitMs: 6 * 60 * MIN,
  apartFreshMs: 5 * MIN,
  /** Cells: at 20 °C over the falling end of a coin cell (2.8 V until 85 % is spent). Assumed. */
  cellLowV: 2.7,
  cellOldLowV: 2.78,
  cellVeryLowV: 2.6,
  cellBackV: 0.08,
  /** A cell falls by this from +20 to -20 °C, V. Assumed. */
  cellColdV: 0.15,
  /** Life of an external sensor's cell (10 to 12 months) and of a sealed one (about 4 years); `ideal` is taken for external. Trade. */
  cellLifeMs: { ideal: 365 * 86_400_000, cap: 365 * 86_400_000, flowThrough: 365 * 86_400_000, internal: 4 * 365 * 86_400_000 },
  /**
   * Supply of a repeater: a 12 V one is much worn under this (healthy is about 12.5 V at rest, trade), a single lithium cell (under 9 V it is
   * taken for one) nearly spent under that; and how far it must come back. Assumed.
   */
  repeaterLowV: 11.8,
  repeaterCellLowV: 3.5,
  repeaterIsCellUnderV: 9,
  repeaterBackV: 0.2,
  /** No reading for this long, ms, and for this many of the wheel's own median intervals: it isn't reporting. Contract. */
  silentAfterMs: 15 * MIN,
  silentIntervals: 10,
  /** How many intervals make a wheel's habit. Assumed. */
  habitLength: 200,
  /**
   * A wheel is heard as on the move when its last interval is under this, ms, or under so many of its shortest of late, which are forgotten
   * by this factor a reading: a sign of life every few minutes is a parked rig. Assumed.
   */
  rollingGapMs: 4 * MIN,
  rollingGaps: 1.6,
  denseForgets: 1.0005,
  /** A temperature has moved on by this, K. Stuck: no change over so long, ms, while the others moved on so often. Assumed. */
  moveK: 3,
  stuckMs: 20 * MIN,
  stuckEachMs: 2 * MIN,
  stuckMoves: 2.6,
  movedShare: 0.75,
  /** From here on it is no measure for the other wheels of its axle. Assumed. */
  frozenMs: 15 * MIN,
  frozenMoves: 2,
  /**
   * Air was put in: the reading rose by this and by so many steps within this time, kPa and ms, while the temperature moved by less than this,
   * K; its axle isn't compared for so long, ms. Assumed.
   */
  filledKpa: 10,
  filledSteps: 1.5,
  filledWithinK: 6,
  filledGapMs: 2.5 * MIN,
  filledMs: 45 * MIN,
  /** A connected unit that was never heard is missed after so long of a rig on the move, ms. Assumed. */
  neverHeardMs: 13 * MIN,
  /** A tire that sounded as low, carries its load and has lost no more than that since, kPa and steps, sounds again after so long, ms. Assumed. */
  lowAgainKpa: 6.9,
  lowAgainSteps: 1,
  /** Share of the cold pressure by which it must hold more for that to be over. Assumed. */
  lowFilledShare: 0.05,
  lowAgainMs: 14 * 24 * 60 * MIN,
  /**
   * A unit that is said to be disconnected is on the road with the rig when its sensors were heard for so long, ms, without a longer pause than
   * that: one that was left behind is out of reach by then, and its sensors sleep after 5 to 15 min. Assumed.
   */
  restHeardMs: 20 * MIN,
  restPauseMs: 3.5 * MIN,
  /** Half of a unit's wheels must have been heard within this time for the rig to count as awake, ms. Assumed. */
  busyWindowMs: 5 * MIN,
  /** A reading is live up to this age, ms: sensors send about once a minute on the move and fall asleep after 5 min or more. Trade. */
  liveForMs: 5 * MIN,
  /** A whole unit is missed after this long, ms: over the 10 min that a first acquisition takes. Assumed. */
  unitSilentMs: 12.5 * MIN,
  /** Others must have been heard this lately for a wheel to be missed, ms, or within this many of their own intervals. Assumed. */
  othersWithinMs: 2 * MIN,
  othersIntervals: 2.5,
  /** Figures that repeat the last ones within this time tell nothing new, ms. Assumed. */
  repeatMs: 60_000,
  /** The clock moves event time on for so long after the last reading, ms. Assumed. */
  tickLagMs: 120 * MIN,
  /** Event time between two looks for silence, ms. */
  scanMs: 30_000,
  /** A time further ahead of the clock than this is wrong, ms: clocks of programs differ by less. Contract. */
  aheadMs: 5 * MIN,
  /** A reading this late is still put in its place, ms. */
  lateMs: 10 * MIN,
  /** A sensor said to be off the valve is believed this long, ms. Assumed. */
  offMs: 60 * MIN,
  /** After its sensor was handled a wheel says nothing of whether the rig moves, ms (sensors fall asleep after 15 min). Assumed. */
  handledMs: 30 * MIN,
  /** Close enough to the target when filling, kPa of cold pressure (1 psi, trade). */
  atTargetKpa: KPA_PER_PSI,
  /** Top-up mode ends by itself, ms. */
  topUpMs: 30 * MIN,
  /** With no wheel under its target it ends when this is over, ms. Assumed. */
  topUpLookMs: 3 * MIN,
  /** On a track day rapid takes this much in the window, kPa: twice a bleed of 3 psi and a little (common practice, no source). */
  rapidTrackKpa: 7 * KPA_PER_PSI,
  /** Seen once, an alarm that grows worse by this rings again: kPa, K. Assumed. */
  worseKpa: 2 * KPA_PER_PSI,
  worseK: 5,
} as const;
