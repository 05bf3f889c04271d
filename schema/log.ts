import { type Static, Type } from '@sinclair/typebox';
import { LoadState, POSITION_PATTERN, strict, Time } from './common.ts';

const nullableNumber = Type.Union([Type.Number(), Type.Null()]);

/** Cold pressure and limits of an axle; null where there is none. */
export const SettingFigures = Type.Object(
  { coldKpa: nullableNumber, coldTempC: nullableNumber, lowKpa: nullableNumber, highKpa: nullableNumber, hotC: nullableNumber },
  strict,
);
export type SettingFigures = Static<typeof SettingFigures>;

/** What the app wrote down by itself. */
export const LogEvent = Type.Union([
  Type.Object(
    {
      kind: Type.Literal('settings'),
      id: Type.String(),
      time: Time,
      /** Axle or spare with its unit's letter. */
      axle: Type.String(),
      loadState: LoadState,
      from: SettingFigures,
      to: SettingFigures,
    },
    strict,
  ),
  Type.Object(
    { kind: Type.Literal('wheelSet'), id: Type.String(), time: Time, unit: Type.String(), name: Type.String() },
    strict,
  ),
  Type.Object(
    {
      kind: Type.Literal('round'),
      id: Type.String(),
      time: Time,
      /** Pressures as they were typed off the monitor, kPa. */
      readings: Type.Record(Type.String({ pattern: POSITION_PATTERN }), Type.Number()),
    },
    strict,
  ),
  Type.Object(
    {
      kind: Type.Literal('drive'),
      id: Type.String(),
      time: Time,
      until: Time,
      wheels: Type.Integer(),
      /** How much its middle wheel warmed as the sensor shows it, K. */
      warmedK: Type.Number(),
    },
    strict,
  ),
]);
export type LogEvent = Static<typeof LogEvent>;
