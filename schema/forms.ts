import { type TSchema, Type } from '@sinclair/typebox';
import { SENSOR_ID_PATTERN, strict } from './common.ts';
import { NewRig, NewUnit } from './unit.ts';

/** Small schemas for what the page checks before it sends; records are checked again by the server. */
export const formSchemas = {
  newRig: Type.Object({ name: NewRig.properties.name, template: Type.String({ minLength: 1 }) }, strict),
  names: Type.Object({ name: NewUnit.properties.name }, strict),
  sensorId: Type.Object({ id: Type.String({ pattern: SENSOR_ID_PATTERN }) }, strict),
} satisfies Record<string, TSchema>;
