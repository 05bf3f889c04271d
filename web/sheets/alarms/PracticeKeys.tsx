import { useState } from 'react';
import type { Card } from '#core/alarms/card.ts';
import type { BenchCommand } from '#schema/bench.ts';
import type { Monitor } from '#schema/monitor.ts';
import { useBench, useBenchCommand } from '../../data/queries.ts';
import { soundRefused, wakeSound } from '../../parts/sound.ts';
import { shownFigure } from '../../parts/words-limits.ts';
import { toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';

/** The limit menu of the practice monitor: the same presets, steps and interlock as the rig's own, and nothing that can be spoilt. */
export function PracticeKeys({
  monitor,
  groups,
  name,
  at,
  wanted,
}: {
  monitor: Monitor;
  groups: string[];
  name: (group: string) => string;
  /** The group the card is at. */
  at: string | undefined;
  wanted: Card['afterwards'];
}) {
  const { rig } = useRig();
  const bench = useBench(rig.id).data;
  const command = useBenchCommand(rig.id);
  const [refused, setRefused] = useState(false);
  const run = (c: BenchCommand) => {
    void wakeSound();
    command.mutate(c, {
      onError: toastError,
      onSuccess: ({ saved }) => {
        setRefused(saved === 'refused');
        if (saved === 'refused') soundRefused();
      },
    });
  };
  const start = async () => {
    try {
      if (!bench?.open) await command.mutateAsync({ action: 'open' });
      await command.mutateAsync({ action: 'openKeyer', groups });
    } catch (error) {
      toastError(error);
    }
  };
  const keyer = bench?.open ? bench.keyer : null;
  const group = keyer?.groups[keyer.at];
  const limits = group !== undefined ? keyer?.limits[group] : undefined;
  const right =
    keyer !== null &&
    keyer !== undefined &&
    Object.entries(wanted).every(([g, w]) => keyer.saved[g]?.low === w.low && keyer.saved[g]?.high === w.high);
  return (
    <section aria-label="Practice" className="mt-6 print:hidden">
      <h2 className="border-b border-ink pb-1">Practise it first</h2>
      {!keyer || !limits || group === undefined ? (
        <p className="mt-2 text-[14px]">
          On the bench’s monitor: same presets, same steps, same refusals.{' '}
          <button type="button" className="btn btn-small ml-1" onClick={() => void start()}>
            Open its limit menu
          </button>
        </p>
      ) : (
        <div className="mt-3 max-w-[520px]">
          <div
            className={`border p-3 ${refused ? 'border-2 border-magenta' : 'border-ink'}`}
            role="status"
            aria-label="Practice monitor"
          >
            <p className="text-[14px] text-ink2">{name(group)} blinks</p>
            <p className="figure flex gap-6 text-[34px] leading-tight font-bold">
              {(['low', 'high'] as const).map((f) => (
                <span key={f} className={keyer.field === f ? 'underline underline-offset-4' : 'font-normal text-ink2'}>
                  {f} {shownFigure(limits[f], monitor)}
                </span>
              ))}
            </p>
            {refused && <p className="error">Refused: a low must stay under its high, and both inside the range.</p>}
          </div>
          <div className="mt-2 flex flex-wrap gap-2">
            {(
              [
                ['down10', '− 10'],
                ['down', '− 1'],
                ['up', '+ 1'],
                ['up10', '+ 10'],
                ['field', 'Low / high'],
                ['group', 'Next axle'],
                ['save', 'Save'],
                ['leave', 'Leave'],
              ] as const
            ).map(([key, text]) => (
              <button
                key={key}
                type="button"
                className="btn"
                onClick={() => run({ action: 'key', key, ...(at ? { intended: at } : {}) })}
              >
                {text}
              </button>
            ))}
          </div>
          <p className="mt-2 text-[14px]">
            {right
              ? 'All of it is as the card says, and saved.'
              : keyer.refusals + keyer.wrongAxle.length + keyer.leftUnsaved === 0
                ? 'No slip so far.'
                : [
                    keyer.refusals > 0 ? `${keyer.refusals === 1 ? 'one press' : `${keyer.refusals} presses`} refused` : '',
                    keyer.wrongAxle.length > 0
                      ? `changed while the card was at another axle: ${keyer.wrongAxle.map(name).join('; ')}`
                      : '',
                    keyer.leftUnsaved > 0 ? 'left without saving: what was keyed is gone' : '',
                  ]
                    .filter(Boolean)
                    .join('. ')}
          </p>
          <button type="button" className="btn btn-small mt-2" onClick={() => void start()}>
            Back to its presets
          </button>
        </div>
      )}
    </section>
  );
}
