import type { SensorKind } from '#schema/common.ts';
import type { LooseParts, Stem, StemForm } from '#schema/unit.ts';
import type { RigWheel } from '../rig/positions.ts';

/** One thing to do at a wheel. */
export type FittingStep =
  | 'mark'
  | 'lookAtStem'
  | 'capOff'
  | 'valveClean'
  | 'boot'
  | 'lockNut'
  | 'film'
  | 'ownCapOff'
  | 'setScrewOut'
  | 'sensorOn'
  | 'nutBack'
  | 'setScrewIn'
  | 'ownCapOn'
  | 'bootOver'
  | 'lockTool'
  | 'soap'
  | 'tape'
  | 'shop'
  | 'shopBalance'
  | 'shopWake';

/** Cautions that belong beside the act. */
export type FittingCaution = 'metalOnly' | 'rubberSchool' | 'hotParts' | 'jack' | 'notTooTight' | 'looksInward' | 'longStem';

export interface FittingQuestion {
  kind: SensorKind;
  stem?: Stem | undefined;
  stemForm?: StemForm | undefined;
  valveFacing?: 'in' | 'out' | undefined;
  dualInner: boolean;
  motorcycle: boolean;
  /** It has no cell yet, or its cell has a film. */
  newCell: boolean;
  parts: LooseParts;
}

export interface FittingCard {
  steps: FittingStep[];
  cautions: FittingCaution[];
  /** Minutes it takes somebody who has done two of them. Assumed. */
  minutes: number;
}

/**
 * The card of one wheel: its steps in order, made from its own stem, sensor and loose parts (common practice, no source; the order is
 * boot, nut all the way down, sensor on quickly, nut back up against it, boot over).
 */
export function fittingCard(q: FittingQuestion): FittingCard {
  const cautions: FittingCaution[] = [];
  if (q.kind === 'internal')
    return { steps: ['mark', 'shopWake', 'shop', 'shopBalance', 'soap'], cautions: ['jack'], minutes: 20 };
  const { boot, antiTheft, setScrew } = q.parts;
  // The one-piece kind turns freely on its thread: there is nothing to lock it against.
  const lockNut = q.parts.lockNut && !antiTheft;
  const flow = q.kind === 'flowThrough';
  if (flow || q.motorcycle) cautions.push('metalOnly');
  else if (q.stem === 'rubber') cautions.push('rubberSchool');
  cautions.push('hotParts');
  if (q.dualInner) cautions.push('jack');
  if (q.valveFacing === 'in') cautions.push('looksInward');
  if (q.stemForm === 'long' || q.stemForm === 'extension') cautions.push('longStem');
  cautions.push('notTooTight');
  // The cap of a flow-through is in the wrench's way, and over the set screw of some.
  const ownCap = flow && (lockNut || setScrew);
  const steps: FittingStep[] = ['mark', 'lookAtStem'];
  if (q.newCell) steps.push('film');
  steps.push('capOff', 'valveClean');
  if (boot !== 'none') steps.push('boot');
  if (lockNut) steps.push('lockNut');
  if (ownCap) steps.push('ownCapOff');
  if (setScrew) steps.push('setScrewOut');
  // Without its tool the one-piece kind spins on the valve and never seals.
  if (antiTheft) steps.push('lockTool');
  steps.push('sensorOn');
  if (lockNut) steps.push('nutBack');
  if (setScrew) steps.push('setScrewIn');
  steps.push('soap');
  if (ownCap) steps.push('ownCapOn');
  if (boot !== 'none') steps.push('bootOver');
  if (q.stemForm !== 'short') steps.push('tape');
  return { steps, cautions, minutes: (flow ? 6 : 4) + (q.dualInner ? 4 : 0) };
}

/** Where the owner stands when the walk begins. */
export type WalkFrom = 'front' | 'behind' | 'left' | 'right';

/**
 * The shortest walk round a rig that nobody can step across: once round it, from where the owner stands. The left side is walked from the
 * front to the back, the right side from the back to the front.
 */
export function walkRound(wheels: readonly RigWheel[], from: WalkFrom): RigWheel[] {
  const depth = (w: RigWheel) => w.unitIndex * 100 + (w.axleIndex ?? 50);
  const outer = (w: RigWheel) => (w.place.endsWith('O') ? 0 : 1);
  const road = wheels.filter((w) => w.place !== 'S');
  const left = road.filter((w) => !w.place.startsWith('R')).sort((a, b) => depth(a) - depth(b) || outer(a) - outer(b));
  const right = road.filter((w) => w.place.startsWith('R')).sort((a, b) => depth(b) - depth(a) || outer(a) - outer(b));
  const spares = wheels.filter((w) => w.place === 'S');
  // Beside the right of it one begins at its back and goes forward; behind it, the same way round.
  const ring = from === 'right' || from === 'behind' ? [...right, ...left] : [...left, ...right];
  return [...ring, ...spares];
}
