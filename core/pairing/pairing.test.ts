import { describe, expect, it } from 'vitest';
import type { Unit } from '#schema/unit.ts';
import { makeAxle, wheelsOf } from '../rig/positions.ts';
import { historyOf, moveSensor, openPosition, pairSensor } from './book.ts';
import { finalCheck } from './check.ts';
import { exchangesFor } from './exchanges.ts';
import { PAIRING_STYLES, pairingOrder, styleGuide, styleRefusal } from './guide.ts';
import { lookAlikes, readId } from './ids.ts';
import { afterRotation, ROTATIONS, rotationOf, rotationWork, withSwap } from './rotation.ts';

describe('an ID as it is typed', () => {
  it.each([
    ['4c a1 e0', '4CA1E0', null],
    ['4C-A1:E0', '4CA1E0', null],
    ['4CA1EO', '4CA1E0', null],
    ['I0A1E0', '10A1E0', null],
    ['4CA1E', null, 'short'],
    ['4CA1E07', null, 'long'],
    ['4CG1E0', null, 'letters'],
    ['FFFFFF', null, 'open'],
    ['', null, 'empty'],
  ] as const)('%s', (text, id, fault) => {
    expect(readId(text)).toMatchObject({ id, fault });
  });
  it('says what was corrected and what is no digit', () => {
    expect(readId('OI34SG')).toMatchObject({ corrected: ['O', 'I'], wrong: ['S', 'G'], digits: 4 });
  });
  it('finds the sensor a person could have meant', () => {
    expect(lookAlikes('4CA1E8', ['4CA1EB', '4CA1E8', '4CA1E0'])).toEqual(['4CA1EB']);
    expect(lookAlikes('D0A1E8', ['00A1EB', '11A1E8'])).toEqual(['00A1EB']);
  });
});

describe('the final check', () => {
  const p = (position: string, shows: string | null, book: string | null = shows) => ({ position, shows, book });
  it('has nothing against full positions', () => {
    expect(finalCheck([p('A1L', 'A00001'), p('A1R', 'a0 00 02', 'A00002')])).toEqual([]);
  });
  it('finds what is open, short, twice, other and not read', () => {
    expect(
      finalCheck([
        p('A1L', 'FFFFFF', 'A00001'),
        p('A1R', 'A000', 'A00002'),
        p('A2L', 'A00003'),
        p('A2R', 'A00003', 'A00004'),
        p('B1L', 'A00009', 'A00005'),
        p('B1R', null, 'A00006'),
        p('BS1', 'FFFFFF', null),
      ]),
    ).toEqual([
      { position: 'A1L', code: 'open', wanted: 'A00001' },
      { position: 'A1R', code: 'short', wanted: 'A00002' },
      { position: 'A2R', code: 'twice', other: 'A2L' },
      { position: 'B1L', code: 'differs', wanted: 'A00005' },
      { position: 'B1R', code: 'notRead' },
    ]);
  });
  it('tells a factory-coded sensor that sits on another wheel', () => {
    expect(finalCheck([{ ...p('A1R', 'A00001'), factoryPosition: 'A1L' }])).toEqual([
      { position: 'A1R', code: 'factoryElsewhere', other: 'A1L' },
    ]);
  });
});

const at = '2026-05-01T08:00:00Z';
const sensor = (id: string, kind: 'cap' | 'internal' = 'cap') => ({
  id,
  kind,
  pairedAt: '2026-04-01T08:00:00Z',
  style: 'heldNear' as const,
});
function car(kind: 'cap' | 'internal' = 'cap'): Unit {
  const axles = [makeAxle('single', 1), makeAxle('single', 2)];
  axles.forEach((a, i) => {
    a.wheels.forEach((w, j) => {
      w.sensor = sensor(`A0000${i * 2 + j + 1}`, kind);
    });
  });
  return {
    id: 'u',
    version: 1,
    name: 'Car',
    kind: 'vehicle',
    axles,
    spares: [{ wheel: { position: 'S1', sensor: sensor('A00005', kind) }, settings: {} }],
  };
}
const ids = (u: Unit) =>
  Object.fromEntries(
    [...u.axles.flatMap((a) => a.wheels), ...u.spares.map((s) => s.wheel)].map((w) => [w.position, w.sensor?.id ?? null]),
  );

describe('the ID book', () => {
  it('retires a replaced sensor with its date', () => {
    const next = pairSensor(car(), '1L', sensor('B00001'), at);
    expect(ids(next)['1L']).toBe('B00001');
    expect(historyOf(next, '1L')).toEqual([
      {
        position: '1L',
        sensorId: 'A00001',
        kind: 'cap',
        since: '2026-04-01T08:00:00Z',
        style: 'heldNear',
        until: at,
        why: 'replaced',
      },
    ]);
  });
  it('pairing the same sensor again retires nothing', () => {
    expect(pairSensor(car(), '1L', sensor('a00001'), at).idBook).toBeUndefined();
  });
  it('keeps a sensor at hand that no watch waits for, and takes it from there', () => {
    const loose = openPosition(car(), 'S1', at, true);
    expect(ids(loose).S1).toBeNull();
    expect(loose.loose?.map((s) => s.id)).toEqual(['A00005']);
    const back = pairSensor(loose, '2R', sensor('A00005'), at);
    expect(back.loose).toBeUndefined();
    expect(historyOf(back, '2R').map((e) => e.why)).toEqual(['replaced']);
    expect(openPosition(car(), '1L', at, false).loose).toBeUndefined();
  });
  it('moves two sensors for each other and writes both down', () => {
    const next = moveSensor(car(), '1L', '2R', at);
    expect(ids(next)).toMatchObject({ '1L': 'A00004', '2R': 'A00001' });
    expect(next.idBook?.map((e) => [e.position, e.sensorId, e.why])).toEqual([
      ['1L', 'A00001', 'moved'],
      ['2R', 'A00004', 'moved'],
    ]);
  });
});

describe('rotation', () => {
  it('every pattern is a round of the wheels it names', () => {
    for (const r of ROTATIONS) {
      const moves = rotationOf(car(), r);
      expect(Object.keys(moves ?? {}).sort()).toEqual(Object.values(moves ?? {}).sort());
    }
    expect(rotationOf({ ...car(), spares: [] }, 'five')).toBeNull();
  });
  it('external sensors are unscrewed and put back, and the book stays', () => {
    const moves = rotationOf(car(), 'rearward') as Record<string, string>;
    const work = rotationWork(car(), moves);
    expect(work.exchanges).toEqual([]);
    // The wheel of 2L is at 1L now, and so is its sensor, which belongs at 2L.
    expect(work.putBack).toContainEqual({ sensorId: 'A00003', from: '1L', to: '2L' });
    expect(work.putBack).toHaveLength(4);
    expect(ids(afterRotation(car(), moves))).toEqual(ids(car()));
  });
  it('internal sensors travel: five wheels need four exchanges, which bring the monitor to the right end', () => {
    const unit = car('internal');
    const moves = rotationOf(unit, 'five') as Record<string, string>;
    const { exchanges, putBack } = rotationWork(unit, moves);
    expect(putBack).toEqual([]);
    expect(exchanges).toHaveLength(4);
    const shows = ids(unit) as Record<string, string>;
    for (const [a, b] of exchanges) [shows[a], shows[b]] = [shows[b] as string, shows[a] as string];
    expect(shows).toEqual(ids(afterRotation(unit, moves)));
    expect(exchangesFor(ids(unit) as Record<string, string>, shows)).toHaveLength(4);
  });
  it('mixed kinds: a round that is not closed is paired again', () => {
    const unit = car('internal');
    (unit.spares[0] as { wheel: { sensor: unknown } }).wheel.sensor = null;
    const work = rotationWork(unit, rotationOf(unit, 'five') as Record<string, string>);
    expect(work.exchanges).toEqual([]);
    expect(work.pairAgain.length).toBeGreaterThan(0);
  });
  it('wheels exchanged by hand add up, and back to where they were is nothing', () => {
    let moves = withSwap({}, '1L', '2R');
    expect(moves).toEqual({ '1L': '2R', '2R': '1L' });
    moves = withSwap(moves, '2R', '2L');
    expect(moves).toEqual({ '1L': '2L', '2R': '1L', '2L': '2R' });
    expect(withSwap(withSwap({}, '1L', '1R'), '1L', '1R')).toEqual({});
  });
});

describe('the guide', () => {
  it('has steps, a wait and something to see to first for every style', () => {
    for (const style of PAIRING_STYLES) {
      const guide = styleGuide({ style, limitsFirst: true, kinds: ['cap'], lists: 3, factoryCoded: false });
      expect(guide.steps.length).toBeGreaterThan(1);
      expect(guide.waitS).toBeGreaterThan(0);
      expect(guide.before).toContain('limitsFirst');
    }
  });
  it('waits 90 s for a sensor screwed on after the wheel was chosen, and takes it off for 10 s', () => {
    expect(styleGuide({ style: 'phoneFirst', limitsFirst: true, kinds: ['cap'], lists: 1, factoryCoded: false })).toMatchObject({
      waitS: 90,
      offS: 10,
      onTheWheel: true,
    });
  });
  it('says beforehand that sensors read zero until they are fitted, where they are paired at the table', () => {
    const q = { limitsFirst: false, kinds: ['cap' as const], lists: 1, factoryCoded: false };
    expect(styleGuide({ ...q, style: 'heldNear' }).before).toEqual(
      expect.arrayContaining(['zeroExpected', 'inRows', 'limitsAfter', 'othersAway']),
    );
    expect(styleGuide({ ...q, style: 'screwedOn' }).before).not.toContain('zeroExpected');
  });
  it.each([
    ['screwedOn', 'internal', false, 'internalIsInside'],
    ['cellIn', 'internal', false, 'sealedCell'],
    ['wakeTool', 'cap', false, 'toolIsForInternal'],
    ['factory', 'cap', false, 'notFactory'],
    ['factory', 'cap', true, null],
    ['heldNear', 'cap', false, null],
    ['carried', 'internal', false, null],
  ] as const)('%s with %s', (style, kind, coded, refusal) => {
    expect(styleRefusal(style, kind, coded)).toBe(refusal);
  });
  it('a wake tool goes down the driver’s side and comes back on the other', () => {
    const wheels = wheelsOf([car()]);
    expect(pairingOrder('wakeTool', wheels).map((w) => w.position)).toEqual(['A1L', 'A2L', 'A2R', 'A1R', 'AS1']);
    expect(pairingOrder('heldNear', wheels).map((w) => w.position)).toEqual(['A1L', 'A1R', 'A2L', 'A2R', 'AS1']);
    const dual = wheelsOf([{ ...car(), axles: [makeAxle('single', 1), makeAxle('dual', 2)], spares: [] }]);
    expect(pairingOrder('carried', dual).map((w) => w.position)).toEqual(['A1L', 'A2LO', 'A2LI', 'A2RO', 'A2RI', 'A1R']);
  });
});
