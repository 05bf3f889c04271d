import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import express from 'express';
import supertest from 'supertest';
import { afterAll, describe, expect, it } from 'vitest';
import { defaultDataFolder } from './data-folder.ts';
import { NONCE_MARK, pageRoutes } from './page.ts';

const folder = mkdtempSync(join(tmpdir(), 'druckwerk-page-'));
mkdirSync(join(folder, 'assets'));
writeFileSync(join(folder, 'index.html'), `<meta content="${NONCE_MARK}"><style nonce="${NONCE_MARK}"></style>`);
writeFileSync(join(folder, 'assets/a-1234.js'), 'x');
const http = supertest(express().use(pageRoutes(folder)));
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

  it('lets files with a hash in their name be kept', async () => {
    const res = await http.get('/assets/a-1234.js').expect(200);
    expect(res.headers['cache-control']).toContain('immutable');
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
