import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import type { Knex } from 'knex';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { closeDatabase, inTransaction, onDisk, openDatabase } from './open.ts';

let folder: string;
let file: string;
let db: Knex;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'druckwerk-'));
  file = join(folder, 'druckwerk.sqlite');
});
/** With a log that is tidied from this size on, and slowly. */
const open = async (logBytes: number) => {
  db = await openDatabase(file, { tidying: { logBytes, lookMs: 0, restMs: 10 } });
};
afterEach(async () => {
  await closeDatabase(db);
  rmSync(folder, { recursive: true, force: true });
});

/** Write something, and go on while it is brought to the disk. @param look is called right before and right after it is in the log */
async function write(value: string, look: (raw: Database.Database) => void): Promise<void> {
  await inTransaction(db, (raw) => {
    look(raw);
    raw
      .prepare("insert into meta (name, value) values ('n', ?) on conflict (name) do update set value = excluded.value")
      .run(value);
    raw.exec('commit');
    // Now, before anybody else has a turn.
    look(raw);
    raw.exec('begin');
  });
  void onDisk(db);
  await new Promise((r) => setTimeout(r));
}

it('of a log that is emptied again and again, the thread that answers everybody never writes the head: that waits for the disk', async () => {
  /** Counter and salts of the log's head, which are new whenever it starts over; bytes 12 to 24 of it (https://sqlite.org/fileformat2.html#walformat). */
  const head = () => readFileSync(`${file}-wal`).subarray(12, 24).toString('hex');
  await open(50_000);
  await write('first', () => undefined);
  const heads = new Set<string>();
  let own = 0;
  for (let n = 1; heads.size <= 12; n += 1) {
    const seen: string[] = [];
    await write(`${n}`, () => seen.push(head()));
    if (seen[0] !== seen[1]) own += 1;
    heads.add(seen[0] as string);
  }
  expect(own).toBe(0);
});

it('while somebody reads an older state, whoever tidies the log tries again and adds nothing to it', async () => {
  await open(1e6);
  await write('first', () => undefined);
  const reader = new Database(file, { readonly: true });
  reader.exec('begin');
  reader.prepare('select count(*) from meta').get();
  const tidied = new Set<unknown>();
  await write('x'.repeat(2e6), () => undefined);
  const until = performance.now() + 2000;
  for (let n = 1; performance.now() < until; n += 1) {
    await write(`${n}`, (raw) => tidied.add(raw.prepare("select value from meta where name = 'tidied'").pluck().get()));
    await new Promise((r) => setTimeout(r, 4));
  }
  reader.close();
  // Nothing yet, and each of the two times that it moves what it can.
  expect(tidied.size).toBe(3);
});
