import { readFileSync } from 'node:fs';
import { get } from 'node:https';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { CodeAnswer, Device, Role } from '#schema/devices.ts';
import { type RouteName, routes } from '#schema/routes.ts';
import type { Rig } from '#schema/unit.ts';
import { makeCar, readingAt, type TestServer, testServer } from '../testing.ts';
import { ownAddresses } from './network.ts';

let s: TestServer;
let rig: Rig;
beforeEach(async () => {
  s = await testServer();
  ({ rig } = await makeCar(s));
});
afterEach(async () => {
  await s.app.network.stop();
  await s.close();
});

const code = async (role: Role = 'full', name = 'Phone'): Promise<string> =>
  ((await s.http.post('/api/devices/code').send({ name, role }).expect(200)).body as CodeAnswer).code;
const pair = (sent: string) => s.http.post('/api/devices/pair').set('X-Elsewhere', '1').send({ code: sent });
async function paired(role: Role, name?: string): Promise<{ token: string; device: Device; cookie: string }> {
  const res = await pair(await code(role, name)).expect(200);
  return { ...res.body, cookie: String(res.headers['set-cookie']) };
}
/** A request from the home network. */
const elsewhere = (method: 'get' | 'post' | 'put' | 'delete', path: string, token?: string) => {
  const asked = s.http[method](path).set('X-Elsewhere', '1');
  return token === undefined ? asked : asked.set('Authorization', `Bearer ${token}`);
};

describe('a device that isn’t paired', () => {
  it('gets nothing of any route, whatever it sends', async () => {
    for (const name of Object.keys(routes) as RouteName[]) {
      if (name === 'pairDevice') continue;
      const { method, path } = routes[name];
      const res = await elsewhere(method, `/api${path.replaceAll(/\{\w+\}/g, rig.id)}`).send({});
      expect([name, res.status]).toEqual([name, 401]);
    }
    expect((await elsewhere('post', '/api/calc/units.convert').send({ value: 1, from: 'bar', to: 'psi' })).status).toBe(401);
    expect((await elsewhere('get', '/api/rigs', 'made-up')).status).toBe(401);
  });

  it('is paired by the code on the screen, once and within five minutes', async () => {
    const shown = await code();
    expect(shown).toMatch(/^\d{8}$/);
    const res = await pair(`${shown.slice(0, 4)} ${shown.slice(4)}`).expect(200);
    expect(res.body.device).toMatchObject({ name: 'Phone', role: 'full' });
    expect(String(res.headers['set-cookie'])).toMatch(
      /^druckwerk=[\w-]{43}; Max-Age=\d+; Path=\/; Expires=[^;]+; HttpOnly; SameSite=Strict$/,
    );
    await elsewhere('get', '/api/rigs', res.body.token).expect(200);
    await s.http.get('/api/rigs').set('X-Elsewhere', '1').set('Cookie', `a=b; druckwerk=${res.body.token}`).expect(200);
    await pair(shown).expect(403);
    const old = await code();
    s.clock.ms += 5 * 60_000 + 1;
    await pair(old).expect(403);
  });

  it('can’t guess: five wrong codes a minute from wherever, ten void the code', async () => {
    const shown = await code();
    const wrong = shown === '00000000' ? '11111111' : '00000000';
    for (let i = 0; i < 5; i += 1) await pair(wrong).expect(403);
    const res = await pair(shown).expect(429);
    expect(res.headers['retry-after']).toBe('60');
    s.clock.ms += 60_001;
    for (let i = 0; i < 5; i += 1) await pair(wrong).expect(403);
    s.clock.ms += 60_001;
    await pair(shown).expect(403);
  });

  it('can’t make a code for itself, nor switch the network on', async () => {
    const { token } = await paired('full');
    await elsewhere('post', '/api/devices/code', token).send({ name: 'x', role: 'full' }).expect(403);
    await elsewhere('put', '/api/network', token).send({ on: true }).expect(403);
  });
});

describe('roles', () => {
  it('full may do everything else; its changes carry its name', async () => {
    const { token } = await paired('full', 'Driver’s phone');
    await elsewhere('put', `/api/rigs/${rig.id}`, token)
      .send({ ...rig, name: 'By phone' })
      .expect(200);
    const versions = (await s.http.get(`/api/versions/rigs/${rig.id}`).expect(200)).body as { device: string | null }[];
    expect(versions.map((v) => v.device)).toEqual(['Driver’s phone', null]);
  });

  it('read sees all but backups, devices and the gateway; types and sends readings; changes nothing', async () => {
    const { token } = await paired('read');
    for (const path of ['rigs', `rigs/${rig.id}/watch`, `rigs/${rig.id}/alarms`, 'health', 'me'])
      await elsewhere('get', `/api/${path}`, token).expect(200);
    await elsewhere('post', `/api/rigs/${rig.id}/typed`, token)
      .send({ readings: [{ position: 'A1L', pressureKpa: 250, tempC: null }] })
      .expect(200);
    await elsewhere('post', '/api/readings', token)
      .send([readingAt('A00002', 0)])
      .expect(200);
    for (const path of ['backups', 'devices', 'gateway']) await elsewhere('get', `/api/${path}`, token).expect(403);
    await elsewhere('put', `/api/rigs/${rig.id}`, token)
      .send({ ...rig, name: 'x' })
      .expect(403);
    await elsewhere('delete', `/api/rigs/${rig.id}`, token).expect(403);
    await elsewhere('post', '/api/backups', token).expect(403);
    expect((await s.http.get(`/api/rigs/${rig.id}`).expect(200)).body.name).toBe('Errand');
  });

  it('readings sends readings and nothing else', async () => {
    const { token } = await paired('readings');
    await elsewhere('post', '/api/calc/units.convert', token).send({ value: 1, from: 'bar', to: 'psi' }).expect(403);
    await elsewhere('post', '/api/readings', token)
      .send([readingAt('A00001', 0)])
      .expect(200);
    for (const name of Object.keys(routes) as RouteName[]) {
      if (['ingest', 'health', 'me', 'pairDevice'].includes(name)) continue;
      const { method, path } = routes[name];
      const res = await elsewhere(method, `/api${path.replaceAll(/\{\w+\}/g, rig.id)}`, token).send({});
      expect([name, res.status]).toEqual([name, 403]);
    }
  });
});

it('an answer is packed on its way to a device, and not on this machine, where that only takes time', async () => {
  const { token } = await paired('read');
  const path = `/api/rigs/${rig.id}/watch`;
  expect((await elsewhere('get', path, token).expect(200)).headers['content-encoding']).toBeDefined();
  expect((await s.http.get(path).expect(200)).headers['content-encoding']).toBeUndefined();
});

describe('tokens', () => {
  it('are kept as hashes only, over a restart too, and are good for nothing once revoked, streams included', async () => {
    const { token, device } = await paired('full');
    const kept = JSON.stringify(await s.db('devices').select('*'));
    expect(kept).not.toContain(token);
    s = await s.restart();
    await elsewhere('get', '/api/rigs', token).expect(200);
    const listening = s.app.express.listen(0, '127.0.0.1');
    await new Promise((r) => listening.once('listening', r));
    const { port } = listening.address() as { port: number };
    const stream = await fetch(`http://127.0.0.1:${port}/api/rigs/${rig.id}/live`, {
      headers: { 'X-Elsewhere': '1', Authorization: `Bearer ${token}` },
    });
    const ended = stream.body?.pipeTo(new WritableStream()).then(
      () => 'ended',
      () => 'ended',
    );
    await s.http.delete(`/api/devices/${device.id}`).expect(204);
    expect(await ended).toBe('ended');
    await elsewhere('get', '/api/rigs', token).expect(401);
    expect((await s.http.get('/api/devices').expect(200)).body).toEqual([]);
    listening.closeAllConnections();
    listening.close();
  });

  it('are those of this machine: a restore brings none back that was revoked, and takes none away', async () => {
    const gone = await paired('full', 'Lost phone');
    const { name } = (await s.http.post('/api/backups').expect(201)).body as { name: string };
    await s.http.delete(`/api/devices/${gone.device.id}`).expect(204);
    const now = await paired('read', 'New phone');
    const { token } = (await s.http.post(`/api/restore?name=${name}`).expect(200)).body as { token: string };
    await s.http.post(`/api/restore/${token}`).expect(200);
    await elsewhere('get', '/api/rigs', gone.token).expect(401);
    await elsewhere('get', '/api/rigs', now.token).expect(200);
    s = await s.restart();
    await elsewhere('get', '/api/rigs', gone.token).expect(401);
    await elsewhere('get', '/api/rigs', now.token).expect(200);
  });

  it('can be given another name; what isn’t there is 404', async () => {
    const { device } = await paired('read');
    expect((await s.http.put(`/api/devices/${device.id}`).send({ name: 'Tablet' }).expect(200)).body.name).toBe('Tablet');
    await s.http.delete('/api/devices/none').expect(404);
  });
});

const [address] = ownAddresses();
describe.runIf(address !== undefined)('the home network (skipped where this machine has no address but loopback)', () => {
  it('reaches nothing until the owner says so, then asks for a token, and nothing again when it is off', async () => {
    expect((await s.http.get('/api/network').expect(200)).body).toMatchObject({ on: false, addresses: [] });
    const on = (await s.http.put('/api/network').send({ on: true }).expect(200)).body as { addresses: string[] };
    expect(on.addresses[0]).toMatch(/^http:\/\/\d/);
    const url = on.addresses[0] as string;
    const headers = { 'X-Elsewhere': '1' };
    expect((await fetch(`${url}/api/rigs`, { headers })).status).toBe(401);
    const { token } = await paired('full');
    expect((await fetch(`${url}/api/rigs`, { headers: { ...headers, Authorization: `Bearer ${token}` } })).status).toBe(200);
    // The code's address carries it behind the #, and its picture is a QR code.
    const { code: digits, ways } = (await s.http.post('/api/devices/code').send({ name: 'P', role: 'read' }).expect(200))
      .body as CodeAnswer;
    expect(ways[0]?.url).toBe(`${url}/pair#${digits}`);
    expect(ways[0]?.svg).toMatch(/^<svg [\s\S]*<\/svg>\s*$/);
    await s.http.put('/api/network').send({ on: false }).expect(200);
    await expect(fetch(`${url}/api/rigs`)).rejects.toThrow();
  });
});

it('with a certificate of its own, made once, its key for the owner’s eyes only', async () => {
  const { Network } = await import('./network.ts');
  const { statSync } = await import('node:fs');
  const network = new Network(s.db, s.app.express, { folder: s.folder, port: 0, https: true });
  await network.set(true);
  const keyFile = join(s.folder, 'tls', 'key.pem');
  expect(statSync(keyFile).mode & 0o077).toBe(0);
  const cert = readFileSync(join(s.folder, 'tls', 'certificate.pem'), 'utf8');
  const port = Number(new URL(network.view().addresses[0] ?? `https://127.0.0.1:${0}`).port);
  if (port > 0) {
    const answer = await new Promise<number | undefined>((done, failed) => {
      get({ host: '127.0.0.1', port, path: '/api/health', ca: cert, servername: 'localhost' }, (res) => {
        res.resume();
        done(res.statusCode);
      }).on('error', failed);
    });
    expect(answer).toBe(200);
  }
  await network.stop();
  const again = new Network(s.db, s.app.express, { folder: s.folder, port: 0, https: true });
  await again.set(true);
  expect(readFileSync(join(s.folder, 'tls', 'certificate.pem'), 'utf8')).toBe(cert);
  await again.stop();
});
