import { describe, expect, it } from 'vitest';
import { replay } from './replay.ts';

const wheel = { coldKpa: 551.6, coldTempC: 20, lowKpa: 496.4, highKpa: 689.5, hotC: 70 };
const at = (min: number) => new Date(Date.UTC(2026, 4, 1, 8, min)).toISOString().replace('.000Z', 'Z');
const r = (min: number, pressureKpa: number, tempC = 20, position = 'B1L') => ({ position, time: at(min), pressureKpa, tempC });

describe('watch.replay', () => {
  it('lists alarms with the times as the readings wrote them, whatever their order', () => {
    const readings = [r(0, 502), r(1, 495), r(2, 494), r(3, 506)];
    const expected = {
      alarms: [
        {
          position: 'B1L',
          kind: 'low',
          fromTime: '2026-05-01T08:01:00Z',
          toTime: '2026-05-01T08:03:00Z',
          priority: 'stop',
          cause: 'air',
        },
      ],
    };
    expect(replay({ wheels: { B1L: wheel }, readings })).toEqual(expected);
    expect(replay({ wheels: { B1L: wheel }, readings: [...readings].reverse() })).toEqual(expected);
    expect(replay({ wheels: { B1L: wheel }, readings: [...readings, ...readings] })).toEqual(expected);
  });

  it('keeps an alarm open at the end', () => {
    expect(replay({ wheels: { B1L: wheel }, readings: [r(0, 480)] }).alarms).toEqual([
      { position: 'B1L', kind: 'low', fromTime: at(0), toTime: null, priority: 'stop', cause: 'air' },
    ]);
  });

  it('tells silence up to untilTime', () => {
    const readings = [r(0, 551), r(1, 551), r(2, 551)];
    expect(replay({ wheels: { B1L: wheel }, readings, untilTime: at(17) }).alarms).toEqual([]);
    expect(replay({ wheels: { B1L: wheel }, readings, untilTime: at(18) }).alarms).toEqual([
      { position: 'B1L', kind: 'silent', fromTime: at(17), toTime: null, priority: 'look' },
    ]);
    expect(replay({ wheels: { B1L: wheel }, readings: [...readings, r(40, 551)] }).alarms).toEqual([
      { position: 'B1L', kind: 'silent', fromTime: at(17), toTime: at(40), priority: 'look' },
    ]);
  });

  it('each position and kind stands on its own', () => {
    const wheels = { B1L: wheel, B1R: { ...wheel, highKpa: null } };
    const readings = [r(0, 480, 80), r(0, 900, 20, 'B1R'), r(1, 700, 80)];
    expect(replay({ wheels, readings }).alarms.map((a) => `${a.position} ${a.kind}`)).toEqual(['B1L hot', 'B1L low', 'B1L high']);
  });

  it('refuses a reading of no wheel, limits that cross, an end before the end', () => {
    expect(() => replay({ wheels: { B1L: wheel }, readings: [r(0, 1, 1, 'B9L')] })).toThrow(
      expect.objectContaining({ pointer: '/readings/0/position' }),
    );
    expect(() => replay({ wheels: { B1L: { ...wheel, lowKpa: 700 } }, readings: [] })).toThrow(
      expect.objectContaining({ pointer: '/wheels/B1L/lowKpa' }),
    );
    expect(() => replay({ wheels: { B1L: wheel }, readings: [r(5, 551)], untilTime: at(1) })).toThrow(
      expect.objectContaining({ pointer: '/untilTime' }),
    );
  });

  it('answers nothing for nothing', () => {
    expect(replay({ wheels: {}, readings: [] })).toEqual({ alarms: [] });
  });
});
