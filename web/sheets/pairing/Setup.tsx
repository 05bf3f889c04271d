import { useState } from 'react';
import { Link } from 'react-router';
import { kindAt, withKind } from '#core/kit/kinds.ts';
import { listsOf } from '#core/kit/lists.ts';
import { partsOf } from '#core/kit/parts.ts';
import { PAIRING_STYLES, styleGuide, styleRefusal } from '#core/pairing/guide.ts';
import { PAIRING_SIGNS, showsOf } from '#core/pairing/signs.ts';
import { unitLetter } from '#core/rig/positions.ts';
import type { SensorKind } from '#schema/common.ts';
import type { PairingSign, PairingStyle, Rig } from '#schema/unit.ts';
import { useBenchCommand, useMonitor, useRecords } from '../../data/queries.ts';
import { Switch } from '../../parts/controls.tsx';
import { useDraft } from '../../state/drafts.ts';
import { toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { beforeWords, refusalWords, signNames, styleAbout, styleNames } from './words.ts';

export const kinds: { value: SensorKind; text: string }[] = [
  { value: 'cap', text: 'Cap' },
  { value: 'flowThrough', text: 'Flow-through' },
  { value: 'internal', text: 'Internal' },
];

const same = (a: readonly string[], b: readonly string[]) => a.length === b.length && a.every((x) => b.includes(x));

/** How this kit is paired, and what to see to first. */
export function Setup({ onBegin }: { onBegin: (pairing: NonNullable<Rig['pairing']>) => void }) {
  const { rig, units, wheels } = useRig();
  const monitor = useMonitor(rig);
  // A rig without sensors may get a coded kit; one whose sensors were all learned has none.
  const factoryCoded = wheels.some((w) => !w.wheel.sensor || w.wheel.sensor.factoryPosition !== undefined);
  const { changeUnit } = useRecords();
  /** The kinds of sensor of a unit, as Kit has them: those still to be paired, or all where none is. */
  const kindsOf = (letter: string): SensorKind[] => {
    const own = wheels.filter((w) => w.position.startsWith(letter));
    const open = own.filter((w) => !w.wheel.sensor);
    return [...new Set((open.length > 0 ? open : own).map((w) => kindAt(w, rig)))];
  };
  const lead = kindsOf(wheels[0]?.position[0] ?? 'A');
  const refused = (s: PairingStyle): string | null => {
    if (monitor?.styles && !monitor.styles.includes(s)) return 'this monitor does not do it';
    const refusals = lead.map((kind) => styleRefusal(s, kind, factoryCoded));
    const refusal = refusals.every((r) => r !== null) ? refusals[0] : null;
    return refusal ? refusalWords[refusal] : null;
  };
  const first = PAIRING_STYLES.find((s) => refused(s) === null) ?? 'heldNear';
  const [chosen, setChosen] = useState<PairingStyle>(rig.pairing?.style ?? first);
  const style = refused(chosen) === null ? chosen : first;
  const [limitsFirst, setLimitsFirst] = useState(rig.pairing?.limitsFirst ?? true);
  const usual = showsOf(monitor);
  // The monitor may come after the sheet: its signs count until the owner says otherwise.
  const [own, setSigns] = useState<readonly PairingSign[] | null>(rig.pairing?.signs ?? null);
  const signs = own ?? usual.signs;
  const [byUnit, setByUnit] = useState<Readonly<Record<string, PairingStyle>>>(rig.pairing?.byUnit ?? {});
  const others = Object.fromEntries(
    units.flatMap((_, i) => {
      const own = byUnit[unitLetter(i)];
      return i > 0 && own !== undefined && own !== style ? [[unitLetter(i), own] as const] : [];
    }),
  );
  const pairing = {
    style,
    limitsFirst,
    ...(Object.keys(others).length > 0 ? { byUnit: others } : {}),
    ...(same(signs, usual.signs) ? {} : { signs: [...signs] }),
  };
  const shows = showsOf(monitor, pairing);
  const { mount } = partsOf(rig, 'internal');
  // What each way asks for, once: the car's may differ from the trailer's.
  const before = [
    ...new Set(
      [style, ...Object.values(others)].flatMap(
        (s) =>
          styleGuide({
            style: s,
            limitsFirst,
            kinds: [...new Set(wheels.map((w) => kindAt(w, rig)))],
            lists: monitor?.units ?? 1,
            factoryCoded,
            shows,
            mount,
          }).before,
      ),
    ),
  ];
  const openLists = monitor
    ? listsOf(rig, monitor)
        .flatMap((l, i) => (l === null ? [] : [`list ${l + 1} for ${units[i]?.name ?? unitLetter(i)}`]))
        .join(', ')
        .replace(/^l/, 'L')
    : '';
  const key = `pairing.before.${rig.id}`;
  const [ticked, setTicked] = useDraft<string[]>(key, []);
  const tick = (code: string, on: boolean) => setTicked(on ? [...ticked, code] : ticked.filter((t) => t !== code));
  const bench = useBenchCommand(rig.id);
  const practise = async () => {
    try {
      await bench.mutateAsync({ action: 'open', ids: shows.ids });
      // As it is to be done with the real kit: the others lie 3 m away.
      await bench.mutateAsync({ action: 'table', clear: true });
      onBegin(pairing);
    } catch (error) {
      toastError(error);
    }
  };
  return (
    <div className="grid gap-x-10 gap-y-6 lg:grid-cols-2">
      <section aria-label="How it is paired">
        <h2 className="border-b border-ink pb-2">How is this kit paired?</h2>
        {units.map((unit, i) => {
          const [kind] = kindsOf(unitLetter(i));
          return (
            kind && (
              <div key={unit.id} className="mt-3 flex flex-wrap items-center gap-3">
                <span className="text-note text-ink2">{units.length > 1 ? `Sensors on ${unit.name}` : 'Sensors'}</span>
                <Switch
                  label={i === 0 ? 'Kind of sensor' : `Kind of sensor on ${unit.name}`}
                  value={kind}
                  options={kinds}
                  onChange={(k) => void changeUnit(unit.id, (now) => withKind(now, k)).catch(toastError)}
                />
              </div>
            )
          );
        })}
        <fieldset className="mt-2">
          <legend className="sr-only">Way of pairing</legend>
          {PAIRING_STYLES.map((s) => {
            const no = refused(s);
            return (
              <label key={s} className={`flex gap-3 border-b border-rule py-2 ${no ? 'text-ink2' : 'cursor-pointer'}`}>
                <input
                  type="radio"
                  name="style"
                  className="mt-1 size-[20px] shrink-0 accent-ink"
                  checked={style === s}
                  disabled={no !== null}
                  onChange={() => setChosen(s)}
                />
                <span>
                  <span className="text-body font-semibold">{styleNames[s]}</span>
                  <span className="block text-note text-ink2">{no ? `Not here: ${no}.` : styleAbout[s]}</span>
                </span>
              </label>
            );
          })}
        </fieldset>
        {units.slice(1).map((unit, i) => (
          <div key={unit.id} className="field mt-3">
            <label htmlFor={`style-${unit.id}`}>{unit.name}</label>
            <select
              id={`style-${unit.id}`}
              className="input"
              value={others[unitLetter(i + 1)] ?? ''}
              onChange={(e) => {
                const { [unitLetter(i + 1)]: _old, ...rest } = byUnit;
                setByUnit(e.target.value === '' ? rest : { ...rest, [unitLetter(i + 1)]: e.target.value as PairingStyle });
              }}
            >
              <option value="">the same way</option>
              {PAIRING_STYLES.filter((s) => s !== style).map((s) => (
                <option key={s} value={s}>
                  {styleNames[s]}
                </option>
              ))}
            </select>
          </div>
        ))}
        <fieldset className="mt-4">
          <legend className="text-body font-semibold">What does the display show when it took a sensor?</legend>
          <div className="mt-1 flex flex-wrap gap-x-5">
            {PAIRING_SIGNS.map((s) => (
              <label key={s} className="flex min-h-[44px] cursor-pointer items-center gap-2">
                <input
                  type="checkbox"
                  className="size-[20px] accent-ink"
                  checked={signs.includes(s)}
                  onChange={(e) => setSigns(PAIRING_SIGNS.filter((x) => (x === s ? e.target.checked : signs.includes(x))))}
                />
                {signNames[s]}
              </label>
            ))}
          </div>
          <p className="max-w-[60ch] text-note text-ink2">
            {shows.ids
              ? 'IDs are kept in the book as you read them.'
              : 'Then no ID has to be typed. If one is seen later it can be added in the ID book.'}
          </p>
        </fieldset>
        <div className="mt-3">
          <Switch
            label="Limits first or pairing first"
            value={limitsFirst ? 'limits' : 'pairing'}
            options={[
              { value: 'limits', text: 'Limits first' },
              { value: 'pairing', text: 'Pairing first' },
            ]}
            onChange={(v) => setLimitsFirst(v === 'limits')}
          />
          <p className="mt-1 max-w-[60ch] text-note text-ink2">
            Both are common. Limits first, so that an alarm is a true one from the first minute; pairing first, when you want to
            see figures at once.{' '}
            {limitsFirst && (
              <Link className="underline underline-offset-3" to={`/rigs/${rig.id}/alarms?part=card`}>
                To the keying card
              </Link>
            )}
          </p>
        </div>
      </section>
      <section aria-label="Before you start">
        <h2 className="border-b border-ink pb-2">Before you start</h2>
        <ul>
          {before.map((code) => {
            const { head, why } =
              code === 'rightList' && openLists !== '' ? { ...beforeWords[code], head: openLists } : beforeWords[code];
            return (
              <li key={code}>
                <label className="flex cursor-pointer gap-3 border-b border-rule py-2">
                  <input
                    type="checkbox"
                    className="mt-1 size-[20px] shrink-0 accent-ink"
                    checked={ticked.includes(code)}
                    onChange={(e) => tick(code, e.target.checked)}
                  />
                  <span>
                    <span className="text-body">{head}</span>
                    <span className="block text-note text-ink2">{why}</span>
                  </span>
                </label>
              </li>
            );
          })}
        </ul>
      </section>
      <div className="next-step lg:col-span-2">
        <button type="button" className="btn btn-solid btn-tall grow text-head" onClick={() => onBegin(pairing)}>
          Begin, wheel by wheel
        </button>
        <button type="button" className="btn btn-tall" onClick={() => void practise()}>
          Practise first, with simulated sensors
        </button>
      </div>
    </div>
  );
}
