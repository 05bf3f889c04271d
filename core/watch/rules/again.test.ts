import { describe, expect, it } from 'vitest';
import { Watch, type WatchEvent, type WheelLimits } from '../watch.ts';

const T0 = Date.UTC(2026, 4, 1, 6);
const MIN = 60_000;
const DAY = 86_400_000;
/** A limit 8 % under cold: 230 of 250. It carries its load down to 190. */
const limits: WheelLimits = {
  lowKpa: 230,
  highKpa: 320,
  hotC: 75,
  coldKpa: 250,
  coldTempC: 20,
  loadMinimumKpa: 190,
  sensorKind: 'internal',
};
const FOUR = ['A1L', 'A1R', 'A2L', 'A2R'];

/** Mornings at 20 °C on which A1L reads what is given, warm and over its limit by noon; how each morning's low alarm sounds. */
function mornings(kpaOf: (day: number) => number, days: number, change: Partial<WheelLimits> = {}): (string | null)[] {
  const watch = new Watch(Object.fromEntries(FOUR.map((p) => [p, { ...limits, ...change }])), { sleepAware: true });
  const out: WatchEvent[] = [];
  const sounds: (string | null)[] = [];
  for (let d = 0; d < days; d += 1) {
    const from = out.length;
    for (let m = 0; m < 90; m += 1) {
      const ms = T0 + d * DAY + m * MIN;
      // Two degrees of warmth a quarter of an hour: 0.68 % of the absolute pressure.
      const tempC = 20 + Math.floor(m / 15) * 2;
      const factor = (tempC + 273.15) / 293.15;
      for (const p of FOUR) {
        const kpa = (p === 'A1L' ? kpaOf(d) : 250) + 101.325;
        watch.read(p, ms, kpa * factor - 101.325, tempC, out);
      }
      watch.tick(ms + 1000, out);
    }
    const own = out
      .slice(from)
      .filter((e) => e.position === 'A1L' && e.kind === 'low' && (e.type === 'raised' || e.type === 'worse'));
    sounds.push(own.some((e) => e.priority === 'stop') ? 'stop' : own.length > 0 ? 'note' : null);
  }
  return sounds;
}

describe('a tire that is a little low, morning after morning', () => {
  it('sounds once and is a note then, for a fortnight', () => {
    const all = mornings(() => 226, 17);
    expect(all.slice(0, 3)).toEqual(['stop', 'note', 'note']);
    expect(all.slice(1, 14).every((s) => s === 'note')).toBe(true);
    expect(all.slice(14)).toContain('stop');
  });

  it('sounds again when it has lost more than 1 psi and a step since', () => {
    expect(mornings((d) => (d < 3 ? 226 : 214), 5)).toEqual([
      'stop',
      'note',
      'note',
      'stop',
      // It never came back over its limit: the same alarm still.
      null,
    ]);
  });

  it('sounds every morning when it is near its load minimum, or its load isn’t known', () => {
    expect(mornings(() => 226, 3, { loadMinimumKpa: 221 })).toEqual(['stop', 'stop', 'stop']);
    expect(mornings(() => 226, 3, { loadMinimumKpa: undefined })).toEqual(['stop', 'stop', 'stop']);
  });

  it('filled and low once more it sounds', () => {
    const all = mornings((d) => (d === 2 ? 252 : 226), 4);
    expect(all[0]).toBe('stop');
    expect(all[2]).toBeNull();
    expect(all[3]).toBe('stop');
  });
});
