import { Link } from 'react-router';
import { useRecords } from '../../data/queries.ts';
import { parseNumber } from '../../parts/format.ts';
import { HeadRow } from '../../parts/HeadRow.tsx';
import { LOCALE } from '../../parts/locale.ts';
import { SavedField } from '../../parts/SavedField.tsx';
import { Wide } from '../../parts/Wide.tsx';
import { toastError } from '../../state/toast.ts';
import { useCells } from '../../state/useCells.ts';
import { useRig } from '../../state/useRig.ts';

const day = new Intl.DateTimeFormat(LOCALE, { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' });
const months = (n: number) => (n < 1.5 ? '1 month' : `${Math.round(n)} months`);
const VOLTAGE = { fresh: 'fresh', falling: 'falling', spent: 'spent' } as const;
const BY = { owner: 'your figure', use: 'its use', voltage: 'its voltage' } as const;

/** How long each battery lasts: by use, cold and age, against what it tells itself. */
export function CellsPart() {
  const { rig } = useRig();
  const { changeRig } = useRecords();
  const { cells, hours, measured } = useCells();
  if (cells.length === 0) return <p>Pair the sensors first: each has a battery to look after.</p>;
  return (
    <section aria-label="Batteries">
      <div className="mb-4 flex flex-wrap items-end gap-4">
        <SavedField
          className="w-[180px]"
          label="Driven in a year"
          unit="hours"
          inputMode="decimal"
          value={String(hours)}
          check={(text) => {
            const n = parseNumber(text);
            return n !== null && n >= 0 && n <= 8766 ? null : '0 to 8766';
          }}
          onSave={(text) =>
            void changeRig(rig.id, (now) => ({
              ...now,
              upkeep: { ...now.upkeep, drivenHours: parseNumber(text) as number },
            })).catch(toastError)
          }
        />
        <p className="pb-2 text-body text-ink2">
          {rig.upkeep?.drivenHours !== undefined
            ? 'Your figure.'
            : measured
              ? 'From the drives in its readings.'
              : 'Assumed until drives were heard.'}
        </p>
      </div>
      <Wide label="Batteries by wheel">
        <table className="sheet-table [&_td]:align-middle">
          <HeadRow names={['Wheel', 'Cell', 'In since', 'Lasts, from new', 'Change it', 'By', 'It tells', 'Job']} />
          <tbody className="narrow">
            {[...cells]
              .sort((a, b) => (a.forecast?.leftMonths ?? 999) - (b.forecast?.leftMonths ?? 999))
              .map(({ wheel, cell, since, forecast: c }) => {
                const due =
                  c === null || since === undefined
                    ? null
                    : new Date(Date.parse(since) + c.changeAtMonths * 30.4375 * 86_400_000);
                const over = c !== null && c.leftMonths === 0;
                return (
                  <tr key={wheel.position} data-cell={wheel.position}>
                    <th scope="row" className="border-b-rule! text-body text-ink!">
                      {wheel.position}
                    </th>
                    <td>{cell}</td>
                    <td className="whitespace-nowrap">{since === undefined ? 'not noted' : day.format(Date.parse(since))}</td>
                    <td className="whitespace-nowrap">
                      {c === null
                        ? '–'
                        : Math.round(c.leastMonths) === Math.round(c.mostMonths)
                          ? months(c.mostMonths)
                          : `${Math.round(c.leastMonths)} to ${months(c.mostMonths)}`}
                    </td>
                    <td className={`whitespace-nowrap ${over ? 'font-bold text-magenta' : ''}`}>
                      {c === null || due === null ? '–' : over ? 'now' : `in ${months(c.leftMonths)}, ${day.format(due)}`}
                    </td>
                    <td>{c === null ? '' : BY[c.by]}</td>
                    <td>{c?.byVoltage ? VOLTAGE[c.byVoltage] : '–'}</td>
                    <td>
                      <Link
                        className="btn btn-small"
                        to={`/rigs/${rig.id}/upkeep?job=${wheel.wheel.sensor?.kind === 'internal' ? 'sealedCell' : 'cell'}&wheel=${wheel.position}`}
                        aria-label={`Change the battery of ${wheel.position}`}
                      >
                        Change it
                      </Link>
                    </td>
                  </tr>
                );
              })}
          </tbody>
        </table>
      </Wide>
      <p className="mt-3 max-w-[76ch] text-body text-ink2">
        A range: what sensors draw and cells give is assumed, the capacity typical. Very cold mornings take a quarter. Change them
        once a year whether they ask or not; a sensor that drops out is a later sign than its age.
      </p>
    </section>
  );
}
