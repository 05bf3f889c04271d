import type { SessionReading } from '#core/track/sessions.ts';
import { convert } from '#core/units/units.ts';
import type { PressureUnit, TempUnit } from '#schema/common.ts';
import type { Stated, TrackDay } from '#schema/unit.ts';
import { parseNumber } from '../../../parts/format.ts';

/** What is read in a session, in the order of the day. */
export type Read = 'cold' | 'peak' | 'pit' | 'bled';

/** A figure as it was typed, in the unit it was typed in. */
export interface Figure {
  text: string;
  unit: PressureUnit;
}

export interface TypedSession {
  air: string;
  wheels: Record<string, Partial<Record<Read, Figure>>>;
}

/** A day as it is typed. */
export interface TypedDay {
  /** Of the day that is kept; empty while it never was. */
  id: string;
  date: string;
  place: string;
  direction: '' | 'clockwise' | 'counter';
  target: Figure;
  targets: Record<string, Figure>;
  sessions: TypedSession[];
}

export const freshSession = (): TypedSession => ({ air: '', wheels: {} });
export const freshDay = (date: string, unit: PressureUnit): TypedDay => ({
  id: '',
  date,
  place: '',
  direction: '',
  target: { text: '', unit },
  targets: {},
  sessions: [freshSession()],
});

/** Kept pressures: from next to nothing to what no car tire reaches. What is let out may be next to nothing. */
const LEAST: Record<Read | 'target', number> = { cold: 30, peak: 30, pit: 30, target: 30, bled: 0.1 };

/** A typed figure, kPa; undefined: nothing typed; null: not one a tire can have. */
export function kpaOf(figure: Figure | undefined, read: Read | 'target'): number | null | undefined {
  if (figure === undefined || figure.text.trim() === '') return undefined;
  const n = parseNumber(figure.text);
  const kpa = n === null ? Number.NaN : convert(n, figure.unit, 'kPa');
  return kpa >= LEAST[read] && kpa <= 1000 ? kpa : null;
}

/** A typed temperature, °C; undefined: nothing typed; null: none that air has. */
export function airOf(text: string, unit: TempUnit): number | null | undefined {
  if (text.trim() === '') return undefined;
  const n = parseNumber(text);
  const c = n === null ? Number.NaN : convert(n, unit, 'C');
  return c >= -60 && c <= 60 ? c : null;
}

/** Readings of one wheel, session by session, as the core takes them. */
export const readingsOf = (day: TypedDay, position: string): SessionReading[] =>
  day.sessions.map((s) => {
    const at = (read: Read) => kpaOf(s.wheels[position]?.[read], read) ?? undefined;
    return { coldKpa: at('cold'), peakKpa: at('peak'), pitKpa: at('pit'), bledKpa: at('bled') };
  });

const typed = ({ kpa, typed: t }: Stated, unit: PressureUnit): Figure =>
  t ?? { text: String(Number(convert(kpa, 'kPa', unit).toFixed(2))), unit };

/** A kept day, to be typed on. */
export function typedDay(day: TrackDay, unit: PressureUnit, temp: TempUnit): TypedDay {
  const figures = (wheels: TrackDay['sessions'][number]['wheels']): TypedSession['wheels'] =>
    Object.fromEntries(
      Object.entries(wheels).map(([p, r]) => [
        p,
        Object.fromEntries(Object.entries(r).map(([read, stated]) => [read, typed(stated as Stated, unit)])),
      ]),
    );
  return {
    id: day.id,
    date: day.date,
    place: day.place ?? '',
    direction: day.direction ?? '',
    target: day.target ? typed(day.target, unit) : { text: '', unit },
    targets: Object.fromEntries(Object.entries(day.targets ?? {}).map(([p, s]) => [p, typed(s, unit)])),
    sessions: day.sessions.map((s) => ({
      air: s.airC === undefined ? '' : String(Number(convert(s.airC, 'C', temp).toFixed(1))),
      wheels: figures(s.wheels),
    })),
  };
}

const stated = (figure: Figure | undefined, read: Read | 'target'): Stated | null => {
  const kpa = kpaOf(figure, read);
  return kpa == null || figure === undefined ? null : { kpa, typed: { text: figure.text.trim(), unit: figure.unit } };
};

/** A typed day as it is kept; what is no figure is left out. */
export function keptDay(day: TypedDay, temp: TempUnit): TrackDay {
  const target = stated(day.target, 'target');
  const targets = Object.entries(day.targets).flatMap(([p, f]) => {
    const s = stated(f, 'target');
    return s ? [[p, s] as const] : [];
  });
  return {
    id: day.id,
    date: day.date,
    ...(day.place.trim() ? { place: day.place.trim() } : {}),
    ...(day.direction ? { direction: day.direction } : {}),
    ...(target ? { target } : {}),
    ...(targets.length > 0 ? { targets: Object.fromEntries(targets) } : {}),
    sessions: day.sessions.map((s) => {
      const airC = airOf(s.air, temp);
      return {
        ...(airC == null ? {} : { airC }),
        wheels: Object.fromEntries(
          Object.entries(s.wheels).flatMap(([p, r]) => {
            const read = Object.entries(r).flatMap(([k, f]) => {
              const v = stated(f, k as Read);
              return v ? [[k, v] as const] : [];
            });
            return read.length === 0 ? [] : [[p, Object.fromEntries(read)] as const];
          }),
        ),
      };
    }),
  };
}

/** Something was typed. */
export const isBegun = (day: TypedDay): boolean =>
  day.target.text.trim() !== '' ||
  day.sessions.some((s) => Object.values(s.wheels).some((w) => Object.values(w).some((f) => f.text.trim() !== '')));
