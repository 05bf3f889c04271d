import type { PairingStyle, Rig } from '#schema/unit.ts';
import { placeOf, type RigWheel } from '../rig/positions.ts';
import { pairingOrder } from './guide.ts';

/** What a kit that is coded by position prints on its sensors. */
export const MARK_SCHEMES = ['letters', 'figures', 'tray'] as const;
export type MarkScheme = (typeof MARK_SCHEMES)[number];

/** The letter of an axle: F in front, R at the rear, M and a number between. */
const axleLetter = (index: number, count: number): string =>
  index === 0 ? 'F' : index === count - 1 ? 'R' : count === 3 ? 'M' : `M${index}`;

/**
 * What such a kit is likely to print on its sensors, for the owner to correct. Letters: axle and side; figures: from 1 in the order of the
 * plan; a tray has no marks, its arrow shows the front.
 * @returns the mark by position
 */
export function proposeMarks(wheels: readonly RigWheel[], scheme: MarkScheme): Record<string, string> {
  const out: Record<string, string> = {};
  if (scheme === 'tray') return out;
  wheels.forEach((w, i) => {
    out[w.position] =
      scheme === 'figures'
        ? String(i + 1)
        : w.axleIndex === null
          ? 'S'
          : `${axleLetter(w.axleIndex, w.unit.axles.length)}${placeOf(w.local).replace('C', '')}`;
  });
  return out;
}

/** How the sensors of a wheel's unit are paired. */
export const styleAt = (pairing: NonNullable<Rig['pairing']>, wheel: Pick<RigWheel, 'position'>): PairingStyle =>
  pairing.byUnit?.[wheel.position[0] as string] ?? pairing.style;

/** One walk through a rig whose units may be paired in different ways: unit after unit where they are. Spares come last. */
export function walkOrder(pairing: NonNullable<Rig['pairing']>, wheels: readonly RigWheel[]): RigWheel[] {
  const styles = new Set(wheels.map((w) => styleAt(pairing, w)));
  if (styles.size < 2) return pairingOrder([...styles][0] ?? pairing.style, wheels);
  const units = [...new Set(wheels.map((w) => w.unitIndex))];
  const parts = units.flatMap((u) => {
    const own = wheels.filter((w) => w.unitIndex === u);
    return pairingOrder(styleAt(pairing, own[0] as RigWheel), own);
  });
  return [...parts.filter((w) => w.place !== 'S'), ...parts.filter((w) => w.place === 'S')];
}
