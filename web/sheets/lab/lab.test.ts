import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import type { LabFigures } from '#core/lab/compare.ts';
import { placeNames } from './names.ts';
import { COLUMNS, csvRows, hours, nameOf, perYear, spreadText } from './words.ts';

describe('names beside points', () => {
  const area = { x: 0, y: 0, width: 400, height: 300 };
  const meet = (a: (typeof boxes)[number], b: (typeof boxes)[number]) =>
    a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
  const points = [
    { x: 200, y: 150, r: 8 },
    { x: 206, y: 152, r: 8 },
    { x: 200, y: 150, r: 8 },
    { x: 398, y: 20, r: 8 },
    { x: 2, y: 296, r: 8 },
  ];
  const boxes = placeNames(points, [90, 110, 70, 120, 100], 20, area);

  it('lie neither on each other nor on a point, and stay on the picture', () => {
    boxes.forEach((b, i) => {
      for (const c of boxes.slice(i + 1)) expect(meet(b, c)).toBe(false);
      for (const p of points) expect(meet(b, { x: p.x - p.r, y: p.y - p.r, width: 2 * p.r, height: 2 * p.r })).toBe(false);
      expect(b.x).toBeGreaterThanOrEqual(0);
      expect(b.x + b.width).toBeLessThanOrEqual(400);
    });
  });

  it('is beside its point where there is room', () => {
    expect(placeNames([{ x: 100, y: 150, r: 8 }], [90], 20, area)).toEqual([{ x: 113, y: 129, width: 90, height: 20 }]);
  });
});

describe('figures of the lab in words', () => {
  const figures: LabFigures = {
    wheelYears: 40,
    nuisance: { middle: 2.66, low: 0.07, high: 7.4 },
    byKind: { low: 2.66 },
    mostInHour: 7,
    leaks: { n: 240, heard: 231, inTime: { middle: 0.764, low: 0.73, high: 0.79 }, delayH: 6.9, airGone: 0.144, drivenUnder: 11 },
    hubs: { middle: 0.25, low: 0.2, high: 0.3 },
  };

  it('have as many digits as they are worth', () => {
    expect([0, 0.052, 0.38, 2.66, 38.49].map(perYear)).toEqual(['0', '0.05', '0.4', '2.7', '38']);
    expect([0.01, 0.5, 6.9, 47, 72].map(hours)).toEqual(['1 min', '30 min', '7 h', '47 h', '3 days']);
    expect(spreadText({ middle: 0, low: 0, high: 0 }, perYear)).toBe('0');
    expect(COLUMNS.map((c) => c.text(figures))).toEqual([
      '2.7 (0.07 to 7.4)',
      '7',
      '76 % (73 % to 79 %)',
      '7 h',
      '14 %',
      '11 of 240',
      '25 %',
    ]);
    expect(COLUMNS[3]?.text({ ...figures, leaks: { ...figures.leaks, delayH: null } })).toBe('–');
    expect(nameOf('margin')).toBe('fixed margin, 15 psi');
  });

  it('go out as CSV with the seed, and another parser reads them back', () => {
    const text = Papa.unparse(csvRows([{ name: 'share', figures }], 71204), { newline: '\r\n' });
    const [row] = Papa.parse<Record<string, string>>(text, { header: true }).data;
    expect(row).toMatchObject({
      rule: 'share of normal, 10 / 20 %',
      seed: '71204',
      false_alarms_a_wheel_year: '2.66',
      leaks: '240',
      heard_in_time: '0.764',
      hubs_heard: '0.25',
    });
  });
});
