import { describe, expect, it } from 'vitest';
import type { Rig, Unit } from '#schema/unit.ts';
import { makeAxle } from '../rig/positions.ts';
import { buildReport, compareReports } from './report.ts';

const PSI = 6.894757293168;
const at = '2026-05-01T08:00:00Z';
function trailer(): Unit {
  const axles = [makeAxle('single', 1), makeAxle('single', 2)];
  axles.forEach((a, i) => {
    a.settings = {
      loaded: {
        cold: { kpa: 80 * PSI, tempC: 20 },
        limits: { rule: { school: 'share' }, lowKpa: 72 * PSI, highKpa: 96 * PSI, hotC: 70 },
      },
    };
    a.wheels.forEach((w, j) => {
      w.sensor = { id: `A0000${i * 2 + j + 1}`, kind: 'cap' };
      w.fitting = { done: [{ code: 'sensorOn', at }] };
    });
  });
  return { id: 'u', version: 1, name: 'Trailer', kind: 'trailer', axles, spares: [] };
}
const reading = (gaugePsi: number, sensorPsi: number) => ({
  gauge: [{ kpa: gaugePsi * PSI }],
  sensorKpa: sensorPsi * PSI,
  airC: 20,
  at,
});
const rig = (over: Partial<Rig> = {}): Rig => ({
  id: 'r',
  version: 1,
  name: 'Hay run',
  unitIds: ['u'],
  loadState: 'loaded',
  fitting: { boots: true, lockNuts: true, antiTheft: false, retightenedAt: at },
  keyed: { at, loadState: 'loaded', groups: { B: { low: 72, high: 96 } }, hotC: 70 },
  firstDrive: {
    gauge: { errorKpa: PSI, stepKpa: 0.5 * PSI },
    readings: { A1L: reading(80, 80), A1R: reading(80, 80.5), A2L: reading(80, 79.5), A2R: reading(80, 88) },
    proof: {
      position: 'A1L',
      startedAt: at,
      cameAt: '2026-05-01T08:01:05Z',
      monitor: { did: 'rang', at: '2026-05-01T08:00:40Z' },
      practice: false,
    },
  },
  ...over,
});

describe('the commissioning report', () => {
  it('holds every ID, what the gauge said and what it found', () => {
    const report = buildReport(rig(), [trailer()], null, at);
    expect(report.wheels.map((w) => w.sensorId)).toEqual(['A00001', 'A00002', 'A00003', 'A00004']);
    expect(report.wheels.map((w) => w.verdict)).toEqual(['fine', 'fine', 'fine', 'suspect']);
    expect(report.gauge?.blame).toBe('sensors');
    expect(report.proof).toEqual({ position: 'A1L', seconds: 65, practice: false, monitor: { did: 'rang', seconds: 40 } });
    expect(report.open).toEqual([{ code: 'suspect', positions: ['A2R'] }]);
  });
  it('names what is open', () => {
    const unit = trailer();
    (unit.axles[0] as { wheels: { sensor: unknown }[] }).wheels[0] = { ...unit.axles[0]?.wheels[0], sensor: null } as never;
    (unit.axles[1] as Unit['axles'][number]).settings = {};
    const { keyed: _k, firstDrive: _f, fitting: _t, ...bare } = rig();
    const codes = buildReport(bare, [unit], null, at).open.map((o) => o.code);
    expect(codes).toEqual(['noSensor', 'noCold', 'noLimits', 'noGauge', 'notKeyed', 'noProof', 'notRetightened']);
  });
  it('Druckwerk’s own alarm is no proof of the monitor’s, and a quiet monitor is an open point', () => {
    const open = (proof: Partial<NonNullable<NonNullable<Rig['firstDrive']>['proof']>>) => {
      const { readings: _r, ...drive } = rig().firstDrive as NonNullable<Rig['firstDrive']>;
      const { monitor: _m, ...own } = drive.proof as NonNullable<NonNullable<Rig['firstDrive']>['proof']>;
      return buildReport(rig({ firstDrive: { ...drive, proof: { ...own, ...proof } } }), [trailer()], null, at)
        .open.filter((o) => o.code !== 'noGauge')
        .map((o) => `${o.code} ${o.positions.join()}`);
    };
    expect(open({})).toEqual(['noProof ']);
    expect(open({ monitor: { did: 'quiet', at } })).toEqual(['stayedQuiet A1L']);
    expect(open({ monitor: { did: 'rang', at } })).toEqual([]);
    // The bench has no monitor that rings: the practice counts as what it is.
    expect(open({ practice: true })).toEqual([]);
    expect(open({ practice: true, cameAt: undefined as never })).toEqual(['noProof ']);
  });
  it('nuts are tightened again only where there are some', () => {
    const open = (fitting: Rig['fitting'], kind: 'cap' | 'internal') => {
      const unit = trailer();
      for (const w of unit.axles.flatMap((a) => a.wheels)) if (w.sensor) w.sensor.kind = kind;
      const { fitting: _f, ...rest } = rig();
      return buildReport({ ...rest, ...(fitting ? { fitting } : {}) }, [unit], null, at).open.some(
        (o) => o.code === 'notRetightened',
      );
    };
    const parts = { boots: false, antiTheft: false };
    expect(open(undefined, 'cap')).toBe(true);
    expect(open({ ...parts, lockNuts: true }, 'cap')).toBe(true);
    expect(open({ ...parts, lockNuts: false }, 'cap')).toBe(false);
    expect(open({ ...parts, lockNuts: true }, 'internal')).toBe(false);
    expect(open({ ...parts, lockNuts: true, retightenedAt: at }, 'cap')).toBe(false);
  });
  it('has the signature with how many points were open then', () => {
    const signed = { by: 'keeper', at, open: 2 };
    expect(buildReport({ ...rig(), firstDrive: { ...rig().firstDrive, signed } }, [trailer()], null, at).signed).toEqual(signed);
    expect(buildReport(rig(), [trailer()], null, at)).not.toHaveProperty('signed');
  });
  it('two versions differ in what was changed and nothing else', () => {
    const before = buildReport(rig(), [trailer()], null, at);
    const unit = trailer();
    if (unit.axles[0]?.settings.loaded?.limits) unit.axles[0].settings.loaded.limits.lowKpa = 73 * PSI;
    const after = buildReport(rig(), [unit], null, '2026-06-01T08:00:00Z');
    expect(compareReports(before, before)).toEqual([]);
    expect(compareReports(before, after).map((c) => c.path)).toEqual(['wheels/A1L/lowKpa', 'wheels/A1R/lowKpa']);
  });
});
