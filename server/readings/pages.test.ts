import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { makeCar, T0, type TestServer, testServer } from '../testing.ts';
import { bucketsOf, pagesOf } from './pages.ts';

let s: TestServer;
/** A reading a second, which is more than is read in two turns. */
const COUNT = 5000;

beforeAll(async () => {
  s = await testServer();
  await makeCar(s, ['D00001', 'D00002', 'D00003', 'D00004']);
  s.clock.ms = T0 + COUNT * 1000;
  const reading = (sensorId: string, ms: number, pressureKpa: number, rest: { tempC?: number; batteryV?: number } = {}) => ({
    sensorId,
    ms,
    pressureKpa,
    tempC: rest.tempC ?? null,
    batteryV: rest.batteryV ?? null,
    rssiDbm: null,
  });
  await s.app.watch.ingest(
    Array.from({ length: COUNT }, (_, i) => [
      // 200, 201, 202, 203, 200, …; a temperature of 10 and 30 °C with every fourth and the next.
      reading('D00001', T0 + i * 1000, 200 + (i % 4), i % 4 < 2 ? { tempC: i % 4 === 0 ? 10 : 30 } : {}),
      reading('D00002', T0 + i * 1000, 300),
    ]).flat(),
    'history',
  );
  await s.app.watch.ingest(
    [-5400, -3600, -1, 0, 3599].map((sec, i) => reading('D00003', sec * 1000, 100 + i, { batteryV: 3 - i / 10 })),
    'history',
  );
});
afterAll(() => s.close());

const collect = async <T>(list: AsyncIterable<T>): Promise<T[]> => {
  const out: T[] = [];
  for await (const x of list) out.push(x);
  return out;
};

describe('readings a page at a time', () => {
  it('come once each, in order, and of one sensor alone', async () => {
    const pages = await collect(pagesOf<[number]>(s.db, 'D00001', T0, T0 + COUNT * 1000, ['pressure_kpa']));
    expect(pages.length).toBeGreaterThan(2);
    expect(pages.flat().map(([ms]) => ms)).toEqual(Array.from({ length: COUNT }, (_, i) => T0 + i * 1000));
    expect(pages.flat().filter(([, kpa]) => kpa === 203)).toHaveLength(COUNT / 4);
  });

  it('both ends of the time asked for are in, and nothing beside them', async () => {
    const page = (from: number, to: number) => collect(pagesOf<[number]>(s.db, 'D00001', from, to, ['pressure_kpa']));
    expect(await page(T0 + 4000, T0 + 6000)).toEqual([
      [
        [T0 + 4000, 200],
        [T0 + 5000, 201],
        [T0 + 6000, 202],
      ],
    ]);
    expect(await page(T0 + 4001, T0 + 4999)).toEqual([]);
  });

  it('let whatever else waits have its turn, also when they are taken as fast as they come', async () => {
    const turnsIn = async (list: AsyncIterable<unknown>) => {
      let turns = 0;
      let over = false;
      const next = () => {
        turns += 1;
        if (!over) setImmediate(next);
      };
      setImmediate(next);
      await collect(list);
      over = true;
      return turns;
    };
    expect(await turnsIn(pagesOf(s.db, 'D00001', T0, T0 + COUNT * 1000, []))).toBeGreaterThanOrEqual(3);
    expect(await turnsIn(bucketsOf(s.db, 'D00001', T0, T0 + COUNT * 1000, 86_400_000))).toBeGreaterThanOrEqual(3);
  });
});

describe('readings gathered in steps', () => {
  it('longer than what one turn reads, and with the last one cut short', async () => {
    // Worked by hand: 3,600 readings and 1,400, a quarter of each figure in both; half of them have a temperature, 20 °C in the mean.
    const all = { meanKpa: 201.5, lowKpa: 200, highKpa: 203, tempC: 20, batteryV: null, rssiDbm: null };
    expect(await collect(bucketsOf(s.db, 'D00001', T0, T0 + COUNT * 1000, 3_600_000))).toEqual([
      { ms: T0, count: 3600, ...all },
      { ms: T0 + 3_600_000, count: 1400, ...all },
    ]);
    const second = await collect(bucketsOf(s.db, 'D00001', T0 + 1000, T0 + 2999, 1000));
    expect(second).toEqual([
      { ms: T0 + 1000, count: 1, ...all, meanKpa: 201, lowKpa: 201, highKpa: 201, tempC: 30 },
      { ms: T0 + 2000, count: 1, ...all, meanKpa: 202, lowKpa: 202, highKpa: 202, tempC: null },
    ]);
  });

  it('that begin where a step begins, before 1970 as after', async () => {
    const got = await collect(bucketsOf(s.db, 'D00003', -7_200_000, 7_200_000, 3_600_000));
    // Hours from 22:00, 23:00 and midnight: of 22:30; 23:00 and 23:59:59; 00:00 and 00:59:59.
    expect(got.map((b) => [b.ms / 3_600_000, b.count, b.meanKpa, b.lowKpa, b.highKpa])).toEqual([
      [-2, 1, 100, 100, 100],
      [-1, 2, 101.5, 101, 102],
      [0, 2, 103.5, 103, 104],
    ]);
    expect(got.map((b) => b.batteryV)).toEqual([3, expect.closeTo(2.85, 12), expect.closeTo(2.65, 12)]);
  });

  it('none where nobody was heard', async () => {
    expect(await collect(bucketsOf(s.db, 'D00004', 0, T0 * 2, 3_600_000))).toEqual([]);
  });
});
