import { useState } from 'react';
import { BRANCH_IDS, BRANCHES, type BranchId } from '#core/faults/tables.ts';
import type { Rig } from '#schema/unit.ts';
import { useRecords } from '../../data/queries.ts';
import { Switch } from '../../parts/controls.tsx';
import { parseNumber } from '../../parts/format.ts';
import { HeadRow } from '../../parts/HeadRow.tsx';
import { SavedField } from '../../parts/SavedField.tsx';
import { Wide } from '../../parts/Wide.tsx';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { BRANCH_WORDS, CAUSE_WORDS, TEST_WORDS } from './words.ts';

const SHORT: Record<BranchId, string> = {
  one: 'One sensor',
  many: 'Several',
  wrong: 'Wrong figure',
  rings: 'Rings on',
  quiet: 'No alarm comes',
  lamp: 'Vehicle’s lamp',
};

type Changes = NonNullable<NonNullable<Rig['faults']>[BranchId]>;

/** Without those that are as they come. */
const kept = (record: Record<string, number>, standard: (id: string) => number | undefined): Record<string, number> =>
  Object.fromEntries(Object.entries(record).filter(([id, n]) => n !== standard(id)));

/** The tables that the questions go by: each figure with its standing, weights and minutes to be changed. */
export function TablePart() {
  const { rig } = useRig();
  const { changeRig } = useRecords();
  const [id, setId] = useState<BranchId>('one');
  const branch = BRANCHES[id];
  const changes: Changes = rig.faults?.[id] ?? {};
  const total = Object.keys(branch.causes).reduce((sum, c) => sum + (changes.weights?.[c] ?? branch.causes[c] ?? 0), 0);
  const put = (next: Changes) => {
    const before = rig.faults;
    const tidy: Changes = {
      weights: kept(next.weights ?? {}, (c) => branch.causes[c]),
      minutes: kept(next.minutes ?? {}, (t) => branch.tests.find((x) => x.id === t)?.minutes),
    };
    changeRig(rig.id, (now) => ({ ...now, faults: { ...now.faults, [id]: tidy } }))
      .then(() =>
        toast('Changed.', {
          undo: () =>
            void changeRig(rig.id, (now) => {
              const { faults: _now, ...rest } = now;
              return before ? { ...rest, faults: before } : rest;
            }).catch(toastError),
        }),
      )
      .catch(toastError);
  };
  const between = (least: number, most: number) => (text: string) => {
    const n = parseNumber(text);
    return n !== null && n >= least && n <= most ? null : `${least} to ${most}`;
  };
  return (
    <section aria-label="The table">
      <div className="mb-4">
        <Switch
          label="What you see"
          value={id}
          options={BRANCH_IDS.map((b) => ({ value: b, text: SHORT[b] }))}
          onChange={setId}
        />
      </div>
      <p className="mb-4 max-w-[76ch] text-body">
        {BRANCH_WORDS[id].title}. The causes and the usual order are common practice, no source. Weights, minutes and chances are
        guesses of ours: change a weight to what happens on your rig. One answer in twenty is taken for a slip.
      </p>
      <div className="grid gap-x-10 gap-y-6 xl:grid-cols-[400px_minmax(0,1fr)]">
        <table className="sheet-table self-start [&_td]:align-middle">
          <caption className="pb-1 text-left text-body font-bold">How often each is the cause</caption>
          <HeadRow names={['Cause', 'Weight', 'Share']} />
          <tbody>
            {Object.keys(branch.causes).map((c) => {
              const w = changes.weights?.[c] ?? branch.causes[c] ?? 0;
              return (
                <tr key={c}>
                  <td className="text-body">{CAUSE_WORDS[id][c]?.name}</td>
                  <td>
                    <SavedField
                      className="w-[84px] [&_label]:sr-only"
                      label={`Weight of ${CAUSE_WORDS[id][c]?.name}`}
                      value={String(w)}
                      inputMode="decimal"
                      check={between(0.1, 1000)}
                      onSave={(text) => put({ ...changes, weights: { ...changes.weights, [c]: parseNumber(text) as number } })}
                    />
                  </td>
                  <td className="figure">{Math.round((100 * w) / total)} %</td>
                </tr>
              );
            })}
          </tbody>
        </table>
        <Wide label="What each test shows">
          <table className="sheet-table [&_td]:align-middle">
            <caption className="pb-1 text-left text-body font-bold">What each test shows, % of the times</caption>
            <thead>
              <tr>
                <th scope="col">Test</th>
                <th scope="col">Minutes</th>
                <th scope="col">Outcome</th>
                {Object.keys(branch.causes).map((c) => (
                  <th key={c} scope="col" className="min-w-[84px] align-bottom text-note leading-tight whitespace-normal!">
                    {CAUSE_WORDS[id][c]?.name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody className="narrow">
              {branch.tests.flatMap((t) =>
                Object.entries(t.outcomes).map(([o, chances], i) => (
                  <tr key={`${t.id} ${o}`}>
                    <td className="text-body">{i === 0 ? TEST_WORDS[id][t.id]?.name : ''}</td>
                    <td>
                      {i === 0 && (
                        <SavedField
                          className="w-[72px] [&_label]:sr-only"
                          label={`Minutes of ${TEST_WORDS[id][t.id]?.name}`}
                          value={String(changes.minutes?.[t.id] ?? t.minutes)}
                          inputMode="decimal"
                          check={between(0.5, 600)}
                          onSave={(text) =>
                            put({ ...changes, minutes: { ...changes.minutes, [t.id]: parseNumber(text) as number } })
                          }
                        />
                      )}
                    </td>
                    <td className="text-note">{TEST_WORDS[id][t.id]?.outcomes[o]}</td>
                    {Object.keys(branch.causes).map((c) => (
                      <td key={c} className="figure">
                        {Math.round(100 * (chances[c] ?? 0))}
                      </td>
                    ))}
                  </tr>
                )),
              )}
            </tbody>
          </table>
        </Wide>
      </div>
    </section>
  );
}
