import { watchedWheels } from '#core/rig/positions.ts';
import { unreadView } from '#core/watch/unread.ts';
import type { WatchView } from '#schema/alarm.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { Rig, Unit } from '#schema/unit.ts';

/** The watch of a rig of which nothing was read: its wheels and limits, and no figure of a tire. @param now by this device's clock */
export const unreadWatch = (rig: Rig, units: readonly Unit[], monitor: Monitor | null, now: Date): WatchView => ({
  rigId: rig.id,
  revision: '',
  time: now.toISOString(),
  clock: 'wall',
  wheels: watchedWheels(rig, [...units]).map((w) => unreadView(w, rig, monitor)),
  silencedUntil: null,
  airC: null,
  moving: null,
  resting: [],
  missing: [],
  topUp: null,
  track: null,
});
