import { sceneOf } from '#core/radio/scene.ts';
import { type FillFigure, fillFigure, judgeFill, type RoundOrder, roundOrder } from '#core/topup/round.ts';
import { convert } from '#core/units/units.ts';
import type { WatchView, WheelView } from '#schema/alarm.ts';
import type { PressureUnit } from '#schema/common.ts';
import type { WholeRig } from '../../../data/queries.ts';
import { duration, type Format, parseNumber } from '../../../parts/format.ts';
import { isFresh } from '../../../parts/words.ts';

/** What a wheel of the round came to. */
export interface Outcome {
  how: 'filled' | 'right' | 'skipped';
  /** Its pressure before and after, kPa; null where nobody read it. */
  beforeKpa: number | null;
  afterKpa: number | null;
  /** Rig's clock, ISO. */
  at: string;
}

/** A round as it is kept while it goes on: a reload or an empty battery loses none of it. */
export interface Round {
  order: RoundOrder;
  /** Wheels the owner chose; null: those that are short. */
  picked: string[] | null;
  tool: string;
  flow: string;
  mostRun: string;
  rest: string;
  /** Air beside the rig, in the owner's unit. */
  air: string;
  /** Wheels of the round in their order; empty before it began. */
  queue: string[];
  /** The wheel that is filled now. */
  at: string | null;
  startedAt: string | null;
  /** Pressure of each wheel before, and the figure it is filled to, fixed when its turn came. */
  before: Record<string, number | null>;
  to: Record<string, FillFigure>;
  /** What the gauge was read at, in the unit it was typed in. */
  gauge: Record<string, { text: string; unit: PressureUnit }>;
  done: Record<string, Outcome>;
  /** The entry of the log that is being stored for a wheel: a page loaded again just then makes no second one of the same figures. */
  entries?: Record<string, { id: string; says: string }>;
}

export const freshRound = (): Round => ({
  order: 'lowest',
  picked: null,
  tool: '',
  flow: '',
  mostRun: '',
  rest: '',
  air: '',
  queue: [],
  at: null,
  startedAt: null,
  before: {},
  to: {},
  gauge: {},
  done: {},
});

/** A small compressor from a 12 V socket, litres of free air a minute. Assumed. */
export const USUAL_FLOW = 25;
/** Going there, cap off and on, minutes. Common practice, no source. */
export const HANDLING_MIN = 1;

/** A wheel that can be filled, with its figures of now. */
export interface FillWheel {
  view: WheelView;
  /** Its figure; null without a cold pressure. */
  figure: FillFigure | null;
  /** Pressure now, kPa; null when none was heard. */
  nowKpa: number | null;
  fresh: boolean;
  /** It is short of its figure by this, kPa; null while unknown; under 0: over it. */
  shortKpa: number | null;
  airLitres: number;
}

/** Like temperatures: an old reading was at another one, so its cold-equivalent pressure is compared with the cold pressure. */
function shortOf(v: WheelView, fresh: boolean, figure: FillFigure | null): number | null {
  // A sensor that is off its valve reads the air beside the wheel.
  if (figure === null || v.pressureKpa === null || v.askedTime !== null || v.offTime !== null) return null;
  if (fresh) return figure.kpa - v.pressureKpa;
  return v.heldKpa === null || v.coldKpa === null ? null : v.coldKpa - v.heldKpa;
}

/** Wheels with a sensor or a cold pressure, each with its figure for now. */
export function fillWheels(view: WatchView, whole: WholeRig, airC: number | null): FillWheel[] {
  const views = new Map(view.wheels.map((w) => [w.position, w]));
  return whole.wheels.flatMap((w): FillWheel[] => {
    const v = views.get(w.position);
    if (!v || (v.coldKpa === null && v.sensorId === null)) return [];
    const fresh = isFresh(v) && v.askedTime === null && v.offTime === null;
    const figure = fillFigure({ ...v, fresh }, airC ?? view.airC);
    const nowKpa = v.pressureKpa;
    return [
      {
        view: v,
        figure,
        nowKpa,
        fresh,
        shortKpa: shortOf(v, fresh, figure),
        airLitres: w.holder.airLitres ?? 50,
      },
    ];
  });
}

/** Those that are short by more than 1 psi. */
export const shortOnes = (list: readonly FillWheel[]): string[] =>
  list.filter((w) => w.shortKpa !== null && judgeFill(-w.shortKpa, 0).state === 'under').map((w) => w.view.position);

/**
 * What a wheel needs, in words. An old reading says only what it was: its tire may have lost air since, and was as warm as it was then, so it may
 * be far from the figure of now and yet have been right.
 */
export function addWords(
  { shortKpa, fresh, nowKpa, figure }: Pick<FillWheel, 'shortKpa' | 'fresh' | 'nowKpa' | 'figure'>,
  f: Pick<Format, 'pressure'>,
): string {
  if (shortKpa === null) return '–';
  const { state, byKpa } = judgeFill(-shortKpa, 0);
  if (state === 'done') {
    if (fresh) return 'right';
    const beside = nowKpa === null || figure === null ? 'done' : judgeFill(nowKpa, figure.kpa).state;
    return beside === 'done' ? 'was right' : `was right, ${beside === 'over' ? 'warmer' : 'colder'} then`;
  }
  const by = state === 'under' ? f.pressure(byKpa) : `${f.pressure(byKpa)} over`;
  return fresh ? by : `(${by})`;
}

/** What its figure goes by, in words, and how old the reading beside it is. */
export function byWords({ figure, nowKpa, fresh, view }: FillWheel, f: Pick<Format, 'temperature'>): string {
  if (figure === null) return 'no cold pressure set';
  const at = f.temperature(figure.tempC);
  const by = figure.by === 'tire' ? `its own ${at}` : figure.by === 'air' ? `air ${at}, if it is cold` : `as set, ${at}`;
  return nowKpa !== null && !fresh && view.ageS !== null ? `${by}; reading ${duration(view.ageS)} old` : by;
}

/** The chosen wheels in the order they are filled. */
export function queueOf(list: readonly FillWheel[], picked: readonly string[], order: RoundOrder, whole: WholeRig): string[] {
  const at = new Map(sceneOf(whole.units).wheels.map((w) => [w.position, w]));
  const rear = Math.max(0, ...[...at.values()].map((w) => w.x));
  return roundOrder(
    list
      .filter((w) => picked.includes(w.view.position))
      .map((w) => {
        const place = at.get(w.view.position);
        // A spare hangs at the back.
        return { position: w.view.position, x: place?.x ?? rear + 0.8, y: place?.y ?? 0, shortKpa: w.shortKpa };
      }),
    order,
  );
}

/** A typed pressure, kPa; null: not a number a tire can have; undefined: nothing typed. */
export function typedKpa(text: string, unit: PressureUnit): number | null | undefined {
  if (text.trim() === '') return undefined;
  const n = parseNumber(text);
  const kpa = n === null ? Number.NaN : convert(n, unit, 'kPa');
  return kpa > 0 && kpa <= 1400 ? kpa : null;
}

/** The next wheel of a round that has no outcome yet, after one of them; null: all have. */
export function nextOf(round: Pick<Round, 'queue' | 'done'>, after: string | null): string | null {
  const from = after === null ? 0 : round.queue.indexOf(after) + 1;
  const turned = [...round.queue.slice(from), ...round.queue.slice(0, from)];
  return turned.find((p) => round.done[p] === undefined) ?? null;
}
