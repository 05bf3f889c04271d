import { type ChildProcess, spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from 'esbuild';
import { afterAll, afterEach, beforeAll, beforeEach } from 'vitest';
import { serverBundle } from '../../scripts/server-bundle.mjs';

export interface Ended {
  code: number | null;
  err: string;
}
export interface Running {
  child: ChildProcess;
  url: string;
  /** Resolves when it has ended. */
  ended: Promise<Ended>;
}

const root = join(import.meta.dirname, '../..');

/** The server as it is shipped, in processes of its own on a new data folder for each test; for a file of tests. */
export function shippedServer() {
  // In one file: a process of it is up in half the time.
  const start = join(root, 'dist', `server-${process.pid}.mjs`);
  const command = start.replace('server-', 'backup-');
  /** Pages are of no matter here. */
  const pages = mkdtempSync(join(tmpdir(), 'druckwerk-pages-'));
  chmodSync(pages, 0o755);
  writeFileSync(join(pages, 'index.html'), '<!doctype html>');
  const children: ChildProcess[] = [];

  beforeAll(() =>
    build({
      entryPoints: {
        [`server-${process.pid}`]: join(root, 'server/start.ts'),
        [`backup-${process.pid}`]: join(root, 'server/backup/command.ts'),
      },
      outdir: join(root, 'dist'),
      outExtension: { '.js': '.mjs' },
      ...serverBundle,
    }),
  );
  beforeEach(() => {
    shipped.folder = mkdtempSync(join(tmpdir(), 'druckwerk-world-'));
  });
  afterEach(() => {
    for (const c of children.splice(0)) c.kill('SIGKILL');
    rmSync(shipped.folder, { recursive: true, force: true });
  });
  afterAll(() => {
    for (const f of [start, command, pages]) rmSync(f, { recursive: true, force: true });
  });

  const shipped = {
    /** The data folder of the test that runs. */
    folder: '',
    /** The backup command. */
    command,
    /** Start it; resolves when it listens or has ended. */
    launch(env: Record<string, string>, options: { uid?: number } = {}): Promise<Running | Ended> {
      const child = spawn(process.execPath, [start], {
        cwd: root,
        env: { ...process.env, PORT: '0', DRUCKWERK_DATA: shipped.folder, DRUCKWERK_WEB: pages, ...env },
        ...options,
      });
      children.push(child);
      let err = '';
      child.stderr?.on('data', (d) => {
        err += d;
      });
      const ended = new Promise<Ended>((done) => child.on('close', (code) => done({ code, err })));
      const up = new Promise<Running>((done) => {
        child.stdout?.on('data', (d) => {
          const url = /Druckwerk is at (http:\S+)\//.exec(String(d))?.[1];
          if (url) done({ child, url, ended });
        });
      });
      return Promise.race([up, ended]);
    },
    /** Start it. @throws when it ends instead */
    async running(env: Record<string, string> = {}): Promise<Running> {
      const started = await shipped.launch(env);
      if ('code' in started) throw new Error(`It ended: ${started.err}`);
      return started;
    },
  };
  return shipped;
}
