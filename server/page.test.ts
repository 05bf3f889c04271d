import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliCompressSync } from 'node:zlib';
import express from 'express';
import { pino } from 'pino';
import supertest from 'supertest';
import { afterAll, describe, expect, it } from 'vitest';
import { defaultDataFolder } from './data-folder.ts';
import { BUILD_MARK, buildOf, LIVE_MARK, NONCE_MARK, pageRoutes } from './page.ts';
import { problemHandler } from './problem-handler.ts';

const folder = mkdtempSync(join(tmpdir(), 'druckwerk-page-'));
mkdirSync(join(folder, 'assets'));
writeFileSync(
  join(folder, 'index.html'),
  `<meta content="${NONCE_MARK}"><style nonce="${NONCE_MARK}"></style><i>${BUILD_MARK}</i><u>${LIVE_MARK}</u>`,
);
writeFileSync(join(folder, 'assets/a-1234.js'), 'x');
writeFileSync(join(folder, 'assets/b-1234.js'), 'const long = 1;');
writeFileSync(join(folder, 'assets/b-1234.js.br'), brotliCompressSync('const packed = 1;'));
const http = supertest(
  express()
    .use(pageRoutes(folder, (rigId) => (rigId === 'a-1' ? 'x-7' : null)))
    .use(problemHandler(pino({ level: 'silent' }))),
);
afterAll(() => rmSync(folder, { recursive: true }));

describe('the page', () => {
  it('is sent for every address, each time with a nonce of its own that its policy names', async () => {
    const nonces = new Set<string>();
    for (const path of ['/', '/rigs/abc/watch', '/anything']) {
      const res = await http.get(path).expect(200);
      const nonce = /content="([^"]+)"/.exec(res.text)?.[1] as string;
      expect(res.text).not.toContain(NONCE_MARK);
      expect(res.headers['content-security-policy']).toContain(`style-src 'self' 'nonce-${nonce}'`);
      expect(res.headers['content-security-policy']).toContain("default-src 'none'");
      expect(res.headers['content-security-policy']).not.toContain('unsafe-eval');
      expect(res.headers['cache-control']).toBe('no-store');
      nonces.add(nonce);
    }
    expect(nonces.size).toBe(3);
  });

  it('says after which event of its rig it was sent, where there is such a rig', async () => {
    for (const [path, said] of [
      ['/rigs/a-1/watch', 'a-1 x-7'],
      ['/rigs/a-1', 'a-1 x-7'],
      ['/rigs/b-2/watch', ''],
      ['/rigs/%22%3E/watch', ''],
      ['/', ''],
      ['/learn/rigs/a-1', ''],
    ])
      expect((await http.get(path as string).expect(200)).text).toContain(`<u>${said}</u>`);
  });

  it('is sent in the same way when it is asked for by its file name', async () => {
    const res = await http.get('/index.html').expect(200);
    expect(res.text).not.toContain(NONCE_MARK);
    expect(res.headers['content-security-policy']).toContain("default-src 'none'");
  });

  it.each(['/assets/gone-1234.js', '/assets/gone', '/worker.js', '/rigs/abc/picture.png'])(
    'is not sent in place of %s',
    async (path) => {
      await http.get(path).expect(404);
    },
  );

  it('says which build it is of', async () => {
    expect((await http.get('/').expect(200)).text).toContain(`<i>${buildOf(folder)}</i>`);
    expect(buildOf(folder)).toMatch(/^[0-9a-f]{12}$/);
  });

  it('lets files with a hash in their name be kept', async () => {
    const res = await http.get('/assets/a-1234.js').expect(200);
    expect(res.headers['cache-control']).toContain('immutable');
  });

  it('sends what is packed already to those who take it, as the script that it is', async () => {
    const packed = await http.get('/assets/b-1234.js').set('Accept-Encoding', 'gzip, deflate, br').expect(200);
    expect(packed.headers).toMatchObject({
      'content-encoding': 'br',
      'content-type': 'text/javascript; charset=UTF-8',
      vary: 'Accept-Encoding',
      'cache-control': 'public, max-age=31536000, immutable',
    });
    expect(packed.text).toBe('const packed = 1;');
    const plain = await http.get('/assets/b-1234.js').set('Accept-Encoding', 'identity').expect(200);
    expect(plain.headers['content-encoding']).toBeUndefined();
    expect(plain.text).toBe('const long = 1;');
    // What the page's worker keeps it asks for by the file's own name.
    expect((await http.get('/shell.json').expect(200)).body.files).toEqual([
      '/assets/a-1234.js',
      '/assets/b-1234.js',
      '/icon.svg',
      '/manifest.webmanifest',
    ]);
  });

  it('gives no file outside its folder', async () => {
    const res = await http.get('/assets/..%2f..%2f..%2fetc/passwd');
    expect(res.text).not.toContain('root:');
  });
});

describe('the data folder', () => {
  it('is the one that was asked for, else one of the user’s', () => {
    expect(defaultDataFolder({ DRUCKWERK_DATA: '/srv/tires' }, 'linux')).toBe('/srv/tires');
    expect(defaultDataFolder({ XDG_DATA_HOME: '/x' }, 'linux')).toBe('/x/druckwerk');
    expect(defaultDataFolder({}, 'linux')).toMatch(/\.local\/share\/druckwerk$/);
    expect(defaultDataFolder({}, 'darwin')).toMatch(/Application Support\/Druckwerk$/);
    expect(defaultDataFolder({ LOCALAPPDATA: '/l' }, 'win32')).toMatch(/Druckwerk$/);
  });
});
