import { createServer, type Server } from 'node:http';
import type { Response } from 'express';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveHub } from './hub.ts';

let hub: LiveHub;
let server: Server;
let address: string;
beforeEach(async () => {
  hub = new LiveHub();
  server = createServer((req, res) =>
    hub.add((req.url ?? '').slice(1).split(','), res as Response, {
      lastId: req.headers['last-event-id'] as string | undefined,
      named: (req.url ?? '').includes(','),
    }),
  );
  await new Promise<void>((r) => server.listen(0, '127.0.0.1', r));
  address = `http://127.0.0.1:${(server.address() as { port: number }).port}`;
});
afterEach(() => {
  vi.useRealTimers();
  hub.close();
  server.closeAllConnections();
  server.close();
});

/** An open stream and what came over it so far. */
async function listen(rigId: string, lastId?: string) {
  const stop = new AbortController();
  const res = await fetch(`${address}/${rigId}`, {
    signal: stop.signal,
    headers: lastId === undefined ? {} : { 'Last-Event-ID': lastId },
  });
  const seen = { text: '' };
  const reader = res.body?.pipeThrough(new TextDecoderStream()).getReader();
  const pump = (async () => {
    for (;;) {
      const part = await reader?.read();
      if (!part || part.done) return;
      seen.text += part.value;
    }
  })().catch(() => undefined);
  return { seen, stop, pump };
}
const until = (what: () => boolean) => vi.waitFor(() => expect(what()).toBe(true), { timeout: 6000, interval: 20 });

describe('event streams', () => {
  it('carry what is sent to their rig, in order, and nothing of another', async () => {
    const a = await listen('a');
    const b = await listen('b');
    hub.send('a', 'wheel', { n: 1 });
    hub.send('a', 'alarm', { text: 'two\nlines' });
    hub.send('b', 'rig', {});
    await until(() => a.seen.text.includes('event: alarm') && b.seen.text.includes('event: rig'));
    const plain = (text: string) => text.replaceAll(/^id: .*\n/gm, '');
    expect(plain(a.seen.text)).toBe(
      'retry: 1000\n\nevent: wheel\ndata: {"n":1}\n\nevent: alarm\ndata: {"text":"two\\nlines"}\n\n',
    );
    expect(plain(b.seen.text)).toBe('retry: 1000\n\nevent: rig\ndata: {}\n\n');
  });

  it('say every few seconds that they are there', async () => {
    const a = await listen('a');
    await until(() => (a.seen.text.match(/event: here/g) ?? []).length >= 2);
  });

  it('are known only as long as somebody listens', async () => {
    expect(hub.count('a')).toBe(0);
    const first = await listen('a');
    const second = await listen('a');
    expect(hub.has('a')).toBe(true);
    first.stop.abort();
    await first.pump;
    expect(hub.has('a')).toBe(true);
    second.stop.abort();
    await until(() => hub.count('a') === 0);
    expect(() => hub.send('a', 'wheel', {})).not.toThrow();
  });

  const idsOf = (text: string) => [...text.matchAll(/^id: (.*)$/gm)].map((m) => m[1] as string);
  const numbersOf = (text: string) => [...text.matchAll(/"n":(\d+)/g)].map((m) => Number(m[1]));

  it('go on after the last event that was seen, also when nobody listened for a while', async () => {
    const a = await listen('a');
    for (let n = 1; n <= 3; n += 1) hub.send('a', 'wheel', { n });
    await until(() => numbersOf(a.seen.text).length === 3);
    const [, second] = idsOf(a.seen.text);
    a.stop.abort();
    await a.pump;
    await until(() => hub.count('a') === 0);
    hub.send('a', 'alarm', { n: 4 });
    const again = await listen('a', second);
    hub.send('a', 'wheel', { n: 5 });
    await until(() => numbersOf(again.seen.text).length === 3);
    expect(numbersOf(again.seen.text)).toEqual([3, 4, 5]);
    expect(again.seen.text).not.toContain('again');
  });

  it('say that all must be asked again when that was over a thousand events ago, or in another run of the server', async () => {
    const a = await listen('a');
    hub.send('a', 'wheel', { n: 0 });
    await until(() => idsOf(a.seen.text).length === 1);
    const [first] = idsOf(a.seen.text) as [string];
    for (let n = 1; n <= 1000; n += 1) hub.send('a', 'wheel', { n });
    const all = await listen('a', first);
    await until(() => numbersOf(all.seen.text).length === 1000);
    expect(all.seen.text).not.toContain('event: again');
    hub.send('a', 'wheel', { n: 1001 });
    for (const last of [first, `0${first}`, 'nonsense']) {
      const late = await listen('a', last);
      await until(() => late.seen.text.includes('event: again\ndata: {"rig":"a"}'));
      expect(numbersOf(late.seen.text)).toEqual([]);
    }
  });

  it('begin where a page was sent, also before anybody listened', async () => {
    hub.send('a', 'wheel', { n: 0 });
    const sent = hub.expect('a');
    hub.send('a', 'wheel', { n: 1 });
    hub.send('b', 'wheel', { n: 2 });
    hub.send('a', 'alarm', { n: 3 });
    const a = await listen('a', sent);
    hub.send('a', 'wheel', { n: 4 });
    await until(() => numbersOf(a.seen.text).length === 3);
    expect(numbersOf(a.seen.text)).toEqual([1, 3, 4]);
    expect(a.seen.text).not.toContain('again');
    // A page that is sent while another listens begins at its own moment.
    const second = await listen('a', hub.expect('a'));
    hub.send('a', 'wheel', { n: 5 });
    await until(() => numbersOf(second.seen.text).length === 1);
    expect(numbersOf(second.seen.text)).toEqual([5]);
    expect(second.seen.text).not.toContain('again');
  });

  it('a page that never came is waited for a minute', () => {
    vi.useFakeTimers();
    const own = new LiveHub();
    own.expect('a');
    vi.advanceTimersByTime(59_000);
    expect(own.has('a')).toBe(true);
    own.expect('a');
    vi.advanceTimersByTime(59_000);
    expect(own.has('a')).toBe(true);
    vi.advanceTimersByTime(5000);
    expect(own.has('a')).toBe(false);
    own.close();
  });

  it('one for several rigs names the rig of each event, and asks again only for the one that was not followed', async () => {
    const a = await listen('a');
    hub.send('a', 'wheel', { n: 1 });
    await until(() => idsOf(a.seen.text).length === 1);
    const both = await listen('a,b', idsOf(a.seen.text)[0]);
    hub.send('b', 'alarm', { n: 2 });
    hub.send('a', 'wheel', { n: 3 });
    await until(() => numbersOf(both.seen.text).length === 2);
    expect(both.seen.text).toContain('event: again\ndata: {"rig":"b"}');
    expect(both.seen.text).not.toContain('{"rig":"a"}\n');
    expect(both.seen.text).toContain('data: {"rig":"b","data":{"n":2}}');
    expect(both.seen.text).toContain('data: {"rig":"a","data":{"n":3}}');
  });

  it('end when the server does', async () => {
    const a = await listen('a');
    hub.close();
    await a.pump;
    expect(hub.has('a')).toBe(false);
  });

  it('a listener that reads nothing is let go before it fills the memory; the others go on', async () => {
    const { connect } = await import('node:net');
    const { port } = server.address() as { port: number };
    const deaf = connect(port, '127.0.0.1');
    deaf.on('error', () => undefined);
    deaf.write('GET /a HTTP/1.1\r\nHost: x\r\n\r\n');
    deaf.pause();
    const ear = await listen('a');
    await until(() => hub.count('a') === 2);
    const lump = 'x'.repeat(100_000);
    for (let i = 0; i < 400 && hub.count('a') === 2; i += 1) {
      hub.send('a', 'wheel', { lump });
      await new Promise((r) => setTimeout(r, 1));
    }
    await until(() => hub.count('a') === 1);
    hub.send('a', 'alarm', { last: true });
    await until(() => ear.seen.text.includes('"last":true'));
    deaf.destroy();
  });
});
