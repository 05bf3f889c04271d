import type { Request, Response } from 'express';
import type { Knex } from 'knex';
import { Watch, type WatchEvent, type WheelLimits } from '#core/watch/watch.ts';
import { type AlarmKind, LONGEST_TRACK_MINUTES } from '#schema/alarm.ts';
import type { ChartAnswer } from '#schema/history.ts';
import { reading } from '../db/open.ts';
import { deviceOf } from '../devices/access.ts';
import type { LiveHub } from '../live/hub.ts';
import { otherWork } from '../loop.ts';
import { badInput, notFound } from '../problem.ts';
import { chartSeries, chartStep, refreshInSlices } from '../readings/rollups.ts';
import { type Handlers, WRITTEN } from '../routing.ts';
import type { WatchService } from './service.ts';

/**
 * Readings of a rig between two times are read in their order, a stretch at a time; others have a turn between two. A stretch grows where few
 * readings are and ends early where many are, so that one takes some 30 ms. The longest is looked through whole when many begin in it.
 */
const STRETCH_MS = { first: 900_000, least: 1000, most: 6 * 3_600_000 };
const STRETCH_ROWS = { few: 1000, most: 5000 };

interface Row {
  sensor_id: string;
  time_ms: number;
  pressure_kpa: number;
  temp_c: number | null;
  battery_v: number | null;
}

type Names =
  | 'watch'
  | 'live'
  | 'liveRigs'
  | 'alarms'
  | 'acknowledge'
  | 'shelve'
  | 'shelves'
  | 'silence'
  | 'rest'
  | 'topUp'
  | 'track'
  | 'answer'
  | 'repeater'
  | 'typed'
  | 'span'
  | 'chart'
  | 'replay';

/** What can be asked of a rig's watch, and what it takes. */
export function watchHandlers(db: Knex, watch: WatchService, hub: LiveHub): Pick<Handlers, Names> {
  const time = (text: string | undefined) => (text === undefined ? null : Date.parse(text));
  const stream = (req: Request, res: Response, rigs: readonly string[], last: string | undefined, named: boolean) => {
    if (req.method === 'HEAD') res.type('text/event-stream').end();
    else hub.add(rigs, res, { named, lastId: req.get('Last-Event-ID') ?? last, device: deviceOf(req)?.id });
    return WRITTEN;
  };
  return {
    watch: ({ params }) => watch.view(params.rig),
    live({ params, query, req, res }) {
      if (!watch.has(params.rig)) throw notFound('rig');
      return stream(req, res, [params.rig], query.last, false);
    },
    liveRigs({ query, req, res }) {
      const rigs = query.rigs.split(',').filter((id) => watch.has(id));
      if (rigs.length === 0) throw notFound('rig');
      return stream(req, res, rigs, query.last, true);
    },
    alarms: ({ params, query }) =>
      watch.alarms(params.rig, {
        active: query.active === 'true',
        limit: query.limit ?? 200,
        fromMs: time(query.from),
        toMs: time(query.to),
      }),
    acknowledge: ({ params }) => watch.acknowledge(params.rig, params.alarm),
    shelve: ({ params, body }) => watch.shelve(params.rig, params.alarm, body.minutes),
    shelves: ({ params }) => watch.shelves(params.rig),
    silence: ({ params, body }) => watch.silence(params.rig, body.minutes),
    rest: ({ params, body }) => watch.rest(params.rig, body.unit, body.resting),
    topUp: ({ params, body }) => watch.topUp(params.rig, body.positions),
    track: ({ params, body }) => watch.track(params.rig, body.mode, body.minutes ?? LONGEST_TRACK_MINUTES),
    answer: ({ params, body }) => watch.answer(params.rig, body.position, body.answer),
    repeater: ({ params, body }) => watch.repeater(params.rig, body.volts),
    typed: ({ params, body }) => watch.typed(params.rig, body),

    async span({ params }) {
      const ids = watch.wheels(params.rig).flatMap((w) => w.wheel.sensor?.id ?? []);
      const spans = await reading(db, (raw) => {
        const first = raw.prepare('select min(time_ms) from readings where sensor_id = ?').pluck();
        const last = raw.prepare('select max(time_ms) from readings where sensor_id = ?').pluck();
        return ids.map((id) => [first.get(id), last.get(id)] as [number | null, number | null]);
      });
      const firsts = spans.flatMap(([a]) => a ?? []);
      const lasts = spans.flatMap(([, b]) => b ?? []);
      return {
        from: firsts.length === 0 ? null : new Date(Math.min(...firsts)).toISOString(),
        to: lasts.length === 0 ? null : new Date(Math.max(...lasts)).toISOString(),
      };
    },

    async chart({ params, query }) {
      const [fromMs, toMs] = [Date.parse(query.from), Date.parse(query.to)];
      if (fromMs > toMs) throw badInput([{ pointer: '/from', detail: 'is after `to`' }]);
      const asked = query.positions ? query.positions.split(',') : null;
      const all = watch.wheels(params.rig);
      const unknown = asked?.find((p) => !all.some((w) => w.position === p));
      if (unknown !== undefined) throw badInput([{ pointer: '/positions', detail: `${unknown} is not a wheel of this rig` }]);
      const wheels = all.filter((w) => w.wheel.sensor && (asked === null || asked.includes(w.position)));
      const stepS = chartStep(fromMs, toMs, query.points ?? 600);
      const series: ChartAnswer['series'] = [];
      for (const { position, wheel } of wheels) {
        const sensorId = wheel.sensor?.id as string;
        if (stepS > 0) await refreshInSlices(db, [sensorId], fromMs, toMs);
        series.push({ position, sensorId, points: await reading(db, (raw) => chartSeries(raw, sensorId, fromMs, toMs, stepS)) });
        // One wheel at a time: between two of them whatever else is waiting is answered.
        await otherWork();
      }
      return { from: new Date(fromMs).toISOString(), to: new Date(toMs).toISOString(), stepS, series };
    },

    async replay({ params, body }) {
      const rigId = params.rig;
      const { from, to, limits } = body;
      const [fromMs, toMs] = [Date.parse(from), Date.parse(to)];
      if (fromMs > toMs) throw badInput([{ pointer: '/from', detail: 'is after `to`' }]);
      const own: Record<string, WheelLimits> = watch.limits(rigId);
      for (const [position, l] of Object.entries(limits ?? {})) {
        const old = own[position];
        if (!old) throw badInput([{ pointer: `/limits/${position}`, detail: 'has no sensor in this rig' }]);
        if (l.lowKpa !== null && l.highKpa !== null && l.lowKpa >= l.highKpa) {
          throw badInput([{ pointer: `/limits/${position}/lowKpa`, detail: 'the low alarm is at or over the high alarm' }]);
        }
        own[position] = { ...old, ...l };
      }
      for (const l of Object.values(own)) delete l.resting;
      const positions = new Map<string, string>();
      for (const w of watch.wheels(rigId)) if (w.wheel.sensor) positions.set(w.wheel.sensor.id, w.position);
      const again = new Watch(own, { sleepAware: true });
      const events: WatchEvent[] = [];
      let count = 0;
      const ids = [...positions.keys()];
      const marks = ids.map(() => '?').join(',');
      let stretchMs = STRETCH_MS.first;
      for (let at = fromMs; at <= toMs; ) {
        const { rows, next } = await reading(db, (raw) => {
          const end = Math.min(at + stretchMs, toMs + 1);
          const found = raw
            .prepare(
              `select sensor_id, time_ms, pressure_kpa, temp_c, battery_v from readings where sensor_id in (${marks}) and time_ms >= ? and time_ms < ? order by time_ms, sensor_id limit ${STRETCH_ROWS.most + 1}`,
            )
            .all(...ids, at, end) as Row[];
          // Readings of one moment stay together.
          const cut = found.length > STRETCH_ROWS.most ? (found.at(-1) as Row).time_ms : end;
          if (found.length > 0) return { rows: found.filter((r) => r.time_ms < cut), next: cut };
          // Jump over stretches in which nothing was heard.
          const later = raw.prepare('select min(time_ms) from readings where sensor_id = ? and time_ms >= ?').pluck();
          const jump = Math.min(...ids.map((id) => (later.get(id, end) as number | null) ?? Number.POSITIVE_INFINITY));
          return { rows: found, next: Math.max(end, jump) };
        });
        for (const r of rows) {
          const volts = r.battery_v ?? Number.NaN;
          again.read(positions.get(r.sensor_id) as string, r.time_ms, r.pressure_kpa, r.temp_c ?? Number.NaN, events, volts);
        }
        count += rows.length;
        if (next < at + stretchMs) stretchMs = Math.max(STRETCH_MS.least, next - at);
        else if (rows.length < STRETCH_ROWS.few) stretchMs = Math.min(STRETCH_MS.most, stretchMs * 2);
        at = next;
        // A transaction alone lets nobody else in: without this, years are replayed in one turn.
        await otherWork();
      }
      again.tick(toMs, events);
      return { readings: count, alarms: episodes(events) };
    },
  };
}

/** What rose and when it returned, in order. */
function episodes(events: readonly WatchEvent[]) {
  const list: {
    position: string;
    kind: AlarmKind;
    fromTime: string;
    toTime: string | null;
    limit: number;
    value: number;
    worst: number;
  }[] = [];
  const open = new Map<string, (typeof list)[number]>();
  for (const e of events) {
    const key = `${e.position} ${e.kind}`;
    if (e.type === 'raised') {
      const { position, kind, limit, value, worst } = e;
      const alarm = { position, kind, fromTime: new Date(e.fromMs).toISOString(), toTime: null, limit, value, worst };
      list.push(alarm);
      open.set(key, alarm);
    } else {
      const alarm = open.get(key);
      if (!alarm) continue;
      alarm.worst = e.worst;
      if (e.type === 'returned') {
        alarm.toTime = new Date(e.atMs).toISOString();
        open.delete(key);
      }
    }
  }
  return list;
}
