import { describe, expect, it } from 'vitest';
import type { Monitor } from '#schema/monitor.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import type { LearnedRise } from '../pressure/hot-run.ts';
import { makeAxle } from '../rig/positions.ts';
import { buildReport, compareReports, gaugePairs } from './report.ts';

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

const console_: Monitor = {
  id: 'm',
  version: 1,
  name: 'Console',
  groups: 'baseline',
  unit: 'psi',
  step: 1,
  min: 12,
  max: 146,
  presetLow: null,
  presetHigh: null,
  presetHotC: null,
  interlock: false,
  derives: { lowShare: 0.11, highShare: 0.22 },
  positionsPerUnit: 8,
  units: 1,
  showsIds: true,
  canDisconnect: false,
};

describe('the commissioning report', () => {
  it('of a monitor with a baseline has what it makes of it, and what was keyed', () => {
    const unit = trailer();
    for (const a of unit.axles)
      if (a.settings.loaded) a.settings.loaded.limits = { rule: { school: 'baseline' }, lowKpa: null, highKpa: null, hotC: 70 };
    const keyed = { at, loadState: 'loaded' as const, groups: { A1: { low: null, high: null, baseline: 80 } }, hotC: null };
    const report = buildReport(rig({ keyed }), [unit], console_, at);
    // 89 and 122 % of 80 psi.
    expect((report.wheels[0]?.lowKpa ?? 0) / PSI).toBeCloseTo(71.2, 6);
    expect((report.wheels[0]?.highKpa ?? 0) / PSI).toBeCloseTo(97.6, 6);
    expect(report.keyed?.groups).toEqual({ A1: { low: null, high: null, baseline: 80 } });
    // While its shares are unknown nothing is claimed.
    const { derives: _unknown, ...unsure } = console_;
    expect(buildReport(rig({ keyed }), [unit], unsure, at).wheels[0]?.lowKpa).toBeNull();
  });
  it('dates what was overridden by the day where its owner is', () => {
    const unit = trailer();
    const first = unit.axles[0]?.wheels[0];
    if (!first) throw new Error('no wheel');
    first.fitOverride = { words: 'It is only for today', at: '2026-11-26T20:00:00.000Z', kind: 'flowThrough' };
    const words = (zone?: string) => buildReport(rig(), [unit], null, at, undefined, zone).wheels[0]?.override;
    expect(words()).toBe('It is only for today (2026-11-26)');
    // UTC+13 by the IANA time zone database.
    expect(words('Pacific/Auckland')).toBe('It is only for today (2026-11-27)');
  });
  it('judges the hot run that the rig’s own readings showed', () => {
    const climate = { coldestC: 5, hottestC: 30, altitudeSetM: 0 };
    const display: Monitor = { ...console_, groups: 'axle', presetLow: 60, presetHigh: 110 };
    const codes = (share: number) =>
      buildReport(rig({ climate }), [trailer()], display, at, {
        A1: { share, runs: 4 } as LearnedRise,
      }).open.map((o) => `${o.code} ${o.positions.join()}`);
    // 80 psi set at 20 °C reads 83.2 on a day of 30 °C; a run that adds 30 % goes over the high of 96, one of 5 % doesn't.
    expect(codes(0.3)).toContain('heldStops A1');
    expect(codes(0.05).some((c) => c.startsWith('heldStops'))).toBe(false);
  });
  it('compares a display that corrects its pressures with the gauge at its own temperature', () => {
    const pair = gaugePairs(rig(), [trailer()], 8)[0];
    expect(pair).toMatchObject({ gaugeTempC: 20, sensorTempC: 8 });
    expect(gaugePairs(rig(), [trailer()])[0]).toMatchObject({ gaugeTempC: 20, sensorTempC: 20 });
  });

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
