import { describe, expect, it } from 'vitest';
import { fittingCard } from '#core/fitting/cards.ts';
import type { GaugeJudgement, SetJudgement } from '#core/fitting/gauge.ts';
import { USUAL_PARTS } from '#core/kit/parts.ts';
import { fittingCautionWords, fittingStepWords } from '../../parts/words-fitting.ts';
import { plainFormat } from '../../testing/rigs.ts';
import { areaOf } from '../radio/Supply.tsx';
import { otherUnit } from './GaugePart.tsx';
import { blameWords, gaugeVerdictWords, openWords } from './words.ts';

const PSI = 6.894757293168;
const f = plainFormat('psi', 'C');

describe('gauge and sensor in words', () => {
  const j = (over: Partial<GaugeJudgement>): GaugeJudgement => ({
    position: 'A1L',
    differenceKpa: 0,
    ownKpa: 0,
    verdict: 'fine',
    raiseLowKpa: 0,
    ...over,
  });
  it('say by how much, in which direction, and what follows', () => {
    expect(gaugeVerdictWords(j({}), f)).toBe('fine');
    expect(gaugeVerdictWords(j({ verdict: 'offset', differenceKpa: 3 * PSI, raiseLowKpa: 3 * PSI }), f)).toBe(
      'usable, reads high by 3.0 psi: it hides a loss, raise its low limit by 3.0 psi',
    );
    expect(gaugeVerdictWords(j({ verdict: 'offset', differenceKpa: -2 * PSI }), f)).toBe('usable, reads low by 2.0 psi');
    expect(gaugeVerdictWords(j({ verdict: 'suspect', differenceKpa: 7 * PSI }), f)).toContain('beyond tolerance');
  });
  const set = (over: Partial<SetJudgement>): SetJudgement => ({
    wheels: [],
    commonKpa: null,
    spreadKpa: 0,
    blame: 'nobody',
    sensors: [],
    ...over,
  });
  it('blame the gauge, the sensors, both, nobody, or say that it cannot be told', () => {
    expect(blameWords(set({}), f)).toContain('agree');
    expect(blameWords(set({ blame: 'gauge', commonKpa: 8 * PSI }), f)).toMatch(
      /^All of them read high by about 8\.0 psi: a common offset/,
    );
    expect(blameWords(set({ blame: 'sensors', sensors: ['A1L', 'A1R'] }), f)).toMatch(/^A1L, A1R differ/);
    expect(blameWords(set({ blame: 'both', commonKpa: -8 * PSI, sensors: ['A1L'] }), f)).toMatch(
      /read low by about 8\.0 psi.*A1L differs/,
    );
    expect(blameWords(set({ blame: 'cannotTell' }), f)).toContain('second gauge');
  });
  it('a figure in the wrong unit is asked about', () => {
    expect(otherUnit(2.4, 'psi', 240)).toBe('bar');
    expect(otherUnit(35, 'bar', 241)).toBe('psi');
    expect(otherUnit(240, 'psi', 240)).toBe('kPa');
    expect(otherUnit(35, 'psi', 241)).toBeNull();
    expect(otherUnit(3, 'psi', 560)).toBeNull();
  });
});

describe('open points in words', () => {
  it('name the wheels where there are any', () => {
    expect(openWords({ code: 'bubbles', positions: ['A1L', 'A2L'] })).toBe('Leaks at the soap test: A1L, A2L');
    expect(openWords({ code: 'noProof', positions: [] })).toBe('The monitor’s alarm was not proved');
  });
});

describe('wire as it is sold', () => {
  it.each([
    ['1.5', 1.5],
    ['1,5 mm²', 1.5],
    ['16 AWG', 1.309],
    ['AWG 18', 0.823],
  ])('%s is %d mm2', (text, mm2) => {
    expect(areaOf(text)).toBeCloseTo(mm2, 2);
  });
  it.each(['0', '-1', 'thick', '500'])('%s is no wire', (text) => {
    expect(areaOf(text)).toBeNull();
  });
});

describe('fitting in words', () => {
  it('every step of every card has a head and a why, every caution its text', () => {
    for (const kind of ['cap', 'flowThrough', 'internal'] as const) {
      for (const antiTheft of [false, true]) {
        const card = fittingCard({
          kind,
          stem: 'rubber',
          stemForm: 'long',
          valveFacing: 'in',
          dualInner: true,
          motorcycle: false,
          newCell: true,
          parts: { ...USUAL_PARTS[kind], antiTheft },
        });
        for (const s of card.steps) {
          const text = fittingStepWords(s, 'A2LI', kind, { ...USUAL_PARTS[kind], antiTheft });
          expect(text.head.length).toBeGreaterThan(8);
          expect(text.why).toMatch(/[.!]$/);
        }
        for (const c of card.cautions) expect(fittingCautionWords[c]).toMatch(/[.!]$/);
      }
    }
  });
  it('does not let a flow-through onto rubber unsaid', () => {
    expect(fittingStepWords('lookAtStem', 'A1L', 'flowThrough', USUAL_PARTS.flowThrough).why).toContain('too heavy for rubber');
  });
});
