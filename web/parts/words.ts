import type { LimitReason } from '#core/alarms/limits.ts';
import type { FitReason } from '#core/kit/fit.ts';
import { isSpare, placeOf } from '#core/rig/positions.ts';
import type { WheelView } from '#schema/alarm.ts';
import type { SensorKind } from '#schema/common.ts';
import { duration, type Format, timeOfDay } from './format.ts';
import { kindWords } from './words-kinds.ts';

/** All sentences of the app that are made from figures. */

const sides: Record<string, string> = {
  L: 'left',
  R: 'right',
  LO: 'left, outer of the dual',
  LI: 'left, inner of the dual',
  RI: 'right, inner of the dual',
  RO: 'right, outer of the dual',
  C: 'on the centre line',
};

/** `front axle of the trailer, left as seen from the driver's seat`. */
export function placeInWords(local: string, unitName: string, axles: number): string {
  if (local.startsWith('S')) return `spare of ${unitName}`;
  const n = Number(local[0]);
  const axle = axles === 1 ? 'the axle' : n === 1 ? 'the front axle' : n === axles ? 'the rear axle' : `axle ${n}`;
  const place = placeOf(local);
  const side = sides[place] ?? '';
  return `${axle} of ${unitName}, ${side}${place === 'C' ? '' : ', as seen from the driver’s seat'}`;
}

/** Whether its figure is one of now: an alarm stays in its ink when the sensor falls asleep, the figure must not look live with it. */
export const isFresh = (view: WheelView | undefined, connected = true): boolean => connected && view?.state === 'live';

/** The ink a wheel is drawn in: what must be done comes before what is known. */
export type Ink = 'steady' | 'look' | 'act' | 'silent' | 'asleep' | 'old' | 'notHeard' | 'resting' | 'bare';

export function inkOf(view: WheelView | undefined, connected = true): Ink {
  if (!view || view.state === 'notPaired') return 'bare';
  if (view.state === 'notHeard' || view.state === 'notFitted') return 'notHeard';
  if (view.state === 'resting') return 'resting';
  if (view.state === 'silent') return 'silent';
  if (!isSpare(view.position) && view.active.some((k) => k === 'low' || k === 'hot' || k === 'rapid')) return 'act';
  // A mark stays until its cause is gone, also while the sensor sleeps.
  if (view.active.length > 0 || view.askedTime !== null || view.offTime !== null) return 'look';
  if (view.state === 'asleep') return 'asleep';
  return view.state === 'old' || !connected ? 'old' : 'steady';
}

/** The word beside the code: says the state without any colour. */
export function stateWord(view: WheelView | undefined, ink: Ink): string {
  if (ink === 'act') return view?.active.includes('rapid') ? 'STOP' : view?.active.includes('low') ? 'LOW' : 'HOT';
  if (view?.filling) return 'filling';
  if (ink === 'look') return view?.offTime ? 'off valve' : 'look';
  return { steady: '', silent: 'no reading', asleep: 'asleep', old: 'old', notHeard: '', resting: 'resting', bare: '' }[ink];
}

/** How old a figure is; with the stream lost nobody counts any more, so the hour it was heard is shown. */
const ageWords = (view: WheelView, connected: boolean): string =>
  connected || view.time === null ? `${duration(view.ageS ?? 0)} old` : `heard ${timeOfDay(view.time)}`;

/** The line under the figure. */
export function wheelLine(view: WheelView | undefined, ink: Ink, f: Format, connected = true): string {
  if (ink === 'bare' || !view) return 'no sensor';
  if (ink === 'notHeard') {
    return view.state === 'notFitted' ? 'not fitted yet' : view.aheadTime === null ? 'not heard yet' : 'time was wrong';
  }
  if (ink === 'silent') return connected || view.time === null ? `for ${duration(view.ageS ?? 0)}` : ageWords(view, connected);
  if (ink === 'asleep' || ink === 'old') return ageWords(view, connected);
  if (ink === 'resting') return view.ageS === null ? '' : ageWords(view, connected);
  const fresh = isFresh(view, connected);
  const says = stateLine(view, f, fresh);
  return fresh ? says : `${says}${says === '' ? '' : ', '}${ageWords(view, connected)}`;
}

/** What is wrong with it, or how warm it is: that only while it is a figure of now. */
function stateLine(view: WheelView, f: Format, fresh: boolean): string {
  const temp = view.tempC === null ? '' : f.temperature(view.tempC);
  if (view.active.includes('rapid')) return 'losing air fast';
  // A figure that is shown the same as its limit is neither under nor over it.
  const same = (limitKpa: number) => view.pressureKpa !== null && f.figure(view.pressureKpa) === f.figure(limitKpa);
  if (view.active.includes('low') && view.lowKpa !== null)
    return same(view.lowKpa) ? 'at its low limit' : `under ${f.figure(view.lowKpa)}`;
  if (view.active.includes('hot') && view.hotC !== null) return `${temp}, limit ${f.temperature(view.hotC)}`;
  if (view.active.includes('high') && view.highKpa !== null)
    return same(view.highKpa) ? 'at its high limit' : `over ${f.figure(view.highKpa)}`;
  if (view.askedTime !== null) return 'sensor off?';
  if (view.filling && view.lowKpa !== null && (view.pressureKpa ?? 0) <= view.lowKpa) return 'below target';
  if (view.active.includes('slow')) return 'slow loss';
  const also = view.active.includes('apart') ? 'apart' : view.active.includes('battery') ? 'weak battery' : '';
  const noted = view.noted?.includes('low') ? 'low: cold weather' : view.noted?.includes('high') ? 'high: a hot run' : '';
  return [fresh ? temp : '', also, noted].filter((t) => t !== '').join(', ');
}

/** A whole sentence for a screen reader. */
export function wheelSentence(view: WheelView, ink: Ink, f: Format, connected = true): string {
  const start = `${view.position}: `;
  if (ink === 'bare') return `${start}no sensor paired`;
  if (view.state === 'notFitted') return `${start}paired but not fitted yet, so it reads no pressure`;
  if (view.aheadTime !== null) return `${start}its last reading had a wrong time, not heard since`;
  if (ink === 'notHeard' || view.pressureKpa === null) return `${start}paired, not heard yet`;
  const value = `${f.pressure(view.pressureKpa)}${view.tempC === null ? '' : `, ${f.temperature(view.tempC)}`}`;
  const alarms = view.active.length > 0 ? `alarm ${view.active.map((k) => kindWords[k]).join(' and ')}` : '';
  if (ink === 'resting') return `${start}its unit is disconnected, last value ${value}`;
  if (ink === 'silent') return `${start}not reporting for ${duration(view.ageS ?? 0)}, last value ${value}`;
  if (!isFresh(view, connected)) {
    const state = connected && view.state === 'asleep' ? 'asleep' : 'old value';
    return `${start}${state}, ${ageWords(view, connected)}, ${value}${alarms === '' ? '' : `, ${alarms}`}`;
  }
  return `${start}${value}, ${alarms === '' ? 'steady' : alarms}`;
}

const fitSentences: Record<FitReason, string> = {
  metalStem: 'A metal stem is strong enough for it.',
  flowThroughOnRubber: 'A flow-through is too heavy for rubber: the stem cracks, leaks or shears. It needs metal.',
  rubberOnMotorcycle: 'Metal stems only on a motorcycle: a sheared stem empties the tire while you ride.',
  oldRubber: 'The rubber is old. Have the stem changed before you fit anything to it.',
  metalOnlySchool: 'You chose metal stems only for this rig.',
  lightCapSchool: 'You chose: a light cap on a sound rubber stem is fine. Metal is safer.',
  schoolsDiffer:
    'There are two schools: “a light cap on sound rubber is fine” and “metal only”. Metal is safer. Choose one for the rig.',
  rubberAgeUnknown: 'How old is the rubber? It should have been replaced with the tire.',
  stemUnknown: 'Look at the stem first: rubber bends, metal doesn’t.',
  longStem:
    'A long stem plus a sensor sticks out: it can hit a kerb, and the spin bends it outward. Do the tape test. A short stem cures both.',
  extension: 'An extension is a second place to leak and swings out. A sensor belongs on the stem itself.',
  dualInner: 'Inner wheel of a dual: check that you can reach it and that nothing touches the outer wheel.',
  shopWork: 'A tire shop fits it for a small fee per wheel.',
  sealedCell: 'Its battery is sealed in and lasts about 4 years. Have the sensor replaced with the tire.',
};

/** Why a sensor may or may not go onto a stem. */
export const fitWords = (reason: FitReason): string => fitSentences[reason];

const percent = (share: number) => `${Math.round(share * 1000) / 10} %`;

/** Why a limit is what it is. */
export function reasonWords(r: LimitReason, f: Format): string {
  const of = r.ofKpa === undefined ? '' : f.pressure(r.ofKpa);
  switch (r.code) {
    case 'shareUnderCold':
      return `${percent(r.share ?? 0)} under ${of} cold`;
    case 'shareOverCold':
      return `${percent(r.share ?? 0)} over ${of} cold`;
    case 'marginUnderCold':
      return `${f.pressure(r.marginKpa ?? 0)} under ${of} cold`;
    case 'marginOverCold':
      return `${f.pressure(r.marginKpa ?? 0)} over ${of} cold`;
    case 'shareUnderRating':
      return `${percent(r.share ?? 0)} under the rating of ${of}`;
    case 'shareOverRating':
      return `${percent(r.share ?? 0)} over the rating of ${of}`;
    case 'roughUnderCold':
      return `about ${percent(r.share ?? 0)} under ${of} cold, to the nearest ${f.pressure(r.roundKpa ?? 0)}`;
    case 'roughOverCold':
      return `about ${percent(r.share ?? 0)} over ${of} cold, to the nearest ${f.pressure(r.roundKpa ?? 0)}`;
    case 'floor':
      return 'the floor you set';
    case 'ceiling':
      return 'the ceiling you set';
    case 'noHigh':
      return 'this rule sets no high alarm';
    case 'monitorDerives':
      return `the monitor derives it from ${of}`;
    case 'regulationShare':
      return `${percent(r.share ?? 0)} under ${of} cold`;
    case 'regulationFloor':
      return `the floor of ${f.pressure(r.floorKpa ?? 0)}, higher than the share`;
  }
}

/** Kinds of sensor by their names. */
export const kindNames: Record<SensorKind, string> = { cap: 'Cap', flowThrough: 'Flow-through', internal: 'Internal' };
