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
export const templates: Template[] = [
  { id: 'car', name: 'Car', loadState: 'loaded', units: [unit('Car', 'vehicle', ['single', 'single'], 30)] },
  { id: 'motorcycle', name: 'Motorcycle', loadState: 'loaded', units: [unit('Motorcycle', 'vehicle', ['centre', 'centre'], 12)] },
  {
    id: 'sidecar',
    name: 'Motorcycle with sidecar',
    loadState: 'loaded',
    units: [unit('Motorcycle and sidecar', 'vehicle', ['centre', 'sidecarRight'], 12)],
  },
  {
    id: 'tandem',
    name: 'Pick-up and tandem trailer',
    loadState: 'towing',
    units: [
      unit('Pick-up', 'vehicle', ['single', 'single'], 66),
      unit('Tandem trailer', 'trailer', ['single', 'single'], 52, true),
    ],
  },
  {
    id: 'duals',
    name: 'Dual rears and tandem trailer',
    loadState: 'towing',
    units: [unit('Truck', 'vehicle', ['single', 'dual'], 66), unit('Tandem trailer', 'trailer', ['single', 'single'], 52, true)],
  },
  {
    id: 'motorhome',
    name: 'Motorhome and towed car',
    loadState: 'towing',
    units: [unit('Motorhome', 'vehicle', ['single', 'dual'], 90), unit('Towed car', 'vehicle', ['single', 'single'], 30)],
  },
  {
    id: 'caravan',
    name: 'Car and single-axle trailer',
    loadState: 'towing',
    units: [unit('Car', 'vehicle', ['single', 'single'], 30), unit('Trailer', 'trailer', ['single'], 28, true)],
  },
];
