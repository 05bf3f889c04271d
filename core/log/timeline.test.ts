import { describe, expect, it } from 'vitest';
import type { Alarm } from '#schema/alarm.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { makeAxle } from '../rig/positions.ts';
import { timelineOf } from './timeline.ts';

const unit: Unit = {
  id: 'u',
  version: 1,
  name: 'Car',
  kind: 'vehicle',
  axles: [makeAxle('single', 1)],
  spares: [],
  idBook: [{ position: '1L', sensorId: 'A0A0A0', kind: 'cap', until: '2026-04-05T08:00:00Z', why: 'replaced' }],
};
const [left, right] = unit.axles[0]?.wheels ?? [];
if (left) {
  left.sensor = { id: 'B0B0B0', kind: 'cap', pairedAt: '2026-04-05T08:10:00Z' };
  left.fitting = {
    done: [
      { code: 'gauge', at: '2026-04-05T08:20:00Z' },
      { code: 'sensorOn', at: '2026-04-05T08:30:00Z' },
    ],
  };
}
if (right) right.sensor = { id: 'C0C0C0', kind: 'internal' };
const alarm = (id: string, change: Partial<Alarm>): Alarm => ({
  id,
  rigId: 'r',
  position: 'A1L',
  sensorId: 'B0B0B0',
  kind: 'low',
  severity: 'stop',
  fromTime: '2026-05-01T06:00:00Z',
  toTime: null,
  acknowledgedAt: null,
  limit: 225,
  value: 220,
  worst: 220,
  evidence: null,
  practice: false,
  ...change,
});
const rig: Rig = {
  id: 'r',
  version: 1,
  name: 'Errand',
  unitIds: ['u'],
  loadState: 'loaded',
  keyed: { at: '2026-04-04T10:00:00Z', loadState: 'loaded', groups: {}, hotC: null },
  fitting: { retightenedAt: '2026-04-06T10:00:00Z' },
  firstDrive: {
    proof: {
      position: 'A1L',
      startedAt: '2026-04-05T12:00:00Z',
      monitor: { did: 'rang', at: '2026-04-05T12:01:00Z' },
      practice: false,
    },
    readings: { A1R: { gauge: [{ kpa: 240 }, { kpa: 244 }], sensorKpa: 247, airC: 18, at: '2026-04-05T11:00:00Z' } },
  },
  log: [
    { id: 'e1', at: '2026-05-02T09:00:00Z', kind: 'filled', position: 'A1L', before: { kpa: 218 }, after: { kpa: 250 } },
    { id: 'e2', at: '2026-03-01T09:00:00Z', kind: 'stored' },
  ],
};
const lines = (r = rig, alarms: Alarm[] = []) =>
  timelineOf(r, [unit], null, alarms).map((l) => `${l.position ?? 'rig'} ${l.what}`);

describe('the time line of a rig', () => {
  it('has everything once, the latest first', () => {
    expect(lines(rig, [alarm('a', {})])).toEqual([
      'A1L entry',
      'A1L alarm',
      'rig retightened',
      'A1L proof',
      'A1R gauge',
      'A1L fitted',
      'A1L paired',
      'A1L left',
      'rig keyed',
      'rig entry',
    ]);
  });

  it('leaves out what was only practice, and what has no time', () => {
    expect(lines({ ...rig, log: [] }, [alarm('a', { practice: true })])).not.toContain('A1L alarm');
    const practised = {
      ...rig,
      firstDrive: { proof: { position: 'A1L', practice: true, monitor: { did: 'rang' as const, at: '2026-04-05T12:01:00Z' } } },
    };
    expect(lines(practised as Rig)).not.toContain('A1L proof');
    // Nobody knows when the sensor of A1R was paired.
    expect(lines()).not.toContain('A1R paired');
  });

  it('a gauge that was read twice counts by its mean', () => {
    const gauge = timelineOf(rig, [unit], null, []).find((l) => l.what === 'gauge');
    expect(gauge).toMatchObject({ gaugeKpa: 242, sensorKpa: 247 });
  });
});
