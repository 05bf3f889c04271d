import { describe, expect, it } from 'vitest';
import type { LogEntry } from '#schema/unit.ts';
import { toolsOf } from './tools.ts';

let n = 0;
const filled = (tool: string, afterKpa: number, sensorKpa?: number, more: Partial<LogEntry> = {}): LogEntry => ({
  id: `5eed1090-0000-4000-8000-${String(n++).padStart(12, '0')}`,
  at: '2026-05-01T10:00:00.000Z',
  kind: 'filled',
  tool,
  after: { kpa: afterKpa },
  ...(sensorKpa === undefined ? {} : { sensorKpa }),
  ...more,
});

describe('gauges and pumps', () => {
  it('says what a pump reads over the sensors: the middle of the differences', () => {
    // Over by 8, 9, 7 and once, at a bad sensor, by 60 kPa: 8.5, half of them within 1.
    const log = [filled('garage pump', 508, 500), filled('garage pump', 409, 400), filled('garage pump', 307, 300)];
    expect(toolsOf(log)).toEqual([{ name: 'garage pump', flowLitresPerMin: null, pairs: 3, offsetKpa: 8, spreadKpa: 1 }]);
    expect(toolsOf([...log, filled('garage pump', 560, 500)])[0]).toMatchObject({ pairs: 4, offsetKpa: 8.5, spreadKpa: 1 });
  });
  it('says nothing before three pairs, and counts no entry without a sensor, or with one that read nothing', () => {
    const log = [
      filled('stick gauge', 500, 495),
      filled('stick gauge', 500),
      filled('stick gauge', 400, 0),
      filled('stick gauge', 300, 297),
    ];
    expect(toolsOf(log)).toEqual([{ name: 'stick gauge', flowLitresPerMin: null, pairs: 2, offsetKpa: null, spreadKpa: null }]);
  });
  it('a check counts by what was read before, and those described come first', () => {
    const check = (kpa: number, sensorKpa: number): LogEntry => ({
      ...filled('dial', 0, sensorKpa),
      kind: 'checked',
      before: { kpa },
    });
    const log = [500, 400, 300].map((kpa) => {
      const { after: _, ...rest } = check(kpa - 5, kpa);
      return rest;
    });
    expect(toolsOf(log, [{ name: 'foot pump', flowLitresPerMin: 12 }])).toEqual([
      { name: 'foot pump', flowLitresPerMin: 12, pairs: 0, offsetKpa: null, spreadKpa: null },
      { name: 'dial', flowLitresPerMin: null, pairs: 3, offsetKpa: -5, spreadKpa: 0 },
    ]);
  });
});
