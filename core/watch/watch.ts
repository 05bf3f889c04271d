import type { AlarmKind } from '#schema/alarm.ts';
import { Engine, type EngineOptions, type EngineSnapshot, type TopUp, type TrackMode } from './engine.ts';
import type { WatchEvent } from './ledger.ts';
import { WATCH } from './parameters.ts';
import { severityOf } from './priority.ts';
import type { Surroundings } from './rules/rule.ts';
import type { ActiveAlarm, AirGuess, WheelLimits, WheelMemory } from './wheel.ts';

export { NO_SURROUNDINGS, type TopUp, type TrackMode } from './engine.ts';
export type { WatchEvent } from './ledger.ts';
export type { Surroundings } from './rules/rule.ts';
export { type ActiveAlarm, type AlarmEvidence, type WheelLimits, type WheelMemory, waitsFitting } from './wheel.ts';

export interface WatchOptions extends EngineOptions {
  /** Readings between two states it can go back to, at least; 1024 unless given. */
  markEvery?: number;
  /** The most readings it keeps to go back through; `MOST_LOGGED` unless given. */
  mostLogged?: number;
}
/** The watch's whole memory: what `Watch` is built from again after a stop. */
export type WatchSnapshot = EngineSnapshot;

/** A reading in the log, in the order of its time: event time in ms, kPa gauge, °C and V; NaN: not told. */
export interface LoggedReading {
  position: string;
  ms: number;
  kpa: number;
  tempC: number;
  volts: number;
}

/** From its rise to its end (null while it lasts). */
export interface Episode {
  position: string;
  kind: AlarmKind;
  fromMs: number;
  toMs: number | null;
  last: WatchEvent;
}

/** A state of the engine that was, and the alarms that were open then or rose before and count still. Plain data. */
export interface Checkpoint {
  /** Event time, ms since the epoch: a reading older than this is not put in its place. */
  ms: number;
  state: EngineSnapshot;
  episodes: Episode[];
}

/** A state on the way, and how many readings of the log led to it. */
interface Mark {
  at: number;
  state: Checkpoint;
}

/** Readings between two states: what a late reading costs, at least. */
const MARK_EVERY = 1024;
/**
 * The most readings kept to go back through. Twenty-five wheels at six readings a second are within it for ten minutes; of faster ones it
 * goes back through two thirds of so many at least, in a tenth of a second at most.
 */
export const MOST_LOGGED = 100_000;

/** What a watch that was stopped needs to put late readings in their place again. */
export interface Past {
  checkpoint: Checkpoint;
  /** Readings of its wheels since the checkpoint, in any order. */
  readings: readonly LoggedReading[];
}

const NONE: readonly string[] = [];

const before = (a: LoggedReading, b: LoggedReading): boolean => a.ms < b.ms || (a.ms === b.ms && a.position < b.position);

/** Index of the first reading that is not older than this, in a list in the order of time. */
function firstAt(list: readonly LoggedReading[], ms: number): number {
  let [low, high] = [0, list.length];
  while (low < high) {
    const half = (low + high) >> 1;
    if ((list[half] as LoggedReading).ms < ms) low = half + 1;
    else high = half;
  }
  return low;
}

/** Index before which a reading belongs. Readings of the same time that came in order may stand in any order of their positions. */
function placeOf(list: readonly LoggedReading[], reading: LoggedReading): number {
  let at = firstAt(list, reading.ms);
  while (at < list.length && !before(reading, list[at] as LoggedReading)) at += 1;
  return at;
}

/** Whether a list of readings in order has one of this wheel at this time. */
function has(list: readonly LoggedReading[], { position, ms }: LoggedReading): boolean {
  for (let i = firstAt(list, ms); list[i]?.ms === ms; i += 1) if (list[i]?.position === position) return true;
  return false;
}

const alarmsAlike = (a: ReadonlyMap<string, ActiveAlarm>, b: ReadonlyMap<string, ActiveAlarm>): boolean =>
  a.size === b.size && [...a].every(([key, alarm]) => b.get(key)?.fromMs === alarm.fromMs);

/** Whether two memories of a wheel were last told the same and tell the same alarms. */
function alike(a: Readonly<WheelMemory> | undefined, b: Readonly<WheelMemory> | undefined): boolean {
  if (a?.lastMs !== b?.lastMs) return false;
  const [one, other] = [a, b].map((m) => new Map(Object.entries(m?.active ?? {})));
  return alarmsAlike(one as Map<string, ActiveAlarm>, other as Map<string, ActiveAlarm>);
}

/**
 * The watch of one rig: takes readings, says when alarms rise and return. A reading up to ten minutes late is put in its place: the
 * watch goes back to a state older than that, reads on from there in order, and tells what of the alarms is different now. So the
 * order of arrival does not matter, and nothing is reported twice. Readings at the very same time are judged in order of position after
 * a correction, in order of arrival before.
 */
export class Watch {
  readonly #options: WatchOptions;
  readonly #markEvery: number;
  readonly #mostLogged: number;
  #limits: Readonly<Record<string, WheelLimits>>;
  #engine: Engine;
  #log: LoggedReading[] = [];
  #base: Checkpoint;
  /** States on the way from the base to now, oldest first: close together lately, further apart before. */
  #marks: Mark[] = [];
  /** Late readings that are not in the log yet, in order. */
  #waiting: LoggedReading[] = [];
  #gathering = false;
  #frontMs = Number.NEGATIVE_INFINITY;
  /** Time of the youngest reading, ms. */
  #heardMs = Number.NEGATIVE_INFINITY;
  #tickedMs = Number.NEGATIVE_INFINITY;
  /** A reading came so late that nothing before now can be put in its place; the base is made again with the next one that isn't. */
  #closed = false;
  /** Alarms that were open at the base or rose since. */
  #episodes: Episode[] = [];

  /**
   * @param snapshot what it knew when it was stopped
   * @param past without it, nothing older than the snapshot is put in its place
   */
  constructor(
    wheels: Readonly<Record<string, WheelLimits>>,
    options: WatchOptions,
    snapshot?: Partial<WatchSnapshot>,
    past?: Past,
  ) {
    this.#options = options;
    this.#markEvery = options.markEvery ?? MARK_EVERY;
    this.#mostLogged = options.mostLogged ?? MOST_LOGGED;
    this.#limits = wheels;
    this.#engine = new Engine(wheels, options, snapshot);
    this.#openEpisodes();
    this.#base = { ms: Number.NEGATIVE_INFINITY, state: this.#engine.snapshot(), episodes: this.#copyEpisodes() };
    for (const position of Object.keys(wheels)) {
      const last = this.#engine.memory(position)?.lastMs;
      if (last != null && last > this.#frontMs) this.#frontMs = last;
    }
    this.#heardMs = this.#frontMs;
    if (Number.isFinite(this.#frontMs)) this.#base.ms = this.#frontMs;
    if (past) this.#stepBack(past);
  }

  /**
   * Stand on an older state again, with the readings since in the log. They are read once more: when that does not lead to what is known
   * now (some of them were never judged, or a late one was passed over), the watch stays where it is.
   */
  #stepBack({ checkpoint, readings }: Past): void {
    const engine = new Engine(this.#limits, this.#options, checkpoint.state);
    const events: WatchEvent[] = [];
    const log: LoggedReading[] = [];
    for (const r of [...readings].sort((a, b) => a.ms - b.ms || (a.position < b.position ? -1 : 1))) {
      if (r.ms >= checkpoint.ms && engine.read(r.position, r.ms, r.kpa, r.tempC, r.volts, events)) log.push(r);
    }
    const tickedMs = this.#engine.scannedMs;
    if (tickedMs !== null) engine.scan(tickedMs, events);
    const same = Object.keys(this.#limits).every((p) => alike(engine.memory(p), this.#engine.memory(p)));
    if (!same || !alarmsAlike(engine.missing, this.#engine.missing)) return;
    this.#base = checkpoint;
    this.#log = log;
    if (tickedMs !== null) this.#tickedMs = tickedMs;
    this.#frontMs = Math.max(log.at(-1)?.ms ?? checkpoint.ms, tickedMs ?? checkpoint.ms);
    this.#episodes = checkpoint.episodes.map((e) => ({ ...e }));
    this.#follow(events, 0);
  }

  /** Where it goes back to for a late reading; null while it cannot. The same object until it moves on. Not to be changed. */
  get checkpoint(): Checkpoint | null {
    return this.#closed || !Number.isFinite(this.#base.ms) ? null : this.#base;
  }

  #openEpisodes(): void {
    const open = (position: string, kind: AlarmKind, a: ActiveAlarm): Episode => {
      const { fromMs, limit, value, worst, evidence } = a;
      const priority = a.priority ?? severityOf(kind);
      const last: WatchEvent = { type: 'raised', position, kind, priority, atMs: fromMs, fromMs, limit, value, worst, evidence };
      return { position, kind, fromMs, toMs: null, last };
    };
    this.#episodes = [];
    for (const position of Object.keys(this.#limits)) {
      const active = this.#engine.memory(position)?.active ?? {};
      for (const [kind, a] of Object.entries(active)) this.#episodes.push(open(position, kind as AlarmKind, a));
    }
    for (const [unit, a] of this.#engine.missing) this.#episodes.push(open(unit, 'silent', a));
    for (const [unit, a] of this.#engine.repeater) this.#episodes.push(open(unit, 'battery', a));
  }

  #copyEpisodes = (): Episode[] => this.#episodes.map((e) => ({ ...e }));

  /** What is remembered of a wheel, or undefined for a position that is not watched. Not to be changed. */
  memory(position: string): Readonly<WheelMemory> | undefined {
    return this.#engine.memory(position);
  }

  /** Since when the rig has been awake without a pause, ms; null while it is quiet. */
  get busySinceMs(): number | null {
    return this.#engine.busySinceMs;
  }

  get topUp(): TopUp | null {
    return this.#engine.topUp;
  }

  get track(): TrackMode | null {
    return this.#engine.track;
  }

  /** The air as told or as guessed from the sensors; null before any was heard. */
  get air(): AirGuess | null {
    return this.#engine.air;
  }

  get around(): Surroundings {
    return this.#engine.around;
  }

  /** Units that are missed as a whole. */
  get missing(): ReadonlyMap<string, ActiveAlarm> {
    return this.#engine.missing;
  }

  /** The rig has stood for three hours, as far as the watch knows: every sensor shows the gas. */
  rested(ms: number): boolean {
    return this.#engine.rested(ms);
  }

  snapshot(): WatchSnapshot {
    return this.#engine.snapshot();
  }

  /** The snapshot without the wheels. */
  rigState(): Omit<WatchSnapshot, 'wheels'> {
    return this.#engine.rigState();
  }

  /**
   * Take a reading. One that is not younger than the wheel's last and over ten minutes late is passed over.
   * @param ms event time, ms since the epoch
   * @param kpa gauge pressure as read
   * @param tempC temperature as read
   * @param out takes what happened, in order
   * @param volts of its cell, when told
   * @returns false when the reading was passed over
   */
  read(position: string, ms: number, kpa: number, tempC: number, out: WatchEvent[], volts = Number.NaN): boolean {
    if (ms < this.#frontMs) return this.#late(position, ms, kpa, tempC, volts, out);
    if (this.#waiting.length > 0) this.#again(out);
    if (this.#closed) this.#settle();
    const from = out.length;
    if (!this.#engine.read(position, ms, kpa, tempC, volts, out)) return false;
    // The first of all: nothing that is older by more will ever be put in its place.
    if (this.#base.ms === Number.NEGATIVE_INFINITY) this.#base = { ...this.#base, ms: ms - WATCH.lateMs };
    this.#log.push({ position, ms, kpa, tempC, volts });
    this.#frontMs = ms;
    if (ms > this.#heardMs) this.#heardMs = ms;
    if (out.length > from) this.#follow(out, from);
    if (this.#log.length - this.#marked >= this.#markEvery) {
      this.#mark();
      this.#moveBase();
    }
    return true;
  }

  /**
   * Take readings that arrived together. Late ones are put in their places first and the watch goes back once, to the earliest of them,
   * however many there are: a unit that was out of reach hands in minutes of readings at once.
   * @param work calls `read` as often as it likes, the oldest reading first; what `memory` and the others show meanwhile may be from before the late ones
   * @param out takes what happened, in order
   */
  together(out: WatchEvent[], work: () => void): void {
    this.#gathering = true;
    try {
      work();
    } finally {
      this.#gathering = false;
      if (this.#waiting.length > 0) this.#again(out);
    }
  }

  /**
   * Let event time pass: wheels that should have been heard by now are reported. A wheel whose last reading is dated over five minutes
   * ahead of `ms` is restarted, and its memory says so (`aheadMs`).
   * @param ms the clock, ms since the epoch
   * @returns wheels that were restarted
   */
  tick(ms: number, out: WatchEvent[]): readonly string[] {
    const restarted = this.restartAhead(ms, out);
    // Long after the last reading nothing can begin. A history that is handed in piece by piece must find its own time where it left it.
    if (ms - this.#heardMs > WATCH.tickLagMs && !this.#waits()) return restarted;
    if (ms > this.#tickedMs) this.#tickedMs = ms;
    if (ms < this.#frontMs) return restarted;
    const from = out.length;
    this.#engine.scan(ms, out);
    const scanned = this.#engine.scannedMs;
    if (scanned !== null && scanned > this.#frontMs) this.#frontMs = scanned;
    if (out.length > from) this.#follow(out, from);
    return restarted;
  }

  /** Something ends by time alone: filling, or a sensor that is off its valve. */
  #waits(): boolean {
    if (this.#engine.topUp || this.#engine.track?.endedMs === null) return true;
    return Object.keys(this.#limits).some((p) => this.#engine.memory(p)?.offSinceMs != null);
  }

  /**
   * Restart wheels whose last reading is dated over five minutes ahead of the clock, and nothing else: see `Engine.forgetAhead`.
   * @param ms the clock, ms since the epoch
   * @returns wheels that were restarted
   */
  restartAhead(ms: number, out: WatchEvent[]): readonly string[] {
    if (this.#frontMs <= ms + WATCH.aheadMs) return NONE;
    const from = out.length;
    const restarted = this.#engine.forgetAhead(ms, out);
    this.#follow(out, from);
    this.#frontMs = ms;
    if (this.#tickedMs > ms) this.#tickedMs = ms;
    for (const position of Object.keys(this.#limits)) {
      const last = this.#engine.memory(position)?.lastMs;
      if (last != null && last > this.#frontMs) this.#frontMs = last;
    }
    this.#settle();
    return restarted;
  }

  /** Keep the list of alarms since the base. */
  #follow(events: readonly WatchEvent[], from: number): void {
    for (let i = from; i < events.length; i += 1) {
      const e = events[i] as WatchEvent;
      if (e.type === 'raised') {
        this.#episodes.push({ position: e.position, kind: e.kind, fromMs: e.fromMs, toMs: null, last: e });
        continue;
      }
      const open = this.#episodes.findLast((x) => x.position === e.position && x.kind === e.kind && x.toMs === null);
      if (!open) continue;
      open.last = e;
      if (e.type === 'returned') open.toMs = e.atMs;
    }
  }

  /** Log index of the last mark. */
  get #marked(): number {
    return this.#marks.at(-1)?.at ?? 0;
  }

  /** Keep the state as it is now. */
  #mark(): void {
    this.#marks.push({
      at: this.#log.length,
      state: { ms: this.#frontMs, state: this.#engine.snapshot(), episodes: this.#copyEpisodes() },
    });
    // Of older ones fewer will do: a late reading then costs at most about half as much again as the readings since it.
    const end = this.#log.length;
    const kept: Mark[] = [];
    for (const [i, m] of this.#marks.entries()) {
      const next = this.#marks[i + 1];
      if (next && next.at - (kept.at(-1)?.at ?? 0) <= (end - next.at) / 2) continue;
      kept.push(m);
    }
    this.#marks = kept;
  }

  /** Move the base on to the last mark that still reaches ten minutes back, or to where the log is short enough. */
  #moveBase(): void {
    let base: Mark | undefined;
    for (const m of this.#marks.slice(0, -1)) {
      const long = this.#log.length - (base?.at ?? 0) > this.#mostLogged;
      if (long || m.state.ms <= this.#frontMs - WATCH.lateMs) base = m;
    }
    if (!base) return;
    const { at, state } = base;
    // What was over by then is over for every state from there on, or it would be found and reported a second time.
    const counts = (list: readonly Episode[]) => list.filter((e) => e.toMs === null || e.toMs >= state.ms);
    this.#base = { ...state, episodes: counts(state.episodes) };
    this.#log.splice(0, at);
    this.#marks = this.#marks
      .filter((m) => m.at > at)
      .map((m) => ({ at: m.at - at, state: { ...m.state, episodes: counts(m.state.episodes) } }));
    this.#episodes = counts(this.#episodes);
  }

  /** From here on nothing older is put in its place: a command or a change of documents stands between. */
  #settle(): void {
    this.#closed = false;
    this.#log = [];
    this.#marks = [];
    this.#openEpisodes();
    this.#base = { ms: this.#frontMs, state: this.#engine.snapshot(), episodes: this.#copyEpisodes() };
  }

  /** Whether it would go back for a reading of this time, ms since the epoch: it is late, but by no more than can be put in its place. */
  comesLate(ms: number): boolean {
    return ms < this.#frontMs && !this.#closed && ms >= this.#frontMs - WATCH.lateMs && ms >= this.#base.ms;
  }

  #late(position: string, ms: number, kpa: number, tempC: number, volts: number, out: WatchEvent[]): boolean {
    if (!this.#limits[position]) return false;
    if (!this.comesLate(ms)) {
      // Too late to be put in its place. It still counts when it is the youngest of its wheel.
      if (this.#waiting.length > 0) this.#again(out);
      const from = out.length;
      const taken = this.#engine.read(position, ms, kpa, tempC, volts, out);
      if (!taken) return false;
      this.#follow(out, from);
      this.#closed = true;
      return true;
    }
    const entry: LoggedReading = { position, ms, kpa, tempC, volts };
    if (has(this.#log, entry) || has(this.#waiting, entry)) return false;
    this.#waiting.splice(placeOf(this.#waiting, entry), 0, entry);
    if (!this.#gathering) this.#again(out);
    return true;
  }

  /** Go back to before the earliest late reading and read on from there in order; tell what is different. */
  #again(out: WatchEvent[]): void {
    const late = this.#waiting;
    this.#waiting = [];
    const first = late[0] as LoggedReading;
    const place = placeOf(this.#log, first);
    // A mark that a late reading comes before is a state that never was.
    while (this.#marks.length > 0) {
      const last = this.#marks.at(-1) as Mark;
      if (last.at <= place && last.state.ms <= first.ms) break;
      this.#marks.pop();
    }
    const old = this.#episodes;
    const { at: start, state: mark } = this.#marks.at(-1) ?? { at: 0, state: this.#base };
    const air = this.#engine.around;
    this.#engine = new Engine(this.#limits, this.#options, mark.state);
    this.#engine.surround(air);
    this.#episodes = mark.episodes.map((e) => ({ ...e }));
    const rest = this.#log.splice(start);
    const events: WatchEvent[] = [];
    let next = 0;
    for (let i = 0; i < rest.length || next < late.length; ) {
      const [r, l] = [rest[i], late[next]];
      const reading = (r && l ? (before(l, r) ? l : r) : (r ?? l)) as LoggedReading;
      if (reading === l) next += 1;
      else i += 1;
      this.#engine.read(reading.position, reading.ms, reading.kpa, reading.tempC, reading.volts, events);
      this.#log.push(reading);
      this.#frontMs = reading.ms;
      this.#followAll(events);
      if (this.#log.length - this.#marked >= this.#markEvery) this.#mark();
    }
    if (this.#tickedMs > this.#frontMs) {
      this.#engine.scan(this.#tickedMs, events);
      this.#frontMs = Math.max(this.#frontMs, this.#engine.scannedMs ?? this.#frontMs);
      this.#followAll(events);
    }
    this.#compare(old, mark.ms, out);
    this.#moveBase();
  }

  /** Keep the list of alarms, and empty the list of what happened. */
  #followAll(events: WatchEvent[]): void {
    if (events.length === 0) return;
    this.#follow(events, 0);
    events.length = 0;
  }

  #compare(old: readonly Episode[], sinceMs: number, out: WatchEvent[]): void {
    const left = new Set(old);
    const end = (e: Episode) => e.toMs ?? Number.POSITIVE_INFINITY;
    const fresh: Episode[] = [];
    for (const e of this.#episodes) {
      // The same alarm: one of the same kind on the same wheel that overlaps, or lay within the time a reading may be late.
      let same: Episode | undefined;
      for (const o of left) {
        if (o.position !== e.position || o.kind !== e.kind) continue;
        if (o.fromMs > end(e) + WATCH.lateMs || e.fromMs > end(o) + WATCH.lateMs) continue;
        if (!same || Math.abs(o.fromMs - e.fromMs) < Math.abs(same.fromMs - e.fromMs)) same = o;
      }
      if (!same) {
        fresh.push(e);
        continue;
      }
      left.delete(same);
      if (
        same.fromMs === e.fromMs &&
        same.toMs === e.toMs &&
        same.last.worst === e.last.worst &&
        same.last.priority === e.last.priority
      )
        continue;
      out.push({ ...e.last, type: 'corrected', fromMs: e.fromMs, oldFromMs: same.fromMs, toMs: e.toMs });
    }
    for (const o of left) {
      if (o.toMs !== null && o.toMs < sinceMs) continue;
      out.push({ ...o.last, type: 'withdrawn', oldFromMs: o.fromMs, toMs: null });
    }
    for (const e of fresh) {
      out.push({ ...e.last, type: 'raised', atMs: e.fromMs });
      if (e.toMs !== null) out.push({ ...e.last, type: 'returned', atMs: e.toMs });
    }
  }

  /** The air, the altitude, whether it rolls. Readings older than a change are no longer put in their place before it. */
  surround(around: Surroundings): void {
    const now = this.#engine.around;
    if (now.airC === around.airC && now.moving === around.moving && now.ambientKpa === around.ambientKpa) return;
    this.#engine.surround(around);
    this.#settle();
  }

  #command(work: (out: WatchEvent[]) => void, out: WatchEvent[]): void {
    const from = out.length;
    work(out);
    this.#follow(out, from);
    this.#settle();
  }

  /** See `Engine.configure`. */
  configure(wheels: Readonly<Record<string, WheelLimits>>, reset: ReadonlySet<string>, out: WatchEvent[]): void {
    this.#limits = wheels;
    this.#command((o) => this.#engine.configure(wheels, reset, o), out);
  }

  /** See `Engine.startTopUp`. */
  startTopUp(positions: readonly string[], ms: number, out: WatchEvent[]): void {
    this.#command((o) => this.#engine.startTopUp(positions, ms, o), out);
  }

  /** See `Engine.endTopUp`. */
  endTopUp(ms: number, out: WatchEvent[]): void {
    this.#command((o) => this.#engine.endTopUp(ms, o), out);
  }

  /** See `Engine.startTrack`. */
  startTrack(untilMs: number, ms: number, out: WatchEvent[]): void {
    this.#command((o) => this.#engine.startTrack(untilMs, ms, o), out);
  }

  /** See `Engine.endTrack`. */
  endTrack(ms: number, out: WatchEvent[]): void {
    this.#command((o) => this.#engine.endTrack(ms, o), out);
  }

  /** See `Engine.forgetTrack`. */
  forgetTrack(ms: number, out: WatchEvent[]): void {
    this.#command((o) => this.#engine.forgetTrack(ms, o), out);
  }

  /** See `Engine.answerOff`. */
  answerOff(position: string, off: boolean, ms: number, out: WatchEvent[]): void {
    this.#command((o) => this.#engine.answerOff(position, off, ms, o), out);
  }

  /** See `Engine.tellRepeater`. */
  tellRepeater(unit: string, volts: number, ms: number, out: WatchEvent[]): void {
    this.#command((o) => this.#engine.tellRepeater(unit, volts, ms, o), out);
  }

  /** See `Engine.takeAsSet`. */
  takeAsSet(position: string, ms: number, out: WatchEvent[]): void {
    this.#command((o) => this.#engine.takeAsSet(position, ms, o), out);
  }
}
