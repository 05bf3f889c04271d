import { madeOn } from '#core/calendar/due.ts';
import { useRecords } from '../../data/queries.ts';
import { LOCALE } from '../../parts/locale.ts';
import { SavedField } from '../../parts/SavedField.tsx';
import { holders, withHolder } from '../../state/holders.ts';
import { toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';

const MADE = /^(0[1-9]|[1-4][0-9]|5[0-3])[0-9]{2}$/;
const month = new Intl.DateTimeFormat(LOCALE, { month: 'long', year: 'numeric', timeZone: 'UTC' });

/** When the tires were made, as it is stamped on them: a tire ages also where nobody drives it. */
export function TireAges() {
  const whole = useRig();
  const { changeUnit } = useRecords();
  const list = holders(whole);
  return (
    <section aria-label="Age of the tires">
      <h2 className="mb-2 border-b border-ink pb-1">Age of the tires</h2>
      <p className="mb-2 text-body">The last four figures after DOT on the sidewall: 2319 is week 23 of 2019.</p>
      <ul>
        {list.map((h) => {
          const made = h.first.holder.tire?.made;
          return (
            <li key={h.code} className="flex items-center gap-3 border-b border-rule py-1">
              <b className="w-10">{h.code}</b>
              <SavedField
                className="w-[92px] [&_label]:sr-only"
                label={`${h.code} made in`}
                value={made ?? ''}
                inputMode="numeric"
                check={(text) => (text.trim() === '' || MADE.test(text.trim()) ? null : 'Week 01 to 53, year of two figures')}
                onSave={(text) =>
                  void changeUnit(h.first.unit.id, (u) =>
                    withHolder(u, h, (at) => {
                      const { made: _old, ...rest } = at.tire ?? {};
                      at.tire = text === '' ? rest : { ...rest, made: text };
                    }),
                  ).catch(toastError)
                }
              />
              <span className="text-body text-ink2">{made ? month.format(Date.parse(madeOn(made))) : 'not noted'}</span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
