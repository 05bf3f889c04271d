import { v4 as newId } from 'uuid';
import { partsOf } from '#core/kit/parts.ts';
import { HOUSINGS, type Housing, type JobId, jobOf } from '#core/upkeep/jobs.ts';
import type { LogEntry } from '#schema/unit.ts';
import { useRecords } from '../../data/queries.ts';
import { Field, Notice } from '../../parts/controls.tsx';
import { dayHere, parseNumber } from '../../parts/format.ts';
import { SavedField } from '../../parts/SavedField.tsx';
import { useDraft } from '../../state/drafts.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { beforeJob, cellOf, type Done, withCell, withJob, withoutJob } from './done.ts';
import { HOUSING_WORDS, JOB_WORDS, STEP_WORDS, TOOL_WORDS } from './words.ts';

/** One job, step by step; done, it is in the log, on the sensor, and the parts are counted down. */
export function JobView({ id, wheel, onLeave }: { id: JobId; wheel: string; onLeave: () => void }) {
  const { rig, wheels, units } = useRig();
  const { changeRig, changeUnit } = useRecords();
  const [typed, setTyped, drop] = useDraft<{ ticked: string[]; wheel: string; note: string }>(`job.${rig.id}.${id}`, {
    ticked: [],
    wheel,
    note: '',
  });
  const sensors = wheels.filter(
    (w) => w.wheel.sensor && (id === 'sealedCell' || id === 'wake' ? w.wheel.sensor.kind === 'internal' : true),
  );
  const at = wheels.find((w) => w.position === (typed.wheel || wheel));
  const kind = at?.wheel.sensor?.kind ?? 'cap';
  const housing: Housing = rig.upkeep?.housing?.[kind] ?? 'screws';
  const job = jobOf(id, housing);
  const words = JOB_WORDS[id];
  const cell = partsOf(rig, kind).cell;
  const onHand = rig.upkeep?.onHand ?? {};
  const partName = (p: 'cell' | 'seal') => (p === 'cell' ? cell : 'seal');
  const next = job.steps.find((s) => !typed.ticked.includes(s));
  const needsWheel = job.atWheel && (at === undefined || !at.wheel.sensor);
  const done = async () => {
    const now = new Date().toISOString();
    const entry: LogEntry = {
      id: newId(),
      at: now,
      kind: id === 'cell' || id === 'sealedCell' ? 'cell' : id === 'storage' ? 'stored' : id === 'gauge' ? 'checked' : 'upkeep',
      ...(job.atWheel && at ? { position: at.position } : {}),
      job: id,
      note: [words.title, typed.note.trim()].filter(Boolean).join('. '),
    };
    const work: Done = { id, entry, parts: job.parts.map(partName) };
    const unit = at ? units[at.unitIndex] : undefined;
    const cellAt = (id === 'cell' || id === 'sealedCell') && at && unit ? { unit, local: at.position.slice(1) } : null;
    const day = dayHere(now);
    let before = beforeJob(rig, work);
    let cellBefore: string | undefined;
    try {
      await changeRig(rig.id, (r) => {
        before = beforeJob(r, work);
        return withJob(r, work);
      });
      if (cellAt)
        await changeUnit(cellAt.unit.id, (u) => {
          cellBefore = cellOf(u, cellAt.local);
          return withCell(u, cellAt.local, day);
        });
      drop({ ticked: [], wheel: '', note: '' });
      toast(`${words.title}: done${job.atWheel && at ? ` at ${at.position}` : ''}. It is in the log.`, {
        undo: () => {
          void changeRig(rig.id, (r) => withoutJob(r, work, before)).catch(toastError);
          if (cellAt)
            // Another cell that was put in since then stays.
            void changeUnit(cellAt.unit.id, (u) =>
              cellOf(u, cellAt.local) === day ? withCell(u, cellAt.local, cellBefore) : u,
            ).catch(toastError);
        },
      });
      onLeave();
    } catch (error) {
      toastError(error);
    }
  };
  return (
    <section aria-label={words.title} className="grid gap-x-10 gap-y-5 xl:grid-cols-[minmax(0,1fr)_360px]">
      <div className="min-w-0">
        <h2 className="text-big leading-tight">{words.title}</h2>
        <p className="mb-3 max-w-[64ch] text-body">{words.about}</p>
        {(job.atWheel || id === 'cell') && (
          <div className="mb-4 flex flex-wrap gap-4">
            <div className="field w-[150px]">
              <label htmlFor="job-wheel">Wheel</label>
              <select
                id="job-wheel"
                className="input"
                value={typed.wheel || wheel}
                onChange={(e) => setTyped((t) => ({ ...t, wheel: e.target.value }))}
              >
                <option value="">choose one</option>
                {sensors.map((w) => (
                  <option key={w.position} value={w.position}>
                    {w.position}
                  </option>
                ))}
              </select>
            </div>
            {id === 'cell' && (
              <div className="field w-[260px]">
                <label htmlFor="job-housing">How it opens</label>
                <select
                  id="job-housing"
                  className="input"
                  value={housing}
                  onChange={(e) => {
                    // Read now: the change is made later, and the field shows the old one until then.
                    const opens = e.target.value as Housing;
                    void changeRig(rig.id, (r) => ({
                      ...r,
                      upkeep: { ...r.upkeep, housing: { ...r.upkeep?.housing, [kind]: opens } },
                    })).catch(toastError);
                  }}
                >
                  {HOUSINGS.map((h) => (
                    <option key={h} value={h}>
                      {HOUSING_WORDS[h]}
                    </option>
                  ))}
                </select>
              </div>
            )}
          </div>
        )}
        {id === 'repeaterReset' && rig.upkeep?.keyWalk && (
          <p className="mb-3 border border-ink p-3 text-body">
            Its keys: <b>{rig.upkeep.keyWalk}</b>
          </p>
        )}
        <ol className="border-t border-ink">
          {job.steps.map((s, i) => {
            const ticked = typed.ticked.includes(s);
            return (
              <li key={s} className="border-b border-rule">
                <label
                  className={`flex min-h-[52px] items-center gap-3 py-2 ${s === next ? 'text-head font-semibold' : 'text-body'}`}
                >
                  <input
                    type="checkbox"
                    className="size-5 shrink-0"
                    checked={ticked}
                    onChange={(e) =>
                      setTyped((t) => ({ ...t, ticked: e.target.checked ? [...t.ticked, s] : t.ticked.filter((x) => x !== s) }))
                    }
                  />
                  <span className={ticked ? 'text-ink2' : ''}>
                    {i + 1}. {STEP_WORDS[s]}
                  </span>
                </label>
              </li>
            );
          })}
        </ol>
        <p className="mt-3 text-body">
          <b>Proof:</b> {words.proof}
        </p>
        <Field
          className="mt-3 max-w-[420px]"
          label="Note"
          maxLength={800}
          value={typed.note}
          onChange={(e) => setTyped((t) => ({ ...t, note: e.target.value }))}
        />
        <p className="next-step">
          <button type="button" className="btn btn-solid btn-tall" disabled={needsWheel} onClick={() => void done()}>
            {job.atWheel && at ? `Done at ${at.position}` : 'Done'}
          </button>
          <button type="button" className="btn btn-tall" onClick={onLeave}>
            All jobs
          </button>
          {needsWheel && <span className="self-center text-body">Choose the wheel first.</span>}
        </p>
      </div>
      <div className="flex flex-col gap-4">
        <Notice tone="act">{words.caution}</Notice>
        {words.mistake && (
          <Notice>
            <b>The usual mistake:</b> {words.mistake}
          </Notice>
        )}
        <SavedField
          className="max-w-[200px]"
          label="Comes back every"
          unit="months"
          inputMode="decimal"
          value={rig.upkeep?.every?.[id] === undefined ? '' : String(rig.upkeep.every[id])}
          check={(text) => {
            const n = parseNumber(text);
            return text.trim() === '' || (n !== null && n >= 0.25 && n <= 240) ? null : '0.25 to 240, or empty';
          }}
          onSave={(text) =>
            void changeRig(rig.id, (r) => {
              const { [id]: _old, ...rest } = r.upkeep?.every ?? {};
              const n = parseNumber(text);
              return { ...r, upkeep: { ...r.upkeep, every: n === null ? rest : { ...rest, [id]: n } } };
            }).catch(toastError)
          }
          hint="Empty: only when you think of it. With a figure it is on the list of what is due."
        />
        <dl className="text-body">
          <dt className="text-note text-ink2">Minutes</dt>
          <dd className="mb-2">about {job.minutes}</dd>
          {job.parts.length > 0 && (
            <>
              <dt className="text-note text-ink2">Parts</dt>
              <dd className="mb-2">
                {job.parts.map((p) => (
                  <span key={p} className="block">
                    {p === 'cell' ? cell : 'seal for its lid'}:{' '}
                    {onHand[partName(p)] === undefined ? 'not counted yet' : `${onHand[partName(p)]} on hand`}
                  </span>
                ))}
              </dd>
            </>
          )}
          {job.tools.length > 0 && (
            <>
              <dt className="text-note text-ink2">Tools</dt>
              <dd>{job.tools.map((t) => TOOL_WORDS[t] ?? t).join(', ')}</dd>
            </>
          )}
        </dl>
      </div>
    </section>
  );
}
