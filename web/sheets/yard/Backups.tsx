import { useQueryClient } from '@tanstack/react-query';
import { type ChangeEvent, useState } from 'react';
import { WATCH } from '#core/watch/parameters.ts';
import type { BackupEntry, BackupWhy, RestorePreview, WorldSummary } from '#schema/backup.ts';
import { addressOf } from '../../data/address.ts';
import { ask } from '../../data/api.ts';
import { backupKeys, useBackups } from '../../data/backups.ts';
import { Box } from '../../parts/Box.tsx';
import { Notice } from '../../parts/controls.tsx';
import { dayAndTime, duration } from '../../parts/format.ts';
import { toast, toastError } from '../../state/toast.ts';

const whyWords: Record<BackupWhy, string> = {
  daily: 'made by itself',
  upgrade: 'before an upgrade',
  asked: 'made by you',
};

const megabytes = (bytes: number): string => (bytes < 100_000 ? 'under 0.1 MB' : `${(bytes / 1e6).toFixed(1)} MB`);
const count = (n: number, one: string, many: string): string => (n === 1 ? `1 ${one}` : `${n.toLocaleString('en-GB')} ${many}`);

/** What is in a world: enough to know one from another. */
function Summary({ title, world }: { title: string; world: WorldSummary }) {
  return (
    <div className="border border-rule p-3">
      <h3 className="text-body font-bold">{title}</h3>
      <p className="mt-1">{world.rigs.length === 0 ? 'No rig' : world.rigs.join(', ')}</p>
      <p className="mt-1 text-body text-ink2">
        {count(world.readings, 'reading', 'readings')}, {count(world.alarms, 'alarm', 'alarms')},{' '}
        {count(world.photos, 'photo', 'photos')}
      </p>
      {world.lastReading && <p className="text-body text-ink2">last reading {dayAndTime(Date.parse(world.lastReading))}</p>}
    </div>
  );
}

/** Look at a backup, then put it in the place of what is here. */
function RestoreBox({ from, onClose }: { from: BackupEntry | null; onClose: () => void }) {
  const client = useQueryClient();
  const [preview, setPreview] = useState<RestorePreview | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [busy, setBusy] = useState<'checking' | 'restoring' | null>(null);
  const look = async (asked: { query?: { name: string }; raw?: Blob }) => {
    setBusy('checking');
    setFault(null);
    setPreview(null);
    try {
      setPreview(await ask('stageBackup', asked));
    } catch (error) {
      setFault((error as Error).message);
    }
    setBusy(null);
  };
  const choose = (event: ChangeEvent<HTMLInputElement>) => {
    const file = event.target.files?.[0];
    if (file) void look({ raw: file });
  };
  const restore = async () => {
    if (!preview) return;
    setBusy('restoring');
    try {
      const { keptAside } = await ask('restore', { params: { token: preview.token } });
      toast(`The backup is restored. What was here is kept in the folder ${keptAside}.`);
      await client.invalidateQueries();
      onClose();
    } catch (error) {
      setFault((error as Error).message);
      setBusy(null);
    }
  };
  return (
    <Box open title="Restore a backup" onClose={onClose}>
      {from ? (
        <p>
          Backup of {dayAndTime(Date.parse(from.madeAt))}.{' '}
          {!preview && !busy && (
            <button type="button" className="btn btn-small" onClick={() => void look({ query: { name: from.name } })}>
              Check it
            </button>
          )}
        </p>
      ) : (
        <label className="field block">
          <span className="mb-1 block text-note text-ink2">A backup that was downloaded (.tar.gz)</span>
          <input type="file" accept=".gz,application/gzip" className="input py-1" disabled={busy !== null} onChange={choose} />
        </label>
      )}
      {busy && (
        <p className="mt-3" role="status">
          {busy === 'checking' ? 'Unpacking and checking it. Nothing is changed yet.' : 'Restoring. Alarms pause for a moment.'}
        </p>
      )}
      {fault && (
        <p className="error mt-3" role="alert">
          {fault} Nothing was changed.
        </p>
      )}
      {preview && (
        <div className="mt-4">
          <div className="grid gap-3 sm:grid-cols-2">
            <Summary title="In the backup" world={preview.backup} />
            <Summary title="Here now" world={preview.now} />
          </div>
          <div className="mt-3">
            <Notice>
              Everything here is replaced by the backup, for everyone who uses this server. What is here now is kept in a folder
              beside it.
            </Notice>
          </div>
          <button type="button" className="btn btn-solid mt-3" disabled={busy !== null} onClick={() => void restore()}>
            Replace everything with this backup
          </button>
        </div>
      )}
    </Box>
  );
}

/** A backup that is dated this much later than now was made by a clock that was wrong, s: as much as a reading may be ahead. */
const AHEAD_S = WATCH.aheadMs / 1000;

/** How old the last backup is, in words; its date alone where the clock tells nothing of that. */
function ageWords(newest: BackupEntry | undefined, nowMs: number): string {
  if (!newest) return 'none yet';
  const madeMs = Date.parse(newest.madeAt);
  const age = (nowMs - madeMs) / 1000;
  if (age < -AHEAD_S) return `the last one is dated ${dayAndTime(madeMs)}, which is still to come: check the clock`;
  return age < 60 ? 'the last one just now' : `the last one ${duration(age)} ago`;
}

/** Backups: how old the last one is, make, download, restore. */
export default function Backups() {
  const client = useQueryClient();
  const list = useBackups();
  const [making, setMaking] = useState(false);
  const [restoring, setRestoring] = useState<BackupEntry | 'file' | null>(null);
  const make = async () => {
    setMaking(true);
    try {
      await ask('makeBackup', {});
      toast('The backup is made.');
    } catch (error) {
      toastError(error);
    }
    setMaking(false);
    for (const queryKey of [backupKeys.list, backupKeys.health]) void client.invalidateQueries({ queryKey });
  };
  const backups = list.data?.backups ?? [];
  return (
    <details className="mt-4" open={list.data?.problem ? true : undefined}>
      <summary className="text-body font-bold">
        Backups
        <span className="ml-2 font-normal text-ink2">{list.data && ageWords(backups[0], Date.now())}</span>
      </summary>
      <p className="my-2 max-w-[70ch] text-body text-ink2">
        Druckwerk backs up everything each day while it runs, and keeps the last seven days and four weeks. They are on the same
        disk: download one now and then and keep it elsewhere.
      </p>
      {list.error && (
        <p className="error" role="alert">
          {list.error.message}
        </p>
      )}
      {list.data?.problem && (
        <div className="max-w-[860px]">
          <Notice tone="act">
            <b>The last backup failed.</b> {list.data.problem}
          </Notice>
        </div>
      )}
      <p className="my-3 flex flex-wrap gap-2">
        <button type="button" className="btn btn-solid" disabled={making} onClick={() => void make()}>
          {making ? 'Backing up…' : 'Back up now'}
        </button>
        <button type="button" className="btn" onClick={() => setRestoring('file')}>
          Restore from a file
        </button>
      </p>
      {backups.length > 0 && (
        <ul className="max-w-[860px] border-t border-ink">
          {backups.map((b) => (
            <li key={b.name} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule py-2 text-body">
              <b className="min-w-[150px]">{dayAndTime(Date.parse(b.madeAt))}</b>
              <span className="grow text-ink2">
                {whyWords[b.why]}, {megabytes(b.bytes)}
              </span>
              <a className="underline underline-offset-3" href={addressOf('backup', { params: { name: b.name } })} download>
                Download<span className="sr-only"> the backup of {dayAndTime(Date.parse(b.madeAt))}</span>
              </a>
              <button type="button" className="underline underline-offset-3" onClick={() => setRestoring(b)}>
                Restore<span className="sr-only"> the backup of {dayAndTime(Date.parse(b.madeAt))}</span>
              </button>
            </li>
          ))}
        </ul>
      )}
      {(list.data?.keptAside.length ?? 0) > 0 && (
        <p className="mt-2 text-note text-ink2">
          Replaced by a restore and kept in the data folder: {list.data?.keptAside.join(', ')}
        </p>
      )}
      {restoring && <RestoreBox from={restoring === 'file' ? null : restoring} onClose={() => setRestoring(null)} />}
    </details>
  );
}
