import { useQueries, useQueryClient } from '@tanstack/react-query';
import type { Rig, Unit } from '#schema/unit.ts';
import type { PastVersion } from '#schema/versions.ts';
import { ask } from '../../data/api.ts';
import { Box } from '../../parts/Box.tsx';
import { dayAndTime, useFormat } from '../../parts/format.ts';
import { fieldValue, placeOf } from '../../parts/words-changes.ts';
import { toast, toastError } from '../../state/toast.ts';

const MOST = 60;

interface Line extends PastVersion {
  kind: 'rigs' | 'units';
  id: string;
  name: string;
}

const whatWords: Record<PastVersion['what'], string> = {
  made: 'made',
  changed: 'changed',
  deleted: 'deleted',
  restored: 'restored',
  putBack: 'an earlier version put back',
};

const pathOf = (pointer: string): string[] => pointer.split('/').slice(1);

const isFigure = (value: unknown): boolean => ['string', 'number', 'boolean'].includes(typeof value);

/** The first few fields that changed. */
function Changes({ changes: all }: { changes: PastVersion['changes'] }) {
  const f = useFormat();
  // As it was typed is kept beside each figure: it says the same.
  const changes = all.filter((c) => !c.pointer.includes('/typed'));
  const plain = changes.filter((c) => isFigure(c.from ?? c.to)).slice(0, 3);
  const more = changes.length - plain.length;
  return (
    <>
      {plain.map((c) => (
        <span key={c.pointer} className="block break-words">
          {placeOf(pathOf(c.pointer))}: {fieldValue(pathOf(c.pointer), c.from, f)} →{' '}
          <b>{fieldValue(pathOf(c.pointer), c.to, f)}</b>
        </span>
      ))}
      {more > 0 && (
        <span className="block">
          {plain.length > 0 ? 'and ' : ''}
          {more === 1 ? '1 more field' : `${more} more fields`}
        </span>
      )}
    </>
  );
}

/** What was changed of a rig and its units, and a way back to each version. */
export function PastVersions({ rig, units, onClose }: { rig: Rig; units: readonly Unit[]; onClose: () => void }) {
  const client = useQueryClient();
  const docs = [
    { kind: 'rigs' as const, id: rig.id, name: rig.name, version: rig.version },
    ...units.map((u) => ({ kind: 'units' as const, id: u.id, name: u.name, version: u.version })),
  ];
  const lists = useQueries({
    queries: docs.map((d) => ({
      queryKey: ['versions', d.kind, d.id, d.version],
      queryFn: () => ask('versions', { params: { kind: d.kind, id: d.id } }),
    })),
  });
  const lines = lists
    .flatMap((l, i): Line[] => (l.data ?? []).map((v) => ({ ...v, ...(docs[i] as (typeof docs)[number]), version: v.version })))
    .sort((a, b) => (a.at < b.at ? 1 : -1))
    .slice(0, MOST);
  const putBack = async (l: Line) => {
    const now = docs.find((d) => d.id === l.id)?.version ?? l.version;
    const put = (number: number) => ask('putBack', { params: { kind: l.kind, id: l.id, number: String(number) } });
    try {
      await put(l.version);
      await client.invalidateQueries();
      toast(`${l.name} is as it was on ${dayAndTime(Date.parse(l.at))}.`, {
        undo: () =>
          put(now).then(
            () => client.invalidateQueries(),
            (error: unknown) => toastError(error),
          ),
      });
    } catch (error) {
      toastError(error);
    }
  };
  const loading = lists.some((l) => l.isPending);
  return (
    <Box open title={`Past versions of ${rig.name}`} onClose={onClose}>
      {lines.length === 0 && (
        <p>{loading ? 'One moment…' : 'Nothing was changed since past versions are kept. The next change will be here.'}</p>
      )}
      <ul className="max-h-[60vh] overflow-auto">
        {lines.map((l) => {
          const current = docs.some((d) => d.id === l.id && d.version === l.version);
          return (
            <li
              key={`${l.id} ${l.version} ${l.what}`}
              className="flex flex-wrap gap-x-4 gap-y-1 border-b border-rule py-2 text-body"
            >
              <span className="min-w-[200px] grow basis-0">
                <b>{l.name}</b> {whatWords[l.what]}
                <span className="block text-ink2">
                  {dayAndTime(Date.parse(l.at))}
                  {l.device && `, from ${l.device}`}
                </span>
              </span>
              <span className="min-w-[200px] grow basis-0 text-ink2">
                <Changes changes={l.changes} />
              </span>
              {current ? (
                <span className="text-ink2">as it is now</span>
              ) : (
                <button type="button" className="btn btn-small self-start" onClick={() => void putBack(l)}>
                  Put it back
                  <span className="sr-only">
                    : {l.name}, {dayAndTime(Date.parse(l.at))}
                  </span>
                </button>
              )}
            </li>
          );
        })}
      </ul>
    </Box>
  );
}
