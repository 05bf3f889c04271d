import { Link } from 'react-router';
import { useWatchCommands } from '../../../data/queries.ts';
import { useFormat } from '../../../parts/format.ts';
import { toastError } from '../../../state/toast.ts';
import type { RoundProps } from './RoundPlan.tsx';
import { nextOf } from './round.ts';

/** What the round came to. */
export function RoundDone({ view, round, setRound, whole, onClose }: RoundProps & { onClose: () => void }) {
  const f = useFormat();
  const at = (p: string) => round.done[p];
  const unread = round.queue.filter((p) => at(p)?.how === 'filled' && at(p)?.afterKpa === null);
  const left = nextOf(round, null);
  const commands = useWatchCommands(whole.rig.id);
  const goOn = () => {
    setRound((now) => ({ ...now, at: left }));
    const open = round.queue.filter(
      (p) => at(p) === undefined && view.wheels.some((w) => w.position === p && w.sensorId !== null),
    );
    if (open.length > 0) void commands.topUp(open).catch(toastError);
  };
  const skipped = round.queue.filter((p) => at(p)?.how === 'skipped');
  return (
    <section aria-label="Round done" className="max-w-[560px]">
      <h2 className="mb-2 text-head">{skipped.length === 0 && left === null ? 'Every wheel is done' : 'The round is over'}</h2>
      <ul className="border-t border-ink">
        {round.queue.map((p) => {
          const o = at(p);
          return (
            <li key={p} className="flex flex-wrap items-baseline justify-between gap-x-4 border-b border-rule py-2">
              <b className="text-head">{p}</b>
              <span className="figure text-head">
                {o === undefined
                  ? 'not yet'
                  : o.how === 'skipped'
                    ? 'left out'
                    : o.how === 'right'
                      ? `was right${o.afterKpa === null ? '' : `, ${f.pressure(o.afterKpa)}`}`
                      : `${o.beforeKpa === null ? '' : `${f.figure(o.beforeKpa)} to `}${o.afterKpa === null ? 'filled, not read' : f.pressure(o.afterKpa)}`}
              </span>
            </li>
          );
        })}
      </ul>
      <p className="my-3">
        It is in the log.{unread.length > 0 && ` Read ${unread.join(', ')} on the monitor before you drive.`}
      </p>
      <p className="flex flex-wrap gap-2">
        {left !== null && (
          <button type="button" className="btn btn-solid" onClick={goOn}>
            Go on with {left}
          </button>
        )}
        <Link className={`btn ${left === null ? 'btn-solid' : ''}`} to={`/rigs/${whole.rig.id}/watch`} onClick={onClose}>
          To the watch
        </Link>
        <button type="button" className="btn" onClick={onClose}>
          Another round
        </button>
      </p>
    </section>
  );
}
