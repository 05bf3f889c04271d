import { describe, expect, it } from 'vitest';
import type { WholeRig } from '../data/queries.ts';
import { readyRig, steadyView, wholeRig } from '../testing/rigs.ts';
import { holders, withSettings } from './holders.ts';
import { nextStep, progressOf } from './sheets.ts';

describe('axles and spares as what settings belong to', () => {
  it('are told once each, with a name and how many wheels share them', () => {
    expect(holders(wholeRig()).map((h) => `${h.code} ${h.name} ${h.wheels}`)).toEqual([
      'A1 front 2',
      'A2 rear 4',
      'B1 trailer 2',
      'BS1 spare 1',
    ]);
  });

  it('take new settings without touching what they came from', () => {
    const whole = wholeRig();
    const before = structuredClone(whole.units);
    const cold = { kpa: 550, tempC: 15 };
    const changed = withSettings(whole, 'loaded', (h) => (h.code === 'A2' || h.code === 'BS1' ? { cold } : undefined));
    expect(whole.units).toEqual(before);
    expect(changed.map((u) => u.id)).toEqual(['a', 'b']);
    expect(changed[0]?.axles.map((a) => a.settings.loaded?.cold?.kpa)).toEqual([undefined, 550]);
    expect(changed[1]?.spares[0]?.settings.loaded?.cold).toEqual(cold);
    expect(withSettings(whole, 'loaded', () => undefined)).toEqual([]);
  });

  it('keep the other load states', () => {
    const whole = readyRig();
    const [unit] = withSettings(whole, 'empty', (h) => (h.code === 'A1' ? { cold: { kpa: 300, tempC: 5 } } : undefined));
    expect(Object.keys(unit?.axles[0]?.settings ?? {}).sort()).toEqual(['empty', 'loaded']);
  });
});

/** The final check was made with the sensors that are on the wheels. */
function check(whole: WholeRig): void {
  const sensors = Object.fromEntries(whole.wheels.map((w) => [w.position, w.wheel.sensor?.id ?? '']));
  whole.rig.checked = { at: '2026-05-01T07:00:00Z', sensors };
}

describe('where the work stands', () => {
  const view = (wheels: number) => ({
    rigId: 'r',
    time: '2026-05-01T08:00:00Z',
    revision: 'a-1',
    clock: 'wall' as const,
    wheels: Array.from({ length: 9 }, (_, i) => steadyView(i < wheels ? {} : { time: null, state: 'notHeard' })),
    silencedUntil: null,
    airC: null,
    moving: null,
    resting: [],
    missing: [],
    topUp: null,
    track: null,
  });

  it('leads from pressures over alarms and pairing to the watch', () => {
    const whole = wholeRig();
    const step = (w = whole) => nextStep(progressOf(w, undefined)).path;
    for (const w of whole.wheels) delete w.wheel.stem;
    expect(step()).toBe('kit');
    for (const w of whole.wheels) w.wheel.stem = 'metal';
    expect(step()).toBe('pressures');
    for (const w of whole.wheels) w.holder.settings = { loaded: { cold: { kpa: 500, tempC: 20 } } };
    expect(step()).toBe('alarms');
    const ready = readyRig();
    for (const w of ready.wheels) w.wheel.stem = 'metal';
    if (ready.wheels[0]) ready.wheels[0].wheel.sensor = null;
    expect(step(ready)).toBe('pairing');
    if (ready.wheels[0]) ready.wheels[0].wheel.sensor = { id: 'A0F001', kind: 'cap' };
    // Pairing is done when every position was seen to be right, with these sensors.
    expect(step(ready)).toBe('pairing?part=check');
    expect(progressOf(ready, undefined).pairing?.state).toBe('part');
    check(ready);
    expect(progressOf(ready, undefined).pairing?.state).toBe('done');
    if (ready.wheels[0]?.wheel.sensor) ready.wheels[0].wheel.sensor.id = 'A0F0AA';
    expect(step(ready)).toBe('pairing?part=check');
    check(ready);
    expect(step(ready)).toBe('fitting');
    const at = '2026-05-01T08:00:00Z';
    for (const w of ready.wheels) w.wheel.fitting = { done: [{ code: 'sensorOn', at }] };
    expect(step(ready)).toBe('radio');
    ready.rig.repeater = { x: 6, y: 0 };
    expect(step(ready)).toBe('first-drive');
    // Druckwerk's own alarm proves nothing of the monitor's.
    ready.rig.firstDrive = { proof: { position: 'A1L', startedAt: at, cameAt: at, practice: false } };
    expect(step(ready)).toBe('first-drive');
    ready.rig.firstDrive = { proof: { position: 'A1L', startedAt: at, monitor: { did: 'rang', at }, practice: false } };
    expect(step(ready)).toBe('watch');
  });
  it('a stage that was left out is passed over, and says why', () => {
    const ready = readyRig();
    for (const w of ready.wheels) w.wheel.stem = 'metal';
    check(ready);
    const skipped = { why: 'a shop did it', at: '2026-05-01T08:00:00Z' };
    ready.rig.skipped = { fitting: skipped, radio: skipped };
    const progress = progressOf(ready, undefined);
    expect(progress.fitting).toEqual({ state: 'done', text: 'left out: a shop did it' });
    expect(nextStep(progress).path).toBe('first-drive');
    // A car alone has no radio to see to.
    const car = {
      ...ready,
      units: ready.units.filter((u) => u.kind === 'vehicle'),
      rig: { ...ready.rig, skipped: { fitting: skipped } },
    };
    expect(progressOf(car, undefined).radio?.state).toBe('none');
    expect(nextStep(progressOf(car, undefined)).path).toBe('first-drive');
  });

  it('counts what is done', () => {
    const ready = readyRig();
    expect(progressOf(ready, view(4)).watch).toEqual({ state: 'part', text: '4 of 9 wheels heard' });
    expect(progressOf(ready, view(9)).watch?.state).toBe('done');
    expect(progressOf(ready, view(0)).watch?.state).toBe('open');
    expect(progressOf(wholeRig(), undefined).pairing).toEqual({ state: 'open', text: '0 of 9 wheels paired' });
  });
});
