import { settingOf } from '#core/rig/positions.ts';
import type { WatchView } from '#schema/alarm.ts';
import type { WholeRig } from '../data/queries.ts';

/** A sheet of a rig. */
export interface Sheet {
  /** The number that opens it. */
  number: number;
  path: string;
  title: string;
  group: 'Plan it' | 'Fit it' | 'Use it' | 'Learn';
  /** What it is for, for the command list. */
  about: string;
}

export const sheets: readonly Sheet[] = [
  { number: 1, path: 'layout', title: 'Layout', group: 'Plan it', about: 'units, axles, wheels, spare' },
  { number: 2, path: 'kit', title: 'Kit', group: 'Plan it', about: 'stems, sensors, the box, the monitor, labels' },
  {
    number: 3,
    path: 'pressures',
    title: 'Pressures',
    group: 'Plan it',
    about: 'load, cold pressure, now is not cold, the day and the year',
  },
  { number: 4, path: 'alarms', title: 'Alarms', group: 'Plan it', about: 'rules, ladder, judgement, keying card' },
  { number: 5, path: 'pairing', title: 'Pairing', group: 'Fit it', about: 'which sensor is on which wheel' },
  { number: 6, path: 'fitting', title: 'Fitting', group: 'Fit it', about: 'step by step at every wheel, leak test, photos' },
  { number: 7, path: 'radio', title: 'Radio', group: 'Fit it', about: 'who is heard, where the repeater belongs, its supply' },
  {
    number: 8,
    path: 'first-drive',
    title: 'First drive',
    group: 'Fit it',
    about: 'all heard, gauge against sensor, an alarm proved, the report',
  },
  { number: 9, path: 'watch', title: 'Watch', group: 'Use it', about: 'what every tire says now' },
  { number: 10, path: 'logbook', title: 'Logbook', group: 'Use it', about: 'log, leaks, top-up, season, trip, track day' },
  { number: 11, path: 'upkeep', title: 'Upkeep', group: 'Use it', about: 'what is due, batteries, jobs step by step, parts' },
  { number: 12, path: 'faults', title: 'Faults', group: 'Use it', about: 'what is wrong, by the next best test' },
  {
    number: 13,
    path: 'lab',
    title: 'Rules lab',
    group: 'Learn',
    about: 'every rule and the watch on your rig and in your weather',
  },
  { number: 14, path: 'bench', title: 'Bench', group: 'Learn', about: 'a simulated kit to practise on' },
];

/** How far the work of a sheet has come. */
export interface Progress {
  state: 'done' | 'part' | 'open' | 'none';
  /** Said beside the mark. */
  text: string;
}

const ofAll = (done: number, all: number, what: string): Progress => ({
  state: all > 0 && done === all ? 'done' : done > 0 ? 'part' : 'open',
  text: `${done} of ${all} ${what}`,
});

/** The axles and spares of a rig, each as the first of its wheels. */
export const holdersOf = ({ wheels }: WholeRig) => wheels.filter((w, i) => wheels.findIndex((v) => v.holder === w.holder) === i);

/** How far the work has come, sheet by sheet; a stage that its owner left out is done, and says why. */
export function progressOf(whole: WholeRig, watch: WatchView | undefined): Record<string, Progress> {
  const progress = workOf(whole, watch);
  for (const [path, { why }] of Object.entries(whole.rig.skipped ?? {}))
    if (progress[path] && progress[path].state !== 'done') progress[path] = { state: 'done', text: `left out: ${why}` };
  return progress;
}

/** The alarm was proved: the monitor rang, or, on the bench, the practice came to its end. */
const proved = ({ firstDrive }: WholeRig['rig']): boolean => {
  const proof = firstDrive?.proof;
  return proof?.monitor?.did === 'rang' || (proof?.practice === true && proof.cameAt !== undefined);
};

/** Pairing is done when every position was seen to be right in the final check, with the sensors that are on the wheels now. */
function pairingOf({ rig, wheels }: WholeRig): Progress {
  const paired = ofAll(wheels.filter((w) => w.wheel.sensor).length, wheels.length, 'wheels paired');
  if (paired.state !== 'done') return paired;
  const checked = wheels.every((w) => w.wheel.sensor?.id === rig.checked?.sensors[w.position]);
  return checked ? { state: 'done', text: `${paired.text} and checked` } : { state: 'part', text: `${paired.text}, not checked` };
}

function workOf(whole: WholeRig, watch: WatchView | undefined): Record<string, Progress> {
  const holders = holdersOf(whole);
  const set = (test: (s: ReturnType<typeof settingOf>) => boolean) =>
    holders.filter((w) => test(settingOf(w, whole.rig.loadState))).length;
  const heard = watch?.wheels.filter((w) => w.time !== null).length ?? 0;
  return {
    layout: { state: 'done', text: `${whole.wheels.length} wheels` },
    kit: ofAll(
      whole.wheels.filter((w) => w.wheel.stem !== undefined || w.wheel.sensor?.kind === 'internal').length,
      whole.wheels.length,
      'stems looked at',
    ),
    pressures: ofAll(
      set((s) => s.cold !== undefined),
      holders.length,
      'axles set',
    ),
    alarms: ofAll(
      set((s) => s.limits !== undefined),
      holders.length,
      'axles have a rule',
    ),
    pairing: pairingOf(whole),
    fitting: ofAll(
      whole.wheels.filter(
        (w) => w.wheel.sensor && (w.wheel.fitting?.done.some((d) => d.code === 'sensorOn' || d.code === 'shop') ?? false),
      ).length,
      whole.wheels.filter((w) => w.wheel.sensor).length,
      'sensors fitted',
    ),
    // A car or motorcycle on its own has no way that needs a repeater.
    radio: whole.rig.repeater
      ? { state: 'done', text: 'a repeater is placed' }
      : whole.units.some((u) => u.kind === 'trailer')
        ? { state: 'open', text: 'no repeater' }
        : { state: 'none', text: '' },
    'first-drive': {
      state: proved(whole.rig) ? 'done' : whole.rig.firstDrive ? 'part' : 'open',
      text: proved(whole.rig) ? 'an alarm was proved' : 'no alarm proved yet',
    },
    watch: ofAll(heard, whole.wheels.length, 'wheels heard'),
    logbook: { state: 'none', text: '' },
    lab: { state: 'none', text: '' },
    bench: { state: 'none', text: '' },
  };
}

const steps: readonly (readonly [path: string, text: string])[] = [
  ['kit', 'Look at the stems'],
  ['pressures', 'Set cold pressures'],
  ['alarms', 'Pick an alarm rule for each axle'],
  ['pairing', 'Pair the sensors'],
  ['fitting', 'Fit the sensors'],
  ['radio', 'See which wheels are heard'],
  ['first-drive', 'Take the first drive'],
];
/** Stages that can be left out, with a word why. */
export const SKIPPABLE: readonly string[] = ['kit', 'fitting', 'radio', 'first-drive'];

/** The one next thing to do for a rig, by the order of the work. */
export function nextStep(progress: Record<string, Progress>): { path: string; text: string } {
  const open = steps.find(([path]) => progress[path]?.state === 'open' || progress[path]?.state === 'part');
  if (open?.[0] === 'pairing' && progress.pairing?.text.endsWith('not checked'))
    return { path: 'pairing?part=check', text: 'Check the pairing' };
  return open ? { path: open[0], text: open[1] } : { path: 'watch', text: 'Open the watch' };
}
