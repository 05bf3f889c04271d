import { describe, expect, it } from 'vitest';
import { USUAL_PARTS } from '../kit/parts.ts';
import { inOneWalk, savesInWalk, walkCard, walkStage } from './walk.ts';

const q = {
  kind: 'cap' as const,
  stem: 'metal' as const,
  stemForm: 'short' as const,
  dualInner: false,
  motorcycle: false,
  newCell: true,
  parts: USUAL_PARTS.cap,
};

describe('pairing and fitting as one walk', () => {
  it('are one where the sensor ends on the valve, and never for one inside the tire', () => {
    expect((['screwedOn', 'phoneFirst', 'factory', 'cellIn'] as const).every((s) => inOneWalk(s, 'cap'))).toBe(true);
    expect(inOneWalk('factory', 'internal')).toBe(false);
    expect((['heldNear', 'carried', 'wakeTool', 'inflateBleed'] as const).some((s) => inOneWalk(s, 'flowThrough'))).toBe(false);
  });

  it('screwed on: boot and nut are down before the position is opened, the sign is seen before the nut goes back', () => {
    expect(walkCard('screwedOn', q).steps).toEqual([
      'gauge',
      'mark',
      'lookAtStem',
      'film',
      'capOff',
      'valveClean',
      'boot',
      'lockNut',
      'open',
      'sensorOn',
      'sign',
      'nutBack',
      'soap',
      'bootOver',
    ]);
  });

  it('chosen on the phone: nothing to save; coded: nothing to open', () => {
    const phone = walkCard('phoneFirst', q).steps;
    expect(phone.slice(phone.indexOf('lockNut'), phone.indexOf('nutBack') + 1)).toEqual([
      'lockNut',
      'choose',
      'sensorOn',
      'sign',
      'nutBack',
    ]);
    const coded = walkCard('factory', q).steps;
    expect(coded.slice(coded.indexOf('lockNut'), coded.indexOf('nutBack') + 1)).toEqual([
      'lockNut',
      'sensorOn',
      'sign',
      'nutBack',
    ]);
  });

  it('the cell put in at the wheel is the film of the others, and comes after the position is open', () => {
    const { steps } = walkCard('cellIn', q);
    expect(steps).not.toContain('film');
    expect(steps.slice(steps.indexOf('lockNut'))).toEqual([
      'lockNut',
      'open',
      'cellIn',
      'sensorOn',
      'sign',
      'nutBack',
      'soap',
      'bootOver',
    ]);
  });

  it('asks for no part that the kit has not', () => {
    const bare = { ...USUAL_PARTS.cap, boot: 'none' as const, lockNut: false };
    const { steps } = walkCard('factory', { ...q, newCell: false, parts: bare });
    expect(steps).toEqual(['gauge', 'mark', 'lookAtStem', 'capOff', 'valveClean', 'sensorOn', 'sign', 'soap']);
    const flow = walkCard('screwedOn', { ...q, kind: 'flowThrough', parts: { ...bare, setScrew: true } }).steps;
    expect(flow.slice(flow.indexOf('valveClean'))).toEqual([
      'valveClean',
      'ownCapOff',
      'setScrewOut',
      'open',
      'sensorOn',
      'sign',
      'setScrewIn',
      'soap',
      'ownCapOn',
    ]);
  });
});

it('a save press is asked for where the monitor learns and keeps wheel by wheel', () => {
  expect([
    savesInWalk('screwedOn', 'each'),
    savesInWalk('cellIn', 'each'),
    savesInWalk('screwedOn', 'end'),
    savesInWalk('phoneFirst', 'each'),
    savesInWalk('factory', 'each'),
  ]).toEqual([true, true, false, false, false]);
});

describe('where the walk is', () => {
  const { steps } = walkCard('screwedOn', q);
  it('goes by what is ticked, and by the sensor for what the monitor did', () => {
    expect(walkStage(steps, new Set(), false)).toBe(0);
    const before = new Set(steps.slice(0, steps.indexOf('sign')));
    expect(steps[walkStage(steps, before, false)]).toBe('sign');
    expect(steps[walkStage(steps, before, true)]).toBe('nutBack');
    expect(walkStage(steps, new Set(steps), true)).toBe(-1);
  });
  it('is back at the sign when the sensor was deleted, though everything was ticked', () => {
    expect(steps[walkStage(steps, new Set(steps), false)]).toBe('sign');
  });
  it('does not ask again how a sensor was paired that is known already', () => {
    const done = new Set(steps.filter((s) => s !== 'open' && s !== 'gauge'));
    expect(walkStage(steps, done, true)).toBe(-1);
  });
});
