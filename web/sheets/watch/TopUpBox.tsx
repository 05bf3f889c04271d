import { useState } from 'react';
import type { WatchView } from '#schema/alarm.ts';
import { useWatchCommands } from '../../data/queries.ts';
import { Box, Notice } from '../../parts/controls.tsx';
import { duration, useFormat } from '../../parts/format.ts';
import { isFresh } from '../../parts/words.ts';
import { toastError } from '../../state/toast.ts';

/** Choose the wheels to be filled: low and loss do not ring for them meanwhile. */
export function TopUpBox({ open, onClose, view }: { open: boolean; onClose: () => void; view: WatchView }) {
  const f = useFormat();
  const commands = useWatchCommands(view.rigId);
  const wheels = view.wheels.filter((w) => w.sensorId !== null);
  const below = wheels
    .filter((w) => w.heldKpa !== null && w.coldKpa !== null && w.heldKpa < w.coldKpa - 5)
    .map((w) => w.position);
  const [chosen, setChosen] = useState<readonly string[] | null>(null);
  const picked = chosen ?? below;
  return (
    <Box open={open} onClose={onClose} title="Fill tires">
      <p className="mb-3 text-[14px]">
        While you fill, the wheels you choose don’t alarm for low or loss. They show “below target” instead. It ends by itself
        when all are at their target, or after 30 minutes. Every other wheel is watched as ever.
      </p>
      <fieldset className="mb-4 grid grid-cols-2 gap-2">
        <legend className="sr-only">Wheels to fill</legend>
        {wheels.map((w) => (
          <label key={w.position} className="flex min-h-[44px] items-center gap-2 border border-rule px-3">
            <input
              type="checkbox"
              checked={picked.includes(w.position)}
              onChange={(e) => setChosen(e.target.checked ? [...picked, w.position] : picked.filter((p) => p !== w.position))}
            />
            <b>{w.position}</b>
            <span className="narrow text-[13px] text-ink2">
              {w.pressureKpa === null
                ? 'not heard'
                : isFresh(w)
                  ? f.pressure(w.pressureKpa)
                  : `(${f.pressure(w.pressureKpa)}), ${duration(w.ageS ?? 0)} old`}
            </span>
          </label>
        ))}
      </fieldset>
      <Notice>
        Set pressures cold. A warm tire reads more than its cold figure: filled to it while warm, it is too soft when cold. Never
        bleed a hot road tire down to the cold figure.
      </Notice>
      <p className="mt-4">
        <button
          type="button"
          className="btn btn-solid"
          disabled={picked.length === 0}
          onClick={() => void commands.topUp(picked).then(onClose).catch(toastError)}
        >
          Begin filling {picked.length === 0 ? '' : picked.join(', ')}
        </button>
      </p>
    </Box>
  );
}
