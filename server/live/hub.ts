import { randomBytes } from 'node:crypto';
import type { Response } from 'express';
import { HttpProblem } from '../problem.ts';

/** Names of the events a rig's stream carries. */
export type LiveEvent = 'reading' | 'wheel' | 'alarm' | 'bench' | 'rig' | 'import';

/** A listener that has left this much unread is let go, bytes: its page asks again and gets the state as it is then. */
const MOST_UNREAD = 4_000_000;
/** And so is one that has read nothing for this long, ms. */
const MUTE_MS = 30_000;
/** Streams at a time. One browser needs one, however many tabs it has. */
export const MOST_STREAMS = 64;
/** Events of a rig that are kept for those who come back. */
const RING = 1000;
/** A rig that nobody listens to is followed for this long, ms, so that whoever comes back misses nothing. */
const LINGER_MS = 60_000;
const HERE_MS = 2500;

type Tap = (rigId: string, event: LiveEvent, data: unknown) => void;

interface Kept {
  id: number;
  text: (named: boolean) => string;
}

/** Events of a rig as they were sent. */
interface Ring {
  /** Everything after this event is kept. */
  after: number;
  events: Kept[];
  /** When the last listener left, ms; null while there is one. */
  leftMs: number | null;
}

interface Stream {
  res: Response;
  rigs: ReadonlySet<string>;
  /** Id of the device that listens; undefined: this machine. */
  device: string | undefined;
  /** Each event names its rig. */
  named: boolean;
  /** Since when it has had something unread without a pause, ms. */
  unreadSince: number | null;
}

/** The open event streams. Every event has an id; who comes back with the last one gets what came since, or an event that says to ask `again`. */
export class LiveHub {
  readonly #streams = new Set<Stream>();
  readonly #rings = new Map<string, Ring>();
  readonly #heartbeat: NodeJS.Timeout;
  /** Ids of an earlier run of the server say nothing about this one. */
  readonly #run = randomBytes(4).toString('hex');
  #last = 0;
  readonly #taps = new Set<Tap>();

  constructor() {
    // An event now and then shows the page that the line is alive: a page that misses it says that it has lost the server.
    this.#heartbeat = setInterval(() => this.#beat(Date.now()), HERE_MS);
    this.#heartbeat.unref();
  }

  #beat(nowMs: number): void {
    for (const stream of [...this.#streams]) {
      if (stream.res.writableLength === 0) stream.unreadSince = null;
      else stream.unreadSince ??= nowMs;
      if (stream.unreadSince !== null && nowMs - stream.unreadSince > MUTE_MS) stream.res.destroy();
      else this.#write(stream, 'event: here\ndata:\n\n');
    }
    for (const [rigId, ring] of this.#rings) {
      if (ring.leftMs !== null && nowMs - ring.leftMs > LINGER_MS) this.#rings.delete(rigId);
    }
  }

  /**
   * Open a stream.
   * @param rigIds rigs it is about
   * @param options.named each event is `{rig, data}`, for a stream about several rigs
   * @param options.lastId id of the last event that was seen, as the stream gave it
   * @throws HttpProblem 503 when there are too many
   */
  add(
    rigIds: readonly string[],
    res: Response,
    options: { named?: boolean; lastId?: string | undefined; device?: string | undefined } = {},
  ): void {
    if (this.#streams.size >= MOST_STREAMS) {
      throw new HttpProblem(503, `${MOST_STREAMS} pages are listening already`, {
        detail: 'Close some of them.',
        headers: { 'Retry-After': '5' },
      });
    }
    res.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-cache, no-transform',
      Connection: 'keep-alive',
      'X-Accel-Buffering': 'no',
    });
    const stream: Stream = {
      res,
      rigs: new Set(rigIds),
      device: options.device,
      named: options.named ?? false,
      unreadSince: null,
    };
    res.write('retry: 1000\n\n');
    if (options.lastId !== undefined) this.#catchUp(stream, options.lastId);
    this.#streams.add(stream);
    for (const rigId of stream.rigs) {
      const ring = this.#rings.get(rigId);
      if (ring) ring.leftMs = null;
      else this.#rings.set(rigId, { after: this.#last, events: [], leftMs: null });
    }
    res.on('close', () => {
      this.#streams.delete(stream);
      for (const rigId of stream.rigs) {
        const ring = this.#rings.get(rigId);
        if (ring && this.count(rigId) === 0) ring.leftMs = Date.now();
      }
    });
  }

  /**
   * Follow a rig from now on, since a page of it is on its way: what the page reads is at least as new, and its stream gives it what comes after.
   * @returns id of the last event so far, for `lastId`
   */
  expect(rigId: string): string {
    const ring = this.#rings.get(rigId);
    if (!ring) this.#rings.set(rigId, { after: this.#last, events: [], leftMs: Date.now() });
    else if (ring.leftMs !== null) ring.leftMs = Date.now();
    return `${this.#run}-${this.#last}`;
  }

  /** Write what came since an event, or that everything has to be asked for again. */
  #catchUp(stream: Stream, lastId: string): void {
    const [run, seen] = lastId.split('-');
    const after = run === this.#run ? Number(seen) : Number.NaN;
    const missed: Kept[] = [];
    for (const rigId of stream.rigs) {
      const ring = this.#rings.get(rigId);
      if (ring && ring.after <= after) missed.push(...ring.events.filter((e) => e.id > after));
      else stream.res.write(`event: again\ndata: ${JSON.stringify({ rig: rigId })}\n\n`);
    }
    for (const e of missed.sort((a, b) => a.id - b.id)) this.#write(stream, e.text(stream.named));
  }

  /** Whether anybody listens to a rig, or did a moment ago. */
  has(rigId: string): boolean {
    return this.#rings.has(rigId) || this.#taps.size > 0;
  }

  /** How many listen to a rig. */
  count(rigId: string): number {
    let n = 0;
    for (const stream of this.#streams) if (stream.rigs.has(rigId)) n += 1;
    return n;
  }

  /** End the streams of a device. */
  dropDevice(id: string): void {
    for (const stream of this.#streams) if (stream.device === id) stream.res.destroy();
  }

  /** Open streams. */
  get size(): number {
    return this.#streams.size;
  }

  #write({ res }: Stream, text: string): void {
    if (res.writableLength > MOST_UNREAD) res.destroy();
    else res.write(text);
  }

  /** Listen to every event of every rig. @returns ends it */
  tap(listener: Tap): () => void {
    this.#taps.add(listener);
    return () => this.#taps.delete(listener);
  }

  send(rigId: string, event: LiveEvent, data: unknown): void {
    for (const tap of this.#taps) tap(rigId, event, data);
    const ring = this.#rings.get(rigId);
    if (!ring) return;
    this.#last += 1;
    const head = `id: ${this.#run}-${this.#last}\nevent: ${event}\ndata: `;
    const json = JSON.stringify(data);
    const text = (named: boolean) => `${head}${named ? `{"rig":${JSON.stringify(rigId)},"data":${json}}` : json}\n\n`;
    ring.events.push({ id: this.#last, text });
    if (ring.events.length > RING) ring.after = (ring.events.shift() as Kept).id;
    for (const stream of this.#streams) if (stream.rigs.has(rigId)) this.#write(stream, text(stream.named));
  }

  /** Tell every page to ask for everything again. */
  again(): void {
    for (const stream of this.#streams)
      for (const rigId of stream.rigs) this.#write(stream, `event: again\ndata: ${JSON.stringify({ rig: rigId })}\n\n`);
    for (const ring of this.#rings.values()) {
      ring.events = [];
      ring.after = this.#last + 1;
    }
    this.#last += 1;
  }

  close(): void {
    clearInterval(this.#heartbeat);
    for (const { res } of this.#streams) res.end();
    this.#streams.clear();
    this.#rings.clear();
  }
}
