import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { faultsOf } from '#core/rig/positions.ts';
import type { Alarm, WatchView } from '#schema/alarm.ts';
import { T0, type TestServer, testServer } from '../server/testing.ts';
import { loadDemo } from './load.ts';
import { demoRigs } from './world.ts';

let s: TestServer;
beforeEach(async () => {
  s = await testServer();
});
afterEach(() => s.close());

describe('the demo world', () => {
  it('has no fault of its own', () => {
    for (const rig of demoRigs) for (const unit of rig.units) expect(faultsOf(unit)).toEqual([]);
  });

  it('loads whole: five rigs, a day of Linden run, its three troubles on the watch, and nothing twice', async () => {
    await loadDemo(s.app, T0);
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
    await loadDemo(s.app, T0 + 60_000);
    expect((await s.http.get('/api/rigs')).body).toHaveLength(5);
  }, 60_000);
});
