import { compensate } from '#core/watch/compensate.ts';
import type { WheelLimits } from '#core/watch/wheel.ts';
import type { Alarm, WheelView } from '#schema/alarm.ts';
import type { ChartAnswer } from '#schema/history.ts';
import type { ChartLine, ChartMark } from './ChartPart.tsx';

/** What a chart shows. */
export type Quantity = 'pressure' | 'held' | 'temperature' | 'gap';

/** What the watch knows of the wheels, as the core takes it. */
export function limitsFrom(wheels: readonly WheelView[]): Record<string, WheelLimits> {
  const out: Record<string, WheelLimits> = {};
  for (const w of wheels) {
    if (w.sensorKind === null) continue;
    out[w.position] = {
      lowKpa: w.lowKpa,
      highKpa: w.highKpa,
      hotC: w.hotC,
      coldKpa: w.coldKpa,
      coldTempC: w.coldTempC ?? 20,
      sensorKind: w.sensorKind,
      correctedToC: w.correctedToC,
      loadMinimumKpa: w.loadMinimumKpa ?? undefined,
    };
  }
  return out;
}

/**
 * Lines of a chart.
 * @param turn brings kPa or °C into the owner's unit; a difference of pressure is a pressure
 */
export function linesOf(
  answer: ChartAnswer,
  quantity: Quantity,
  wheels: readonly WheelView[],
  airC: number | null,
  turn: { kpa: (v: number) => number; c: (v: number) => number },
  strong: ReadonlyMap<string, 'act' | 'picked'>,
): ChartLine[] {
  const order = wheels.map((w) => w.position);
  const views = new Map(wheels.map((w) => [w.position, w]));
  const held = quantity === 'held' || quantity === 'gap' ? compensate(answer.series, limitsFrom(wheels), airC) : null;
  return answer.series
    .filter((s) => s.points.length > 0)
    .map(({ position, points }) => {
      const cold = views.get(position)?.coldKpa ?? null;
      return {
        label: position,
        strong: strong.get(position) ?? null,
        order: Math.max(0, order.indexOf(position)),
        points: points.map((p, i) => {
          const x = answer.stepS === 0 ? p.ms : p.lastMs;
          if (quantity === 'pressure') return { x, y: turn.kpa(p.lastKpa), low: turn.kpa(p.lowKpa), high: turn.kpa(p.highKpa) };
          if (quantity === 'temperature') {
            if (p.lastC === null || p.lowC === null || p.highC === null) return { x, y: null };
            return { x, y: turn.c(p.lastC), low: turn.c(p.lowC), high: turn.c(p.highC) };
          }
          const v = held?.get(position)?.[i] ?? null;
          if (v === null) return { x, y: null };
          if (quantity === 'held') return { x, y: turn.kpa(v) };
          return { x, y: cold === null ? null : turn.kpa(v - cold) };
        }),
      };
    });
}

/** Alarms as marks on a chart. */
export const marksOf = (alarms: readonly Alarm[], positions: readonly string[], from: number, to: number): ChartMark[] =>
  alarms
    .filter((a) => positions.includes(a.position) || a.position.length === 1)
    .map((a) => ({ ms: Date.parse(a.fromTime), label: `${a.position} ${a.kind}` }))
    .filter((m) => m.ms >= from && m.ms <= to)
    .slice(0, 60);
