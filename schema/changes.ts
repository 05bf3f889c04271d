import { type Static, Type } from '@sinclair/typebox';
import { Id, strict } from './common.ts';
import { Monitor } from './monitor.ts';
import { Rig, Unit } from './unit.ts';

const Kind = Type.Union([Type.Literal('units'), Type.Literal('rigs'), Type.Literal('monitors')]);

/** One step of a change of several documents. */
export const ChangeStep = Type.Union([
  Type.Object({ do: Type.Union([Type.Literal('delete'), Type.Literal('restore')]), kind: Kind, id: Id }, strict),
  Type.Object({ do: Type.Literal('putUnit'), doc: Unit }, strict),
  Type.Object({ do: Type.Literal('putRig'), doc: Rig }, strict),
  Type.Object({ do: Type.Literal('putMonitor'), doc: Monitor }, strict),
]);
export type ChangeStep = Static<typeof ChangeStep>;

/** Several changes of documents that belong together: all of them are made, in this order, or none. */
export const ChangesRequest = Type.Object({ steps: Type.Array(ChangeStep, { minItems: 1, maxItems: 100 }) }, strict);

/** All documents after the changes. */
export const ChangesAnswer = Type.Object(
  { units: Type.Array(Unit), rigs: Type.Array(Rig), monitors: Type.Array(Monitor) },
  strict,
);
export type ChangesAnswer = Static<typeof ChangesAnswer>;
