import type { WheelStateName } from '#schema/alarm.ts';
import { WATCH } from './parameters.ts';
import { type WheelLimits, type WheelMemory, waitsFitting } from './watch.ts';

/**
 * What a wheel's last reading is worth now.
 * @param memory the watch's memory of it; undefined when no sensor is saved to the wheel
 * @param nowMs the rig's clock
 * @param rigBusy most of the rig's wheels are being heard
 * @param limits says whether its sensor was paired before it was fitted
 */
export function stateOf(
  memory: Readonly<WheelMemory> | undefined,
  nowMs: number,
  rigBusy: boolean,
  limits: Pick<WheelLimits, 'waitsFitting' | 'resting'> = {},
): WheelStateName {
  if (!memory) return 'notPaired';
  if (limits.resting && !memory.alongside) return 'resting';
  if (memory.lastMs === null) return 'notHeard';
  if (waitsFitting(limits, memory)) return 'notFitted';
  if (memory.active.silent) return 'silent';
  const age = nowMs - memory.lastMs;
  if (age <= WATCH.liveForMs) return 'live';
  return rigBusy ? 'old' : 'asleep';
}
