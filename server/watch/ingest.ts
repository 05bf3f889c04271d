import { axleOf } from '#core/rig/positions.ts';
import { WATCH } from '#core/watch/parameters.ts';
import type { WatchEvent } from '#core/watch/watch.ts';
import type { ReadingSource } from '#schema/reading.ts';
import type { Changes } from './changes.ts';
import { saveMemory, saveState, writeEvents } from './ledger.ts';
import { type CheckedReading, insertFresh, markDays, type Statements } from './store.ts';
import type { Place, Places, Watched } from './watched.ts';

/** What became of a batch of readings. */
export interface Counts {
  accepted: number;
  repeated: number;
  unknownSensor: number;
  /** Of those accepted: dated too far ahead of the clock, kept apart and not judged. */
  ahead: number;
}

/** A reading that came in. */
export interface Arrived {
  reading: CheckedReading;
  /** Where it is counted. */
  counts: Counts;
  /** The wheels it is for, known once it is stored. */
  places: readonly Place[];
}

export const noCounts = (): Counts => ({ accepted: 0, repeated: 0, unknownSensor: 0, ahead: 0 });

/**
 * Store readings and have the watches of their rigs judge those that are new.
 * @param arrived the oldest first: the watch goes by event time, whatever order they came in
 * @param nowMs wall clock; a reading dated over five minutes ahead of it is kept apart and never judged: judged, it would make its wheel deaf
 *   to every reading until that time comes
 * @param onlyRig for a bench: only this rig judges them
 */
export function storeAndJudge(
  s: Statements,
  places: Places,
  watchedRigs: ReadonlyMap<string, Watched>,
  arrived: readonly Arrived[],
  source: ReadingSource,
  onlyRig: string | undefined,
  nowMs: number,
  changes: Changes,
): void {
  // The bench has a clock of its own.
  const latestMs = source === 'bench' ? Number.POSITIVE_INFINITY : nowMs + WATCH.aheadMs;
  const known: Arrived[] = [];
  for (const a of arrived) {
    const { reading: r, counts } = a;
    const at = places.get(r.sensorId);
    if (!at) counts.unknownSensor += 1;
    else if (r.ms > latestMs) {
      const isNew = s.insertAhead.run(r.sensorId, r.ms, r.pressureKpa, r.tempC, r.batteryV, r.rssiDbm, source).changes > 0;
      counts.ahead += isNew ? 1 : 0;
      counts[isNew ? 'accepted' : 'repeated'] += 1;
    } else {
      a.places = at;
      counts.repeated += 1;
      known.push(a);
    }
  }
  const stored = insertFresh(s, known, source);
  for (const { counts } of stored) {
    counts.repeated -= 1;
    counts.accepted += 1;
  }
  // Those of a unit that is in no rig too: the next rig it is in shows them.
  markDays(s, stored);
  judge(s, watchedRigs, stored, source, onlyRig, changes);
}

/** A reading, and the wheel of one rig it is for. */
interface Shown {
  position: string;
  reading: CheckedReading;
}

function judge(
  s: Statements,
  watchedRigs: ReadonlyMap<string, Watched>,
  fresh: readonly Arrived[],
  source: ReadingSource,
  onlyRig: string | undefined,
  changes: Changes,
): void {
  const shown = new Map<string, Shown[]>();
  for (const { reading: r, places } of fresh) {
    for (const { rigId, position, second } of places) {
      if (onlyRig !== undefined && onlyRig !== rigId) continue;
      const watched = watchedRigs.get(rigId) as Watched;
      if (second) {
        const last = watched.seconds.get(position);
        if (last && last.ms >= r.ms) continue;
        watched.seconds.set(position, { ms: r.ms, kpa: r.pressureKpa, tempC: r.tempC, everyMs: last ? r.ms - last.ms : null });
        changes.wheel(rigId, position);
        continue;
      }
      // While the bench drives a rig, its clock applies: readings from elsewhere are stored but not judged.
      if (watched.bench && source !== 'bench') continue;
      const list = shown.get(rigId);
      if (list) list.push({ position, reading: r });
      else shown.set(rigId, [{ position, reading: r }]);
    }
  }
  for (const [rigId, list] of shown) {
    const watched = watchedRigs.get(rigId) as Watched;
    const events: WatchEvent[] = [];
    watched.watch.together(events, () => {
      for (const { position, reading: r } of list) {
        if (!watched.watch.read(position, r.ms, r.pressureKpa, r.tempC ?? Number.NaN, events, r.batteryV ?? Number.NaN)) continue;
        watched.sources.set(position, source);
        changes.wheel(rigId, position);
      }
    });
    writeEvents(s, watched, events, changes);
    // Comparing the wheels of an axle changes what is remembered of all of them.
    const axles = new Set([...changes.wheelsOf(rigId)].map(axleOf));
    for (const w of watched.wheels) if (axles.has(axleOf(w.position))) saveMemory(s, watched, w.position);
    saveState(s, watched);
  }
}
