import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import type { BackupEntry, BackupList, BackupWhy, RestorePreview } from '#schema/backup.ts';
import { databaseFile, replaceFile } from '../db/open.ts';
import { storageFault } from '../db/storage.ts';
import { HttpProblem, notFound } from '../problem.ts';
import { type Handlers, Reply, WRITTEN } from '../routing.ts';
import { findBackup, type KeptBackup, listBackups, makeBackup, newestBackup, photoNames, prune } from './backups.ts';
import { commit, finishRestore, keptAside, type Staged, settle, stage, summaryOf } from './restore.ts';

const DAY_MS = 86_400_000;
/** Looked at this often, ms. */
const LOOK_MS = 600_000;
/** The first look, ms after the start: what was asked for at the start comes first. */
const FIRST_LOOK_MS = 60_000;

/** What a restore needs of the rest of the server. */
export interface Restarting {
  /** Nothing is going on in the database until `begin` is called. */
  pause(): Promise<void>;
  /** Take up what is stored now. */
  begin(): Promise<void>;
}

/** Backups of this server's data, by themselves each day and when asked, and the way back. */
export class BackupService {
  readonly #folder: string;
  readonly #db: Knex;
  readonly #now: () => number;
  readonly #log: Logger;
  readonly #around: Restarting;
  #making: Promise<KeptBackup> | null = null;
  #staged: Staged | null = null;
  #staging = false;
  #problem: string | null = null;
  #timers: NodeJS.Timeout[] = [];

  constructor(folder: string, db: Knex, now: () => number, log: Logger, around: Restarting) {
    this.#folder = folder;
    this.#db = db;
    this.#now = now;
    this.#log = log;
    this.#around = around;
  }

  start(): void {
    const look = () => void this.daily().catch((err) => this.#log.error({ err }, 'backup failed'));
    this.#timers = [setTimeout(look, FIRST_LOOK_MS), setInterval(look, LOOK_MS)];
    for (const t of this.#timers) t.unref();
  }

  async stop(): Promise<void> {
    for (const t of this.#timers) clearInterval(t);
    await this.#making?.catch(() => undefined);
  }

  /** When the newest backup was made, ms; null: there is none. */
  get lastMs(): number | null {
    return newestBackup(this.#folder, this.#now())?.madeMs ?? null;
  }

  /** Make the backup of the day, when the last one is a day old. */
  async daily(): Promise<void> {
    const last = listBackups(this.#folder, this.#now()).find((b) => b.why === 'daily');
    const ageMs = last ? this.#now() - last.madeMs : DAY_MS;
    // One that is dated later than now was made by a clock that was wrong, and is no reason to make none until then.
    if (ageMs >= 0 && ageMs < DAY_MS) return;
    await this.make('daily');
  }

  /** Make a backup; while one is being made, that one. @throws StorageProblem when the disk has no room */
  make(why: BackupWhy): Promise<KeptBackup> {
    this.#making ??= this.#make(why)
      .then(
        (made) => {
          this.#problem = null;
          return made;
        },
        (error: Error) => {
          this.#problem = storageFault(error)?.standing ?? error.message;
          throw error;
        },
      )
      .finally(() => {
        this.#making = null;
      });
    return this.#making;
  }

  async #make(why: BackupWhy): Promise<KeptBackup> {
    const made = await makeBackup(this.#folder, why, new Date(this.#now()));
    await prune(this.#folder, this.#now());
    return made;
  }

  async list(): Promise<BackupList> {
    const backups = await Promise.all(listBackups(this.#folder, this.#now()).map((b) => this.#entry(b)));
    return { backups, problem: this.#problem, keptAside: await keptAside(this.#folder) };
  }

  async #entry({ path, name, why, madeMs }: KeptBackup): Promise<BackupEntry> {
    return { name, why, madeAt: new Date(madeMs).toISOString(), bytes: (await stat(path)).size };
  }

  entry = (b: KeptBackup): Promise<BackupEntry> => this.#entry(b);

  /** @throws HttpProblem 404 */
  find(name: string): KeptBackup {
    const found = findBackup(this.#folder, name);
    if (!found) throw notFound('backup');
    return found;
  }

  /** Unpack and check a backup. The world is left as it is. */
  async stage(archive: Readable): Promise<RestorePreview> {
    if (this.#staging) throw new HttpProblem(409, 'Another backup is being checked', { detail: 'Wait until it is done.' });
    this.#staging = true;
    this.#staged = null;
    let staged: Staged;
    try {
      staged = await stage(this.#folder, archive);
    } finally {
      this.#staging = false;
    }
    this.#staged = staged;
    const photos = await photoNames(this.#folder);
    const now = await summaryOf(databaseFile(this.#folder), photos.length);
    const { token, manifest, summary } = staged;
    return { token, madeAt: manifest.madeAt, why: manifest.why, backup: summary, now };
  }

  /** Put the world that was previewed in the place of the one here. @returns the folder the old one is in @throws HttpProblem 404 */
  async restore(token: string): Promise<string> {
    if (this.#staged?.token !== token)
      throw new HttpProblem(404, 'Nothing was previewed under this token', { detail: 'Send the backup again.' });
    this.#staged = null;
    // Nothing else may take its place in the meantime.
    this.#staging = true;
    try {
      // While everything goes on.
      await settle(this.#folder);
      await this.#making?.catch(() => undefined);
      return await this.#exchange();
    } finally {
      this.#staging = false;
    }
  }

  async #exchange(): Promise<string> {
    try {
      await this.#around.pause();
      let aside = '';
      await replaceFile(this.#db, async () => {
        aside = await commit(this.#folder, new Date(this.#now()));
        await finishRestore(this.#folder);
      });
      return aside;
    } finally {
      await this.#around.begin();
    }
  }
}

/** Backups by request. */
export function backupHandlers(
  backups: BackupService,
): Pick<Handlers, 'backups' | 'makeBackup' | 'backup' | 'stageBackup' | 'restore'> {
  return {
    backups: () => backups.list(),
    async makeBackup() {
      const made = await backups.entry(await backups.make('asked'));
      return new Reply(made, { headers: { Location: `/api/backups/${made.name}` } });
    },
    async backup({ params, res }) {
      const { path, name } = backups.find(params.name);
      res.setHeader('Content-Type', 'application/gzip');
      res.setHeader('Content-Length', (await stat(path)).size);
      res.setHeader('Content-Disposition', `attachment; filename="${name}"`);
      await pipeline(createReadStream(path), res);
      return WRITTEN;
    },
    stageBackup: ({ query, req }) =>
      backups.stage(query.name === undefined ? req : createReadStream(backups.find(query.name).path)),
    restore: async ({ params }) => ({ keptAside: await backups.restore(params.token) }),
  };
}
