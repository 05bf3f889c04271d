import { describe, expect, it } from 'vitest';
import { operations } from '#core/operations.ts';
import { calc } from './calc.ts';

const run = (args: string[], input = '') => calc(args, () => input);

describe('the command', () => {
  it('prints the answer and nothing else', () => {
    expect(run(['units.convert', '{"value":1,"from":"bar","to":"kPa"}'])).toEqual({ exit: 0, out: '{"value":100}', err: '' });
  });

  it('reads standard input for a dash', () => {
    const { exit, out } = run(['air.atAltitude', '-'], '{"altitudeM":0}');
    expect([exit, JSON.parse(out)]).toEqual([0, { ambientAbsKpa: 101.325 }]);
  });

  it('says what a monitor ends with', () => {
    // The car of 2.4 bar whose rear axle shares one pair with a trailer of 4.0 bar: low 3.6 for both.
    const axle = (code: string, unitKind: string, cold: number) => ({
      axle: code,
      unitKind,
      coldKpa: cold,
      lowKpa: cold * 0.9,
      highKpa: cold * 1.2,
    });
    const question = {
      monitor: {
        groups: 'rearWithTrailer',
        unit: 'bar',
        step: 0.1,
        min: 0.5,
        max: 6.4,
        presetLow: 1.7,
        presetHigh: 2.9,
        interlock: true,
      },
      axles: [axle('A1', 'vehicle', 230), axle('A2', 'vehicle', 240), axle('B1', 'trailer', 400)],
    };
    const { exit, out } = run(['alarms.held', '-'], JSON.stringify(question));
    expect(exit).toBe(0);
    expect(
      JSON.parse(out).axles.map((a: { axle: string; heldLowKpa: number; verdicts: string[] }) => [
        a.axle,
        Math.round(a.heldLowKpa),
        a.verdicts,
      ]),
    ).toEqual([
      ['A1', 210, ['ok']],
      ['A2', 360, ['rings-always']],
      ['B1', 360, ['ok']],
    ]);
    const { err } = run(['alarms.held', JSON.stringify({ ...question, monitor: { ...question.monitor, groups: 'baseline' } })]);
    expect(JSON.parse(err)).toMatchObject({ status: 400, errors: [{ pointer: '/monitor/derives' }] });
  });

  it('lists every operation', () => {
    expect(run(['--list']).out.split('\n')).toEqual(Object.keys(operations));
  });

  it.each([
    ['a field nobody knows', ['air.atAltitude', '{"altitudeM":0,"x":1}'], '/x'],
    ['a field that is missing', ['air.atAltitude', '{}'], '/altitudeM'],
    ['arithmetic that cannot be', ['gas.pressureAt', '{"pressureKpa":-200,"tempC":0,"toTempC":0}'], '/pressureKpa'],
    ['no JSON', ['air.atAltitude', '{'], ''],
    ['no object', ['air.atAltitude', '7'], ''],
  ])('exits 2 with the pointer for %s', (_, args, pointer) => {
    const { exit, out, err } = run(args);
    expect([exit, out]).toEqual([2, '']);
    expect(JSON.parse(err)).toMatchObject({ status: 400, errors: [{ pointer }] });
  });

  it('says what it takes when it is called with too little, and what is unknown', () => {
    expect(run([])).toMatchObject({ exit: 2, err: expect.stringContaining('--list') });
    expect(run(['air.atAltitude'])).toMatchObject({ exit: 2 });
    expect(JSON.parse(run(['tea.brew', '{}']).err)).toMatchObject({ status: 404 });
  });
});
