import { trackAdvice } from '#core/track/sessions.ts';
import { convert } from '#core/units/units.ts';
import { Field, Notice } from '../../parts/controls.tsx';
import { parseNumber, useFormat } from '../../parts/format.ts';
import { Wide } from '../../parts/Wide.tsx';
import { useDraft } from '../../state/drafts.ts';
import { toast } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';

type Read = 'cold' | 'peak' | 'pit';
const READS: readonly { key: Read; text: string }[] = [
  { key: 'cold', text: 'Cold' },
  { key: 'peak', text: 'Peak on the lap' },
  { key: 'pit', text: 'In the pit' },
];
type Session = Record<string, Partial<Record<Read, string>>>;
interface TrackDay {
  target: string;
  /** Of wheels that have one of their own. */
  targets: Record<string, string>;
  sessions: Session[];
}
const fresh = (): TrackDay => ({ target: '', targets: {}, sessions: [{}] });

/** Per wheel and session: what was read, what comes out now, what to start with next time. */
export function TrackPart() {
  const { rig, wheels } = useRig();
  const f = useFormat();
  // Figures are kept as typed, in the unit they were typed in.
  const [day, setDay, drop] = useDraft<TrackDay>(`track.${rig.id}.${f.unit}`, fresh());
  const own = wheels.filter((w) => w.unit.kind === 'vehicle' && w.place !== 'S');
  const kpa = (text: string | undefined): number | null | undefined => {
    if (text === undefined || text.trim() === '') return undefined;
    const n = parseNumber(text);
    const v = n === null ? Number.NaN : convert(n, f.unit, 'kPa');
    return v >= 30 && v <= 1000 ? v : null;
  };
  const target = kpa(day.target);
  const last = day.sessions.length - 1;
  const put = (s: number, position: string, key: Read, text: string) =>
    setDay((now) => ({
      ...now,
      sessions: now.sessions.map((x, i) => (i === s ? { ...x, [position]: { ...x[position], [key]: text } } : x)),
    }));
  const advice = own.map((w) => {
    const t = kpa(day.targets[w.position]) ?? target;
    if (t == null) return null;
    return trackAdvice({
      position: w.position,
      targetHotKpa: t,
      sessions: day.sessions.map((s) => {
        const at = (key: Read) => kpa(s[w.position]?.[key]) ?? undefined;
        return { coldKpa: at('cold'), peakKpa: at('peak'), pitKpa: at('pit') };
      }),
    });
  });
  // A figure and what to do with it: at most to the tenth of a psi that a gauge shows.
  const step = convert(0.05, 'psi', 'kPa');
  const act = (bleed: number) =>
    bleed > step ? `let ${f.pressure(bleed)} out` : bleed < -step ? `leave it: ${f.pressure(-bleed)} under` : 'leave it';
  const external = own.some((w) => w.wheel.sensor && w.wheel.sensor.kind !== 'internal');
  if (own.length === 0) return <p>A track day is for a vehicle. This rig has none.</p>;
  return (
    <section aria-label="Track day">
      <div className="mb-4 flex flex-wrap items-end gap-3 print:hidden">
        <Field
          className="w-[150px]"
          label="Target, hot"
          unit={f.unit}
          inputMode="decimal"
          value={day.target}
          error={target === null ? `${f.figure(30)} to ${f.figure(1000)}` : undefined}
          onChange={(e) => setDay((now) => ({ ...now, target: e.target.value }))}
        />
        <button
          type="button"
          className="btn"
          disabled={day.sessions.length >= 12}
          onClick={() => setDay((now) => ({ ...now, sessions: [...now.sessions, {}] }))}
        >
          Add a session
        </button>
        <button
          type="button"
          className="btn"
          onClick={() => {
            const before = day;
            drop(fresh());
            toast('The sessions are cleared.', { undo: () => setDay(before) });
          }}
        >
          Clear the day
        </button>
        <button type="button" className="btn" onClick={() => window.print()}>
          Print for the car
        </button>
      </div>
      <Wide label="Sessions by wheel">
        <table className="sheet-table">
          <thead>
            <tr>
              <th scope="col">Session</th>
              <th scope="col">Reading</th>
              {own.map((w) => (
                <th key={w.position} scope="col">
                  {w.position}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <tr>
              <td />
              <td className="text-[14px] whitespace-nowrap">Target, hot</td>
              {own.map((w) => (
                <td key={w.position}>
                  <input
                    className="input w-[84px] max-md:w-[60px] max-md:px-1.5"
                    inputMode="decimal"
                    autoComplete="off"
                    aria-label={`Target, ${w.position}, ${f.unit}`}
                    placeholder={day.target}
                    aria-invalid={kpa(day.targets[w.position]) === null ? true : undefined}
                    value={day.targets[w.position] ?? ''}
                    onChange={(e) => setDay((now) => ({ ...now, targets: { ...now.targets, [w.position]: e.target.value } }))}
                  />
                </td>
              ))}
            </tr>
            {day.sessions.flatMap((s, i) =>
              READS.map((r, k) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: a session is its place in the day
                <tr key={`${i} ${r.key}`}>
                  <td className="font-semibold">{k === 0 ? i + 1 : ''}</td>
                  <td className="text-[14px] whitespace-nowrap">{r.text}</td>
                  {own.map((w) => {
                    const text = s[w.position]?.[r.key] ?? '';
                    return (
                      <td key={w.position}>
                        <input
                          className="input w-[84px] max-md:w-[60px] max-md:px-1.5"
                          inputMode="decimal"
                          autoComplete="off"
                          aria-label={`Session ${i + 1}, ${r.text.toLowerCase()}, ${w.position}, ${f.unit}`}
                          aria-invalid={kpa(text) === null ? true : undefined}
                          value={text}
                          onChange={(e) => put(i, w.position, r.key, e.target.value)}
                        />
                      </td>
                    );
                  })}
                </tr>
              )),
            )}
            <tr>
              <td className="font-semibold">{last + 1}</td>
              <td className="text-[15px] font-bold whitespace-nowrap">Now, hot</td>
              {advice.map((a, i) => (
                <td key={own[i]?.position} className="text-[15px] font-bold" data-advice={own[i]?.position}>
                  {a ? act(a.bleedHotKpa) : '–'}
                </td>
              ))}
            </tr>
            <tr>
              <td />
              <td className="text-[15px] font-bold whitespace-nowrap">Next time, cold</td>
              {advice.map((a, i) => (
                <td key={own[i]?.position} className="figure text-[17px] font-bold">
                  {a ? f.pressure(a.nextColdKpa) : '–'}
                </td>
              ))}
            </tr>
            <tr>
              <td />
              <td className="text-[14px] whitespace-nowrap">Judged by</td>
              {advice.map((a, i) => (
                <td key={own[i]?.position} className="narrow text-[13px]">
                  {a === null
                    ? ''
                    : a.by === 'peak'
                      ? 'the peak'
                      : a.by === 'pit'
                        ? 'the pit reading: it may read low'
                        : `the pit reading and ${f.pressure(a.fallKpa ?? 0)}`}
                </td>
              ))}
            </tr>
          </tbody>
        </table>
      </Wide>
      <div className="mt-4 grid gap-4 lg:grid-cols-2">
        <Notice>
          A tire cools on the cool-down lap and in the pit, so a pit reading is lower than the lap’s. With both readings once,
          later pit readings are corrected by that. Go back to the road pressure, cold, before you drive home.
        </Notice>
        <p className="text-[14px] text-ink2">
          A wheel under the target is left as it is while hot; start it with more air next time. Cold means three hours at rest: a
          “cold” pressure set just after a drive isn’t.
          {external && ' The temperature of an external sensor is far under the gas’s, so only pressures count here.'}
        </p>
      </div>
    </section>
  );
}
