import { describe, expect, it } from 'vitest';
import { addSensor, advance, benchMs, createBench, gasC, inflate } from '#core/bench/bench.ts';
import type { BenchState } from '#core/bench/state.ts';
import { pressureAt } from '../gas/gas.ts';
import { KPA_PER_PSI } from '../units/units.ts';
import { Watch, type WatchEvent } from './watch.ts';

const FOUR = ['A1L', 'A1R', 'A2L', 'A2R'];
const HOUR = 3_600_000;

/** A car with caps on the bench at 15 °C, set to 24 psi cold (common practice, no source), low at 19 and high at 45 psi. */
function car(seed: number) {
  const bench = createBench({
    seed,
    startMs: Date.UTC(2026, 4, 3, 8),
    airC: 15,
    altitudeM: 400,
    wheels: FOUR.map((position, i) => ({
      position,
      coldKpa: 24 * KPA_PER_PSI,
      coldTempC: 15,
      airLitres: 24,
      // The circuit loads the left front most.
      loadShare: i === 0 ? 1 : 0.8,
      twin: null,
      spare: false,
    })),
  });
  bench.track = true;
  FOUR.forEach((p, i) => {
    addSensor(bench, `2B77E${i}`, 'cap', p);
  });
  const watch = new Watch(
    Object.fromEntries(
      FOUR.map((p) => [
        p,
        {
          coldKpa: 24 * KPA_PER_PSI,
          coldTempC: 15,
          lowKpa: 19 * KPA_PER_PSI,
          highKpa: 45 * KPA_PER_PSI,
          hotC: 90,
          sensorKind: 'cap' as const,
        },
      ]),
    ),
    { sleepAware: true },
  );
  const out: WatchEvent[] = [];
  const places = new Map(bench.sensors.map((s) => [s.id, s.at as string]));
  const pass = (state: BenchState, seconds: number) => {
    for (let s = 0; s < seconds; s += 5) {
      for (const f of advance(state, 5))
        watch.read(places.get(f.sensorId) as string, f.ms, f.pressureKpa, f.tempC, out, f.batteryV);
      watch.tick(benchMs(state), out);
    }
  };
  return { bench, watch, out, pass };
}

/** Twenty minutes on the track. */
function session({ bench, pass }: ReturnType<typeof car>): void {
  bench.kmh = 150;
  pass(bench, 20 * 60);
  bench.kmh = 0;
}

const raised = (out: readonly WatchEvent[]) => out.filter((e) => e.type === 'raised').map((e) => `${e.position} ${e.kind}`);
const gauge = ({ bench }: ReturnType<typeof car>, position: string) => {
  const w = bench.wheels.find((x) => x.position === position) as (typeof bench.wheels)[number];
  return { w, kpa: pressureAt(24 * KPA_PER_PSI, 15, gasC(w)) };
};

/** 3 psi out of a front tire in 30 s, through the valve. */
function bleed(play: ReturnType<typeof car>): void {
  const { kpa } = gauge(play, 'A1L');
  for (let step = 1; step <= 6; step += 1) {
    inflate(play.bench, 'A1L', kpa - step * 0.5 * KPA_PER_PSI);
    play.pass(play.bench, 5);
  }
  play.pass(play.bench, 10 * 60);
}

describe('a track day', () => {
  it('is quiet through two sessions and a bleed of 3 psi in 30 s, whatever the sensors', () => {
    for (let seed = 1; seed <= 20; seed += 1) {
      const play = car(seed);
      play.pass(play.bench, 60);
      play.watch.startTrack(benchMs(play.bench) + 8 * HOUR, benchMs(play.bench), play.out);
      session(play);
      play.pass(play.bench, 60);
      bleed(play);
      session(play);
      play.pass(play.bench, 30 * 60);
      expect(raised(play.out), `seed ${seed}`).toEqual([]);
    }
  });
  it('without its mode such a bleed is a rapid loss', () => {
    const play = car(3);
    play.pass(play.bench, 60);
    session(play);
    play.pass(play.bench, 60);
    bleed(play);
    expect(raised(play.out)).toContain('A1L rapid');
  });
  it('a burst rings, on the lap, within half a minute', () => {
    for (let seed = 1; seed <= 20; seed += 1) {
      const play = car(seed);
      play.pass(play.bench, 60);
      play.watch.startTrack(benchMs(play.bench) + 8 * HOUR, benchMs(play.bench), play.out);
      session(play);
      play.bench.kmh = 150;
      (play.bench.wheels[0] as (typeof play.bench.wheels)[number]).holeMm = 40;
      play.pass(play.bench, 30);
      expect(raised(play.out), `seed ${seed}`).toEqual(expect.arrayContaining(['A1L rapid', 'A1L low']));
    }
  });
  it('low still rings', () => {
    const play = car(5);
    play.watch.startTrack(benchMs(play.bench) + 8 * HOUR, benchMs(play.bench), play.out);
    play.pass(play.bench, 60);
    inflate(play.bench, 'A2R', 18 * KPA_PER_PSI);
    play.pass(play.bench, 60);
    expect(raised(play.out)).toEqual(['A2R low']);
  });
  it('ends by itself, or by its owner, and is remembered until the road pressures are set', () => {
    const play = car(7);
    const { bench, watch, out, pass } = play;
    pass(bench, 60);
    const began = benchMs(bench);
    watch.startTrack(began + HOUR, began, out);
    // Nothing is heard for hours: the clock alone ends it.
    watch.tick(began + 5 * HOUR, out);
    expect(watch.track).toEqual({ sinceMs: began, untilMs: began + HOUR, endedMs: began + HOUR });
    const kept = new Watch({}, { sleepAware: true }, watch.snapshot());
    expect(kept.track?.endedMs).toBe(began + HOUR);
    watch.forgetTrack(began + 5 * HOUR, out);
    expect(watch.track).toBeNull();
    watch.startTrack(began + 9 * HOUR, began + 6 * HOUR, out);
    watch.endTrack(began + 7 * HOUR, out);
    expect(watch.track?.endedMs).toBe(began + 7 * HOUR);
    expect(raised(out)).toEqual([]);
  });
  it('over, a slow loss is measured from there and heard again', () => {
    const out: WatchEvent[] = [];
    const watch = new Watch(
      Object.fromEntries(FOUR.map((p) => [p, { coldKpa: 170, coldTempC: 20, lowKpa: 130, highKpa: 300, hotC: 90 }])),
      { sleepAware: true },
    );
    const read = (minute: number, a1l: number) => {
      for (const p of FOUR) watch.read(p, minute * 60_000, p === 'A1L' ? a1l : 200, 20, out);
    };
    watch.startTrack(9 * HOUR, 0, out);
    for (let m = 1; m < 60; m += 1) read(m, 230 - m);
    expect(raised(out)).toEqual([]);
    watch.endTrack(HOUR, out);
    for (let m = 60; m < 120; m += 1) read(m, 200);
    expect(raised(out)).toEqual([]);
    for (let m = 120; m < 180; m += 1) read(m, 200 - (m - 120));
    expect(raised(out)).toContain('A1L slow');
  });
});
