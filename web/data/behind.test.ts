import { QueryClient } from '@tanstack/react-query';
import { beforeEach, describe, expect, it } from 'vitest';
import type { RigEvent } from '#schema/alarm.ts';
import type { Monitor } from '#schema/monitor.ts';
import { readyRig } from '../testing/rigs.ts';
import { behind } from './behind.ts';
import { keys } from './queries.ts';

const { rig, units } = readyRig();
const unit = { ...(units[0] as (typeof units)[number]), id: 'u', version: 7 };
const own = { ...rig, id: 'r', version: 3, unitIds: ['u'], monitorId: 'm' };
const LISTS = [keys.rigs, keys.units, keys.monitors];

let client: QueryClient;
beforeEach(() => {
  client = new QueryClient();
  client.setQueryData(keys.rigs, [own]);
  client.setQueryData(keys.units, [unit]);
  client.setQueryData(keys.monitors, [{ id: 'm', version: 2 } as Monitor]);
  client.setQueryData(keys.watch('r'), { revision: 'run-4' });
});
const event = (change: Partial<RigEvent> = {}): RigEvent => ({
  rigId: 'r',
  revision: 'run-4',
  documents: 'r 3,u 7,m 2',
  ...change,
});

describe('after a change of a rig a page asks for', () => {
  it('nothing, when it has all of it already', () => {
    expect(behind(client, event())).toEqual([]);
  });
  it('the documents, when one of them is another version than its own, older or newer', () => {
    for (const documents of ['r 4,u 7,m 2', 'r 3,u 8,m 2', 'r 3,u 6,m 2', 'r 3,u 7,m 3', 'r 3,u 7', 'r 3,u 7,v 1,m 2', ''])
      expect(behind(client, event({ documents }))).toEqual(LISTS);
  });
  it('the watch, when it is older; one that came meanwhile is not asked again', () => {
    expect(behind(client, event({ revision: 'run-5' }))).toEqual([keys.watch('r')]);
    // As numbers, not as text.
    expect(behind(client, event({ revision: 'run-10' }))).toEqual([keys.watch('r')]);
    expect(behind(client, event({ revision: 'run-3' }))).toEqual([]);
  });
  it('the watch, when the server has begun again, or it has none', () => {
    expect(behind(client, event({ revision: 'other-1' }))).toEqual([keys.watch('r')]);
    client.removeQueries({ queryKey: keys.watch('r') });
    expect(behind(client, event())).toEqual([keys.watch('r')]);
  });
  it('everything of a rig that it doesn’t know', () => {
    expect(behind(client, event({ rigId: 'other', revision: 'run-1' }))).toEqual([...LISTS, keys.watch('other')]);
  });
});
