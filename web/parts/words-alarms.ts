import { type AlarmGroup, loadState, type TimeLeft, timeToLoadMinimum, timeToLow } from '#core/watch/group.ts';
import type { Alarm, WheelView } from '#schema/alarm.ts';
import { duration, type Format, timeOfDay } from './format.ts';

/** Sentences of alarms: what is wrong, how much, what to do. */

export interface AlarmWords {
  title: string;
  text: string;
}

const STOP = 'Slow down gently, do not brake hard, and stop where it is safe.';
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
  if (likelyS < THERE_S) return 'At this rate it may be at its low limit already.';
  const earliest = shortestS < THERE_S ? 'it may be there already' : `at the earliest ${duration(shortestS)}`;
  return `At this rate it reads its low limit in ${duration(likelyS)}, ${earliest}.`;
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
      return {
        title: `Stop: ${p} is low`,
        text: `${value}, low alarm at ${f.pressure(alarm.limit)}, crossed ${since}. ${STOP} ${INSPECT}`,
      };
    }
    case 'high':
      return {
        title: `${p} reads high`,
        text: `${nowReads ? `Reads ${nowReads}` : lastValue(alarm, wheel, f)}, high alarm at ${f.pressure(alarm.limit)}, crossed ${since}. Look at load, brake and speed at the next stop. A hot tire reads more than a cold one: never bleed it down to the cold figure.`,
      };
    case 'hot':
      return {
        title: `Stop: ${p} is hot`,
        text: `${hotNow(alarm, wheel, f)}, limit ${f.temperature(alarm.limit)}, crossed ${since}. A sensor outside the tire shows about half of the rise: the gas is hotter. Stop gently where it is safe; brake and hub can burn you.`,
      };
    case 'rapid':
      return {
        title: `Stop: ${p} is losing air fast`,
        text: `${f.pressure(e.lossKpa ?? alarm.value)} gone in two minutes when it was seen, ${f.pressure(alarm.worst)} by now, temperature taken out. ${nowReads ? `It reads ${nowReads}. ` : ''}${STOP}`,
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
        title: `${p} loses air slowly`,
        text: `It holds about ${f.pressure(e.lossKpa ?? alarm.limit - alarm.value)} less than at ${e.sinceMs === undefined ? 'first' : timeOfDay(new Date(e.sinceMs).toISOString(), now)}, cold compared with cold.${speed}${left} Look for a nail and put soapy water on the valve.`,
      };
    }
    case 'apart':
      if (e.how === 'lower') {
        return {
          title: `${p} is low beside its neighbours`,
          text: `It has come to ${f.pressure(Math.abs(alarm.worst))} under the others of its axle, which had the same weather and road. Compare with a gauge at the next stop and look for a leak.`,
        };
      }
      return {
        title: `${p} runs ${f.difference(alarm.worst)} hotter than its neighbours`,
        text: `That is its gas, by its temperature${e.overPressureK !== undefined && e.overPressureK > 4 ? ' and its pressure' : ''}${e.overTwinK === undefined ? '' : `; its twin is ${e.overTwinK > 4 ? `${f.difference(e.overTwinK)} cooler` : 'as hot, as two wheels of one hub are'}`}. ${HUB}`,
      };
    case 'silent': {
      const lastMs = e.sinceMs ?? Date.parse(alarm.fromTime) - alarm.limit * 1000;
      const last = timeOfDay(new Date(lastMs).toISOString(), now);
      if (e.how === 'unit') {
        return {
          title: `Unit ${p} is not heard any more`,
          text: `All its sensors have been silent since ${last} while the others speak. Was it left behind? Disconnect it. Else look at the repeater and its supply; what these tires hold now is not known.`,
        };
      }
      return {
        title: `${p} has gone silent`,
        text: `Last heard ${last} at ${f.pressure(alarm.value)}. What it holds now is not known: look at the tire at the next stop, then at cell and repeater.`,
      };
    }
    case 'battery':
      if (p.length === 1) {
        return {
          title: 'The repeater’s supply is weak',
          text: `${alarm.worst.toFixed(1)} V, weak under ${alarm.limit.toFixed(1)} V, told ${since}. When it fails, every sensor behind it falls silent at once. Look at its supply and its fuse; charge it or change its cell.`,
        };
      }
      return {
        title: `The cell of ${p} is weak`,
        text: `${(e.volts ?? alarm.value).toFixed(2)} V, which is ${alarm.worst.toFixed(2)} V at 20 °C${e.oldCell ? ', and it is older than such cells live' : ''}. Cold mornings are the first to fail. Put in a new cell and a new O-ring; a sealed sensor is changed with the tire.`,
      };
  }
}

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
      rows.push(['Silence is', `more than ${duration(alarm.limit)} without a word while others speak`]);
      break;
    case 'battery':
      rows.push(['Weak under', `${alarm.limit.toFixed(2)} V${alarm.position.length === 1 ? '' : ' at 20 °C'}`]);
      break;
    case 'rapid':
      rows.push(['Rapid is', `${f.pressure(alarm.limit)} in 2 min`]);
      break;
    case 'slow':
      rows.push(['Surely held', `${f.pressure(alarm.limit)}, now at most ${f.figure(alarm.worst)}`]);
      break;
    case 'apart':
      rows.push(
        e.how === 'lower'
          ? ['Under its axle', `${f.pressure(-alarm.worst)}, told from ${f.figure(-alarm.limit)}`]
          : ['Gas over its axle', `${f.difference(alarm.worst)}, told from ${f.difference(alarm.limit)}`],
      );
      break;
  }
  if (e.how !== 'lower' && e.overTempK !== undefined && e.overPressureK !== undefined)
    rows.push([
      'By temperature',
      `${f.difference(e.overTempK)}; by pressure ${f.difference(e.overPressureK)}${e.overTwinK === undefined ? '' : `; over its twin ${f.difference(e.overTwinK)}`}`,
    ]);
  if (e.heldKpa !== undefined && e.heldLowKpa !== undefined && e.heldHighKpa !== undefined)
    rows.push(['It held then', `about ${f.pressure(e.heldKpa)} cold, surely ${span(e.heldLowKpa, e.heldHighKpa)}`]);
  if (e.lossKpa !== undefined)
    rows.push([
      'Lost',
      `${f.pressure(e.lossKpa)}${e.sinceMs === undefined ? '' : ` since ${timeOfDay(new Date(e.sinceMs).toISOString(), now)}`}, temperature taken out`,
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
    return `It cannot carry its load now: it holds ${f.pressure(wheel.heldKpa ?? 0)} cold, its load needs ${minimum}.`;
  if (state === 'perhaps')
    return `It may be unable to carry its load: likely ${f.pressure(wheel.heldKpa ?? 0)} cold, its load needs ${minimum}.`;
  const left = timeToLoadMinimum(wheel, parts);
  if (!left) return '';
  if (left.likelyS < THERE_S) return `At this rate it may be down to what its load needs (${minimum} cold) already.`;
  return `At this rate it is down to what its load needs (${minimum} cold) in about ${duration(left.likelyS)}${left.shortestS < THERE_S ? '; it may be there already' : left.shortestS < left.likelyS * 0.8 ? `, perhaps in ${duration(left.shortestS)}` : ''}.`;
}

/** Title and text of what the screen shows as one alarm. */
export function groupWords(group: AlarmGroup, views: ReadonlyMap<string, WheelView>, f: Format, now: string): AlarmWords {
  const [first] = group.parts;
  if (group.cold) {
    const short = group.severity === 'stop' ? ' At least one cannot carry its load like this: fill it before you drive.' : '';
    return {
      title: `${group.positions.length} tires are low by the cold`,
      text: `All have fallen alike with the air, none has lost any. They read low because they are cold; set the cold pressure for the season at ease.${short}`,
    };
  }
  const view = views.get(group.positions[0] as string);
  const words = alarmWords(first as Alarm, view, f, now);
  const load = loadWordsNow(view, group.parts, f);
  // What it can no longer carry comes first; how long it still may comes after what to do.
  const urgent = loadState(view) === 'cannot';
  return { title: words.title, text: load === '' ? words.text : urgent ? `${load} ${words.text}` : `${words.text} ${load}` };
}

/** What a kind of alarm is called in a list. */
export const kindWords: Record<Alarm['kind'], string> = {
  low: 'low',
  high: 'high',
  hot: 'hot',
  rapid: 'losing air fast',
  slow: 'slow loss',
  silent: 'silent',
  apart: 'apart from its neighbours',
  battery: 'weak cell',
};
