import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import type { FittingStep } from '#core/fitting/cards.ts';
import { partsOf } from '#core/kit/parts.ts';
import { compareReports } from '#core/report/report.ts';
import type { SensorKind } from '#schema/common.ts';
import type { Report } from '#schema/report.ts';
import { addressOf } from '../../data/address.ts';
import { ask } from '../../data/api.ts';
import { dayHere, type Format, inPairs, secondHere, useFormat } from '../../parts/format.ts';
import { Wide } from '../../parts/Wide.tsx';
import { fittingStepWords } from '../../parts/words-fitting.ts';
import { useRig } from '../../state/useRig.ts';
import { Signature } from './Signature.tsx';
import { openWords } from './words.ts';

/** The commissioning report: on the screen, on paper, as a file; dated versions, and what changed between two. */
export default function ReportPart() {
  const { rig, units } = useRig();
  const stepHead = (step: string, position: string, of: string | null) => {
    const kind = (of ?? 'cap') as SensorKind;
    return fittingStepWords(step as FittingStep, position, kind, partsOf(rig, kind)).head.toLowerCase();
  };
  const f = useFormat();
  const page = useRef<HTMLDivElement>(null);
  // A report is of the rig and its units as they are now.
  const as = [rig.id, rig.version, ...units.map((u) => u.version)];
  // A set that changed since the last version is kept with its date; one that did not is not kept twice. The list comes after that:
  // asked for at the same time it could miss the version of now.
  const list = useQuery({
    queryKey: ['reports', ...as],
    staleTime: 0,
    queryFn: async () => {
      await ask('keepReport', { params: { rig: rig.id } });
      return ask('reports', { params: { rig: rig.id } });
    },
  });
  const now = useQuery({
    queryKey: ['report', ...as],
    staleTime: 0,
    queryFn: () => ask('report', { params: { rig: rig.id } }),
  });
  const [older, setOlder] = useState<string | null>(null);
  const report = now.data;
  const versions = list.data ?? [];
  const save = (text: string, type: string, ending: string) => {
    const url = URL.createObjectURL(new Blob([text], { type }));
    const link = document.createElement('a');
    link.href = url;
    link.download = `${rig.name.replace(/[^\p{L}\p{N}]+/gu, '-').toLowerCase()}-report.${ending}`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(url), 1000);
  };
  /** The page as a file of its own: photos inside, no script, no address of this server. */
  const asHtml = async () => {
    if (!page.current || !report) return;
    const copy = page.current.cloneNode(true) as HTMLElement;
    for (const img of copy.querySelectorAll('img')) {
      const blob = await (await fetch(img.src)).blob();
      img.src = await new Promise<string>((resolve) => {
        const reader = new FileReader();
        reader.onload = () => resolve(String(reader.result));
        reader.readAsDataURL(blob);
      });
    }
    const css =
      'body{font:15px/1.4 system-ui,sans-serif;margin:24px;color:#10151a}table{border-collapse:collapse;width:100%}th,td{text-align:left;border-bottom:1px solid #bbb;padding:4px 10px 4px 0;vertical-align:top}img{height:140px;margin:4px 4px 0 0}h1{font-family:Georgia,serif}';
    const plain = (t: string) => t.replace(/[&<>]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;' })[c] ?? c);
    save(
      `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${plain(rig.name)}, commissioning report</title><style>${css}</style></head><body>${copy.innerHTML}</body></html>`,
      'text/html',
      'html',
    );
  };
  if (!report) return <p className="text-ink2">One moment…</p>;
  const other = versions.find((v) => v.id === older);
  const changes = other ? compareReports(other.report, report) : [];
  return (
    <>
      <div className="mb-4 flex flex-wrap items-end gap-3 print:hidden">
        <button type="button" className="btn btn-solid" onClick={() => window.print()}>
          Print report
        </button>
        <button type="button" className="btn" onClick={() => void asHtml()}>
          Save as a page
        </button>
        <button type="button" className="btn" onClick={() => save(JSON.stringify(report, null, 2), 'application/json', 'json')}>
          Save as JSON
        </button>
        {versions.length > 0 && (
          <label className="text-note text-ink2">
            Compare with
            <select className="input block text-ink" value={older ?? ''} onChange={(e) => setOlder(e.target.value || null)}>
              <option value="">no version</option>
              {versions.map((v) => (
                <option key={v.id} value={v.id}>
                  {secondHere(v.at)}
                </option>
              ))}
            </select>
          </label>
        )}
      </div>
      {other && (
        <section aria-label="Changes" className="mb-5 print:hidden">
          <h2 className="pb-1">Changed since {dayHere(other.at)}</h2>
          {changes.length === 0 ? (
            <p>Nothing.</p>
          ) : (
            <ul className="text-body">
              {changes.slice(0, 60).map((c) => (
                <li key={c.path}>
                  <b>{pathWords(c.path)}</b>: {valueWords(c.path, c.before, f)} → {valueWords(c.path, c.after, f)}
                </li>
              ))}
            </ul>
          )}
        </section>
      )}
      <div ref={page}>
        <h2 className="mb-1 font-display text-title font-semibold">Commissioning report, {report.rig.name}</h2>
        <p className="text-body print:block!">
          {report.rig.units.join(', ')}; {report.rig.loadState}; {report.monitor ?? 'no monitor chosen'}; {dayHere(report.at)}
        </p>
        <section aria-label="Open points" className="mt-4">
          <h2>Open points</h2>
          {report.open.length === 0 ? (
            <p>None.</p>
          ) : (
            <ul className="text-body">
              {report.open.map((o) => (
                <li key={o.code}>{openWords(o)}</li>
              ))}
            </ul>
          )}
        </section>
        <h2 className="mt-5">Sensors, pressures, limits</h2>
        <Wide label="Table of wheels">
          <table className="sheet-table">
            <thead>
              <tr>
                <th scope="col">Wheel</th>
                <th scope="col">ID</th>
                <th scope="col">Kind, stem</th>
                <th scope="col">Cold, {f.unit}</th>
                <th scope="col">Low, {f.unit}</th>
                <th scope="col">High, {f.unit}</th>
                <th scope="col">Gauge, {f.unit}</th>
                <th scope="col">Sensor, {f.unit}</th>
                <th scope="col">Verdict</th>
              </tr>
            </thead>
            <tbody>
              {report.wheels.map((w) => (
                <tr key={w.position}>
                  <td className="figure font-bold">
                    {w.position}
                    {w.place && <span className="narrow block text-note font-normal">{w.place}</span>}
                  </td>
                  <td className="figure whitespace-nowrap">{w.sensorId ? inPairs(w.sensorId) : 'open'}</td>
                  <td className="text-note">
                    {[w.kind === 'flowThrough' ? 'flow-through' : w.kind, w.stem].filter(Boolean).join(', ')}
                  </td>
                  <td className="narrow whitespace-nowrap">
                    {w.coldKpa === null ? 'not set' : `${f.figure(w.coldKpa)} at ${f.temperature(w.coldTempC ?? 20)}`}
                  </td>
                  <td className="narrow">{w.lowKpa === null ? '' : f.figure(w.lowKpa)}</td>
                  <td className="narrow">{w.highKpa === null ? '' : f.figure(w.highKpa)}</td>
                  <td className="narrow">{w.gaugeKpa === null ? '' : f.figure(w.gaugeKpa)}</td>
                  <td className="narrow">{w.sensorKpa === null ? '' : f.figure(w.sensorKpa)}</td>
                  <td className="text-note">{w.verdict ?? ''}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Wide>
        {report.keyed && (
          <>
            <h2 className="mt-5">Keyed into the monitor, {dayHere(report.keyed.at)}</h2>
            <p className="text-body print:block!">
              {Object.entries(report.keyed.groups)
                .map(
                  ([g, l]) =>
                    `${g}: ${[l.low, l.high, l.baseline ?? null].filter((v) => v !== null).join(' / ')} ${report.keyed?.unit ?? ''}`,
                )
                .join('; ')}
            </p>
          </>
        )}
        <h2 className="mt-5">Proved</h2>
        <p className="text-body print:block!">{proofWords(report.proof)}</p>
        <h2 className="mt-5">Fitting</h2>
        <ul className="text-body">
          {report.wheels
            .filter((w) => w.sensorId)
            .map((w) => (
              <li key={w.position} className="border-b border-rule py-1">
                <b>{w.position}</b>:{' '}
                {w.steps.length === 0 ? 'not ticked' : w.steps.map((s) => stepHead(s, w.position, w.kind)).join('; ')}
                {w.leak === 'none' ? '. No bubbles.' : w.leak === 'bubbles' ? '. Bubbles!' : ''}
                {w.override ? ` Against the advice: ${w.override}` : ''}
                {w.note ? ` Note: ${w.note}` : ''}
                {w.photos.length > 0 && (
                  <span className="flex flex-wrap gap-1">
                    {w.photos.map((p, i) => (
                      <img
                        key={p}
                        src={addressOf('photo', { params: { id: p } })}
                        alt={`${w.position}, number ${i + 1}`}
                        className="h-[110px]"
                      />
                    ))}
                  </span>
                )}
              </li>
            ))}
        </ul>
        {report.accepted && (
          <>
            <h2 className="mt-5">Limits that the monitor ends with</h2>
            <p className="text-body print:block!">
              They need a second look for {report.accepted.axles.join(', ')}. The owner goes on because: “{report.accepted.words}”
              ({dayHere(report.accepted.at)}).
            </p>
          </>
        )}
        <Signature report={report} />
        <p className="mt-4 text-note text-ink2 print:block!">
          A monitor does not replace a gauge, an eye on the tread, or the placard. The vehicle’s and the tire maker’s
          instructions, local codes and licensed shops come before this report.
        </p>
      </div>
    </>
  );
}

/** What was proved: by the monitor, and by Druckwerk beside it. */
function proofWords(proof: Report['proof']): string {
  if (proof?.monitor?.did === 'quiet') return `The monitor stayed quiet when the low alarm of ${proof.position} was tried.`;
  if (proof?.monitor) {
    const own = proof.seconds === null ? '' : ` Druckwerk’s own alarm came after ${proof.seconds} s.`;
    return `The monitor rang for ${proof.position}, ${proof.monitor.seconds} s after air was let out.${own}`;
  }
  if (proof?.practice && proof.seconds !== null)
    return `The low alarm of ${proof.position} came after ${proof.seconds} s, on the bench.`;
  return 'No alarm of the monitor was proved yet.';
}

const pathWords = (path: string) =>
  path
    .replace(/^wheels\//, '')
    .replaceAll('/', ' ')
    .replace(/Kpa$/, '')
    .replace(/C$/, ' temperature');
function valueWords(path: string, v: unknown, f: Format): string {
  if (v === null || v === undefined) return 'none';
  if (typeof v === 'number' && path.endsWith('Kpa')) return f.pressure(v);
  if (typeof v === 'number' && path.endsWith('C')) return f.temperature(v);
  return String(v);
}
