import type { Response } from 'express';

/** Names of the events a rig's stream carries. */
export type LiveEvent = 'reading' | 'wheel' | 'alarm' | 'bench' | 'rig' | 'import';

/** A listener that has left this much unread is let go, bytes: its page asks again and gets the state as it is then. */
const MOST_UNREAD = 4_000_000;

/** The open event streams, by rig. */
export class LiveHub {
  readonly #streams = new Map<string, Set<Response>>();
  readonly #heartbeat: NodeJS.Timeout;

  constructor() {
    // An event now and then shows the page that the line is alive: a page that misses it says that it has lost the server.
    this.#heartbeat = setInterval(() => {
      for (const set of this.#streams.values()) for (const res of set) this.#write(res, 'event: here\ndata:\n\n');
    }, 2500);
    this.#heartbeat.unref();
  }

  add(rigId: string, res: Response): void {
    res.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-cache, no-transform',
      Connection: 'keep-alive',
      'X-Accel-Buffering': 'no',
    });
    res.write('retry: 1000\n\n');
    const set = this.#streams.get(rigId) ?? new Set();
    set.add(res);
    this.#streams.set(rigId, set);
    res.on('close', () => {
      set.delete(res);
      if (set.size === 0) this.#streams.delete(rigId);
    });
  }

  has(rigId: string): boolean {
    return this.#streams.has(rigId);
  }

  /** How many listen to a rig. */
  count(rigId: string): number {
    return this.#streams.get(rigId)?.size ?? 0;
  }

  #write(res: Response, text: string): void {
    if (res.writableLength > MOST_UNREAD) res.destroy();
    else res.write(text);
  }

  send(rigId: string, event: LiveEvent, data: unknown): void {
    const set = this.#streams.get(rigId);
    if (!set) return;
    const text = `event: ${event}\ndata: ${JSON.stringify(data)}\n\n`;
    for (const res of set) this.#write(res, text);
  }

  close(): void {
    clearInterval(this.#heartbeat);
    for (const set of this.#streams.values()) for (const res of set) res.end();
    this.#streams.clear();
  }
}
