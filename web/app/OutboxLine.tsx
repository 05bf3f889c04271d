import { useIsMutating, useQueryClient } from '@tanstack/react-query';
import diff from 'microdiff';
import { useEffect, useState } from 'react';
import { useLiveState } from '../data/live.ts';
import {
  giveUp,
  isDocument,
  sendWaiting,
  settle,
  useKept,
  useOutbox,
  type Waiting,
  type WaitingDocument,
} from '../data/outbox.ts';
import { keys } from '../data/queries.ts';
import { Box } from '../parts/Box.tsx';
import { dayAndTime, useFormat } from '../parts/format.ts';
import { fieldValue, placeOf } from '../parts/words-changes.ts';
import { toastError } from '../state/toast.ts';

const AGAIN_MS = 4000;
/** What isn't stored or kept after this long, ms, is pointed out. Sooner it would be said at every press. */
const LONG_MS = 1000;

/** Whether something that was typed has been neither stored nor kept on this device for a while: it would be gone with its page. */
function useUnkept(): boolean {
  // Changes are made one after the other: behind one that gets no answer others wait.
  const changing = useIsMutating() > 0;
  const unkept = !useKept() || changing;
  const [long, setLong] = useState(false);
  useEffect(() => {
    if (!unkept) {
      setLong(false);
      return;
    }
    const timer = setTimeout(() => setLong(true), LONG_MS);
    return () => clearTimeout(timer);
  }, [unkept]);
  return long;
}

function Side({ title, from, to }: { title: string; from: object; to: object }) {
  const f = useFormat();
  const all = diff({ ...from, version: 0 }, { ...to, version: 0 });
  return (
    <div className="min-w-0 border border-rule p-3">
      <h3 className="text-body font-bold">{title}</h3>
      <ul className="mt-1 max-h-[34vh] overflow-auto text-body">
        {all.map((d) => (
          <li key={d.path.join('/')} className="border-b border-rule py-1 break-words">
            <span className="text-ink2">{placeOf(d.path)}</span>:{' '}
            {fieldValue(d.path, 'oldValue' in d ? d.oldValue : undefined, f)} →{' '}
            <b>{fieldValue(d.path, 'value' in d ? d.value : undefined, f)}</b>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** Two changes of one unit, side by side. */
function Conflict({ entry, onClose }: { entry: WaitingDocument; onClose: () => void }) {
  const client = useQueryClient();
  const choose = async (mine: boolean) => {
    try {
      await settle(entry, mine);
      await client.invalidateQueries({ queryKey: entry.kind === 'unit' ? keys.units : keys.rigs });
      onClose();
    } catch (error) {
      toastError(error);
    }
  };
  return (
    <Box open title={`${entry.doc.name} was changed in two places`} onClose={onClose}>
      <p>
        You changed it here without a connection ({dayAndTime(entry.atMs)}); somebody else changed it meanwhile. Choose which one
        stays.
      </p>
      <div className="mt-3 grid gap-3 sm:grid-cols-2">
        <Side title="Changed here" from={entry.base} to={entry.doc} />
        <Side title="Changed elsewhere" from={entry.base} to={entry.theirs ?? entry.base} />
      </div>
      <p className="mt-3 flex flex-wrap gap-2">
        <button type="button" className="btn btn-solid" onClick={() => void choose(true)}>
          Keep what was changed here
        </button>
        <button type="button" className="btn" onClick={() => void choose(false)}>
          Keep what was changed elsewhere
        </button>
      </p>
    </Box>
  );
}

const isConflict = (w: Waiting): w is WaitingDocument => isDocument(w) && w.theirs !== undefined;

/** What waits to be sent, on every page; it is sent by itself when there is a connection again. */
export default function OutboxLine() {
  const client = useQueryClient();
  const waiting = useOutbox();
  const live = useLiveState();
  const [looking, setLooking] = useState(false);
  const count = waiting.length;
  const unkept = useUnkept();
  // biome-ignore lint/correctness/useExhaustiveDependencies: when the line is back it is tried at once
  useEffect(() => {
    if (count === 0) return;
    const go = () =>
      void sendWaiting().then((sent) => {
        if (sent) void client.invalidateQueries();
      }, toastError);
    go();
    const timer = setInterval(go, AGAIN_MS);
    window.addEventListener('online', go);
    return () => {
      clearInterval(timer);
      window.removeEventListener('online', go);
    };
  }, [count, live, client]);
  if (count === 0 && !unkept) return null;
  const conflict = waiting.find(isConflict);
  const refused = waiting.find((w) => w.refused !== undefined);
  return (
    <div role="status" className="border-b-2 border-ink bg-paper2 px-6 py-2 text-body max-md:px-3 print:hidden">
      {conflict ? (
        <>
          <b>{conflict.doc.name}</b> was changed here and elsewhere.{' '}
          <button type="button" className="btn btn-small" onClick={() => setLooking(true)}>
            Compare the changes
          </button>
        </>
      ) : refused ? (
        <>
          What was typed without a connection can’t be stored: {refused.refused}{' '}
          <button type="button" className="btn btn-small" onClick={() => void giveUp(refused)}>
            Give it up
          </button>
        </>
      ) : unkept ? (
        'The server hasn’t answered yet. Leave this page open until what you typed is stored.'
      ) : (
        `No connection: ${count === 1 ? 'one change is' : `${count} changes are`} kept on this device and sent when it is back.`
      )}
      {conflict && looking && <Conflict entry={conflict} onClose={() => setLooking(false)} />}
    </div>
  );
}
