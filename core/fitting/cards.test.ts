import { describe, expect, it } from 'vitest';
import { USUAL_PARTS } from '../kit/parts.ts';
import { makeAxle, wheelsOf } from '../rig/positions.ts';
import { fittingCard, walkRound } from './cards.ts';

const q = {
  kind: 'cap' as const,
  stem: 'metal' as const,
  dualInner: false,
  motorcycle: false,
  newCell: false,
  parts: USUAL_PARTS.cap,
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
    const { steps } = fittingCard({ ...q, kind: 'flowThrough', parts: USUAL_PARTS.flowThrough, dualInner: true });
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
    expect(fittingCard({ ...q, parts: { ...USUAL_PARTS.cap, lockNut: false } }).steps).not.toContain('lockNut');
    const { steps } = fittingCard({ ...q, parts: { ...USUAL_PARTS.cap, antiTheft: true } });
    expect(steps).not.toContain('nutBack');
    expect(steps).toContain('lockTool');
  });
  it('a short stem needs no tape, a new cell its film pulled first', () => {
    expect(fittingCard({ ...q, stemForm: 'short' }).steps).not.toContain('tape');
    const { steps } = fittingCard({ ...q, newCell: true });
    expect(steps.indexOf('film')).toBeLessThan(steps.indexOf('capOff'));
  });
  it('a flow-through held by a nut alone, by a screw alone, by neither', () => {
    const steps = (lockNut: boolean, setScrew: boolean) =>
      fittingCard({ ...q, kind: 'flowThrough', parts: { ...USUAL_PARTS.flowThrough, boot: 'none', lockNut, setScrew } }).steps;
    expect(steps(true, false)).toEqual(expect.arrayContaining(['lockNut', 'ownCapOff', 'sensorOn', 'nutBack', 'ownCapOn']));
    expect(steps(true, false)).not.toContain('setScrewIn');
    expect(steps(false, true)).toEqual(expect.arrayContaining(['ownCapOff', 'setScrewOut', 'sensorOn', 'setScrewIn']));
    expect(steps(false, true)).not.toContain('nutBack');
    expect(steps(false, false)).toEqual(['mark', 'lookAtStem', 'capOff', 'valveClean', 'sensorOn', 'soap', 'tape']);
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

describe('cards, whole', () => {
  const bare = { ...USUAL_PARTS.cap, boot: 'none' as const, lockNut: false };
  const all = { ...q, parts: bare };
  it('nothing loose, a short stem: only what every cap needs', () => {
    expect(fittingCard({ ...all, stemForm: 'short' })).toEqual({
      steps: ['mark', 'lookAtStem', 'capOff', 'valveClean', 'sensorOn', 'soap'],
      cautions: ['hotParts', 'notTooTight'],
      minutes: 4,
    });
  });
  it('a flow-through on an inner dual with a long stem that looks inward, and a film to pull', () => {
    expect(
      fittingCard({
        ...all,
        parts: { ...bare, setScrew: true },
        kind: 'flowThrough',
        newCell: true,
        dualInner: true,
        valveFacing: 'in',
        stemForm: 'long',
      }),
    ).toEqual({
      steps: [
        'mark',
        'lookAtStem',
        'film',
        'capOff',
        'valveClean',
        'ownCapOff',
        'setScrewOut',
        'sensorOn',
        'setScrewIn',
        'soap',
        'ownCapOn',
        'tape',
      ],
      cautions: ['metalOnly', 'hotParts', 'jack', 'looksInward', 'longStem', 'notTooTight'],
      minutes: 10,
    });
  });
  it('rubber and an extension on a car, a motorcycle, an internal sensor', () => {
    expect(fittingCard({ ...all, stem: 'rubber', stemForm: 'extension', valveFacing: 'out' }).cautions).toEqual([
      'rubberSchool',
      'hotParts',
      'longStem',
      'notTooTight',
    ]);
    expect(fittingCard({ ...all, motorcycle: true, stem: 'rubber' }).cautions).toEqual(['metalOnly', 'hotParts', 'notTooTight']);
    expect(fittingCard({ ...all, kind: 'internal' })).toEqual({
      steps: ['mark', 'shopWake', 'shop', 'shopBalance', 'soap'],
      cautions: ['jack'],
      minutes: 20,
    });
  });
  it('the one-piece kind needs its tool and no nut', () => {
    const { steps } = fittingCard({ ...all, parts: { ...USUAL_PARTS.cap, antiTheft: true } });
    expect(steps).toEqual([
      'mark',
      'lookAtStem',
      'capOff',
      'valveClean',
      'boot',
      'lockTool',
      'sensorOn',
      'soap',
      'bootOver',
      'tape',
    ]);
  });
});

describe('the walk round a rig with duals and a trailer', () => {
  const units = [
    {
      id: 't',
      version: 1,
      name: 'Truck',
      kind: 'vehicle' as const,
      axles: [makeAxle('single', 1), makeAxle('dual', 2)],
      spares: [],
    },
    { id: 'w', version: 1, name: 'Wagon', kind: 'trailer' as const, axles: [makeAxle('single', 1)], spares: [] },
  ];
  const shuffled = [...wheelsOf(units)].sort((a, b) =>
    a.position.split('').reverse().join().localeCompare(b.position.split('').reverse().join()),
  );
  const walk = (from: Parameters<typeof walkRound>[1]) => walkRound(shuffled, from).map((w) => w.position);
  it('from the front or the left: down the left side, outer wheel first, and up the right', () => {
    const round = ['A1L', 'A2LO', 'A2LI', 'B1L', 'B1R', 'A2RO', 'A2RI', 'A1R'];
    expect(walk('front')).toEqual(round);
    expect(walk('left')).toEqual(round);
  });
  it('from the right or behind: up the right side first', () => {
    const round = ['B1R', 'A2RO', 'A2RI', 'A1R', 'A1L', 'A2LO', 'A2LI', 'B1L'];
    expect(walk('right')).toEqual(round);
    expect(walk('behind')).toEqual(round);
  });
});
