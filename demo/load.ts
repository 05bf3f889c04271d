import { ambientAtAltitude } from '#core/air/atmosphere.ts';
import { wheelsOf } from '#core/rig/positions.ts';

import type { Rig, Unit } from '#schema/unit.ts';
import type { App } from '../server/app.ts';
import { ensureStandIns } from '../server/records/stand-ins.ts';
import { createRecord, listRecords } from '../server/records/store.ts';
import { createUnit } from '../server/records/units.ts';
import { lindenDay } from './day.ts';
import { demoRigs, LINDEN } from './world.ts';

/** Load the demo world into an empty database; one that has rigs is left as it is. Linden run is put on the road at the end. */
export async function loadDemo(app: App, nowMs: number): Promise<void> {
  const now = new Date(nowMs).toISOString();
  const linden = await app.watch.changeRecords((raw) => {
    const rigs = listRecords<Rig>(raw, 'rigs');
    if (rigs.length === 0) {
      const monitors = new Map(ensureStandIns(raw, now).map((m) => [m.name, m.id]));
      for (const { units, monitor, ...rig } of demoRigs) {
        const unitIds = units.map((u) => createUnit(raw, u, now).id);
        rigs.push(createRecord<Rig>(raw, 'rigs', { ...rig, unitIds, monitorId: monitors.get(monitor) ?? null }, now));
      }
    }
    const rig = rigs.find((r) => r.name === LINDEN);
    if (!rig) return null;
    // A load that was cut short left the rig without its day: give it the day now.
    const units = rig.unitIds.flatMap((id) => listRecords<Unit>(raw, 'units').filter((u) => u.id === id));
    const heard = raw.prepare('select 1 from readings where sensor_id = ? limit 1');
    const ids = wheelsOf(units).flatMap((w) => w.wheel.sensor?.id ?? []);
    return ids.some((id) => heard.get(id)) ? null : { rig, units };
  });
  if (!linden) return;
  const { stretches, bench } = lindenDay(linden.units, linden.rig.loadState, nowMs);
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
}
