import type { LogLine } from '#core/log/timeline.ts';
import type { LogEvent } from '#schema/log.ts';
import type { LogEntry } from '#schema/unit.ts';
import { type Format, inPairs } from '../../parts/format.ts';
import { kindWords } from '../../parts/words-kinds.ts';

export const KIND_WORDS: Record<LogEntry['kind'], string> = {
  filled: 'Filled',
  checked: 'Gauge check',
  rotated: 'Wheels rotated',
  cell: 'New sensor battery',
  tire: 'New tire',
  puncture: 'Puncture',
  repair: 'Repair',
  upkeep: 'Upkeep',
  drive: 'Drive',
  stored: 'Stored for the season',
  note: 'Note',
};

/** What a line can be filtered by. */
export const FILTERS = {
  all: 'Everything',
  entry: 'Written down',
  use: 'Drives, readings, fills',
  alarm: 'Alarms',
  sensors: 'Sensors and fitting',
  limits: 'Limits and proof',
} as const;
export type Filter = keyof typeof FILTERS;
const GROUP: Record<Exclude<LogLine['what'], 'event'>, Filter> = {
  entry: 'entry',
  alarm: 'alarm',
  paired: 'sensors',
  left: 'sensors',
  fitted: 'sensors',
  retightened: 'sensors',
  track: 'entry',
  found: 'use',
  keyed: 'limits',
  proof: 'limits',
  gauge: 'limits',
};
const groupOf = (line: LogLine): Filter =>
  line.what !== 'event'
    ? GROUP[line.what]
    : line.event.kind === 'settings'
      ? 'limits'
      : line.event.kind === 'wheelSet'
        ? 'sensors'
        : 'use';
export const inFilter = (line: LogLine, filter: Filter): boolean => filter === 'all' || groupOf(line) === filter;

const WHY = {
  replaced: 'replaced',
  deleted: 'deleted',
  takenOff: 'taken off',
  moved: 'moved to another wheel',
  rotated: 'moved with its wheel',
} as const;

/** A figure that changed: `low 55.0 to 54.0 psi`. */
const changeWords = (name: string, from: number | null, to: number | null, show: (n: number) => string): string =>
  from === to || (from !== null && to !== null && Math.abs(from - to) < 1e-6)
    ? ''
    : from === null
      ? `${name} ${show(to as number)}`
      : to === null
        ? `no ${name}, it was ${show(from)}`
        : `${name} ${show(from)} to ${show(to)}`;

/** What the app wrote down by itself. */
function eventWords(event: LogEvent, f: Format): { title: string; text: string } {
  switch (event.kind) {
    case 'settings': {
      const { from, to } = event;
      const parts = [
        changeWords('cold', from.coldKpa, to.coldKpa, f.pressure),
        changeWords('set at', from.coldTempC, to.coldTempC, f.temperature),
        changeWords('low limit', from.lowKpa, to.lowKpa, f.pressure),
        changeWords('high limit', from.highKpa, to.highKpa, f.pressure),
        changeWords('temperature limit', from.hotC, to.hotC, f.temperature),
      ].filter(Boolean);
      return { title: 'Settings changed', text: `${parts.join(', ')} (${event.loadState})` };
    }
    case 'wheelSet':
      return { title: 'Set of wheels changed', text: event.name };
    case 'round':
      return {
        title: 'Readings typed',
        text: Object.entries(event.readings)
          .map(([p, kpa]) => `${p} ${f.figure(kpa)}`)
          .join(', ')
          .concat(` ${f.unit}`),
      };
    case 'drive': {
      const hours = Math.round((Date.parse(event.until) - Date.parse(event.time)) / 3_600_000);
      return {
        title: 'Drive',
        text: `${hours === 1 ? 'up to an hour' : `about ${hours} hours`}, ${event.wheels === 1 ? '1 sensor' : `${event.wheels} sensors`} warmed by about ${f.difference(event.warmedK)}`,
      };
    }
  }
}

/** A line of the log: what happened, and the rest. */
export function lineWords(line: LogLine, f: Format): { title: string; text: string } {
  switch (line.what) {
    case 'entry': {
      const { kind, before, after, tool, note, practice } = line.entry;
      const figures =
        before && after
          ? `${f.exact(before.kpa, before.typed)} to ${f.exact(after.kpa, after.typed)}`
          : after
            ? f.exact(after.kpa, after.typed)
            : before
              ? f.exact(before.kpa, before.typed)
              : '';
      return {
        title: practice ? `Practice: ${KIND_WORDS[kind].toLowerCase()}` : KIND_WORDS[kind],
        text: [
          [
            figures,
            tool ? `with ${tool}` : '',
            line.entry.sensorKpa === undefined ? '' : `sensor ${f.pressure(line.entry.sensorKpa)}`,
          ]
            .filter(Boolean)
            .join(', '),
          note ?? '',
        ]
          .filter(Boolean)
          .join('. '),
      };
    }
    case 'alarm': {
      const { kind, severity, toTime, fromTime } = line.alarm;
      const minutes = toTime === null ? null : Math.round((Date.parse(toTime) - Date.parse(fromTime)) / 60_000);
      const length = minutes === null ? 'still open' : minutes < 100 ? `for ${minutes} min` : `for ${Math.round(minutes / 60)} h`;
      return { title: `${severity === 'stop' ? 'Stop: ' : ''}${kindWords[kind]}`, text: length };
    }
    case 'paired':
      return { title: 'Sensor paired', text: inPairs(line.sensorId) };
    case 'left':
      return { title: `Sensor ${WHY[line.why]}`, text: inPairs(line.sensorId) };
    case 'fitted':
      return { title: 'Sensor fitted', text: '' };
    case 'keyed':
      return { title: 'Limits keyed into the monitor', text: '' };
    case 'track': {
      const { place, sessions } = line.day;
      const n = sessions.length;
      return { title: 'Track day', text: `${place ? `${place}, ` : ''}${n === 1 ? '1 session' : `${n} sessions`}` };
    }
    case 'event':
      return eventWords(line.event, f);
    case 'found':
      return {
        title: 'More air than before',
        text: `about ${f.figure(line.fill.fromKpa)} to ${f.pressure(line.fill.toKpa)} cold, by its readings`,
      };
    case 'retightened':
      return { title: 'Sensors tightened again after the first drive', text: '' };
    case 'proof':
      return { title: 'Alarm proof', text: line.rang ? 'the monitor rang' : 'the monitor stayed quiet' };
    case 'gauge':
      return { title: 'Gauge against sensor', text: `gauge ${f.pressure(line.gaugeKpa)}, sensor ${f.pressure(line.sensorKpa)}` };
  }
}
