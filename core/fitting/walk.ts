import type { SensorKind } from '#schema/common.ts';
import type { PairingStyle } from '#schema/unit.ts';
import { type FittingCard, type FittingQuestion, type FittingStep, fittingCard } from './cards.ts';

/** A step of the walk that pairing asks for, among those of fitting. */
export type PairingAct = 'gauge' | 'open' | 'choose' | 'cellIn' | 'sign';
export type WalkStep = FittingStep | PairingAct;

/** Styles that end with the sensor on the valve, so that pairing and fitting are one walk. */
const ONE_WALK: ReadonlySet<PairingStyle> = new Set(['screwedOn', 'phoneFirst', 'factory', 'cellIn']);

/** Whether a kit of this style is paired and fitted in one go, wheel by wheel. A sensor inside a tire never is. */
export const inOneWalk = (style: PairingStyle, kind: SensorKind): boolean => kind !== 'internal' && ONE_WALK.has(style);

/** Steps that lead to the sensor's sign: over once the wheel has a sensor. */
export const PAIRING_ACTS: ReadonlySet<string> = new Set(['gauge', 'open', 'choose', 'cellIn', 'sign']);

/**
 * The card of a wheel where pairing and fitting are one: gauge, everything that goes down the stem first, the monitor's part, the sensor on
 * the valve, its sign, and what locks and covers it (common practice, no source: who screws a sensor on to pair it puts boot and nut down
 * the stem first).
 */
export function walkCard(style: PairingStyle, q: FittingQuestion): Omit<FittingCard, 'steps'> & { steps: WalkStep[] } {
  // With this style the cell goes in when the monitor is ready for it.
  const card = fittingCard({ ...q, newCell: q.newCell && style !== 'cellIn' });
  const at = card.steps.indexOf('sensorOn');
  const ask: WalkStep[] =
    style === 'factory' ? [] : style === 'phoneFirst' ? ['choose'] : style === 'cellIn' ? ['open', 'cellIn'] : ['open'];
  return {
    ...card,
    steps: ['gauge', ...card.steps.slice(0, at), ...ask, 'sensorOn', 'sign', ...card.steps.slice(at + 1)],
    minutes: card.minutes + 2,
  };
}

/** Whether the monitor wants a save press at every wheel of a walk: a coded sensor is learned by nobody, and a phone keeps what it took. */
export const savesInWalk = (style: PairingStyle, save: 'each' | 'end' | 'none'): boolean =>
  save === 'each' && (style === 'screwedOn' || style === 'cellIn');

/** The first step that is still to do; -1 when the wheel is finished. */
export const walkStage = (steps: readonly WalkStep[], done: ReadonlySet<string>, paired: boolean): number =>
  steps.findIndex((s) => !(s === 'sign' ? paired : done.has(s) || (paired && PAIRING_ACTS.has(s))));
