import { useEffect, useState } from 'react';
import { pressureAt } from '#core/gas/gas.ts';
import { settingOf } from '#core/rig/positions.ts';
import { KPA_PER_PSI } from '#core/units/units.ts';
import { limitsInForce } from '#core/watch/limits.ts';
import { useAlarms, useBench, useBenchCommand, useMonitor, useRecords, useWatch } from '../../data/queries.ts';
import { Notice } from '../../parts/controls.tsx';
import { duration, useFormat } from '../../parts/format.ts';
import { toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';

/** One alarm provoked on purpose: by how much, whether it came, after how long, and what to fill up again. */
export default function Proof() {
  const { rig, wheels } = useRig();
  const f = useFormat();
  const watch = useWatch(rig.id).data;
  const alarms = useAlarms(rig.id).data;
  const bench = useBench(rig.id).data;
  const command = useBenchCommand(rig.id);
  const { changeRig } = useRecords();
  const monitor = useMonitor(rig);
  /** The limit that rings: the owner's, or what the monitor makes of its baseline. */
  const lowOf = (w: (typeof wheels)[number]) => {
    const { lowKpa, assumed } = limitsInForce(settingOf(w, rig.loadState), monitor);
    return assumed ? null : lowKpa;
  };
  const able = wheels.filter((w) => w.wheel.sensor && lowOf(w));
  const { proof } = rig.firstDrive ?? {};
  const [position, setPosition] = useState(proof?.position ?? able[0]?.position ?? '');
  const wheel = able.find((w) => w.position === position) ?? able[0];
  // It runs until the owner has said what the monitor did; on the bench, which has none that rings, until Druckwerk's alarm comes.
  const running = proof !== undefined && proof.monitor === undefined && !(proof.practice && proof.cameAt !== undefined);
  const came = running
    ? alarms?.find(
        (a) => a.position === proof.position && a.kind === 'low' && Date.parse(a.fromTime) >= Date.parse(proof.startedAt),
      )
    : undefined;
  // What the watch has heard is written down once.
  useEffect(() => {
    if (!came || !proof) return;
    changeRig(rig.id, (r) =>
      r.firstDrive?.proof && r.firstDrive.proof.cameAt === undefined
        ? { ...r, firstDrive: { ...r.firstDrive, proof: { ...r.firstDrive.proof, cameAt: came.fromTime } } }
        : r,
    ).catch(toastError);
  }, [came, proof, changeRig, rig.id]);
  if (!wheel) return <p>A wheel with a sensor and a low limit is needed: set limits and pair first.</p>;
  const { cold } = settingOf(wheel, rig.loadState);
  const view = watch?.wheels.find((v) => v.position === wheel.position);
  const lowKpa = lowOf(wheel) ?? 0;
  const nowKpa = view?.state === 'live' ? view.pressureKpa : null;
  // Just under the limit is enough: a step of the sensor and its hysteresis.
  const toKpa = Math.max(0, lowKpa - KPA_PER_PSI);
  const airC = watch?.airC ?? cold?.tempC ?? 20;
  const refill = cold ? pressureAt(cold.kpa, cold.tempC, airC) : null;
  const begin = () =>
    void changeRig(rig.id, (r) => ({
      ...r,
      firstDrive: {
        ...r.firstDrive,
        proof: { position: wheel.position, startedAt: watch?.time ?? new Date().toISOString(), practice: bench?.open === true },
      },
    })).catch(toastError);
  const saw = (did: 'rang' | 'quiet') =>
    void changeRig(rig.id, (r) =>
      r.firstDrive?.proof
        ? {
            ...r,
            firstDrive: {
              ...r.firstDrive,
              proof: { ...r.firstDrive.proof, monitor: { did, at: watch?.time ?? new Date().toISOString() } },
            },
          }
        : r,
    ).catch(toastError);
  const afterS = proof?.monitor ? Math.round((Date.parse(proof.monitor.at) - Date.parse(proof.startedAt)) / 1000) : null;
  const seconds = proof?.cameAt ? Math.round((Date.parse(proof.cameAt) - Date.parse(proof.startedAt)) / 1000) : null;
  const waiting = running ? Math.max(0, (Date.parse(watch?.time ?? proof.startedAt) - Date.parse(proof.startedAt)) / 1000) : 0;
  return (
    <div className="max-w-[760px]">
      <div className="flex flex-wrap gap-2">
        {able.map((w) => (
          <button
            key={w.position}
            type="button"
            className={`btn ${w === wheel ? 'btn-solid' : ''}`}
            disabled={running}
            onClick={() => setPosition(w.position)}
          >
            {w.position}
          </button>
        ))}
      </div>
      <ol className="mt-4 flex flex-col gap-3 text-body">
        <li className="border-t border-rule pt-2">
          <b>1. Stand still,</b> engine off, hand brake on. {wheel.position}{' '}
          {nowKpa === null ? 'is not live now: tap the wheel.' : `reads ${f.pressure(nowKpa)}.`}
        </li>
        <li className="border-t border-rule pt-2">
          <b>2. Begin, then let air out</b> slowly, to just under {f.pressure(toKpa)}
          {nowKpa !== null && nowKpa > toKpa ? `: about ${f.pressure(nowKpa - toKpa)}` : ''}. The low alarm is at{' '}
          {f.pressure(lowKpa)}.
          <span className="mt-2 flex flex-wrap gap-2">
            {!running && (
              <button type="button" className="btn btn-solid btn-tall" onClick={begin}>
                {proof ? 'Prove it again' : `Begin with ${wheel.position}`}
              </button>
            )}
            {running && bench?.open && (
              <button
                type="button"
                className="btn btn-tall"
                onClick={() => {
                  // A sensor reads a little more or less than there is: what counts is what it says.
                  const real = bench.wheels.find((w) => w.position === proof.position)?.pressureKpa ?? lowKpa;
                  const out = Math.max(KPA_PER_PSI, (nowKpa ?? real) - toKpa + KPA_PER_PSI);
                  command.mutate(
                    { action: 'inflate', position: proof.position, kpa: Math.max(1, real - out) },
                    { onError: toastError },
                  );
                  command.mutate({ action: 'run' }, { onError: toastError });
                }}
              >
                Let it out on the bench
              </button>
            )}
          </span>
        </li>
        <li className="border-t border-rule pt-2">
          <b>3. The monitor must ring.</b> Say what it did; Druckwerk’s own alarm is no proof of it.
          <div className="mt-2" aria-live="polite">
            {running ? (
              <Notice>
                Waiting for the monitor to ring for {proof.position}, {duration(waiting)} so far.
                {proof.cameAt
                  ? ` Druckwerk’s own alarm came after ${duration(seconds ?? 0)}.`
                  : waiting > 120
                    ? ' Druckwerk hasn’t heard it either: is the sensor awake?'
                    : ''}
                <span className="mt-2 flex flex-wrap gap-2">
                  <button type="button" className="btn btn-solid btn-tall" onClick={() => saw('rang')}>
                    It rings
                  </button>
                  <button type="button" className="btn btn-tall" onClick={() => saw('quiet')}>
                    It stayed quiet
                  </button>
                  <button
                    type="button"
                    className="btn btn-tall"
                    onClick={() =>
                      void changeRig(rig.id, (r) => {
                        const { proof: _gone, ...rest } = r.firstDrive ?? {};
                        return { ...r, firstDrive: rest };
                      }).catch(toastError)
                    }
                  >
                    Give it up
                  </button>
                </span>
              </Notice>
            ) : proof?.monitor?.did === 'quiet' ? (
              <Notice tone="act">
                <b>The monitor stayed quiet for {proof.position}.</b> Don’t rely on it. Is its low limit keyed at{' '}
                {f.pressure(lowKpa)}, is its sound on, does it show this wheel’s pressure? Then prove it again.
                {proof.cameAt ? ` Druckwerk’s own alarm came after ${duration(seconds ?? 0)}.` : ''}
              </Notice>
            ) : proof?.monitor ? (
              <p>
                <b className="text-head">
                  The monitor rang for {proof.position}, {duration(afterS ?? 0)} after the beginning.
                </b>{' '}
                {proof.cameAt
                  ? `Druckwerk’s own alarm came after ${duration(seconds ?? 0)}.`
                  : 'Druckwerk’s own alarm didn’t come: it may not be heard here.'}
              </p>
            ) : proof?.cameAt ? (
              <p className="text-head font-bold">
                It came: {proof.position}, {duration(seconds ?? 0)} after the beginning, on the bench.
              </p>
            ) : (
              <p className="text-ink2">Nothing was proved yet.</p>
            )}
          </div>
        </li>
        <li className="border-t border-rule pt-2">
          <b>4. Fill it up again</b>
          {refill === null ? '.' : `, to ${f.pressure(refill)} at the ${f.temperature(airC)} it has now.`}
          {bench?.open && proof?.cameAt && (
            <button
              type="button"
              className="btn btn-small ml-2"
              onClick={() => command.mutate({ action: 'inflate', position: proof.position }, { onError: toastError })}
            >
              Fill it on the bench
            </button>
          )}
        </li>
      </ol>
    </div>
  );
}
