import type { Server } from 'node:http';
import { join, resolve } from 'node:path';
import { pino } from 'pino';
import { type App, createApp } from './app.ts';
import { defaultDataFolder } from './data-folder.ts';
import { closeDatabase } from './db/open.ts';
import { ensureStandIns } from './records/stand-ins.ts';
import { extraHosts } from './security.ts';
import { listenFailure, portOf, StartFailure } from './world/failures.ts';
import { openWorld } from './world/world.ts';

/** What is running is given this long to finish when the server is stopped, ms. */
const FINISH_MS = 10_000;

/**
 * Start the server and print its address. A known failure is said in two sentences, with an exit code of its own.
 * @param prepare what is done before it listens, such as loading the demo world
 */
export async function serve(prepare?: (app: App) => Promise<void>): Promise<void> {
  try {
    await start(prepare);
  } catch (error) {
    if (!(error instanceof StartFailure)) throw error;
    console.error(error.message);
    process.exit(error.exitCode);
  }
}

async function start(prepare?: (app: App) => Promise<void>): Promise<void> {
  const started = Date.now();
  const log = pino({ level: process.env.DRUCKWERK_LOG ?? 'warn' });
  const folder = resolve(defaultDataFolder());
  const host = process.env.HOST ?? '127.0.0.1';
  const port = portOf(process.env.PORT);
  const { db, release } = await openWorld(folder);
  const app = await createApp({
    db,
    log,
    folder,
    webFolder: process.env.DRUCKWERK_WEB ?? join(import.meta.dirname, 'web'),
    hosts: extraHosts(process.env),
    // The port beside its own, so that a phone's bookmark stays good.
    networkPort: port === 0 ? 0 : Math.min(65_535, port + 1),
    https: process.argv.includes('--https') || process.env.DRUCKWERK_HTTPS === '1',
  });
  await app.watch.changeRecords((raw) => ensureStandIns(raw, new Date().toISOString()));
  await prepare?.(app);

  const server = await listen(app, host, port);
  app.start();
  const address = server.address();
  const shown = typeof address === 'object' && address ? address.port : port;
  console.log(`Data: ${folder}`);
  console.log(
    `Druckwerk is at http://${host.includes(':') ? `[${host}]` : host}:${shown}/ (ready in ${((Date.now() - started) / 1000).toFixed(1)} s)`,
  );

  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    // Streams end at once; requests that are running are finished.
    app.hub.close();
    await Promise.race([
      new Promise<void>((done) => {
        server.close(() => done());
        server.closeIdleConnections();
      }),
      new Promise<void>((late) => setTimeout(late, FINISH_MS).unref()),
    ]);
    server.closeAllConnections();
    await app.stop();
    await closeDatabase(db);
    release();
    process.exit(0);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => void stop());
}

/** @throws StartFailure when the port or address can't be had */
function listen(app: App, host: string, port: number): Promise<Server> {
  return new Promise((done, failed) => {
    const server = app.express.listen(port, host);
    // A file of hundreds of megabytes may take longer to come in than the five minutes that are usual.
    server.requestTimeout = 3_600_000;
    server.once('listening', () => done(server));
    server.once('error', (error: NodeJS.ErrnoException) => failed(listenFailure(error, host, port) ?? error));
  });
}
