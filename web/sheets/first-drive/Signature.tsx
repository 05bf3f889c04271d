import { useState } from 'react';
import type { Report } from '#schema/report.ts';
import { useRecords } from '../../data/queries.ts';
import { Field } from '../../parts/controls.tsx';
import { dayHere } from '../../parts/format.ts';
import { useDraft } from '../../state/drafts.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';

const points = (n: number) => (n === 0 ? 'with nothing open' : n === 1 ? 'with one point open' : `with ${n} points open`);

/** Who signs the report. It may be signed with points open: how many is part of the signature. */
export function Signature({ report }: { report: Report }) {
  const { rig } = useRig();
  const { changeRig } = useRecords();
  const [by, setBy, dropBy] = useDraft(`report.${rig.id}.by`, '');
  const [error, setError] = useState<string | null>(null);
  const { signed } = report;
  const sign = async (e: React.FormEvent) => {
    e.preventDefault();
    if (by.trim() === '') {
      setError('Type your name or initials');
      return;
    }
    setError(null);
    try {
      const mark = { by: by.trim(), at: new Date().toISOString(), open: report.open.length };
      await changeRig(rig.id, (r) => ({ ...r, firstDrive: { ...r.firstDrive, signed: mark } }));
      dropBy();
      toast('The report is signed.', { undo: takeBack });
    } catch (failed) {
      toastError(failed);
    }
  };
  const takeBack = async () => {
    await changeRig(rig.id, ({ firstDrive, ...r }) => {
      const { signed: _old, ...rest } = firstDrive ?? {};
      return { ...r, firstDrive: rest };
    }).catch(toastError);
  };
  return (
    <section aria-label="Signature" className="mt-5">
      <h2>Signature</h2>
      {signed ? (
        <p className="text-body">
          Signed by <b>{signed.by}</b>, {dayHere(signed.at)}, {points(signed.open)}.{' '}
          {signed.open < report.open.length && <b>More is open now than when it was signed. </b>}
          <button type="button" className="btn btn-small ml-2 print:hidden" onClick={() => void takeBack()}>
            Take it back
          </button>
        </p>
      ) : (
        <>
          <form onSubmit={sign} noValidate className="flex flex-wrap items-end gap-3 print:hidden">
            <Field
              label="Your name or initials"
              value={by}
              maxLength={60}
              error={error ?? undefined}
              onChange={(e) => setBy(e.target.value)}
            />
            <button type="submit" className="btn">
              Sign it {points(report.open.length)}
            </button>
          </form>
          <p className="hidden pt-6 text-note print:block">Fitted by ______________________ on ______________</p>
        </>
      )}
    </section>
  );
}
