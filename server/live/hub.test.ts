import { createServer, type Server } from 'node:http';
import type { Response } from 'express';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveHub } from './hub.ts';

let hub: LiveHub;
let server: Server;
let address: string;
beforeEach(async () => {
  hub = new LiveHub();
  server = createServer((req, res) => hub.add((req.url ?? '').slice(1), res as Response));
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
async function listen(rigId: string) {
  const stop = new AbortController();
  const res = await fetch(`${address}/${rigId}`, { signal: stop.signal });
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
    expect(a.seen.text).toBe('retry: 1000\n\nevent: wheel\ndata: {"n":1}\n\nevent: alarm\ndata: {"text":"two\\nlines"}\n\n');
    expect(b.seen.text).toBe('retry: 1000\n\nevent: rig\ndata: {}\n\n');
  });

  it('say every few seconds that they are there', async () => {
    const a = await listen('a');
    await until(() => (a.seen.text.match(/event: here/g) ?? []).length >= 2);
  });

  it('are known only as long as somebody listens', async () => {
    expect(hub.has('a')).toBe(false);
    const first = await listen('a');
    const second = await listen('a');
    expect(hub.has('a')).toBe(true);
    first.stop.abort();
    await first.pump;
    expect(hub.has('a')).toBe(true);
    second.stop.abort();
    await until(() => !hub.has('a'));
    expect(() => hub.send('a', 'wheel', {})).not.toThrow();
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
