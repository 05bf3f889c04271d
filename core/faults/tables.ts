/**
 * What may be wrong, what tells it, and how likely each outcome is under each cause. Causes and their order are common practice, no source; all
 * weights, minutes and probabilities are assumed: starting points that an owner may change.
 */

/** What the owner sees. */
export const BRANCH_IDS = ['one', 'many', 'wrong', 'rings', 'quiet', 'lamp'] as const;
export type BranchId = (typeof BRANCH_IDS)[number];

/** How much a test asks for: a look, a hand, a tool. */
export type Effort = 'look' | 'hand' | 'tool';

export interface BranchTest {
  id: string;
  minutes: number;
  effort: Effort;
  /** Outcome, cause, probability: each cause adds up to 1 over the outcomes. */
  outcomes: Record<string, Record<string, number>>;
}

export interface Branch {
  id: BranchId;
  /** How often each is the cause, as weights. */
  causes: Record<string, number>;
  tests: BranchTest[];
  /** The usual order of the trade. */
  usual: string[];
}

/** A test of two outcomes: the chance of the first under each cause, and under all that aren't named. */
function two(
  id: string,
  minutes: number,
  effort: Effort,
  [yes, no]: readonly [string, string],
  chances: Record<string, number>,
  rest: number,
): (causes: readonly string[]) => BranchTest {
  return (causes) => ({
    id,
    minutes,
    effort,
    outcomes: {
      [yes]: Object.fromEntries(causes.map((c) => [c, chances[c] ?? rest])),
      [no]: Object.fromEntries(causes.map((c) => [c, 1 - (chances[c] ?? rest)])),
    },
  });
}

/** A test of several outcomes: under each cause a chance for each, in their order; `rest` for causes that aren't named. */
function several(
  id: string,
  minutes: number,
  effort: Effort,
  outcomes: readonly string[],
  chances: Record<string, readonly number[]>,
  rest: readonly number[],
): (causes: readonly string[]) => BranchTest {
  return (causes) => ({
    id,
    minutes,
    effort,
    outcomes: Object.fromEntries(
      outcomes.map((o, k) => [o, Object.fromEntries(causes.map((c) => [c, (chances[c] ?? rest)[k] as number]))]),
    ),
  });
}

const HEARD = ['heard', 'notHeard'] as const;
const YES = ['yes', 'no'] as const;

function branch(
  id: BranchId,
  causes: Record<string, number>,
  tests: readonly ((causes: readonly string[]) => BranchTest)[],
  usual: string[],
): Branch {
  const names = Object.keys(causes);
  return { id, causes, tests: tests.map((t) => t(names)), usual };
}

export const BRANCHES: Record<BranchId, Branch> = {
  one: branch(
    'one',
    { display: 14, asleep: 24, seat: 16, cell: 22, damp: 8, place: 7, reach: 7, noise: 5, dead: 6 },
    [
      two('look', 1, 'look', YES, { display: 0.97 }, 0.01),
      two('wake', 3, 'hand', HEARD, { asleep: 0.96, noise: 0.2, reach: 0.1, seat: 0.05, damp: 0.08 }, 0.02),
      two('refit', 4, 'hand', HEARD, { seat: 0.95, asleep: 0.8, damp: 0.2, cell: 0.04, noise: 0.08 }, 0.02),
      two('volts', 5, 'tool', ['low', 'good'], { cell: 0.96, damp: 0.1 }, 0.03),
      two('newCell', 7, 'tool', HEARD, { cell: 0.96, damp: 0.35, seat: 0.8, asleep: 0.9, noise: 0.08 }, 0.02),
      two('contacts', 5, 'tool', ['bad', 'clean'], { damp: 0.96, cell: 0.05 }, 0.02),
      two('dry', 6, 'tool', HEARD, { damp: 0.96, seat: 0.8, asleep: 0.8, cell: 0.04 }, 0.02),
      two('near', 4, 'hand', HEARD, { reach: 0.96, noise: 0.4, asleep: 0.08, display: 0.04 }, 0.02),
      two('pair', 6, 'hand', HEARD, { place: 0.95, asleep: 0.6, noise: 0.25 }, 0.03),
      two('readBack', 3, 'look', ['differs', 'right'], { place: 0.95 }, 0.02),
      several(
        'swap',
        12,
        'tool',
        ['goes', 'stays', 'both'],
        {
          cell: [0.92, 0.02, 0.06],
          damp: [0.75, 0.02, 0.23],
          dead: [0.96, 0.02, 0.02],
          seat: [0.04, 0.1, 0.86],
          asleep: [0.02, 0.03, 0.95],
          reach: [0.02, 0.92, 0.06],
          noise: [0.02, 0.4, 0.58],
          place: [0.1, 0.85, 0.05],
          display: [0.02, 0.93, 0.05],
        },
        [0.34, 0.33, 0.33],
      ),
      two('away', 10, 'hand', HEARD, { noise: 0.96, asleep: 0.3 }, 0.02),
      two('later', 8, 'look', HEARD, { noise: 0.93, asleep: 0.1 }, 0.02),
      two('front', 6, 'hand', HEARD, { reach: 0.95, noise: 0.3, asleep: 0.05 }, 0.02),
      two('tap', 2, 'hand', HEARD, { asleep: 0.8, seat: 0.04 }, 0.02),
      two('tool', 5, 'tool', ['none', 'read'], { dead: 0.97, cell: 0.95, damp: 0.8 }, 0.04),
      two('another', 25, 'tool', HEARD, { dead: 0.97, cell: 0.97, damp: 0.95, seat: 0.9, asleep: 0.95, noise: 0.1 }, 0.03),
    ],
    [
      'look',
      'wake',
      'refit',
      'volts',
      'contacts',
      'newCell',
      'swap',
      'readBack',
      'pair',
      'near',
      'away',
      'another',
      'tool',
      'tap',
      'dry',
      'later',
      'front',
    ],
  ),
  many: branch(
    'many',
    { display: 18, monitorOff: 14, asleep: 28, repeater: 18, reach: 8, noise: 8, reset: 6, cells: 5 },
    [
      two('look', 1, 'look', YES, { display: 0.97 }, 0.01),
      two('power', 2, 'hand', ['off', 'on'], { monitorOff: 0.97 }, 0.01),
      two('socket', 4, 'hand', HEARD, { monitorOff: 0.94 }, 0.02),
      two('handled', 1, 'look', YES, { asleep: 0.6 }, 0.06),
      two('roll', 4, 'hand', HEARD, { asleep: 0.97, noise: 0.15, reach: 0.05 }, 0.02),
      two('repeaterPower', 4, 'tool', ['dead', 'good'], { repeater: 0.94 }, 0.02),
      two('fuse', 4, 'tool', ['blown', 'good'], { repeater: 0.5 }, 0.01),
      two('readBack', 3, 'look', ['open', 'kept'], { reset: 0.96 }, 0.02),
      two('near', 5, 'hand', HEARD, { reach: 0.95, repeater: 0.7, noise: 0.3 }, 0.02),
      two('carry', 5, 'hand', HEARD, { reach: 0.95, noise: 0.25, repeater: 0.05 }, 0.02),
      two('away', 10, 'hand', HEARD, { noise: 0.95, asleep: 0.5 }, 0.02),
      two('volts', 8, 'tool', ['low', 'good'], { cells: 0.95 }, 0.03),
      two('ages', 1, 'look', ['old', 'young'], { cells: 0.95 }, 0.15),
      two('newCell', 8, 'tool', HEARD, { cells: 0.96 }, 0.02),
      two('pairOne', 6, 'hand', HEARD, { reset: 0.95, asleep: 0.3 }, 0.02),
      two('later', 8, 'look', HEARD, { noise: 0.94, asleep: 0.05 }, 0.02),
    ],
    [
      'look',
      'power',
      'socket',
      'handled',
      'roll',
      'volts',
      'newCell',
      'readBack',
      'pairOne',
      'carry',
      'near',
      'away',
      'later',
      'repeaterPower',
      'fuse',
      'ages',
    ],
  ),
  wrong: branch(
    'wrong',
    { warm: 20, air: 20, swapped: 15, gauge: 10, seat: 10, stuck: 10, jumps: 10, offset: 7, unit: 6 },
    [
      two('units', 1, 'look', YES, { unit: 0.97 }, 0.01),
      two('rested', 1, 'look', ['warm', 'rested'], { warm: 0.96 }, 0.2),
      two('all', 1, 'look', YES, { unit: 0.95, gauge: 0.9 }, 0.05),
      two('steady', 1, 'look', YES, { offset: 0.94, gauge: 0.85, unit: 0.9, swapped: 0.3 }, 0.15),
      two('another', 10, 'tool', ['right', 'same'], { offset: 0.96, jumps: 0.9, stuck: 0.85, seat: 0.7 }, 0.03),
      two('age', 1, 'look', ['old', 'young'], { stuck: 0.9, jumps: 0.3 }, 0.05),
      two('gauge', 3, 'hand', ['agrees', 'differs'], { air: 0.95, warm: 0.94 }, 0.06),
      two('second', 3, 'hand', ['agree', 'differ'], { gauge: 0.05 }, 0.95),
      several(
        'letOut',
        4,
        'hand',
        ['this', 'other', 'none'],
        { swapped: [0.03, 0.94, 0.03], stuck: [0.05, 0.02, 0.93], jumps: [0.8, 0.02, 0.18], seat: [0.75, 0.02, 0.23] },
        [0.96, 0.02, 0.02],
      ),
      two('refit', 4, 'hand', ['right', 'same'], { seat: 0.95, stuck: 0.15, jumps: 0.08 }, 0.03),
      two('soap', 3, 'hand', ['bubbles', 'none'], { seat: 0.75, air: 0.1 }, 0.02),
      two('volts', 5, 'tool', ['low', 'good'], { jumps: 0.94, stuck: 0.15 }, 0.04),
      two('newCell', 7, 'tool', ['right', 'same'], { jumps: 0.93, stuck: 0.3, seat: 0.7 }, 0.03),
      two('cool', 3, 'look', ['right', 'same'], { warm: 0.93 }, 0.04),
      two('fill', 5, 'tool', ['right', 'same'], { air: 0.95 }, 0.04),
      several(
        'exchange',
        12,
        'tool',
        ['goes', 'stays', 'both'],
        {
          offset: [0.95, 0.03, 0.02],
          jumps: [0.85, 0.05, 0.1],
          stuck: [0.75, 0.05, 0.2],
          seat: [0.05, 0.15, 0.8],
          swapped: [0.1, 0.1, 0.8],
        },
        [0.03, 0.94, 0.03],
      ),
    ],
    [
      'units',
      'rested',
      'cool',
      'age',
      'gauge',
      'second',
      'fill',
      'refit',
      'soap',
      'letOut',
      'volts',
      'newCell',
      'exchange',
      'another',
      'all',
      'steady',
    ],
  ),
  rings: branch(
    'rings',
    { low: 30, limit: 25, cold: 12, mark: 10, notHeard: 9, hub: 6, cellSign: 8 },
    [
      several(
        'reads',
        1,
        'look',
        ['low', 'hot', 'notHeard', 'cell', 'high'],
        {
          low: [0.96, 0.01, 0.01, 0.01, 0.01],
          cold: [0.96, 0.01, 0.01, 0.01, 0.01],
          limit: [0.5, 0.08, 0.02, 0.02, 0.38],
          mark: [0.6, 0.1, 0.1, 0.1, 0.1],
          notHeard: [0.02, 0.01, 0.95, 0.01, 0.01],
          hub: [0.02, 0.94, 0.01, 0.01, 0.02],
          cellSign: [0.02, 0.01, 0.05, 0.91, 0.01],
        },
        [0.2, 0.2, 0.2, 0.2, 0.2],
      ),
      two('gauge', 3, 'hand', ['low', 'right'], { low: 0.96, cold: 0.25 }, 0.04),
      two('morning', 1, 'look', YES, { cold: 0.95, low: 0.35 }, 0.2),
      two('warmed', 15, 'look', ['ends', 'stays'], { cold: 0.94, mark: 0.05 }, 0.03),
      two('limits', 3, 'look', ['wrong', 'right'], { limit: 0.95, cold: 0.1 }, 0.04),
      two('ack', 1, 'hand', ['ends', 'stays'], { mark: 0.94 }, 0.04),
      two('offOn', 2, 'hand', ['ends', 'stays'], { mark: 0.93 }, 0.04),
      two('fill', 5, 'tool', ['ends', 'stays'], { low: 0.95, cold: 0.85, mark: 0.1 }, 0.05),
      two('feel', 3, 'hand', ['hot', 'alike'], { hub: 0.95 }, 0.04),
      two('heard', 1, 'look', YES, { notHeard: 0.05, cellSign: 0.6 }, 0.95),
      two('newCell', 7, 'tool', ['ends', 'stays'], { cellSign: 0.95, notHeard: 0.4, mark: 0.05 }, 0.03),
    ],
    ['reads', 'gauge', 'morning', 'ack', 'offOn', 'fill', 'limits', 'warmed', 'heard', 'feel', 'newCell'],
  ),
  quiet: branch(
    'quiet',
    { sound: 24, limit: 22, saved: 15, asleep: 14, delay: 10, other: 12, offUnit: 10 },
    [
      two('sound', 1, 'look', ['off', 'on'], { sound: 0.97 }, 0.01),
      two('heard', 1, 'look', ['old', 'now'], { asleep: 0.94, other: 0.25, offUnit: 0.5 }, 0.04),
      two('unit', 1, 'look', ['off', 'on'], { offUnit: 0.96 }, 0.01),
      several(
        'readBack',
        3,
        'look',
        ['factory', 'far', 'right'],
        { saved: [0.94, 0.03, 0.03], limit: [0.03, 0.94, 0.03], other: [0.05, 0.1, 0.85] },
        [0.02, 0.03, 0.95],
      ),
      two('wake', 3, 'hand', ['rings', 'quiet'], { asleep: 0.94, delay: 0.2 }, 0.03),
      two('minutes', 4, 'look', ['rings', 'quiet'], { delay: 0.95, asleep: 0.05 }, 0.03),
      two('ids', 4, 'look', ['differs', 'right'], { other: 0.95 }, 0.02),
      two('sameUnit', 1, 'look', YES, { offUnit: 0.94, asleep: 0.3 }, 0.04),
      two('falls', 2, 'hand', ['this', 'other'], { other: 0.06 }, 0.95),
      two('drive', 6, 'hand', ['rings', 'quiet'], { delay: 0.93, asleep: 0.9 }, 0.04),
      two('keyAgain', 6, 'hand', ['rings', 'quiet'], { saved: 0.95, limit: 0.9 }, 0.03),
      two('test', 2, 'hand', ['rings', 'quiet'], { sound: 0.03, delay: 0.6 }, 0.6),
    ],
    ['sound', 'unit', 'heard', 'wake', 'readBack', 'minutes', 'drive', 'keyAgain', 'falls', 'ids', 'sameUnit', 'test'],
  ),
  lamp: branch(
    'lamp',
    { low: 44, cold: 15, notReset: 15, rotated: 7, taught: 9, sensor: 13, sealant: 6, supply: 8, system: 8 },
    [
      two(
        'blinks',
        1,
        'look',
        ['blinking', 'steady'],
        { sensor: 0.93, taught: 0.9, sealant: 0.8, supply: 0.6, system: 0.93, rotated: 0.1 },
        0.03,
      ),
      several(
        'done',
        1,
        'look',
        ['nothing', 'filled', 'moved', 'wheels', 'sealant', 'battery'],
        {
          low: [0.82, 0.06, 0.03, 0.04, 0.03, 0.02],
          cold: [0.88, 0.03, 0.03, 0.02, 0.02, 0.02],
          notReset: [0.06, 0.72, 0.1, 0.08, 0.02, 0.02],
          rotated: [0.02, 0.03, 0.92, 0.01, 0.01, 0.01],
          taught: [0.03, 0.02, 0.02, 0.91, 0.01, 0.01],
          sealant: [0.02, 0.02, 0.01, 0.01, 0.93, 0.01],
          supply: [0.3, 0.01, 0.01, 0.01, 0.01, 0.66],
        },
        [0.9, 0.02, 0.02, 0.02, 0.02, 0.02],
      ),
      two('gauge', 6, 'hand', ['low', 'right'], { low: 0.96, cold: 0.5, sealant: 0.2 }, 0.05),
      two('morning', 1, 'look', YES, { cold: 0.95, low: 0.25 }, 0.15),
      two('fill', 8, 'tool', ['out', 'on'], { low: 0.94, cold: 0.93 }, 0.04),
      two('reset', 12, 'hand', ['out', 'on'], { notReset: 0.95, rotated: 0.5, cold: 0.4, low: 0.1 }, 0.03),
      two('volts', 3, 'tool', ['weak', 'good'], { supply: 0.95 }, 0.06),
      two('valve', 3, 'hand', ['traces', 'clean'], { sealant: 0.9 }, 0.03),
      two('places', 4, 'hand', ['differ', 'right'], { rotated: 0.94 }, 0.05),
      two('others', 1, 'look', YES, { system: 0.8, supply: 0.7 }, 0.06),
      two('teach', 15, 'tool', ['out', 'on'], { taught: 0.95, rotated: 0.93 }, 0.04),
      several(
        'reader',
        20,
        'tool',
        ['silentSensor', 'allHeard', 'noAnswer'],
        {
          sensor: [0.94, 0.03, 0.03],
          sealant: [0.9, 0.06, 0.04],
          system: [0.03, 0.03, 0.94],
          supply: [0.1, 0.5, 0.4],
          taught: [0.3, 0.66, 0.04],
        },
        [0.03, 0.95, 0.02],
      ),
      two('workshop', 30, 'tool', ['stored', 'none'], { system: 0.95, supply: 0.1 }, 0.04),
      two('clean', 25, 'tool', ['out', 'on'], { sealant: 0.93, sensor: 0.05 }, 0.03),
    ],
    [
      'gauge',
      'fill',
      'morning',
      'blinks',
      'done',
      'reset',
      'others',
      'volts',
      'places',
      'valve',
      'teach',
      'reader',
      'clean',
      'workshop',
    ],
  ),
};
