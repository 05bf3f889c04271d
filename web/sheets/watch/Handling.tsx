import { useState } from 'react';
import { Link } from 'react-router';
import { unitLetter } from '#core/rig/positions.ts';
import type { WatchView } from '#schema/alarm.ts';
import { useWatchCommands } from '../../data/queries.ts';
import { Field } from '../../parts/controls.tsx';
import { parseNumber } from '../../parts/format.ts';
import { toast, toastError } from '../../state/toast.ts';

/** The repeater's own supply, as its owner read it: no sensor tells it. */
function RepeaterVolts({ rigId }: { rigId: string }) {
  const commands = useWatchCommands(rigId);
  const [text, setText] = useState('');
  const [problem, setProblem] = useState('');
  const keep = async () => {
    const volts = parseNumber(text);
    if (volts === null || volts < 0 || volts > 60) return setProblem('0 to 60 V');
    setProblem('');
    try {
      await commands.repeater(volts);
      toast(`The repeater is at ${volts} V.`);
      setText((now) => (now === text ? '' : now));
    } catch (error) {
      toastError(error);
    }
  };
  return (
    <form
      className="flex w-full items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      <Field
        label="Repeater’s supply, measured"
        unit="V"
        inputMode="decimal"
        value={text}
        error={problem || undefined}
        onChange={(e) => setText(e.target.value)}
      />
      <button type="submit" className="btn" disabled={text.trim() === ''}>
        Keep
      </button>
    </form>
  );
}

/** Units that are disconnected or can be, wheels that are filled. */
export function Handling({ view, units, repeater }: { view: WatchView; units: readonly { name: string }[]; repeater: boolean }) {
  const commands = useWatchCommands(view.rigId);
  const names = new Map(units.map((u, i) => [unitLetter(i), u.name]));
  return (
    <div className="mt-6 flex flex-wrap gap-2 border-t border-rule pt-3">
      {[...names]
        .filter(() => names.size > 1)
        .map(([letter, name]) => {
          const resting = view.resting.includes(letter);
          return (
            <button
              key={letter}
              type="button"
              className={`btn ${resting ? 'btn-solid' : ''}`}
              onClick={() =>
                void commands
                  .rest(letter, !resting)
                  .then(() =>
                    toast(
                      resting
                        ? `${name} is connected again. Its wheels count once they are heard.`
                        : `${name} is disconnected. Its wheels won’t alarm.`,
                      { undo: () => void commands.rest(letter, resting).catch(toastError) },
                    ),
                  )
                  .catch(toastError)
              }
            >
              {resting ? 'Connect' : 'Disconnect'} {name}
            </button>
          );
        })}
      {view.topUp ? (
        <>
          <Link className="btn btn-solid" to={`/rigs/${view.rigId}/logbook?part=topup`}>
            Go on filling
          </Link>
          <button type="button" className="btn" onClick={() => void commands.topUp([]).catch(toastError)}>
            End filling {view.topUp.positions.join(', ')}
          </button>
        </>
      ) : (
        <Link className="btn" to={`/rigs/${view.rigId}/logbook?part=topup`}>
          Fill tires
        </Link>
      )}
      {repeater && <RepeaterVolts rigId={view.rigId} />}
    </div>
  );
}
