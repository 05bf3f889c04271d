import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { operationSchemas } from '#schema/operations.ts';
import { type TestServer, testServer } from './testing.ts';

let s: TestServer;
beforeEach(async () => {
  s = await testServer();
});
afterEach(() => s.close());

describe('the door', () => {
  it('is healthy', async () => {
    expect((await s.http.get('/api/health').expect(200)).body).toMatchObject({
      status: 'ok',
      canStore: true,
      problem: null,
      lastBackup: null,
      streams: 0,
      waiting: 0,
    });
  });

  it.each([
    ['a foreign origin', { Origin: 'https://elsewhere.example' }],
    ['another port of this machine', { Origin: 'http://127.0.0.1:1' }],
    ['an opaque origin', { Origin: 'null' }],
    ['a foreign host', { Host: 'rebound.example' }],
    ['a host that is none', { Host: 'a b' }],
  ])('refuses %s', async (_, headers) => {
    const res = await s.http.get('/api/health').set(headers);
    expect([res.status, res.headers['content-type']?.split(';')[0]]).toEqual([403, 'application/problem+json']);
  });

  it('serves its own pages and programs', async () => {
    await s.http.get('/api/health').set('Host', 'localhost:4600').set('Origin', 'http://localhost:4600').expect(200);
  });

  it('tells an unknown route and method as a problem', async () => {
    const { body } = await s.http.get('/api/nothing').expect(404);
    expect(body).toMatchObject({
      type: 'about:blank',
      title: 'Not Found',
      status: 404,
      detail: expect.stringContaining('GET /api/nothing'),
    });
  });

  it.each([
    ['patch', '/api/units/x', 'DELETE, GET, HEAD, PUT'],
    ['get', '/api/readings', 'POST'],
    ['delete', '/api/rigs', 'GET, HEAD, POST'],
    ['get', '/api/calc/units.convert', 'POST'],
    ['put', '/api/rigs/x/alarms/y/acknowledge', 'POST'],
  ] as const)('%s %s is a wrong method: 405 with what is allowed', async (method, path, allow) => {
    const res = await s.http[method](path).expect(405);
    expect(res.headers.allow).toBe(allow);
    expect(res.body).toMatchObject({ type: 'about:blank', title: 'Method Not Allowed', status: 405 });
  });

  it('refuses what a route does not ask for, and says at which field', async () => {
    const res = await s.http.get('/api/file-shapes?shape=x&colour=red').expect(400);
    expect(res.body).toMatchObject({
      title: 'Bad Request',
      errors: [{ pointer: '/colour', detail: 'is not a field of this record' }],
    });
  });

  it('refuses a record of 2 MB', async () => {
    await s.http
      .post('/api/units')
      .send({ name: 'x'.repeat(2_000_000) })
      .expect(413);
  });
});

describe('POST /api/calc', () => {
  const calc = (name: string, body: unknown) => s.http.post(`/api/calc/${name}`).send(body as object);

  it('answers every operation of the registry, and the OpenAPI file names them all', async () => {
    const { paths } = (await s.http.get('/api/openapi.json').expect(200)).body;
    for (const name of Object.keys(operationSchemas)) {
      expect(paths[`/api/calc/${name}`]).toBeDefined();
      await calc(name, { nonsense: 1 }).expect(400);
    }
  });

  it('computes', async () => {
    const { body } = await calc('gas.pressureAt', { pressureKpa: 551.58, tempC: 21.111, toTempC: 46.111 }).expect(200);
    expect(Math.abs(body.pressureKpa - 607.05)).toBeLessThan(0.05);
    expect((await calc('alarms.limits', { school: 'lowOnly', coldKpa: 200 }).expect(200)).body).toMatchObject({
      lowKpa: 180,
      highKpa: null,
    });
    expect((await calc('watch.replay', { wheels: {}, readings: [] }).expect(200)).body).toEqual({ alarms: [] });
  });

  it.each([
    ['gas.pressureAt', { pressureKpa: 1, tempC: -300, toTempC: 0 }, '/tempC'],
    ['gas.pressureAt', { pressureKpa: 1, tempC: 0, toTempC: 0, altitude: 3 }, '/altitude'],
    ['gas.pressureAt', { pressureKpa: 'x', tempC: 0, toTempC: 0 }, '/pressureKpa'],
    ['air.atAltitude', { altitudeM: 12000 }, '/altitudeM'],
    ['units.convert', { value: 1, from: 'psi', to: 'kg' }, '/to'],
    ['units.convert', { value: 1, from: 'furlong', to: 'kg' }, '/from'],
    ['alarms.limits', { school: 'share', coldKpa: 100, marginKpa: 3 }, '/marginKpa'],
    ['alarms.limits', { school: 'vibes', coldKpa: 100 }, '/school'],
    ['alarms.limits', { school: 'floorCeiling', coldKpa: 100, floorKpa: 120, ceilingKpa: 150 }, '/floorKpa'],
    ['watch.replay', { wheels: {}, readings: [{ position: 'A1L', time: 'noon', pressureKpa: 1, tempC: 1 }] }, '/readings/0/time'],
  ])('%s refuses %j at %s', async (name, body, pointer) => {
    const res = await calc(name, body).expect(400);
    expect(res.headers['content-type']).toContain('application/problem+json');
    expect(res.body.errors.map((e: { pointer: string }) => e.pointer)).toEqual([pointer]);
  });

  it('says so when there is no such operation, no JSON, too much of it', async () => {
    await calc('tea.brew', {}).expect(404);
    await s.http.post('/api/calc/units.convert').set('Content-Type', 'application/json').send('{"value":NaN}').expect(400);
    await s.http.post('/api/calc/units.convert').set('Content-Type', 'application/json').send(' '.repeat(11_000_000)).expect(413);
  });

  it('answers a long input, and one of unknown length, as it does a short one', async () => {
    const asked = JSON.stringify({ pressureKpa: 551.58, tempC: 21.111, toTempC: 46.111 });
    const url = '/api/calc/gas.pressureAt';
    const json = 'application/json';
    const short = (await s.http.post(url).type(json).send(asked).expect(200)).body;
    const long = await s.http
      .post(url)
      .type(json)
      .send(asked + ' '.repeat(300_000))
      .expect(200)
      .expect('Content-Type', /^application\/json/);
    expect(long.body).toEqual(short);
    const chunked = s.http.post(url).type(json).set('Transfer-Encoding', 'chunked');
    chunked.write(asked);
    expect((await chunked.expect(200)).body).toEqual(short);
    const refused = await s.http
      .post(url)
      .type(json)
      .send(`{"pressureKpa":1,${' '.repeat(300_000)}"tempC":-300,"toTempC":0}`)
      .expect(400);
    expect(refused.headers['content-type']).toContain('application/problem+json');
    expect(refused.body.errors[0].pointer).toBe('/tempC');
    const broken = (
      await s.http
        .post(url)
        .type(json)
        .send(`{"pressureKpa":${' '.repeat(300_000)}`)
        .expect(400)
    ).body;
    expect(broken.detail).toMatch(/^The body is not JSON/);
    await s.http
      .post('/api/calc/tea.brew')
      .type(json)
      .send(`{}${' '.repeat(300_000)}`)
      .expect(404);
  });
});
