import { useState } from 'react';
import type { Card, CardStep } from '#core/alarms/card.ts';
import type { BenchCommand } from '#schema/bench.ts';
import type { Monitor } from '#schema/monitor.ts';
import { useBench, useBenchCommand } from '../../data/queries.ts';
import { soundRefused, wakeSound } from '../../parts/sound.ts';
import { shownFigure } from '../../parts/words-limits.ts';
import { toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';

const fieldNames: Record<CardStep['field'], string> = {
  low: 'low',
  high: 'high',
  baseline: 'normal',
  hot: 'temperature',
  coldTemp: 'low temperature',
};

type Key = Extract<BenchCommand, { action: 'key' }>['key'];

/** The limit menu of the practice monitor: presets, steps, order, confirming presses and refusals of the rig's own, and nothing to spoil. */
export function PracticeKeys({
  monitor,
  groups,
  name,
  at,
  wanted,
  temperatures,
}: {
  monitor: Monitor;
  groups: string[];
  name: (group: string) => string;
  /** The group the card is at. */
  at: string | undefined;
  wanted: Card['afterwards'];
  temperatures: readonly CardStep[];
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
      setRefused(false);
    } catch (error) {
      toastError(error);
    }
  };
  const { menu } = monitor;
  const keyer = bench?.open ? bench.keyer : null;
  const stop = keyer?.stops[keyer.at];
  const shownAt = (group: string, field: CardStep['field']) => keyer?.shown[`${group} ${field}`];
  const text = (group: string, field: CardStep['field']) => {
    const value = shownAt(group, field) ?? null;
    if (field === 'hot' || field === 'coldTemp') return `${value}\u00a0°${monitor.tempUnit ?? 'C'}`;
    return shownFigure(value, monitor);
  };
  const aims: [string, number][] = [
    ...Object.entries(wanted).flatMap(([g, w]) =>
      (['low', 'high', 'baseline'] as const).flatMap((f): [string, number][] => (w[f] === null ? [] : [[`${g} ${f}`, w[f]]])),
    ),
    ...temperatures.map((s): [string, number] => [`all ${s.field}`, s.to]),
  ];
  const right = keyer !== null && keyer !== undefined && aims.every(([n, v]) => keyer.saved[n] === v);
  const many = (n: number, one: string, more: string) => (n === 0 ? '' : n === 1 ? one : `${n} ${more}`);
  const slips = keyer
    ? [
        many(keyer.refusals, 'one press refused', 'presses refused'),
        keyer.wrongAxle.length > 0 ? `changed while the card was at another axle: ${keyer.wrongAxle.map(name).join('; ')}` : '',
        many(keyer.lost, 'gone on once without confirming: that value is gone', 'times gone on without confirming'),
        keyer.leftUnsaved > 0 ? 'left without saving: what was keyed is gone' : '',
        keyer.timedOut > 0 ? 'waited too long: the menu closed and what wasn’t saved is gone' : '',
      ].filter(Boolean)
    : [];
  const ten = menu?.repeat === undefined ? '10' : 'hold';
  const keys: [Key, string][] = [
    ['down10', `− ${ten}`],
    ['down', '− 1'],
    ['up', '+ 1'],
    ['up10', `+ ${ten}`],
    ...(menu?.wrap === 'both' ? ([['back', 'Back']] as [Key, string][]) : []),
    ['on', 'Next value'],
    ['ok', 'OK'],
    ['okLong', 'Hold OK'],
    ['leave', 'Leave'],
  ];
  // The whole page where the menu shows a group at once; else the value that blinks.
  const page = keyer && stop && menu?.walk !== 'limit' ? keyer.stops.filter((s) => s.page === stop.page) : stop ? [stop] : [];
  return (
    <section aria-label="Practice" className="mt-6 print:hidden">
      <h2 className="border-b border-ink pb-1">Practise it first</h2>
      {!keyer || !stop ? (
        <p className="mt-2 text-body">
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
            <p className="text-body text-ink2">
              {stop.group.startsWith('unused') ? 'A group you don’t use' : name(stop.group)} blinks
            </p>
            <p className="figure flex flex-wrap gap-x-6 text-fig1 leading-tight font-bold">
              {page.map((s) => (
                <span key={s.field} className={s.field === stop.field ? 'underline underline-offset-4' : 'font-normal text-ink2'}>
                  {fieldNames[s.field]} {text(s.group, s.field)}
                </span>
              ))}
            </p>
            {refused && (
              <p className="error">
                Refused: a low must stay under its high, both inside the range, and a confirming press as long as it asks for.
              </p>
            )}
          </div>
          {menu?.order === 'free' && (
            <label className="mt-2 block text-note text-ink2">
              Choose a value
              <select
                className="input block text-ink"
                value={keyer.at}
                onChange={(e) => run({ action: 'choose', stop: Number(e.target.value) })}
              >
                {keyer.stops.map((s, i) => (
                  <option key={`${s.group} ${s.field}`} value={i}>
                    {name(s.group)}: {fieldNames[s.field]}
                  </option>
                ))}
              </select>
            </label>
          )}
          <div className="mt-2 flex flex-wrap gap-2">
            {keys.map(([key, label]) => (
              <button
                key={key}
                type="button"
                className="btn"
                onClick={() => run({ action: 'key', key, ...(at ? { intended: at } : {}) })}
              >
                {label}
              </button>
            ))}
          </div>
          <p className="mt-2 text-body">
            {right
              ? 'All of it is as the card says, and saved.'
              : slips.length === 0
                ? 'No slip so far.'
                : `${slips.map((s, i) => (i === 0 ? s[0]?.toUpperCase() + s.slice(1) : s)).join('. ')}.`}
          </p>
          <button type="button" className="btn btn-small mt-2" onClick={() => void start()}>
            Back to its presets
          </button>
        </div>
      )}
    </section>
  );
}
