import { type BuyingColumn, type BuyingOption, compareBuying, type Prices } from '#core/kit/compare.ts';
import { Field } from '../../parts/controls.tsx';
import { parseNumber } from '../../parts/format.ts';
import { useDraft } from '../../state/drafts.ts';
import { useRig } from '../../state/useRig.ts';

const titles: Record<BuyingOption, string> = {
  cap: 'Caps',
  flowThrough: 'Flow-through',
  internalValve: 'Internal, on the valve',
  internalBand: 'Internal, on a band',
  mixed: 'Caps and flow-through',
};
const priceLabels: [keyof Prices, string][] = [
  ['capSensor', 'A cap sensor'],
  ['flowThroughSensor', 'A flow-through sensor'],
  ['internalSensor', 'An internal sensor'],
  ['cell', 'A battery CR1632'],
  ['metalStem', 'A metal stem'],
  ['shopWheel', 'Shop work, a wheel'],
];

interface Typed {
  years: string;
  prices: Partial<Record<keyof Prices, string>>;
}

const some = (positions: string[], all: number) =>
  positions.length === 0
    ? 'none'
    : positions.length === all
      ? 'all'
      : positions.length > 6
        ? `${positions.length} wheels`
        : positions.join(', ');

/** Each way of buying, side by side, for this rig. Prices are the owner's own. */
export default function Buying() {
  const { rig, units, wheels } = useRig();
  const key = `buying.${rig.id}`;
  const [typed, setTyped] = useDraft<Typed>(key, { years: '5', prices: {} });
  const years = parseNumber(typed.years);
  const goodYears = years !== null && years >= 1 && years <= 20;
  const prices: Prices = {};
  const wrong = new Set<string>();
  for (const [k] of priceLabels) {
    const text = typed.prices[k] ?? '';
    if (text.trim() === '') continue;
    const n = parseNumber(text);
    if (n === null || n < 0) wrong.add(k);
    else prices[k] = n;
  }
  const columns = compareBuying(wheels, {
    years: goodYears ? (years as number) : 5,
    year: new Date().getFullYear(),
    prices,
    school: rig.capSchool,
  });
  const all = wheels.length;
  const longest = units.reduce((n, u) => n + u.axles.length, 0);
  const rows: [string, (c: BuyingColumn) => string][] = [
    [
      'Fits the stems as they are',
      (c) => (c.option.startsWith('internal') ? 'brings its own valve, or needs none' : some(c.fits, all)),
    ],
    ['Stems not looked at yet', (c) => (c.option.startsWith('internal') ? 'does not matter' : some(c.unknown, all))],
    ['Needs a metal stem first', (c) => some(c.newStems, all)],
    ['Wheels for the tire shop', (c) => (c.shopWheels === 0 ? 'none' : String(c.shopWheels))],
    [
      `Cells over ${goodYears ? years : 5} years`,
      (c) =>
        c.cells > 0 ? `${c.cells}, changed by you` : c.sensorsAgain > 0 ? `${c.sensorsAgain} new sensors (sealed cells)` : 'none',
    ],
    [
      'Inflating',
      (c) =>
        ({ all: 'with the sensor on', some: 'caps come off, flow-through stays', none: 'the sensor comes off first' })[
          c.inflateThrough
        ],
    ],
    ['Rain, theft, kerbs', (c) => (c.outside ? 'outside: exposed' : 'inside the tire: safe')],
    ['Added weight', (c) => `${Math.round(c.addedKg * 1000)} g`],
    ['Total', (c) => (c.cost === null ? 'type the prices' : c.cost.toFixed(2))],
  ];
  return (
    <div>
      <div className="grid max-w-[980px] grid-cols-2 gap-3 md:grid-cols-4">
        <Field
          label="Over how many years"
          inputMode="numeric"
          value={typed.years}
          error={goodYears ? undefined : '1 to 20'}
          onChange={(e) => setTyped({ ...typed, years: e.target.value })}
        />
        {priceLabels.map(([k, label]) => (
          <Field
            key={k}
            label={`${label}, your price`}
            inputMode="decimal"
            value={typed.prices[k] ?? ''}
            error={wrong.has(k) ? 'Type a number' : undefined}
            onChange={(e) => setTyped({ ...typed, prices: { ...typed.prices, [k]: e.target.value } })}
          />
        ))}
      </div>
      <div className="mt-5 max-w-full overflow-x-auto">
        <table className="sheet-table min-w-[820px]">
          <thead>
            <tr>
              <th scope="col">For these {all} wheels</th>
              {columns.map((c) => (
                <th key={c.option} scope="col" className="text-ink!">
                  {titles[c.option]}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(([label, cell]) => (
              <tr key={label}>
                <th scope="row" className="border-b-rule!">
                  {label}
                </th>
                {columns.map((c) => (
                  <td key={c.option} className="narrow">
                    {cell(c)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <section className="mt-6 max-w-[80ch]" aria-label="The monitor it takes">
        <h2>The monitor it takes</h2>
        <ul className="mt-1 list-disc pl-5 text-body">
          <li>
            {units.length === 1 ? 'One list' : `${units.length} lists, one for each unit,`} of{' '}
            {Math.max(...units.map((u) => u.axles.reduce((n, a) => n + a.wheels.length, u.spares.length)))} positions at the
            least: {all} wheels in all.
          </li>
          <li>
            {longest > 2
              ? 'Limits by axle, or by unit where all axles of a unit run alike: yours differ by axle where you set them so.'
              : 'Limits by axle.'}
          </li>
          <li>
            {units.length > 1
              ? 'A repeater where steel or distance is between: a short rig often does without. Ask whether the kit can take one later.'
              : 'No repeater: one vehicle is near enough.'}
          </li>
          <li>
            {units.length > 1
              ? 'It should be able to disconnect a unit, or a dropped trailer alarms for lost sensors.'
              : 'It need not disconnect units.'}
          </li>
        </ul>
        <p className="mt-2 text-note text-ink2">
          Lives and weights are common practice, no source: a cap about 8 g, cells about a year, sealed cells about 4 years. A
          motorcycle takes metal stems only; internal sensors need a shop that knows the tire.
        </p>
      </section>
    </div>
  );
}
