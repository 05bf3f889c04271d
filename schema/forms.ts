import { type TSchema, Type } from '@sinclair/typebox';
import { SENSOR_ID_PATTERN, strict } from './common.ts';
import { NewMonitor } from './monitor.ts';
import { AlarmRule, Cold, NewRig } from './unit.ts';

/** Small schemas for what the page checks before it sends; records are checked again by the server. */
export const formSchemas = {
  newRig: Type.Object({ name: NewRig.properties.name, vehicle: Type.String(), trailer: Type.String() }, strict),
  /** Cold pressures of all axles, in SI; a row left empty is null. */
  pressures: Type.Object(
    {
      rows: Type.Array(
        Type.Union([Type.Object({ cold: Cold.properties.kpa, tempC: Cold.properties.tempC }, strict), Type.Null()]),
      ),
    },
    strict,
  ),
  /** A rule with the temperature limit beside it. */
  rule: Type.Object({ rule: AlarmRule, hotC: Type.Number({ minimum: 30, maximum: 150 }) }, strict),
  sensorId: Type.Object({ id: Type.String({ pattern: SENSOR_ID_PATTERN }) }, strict),
  monitor: NewMonitor,
  bench: Type.Object(
    { kmh: Type.Number({ exclusiveMinimum: 0, maximum: 250 }), airC: Type.Number({ minimum: -50, maximum: 60 }) },
    strict,
  ),
} satisfies Record<string, TSchema>;
