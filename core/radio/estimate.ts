import { chanceHeard, linkBudget } from './link.ts';
import { RADIO } from './parameters.ts';
import { lengthInside, type Point, type Scene, type SceneWheel } from './scene.ts';

/** Something in the way, with its least and most loss, dB. */
export interface Loss {
  code: 'tireRim' | 'body' | 'tank' | 'dualInner' | 'measured';
  /** The unit whose body it is. */
  unit?: number;
  least: number;
  most: number;
}

/** A way from a wheel to a receiver, worked out. */
export interface Way {
  distanceM: number;
  losses: Loss[];
  /** Margin at the most, the middle and the least loss, dB. */
  marginDb: { low: number; mid: number; high: number };
  /** Chance that a frame is heard, at the same three. */
  chance: { low: number; mid: number; high: number };
}

/** A body counts when the way runs over it for this long, m. Assumed. */
const COUNTS_FROM_M = 0.3;

/** What stands between two points of a rig. */
export function lossesBetween(scene: Scene, from: Point, to: Point, wheel?: SceneWheel): Loss[] {
  const losses: Loss[] = [];
  if (wheel) losses.push({ code: 'tireRim', least: RADIO.tireRimDb[0], most: RADIO.tireRimDb[1] });
  if (wheel?.inner) losses.push({ code: 'dualInner', least: RADIO.dualInnerDb, most: RADIO.dualInnerDb });
  for (const body of scene.bodies) {
    if (lengthInside(from, to, body) < COUNTS_FROM_M) continue;
    const [least, most] = RADIO.bodyDb[body.material];
    losses.push({ code: 'body', unit: body.unit, least, most });
  }
  for (const tank of scene.tanks) {
    if (lengthInside(from, to, tank) >= COUNTS_FROM_M)
      losses.push({ code: 'tank', least: RADIO.tankDb[0], most: RADIO.tankDb[1] });
  }
  return losses;
}

export interface WayOptions {
  senderDbm?: number;
  frequencyMhz?: number;
  sensitivityDbm?: number;
  fadingDb?: number;
}

const distance = (a: Point, b: Point) => Math.max(0.2, Math.hypot(a.x - b.x, a.y - b.y, a.z - b.z));

/** A way with its margin and chance at least, middle and most loss. */
export function wayBetween(scene: Scene, from: Point, to: Point, wheel: SceneWheel | undefined, o: WayOptions = {}): Way {
  const losses = lossesBetween(scene, from, to, wheel);
  const distanceM = distance(from, to);
  const margin = (pick: (l: Loss) => number) =>
    linkBudget({
      frequencyMhz: o.frequencyMhz ?? RADIO.frequencyMhz,
      distanceM,
      transmitDbm: o.senderDbm ?? RADIO.senderDbm,
      sensitivityDbm: o.sensitivityDbm ?? RADIO.monitorDbm,
      lossesDb: losses.map(pick),
    }).marginDb;
  const marginDb = { low: margin((l) => l.most), mid: margin((l) => (l.least + l.most) / 2), high: margin((l) => l.least) };
  const fading = { sigmaDb: o.fadingDb ?? RADIO.fadingDb, copies: RADIO.copies, common: RADIO.common };
  const chance = {
    low: chanceHeard(marginDb.low, fading),
    mid: chanceHeard(marginDb.mid, fading),
    high: chanceHeard(marginDb.high, fading),
  };
  return { distanceM, losses, marginDb, chance };
}

/** What is said of a wheel. */
export interface WheelEstimate {
  position: string;
  direct: Way;
  viaRepeater: Way | null;
  /** Chance that a frame reaches the monitor by either way, and how long until the first reading and between two, s. */
  chance: { low: number; mid: number; high: number };
  firstS: { mid: number; late: number };
  nextS: number;
}

/**
 * Time to the first reading, s: a sensor speaks at once when it is woken and then once a period; every try is heard with the same chance.
 * Mean of the geometric law, `(1/p - 1) * period` after the first try, and the time by which 19 of 20 rigs have it.
 */
export function timeToFirst(p: number, periodS: number): { mid: number; late: number } {
  if (p <= 0) return { mid: Number.POSITIVE_INFINITY, late: Number.POSITIVE_INFINITY };
  const mean = (1 / p - 1) * periodS + periodS / 2;
  const late = p >= 0.95 ? periodS : Math.ceil(Math.log(0.05) / Math.log(1 - p)) * periodS;
  return { mid: mean, late };
}

/** The repeater's way to the monitor, or to the phone that is the monitor. A signal that was measured at the seat wins. */
export function relayWay(scene: Scene, repeater: Point, seatDb?: number): Way {
  const phone = scene.onlyRepeater ? { frequencyMhz: RADIO.phoneMhz, sensitivityDbm: RADIO.phoneDbm } : {};
  const way = wayBetween(scene, repeater, scene.receiver, undefined, { senderDbm: RADIO.repeaterSendDbm, ...phone });
  if (seatDb === undefined) return way;
  const margin = seatDb - (scene.onlyRepeater ? RADIO.phoneDbm : RADIO.monitorDbm);
  const chance = chanceHeard(margin, { sigmaDb: RADIO.fadingDb, copies: RADIO.copies, common: RADIO.common });
  return {
    ...way,
    losses: [{ code: 'measured', least: 0, most: 0 }],
    marginDb: { low: margin, mid: margin, high: margin },
    chance: { low: chance, mid: chance, high: chance },
  };
}

/** Whether the signal of a repeater is good at the seat: from 0 to -80 dB it is (common practice, no source). */
export const seatIsGood = (seatDb: number): boolean => seatDb >= RADIO.seatGoodDb;

/**
 * Estimate every wheel, with a repeater or without. Closed form: free space, what stands in the way, fading of copies.
 * @param corrections by position, what a measured signal was over the estimate, dB
 * @param periodS seconds between two reports of a sensor of this kit
 * @param seatDb the repeater's signal as measured at the seat, dB: it wins over the estimate of that way
 */
export function estimateRig(
  scene: Scene,
  repeater: Point | null,
  corrections: Readonly<Record<string, number>> = {},
  seatDb?: number,
  periodS: number = RADIO.sendS,
): WheelEstimate[] {
  const relay = repeater && relayWay(scene, repeater, seatDb);
  return scene.wheels.map((w) => {
    const fix = corrections[w.position] ?? 0;
    const direct = wayBetween(scene, w, scene.receiver, w, { senderDbm: RADIO.senderDbm + fix });
    const viaRepeater = repeater && wayBetween(scene, w, repeater, w, { sensitivityDbm: RADIO.repeaterDbm });
    const either = (k: 'low' | 'mid' | 'high') =>
      1 -
      (1 - (scene.onlyRepeater ? 0 : direct.chance[k])) *
        (1 - (viaRepeater && relay ? viaRepeater.chance[k] * relay.chance[k] : 0));
    const chance = { low: either('low'), mid: either('mid'), high: either('high') };
    return {
      position: w.position,
      direct,
      viaRepeater,
      chance,
      firstS: timeToFirst(chance.mid, periodS),
      nextS: chance.mid > 0 ? periodS / chance.mid : Number.POSITIVE_INFINITY,
    };
  });
}

/** From this share of its frames on a wheel is heard well enough. Assumed. */
export const HEARD_WELL = 0.8;

/**
 * Whether a rig does without a repeater, judged by the low end of what the losses allow. `uncertain`: the middle may be good, and nothing
 * but a try will tell.
 */
export function verdictOf(wheels: readonly Pick<WheelEstimate, 'position' | 'chance'>[]): {
  verdict: 'without' | 'needed' | 'uncertain';
  worst: string;
  low: number;
  high: number;
} | null {
  const [first, ...rest] = wheels;
  if (!first) return null;
  const { position, chance } = rest.reduce((a, b) => (b.chance.low < a.chance.low ? b : a), first);
  const verdict = chance.low >= HEARD_WELL ? 'without' : chance.high < HEARD_WELL ? 'needed' : 'uncertain';
  return { verdict, worst: position, low: chance.low, high: chance.high };
}

/** A place for the repeater may not be under the receiver's cab, against a wheel, or on a tank. */
export function isAllowed(scene: Scene, p: Point): boolean {
  if (!scene.frames.some((f) => p.x >= f.x0 - 1e-9 && p.x <= f.x1 + 1e-9 && p.y >= f.y0 - 1e-9 && p.y <= f.y1 + 1e-9))
    return false;
  if (scene.wheels.some((w) => Math.abs(w.x - p.x) < w.z + 0.1 && Math.abs(w.y - p.y) < 0.35)) return false;
  return !scene.tanks.some((t) => p.x > t.x0 && p.x < t.x1 && p.y > t.y0 && p.y < t.y1);
}

/** Height of a repeater on a frame, m: low, near the wheels it serves. Assumed. */
export const REPEATER_Z = 0.6;

/** How good a place is: the chance of the worst wheel, at the middle of the losses. */
export const worstChance = (scene: Scene, p: Point): number => Math.min(...estimateRig(scene, p).map((w) => w.chance.mid));

/** The same for many places of one scene: what does not depend on the place is worked out once. */
function worstIn(scene: Scene): (p: Point) => number {
  const direct = scene.wheels.map((w) => (scene.onlyRepeater ? 0 : wayBetween(scene, w, scene.receiver, w).chance.mid));
  const fading = { sigmaDb: RADIO.fadingDb, copies: RADIO.copies, common: RADIO.common };
  const mid = (from: Point, to: Point, wheel: SceneWheel | undefined, transmitDbm: number, sensitivityDbm: number) =>
    chanceHeard(
      linkBudget({
        frequencyMhz: RADIO.frequencyMhz,
        distanceM: distance(from, to),
        transmitDbm,
        sensitivityDbm,
        lossesDb: lossesBetween(scene, from, to, wheel).map((l) => (l.least + l.most) / 2),
      }).marginDb,
      fading,
    );
  return (p) => {
    const relay = relayWay(scene, p).chance.mid;
    let worst = 1;
    scene.wheels.forEach((w, i) => {
      const via = mid(w, p, w, RADIO.senderDbm, RADIO.repeaterDbm);
      worst = Math.min(worst, 1 - (1 - (direct[i] as number)) * (1 - via * relay));
    });
    return worst;
  };
}

export interface Placed {
  place: Point;
  worst: number;
  /** Worst chance over the frame, cell by cell; null where it may not go. */
  field: { x: number; y: number; worst: number | null }[];
}

/**
 * The best of the allowed places by its worst wheel; among equals the further forward, then the more centred. Every cell is looked at.
 * @param stepM finest step, m
 */
export function placeRepeater(scene: Scene, stepM = 0.05, onProgress: (share: number) => void = () => undefined): Placed | null {
  const better = (a: { p: Point; worst: number } | null, p: Point, worst: number) => {
    if (a === null || worst > a.worst + 1e-9) return true;
    if (worst < a.worst - 1e-9) return false;
    return p.x < a.p.x - 1e-9 || (Math.abs(p.x - a.p.x) < 1e-9 && Math.abs(p.y) < Math.abs(a.p.y) - 1e-9);
  };
  const field: Placed['field'] = [];
  let best: { p: Point; worst: number } | null = null;
  const worstAt = worstIn(scene);
  const columns = scene.frames.flatMap((f) => {
    const n = Math.round((f.x1 - f.x0) / stepM);
    return Array.from({ length: n + 1 }, (_, i) => ({ f, x: f.x0 + i * stepM }));
  });
  const coarse = Math.max(1, Math.round(0.2 / stepM));
  columns.forEach(({ f, x }, c) => {
    const n = Math.round((f.y1 - f.y0) / stepM);
    for (let i = 0; i <= n; i += 1) {
      const p = { x, y: f.y0 + i * stepM, z: REPEATER_Z };
      const allowed = isAllowed(scene, p);
      const worst = allowed ? worstAt(p) : null;
      if (c % coarse === 0 && i % coarse === 0) field.push({ x: p.x, y: p.y, worst });
      if (worst !== null && better(best, p, worst)) best = { p, worst };
    }
    onProgress((c + 1) / columns.length);
  });
  const found = best as { p: Point; worst: number } | null;
  return found && { place: found.p, worst: found.worst, field };
}
