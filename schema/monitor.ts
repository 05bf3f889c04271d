import { type Static, Type } from '@sinclair/typebox';
import { Id, Name, PressureUnit, strict } from './common.ts';

/** How a monitor shares one pair of limits between wheels. */
export const LimitGroups = Type.Union([
  Type.Literal('axle'),
  Type.Literal('unit'),
  Type.Literal('rearWithTrailer'),
  Type.Literal('wheel'),
  Type.Literal('all'),
  Type.Literal('baseline'),
]);

const monitorFields = {
  name: Name,
  note: Type.Optional(Type.String({ maxLength: 300 })),
  groups: LimitGroups,
  /** The unit its limits are keyed in; step, min, max and presets are in it. */
  unit: PressureUnit,
  step: Type.Number({ exclusiveMinimum: 0 }),
  min: Type.Number({ minimum: 0 }),
  max: Type.Number({ exclusiveMinimum: 0 }),
  presetLow: Type.Union([Type.Number({ minimum: 0 }), Type.Null()]),
  presetHigh: Type.Union([Type.Number({ minimum: 0 }), Type.Null()]),
  presetHotC: Type.Union([Type.Number({ minimum: 30, maximum: 150 }), Type.Null()]),
  /** Refuses a high at or under the low while keying. */
  interlock: Type.Boolean(),
  positionsPerUnit: Type.Integer({ minimum: 1, maximum: 30 }),
  units: Type.Integer({ minimum: 1, maximum: 6 }),
  showsIds: Type.Boolean(),
  canDisconnect: Type.Boolean(),
};
export const NewMonitor = Type.Object(monitorFields, strict);
export type NewMonitor = Static<typeof NewMonitor>;
/** A monitor described by what it can do. */
export const Monitor = Type.Object({ id: Id, version: Type.Integer({ minimum: 1 }), ...monitorFields }, strict);
export type Monitor = Static<typeof Monitor>;
