import { mkdirSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { pino } from 'pino';
import { type App, createApp } from './app.ts';
import { defaultDataFolder } from './data-folder.ts';
import { openDatabase } from './db/open.ts';
import { ensureStandIns } from './records/stand-ins.ts';
import { extraHosts } from './security.ts';

/**
 * Start the server and print its address.
 * @param prepare what is done before it listens, such as loading the demo world
 */
export async function serve(prepare?: (app: App) => Promise<void>): Promise<void> {
  const started = Date.now();
  const log = pino({ level: process.env.DRUCKWERK_LOG ?? 'warn' });
  const folder = resolve(defaultDataFolder());
  mkdirSync(folder, { recursive: true });
  const db = await openDatabase(join(folder, 'druckwerk.sqlite'));
  const host = process.env.HOST ?? '127.0.0.1';
  const port = Number(process.env.PORT ?? 4600);
  const app = await createApp({
    db,
    log,
    photoFolder: join(folder, 'photos'),
    webFolder: process.env.DRUCKWERK_WEB ?? join(import.meta.dirname, 'web'),
    hosts: extraHosts(process.env),
  });
  await app.watch.changeRecords((raw) => ensureStandIns(raw, new Date().toISOString()));
  await prepare?.(app);
  app.start();

  const server = app.express.listen(port, host);
  // A file of hundreds of megabytes may take longer to come in than the five minutes that are usual.
  server.requestTimeout = 3_600_000;
  server.on('listening', () => {
    const address = server.address();
    const shown = typeof address === 'object' && address ? address.port : port;
    console.log(`Data: ${folder}`);
    console.log(
      `Druckwerk is at http://${host.includes(':') ? `[${host}]` : host}:${shown}/ (ready in ${((Date.now() - started) / 1000).toFixed(1)} s)`,
    );
  });
  server.on('error', (error: NodeJS.ErrnoException) => {
    const text =
      error.code === 'EADDRINUSE'
        ? `Port ${port} is taken. Stop what uses it, or choose another: PORT=4700 npm start`
        : `The server could not start: ${error.message}`;
    console.error(text);
    process.exit(1);
  });

  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    server.close();
    await app.stop();
    server.closeAllConnections();
    await db.destroy();
    process.exit(0);
  };
  process.on('SIGINT', () => void stop());
  process.on('SIGTERM', () => void stop());
}
