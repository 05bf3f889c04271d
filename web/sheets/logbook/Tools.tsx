import { LEAST_PAIRS, OFFSET_COUNTS_KPA, toolsOf } from '#core/log/tools.ts';
import { useRecords } from '../../data/queries.ts';
import { useFormat } from '../../parts/format.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';

/** Gauges and pumps, and what each reads against the sensors. */
export function Tools() {
  const { rig } = useRig();
  const f = useFormat();
  const { changeRig } = useRecords();
  const tools = toolsOf(rig.log ?? [], rig.tools);
  if (tools.length === 0) return null;
  const named = new Set((rig.log ?? []).flatMap((e) => e.tool ?? []));
  const remove = async (name: string) => {
    const before = rig.tools ?? [];
    try {
      await changeRig(rig.id, (now) => ({ ...now, tools: (now.tools ?? []).filter((t) => t.name !== name) }));
      toast(`${name} is deleted.`, {
        undo: () => void changeRig(rig.id, (now) => ({ ...now, tools: before })).catch(toastError),
      });
    } catch (error) {
      toastError(error);
    }
  };
  return (
    <section aria-label="Gauges and pumps" className="mt-6">
      <h2 className="mb-2 border-b border-ink pb-1">Gauges and pumps</h2>
      <ul>
        {tools.map((t) => (
          <li key={t.name} className="flex items-baseline justify-between gap-3 border-b border-rule py-2 text-body">
            <span>
              <b>{t.name}</b>:{' '}
              {t.offsetKpa === null
                ? t.pairs === 0
                  ? 'not read beside a sensor yet'
                  : `read beside a sensor ${t.pairs === 1 ? 'once' : `${t.pairs} times`}, ${LEAST_PAIRS} are needed`
                : Math.abs(t.offsetKpa) < OFFSET_COUNTS_KPA
                  ? `agrees with the sensors, by ${t.pairs} readings`
                  : `reads ${f.pressure(Math.abs(t.offsetKpa))} ${t.offsetKpa > 0 ? 'high' : 'low'} against the sensors, by ${t.pairs} readings`}
              {t.flowLitresPerMin !== null && `; delivers ${Math.round(t.flowLitresPerMin)} l a minute`}
            </span>
            {!named.has(t.name) && (
              <button type="button" className="btn btn-small" aria-label={`Delete ${t.name}`} onClick={() => void remove(t.name)}>
                Delete
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
