import { describe, expect, it } from 'vitest';
import { finalCheck } from '../pairing/check.ts';
import { detect, planDetective, type SeenRound, type Suspect } from '../pairing/detective.ts';
import { rotationOf, rotationWork } from '../pairing/rotation.ts';
import { makeAxle } from '../rig/positions.ts';
import { addSensor, advance, createBench, gaugeKpa, inflate, sensorById, wakeSensor, wheelAt } from './bench.ts';
import {
  captureView,
  exchangeSaved,
  fitLabelled,
  freshMonitor,
  leaveMenu,
  nextPosition,
  openAt,
  rotateWheels,
  saveShown,
  startCapture,
} from './monitor.ts';
import type { BenchMonitor, BenchState } from './state.ts';

const PSI = 6.894757293168;
const POSITIONS = ['A1L', 'A1R', 'A2L', 'A2R', 'B1L', 'B1R'];

function table(seed: number, positions = POSITIONS): { bench: BenchState; monitor: BenchMonitor } {
  const bench = createBench({
    seed,
    startMs: Date.UTC(2026, 4, 1, 8),
    airC: 15,
    altitudeM: 300,
    wheels: positions.map((position) => ({
      position,
      coldKpa: 80 * PSI,
      coldTempC: 20,
      airLitres: 50,
      loadShare: 1,
      twin: null,
      spare: false,
    })),
  });
  positions.forEach((_, i) => {
    addSensor(bench, `A0000${i + 1}`, 'cap', null);
  });
  return { bench, monitor: freshMonitor(positions) };
}

/** Hold a sensor near, wait for the whole code (or the end of the wait), save, go on. */
function pair(bench: BenchState, monitor: BenchMonitor, position: string, id: string): string {
  openAt(bench, monitor, position);
  startCapture(bench, monitor, 'heldNear', id, 30);
  advance(bench, 12);
  const code = monitor.capture ? captureView(bench, monitor.capture).code : '';
  saveShown(bench, monitor, 'short', 'shortPress', position);
  return code;
}

describe('capturing', () => {
  it('with the table clear the sensor in the hand answers, at times with a short code first', () => {
    const { bench, monitor } = table(1);
    monitor.tableClear = true;
    const outcomes = new Set<string>();
    for (let i = 0; i < 40; i += 1) {
      startCapture(bench, monitor, 'heldNear', 'a00001', 30);
      for (let s = 0; s < 10; s += 1) {
        advance(bench, 1);
        if (monitor.capture) outcomes.add(captureView(bench, monitor.capture).outcome);
      }
      expect(monitor.capture && captureView(bench, monitor.capture).code).toBe('A00001');
    }
    expect(outcomes).toEqual(new Set(['waiting', 'short', 'whole']));
  });
  it('asleep neighbours keep quiet; awake ones near the monitor win now and then', () => {
    const { bench, monitor } = table(3);
    let wrong = 0;
    for (let i = 0; i < 60; i += 1) {
      startCapture(bench, monitor, 'heldNear', 'A00001', 30);
      if (monitor.capture?.answers.some((a) => a.sensorId !== 'A00001')) wrong += 1;
    }
    expect(wrong).toBe(0);
    for (let i = 0; i < 200; i += 1) {
      for (const s of bench.sensors) wakeSensor(bench, s);
      startCapture(bench, monitor, 'heldNear', 'A00001', 30);
      if (monitor.capture?.answers.some((a) => a.sensorId !== 'A00001')) wrong += 1;
    }
    expect(wrong).toBeGreaterThan(5);
    expect(wrong).toBeLessThan(120);
  });
  it('90 s without an answer is no answer, in event time', () => {
    const { bench, monitor } = table(4);
    monitor.trouble = 'noAnswer';
    startCapture(bench, monitor, 'phoneFirst', 'A00002', 90);
    advance(bench, 89);
    expect(monitor.capture && captureView(bench, monitor.capture).outcome).toBe('waiting');
    advance(bench, 1);
    expect(monitor.capture && captureView(bench, monitor.capture).outcome).toBe('timedOut');
    // It was screwed on all the same.
    expect(sensorById(bench, 'A00002').at).toBe('A1L');
  });
  it('a wheel without a sensor has none to answer', () => {
    const { bench, monitor } = table(5);
    expect(() => startCapture(bench, monitor, 'inflateBleed', undefined, 60)).toThrow(
      expect.objectContaining({ pointer: '/sensorId' }),
    );
  });
});

describe('positions are stepped through', () => {
  it('list by list, or all through one long list', () => {
    const { bench, monitor } = table(6);
    const positions = bench.wheels.map((w) => w.position);
    const last = positions.filter((p) => p.startsWith('A')).at(-1) as string;
    monitor.position = last;
    nextPosition(bench, monitor);
    expect(monitor.position).toBe('A1L');
    monitor.position = last;
    nextPosition(bench, monitor, 1, true);
    expect(monitor.position).toBe(positions[(positions.indexOf(last) + 1) % positions.length]);
    expect(monitor.position).not.toBe('A1L');
    nextPosition(bench, monitor, -1, true);
    expect(monitor.position).toBe(last);
  });
});

describe('mistakes are counted', () => {
  it('short code, wrong position, wrong list, twice, left unsaved, too short a press', () => {
    const { bench, monitor } = table(6);
    monitor.tableClear = true;
    monitor.trouble = 'short';
    startCapture(bench, monitor, 'heldNear', 'A00001', 30);
    while (monitor.capture && captureView(bench, monitor.capture).outcome !== 'short') advance(bench, 0.5, 0.5);
    expect(saveShown(bench, monitor, 'long', 'longPress', 'A1L')).toBe('saved');
    expect(monitor.saved.A1L).toHaveLength(4);
    expect(monitor.position).toBe('A1R');
    expect(saveShown(bench, monitor, 'long', 'longPress')).toBe('nothingToSave');
    startCapture(bench, monitor, 'heldNear', 'A00002', 30);
    advance(bench, 12);
    expect(saveShown(bench, monitor, 'short', 'longPress')).toBe('needsLongPress');
    expect(saveShown(bench, monitor, 'long', 'longPress', 'A2L')).toBe('saved');
    startCapture(bench, monitor, 'heldNear', 'A00002', 30);
    advance(bench, 12);
    expect(saveShown(bench, monitor, 'long', 'longPress', 'B1L')).toBe('saved');
    startCapture(bench, monitor, 'heldNear', 'A00003', 30);
    advance(bench, 12);
    leaveMenu(bench, monitor);
    expect(monitor.mistakes.map((m) => m.code)).toEqual([
      'shortSaved',
      'pressTooShort',
      'wrongPosition',
      'savedTwice',
      'wrongList',
      'leftUnsaved',
    ]);
  });
});

describe('a neighbour answers', () => {
  it('its own turn shows the same ID twice: the final check catches it', () => {
    const { bench, monitor } = table(8);
    monitor.trouble = 'neighbour';
    const wrong = pair(bench, monitor, 'A1L', 'A00001');
    expect(wrong).not.toBe('A00001');
    monitor.tableClear = true;
    const own = `A0000${POSITIONS.indexOf('A1R') + 1}`;
    for (const [i, p] of POSITIONS.entries()) if (i > 0) pair(bench, monitor, p, `A0000${i + 1}`);
    expect(monitor.mistakes.some((m) => m.code === 'neighbourSaved' && m.position === 'A1L')).toBe(true);
    const findings = finalCheck(
      POSITIONS.map((p, i) => ({ position: p, shows: monitor.saved[p] ?? null, book: i === 0 ? wrong : `A0000${i + 1}` })),
    );
    expect(findings.map((f) => f.code)).toEqual(['twice']);
    expect(findings[0]?.other).toBe('A1L');
    expect(own).toBe('A00002');
  });
  it('two that answered for each other pass the check, and the detective names the pair', () => {
    const { bench, monitor } = table(9);
    const meant = new Map(POSITIONS.map((p, i) => [p, `A0000${i + 1}`]));
    // A1L's turn: the neighbour A00004 answers; A2R's turn: the other one does.
    monitor.tableClear = true;
    for (const [p, id] of meant) pair(bench, monitor, p, id);
    monitor.saved = { ...monitor.saved, A1L: 'A00004', A2R: 'A00001' };
    fitLabelled(bench, monitor);
    expect(sensorById(bench, 'A00001').at).toBe('A1L');
    expect(
      finalCheck(POSITIONS.map((p) => ({ position: p, shows: monitor.saved[p] ?? null, book: monitor.saved[p] ?? null }))),
    ).toEqual([]);

    const suspects: Suspect[] = POSITIONS.map((position) => ({ position, kpa: 80 * PSI - 9.5, minimumKpa: null }));
    const step = 0.5 * PSI;
    /** What the monitor shows at every position: the sensor that is saved there, wherever it sits. */
    const look = (): Record<string, number> =>
      Object.fromEntries(
        POSITIONS.map((p) => {
          const s = sensorById(bench, monitor.saved[p] as string);
          const kpa = gaugeKpa(bench, wheelAt(bench, s.at as string)) + s.errorKpa;
          return [p, Math.round(kpa / step) * step];
        }),
      );
    const rounds = planDetective(suspects, step).rounds.map((bleeds): SeenRound => {
      const before = look();
      for (const b of bleeds) inflate(bench, b.position, gaugeKpa(bench, wheelAt(bench, b.position)) - b.kpa);
      advance(bench, 60);
      return { bleeds, before, after: look() };
    });
    expect(detect(suspects, rounds, step)).toMatchObject({ verdict: 'swapped', pairs: [['A1L', 'A2R']], open: [] });
  });
});

it('a five-wheel rotation: the exchanges bring the monitor to what the wheels really are', () => {
  const positions = ['A1L', 'A1R', 'A2L', 'A2R', 'AS1'];
  const { bench, monitor } = table(10, positions);
  positions.forEach((p, i) => {
    const s = sensorById(bench, `A0000${i + 1}`);
    s.at = p;
    monitor.saved[p] = s.id;
  });
  const axles = [makeAxle('single', 1), makeAxle('single', 2)];
  const sensor = (i: number) => ({ id: `A0000${i + 1}`, kind: 'internal' as const });
  axles.forEach((a, i) => {
    a.wheels.forEach((w, j) => {
      w.sensor = sensor(i * 2 + j);
    });
  });
  const unit = {
    id: 'u',
    version: 1,
    name: 'Car',
    kind: 'vehicle' as const,
    axles,
    spares: [{ wheel: { position: 'S1', sensor: sensor(4) }, settings: {} }],
  };
  const moves = rotationOf(unit, 'five') as Record<string, string>;
  rotateWheels(bench, Object.fromEntries(Object.entries(moves).map(([from, to]) => [`A${from}`, `A${to}`])));
  for (const [a, b] of rotationWork(unit, moves).exchanges) exchangeSaved(bench, monitor, `A${a}`, `A${b}`);
  for (const p of positions) expect(sensorById(bench, monitor.saved[p] as string).at).toBe(p);
});
