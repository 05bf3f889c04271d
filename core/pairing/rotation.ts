import type { SensorKind } from '#schema/common.ts';
import type { Unit, Wheel } from '#schema/unit.ts';
import { placeOf } from '../rig/positions.ts';
import { exchangesFor } from './exchanges.ts';

/** What was done to the wheels of a unit: the wheel that was at the key is now at the value. */
export type Moves = Record<string, string>;

/** Usual ways round for a car with two single axles (common practice, no source). */
export const ROTATIONS = ['rearward', 'forward', 'cross', 'sides', 'five'] as const;
export type Rotation = (typeof ROTATIONS)[number];

const patterns: Record<Rotation, Moves> = {
  rearward: { '2L': '1L', '2R': '1R', '1L': '2R', '1R': '2L' },
  forward: { '1L': '2L', '1R': '2R', '2L': '1R', '2R': '1L' },
  cross: { '1L': '2R', '1R': '2L', '2L': '1R', '2R': '1L' },
  sides: { '1L': '1R', '1R': '1L', '2L': '2R', '2R': '2L' },
  five: { '2L': '1L', '2R': '1R', '1R': '2L', S1: '2R', '1L': 'S1' },
};

const wheelsOfUnit = (unit: Unit): Wheel[] => [...unit.axles.flatMap((a) => a.wheels), ...unit.spares.map((s) => s.wheel)];

/** The pattern's moves, or null when the unit has not the wheels for it. */
export function rotationOf(unit: Unit, rotation: Rotation): Moves | null {
  const moves = patterns[rotation];
  const there = new Set(wheelsOfUnit(unit).map((w) => w.position));
  const all = new Set([...Object.keys(moves), ...Object.values(moves)]);
  return [...all].every((p) => there.has(p)) ? moves : null;
}

/** Moves with one more exchange of two wheels, both by where they are now. */
export function withSwap(moves: Moves, a: string, b: string): Moves {
  const at = (p: string) => Object.entries(moves).find(([, to]) => to === p)?.[0] ?? p;
  const next: Moves = { ...moves, [at(a)]: b, [at(b)]: a };
  return Object.fromEntries(Object.entries(next).filter(([from, to]) => from !== to));
}

/** What is to be done about the sensors after wheels were moved. */
export interface RotationWork {
  /** External sensors to unscrew where their wheel is now, and to put back where they belong. */
  putBack: { sensorId: string; from: string; to: string }[];
  /** Pairs of positions to exchange on the monitor, in order, for sensors that travel with their wheel. */
  exchanges: [string, string][];
  /** Wheels whose internal sensor has to be paired again, where positions cannot be exchanged one against one. */
  pairAgain: string[];
}

const travels = (kind: SensorKind | undefined) => kind === 'internal';

/**
 * External sensors are unscrewed and put back by position; internal ones travel with the wheel, so positions are exchanged on the monitor,
 * pair by pair. Where wheels with and without an internal sensor mix in one round, those are paired again.
 */
export function rotationWork(unit: Unit, moves: Moves): RotationWork {
  const wheels = new Map(wheelsOfUnit(unit).map((w) => [w.position, w]));
  const work: RotationWork = { putBack: [], exchanges: [], pairAgain: [] };
  const now: Record<string, string> = {};
  const wanted: Record<string, string> = {};
  for (const [from, to] of Object.entries(moves)) {
    const sensor = wheels.get(from)?.sensor;
    if (!sensor || from === to) continue;
    if (!travels(sensor.kind)) work.putBack.push({ sensorId: sensor.id, from: to, to: from });
    else {
      now[from] = sensor.id;
      wanted[to] = sensor.id;
    }
  }
  // A closed round of internal sensors can be exchanged; a position that gets one and gives none cannot.
  const closed = new Set(Object.keys(now).filter((p) => p in wanted));
  let shrinking = true;
  while (shrinking) {
    shrinking = false;
    for (const p of [...closed]) {
      const giver = Object.entries(moves).find(([, to]) => to === p)?.[0];
      const taker = moves[p];
      if ((giver !== undefined && !closed.has(giver)) || (taker !== undefined && !closed.has(taker))) {
        closed.delete(p);
        shrinking = true;
      }
    }
  }
  const part = (all: Record<string, string>) => Object.fromEntries(Object.entries(all).filter(([p]) => closed.has(p)));
  work.exchanges = exchangesFor(part(now), part(wanted));
  work.pairAgain = Object.keys(wanted).filter((p) => !closed.has(p));
  return work;
}

/** The unit after the round is done: internal sensors (and stems) are where their wheels are, external ones where they were. */
export function afterRotation(unit: Unit, moves: Moves): Unit {
  const before = new Map(wheelsOfUnit(unit).map((w) => [w.position, w]));
  const put = (w: Wheel): Wheel => {
    const from = Object.entries(moves).find(([, to]) => to === w.position)?.[0];
    const came = from === undefined ? w : (before.get(from) as Wheel);
    const own = before.get(w.position) as Wheel;
    const arrived = travels(came.sensor?.kind) ? came.sensor : null;
    const stays = own.sensor && !travels(own.sensor.kind) ? own.sensor : null;
    // The stem is the wheel's: it travels, whatever sits on it.
    const { position: _p, sensor: _s, ...stem } = came;
    return { ...stem, position: w.position, sensor: arrived ?? stays };
  };
  return {
    ...unit,
    axles: unit.axles.map((a) => ({ ...a, wheels: a.wheels.map(put) })),
    spares: unit.spares.map((s) => ({ ...s, wheel: put(s.wheel) })),
  };
}

/** A wheel on its own side after a move, for words: crossed over or straight. */
export const crosses = (from: string, to: string): boolean => placeOf(from)[0] !== placeOf(to)[0];
