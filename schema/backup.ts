import { type Static, Type } from '@sinclair/typebox';
import { strict, Time } from './common.ts';

export const BackupWhySchema = Type.Union([Type.Literal('daily'), Type.Literal('upgrade'), Type.Literal('asked')]);
/** Why a backup was made: by itself each day, before the database is brought up to date, or because somebody asked. */
export type BackupWhy = Static<typeof BackupWhySchema>;

export const BackupEntry = Type.Object(
  { name: Type.String(), madeAt: Time, why: BackupWhySchema, bytes: Type.Integer({ minimum: 0 }) },
  strict,
);
export type BackupEntry = Static<typeof BackupEntry>;

/** What is in a world, as far as a person can tell one from another. */
export const WorldSummary = Type.Object(
  {
    rigs: Type.Array(Type.String()),
    units: Type.Integer(),
    readings: Type.Integer(),
    alarms: Type.Integer(),
    photos: Type.Integer(),
    firstReading: Type.Union([Time, Type.Null()]),
    lastReading: Type.Union([Time, Type.Null()]),
  },
  strict,
);
export type WorldSummary = Static<typeof WorldSummary>;

export const BackupList = Type.Object(
  {
    backups: Type.Array(BackupEntry),
    /** Why the last one that was tried could not be made; null: it was. */
    problem: Type.Union([Type.String(), Type.Null()]),
    /** Folders with worlds that a restore replaced. */
    keptAside: Type.Array(Type.String()),
  },
  strict,
);
export type BackupList = Static<typeof BackupList>;

export const RestorePreview = Type.Object(
  {
    /** Names this preview when it is restored. */
    token: Type.String(),
    madeAt: Time,
    why: BackupWhySchema,
    /** What is in the backup. */
    backup: WorldSummary,
    /** What is here now and would be put aside. */
    now: WorldSummary,
  },
  strict,
);
export type RestorePreview = Static<typeof RestorePreview>;

export const Restored = Type.Object({ keptAside: Type.String() }, strict);
export type Restored = Static<typeof Restored>;

const ms = Type.Number({ minimum: 0 });
export const Health = Type.Object(
  {
    status: Type.Literal('ok'),
    /** Whether what is sent can be stored; false: the reason is in `problem`. */
    canStore: Type.Boolean(),
    problem: Type.Union([Type.String(), Type.Null()]),
    /** Bytes that are free where the data are; null: unknown. */
    freeBytes: Type.Union([Type.Number(), Type.Null()]),
    lastBackup: Type.Union([Time, Type.Null()]),
    /** How long anything had to wait for its turn since the start, ms. */
    loopDelayMs: Type.Object({ p50: ms, p99: ms, p999: ms, max: ms }, strict),
    streams: Type.Integer(),
    /** Readings that wait to be stored. */
    waiting: Type.Integer(),
  },
  strict,
);
export type Health = Static<typeof Health>;
