import type { BodyMaterial, Rig, Unit } from '#schema/unit.ts';
import { FieldError } from '../errors.ts';
import { isMotorcycle, unitLetter, wheelsOf } from '../rig/positions.ts';
import { readMarking } from '../tire/marking.ts';

/** A point, m: x backward from the front axle of the first unit, y to the driver's-seat left, z up. */
export interface Point {
  x: number;
  y: number;
  z: number;
}
export interface Box {
  x0: number;
  x1: number;
  y0: number;
  y1: number;
}
export interface SceneWheel extends Point {
  position: string;
  unit: number;
  inner: boolean;
}
export interface SceneBody extends Box {
  unit: number;
  material: BodyMaterial;
}
/** The rig from above, to scale. */
export interface Scene {
  wheels: SceneWheel[];
  bodies: SceneBody[];
  tanks: Box[];
  /** Outline of each unit's frame, where a repeater may go. */
  frames: (Box & { unit: number })[];
  receiver: Point;
  /** Sensors reach the monitor, a phone, only through a repeater. */
  onlyRepeater: boolean;
  /** What was unknown and taken as usual. */
  assumed: { code: 'wheelbase' | 'hitch' | 'trailerAxle' | 'body' | 'towVehicle'; unit: string }[];
}

export interface SceneOptions {
  onlyRepeater?: boolean;
  /** Letters of units that this kit doesn't watch. */
  unwatched?: readonly string[] | undefined;
}

/** Usual measures where Layout has none, m. Assumed. */
export const USUAL = {
  wheelbaseM: 3.3,
  tandemM: 0.85,
  hitchM: 1.2,
  trailerAxleM: 3.6,
  halfTrackM: 0.85,
  dualM: 0.28,
  halfWidthM: 1,
  radiusM: 0.35,
  dash: { x: 0.6, y: 0.35, z: 1.1 },
  dashToCouplingM: 4.5,
} as const;

function radiusOf(marking: string | undefined): number {
  if (marking === undefined) return USUAL.radiusM;
  try {
    return readMarking(marking).diameterMm / 2000;
  } catch (error) {
    if (error instanceof FieldError) return USUAL.radiusM;
    throw error;
  }
}

/** A vehicle that pulls the rig and is no part of it. */
const TOW = -1;

/** Put the dash where it is when a trailer is all of the rig: in front of its coupling, in a vehicle nobody watches. */
function placeTowVehicle(scene: Scene, tow: Rig['towVehicle']): void {
  if (!tow) scene.assumed.push({ code: 'towVehicle', unit: '' });
  const d = tow?.dashToCouplingM ?? USUAL.dashToCouplingM;
  scene.receiver.x = -d;
  scene.bodies.push({
    unit: TOW,
    material: tow?.body ?? 'steel',
    // The bonnet in front of the dash, the bumper just before the coupling.
    x0: -d - 1.4,
    x1: -0.2,
    y0: -USUAL.halfWidthM,
    y1: USUAL.halfWidthM,
  });
}

/**
 * Lay a rig out to scale from Layout's distances; what is missing is taken as usual and named.
 * @param tow what pulls a rig that is a trailer alone
 */
export function sceneOf(units: readonly Unit[], tow?: Rig['towVehicle'], o: SceneOptions = {}): Scene {
  const scene: Scene = {
    wheels: [],
    bodies: [],
    tanks: [],
    frames: [],
    receiver: { ...USUAL.dash },
    onlyRepeater: o.onlyRepeater ?? false,
    assumed: [],
  };
  if (units[0]?.kind === 'trailer') placeTowVehicle(scene, tow);
  let start = 0;
  const all = wheelsOf(units).filter((w) => !o.unwatched?.includes(unitLetter(w.unitIndex)));
  units.forEach((unit, index) => {
    const letter = unitLetter(index);
    const axles = unit.axles.map((axle, i) => {
      if (axle.distanceM !== undefined) return start + axle.distanceM;
      if (unit.kind === 'vehicle') {
        if (i > 0) scene.assumed.push({ code: 'wheelbase', unit: letter });
        return start + (i === 0 ? 0 : USUAL.wheelbaseM + (i - 1) * USUAL.tandemM);
      }
      scene.assumed.push({ code: 'trailerAxle', unit: letter });
      return start + USUAL.trailerAxleM + i * USUAL.tandemM;
    });
    const last = Math.max(...axles);
    const narrow = isMotorcycle(unit);
    for (const w of all.filter((x) => x.unitIndex === index && x.axleIndex !== null)) {
      const side = w.place === 'C' ? 0 : w.place.startsWith('L') ? 1 : -1;
      const out = w.place.endsWith('I') ? -USUAL.dualM / 2 : w.place.length === 2 ? USUAL.dualM / 2 : 0;
      const axle = unit.axles[w.axleIndex as number];
      scene.wheels.push({
        position: w.position,
        unit: index,
        x: axles[w.axleIndex as number] as number,
        y: side * (USUAL.halfTrackM + out),
        z: radiusOf(axle?.marking),
        inner: w.place.endsWith('I'),
      });
    }
    const front = unit.kind === 'vehicle' ? start - 0.8 : Math.min(...axles) - 2;
    const back = last + 1.1;
    if (!narrow) {
      const material = unit.body?.material ?? (unit.kind === 'vehicle' ? 'steel' : 'wood');
      if (!unit.body) scene.assumed.push({ code: 'body', unit: letter });
      scene.bodies.push({ unit: index, material, x0: front, x1: back, y0: -USUAL.halfWidthM, y1: USUAL.halfWidthM });
      if (unit.body?.tankM !== undefined) {
        const x = start + unit.body.tankM;
        scene.tanks.push({ x0: x - 0.5, x1: x + 0.5, y0: -0.6, y1: 0.6 });
      }
    }
    // A trailer's frame begins at its coupling; a vehicle's carries a repeater behind its cab only.
    scene.frames.push({
      unit: index,
      x0: unit.kind === 'vehicle' ? start + 1.2 : start + 0.3,
      x1: back,
      y0: narrow ? -0.2 : -0.9,
      y1: narrow ? 0.2 : 0.9,
    });
    if (index < units.length - 1) {
      if (unit.hitchM === undefined) scene.assumed.push({ code: 'hitch', unit: letter });
      start = unit.hitchM === undefined ? last + USUAL.hitchM : start + unit.hitchM;
    }
  });
  return scene;
}

/** How much of the straight way between two points, seen from above, lies over a box, m. */
export function lengthInside(a: Point, b: Point, box: Box): number {
  let from = 0;
  let to = 1;
  for (const [p, d, low, high] of [
    [a.x, b.x - a.x, box.x0, box.x1],
    [a.y, b.y - a.y, box.y0, box.y1],
  ] as const) {
    if (Math.abs(d) < 1e-12) {
      if (p < low || p > high) return 0;
      continue;
    }
    const t1 = (low - p) / d;
    const t2 = (high - p) / d;
    from = Math.max(from, Math.min(t1, t2));
    to = Math.min(to, Math.max(t1, t2));
  }
  return to <= from ? 0 : (to - from) * Math.hypot(b.x - a.x, b.y - a.y);
}
