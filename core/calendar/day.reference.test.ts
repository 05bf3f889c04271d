import { expect, it } from 'vitest';
import { dayIn } from './day.ts';

// Offsets by the IANA time zone database: Auckland UTC+13 in summer and +12 in winter, Los Angeles UTC-8 and -7, Kolkata +5:30, Lord Howe +10:30
// in winter and +11 in summer.
it.each([
  ['Pacific/Auckland', '2026-11-26T10:59:59Z', '2026-11-26'],
  ['Pacific/Auckland', '2026-11-26T11:00:00Z', '2026-11-27'],
  ['Pacific/Auckland', '2026-06-26T11:59:59Z', '2026-06-26'],
  ['Pacific/Auckland', '2026-06-26T12:00:00Z', '2026-06-27'],
  ['America/Los_Angeles', '2026-11-26T07:59:59Z', '2026-11-25'],
  ['America/Los_Angeles', '2026-11-26T08:00:00Z', '2026-11-26'],
  ['America/Los_Angeles', '2026-07-01T06:59:59.999Z', '2026-06-30'],
  ['Asia/Kolkata', '2026-12-31T18:29:59Z', '2026-12-31'],
  ['Asia/Kolkata', '2026-12-31T18:30:00Z', '2027-01-01'],
  ['Australia/Lord_Howe', '2026-07-01T13:30:00Z', '2026-07-02'],
  ['UTC', '2026-11-26T23:59:59Z', '2026-11-26'],
])('in %s %s is %s', (zone, time, day) => {
  expect(dayIn(zone, time)).toBe(day);
});

it('a day stays that day in every zone', () => {
  for (const zone of ['Pacific/Auckland', 'America/Los_Angeles']) expect(dayIn(zone, '2026-11-26')).toBe('2026-11-26');
});
