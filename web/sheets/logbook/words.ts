import type { LogLine } from '#core/log/timeline.ts';
import type { LogEntry } from '#schema/unit.ts';
import { type Format, inPairs } from '../../parts/format.ts';
import { kindWords } from '../../parts/words-alarms.ts';

export const KIND_WORDS: Record<LogEntry['kind'], string> = {
  filled: 'Filled',
  checked: 'Gauge check',
  rotated: 'Wheels rotated',
  cell: 'New sensor battery',
  tire: 'New tire',
  puncture: 'Puncture',
  drive: 'Drive',
  stored: 'Stored for the season',
  note: 'Note',
};

/** What a line can be filtered by. */
export const FILTERS = {
  all: 'Everything',
  entry: 'Written down',
  alarm: 'Alarms',
  sensors: 'Sensors and fitting',
  limits: 'Limits and proof',
} as const;
export type Filter = keyof typeof FILTERS;
const GROUP: Record<LogLine['what'], Filter> = {
  entry: 'entry',
  alarm: 'alarm',
  paired: 'sensors',
  left: 'sensors',
  fitted: 'sensors',
  retightened: 'sensors',
  track: 'entry',
  keyed: 'limits',
  proof: 'limits',
  gauge: 'limits',
};
export const inFilter = (line: LogLine, filter: Filter): boolean => filter === 'all' || GROUP[line.what] === filter;

const WHY = {
  replaced: 'replaced',
  deleted: 'deleted',
  takenOff: 'taken off',
  moved: 'moved to another wheel',
  rotated: 'moved with its wheel',
} as const;

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
        text: [[figures, tool ? `with ${tool}` : ''].filter(Boolean).join(', '), note ?? ''].filter(Boolean).join('. '),
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
    case 'retightened':
      return { title: 'Sensors tightened again after the first drive', text: '' };
    case 'proof':
      return { title: 'Alarm proof', text: line.rang ? 'the monitor rang' : 'the monitor stayed quiet' };
    case 'gauge':
      return { title: 'Gauge against sensor', text: `gauge ${f.pressure(line.gaugeKpa)}, sensor ${f.pressure(line.sensorKpa)}` };
  }
}
