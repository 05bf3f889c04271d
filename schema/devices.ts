import { type Static, Type } from '@sinclair/typebox';
import { Name, strict, Time } from './common.ts';

/**
 * What a device may do. `full`: everything, as on the machine itself. `read`: see everything, type and send readings, acknowledge and
 * silence alarms. `readings`: send readings and nothing else, for a gateway.
 */
export const Role = Type.Union([Type.Literal('full'), Type.Literal('read'), Type.Literal('readings')]);
export type Role = Static<typeof Role>;

export const Device = Type.Object(
  {
    id: Type.String(),
    name: Type.String(),
    role: Role,
    madeAt: Time,
    seenAt: Type.Union([Time, Type.Null()]),
  },
  strict,
);
export type Device = Static<typeof Device>;

/** Whether the home network can reach this server, and where. */
export const NetworkView = Type.Object(
  {
    on: Type.Boolean(),
    https: Type.Boolean(),
    /** Where it answers; empty while it is off. */
    addresses: Type.Array(Type.String()),
    /** Why it could not be switched on. */
    fault: Type.Union([Type.String(), Type.Null()]),
  },
  strict,
);
export type NetworkView = Static<typeof NetworkView>;
export const NetworkRequest = Type.Object({ on: Type.Boolean() }, strict);

export const CodeRequest = Type.Object({ name: Name, role: Role }, strict);
export const CodeAnswer = Type.Object(
  {
    code: Type.String(),
    until: Time,
    /** Addresses with the code in them, each with its QR code as an SVG image. */
    ways: Type.Array(Type.Object({ url: Type.String(), svg: Type.String() }, strict)),
  },
  strict,
);
export type CodeAnswer = Static<typeof CodeAnswer>;

export const PairRequest = Type.Object({ code: Type.String({ maxLength: 20 }) }, strict);
export const PairAnswer = Type.Object(
  {
    device: Device,
    /** For a program, which has no cookies: sent as `Authorization: Bearer`. It is shown once. */
    token: Type.String(),
  },
  strict,
);

/** Who is asking. */
export const Me = Type.Object(
  {
    /** Null: this machine itself. */
    device: Type.Union([Device, Type.Null()]),
    role: Role,
    /** Whether the way is encrypted, or doesn't leave this machine. */
    safe: Type.Boolean(),
  },
  strict,
);
export type Me = Static<typeof Me>;
