import { describe, expect, it } from 'vitest';
import { openAlarm, watchView } from '../testing/mount.tsx';
import { steadyView } from '../testing/rigs.ts';
import {
  isKnownAlarm,
  newestAlarm,
  newestAlarms,
  newestDocuments,
  newestWatch,
  noteAlarm,
  noteKnownAlarms,
  noteStored,
  noteWheel,
} from './newer.ts';

const figure = (view: Awaited<ReturnType<typeof newestWatch>>) => view.wheels.find((w) => w.position === 'A1L')?.pressureKpa;

it('what the stream says while an answer is on its way is not lost under it', async () => {
  noteWheel('r1', steadyView({ pressureKpa: 480 }));
  const before = await newestWatch('r1', async () => watchView());
  expect(figure(before)).toBe(500);
  const crossed = await newestWatch('r1', async () => {
    const view = watchView();
    noteWheel('r1', steadyView({ pressureKpa: 100 }));
    return view;
  });
  expect(figure(crossed)).toBe(100);
  expect(crossed.wheels.find((w) => w.position === 'A1R')?.pressureKpa).toBe(500);
});

it('of another rig it is nothing', async () => {
  const view = await newestWatch('r2', async () => {
    noteWheel('r3', steadyView({ pressureKpa: 100 }));
    return watchView();
  });
  expect(figure(view)).toBe(500);
});

it('an alarm that was told, ended or withdrawn meanwhile stands so in the list', async () => {
  const [low, ended, none] = [openAlarm(), openAlarm({ position: 'A1R' }), openAlarm({ position: 'B1L' })];
  const list = await newestAlarms('r1', async () => {
    noteAlarm('r1', low);
    noteAlarm('r1', { ...ended, toTime: '2026-05-01T08:01:00.000Z' });
    noteAlarm('r1', { ...none, withdrawn: true });
    return [ended, none];
  });
  expect(list.map((a) => [a.id, a.toTime])).toEqual([
    [low.id, null],
    [ended.id, '2026-05-01T08:01:00.000Z'],
  ]);
});

it('an alarm that rang again after it was acknowledged is not taken for one that was seen', async () => {
  const low = openAlarm({ worst: 430 });
  const alarm = await newestAlarm('r1', async () => {
    noteAlarm('r1', { ...low, worst: 410 });
    return { ...low, acknowledgedAt: '2026-05-01T08:01:00.000Z' };
  });
  expect(alarm).toMatchObject({ worst: 410, acknowledgedAt: null });
});

describe('alarms that were there before', () => {
  it('are those of the first answer; what came while the page was loading is new until it is told of', async () => {
    expect(isKnownAlarm('early', 'a')).toBe(true);
    await newestAlarms('early', async () => [openAlarm({ id: 'a' })]);
    await newestAlarms('early', async () => [openAlarm({ id: 'a' }), openAlarm({ id: 'b' })]);
    expect(isKnownAlarm('early', 'a')).toBe(true);
    expect(isKnownAlarm('early', 'b')).toBe(false);
    noteKnownAlarms('early', ['b']);
    expect(isKnownAlarm('early', 'b')).toBe(true);
  });
});

it('a document that was stored while an older list was on its way is the newer one; a list asked for later is as it is', async () => {
  const list = () => [
    { id: 'a', version: 3 },
    { id: 'b', version: 7 },
  ];
  const crossed = await newestDocuments(async () => {
    noteStored({ id: 'a', version: 4 });
    noteStored({ id: 'b', version: 6 });
    noteStored({ id: 'gone', version: 2 });
    return list();
  });
  expect(crossed).toEqual([
    { id: 'a', version: 4 },
    { id: 'b', version: 7 },
  ]);
  // As after a restore, which may bring an older one back.
  await new Promise((r) => setTimeout(r, 5));
  expect(await newestDocuments(async () => list())).toEqual(list());
});
