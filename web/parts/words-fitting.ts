import type { FittingCaution, FittingStep } from '#core/fitting/cards.ts';
import type { SensorKind } from '#schema/common.ts';
import type { LooseParts } from '#schema/unit.ts';

/** The sentences of the Fitting sheet: what to do, why, and the mistake to avoid. */
export interface StepText {
  head: string;
  why: string;
  mistake?: string;
}

export function fittingStepWords(step: FittingStep, position: string, kind: SensorKind, parts: LooseParts): StepText {
  switch (step) {
    case 'mark':
      return {
        head: `Take the sensor marked ${position}`,
        why: 'It must be the one that was paired to this wheel.',
        mistake: 'Stickers wear off in the wet: seal them, or scratch the code in.',
      };
    case 'lookAtStem':
      return {
        head: 'Look at the stem',
        why:
          kind === 'flowThrough'
            ? 'Metal, straight, not cracked: a flow-through is too heavy for rubber.'
            : 'Sound and not cracked; metal is safer.',
        mistake: 'An old rubber stem bends and shears. Stop here and have it changed.',
      };
    case 'capOff':
      return { head: 'Take the valve cap off', why: 'Keep it: it goes back on when the sensor comes off one day.' };
    case 'valveClean':
      return { head: 'Wipe the valve clean', why: 'Grit under the seal leaks.' };
    case 'boot':
      return {
        head: `Turn the dust boot${parts.boot === 'large' ? ' (large seal)' : ''} inside out and push it down the stem`,
        why: 'It is folded back over the sensor at the end.',
        mistake: 'Forgotten, everything comes off again for it.',
      };
    case 'lockNut':
      return {
        head: 'Screw the lock nut all the way down',
        why: 'The sensor needs the thread above it.',
        mistake: 'Left half way up, the sensor does not seal.',
      };
    case 'film':
      return {
        head: 'Pull the film, or put the battery in, plus side up',
        why: 'The O-ring must be in its groove all round.',
        mistake: 'A pinched O-ring is the main mistake. Water gets in.',
      };
    case 'ownCapOff':
      return { head: 'Take the sensor’s own cap off', why: 'Else the wrench will not pass over it.' };
    case 'setScrewOut':
      return {
        head: 'Back the set screw out',
        why: 'In whichever of the two holes the rim leaves free.',
        mistake: 'Standing in, it scores the thread.',
      };
    case 'sensorOn':
      return {
        head: parts.antiTheft ? 'Screw it on with its tool, until snug' : 'Screw the sensor on quickly, by hand, until snug',
        why: 'A short hiss is normal. Quick hands lose less air.',
        mistake: 'No pliers: the housing cracks.',
      };
    case 'nutBack':
      return {
        head: 'Nut back up against the sensor, and a quarter turn with the wrench',
        why: 'That locks it against theft and the spin.',
        mistake: 'More than a quarter turn crushes the seal.',
      };
    case 'setScrewIn':
      return { head: 'Tighten the set screw', why: 'Until it holds, no further.' };
    case 'ownCapOn':
      return { head: 'Put the sensor’s own cap back on', why: 'Air goes in through it later, sensor on.' };
    case 'bootOver':
      return { head: 'Fold the boot back over the sensor', why: 'Dust and water stay out.' };
    case 'lockTool':
      return {
        head: 'Put the sensor into its own tool',
        why: 'By hand it only spins on the valve and never seals. That is what keeps thieves off.',
        mistake: 'Keep the tool in the vehicle: without it the tire can’t be filled.',
      };
    case 'soap':
      return { head: 'Soapy water on valve and sensor', why: 'No bubbles for half a minute: it is tight.' };
    case 'tape':
      return {
        head: 'A strip of tape on the rim beside the sensor',
        why: 'After a drive it shows whether the spin bent the stem outward: a mark means a shorter stem.',
      };
    case 'shop':
      return {
        head:
          parts.mount === 'band'
            ? 'A tire shop fits the sensor on its band, opposite the valve'
            : 'A tire shop fits the sensor with its own valve',
        why: 'Tell them the position; a small fee a wheel.',
        mistake: 'Sealant and careless bead work kill sensors.',
      };
    case 'shopBalance':
      return { head: 'The wheel is balanced with it', why: 'It weighs 25 to 40 g.' };
    case 'shopWake':
      return {
        head: 'Wake it and read it, before the tire goes on',
        why: 'Wake tool, or the monitor beside it. A dead one is found now, with the wheel still open.',
        mistake: 'Found out later, all the work is done again.',
      };
  }
}

export const fittingCautionWords: Record<FittingCaution, string> = {
  metalOnly: 'Metal stem only: a sheared rubber stem empties the tire while riding.',
  rubberSchool: 'Rubber stem: many fit a light cap on a sound one; a metal stem is safer.',
  hotParts: 'After a drive brake, hub and rim can burn you: let them cool.',
  jack: 'If the wheel comes off: level ground, stands, wheels chocked, nuts to the handbook’s torque.',
  notTooTight: 'Do not over-tighten: snug, and a quarter turn.',
  looksInward: 'The valve looks inward: nothing may touch brake or chassis when it turns. Turn the wheel once by hand.',
  longStem: 'A long stem swings out with the spin and meets kerbs: a short one cures both.',
};

export const bubbleAdvice = [
  'Bubbles at the sensor: take it off, look at its seal, put it on again, snug.',
  'Bubbles inside the valve: tighten the core a little with the core tool.',
  'Bubbles at the foot of the stem: that is the stem itself. A tire shop changes it.',
  'Still bubbles: cap back on without the sensor, and try again with soapy water.',
];
