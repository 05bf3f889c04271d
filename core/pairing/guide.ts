import type { SensorKind } from '#schema/common.ts';
import type { LooseParts, PairingStyle } from '#schema/unit.ts';
import { isMotorcycle, placeOf, type RigWheel } from '../rig/positions.ts';
import type { Shows } from './signs.ts';

export const PAIRING_STYLES = [
  'heldNear',
  'screwedOn',
  'cellIn',
  'wakeTool',
  'inflateBleed',
  'phoneFirst',
  'carried',
  'factory',
] as const satisfies readonly PairingStyle[];

/** Something to see to before the first wheel. */
export type BeforeStep =
  | 'chargeMonitor'
  | 'unitsFirst'
  | 'limitsFirst'
  | 'limitsAfter'
  | 'stood10'
  | 'othersAway'
  | 'valvesTogether'
  | 'valvesApart'
  | 'inRows'
  | 'rightList'
  | 'tray'
  | 'toolReady'
  | 'errorTone'
  | 'zeroExpected';

/** One thing to do at a wheel. */
export interface GuideStep {
  code:
    | 'open'
    | 'choose'
    | 'holdNear'
    | 'screwOn'
    | 'cellIn'
    | 'toolAt'
    | 'bleed'
    | 'carryTo'
    | 'fit'
    | 'wait'
    | 'read'
    | 'save'
    | 'seen';
}

/** What is left to do when every wheel is paired. */
export type AfterStep = 'saveOnce' | 'leaveMenu';

export interface StyleGuide {
  style: PairingStyle;
  before: BeforeStep[];
  steps: GuideStep[];
  after: AfterStep[];
  /** How long to wait for an answer, s, before it counts as none. */
  waitS: number;
  /** What to do then: off the valve for so long, and again; null: simply again. */
  offS: number | null;
  /** The sensor is on the wheel while it is paired, so it reads pressure at once. */
  onTheWheel: boolean;
}

/** How long each style waits (90 s, off 10 s: common practice, no source; the others assumed). */
const guides: Record<PairingStyle, Omit<StyleGuide, 'style' | 'before' | 'after'>> = {
  heldNear: { steps: steps('open', 'holdNear', 'read', 'save'), waitS: 30, offS: null, onTheWheel: false },
  screwedOn: { steps: steps('open', 'screwOn', 'wait', 'read', 'save'), waitS: 60, offS: 10, onTheWheel: true },
  cellIn: { steps: steps('open', 'cellIn', 'wait', 'read', 'save'), waitS: 30, offS: 10, onTheWheel: false },
  wakeTool: { steps: steps('toolAt', 'wait', 'seen'), waitS: 30, offS: null, onTheWheel: true },
  inflateBleed: { steps: steps('open', 'bleed', 'wait', 'read', 'save'), waitS: 60, offS: null, onTheWheel: true },
  phoneFirst: { steps: steps('choose', 'screwOn', 'wait', 'seen'), waitS: 90, offS: 10, onTheWheel: true },
  carried: { steps: steps('open', 'carryTo', 'wait', 'read', 'save'), waitS: 30, offS: null, onTheWheel: true },
  factory: { steps: steps('fit', 'seen'), waitS: 120, offS: null, onTheWheel: true },
};

function steps(...codes: GuideStep['code'][]): GuideStep[] {
  return codes.map((code) => ({ code }));
}

export interface GuideQuestion {
  style: PairingStyle;
  limitsFirst: boolean;
  /** Kinds of sensor of the wheels to be paired. */
  kinds: readonly SensorKind[];
  /** Where internal sensors are; left out: on the valve. */
  mount?: LooseParts['mount'];
  /** The monitor holds several vehicles' lists. */
  lists: number;
  factoryCoded: boolean;
  /** What the monitor shows; left out: IDs, saved one by one. */
  shows?: Shows;
}

/** The guide of a style: what to see to first, and what to do at every wheel. */
export function styleGuide(q: GuideQuestion): StyleGuide {
  const guide = guides[q.style];
  const before: BeforeStep[] = ['chargeMonitor', 'unitsFirst'];
  if (q.limitsFirst) before.push('limitsFirst');
  if (q.style !== 'factory') before.push('stood10', 'othersAway');
  // Coded sensors report their own place whoever is near.
  if (guide.onTheWheel && q.style !== 'factory')
    before.push(q.kinds.every((k) => k === 'internal') && q.mount === 'band' ? 'valvesTogether' : 'valvesApart');
  if (!guide.onTheWheel) before.push('inRows');
  if (q.lists > 1 && q.style !== 'factory') before.push('rightList');
  if (q.style === 'factory') before.push('tray');
  if (q.style === 'wakeTool') before.push('toolReady');
  // An error beep is taken for a yes by whoever never heard one.
  if (q.shows?.signs.includes('beep') && q.style !== 'factory') before.push('errorTone');
  if (!guide.onTheWheel) before.push('zeroExpected');
  if (!q.limitsFirst) before.push('limitsAfter');
  const saves = guide.steps.some((s) => s.code === 'save');
  const save = q.shows?.save ?? 'each';
  // Without digits to read, waiting for the sign is one step.
  const oneWait = q.shows?.ids === false && guide.steps.some((s) => s.code === 'wait');
  return {
    style: q.style,
    before,
    ...guide,
    steps: guide.steps.filter(
      (s) => (save === 'each' || s.code !== 'save') && !(oneWait && (s.code === 'read' || s.code === 'seen')),
    ),
    after: saves && save === 'end' ? ['saveOnce'] : saves && save === 'none' ? ['leaveMenu'] : [],
  };
}

/** Why a style cannot be used with a sensor of a kind. */
export type StyleRefusal = 'internalIsInside' | 'sealedCell' | 'notFactory' | 'toolIsForInternal';

/** Whether a kit can be paired in a style; null when it can. */
export function styleRefusal(style: PairingStyle, kind: SensorKind, factoryCoded: boolean): StyleRefusal | null {
  if (style === 'factory') return factoryCoded ? null : 'notFactory';
  if (kind === 'internal') {
    if (style === 'screwedOn' || style === 'phoneFirst') return 'internalIsInside';
    if (style === 'cellIn') return 'sealedCell';
  } else if (style === 'wakeTool') return 'toolIsForInternal';
  return null;
}

/**
 * The order in which a style wants the wheels. A wake tool and a carried monitor go round the rig: the driver's side from the front, then
 * the other side from the back; all else follows the plan. Spares come last.
 */
export function pairingOrder(style: PairingStyle, wheels: readonly RigWheel[]): RigWheel[] {
  const road = wheels.filter((w) => w.place !== 'S');
  const spares = wheels.filter((w) => w.place === 'S');
  if (style !== 'wakeTool' && style !== 'carried') return [...road, ...spares];
  const left = road.filter((w) => placeOf(w.local)[0] !== 'R');
  const right = road.filter((w) => placeOf(w.local)[0] === 'R');
  // Outer dual before inner: the way the walker meets them.
  const outerFirst = (list: RigWheel[]) =>
    [...list].sort(
      (a, b) =>
        a.unitIndex - b.unitIndex ||
        (a.axleIndex ?? 0) - (b.axleIndex ?? 0) ||
        (a.place.endsWith('O') ? -1 : b.place.endsWith('O') ? 1 : 0),
    );
  const back = outerFirst(right).sort((a, b) => b.unitIndex - a.unitIndex || (b.axleIndex ?? 0) - (a.axleIndex ?? 0));
  return [...outerFirst(left), ...back, ...spares];
}

/** Metal stems only: the refusal is said before the wheel is opened. */
export const needsMetalStem = (wheel: RigWheel, kind: SensorKind): boolean =>
  wheel.wheel.stem === 'rubber' && (kind === 'flowThrough' || (kind === 'cap' && isMotorcycle(wheel.unit)));
