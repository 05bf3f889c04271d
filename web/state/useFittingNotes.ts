import { useCallback } from 'react';
import type { RigWheel } from '#core/rig/positions.ts';
import type { Fitting, Unit } from '#schema/unit.ts';
import { useRecords } from '../data/queries.ts';
import { toast, toastError } from './toast.ts';
import { withWheel } from './wheels.ts';

/** What was done at a wheel, and the ways to change it. Everything is saved at once. */
export function useFittingNotes(wheel: RigWheel) {
  const { changeUnit } = useRecords();
  const put = useCallback(
    async (change: (n: Fitting) => Fitting, said?: string) => {
      let before: Unit | null = null;
      try {
        await changeUnit(wheel.unit.id, (u) => {
          before = u;
          return withWheel(wheel, (w) => ({ ...w, fitting: change(w.fitting ?? { done: [] }) }), u);
        });
        if (said)
          toast(said, {
            undo: async () => {
              if (before) await changeUnit(wheel.unit.id, (u) => ({ ...(before as Unit), version: u.version })).catch(toastError);
            },
          });
      } catch (error) {
        toastError(error);
      }
    },
    [changeUnit, wheel],
  );
  const tick = useCallback(
    (...codes: string[]) =>
      put((n) => {
        const at = new Date().toISOString();
        return { ...n, done: [...n.done.filter((d) => !codes.includes(d.code)), ...codes.map((code) => ({ code, at }))] };
      }),
    [put],
  );
  const untick = useCallback((code: string) => put((n) => ({ ...n, done: n.done.filter((d) => d.code !== code) })), [put]);
  const back = useCallback(() => put((n) => ({ ...n, done: n.done.slice(0, -1) })), [put]);
  return { put, tick, untick, back };
}
