import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { type Listener, LiveLine, type LiveWord } from './live-line.ts';

/** A stream that does what the test says. */
class Stream {
  static all: Stream[] = [];
  readonly url: string;
  closed = false;
  onopen: (() => void) | null = null;
  onerror: (() => void) | null = null;
  readonly #listeners = new Map<string, ((e: { data: string; lastEventId: string }) => void)[]>();

  constructor(url: string) {
    this.url = url;
    Stream.all.push(this);
  }
  addEventListener(name: string, take: (e: { data: string; lastEventId: string }) => void) {
    this.#listeners.set(name, [...(this.#listeners.get(name) ?? []), take]);
  }
  close() {
    this.closed = true;
  }
  say(name: string, data: unknown, lastEventId = '') {
    for (const take of this.#listeners.get(name) ?? []) take({ data: JSON.stringify(data), lastEventId });
  }
}

const page = (): Listener & { heard: LiveWord[] } => {
  const heard: LiveWord[] = [];
  return { rigId: null, heard, tell: (word) => heard.push(word) };
};
const kinds = (p: { heard: LiveWord[] }) => p.heard.map((w) => w.kind);
const open = () => Stream.all.filter((s) => !s.closed);
const last = () => Stream.all.at(-1) as Stream;

let line: LiveLine;
beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('EventSource', Stream);
  Stream.all = [];
  line = new LiveLine((rigs, after) => `${rigs}|${after ?? ''}`);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe('one line for all tabs', () => {
  it('is one stream, whatever they look at; each hears of its own rig', () => {
    const [a, b, c] = [page(), page(), page()];
    line.want(a, 'r1');
    line.want(b, 'r1');
    last().onopen?.();
    line.want(c, 'r2');
    expect(open().map((s) => s.url)).toEqual(['r1,r2|']);
    last().onopen?.();
    last().say('wheel', { rig: 'r2', data: { n: 1 } }, 'x-1');
    expect(c.heard.at(-1)).toEqual({ kind: 'event', name: 'wheel', data: { n: 1 } });
    expect(kinds(a)).not.toContain('event');
    expect(kinds(b).filter((k) => k === 'open').length).toBeGreaterThan(0);
  });

  it('begins after the event that the page was sent after, and nothing is asked twice', () => {
    const [a, b, c] = [page(), page(), page()];
    line.want(a, 'r1', 'x-3');
    expect(open().map((s) => s.url)).toEqual(['r1|x-3']);
    last().onopen?.();
    expect(kinds(a)).toEqual(['open']);
    // The server can't say what came since: it was started again, say.
    last().say('again', { rig: 'r1' });
    expect(kinds(a)).toEqual(['open', 'again']);
    // Another page joins a stream that is open: its own event is no news to that.
    line.want(b, 'r1', 'x-4');
    expect(open()).toHaveLength(1);
    expect(kinds(b)).toEqual(['open', 'again']);
    line.want(c, 'r2', 'x-5');
    last().onopen?.();
    expect(kinds(c)).toEqual(['open', 'again']);
    // All gone and one back: what happened meanwhile is missed.
    for (const p of [a, b, c]) line.leave(p);
    a.heard.length = 0;
    line.want(a, 'r1');
    last().onopen?.();
    expect(open().map((s) => s.url)).toEqual(['r1|']);
    expect(kinds(a)).toEqual(['open', 'again']);
  });

  it('one that comes to an open stream is told to ask for everything', () => {
    const [a, b] = [page(), page()];
    line.want(a, 'r1');
    last().onopen?.();
    line.want(b, 'r1');
    expect(open()).toHaveLength(1);
    expect(kinds(b)).toEqual(['open', 'again']);
  });

  it('lost, it says so at once, tries again in a second, and goes on after the last event without asking for everything', () => {
    const a = page();
    line.want(a, 'r1');
    last().onopen?.();
    last().say('alarm', { rig: 'r1', data: {} }, 'x-7');
    a.heard.length = 0;
    last().onerror?.();
    expect(kinds(a)).toEqual(['lost']);
    vi.advanceTimersByTime(1000);
    expect(open().map((s) => s.url)).toEqual(['r1|x-7']);
    last().onopen?.();
    expect(kinds(a)).toEqual(['lost', 'open']);
    last().say('again', { rig: 'r1' });
    expect(kinds(a)).toEqual(['lost', 'open', 'again']);
  });

  it('silent for six and a half seconds it is dead', () => {
    const a = page();
    line.want(a, 'r1');
    last().onopen?.();
    vi.advanceTimersByTime(6000);
    last().say('here', '');
    vi.advanceTimersByTime(6000);
    expect(kinds(a)).not.toContain('lost');
    vi.advanceTimersByTime(600);
    expect(kinds(a)).toContain('lost');
  });

  it('a rig that is new to the stream is asked for whole, the others go on', () => {
    const [a, b] = [page(), page()];
    line.want(a, 'r1');
    last().onopen?.();
    last().say('wheel', { rig: 'r1', data: {} }, 'x-3');
    a.heard.length = 0;
    line.want(b, 'r2');
    expect(last().url).toBe('r1,r2|x-3');
    last().onopen?.();
    expect(kinds(a)).toEqual(['open']);
    expect(kinds(b)).toEqual(['open', 'again']);
  });

  it('ends when nobody looks at a rig any more, and remembers no event of before', () => {
    const a = page();
    line.want(a, 'r1');
    last().onopen?.();
    last().say('wheel', { rig: 'r1', data: {} }, 'x-3');
    line.leave(a);
    expect(open()).toHaveLength(0);
    vi.advanceTimersByTime(20_000);
    expect(open()).toHaveLength(0);
    line.want(a, 'r1');
    expect(last().url).toBe('r1|');
  });

  it('a page that hears nothing has it try again', () => {
    const a = page();
    line.want(a, 'r1');
    last().onopen?.();
    line.again();
    expect(kinds(a)).toContain('lost');
    vi.advanceTimersByTime(1000);
    expect(open()).toHaveLength(1);
  });
});
