import { useMemo, useState } from 'react';
import { rigKeyed } from '#core/alarms/keyed.ts';
import { type GuardedAxle, isAccepted, type Stop, stopsOf, waysOut } from '#core/alarms/rig-held.ts';
import type { Monitor } from '#schema/monitor.ts';
import { useMonitors, useRecords } from '../data/queries.ts';
import { useDraft } from '../state/drafts.ts';
import { guardedPlan, usePlans } from '../state/plans.ts';
import { toast, toastError } from '../state/toast.ts';
import { useRig } from '../state/useRig.ts';
import { Field, Notice } from './controls.tsx';
import { dayHere, useFormat } from './format.ts';
import { stopWords, wayWords } from './words-held.ts';

/** What has to be stopped at in the limits that a monitor ends with, and whether its owner gave a reason to go on. */
export function useHeldStops(monitor: Monitor | null | undefined): {
  stops: Stop[];
  accepted: boolean;
  axles: GuardedAxle[];
} {
  const whole = useRig();
  const plans = usePlans(whole);
  return useMemo(() => {
    const axles = plans.map((h) => guardedPlan(h));
    const stops = monitor ? stopsOf(monitor, axles, rigKeyed(whole.rig, whole.units, monitor)) : [];
    return { stops, accepted: isAccepted(whole.rig.accepted, stops), axles };
  }, [plans, monitor, whole]);
}

/** Said loudly where a monitor ends with limits that guard nothing, or ring for ever; with the ways out, and a reason to go on. */
export function HeldStops({ monitor }: { monitor: Monitor | null | undefined }) {
  const { rig } = useRig();
  const f = useFormat();
  const monitors = useMonitors().data;
  const whole = useRig();
  const plans = usePlans(whole);
  const { changeRig } = useRecords();
  const { stops, accepted, axles } = useHeldStops(monitor);
  const [words, setWords, drop] = useDraft(`held.${rig.id}`, '');
  const [error, setError] = useState<string | null>(null);
  const ways = useMemo(
    () =>
      monitor && stops.length > 0
        ? waysOut(monitor, axles, (code) => plans.find((p) => p.code === code)?.facts.maxColdKpa, monitors ?? [])
        : [],
    [monitor, stops, axles, plans, monitors],
  );
  if (!monitor || stops.length === 0) return null;
  const accept = async (e: React.FormEvent) => {
    e.preventDefault();
    if (words.trim().length < 10) {
      setError('Say why, in ten characters or more');
      return;
    }
    setError(null);
    const before = rig.accepted;
    try {
      const mark = {
        stops: [...new Set(stops.map((s) => `${s.axle} ${s.code}`))],
        words: words.trim(),
        at: new Date().toISOString(),
      };
      await changeRig(rig.id, (r) => ({ ...r, accepted: mark }));
      drop();
      toast('Your reason is noted. It appears on the report.', {
        undo: async () => {
          await changeRig(rig.id, ({ accepted: _now, ...r }) => (before ? { ...r, accepted: before } : r)).catch(toastError);
        },
      });
    } catch (failed) {
      toastError(failed);
    }
  };
  return (
    <section aria-label="What this monitor can’t do" className="my-4 max-w-[80ch]">
      <Notice tone="act">
        <b>Stop: as they end up in {monitor.name}, these limits don’t guard this rig.</b>
        <ul className="mt-1">
          {stops.map((s) => (
            <li key={`${s.axle} ${s.code}`}>{stopWords(s, f)}</li>
          ))}
        </ul>
        {ways.length > 0 && (
          <>
            <p className="mt-2 font-semibold">Ways out, the best first</p>
            <ol className="list-decimal pl-5">
              {ways.map((w) => (
                <li key={JSON.stringify(w)}>{wayWords(w, f)}</li>
              ))}
            </ol>
          </>
        )}
        {accepted && rig.accepted ? (
          <p className="mt-2">
            You go on because: “{rig.accepted.words}” ({dayHere(rig.accepted.at)}).
          </p>
        ) : (
          <form onSubmit={accept} noValidate className="mt-2 flex flex-wrap items-end gap-3">
            <Field
              label="Or say why you go on like this"
              className="grow"
              value={words}
              maxLength={300}
              error={error ?? undefined}
              onChange={(e) => setWords(e.target.value)}
            />
            <button type="submit" className="btn">
              Go on like this
            </button>
          </form>
        )}
      </Notice>
    </section>
  );
}
