import type { Alarm, WatchView, WheelView } from '#schema/alarm.ts';

/**
 * An answer and the stream may cross on their way: what the stream said after the question was asked is at least as new as the answer, and
 * must not be lost under it. Whatever the answer knows that is newer still, the stream says once more.
 */

/** What is kept of the stream: long enough for the slowest answer, ms. */
const KEPT_MS = 120_000;

/** What the stream said last of each thing of a rig, and when it came (ms of this page's own clock). */
class Latest<T> {
  readonly #rigs = new Map<string, Map<string, { at: number; value: T }>>();

  note(rigId: string, id: string, value: T): void {
    let things = this.#rigs.get(rigId);
    if (!things) {
      things = new Map();
      this.#rigs.set(rigId, things);
    }
    const at = performance.now();
    // Said last stands last: what is too old is found at the front.
    things.delete(id);
    things.set(id, { at, value });
    for (const [old, said] of things) {
      if (at - said.at <= KEPT_MS) break;
      things.delete(old);
    }
  }

  since(rigId: string, at: number): Map<string, T> {
    const out = new Map<string, T>();
    for (const [id, said] of this.#rigs.get(rigId) ?? []) if (said.at >= at) out.set(id, said.value);
    return out;
  }
}

/** A document that the page changes. */
interface Versioned {
  id: string;
  version: number;
}

const documents = new Latest<Versioned>();
/** The server has stored this, of any kind. */
export const noteStored = (...stored: readonly Versioned[]): void => {
  for (const doc of stored) documents.note('', doc.id, doc);
};

/** Ask for documents of a kind. One that was stored meanwhile is the newer one, though the list was read before it. */
export async function newestDocuments<T extends Versioned>(ask: () => Promise<T[]>): Promise<T[]> {
  const at = performance.now();
  const list = await ask();
  const newer = documents.since('', at);
  return list.map((doc) => {
    const own = newer.get(doc.id);
    return own && own.version > doc.version ? (own as T) : doc;
  });
}

const wheels = new Latest<WheelView>();
const alarms = new Latest<Alarm>();
export const noteWheel = (rigId: string, wheel: WheelView): void => wheels.note(rigId, wheel.position, wheel);
export const noteAlarm = (rigId: string, alarm: Alarm): void => alarms.note(rigId, alarm.id, alarm);

/** One alarm put into a list of them; one that was withdrawn is taken out. */
export function withAlarm(list: readonly Alarm[], alarm: Alarm): Alarm[] {
  if (alarm.withdrawn) return list.filter((a) => a.id !== alarm.id);
  return list.some((a) => a.id === alarm.id) ? list.map((a) => (a.id === alarm.id ? alarm : a)) : [alarm, ...list];
}

/** Ask for the watch of a rig. */
export async function newestWatch(rigId: string, ask: () => Promise<WatchView>): Promise<WatchView> {
  const at = performance.now();
  const view = await ask();
  const newer = wheels.since(rigId, at);
  return newer.size === 0 ? view : { ...view, wheels: view.wheels.map((w) => newer.get(w.position) ?? w) };
}

/** Alarms of a rig that were there when the page first asked, and those told of since. */
const known = new Map<string, Set<string>>();
/** Whether an alarm was there before the page began, or was reported since. */
export const isKnownAlarm = (rigId: string, alarmId: string): boolean => known.get(rigId)?.has(alarmId) ?? true;
export const noteKnownAlarms = (rigId: string, alarmIds: readonly string[]): void => {
  const set = known.get(rigId);
  for (const id of alarmIds) set?.add(id);
};

/** Ask for the alarms of a rig. */
export async function newestAlarms(rigId: string, ask: () => Promise<Alarm[]>): Promise<Alarm[]> {
  const at = performance.now();
  let list = await ask();
  if (!known.has(rigId)) known.set(rigId, new Set(list.map((a) => a.id)));
  for (const alarm of alarms.since(rigId, at).values()) list = withAlarm(list, alarm);
  return list;
}

/** Ask for one alarm, or change it. */
export async function newestAlarm(rigId: string, ask: () => Promise<Alarm>): Promise<Alarm> {
  const at = performance.now();
  const alarm = await ask();
  return alarms.since(rigId, at).get(alarm.id) ?? alarm;
}
