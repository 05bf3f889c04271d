import type { Rig, Setting, Unit } from '#schema/unit.ts';
import { partsOf } from '../kit/parts.ts';
import { axleOf, settingOf, wheelsOf } from '../rig/positions.ts';
import { JOB_IDS, type JobId } from '../upkeep/jobs.ts';
import { cellSinceOf, entriesOf } from '../upkeep/since.ts';
import { dayIn } from './day.ts';

/** What has a day on which it is due. */
export type DueKind =
  | 'cells'
  | 'sealedCells'
  | 'cellSign'
  | 'cellMissed'
  | 'winter'
  | 'summer'
  | 'warranty'
  | 'retighten'
  | 'gauge'
  | 'tireAge'
  | 'job';

/** Something to be done, and when. */
export interface Due {
  kind: DueKind;
  /** Day it is due, `2026-11-26`; of what comes back each year the first day that isn't over. */
  date: string;
  yearly: boolean;
  /** Wheels it concerns, or axles for a season. */
  positions: string[];
  /** Type of cell, where it is about cells. */
  cell?: string;
  /** What each axle is reset to, where it is about a season. */
  resets?: { axle: string; kpa: number; tempC: number; typed?: { text: string; unit: string } | undefined }[];
  /** The guided job, where it is one with a rhythm of its own. */
  job?: JobId;
  /** The day it counts from: cells put in, first drive, last comparison. */
  since?: string;
  /** The day it was last done, where it is once a year from `since` and an age on. */
  last?: string;
}

/** What the watch has seen of the cells. */
export interface CellSigns {
  low: readonly string[];
  missed: readonly string[];
}

const DAY_MS = 86_400_000;
const dayOf = (ms: number): string => new Date(ms).toISOString().slice(0, 10);

/** The same day so many months on; the last of the month where it is shorter. */
export function monthsOn(date: string, months: number): string {
  const [y, m, d] = date.split('-').map(Number) as [number, number, number];
  const last = new Date(Date.UTC(y, m - 1 + months + 1, 0)).getUTCDate();
  return dayOf(Date.UTC(y, m - 1 + months, Math.min(d, last)));
}

/** A tire of this age is looked at by a tire shop each year, years. Common practice, no source. */
const TIRE_YEARS = 6;
const TIRE_LOOK_MONTHS = 12;

/** Monday of a week of a year as it is stamped on a tire: `2319` is week 23 of 2019. A year of two figures is of this century. */
export function madeOn(made: string): string {
  const [week, year] = [Number(made.slice(0, 2)), 2000 + Number(made.slice(2))];
  // ISO 8601: the week with the fourth of January is the first.
  const fourth = Date.UTC(year, 0, 4);
  const monday = fourth - ((new Date(fourth).getUTCDay() + 6) % 7) * DAY_MS;
  return dayOf(monday + (week - 1) * 7 * DAY_MS);
}

/** The last day of a job by the log, that of practice left out. */
const lastDone = (rig: Rig, job: JobId, zone: string): string | undefined =>
  (rig.log ?? [])
    .filter((e) => e.job === job && !e.practice)
    .map((e) => dayIn(zone, e.at))
    .sort()
    .at(-1);

/** Tires that grow old, the axles of one age together. A look at the tires that were there before these counts for nothing. */
function tiresOf(rig: Rig, units: readonly Unit[], zone: string): Due[] {
  const looked = lastDone(rig, 'oldTires', zone);
  const byMade = new Map<string, Due>();
  for (const w of wheelsOf(units)) {
    const made = w.holder.tire?.made;
    if (made === undefined) continue;
    const since = madeOn(made);
    const old = monthsOn(since, 12 * TIRE_YEARS);
    const next = looked !== undefined && looked > since ? monthsOn(looked, TIRE_LOOK_MONTHS) : old;
    const looksAgain = next > old;
    const due: Due = byMade.get(made) ?? {
      kind: 'tireAge',
      date: looksAgain ? next : old,
      yearly: false,
      positions: [],
      since,
      ...(looksAgain ? { last: looked as string } : {}),
    };
    byMade.set(made, due);
    const axle = axleOf(w.position);
    if (!due.positions.includes(axle)) due.positions.push(axle);
  }
  return [...byMade.values()];
}

/** Jobs that its owner does every so many months. */
function rhythmsOf(rig: Rig, today: string, zone: string): Due[] {
  return JOB_IDS.flatMap((job): Due[] => {
    const months = rig.upkeep?.every?.[job];
    if (months === undefined) return [];
    const last = lastDone(rig, job, zone);
    const whole = Math.floor(months);
    const date =
      last === undefined ? today : dayOf(Date.parse(monthsOn(last, whole)) + Math.round((months - whole) * 30) * DAY_MS);
    return [{ kind: 'job', date, yearly: false, positions: [], job, ...(last === undefined ? {} : { since: last }) }];
  });
}

/** Gauges and sensors are compared once a year. Common practice, no source. */
const GAUGE_MONTHS = 12;

/** The next time a day of the year comes, from a day on. @param from `10-15` */
function nextOf(from: string, today: string): string {
  const year = Number(today.slice(0, 4));
  const this_ = `${year}-${from}`;
  return this_ >= today ? this_ : `${year + 1}-${from}`;
}

function seasonsOf(rig: Rig, units: readonly Unit[], today: string): Due[] {
  const out: Due[] = [];
  const axles = new Map<string, Setting>();
  for (const w of wheelsOf(units)) axles.set(axleOf(w.position), settingOf(w, rig.loadState));
  for (const kind of ['winter', 'summer'] as const) {
    const byDay = new Map<string, Due>();
    for (const [axle, { seasons }] of axles) {
      if (!seasons) continue;
      const { cold, from } = seasons[kind];
      const due = byDay.get(from) ?? { kind, date: nextOf(from, today), yearly: true, positions: [], resets: [] };
      byDay.set(from, due);
      due.positions.push(axle);
      due.resets?.push({ axle, kpa: cold.kpa, tempC: cold.tempC, typed: cold.typed });
    }
    out.push(...byDay.values());
  }
  return out;
}

function cellsOf(rig: Rig, units: readonly Unit[], zone: string): Due[] {
  const byKey = new Map<string, Due>();
  for (const { position, wheel } of wheelsOf(units)) {
    const { sensor } = wheel;
    if (!sensor) continue;
    const since = cellSinceOf(wheel, entriesOf(rig.log, position), zone);
    if (since === undefined) continue;
    const { cell, cellMonths } = partsOf(rig, sensor.kind);
    const kind = sensor.kind === 'internal' ? 'sealedCells' : 'cells';
    const date = monthsOn(since, cellMonths);
    const key = `${kind} ${date} ${cell}`;
    const due = byKey.get(key) ?? { kind, date, yearly: false, positions: [], cell, since };
    byKey.set(key, due);
    due.positions.push(position);
  }
  return [...byKey.values()];
}

/**
 * What is due on a rig, the first first: cells a year (or the kit's own time) after they were put in, without waiting for their own sign (common
 * practice, no source), pressures to be reset at the turn of the season, the nuts after the first drive, gauge against sensor once a year, the
 * end of the warranty.
 * @param today `2026-11-26`, where the owner is
 * @param seen wheels whose low-battery sign is on, and those that dropped out again and again lately
 * @param zone where the owner is, IANA name: the days are counted there
 */
export function dueOf(
  rig: Rig,
  units: readonly Unit[],
  today: string,
  seen: CellSigns = { low: [], missed: [] },
  zone = 'UTC',
): Due[] {
  const out = [
    ...cellsOf(rig, units, zone),
    ...seasonsOf(rig, units, today),
    ...tiresOf(rig, units, zone),
    ...rhythmsOf(rig, today, zone),
  ];
  if (seen.low.length > 0) out.push({ kind: 'cellSign', date: today, yearly: false, positions: [...seen.low] });
  // A sensor that drops out is the usual sign of its cell (common practice, no source).
  const missed = seen.missed.filter((p) => !seen.low.includes(p));
  if (missed.length > 0) out.push({ kind: 'cellMissed', date: today, yearly: false, positions: missed });
  const { startedAt, readings } = rig.firstDrive ?? {};
  const fitted = wheelsOf(units).filter((w) => w.wheel.sensor && w.wheel.sensor.kind !== 'internal');
  if (startedAt && !rig.fitting?.retightenedAt && fitted.length > 0) {
    const since = dayIn(zone, startedAt);
    out.push({
      kind: 'retighten',
      date: dayOf(Date.parse(since) + DAY_MS),
      yearly: false,
      positions: fitted.map((w) => w.position),
      since,
    });
  }
  const compared = [
    ...Object.values(readings ?? {}).map((r) => r.at),
    ...(rig.log ?? []).filter((e) => e.kind === 'checked' && !e.practice).map((e) => e.at),
  ].sort();
  const lastAt = compared.at(-1);
  if (lastAt !== undefined) {
    const last = dayIn(zone, lastAt);
    out.push({ kind: 'gauge', date: monthsOn(last, GAUGE_MONTHS), yearly: false, positions: [], since: last });
  }
  if (rig.papers?.warrantyUntil) out.push({ kind: 'warranty', date: rig.papers.warrantyUntil, yearly: false, positions: [] });
  return out.sort((a, b) => (a.date < b.date ? -1 : a.date > b.date ? 1 : a.kind < b.kind ? -1 : 1));
}
