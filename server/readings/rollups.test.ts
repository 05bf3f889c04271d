import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ChartPoint } from '#schema/history.ts';
import type { Rig } from '#schema/unit.ts';
import { inTransaction } from '../db/open.ts';
import { makeCar, readingAt, T0, type TestServer, testServer } from '../testing.ts';
import { carDocument } from '../testing-documents.ts';
import { chartSeries, chartStep, refreshInSlices, refreshRollups } from './rollups.ts';

interface Raw {
  ms: number;
  kpa: number;
  c: number;
}
let s: TestServer;
let rig: Rig;
const readings: Raw[] = [];
const DAYS = 40;

beforeAll(async () => {
  s = await testServer();
  ({ rig } = await makeCar(s));
  // Forty days with a drive each; on day 20 a burst of 30 s.
  let seed = 7;
  const random = () => {
    seed = (seed * 1103515245 + 12345) % 2 ** 31;
    return seed / 2 ** 31;
  };
  for (let d = 0; d < DAYS; d += 1) {
    let ms = T0 + d * 86_400_000 + Math.floor(random() * 40_000_000);
    for (let i = 0; i < 300; i += 1) {
      ms += 5000 + Math.floor(random() * 40_000);
      readings.push({ ms, kpa: 250 + Math.round(random() * 20), c: Math.round(15 + random() * 20) });
    }
  }
  const burst = T0 + 20 * 86_400_000 + 50_000_000;
  readings.push({ ms: burst, kpa: 240, c: 20 }, { ms: burst + 10_000, kpa: 130, c: 20 }, { ms: burst + 20_000, kpa: 245, c: 20 });
  readings.sort((a, b) => a.ms - b.ms);
  s.clock.ms = T0 + 50 * 86_400_000;
  await s.app.watch.ingest(
    readings.map((r) => ({ sensorId: 'A00001', ms: r.ms, pressureKpa: r.kpa, tempC: r.c, batteryV: null, rssiDbm: null })),
    'history',
  );
});
afterAll(() => s.close());

/** The same straight from the readings. */
function bare(fromMs: number, toMs: number, stepS: number): ChartPoint[] {
  const out: ChartPoint[] = [];
  for (const r of readings) {
    if (r.ms < fromMs || r.ms > toMs) continue;
    const ms = stepS === 0 ? r.ms : Math.floor(r.ms / (stepS * 1000)) * stepS * 1000;
    const p = out.at(-1);
    if (stepS > 0 && p?.ms === ms) {
      p.count += 1;
      p.lowKpa = Math.min(p.lowKpa, r.kpa);
      p.highKpa = Math.max(p.highKpa, r.kpa);
      p.lastKpa = r.kpa;
      p.lowC = Math.min(p.lowC as number, r.c);
      p.highC = Math.max(p.highC as number, r.c);
      p.lastC = r.c;
      p.lastMs = r.ms;
    } else {
      out.push({ ms, count: 1, lowKpa: r.kpa, highKpa: r.kpa, lastKpa: r.kpa, lowC: r.c, highC: r.c, lastC: r.c, lastMs: r.ms });
    }
  }
  return out;
}

describe('rollups', () => {
  it('answer exactly as the readings do, on 50 random windows', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 0, max: DAYS * 86_400_000 }),
        fc.integer({ min: 60_000, max: DAYS * 86_400_000 }),
        fc.integer({ min: 10, max: 1000 }),
        async (offset, length, points) => {
          const [from, to] = [T0 + offset, T0 + offset + length];
          const step = chartStep(from, to, points);
          const got = await inTransaction(s.db, (raw) => chartSeries(raw, 'A00001', from, to, step));
          expect(got).toEqual(bare(from, to, step));
        },
      ),
      { numRuns: 50 },
    );
  });

  it('a burst of half a minute is seen in the view of a year', async () => {
    const to = T0 + 60 * 86_400_000;
    const from = to - 365 * 86_400_000;
    const answer = (
      await s.http
        .get(
          `/api/rigs/${rig.id}/chart?from=${new Date(from).toISOString()}&to=${new Date(to).toISOString()}&positions=A1L&points=800`,
        )
        .expect(200)
    ).body;
    expect(answer.stepS % 3600).toBe(0);
    expect(Math.min(...answer.series[0].points.map((p: ChartPoint) => p.lowKpa))).toBe(130);
  });

  it('gather in the same steps before 1970 as after', async () => {
    const at = (hours: number, pressureKpa: number) => ({
      sensorId: 'A00004',
      ms: hours * 3_600_000,
      pressureKpa,
      tempC: null,
      batteryV: null,
      rssiDbm: null,
    });
    await s.app.watch.ingest([at(-3.5, 200), at(-2.5, 204), at(-0.5, 210), at(0.5, 190)], 'history');
    const got = await inTransaction(s.db, (raw) => chartSeries(raw, 'A00004', -6 * 3_600_000, 4 * 3_600_000, 7200));
    // Worked by hand: two hours each from 20:00, 22:00 and midnight.
    expect(got.map((p) => [p.ms / 3_600_000, p.count, p.lowKpa, p.highKpa, p.lastKpa])).toEqual([
      [-4, 2, 200, 204, 204],
      [-2, 1, 210, 210, 210],
      [0, 1, 190, 190, 190],
    ]);
    for (const table of ['readings', 'rollups', 'rollup_days']) await s.db(table).where({ sensor_id: 'A00004' }).delete();
  });

  it('follow readings that come later for a day that was gathered already', async () => {
    const ms = T0 + 3 * 86_400_000 + 1234;
    const window = [ms - 43_200_000, ms + 43_200_000] as const;
    await s.app.watch.ingest(
      [{ sensorId: 'A00001', ms, pressureKpa: 99, tempC: null, batteryV: null, rssiDbm: null }],
      'history',
    );
    const got = await inTransaction(s.db, (raw) => chartSeries(raw, 'A00001', ...window, 3600));
    expect(Math.min(...got.map((p) => p.lowKpa))).toBe(99);
    await s.db('readings').where({ time_ms: ms }).delete();
    await s.db.raw('insert or ignore into rollup_days values (?, cast(? as integer))', ['A00001', Math.floor(ms / 86_400_000)]);
  });

  it('are made in slices, and whatever else is asked meanwhile is answered between two of them', async () => {
    const span = [T0 - 86_400_000, T0 + (DAYS + 1) * 86_400_000] as const;
    await inTransaction(s.db, (raw) => refreshRollups(raw, 'A00001', ...span));
    await s.db.raw('insert or ignore into rollup_days select distinct sensor_id, time_ms / 86400000 from readings');
    const before = await s.db('rollups').orderBy(['sensor_id', 'step_s', 'time_ms']);
    await s.db('rollups').delete();
    let answered = 0;
    let over = false;
    const asking = (async () => {
      while (!over) {
        await s.http.get('/api/health');
        await s.app.watch.tick(rig.id);
        answered += 1;
      }
    })();
    // A day a slice.
    await refreshInSlices(s.db, ['A00001'], ...span, 0);
    over = true;
    expect(answered).toBeGreaterThanOrEqual(3);
    await asking;
    expect(await s.db('rollups').orderBy(['sensor_id', 'step_s', 'time_ms'])).toEqual(before);
    expect(await inTransaction(s.db, (raw) => refreshRollups(raw, 'A00001', ...span))).toBe(0);
  });

  it('a slice ends in time, and tells how many days are left', async () => {
    const span = [T0 - 86_400_000, T0 + (DAYS + 1) * 86_400_000] as const;
    await s.db.raw('insert or ignore into rollup_days select distinct sensor_id, time_ms / 86400000 from readings');
    const [{ days }] = await s.db.raw('select count(*) as days from rollup_days');
    expect(await inTransaction(s.db, (raw) => refreshRollups(raw, 'A00001', ...span, 0))).toBe(days - 1);
    expect(await inTransaction(s.db, (raw) => refreshRollups(raw, 'A00001', ...span, 0))).toBe(days - 2);
    expect(await inTransaction(s.db, (raw) => refreshRollups(raw, 'A00001', ...span))).toBe(0);
  });

  it('refuses a window that is none', async () => {
    const chart = (query: string) => s.http.get(`/api/rigs/${rig.id}/chart?${query}`).expect(400);
    await chart('from=2026-05-01T08:00:00Z');
    await chart('from=2026-05-02T08:00:00Z&to=2026-05-01T08:00:00Z');
    await chart('from=2026-05-01T08:00:00Z&to=2026-05-02T08:00:00Z&positions=Z9');
    await chart('from=2026-05-01T08:00:00Z&to=2026-05-02T08:00:00Z&points=1');
  });

  it('contain what came while the unit was in no rig', async () => {
    const ids = ['B00001', 'B00002', 'B00003', 'B00004'];
    const unit = (await s.http.post('/api/units').send(carDocument(ids)).expect(201)).body;
    const batch = [0, 60, 120].map((sec) => ({ ...readingAt('B00001', sec), pressureKpa: 240 + sec / 60 }));
    await s.http.post('/api/readings?history=true').send(batch).expect(200);
    const body = { name: 'Later', unitIds: [unit.id], loadState: 'loaded' };
    const { id } = (await s.http.post('/api/rigs').send(body).expect(201)).body;
    const window = 'from=2026-04-01T00:00:00Z&to=2026-06-01T00:00:00Z&positions=A1L';
    const { series } = (await s.http.get(`/api/rigs/${id}/chart?${window}`).expect(200)).body;
    expect(series[0].points).toMatchObject([{ count: 3, lowKpa: 240, highKpa: 242 }]);
  });
});
