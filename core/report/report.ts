import type { Monitor } from '#schema/monitor.ts';
import type { OpenItem, Report, ReportWheel } from '#schema/report.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { rigKeyed } from '../alarms/keyed.ts';
import { guardedAxles, isAccepted, stopsOf } from '../alarms/rig-held.ts';
import { dayIn } from '../calendar/day.ts';
import { type GaugePair, judgeGauge } from '../fitting/gauge.ts';
import { PAIRING_ACTS } from '../fitting/walk.ts';
import { placeName } from '../kit/lists.ts';
import { placesOf } from '../kit/map.ts';
import { hasNuts } from '../kit/parts.ts';
import type { LearnedRise } from '../pressure/hot-run.ts';
import { axleOf, settingOf, watchedWheels } from '../rig/positions.ts';
import { limitsInForce } from '../watch/limits.ts';

export type { OpenItem, Report, ReportWheel };

/** The gauge pairs of a rig, as they were noted. @param correctedToC what its display brings its pressures to by itself, °C */
export function gaugePairs(rig: Rig, units: readonly Unit[], correctedToC?: number): GaugePair[] {
  const { readings = {}, gauge } = rig.firstDrive ?? {};
  return watchedWheels(rig, units).flatMap((w): GaugePair[] => {
    const r = readings[w.position];
    const { cold, limits } = settingOf(w, rig.loadState);
    if (!r || !cold) return [];
    return [
      {
        position: w.position,
        gaugeKpa: r.gauge.map((g) => g.kpa),
        gaugeTempC: r.airC,
        sensorKpa: r.sensorKpa,
        sensorTempC: correctedToC ?? r.airC,
        sensorStepKpa: gauge?.stepKpa ?? 1,
        coldKpa: cold.kpa,
        lowKpa: limits?.lowKpa ?? null,
      },
    ];
  });
}

const secondsSince = (from: string, to: string): number => Math.round((Date.parse(to) - Date.parse(from)) / 1000);

/**
 * Build the report of a rig.
 * @param at now, ISO 8601
 * @param learned what an ordinary run adds, axle by axle, as the rig's readings showed it
 * @param zone where the owner is, IANA name
 */
export function buildReport(
  rig: Rig,
  units: readonly Unit[],
  monitor: Monitor | null,
  at: string,
  learned?: Readonly<Record<string, LearnedRise>>,
  zone = 'UTC',
): Report {
  const wheels = watchedWheels(rig, units);
  const pairs = gaugePairs(rig, units, monitor?.correctsToC);
  const gauge = rig.firstDrive?.gauge ?? { errorKpa: 7, stepKpa: 3.5 };
  const set = judgeGauge(pairs, gauge);
  const judged = new Map(set.wheels.map((w) => [w.position, w]));
  const open: OpenItem[] = [];
  const need = (code: OpenItem['code'], list: readonly { position: string }[]) => {
    if (list.length > 0) open.push({ code, positions: list.map((w) => w.position) });
  };
  const firsts = wheels
    .filter((w, i) => wheels.findIndex((v) => v.holder === w.holder) === i)
    .map((w) => ({ w, position: axleOf(w.position) }));
  need(
    'noSensor',
    wheels.filter((w) => !w.wheel.sensor),
  );
  need(
    'noCold',
    firsts.filter(({ w }) => !settingOf(w, rig.loadState).cold),
  );
  need(
    'noLimits',
    firsts.filter(({ w }) => !settingOf(w, rig.loadState).limits),
  );
  need(
    'notFitted',
    wheels.filter(
      (w) => w.wheel.sensor && !(w.wheel.fitting?.done.some((d) => d.code === 'sensorOn' || d.code === 'shop') ?? false),
    ),
  );
  need(
    'bubbles',
    wheels.filter((w) => w.wheel.fitting?.leak === 'bubbles'),
  );
  need(
    'suspect',
    set.wheels.filter((w) => w.verdict === 'suspect'),
  );
  need(
    'noGauge',
    wheels.filter((w) => w.wheel.sensor && w.place !== 'S' && !judged.has(w.position)),
  );
  const places = monitor ? placesOf(rig, units, monitor) : {};
  const keyed = rigKeyed(rig, units, monitor);
  // What guards the tires is what the monitor ends with, not what was wished.
  const stops = monitor ? stopsOf(monitor, guardedAxles(rig, units, learned), keyed) : [];
  const stopped = [...new Set(stops.map((s) => s.axle))];
  if (!isAccepted(rig.accepted, stops)) open.push({ code: 'heldStops', positions: stopped });
  if (!keyed) open.push({ code: 'notKeyed', positions: [] });
  const { proof } = rig.firstDrive ?? {};
  if (proof?.monitor?.did === 'quiet') open.push({ code: 'stayedQuiet', positions: [proof.position] });
  // On the bench there is no monitor that could ring: there the practice counts, and says that it was one.
  else if (proof?.monitor === undefined && !(proof?.practice && proof.cameAt)) open.push({ code: 'noProof', positions: [] });
  if (hasNuts(rig, wheels) && !rig.fitting?.retightenedAt) open.push({ code: 'notRetightened', positions: [] });
  return {
    format: 'druckwerk-report',
    version: 1,
    at,
    rig: {
      name: rig.name,
      ...(rig.note === undefined ? {} : { note: rig.note }),
      loadState: rig.loadState,
      units: units.map((u) => u.name),
    },
    monitor: monitor?.name ?? null,
    wheels: wheels.map((w): ReportWheel => {
      const { cold, limits } = settingOf(w, rig.loadState);
      // What a monitor makes of its baseline is the limit of that wheel; one that is only assumed isn't.
      const inForce = limitsInForce({ cold, limits }, monitor);
      const r = rig.firstDrive?.readings?.[w.position];
      const j = judged.get(w.position);
      const { fitting, sensor } = w.wheel;
      const place = placeName(monitor, places[w.position]);
      return {
        position: w.position,
        ...(place ? { place } : {}),
        sensorId: sensor ? (sensor.shownId ?? sensor.id) : null,
        kind: sensor?.kind ?? null,
        stem: w.wheel.stem ?? null,
        override: w.wheel.fitOverride ? `${w.wheel.fitOverride.words} (${dayIn(zone, w.wheel.fitOverride.at)})` : null,
        coldKpa: cold?.kpa ?? null,
        coldTempC: cold?.tempC ?? null,
        lowKpa: inForce.assumed ? null : inForce.lowKpa,
        highKpa: inForce.highKpa,
        hotC: limits?.hotC ?? null,
        steps: fitting?.done.map((d) => d.code).filter((c) => !PAIRING_ACTS.has(c)) ?? [],
        leak: fitting?.leak ?? null,
        note: fitting?.note ?? null,
        photos: fitting?.photos ?? [],
        gaugeKpa: r?.gauge[0]?.kpa ?? null,
        sensorKpa: r?.sensorKpa ?? null,
        differenceKpa: j?.differenceKpa ?? null,
        verdict: j?.verdict ?? null,
      };
    }),
    gauge: pairs.length > 0 ? { errorKpa: gauge.errorKpa, blame: set.blame } : null,
    keyed: keyed
      ? {
          at: keyed.at,
          groups: Object.fromEntries(
            Object.entries(keyed.groups).map(([g, l]) => [
              g,
              { low: l.low, high: l.high, ...(l.baseline == null ? {} : { baseline: l.baseline }) },
            ]),
          ),
          unit: monitor?.unit ?? null,
        }
      : null,
    proof:
      proof === undefined
        ? null
        : {
            position: proof.position,
            seconds: proof.cameAt === undefined ? null : secondsSince(proof.startedAt, proof.cameAt),
            practice: proof.practice,
            monitor: proof.monitor ? { did: proof.monitor.did, seconds: secondsSince(proof.startedAt, proof.monitor.at) } : null,
          },
    ...(rig.accepted && stopped.length > 0
      ? { accepted: { words: rig.accepted.words, at: rig.accepted.at, axles: stopped } }
      : {}),
    ...(rig.firstDrive?.signed ? { signed: rig.firstDrive.signed } : {}),
    open,
  };
}

/** One thing that differs between two reports. */
export interface ReportChange {
  /** Path to the figure, such as `wheels/A1L/lowKpa`. */
  path: string;
  before: unknown;
  after: unknown;
}

function flatten(value: unknown, path: string, out: Map<string, unknown>): void {
  if (Array.isArray(value)) {
    value.forEach((v, i) => {
      const name =
        typeof v === 'object' && v !== null && 'position' in v ? String((v as { position: unknown }).position) : String(i);
      flatten(v, `${path}/${name}`, out);
    });
  } else if (typeof value === 'object' && value !== null) {
    for (const [k, v] of Object.entries(value)) flatten(v, path === '' ? k : `${path}/${k}`, out);
  } else out.set(path, value);
}

/** What differs between two reports, but for when they were made. */
export function compareReports(before: Report, after: Report): ReportChange[] {
  const a = new Map<string, unknown>();
  const b = new Map<string, unknown>();
  flatten(before, '', a);
  flatten(after, '', b);
  return [...new Set([...a.keys(), ...b.keys()])]
    .filter((path) => path !== 'at' && a.get(path) !== b.get(path))
    .map((path) => ({ path, before: a.get(path) ?? null, after: b.get(path) ?? null }));
}
