// One line to the server for all tabs of a browser: a browser opens six connections to a server and no more, so with a stream for each tab
// the seventh would never load. It runs in a shared worker where there is one, else in the page for itself.

/** What a page asks of the line. */
export type LiveAsk =
  /** With the last event of the rig that was before the page, where the server named it. */
  { want: string | null; after?: string | undefined } | { again: true };

/** What the line tells a page. */
export type LiveWord =
  | { kind: 'open' }
  | { kind: 'lost' }
  /** Events were missed: ask for everything. */
  | { kind: 'again' }
  | { kind: 'here' }
  | { kind: 'event'; name: LiveEventName; data: unknown };

export const LIVE_EVENTS = ['wheel', 'alarm', 'bench', 'rig', 'import'] as const;
export type LiveEventName = (typeof LIVE_EVENTS)[number];

/** A page that listens. */
export interface Listener {
  rigId: string | null;
  tell(word: LiveWord): void;
}

/** Asked again after this, ms. */
const RECONNECT_MS = 1000;
/** No word from the server for this long means the line is dead, ms (it says something every 2.5 s). */
export const DEAD_AFTER_MS = 6500;

/** Keeps a stream open for all rigs that its listeners look at, and goes on after the last event when it was lost. */
export class LiveLine {
  readonly #address: (rigs: string, last: string | undefined) => string;
  readonly #listeners = new Set<Listener>();
  #source: EventSource | null = null;
  #open = false;
  /** Rigs of the open stream. */
  #rigs = new Set<string>();
  #last: string | undefined;
  #dead: ReturnType<typeof setTimeout> | undefined;
  #retry: ReturnType<typeof setTimeout> | undefined;

  /** @param address of the stream of these rigs (with commas between them) after this event */
  constructor(address: (rigs: string, last: string | undefined) => string) {
    this.#address = address;
  }

  /**
   * A listener looks at a rig, at another one, or at none.
   * @param after the last event of the rig before what the listener reads by itself: a first stream begins there, and nothing is asked twice
   */
  want(listener: Listener, rigId: string | null, after?: string): void {
    this.#listeners.add(listener);
    listener.rigId = rigId;
    if (rigId !== null && after !== undefined && this.#source === null) {
      this.#last = after;
      this.#rigs = new Set([rigId]);
    }
    this.#follow(listener);
  }

  leave(listener: Listener): void {
    this.#listeners.delete(listener);
    if ([...this.#listeners].every((l) => l.rigId === null)) this.#close();
  }

  /** A page has heard nothing for too long: try again now. */
  again(): void {
    if (this.#open) this.#lost();
  }

  #follow(listener: Listener): void {
    if (listener.rigId === null) {
      if ([...this.#listeners].every((l) => l.rigId === null)) this.#close();
      return;
    }
    if (this.#source && this.#rigs.has(listener.rigId)) {
      // It has just come: what it shows may be older than the stream.
      if (this.#open) for (const kind of ['open', 'again'] as const) listener.tell({ kind });
      return;
    }
    this.#connect();
  }

  #close(): void {
    clearTimeout(this.#dead);
    clearTimeout(this.#retry);
    this.#source?.close();
    this.#source = null;
    this.#open = false;
    // What happens from here on is missed.
    this.#last = undefined;
  }

  #connect(): void {
    clearTimeout(this.#retry);
    clearTimeout(this.#dead);
    this.#source?.close();
    const wanted = new Set([...this.#listeners].flatMap((l) => l.rigId ?? []));
    if (wanted.size === 0) return;
    const fresh = [...wanted].filter((id) => !this.#rigs.has(id));
    this.#rigs = wanted;
    const last = this.#last;
    const source = new EventSource(this.#address([...wanted].join(), last));
    this.#source = source;
    const alive = () => {
      clearTimeout(this.#dead);
      this.#dead = setTimeout(() => this.#lost(), DEAD_AFTER_MS);
    };
    alive();
    source.addEventListener('here', () => {
      alive();
      for (const l of this.#listeners) l.tell({ kind: 'here' });
    });
    source.onopen = () => {
      alive();
      this.#open = true;
      for (const l of this.#listeners) {
        if (l.rigId === null) continue;
        l.tell({ kind: 'open' });
        // The server has what came since the last event, but not for a rig that was not followed then.
        if (last === undefined || fresh.includes(l.rigId)) l.tell({ kind: 'again' });
      }
    };
    source.onerror = () => this.#lost();
    source.addEventListener('again', (e) => {
      alive();
      this.#tell((JSON.parse((e as MessageEvent<string>).data) as { rig: string }).rig, { kind: 'again' });
    });
    for (const name of [...LIVE_EVENTS, 'reading'] as const) {
      source.addEventListener(name, (e) => {
        alive();
        const { data, lastEventId } = e as MessageEvent<string>;
        if (lastEventId !== '') this.#last = lastEventId;
        if (name === 'reading') return;
        const sent = JSON.parse(data) as { rig: string; data: unknown };
        this.#tell(sent.rig, { kind: 'event', name, data: sent.data });
      });
    }
  }

  #tell(rigId: string, word: LiveWord): void {
    for (const l of this.#listeners) if (l.rigId === rigId) l.tell(word);
  }

  #lost(): void {
    clearTimeout(this.#dead);
    this.#open = false;
    // A browser gives up for good when the server is gone long enough: ask again ourselves.
    this.#source?.close();
    for (const l of this.#listeners) l.tell({ kind: 'lost' });
    clearTimeout(this.#retry);
    this.#retry = setTimeout(() => this.#connect(), RECONNECT_MS);
  }
}
