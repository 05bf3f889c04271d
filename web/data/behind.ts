import type { QueryClient, QueryKey } from '@tanstack/react-query';
import { stampOf } from '#core/rig/stamp.ts';
import type { RigEvent, WatchView } from '#schema/alarm.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { keys, unitsOf } from './queries.ts';

/** Whether a revision is older than another one. Those of two runs of the server can't be compared: either is older. */
function isBefore(revision: string | undefined, other: string): boolean {
  const [run, count] = (revision ?? '').split('-');
  const [otherRun, otherCount] = other.split('-');
  return run !== otherRun || Number(count) < Number(otherCount);
}

/** What this page has to ask for again after a rig was changed: nothing of it when the change was its own, and is here already. */
export function behind(client: QueryClient, { rigId, revision, documents }: RigEvent): QueryKey[] {
  const rig = client.getQueryData<Rig[]>(keys.rigs)?.find((r) => r.id === rigId);
  const units = client.getQueryData<Unit[]>(keys.units) ?? [];
  const monitor = client.getQueryData<Monitor[]>(keys.monitors)?.find((m) => m.id === rig?.monitorId) ?? null;
  const same = rig !== undefined && stampOf(rig, unitsOf(rig, units), monitor) === documents;
  const view = client.getQueryData<WatchView>(keys.watch(rigId));
  return [
    ...(same ? [] : [keys.rigs, keys.units, keys.monitors]),
    ...(isBefore(view?.revision, revision) ? [keys.watch(rigId)] : []),
  ];
}
