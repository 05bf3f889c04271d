import express, { Router } from 'express';
import type { Knex } from 'knex';
import { Watch, type WatchEvent, type WheelLimits } from '#core/watch/watch.ts';
import type { AlarmKind, ReplayRequest, TypedRound } from '#schema/alarm.ts';
import { explain } from '#schema/explain.ts';
import { type Validator, validators } from '../../generated/records.js';
import { inTransaction } from '../db/open.ts';
import { badInput } from '../problem.ts';
import { chartSeries, chartStep, refreshInSlices } from '../readings/rollups.ts';
import { timeParam } from '../readings/times.ts';
import type { WatchService } from './service.ts';

/** Readings of a rig between two times in their order, a stretch at a time. */
const STRETCH_MS = 6 * 3_600_000;
const MOST_POINTS = 4000;

interface Row {
  sensor_id: string;
  time_ms: number;
  pressure_kpa: number;
  temp_c: number | null;
  battery_v: number | null;
}

function mustBe(valid: Validator, value: unknown): void {
  if (!valid(value)) throw badInput(explain(valid.errors));
}

export function watchRoutes(db: Knex, watch: WatchService): Router {
  const router = Router();
  const small = express.json({ limit: 1_000_000, strict: false });

  router.post('/rigs/:rig/rest', small, async (req, res) => {
    mustBe(validators.rest, req.body);
    const { unit, resting } = req.body as { unit: string; resting: boolean };
    res.json(await watch.rest(req.params.rig as string, unit, resting));
  });
  router.post('/rigs/:rig/top-up', small, async (req, res) => {
    mustBe(validators.topUp, req.body);
    res.json(await watch.topUp(req.params.rig as string, (req.body as { positions: string[] }).positions));
  });
  router.post('/rigs/:rig/answer', small, async (req, res) => {
    mustBe(validators.answer, req.body);
    const { position, answer } = req.body as { position: string; answer: 'off' | 'on' | 'set' };
    res.json(await watch.answer(req.params.rig as string, position, answer));
  });
  router.post('/rigs/:rig/repeater', small, async (req, res) => {
    mustBe(validators.repeater, req.body);
    res.json(await watch.repeater(req.params.rig as string, (req.body as { volts: number }).volts));
  });
  router.post('/rigs/:rig/typed', small, async (req, res) => {
    mustBe(validators.typedRound, req.body);
    res.json(await watch.typed(req.params.rig as string, req.body as TypedRound));
  });

  router.get('/rigs/:rig/span', async (req, res) => {
    const ids = watch.wheels(req.params.rig).flatMap((w) => w.wheel.sensor?.id ?? []);
    const spans = await inTransaction(db, (raw) => {
      const first = raw.prepare('select min(time_ms) from readings where sensor_id = ?').pluck();
      const last = raw.prepare('select max(time_ms) from readings where sensor_id = ?').pluck();
      return ids.map((id) => [first.get(id), last.get(id)] as [number | null, number | null]);
    });
    const firsts = spans.flatMap(([a]) => a ?? []);
    const lasts = spans.flatMap(([, b]) => b ?? []);
    res.json({
      from: firsts.length === 0 ? null : new Date(Math.min(...firsts)).toISOString(),
      to: lasts.length === 0 ? null : new Date(Math.max(...lasts)).toISOString(),
    });
  });

  router.get('/rigs/:rig/chart', async (req, res) => {
    const fromMs = timeParam(req.query.from, 'from');
    const toMs = timeParam(req.query.to, 'to');
    if (fromMs === null || toMs === null || fromMs > toMs) {
      throw badInput([{ pointer: '/from', detail: 'give a begin and an end, the begin first' }]);
    }
    const points = req.query.points === undefined ? 600 : Number(req.query.points);
    if (!(points >= 10 && points <= MOST_POINTS))
      throw badInput([{ pointer: '/points', detail: `must be 10 to ${MOST_POINTS}` }]);
    const asked = typeof req.query.positions === 'string' && req.query.positions !== '' ? req.query.positions.split(',') : null;
    const all = watch.wheels(req.params.rig);
    const unknown = asked?.find((p) => !all.some((w) => w.position === p));
    if (unknown !== undefined) throw badInput([{ pointer: '/positions', detail: `${unknown} is not a wheel of this rig` }]);
    const wheels = all.filter((w) => w.wheel.sensor && (asked === null || asked.includes(w.position)));
    const stepS = chartStep(fromMs, toMs, points);
    if (stepS > 0) {
      const ids = wheels.map((w) => w.wheel.sensor?.id as string);
      await refreshInSlices(db, ids, fromMs, toMs);
    }
    const series = await inTransaction(db, (raw) =>
      wheels.map((w) => ({
        position: w.position,
        sensorId: w.wheel.sensor?.id as string,
        points: chartSeries(raw, w.wheel.sensor?.id as string, fromMs, toMs, stepS),
      })),
    );
    res.json({ from: new Date(fromMs).toISOString(), to: new Date(toMs).toISOString(), stepS, series });
  });

  // A stretch of history through the watch again, with the limits of today or others: would it have rung?
  router.post('/rigs/:rig/replay', small, async (req, res) => {
    mustBe(validators.replay, req.body);
    const rigId = req.params.rig as string;
    const { from, to, limits } = req.body as ReplayRequest;
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
    for (let at = fromMs; at <= toMs; ) {
      const { rows, next } = await inTransaction(db, (raw) => {
        const end = Math.min(at + STRETCH_MS, toMs + 1);
        const found = raw
          .prepare(
            `select sensor_id, time_ms, pressure_kpa, temp_c, battery_v from readings where sensor_id in (${marks}) and time_ms >= ? and time_ms < ? order by time_ms, sensor_id`,
          )
          .all(...ids, at, end) as Row[];
        if (found.length > 0) return { rows: found, next: end };
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
      at = next;
    }
    again.tick(toMs, events);
    res.json({ readings: count, alarms: episodes(events) });
  });

  return router;
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
