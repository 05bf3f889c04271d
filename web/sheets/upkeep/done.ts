import { wheelsOf } from '#core/rig/positions.ts';
import type { JobId } from '#core/upkeep/jobs.ts';
import type { LogEntry, Rig, Unit } from '#schema/unit.ts';

type RigDocument = Omit<Rig, 'id' | 'version'>;

/** What a job that was done is written down with. */
export interface Done {
  id: JobId;
  entry: LogEntry;
  /** What it uses up, one of each, as the rig's parts are called. */
  parts: readonly string[];
}

/** What the rig had before, of what a job changes: for taking it back. */
export interface Before {
  onHand: Readonly<Record<string, number | undefined>>;
  retightenedAt: string | undefined;
}

const less = (count: number): number => Math.max(0, count - 1);

/** What a rig has of what a job changes. */
export function beforeJob(rig: RigDocument, { parts }: Done): Before {
  return {
    onHand: Object.fromEntries(parts.map((p) => [p, rig.upkeep?.onHand?.[p]])),
    retightenedAt: rig.fitting?.retightenedAt,
  };
}

/** The rig with a job in its log, its parts counted down, and what the job is the sign of. */
export function withJob<R extends RigDocument>(rig: R, { id, entry, parts }: Done): R {
  // Of parts that nobody has counted there is nothing to count down.
  const used = parts.flatMap((p): [string, number][] => {
    const count = rig.upkeep?.onHand?.[p];
    return count === undefined ? [] : [[p, less(count)]];
  });
  return {
    ...rig,
    log: [...(rig.log ?? []), entry],
    ...(used.length > 0 ? { upkeep: { ...rig.upkeep, onHand: { ...rig.upkeep?.onHand, ...Object.fromEntries(used) } } } : {}),
    ...(id === 'retighten' ? { fitting: { ...rig.fitting, retightenedAt: entry.at } } : {}),
  };
}

/** The rig without a job again. What was changed meanwhile stays: of parts counted since then one of each comes back. */
export function withoutJob<R extends RigDocument>(rig: R, { id, entry, parts }: Done, before: Before): R {
  const next = { ...rig, log: (rig.log ?? []).filter((e) => e.id !== entry.id) };
  const back = parts.flatMap((p): [string, number][] => {
    const [was, now] = [before.onHand[p], rig.upkeep?.onHand?.[p]];
    return was === undefined || now === undefined ? [] : [[p, now + was - less(was)]];
  });
  if (back.length > 0) next.upkeep = { ...rig.upkeep, onHand: { ...rig.upkeep?.onHand, ...Object.fromEntries(back) } };
  if (id === 'retighten' && rig.fitting?.retightenedAt === entry.at) {
    const { retightenedAt: _then, ...others } = rig.fitting;
    const fitting = before.retightenedAt === undefined ? others : { ...others, retightenedAt: before.retightenedAt };
    if (Object.keys(fitting).length > 0) next.fitting = fitting;
    else delete next.fitting;
  }
  return next;
}

/** The day that a wheel's cell was put in. @param local position inside the unit */
export const cellOf = (unit: Unit, local: string): string | undefined =>
  wheelsOf([unit]).find((w) => w.local === local)?.wheel.sensor?.cellSince;

/** The unit with the day that a cell was put in. @param local position inside the unit */
export function withCell(unit: Unit, local: string, day: string | undefined): Unit {
  const next = structuredClone(unit);
  const sensor = wheelsOf([next]).find((w) => w.local === local)?.wheel.sensor;
  if (!sensor) return next;
  if (day === undefined) delete sensor.cellSince;
  else sensor.cellSince = day;
  return next;
}
