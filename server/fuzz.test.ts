import { Agent, request } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { TSchema } from '@sinclair/typebox';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type RandomState, uniform } from '#core/bench/random.ts';
import { type RouteDescription, type RouteName, routes } from '#schema/routes.ts';
import { makeCar, readingAt, T0, type TestServer, testServer } from './testing.ts';

/** Requests; `DRUCKWERK_FUZZ=100000` sends as many. */
const COUNT = Number(process.env.DRUCKWERK_FUZZ ?? 2500);
const SEED = Number(process.env.DRUCKWERK_SEED ?? Date.now() % 1_000_000);
const AT_ONCE = Number(process.env.DRUCKWERK_AT_ONCE ?? 8);
/** Nothing takes longer, ms; on a machine that does other work beside it, three times that. */
const HANG_MS = process.env.DRUCKWERK_FUZZ ? 1000 : 3000;

const random: RandomState = { s: SEED };
const upTo = (n: number): number => Math.floor(uniform(random) * n);
const oneOf = <T>(list: readonly T[]): T => list[upTo(list.length)] as T;
const chance = (share: number): boolean => uniform(random) < share;

const TEXTS = [
  '',
  ' ',
  'A1L',
  'A00001',
  'loaded',
  '2026-05-01T08:00:00Z',
  '2026-02-30',
  'null',
  '../..',
  '%00',
  '💥',
  '\u0000',
  "' or 1=1",
  '__proto__',
  'x'.repeat(5000),
];
const NUMBERS = [0, -0, 1, -1, 0.1, 250, 1e9, -1e9, 1e308, 5e-324, 2 ** 53, Number.MAX_SAFE_INTEGER];

function junk(depth = 0): unknown {
  const kind = upTo(depth > 3 ? 5 : 7);
  if (kind === 0) return null;
  if (kind === 1) return chance(0.5);
  if (kind === 2 || kind === 3) return oneOf(NUMBERS);
  if (kind === 4) return oneOf(TEXTS);
  if (kind === 5) return Array.from({ length: upTo(4) }, () => junk(depth + 1));
  return Object.fromEntries(Array.from({ length: upTo(4) }, () => [oneOf(TEXTS).slice(0, 40), junk(depth + 1)]));
}

/** A value after a schema, most of the time; now and then with something wrong in it. */
function after(schema: TSchema, ids: readonly string[], wrong: number, depth = 0): unknown {
  if (chance(wrong)) return junk();
  const s = schema as unknown as Record<string, unknown> & { type?: string };
  const deeper = (x: TSchema) => after(x, ids, wrong, depth + 1);
  if (s.const !== undefined) return s.const;
  if (s.anyOf) return deeper(oneOf(s.anyOf as TSchema[]));
  if (s.allOf) return Object.assign({}, ...(s.allOf as TSchema[]).map(deeper));
  if (s.enum) return oneOf(s.enum as unknown[]);
  switch (s.type) {
    case 'object': {
      const out: Record<string, unknown> = {};
      const required = new Set((s.required ?? []) as string[]);
      for (const [name, member] of Object.entries((s.properties ?? {}) as Record<string, TSchema>))
        if (required.has(name) ? !chance(wrong) : depth < 5 && chance(0.3)) out[name] = deeper(member);
      const [values] = Object.values((s.patternProperties ?? {}) as Record<string, TSchema>);
      if (values && chance(0.5)) out[oneOf(['A1L', 'loaded', 'A1'])] = deeper(values);
      return out;
    }
    case 'array': {
      const least = (s.minItems as number | undefined) ?? 0;
      return Array.from({ length: Math.min(least + upTo(3), 20) }, () => deeper(s.items as TSchema));
    }
    case 'number':
    case 'integer': {
      const low = ((s.minimum ?? s.exclusiveMinimum) as number | undefined) ?? -10;
      const high = ((s.maximum ?? s.exclusiveMaximum) as number | undefined) ?? low + 500;
      const value = low + (high - low) * uniform(random);
      return s.type === 'integer' ? Math.round(value) : value;
    }
    case 'boolean':
      return chance(0.5);
    case 'null':
      return null;
    case 'string':
      if (s.format === 'date-time') return new Date(T0 + upTo(7 * 86_400_000)).toISOString();
      if (s.format === 'date') return new Date(T0 + upTo(7 * 86_400_000)).toISOString().slice(0, 10);
      return oneOf([...ids, ...TEXTS, 'A1L', '1L', 'A00001', 'Errand', '#101418']);
    default:
      return junk();
  }
}

/** These reach outside, or replace the world: only what is wrong is sent to them. */
const WRONG_ONLY = new Set<RouteName>([
  'setGateway',
  'setNetwork',
  'restore',
  'makeBackup',
  'stageBackup',
  'deviceCode',
  'pairDevice',
]);

let s: TestServer;
let port: number;
let close: () => void;
let ids: string[];
const agent = new Agent({ keepAlive: true, maxSockets: AT_ONCE });

interface Answer {
  status: number;
  ms: number;
}
function ask(method: string, path: string, body: string | null, type: string): Promise<Answer> {
  const from = performance.now();
  return new Promise((done, failed) => {
    const req = request(
      {
        host: '127.0.0.1',
        port,
        method,
        path,
        agent,
        headers: body === null ? {} : { 'Content-Type': type, 'Content-Length': Buffer.byteLength(body) },
      },
      (res) => {
        const answer = { status: res.statusCode ?? 0, ms: performance.now() - from };
        if (String(res.headers['content-type']).startsWith('text/event-stream')) {
          res.on('error', () => undefined);
          req.destroy();
          done(answer);
          return;
        }
        res.resume();
        res.on('end', () => done({ ...answer, ms: performance.now() - from }));
        res.on('error', failed);
      },
    );
    req.on('error', (error) =>
      'code' in error && error.code === 'ECONNRESET' ? done({ status: 0, ms: performance.now() - from }) : failed(error),
    );
    req.end(body ?? undefined);
  });
}

beforeAll(async () => {
  s = await testServer(undefined, undefined, false);
  const { unit, rig } = await makeCar(s);
  const { rig: other } = await makeCar(s, ['B00001', 'B00002', 'B00003', 'B00004']);
  ids = [unit.id, rig.id, other.id];
  s.clock.ms = T0 + 60_000;
  await s.http
    .post('/api/readings')
    .send([readingAt('A00001', 0, 150), readingAt('A00001', 5, 150)])
    .expect(200);
  const server = s.app.express.listen(0, '127.0.0.1');
  await new Promise((r) => server.once('listening', r));
  port = (server.address() as AddressInfo).port;
  // Made once, when it is asked for first.
  await s.http.get('/api/openapi.json').expect(200);
  close = () => {
    server.closeAllConnections();
    server.close();
  };
});
afterAll(async () => {
  agent.destroy();
  close();
  await s.close();
});

it(
  `of ${COUNT} requests of every route none is answered with 500, none hangs, and no alarm is lost (seed ${SEED})`,
  async () => {
    const before = (await s.db('alarms').select('id')) as { id: string }[];
    expect(before.length).toBeGreaterThan(0);
    const names = Object.keys(routes) as RouteName[];
    const faults: string[] = [];
    const seen = new Map<number, number>();
    let left = COUNT;
    const worker = async () => {
      while (left > 0) {
        left -= 1;
        const name = oneOf(names);
        const route: RouteDescription = routes[name];
        // What makes new records is sent whole only now and then, or the world grows to thousands of rigs.
        const makes = name.endsWith('.create') || name === 'rigs.import';
        const wrong = WRONG_ONLY.has(name) ? 1 : makes && chance(0.9) ? 0.6 : oneOf([0, 0.02, 0.3]);
        const path = route.path.replaceAll(/\{\w+\}/g, () =>
          encodeURIComponent(
            WRONG_ONLY.has(name) ? 'none' : oneOf([...ids, ...ids, 'units', 'rigs', '1', ...TEXTS.slice(0, 12)]),
          ),
        );
        const query =
          route.query && chance(0.9)
            ? (after(route.query, ids, wrong) as Record<string, unknown> | null)
            : chance(0.05)
              ? { x: 'y' }
              : {};
        const search = new URLSearchParams(
          Object.entries(query && typeof query === 'object' ? query : {}).map(([k, v]): [string, string] => [
            k,
            typeof v === 'object' ? JSON.stringify(v) : String(v),
          ]),
        ).toString();
        const method = chance(0.03) ? oneOf(['PATCH', 'OPTIONS', 'HEAD', 'DELETE']) : route.method.toUpperCase();
        const raw = route.rawBody !== undefined;
        const body =
          route.body || raw || chance(0.05)
            ? chance(0.05)
              ? oneOf(['', '{', '[[[[', '\u0000', '"', 'x'.repeat(2000), `[${'['.repeat(3000)}`])
              : raw
                ? oneOf(['a,b\n1,2', '{"sensorId":"A00001"}\n', `${JSON.stringify(readingAt('A00001', upTo(50)))}\n`, 'GIF89a'])
                : JSON.stringify(route.body ? after(route.body, ids, wrong) : junk())
            : null;
        const full = `/api${path}${search ? `?${search}` : ''}`.slice(0, 12_000);
        const { status, ms } = await ask(
          method,
          full,
          body,
          raw ? oneOf(route.rawBody?.media ?? ['text/plain']) : 'application/json',
        );
        seen.set(status, (seen.get(status) ?? 0) + 1);
        if (status >= 500 && status !== 503)
          faults.push(`${status} ${method} ${full.slice(0, 200)} ${String(body).slice(0, 600)}`);
        if (ms > HANG_MS) faults.push(`${ms.toFixed(0)} ms ${method} ${full.slice(0, 200)} ${String(body).slice(0, 200)}`);
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, worker));
    console.log(
      `${COUNT} requests: ${[...seen]
        .sort(([a], [b]) => a - b)
        .map(([k, n]) => `${k}: ${n}`)
        .join(', ')}`,
    );
    expect(faults.slice(0, 5)).toEqual([]);
    const kept = new Set(((await s.db('alarms').select('id')) as { id: string }[]).map((a) => a.id));
    expect(before.filter((a) => !kept.has(a.id))).toEqual([]);
    expect((await ask('GET', '/api/health', null, '')).status).toBe(200);
  },
  COUNT * 20 + 60_000,
);
