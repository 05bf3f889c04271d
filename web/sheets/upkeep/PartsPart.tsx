import { useRecords } from '../../data/queries.ts';
import { Field } from '../../parts/controls.tsx';
import { parseNumber } from '../../parts/format.ts';
import { HeadRow } from '../../parts/HeadRow.tsx';
import { SavedField } from '../../parts/SavedField.tsx';
import { useDraft } from '../../state/drafts.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useCells } from '../../state/useCells.ts';
import { useRig } from '../../state/useRig.ts';

/** Looked ahead for what to buy, months. */
const AHEAD = 3;

/** What is on hand, what the next months use up, and what is missing. */
export function PartsPart() {
  const { rig } = useRig();
  const { changeRig } = useRecords();
  const { cells } = useCells();
  const [walk, setWalk, dropWalk] = useDraft<string>(`keywalk.${rig.id}`, rig.upkeep?.keyWalk ?? '');
  const external = cells.filter((c) => c.wheel.wheel.sensor?.kind !== 'internal');
  const soon = external.filter((c) => c.forecast !== null && c.forecast.leftMonths <= AHEAD);
  const types = [...new Set(external.map((c) => c.cell))];
  const onHand = rig.upkeep?.onHand ?? {};
  const lines = [
    ...types.map((t) => ({ item: t, name: `${t} cells`, need: soon.filter((c) => c.cell === t).length })),
    ...(external.length > 0 ? [{ item: 'seal', name: 'Seals for the lids', need: soon.length }] : []),
  ];
  const buy = lines.filter((l) => l.need > (onHand[l.item] ?? 0));
  const keep = async () => {
    try {
      await changeRig(rig.id, (now) => {
        const { keyWalk: _old, ...rest } = now.upkeep ?? {};
        return { ...now, upkeep: walk.trim() === '' ? rest : { ...rest, keyWalk: walk.trim() } };
      });
      dropWalk(walk);
      toast('Kept.');
    } catch (error) {
      toastError(error);
    }
  };
  return (
    <div className="grid gap-x-10 gap-y-6 xl:grid-cols-2">
      <section aria-label="Parts on hand">
        {lines.length === 0 ? (
          <p>No sensor of this rig has a battery that you change yourself.</p>
        ) : (
          <table className="sheet-table [&_td]:align-middle">
            <HeadRow names={['Part', 'On hand', `Used in ${AHEAD} months`, 'To buy']} />
            <tbody>
              {lines.map((l) => (
                <tr key={l.item}>
                  <th scope="row" className="border-b-rule! font-semibold text-ink!">
                    {l.name}
                  </th>
                  <td>
                    <SavedField
                      className="w-[84px] [&_label]:sr-only"
                      label={`${l.name} on hand`}
                      value={onHand[l.item] === undefined ? '' : String(onHand[l.item])}
                      inputMode="numeric"
                      check={(text) => {
                        const n = parseNumber(text);
                        return text.trim() === '' || (n !== null && Number.isInteger(n) && n >= 0 && n <= 999)
                          ? null
                          : '0 to 999, or empty';
                      }}
                      onSave={(text) =>
                        void changeRig(rig.id, (now) => {
                          const { [l.item]: _old, ...others } = now.upkeep?.onHand ?? {};
                          const n = parseNumber(text);
                          return { ...now, upkeep: { ...now.upkeep, onHand: n === null ? others : { ...others, [l.item]: n } } };
                        }).catch(toastError)
                      }
                    />
                  </td>
                  <td className="figure">{l.need}</td>
                  <td className="figure font-bold">{Math.max(0, l.need - (onHand[l.item] ?? 0)) || '–'}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {lines.some((l) => onHand[l.item] === undefined) && (
          <p className="mt-3 text-body">A count that is empty isn’t known, and is taken as none.</p>
        )}
        <p className="mt-3 text-body" aria-live="polite">
          {buy.length === 0
            ? 'Nothing to buy for the next three months.'
            : `To buy: ${buy.map((l) => `${l.need - (onHand[l.item] ?? 0)} ${l.item === 'seal' ? 'seals' : l.item}`).join(', ')}.`}
        </p>
      </section>
      <section aria-label="The repeater’s keys">
        <h2 className="mb-2 border-b border-ink pb-1 text-body">Walk of keys for a factory reset</h2>
        <p className="mb-2 text-body">Every kit has its own. Write it down once from the leaflet: the job shows it then.</p>
        <Field label="Keys, in their order" maxLength={300} value={walk} onChange={(e) => setWalk(e.target.value)} />
        <p className="mt-2">
          <button
            type="button"
            className="btn"
            disabled={walk.trim() === (rig.upkeep?.keyWalk ?? '')}
            onClick={() => void keep()}
          >
            Keep it
          </button>
        </p>
      </section>
    </div>
  );
}
