import express from 'express';
import { pino } from 'pino';
import supertest from 'supertest';
import { expect, it } from 'vitest';
import { problemHandler } from './problem-handler.ts';
import { extraHosts, sameSiteOnly } from './security.ts';

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
