import type { RigWheel } from '#core/rig/positions.ts';
import { trackAdvice } from '#core/track/sessions.ts';
import { convert } from '#core/units/units.ts';
import { useFormat } from '../../../parts/format.ts';
import { Wide } from '../../../parts/Wide.tsx';
import { airOf, kpaOf, type Read, readingsOf, type TypedDay } from './day.ts';

const READS: readonly { key: Read; text: string }[] = [
  { key: 'cold', text: 'Cold' },
  { key: 'peak', text: 'Peak on the lap' },
  { key: 'pit', text: 'In the pit' },
  { key: 'bled', text: 'Let out' },
];

/** What to do now, and under it the sessions by wheel as they are typed, the last one first. */
export function SessionTable({
  day,
  setDay,
  wheels,
  minimumOf,
}: {
  day: TypedDay;
  setDay: (change: (now: TypedDay) => TypedDay) => void;
  wheels: readonly RigWheel[];
  /** Load minimum of a wheel, cold, kPa; null while its load is unknown. */
  minimumOf: (position: string) => number | null;
}) {
  const f = useFormat();
  const last = day.sessions.length - 1;
  const target = kpaOf(day.target, 'target');
  const put = (s: number, position: string, key: Read, text: string) =>
    setDay((now) => ({
      ...now,
      sessions: now.sessions.map((x, i) =>
        i === s
          ? {
              ...x,
              wheels: {
                ...x.wheels,
                // A figure keeps the unit it was begun in.
                [position]: { ...x.wheels[position], [key]: { text, unit: x.wheels[position]?.[key]?.unit ?? f.unit } },
              },
            }
          : x,
      ),
    }));
  const advice = wheels.map((w) => {
    const t = kpaOf(day.targets[w.position], 'target') ?? target;
    return t == null ? null : trackAdvice({ position: w.position, targetHotKpa: t, sessions: readingsOf(day, w.position) });
  });
  // A figure and what to do with it: at most to the tenth of a psi that a gauge shows.
  const step = convert(0.05, 'psi', 'kPa');
  const act = (bleed: number) =>
    bleed > step ? `let ${f.pressure(bleed)} out` : bleed < -step ? `leave it: ${f.pressure(-bleed)} under` : 'leave it';
  const input = 'input w-[84px] max-md:w-[60px] max-md:px-1.5';
  return (
    <Wide label="Sessions by wheel">
      <table className="sheet-table [&_td]:align-middle">
        <thead>
          <tr>
            <th scope="col">{f.unit}</th>
            {wheels.map((w) => (
              <th key={w.position} scope="col">
                {w.position}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr>
            <td className="text-body font-bold">Now, hot</td>
            {advice.map((a, i) => (
              <td key={wheels[i]?.position} className="text-body font-bold" data-advice={wheels[i]?.position}>
                {a ? act(a.bleedHotKpa) : '–'}
              </td>
            ))}
          </tr>
          <tr>
            <td className="text-body font-bold">Next time, cold</td>
            {advice.map((a, i) => {
              const minimum = minimumOf(wheels[i]?.position ?? '');
              const short = a !== null && minimum !== null && a.nextColdKpa < minimum;
              return (
                <td key={wheels[i]?.position} className="figure text-head font-bold">
                  {a ? f.pressure(a.nextColdKpa) : '–'}
                  {short && (
                    <p className="error" role="alert">
                      under the load minimum, {f.pressure(minimum)}
                    </p>
                  )}
                </td>
              );
            })}
          </tr>
          <tr>
            <td className="text-body">Judged by</td>
            {advice.map((a, i) => (
              <td key={wheels[i]?.position} className="narrow text-note">
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
          <tr className="[&>td]:border-t-2 [&>td]:border-t-ink">
            <td className="text-body">Target, hot</td>
            {wheels.map((w) => (
              <td key={w.position}>
                <input
                  className={input}
                  inputMode="decimal"
                  autoComplete="off"
                  aria-label={`Target, ${w.position}, ${day.targets[w.position]?.unit ?? f.unit}`}
                  placeholder={day.target.text}
                  aria-invalid={kpaOf(day.targets[w.position], 'target') === null ? true : undefined}
                  value={day.targets[w.position]?.text ?? ''}
                  onChange={(e) =>
                    setDay((now) => ({
                      ...now,
                      targets: {
                        ...now.targets,
                        [w.position]: { text: e.target.value, unit: now.targets[w.position]?.unit ?? f.unit },
                      },
                    }))
                  }
                />
              </td>
            ))}
          </tr>
          {[...day.sessions.entries()].reverse().flatMap(([i, s]) => [
            <tr key={`${i} head`} className="[&>*]:border-t [&>*]:border-t-ink">
              <th scope="rowgroup" colSpan={wheels.length + 1} className="border-b-0! text-ink!">
                <span className="flex items-center justify-between gap-3 text-body">
                  Session {i + 1}
                  <label className="flex items-center gap-1 text-note font-normal">
                    Air
                    <input
                      className="input w-[58px] px-1.5"
                      inputMode="text"
                      autoComplete="off"
                      aria-label={`Session ${i + 1}, air, °${f.temp}`}
                      aria-invalid={airOf(s.air, f.temp) === null ? true : undefined}
                      value={s.air}
                      onChange={(e) =>
                        setDay((now) => ({
                          ...now,
                          sessions: now.sessions.map((x, j) => (j === i ? { ...x, air: e.target.value } : x)),
                        }))
                      }
                    />
                    °{f.temp}
                  </label>
                </span>
              </th>
            </tr>,
            ...READS.map((r) => (
              <tr key={`${i} ${r.key}`}>
                <td className="text-body">{r.text}</td>
                {wheels.map((w, c) => {
                  const figure = s.wheels[w.position]?.[r.key];
                  const advised = r.key === 'bled' && i === last ? advice[c]?.bleedHotKpa : undefined;
                  return (
                    <td key={w.position}>
                      <input
                        className={input}
                        inputMode="decimal"
                        autoComplete="off"
                        aria-label={`Session ${i + 1}, ${r.text.toLowerCase()}, ${w.position}, ${figure?.unit ?? f.unit}`}
                        aria-invalid={kpaOf(figure, r.key) === null ? true : undefined}
                        placeholder={advised !== undefined && advised > step ? f.figure(advised) : undefined}
                        value={figure?.text ?? ''}
                        onChange={(e) => put(i, w.position, r.key, e.target.value)}
                      />
                      {figure && figure.text !== '' && figure.unit !== f.unit && (
                        <span className="block text-note">{figure.unit}</span>
                      )}
                    </td>
                  );
                })}
              </tr>
            )),
          ])}
        </tbody>
      </table>
    </Wide>
  );
}
