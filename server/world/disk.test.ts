import { spawnSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { carDocument } from '../testing-documents.ts';
import { shippedServer } from './shipped.test-data.ts';

const compiler = ['cc', 'gcc', 'clang'].find((name) => spawnSync(name, ['--version']).status === 0);
if (compiler === undefined) console.log('Not tested here without a C compiler: what a slow or failing disk does.');

/** How long the disk takes each time, ms; and what takes longer has waited for it. */
const WAIT_MS = 500;
const HELD_UP_MS = 480;
/** Size at which the log is tidied, bytes. */
const LOG_BYTES = 16 * 2 ** 20;

/** Asks something small again and again. @returns ends it, with how long the slowest answer took, ms */
function asking(url: string): () => Promise<number> {
  let on = true;
  let slowest = 0;
  const done = (async () => {
    while (on) {
      const from = performance.now();
      expect((await fetch(`${url}/api/rigs`)).ok).toBe(true);
      slowest = Math.max(slowest, performance.now() - from);
      await new Promise((r) => setTimeout(r, 10));
    }
  })();
  done.catch(() => undefined);
  return async () => {
    on = false;
    await done;
    return slowest;
  };
}

describe.skipIf(compiler === undefined)('a disk that takes its time', () => {
  const shipped = shippedServer();
  const made = mkdtempSync(join(tmpdir(), 'druckwerk-slow-'));
  const library = join(made, 'slow.so');
  const told = join(made, 'ms');
  beforeAll(() => {
    const source = join(import.meta.dirname, 'slow-disk.test-data.c');
    const { status, stderr } = spawnSync(compiler as string, ['-shared', '-fPIC', '-o', library, source, '-ldl', '-lpthread']);
    if (status !== 0) throw new Error(String(stderr));
  });
  afterAll(() => rmSync(made, { recursive: true, force: true }));
  const each = (ms: number) => writeFileSync(told, String(ms));

  /** A server with a rig whose first sensor is A00001, on a quick disk yet. */
  async function started(env: Record<string, string> = {}) {
    each(0);
    const { url, child } = await shipped.running({ LD_PRELOAD: library, SLOW_DISK: told, ...env });
    const post = (path: string, body: unknown) =>
      fetch(`${url}/api/${path}`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
      });
    const unit = (await (await post('units', carDocument(['A00001', 'A00002', 'A00003', 'A00004']))).json()) as { id: string };
    const rig = (await (await post('rigs', { name: 'Errand', unitIds: [unit.id], loadState: 'loaded' })).json()) as {
      id: string;
    };
    const nowMs = Date.now();
    /** Post a reading of so many seconds ago. @returns how long the answer took, ms */
    const reading = async (agoS: number, pressureKpa = 250) => {
      const from = performance.now();
      const time = new Date(nowMs - agoS * 1000).toISOString();
      const res = await post('readings', [{ sensorId: 'A00001', time, pressureKpa, tempC: 20 }]);
      expect(res.status).toBe(200);
      expect(await res.json()).toMatchObject({ accepted: 1 });
      return performance.now() - from;
    };
    const health = async () =>
      (await (await fetch(`${url}/api/health`)).json()) as {
        canStore: boolean;
        problem: string | null;
        loopDelayMs: { max: number };
      };
    return { url, child, rig: rig.id, post, reading, health };
  }

  it('is waited for by whoever stores something, and by nobody else; the page sees the reading at once', async () => {
    const s = await started();
    const stream = await fetch(`${s.url}/api/rigs/${s.rig}/live`);
    const heard = (async () => {
      let text = '';
      for await (const part of stream.body as unknown as AsyncIterable<Uint8Array>) {
        text += Buffer.from(part).toString();
        if (text.includes('"pressureKpa":251')) return performance.now();
      }
      return Number.NaN;
    })();
    each(WAIT_MS);
    const slowest = asking(s.url);
    const from = performance.now();
    const first = s.reading(60, 251);
    // Committed while the disk is busy with the first: that one's wait says nothing of this one.
    await new Promise((r) => setTimeout(r, WAIT_MS / 2));
    const second = s.reading(50);
    expect((await heard) - from).toBeLessThan(HELD_UP_MS);
    expect(await first).toBeGreaterThan(HELD_UP_MS);
    expect(await second).toBeGreaterThan(1.4 * WAIT_MS);
    // Sent twice, the second is told that it is there already only when it is.
    const time = new Date(Date.now() - 30_000).toISOString();
    const twice = { sensorId: 'A00001', time, pressureKpa: 250, tempC: 20 };
    const third = s.post('readings', [twice]);
    await new Promise((r) => setTimeout(r, 50));
    const again = performance.now();
    expect(await (await s.post('readings', [twice])).json()).toMatchObject({ repeated: 1 });
    expect(performance.now() - again).toBeGreaterThan(0.7 * WAIT_MS);
    expect((await third).status).toBe(200);
    expect(await slowest()).toBeLessThan(HELD_UP_MS);
  });

  it('has a photo and a backup under their names before they are called kept; what comes of a backup before, it needn’t have', async () => {
    const cut = mkdtempSync(join(tmpdir(), 'druckwerk-cut-'));
    const waits = join(made, 'waited');
    /** What was waited for in the data folder since it was asked last, without what stores readings. */
    const waitedFor = () => {
      const lines = readFileSync(waits, 'utf8').trimEnd().split('\n');
      rmSync(waits);
      return lines
        .filter((line) => line.includes(shipped.folder) && !line.endsWith('.sqlite-wal'))
        .map((line) => line.replace(shipped.folder, '').replaceAll(/[0-9a-f-]{36}/g, 'ID'));
    };
    try {
      const s = await started({ POWER_CUT: cut, WAITED: waits });
      const picture = await sharp({ create: { width: 20, height: 20, channels: 3, background: '#ffffff' } })
        .png()
        .toBuffer();
      waitedFor();
      each(WAIT_MS);
      const slowest = asking(s.url);
      const from = performance.now();
      const res = await fetch(`${s.url}/api/photos`, { method: 'POST', headers: { 'Content-Type': 'image/png' }, body: picture });
      expect(res.status).toBe(201);
      // The new folder's name, the file, and its name in the folder.
      expect(performance.now() - from).toBeGreaterThan(3 * HELD_UP_MS);
      expect(waitedFor()).toEqual(['one ', 'one /photos/ID.part', 'one /photos']);

      const then = performance.now();
      const backup = await s.post('backups', {});
      expect(backup.status).toBe(201);
      // The new folder's name, the packed file, and its name in the folder. The copy that was packed is gone by now.
      expect(performance.now() - then).toBeGreaterThan(3 * HELD_UP_MS);
      expect(waitedFor()).toEqual(['one ', 'one /backups/ID.part', 'one /backups']);
      const { name } = (await backup.json()) as { name: string };
      const archive = readFileSync(join(shipped.folder, 'backups', name));
      const onDisk = readdirSync(cut).filter((file) => readFileSync(join(cut, file)).equals(archive));
      expect(onDisk).toHaveLength(1);

      writeFileSync(waits, '');
      const preview = await s.post(`restore?name=${name}`, undefined);
      expect(preview.status).toBe(200);
      expect(waitedFor()).toEqual([]);
      expect(await slowest()).toBeLessThan(HELD_UP_MS);

      each(0);
      writeFileSync(waits, '');
      const { token } = (await preview.json()) as { token: string };
      expect((await s.post(`restore/${token}`, undefined)).status).toBe(200);
      // All of the new world, and its names, before the mark that gives it the place of the old one.
      const order = waitedFor();
      expect(order.slice(0, 4).sort()).toEqual([
        'one /restoring',
        'one /restoring/druckwerk.sqlite',
        'one /restoring/photos',
        'one /restoring/photos/ID.jpg',
      ]);
      expect(order.indexOf('one /restoring/ready.json.part')).toBeGreaterThanOrEqual(4);
    } finally {
      rmSync(cut, { recursive: true, force: true });
    }
  });

  it('is waited for once by all who come together', async () => {
    const s = await started();
    each(WAIT_MS);
    const from = performance.now();
    await Promise.all(Array.from({ length: 40 }, (_, i) => s.reading(i + 1)));
    // Each on its own, one after the other, it would be 40 waits.
    expect(performance.now() - from).toBeLessThan(8 * WAIT_MS);
  });

  it('holds up nobody while a backup is made, nor while the log is brought into the database', async () => {
    const s = await started();
    each(WAIT_MS);
    const slowest = asking(s.url);
    const log = join(shipped.folder, 'druckwerk.sqlite-wal');
    const nowMs = Date.now();
    let longest = 0;
    for (let k = 0; k < 60 && longest <= LOG_BYTES; k += 1) {
      const lines = Array.from({ length: 8000 }, (_, i) => {
        const time = new Date(nowMs - (k * 8000 + i + 1) * 1000).toISOString();
        return `{"sensorId":"A0000${(i % 4) + 1}","time":"${time}","pressureKpa":250,"tempC":20}`;
      });
      const res = await fetch(`${s.url}/api/readings?history=true`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/x-ndjson' },
        body: lines.join('\n'),
      });
      expect(await res.json()).toMatchObject({ accepted: 8000 });
      longest = Math.max(longest, statSync(log).size);
    }
    // It was over the size at which it is tidied, and was emptied.
    expect(longest).toBeGreaterThan(LOG_BYTES);
    await vi.waitFor(() => expect(statSync(log).size).toBeLessThan(longest / 2), { timeout: 20_000, interval: 100 });
    expect((await s.post('backups', {})).status).toBe(201);
    expect(await slowest()).toBeLessThan(HELD_UP_MS);
    expect((await s.health()).loopDelayMs.max).toBeLessThan(HELD_UP_MS);
  }, 60_000);

  it('whose power is cut has everything that was accepted, whenever that is', async () => {
    const cut = mkdtempSync(join(tmpdir(), 'druckwerk-cut-'));
    try {
      const s = await started({ POWER_CUT: cut });
      each(5);
      let accepted = 0;
      let sentMs = Date.now() - 1e10;
      let looked = 0;
      // Until the log was brought into the database at least once meanwhile.
      const tidied = () => statSync(join(cut, 'druckwerk.sqlite')).size > 4 * 2 ** 20;
      for (let round = 0; round < 3 || !tidied(); round += 1) {
        expect(round).toBeLessThan(30);
        for (let k = 0; k < 6; k += 1) {
          // Two at a time, so that one is written while the other is brought to the disk.
          const bodies = [1, 2].map((wheel) =>
            Array.from({ length: 3000 }, () => {
              sentMs += 1000;
              return `{"sensorId":"A0000${wheel}","time":"${new Date(sentMs).toISOString()}","pressureKpa":250,"tempC":20}`;
            }).join('\n'),
          );
          const sent = bodies.map(async (body) => {
            const res = await fetch(`${s.url}/api/readings?history=true`, {
              method: 'POST',
              headers: { 'Content-Type': 'application/x-ndjson' },
              body,
            });
            accepted += ((await res.json()) as { accepted: number }).accepted;
          });
          await Promise.race(sent);
          // Now: what is on the disk, without what isn't there for sure.
          const known = accepted;
          s.child.kill('SIGSTOP');
          const found = mkdtempSync(join(made, 'found-'));
          for (const name of ['druckwerk.sqlite', 'druckwerk.sqlite-wal'])
            if (existsSync(join(cut, name))) copyFileSync(join(cut, name), join(found, name));
          s.child.kill('SIGCONT');
          const raw = new Database(join(found, 'druckwerk.sqlite'));
          expect(raw.prepare('select count(*) from readings').pluck().get()).toBeGreaterThanOrEqual(known);
          if (k === 5) expect(raw.pragma('integrity_check', { simple: true })).toBe('ok');
          raw.close();
          looked += 1;
          await Promise.all(sent);
        }
      }
      expect(looked).toBeGreaterThanOrEqual(18);
      expect(accepted).toBe(looked * 6000);
    } finally {
      rmSync(cut, { recursive: true, force: true });
    }
  }, 60_000);

  it('that fails: nothing is called accepted, every page can say so, and it goes on when the disk does', async () => {
    const s = await started();
    await s.reading(60);
    each(-1);
    const time = new Date(Date.now() - 50_000).toISOString();
    const lost = { sensorId: 'A00001', time, pressureKpa: 250, tempC: 20 };
    const res = await s.post('readings', [lost]);
    expect(res.status).toBe(503);
    expect(await res.json()).toMatchObject({ fault: 'unsure', detail: expect.stringContaining('send it again') });
    expect(await s.health()).toMatchObject({ canStore: false, problem: expect.stringContaining('The disk failed') });
    each(0);
    expect(await s.health()).toMatchObject({ canStore: true, problem: null });
    // What the log has of it may never have come to the disk, whatever the disk says now: all of it is in the database itself.
    const alone = join(made, 'alone.sqlite');
    copyFileSync(join(shipped.folder, 'druckwerk.sqlite'), alone);
    const raw = new Database(alone);
    expect(raw.prepare('select count(*) from readings where time_ms = ?').pluck().get(Date.parse(time))).toBe(1);
    raw.close();
    // It may have been kept or not; sent again it is there once.
    expect((await s.post('readings', [lost])).status).toBe(200);
    s.child.kill('SIGKILL');
    const { url } = await shipped.running();
    const { readings } = (await (await fetch(`${url}/api/rigs/${s.rig}/readings`)).json()) as { readings: { time: string }[] };
    expect(readings.filter((r) => r.time === time)).toHaveLength(1);
  });
});
