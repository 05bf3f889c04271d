import { type AxleLayout, makeAxle } from '#core/rig/positions.ts';
import type { LoadState } from '#schema/common.ts';
import type { NewUnit, UnitKind } from '#schema/unit.ts';

/** What pulls or what is pulled, to start a rig from. */
export interface Template {
  id: string;
  name: string;
  /** Null for none. */
  unit: NewUnit | null;
}

function unit(name: string, kind: UnitKind, layouts: AxleLayout[], airLitres: number, spare = false): NewUnit {
  return {
    name,
    kind,
    axles: layouts.map((layout, i) => ({ ...makeAxle(layout, i + 1), airLitres })),
    spares: spare ? [{ wheel: { position: 'S1', sensor: null }, airLitres, settings: {} }] : [],
  };
}

/** Air volumes are estimates for usual tires (assumed). */
const trailer = (name: string, axles: number, litres: number, spare = true) =>
  unit(
    name,
    'trailer',
    Array.from({ length: axles }, () => 'single' as const),
    litres,
    spare,
  );

/** What is in front. */
export const vehicles: readonly Template[] = [
  { id: 'car', name: 'Car', unit: unit('Car', 'vehicle', ['single', 'single'], 30) },
  { id: 'carSpare', name: 'Car with a spare', unit: unit('Car', 'vehicle', ['single', 'single'], 30, true) },
  { id: 'pickup', name: 'Pick-up', unit: unit('Pick-up', 'vehicle', ['single', 'single'], 66) },
  { id: 'dualPickup', name: 'Pick-up or truck with dual rears', unit: unit('Truck', 'vehicle', ['single', 'dual'], 66) },
  { id: 'motorhome', name: 'Motorhome with dual rears', unit: unit('Motorhome', 'vehicle', ['single', 'dual'], 90) },
  { id: 'motorcycle', name: 'Motorcycle', unit: unit('Motorcycle', 'vehicle', ['centre', 'centre'], 12) },
  {
    id: 'sidecar',
    name: 'Motorcycle with sidecar',
    unit: unit('Motorcycle and sidecar', 'vehicle', ['centre', 'sidecarRight'], 12),
  },
  { id: 'none', name: 'No vehicle: the trailer alone', unit: null },
];

/** What it tows. */
export const trailers: readonly Template[] = [
  { id: 'none', name: 'Nothing behind', unit: null },
  { id: 'single', name: 'Trailer, one axle', unit: trailer('Trailer', 1, 45) },
  { id: 'tandem', name: 'Trailer, two axles', unit: trailer('Tandem trailer', 2, 52) },
  { id: 'triple', name: 'Trailer, three axles', unit: trailer('Three-axle trailer', 3, 52) },
  { id: 'fifthWheel', name: 'Fifth wheel or gooseneck', unit: trailer('Fifth wheel', 2, 60) },
  { id: 'caravan', name: 'Caravan', unit: trailer('Caravan', 1, 30) },
  { id: 'boat', name: 'Boat trailer', unit: trailer('Boat trailer', 1, 28) },
  { id: 'light', name: 'Light trailer without a spare', unit: trailer('Light trailer', 1, 12, false) },
  { id: 'towedCar', name: 'Towed car', unit: unit('Towed car', 'vehicle', ['single', 'single'], 30) },
];

/** A rig of the two lists: its units from the front, its load state, and a name to call it by. */
export function rigOf(vehicle: string, towed: string): { units: NewUnit[]; loadState: LoadState; name: string } {
  const front = vehicles.find((t) => t.id === vehicle)?.unit ?? null;
  const behind = trailers.find((t) => t.id === towed)?.unit ?? null;
  const units = [front, behind].filter((u) => u !== null);
  return {
    units,
    loadState: front && behind ? 'towing' : 'loaded',
    name: units.map((u, i) => (i === 0 ? u.name : u.name[0]?.toLowerCase() + u.name.slice(1))).join(' and '),
  };
}
