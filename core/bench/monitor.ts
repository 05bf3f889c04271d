import type { PairingStyle } from '#schema/unit.ts';
import { FieldError } from '../errors.ts';
import { isSensorKey } from '../pairing/ids.ts';
import { fitSensor, sensorById, wakeSensor, wheelAt } from './bench.ts';
import { between, normal, uniform } from './random.ts';
import type { BenchCapture, BenchMistake, BenchMonitor, BenchSensor, BenchState } from './state.ts';

/** Parameters of pairing. Chance by signal difference: assumed; within about 1 m any awake sensor may win, short codes, 90 s: trade. */
export const PAIRING = {
  /** How far the handled sensor is from the monitor, m, and loose ones on the table. */
  handledM: [0.03, 0.12],
  tableM: [0.2, 1],
  /** The other wheel of a dual pair, from a monitor carried to the wheel, m. */
  twinM: 0.35,
  fadingDb: 6,
  /** Chance of a short code first. */
  shortShare: { heldNear: 0.4, other: 0.15 },
  /** Seconds until a sensor answers, by style. */
  delayS: {
    heldNear: [0.5, 1.4],
    screwedOn: [1, 5],
    cellIn: [2, 6],
    wakeTool: [1, 4],
    inflateBleed: [2, 20],
    phoneFirst: [5, 60],
    carried: [1, 6],
    factory: [2, 20],
  },
  /** Chance that a sensor screwed on after its wheel was chosen is not found within the wait. */
  notFoundShare: 0.1,
} as const satisfies Record<string, unknown> & { delayS: Record<PairingStyle, readonly [number, number]> };

export const freshMonitor = (positions: readonly string[]): BenchMonitor => ({
  position: positions[0] ?? '',
  saved: {},
  capture: null,
  tableClear: false,
  trouble: null,
  mistakes: [],
  labels: {},
  captures: 0,
});

/** Signal of a sensor at a distance, dB, with its fading: free space falls by 20 log10 of the distance (ITU-R P.525). */
const signal = (state: BenchState, distanceM: number): number =>
  -20 * Math.log10(distanceM) + PAIRING.fadingDb * normal(state.random);

/** Sensors other than the handled one that could answer now, with their distance from the monitor, m. */
function neighbours(
  state: BenchState,
  monitor: BenchMonitor,
  handled: BenchSensor,
  style: PairingStyle,
): { sensor: BenchSensor; m: number }[] {
  const r = state.random;
  return state.sensors.flatMap((s) => {
    if (s === handled || s.quiet) return [];
    if (s.at === null) return monitor.tableClear ? [] : [{ sensor: s, m: between(r, PAIRING.tableM[0], PAIRING.tableM[1]) }];
    const twin = handled.at !== null && state.wheels.find((w) => w.position === handled.at)?.twin === s.at;
    return twin && (style === 'carried' || style === 'wakeTool') ? [{ sensor: s, m: PAIRING.twinM }] : [];
  });
}

/**
 * Begin a capture for the open position. The handled sensor wakes and answers after a while, at times with a short code first; an awake
 * neighbour within about a metre answers instead when its signal is the stronger.
 * @param sensorId the sensor in the hand; for a sensor that sits in or on the wheel already, that of the wheel
 * @throws FieldError at `/sensorId` when there is no such sensor or none on the wheel
 */
export function startCapture(
  state: BenchState,
  monitor: BenchMonitor,
  style: PairingStyle,
  sensorId: string | undefined,
  waitS: number,
): void {
  const r = state.random;
  const { position } = monitor;
  const handled =
    sensorId === undefined ? state.sensors.find((s) => s.at === wheelAt(state, position).position) : sensorById(state, sensorId);
  if (!handled) throw new FieldError('/sensorId', `there is no sensor on ${position}: say which one you handle`);
  if ((style === 'screwedOn' || style === 'phoneFirst') && handled.at === null) fitSensor(state, handled.id, position);
  wakeSensor(state, handled);
  monitor.captures += 1;
  monitor.labels[handled.id] = position;
  const { trouble } = monitor;
  monitor.trouble = null;
  const near = neighbours(state, monitor, handled, style);
  const [least, most] = PAIRING.delayS[style];
  const first = state.nowS + between(r, least, most);
  const own = signal(state, between(r, PAIRING.handledM[0], PAIRING.handledM[1]));
  let answering = handled;
  if (trouble === 'neighbour' && near[0]) answering = near[0].sensor;
  else {
    let best = own;
    for (const { sensor, m } of near) {
      const db = signal(state, m);
      if (state.nowS < sensor.awakeUntilS && db > best) {
        best = db;
        answering = sensor;
      }
    }
  }
  const silent = trouble === 'noAnswer' || (style === 'phoneFirst' && trouble === null && uniform(r) < PAIRING.notFoundShare);
  // What shows no digits can't show too few of them.
  const short =
    !isSensorKey(answering.id) &&
    (trouble === 'short' || uniform(r) < (style === 'heldNear' ? PAIRING.shortShare.heldNear : PAIRING.shortShare.other));
  const whole = { atS: short ? first + between(r, 3, 6) : first, code: answering.id, sensorId: answering.id };
  const answers = short ? [{ atS: first, code: answering.id.slice(0, 4), sensorId: answering.id }, whole] : [whole];
  monitor.capture = { position, style, handled: handled.id, startS: state.nowS, waitS, answers: silent ? [] : answers };
}

/** What the display shows of a capture now. */
export interface CaptureView {
  position: string;
  style: PairingStyle;
  handled: string;
  /** Digits so far. */
  code: string;
  outcome: 'waiting' | 'short' | 'whole' | 'timedOut';
  elapsedS: number;
  waitS: number;
}

export function captureView(state: BenchState, capture: BenchCapture): CaptureView {
  const elapsedS = state.nowS - capture.startS;
  const heard = capture.answers.filter((a) => a.atS <= state.nowS && a.atS <= capture.startS + capture.waitS);
  const code = heard.at(-1)?.code ?? '';
  const outcome =
    code.length === 6 || isSensorKey(code) ? 'whole' : code !== '' ? 'short' : elapsedS >= capture.waitS ? 'timedOut' : 'waiting';
  return {
    position: capture.position,
    style: capture.style,
    handled: capture.handled,
    code,
    outcome,
    elapsedS: Math.min(elapsedS, capture.waitS),
    waitS: capture.waitS,
  };
}

const unitOf = (position: string) => position[0] ?? '';

/** How a press was taken. */
export type SaveAnswer = 'saved' | 'nothingToSave' | 'needsLongPress';

/**
 * Press the save key: the monitor keeps whatever code it shows, short or whole, for the position that is open, and goes on to the next.
 * @param saves how this monitor keeps what is keyed
 * @param intended the wheel the guide was at
 * @param long the monitor has one long list for the whole rig
 */
export function saveShown(
  state: BenchState,
  monitor: BenchMonitor,
  press: 'short' | 'long',
  saves: 'byItself' | 'shortPress' | 'longPress' | 'extraPress' | undefined,
  intended?: string | undefined,
  long = false,
): SaveAnswer {
  const { capture, position } = monitor;
  const note = (code: BenchMistake['code'], other?: string) => {
    monitor.mistakes.push({ code, position, ...(other === undefined ? {} : { other }) });
  };
  const view = capture && captureView(state, capture);
  if (!capture || !view || view.code === '') {
    if (capture) note('savedTooEarly');
    return 'nothingToSave';
  }
  if (saves === 'longPress' && press === 'short') {
    note('pressTooShort');
    return 'needsLongPress';
  }
  if (view.outcome === 'short') note('shortSaved');
  const answered = capture.answers.find((a) => a.code === view.code)?.sensorId;
  if (answered !== undefined && answered !== capture.handled) note('neighbourSaved', answered);
  const twice = Object.entries(monitor.saved).find(([p, code]) => p !== position && code === view.code);
  if (twice) note('savedTwice', twice[0]);
  if (intended !== undefined && intended !== position)
    note(long || unitOf(intended) === unitOf(position) ? 'wrongPosition' : 'wrongList', intended);
  monitor.saved[position] = view.code;
  monitor.capture = null;
  nextPosition(state, monitor, 1, long);
  return 'saved';
}

/** Positions in the order the monitor steps through. */
const order = (state: BenchState): string[] => state.wheels.map((w) => w.position);

/** Go on to the next position of the same list, round and round. @param long the monitor has one long list for the whole rig */
export function nextPosition(state: BenchState, monitor: BenchMonitor, by: 1 | -1 = 1, long = false): void {
  const list = order(state).filter((p) => long || unitOf(p) === unitOf(monitor.position));
  const i = list.indexOf(monitor.position);
  if (list.length > 0) openAt(state, monitor, list[(i + by + list.length) % list.length] as string);
}

/** Open a position. A code that was shown and not saved is lost. */
export function openAt(state: BenchState, monitor: BenchMonitor, position: string): void {
  wheelAt(state, position);
  leaveMenu(state, monitor);
  monitor.position = position;
}

/** Leave the menu. A code that was shown and not saved is lost, and counts as a slip. */
export function leaveMenu(state: BenchState, monitor: BenchMonitor): void {
  const { capture } = monitor;
  if (capture && captureView(state, capture).outcome === 'whole')
    monitor.mistakes.push({ code: 'leftUnsaved', position: capture.position });
  monitor.capture = null;
}

/** Exchange what two positions hold. */
export function exchangeSaved(state: BenchState, monitor: BenchMonitor, a: string, b: string): void {
  wheelAt(state, a);
  wheelAt(state, b);
  const { [a]: codeA, [b]: codeB, ...rest } = monitor.saved;
  monitor.saved = { ...rest, ...(codeB === undefined ? {} : { [a]: codeB }), ...(codeA === undefined ? {} : { [b]: codeA }) };
}

/** Screw every labelled loose sensor onto the wheel of its label. */
export function fitLabelled(state: BenchState, monitor: BenchMonitor): void {
  for (const s of state.sensors) {
    const position = monitor.labels[s.id];
    if (s.at === null && position !== undefined && state.wheels.some((w) => w.position === position))
      fitSensor(state, s.id, position);
  }
}

/** Move wheels about: whatever sits in or on a wheel goes with it, and the air in it too. */
export function rotateWheels(state: BenchState, moves: Readonly<Record<string, string>>): void {
  for (const p of [...Object.keys(moves), ...Object.values(moves)]) wheelAt(state, p);
  if (new Set(Object.values(moves)).size !== Object.keys(moves).length)
    throw new FieldError('/moves', 'two wheels cannot go to one place');
  const before = new Map(
    state.wheels.map((w) => [w.position, { massKg: w.massKg, baseC: w.baseC, hubK: w.hubK, holeMm: w.holeMm }]),
  );
  for (const s of state.sensors) if (s.at !== null) s.at = moves[s.at] ?? s.at;
  for (const [from, to] of Object.entries(moves)) {
    const came = before.get(from);
    // The hub stays; what is in the tire comes along.
    if (came) Object.assign(wheelAt(state, to), { massKg: came.massKg, baseC: came.baseC, holeMm: came.holeMm });
  }
}
