import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { partsOf } from '#core/kit/parts.ts';
import type { RigWheel } from '#core/rig/positions.ts';
import { type CellForecast, cellForecast } from '#core/upkeep/cells.ts';
import { cellSinceOf, entriesOf } from '#core/upkeep/since.ts';
import { voltsAt20 } from '#core/watch/wheel.ts';
import { ask } from '../data/api.ts';
import { useAlarms, useEvents, useWatch } from '../data/queries.ts';
import { zoneHere } from '../data/time-zone.ts';
import { useRig } from './useRig.ts';

const MONTH_MS = 30.4375 * 86_400_000;
const HOUR_MS = 3_600_000;
const YEAR_MS = 365.25 * 86_400_000;

export interface WheelCell {
  wheel: RigWheel;
  /** Type printed on it. */
  cell: string;
  /** Day it was put in; undefined: nobody noted it. */
  since: string | undefined;
  /** Null while nobody knows since when. */
  forecast: CellForecast | null;
}

/** The cell of each sensor with its forecast, and how many hours a year this rig is driven. */
export function useCells(): { cells: WheelCell[]; hours: number; measured: boolean } {
  const { rig, units, wheels } = useRig();
  const view = useWatch(rig.id).data;
  const alarms = useAlarms(rig.id).data;
  const events = useEvents(rig.id, `${rig.version} ${units.map((u) => u.version).join()}`).data;
  const found = useMemo(() => {
    const drives = (events ?? []).filter((e) => e.kind === 'drive');
    const first = drives.at(-1)?.time;
    if (!first || drives.length < 5) return null;
    const sum = drives.reduce((a, e) => a + (e.kind === 'drive' ? Date.parse(e.until) - Date.parse(e.time) : 0), 0);
    const span = Math.max(60 * 86_400_000, Date.parse(drives[0]?.time ?? first) - Date.parse(first));
    // To the hour: on the average half an hour too much at either end.
    return Math.max(0, ((sum / HOUR_MS - drives.length) * YEAR_MS) / span);
  }, [events]);
  const hours = rig.upkeep?.drivenHours ?? (found === null ? 400 : Math.round(found));
  const volts = useQuery({
    queryKey: ['volts', rig.id],
    queryFn: () => ask('readings', { params: { rig: rig.id }, query: { step: 3600 } }),
  }).data;
  /** The last voltage of each wheel, brought to 20 °C. */
  const told = useMemo(() => {
    const out = new Map<string, number>();
    for (const r of volts?.readings ?? [])
      if (r.batteryV !== undefined)
        out.set(r.position, r.tempC === undefined || r.tempC === null ? r.batteryV : voltsAt20(r.batteryV, r.tempC));
    return out;
  }, [volts]);
  const nowMs = Date.parse(view?.time ?? new Date().toISOString());
  const cells = useMemo(
    () =>
      wheels
        .filter((w) => w.wheel.sensor)
        .map((w): WheelCell => {
          const { cell, cellMonths } = partsOf(rig, w.wheel.sensor?.kind ?? 'cap');
          const since = cellSinceOf(w.wheel, entriesOf(rig.log, w.position), zoneHere());
          const sign = alarms?.find((a) => a.position === w.position && a.kind === 'battery' && a.toTime === null);
          return {
            wheel: w,
            cell,
            since,
            forecast:
              since === undefined
                ? null
                : cellForecast({
                    cell,
                    cellMonths,
                    // A spare rolls with nobody.
                    drivenHours: w.place === 'S' ? 0 : hours,
                    coldestC: rig.climate?.coldestC,
                    ageMonths: (nowMs - Date.parse(since)) / MONTH_MS,
                    voltsAt20: sign?.evidence?.voltsAt20 ?? told.get(w.position),
                  }),
          };
        }),
    [wheels, rig, hours, nowMs, alarms, told],
  );
  return { cells, hours, measured: rig.upkeep?.drivenHours === undefined && found !== null };
}
