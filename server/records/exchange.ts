import { randomBytes } from 'node:crypto';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Database } from 'better-sqlite3';
import type { Knex } from 'knex';
import { isSensorKey, sensorKey } from '#core/pairing/ids.ts';
import { exportRig, sensorsOf, withoutSensors } from '#core/rig/exchange.ts';
import { faultsOf } from '#core/rig/positions.ts';
import { type ImportPreview, LONGEST_PHOTO, type RigExport } from '#schema/exchange.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { FieldProblem } from '#schema/problem.ts';
import type { NewUnit, Rig, Unit } from '#schema/unit.ts';
import { reading } from '../db/open.ts';
import { logPhotosOf, type PhotoStore, photosOf } from '../photos.ts';
import { badInput, HttpProblem } from '../problem.ts';
import { published } from '../published.ts';
import { type Handlers, Reply, WRITTEN } from '../routing.ts';
import type { ChangeRecords } from './routes.ts';
import { createRecord, getRecord, listRecords } from './store.ts';
import { createUnit } from './units.ts';

/** Check what the schema can't. @throws HttpProblem 400 with everything that is wrong */
function checked(doc: RigExport): RigExport {
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
  for (const [id, text] of Object.entries(doc.photos ?? {})) {
    if (text.length > LONGEST_PHOTO)
      errors.push({ pointer: `/photos/${id}`, detail: `must hold at most ${LONGEST_PHOTO} characters` });
  }
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
      const { sensor } = wheel;
      if (!sensor) return [];
      return (['id', 'shownId'] as const).flatMap((field) => {
        const id = sensor[field]?.toUpperCase();
        // A key of our own is replaced by a new one instead.
        const row =
          id === undefined || isSensorKey(id) ? undefined : (holder.get(id) as { position: string; name: string } | undefined);
        return row && id
          ? [{ pointer: `/units/${i}${pointer}/sensor/${field}`, sensorId: id, by: `${row.name}, wheel ${row.position}` }]
          : [];
      });
    }),
  );
}

/** The unit with new keys for its sensors that have no ID: the old ones belong to the rig the document was made of. */
function withNewKeys(unit: NewUnit): NewUnit {
  const next = structuredClone(unit);
  for (const { wheel } of sensorsOf(next)) if (wheel.sensor && isSensorKey(wheel.sensor.id)) wheel.sensor.id = newKey();
  return next;
}
const newKey = () => sensorKey(randomBytes(11));

/** Photos that a document carries and its units name, by their id in the document. */
const photosIn = (doc: RigExport): [string, string][] => {
  const named = new Set([...doc.units.flatMap(photosOf), ...logPhotosOf(doc.rig)]);
  return Object.entries(doc.photos ?? {}).filter(([id]) => named.has(id));
};

/** Keep the photos of a document. @returns their ids here, by their ids in the document @throws HttpProblem 400 at one that is no image */
async function keepPhotos(doc: RigExport, photos: PhotoStore): Promise<Map<string, string>> {
  const kept = new Map<string, string>();
  for (const [id, text] of photosIn(doc)) {
    try {
      kept.set(id, (await photos.add(Buffer.from(text, 'base64'))).id);
    } catch (error) {
      if (error instanceof HttpProblem) throw badInput([{ pointer: `/photos/${id}`, detail: 'isn’t an image' }]);
      throw error;
    }
  }
  return kept;
}

/** A unit that names the photos by their ids here; those that didn't come with it are left out. */
function withPhotos(unit: NewUnit, kept: ReadonlyMap<string, string>): NewUnit {
  const next = structuredClone(unit);
  for (const { fitting } of [...next.axles.flatMap((a) => a.wheels), ...next.spares.map((s) => s.wheel)]) {
    if (fitting?.photos) fitting.photos = fitting.photos.flatMap((id) => kept.get(id) ?? []);
  }
  return next;
}

/** Rigs as documents of their own, in and out. */
export function exchangeHandlers(
  db: Knex,
  change: ChangeRecords,
  photos: PhotoStore,
  now: () => number,
): Pick<Handlers, 'rigSchema' | 'rig.export' | 'rigs.previewImport' | 'rigs.import'> {
  return {
    async rigSchema({ res }) {
      res.type('application/schema+json').send(await published('rig.schema.json'));
      return WRITTEN;
    },
    async 'rig.export'({ params, res }) {
      const { doc, ids } = await reading(db, (raw) => {
        const rig = getRecord<Rig>(raw, 'rigs', params.rig);
        const units = rig.unitIds.map((id) => getRecord<Unit>(raw, 'units', id));
        const monitor = listRecords<Monitor>(raw, 'monitors').find((m) => m.id === rig.monitorId) ?? null;
        return { doc: exportRig(rig, units, monitor), ids: [...units.flatMap(photosOf), ...logPhotosOf(rig)] };
      });
      res.attachment(`${doc.rig.name.replace(/[^\p{L}\p{N}]+/gu, '-').toLowerCase()}.rig.json`);
      if (ids.length === 0) return doc;
      // Photo by photo, so that everybody else is answered in between.
      const text = async function* () {
        yield `${JSON.stringify(doc).slice(0, -1)},"photos":{`;
        let comma = '';
        for (const id of new Set(ids)) {
          // A photo whose file is gone is left out; the rig still goes.
          const photo = await photos.read(id).catch(() => null);
          if (!photo) continue;
          yield `${comma}${JSON.stringify(id)}:"${photo.toString('base64')}"`;
          comma = ',';
        }
        yield '}}';
      };
      res.type('json');
      // A fault half way destroys the answer, so that the client sees a broken transfer and not a short file.
      await pipeline(Readable.from(text()), res);
      return WRITTEN;
    },
    async 'rigs.previewImport'({ body }) {
      const doc = checked(body);
      return {
        name: doc.rig.name,
        units: doc.units.map((u) => ({
          name: u.name,
          wheels: u.axles.reduce((n, a) => n + a.wheels.length, u.spares.length),
          sensors: sensorsOf(u).filter((w) => w.wheel.sensor).length,
        })),
        monitor: doc.monitor?.name ?? null,
        photos: photosIn(doc).length,
        taken: await reading(db, (raw) => takenOf(raw, doc)),
      };
    },
    async 'rigs.import'({ query, body }) {
      const doc = checked(body);
      const kept = await keepPhotos(doc, photos);
      const rig = await change((raw) => {
        const at = new Date(now()).toISOString();
        const taken = takenOf(raw, doc);
        if (taken.length > 0 && query.sensors !== 'free') {
          throw badInput(
            taken.map((t) => ({ pointer: t.pointer, detail: `${t.sensorId} is already the sensor of ${t.by}` })),
            'A sensor can only be on one wheel',
          );
        }
        const ids = new Set(taken.map((t) => t.sensorId));
        const unitIds = doc.units.map((u) => {
          const free = withNewKeys(withoutSensors(u, (id) => ids.has(id)));
          return createUnit(raw, withPhotos(free, kept), at).id;
        });
        const known = doc.monitor && listRecords<Monitor>(raw, 'monitors').find((m) => sameMonitor(m, doc.monitor));
        const monitorId = doc.monitor === null ? null : (known?.id ?? createRecord<Monitor>(raw, 'monitors', doc.monitor, at).id);
        // Photos that didn't come with it are left out of the log too.
        const log = doc.rig.log?.map((e) => (e.photos ? { ...e, photos: e.photos.flatMap((id) => kept.get(id) ?? []) } : e));
        return createRecord<Rig>(raw, 'rigs', { ...doc.rig, ...(log ? { log } : {}), unitIds, monitorId }, at);
      });
      return new Reply(rig, { headers: { Location: `/api/rigs/${rig.id}` } });
    },
  };
}

/** The same description, whatever the order of its fields. */
function sameMonitor(
  { id: _id, version: _version, keyed: _keyed, keyedHotC: _hot, ...mine }: Monitor,
  other: RigExport['monitor'],
): boolean {
  const sorted = (o: object | null) => JSON.stringify(Object.entries(o ?? {}).sort(([a], [b]) => a.localeCompare(b)));
  return sorted(mine) === sorted(other);
}
