import { useMemo, useState } from 'react';
import { kindAt } from '#core/kit/kinds.ts';
import { pairSensor } from '#core/pairing/book.ts';
import { needsMetalStem } from '#core/pairing/guide.ts';
import { type ListedId, readIdList } from '#core/pairing/id-list.ts';
import type { RigWheel } from '#core/rig/positions.ts';
import type { PairingStyle } from '#schema/unit.ts';
import { useRecords } from '../../data/queries.ts';
import { inPairs } from '../../parts/format.ts';
import { useDraft } from '../../state/drafts.ts';
import { asBefore } from '../../state/holders.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { placeOfSensor, usePairing } from './usePairing.ts';

const faults: Record<NonNullable<ListedId['fault']>, string> = {
  empty: 'no ID on this line',
  short: 'fewer than six digits',
  long: 'more than six digits',
  letters: 'not a hexadecimal digit in it',
  open: 'FFFFFF is an open position',
  twice: 'twice in the list',
  noWheel: 'more IDs than wheels',
};

/** IDs that are written down already, all at once. */
export function PasteIds({
  order,
  styleOf,
  fitted,
}: {
  order: readonly RigWheel[];
  styleOf: (w: RigWheel) => PairingStyle;
  fitted: boolean;
}) {
  const { rig, units } = useRig();
  const { putUnits } = useRecords();
  const { units: allUnits } = usePairing();
  const [text, setText, dropText] = useDraft(`pairing.list.${rig.id}`, '');
  const [busy, setBusy] = useState(false);
  const rows = useMemo(() => {
    const open = order.filter((w) => !w.wheel.sensor).map((w) => w.position);
    // The open wheels first; one that has a sensor gets another only where its position is named.
    return readIdList(text, [...open, ...order.filter((w) => w.wheel.sensor).map((w) => w.position)]).map((r) => {
      const wheel = order.find((w) => w.position === r.position);
      const there = r.id ? placeOfSensor(allUnits, r.id) : null;
      const elsewhere = there && wheel && !(there.unit.id === wheel.unit.id && there.position === wheel.local);
      const rubber = wheel && needsMetalStem(wheel, kindAt(wheel, rig));
      const said = r.fault
        ? faults[r.fault]
        : elsewhere
          ? `is on ${there.position} of ${there.unit.name}`
          : rubber
            ? 'rubber stem: metal only for this sensor'
            : null;
      return { ...r, wheel, said };
    });
  }, [text, order, allUnits, rig]);
  const good = rows.filter((r) => r.said === null);
  const save = async () => {
    const at = new Date().toISOString();
    const before = units;
    setBusy(true);
    try {
      const saved = await putUnits(
        units.flatMap((unit) => {
          const own = good.filter((r) => r.wheel?.unit.id === unit.id);
          return own.length === 0
            ? []
            : [
                own.reduce((u, { wheel, id }) => {
                  const w = wheel as RigWheel;
                  const sensor = {
                    id: id as string,
                    kind: kindAt(w, rig),
                    style: styleOf(w),
                    pairedAt: at,
                    ...(fitted ? {} : { fitted: false }),
                  };
                  return pairSensor(u, w.local, sensor, at);
                }, unit),
              ];
        }),
      );
      toast(good.length === 1 ? '1 sensor is paired.' : `${good.length} sensors are paired.`, {
        undo: () => putUnits(asBefore(before, saved)).then(() => undefined, toastError),
      });
      dropText(
        rows
          .filter((r) => r.said !== null)
          .map((r) => r.text)
          .join('\n'),
      );
    } catch (error) {
      toastError(error);
    }
    setBusy(false);
  };
  return (
    <details className="mt-4" open={text !== '' || undefined}>
      <summary className="text-body underline underline-offset-3">Paste a list of IDs</summary>
      <div className="field mt-2">
        <label htmlFor="id-list">One ID a line, in the order of the wheels, or each with its position</label>
        <textarea
          id="id-list"
          className="input py-2 font-sans"
          rows={Math.min(10, Math.max(4, rows.length + 1))}
          spellCheck={false}
          autoCapitalize="characters"
          placeholder={'4C A1 E0\nBS1 4C A1 E1'}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </div>
      {rows.length > 0 && (
        <>
          <ul className="mt-2 border-t border-ink text-body" aria-live="polite">
            {rows.map((r, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a line is its place in the list
              <li key={i} className="flex justify-between gap-3 border-b border-rule py-1">
                <b>{r.position ?? '–'}</b>
                {r.said === null ? (
                  <span className="figure text-body">{inPairs(r.id as string)}</span>
                ) : (
                  <span className="error mt-0!">
                    {r.text}: {r.said}
                  </span>
                )}
              </li>
            ))}
          </ul>
          <button
            type="button"
            className="btn btn-solid mt-3 w-full"
            disabled={good.length === 0 || busy}
            onClick={() => void save()}
          >
            {good.length === 1 ? 'Pair 1 sensor' : `Pair ${good.length} sensors`}
          </button>
        </>
      )}
    </details>
  );
}
