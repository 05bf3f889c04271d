import { KPA_PER_PSI } from '../units/units.ts';

/** A wheel under suspicion: its sensor may report at another wheel's position. */
export interface Suspect {
  position: string;
  /** What the tire holds by a gauge or by its target, kPa. */
  kpa: number;
  /** What it must not be bled under, kPa; null when that is unknown. */
  minimumKpa: number | null;
}

/** One wheel to let a little air out of. */
export interface Bleed {
  position: string;
  kpa: number;
}

export interface DetectivePlan {
  /** Wheels to bleed in one go, each by its own amount; then look, then the next go. */
  rounds: Bleed[][];
  touched: string[];
  /** Wheels that follow from the others. */
  untouched: string[];
  /** Wheels that cannot be bled enough to tell: no air to spare over their minimum, or steps too coarse. */
  cannot: string[];
  /** Amounts so small against the step that the answer may be "not sure". */
  weak: string[];
}

/** Never more than this share of a tire's pressure is let out for the proof. */
export const MOST_BLEED = 0.05;
/** How exactly a person lets air out, and how far a tire drifts meanwhile, kPa. Assumed: a quarter psi and a tenth. */
export const BLEED_ERROR_KPA = 0.25 * KPA_PER_PSI;
export const DRIFT_KPA = 0.1 * KPA_PER_PSI;
/** Sensor against gauge at the worst, and a tire against its target, kPa (common practice, no source: 4 psi, 1 psi). */
export const WORST_OFFSET_KPA = 5 * KPA_PER_PSI;

/** A drop that is seen differs from the one made by less than this: two roundings of half a step, and the hand. */
export const dropTolerance = (stepKpa: number): number => stepKpa + BLEED_ERROR_KPA + DRIFT_KPA;
const readTolerance = (stepKpa: number): number => WORST_OFFSET_KPA + stepKpa / 2;

/** Wheels whose readings look alike by pressure alone, as chains of neighbours. */
export function alikeGroups<T extends Pick<Suspect, 'kpa'>>(wheels: readonly T[], stepKpa: number): T[][] {
  const sorted = [...wheels].sort((a, b) => a.kpa - b.kpa);
  const groups: T[][] = [];
  for (const w of sorted) {
    const group = groups.at(-1);
    const last = group?.at(-1);
    if (group && last && w.kpa - last.kpa <= 2 * readTolerance(stepKpa)) group.push(w);
    else groups.push([w]);
  }
  return groups;
}

/** The most that may be let out of a wheel, kPa: 5 %, and never under its minimum. */
export const mostBleed = (w: Suspect): number =>
  Math.max(0, Math.min(w.kpa * MOST_BLEED, w.minimumKpa === null ? Number.POSITIVE_INFINITY : w.kpa - w.minimumKpa));

/**
 * The shortest proof of which sensor is on which wheel: in every group of wheels that read alike, all but one are bled a little. The
 * fewest wheels are touched; in one go as many as the readings' steps can tell apart, each by its own amount.
 * @param stepKpa step of the readings
 */
export function planDetective(wheels: readonly Suspect[], stepKpa: number): DetectivePlan {
  const tolerance = dropTolerance(stepKpa);
  const spacing = 2 * tolerance;
  const plan: DetectivePlan = { rounds: [], touched: [], untouched: [], cannot: [], weak: [] };
  for (const group of alikeGroups(wheels, stepKpa)) {
    const byRoom = [...group].sort((a, b) => mostBleed(b) - mostBleed(a));
    // The one with the least air to spare is left alone: it follows from the others.
    const left = byRoom.pop() as Suspect;
    plan.untouched.push(left.position);
    let waiting = byRoom.filter((w) => {
      const enough = mostBleed(w) >= stepKpa;
      if (!enough) plan.cannot.push(w.position);
      return enough;
    });
    for (let round = 0; waiting.length > 0; round += 1) {
      const go: Bleed[] = [];
      let amount = spacing;
      for (const w of [...waiting].sort((a, b) => mostBleed(a) - mostBleed(b))) {
        if (mostBleed(w) + 1e-9 < amount) continue;
        go.push({ position: w.position, kpa: amount });
        amount += spacing;
      }
      if (go.length === 0) {
        const w = waiting[0] as Suspect;
        go.push({ position: w.position, kpa: mostBleed(w) });
        plan.weak.push(w.position);
      }
      const done = new Set(go.map((b) => b.position));
      waiting = waiting.filter((w) => !done.has(w.position));
      plan.touched.push(...go.map((b) => b.position));
      const rounds = plan.rounds[round] ?? [];
      rounds.push(...go);
      plan.rounds[round] = rounds;
    }
  }
  return plan;
}

/** What the monitor showed at every position before and after a go, kPa. */
export interface SeenRound {
  bleeds: readonly Bleed[];
  before: Readonly<Record<string, number>>;
  after: Readonly<Record<string, number>>;
}

export interface DetectiveAnswer {
  /** `asPlanned`: every sensor is where the book says. `swapped`: it is sure who reports where. `notSure`: more than one answer fits. */
  verdict: 'asPlanned' | 'swapped' | 'notSure' | 'contradiction';
  /** For every wheel the position its sensor reports at, where that is sure. */
  reportsAt: Record<string, string>;
  /** Pairs that report for each other. */
  pairs: [string, string][];
  /** Rings of three and more. */
  rings: string[][];
  /** Wheels of which it is not sure. */
  open: string[];
}

const MOST_ANSWERS = 300;

/**
 * Say who reports where from what was seen. Every assignment of sensors to wheels that the readings allow is looked at; only where all of
 * them agree is anything said, so that the answer is right or "not sure", as long as readings stay inside the tolerances.
 */
export function detect(wheels: readonly Suspect[], rounds: readonly SeenRound[], stepKpa: number): DetectiveAnswer {
  const tolerance = dropTolerance(stepKpa);
  const reach = readTolerance(stepKpa);
  const positions = wheels.map((w) => w.position);
  // What a tire should hold falls as it is bled.
  const held = new Map(wheels.map((w) => [w.position, w.kpa]));
  const can = new Map(wheels.map((w) => [w.position, new Set(positions)]));
  for (const { bleeds, before, after } of rounds) {
    for (const w of wheels) {
      const made = bleeds.find((b) => b.position === w.position)?.kpa ?? 0;
      const options = can.get(w.position) as Set<string>;
      for (const p of [...options]) {
        const first = before[p];
        const second = after[p];
        if (first === undefined || second === undefined) continue;
        const off = Math.abs(first - (held.get(w.position) as number));
        const drop = Math.abs(first - second - made);
        if (off > reach + BLEED_ERROR_KPA * 2 || drop >= tolerance) options.delete(p);
      }
      held.set(w.position, (held.get(w.position) as number) - made);
    }
  }
  const found: Record<string, string>[] = [];
  // The wheel with the fewest ways goes first.
  const order = [...positions].sort((a, b) => (can.get(a)?.size ?? 0) - (can.get(b)?.size ?? 0));
  const taken = new Set<string>();
  const chosen: Record<string, string> = {};
  const search = (i: number): void => {
    if (found.length >= MOST_ANSWERS) return;
    const wheel = order[i];
    if (wheel === undefined) {
      found.push({ ...chosen });
      return;
    }
    for (const p of can.get(wheel) ?? []) {
      if (taken.has(p)) continue;
      taken.add(p);
      chosen[wheel] = p;
      search(i + 1);
      taken.delete(p);
    }
  };
  search(0);
  const first = found[0];
  if (!first) return { verdict: 'contradiction', reportsAt: {}, pairs: [], rings: [], open: positions };
  const cut = found.length >= MOST_ANSWERS;
  const reportsAt: Record<string, string> = {};
  const open: string[] = [];
  for (const p of positions) {
    // A list that was cut short cannot vouch for more than the wheels that have but one way.
    const sure = cut ? can.get(p)?.size === 1 : found.every((f) => f[p] === first[p]);
    if (sure) reportsAt[p] = first[p] as string;
    else open.push(p);
  }
  const pairs: [string, string][] = [];
  const rings: string[][] = [];
  const seen = new Set<string>();
  for (const p of positions) {
    if (seen.has(p)) continue;
    const ring = [p];
    let next = reportsAt[p];
    while (next !== undefined && next !== p && !ring.includes(next)) {
      ring.push(next);
      next = reportsAt[next];
    }
    if (next !== p) continue;
    for (const r of ring) seen.add(r);
    if (ring.length === 2) pairs.push([ring[0] as string, ring[1] as string]);
    else if (ring.length > 2) rings.push(ring);
  }
  const moved = pairs.length + rings.length > 0;
  return { verdict: open.length > 0 ? 'notSure' : moved ? 'swapped' : 'asPlanned', reportsAt, pairs, rings, open };
}
