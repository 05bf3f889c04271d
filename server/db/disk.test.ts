import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { closeDatabase, inTransaction, onDisk, openDatabase } from './open.ts';

/** Times the log is tidied. */
const TIDIED = 12;

it('of a log that is emptied again and again, the thread that answers everybody never writes the head: that waits for the disk', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'druckwerk-'));
  const file = join(folder, 'druckwerk.sqlite');
  const db = await openDatabase(file, { tidying: { logBytes: 50_000, lookMs: 0, restMs: 10 } });
  try {
    /** Counter and salts of the log's head, which are new whenever it starts over; bytes 12 to 24 of it (https://sqlite.org/fileformat2.html#walformat). */
    const head = () => readFileSync(`${file}-wal`).subarray(12, 24).toString('hex');
    const heads = new Set<string>();
    let own = 0;
    for (let n = 0; heads.size <= TIDIED; n += 1) {
      await inTransaction(db, (raw) => {
        const before = head();
        heads.add(before);
        raw
          .prepare("insert into meta (name, value) values ('n', ?) on conflict (name) do update set value = excluded.value")
          .run(`${n}`);
        // Now, before anybody else has a turn.
        raw.exec('commit');
        if (n > 0 && head() !== before) own += 1;
        raw.exec('begin');
      });
      // Not waited for: it is written on while the log is tidied.
      void onDisk(db);
      await new Promise((r) => setTimeout(r));
    }
    expect(own).toBe(0);
  } finally {
    await closeDatabase(db);
    rmSync(folder, { recursive: true, force: true });
  }
});
