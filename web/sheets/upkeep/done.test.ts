import { describe, expect, it } from 'vitest';
import type { LogEntry, Rig, Unit } from '#schema/unit.ts';
import { readyRig } from '../../testing/rigs.ts';
import { beforeJob, cellOf, type Done, withCell, withJob, withoutJob } from './done.ts';

const AT = '2026-05-01T08:00:00.000Z';
const LATER = '2026-05-02T08:00:00.000Z';
const entry: LogEntry = { id: 'e1', at: AT, kind: 'cell', note: 'A cell changed' };
const cell: Done = { id: 'cell', entry, parts: ['CR1632', 'seal'] };
const retighten: Done = { id: 'retighten', entry: { ...entry, kind: 'upkeep' }, parts: [] };
const rig = (more: Partial<Rig> = {}): Rig => ({
  id: 'r1',
  version: 1,
  name: 'Errand',
  unitIds: ['u1'],
  loadState: 'loaded',
  ...more,
});

describe('a job that is done', () => {
  it('is in the log, and each part that it uses is one less', () => {
    const done = withJob(rig({ upkeep: { onHand: { CR1632: 3, seal: 1, nut: 5 }, drivenHours: 400 } }), cell);
    expect(done.log).toEqual([entry]);
    expect(done.upkeep).toEqual({ onHand: { CR1632: 2, seal: 0, nut: 5 }, drivenHours: 400 });
    // The last one is used already: it can't be less than none.
    expect(withJob(rig({ upkeep: { onHand: { CR1632: 0 } } }), cell).upkeep).toEqual({ onHand: { CR1632: 0 } });
  });

  it('leaves parts that nobody has counted uncounted', () => {
    expect(withJob(rig(), cell)).toEqual({ ...rig(), log: [entry] });
    expect(withJob(rig({ upkeep: { onHand: { CR1632: 3 } } }), cell).upkeep).toEqual({ onHand: { CR1632: 2 } });
    // Counted after the job: what is typed then is what is there.
    const counted = { ...withJob(rig(), cell), upkeep: { onHand: { CR1632: 7 } } };
    expect(withoutJob(counted, cell, beforeJob(rig(), cell)).upkeep).toEqual({ onHand: { CR1632: 7 } });
  });

  it('taken back, leaves the rig as it was, also one that had counted nothing', () => {
    for (const before of [
      rig(),
      rig({ upkeep: { drivenHours: 400 } }),
      rig({ upkeep: { onHand: { CR1632: 3, seal: 1 } }, log: [{ ...entry, id: 'e0' }] }),
      rig({ upkeep: { onHand: { CR1632: 0 } } }),
    ])
      expect(withoutJob(withJob(before, cell), cell, beforeJob(before, cell))).toEqual({ log: [], ...before });
    for (const before of [rig(), rig({ fitting: { retightenedAt: LATER } })])
      expect(withoutJob(withJob(before, retighten), retighten, beforeJob(before, retighten))).toEqual({ log: [], ...before });
  });

  it('taken back, keeps what others did meanwhile', () => {
    const before = rig({ upkeep: { onHand: { CR1632: 3, seal: 2 } } });
    const done = withJob(before, cell);
    // Another cell was changed on the phone, a bag of seals bought, the hours typed, a line written.
    const line: LogEntry = { id: 'e2', at: LATER, kind: 'checked', note: 'Rain' };
    const since = { ...done, log: [...(done.log ?? []), line], upkeep: { onHand: { CR1632: 1, seal: 11 }, drivenHours: 300 } };
    const back = withoutJob(since, cell, beforeJob(before, cell));
    expect(back.upkeep).toEqual({ onHand: { CR1632: 2, seal: 12 }, drivenHours: 300 });
    expect(back.log).toEqual([line]);
    // Nuts were tightened again since.
    const again = { ...withJob(rig(), retighten), fitting: { retightenedAt: LATER } };
    expect(withoutJob(again, retighten, beforeJob(rig(), retighten)).fitting).toEqual({ retightenedAt: LATER });
  });

  it('of two phones that change a cell each counts', () => {
    const once = withJob(rig({ upkeep: { onHand: { CR1632: 5, seal: 5 } } }), cell);
    expect(withJob(once, cell).upkeep?.onHand).toEqual({ CR1632: 3, seal: 3 });
  });

  it('sets the day of the cell on its wheel alone', () => {
    const unit = readyRig().units[0] as Unit;
    const next = withCell(unit, '1L', '2026-05-01');
    expect([cellOf(next, '1L'), cellOf(next, '1R'), cellOf(unit, '1L')]).toEqual(['2026-05-01', undefined, undefined]);
    expect(withCell(next, '1L', undefined)).toEqual(unit);
  });
});
