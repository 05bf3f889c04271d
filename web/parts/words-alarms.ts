import { isSpare } from '#core/rig/positions.ts';
import { type AlarmGroup, loadState, type TimeLeft, timeToLoadMinimum, timeToLow } from '#core/watch/group.ts';
import type { Alarm, WheelView } from '#schema/alarm.ts';
import { duration, type Format, timeOfDay } from './format.ts';

/** Sentences of alarms: what is wrong, how much, what to do. */

export interface AlarmWords {
  title: string;
  text: string;
}

const ROLLING = 'Slow down gently, do not brake hard, and stop where it is safe.';
const SPARE = 'It is the spare: fill or change it before you need it.';
const PARKED = 'The rig is parked: fill or change the tire before you drive.';
/** What to do about a tire that is losing air or low: a sleeping sensor is one of a parked rig. */
const stopWords = (wheel: WheelView | undefined): string =>
  wheel && isSpare(wheel.position) ? SPARE : wheel?.state === 'asleep' ? PARKED : ROLLING;
const INSPECT = 'A tire run very low comes off for inspection by a tire shop.';
const HUB = 'A brake that drags or a bearing that fails shows this way first. Look at the hub at the next stop; it can burn you.';

/** What a wheel read last, and how long ago, when that is not now. */
function lastValue(alarm: Alarm, wheel: WheelView | undefined, f: Format): string {
  if (!wheel || wheel.pressureKpa === null || wheel.ageS === null) return `Last value ${f.pressure(alarm.worst)}`;
  return `Last value ${f.pressure(wheel.pressureKpa)}, ${duration(wheel.ageS)} old`;
}

/** How hot the sensor is, and how hot it was at most where that is more. */
function hotNow(alarm: Alarm, wheel: WheelView | undefined, f: Format): string {
  const worst = f.temperature(alarm.worst);
  if (wheel?.state !== 'live' || wheel.tempC === null) return `The sensor said ${worst} at most`;
  const reads = f.temperature(wheel.tempC);
  return reads === worst ? `The sensor says ${worst}` : `The sensor says ${reads}, at most ${worst}`;
}

/** Nearer than this it may be there already, s. */
const THERE_S = 300;

function lowWords({ likelyS, shortestS }: TimeLeft): string {
  if (likelyS < THERE_S) return 'At this rate it may already be at its low limit.';
  const earliest = shortestS < THERE_S ? 'it may already be there' : `${duration(shortestS)} at the earliest`;
  return `At this rate it reaches its low limit in about ${duration(likelyS)}, ${earliest}.`;
}

/** What an alarm says, how much, and what to do. */
export function alarmWords(alarm: Alarm, wheel: WheelView | undefined, f: Format, now: string): AlarmWords {
  const p = alarm.position;
  const e = alarm.evidence ?? {};
  const since = timeOfDay(alarm.fromTime, now);
  const nowReads = wheel && wheel.pressureKpa !== null && wheel.state === 'live' ? f.pressure(wheel.pressureKpa) : null;
  switch (alarm.kind) {
    case 'low': {
      const value = nowReads ? `Reads ${nowReads}` : lastValue(alarm, wheel, f);
      if (alarm.severity === 'note' && e.cause === 'weather')
        return {
          title: `${p} reads low because of the cold`,
          text: `${value}, low limit ${f.pressure(alarm.limit)}.${e.heldKpa === undefined ? '' : ` Its cold-equivalent pressure is ${f.pressure(e.heldKpa)}, so no air was lost.`} Your monitor may sound. Reset the cold pressure when it suits you.`,
        };
      if (alarm.severity === 'note')
        return {
          title: `Was the sensor of ${p} taken off?`,
          text: `${value} while parked. If nobody took the sensor off, look at the tire before you drive.`,
        };
      if (e.cause === 'weather')
        return {
          title: `Stop: ${p} can’t carry its load in this cold`,
          text: `${value}, low alarm at ${f.pressure(alarm.limit)}, crossed ${since}. No air was lost, but cold air presses less. Fill it before you drive on.`,
        };
      return {
        title: isSpare(p) ? `${p}, the spare, is low` : `Stop: ${p} is low`,
        text: `${value}, low alarm at ${f.pressure(alarm.limit)}, crossed ${since}. ${stopWords(wheel)}${isSpare(p) ? '' : ` ${INSPECT}`}`,
      };
    }
    case 'high':
      if (alarm.severity === 'note')
        return {
          title: `${p} reads high from the run`,
          text: `${nowReads ? `Reads ${nowReads}` : lastValue(alarm, wheel, f)}, high limit ${f.pressure(alarm.limit)}. The run explains it. Your monitor may sound. A hot tire reads high. Don’t bleed it to the cold pressure.`,
        };
      return {
        title: `${p} reads high`,
        text: `${nowReads ? `Reads ${nowReads}` : lastValue(alarm, wheel, f)}, high alarm at ${f.pressure(alarm.limit)}, crossed ${since}. Check load, brake and speed at the next stop. A hot tire reads high. Don’t bleed it to the cold pressure.`,
      };
    case 'hot':
      return {
        title: `Stop: ${p} is hot`,
        text: `${hotNow(alarm, wheel, f)}, limit ${f.temperature(alarm.limit)}, crossed ${since}. A sensor outside the tire shows about half of the rise, so the air inside is hotter. Stop gently where it is safe; brake and hub can burn you.`,
      };
    case 'rapid':
      return {
        title: isSpare(p) ? `${p}, the spare, is losing air fast` : `Stop: ${p} is losing air fast`,
        text: `${f.pressure(e.lossKpa ?? alarm.value)} lost within two minutes when it was noticed, ${f.pressure(alarm.worst)} by now, corrected for temperature. ${nowReads ? `It reads ${nowReads}. ` : ''}${stopWords(wheel)}`,
      };
    case 'slow': {
      const low = timeToLow(wheel, [alarm]);
      const rate = e.rateKpaPerDay;
      const speed =
        rate === undefined
          ? ''
          : ` About ${f.pressure(-rate)} a day${e.rateLowKpaPerDay !== undefined && e.rateHighKpaPerDay !== undefined ? ` (${f.figure(Math.max(0, -e.rateHighKpaPerDay))} to ${f.figure(-e.rateLowKpaPerDay)})` : ''}.`;
      const left = low ? ` ${lowWords(low)}` : '';
      return {
        title: `${p} is losing air slowly`,
        text: `Its cold-equivalent pressure is about ${f.pressure(e.lossKpa ?? alarm.limit - alarm.value)} lower than at ${e.sinceMs === undefined ? 'first' : timeOfDay(new Date(e.sinceMs).toISOString(), now)}.${speed}${left} Look for a nail, and put soapy water on the valve.`,
      };
    }
    case 'apart':
      if (e.how === 'lower') {
        return {
          title: `${p} is lower than the other wheels on its axle`,
          text: `It is ${f.pressure(Math.abs(alarm.worst))} below the others, which had the same weather and road. Compare with a gauge at the next stop and look for a leak.`,
        };
      }
      return {
        title: `${p} is ${f.difference(alarm.worst)} hotter than the other wheels on its axle`,
        text: `${e.overPressureK !== undefined && e.overPressureK > 4 ? 'Temperature and pressure agree on this.' : 'Its temperature shows this.'}${e.overTwinK === undefined ? '' : ` The other tire of the pair is ${e.overTwinK > 4 ? `${f.difference(e.overTwinK)} cooler` : 'just as hot, as two tires on one hub are'}.`} ${HUB}`,
      };
    case 'silent': {
      const lastMs = e.sinceMs ?? Date.parse(alarm.fromTime) - alarm.limit * 1000;
      const last = timeOfDay(new Date(lastMs).toISOString(), now);
      if (e.how === 'unit') {
        return {
          title: `Unit ${p} has stopped reporting`,
          text: `None of its sensors has reported since ${last}, while the others do. Was it left behind? Then disconnect it. Otherwise check the repeater and its supply. The pressures of these tires are unknown now.`,
        };
      }
      return {
        title: `${p} is not reporting`,
        text: `Last heard ${last} at ${f.pressure(alarm.value)}. Its pressure now is unknown. Check the tire at the next stop, then the sensor’s battery and the repeater.`,
      };
    }
    case 'stuck':
      return {
        title: `The sensor of ${p} is stuck`,
        text: `It has shown ${f.pressure(alarm.value)} without a change since ${timeOfDay(new Date(e.sinceMs ?? Date.parse(alarm.fromTime)).toISOString(), now)}, while the other wheels warmed up. Its pressure now is unknown. Check the tire with a gauge, then replace the sensor.`,
      };
    case 'battery':
      if (p.length === 1) {
        return {
          title: 'The repeater’s supply is weak',
          text: `${alarm.worst.toFixed(1)} V at ${since}; below ${alarm.limit.toFixed(1)} V is weak. When it fails, every sensor behind it stops reporting at once. Check its supply and its fuse; charge it or change its battery.`,
        };
      }
      return {
        title: `The battery of the sensor on ${p} is weak`,
        text: `${(e.volts ?? alarm.value).toFixed(2)} V, which is ${alarm.worst.toFixed(2)} V at 20 °C${e.oldCell ? ', and it is older than such batteries last' : ''}. It will fail on a cold morning first. Fit a new battery and a new O-ring; a sealed sensor is replaced with the tire.`,
      };
  }
}

/** Advice that more than one of these texts ends with: said once for all of them. */
export const sharedAdvice = (texts: readonly string[]): string[] =>
  [ROLLING, PARKED, INSPECT].filter((advice) => texts.filter((t) => t.includes(advice)).length > 1);

/** A text without what is said once for all. */
export const withoutAdvice = (text: string, shared: readonly string[]): string =>
  shared
    .reduce((t, advice) => t.replace(advice, ''), text)
    .replaceAll(/ {2,}/g, ' ')
    .trim();

/** What an alarm was raised on, figure by figure: for whoever wants to judge it himself. */
export function evidenceRows(alarm: Alarm, f: Format, now: string): [string, string][] {
  const e = alarm.evidence ?? {};
  const rows: [string, string][] = [];
  const span = (low: number, high: number) => `${f.figure(low)} to ${f.figure(high)}`;
  switch (alarm.kind) {
    case 'low':
    case 'high':
      rows.push(['Reading, limit', `${f.pressure(alarm.value)}, ${f.pressure(alarm.limit)}; worst ${f.figure(alarm.worst)}`]);
      break;
    case 'hot':
      rows.push([
        'Reading, limit',
        `${f.temperature(alarm.value)}, ${f.temperature(alarm.limit)}; worst ${f.temperature(alarm.worst)}`,
      ]);
      break;
    case 'silent':
      rows.push(['Not reporting', `no reading for more than ${duration(alarm.limit)} while others report`]);
      break;
    case 'stuck':
      rows.push(['Stuck', `no change for ${duration(alarm.limit)} and more while the others warmed up`]);
      break;
    case 'battery':
      rows.push(['Weak below', `${alarm.limit.toFixed(2)} V${alarm.position.length === 1 ? '' : ' at 20 °C'}`]);
      break;
    case 'rapid':
      rows.push(['Limit', `${f.pressure(alarm.limit)} in 2 min`]);
      break;
    case 'slow':
      rows.push(['Cold-equivalent', `surely ${f.pressure(alarm.limit)} before, now at most ${f.figure(alarm.worst)}`]);
      break;
    case 'apart':
      rows.push(
        e.how === 'lower'
          ? ['Below its axle', `${f.pressure(-alarm.worst)}; alarm from ${f.figure(-alarm.limit)}`]
          : ['Above its axle', `${f.difference(alarm.worst)}; alarm from ${f.difference(alarm.limit)}`],
      );
      break;
  }
  if (e.how !== 'lower' && e.overTempK !== undefined && e.overPressureK !== undefined)
    rows.push([
      'By temperature',
      `${f.difference(e.overTempK)}; by pressure ${f.difference(e.overPressureK)}${e.overTwinK === undefined ? '' : `; above the other tire of the pair ${f.difference(e.overTwinK)}`}`,
    ]);
  if (e.heldKpa !== undefined && e.heldLowKpa !== undefined && e.heldHighKpa !== undefined)
    rows.push(['Cold-equivalent then', `about ${f.pressure(e.heldKpa)}, surely ${span(e.heldLowKpa, e.heldHighKpa)}`]);
  if (e.lossKpa !== undefined)
    rows.push([
      'Lost',
      `${f.pressure(e.lossKpa)}${e.sinceMs === undefined ? '' : ` since ${timeOfDay(new Date(e.sinceMs).toISOString(), now)}`}, corrected for temperature`,
    ]);
  if (e.rateKpaPerDay !== undefined)
    rows.push([
      'Change a day',
      `${f.pressure(e.rateKpaPerDay)}${e.rateLowKpaPerDay === undefined || e.rateHighKpaPerDay === undefined ? '' : `, 95 % ${span(e.rateLowKpaPerDay, e.rateHighKpaPerDay)}`}`,
    ]);
  if (e.volts !== undefined)
    rows.push([
      'Its supply',
      `${e.volts.toFixed(2)} V${e.voltsAt20 === undefined ? '' : `, which is ${e.voltsAt20.toFixed(2)} V at 20 °C`}`,
    ]);
  return rows;
}

/** What a wheel with a loss still has before its load is too much for it; empty when nothing can be said. */
export function loadWordsNow(wheel: WheelView | undefined, parts: readonly Alarm[], f: Format): string {
  if (!wheel || wheel.loadMinimumKpa === null) return '';
  const minimum = f.pressure(wheel.loadMinimumKpa);
  const state = loadState(wheel);
  if (state === 'cannot')
    return `It can’t carry its load now: cold it would read ${f.pressure(wheel.heldKpa ?? 0)}, and the load minimum is ${minimum}.`;
  if (state === 'perhaps')
    return `It may not carry its load: cold it would read about ${f.pressure(wheel.heldKpa ?? 0)}, and the load minimum is ${minimum}.`;
  const left = timeToLoadMinimum(wheel, parts);
  if (!left) return '';
  if (left.likelyS < THERE_S) return `At this rate it may already be at its load minimum (${minimum} cold).`;
  return `At this rate it reaches its load minimum (${minimum} cold) in about ${duration(left.likelyS)}${left.shortestS < THERE_S ? '. It may already be there' : left.shortestS < left.likelyS * 0.8 ? `, perhaps in ${duration(left.shortestS)}` : ''}.`;
}

/** A twin this far under its cold pressure leaves the load to the other tire of the pair. Assumed. */
const SOFT_SHARE = 0.1;

/** The other tire of a dual pair, where it is the one that is low; else null. */
function softTwin(position: string, views: ReadonlyMap<string, WheelView>): string | null {
  if (!/[IO]$/.test(position)) return null;
  const twin = position.slice(0, -1) + (position.endsWith('I') ? 'O' : 'I');
  const view = views.get(twin);
  if (!view) return null;
  const losing = view.active.some((k) => k === 'low' || k === 'rapid' || k === 'slow');
  const low = view.heldHighKpa !== null && view.coldKpa !== null && view.heldHighKpa < (1 - SOFT_SHARE) * view.coldKpa;
  return losing || low ? twin : null;
}

/** Title and text of what the screen shows as one alarm. */
export function groupWords(group: AlarmGroup, views: ReadonlyMap<string, WheelView>, f: Format, now: string): AlarmWords {
  const [first] = group.parts;
  if (group.cold) {
    const short = group.severity === 'stop' ? ' At least one can’t carry its load like this. Fill it before you drive.' : '';
    return {
      title: `${group.positions.length} tires read low because of the cold`,
      text: `They all dropped together with the temperature, and none has lost air. Reset the cold pressures when it suits you.${short}`,
    };
  }
  const view = views.get(group.positions[0] as string);
  const soft = first?.kind === 'apart' && first.evidence?.how === 'hotter' ? softTwin(first.position, views) : null;
  if (first && soft)
    return {
      title: `${first.position} carries the load of its twin ${soft}`,
      text: `It is ${f.difference(first.worst)} hotter than the other wheels on its axle because ${soft} beside it is low. Slow down, and fill or change ${soft} before you drive on. Two tires share that load.`,
    };
  const words = alarmWords(first as Alarm, view, f, now);
  const load = loadWordsNow(view, group.parts, f);
  // What it can no longer carry comes first; how long it still may comes after what to do.
  const urgent = loadState(view) === 'cannot';
  return { title: words.title, text: load === '' ? words.text : urgent ? `${load} ${words.text}` : `${words.text} ${load}` };
}
