import { describe, expect, it } from 'vitest';
import type { Monitor } from '#schema/monitor.ts';
import type { Fitting, Rig, Unit } from '#schema/unit.ts';
import { asKeyed, keyingCard } from '../alarms/card.ts';
import { keyedAt, keyedInto } from '../alarms/keyed.ts';
import { limitsFor } from '../alarms/limits.ts';
import { addSensor, advance, createBench, freshId, wheelAt } from '../bench/bench.ts';
import { captureView, fitLabelled, freshMonitor, openAt, saveShown, startCapture } from '../bench/monitor.ts';
import { benchWheels } from '../bench/setup.ts';
import { fittingCard } from '../fitting/cards.ts';
import { inOneWalk, walkCard, walkStage } from '../fitting/walk.ts';
import { pairSensor } from '../pairing/book.ts';
import { finalCheck, HEARD } from '../pairing/check.ts';
import { styleGuide } from '../pairing/guide.ts';
import { isSensorKey } from '../pairing/ids.ts';
import { proposeMarks, styleAt, walkOrder } from '../pairing/marks.ts';
import { showsOf } from '../pairing/signs.ts';
import { buildReport } from '../report/report.ts';
import { axleOf, faultsOf, isMotorcycle, type RigWheel, watchedWheels } from '../rig/positions.ts';
import { Watch, type WatchEvent } from '../watch/watch.ts';
import { judgeFit } from './fit.ts';
import { checkMap, placesOf, proposeMap } from './map.ts';
import { partsOf } from './parts.ts';
import { type Kit, TWELVE_KITS } from './twelve.test-data.ts';

const AT = '2026-05-02T09:00:00Z';
const START = Date.parse('2026-05-02T08:00:00Z');
const COLD_C = 17;

const kindOf = (kit: Kit, w: RigWheel) => (w.unit.kind === 'trailer' ? kit.trailerKind : undefined) ?? kit.pairing.kind;

/** An owner with this kit and this rig. */
class Owner {
  rig: Rig;
  units: Unit[];
  monitor: Monitor;

  readonly kit: Kit;

  constructor(kit: Kit) {
    this.kit = kit;
    this.units = structuredClone(kit.units);
    this.monitor = structuredClone(kit.monitor);
    this.rig = {
      id: 'r',
      version: 1,
      name: kit.name,
      unitIds: this.units.map((u) => u.id),
      loadState: 'loaded',
      monitorId: 'm',
      ...kit.rig,
    };
  }
  get wheels(): RigWheel[] {
    return watchedWheels(this.rig, this.units);
  }
  wheel(position: string): RigWheel {
    const found = this.wheels.find((w) => w.position === position);
    if (!found) throw new Error(position);
    return found;
  }
  onUnit(w: RigWheel, work: (u: Unit) => Unit): void {
    this.units = this.units.map((u) => (u.id === w.unit.id ? work(u) : u));
  }
  tick(w: RigWheel, codes: readonly string[]): void {
    const wheel = this.wheel(w.position).wheel;
    const fitting: Fitting = wheel.fitting ?? { done: [] };
    wheel.fitting = { ...fitting, done: [...fitting.done, ...codes.map((code) => ({ code, at: AT }))] };
    if (codes.includes('soap')) wheel.fitting.leak = 'none';
  }
  question(w: RigWheel) {
    const kind = kindOf(this.kit, w);
    return {
      kind,
      stem: w.wheel.stem,
      dualInner: w.place.endsWith('I'),
      motorcycle: isMotorcycle(w.unit),
      newCell: kind !== 'internal',
      parts: partsOf(this.rig, kind),
    };
  }
}

describe.each(TWELVE_KITS.map((kit) => [kit.name, kit] as const))('%s', (_, kit) => {
  it('goes from a new rig to a report with nothing open', () => {
    const o = new Owner(kit);

    // Kit: every wheel has a place, every stem was looked at, no sensor is refused.
    if (kit.parts) o.rig.fitting = { parts: kit.parts };
    const map = proposeMap(o.units, o.monitor);
    expect(map.giveUp).toEqual([]);
    expect(checkMap(o.units, o.monitor, map.places)).toEqual([]);
    for (const w of o.wheels) {
      w.wheel.stem = 'metal';
      const fit = {
        kind: kindOf(kit, w),
        stem: 'metal' as const,
        year: 2026,
        motorcycle: isMotorcycle(w.unit),
        dualInner: false,
      };
      expect(judgeFit(fit).verdict).toBe('yes');
    }

    // Pressures and alarms.
    for (const w of o.wheels) {
      const kpa = kit.coldKpa[w.unitIndex] as number;
      const { lowKpa, highKpa } = limitsFor(kit.rule, kpa);
      w.holder.settings = { loaded: { cold: { kpa, tempC: COLD_C }, limits: { rule: kit.rule, lowKpa, highKpa, hotC: 76 } } };
    }
    for (const u of o.units) expect(faultsOf(u)).toEqual([]);
    const axles = [...new Set(o.wheels.map((w) => axleOf(w.position)))].map((code) => {
      const own = o.wheels.filter((w) => axleOf(w.position) === code);
      const first = own[0] as RigWheel;
      return { code, unitKind: first.unit.kind, wheels: own.length, setting: first.holder.settings.loaded ?? {} };
    });
    const card = keyingCard(o.monitor, axles, null);
    expect(card.unmet.filter((u) => u.why !== 'rounded')).toEqual([]);
    const keyed = asKeyed(card, AT, 'loaded', null);
    o.monitor = { ...o.monitor, ...keyedInto(keyed, card.groups, keyedAt(o.rig, o.units, o.monitor)) };

    // Pairing on the bench, and the fitting that belongs to it.
    const shows = showsOf(o.monitor, kit.pairing);
    o.rig.pairing = kit.pairing;
    const bench = createBench({ seed: 11, startMs: START, airC: COLD_C, altitudeM: 310, wheels: benchWheels(o.units, 'loaded') });
    bench.noIds = !shows.ids;
    const order = walkOrder(kit.pairing, o.wheels);
    const sensors = new Map(
      order.map((w) => {
        const kind = kindOf(kit, w);
        const id = freshId(bench);
        // A shop has put those in that belong inside.
        addSensor(bench, id, kind, kind === 'internal' ? w.position : null);
        return [w.position, id] as const;
      }),
    );
    const menu = freshMonitor(o.wheels.map((w) => w.position));
    menu.tableClear = true;
    const marks = proposeMarks(o.wheels, 'letters');
    const takenOff: string[] = [];
    for (const w of order) {
      const style = styleAt(kit.pairing, w);
      const kind = kindOf(kit, w);
      const guide = styleGuide({
        style,
        limitsFirst: kit.pairing.limitsFirst,
        kinds: [kind],
        lists: o.monitor.units,
        factoryCoded: style === 'factory',
        shows,
      });
      const walk = inOneWalk(style, kind) ? walkCard(style, o.question(w)).steps : null;
      if (walk) o.tick(w, walk.slice(0, walk.indexOf('sign')));
      const id = sensors.get(w.position) as string;
      openAt(bench, menu, w.position);
      // The short code first where there are digits; a phone then finds its sensor at the first try.
      menu.trouble = 'short';
      startCapture(bench, menu, style, kind === 'internal' ? undefined : id, guide.waitS);
      for (let s = 0; s < guide.waitS && menu.capture && captureView(bench, menu.capture).outcome !== 'whole'; s += 1)
        advance(bench, 1);
      const press = o.monitor.saves === 'longPress' ? 'long' : 'short';
      expect(saveShown(bench, menu, press, o.monitor.saves, w.position)).toBe('saved');
      o.onUnit(w, (u) =>
        pairSensor(
          u,
          w.local,
          {
            id: menu.saved[w.position] as string,
            kind,
            style,
            ...(guide.onTheWheel || walk ? {} : { fitted: false }),
            ...(style === 'factory' ? { factoryPosition: w.position, mark: marks[w.position] ?? 'S' } : {}),
          },
          AT,
        ),
      );
      if (walk) {
        o.tick(w, walk.slice(walk.indexOf('sign') + 1));
        const { wheel } = o.wheel(w.position);
        expect(walkStage(walk, new Set(wheel.fitting?.done.map((d) => d.code)), wheel.sensor !== null)).toBe(-1);
        // Whatever the style, it is on its valve now.
        const sensor = bench.sensors.find((x) => x.id === id);
        if (sensor?.at === null) sensor.at = w.position;
        if (sensor && sensor.at !== w.position) takenOff.push(w.position);
      } else o.tick(w, fittingCard(o.question(w)).steps);
    }
    // Those of the table go on by their labels, once.
    fitLabelled(bench, menu);
    expect(takenOff).toEqual([]);
    expect(bench.sensors.map((s) => s.at).sort()).toEqual(o.wheels.map((w) => w.position).sort());
    expect(menu.mistakes).toEqual([]);
    const ids = o.wheels.map((w) => w.wheel.sensor?.id ?? '');
    expect(ids.every((id) => isSensorKey(id) === !shows.ids)).toBe(true);
    expect(
      finalCheck(
        o.wheels.map((w) => ({
          position: w.position,
          shows: shows.ids ? (menu.saved[w.position] ?? null) : HEARD,
          book: w.wheel.sensor?.id ?? null,
          factoryPosition: w.wheel.sensor?.factoryPosition,
        })),
      ),
    ).toEqual([]);

    // A drive: every wheel is heard and nothing rings.
    bench.kmh = 70;
    const watch = new Watch(
      Object.fromEntries(
        o.wheels.map((w) => {
          const s = w.holder.settings.loaded;
          return [
            w.position,
            {
              coldKpa: s?.cold?.kpa ?? null,
              coldTempC: COLD_C,
              lowKpa: s?.limits?.lowKpa ?? null,
              highKpa: s?.limits?.highKpa ?? null,
              hotC: 76,
              sensorKind: kindOf(kit, w),
              rests: w.place === 'S',
            },
          ];
        }),
      ),
      { sleepAware: true },
    );
    const at = new Map(o.wheels.map((w) => [w.wheel.sensor?.id, w.position]));
    const events: WatchEvent[] = [];
    const heard = new Set<string>();
    for (const f of advance(bench, 900)) {
      const position = at.get(f.sensorId) as string;
      watch.read(position, f.ms, f.pressureKpa, f.tempC, events);
      if (f.pressureKpa > 0) heard.add(position);
    }
    expect([...heard].sort()).toEqual(o.wheels.map((w) => w.position).sort());
    expect(events).toEqual([]);

    // First drive: a gauge at each wheel, one alarm that the monitor itself gave, nuts once more.
    const first = order[0] as RigWheel;
    o.rig.firstDrive = {
      startedAt: AT,
      gauge: { errorKpa: 7, stepKpa: 3.5 },
      readings: Object.fromEntries(
        o.wheels
          .filter((w) => w.place !== 'S')
          .map((w) => {
            const { coldKpa } = wheelAt(bench, w.position);
            return [w.position, { gauge: [{ kpa: coldKpa }], sensorKpa: coldKpa + 2, airC: COLD_C, at: AT }];
          }),
      ),
      proof: { position: first.position, startedAt: AT, monitor: { did: 'rang', at: AT }, practice: false },
      heard: Object.fromEntries(o.wheels.map((w) => [w.position, AT])),
    };
    o.rig.fitting = { ...o.rig.fitting, retightenedAt: AT };
    const report = buildReport(o.rig, o.units, o.monitor, AT);
    expect(report.open).toEqual([]);
    expect(report.wheels).toHaveLength(o.wheels.length);
    expect(report.keyed?.at).toBe(AT);
    // Every place of the leaflet that has a name is in it.
    const places = placesOf(o.rig, o.units, o.monitor);
    for (const w of report.wheels) {
      const p = places[w.position];
      expect(w.place).toBe(p && o.monitor.placeNames?.[`${p.list}.${p.row}.${p.column}`]);
    }
  });
});
