import { useCallback } from 'react';
import type { Axle, Spare } from '#schema/unit.ts';
import { useRecords } from '../data/queries.ts';
import { type Holder, withHolder } from './holders.ts';
import { toast, toastError } from './toast.ts';

/** Change one axle or spare, say what was done, and offer the way back. */
export function useHolderEdit(): (h: Holder, said: string, work: (holder: Axle | Spare) => void) => Promise<boolean> {
  const { changeUnit } = useRecords();
  return useCallback(
    async (h, said, work) => {
      let before: Parameters<typeof withHolder>[0] | null = null;
      try {
        await changeUnit(h.first.unit.id, (unit) => {
          before = unit;
          return withHolder(unit, h, work);
        });
        const old = before;
        toast(said, {
          undo: async () => {
            if (old)
              await changeUnit(h.first.unit.id, (now) => ({ ...(old as typeof now), version: now.version })).catch(toastError);
          },
        });
        return true;
      } catch (error) {
        toastError(error);
        return false;
      }
    },
    [changeUnit],
  );
}
