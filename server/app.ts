import compression from 'compression';
import express, { type Express, Router } from 'express';
import helmet from 'helmet';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { BenchCommand } from '#schema/bench.ts';
import { explain } from '#schema/explain.ts';
import type { Monitor, NewMonitor } from '#schema/monitor.ts';
import type { NewRig, NewUnit, Rig, Unit } from '#schema/unit.ts';
import { type Validator, validators } from '../generated/records.js';
import { BenchService } from './bench/service.ts';
import { runOperation } from './calc/run.ts';
import { inTransaction } from './db/open.ts';
import { LiveHub } from './live/hub.ts';
import { openApi } from './openapi.ts';
import { BUILD_HEADER, buildOf, pageRoutes } from './page.ts';
import { photoRoutes } from './photos.ts';
import { badInput, notFound } from './problem.ts';
import { problemHandler } from './problem-handler.ts';
import { fileRoutes } from './readings/files.ts';
import { readingRoutes } from './readings/routes.ts';
import { timeParam } from './readings/times.ts';
import { exchangeRoutes } from './records/exchange.ts';
import { reportRoutes } from './records/reports.ts';
import {
  createRecord,
  deleteRecord,
  getRecord,
  listRecords,
  type RecordTable,
  replaceRecord,
  restoreRecord,
  type Stored,
} from './records/store.ts';
import { checkRig, createUnit, deleteUnit, replaceUnit, restoreUnit } from './records/units.ts';
import { sameSiteOnly } from './security.ts';
import { watchRoutes } from './watch/routes.ts';
import { WatchService } from './watch/service.ts';

/** How one kind of document is kept. */
interface RecordKind {
  table: RecordTable;
  create: Validator;
  /** Checks a whole document, with id and version. */
  replace: (value: unknown) => void;
  onCreate: (raw: RawDatabase, doc: never, now: string) => Stored;
  onReplace: (raw: RawDatabase, doc: never, now: string) => Stored;
  onDelete: (raw: RawDatabase, id: string, now: string) => void;
  onRestore: (raw: RawDatabase, id: string) => Stored;
}
type RawDatabase = Parameters<typeof listRecords>[0];

export interface AppOptions {
  db: Knex;
  log: Logger;
  /** Folder of the built pages; none: the interface is not served. */
  webFolder?: string | undefined;
  /** Folder of the photos; none: there are no photos. */
  photoFolder?: string | undefined;
  /** Host names to answer to besides loopback. */
  hosts?: readonly string[];
  /** Wall clock, ms since the epoch. */
  now?: () => number;
}

export interface App {
  express: Express;
  watch: WatchService;
  bench: BenchService;
  hub: LiveHub;
  /** Start what runs by the clock. */
  start(): void;
  /** Stop it and put down what is in hand. */
  stop(): Promise<void>;
}

/** @throws HttpProblem 400 at every field that is wrong */
function mustBe(valid: Validator, value: unknown): void {
  if (!valid(value)) throw badInput(explain(valid.errors));
}

const kinds: Record<string, RecordKind> = {
  units: {
    table: 'units',
    create: validators.newUnit,
    replace: (value) => mustBe(validators.unit, value),
    onCreate: (raw, doc: NewUnit, now) => createUnit(raw, doc, now),
    onReplace: (raw, doc: Unit, now) => replaceUnit(raw, doc, now),
    onDelete: deleteUnit,
    onRestore: restoreUnit,
  },
  rigs: {
    table: 'rigs',
    create: validators.newRig,
    replace: (value) => mustBe(validators.rig, value),
    onCreate: (raw, doc: NewRig, now) => {
      checkRig(raw, doc);
      return createRecord<Rig>(raw, 'rigs', doc, now);
    },
    onReplace: (raw, doc: Rig, now) => {
      checkRig(raw, doc);
      return replaceRecord<Rig>(raw, 'rigs', doc, now);
    },
    onDelete: (raw, id, now) => deleteRecord(raw, 'rigs', id, now),
    onRestore: (raw, id) => {
      const rig = restoreRecord<Rig>(raw, 'rigs', id);
      checkRig(raw, rig);
      return rig;
    },
  },
  monitors: {
    table: 'monitors',
    create: validators.newMonitor,
    replace: (value) => {
      const { id: _id, version: _version, ...rest } = value as Monitor;
      mustBe(validators.newMonitor, rest);
    },
    onCreate: (raw, doc: NewMonitor, now) => createRecord<Monitor>(raw, 'monitors', doc, now),
    onReplace: (raw, doc: Monitor, now) => replaceRecord<Monitor>(raw, 'monitors', doc, now),
    onDelete: (raw, id, now) => deleteRecord(raw, 'monitors', id, now),
    onRestore: (raw, id) => restoreRecord<Monitor>(raw, 'monitors', id),
  },
};

/** Everything the server is, without a port. */
export async function createApp(options: AppOptions): Promise<App> {
  const { db, log } = options;
  const now = options.now ?? Date.now;
  const hub = new LiveHub();
  const watch = new WatchService(db, hub, now);
  await watch.load();
  const bench = new BenchService(db, watch, hub, now, log);
  await bench.load();

  const app = express();
  app.disable('x-powered-by');
  app.set('query parser', 'simple');
  app.use(pinoHttp({ logger: log, autoLogging: false, quietReqLogger: true }));
  app.use(sameSiteOnly(options.hosts));
  app.use(
    helmet({
      contentSecurityPolicy: false,
      strictTransportSecurity: false,
      crossOriginEmbedderPolicy: false,
    }),
  );
  app.use(
    compression({
      filter: (req, res) =>
        !String(res.getHeader('Content-Type') ?? '').startsWith('text/event-stream') && compression.filter(req, res),
    }),
  );

  const api = Router();
  const build = options.webFolder && buildOf(options.webFolder);
  api.use((_req, res, next) => {
    res.setHeader('Cache-Control', 'no-store');
    if (build) res.setHeader(BUILD_HEADER, build);
    next();
  });
  api.get('/health', (_req, res) => {
    res.json({ status: 'ok' });
  });
  const description = openApi();
  api.get('/openapi.json', (_req, res) => {
    res.json(description);
  });
  api.post('/calc/:operation', express.json({ limit: 10_000_000, strict: false, type: () => true }), (req, res) => {
    res.json(runOperation(req.params.operation as string, req.body));
  });
  api.use(readingRoutes(db, watch, now));
  api.use(watchRoutes(db, watch));
  api.use(fileRoutes(db, watch, hub, now));
  api.use(reportRoutes(db, now));
  if (options.photoFolder) api.use(photoRoutes(options.photoFolder));

  const small = express.json({ limit: 1_000_000, strict: false });
  const changed = async <T>(work: (raw: RawDatabase) => T): Promise<T> => {
    const result = await watch.changeRecords(work);
    bench.followAll();
    return result;
  };
  api.use(exchangeRoutes(db, changed, now));
  for (const [path, kind] of Object.entries(kinds)) {
    const nowIso = () => new Date(now()).toISOString();
    api.get(`/${path}`, async (_req, res) => {
      res.json(await inTransaction(db, (raw) => listRecords(raw, kind.table)));
    });
    api.post(`/${path}`, small, async (req, res) => {
      mustBe(kind.create, req.body);
      const doc = await changed((raw) => kind.onCreate(raw, req.body as never, nowIso()));
      res.status(201).location(`/api/${path}/${doc.id}`).json(doc);
    });
    api.get(`/${path}/:id`, async (req, res) => {
      res.json(await inTransaction(db, (raw) => getRecord(raw, kind.table, req.params.id)));
    });
    api.put(`/${path}/:id`, small, async (req, res) => {
      const body: unknown = req.body;
      if (typeof body !== 'object' || body === null || Array.isArray(body))
        throw badInput([{ pointer: '', detail: 'must be an object' }]);
      const doc = { id: req.params.id, ...body } as Stored;
      if (doc.id !== req.params.id) throw badInput([{ pointer: '/id', detail: 'is not the id of the address' }]);
      if (!Number.isInteger(doc.version))
        throw badInput([{ pointer: '/version', detail: 'is missing: send the version you read' }]);
      kind.replace(doc);
      res.json(await changed((raw) => kind.onReplace(raw, doc as never, nowIso())));
    });
    api.delete(`/${path}/:id`, async (req, res) => {
      await changed((raw) => kind.onDelete(raw, req.params.id, nowIso()));
      res.status(204).end();
    });
    api.post(`/${path}/:id/restore`, async (req, res) => {
      res.json(await changed((raw) => kind.onRestore(raw, req.params.id)));
    });
  }

  api.get('/rigs/:rig/watch', (req, res) => {
    res.json(watch.view(req.params.rig));
  });
  api.post('/rigs/:rig/silence', small, async (req, res) => {
    mustBe(validators.silence, req.body);
    res.json(await watch.silence(req.params.rig as string, (req.body as { minutes: number }).minutes));
  });
  api.get('/rigs/:rig/alarms', async (req, res) => {
    const limit = req.query.limit === undefined ? 200 : Number(req.query.limit);
    if (!Number.isInteger(limit) || limit < 1 || limit > 5000)
      throw badInput([{ pointer: '/limit', detail: 'must be a whole number from 1 to 5000' }]);
    res.json(
      await watch.alarms(req.params.rig, {
        active: req.query.active === 'true',
        limit,
        fromMs: timeParam(req.query.from, 'from'),
        toMs: timeParam(req.query.to, 'to'),
      }),
    );
  });
  api.post('/rigs/:rig/alarms/:alarm/acknowledge', async (req, res) => {
    res.json(await watch.acknowledge(req.params.rig, req.params.alarm));
  });
  api.get('/rigs/:rig/live', (req, res) => {
    if (!watch.has(req.params.rig)) throw notFound('rig');
    hub.add(req.params.rig, res);
  });
  api.get('/rigs/:rig/bench', (req, res) => {
    if (!watch.has(req.params.rig)) throw notFound('rig');
    res.json(bench.view(req.params.rig));
  });
  api.post('/rigs/:rig/bench', small, async (req, res) => {
    const rigId = req.params.rig as string;
    if (!watch.has(rigId)) throw notFound('rig');
    mustBe(validators.benchCommand, req.body);
    res.json(await bench.command(rigId, req.body as BenchCommand));
  });
  api.use((req) => {
    throw notFound(`route as ${req.method} /api${req.path}`);
  });
  app.use('/api', api);
  if (options.webFolder) app.use(pageRoutes(options.webFolder));
  app.use(problemHandler(log));

  let ticker: NodeJS.Timeout | null = null;
  let ticking = false;
  return {
    express: app,
    watch,
    bench,
    hub,
    start() {
      bench.start();
      ticker = setInterval(async () => {
        if (ticking) return;
        ticking = true;
        try {
          for (const rigId of watch.wallRigs()) await watch.tick(rigId);
        } catch (err) {
          log.error({ err }, 'watch tick failed');
        }
        ticking = false;
      }, 5000);
    },
    async stop() {
      if (ticker) clearInterval(ticker);
      await bench.stop();
      hub.close();
    },
  };
}
