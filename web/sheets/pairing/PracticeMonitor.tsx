import { OPEN_ID } from '#core/pairing/ids.ts';
import type { Shows } from '#core/pairing/signs.ts';
import { BENCH_FACTORS, type BenchCommand, type BenchFactor, type BenchView, FASTEST_WAIT } from '#schema/bench.ts';
import type { PairingStyle } from '#schema/unit.ts';
import { Switch } from '../../parts/controls.tsx';
import { inPairs } from '../../parts/format.ts';
import { slipWords } from './words.ts';

const act: Record<PairingStyle, (n: number, position: string) => string> = {
  heldNear: (n) => `Hold sensor ${n} near`,
  screwedOn: (n, p) => `Screw sensor ${n} onto ${p}`,
  cellIn: (n) => `Cell into sensor ${n}`,
  phoneFirst: (n, p) => `Screw sensor ${n} onto ${p}`,
  wakeTool: (_, p) => `Hold the tool at ${p}`,
  inflateBleed: (_, p) => `A little air out of ${p}`,
  carried: (_, p) => `Carry the monitor to ${p}`,
  factory: (n, p) => `Fit sensor ${n} to ${p}`,
};
/** Styles in which a loose sensor is taken in the hand. */
const byHand: readonly PairingStyle[] = ['heldNear', 'screwedOn', 'cellIn', 'phoneFirst', 'factory'];

/** What a display without IDs shows at its position. */
function displayOf(code: string, position: string, shows: Shows): string {
  if (code === OPEN_ID) return { allF: inPairs(OPEN_ID), code: position, dashes: '-- --', skipped: 'skipped' }[shows.open];
  if (code === '') return shows.signs.includes('lamp') ? 'red' : '…';
  return shows.signs.includes('lamp') ? 'green' : shows.signs.includes('pressure') ? 'a pressure' : 'taken';
}

/** The simulated monitor and the tray: what the owner would have on the table. */
export function PracticeMonitor({
  bench,
  style,
  waitS,
  shows,
  long,
  run,
}: {
  bench: BenchView;
  style: PairingStyle;
  waitS: number;
  shows: Shows;
  /** The monitor has one long list for the whole rig. */
  long: boolean;
  run: (c: BenchCommand) => void;
}) {
  const { monitor } = bench;
  if (!monitor) return null;
  const { capture, position } = monitor;
  const busy = capture !== null && (capture.outcome === 'waiting' || capture.outcome === 'short');
  const labelled = Object.keys(monitor.labels).length;
  const lists = [...new Set(bench.wheels.map((w) => w.position[0] as string))];
  const code = capture ? capture.code : (monitor.saved[position] ?? OPEN_ID);
  return (
    <section className="mt-6" aria-label="Practice monitor">
      <h2 className="border-b border-ink pb-1">Practice monitor</h2>
      <div className="mt-2 border border-ink p-3">
        <div className="flex items-baseline justify-between">
          <span className="figure text-big font-bold" data-testid="monitor-position">
            {position}
          </span>
          <span className="figure text-title font-semibold">{shows.ids ? inPairs(code) : displayOf(code, position, shows)}</span>
        </div>
        <div className="mt-2 flex flex-wrap gap-2">
          <button type="button" className="btn btn-small" onClick={() => run({ action: 'step', by: -1 })}>
            ◂ Position
          </button>
          <button type="button" className="btn btn-small" onClick={() => run({ action: 'step', by: 1 })}>
            Position ▸
          </button>
          {!long &&
            lists.length > 1 &&
            lists.map((unit) => (
              <button
                key={unit}
                type="button"
                className="btn btn-small"
                aria-pressed={position.startsWith(unit)}
                onClick={() =>
                  run({ action: 'goTo', position: bench.wheels.find((w) => w.position.startsWith(unit))?.position ?? position })
                }
              >
                List {unit}
              </button>
            ))}
          <button type="button" className="btn btn-small" disabled={!capture} onClick={() => run({ action: 'leaveMenu' })}>
            Leave the menu
          </button>
        </div>
      </div>
      <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2 text-body">
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="size-[18px] accent-ink"
            checked={monitor.tableClear}
            onChange={(e) => run({ action: 'table', clear: e.target.checked })}
          />
          Other sensors 3 m away
        </label>
        <label className="flex items-center gap-2">
          Trouble to practise
          <select
            className="input w-auto"
            value={monitor.trouble ?? ''}
            onChange={(e) =>
              run({
                action: 'trouble',
                next: e.target.value === '' ? null : (e.target.value as 'neighbour' | 'short' | 'noAnswer'),
              })
            }
          >
            <option value="">as it comes</option>
            <option value="neighbour">a neighbour answers next</option>
            {shows.ids && <option value="short">a short code next</option>}
            <option value="noAnswer">no answer next</option>
          </select>
        </label>
        <Switch
          label="Time on the bench"
          value={String(bench.factor)}
          options={BENCH_FACTORS.filter((v) => v <= FASTEST_WAIT).map((v) => ({ value: String(v), text: `${v}x` }))}
          onChange={(v) => run({ action: 'run', factor: Number(v) as BenchFactor })}
        />
      </div>
      <div className="mt-3">
        {byHand.includes(style) ? (
          bench.tray.length === 0 ? (
            <p className="text-body text-ink2">The tray is empty: every bench sensor is on a wheel.</p>
          ) : (
            <ul className="flex flex-wrap gap-2" aria-label="Bench sensors in the tray">
              {bench.tray.slice(0, 14).map((s, i) => (
                <li key={s.id}>
                  <button
                    type="button"
                    className="btn btn-small"
                    disabled={busy}
                    onClick={() => run({ action: 'capture', style, sensorId: s.id, waitS })}
                  >
                    {act[style](i + 1, position)}
                    {monitor.labels[s.id] ? `, labelled ${monitor.labels[s.id]}` : ''}
                  </button>
                </li>
              ))}
            </ul>
          )
        ) : (
          <button type="button" className="btn" disabled={busy} onClick={() => run({ action: 'capture', style, waitS })}>
            {act[style](0, position)}
          </button>
        )}
      </div>
      {labelled > 0 && (
        <p className="mt-3 text-body">
          {labelled} paired {labelled === 1 ? 'sensor is' : 'sensors are'} labelled on the table.{' '}
          <button type="button" className="btn btn-small ml-1" onClick={() => run({ action: 'fitLabelled' })}>
            Fit them all by their labels
          </button>
        </p>
      )}
      {monitor.captures > 0 && (
        <details className="mt-3 text-body">
          <summary>
            {monitor.captures === 1 ? 'One capture' : `${monitor.captures} captures`},{' '}
            {monitor.mistakes.length === 0
              ? 'no slip so far'
              : monitor.mistakes.length === 1
                ? 'one slip to look at'
                : `${monitor.mistakes.length} slips to look at`}
          </summary>
          <ul className="mt-1 list-disc pl-5">
            {monitor.mistakes.map((m, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: slips are only ever added at the end
              <li key={i}>{slipWords(m)}</li>
            ))}
          </ul>
          <button type="button" className="btn btn-small mt-2" onClick={() => run({ action: 'forgetMistakes' })}>
            Start counting again
          </button>
        </details>
      )}
    </section>
  );
}
