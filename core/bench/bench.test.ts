import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  addSensor,
  advance,
  type BenchSetup,
  benchMs,
  changeWheels,
  createBench,
  endTempC,
  fitSensor,
  freshId,
  gasC,
  gaugeKpa,
  inflate,
  lifeSignS,
  sensorById,
  wakeSensor,
  wheelAt,
} from './bench.ts';
import { BENCH, cellVoltage } from './parameters.ts';

const wheel = (position: string, twin: string | null = null) => ({
  position,
  coldKpa: 550,
  coldTempC: 15,
  airLitres: 60,
  loadShare: 1,
  twin,
  spare: false,
});
const setup = (seed = 7): BenchSetup => ({
  seed,
  startMs: Date.UTC(2026, 4, 1),
  airC: 15,
  altitudeM: 0,
  wheels: [wheel('A1L'), wheel('A1R')],
});

describe('the bench', () => {
  it('gives the same frames for the same seed and others for another', () => {
    const run = (seed: number) => {
      const bench = createBench(setup(seed));
      addSensor(bench, freshId(bench), 'cap', 'A1L');
      bench.kmh = 80;
      return advance(bench, 1800);
    };
    expect(run(3)).toEqual(run(3));
    expect(run(3)).not.toEqual(run(4));
  });

  it('gives each of several benches what it gives that one alone, in steps of different lengths', () => {
    const begin = (n: number) => {
      const duals = n === 1;
      const bench = createBench({
        ...setup(n),
        altitudeM: 700 * n,
        wheels: [
          { ...wheel('A1L', duals ? 'A1R' : null), loadShare: 0.6 + 0.1 * n },
          { ...wheel('A1R', duals ? 'A1L' : null), loadShare: 0.9, coldKpa: 500 - 40 * n },
        ],
      });
      bench.lifeSigns = true;
      addSensor(bench, `A0000${n}`, 'cap', 'A1L');
      addSensor(bench, `B0000${n}`, 'flowThrough', 'A1R');
      bench.kmh = 60 + 20 * n;
      inflate(bench, 'A1L', 400 + 30 * n);
      return bench;
    };
    const parts = [
      [1200, 2],
      [900, 1],
      [4000, 30],
    ] as const;
    const go = (bench: ReturnType<typeof begin>, [seconds, dtS]: (typeof parts)[number]) => {
      if (dtS === 30) bench.kmh = 0;
      return advance(bench, seconds, dtS);
    };
    const alone = [1, 2, 3].map((n) => {
      const bench = begin(n);
      return { frames: parts.map((part) => go(bench, part)), bench };
    });
    const together = [1, 2, 3].map(begin);
    const frames = parts.map((part) => together.map((bench) => go(bench, part)));
    expect(together.map((bench, i) => ({ frames: frames.map((f) => f[i]), bench }))).toEqual(alone);
    expect(alone.map((a) => a.frames.map((f) => f.length > 3))).toEqual([
      [true, true, true],
      [true, true, true],
      [true, true, true],
    ]);
  });

  it('reads more on the pass: at 2,000 m the air outside presses 21.83 kPa less', () => {
    const bench = createBench(setup());
    addSensor(bench, '4CA1E0', 'internal', 'A1L');
    const shown = () => (advance(bench, 120).at(-1) as { pressureKpa: number }).pressureKpa;
    const atHome = shown();
    bench.altitudeM = 2000;
    // 101.325 and 79.495 kPa: U.S. Standard Atmosphere 1976.
    expect(Math.abs(shown() - atHome - 21.83)).toBeLessThanOrEqual(BENCH.stepKpa);
    bench.altitudeM = 0;
    expect(Math.abs(shown() - atHome)).toBeLessThanOrEqual(BENCH.stepKpa);
  });

  it('asleep each sensor has its own habit of life signs, and one in three none', () => {
    const positions = ['A1L', 'A1R', 'A2L', 'A2R', 'B1L', 'B1R'];
    const bench = createBench({ ...setup(), wheels: positions.map((p) => wheel(p)) });
    bench.lifeSigns = true;
    const sensors = positions.map((p, i) => addSensor(bench, `A0000${i}`, 'cap', p));
    advance(bench, 3600);
    const frames = advance(bench, 24 * 3600, 30);
    const gaps = sensors.map(({ id }) => {
      const at = frames.filter((f) => f.sensorId === id).map((f) => f.ms / 1000);
      return at.slice(1).map((t, i) => t - (at[i] as number));
    });
    gaps.forEach((list, i) => {
      const habit = lifeSignS((sensors[i] as { id: string }).id);
      if (habit === null) expect(list).toEqual([]);
      else {
        expect(list.length).toBeGreaterThan(20);
        // The next sample after the habit and the pause after a frame.
        for (const gap of list) expect(gap - habit).toSatisfy((late: number) => late >= 0 && late <= BENCH.sendS[1] + 60);
      }
    });
    expect(new Set(gaps.map((list) => Math.round(Math.min(...list, 1e6) / 60))).size).toBeGreaterThan(3);
  });

  it('goes on from stored state as if it had never stopped', () => {
    const bench = createBench(setup());
    addSensor(bench, '4CA1E0', 'cap', 'A1L');
    bench.kmh = 80;
    const first = advance(bench, 600);
    const copy = JSON.parse(JSON.stringify(bench));
    expect(advance(copy, 600)).toEqual(advance(bench, 600));
    expect(first.length).toBeGreaterThan(5);
  });

  it('rolling sensors send about once a minute, quantised, and fall asleep after the stop', () => {
    const bench = createBench(setup());
    addSensor(bench, '4CA1E0', 'cap', 'A1L');
    bench.kmh = 80;
    const frames = advance(bench, 3600);
    expect(frames.length).toBeGreaterThan(50);
    expect(frames.length).toBeLessThan(66);
    for (const f of frames) {
      expect(Number.isInteger(f.pressureKpa)).toBe(true);
      expect(Number.isInteger(f.tempC)).toBe(true);
    }
    bench.kmh = 0;
    advance(bench, BENCH.sleepAfterS[1]);
    // Cooling from the run takes at most 55 kPa: four whole steps of 2 psi, each followed by at most one more frame.
    expect(advance(bench, 4 * 3600).length).toBeLessThanOrEqual(8);
  });

  it('an internal sensor says nothing before it has rolled 30 m', () => {
    const bench = createBench(setup());
    const s = addSensor(bench, '4CA1E0', 'internal', 'A1L');
    s.awakeUntilS = 0;
    advance(bench, 120);
    bench.kmh = 3.6;
    expect(advance(bench, 28)).toEqual([]);
    expect(advance(bench, 60).length).toBeGreaterThan(0);
  });

  it('a step of 2 psi is sent at once, even asleep', () => {
    const bench = createBench(setup());
    addSensor(bench, '4CA1E0', 'cap', 'A1L');
    advance(bench, 2 * 3600);
    wheelAt(bench, 'A1L').holeMm = 2;
    const frames = advance(bench, 60);
    expect(frames.length).toBeGreaterThan(0);
    expect(frames[0]?.ms).toBeLessThanOrEqual(benchMs(bench));
  });

  it('a quiet sensor and one in the tray are not heard', () => {
    const bench = createBench(setup());
    const s = addSensor(bench, '4CA1E0', 'cap', 'A1L');
    addSensor(bench, '4CA1E1', 'cap', null);
    s.quiet = true;
    bench.kmh = 80;
    expect(advance(bench, 600)).toEqual([]);
    s.quiet = false;
    expect(new Set(advance(bench, 600).map((f) => f.sensorId))).toEqual(new Set(['4CA1E0']));
  });

  it('the softer twin of a dual carries less and stays cooler than the harder one', () => {
    const bench = createBench({ ...setup(), wheels: [wheel('A2LO', 'A2LI'), wheel('A2LI', 'A2LO')] });
    inflate(bench, 'A2LO', 500);
    bench.kmh = 90;
    advance(bench, 3 * 3600, 5);
    const soft = gasC(wheelAt(bench, 'A2LO'));
    const hard = gasC(wheelAt(bench, 'A2LI'));
    expect(hard).toBeGreaterThan(soft);
  });

  it('a hot hub warms its own gas by a third of its heat', () => {
    const bench = createBench(setup());
    wheelAt(bench, 'A1R').hubRiseK = 60;
    bench.kmh = 90;
    advance(bench, 3 * 3600, 5);
    expect(gasC(wheelAt(bench, 'A1R')) - gasC(wheelAt(bench, 'A1L'))).toBeCloseTo(20, 1);
  });

  it('a spare is heard now and then on the road', () => {
    const bench = createBench({ ...setup(), wheels: [{ ...wheel('AS1'), spare: true }] });
    addSensor(bench, '4CA1E0', 'cap', 'AS1');
    advance(bench, 3600);
    bench.kmh = 80;
    const frames = advance(bench, 4 * 3600);
    expect(frames.length).toBeGreaterThan(3);
    expect(frames.length).toBeLessThan(60);
  });

  it('a spare does not warm with speed', () => {
    const bench = createBench({ ...setup(), wheels: [{ ...wheel('AS1'), spare: true }] });
    bench.kmh = 100;
    advance(bench, 3600);
    expect(gasC(wheelAt(bench, 'AS1'))).toBe(15);
  });

  it('a burst ends at the air around it, never under', () => {
    const bench = createBench(setup());
    wheelAt(bench, 'A1L').holeMm = 40;
    advance(bench, 30);
    expect(gaugeKpa(bench, wheelAt(bench, 'A1L'))).toBeCloseTo(0, 6);
  });

  it('loses the share through the rubber that was asked for', () => {
    const bench = createBench(setup());
    wheelAt(bench, 'A1L').permeation = 0.02;
    advance(bench, 30 * 86400, 600);
    expect(gaugeKpa(bench, wheelAt(bench, 'A1L')) / 550).toBeCloseTo(Math.exp(-0.02), 3);
  });

  it('inflate puts a warm tire to what its cold target reads at that temperature', () => {
    const bench = createBench(setup());
    bench.kmh = 90;
    advance(bench, 5400);
    const w = wheelAt(bench, 'A1L');
    const running = gaugeKpa(bench, w);
    w.massKg *= 0.8;
    inflate(bench, 'A1L');
    expect(gaugeKpa(bench, w)).toBeCloseTo(running, 6);
  });

  it('a changed rig keeps the air of the tires that stay', () => {
    const bench = createBench(setup());
    inflate(bench, 'A1L', 400);
    addSensor(bench, '4CA1E0', 'cap', 'A1R');
    changeWheels(bench, [{ ...wheel('A1L'), airLitres: 30 }, wheel('A2L')]);
    expect(gaugeKpa(bench, wheelAt(bench, 'A1L'))).toBeCloseTo(400, 6);
    expect(gaugeKpa(bench, wheelAt(bench, 'A2L'))).toBeCloseTo(550, 6);
    expect(bench.sensors[0]?.at).toBeNull();
  });

  it('a sensor in the tray that was handled reads zero, and is heard until it sleeps', () => {
    const bench = createBench(setup());
    addSensor(bench, '4CA1E0', 'cap', null);
    expect(advance(bench, 300)).toEqual([]);
    wakeSensor(bench, sensorById(bench, '4ca1e0'));
    const frames = advance(bench, 300);
    expect(frames.length).toBeGreaterThan(1);
    expect(frames.every((f) => f.pressureKpa === 0)).toBe(true);
    advance(bench, 1200);
    expect(advance(bench, 300)).toEqual([]);
    expect(() => sensorById(bench, '000000')).toThrow(expect.objectContaining({ pointer: '/sensorId' }));
    expect(() => fitSensor(bench, '4CA1E0', 'C1L')).toThrow(expect.objectContaining({ pointer: '/position' }));
  });

  it('warms more the faster, the heavier and the softer', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 10, max: 120, noNaN: true }),
        fc.double({ min: 0.3, max: 1.2, noNaN: true }),
        fc.double({ min: 0.2, max: 1.2, noNaN: true }),
        (kmh, load, pressure) => {
          const base = endTempC(10, kmh, load, pressure);
          expect(endTempC(10, kmh + 5, load, pressure)).toBeGreaterThan(base);
          expect(endTempC(10, kmh, load + 0.05, pressure)).toBeGreaterThan(base);
          expect(endTempC(10, kmh, load, pressure - 0.05)).toBeGreaterThan(base);
        },
      ),
    );
  });

  it('a cell starts at 3.0 V, rests near 2.8, ends at 2.0, and is lower in the cold', () => {
    expect(cellVoltage(0, 20)).toBeCloseTo(3, 9);
    expect(cellVoltage(70, 20)).toBeCloseTo(2.8, 9);
    expect(cellVoltage(140, 20)).toBeCloseTo(2, 9);
    expect(cellVoltage(70, -20)).toBeCloseTo(2.65, 9);
  });
});
