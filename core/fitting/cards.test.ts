import { describe, expect, it } from 'vitest';
import { makeAxle, wheelsOf } from '../rig/positions.ts';
import { fittingCard, USUAL_OPTIONS, walkRound } from './cards.ts';

const q = {
  kind: 'cap' as const,
  stem: 'metal' as const,
  dualInner: false,
  motorcycle: false,
  newCell: false,
  options: USUAL_OPTIONS,
};

describe('the card of a wheel', () => {
  it('a cap: boot, nut all the way down, sensor, nut back, soap, boot over', () => {
    expect(fittingCard(q).steps).toEqual([
      'mark',
      'lookAtStem',
      'capOff',
      'valveClean',
      'boot',
      'lockNut',
      'sensorOn',
      'nutBack',
      'soap',
      'bootOver',
      'tape',
    ]);
  });
  it('a flow-through: its own cap off and the set screw out before, both back after', () => {
    const { steps } = fittingCard({ ...q, kind: 'flowThrough', dualInner: true });
    for (const [before, after] of [
      ['ownCapOff', 'sensorOn'],
      ['setScrewOut', 'sensorOn'],
      ['lockNut', 'sensorOn'],
      ['sensorOn', 'nutBack'],
      ['nutBack', 'setScrewIn'],
      ['setScrewIn', 'soap'],
      ['soap', 'ownCapOn'],
    ] as const)
      expect(steps.indexOf(before)).toBeLessThan(steps.indexOf(after));
  });
  it('the school without lock nuts, and the one-piece kind that has none', () => {
    expect(fittingCard({ ...q, options: { ...USUAL_OPTIONS, lockNuts: false } }).steps).not.toContain('lockNut');
    const { steps } = fittingCard({ ...q, options: { ...USUAL_OPTIONS, antiTheft: true } });
    expect(steps).not.toContain('nutBack');
    expect(steps).toContain('lockTool');
  });
  it('a short stem needs no tape, a new cell its film pulled first', () => {
    expect(fittingCard({ ...q, stemForm: 'short' }).steps).not.toContain('tape');
    const { steps } = fittingCard({ ...q, newCell: true });
    expect(steps.indexOf('film')).toBeLessThan(steps.indexOf('capOff'));
  });
  it('an internal sensor is a shop’s work', () => {
    expect(fittingCard({ ...q, kind: 'internal' }).steps).toContain('shop');
  });
  it('cautions stand with their cause', () => {
    expect(fittingCard({ ...q, kind: 'flowThrough' }).cautions).toContain('metalOnly');
    expect(fittingCard({ ...q, motorcycle: true }).cautions).toContain('metalOnly');
    expect(fittingCard({ ...q, stem: 'rubber' }).cautions).toContain('rubberSchool');
    expect(fittingCard({ ...q, dualInner: true, valveFacing: 'in' }).cautions).toEqual(
      expect.arrayContaining(['jack', 'looksInward']),
    );
    expect(fittingCard({ ...q, stemForm: 'extension' }).cautions).toContain('longStem');
  });
});

it('the walk goes once round the rig from where the owner stands', () => {
  const unit = (name: string, dual: boolean) => ({
    id: name,
    version: 1,
    name,
    kind: 'vehicle' as const,
    axles: [makeAxle('single', 1), makeAxle(dual ? 'dual' : 'single', 2)],
    spares: [{ wheel: { position: 'S1', sensor: null }, settings: {} }],
  });
  const wheels = wheelsOf([unit('a', true), unit('b', false)]);
  expect(walkRound(wheels, 'left').map((w) => w.position)).toEqual([
    'A1L',
    'A2LO',
    'A2LI',
    'B1L',
    'B2L',
    'B2R',
    'B1R',
    'A2RO',
    'A2RI',
    'A1R',
    'AS1',
    'BS1',
  ]);
  expect(walkRound(wheels, 'behind')[0]?.position).toBe('B2R');
  for (const from of ['front', 'behind', 'left', 'right'] as const)
    expect(new Set(walkRound(wheels, from)).size).toBe(wheels.length);
});
