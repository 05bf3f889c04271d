import { join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DATABASE, inTransaction, reading, replaceFile } from '../db/open.ts';
import { makeCar, type TestServer, testServer } from '../testing.ts';
import { FIGURES, KeptRollups } from './kept-rollups.ts';
import { chartSeries } from './rollups.ts';

const HOUR_MS = 3_600_000;
const DAY_MS = 86_400_000;
/** 20 October 2024; a stretch of eight days begins. */
const DAY = 20_016;

let s: TestServer;
beforeAll(async () => {
  s = await testServer();
  await makeCar(s, ['C00001', 'C00002', 'C00003', 'C00004']);
  await makeCar(s, ['C00005', 'C00006', 'C00007', 'C00008']);
  s.clock.ms = (DAY + 400) * DAY_MS;
});
afterAll(() => s.close());

const hear = (sensorId: string, ms: number, pressureKpa: number, tempC: number | null = 20) =>
  s.app.watch.ingest([{ sensorId, ms, pressureKpa, tempC, batteryV: null, rssiDbm: null }], 'history');
const chart = (sensorId: string, fromMs: number, toMs: number, stepS = 3600) =>
  reading(s.db, (raw) => chartSeries(raw, sensorId, fromMs, toMs, stepS).map((p) => [p.ms, p.count, p.lowKpa, p.highKpa]));

describe('kept rollups', () => {
  it('show a reading that comes later, at the first and the last hour of a stretch and of the one before', async () => {
    const [from, to] = [(DAY - 2) * DAY_MS, (DAY + 10) * DAY_MS];
    const noon = DAY * DAY_MS + 12 * HOUR_MS;
    await hear('C00001', noon, 250);
    expect(await chart('C00001', from, to)).toEqual([[noon, 1, 250, 250]]);
    const edges = [DAY * DAY_MS - HOUR_MS, DAY * DAY_MS, (DAY + 8) * DAY_MS - HOUR_MS, (DAY + 8) * DAY_MS];
    for (const [i, ms] of edges.entries()) {
      await hear('C00001', ms, 200 + i);
      expect(await chart('C00001', from, to)).toContainEqual([ms, 1, 200 + i, 200 + i]);
    }
    expect(await chart('C00001', from, to)).toHaveLength(5);
    // A second one in an hour that was shown.
    await hear('C00001', noon + 60_000, 240);
    expect(await chart('C00001', from, to)).toContainEqual([noon, 2, 240, 250]);
    expect(await chart('C00001', from, to, 300)).toContainEqual([noon, 2, 240, 250]);
  });

  it('show what belongs to the sensor and the stretch asked for, and no hour beside it', async () => {
    const at = (hours: number) => (DAY + 20) * DAY_MS + hours * HOUR_MS;
    for (const [id, kpa] of [
      ['C00002', 300],
      ['C00003', 310],
    ] as const)
      for (const h of [1, 2, 3, 4]) await hear(id, at(h), kpa + h);
    expect(await chart('C00002', at(0), at(24))).toHaveLength(4);
    expect(await chart('C00002', at(2), at(4) - 1)).toEqual([
      [at(2), 1, 302, 302],
      [at(3), 1, 303, 303],
    ]);
    expect(await chart('C00003', at(3), at(3))).toEqual([[at(3), 1, 313, 313]]);
  });

  it('keep a temperature that nobody reported apart from one of 0', async () => {
    const from = (DAY + 40) * DAY_MS;
    await hear('C00004', from, 250, null);
    await hear('C00004', from + HOUR_MS, 250, 0);
    const twice = async () =>
      (await reading(s.db, (raw) => chartSeries(raw, 'C00004', from, from + DAY_MS, 3600))).map((p) => [
        p.lowC,
        p.highC,
        p.lastC,
      ]);
    const shown = [
      [null, null, null],
      [0, 0, 0],
    ];
    expect(await twice()).toEqual(shown);
    expect(await twice()).toEqual(shown);
  });

  it('find readings of two centuries in a window of ten thousand years at once', async () => {
    const old = Date.UTC(1875, 4, 2, 7);
    await hear('C00005', old, 180);
    await hear('C00005', DAY * DAY_MS, 190);
    const begin = performance.now();
    const got = await chart('C00005', Date.UTC(-1, 0, 1), Date.UTC(9999, 0, 1));
    expect(got).toEqual([
      [old, 1, 180, 180],
      [DAY * DAY_MS, 1, 190, 190],
    ]);
    // Each of the 456,000 stretches in it looked at would take seconds.
    expect(performance.now() - begin).toBeLessThan(500);
  });

  it('answer the same with room for one stretch only', async () => {
    for (let d = 0; d < 40; d += 3) await hear('C00006', (DAY + d) * DAY_MS, 250 + d);
    const [from, to] = [DAY * DAY_MS, (DAY + 40) * DAY_MS];
    await chart('C00006', from, to);
    const hours = (kept: KeptRollups) => [...kept.of('C00006', 3600, from, to)].flatMap((figures) => [...figures]);
    await inTransaction(s.db, (raw) => {
      const [wide, narrow] = [new KeptRollups(raw), new KeptRollups(raw, 500)];
      const asked = hours(wide);
      expect(asked).toHaveLength(14 * FIGURES);
      for (const kept of [narrow, narrow, wide]) expect(hours(kept)).toEqual(asked);
    });
  });

  it('are those of the file that is there, when another took its place', async () => {
    const from = (DAY + 60) * DAY_MS;
    await hear('C00007', from, 250);
    expect(await chart('C00007', from, from + DAY_MS)).toHaveLength(1);
    await replaceFile(s.db, async () => {
      const other = new Sqlite(join(s.folder, DATABASE));
      other.exec("update rollups set low_kpa = 111 where sensor_id = 'C00007'");
      other.close();
    });
    expect(await chart('C00007', from, from + DAY_MS)).toEqual([[from, 1, 111, 250]]);
  });
});
