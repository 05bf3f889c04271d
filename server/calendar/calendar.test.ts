import ICAL from 'ical.js';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { makeCar, T0, type TestServer, testServer } from '../testing.ts';

let s: TestServer;
beforeEach(async () => {
  s = await testServer();
});
afterEach(() => s.close());

const day = (ms: number) => new Date(ms).toISOString().slice(0, 10);

it('is read by another program: days, text with commas and umlauts, a yearly season, a reminder', async () => {
  const { unit, rig } = await makeCar(s);
  const first = unit.axles[0];
  if (!first?.settings.loaded?.cold || !first.settings.loaded.limits) throw new Error('no axle');
  const season = (from: string, text: string) => ({
    cold: { kpa: 260, tempC: 5, typed: { text, unit: 'bar' as const } },
    limits: first.settings.loaded?.limits,
    coldestC: -10,
    hottestC: 15,
    from,
  });
  first.settings.loaded = {
    ...first.settings.loaded,
    seasons: { inForce: 'summer', winter: season('11-01', '2.6'), summer: season('04-15', '2.5') },
  } as never;
  for (const a of unit.axles) for (const w of a.wheels) if (w.sensor) w.sensor.cellSince = day(T0 - 400 * 86_400_000);
  const { id, version, ...doc } = unit;
  await s.http
    .put(`/api/units/${id}`)
    .send({ ...doc, version })
    .expect(200);
  await s.http
    .put(`/api/rigs/${rig.id}`)
    .send({ ...rig, id: undefined, name: 'Grün; Fahrt, schön', papers: { warrantyUntil: '2030-02-28' } })
    .expect(200);
  const due = (await s.http.get(`/api/rigs/${rig.id}/due`).expect(200)).body;
  expect(due.map((d: { kind: string; overdue: boolean }) => `${d.kind} ${d.overdue}`)).toEqual(
    expect.arrayContaining(['cells true', 'winter false', 'summer false', 'warranty false']),
  );
  const res = await s.http.get(`/api/rigs/${rig.id}/calendar.ics`).expect(200);
  expect(res.headers['content-type']).toBe('text/calendar; charset=utf-8');
  // RFC 5545: lines end in CRLF and have at most 75 octets.
  const text = res.text;
  expect(text.replaceAll('\r\n', '')).not.toMatch(/[\r\n]/);
  expect(Math.max(...text.split('\r\n').map((l) => Buffer.byteLength(l)))).toBeLessThanOrEqual(75);
  const calendar = new ICAL.Component(ICAL.parse(text));
  expect(calendar.getFirstPropertyValue('version')).toBe('2.0');
  expect(calendar.getFirstPropertyValue('x-wr-calname')).toBe('Druckwerk: Grün; Fahrt, schön');
  const events = calendar.getAllSubcomponents('vevent').map((e) => new ICAL.Event(e));
  expect(events).toHaveLength(due.length);
  const warranty = events.find((e) => e.summary === 'The kit’s warranty ends');
  expect(warranty?.startDate.toString()).toBe('2030-02-28');
  expect(warranty?.startDate.isDate).toBe(true);
  expect(warranty?.endDate.toString()).toBe('2030-03-01');
  const winter = events.find((e) => e.summary === 'Reset the cold pressures for winter');
  expect(winter?.description).toContain('A1 2.6 bar at 5 °C');
  expect(winter?.isRecurring()).toBe(true);
  const starts = winter?.iterator();
  const years = [starts?.next()?.toString(), starts?.next()?.toString()];
  expect(years[0]?.slice(4)).toBe('-11-01');
  expect(Number(years[1]?.slice(0, 4)) - Number(years[0]?.slice(0, 4))).toBe(1);
  const alarm = winter?.component.getFirstSubcomponent('valarm');
  expect(alarm?.getFirstPropertyValue('trigger')?.toString()).toBe('-PT15H');
  // Asked again, each event is the same one.
  const again = new ICAL.Component(ICAL.parse((await s.http.get(`/api/rigs/${rig.id}/calendar.ics`)).text));
  expect(again.getAllSubcomponents('vevent').map((e) => new ICAL.Event(e).uid)).toEqual(events.map((e) => e.uid));
  expect(new Set(events.map((e) => e.uid)).size).toBe(events.length);
  await s.http.get('/api/rigs/5eed1090-0000-4000-8000-00000000ffff/calendar.ics').expect(404);
});

it('a low-battery sign and a sensor that drops out again and again are due today; the bench and old ones count for nothing', async () => {
  const { rig } = await makeCar(s);
  const alarm = (kind: string, position: string, daysAgo: number, more: object = {}) => ({
    id: crypto.randomUUID(),
    rig_id: rig.id,
    position,
    sensor_id: 'A00001',
    kind,
    severity: 'look',
    from_ms: T0 - daysAgo * 86_400_000,
    to_ms: T0 - daysAgo * 86_400_000 + 60_000,
    limit_value: 1,
    value: 1,
    worst: 1,
    practice: 0,
    ...more,
  });
  await s
    .db('alarms')
    .insert([
      ...[3, 9, 20].map((d) => alarm('silent', 'A1L', d)),
      ...[3, 9, 40].map((d) => alarm('silent', 'A1R', d)),
      ...[3, 9, 20].map((d) => alarm('silent', 'A2L', d, { practice: 1 })),
      ...[3, 9, 20].map((d) => alarm('silent', 'A', d)),
      alarm('battery', 'A2R', 2, { to_ms: null }),
      alarm('battery', 'A2L', 2),
    ]);
  const due = (await s.http.get(`/api/rigs/${rig.id}/due`).expect(200)).body as {
    kind: string;
    positions: string[];
    date: string;
  }[];
  expect(due.map((d) => [d.kind, d.positions, d.date])).toEqual([
    ['cellMissed', ['A1L'], day(T0)],
    ['cellSign', ['A2R'], day(T0)],
  ]);
});

it('what is due today is overdue when the owner’s day is over, not when Greenwich’s is', async () => {
  const { rig } = await makeCar(s);
  await s.http
    .put(`/api/rigs/${rig.id}`)
    .send({ ...rig, id: undefined, papers: { warrantyUntil: '2026-05-01' } })
    .expect(200);
  const overdue = async (zone: string, time: string) => {
    vi.stubEnv('TZ', zone);
    s.clock.ms = Date.parse(time);
    const due = (await s.http.get(`/api/rigs/${rig.id}/due`).expect(200)).body as { kind: string; overdue: boolean }[];
    return due.find((d) => d.kind === 'warranty')?.overdue;
  };
  // IANA time zone database: Auckland UTC+12 in May, Los Angeles UTC-7.
  expect(await overdue('Pacific/Auckland', '2026-05-01T11:59:00Z')).toBe(false);
  expect(await overdue('Pacific/Auckland', '2026-05-01T12:01:00Z')).toBe(true);
  expect(await overdue('America/Los_Angeles', '2026-05-02T06:59:00Z')).toBe(false);
  expect(await overdue('America/Los_Angeles', '2026-05-02T07:01:00Z')).toBe(true);
});
