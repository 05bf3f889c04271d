import { spawn, spawnSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';

let folder = '';
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'druckwerk-quick-'));
  copyFileSync(join(import.meta.dirname, 'quick-start.mjs'), join(folder, 'server.mjs'));
  writeFileSync(
    join(folder, 'server.cjs'),
    `(function (module, require, __import, __url, __folder) {
      module.exports.serve = async () => {
        const { sep } = await __import('node:path');
        console.log([typeof require('node:fs').statSync, sep, __url.startsWith('file:'), __folder].join(' '));
      };
    })`,
  );
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const start = (env: Record<string, string> = {}) =>
  spawnSync(process.execPath, [join(folder, 'server.mjs')], { env: { ...process.env, ...env }, encoding: 'utf8' });
const said = () => `function / true ${folder}\n`;

it('starts without kept code, with spoiled code', () => {
  const kept = join(folder, 'server.code');
  for (const code of [null, 'spoiled', Buffer.alloc(5000, 7)]) {
    if (code !== null) writeFileSync(kept, code);
    const { stdout, stderr, status } = start();
    expect([stdout, stderr, status]).toEqual([said(), '', 0]);
  }
});

it('keeps the code once it has answered what a page asks first, and starts with it', async () => {
  const asked: string[] = [];
  const answering = createServer((req, res) => {
    asked.push(req.url ?? '');
    res.end();
  }).listen(0, '127.0.0.1');
  await new Promise((done) => answering.once('listening', done));
  const PORT = String((answering.address() as AddressInfo).port);
  const first = spawn(process.execPath, [join(folder, 'server.mjs')], {
    env: { ...process.env, PORT, DRUCKWERK_KEEP_CODE: '1' },
  });
  expect(await new Promise((done) => first.once('exit', done))).toBe(0);
  answering.close();
  expect(asked).toEqual(['/', '/api/health', '/api/rigs', '/api/units', '/api/monitors']);
  expect(statSync(join(folder, 'server.code')).size).toBeGreaterThan(100);
  const before = readFileSync(join(folder, 'server.code'));
  expect(start().stdout).toBe(said());
  expect(readFileSync(join(folder, 'server.code')).equals(before)).toBe(true);
});
