import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { faultsOf } from '#core/rig/positions.ts';
import type { Alarm, WatchView } from '#schema/alarm.ts';
import type { ChartAnswer, ChartPoint } from '#schema/history.ts';
import { T0, type TestServer, testServer } from '../server/testing.ts';
import { loadDemo } from './load.ts';
import { demoWorld } from './world.ts';

/** Loaded once: the world is the same for every test, and its year takes a while. */
let s: TestServer;
beforeAll(async () => {
  s = await testServer();
  await loadDemo(s.app, T0);
}, 60_000);
afterAll(() => s.close());

describe('the demo world', () => {
  it('has no fault of its own', () => {
    for (const rig of demoWorld(T0)) for (const unit of rig.units) expect(faultsOf(unit)).toEqual([]);
  });

  it('loads whole: five rigs, a day of Linden run, its three troubles on the watch, and nothing twice', async () => {
    const rigs = (await s.http.get('/api/rigs')).body as { id: string; name: string }[];
    expect(rigs.map((r) => r.name)).toEqual(['Linden run', 'Scout', 'Wing', 'Smoker', 'Drone']);
    const linden = rigs[0]?.id;
    const view = (await s.http.get(`/api/rigs/${linden}/watch`)).body as WatchView;
    const state = Object.fromEntries(view.wheels.map((w) => [w.position, w]));
    expect(view.clock).toBe('bench');
    expect(state.B1R?.state).toBe('silent');
    expect(state.B2L?.active).toContain('low');
    expect((state.A2RO?.tempC ?? 0) - (state.A2LO?.tempC ?? 0)).toBeGreaterThanOrEqual(6);
    expect(state.A2RO).toMatchObject({ state: 'live', active: ['apart'] });
    for (const p of ['A1L', 'A1R', 'A2LO', 'A2LI', 'A2RI', 'B1L', 'B2R']) {
      expect([p, state[p]?.state, state[p]?.active]).toEqual([p, 'live', []]);
    }
    const alarms = (await s.http.get(`/api/rigs/${linden}/alarms?active=true`)).body as Alarm[];
    expect(alarms.map((a) => `${a.position} ${a.kind}`)).toEqual(
      expect.arrayContaining(['A2RO apart', 'B1R silent', 'B2L low', 'B2L slow']),
    );
    expect(new Set(alarms.map((a) => a.position))).toEqual(new Set(['A2RO', 'B1R', 'B2L']));
    const count = async () => (await s.db('readings').count({ n: '*' }))[0]?.n;
    const before = await count();
    await loadDemo(s.app, T0 + 60_000);
    expect((await s.http.get('/api/rigs')).body).toHaveLength(5);
    expect(await count()).toBe(before);
  }, 60_000);

  it('has a year behind the day: every month heard, colder in winter, the nail seen and no alarm made of it', async () => {
    const rigs = (await s.http.get('/api/rigs')).body as { id: string; name: string }[];
    const linden = rigs[0]?.id;
    const from = new Date(T0 - 364 * 86_400_000).toISOString();
    const chart = (
      await s.http
        .get(`/api/rigs/${linden}/chart?from=${from}&to=${new Date(T0).toISOString()}&positions=A1L,A1R&points=366`)
        .expect(200)
    ).body as ChartAnswer;
    const [left, right] = ['A1L', 'A1R'].map((p) => chart.series.find((x) => x.position === p)?.points ?? []) as [
      ChartPoint[],
      ChartPoint[],
    ];
    const months = new Set(left.map((p) => new Date(p.ms).getUTCMonth()));
    expect(months.size).toBe(12);
    const coldest = (month: number) =>
      Math.min(...left.filter((p) => new Date(p.ms).getUTCMonth() === month).map((p) => p.lowC ?? Number.POSITIVE_INFINITY));
    expect(coldest(0)).toBeLessThan(coldest(6) - 8);
    // The nail: 30 kPa or more under the other side of the axle, and under it only for some days.
    const low = right.filter((p) => left.some((l) => l.ms === p.ms && l.lowKpa - p.lowKpa > 30));
    expect(low.length).toBeGreaterThan(0);
    expect(low.length).toBeLessThan(20);
    const alarms = (await s.http.get(`/api/rigs/${linden}/alarms`)).body as Alarm[];
    expect(alarms.every((a) => Date.parse(a.fromTime) > T0 - 2 * 86_400_000)).toBe(true);
  }, 60_000);
});
