import { Link } from 'react-router';
import { axleOf } from '#core/rig/positions.ts';
import type { WatchView, WheelView } from '#schema/alarm.ts';
import { Notice } from '../../parts/controls.tsx';
import { listed } from '../../parts/listed.ts';

/** Wheels that are watched and have no low limit of the owner's. */
export const withoutLimits = (view: WatchView): WheelView[] =>
  view.wheels.filter((w) => w.sensorId !== null && w.state !== 'resting' && (w.lowAssumed || w.lowKpa === null));

const axles = (wheels: readonly WheelView[]): string => listed([...new Set(wheels.map((w) => axleOf(w.position)))]);

/** Says what cannot ring yet, and what rings instead. */
export function UnsetLimits({ view }: { view: WatchView }) {
  const unset = withoutLimits(view);
  if (unset.length === 0) return null;
  const assumed = unset.filter((w) => w.lowAssumed);
  const bare = unset.filter((w) => !w.lowAssumed);
  return (
    <section aria-label="Limits that are not set" className="mb-4">
      <Notice>
        {assumed.length > 0 && (
          <>
            Druckwerk has no low limit for {axles(assumed)}. The low alarm sounds only at 25 % below the cold pressure, the latest
            a factory monitor may warn.{' '}
          </>
        )}
        {bare.length > 0 && <>There is no low alarm on {axles(bare)}, because no cold pressure is set. </>}
        <Link className="underline underline-offset-3" to={`/rigs/${view.rigId}/${bare.length > 0 ? 'pressures' : 'alarms'}`}>
          {bare.length > 0 ? 'Set the pressures' : 'Set the limits'}
        </Link>
      </Notice>
    </section>
  );
}
