import { once } from 'node:events';
import { type AddressInfo, connect } from 'node:net';
import express from 'express';
import { pino } from 'pino';
import supertest from 'supertest';
import { expect, it } from 'vitest';
import { problemHandler } from './problem-handler.ts';
import { extraHosts, sameSiteOnly, stalledBodies } from './security.ts';

const server = (env: Parameters<typeof extraHosts>[0]) =>
  supertest(
    express()
      .use(sameSiteOnly(extraHosts(env)))
      .get('/', (_req, res) => void res.send('yes'))
      .use(problemHandler(pino({ level: 'silent' }))),
  );

it.each([
  ['names with blanks and capitals', { DRUCKWERK_HOSTS: 'MyPC.local, pi.local' }, 'mypc.local:4600', 200],
  ['the second of them', { DRUCKWERK_HOSTS: 'MyPC.local, pi.local' }, 'pi.local:4600', 200],
  ['a Host header in capitals', { DRUCKWERK_HOSTS: 'mypc.local' }, 'MYPC.local:4600', 200],
  ['the address it prints for ::', { HOST: '::' }, '[::]:4600', 200],
  ['the address it prints for ::1', { HOST: '::1' }, '[::1]:4600', 200],
  ['the address it prints for 0.0.0.0', { HOST: '0.0.0.0' }, '0.0.0.0:4600', 200],
  ['loopback, whatever else', { HOST: '::', DRUCKWERK_HOSTS: 'pi.local' }, 'localhost:4600', 200],
  ['no other name', { DRUCKWERK_HOSTS: 'pi.local' }, 'rebound.example', 403],
  ['no blank name', { DRUCKWERK_HOSTS: ' , ' }, 'rebound.example', 403],
])('answers to %s', async (_what, env, host, status) => {
  await server(env).get('/').set('Host', host).expect(status);
  const origin = await server(env).get('/').set('Host', host).set('Origin', `http://${host.toLowerCase()}`);
  expect(origin.status).toBe(status);
});

it.each([
  [
    'a picture or script of another site',
    '/',
    { 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'no-cors', 'Sec-Fetch-Dest': 'image' },
    403,
  ],
  [
    'a page on another port of this machine',
    '/',
    { 'Sec-Fetch-Site': 'same-site', 'Sec-Fetch-Mode': 'no-cors', 'Sec-Fetch-Dest': 'script' },
    403,
  ],
  [
    'a link from another site to the page',
    '/',
    { 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'navigate', 'Sec-Fetch-Dest': 'document' },
    200,
  ],
  [
    'a frame on another site',
    '/',
    { 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'navigate', 'Sec-Fetch-Dest': 'iframe' },
    403,
  ],
  [
    'a link from another site into the interface',
    '/api/x',
    { 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'navigate', 'Sec-Fetch-Dest': 'document' },
    403,
  ],
  ['its own page', '/', { 'Sec-Fetch-Site': 'same-origin', 'Sec-Fetch-Mode': 'cors', 'Sec-Fetch-Dest': 'empty' }, 200],
  [
    'an address typed by the owner',
    '/api/x',
    { 'Sec-Fetch-Site': 'none', 'Sec-Fetch-Mode': 'navigate', 'Sec-Fetch-Dest': 'document' },
    404,
  ],
])('without an Origin: %s', async (_what, path, headers, status) => {
  await server({}).get(path).set('Host', 'localhost').set(headers).expect(status);
});

it('a body that stalls is given up with 408; a slow one that goes on is read', async () => {
  const app = express()
    .use(stalledBodies(300))
    .post('/', express.text({ type: () => true }), (req, res) => void res.send(String(req.body)))
    .use(problemHandler(pino({ level: 'silent' })));
  const listening = app.listen(0, '127.0.0.1');
  await once(listening, 'listening');
  const { port } = listening.address() as AddressInfo;
  const send = (parts: string[], everyMs: number) =>
    new Promise<string>((done, failed) => {
      const socket = connect(port, '127.0.0.1');
      let text = '';
      socket.on('data', (d) => {
        text += d;
      });
      socket.on('close', () => done(text));
      socket.on('error', failed);
      socket.write('POST / HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\nContent-Length: 6\r\n\r\n');
      const next = () => {
        const part = parts.shift();
        if (part === undefined) return;
        socket.write(part);
        setTimeout(next, everyMs);
      };
      next();
    });
  expect(await send(['ab'], 10)).toMatch(/^HTTP\/1\.1 408 /);
  expect(await send(['ab', 'cd', 'ef'], 200)).toMatch(/^HTTP\/1\.1 200 [\s\S]*abcdef$/);
  listening.close();
});
