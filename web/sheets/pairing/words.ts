import { savesInWalk, type WalkStep } from '#core/fitting/walk.ts';
import type { CheckFinding } from '#core/pairing/check.ts';
import type { DetectiveAnswer } from '#core/pairing/detective.ts';
import type { AfterStep, BeforeStep, GuideStep, StyleRefusal } from '#core/pairing/guide.ts';
import { isSensorKey, OPEN_ID, type ReadId } from '#core/pairing/ids.ts';
import type { Rotation } from '#core/pairing/rotation.ts';
import type { Shows } from '#core/pairing/signs.ts';
import type { BenchMonitorView } from '#schema/bench.ts';
import type { SensorKind } from '#schema/common.ts';
import type { BookEntry, LooseParts, PairingSign, PairingStyle } from '#schema/unit.ts';
import { inPairs } from '../../parts/format.ts';
import { fittingStepWords, type StepText } from '../../parts/words-fitting.ts';

export { signNames, styleNames } from '../../parts/pairing-words.ts';

/** The sentences of the Pairing sheet. */

export const styleAbout: Record<PairingStyle, string> = {
  heldNear: 'At a table: open a position, hold one sensor to the monitor, save. Sensors go on afterwards.',
  screwedOn: 'Open a position, screw the sensor on: the pressure wakes it.',
  cellIn: 'Open a position, then put the battery into the sensor. That wakes it.',
  wakeTool:
    'For sensors inside the wheel: hold the tool to each tire, down the driver’s side from the front and back up the other.',
  inflateBleed: 'For fitted sensors: a step in pressure makes them report.',
  phoneFirst: 'Tap the wheel on the phone, then screw the sensor on. It may take 90 s.',
  carried: 'Take the monitor from wheel to wheel and hold it where the sensor is.',
  factory: 'Nothing to pair: fit each one where its mark says.',
};

export const refusalWords: Record<StyleRefusal, string> = {
  internalIsInside: 'the sensor sits inside the tire',
  sealedCell: 'its battery is sealed in',
  notFactory: 'these sensors are learned, not coded by position',
  toolIsForInternal: 'the tool wakes sensors inside the wheel',
};

/** Wherever a wheel is to be turned. */
const jackWords =
  'A wheel turns only off the ground: level ground, jack, stand, the other wheels chocked. Or roll the vehicle a little.';

export const beforeWords: Record<BeforeStep, { head: string; why: string }> = {
  chargeMonitor: { head: 'The monitor is charged', why: 'It dies in the middle of the job otherwise.' },
  unitsFirst: { head: 'Units are set on the monitor', why: 'Pressure first, then temperature. Everything else is read in them.' },
  limitsFirst: { head: 'Limits are keyed', why: 'Then an alarm is a true one from the first minute. See the keying card.' },
  limitsAfter: {
    head: 'Limits come afterwards',
    why: 'Until then the monitor alarms by its presets. Don’t take that for a fault.',
  },
  stood10: { head: 'The vehicle has stood 10 minutes', why: 'All other sensors are asleep by then and cannot answer.' },
  othersAway: {
    head: 'Other sensors are 3 m away, or asleep',
    why: 'Within about a metre any sensor that is awake may answer instead. On a tandem they can’t be: let them sleep 10 minutes.',
  },
  valvesTogether: {
    head: 'Wheels are turned so that the valves of neighbours are close together',
    why: `The sensors sit opposite the valves, so they are as far apart as they can be. ${jackWords}`,
  },
  valvesApart: {
    head: 'Wheels are turned so that the valves of neighbours are far apart',
    why: `The sensors are at the valves. Where the wheels can’t be turned, let the others sleep 10 minutes. ${jackWords}`,
  },
  inRows: {
    head: 'Sensors are in two rows, like the wheels',
    why: 'In order, in their box: left and right are not swapped then.',
  },
  rightList: {
    head: 'The right vehicle’s list is open on the monitor',
    why: 'Codes saved into another trailer’s list are lost to this one.',
  },
  tray: {
    head: 'You know which mark belongs to which wheel',
    why: 'Letters, figures, or the place in the tray with its arrow to the front. The leaflet has the list.',
  },
  errorTone: {
    head: 'You know its error tone',
    why: 'Start a pairing once with no sensor near and wait: the tone you hear then means no.',
  },
  toolReady: { head: 'The wake tool has a fresh battery', why: 'A weak one wakes the wrong wheel or none.' },
  zeroExpected: {
    head: 'Expect zeros',
    why: 'Until a sensor is on its valve it reads no pressure. Druckwerk won’t alarm for it. The monitor may; acknowledge it.',
  },
};

/** What the display shows at a position that has no sensor. */
export const openWords: Record<Shows['open'], string> = {
  allF: `it shows ${inPairs(OPEN_ID)}`,
  code: 'it shows its position and nothing beside it',
  dashes: 'it shows dashes',
  skipped: 'it comes up only in the pairing menu',
};

/** What tells that the monitor took a sensor, in the order in which it is surest. */
const signWords: Record<PairingSign, string> = {
  id: 'the six digits of its ID',
  pressure: 'its pressure',
  lamp: 'the lamp turning from red to green',
  beep: 'a beep',
};

const either = (list: readonly string[]) => list.join(', or ');

/** How to tell that a sensor was taken, by what this kit shows. */
function takenWords({ signs, ids }: Shows): { head: string; why?: string } {
  if (ids)
    return {
      head: 'Read the six digits',
      why: `All six, and not the ID of another wheel.${signs.includes('beep') ? ' A beep that sounds like an error is one.' : ''}`,
    };
  if (signs.length === 0)
    return { head: 'This kit gives no sign', why: 'Wait half a minute and go on. The final check tells which wheels it took.' };
  const beep = signs.includes('beep') ? ' The error tone is another one: you heard it before you started.' : '';
  return {
    head: `Wait for ${either(signs.map((s) => signWords[s]))}`,
    why: `A promised sign may not come. Then look whether ${signs.includes('pressure') ? 'the position shows a pressure' : 'it is there in the final check'}.${beep}`,
  };
}

/** What the practice monitor has just shown of a sensor it took. */
export const signSeen = ({ signs }: Shows): string =>
  signs.length === 0
    ? 'no sign'
    : either(signs.map((s) => ({ id: 'its ID', pressure: 'a pressure', lamp: 'green', beep: 'a beep' })[s]));

/** What is left to do when the last wheel is paired. */
export const afterWords: Record<AfterStep, string> = {
  saveOnce:
    'This monitor keeps nothing until you save at the end. Save now, and step through once more to see that it is all there.',
  leaveMenu: 'This monitor keeps each wheel by itself. Leave the pairing menu, or it takes the next sensor it hears.',
};

export function stepWords(
  code: GuideStep['code'],
  position: string,
  kind: SensorKind,
  shows: Shows,
  mount: LooseParts['mount'] = 'valve',
  place: string | null = null,
): { head: string; why?: string } {
  // A sensor on a band sits opposite the valve.
  const at = mount === 'band' ? 'opposite the valve' : 'beside the valve';
  switch (code) {
    case 'open':
      return {
        head: `Open ${place ? `“${place}”, ${position},` : position} on the monitor: ${openWords[shows.open]}`,
        why: shows.ids
          ? 'Hold the delete key until the old ID is gone, if there is one.'
          : 'If it shows something else, another sensor is saved there: delete that first.',
      };
    case 'choose':
      return { head: `Tap ${position} on the phone`, why: 'The sensor must not be on before its wheel is chosen.' };
    case 'holdNear':
      return {
        head: 'Hold one sensor to the monitor’s edge',
        ...(shows.ids ? { why: 'A short code may come first. Wait for all six digits.' } : {}),
      };
    case 'screwOn':
      return {
        head: `Screw the sensor onto the valve of ${position}`,
        why: 'Quickly, by hand, until snug. A short hiss is normal.',
      };
    case 'cellIn':
      return { head: 'Pull the film, or put the battery in, plus side up', why: 'O-ring in its groove, not pinched.' };
    case 'toolAt':
      return {
        head: `Hold the tool to the tire of ${position}, ${at}`,
        why: shows.ids
          ? 'Until the monitor or the horn answers. No sign? Trust the ID on the screen.'
          : 'Until the monitor or the horn answers.',
      };
    case 'bleed':
      return {
        head: `Let a little air out of ${position}, or put some in`,
        why: 'About 2 psi wakes it. Fill it up again afterwards.',
      };
    case 'carryTo':
      return {
        head:
          kind === 'internal'
            ? `Hold the monitor to the tire of ${position}, ${at}`
            : `Hold the monitor to the valve of ${position}`,
        why: 'Look first which vehicle’s list is open.',
      };
    case 'fit':
      return {
        head: `Find the sensor marked for ${position}, and screw it on there`,
        why: 'It reports that place wherever it is screwed on, so a swap would show you the wrong wheel.',
      };
    case 'wait':
      return shows.ids ? { head: 'Wait for its answer' } : takenWords(shows);
    case 'read':
      return takenWords(shows);
    case 'save':
      return { head: 'Save, and see that it is kept', why: 'Some need one more press, some a long one.' };
    case 'seen':
      return shows.ids
        ? { head: `${position} shows its ID or its pressure`, why: 'A promised sign may not come: trust the ID.' }
        : takenWords(shows);
  }
}

/** Whether a fitted sensor may be seen to read 0: the kit shows figures. */
export const showsZero = (shows: Shows): boolean => shows.ids || shows.signs.includes('pressure');

/** A step of the walk in which pairing and fitting are one. */
export function walkStepWords(
  step: WalkStep,
  at: {
    position: string;
    style: PairingStyle;
    kind: SensorKind;
    shows: Shows;
    parts: LooseParts;
    mark: string | null;
    place?: string | null;
  },
): StepText {
  const { position, style, kind, shows, parts, mark, place = null } = at;
  const act = (code: GuideStep['code']): StepText => {
    const { head, why = '' } = stepWords(code, position, kind, shows, 'valve', place);
    return { head, why };
  };
  switch (step) {
    case 'gauge':
      return {
        head: `Put a gauge on ${position}`,
        why: 'Note what it says before a little air is lost. Later it tells whether gauge and sensor agree.',
      };
    case 'mark':
      if (style !== 'factory')
        return {
          head: `Take a sensor and mark it ${position}`,
          why: 'Once it has been off you know where it belongs.',
          mistake: 'Stickers wear off in the wet: seal them, or scratch the code in.',
        };
      return {
        head: mark ? `Take the sensor marked ${mark}` : `Take the sensor from the place of ${position} in the tray`,
        why: 'It reports that place wherever it is screwed on, so a swap would show you the wrong wheel.',
      };
    case 'open':
    case 'choose':
    case 'cellIn':
      return act(step);
    case 'sign': {
      const taken = act(shows.ids && style !== 'factory' ? 'read' : shows.ids ? 'seen' : 'wait');
      const save = savesInWalk(style, shows.save)
        ? ' Then save and see that it is kept: some need one more press, some a long one.'
        : '';
      return {
        head: taken.head,
        why: `${taken.why}${save}`,
        ...(showsZero(shows) ? { mistake: 'If it shows 0, it has to come off and go on again.' } : {}),
      };
    }
    default:
      return fittingStepWords(step, position, kind, parts);
  }
}

/** What is wrong with a typed ID. */
export function idFaultWords(read: ReadId): string | null {
  switch (read.fault) {
    case null:
      return null;
    case 'empty':
      return 'Type the six digits from the monitor';
    case 'short':
      return `Only ${read.digits} of six digits: wait for all six, a short code may come first`;
    case 'long':
      return `${read.digits} digits: an ID has six`;
    case 'letters':
      return `must be six hexadecimal digits (0 to 9, A to F): ${read.wrong.join(' and ')} ${read.wrong.length === 1 ? 'is' : 'are'} none`;
    case 'open':
      return `must be six hexadecimal digits of a sensor: ${inPairs(OPEN_ID)} means the position is open`;
  }
}

export function findingWords(x: CheckFinding): string {
  switch (x.code) {
    case 'open':
      return isSensorKey(x.wanted ?? '')
        ? `${x.position} shows no pressure: its sensor wasn’t taken, or it is asleep. Move the wheel or tap the sensor; if nothing comes, pair it again.`
        : `${x.position} is open: it shows ${inPairs(OPEN_ID)} and should have ${inPairs(x.wanted ?? '')}.`;
    case 'short':
      return `${x.position} holds a short code. Capture it again and wait for all six digits.`;
    case 'twice':
      return `${x.position} has the same ID as ${x.other}: another sensor answered. Pair both again, with the others 3 m away.`;
    case 'differs':
      if (x.wanted === undefined) return `${x.position} shows a pressure, but no sensor is paired to it here.`;
      return isSensorKey(x.wanted)
        ? `${x.position} hears another wheel’s sensor: it was saved to the wrong position, or another sensor answered.`
        : `${x.position} shows another ID than the book (${inPairs(x.wanted)}): saved to the wrong position, or into another list?`;
    case 'notRead':
      return `${x.position} was not looked at yet.`;
    case 'swapped':
      return `${x.position} and ${x.other} are swapped: each of the two sensors reports at the other wheel. Exchange them.`;
    case 'wrongMark':
      return x.other
        ? `The sensor on ${x.position} is the one for ${x.other} and reports there. Put it on ${x.other}.`
        : `The sensor on ${x.position} has a mark that belongs to no wheel of this rig. Read it again.`;
    case 'factoryElsewhere':
      return `The sensor on ${x.position} is coded for ${x.other} and reports there, wherever it is screwed on.`;
  }
}

type Slip = BenchMonitorView['mistakes'][number];

/** A slip at the practice monitor, kindly. */
export function slipWords(m: Slip): string {
  switch (m.code) {
    case 'neighbourSaved':
      return `At ${m.position} another sensor${isSensorKey(m.other ?? '') ? '' : ` (${inPairs(m.other ?? '')})`} answered and was saved. Carry the others 3 m away and let them fall asleep.`;
    case 'shortSaved':
      return `At ${m.position} a short code was saved. Wait for all six digits first.`;
    case 'savedTwice':
      return `${m.position} got the sensor that ${m.other} has already.`;
    case 'wrongPosition':
      return `The monitor stood at ${m.position} while you worked on ${m.other}: look at the open position before you save.`;
    case 'wrongList':
      return `The list of ${m.position[0]} was open while you worked on ${m.other}: the code went into another vehicle’s list.`;
    case 'leftUnsaved':
      return `At ${m.position} the menu was left before the save press: the code is lost.`;
    case 'savedTooEarly':
      return `At ${m.position} save was pressed before any code stood.`;
    case 'pressTooShort':
      return `At ${m.position} save was pressed, but this monitor wants a long press.`;
  }
}

export const whyLeft: Record<BookEntry['why'], string> = {
  replaced: 'replaced',
  deleted: 'deleted',
  takenOff: 'taken off, kept',
  moved: 'moved',
  rotated: 'went with its wheel',
};

export const rotationNames: Record<Rotation, string> = {
  rearward: 'Rears straight forward, fronts cross to the back',
  forward: 'Fronts straight back, rears cross to the front',
  cross: 'All cross',
  sides: 'Left and right exchanged',
  five: 'Five wheels, the spare comes in at the rear right',
};

/** What the detective found. */
export function detectiveWords(a: DetectiveAnswer): string {
  if (a.verdict === 'asPlanned') return 'Every sensor is where the book says. Nothing is swapped.';
  if (a.verdict === 'contradiction')
    return 'No arrangement fits what you saw: a figure was misread, a sensor is asleep, or a tire is losing air. Look again, then start again.';
  const found = [
    ...a.pairs.map(([x, y]) => `${x} and ${y} are swapped: each reports at the other’s position.`),
    ...a.rings.map((r) => `${r.join(' reports at ')} reports at ${r[0]}.`),
  ];
  if (a.verdict === 'notSure')
    found.push(`Not sure of ${a.open.join(', ')}: the steps of the readings are too coarse, or the proof is not finished.`);
  return found.join(' ');
}
