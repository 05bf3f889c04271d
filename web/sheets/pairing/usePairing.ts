import { useCallback } from 'react';
import { openPosition, pairSensor } from '#core/pairing/book.ts';
import type { RigWheel } from '#core/rig/positions.ts';
import type { Sensor, Unit } from '#schema/unit.ts';
import { useRecords, useUnits } from '../../data/queries.ts';
import { idText } from '../../parts/format.ts';
import { toast, toastError } from '../../state/toast.ts';

/** Where a sensor is now: its unit and wheel, those of put-away sets left out. */
export function placeOfSensor(units: readonly Unit[], id: string): { unit: Unit; position: string } | null {
  for (const unit of units) {
    const wheel = [...unit.axles.flatMap((a) => a.wheels), ...unit.spares.map((s) => s.wheel)].find(
      (w) => w.sensor && [w.sensor.id, w.sensor.shownId].includes(id.toUpperCase()),
    );
    if (wheel) return { unit, position: wheel.position };
  }
  return null;
}

/** Changes to the ID book, each with the way back. */
export function usePairing() {
  const { changeUnit } = useRecords();
  const units = useUnits();
  const back = useCallback(
    (before: Unit) => async () => {
      await changeUnit(before.id, (now) => ({ ...before, version: now.version })).catch(toastError);
    },
    [changeUnit],
  );

  /**
   * Write a sensor into the book. One that is on another wheel is taken from there first, when that is meant.
   * @throws whatever the server refuses
   */
  const pair = useCallback(
    async (wheel: RigWheel, sensor: Sensor, takeFrom: { unit: Unit; position: string } | null) => {
      const at = new Date().toISOString();
      if (takeFrom) await changeUnit(takeFrom.unit.id, (u) => openPosition(u, takeFrom.position, at, false));
      let before: Unit | null = null;
      await changeUnit(wheel.unit.id, (u) => {
        before = u;
        return pairSensor(u, wheel.local, { ...sensor, pairedAt: at }, at);
      });
      toast(`${wheel.position} is ${idText(sensor)}.`, before ? { undo: back(before) } : {});
    },
    [changeUnit, back],
  );

  const change = useCallback(
    async (wheel: RigWheel, said: string, work: (u: Unit, at: string) => Unit) => {
      let before: Unit | null = null;
      try {
        await changeUnit(wheel.unit.id, (u) => {
          before = u;
          return work(u, new Date().toISOString());
        });
        toast(said, before ? { undo: back(before) } : {});
        return true;
      } catch (error) {
        toastError(error);
        return false;
      }
    },
    [changeUnit, back],
  );
  return { pair, change, units: units.data ?? [] };
}
