import { hotHeld } from '#core/alarms/card.ts';
import { baselineFor } from '#core/alarms/held.ts';
import { limitsAsRead } from '#core/alarms/limits.ts';
import { shownIdOf } from '#core/pairing/ids.ts';
import { showsOf } from '#core/pairing/signs.ts';
import { convert } from '#core/units/units.ts';
import { useMonitors, useRecords } from '../../data/queries.ts';
import { Notice } from '../../parts/controls.tsx';
import { idText, inPairs, parseNumber, useFormat } from '../../parts/format.ts';
import { HeadRow } from '../../parts/HeadRow.tsx';
import { shownFigure } from '../../parts/words-limits.ts';
import { useDraft } from '../../state/drafts.ts';
import { asBefore, holders, withSettings } from '../../state/holders.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';

/** What was read off the monitor, as typed. */
interface Read {
  ids: Record<string, string>;
  low: Record<string, string>;
  high: Record<string, string>;
  /** The normal pressure, on a monitor that derives its limits from it. */
  normal?: Record<string, string>;
  hot?: string;
  /** Where a sensor is unknown: its kind and its year, as far as one can tell. */
  found: Record<string, string>;
}

/** The usual preset, where neither plan nor monitor says otherwise, °C (common practice, no source). */
const USUAL_HOT_C = 70;
const HEX = /^[0-9A-F]{6}$/;
const cleanId = (text: string) => text.replaceAll(' ', '').toUpperCase();

/** A kit somebody else set up: read back, compare, and change only what differs. */
export default function ReadBack() {
  const whole = useRig();
  const { rig, wheels } = whole;
  const f = useFormat();
  const monitors = useMonitors();
  const monitor = monitors.data?.find((m) => m.id === rig.monitorId);
  const unit = monitor?.unit ?? f.unit;
  const key = `readback.${rig.id}`;
  const [read, setRead] = useDraft<Read>(key, { ids: {}, low: {}, high: {}, found: {} });
  const put = (part: Exclude<keyof Read, 'hot'>, k: string, value: string) =>
    setRead((r) => ({ ...r, [part]: { ...r[part], [k]: value } }));
  const list = holders(whole);

  const differs: string[] = [];
  let answered = 0;
  const judgeId = (position: string, plan: string | undefined): string => {
    const text = read.ids[position] ?? '';
    if (text.trim() === '') return '';
    const id = cleanId(text);
    if (id === 'FFFFFF') {
      answered += 1;
      if (plan) differs.push(`${position} is open: save ${inPairs(plan)} to it`);
      return plan ? 'open, the plan has a sensor' : 'open, as planned';
    }
    if (!HEX.test(id)) return 'six hexadecimal digits, or FFFFFF';
    answered += 1;
    if (id === plan) return 'as planned';
    const elsewhere = wheels.find((w) => w.wheel.sensor?.id === id);
    differs.push(
      elsewhere
        ? `${position} has the sensor planned for ${elsewhere.position}. Exchange them`
        : plan
          ? `${position} holds ${inPairs(id)}, the plan says ${inPairs(plan)}`
          : `${position} holds ${inPairs(id)}: take it into the plan on the Pairing sheet, or delete it`,
    );
    return elsewhere ? `planned for ${elsewhere.position}` : 'not in the plan';
  };
  const judgeLimit = (code: string, field: 'low' | 'high', plan: number | null | undefined): string => {
    const text = read[field][code] ?? '';
    if (text.trim() === '') return '';
    const n = parseNumber(text);
    if (n === null) return 'type a number';
    answered += 1;
    if (plan === null || plan === undefined) return 'no limit planned';
    const wanted = convert(plan, 'kPa', unit);
    const step = monitor?.step ?? (unit === 'bar' ? 0.1 : 1);
    if (Math.abs(n - wanted) <= step * 0.75) return 'as planned';
    const planned = (field === 'low' ? Math.ceil(wanted / step - 1e-6) : Math.floor(wanted / step + 1e-6)) * step;
    const digits = unit === 'bar' ? 1 : 0;
    differs.push(`${code} ${field}: key ${planned.toFixed(digits)} ${unit} instead of ${n} ${unit}`);
    return `plan ${planned.toFixed(digits)}`;
  };
  const baseline = monitor?.groups === 'baseline';
  const judgeNormal = (code: string, coldKpa: number | undefined): string => {
    const text = read.normal?.[code] ?? '';
    if (text.trim() === '' || !monitor) return '';
    const n = parseNumber(text);
    if (n === null) return 'type a number';
    answered += 1;
    if (coldKpa === undefined) return 'no cold pressure planned';
    const wanted = baselineFor(monitor, coldKpa);
    if (Math.abs(n - wanted) < 1e-6) return 'as planned';
    differs.push(`${code} normal pressure: key ${shownFigure(wanted, monitor)} instead of ${n} ${unit}`);
    return `plan ${shownFigure(wanted, monitor)}`;
  };
  /** One temperature serves all: the lowest that an axle wants. */
  const judgeHot = (): string => {
    const text = read.hot ?? '';
    const wanted = list.flatMap((h) => h.setting.limits?.hotC ?? []);
    if (text.trim() === '' || !monitor) return '';
    const n = parseNumber(text);
    if (n === null) return 'type a number';
    answered += 1;
    if (wanted.length === 0) return 'no limit planned';
    const to = hotHeld(monitor, Math.min(...wanted));
    if (n === to) return 'as planned';
    differs.push(`Temperature: key ${to} °${monitor.tempUnit ?? 'C'} instead of ${n}`);
    return `plan ${to} °${monitor.tempUnit ?? 'C'}`;
  };
  const { ids } = showsOf(monitor, rig.pairing);
  const idRows = ids
    ? wheels.map((w) => ({ w, verdict: judgeId(w.position, (w.wheel.sensor && shownIdOf(w.wheel.sensor)) ?? undefined) }))
    : [];
  const { putUnits } = useRecords();
  /** What is typed for an axle, kPa; null where the field is empty or no number. */
  const typed = (field: 'low' | 'high', code: string): number | null => {
    const n = parseNumber(read[field][code] ?? '');
    return n === null ? null : convert(n, unit, 'kPa');
  };
  const readable = list.filter((h) => typed('low', h.code) !== null);
  const asPlan = (h: (typeof list)[number]) =>
    limitsAsRead(
      typed('low', h.code),
      typed('high', h.code),
      h.setting.cold?.kpa ?? null,
      h.setting.limits?.hotC ?? monitor?.presetHotC ?? USUAL_HOT_C,
    );
  const takeOver = async () => {
    const before = whole.units;
    try {
      const saved = await putUnits(
        withSettings(whole, rig.loadState, (h) => {
          const limits = asPlan(h);
          return limits ? { ...h.setting, limits } : undefined;
        }),
      );
      const left = readable.filter((h) => !asPlan(h)).map((h) => h.code);
      toast(
        left.length > 0
          ? `Taken over, but for ${left.join(', ')}: its cold pressure isn’t between the two limits. Set it on Pressures first.`
          : 'The limits on the monitor are the plan now.',
        { undo: () => putUnits(asBefore(before, saved)).then(() => undefined, toastError) },
      );
    } catch (error) {
      toastError(error);
    }
  };
  const limitRows = list.map((h) => ({
    h,
    low: judgeLimit(h.code, 'low', h.setting.limits?.lowKpa),
    high: judgeLimit(h.code, 'high', h.setting.limits?.highKpa),
  }));
  const normalRows = baseline ? list.map((h) => ({ h, verdict: judgeNormal(h.code, h.setting.cold?.kpa) })) : [];
  const hotVerdict = judgeHot();
  return (
    <div className="grid gap-x-8 gap-y-6 xl:grid-cols-[minmax(0,1fr)_372px]">
      <div className="min-w-0">
        <ol className="mb-4 max-w-[70ch] text-body">
          {[
            'Switch the monitor on and wait 10 minutes: do not press anything yet.',
            ids
              ? 'Step through all its positions and type the IDs you see, FFFFFF where a position is open.'
              : 'Step through all its positions and see that each shows a pressure.',
            baseline ? 'Step through its normal pressures and type them too.' : 'Step through its limits and type them too.',
            'Change only what the list beside names.',
          ].map((t, i) => (
            <li key={t} className="flex gap-3 border-b border-rule py-1">
              <b>{i + 1}</b>
              {t}
            </li>
          ))}
        </ol>
        <div className="overflow-x-auto">
          <table className={ids ? 'sheet-table' : 'hidden'}>
            <HeadRow names={['Wheel', 'In the plan', 'On the monitor', 'So', 'If unknown: kind, age']} />
            <tbody>
              {idRows.map(({ w, verdict }) => (
                <tr key={w.position}>
                  <td className="font-semibold">{w.position}</td>
                  <td className="narrow whitespace-nowrap">{w.wheel.sensor ? idText(w.wheel.sensor) : 'open'}</td>
                  <td>
                    <input
                      aria-label={`ID that the monitor shows for ${w.position}`}
                      className="input w-[130px]!"
                      spellCheck={false}
                      autoCapitalize="characters"
                      value={read.ids[w.position] ?? ''}
                      onChange={(e) => put('ids', w.position, e.target.value)}
                    />
                  </td>
                  <td className="text-note">{verdict}</td>
                  <td>
                    {verdict === 'not in the plan' && (
                      <input
                        aria-label={`Kind and age of the sensor on ${w.position}`}
                        className="input"
                        placeholder="internal, 2021"
                        value={read.found[w.position] ?? ''}
                        onChange={(e) => put('found', w.position, e.target.value)}
                      />
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {baseline && (
            <table className="sheet-table mt-6">
              <HeadRow names={['Axle', `Normal pressure on the monitor, ${unit}`, 'So']} />
              <tbody>
                {normalRows.map(({ h, verdict }) => (
                  <tr key={h.code}>
                    <td className="font-semibold">{h.code}</td>
                    <td>
                      <input
                        aria-label={`${h.code} normal pressure on the monitor`}
                        className="input w-[100px]!"
                        inputMode="decimal"
                        value={read.normal?.[h.code] ?? ''}
                        onChange={(e) => put('normal', h.code, e.target.value)}
                      />
                    </td>
                    <td className="text-note">{verdict}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <table className={baseline ? 'hidden' : 'sheet-table mt-6'}>
            <thead>
              <tr>
                {['Axle', `Low on the monitor, ${unit}`, 'So', `High on the monitor, ${unit}`, 'So'].map((h, i) => (
                  <th key={`${h} ${i < 3 ? 'low' : 'high'}`} scope="col">
                    {h}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {limitRows.map(({ h, low, high }) => (
                <tr key={h.code}>
                  <td className="font-semibold">{h.code}</td>
                  {(['low', 'high'] as const).map((field) => [
                    <td key={field}>
                      <input
                        aria-label={`${h.code} ${field} on the monitor`}
                        className="input w-[100px]!"
                        inputMode="decimal"
                        value={read[field][h.code] ?? ''}
                        onChange={(e) => put(field, h.code, e.target.value)}
                      />
                    </td>,
                    <td key={`${field} so`} className="text-note">
                      {field === 'low' ? low : high}
                    </td>,
                  ])}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        {monitor && monitor.presetHotC !== null && (
          <p className="mt-4 flex flex-wrap items-center gap-3 text-body">
            <label htmlFor="read-hot">Temperature limit on the monitor, °{monitor.tempUnit ?? 'C'}</label>
            <input
              id="read-hot"
              className="input w-[100px]!"
              inputMode="decimal"
              value={read.hot ?? ''}
              onChange={(e) => setRead((r) => ({ ...r, hot: e.target.value }))}
            />
            <span className="text-note">{hotVerdict}</span>
          </p>
        )}
      </div>
      <aside aria-label="What to change">
        <h2 className="border-b border-ink pb-1">Change only this</h2>
        {differs.length > 0 ? (
          <ol className="mt-1 text-body">
            {differs.map((d) => (
              <li key={d} className="border-b border-rule py-2">
                {d}.
              </li>
            ))}
          </ol>
        ) : (
          <p className="mt-2 text-body">
            {answered === 0 ? 'Nothing typed yet.' : `Nothing so far: ${answered} read, all as planned.`}
          </p>
        )}
        {readable.length > 0 && (
          <p className="mt-4">
            <button type="button" className="btn" onClick={() => void takeOver()}>
              Take its limits over as the plan
            </button>
            <span className="mt-1 block text-note text-ink2">
              Somebody may have set them with care. The Alarms sheet then judges them for this rig.
            </span>
          </p>
        )}
        <div className="mt-5 flex flex-col gap-3">
          <Notice>
            <b>Unknown sensors:</b> look opposite the valve and at the build sheet for kind and age. Take the cell as spent when
            its age is unknown, and buy no monitor before you know that it hears these sensors.
          </Notice>
          <button
            type="button"
            className="btn self-start"
            onClick={() => {
              const before = read;
              setRead({ ids: {}, low: {}, high: {}, found: {} });
              toast('What was read is cleared.', { undo: () => setRead(before) });
            }}
          >
            Start over
          </button>
        </div>
      </aside>
    </div>
  );
}
