import { type AxleLayout, makeAxle } from '#core/rig/positions.ts';
import type { LoadState } from '#schema/common.ts';
import type { NewUnit, UnitKind } from '#schema/unit.ts';

/** A rig to start from. */
export interface Template {
  id: string;
  name: string;
  loadState: LoadState;
  units: NewUnit[];
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
const car = (spare = false) => unit('Car', 'vehicle', ['single', 'single'], 30, spare);
const pickUp = () => unit('Pick-up', 'vehicle', ['single', 'single'], 66);
const trailer = (name: string, axles: number, litres: number, spare = true) =>
  unit(
    name,
    'trailer',
    Array.from({ length: axles }, () => 'single' as const),
    litres,
    spare,
  );

export const templates: Template[] = [
  { id: 'car', name: 'Car', loadState: 'loaded', units: [car()] },
  { id: 'carSpare', name: 'Car with a spare', loadState: 'loaded', units: [car(true)] },
  { id: 'motorcycle', name: 'Motorcycle', loadState: 'loaded', units: [unit('Motorcycle', 'vehicle', ['centre', 'centre'], 12)] },
  {
    id: 'sidecar',
    name: 'Motorcycle with sidecar',
    loadState: 'loaded',
    units: [unit('Motorcycle and sidecar', 'vehicle', ['centre', 'sidecarRight'], 12)],
  },
  {
    id: 'motorcycleTrailer',
    name: 'Motorcycle with trailer',
    loadState: 'towing',
    units: [unit('Motorcycle', 'vehicle', ['centre', 'centre'], 12), trailer('Trailer', 1, 12, false)],
  },
  { id: 'pickup', name: 'Pick-up', loadState: 'loaded', units: [pickUp()] },
  {
    id: 'dualPickup',
    name: 'Pick-up with dual rears',
    loadState: 'loaded',
    units: [unit('Pick-up', 'vehicle', ['single', 'dual'], 66)],
  },
  {
    id: 'utility',
    name: 'Pick-up and utility trailer',
    loadState: 'towing',
    units: [pickUp(), trailer('Utility trailer', 1, 45)],
  },
  { id: 'tandem', name: 'Pick-up and tandem trailer', loadState: 'towing', units: [pickUp(), trailer('Tandem trailer', 2, 52)] },
  {
    id: 'triple',
    name: 'Pick-up and three-axle trailer',
    loadState: 'towing',
    units: [pickUp(), trailer('Three-axle trailer', 3, 52)],
  },
  {
    id: 'duals',
    name: 'Dual rears and tandem trailer',
    loadState: 'towing',
    units: [unit('Truck', 'vehicle', ['single', 'dual'], 66), trailer('Tandem trailer', 2, 52)],
  },
  {
    id: 'fifthWheel',
    name: 'Dual rears and fifth wheel',
    loadState: 'towing',
    units: [unit('Truck', 'vehicle', ['single', 'dual'], 66), trailer('Fifth wheel', 2, 60)],
  },
  {
    id: 'motorhome',
    name: 'Motorhome and towed car',
    loadState: 'towing',
    units: [unit('Motorhome', 'vehicle', ['single', 'dual'], 90), unit('Towed car', 'vehicle', ['single', 'single'], 30)],
  },
  { id: 'caravan', name: 'Car and caravan', loadState: 'towing', units: [car(), trailer('Caravan', 1, 30)] },
  { id: 'boat', name: 'Car and boat trailer', loadState: 'towing', units: [car(), trailer('Boat trailer', 1, 28)] },
  { id: 'trailerAlone', name: 'Trailer alone, one axle', loadState: 'loaded', units: [trailer('Trailer', 1, 45, false)] },
  { id: 'tandemAlone', name: 'Trailer alone, two axles', loadState: 'loaded', units: [trailer('Tandem trailer', 2, 52, false)] },
];
