import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Monitor } from '#schema/monitor.ts';
import { type Card, type CardAxle, type CardStep, keyingCard } from './card.ts';
import { type HeldAxle, type HeldMonitor, heldLimits } from './held.ts';
import { fewestPresses, type MachineMenu, MenuMachine } from './menu.machine.test-data.ts';

// A monitor is drawn with a menu of every kind, the card for a drawn rig is keyed on it press by press, as a machine written apart has it, and
// what the machine kept is compared with what is said to be held.
const KPA: Record<Monitor['unit'], number> = { psi: 6.894757293168, bar: 100, kPa: 1 };
const press = fc.constantFrom('short' as const, 'long' as const);
const maybe = <T>(a: fc.Arbitrary<T>) => fc.option(a, { nil: undefined });

const menuDrawn = fc.record({
  walk: fc.constantFrom('group' as const, 'limit' as const),
  first: fc.constantFrom('low' as const, 'high' as const),
  wrap: fc.constantFrom('forward' as const, 'both' as const),
  order: maybe(fc.constantFrom('fixed' as const, 'free' as const)),
  opens: maybe(fc.constantFrom('first' as const, 'last' as const)),
  repeat: maybe(fc.integer({ min: 2, max: 20 })),
  confirmValue: maybe(press),
  confirmPage: maybe(press),
  starts: maybe(fc.constantFrom('preset' as const, 'last' as const)),
  extra: fc.integer({ min: 0, max: 3 }),
  setUnused: fc.boolean(),
});
const drawn = (axles: number) =>
  fc.record({
    menu: menuDrawn,
    groups: fc.constantFrom('axle', 'unit', 'rearWithTrailer', 'wheel', 'all', 'baseline') as fc.Arbitrary<Monitor['groups']>,
    scale: fc.constantFrom<[Monitor['unit'], number]>(['psi', 1], ['psi', 0.5], ['bar', 0.1], ['kPa', 10]),
    low: fc.integer({ min: 10, max: 60 }),
    over: fc.integer({ min: 1, max: 60 }),
    lowOnly: fc.boolean(),
    hot: fc.option(fc.integer({ min: 60, max: 90 }), { nil: null }),
    cold: maybe(fc.integer({ min: -20, max: 5 })),
    fahrenheit: fc.boolean(),
    interlock: fc.boolean(),
    saves: fc.constantFrom('byItself', 'shortPress', 'longPress', 'extraPress') as fc.Arbitrary<NonNullable<Monitor['saves']>>,
    byWheel: fc.boolean(),
    axles: fc.array(
      fc.record({
        trailer: fc.boolean(),
        cold: fc.integer({ min: 150, max: 800 }),
        low: fc.option(fc.integer({ min: 70, max: 97 }), { nil: null }),
        high: fc.option(fc.integer({ min: 104, max: 140 }), { nil: null }),
        hot: fc.integer({ min: 55, max: 85 }),
        wheels: fc.constantFrom(1, 2),
      }),
      { minLength: 1, maxLength: axles },
    ),
  });
type Drawn = typeof drawn extends (n: number) => fc.Arbitrary<infer T> ? T : never;

function made(d: Drawn) {
  const [unit, step] = d.scale;
  const value = (n: number) => Number((n * step).toFixed(1));
  const { extra, ...menu } = d.menu;
  const axles = d.axles.map(
    (a, i): CardAxle => ({
      code: `${a.trailer ? 'B' : 'A'}${i + 1}`,
      unitKind: a.trailer ? 'trailer' : 'vehicle',
      wheels: a.wheels,
      setting: {
        cold: { kpa: a.cold, tempC: 18 },
        limits: {
          rule: { school: 'share' },
          lowKpa: a.low === null ? null : (a.cold * a.low) / 100,
          highKpa: a.high === null ? null : (a.cold * a.high) / 100,
          hotC: a.hot,
        },
      },
    }),
  );
  const wheels = d.axles.reduce((n, a) => n + a.wheels, 0);
  const monitor: Monitor = {
    id: 'm',
    version: 1,
    name: 'Drawn',
    groups: d.groups,
    unit,
    step,
    min: value(5),
    max: value(Math.max(d.low + d.over, Math.round(700 / KPA[unit] / step))),
    presetLow: d.groups === 'baseline' ? null : value(d.low),
    presetHigh: d.groups === 'baseline' || d.lowOnly ? null : value(d.low + d.over),
    presetHotC: d.hot,
    ...(d.cold === undefined ? {} : { presetColdC: d.cold }),
    ...(d.fahrenheit ? { tempUnit: 'F' as const } : {}),
    hotStep: 1,
    ...(d.groups === 'baseline' ? { presetBaseline: value(d.low), derives: { lowShare: 0.11, highShare: 0.22 } } : {}),
    ...(d.byWheel ? { baselineBy: 'wheel' as const } : {}),
    interlock: d.interlock,
    menu: { ...(menu as NonNullable<Monitor['menu']>), groups: wheels + extra },
    saves: d.saves,
    positionsPerUnit: 10,
    units: 2,
    showsIds: true,
    canDisconnect: false,
  };
  return { monitor, axles };
}

/** The groups of a rig by the contract, told apart from the planner: names in the order in which the axles bring them. */
function groupsOf(m: Monitor, axles: readonly CardAxle[]): string[] {
  const out: string[] = [];
  let vehicles = 0;
  for (const a of axles) {
    const wheels = a.wheels === 1 ? [a.code] : [`${a.code} wheel 1`, `${a.code} wheel 2`];
    const first = a.unitKind === 'vehicle' && vehicles === 0;
    if (a.unitKind === 'vehicle') vehicles += 1;
    const names: Record<Monitor['groups'], string[]> = {
      all: ['all'],
      axle: [a.code],
      unit: [a.unitKind === 'trailer' ? (a.code[0] as string) : a.code],
      rearWithTrailer: [first ? a.code : 'rear'],
      wheel: wheels,
      baseline: m.baselineBy === 'wheel' ? wheels : [a.code],
    };
    for (const n of names[m.groups]) if (!out.includes(n)) out.push(n);
  }
  return out;
}

/** The machine of a monitor, from its description. */
function machineOf(m: Monitor, axles: readonly CardAxle[]): MachineMenu {
  const menu = m.menu as NonNullable<Monitor['menu']>;
  const own = groupsOf(m, axles);
  const groups = [...own, ...Array.from({ length: Math.max(0, (menu.groups ?? 0) - own.length) }, (_, i) => `unused ${i + 1}`)];
  const toF = (c: number) => Math.round(m.tempUnit === 'F' ? c * 1.8 + 32 : c);
  const fields =
    m.groups === 'baseline'
      ? ['baseline']
      : [menu.first, menu.first === 'low' ? 'high' : 'low'].filter((f) => (f === 'low' ? m.presetLow : m.presetHigh) !== null);
  const inSteps = (v: number | null | undefined) => Math.round((v ?? 0) / m.step);
  const pages = (
    menu.walk === 'group' ? groups.map((g) => fields.map((f) => `${g} ${f}`)) : fields.map((f) => groups.map((g) => `${g} ${f}`))
  ).concat(m.presetHotC === null ? [] : [['all hot']], m.presetColdC === undefined ? [] : [['all coldTemp']]);
  const names = pages.flat();
  const temperature = (n: string) => n === 'all hot' || n === 'all coldTemp';
  const preset = (n: string) => {
    if (n === 'all hot') return toF(m.presetHotC as number);
    if (n === 'all coldTemp') return toF(m.presetColdC as number);
    if (n.endsWith('baseline')) return inSteps(m.presetBaseline);
    return inSteps(n.endsWith('low') ? m.presetLow : m.presetHigh);
  };
  return {
    pages,
    opens: (menu.opens === 'last' ? names.find((n) => n.startsWith(`${groups.at(-1)} `)) : names[0]) as string,
    back: menu.wrap === 'both',
    free: menu.order === 'free',
    confirmValue: menu.confirmValue ?? null,
    confirmPage: menu.confirmPage ?? null,
    end: m.saves === 'byItself' ? null : m.saves === 'longPress' ? 'long' : 'short',
    over:
      m.interlock && m.groups !== 'baseline' && m.presetHigh !== null
        ? Object.fromEntries(groups.map((g) => [`${g} low`, `${g} high`]))
        : {},
    least: Object.fromEntries(names.map((n) => [n, temperature(n) ? -99 : inSteps(m.min)])),
    most: Object.fromEntries(names.map((n) => [n, temperature(n) ? 999 : inSteps(m.max)])),
    preset: Object.fromEntries(names.map((n) => [n, preset(n)])),
  };
}

const inSteps = (s: Pick<CardStep, 'field' | 'to'>, m: Monitor) =>
  s.field === 'hot' || s.field === 'coldTemp' ? s.to : Math.round(s.to / m.step);

/** Key a card on the machine, as it is printed. */
function followed(card: Card, m: Monitor, menu: MachineMenu): MenuMachine {
  const machine = new MenuMachine(menu);
  for (const s of card.steps) {
    const name = `${s.group} ${s.field}`;
    if (menu.free) {
      if (s.go !== 0) machine.choose(name);
    } else machine.go(s.go ?? 0);
    expect(machine.at).toBe(name);
    const by = inSteps(s, m) - (machine.shown.get(name) as number);
    expect(Math.abs(by)).toBe(s.presses);
    for (let i = 0; i < Math.abs(by); i += 1) machine.change(by > 0 ? 1 : -1);
    if (s.confirm.value) machine.confirm('value', s.confirm.value);
    if (s.confirm.page) machine.confirm('page', s.confirm.page);
  }
  expect(machine.refused).toBe(0);
  expect(machine.presses).toBe(card.navigationPresses + card.confirmPresses);
  machine.end(menu.end);
  return machine;
}

it('keyed by the card, 2,000 drawn monitors hold for 2,000 drawn rigs what is said to be held', () => {
  let long = 0;
  fc.assert(
    fc.property(drawn(4), (d) => {
      const { monitor, axles } = made(d);
      const card = keyingCard(monitor, axles, null, -12);
      const menu = machineOf(monitor, axles);
      const machine = followed(card, monitor, menu);
      const wishes = axles.map(
        (a): HeldAxle => ({
          axle: a.code,
          unitKind: a.unitKind,
          wheels: a.wheels,
          coldKpa: a.setting.cold?.kpa ?? 0,
          lowKpa: a.setting.limits?.lowKpa ?? null,
          highKpa: a.setting.limits?.highKpa ?? null,
        }),
      );
      const held = heldLimits(monitor as HeldMonitor, wishes);
      axles.forEach((a, i) => {
        const group = groupsOf(monitor, [a]).at(-1) as string;
        const own = monitor.groups === 'rearWithTrailer' ? card.groups.find((g) => g.axles.includes(a.code))?.group : group;
        const value = (f: string) => (machine.saved.get(`${own} ${f}`) ?? Number.NaN) * monitor.step * KPA[monitor.unit];
        const low = monitor.groups === 'baseline' ? value('baseline') * 0.89 : value('low');
        const high = monitor.groups === 'baseline' ? value('baseline') * 1.22 : value('high');
        expect(held[i]?.heldLowKpa).toBeCloseTo(low, 5);
        if (monitor.presetHigh === null && monitor.groups !== 'baseline') expect(held[i]?.heldHighKpa).toBeNull();
        else expect(held[i]?.heldHighKpa).toBeCloseTo(high, 5);
      });
      // Groups that aren't used end as wide as it goes where they have to be set, and as they came where not.
      for (const n of menu.pages.flat().filter((x) => x.startsWith('unused') && !x.endsWith('baseline'))) {
        const wide = n.endsWith('low') ? menu.least[n] : menu.most[n];
        expect(machine.saved.get(n)).toBe(monitor.menu?.setUnused ? wide : menu.preset[n]);
      }
      if (monitor.presetHotC !== null) {
        const lowest = Math.min(...d.axles.map((a) => a.hot));
        const shown = monitor.tempUnit === 'F' ? Math.floor(lowest * 1.8 + 32 + 1e-9) : lowest;
        expect(machine.saved.get('all hot')).toBe(shown);
      }
      // An alert that would sound on a cold morning is 5 K under the coldest start, one that wouldn't is left.
      if (monitor.presetColdC !== undefined) {
        const left = monitor.presetColdC < -12;
        const aim = monitor.tempUnit === 'F' ? Math.floor(-17 * 1.8 + 32) : -17;
        expect(machine.saved.get('all coldTemp')).toBe(left ? menu.preset['all coldTemp'] : aim);
      }
      if (card.steps.length > 11) long += 1;
    }),
    { numRuns: 2000 },
  );
  // Long menus were among them: those that are walked and not searched.
  expect(long).toBeGreaterThan(0);
});

it('no walk has fewer presses: every way through the small ones was tried', () => {
  fc.assert(
    fc.property(drawn(2), (d) => {
      const { monitor, axles } = made({ ...d, menu: { ...d.menu, extra: Math.min(1, d.menu.extra) } });
      const card = keyingCard(monitor, axles, null, -12);
      const menu = machineOf(monitor, axles);
      fc.pre(card.steps.length <= 5);
      const wanted = Object.fromEntries(card.steps.map((s) => [`${s.group} ${s.field}`, inSteps(s, monitor)]));
      expect(card.navigationPresses + card.confirmPresses).toBe(fewestPresses(menu, wanted));
    }),
    { numRuns: process.env.DRUCKWERK_MUTATE ? 60 : 250 },
  );
}, 60_000);
