import type { IncomingMessage } from 'node:http';
import { join } from 'node:path';
import { constants } from 'node:zlib';
import compression from 'compression';
import express, { type Express, type Request, type Response, Router } from 'express';
import helmet from 'helmet';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { BackupService, backupHandlers } from './backup/service.ts';
import { BenchService } from './bench/service.ts';
import { calcRoute } from './calc/route.ts';
import { calendarHandlers } from './calendar/routes.ts';
import { onDisk, storageFailure, tryStoring } from './db/open.ts';
import { isLoopback, mustBeAllowed, mustRead, whoAsks } from './devices/access.ts';
import { Devices } from './devices/devices.ts';
import { Network, ownNames } from './devices/network.ts';
import { deviceHandlers } from './devices/routes.ts';
import { GatewayService, gatewayHandlers } from './gateway/service.ts';
import { LiveHub } from './live/hub.ts';
import { logHandlers } from './log/routes.ts';
import { LoopWatch } from './loop.ts';
import { BUILD_HEADER, buildOf, pageRoutes } from './page.ts';
import { PhotoStore, photoHandlers } from './photos.ts';
import { HttpProblem, notFound } from './problem.ts';
import { problemHandler } from './problem-handler.ts';
import { published } from './published.ts';
import { fileHandlers } from './readings/files.ts';
import { readingHandlers } from './readings/routes.ts';
import { exchangeHandlers } from './records/exchange.ts';
import { reportHandlers } from './records/reports.ts';
import { type ChangeRecords, recordHandlers } from './records/routes.ts';
import { freeBytes } from './room.ts';
import { type AnswerCheck, routerOf, WRITTEN } from './routing.ts';
import { sameSiteOnly, stalledBodies } from './security.ts';
import { watchHandlers } from './watch/routes.ts';
import { WatchService } from './watch/service.ts';

const NO_PERMISSIONS = 'camera=(), geolocation=(), microphone=(), payment=(), usb=()';

/** Photos that nothing names any more are looked for this often, ms. */
const SWEEP_MS = 3_600_000;

export interface AppOptions {
  db: Knex;
  log: Logger;
  /** Folder of the built pages; none: the interface is not served. */
  webFolder?: string | undefined;
  /** The data folder. */
  folder: string;
  /** Host names to answer to besides loopback. */
  hosts?: readonly string[];
  /** Called with every JSON answer before it is sent: tests hold it against its schema. */
  checkAnswer?: AnswerCheck;
  /** The home network's listener: its port (0: any), and whether it is encrypted. */
  networkPort?: number;
  https?: boolean;
  /** Whether a request comes from this machine; tests say otherwise. */
  isLocal?: (req: IncomingMessage) => boolean;
  /** Wall clock, ms since the epoch. */
  now?: () => number;
}

export interface App {
  express: Express;
  watch: WatchService;
  bench: BenchService;
  photos: PhotoStore;
  hub: LiveHub;
  backups: BackupService;
  gateway: GatewayService;
  network: Network;
  devices: Devices;
  /** Start what runs by the clock. */
  start(): void;
  /** Stop it and put down what is in hand. */
  stop(): Promise<void>;
}

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
  app.use(stalledBodies());
  const isLocal = options.isLocal ?? isLoopback;
  const devices = new Devices(db, now);
  await devices.load();
  const network = new Network(db, app, { folder: options.folder, port: options.networkPort ?? 0, https: options.https ?? false });
  app.use(sameSiteOnly(options.hosts, () => (network.on ? ownNames() : [])));
  app.use(whoAsks(devices, isLocal));
  app.use(
    helmet({
      contentSecurityPolicy: false,
      strictTransportSecurity: false,
      crossOriginEmbedderPolicy: false,
    }),
  );
  // What stays on this machine goes no way at all: packing and unpacking it would only take time.
  const filter = (req: Request, res: Response): boolean =>
    !isLocal(req) && !String(res.getHeader('Content-Type') ?? '').startsWith('text/event-stream') && compression.filter(req, res);
  // What is asked again and again goes over a short way: there the time that packing takes counts for more than the size.
  const light = { level: 1, brotli: { params: { [constants.BROTLI_PARAM_QUALITY]: 1 } } };
  const packers = [compression({ filter, ...light }), compression({ filter })] as const;
  app.use((req, res, next) => packers[/^\/api(\/|$)/.test(req.path) ? 0 : 1](req, res, next));

  const api = Router();
  const build = options.webFolder && buildOf(options.webFolder);
  api.use((_req, res, next) => {
    res.setHeader('Cache-Control', 'no-store');
    // What is sent here is never a page, whatever it is opened as.
    res.setHeader('Content-Security-Policy', "default-src 'none'; frame-ancestors 'none'");
    res.setHeader('Permissions-Policy', NO_PERMISSIONS);
    if (build) res.setHeader(BUILD_HEADER, build);
    next();
  });
  // Calculations know nothing of the owner's data, but are for those who may be here.
  api.use('/calc', (req, _res, next) => {
    mustRead(req, isLocal(req));
    next();
  });
  api.post('/calc/:operation', ...calcRoute());
  api.all('/calc/:operation', (req, res) => {
    res.setHeader('Allow', 'POST');
    throw new HttpProblem(405, `${req.method} is not a method of this address`, { detail: 'Use POST.' });
  });
  const change: ChangeRecords = async (work) => {
    const result = await watch.changeRecords(work);
    bench.followAll();
    return result;
  };
  const photos = new PhotoStore(join(options.folder, 'photos'));
  const backups = new BackupService(options.folder, db, now, log, {
    async pause() {
      await gateway.stop();
      await bench.pause();
      await watch.idle();
      watch.putDown();
    },
    async begin() {
      await watch.load();
      await bench.load();
      bench.resume();
      await devices.keep();
      await gateway.start();
      // Every page asks for everything again.
      hub.again();
    },
  });
  const loop = new LoopWatch();
  const gateway = new GatewayService(db, watch, hub, now, log);
  api.use(
    routerOf(
      {
        async health() {
          const failed = storageFailure(db) && (await tryStoring(db));
          const last = backups.lastMs;
          return {
            status: 'ok',
            canStore: failed === null,
            problem: failed?.standing ?? null,
            freeBytes: await freeBytes(options.folder),
            lastBackup: last === null ? null : new Date(last).toISOString(),
            loopDelayMs: loop.read(),
            streams: hub.size,
            waiting: watch.waiting,
          };
        },
        async openApi({ res }) {
          res.type('application/json').send(await published('openapi.json'));
          return WRITTEN;
        },
        ...recordHandlers(db, change, now),
        ...exchangeHandlers(db, change, photos, now),
        ...readingHandlers(db, watch, now),
        ...fileHandlers(db, watch, hub, now),
        ...watchHandlers(db, watch, hub),
        ...reportHandlers(db, now),
        ...calendarHandlers(db, now),
        ...logHandlers(db, now),
        ...photoHandlers(photos),
        ...backupHandlers(backups),
        ...gatewayHandlers(gateway),
        ...deviceHandlers(devices, network, hub, isLocal),
        bench({ params }) {
          if (!watch.has(params.rig)) throw notFound('rig');
          return bench.view(params.rig);
        },
        benchCommand({ params, body }) {
          if (!watch.has(params.rig)) throw notFound('rig');
          return bench.command(params.rig, body);
        },
      },
      {
        check: options.checkAnswer,
        gate: (name, method, req) => mustBeAllowed(name, method, req, isLocal(req)),
        stored: () => onDisk(db),
      },
    ),
  );
  api.use((req) => {
    throw notFound(`route as ${req.method} /api${req.path}`);
  });
  app.use('/api', api);
  if (options.webFolder) app.use(pageRoutes(options.webFolder, (rigId) => (watch.has(rigId) ? hub.expect(rigId) : null)));
  app.use((req) => {
    throw new HttpProblem(404, `There is no ${req.method} at this address`);
  });
  app.use(problemHandler(log));

  let ticker: NodeJS.Timeout | null = null;
  let sweeper: NodeJS.Timeout | null = null;
  const sweep = () => photos.sweep(db, now()).catch((err) => log.error({ err }, 'photos could not be tidied'));
  let ticking = false;
  return {
    express: app,
    watch,
    bench,
    photos,
    hub,
    backups,
    gateway,
    network,
    devices,
    start() {
      loop.start();
      backups.start();
      void network.start().catch((err) => log.error({ err }, 'the home network could not be opened'));
      void gateway.start().catch((err) => log.error({ err }, 'the gateway could not be started'));
      bench.start();
      void sweep();
      sweeper = setInterval(sweep, SWEEP_MS);
      sweeper.unref();
      ticker = setInterval(async () => {
        if (ticking) return;
        ticking = true;
        await watch.tickAll((err, rigId) => log.error({ err, rigId }, 'watch tick failed'));
        ticking = false;
      }, 5000);
    },
    async stop() {
      if (ticker) clearInterval(ticker);
      if (sweeper) clearInterval(sweeper);
      loop.stop();
      await network.stop();
      await gateway.stop();
      hub.close();
      await backups.stop();
      await bench.stop();
      await watch.idle();
    },
  };
}
