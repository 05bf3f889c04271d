import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Knex } from 'knex';
import { pino } from 'pino';
import supertest from 'supertest';
import type { Rig, Unit } from '#schema/unit.ts';
import { type App, createApp } from './app.ts';
import { checkAnswer } from './checked-answers.test-data.ts';
import { closeDatabase, openDatabase } from './db/open.ts';
import { carDocument } from './testing-documents.ts';

/** A server on a real file in a folder of its own, for tests. */
export interface TestServer {
  app: App;
  db: Knex;
  http: ReturnType<typeof supertest>;
  folder: string;
  /** The wall clock of this server; tests move it. */
  clock: { ms: number };
  /** Open the same file again as after a stop; with `gently: false` as after a kill. */
  restart(): Promise<TestServer>;
  close(): Promise<void>;
}

export const T0 = Date.UTC(2026, 4, 1, 8, 0, 0);

/** An empty file with all its tables, made once for all tests of a process: making them takes longer than most tests do. */
let emptyFile: Promise<Buffer> | undefined;

async function makeEmptyFile(): Promise<Buffer> {
  const folder = mkdtempSync(join(tmpdir(), 'druckwerk-empty-'));
  const file = join(folder, 'druckwerk.sqlite');
  await closeDatabase(await openDatabase(file));
  const bytes = readFileSync(file);
  rmSync(folder, { recursive: true, force: true });
  return bytes;
}

/** @param checked false: answers are not compared with their schemas, which takes seconds to prepare for some of them */
export async function testServer(folder?: string, clock = { ms: T0 }, checked = true): Promise<TestServer> {
  if (folder === undefined) {
    folder = mkdtempSync(join(tmpdir(), 'druckwerk-'));
    emptyFile ??= makeEmptyFile();
    writeFileSync(join(folder, 'druckwerk.sqlite'), await emptyFile);
  }
  return openServer(folder, clock, checked);
}

async function openServer(folder: string, clock: { ms: number }, checked = true): Promise<TestServer> {
  const db = await openDatabase(join(folder, 'druckwerk.sqlite'));
  const app = await createApp({
    db,
    log: pino({ level: 'silent' }),
    now: () => clock.ms,
    folder,
    // A test says so when it asks from elsewhere.
    isLocal: (req) => req.headers['x-elsewhere'] === undefined,
    ...(checked ? { checkAnswer } : {}),
  });
  return {
    app,
    db,
    http: supertest(app.express),
    folder,
    clock,
    async restart() {
      app.hub.close();
      await closeDatabase(db);
      return openServer(folder, clock);
    },
    async close() {
      app.hub.close();
      await closeDatabase(db);
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** Make the car and a rig of it. */
export async function makeCar(server: TestServer, ids?: string[]): Promise<{ unit: Unit; rig: Rig }> {
  const unit = (await server.http.post('/api/units').send(carDocument(ids)).expect(201)).body as Unit;
  const rig = (
    await server.http
      .post('/api/rigs')
      .send({ name: 'Errand', unitIds: [unit.id], loadState: 'loaded' })
      .expect(201)
  ).body as Rig;
  return { unit, rig };
}

/** Move a server's clock on to the last of these readings, as it is when they arrive. */
export function moveOn(server: TestServer, readings: readonly { time?: string; ms?: number }[]): void {
  for (const r of readings) server.clock.ms = Math.max(server.clock.ms, r.ms ?? Date.parse(r.time ?? ''));
}

/** A reading so many seconds after T0. */
export const readingAt = (sensorId: string, seconds: number, pressureKpa = 250, tempC = 20) => ({
  sensorId,
  time: new Date(T0 + seconds * 1000).toISOString(),
  pressureKpa,
  tempC,
});
