import type { WatchEvent } from '../ledger.ts';
import { end, raise, report } from '../ledger.ts';
import { WATCH } from '../parameters.ts';
import { type ActiveAlarm, voltsAt20 } from '../wheel.ts';
import { disconnected, type Rig, type Rule, type Wheel } from './rule.ts';

/** The sensor's cell, by its voltage brought to 20 °C; a cell past the life of its kind is called low earlier. */
function judgeCell(wheel: Wheel, ms: number, volts: number, tempC: number, out: WatchEvent[]): void {
  const { memory, limits } = wheel;
  const at20 = voltsAt20(volts, tempC);
  const life = WATCH.cellLifeMs[limits.sensorKind];
  const oldCell = limits.cellSinceMs !== undefined && ms - limits.cellSinceMs > life;
  const limit = oldCell ? WATCH.cellOldLowV : WATCH.cellLowV;
  if (at20 < limit) {
    if (memory.active.battery) {
      if (at20 < memory.active.battery.worst) memory.active.battery.worst = at20;
    } else if (memory.weakOnce || at20 < WATCH.cellVeryLowV) {
      raise(wheel, 'battery', ms, limit, at20, out, { volts, voltsAt20: at20, ...(oldCell ? { oldCell } : {}) });
    }
    memory.weakOnce = true;
  } else {
    memory.weakOnce = false;
    if (memory.active.battery && at20 >= limit + WATCH.cellBackV) end(wheel, 'battery', ms, out);
  }
}

/**
 * Judge the voltage of a repeater's own supply.
 * @param unit letter of the unit it is mounted on
 */
export function judgeRepeater(unit: string, volts: number, ms: number, rig: Rig, out: WatchEvent[]): void {
  const limit = volts < WATCH.repeaterIsCellUnderV ? WATCH.repeaterCellLowV : WATCH.repeaterLowV;
  const alarm = rig.repeater.get(unit);
  if (volts >= limit + (alarm ? WATCH.repeaterBackV : 0)) {
    if (!alarm) return;
    rig.repeater.delete(unit);
    report('returned', unit, 'battery', Math.max(ms, alarm.fromMs), alarm, out);
  } else if (volts < limit && !alarm) {
    const weak: ActiveAlarm = { fromMs: ms, limit, value: volts, worst: volts, evidence: { volts } };
    rig.repeater.set(unit, weak);
    report('raised', unit, 'battery', ms, weak, out);
  } else if (alarm && volts < alarm.worst) {
    alarm.worst = volts;
    report('worse', unit, 'battery', ms, alarm, out);
  }
}

/** Sensor cells; a repeater's supply comes through `judgeRepeater`, because no sensor reports it. */
export const cell: Rule = {
  kinds: ['battery'],
  cell(wheel, ms, volts, tempC, out) {
    if (!disconnected(wheel.limits, wheel.memory)) judgeCell(wheel, ms, volts, tempC, out);
  },
};
