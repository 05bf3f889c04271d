import type { Database } from 'better-sqlite3';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { ambientAtAltitude } from '#core/air/atmosphere.ts';
import {
  addSensor,
  advance,
  benchMs,
  changeWheels,
  createBench,
  fitSensor,
  freshId,
  gasC,
  gaugeKpa,
  inflate,
  layOut,
  sensorById,
  unfitSensor,
  wheelAt,
} from '#core/bench/bench.ts';
import { chooseStop, freshKeyer, type PressAnswer, pressKey } from '#core/bench/keyer.ts';
import {
  captureView,
  exchangeSaved,
  fitLabelled,
  freshMonitor,
  leaveMenu,
  nextPosition,
  openAt,
  rotateWheels,
  type SaveAnswer,
  saveShown,
  startCapture,
} from '#core/bench/monitor.ts';
import { advanceScene, beginScene, endScene } from '#core/bench/scenes.ts';
import { benchWheels } from '#core/bench/setup.ts';
import type { BenchMonitor, BenchState } from '#core/bench/state.ts';
import { FieldError } from '#core/errors.ts';
import { pressureAt } from '#core/gas/gas.ts';
import { wheelsOf } from '#core/rig/positions.ts';
import { type BenchCommand, type BenchFactor, type BenchView, FASTEST_WAIT } from '#schema/bench.ts';
import type { Monitor } from '#schema/monitor.ts';
import { inTransaction, reading } from '../db/open.ts';
import type { LiveHub } from '../live/hub.ts';
import { otherWork } from '../loop.ts';
import { HttpProblem } from '../problem.ts';
import { listRecords } from '../records/store.ts';
import type { WatchService } from '../watch/service.ts';

/** A bench that is open for a rig. */
interface OpenBench {
  state: BenchState;
  running: boolean;
  factor: BenchFactor;
  /** Wall clock of the last step, ms. */
  steppedAt: number;
  tickedMs: number;
  toldAt: number;
}

interface BenchRow {
  rig_id: string;
  running: number;
  factor: number;
  state: string;
}

/** Wall time between two steps, ms. */
const STEP_MS = 100;
/** Event time between two looks for silence, ms. */
/** The watch gets the air and the drive at least this often, in seconds of the bench's time. */
const MOST_AT_ONCE_S = 15;
const TICK_MS = 10_000;
/** A pause of the server longer than this is bridged with the rig parked. */
const BRIDGE_MS = 10 * 60_000;
const LONGEST_BRIDGE_S = 30 * 86400;
/** Where the bench starts: the middle of a mild day near sea level. */
const START = { airC: 15, altitudeM: 300 };

/** Runs the simulated kits. Their frames take the same path as every other reading. */
export class BenchService {
  readonly #db: Knex;
  readonly #watch: WatchService;
  readonly #hub: LiveHub;
  readonly #now: () => number;
  readonly #log: Logger;
  readonly #benches = new Map<string, OpenBench>();
  #timer: NodeJS.Timeout | null = null;
  #stepping: Promise<void> | null = null;
  #paused = false;

  constructor(db: Knex, watch: WatchService, hub: LiveHub, now: () => number, log: Logger) {
    this.#db = db;
    this.#watch = watch;
    this.#hub = hub;
    this.#now = now;
    this.#log = log;
  }

  /** Take up the benches that were open, and go on with those that were running. */
  async load(): Promise<void> {
    const rows = await reading(
      this.#db,
      (raw) => raw.prepare('select rig_id, running, factor, state from benches').all() as BenchRow[],
    );
    for (const row of rows) {
      if (!this.#watch.has(row.rig_id)) continue;
      const bench: OpenBench = {
        state: JSON.parse(row.state),
        running: row.running === 1,
        factor: row.factor as BenchFactor,
        steppedAt: this.#now(),
        tickedMs: 0,
        toldAt: 0,
      };
      this.#benches.set(row.rig_id, bench);
      this.#bridge(bench);
      await this.#tellClock(row.rig_id, bench);
    }
  }

  /** Bring a bench that lay still for long up to the wall clock: the rig was parked. */
  #bridge(bench: OpenBench): void {
    const gapMs = this.#now() - benchMs(bench.state);
    if (gapMs < BRIDGE_MS) return;
    const { kmh } = bench.state;
    bench.state.kmh = 0;
    const gapS = Math.min(LONGEST_BRIDGE_S, gapMs / 1000);
    advance(bench.state, gapS, 60);
    bench.state.startMs += gapMs - gapS * 1000;
    bench.state.kmh = kmh;
  }

  start(): void {
    this.#timer = setInterval(() => {
      if (this.#stepping || this.#paused) return;
      this.#stepping = this.#stepAll()
        .catch((err: unknown) => this.#log.error({ err }, 'bench step failed'))
        .finally(() => {
          this.#stepping = null;
        });
    }, STEP_MS);
  }

  /** Stand still: what is open is forgotten here and kept in the database. */
  async pause(): Promise<void> {
    this.#paused = true;
    await this.#stepping;
    await inTransaction(this.#db, (raw) => {
      for (const [rigId, bench] of this.#benches) this.#save(raw, rigId, bench);
    });
    this.#benches.clear();
  }

  resume(): void {
    this.#paused = false;
  }

  async stop(): Promise<void> {
    if (this.#timer) clearInterval(this.#timer);
    await this.#stepping;
    await inTransaction(this.#db, (raw) => {
      for (const [rigId, bench] of this.#benches) this.#save(raw, rigId, bench);
    });
  }

  async #stepAll(): Promise<void> {
    for (const [rigId, bench] of [...this.#benches]) {
      if (!this.#watch.has(rigId)) {
        this.#benches.delete(rigId);
        continue;
      }
      const now = this.#now();
      const elapsed = Math.min(5, (now - bench.steppedAt) / 1000);
      bench.steppedAt = now;
      if (!bench.running) continue;
      let rest = elapsed * bench.factor;
      for (; rest > 1e-9 && bench.running && this.#benches.get(rigId) === bench; rest -= MOST_AT_ONCE_S) {
        await this.#step(rigId, bench, Math.min(rest, MOST_AT_ONCE_S));
        await otherWork();
      }
    }
  }

  async #step(rigId: string, bench: OpenBench, seconds: number): Promise<void> {
    const frames = advanceScene(bench.state, seconds);
    await this.#tellClock(rigId, bench);
    if (frames.length > 0) {
      // A display that corrects its pressures does so on the bench too.
      const correctsToC = this.#watch.correctsToC(rigId);
      const shown = (kpa: number, tempC: number) =>
        correctsToC === undefined ? kpa : Math.max(0, pressureAt(kpa, tempC, correctsToC));
      const readings = frames.map((f) => ({ ...f, pressureKpa: shown(f.pressureKpa, f.tempC), rssiDbm: null }));
      await this.#watch.ingest(readings, 'bench', { onlyRig: rigId, also: (raw) => this.#save(raw, rigId, bench) });
    }
    const ms = benchMs(bench.state);
    if (ms - bench.tickedMs >= TICK_MS) {
      bench.tickedMs = ms;
      await this.#watch.tick(rigId);
    }
    if (this.#hub.has(rigId) && this.#now() - bench.toldAt >= 500) {
      bench.toldAt = this.#now();
      this.#hub.send(rigId, 'bench', this.view(rigId));
    }
  }

  #tellClock(rigId: string, bench: OpenBench): Promise<void> {
    const { state } = bench;
    return this.#watch.setBench(rigId, {
      ms: benchMs(state),
      airC: state.airC,
      moving: state.kmh > 0,
      ambientKpa: ambientAtAltitude(state.altitudeM),
    });
  }

  #save(raw: Database, rigId: string, bench: OpenBench): void {
    raw
      .prepare(
        'insert into benches (rig_id, running, factor, state) values (?, ?, ?, ?) on conflict (rig_id) do update set running = excluded.running, factor = excluded.factor, state = excluded.state',
      )
      .run(rigId, bench.running ? 1 : 0, bench.factor, JSON.stringify(bench.state));
  }

  /** Follow the rig's documents: its wheels, their pressures, and sensors that are paired but unknown to the bench. */
  follow(rigId: string): void {
    const bench = this.#benches.get(rigId);
    if (bench && this.#watch.has(rigId)) this.#sync(rigId, bench.state);
  }

  /** The same for every open bench. */
  followAll(): void {
    for (const rigId of this.#benches.keys()) this.follow(rigId);
  }

  #sync(rigId: string, state: BenchState): void {
    const { rig, units } = this.#watch.rigWithUnits(rigId);
    changeWheels(state, benchWheels(units, rig.loadState));
    const wheels = wheelsOf(units);
    // A kit that was paired before the bench was laid out is in its monitor already.
    if (!state.monitor) for (const w of wheels) if (w.wheel.sensor) monitorOf(state).saved[w.position] = w.wheel.sensor.id;
    const monitor = monitorOf(state);
    if (!state.wheels.some((w) => w.position === monitor.position)) monitor.position = state.wheels[0]?.position ?? '';
    for (const w of wheels) {
      const { sensor } = w.wheel;
      if (sensor && !state.sensors.some((s) => s.id === sensor.id)) addSensor(state, sensor.id, sensor.kind, w.position);
    }
    // Enough loose sensors for the wheels without one, and one to spare.
    const bare = wheels.filter((w) => !state.sensors.some((s) => s.at === w.position)).length;
    const kind = wheels.find((w) => w.wheel.sensor)?.wheel.sensor?.kind ?? 'cap';
    for (let loose = state.sensors.filter((s) => s.at === null).length; loose < bare + 1; loose += 1) {
      addSensor(state, freshId(state), kind, null);
    }
  }

  view(rigId: string): BenchView {
    const bench = this.#benches.get(rigId);
    if (!bench)
      return {
        open: false,
        running: false,
        factor: 1,
        time: null,
        kmh: 0,
        track: false,
        ...START,
        scene: null,
        wheels: [],
        monitor: null,
        keyer: null,
        tray: [],
      };
    const { state } = bench;
    const monitor = monitorOf(state);
    return {
      open: true,
      running: bench.running,
      factor: bench.factor,
      time: new Date(benchMs(state)).toISOString(),
      kmh: state.kmh,
      track: state.track === true,
      airC: state.airC,
      altitudeM: state.altitudeM,
      scene: state.scene
        ? {
            id: state.scene.id,
            at: state.scene.at,
            done: (state.nowS - state.scene.startS) / (state.scene.endS - state.scene.startS),
          }
        : null,
      wheels: state.wheels.map((w) => {
        const sensor = state.sensors.find((s) => s.at === w.position);
        return {
          position: w.position,
          pressureKpa: Math.max(0, gaugeKpa(state, w)),
          gasC: gasC(w),
          holeMm: w.holeMm,
          hubRiseK: w.hubRiseK,
          sensorId: sensor?.id ?? null,
          quiet: sensor?.quiet ?? false,
          awake: sensor ? state.nowS < sensor.awakeUntilS : false,
        };
      }),
      monitor: {
        position: monitor.position,
        saved: monitor.saved,
        capture: monitor.capture && captureView(state, monitor.capture),
        tableClear: monitor.tableClear,
        trouble: monitor.trouble,
        mistakes: monitor.mistakes.slice(-100),
        captures: monitor.captures,
        labels: Object.fromEntries(
          Object.entries(monitor.labels).filter(([id]) => state.sensors.some((x) => x.id === id && x.at === null)),
        ),
      },
      // One that an older version kept had another shape and is opened again.
      keyer: state.keyer?.stops ? state.keyer : null,
      tray: state.sensors.filter((s) => s.at === null).map((s) => ({ id: s.id, kind: s.kind })),
    };
  }

  /**
   * Do what the owner asks at the bench.
   * @returns the bench after it; for `hold` also what the monitor shows
   * @throws FieldError at a wheel or sensor that is not on the bench; HttpProblem 409 while the bench is not open
   */
  async command(
    rigId: string,
    command: BenchCommand,
  ): Promise<{ bench: BenchView; saved?: SaveAnswer | PressAnswer; code?: string }> {
    await this.#stepping;
    if (command.action === 'open') await this.#open(rigId, command.ids);
    else if (command.action === 'close') await this.#close(rigId);
    else {
      const bench = this.#benches.get(rigId);
      if (!bench) throw new HttpProblem(409, 'The bench is not open for this rig', { detail: 'Open it first.' });
      const own =
        command.action === 'saveCode' ||
        command.action === 'openKeyer' ||
        command.action === 'key' ||
        command.action === 'choose';
      const kit = own ? await this.#monitorOf(rigId) : undefined;
      const code = bench.state.monitor?.capture ? captureView(bench.state, bench.state.monitor.capture).code : '';
      const saved = this.#apply(bench, command, kit);
      await this.#tellClock(rigId, bench);
      await inTransaction(this.#db, (raw) => this.#save(raw, rigId, bench));
      const view = this.view(rigId);
      this.#hub.send(rigId, 'bench', view);
      return saved ? { bench: view, saved, code } : { bench: view };
    }
    const view = this.view(rigId);
    this.#hub.send(rigId, 'bench', view);
    return { bench: view };
  }

  /** The rig's monitor, as its owner described it. */
  #monitorOf(rigId: string): Promise<Monitor | undefined> {
    const { monitorId } = this.#watch.rigWithUnits(rigId).rig;
    return reading(this.#db, (raw) => listRecords<Monitor>(raw, 'monitors').find((m) => m.id === monitorId));
  }

  #apply(
    bench: OpenBench,
    command: Exclude<BenchCommand, { action: 'open' | 'close' }>,
    kit: Monitor | undefined,
  ): SaveAnswer | PressAnswer | undefined {
    const { state } = bench;
    const monitor = monitorOf(state);
    switch (command.action) {
      case 'run':
        bench.running = true;
        bench.factor = command.factor ?? bench.factor;
        bench.steppedAt = this.#now();
        return;
      case 'pause':
        bench.running = false;
        return;
      case 'drive':
        state.kmh = command.kmh;
        state.track = command.track === true;
        return;
      case 'stop':
        state.kmh = 0;
        return;
      case 'air':
        state.airC = command.tempC;
        return;
      case 'leak':
        wheelAt(state, command.position).holeMm = command.holeMm;
        return;
      case 'mend':
        wheelAt(state, command.position).holeMm = 0;
        return;
      case 'inflate':
        inflate(state, command.position, command.kpa);
        return;
      case 'hub':
        wheelAt(state, command.position).hubRiseK = command.riseK;
        return;
      case 'quiet': {
        const sensor = state.sensors.find((s) => s.at === wheelAt(state, command.position).position);
        if (!sensor) throw new FieldError('/position', `there is no sensor on ${command.position}`);
        sensor.quiet = command.quiet;
        return;
      }
      case 'capture':
        startCapture(state, monitor, command.style, command.sensorId, command.waitS ?? 90);
        // A wait is event time: it passes while the bench runs.
        if (!bench.running) bench.factor = 1;
        else if (bench.factor > FASTEST_WAIT) bench.factor = FASTEST_WAIT;
        bench.running = true;
        bench.steppedAt = this.#now();
        return;
      case 'cancelCapture':
        monitor.capture = null;
        return;
      case 'goTo':
        openAt(state, monitor, command.position);
        return;
      case 'step':
        nextPosition(state, monitor, command.by, kit?.listing === 'long');
        return;
      case 'saveCode':
        return saveShown(state, monitor, command.press, kit?.saves, command.intended, kit?.listing === 'long');
      case 'leaveMenu':
        leaveMenu(state, monitor);
        return;
      case 'clearCode': {
        wheelAt(state, command.position);
        const { [command.position]: _gone, ...rest } = monitor.saved;
        monitor.saved = rest;
        return;
      }
      case 'exchange':
        exchangeSaved(state, monitor, command.a, command.b);
        return;
      case 'table':
        monitor.tableClear = command.clear;
        return;
      case 'trouble':
        monitor.trouble = command.next;
        return;
      case 'fitLabelled':
        fitLabelled(state, monitor);
        return;
      case 'rotateWheels':
        rotateWheels(state, command.moves);
        return;
      case 'openKeyer':
        if (!kit) throw new FieldError('/action', 'the rig has no monitor to key');
        state.keyer = freshKeyer(command.groups, kit);
        return;
      case 'key':
        if (!state.keyer?.stops || !kit) throw new FieldError('/action', 'open the limit menu first');
        return pressKey(state.keyer, command.key, kit, { intended: command.intended, nowS: this.#now() / 1000 });
      case 'choose':
        if (!state.keyer?.stops || !kit) throw new FieldError('/action', 'open the limit menu first');
        return chooseStop(state.keyer, command.stop, kit);
      case 'forgetMistakes':
        monitor.mistakes = [];
        monitor.captures = 0;
        return;
      case 'scene':
        endScene(state);
        beginScene(state, command.scene, command.at);
        bench.factor = command.factor ?? bench.factor;
        bench.running = true;
        bench.steppedAt = this.#now();
        return;
      case 'endScene':
        endScene(state);
        return;
      case 'fit':
        sensorById(state, command.sensorId);
        fitSensor(state, command.sensorId, command.position);
        return;
      case 'unfit':
        unfitSensor(state, command.sensorId);
        return;
    }
  }

  async #open(rigId: string, ids: boolean | undefined): Promise<void> {
    const open = this.#benches.get(rigId);
    if (open) {
      if (ids === undefined) return;
      layOut(open.state, ids);
      await inTransaction(this.#db, (raw) => this.#save(raw, rigId, open));
      return;
    }
    const { rig, units } = this.#watch.rigWithUnits(rigId);
    const last = this.#watch.view(rigId).wheels.reduce((ms, w) => (w.time === null ? ms : Math.max(ms, Date.parse(w.time))), 0);
    const state = createBench({
      seed: seedOf(rigId),
      startMs: Math.max(this.#now(), last + 1000),
      ...START,
      wheels: benchWheels(units, rig.loadState),
    });
    layOut(state, ids ?? true);
    await this.adopt(rigId, state, false, 10);
  }

  /** Put a bench made elsewhere (the demo's history) under this keeper. */
  async adopt(rigId: string, state: BenchState, running: boolean, factor: BenchFactor): Promise<void> {
    this.#sync(rigId, state);
    const bench: OpenBench = { state, running, factor, steppedAt: this.#now(), tickedMs: 0, toldAt: 0 };
    this.#benches.set(rigId, bench);
    await this.#tellClock(rigId, bench);
    await inTransaction(this.#db, (raw) => this.#save(raw, rigId, bench));
  }

  async #close(rigId: string): Promise<void> {
    if (!this.#benches.delete(rigId)) return;
    await inTransaction(this.#db, (raw) => raw.prepare('delete from benches where rig_id = ?').run(rigId));
    await this.#watch.setBench(rigId, null);
  }
}

/** The bench's monitor, switched on when it is first looked at. */
function monitorOf(state: BenchState): BenchMonitor {
  state.monitor ??= freshMonitor(state.wheels.map((w) => w.position));
  return state.monitor;
}

/** The bench of a rig misbehaves the same way every time: its seed comes from the rig's id (FNV-1a). */
function seedOf(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i += 1) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193);
  return h >>> 0;
}
