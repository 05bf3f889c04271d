import { describe, expect, it } from 'vitest';
import type { DetectiveAnswer } from '#core/pairing/detective.ts';
import { PAIRING_STYLES, styleGuide } from '#core/pairing/guide.ts';
import { readId } from '#core/pairing/ids.ts';
import { ROTATIONS } from '#core/pairing/rotation.ts';
import { showsOf } from '#core/pairing/signs.ts';
import {
  beforeWords,
  detectiveWords,
  findingWords,
  idFaultWords,
  rotationNames,
  slipWords,
  stepWords,
  styleAbout,
  styleNames,
} from './words.ts';

describe('the guide in words', () => {
  it('every style has a name, an about line, and words for all it asks', () => {
    for (const style of PAIRING_STYLES) {
      expect(styleNames[style].length).toBeGreaterThan(5);
      expect(styleAbout[style]).toMatch(/\.$/);
      for (const kind of ['cap', 'internal'] as const) {
        const guide = styleGuide({
          style,
          limitsFirst: kind === 'cap',
          kinds: [kind],
          lists: 3,
          factoryCoded: style === 'factory',
        });
        for (const code of guide.before) expect(beforeWords[code].head.length + beforeWords[code].why.length).toBeGreaterThan(20);
        for (const s of guide.steps) expect(stepWords(s.code, 'B1L', kind, showsOf(null)).head.length).toBeGreaterThan(8);
      }
    }
  });
  it('speaks of no digits, IDs or FF FF FF to whoever has a display without them', () => {
    for (const style of PAIRING_STYLES) {
      for (const signs of [['pressure'], ['lamp'], ['beep'], ['pressure', 'beep'], []] as const) {
        const shows = showsOf({ showsIds: false, signs: [...signs] });
        const guide = styleGuide({
          style,
          limitsFirst: true,
          kinds: ['internal', 'cap'],
          lists: 3,
          factoryCoded: style === 'factory',
          shows,
        });
        const said = [
          ...guide.before.flatMap((c) => [beforeWords[c].head, beforeWords[c].why]),
          ...guide.steps.flatMap((s) => Object.values(stepWords(s.code, 'B1L', 'cap', shows)) as string[]),
          findingWords({ position: 'B1L', code: 'open', wanted: 'K00000000001' }),
          findingWords({ position: 'B1L', code: 'differs', wanted: 'K00000000001' }),
          findingWords({ position: 'B1L', code: 'differs' }),
        ].join('\n');
        expect(said).not.toMatch(/digit|\bIDs?\b|FF FF|hexa|K0000|\bcode\b/);
        if (signs.length > 0 && style !== 'factory') expect(said).toMatch(new RegExp(signs[0] as string));
      }
    }
  });
  it('tells how this kit says yes, and that it may not say it', () => {
    const lamp = showsOf({ showsIds: false, signs: ['lamp', 'beep'] });
    expect(stepWords('read', 'B1L', 'cap', lamp)).toEqual({
      head: 'Wait for the lamp turning from red to green, or a beep',
      why: 'A promised sign may not come. Then look whether it is there in the final check. The error tone is another one: you heard it before you started.',
    });
    expect(stepWords('seen', 'B1L', 'cap', showsOf({ showsIds: false, signs: [] })).head).toBe('This kit gives no sign');
  });
  it('names the wheel where the act happens, and the side of the tire for a carried monitor', () => {
    expect(stepWords('open', 'B1L', 'cap', showsOf(null)).head).toBe('Open B1L on the monitor: it shows FF FF FF');
    expect(stepWords('carryTo', 'B1L', 'internal', showsOf(null), 'band').head).toContain('opposite the valve');
    expect(stepWords('carryTo', 'B1L', 'internal', showsOf(null)).head).toContain('beside the valve');
    expect(stepWords('toolAt', 'B1L', 'internal', showsOf(null), 'band').head).toContain('opposite the valve');
    expect(stepWords('carryTo', 'B1L', 'cap', showsOf(null)).head).toContain('to the valve of B1L');
  });
});

describe('an ID in words', () => {
  it.each([
    ['4CA1E', 'Only 5 of six digits: wait for all six, a short code may come first'],
    ['4CA1E07', '7 digits: an ID has six'],
    ['4CG1E0', 'must be six hexadecimal digits (0 to 9, A to F): G is none'],
    ['XYZ', 'must be six hexadecimal digits (0 to 9, A to F): X and Y and Z are none'],
    ['ffffff', 'must be six hexadecimal digits of a sensor: FF FF FF means the position is open'],
    ['', 'Type the six digits from the monitor'],
  ])('%s: %s', (text, said) => {
    expect(idFaultWords(readId(text))).toBe(said);
  });
  it('nothing is said of a good one', () => {
    expect(idFaultWords(readId('4C A1 E0'))).toBeNull();
  });
});

describe('findings and slips in words', () => {
  it('say where, what and what to do', () => {
    expect(findingWords({ position: 'A1L', code: 'open', wanted: '4CA1E0' })).toBe(
      'A1L is open: it shows FF FF FF and should have 4C A1 E0.',
    );
    expect(findingWords({ position: 'A1R', code: 'twice', other: 'A1L' })).toContain('the same ID as A1L');
    expect(findingWords({ position: 'A2L', code: 'short' })).toContain('wait for all six digits');
    expect(findingWords({ position: 'A2R', code: 'differs', wanted: '4CA1E0' })).toContain('4C A1 E0');
    expect(findingWords({ position: 'B1L', code: 'notRead' })).toContain('not looked at');
    expect(findingWords({ position: 'A1L', code: 'swapped', other: 'A1R' })).toBe(
      'A1L and A1R are swapped: each of the two sensors reports at the other wheel. Exchange them.',
    );
    expect(findingWords({ position: 'A1L', code: 'wrongMark', other: 'A2R' })).toContain('Put it on A2R');
    expect(findingWords({ position: 'A1L', code: 'wrongMark' })).toContain('belongs to no wheel');
    expect(findingWords({ position: 'B1R', code: 'factoryElsewhere', other: 'A1L' })).toContain('coded for A1L');
  });
  it.each([
    ['neighbourSaved', /another sensor \(4C A1 E0\) answered/],
    ['shortSaved', /short code was saved/],
    ['savedTwice', /the sensor that 4CA1E0 has already/],
    ['wrongPosition', /stood at A1L while you worked on/],
    ['wrongList', /The list of A was open/],
    ['leftUnsaved', /left before the save press/],
    ['savedTooEarly', /before any code stood/],
    ['pressTooShort', /wants a long press/],
  ] as const)('%s', (code, said) => {
    expect(slipWords({ code, position: 'A1L', other: '4CA1E0' })).toMatch(said);
  });
});

describe('the detective in words', () => {
  const answer = (a: Partial<DetectiveAnswer>): DetectiveAnswer => ({
    verdict: 'asPlanned',
    reportsAt: {},
    pairs: [],
    rings: [],
    open: [],
    ...a,
  });
  it('names pairs and rings, and what it is not sure of', () => {
    expect(detectiveWords(answer({}))).toBe('Every sensor is where the book says. Nothing is swapped.');
    expect(detectiveWords(answer({ verdict: 'swapped', pairs: [['A1L', 'A1R']] }))).toBe(
      'A1L and A1R are swapped: each reports at the other’s position.',
    );
    expect(detectiveWords(answer({ verdict: 'swapped', rings: [['A1L', 'A1R', 'A2L']] }))).toBe(
      'A1L reports at A1R reports at A2L reports at A1L.',
    );
    expect(detectiveWords(answer({ verdict: 'notSure', pairs: [['A1L', 'A1R']], open: ['A2L', 'A2R'] }))).toContain(
      'Not sure of A2L, A2R',
    );
    expect(detectiveWords(answer({ verdict: 'contradiction' }))).toContain('No arrangement fits');
  });
  it('every rotation has a name', () => {
    for (const r of ROTATIONS) expect(rotationNames[r].length).toBeGreaterThan(6);
  });
});
