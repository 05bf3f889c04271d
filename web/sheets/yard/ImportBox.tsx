import { type ChangeEvent, useState } from 'react';
import { useNavigate } from 'react-router';
import { unitLetter } from '#core/rig/positions.ts';
import type { ImportPreview, RigExport } from '#schema/exchange.ts';
import type { FieldProblem } from '#schema/problem.ts';
import { ApiProblem, ask } from '../../data/api.ts';
import { useRecords } from '../../data/queries.ts';
import { Box } from '../../parts/Box.tsx';
import { Notice } from '../../parts/controls.tsx';

/** A file that was chosen: what is in it, or what is wrong with it. */
type Chosen = { file: string } & ({ problems: FieldProblem[] } | { doc: RigExport; preview: ImportPreview });

/** Read an exported rig, show what it would bring, and bring it. Nothing is written before the last press. */
export function ImportBox({ onClose }: { onClose: () => void }) {
  const navigate = useNavigate();
  const { importRig } = useRecords();
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const [busy, setBusy] = useState(false);
  const told = (error: unknown): FieldProblem[] =>
    error instanceof ApiProblem && error.errors.length > 0 ? error.errors : [{ pointer: '', detail: (error as Error).message }];
  const choose = async (event: ChangeEvent<HTMLInputElement>) => {
    const file = event.target.files?.[0];
    if (!file) return;
    try {
      // The server says what is wrong with it when it is none.
      const doc = JSON.parse(await file.text()) as RigExport;
      setChosen({ file: file.name, doc, preview: await ask('rigs.previewImport', { body: doc }) });
    } catch (error) {
      const problems = error instanceof SyntaxError ? [{ pointer: '', detail: `is not JSON: ${error.message}` }] : told(error);
      setChosen({ file: file.name, problems });
    }
  };
  const bring = async (leaveOut: boolean) => {
    if (!chosen || !('doc' in chosen)) return;
    setBusy(true);
    try {
      const rig = await importRig(chosen.doc, leaveOut);
      navigate(`/rigs/${rig.id}/layout`);
    } catch (error) {
      setChosen({ file: chosen.file, problems: told(error) });
      setBusy(false);
    }
  };
  const preview = chosen && 'preview' in chosen ? chosen.preview : null;
  return (
    <Box open title="Import a rig" onClose={onClose}>
      <label className="field block">
        <span className="mb-1 block text-note text-ink2">A file that was exported from Druckwerk (.rig.json)</span>
        <input type="file" accept=".json,application/json" className="input py-1" onChange={(e) => void choose(e)} />
      </label>
      {chosen && 'problems' in chosen && (
        <div className="mt-4" role="alert">
          <p className="font-semibold">
            {chosen.file} cannot be taken.{' '}
            {chosen.problems.length === 1 ? 'One thing is' : `${chosen.problems.length} things are`} wrong; nothing was changed.
          </p>
          <ul className="mt-2 max-h-[30vh] overflow-auto text-body">
            {chosen.problems.map((p) => (
              <li key={`${p.pointer} ${p.detail}`} className="border-b border-rule py-1">
                {p.pointer && <code className="mr-2">{p.pointer}</code>}
                {p.detail}
              </li>
            ))}
          </ul>
        </div>
      )}
      {preview && (
        <div className="mt-4">
          <p>
            <b>{preview.name}</b> comes with {preview.units.length === 1 ? 'one unit' : `${preview.units.length} units`}
            {preview.monitor ? ` and the monitor “${preview.monitor}”` : ''}:
          </p>
          <ul className="my-2 text-body">
            {preview.units
              .map((u, i) => ({ ...u, letter: unitLetter(i) }))
              .map((u) => (
                <li key={u.letter} className="border-b border-rule py-1">
                  {u.letter} {u.name}: {u.wheels} wheels, {u.sensors} sensors
                </li>
              ))}
          </ul>
          {preview.taken.length > 0 && (
            <Notice>
              {preview.taken.length === 1 ? 'One sensor is' : `${preview.taken.length} sensors are`} on a wheel here already, and
              a sensor is on one wheel only: {preview.taken.map((t) => `${t.sensorId} (${t.by})`).join(', ')}.
            </Notice>
          )}
          <p className="mt-3">
            <button type="button" className="btn btn-solid" disabled={busy} onClick={() => void bring(preview.taken.length > 0)}>
              {preview.taken.length > 0 ? 'Import without those sensors' : 'Import'}
            </button>
          </p>
        </div>
      )}
    </Box>
  );
}
