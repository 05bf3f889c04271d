import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { rowsOf } from '#core/kit/map.ts';
import { records } from '../../generated/bodies.js';
import { type TestServer, testServer } from '../testing.ts';
import { ensureStandIns, STAND_INS } from './stand-ins.ts';

let s: TestServer;
beforeEach(async () => {
  s = await testServer();
});
afterEach(() => s.close());

describe('stand-in monitors', () => {
  it.each(STAND_INS.map((m) => [m.name, m] as const))('%s is a monitor the schema allows, with rows that add up', (_, m) => {
    expect(records.newMonitor(m)).toBe(true);
    expect(rowsOf(m).reduce((a, b) => a + b)).toBeGreaterThanOrEqual(m.positionsPerUnit);
    expect(m.min).toBeLessThan(m.max);
  });

  it('are put in once, and a deleted one does not come back', async () => {
    const put = () => s.app.watch.changeRecords((raw) => ensureStandIns(raw, '2026-05-01T08:00:00Z'));
    const made = await put();
    expect(made).toHaveLength(5);
    await s.http.delete(`/api/monitors/${made[0]?.id}`).expect(204);
    expect(await put()).toHaveLength(4);
  });
});
