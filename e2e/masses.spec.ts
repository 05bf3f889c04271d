import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { oldBackup } from '../server/backup/old-backup.test-data.ts';
import { gpxOf, idsOf, line, makeCar, probe, send } from './masses.ts';
import { expect, test } from './server.ts';

test('twelve connections at 2,000 readings a second in all: nothing that was accepted is lost', async ({ own }) => {
  await makeCar(own, 'Errand', idsOf(0));
  const start = Date.now() - 3_1_000_000;
  let accepted = 0;
  let busy = 0;
  const done = probe(own);
  const until = Date.now() + 8000;
  await Promise.all(
    Array.from({ length: 12 }, async (_, c) => {
      for (let k = 0; Date.now() < until; k += 1) {
        const at = Date.now();
        const body = Array.from({ length: 167 }, (_x, i) =>
          line(idsOf(0)[c % 4] as string, start + c * 7 + (k * 167 + i) * 100),
        ).join('\n');
        const res = await send(own, body);
        if (res.status === 200) accepted += ((await res.json()) as { accepted: number }).accepted;
        else {
          expect([429, 503]).toContain(res.status);
          expect(Number(res.headers.get('retry-after'))).toBeGreaterThan(0);
          await res.body?.cancel();
          busy += 1;
        }
        await new Promise((r) => setTimeout(r, Math.max(0, 1000 - (Date.now() - at))));
      }
    }),
  );
  console.log(`${accepted} accepted, ${busy} asked to come again, slowest answer ${(await done()).toFixed(0)} ms`);
  await own.kill();
  await own.start();
  const rigs = (await (await fetch(`${own.url}/api/rigs`)).json()) as { id: string }[];
  const csv = await (await fetch(`${own.url}/api/rigs/${rigs[0]?.id}/export-readings?format=ndjson`)).text();
  expect(csv.trim().split('\n').length).toBe(accepted);
});

test('a backup of an older version is brought up to date beside everything else', async ({ own }) => {
  const old = await oldBackup(1_000_000);
  const asked = probe(own);
  const from = performance.now();
  const res = await fetch(`${own.url}/api/restore`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/gzip' },
    body: readFileSync(old.path),
  });
  const { token, backup } = (await res.json()) as { token: string; backup: { readings: number } };
  expect(backup.readings).toBe(1_000_000);
  const took = performance.now() - from;
  const slowest = await asked();
  const health = (await (await fetch(`${own.url}/api/health`)).json()) as { loopDelayMs: { max: number } };
  const held = health.loopDelayMs.max;
  console.log(`a preview of ${took.toFixed(0)} ms, held up for ${held.toFixed(0)}, slowest answer ${slowest.toFixed(0)} ms`);
  // A third of it, if it were done in between, on a machine of any speed.
  expect(held / took).toBeLessThan(0.15);
  expect((await fetch(`${own.url}/api/restore/${token}`, { method: 'POST' })).status).toBe(200);
  rmSync(old.folder, { recursive: true });
});

test('a GPX of half a million points is read, one of more is refused, and the one before is kept', async ({ page, own }) => {
  test.setTimeout(240_000);
  const rig = await makeCar(own, 'Van', idsOf(0));
  await page.goto(`${own.url}/rigs/${rig}/logbook?part=trip`);
  await page.getByRole('radio', { name: 'GPX file' }).click();
  const file = page.getByLabel('GPX file with heights');
  // From the disk, as an owner's file: handed over in a message, 40 MB are taken apart letter by letter in the page.
  const choose = (name: string, heights: number[]) => {
    const path = join(own.folder, name);
    writeFileSync(path, gpxOf(heights, 1e-5));
    return file.setInputFiles(path);
  };
  await choose(
    'long.gpx',
    Array.from({ length: 500_000 }, (_, i) => (i === 123_456 ? 1812 : 400)),
  );
  await expect(page.getByText(/long\.gpx: 556 km, 400 to 1812 m\./)).toBeVisible({ timeout: 90_000 });
  await choose('longer.gpx', new Array(500_001).fill(400));
  await expect(page.getByText('This file has 500,001 points; up to 500,000 are read.')).toBeVisible({ timeout: 90_000 });
  // The one before is kept.
  await expect(page.getByText(/long\.gpx: 556 km/)).toBeVisible();
});
