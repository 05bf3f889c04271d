import { expect, it } from 'vitest';
import { fittingCard } from '#core/fitting/cards.ts';
import { inOneWalk, walkCard } from '#core/fitting/walk.ts';
import { partsOf } from '#core/kit/parts.ts';
import { TWELVE_KITS } from '#core/kit/twelve.test-data.ts';
import { styleGuide } from '#core/pairing/guide.ts';
import { proposeMarks, styleAt, walkOrder } from '#core/pairing/marks.ts';
import { showsOf } from '#core/pairing/signs.ts';
import { isMotorcycle, wheelsOf } from '#core/rig/positions.ts';
import type { Rig } from '#schema/unit.ts';
import { fittingCautionWords, fittingStepWords } from '../../parts/words-fitting.ts';
import { afterWords, beforeWords, stepWords, walkStepWords } from './words.ts';

/** Every sentence that an owner of a kit reads from the first wheel to the last, in Pairing and in Fitting. */
function sentencesOf(kit: (typeof TWELVE_KITS)[number]): string[] {
  const rig: Pick<Rig, 'fitting'> = kit.parts ? { fitting: { parts: kit.parts } } : {};
  const wheels = wheelsOf(kit.units);
  const shows = showsOf(kit.monitor, kit.pairing);
  const marks = proposeMarks(wheels, 'letters');
  const out: string[] = [];
  const say = (text: { head: string; why?: string; mistake?: string }) => out.push(text.head, text.why ?? '', text.mistake ?? '');
  for (const w of walkOrder(kit.pairing, wheels)) {
    const style = styleAt(kit.pairing, w);
    const kind = (w.unit.kind === 'trailer' ? kit.trailerKind : undefined) ?? kit.pairing.kind;
    const parts = partsOf(rig, kind);
    const guide = styleGuide({
      style,
      limitsFirst: kit.pairing.limitsFirst,
      kinds: [kind],
      lists: kit.monitor.units,
      factoryCoded: style === 'factory',
      shows,
      mount: parts.mount,
    });
    for (const code of guide.before) say(beforeWords[code]);
    for (const code of guide.after) out.push(afterWords[code]);
    const q = { kind, stem: 'metal' as const, dualInner: false, motorcycle: isMotorcycle(w.unit), newCell: true, parts };
    if (inOneWalk(style, kind)) {
      const at = { position: w.position, style, kind, shows, parts, mark: marks[w.position] ?? null };
      for (const step of walkCard(style, q).steps) say(walkStepWords(step, at));
    } else {
      for (const { code } of guide.steps) say(stepWords(code, w.position, kind, shows, parts.mount));
      for (const step of fittingCard(q).steps) say(fittingStepWords(step, w.position, kind, parts));
    }
    for (const c of fittingCard(q).cautions) out.push(fittingCautionWords[c]);
  }
  return [...new Set(out)].filter((t) => t !== '');
}

it.each(TWELVE_KITS.map((kit) => [kit.name, kit] as const))('%s: no sentence speaks of what it hasn’t got', (_, kit) => {
  const sentences = sentencesOf(kit);
  expect(sentences.length).toBeGreaterThan(12);
  expect(sentences.filter((t) => kit.without.test(t))).toEqual([]);
  expect(sentences.filter((t) => /undefined|null|NaN|\[object/.test(t))).toEqual([]);
});
