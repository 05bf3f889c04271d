import type { Database } from 'better-sqlite3';
import express, { Router } from 'express';
import type { Knex } from 'knex';
import { exportRig, sensorsOf, withoutSensors } from '#core/rig/exchange.ts';
import { faultsOf } from '#core/rig/positions.ts';
import { type ImportPreview, RIG_FORMAT, RIG_FORMAT_VERSION, type RigExport, rigJsonSchema } from '#schema/exchange.ts';
import { explain } from '#schema/explain.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { FieldProblem } from '#schema/problem.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { validators } from '../../generated/records.js';
import { inTransaction } from '../db/open.ts';
import { badInput } from '../problem.ts';
import { createRecord, getRecord, listRecords } from './store.ts';
import { createUnit } from './units.ts';

/** Check a document that is to be imported. @throws HttpProblem 400 with everything that is wrong */
function checked(body: unknown): RigExport {
  const head = body as { format?: unknown; version?: unknown } | null;
  if (typeof head === 'object' && head !== null) {
    if (head.format !== RIG_FORMAT)
      throw badInput([{ pointer: '/format', detail: `must be "${RIG_FORMAT}": this is another kind of file` }]);
    if (head.version !== RIG_FORMAT_VERSION) {
      throw badInput([
        { pointer: '/version', detail: `is ${JSON.stringify(head.version)}; this program reads version ${RIG_FORMAT_VERSION}` },
      ]);
    }
  }
  const valid = validators.rigExport;
  if (!valid(body)) throw badInput(explain(valid.errors));
  const doc = body as RigExport;
  const errors: FieldProblem[] = [];
  const seen = new Map<string, string>();
  doc.units.forEach((unit, i) => {
    for (const f of faultsOf(unit)) errors.push({ pointer: `/units/${i}${f.pointer}`, detail: f.text });
    for (const { wheel, pointer } of sensorsOf(unit)) {
      const id = wheel.sensor?.id.toUpperCase();
      if (id === undefined) continue;
      const first = seen.get(id);
      if (first !== undefined && first !== unit.name)
        errors.push({ pointer: `/units/${i}${pointer}/sensor/id`, detail: `${id} is also on ${first}` });
      seen.set(id, unit.name);
    }
  });
  if (errors.length > 0) throw badInput(errors);
  return doc;
}

/** Sensors of the document that are on a wheel here already. */
function takenOf(raw: Database, doc: RigExport): ImportPreview['taken'] {
  const holder = raw.prepare(
    `select p.position, json_extract(u.doc, '$.name') as name from sensor_places p join units u on u.id = p.unit_id where p.sensor_id = ?`,
  );
  return doc.units.flatMap((unit, i) =>
    sensorsOf(unit).flatMap(({ wheel, pointer }) => {
      const id = wheel.sensor?.id.toUpperCase();
      const row = id === undefined ? undefined : (holder.get(id) as { position: string; name: string } | undefined);
      return row && id
        ? [{ pointer: `/units/${i}${pointer}/sensor/id`, sensorId: id, by: `${row.name}, wheel ${row.position}` }]
        : [];
    }),
  );
}

/** Rigs as documents of their own, to and fro. */
export function exchangeRoutes(db: Knex, change: <T>(work: (raw: Database) => T) => Promise<T>, now: () => number): Router {
  const router = Router();
  router.get('/schema/rig.json', (_req, res) => {
    res.type('application/schema+json').send(JSON.stringify(rigJsonSchema, null, 2));
  });
  router.get('/rigs/:rig/export', async (req, res) => {
    const doc = await inTransaction(db, (raw) => {
      const rig = getRecord<Rig>(raw, 'rigs', req.params.rig);
      const units = rig.unitIds.map((id) => getRecord<Unit>(raw, 'units', id));
      const monitor = listRecords<Monitor>(raw, 'monitors').find((m) => m.id === rig.monitorId) ?? null;
      return exportRig(rig, units, monitor);
    });
    const file = doc.rig.name.replace(/[^\p{L}\p{N}]+/gu, '-').toLowerCase();
    res.attachment(`${file}.rig.json`).json(doc);
  });
  const body = express.json({ limit: 1_000_000, strict: false });
  router.post('/rigs/import/preview', body, async (req, res) => {
    const doc = checked(req.body);
    const preview: ImportPreview = {
      name: doc.rig.name,
      units: doc.units.map((u) => ({
        name: u.name,
        wheels: u.axles.reduce((n, a) => n + a.wheels.length, u.spares.length),
        sensors: sensorsOf(u).filter((w) => w.wheel.sensor).length,
      })),
      monitor: doc.monitor?.name ?? null,
      taken: await inTransaction(db, (raw) => takenOf(raw, doc)),
    };
    res.json(preview);
  });
  router.post('/rigs/import', body, async (req, res) => {
    const doc = checked(req.body);
    const dropTaken = req.query.sensors === 'free';
    const rig = await change((raw) => {
      const at = new Date(now()).toISOString();
      const taken = takenOf(raw, doc);
      if (taken.length > 0 && !dropTaken) {
        throw badInput(
          taken.map((t) => ({ pointer: t.pointer, detail: `${t.sensorId} is already the sensor of ${t.by}` })),
          'A sensor is on one wheel only',
        );
      }
      const ids = new Set(taken.map((t) => t.sensorId));
      const unitIds = doc.units.map(
        (u) =>
          createUnit(
            raw,
            withoutSensors(u, (id) => ids.has(id)),
            at,
          ).id,
      );
      const known = doc.monitor && listRecords<Monitor>(raw, 'monitors').find((m) => sameMonitor(m, doc.monitor));
      const monitorId = doc.monitor === null ? null : (known?.id ?? createRecord<Monitor>(raw, 'monitors', doc.monitor, at).id);
      return createRecord<Rig>(raw, 'rigs', { ...doc.rig, unitIds, monitorId }, at);
    });
    res.status(201).location(`/api/rigs/${rig.id}`).json(rig);
  });
  return router;
}

/** The same description, whatever the order of its fields. */
function sameMonitor({ id: _id, version: _version, ...mine }: Monitor, other: RigExport['monitor']): boolean {
  const sorted = (o: object | null) => JSON.stringify(Object.entries(o ?? {}).sort(([a], [b]) => a.localeCompare(b)));
  return sorted(mine) === sorted(other);
}
