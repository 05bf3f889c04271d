import { ambientAtAltitude } from '#core/air/atmosphere.ts';
import { limitsFor } from '#core/alarms/limits.ts';
import { wheelsOf } from '#core/rig/positions.ts';
import { KPA_PER_PSI } from '#core/units/units.ts';
import type { NewUnit, Rig, Unit } from '#schema/unit.ts';
import type { App } from '../server/app.ts';
import { keepReport } from '../server/records/reports.ts';
import { ensureStandIns } from '../server/records/stand-ins.ts';
import { createRecord, listRecords } from '../server/records/store.ts';
import { createUnit, replaceUnit } from '../server/records/units.ts';
import { lindenDay, SEED } from './day.ts';
import { ago, FITTED_DAYS_AGO } from './life.ts';
import { demoWorld, LINDEN } from './world.ts';
import { lindenYear } from './year.ts';

const DAY_MS = 86_400_000;

/** A unit of Linden run as it was when its kit went on: less air in the trailer, and B2R with the sensor it had then. */
function asItWas(unit: NewUnit): NewUnit {
  const before = structuredClone(unit);
  if (unit.kind !== 'trailer') return before;
  delete before.idBook;
  for (const axle of before.axles) {
    const loaded = axle.settings.loaded;
    if (loaded?.cold && loaded.limits) {
      const kpa = 70 * KPA_PER_PSI;
      loaded.cold = { ...loaded.cold, kpa, typed: { text: '70', unit: 'psi' } };
      const { lowKpa, highKpa } = limitsFor(loaded.limits.rule, kpa);
      loaded.limits = { ...loaded.limits, lowKpa, highKpa };
    }
    for (const w of axle.wheels) if (w.position === '2R' && w.sensor) w.sensor = { ...w.sensor, id: '71A06D' };
  }
  return before;
}

/** Which sensor is on each wheel now. */
const sensorsOf = (units: readonly NewUnit[]): Record<string, string> =>
  Object.fromEntries(
    wheelsOf(units.map((u, i): Unit => ({ ...u, id: String(i), version: 1 }))).flatMap((w) =>
      w.wheel.sensor ? [[w.position, w.wheel.sensor.id]] : [],
    ),
  );

/**
 * Load the demo world into an empty database; one that has rigs is left as it is. Linden run gets a day that ends on the road now, and a
 * year before it.
 */
export async function loadDemo(app: App, nowMs: number): Promise<void> {
  const now = new Date(nowMs).toISOString();
  const linden = await app.watch.changeRecords((raw) => {
    const rigs = listRecords<Rig>(raw, 'rigs');
    if (rigs.length === 0) {
      const monitors = new Map(ensureStandIns(raw, now).map((m) => [m.name, m.id]));
      for (const { units, monitor, checkedAt, ...rig } of demoWorld(nowMs)) {
        const then = rig.name === LINDEN ? ago(nowMs, FITTED_DAYS_AGO) : now;
        const made = units.map((u) => createUnit(raw, rig.name === LINDEN ? asItWas(u) : u, then));
        const stored = createRecord<Rig>(
          raw,
          'rigs',
          {
            ...rig,
            unitIds: made.map((u) => u.id),
            monitorId: monitors.get(monitor) ?? null,
            ...(checkedAt ? { checked: { at: checkedAt, sensors: sensorsOf(units) } } : {}),
          },
          then,
        );
        rigs.push(stored);
        if (rig.name !== LINDEN) continue;
        // A report of the day the kit went on, and one of now: in between the trailer got more air, and one sensor was replaced. No reading is there
        // yet to learn from.
        keepReport(raw, stored.id, ago(nowMs, FITTED_DAYS_AGO, '16:00'), {});
        made.forEach((u, i) => {
          replaceUnit(raw, { ...(units[i] as NewUnit), id: u.id, version: u.version }, ago(nowMs, 200, '18:20'));
        });
        keepReport(raw, stored.id, now, {});
      }
    }
    const rig = rigs.find((r) => r.name === LINDEN);
    if (!rig) return null;
    // A load that was cut short left the rig without its day: give it the day now.
    const units = rig.unitIds.flatMap((id) => listRecords<Unit>(raw, 'units').filter((u) => u.id === id));
    const first = raw.prepare('select min(time_ms) from readings where sensor_id = ?').pluck();
    const heard = wheelsOf(units).flatMap((w) => (w.wheel.sensor ? ((first.get(w.wheel.sensor.id) as number | null) ?? []) : []));
    return { rig, units, firstMs: heard.length === 0 ? null : Math.min(...heard) };
  });
  if (!linden) return;
  const dayMs = linden.firstMs ?? (await loadDay(app, linden, nowMs));
  if (dayMs > nowMs - 100 * DAY_MS) await loadYear(app, linden, dayMs);
}

interface Linden {
  rig: Rig;
  units: Unit[];
}

/** @returns when the day begins, ms since the epoch */
async function loadDay(app: App, linden: Linden, nowMs: number): Promise<number> {
  const { stretches, bench, fromMs } = lindenDay(linden.units, linden.rig.loadState, nowMs);
  for (const { ms, airC, altitudeM, kmh, frames } of stretches) {
    await app.watch.setBench(linden.rig.id, { ms, airC, moving: kmh > 0, ambientKpa: ambientAtAltitude(altitudeM) });
    await app.watch.ingest(
      frames.map((f) => ({ ...f, rssiDbm: null })),
      'bench',
      { onlyRig: linden.rig.id },
    );
    await app.watch.tick(linden.rig.id);
  }
  await app.bench.adopt(linden.rig.id, bench, true, 1);
  return fromMs;
}

/** The year is kept whole or not at all. No rig judges it: what rang in it rang long ago. */
async function loadYear(app: App, { rig, units }: Linden, endMs: number): Promise<void> {
  const readings = [...lindenYear(units, rig.loadState, SEED, endMs)].flatMap((day) => day.map((f) => ({ ...f, rssiDbm: null })));
  await app.watch.ingest(readings, 'bench', { onlyRig: '' });
}
