import { useState } from 'react';
import type { Day } from '#core/climate/daily.ts';
import { typicalYear } from '#core/climate/typical.ts';
import { FieldError } from '#core/errors.ts';
import { convert } from '#core/units/units.ts';
import type { Climate } from '#schema/unit.ts';
import { Field } from '../../parts/controls.tsx';
import { parseNumber, useFormat } from '../../parts/format.ts';
import { useDraft } from '../../state/drafts.ts';
import { useRig } from '../../state/useRig.ts';

interface Typed {
  winter: string;
  summer: string;
  minima: string;
  maxima: string;
  southern: boolean;
}

/** One seed for everybody: the same figures give the same year. */
const SEED = 1972;

const figures = (text: string): (number | null)[] =>
  text
    .split(/[\s;]+/)
    .filter(Boolean)
    .map(parseNumber);

/** For owners without a weather file: days made from two or twenty-four means, and from the coldest and hottest that are typed above. */
export function TypicalYear({ climate, onUse }: { climate: Climate | null; onUse: (days: Day[], source: string) => void }) {
  const { rig } = useRig();
  const f = useFormat();
  const [typed, setTyped, drop] = useDraft<Typed>(`typical.${rig.id}.${f.temp}`, {
    winter: '',
    summer: '',
    minima: '',
    maxima: '',
    southern: false,
  });
  const [errors, setErrors] = useState<Partial<Record<keyof Typed | 'all', string>>>({});
  const toC = (n: number) => convert(n, f.temp, 'C');
  const make = (e: React.FormEvent) => {
    e.preventDefault();
    if (!climate) {
      setErrors({ all: 'Type the coldest start and the hottest afternoon above first.' });
      return;
    }
    const wrong: typeof errors = {};
    const minima = figures(typed.minima);
    const maxima = figures(typed.maxima);
    const monthly = minima.length > 0 || maxima.length > 0;
    const winter = parseNumber(typed.winter);
    const summer = parseNumber(typed.summer);
    if (monthly) {
      for (const [name, list] of [
        ['minima', minima],
        ['maxima', maxima],
      ] as const)
        if (list.length !== 12 || list.some((n) => n === null))
          wrong[name] = `Twelve figures with blanks between; ${list.length} here`;
    } else {
      if (winter === null) wrong.winter = 'Type a temperature';
      if (summer === null) wrong.summer = 'Type a temperature';
    }
    setErrors(wrong);
    if (Object.keys(wrong).length > 0) return;
    try {
      const days = typicalYear({
        ...(monthly
          ? { monthly: { minC: minima.map((n) => toC(n as number)), maxC: maxima.map((n) => toC(n as number)) } }
          : { coldestMonthMinC: toC(winter as number), warmestMonthMaxC: toC(summer as number) }),
        coldestC: climate.coldestC,
        hottestC: climate.hottestC,
        southern: typed.southern,
        seed: SEED,
      });
      drop();
      onUse(days, monthly ? 'a typical year, made from monthly means' : 'a typical year, made from four figures');
    } catch (error) {
      if (!(error instanceof FieldError)) throw error;
      const field = error.pointer.startsWith('/coldestC')
        ? 'The coldest start'
        : error.pointer.startsWith('/hottestC')
          ? 'The hottest afternoon'
          : '';
      setErrors(
        error.pointer === '/warmestMonthMaxC'
          ? { summer: error.message }
          : error.pointer.startsWith('/monthly')
            ? { minima: `Month ${Number(error.pointer.split('/').at(-1)) + 1} ${error.message}` }
            : { all: `${field} ${error.message}.` },
      );
    }
  };
  const field = (name: 'winter' | 'summer' | 'minima' | 'maxima', label: string, unit?: string) => (
    <Field
      label={label}
      {...(unit ? { unit } : {})}
      value={typed[name]}
      error={errors[name]}
      onChange={(e) => setTyped({ ...typed, [name]: e.target.value })}
    />
  );
  return (
    <details className="mt-4 max-w-[72ch] text-body">
      <summary className="min-h-[32px] cursor-pointer font-semibold">No weather file? Make a typical year</summary>
      <form onSubmit={make} noValidate className="mt-2 flex flex-col gap-3">
        <p className="text-ink2">
          From the coldest and hottest above and two means that any climate table has. It is made, not measured: good for counting
          alarms, not for a date. A file of real days is better.
        </p>
        <div className="grid gap-3 sm:grid-cols-2">
          {field('winter', 'Mean minimum of the coldest month', `°${f.temp}`)}
          {field('summer', 'Mean maximum of the warmest month', `°${f.temp}`)}
          {field('minima', 'Or all twelve mean minima, January first')}
          {field('maxima', 'And all twelve mean maxima')}
        </div>
        <label className="flex min-h-[44px] items-center gap-2">
          <input
            type="checkbox"
            className="size-[20px] accent-ink"
            checked={typed.southern}
            onChange={(e) => setTyped({ ...typed, southern: e.target.checked })}
          />
          South of the equator
        </label>
        {errors.all && (
          <p className="error" role="alert">
            {errors.all}
          </p>
        )}
        <p>
          <button type="submit" className="btn">
            Make the year
          </button>
        </p>
      </form>
    </details>
  );
}
