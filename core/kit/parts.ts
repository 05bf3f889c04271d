import type { SensorKind } from '#schema/common.ts';
import type { LooseParts, Rig } from '#schema/unit.ts';
import type { RigWheel } from '../rig/positions.ts';

/**
 * What comes with a kind of sensor unless its owner says otherwise (common practice, no source: a cap with a lock nut, a flow-through with a
 * set screw too, a coin cell for about a year; the larger boot for the thicker sensor is assumed).
 */
export const USUAL_PARTS: Record<SensorKind, LooseParts> = {
  cap: { boot: 'small', lockNut: true, setScrew: false, antiTheft: false, cell: 'CR1632', cellMonths: 12, mount: 'valve' },
  flowThrough: { boot: 'large', lockNut: true, setScrew: true, antiTheft: false, cell: 'CR1632', cellMonths: 12, mount: 'valve' },
  internal: { boot: 'none', lockNut: false, setScrew: false, antiTheft: false, cell: 'sealed', cellMonths: 48, mount: 'valve' },
};

/**
 * The loose parts of a rig's sensors of one kind. What was kept for the whole rig before each kind had its own still counts where nothing
 * newer is known; a nut never belongs to the one-piece anti-theft kind, which has nothing to lock.
 */
export function partsOf(rig: Pick<Rig, 'fitting'>, kind: SensorKind): LooseParts {
  const usual = USUAL_PARTS[kind];
  const own = rig.fitting?.parts?.[kind];
  if (own) return own.antiTheft ? { ...own, lockNut: false } : own;
  if (kind === 'internal') return usual;
  const { boots, lockNuts, antiTheft } = rig.fitting ?? {};
  const oneKind = kind === 'cap' && antiTheft === true;
  return {
    ...usual,
    boot: boots === false ? 'none' : usual.boot,
    lockNut: !oneKind && lockNuts !== false,
    antiTheft: oneKind,
  };
}

/** Lock nuts that work loose: a sensor held by one is on a valve. */
export const hasNuts = (rig: Pick<Rig, 'fitting'>, wheels: readonly RigWheel[]): boolean =>
  wheels.some((w) => w.wheel.sensor !== null && partsOf(rig, w.wheel.sensor.kind).lockNut);
