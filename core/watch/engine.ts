import type { AlarmKind } from '#schema/alarm.ts';
import { STANDARD_AMBIENT_KPA } from '../air/atmosphere.ts';
import { REST_HOURS } from '../pressure/now.ts';
import { axleOf } from '../rig/positions.ts';
import { end, type WatchEvent } from './ledger.ts';
import { median } from './median.ts';
import { WATCH } from './parameters.ts';
import { judgeRepeater } from './rules/cell.ts';
import { RULES } from './rules/registry.ts';
import {
  type Axle,
  disconnected,
  type Judged,
  type Rig,
  type Rule,
  type Surroundings,
  suppressed,
  type Wheel,
} from './rules/rule.ts';
import { foundUnit, isAwake } from './rules/silence.ts';
import { countFromHere, noteMove } from './rules/stuck.ts';
import {
  type ActiveAlarm,
  type AirGuess,
  copyMemory,
  emptyWindow,
  forgetAir,
  freshMemory,
  guessGas,
  holdReading,
  inPlace,
  lostInWindow,
  memoryFrom,
  PUT_ON_NEXT,
  SETTLE_MS,
  type WheelLimits,
  type WheelMemory,
} from './wheel.ts';

/** Wheels that are being filled. */
export interface TopUp {
  positions: string[];
  /** When it began; left out by a snapshot from before this was kept. */
  sinceMs?: number;
  untilMs: number;
  /** One of them has been heard below its cold pressure since. */
  begun: boolean;
}

/** A day on the track: pressures are changed hot and on purpose, and the wheels of an axle differ as the corners load them. */
export interface TrackMode {
  sinceMs: number;
  untilMs: number;
  /** It is over, by itself or by its owner, and the tires may still be at track pressure; null while it lasts. */
  endedMs: number | null;
}

/** The engine's whole memory, plain data. */
export interface EngineSnapshot {
  wheels: Record<string, WheelMemory>;
  /** Units that are missing as a whole. */
  units: Record<string, ActiveAlarm>;
  /** Repeaters with a weak supply, by the letter of the unit they are mounted on. */
  repeater: Record<string, ActiveAlarm>;
  /** When the wheels of each axle are next compared with each other. */
  axles: Record<string, number>;
  /** Since when the rig has been awake without a pause; null while it is quiet. */
  busySinceMs: number | null;
  /** Event time up to which the watch has looked for wheels that aren't reporting. */
  scannedMs: number | null;
  movedMs: number | null;
  air: AirGuess | null;
  airMs: number;
  offsetKpa: number;
  moves: number;
  around: Surroundings;
  topUp: TopUp | null;
  /** Left out by a snapshot from before it was kept. */
  track?: TrackMode | null;
}

export interface EngineOptions {
  /** See `Rig.sleepAware`. */
  sleepAware: boolean;
}

/** The smallest difference between two readings is the sensor's step. */
function learnStep(memory: WheelMemory, kpa: number): void {
  const by = Math.abs(kpa - memory.lastKpa);
  if (by < WATCH.stepLeastKpa || by > WATCH.stepMostKpa) return;
  if (memory.stepKpa === 0 || by < memory.stepKpa) memory.stepKpa = by;
}

/** Its pressure rose faster than any warmth: air is being put in. */
const isFilled = (memory: WheelMemory, kpa: number, tempC: number): boolean =>
  kpa - memory.lastKpa >= Math.max(WATCH.filledKpa, WATCH.filledSteps * memory.stepKpa) &&
  Math.abs(tempC - memory.lastC) < WATCH.filledWithinK;

/** What the wheel usually shows, the rig's own offset taken out: quickly at first, then over days. */
function learnUsual(memory: WheelMemory, ms: number): void {
  const gapMs = ms - memory.usualAtMs;
  memory.usualAtMs = ms;
  const shown = memory.heldKpa - memory.shiftKpa;
  if (memory.usualCount === 0) memory.usualKpa = shown;
  const share = Math.max(1 / (memory.usualCount + 1), Math.min(gapMs, WATCH.usualMostMs) / WATCH.usualMs);
  memory.usualKpa += share * (shown - memory.usualKpa);
  if (memory.usualCount < WATCH.usualMost) memory.usualCount += 1;
  if (ms > memory.startMs) return;
  // Cold starts are few: each of their readings counts a fiftieth.
  if (memory.startCount === 0) memory.startKpa = shown;
  memory.startKpa += Math.max(1 / (memory.startCount + 1), WATCH.startShare) * (shown - memory.startKpa);
  if (memory.startCount < WATCH.usualMost) memory.startCount += 1;
}

const offsets: number[] = [];

/** What the wheels that are heard are off by alike, kPa: the middle of three and more, the smaller of two that agree. */
function commonOffset(rig: Rig, ms: number): number {
  offsets.length = 0;
  for (const { memory: m, limits } of rig.list) {
    if (
      limits.rests ||
      limits.resting ||
      m.lastMs === null ||
      ms - m.lastMs > WATCH.busyWindowMs ||
      m.usualCount < WATCH.usualOffsetFrom
    )
      continue;
    if (m.active.rapid || m.active.slow || m.putOnMs != null) continue;
    offsets.push(m.heldKpa - m.usualKpa);
  }
  let kpa = 0;
  if (offsets.length >= 3) kpa = median(offsets);
  else if (offsets.length === 2) {
    const [a, b] = offsets as [number, number];
    if (a * b > 0) kpa = Math.abs(a) < Math.abs(b) ? a : b;
  }
  const over = Math.max(0, Math.min(WATCH.offsetMostKpa, Math.abs(kpa)) - WATCH.offsetFromKpa);
  return Math.sign(kpa) * over;
}

/** The axle that wheels alone on theirs share. */
const ALONE = '-';

const REST_MS = REST_HOURS * 3_600_000;
export const NO_SURROUNDINGS: Surroundings = { airC: null, moving: null, ambientKpa: STANDARD_AMBIENT_KPA };

const givenAir = (tempC: number | null): AirGuess | null => (tempC === null ? null : { tempC, spreadK: WATCH.airToldK });

const copyAlarms = (alarms: ReadonlyMap<string, ActiveAlarm>): Record<string, ActiveAlarm> =>
  Object.fromEntries([...alarms].map(([unit, alarm]) => [unit, { ...alarm }]));

/** Rules that take part in each step, looked up once. */
const takingPart = <K extends 'arrived' | 'judge' | 'compare' | 'cell' | 'again' | 'scan'>(step: K) =>
  RULES.flatMap((rule) => (rule[step] ? [rule[step] as NonNullable<Rule[K]>] : []));
const ARRIVED = takingPart('arrived');
const JUDGE = takingPart('judge');
const COMPARE = takingPart('compare');
const CELL = takingPart('cell');
const AGAIN = takingPart('again');
const SCAN = takingPart('scan');

/**
 * One pass over readings in the order of their time. It never looks at a clock: time comes with the readings and with `scan`.
 * Same readings, same answer. The engine keeps the order of things and what is remembered; what sounds is decided by `rules/`.
 * `Watch` puts late readings into their place around it.
 */
export class Engine {
  readonly #wheels = new Map<string, Wheel>();
  readonly #rig: Rig;
  #scannedMs: number | null;
  #movedMs: number | null;
  #airMs: number;
  #topUp: TopUp | null;
  #track: TrackMode | null;
  /** Place in the list of the wheel that is likely read next. */
  #turn = 0;
  readonly #judged: Judged = {
    ms: Number.NaN,
    kpa: Number.NaN,
    tempC: Number.NaN,
    previousMs: Number.NaN,
    judgedMs: Number.NaN,
    previousLowKpa: Number.NaN,
    previousHighKpa: Number.NaN,
    rested: false,
  };

  constructor(wheels: Readonly<Record<string, WheelLimits>>, options: EngineOptions, snapshot?: Partial<EngineSnapshot>) {
    this.#rig = {
      list: [],
      resting: false,
      units: new Map(),
      sleepAware: options.sleepAware,
      around: snapshot?.around ?? NO_SURROUNDINGS,
      guessedAir: snapshot?.air ? { ...snapshot.air } : null,
      busySinceMs: snapshot?.busySinceMs ?? null,
      offsetKpa: snapshot?.offsetKpa ?? 0,
      moves: snapshot?.moves ?? 0,
      missing: new Map(),
      repeater: new Map(),
      track: snapshot?.track != null && snapshot.track.endedMs === null,
    };
    this.#scannedMs = snapshot?.scannedMs ?? null;
    this.#movedMs = snapshot?.movedMs ?? null;
    this.#airMs = snapshot?.airMs ?? 0;
    this.#topUp = snapshot?.topUp ? { ...snapshot.topUp } : null;
    this.#track = snapshot?.track ? { ...snapshot.track } : null;
    for (const [position, limits] of Object.entries(wheels)) {
      const kept = snapshot?.wheels?.[position];
      this.#add(position, limits, kept ? memoryFrom(kept) : freshMemory());
    }
    this.#index();
    const { units, missing, repeater, list } = this.#rig;
    for (const [unit, alarm] of Object.entries(snapshot?.units ?? {})) {
      if (units.has(unit)) missing.set(unit, { ...alarm });
    }
    for (const [unit, alarm] of Object.entries(snapshot?.repeater ?? {})) repeater.set(unit, { ...alarm });
    for (const w of list) w.axle.nextMs = snapshot?.axles?.[axleOf(w.position)] ?? 0;
  }

  #add(position: string, limits: WheelLimits, memory: WheelMemory): void {
    this.#wheels.set(position, {
      position,
      unit: position[0] as string,
      index: 0,
      axle: { wheels: [], nextMs: 0, pooled: false },
      limits: inPlace(limits),
      memory,
      ownAir: givenAir(limits.airC ?? null),
      filling: false,
      calm: Object.keys(memory.active).length === 0,
    });
  }

  #index(): void {
    const rig = this.#rig;
    rig.list = [...this.#wheels.values()];
    rig.list.forEach((w, i) => {
      w.index = i;
    });
    rig.resting = rig.list.some((w) => w.limits.resting);
    rig.units = new Map();
    const axles = new Map<string, Axle>();
    // A wheel that is alone on its axle has only others like it to be compared with.
    const count = new Map<string, number>();
    for (const w of rig.list) count.set(axleOf(w.position), (count.get(axleOf(w.position)) ?? 0) + 1);
    const alone = new Set(rig.list.filter((w) => count.get(axleOf(w.position)) === 1 && !w.limits.rests));
    for (const w of rig.list) {
      const unit = rig.units.get(w.unit);
      if (unit) unit.push(w);
      else rig.units.set(w.unit, [w]);
      const key = this.#rig.sleepAware && alone.has(w) ? ALONE : axleOf(w.position);
      const axle = axles.get(key) ?? { wheels: [], nextMs: w.axle.nextMs, pooled: key === ALONE };
      axles.set(key, axle);
      axle.wheels.push(w);
      w.axle = axle;
      w.filling = this.#topUp?.positions.includes(w.position) ?? false;
    }
  }

  /** What is remembered of a wheel, or undefined for a position that isn't watched. Not to be changed. */
  memory(position: string): Readonly<WheelMemory> | undefined {
    return this.#wheels.get(position)?.memory;
  }

  get busySinceMs(): number | null {
    return this.#rig.busySinceMs;
  }

  get scannedMs(): number | null {
    return this.#scannedMs;
  }

  get topUp(): TopUp | null {
    return this.#topUp;
  }

  get track(): TrackMode | null {
    return this.#track;
  }

  get around(): Surroundings {
    return this.#rig.around;
  }

  /** The air as given or as guessed, or null. */
  get air(): AirGuess | null {
    return givenAir(this.#rig.around.airC) ?? this.#rig.guessedAir;
  }

  /** Repeaters with a weak supply. */
  get repeater(): ReadonlyMap<string, ActiveAlarm> {
    return this.#rig.repeater;
  }

  /** Units that are missing as a whole. */
  get missing(): ReadonlyMap<string, ActiveAlarm> {
    return this.#rig.missing;
  }

  rested(ms: number): boolean {
    return this.#rig.sleepAware && this.#movedMs !== null && ms - this.#movedMs >= REST_MS;
  }

  snapshot(): EngineSnapshot {
    const wheels: Record<string, WheelMemory> = {};
    for (const { position, memory } of this.#rig.list) wheels[position] = copyMemory(memory);
    return { ...this.rigState(), wheels };
  }

  /** The snapshot without the wheels. */
  rigState(): Omit<EngineSnapshot, 'wheels'> {
    const { missing, repeater, list, busySinceMs, guessedAir, around, offsetKpa, moves } = this.#rig;
    return {
      units: copyAlarms(missing),
      repeater: copyAlarms(repeater),
      axles: Object.fromEntries(list.map((w) => [axleOf(w.position), w.axle.nextMs])),
      busySinceMs,
      scannedMs: this.#scannedMs,
      movedMs: this.#movedMs,
      air: guessedAir && { ...guessedAir },
      airMs: this.#airMs,
      offsetKpa,
      moves,
      around,
      topUp: this.#topUp && { ...this.#topUp },
      track: this.#track && { ...this.#track },
    };
  }

  surround(around: Surroundings): void {
    this.#rig.around = around;
  }

  /**
   * Take a reading. One that isn't younger than the wheel's last is passed over.
   * @param ms event time, ms since the epoch
   * @param kpa gauge pressure as read
   * @param tempC temperature as read; NaN when the reading has none
   * @param volts of its cell; NaN when the reading has none
   * @param out takes what happened, in order
   * @returns false when the reading was passed over
   */
  read(position: string, ms: number, kpa: number, tempC: number, volts: number, out: WatchEvent[]): boolean {
    // Readings mostly come wheel after wheel: then the next one need not be looked up.
    const { list } = this.#rig;
    let wheel = list[this.#turn];
    if (wheel === undefined || wheel.position !== position) {
      wheel = this.#wheels.get(position);
      if (!wheel) return false;
    }
    this.#turn = wheel.index + 1 < list.length ? wheel.index + 1 : 0;
    const { memory } = wheel;
    const previousMs = memory.lastMs;
    if (previousMs !== null && ms <= previousMs) return false;
    const rig = this.#rig;
    if (rig.sleepAware && (this.#scannedMs === null || ms - this.#scannedMs >= WATCH.scanMs)) this.scan(ms, out);
    const judged = this.#judged;
    const interval = previousMs === null ? 0 : ms - previousMs;
    // A calm wheel that reports as usual has nothing that could end with this reading: most readings are of such.
    if (!wheel.calm || interval > WATCH.silentAfterMs || rig.missing.size > 0) {
      judged.ms = ms;
      judged.kpa = kpa;
      judged.tempC = tempC;
      judged.previousMs = previousMs ?? Number.NaN;
      for (const arrived of ARRIVED) arrived(wheel, judged, rig, out);
    }
    if (previousMs !== null) {
      memory.gapMs = interval;
      if (memory.denseMs === 0 || interval < memory.denseMs) memory.denseMs = interval;
      else if (interval > 2 * memory.denseMs) memory.denseMs *= WATCH.denseForgets;
      // What it does while the rig is parked is another habit, and none that it could miss.
      if (!rig.sleepAware || rig.busySinceMs !== null) {
        memory.intervals[memory.next] = interval;
        const next = memory.next + 1;
        memory.next = next < WATCH.habitLength ? next : 0;
      }
    }
    if (kpa === memory.lastKpa && tempC === memory.lastC && previousMs !== null) {
      if (rig.sleepAware && interval > WATCH.silentAfterMs) countFromHere(wheel, ms, rig);
      if (wheel.calm && this.#repeats(wheel, ms)) {
        memory.lastMs = ms;
        this.#compareIfDue(wheel, ms, out);
        this.#finish(wheel, ms, volts, tempC, out);
        return true;
      }
    } else if (rig.sleepAware) noteMove(wheel, ms, tempC, rig);
    judged.ms = ms;
    judged.kpa = kpa;
    judged.tempC = tempC;
    judged.previousMs = previousMs ?? Number.NaN;
    // biome-ignore lint/suspicious/noSelfCompare: NaN is a reading without a temperature
    if (tempC !== tempC) {
      this.#readWithoutTemperature(wheel, ms, kpa, out);
      return true;
    }
    this.#remember(wheel, judged, out);
    if (wheel.limits.resting) this.#heardResting(wheel, ms);
    if (suppressed(wheel)) this.#rest(wheel, ms, out);
    else {
      for (const judge of JUDGE) judge(wheel, judged, rig, out);
      this.#compareIfDue(wheel, ms, out);
      if (wheel.filling) this.#filled(ms, out);
    }
    this.#finish(wheel, ms, volts, tempC, out);
    return true;
  }

  #compareIfDue({ axle }: Wheel, ms: number, out: WatchEvent[]): void {
    if (ms < axle.nextMs || axle.wheels.length < 2) return;
    for (const compare of COMPARE) compare(axle, ms, this.#rig, out);
  }

  /** Work out what the reading says the tire holds, and put it into the wheel's memory. */
  #remember(wheel: Wheel, judged: Judged, out: WatchEvent[]): void {
    const { memory } = wheel;
    const { ms, kpa, tempC } = judged;
    const previousMs = memory.lastMs;
    const rig = this.#rig;
    // Readings that only repeated the last figures: it held as much until then.
    if (previousMs !== null && previousMs > memory.doneMs && !memory.noTemp)
      lostInWindow(memory, previousMs, memory.heldKpa, memory.lastKpa);
    memory.noTemp = false;
    const rested = this.rested(ms);
    const { sensorKind, coldTempC, correctedToC } = wheel.limits;
    // A figure that was corrected already is the gas's at that temperature, whatever the sensor shows.
    const kind = correctedToC === undefined ? sensorKind : 'ideal';
    if (kind !== 'ideal' && wheel.ownAir === null && rig.around.airC === null) this.#guessAir(ms, tempC, rested);
    const guess = guessGas(kind, correctedToC ?? tempC, rested, kind === 'ideal' ? null : (wheel.ownAir ?? this.air));
    if (memory.putOnMs === PUT_ON_NEXT) memory.putOnMs = ms;
    // It has taken the wheel's temperature: from here on that counts, and what it showed on the way doesn't.
    const settled = memory.putOnMs != null && ms - memory.putOnMs >= SETTLE_MS[kind];
    if (settled) {
      memory.putOnMs = null;
      emptyWindow(memory);
    }
    const beforeKpa = memory.lastKpa;
    if (previousMs !== null && kpa !== beforeKpa) {
      if (kind !== 'ideal') learnStep(memory, kpa);
      if (rig.sleepAware && ms - previousMs <= WATCH.filledGapMs && isFilled(memory, kpa, tempC)) memory.filledMs = ms;
    }
    judged.rested = rested;
    judged.previousLowKpa = memory.heldLowKpa;
    judged.previousHighKpa = memory.heldHighKpa;
    if (previousMs === null || ms - previousMs > WATCH.awakeGapMs) {
      memory.awakeMs = ms;
      if (previousMs !== null && ms - previousMs > WATCH.startGapMs) memory.startMs = ms + WATCH.startForMs;
    }
    holdReading(memory, ms, kpa, coldTempC, rig.around.ambientKpa, guess, kind === 'ideal' || settled);
    memory.shiftKpa = rig.sleepAware ? rig.offsetKpa : 0;
    if (!rig.track && (ms - memory.usualAtMs >= WATCH.usualEachMs || memory.usualCount < WATCH.usualFrom)) learnUsual(memory, ms);
    judged.judgedMs = previousMs === null ? ms : memory.doneMs;
    memory.doneMs = ms;
    memory.aheadMs = null;
    memory.lastMs = ms;
    memory.lastKpa = kpa;
    memory.lastC = tempC;
    if (kpa >= WATCH.fittedFromKpa) {
      if (wheel.limits.waitsFitting) memory.fitted = true;
      this.#backOn(wheel, ms, out);
    } else if (previousMs !== null && beforeKpa >= WATCH.fittedFromKpa && rig.around.moving !== true) {
      memory.askedMs = ms;
      memory.handledMs = ms;
    }
  }

  /** It is heard with pressure: a sensor that was off is back on its valve, and what the tire holds is measured from here. */
  #backOn(wheel: Wheel, ms: number, out: WatchEvent[]): void {
    const { memory } = wheel;
    if (memory.askedMs == null && memory.offSinceMs == null) return;
    memory.askedMs = null;
    memory.offSinceMs = null;
    memory.handledMs = ms;
    memory.putOnMs = ms;
    if (memory.active.rapid) end(wheel, 'rapid', ms, out);
    forgetAir(memory);
  }

  /** Whether a reading with the last figures says nothing new. */
  #repeats(wheel: Wheel, ms: number): boolean {
    const { memory } = wheel;
    return (
      ms - memory.doneMs < WATCH.repeatMs && !memory.noTemp && memory.askedMs == null && !suppressed(wheel) && !wheel.filling
    );
  }

  /** What every reading says beside pressure and temperature: its cell, and that the rig is awake. */
  #finish(wheel: Wheel, ms: number, volts: number, tempC: number, out: WatchEvent[]): void {
    const rig = this.#rig;
    // biome-ignore lint/suspicious/noSelfCompare: NaN is a reading without volts; `isNaN` is a call with every reading
    if (volts === volts) for (const cell of CELL) cell(wheel, ms, volts, tempC, out);
    if (!rig.sleepAware) return;
    if (rig.busySinceMs === null && isAwake(rig, ms)) rig.busySinceMs = ms;
    // To ten seconds: three hours are asked of it, and each write costs.
    if (this.#movedMs === null || (ms - this.#movedMs >= 10_000 && (rig.around.moving ?? rig.busySinceMs !== null)))
      this.#movedMs = ms;
  }

  /** A typed figure without a temperature: compared with low and high alone. */
  #readWithoutTemperature(wheel: Wheel, ms: number, kpa: number, out: WatchEvent[]): void {
    const { memory } = wheel;
    memory.lastMs = ms;
    memory.aheadMs = null;
    memory.lastKpa = kpa;
    memory.noTemp = true;
    if (kpa >= WATCH.fittedFromKpa) {
      if (wheel.limits.waitsFitting) memory.fitted = true;
      this.#backOn(wheel, ms, out);
    }
    this.#judgeAgain(wheel, ms, out);
    if (wheel.filling) this.#filled(ms, out);
  }

  /** Judge the last reading of a wheel against its limits again, or end what is active when nothing may sound for it. */
  #judgeAgain(wheel: Wheel, ms: number, out: WatchEvent[]): void {
    if (suppressed(wheel)) {
      this.#rest(wheel, ms, out);
      return;
    }
    const { lastKpa, lastC, noTemp } = wheel.memory;
    const last = { ...this.#judged, ms, kpa: lastKpa, tempC: noTemp ? Number.NEGATIVE_INFINITY : lastC };
    for (const again of AGAIN) again(wheel, last, this.#rig, out);
  }

  /**
   * A sensor of a unit that is said to be disconnected was heard. Heard for long without a pause, as on the road, at least half of them: the
   * unit is on the road too, and it is watched as if it were connected.
   */
  #heardResting({ unit, memory }: Wheel, ms: number): void {
    const rig = this.#rig;
    memory.restSinceMs ??= ms;
    if (memory.gapMs > WATCH.restPauseMs) memory.restSinceMs = ms;
    if (!rig.sleepAware || memory.alongside || rig.around.moving === false) return;
    if (ms - memory.restSinceMs < WATCH.restHeardMs) return;
    const wheels = (rig.units.get(unit) ?? []).filter((w) => !w.limits.rests);
    const heard = wheels.filter(
      ({ memory: m }) =>
        m.restSinceMs != null &&
        ms - m.restSinceMs >= WATCH.restHeardMs &&
        m.lastMs !== null &&
        ms - m.lastMs <= WATCH.restPauseMs,
    );
    if (heard.length < Math.max(Math.min(2, wheels.length), wheels.length / 2)) return;
    for (const w of wheels) w.memory.alongside = true;
  }

  /** A unit that was on the road though it is said to be disconnected is no longer heard: it is disconnected again. */
  #leaveResting(ms: number, out: WatchEvent[]): void {
    for (const wheels of this.#rig.units.values()) {
      if (!wheels.some((w) => w.memory.alongside)) continue;
      if (wheels.some((w) => w.memory.lastMs !== null && ms - w.memory.lastMs <= WATCH.silentAfterMs)) continue;
      for (const w of wheels) {
        w.memory.alongside = false;
        w.memory.restSinceMs = null;
        if (w.limits.resting) this.#rest(w, ms, out);
      }
    }
  }

  /** End what is active on a wheel that nothing may sound for. */
  #rest(wheel: Wheel, ms: number, out: WatchEvent[]): void {
    for (const kind of Object.keys(wheel.memory.active) as AlarmKind[]) {
      if (kind !== 'battery' || disconnected(wheel.limits, wheel.memory)) end(wheel, kind, ms, out);
    }
  }

  /** The air is at most what the coolest sensor shows; it may have warmed since. */
  #guessAir(ms: number, shownC: number, rested: boolean): void {
    const rig = this.#rig;
    const air = rig.guessedAir;
    if (air === null) rig.guessedAir = { tempC: shownC, spreadK: WATCH.airGuessedK };
    else if (rested) air.tempC = shownC;
    else {
      const hours = Math.max(0, ms - this.#airMs) / 3_600_000;
      air.tempC = Math.min(air.tempC + WATCH.airCreepKPerHour * hours, shownC);
    }
    this.#airMs = ms;
  }

  /**
   * Restart wheels whose last reading is dated too far ahead of the clock: a reading was dated wrong, or the clock was ahead and has
   * been set right. Left as they are, they would take no reading until that time comes.
   * @param nowMs the clock
   * @returns the wheels that were restarted
   */
  forgetAhead(nowMs: number, out: WatchEvent[]): string[] {
    const latest = nowMs + WATCH.aheadMs;
    const rig = this.#rig;
    const ahead: string[] = [];
    for (const wheel of rig.list) {
      const { lastMs } = wheel.memory;
      if (lastMs === null || lastMs <= latest) continue;
      for (const kind of Object.keys(wheel.memory.active) as AlarmKind[]) end(wheel, kind, nowMs, out);
      const { fitted } = wheel.memory;
      wheel.memory = { ...freshMemory(), fitted: fitted ?? false, aheadMs: lastMs };
      wheel.calm = true;
      ahead.push(wheel.position);
    }
    for (const w of rig.list) if (w.axle.nextMs > latest) w.axle.nextMs = 0;
    for (const [unit, alarm] of [...rig.missing]) if (alarm.fromMs > latest) foundUnit(unit, nowMs, rig, out);
    if (this.#scannedMs !== null && this.#scannedMs > latest) this.#scannedMs = null;
    if (this.#movedMs !== null && this.#movedMs > latest) this.#movedMs = null;
    if (rig.busySinceMs !== null && rig.busySinceMs > latest) rig.busySinceMs = null;
    if (this.#airMs > latest) {
      rig.guessedAir = null;
      this.#airMs = 0;
    }
    if (this.#topUp && this.#topUp.untilMs > latest + WATCH.topUpMs) {
      this.#topUp.sinceMs = nowMs;
      this.#topUp.untilMs = nowMs + WATCH.topUpMs;
    }
    const track = this.#track;
    if (track && track.sinceMs > latest) {
      track.untilMs -= track.sinceMs - nowMs;
      track.sinceMs = nowMs;
      if (track.endedMs !== null) track.endedMs = nowMs;
    }
    return ahead;
  }

  /** Let event time pass: wheels that should have been heard by now aren't reporting, top-up mode ends. */
  scan(ms: number, out: WatchEvent[]): void {
    const rig = this.#rig;
    if (!rig.sleepAware) {
      if (this.#scannedMs === null || ms > this.#scannedMs) this.#scannedMs = ms;
      for (const scan of SCAN) scan(ms, rig, out);
      return;
    }
    const step = WATCH.scanMs;
    const last = Math.floor(ms / step) * step;
    let at = this.#scannedMs === null ? last : this.#scannedMs + step;
    while (at <= last) {
      this.#scannedMs = at;
      this.#scanAt(at, out);
      // While the rig is quiet nothing can happen between two readings but what the last look finds too.
      at = rig.busySinceMs === null && at < last ? last : at + step;
    }
  }

  #scanAt(ms: number, out: WatchEvent[]): void {
    const rig = this.#rig;
    if (this.#topUp && ms >= this.#topUp.untilMs) this.endTopUp(this.#topUp.untilMs, out);
    if (this.#track && this.#track.endedMs === null && ms >= this.#track.untilMs) this.endTrack(this.#track.untilMs, out);
    for (const w of rig.list) {
      const off = w.memory.offSinceMs;
      if (off != null && (ms - off >= WATCH.offMs || rig.around.moving === true)) {
        w.memory.offSinceMs = null;
        this.#judgeAgain(w, ms, out);
      }
    }
    if (rig.resting) this.#leaveResting(ms, out);
    rig.busySinceMs = isAwake(rig, ms) ? (rig.busySinceMs ?? ms) : null;
    if (rig.busySinceMs !== null && ms % WATCH.offsetEachMs === 0) rig.offsetKpa = commonOffset(rig, ms);
    for (const scan of SCAN) scan(ms, rig, out);
  }

  /**
   * Take new limits: wheels that left are forgotten, new ones begin unheard, the others are judged again by their last reading.
   * @param reset positions whose sensor is another one now; they begin unheard
   */
  configure(wheels: Readonly<Record<string, WheelLimits>>, reset: ReadonlySet<string>, out: WatchEvent[]): void {
    for (const wheel of this.#rig.list) {
      if (wheels[wheel.position] && !reset.has(wheel.position)) continue;
      this.#endAll(wheel, out);
      this.#wheels.delete(wheel.position);
    }
    for (const [position, limits] of Object.entries(wheels)) {
      const wheel = this.#wheels.get(position);
      if (!wheel) {
        // Another sensor than before, or the first: it may have been screwed on just now.
        this.#add(position, limits, { ...freshMemory(), putOnMs: PUT_ON_NEXT });
        continue;
      }
      const before = wheel.limits;
      wheel.limits = inPlace(limits);
      wheel.ownAir = givenAir(limits.airC ?? null);
      // Cold equivalents at another temperature, or through another kind of sensor, are other figures.
      if (wheel.limits.coldTempC !== before.coldTempC || wheel.limits.sensorKind !== before.sensorKind) forgetAir(wheel.memory);
      // Nothing is asked about a unit that is disconnected.
      if (wheel.limits.resting) wheel.memory.askedMs = null;
      if (wheel.limits.resting !== before.resting) {
        wheel.memory.alongside = false;
        wheel.memory.restSinceMs = null;
      }
      if (wheel.memory.lastMs !== null) this.#judgeAgain(wheel, wheel.memory.lastMs, out);
    }
    this.#index();
    const { missing, units } = this.#rig;
    for (const [unit, alarm] of [...missing]) {
      if (!units.get(unit)?.some((w) => !w.limits.resting)) foundUnit(unit, alarm.fromMs, this.#rig, out);
    }
  }

  #endAll(wheel: Wheel, out: WatchEvent[]): void {
    for (const kind of Object.keys(wheel.memory.active) as AlarmKind[]) end(wheel, kind, wheel.memory.lastMs ?? 0, out);
  }

  /**
   * Whether every wheel that is being filled is at its target: then filling is over. Where none was under it there is nothing to wait for but
   * a sensor that comes off, so it ends once all were heard and a few minutes are over. A wheel without a target is not waited for.
   */
  #filled(ms: number, out: WatchEvent[]): void {
    const topUp = this.#topUp;
    if (!topUp) return;
    const sinceMs = topUp.sinceMs ?? topUp.untilMs - WATCH.topUpMs;
    let all = true;
    let heard = true;
    let some = false;
    for (const w of this.#rig.list) {
      if (!w.filling) continue;
      const { memory } = w;
      const { coldKpa } = w.limits;
      if (memory.askedMs != null) all = false;
      if ((memory.lastMs ?? 0) < sinceMs) heard = false;
      if (coldKpa === null) continue;
      some = true;
      // A figure typed without a temperature is taken as it is.
      const holds = memory.noTemp ? memory.lastKpa : memory.heldKpa;
      if (holds >= coldKpa - WATCH.atTargetKpa) continue;
      all = false;
      topUp.begun = true;
    }
    if (all && some && (topUp.begun || (heard && ms - sinceMs >= WATCH.topUpLookMs))) this.endTopUp(ms, out);
  }

  /**
   * The wheels named are being filled: no low, no loss for them, until all are at their target or half an hour is over. Named again while it
   * lasts, it goes on from here with these.
   */
  startTopUp(positions: readonly string[], ms: number, out: WatchEvent[]): void {
    const begun = this.#topUp?.begun === true && positions.some((p) => this.#topUp?.positions.includes(p));
    this.#topUp = { positions: [...positions], sinceMs: ms, untilMs: ms + WATCH.topUpMs, begun };
    for (const w of this.#rig.list) {
      const filling = positions.includes(w.position);
      if (w.filling && !filling) this.#leaveFilling(w, ms, out);
      w.filling = filling;
      if (!filling) continue;
      for (const kind of ['low', 'rapid', 'slow'] as const) if (w.memory.active[kind]) end(w, kind, ms, out);
    }
  }

  /** Filling is over: the wheels are judged by what they hold now. */
  endTopUp(ms: number, out: WatchEvent[]): void {
    this.#topUp = null;
    for (const w of this.#rig.list) if (w.filling) this.#leaveFilling(w, ms, out);
  }

  #leaveFilling(w: Wheel, ms: number, out: WatchEvent[]): void {
    w.filling = false;
    forgetAir(w.memory);
    if (w.memory.lastMs !== null) this.#judgeAgain(w, ms, out);
  }

  /**
   * A track day begins: a slow loss and wheels that differ are no alarm, and rapid takes more than a bleed by hand. Low, high, temperature and
   * silence are watched as ever.
   * @param untilMs when it ends by itself
   */
  startTrack(untilMs: number, ms: number, out: WatchEvent[]): void {
    this.#track = { sinceMs: ms, untilMs, endedMs: null };
    this.#rig.track = true;
    for (const w of this.#rig.list)
      for (const kind of ['rapid', 'slow', 'apart'] as const) if (w.memory.active[kind]) end(w, kind, ms, out);
  }

  /** The track day is over: losses are measured from here, and the road pressures have to be set. */
  endTrack(ms: number, out: WatchEvent[]): void {
    const track = this.#track;
    if (track?.endedMs !== null) return;
    track.endedMs = ms;
    this.#rig.track = false;
    for (const w of this.#rig.list) {
      if (w.memory.active.rapid) end(w, 'rapid', ms, out);
      forgetAir(w.memory);
      emptyWindow(w.memory);
      if (w.memory.lastMs !== null) this.#judgeAgain(w, ms, out);
    }
  }

  /** The road pressures are set: nothing is left of the track day. */
  forgetTrack(ms: number, out: WatchEvent[]): void {
    this.endTrack(ms, out);
    this.#track = null;
    for (const w of this.#rig.list) forgetAir(w.memory);
  }

  /**
   * The owner answers whether a sensor that fell to nothing was taken off. Off: it raises no alarm until it is heard with pressure again,
   * the rig rolls, or an hour is over.
   */
  answerOff(position: string, off: boolean, ms: number, out: WatchEvent[]): void {
    const wheel = this.#wheels.get(position);
    if (!wheel) return;
    wheel.memory.askedMs = null;
    if (!off) return;
    wheel.memory.offSinceMs = ms;
    this.#rest(wheel, ms, out);
    forgetAir(wheel.memory);
  }

  /**
   * Take the voltage of a repeater's own supply.
   * @param unit letter of the unit it is mounted on
   */
  tellRepeater(unit: string, volts: number, ms: number, out: WatchEvent[]): void {
    judgeRepeater(unit, volts, ms, this.#rig, out);
  }

  /** The owner set the pressure on purpose: losses are measured from here. */
  takeAsSet(position: string, ms: number, out: WatchEvent[]): void {
    const wheel = this.#wheels.get(position);
    if (!wheel) return;
    for (const kind of ['slow', 'rapid', 'apart'] as const) if (wheel.memory.active[kind]) end(wheel, kind, ms, out);
    forgetAir(wheel.memory);
  }
}
