import {
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  TouchSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { type ReactNode, useState } from 'react';
import { afterRotation, crosses, ROTATIONS, rotationOf, rotationWork, withSwap } from '#core/pairing/rotation.ts';
import { type RigWheel, unitLetter } from '#core/rig/positions.ts';
import type { BenchCommand } from '#schema/bench.ts';
import type { BookEntry, Unit } from '#schema/unit.ts';
import { useBench, useBenchCommand, useMonitor, useRecords } from '../../data/queries.ts';
import { Switch } from '../../parts/controls.tsx';
import { inPairs } from '../../parts/format.ts';
import { PlainWheel } from '../../parts/PlainWheel.tsx';
import { RigPlan, useLie, useNarrow } from '../../parts/RigPlan.tsx';
import { useDraft } from '../../state/drafts.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { rotationNames } from './words.ts';

/** A wheel that can be taken and dropped onto another. */
function Place({ position, children }: { position: string; children: ReactNode }) {
  const drop = useDroppable({ id: position });
  const drag = useDraggable({ id: position });
  return (
    <div
      ref={(el) => {
        drop.setNodeRef(el);
        drag.setNodeRef(el);
      }}
      className={`h-full ${drop.isOver ? 'outline-3 outline-cyan' : ''}`}
      style={
        drag.transform
          ? { transform: `translate(${drag.transform.x}px, ${drag.transform.y}px)`, position: 'relative', zIndex: 5 }
          : undefined
      }
      {...drag.listeners}
    >
      {children}
    </div>
  );
}

/** Wheels were moved: by a pattern, or one for one; and what to do about their sensors. */
export function RotationPart() {
  const { rig, units, wheels } = useRig();
  const lie = useLie();
  const narrow = useNarrow();
  const monitor = useMonitor(rig);
  const bench = useBench(rig.id).data;
  const command = useBenchCommand(rig.id);
  const { changeUnit } = useRecords();
  const [unitIndex, setUnitIndex] = useState(0);
  const unit = units[unitIndex] ?? units[0];
  const letter = unitLetter(unitIndex);
  const key = `rotation.${unit?.id ?? ''}`;
  const [moves, setMoves, dropMoves] = useDraft<Record<string, string>>(key, {});
  const [picked, setPicked] = useState<string | null>(null);
  const [done, setDone] = useState<string[]>([]);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 150, tolerance: 8 } }),
    useSensor(KeyboardSensor),
  );
  if (!unit) return null;
  const put = (next: Record<string, string>) => {
    setMoves(next);
    setDone([]);
  };
  const choose = (i: number) => {
    setUnitIndex(i);
    setPicked(null);
    setDone([]);
  };
  const tap = (w: RigWheel) => {
    if (w.unit.id !== unit.id) return;
    if (picked === null) setPicked(w.local);
    else {
      if (picked !== w.local) put(withSwap(moves, picked, w.local));
      setPicked(null);
    }
  };
  const dropped = ({ active, over }: DragEndEvent) => {
    const from = wheels.find((w) => w.position === active.id);
    const to = wheels.find((w) => w.position === over?.id);
    if (from && to && from !== to && from.unit.id === unit.id && to.unit.id === unit.id)
      put(withSwap(moves, from.local, to.local));
    setPicked(null);
  };
  const cameFrom = (local: string) => Object.entries(moves).find(([, to]) => to === local)?.[0];
  const work = rotationWork(unit, moves);
  const moved = Object.keys(moves).length > 0;
  const practising = bench?.open === true;
  const canExchange = monitor?.canExchange !== false;
  const name = (local: string) => letter + local;
  const bare = (c: BenchCommand, step: string) =>
    command.mutate(c, { onError: toastError, onSuccess: () => setDone((d) => [...d, step]) });
  const write = async () => {
    let before: Unit | null = null;
    const at = new Date().toISOString();
    try {
      await changeUnit(unit.id, (now) => {
        before = now;
        const next = afterRotation(now, moves);
        const entries: BookEntry[] = [...now.axles.flatMap((a) => a.wheels), ...now.spares.map((s) => s.wheel)].flatMap((w) =>
          w.sensor?.kind === 'internal' && moves[w.position] !== undefined
            ? [
                {
                  position: w.position,
                  sensorId: w.sensor.id,
                  kind: w.sensor.kind,
                  ...(w.sensor.pairedAt ? { since: w.sensor.pairedAt } : {}),
                  until: at,
                  why: 'rotated' as const,
                },
              ]
            : [],
        );
        return entries.length > 0 ? { ...next, idBook: [...(now.idBook ?? []), ...entries].slice(-400) } : next;
      });
      dropMoves();
      setDone([]);
      toast('The rotation is written down.', {
        undo: async () => {
          if (before) await changeUnit(unit.id, (u) => ({ ...(before as Unit), version: u.version })).catch(toastError);
        },
      });
    } catch (error) {
      toastError(error);
    }
  };
  const benchMoves = Object.fromEntries(Object.entries(moves).map(([from, to]) => [name(from), name(to)]));
  return (
    <div className="grid gap-x-8 gap-y-6 xl:grid-cols-[minmax(0,1fr)_376px]">
      <div className="min-w-0">
        {units.length > 1 && (
          <div className="mb-3">
            <Switch
              label="Unit whose wheels were moved"
              value={String(unitIndex)}
              options={units.map((u, i) => ({ value: String(i), text: `${unitLetter(i)} ${u.name}` }))}
              onChange={(v) => choose(Number(v))}
            />
          </div>
        )}
        <div className="mb-3 flex flex-wrap gap-2">
          {ROTATIONS.map((r) => {
            const pattern = rotationOf(unit, r);
            return (
              pattern && (
                <button key={r} type="button" className="btn" onClick={() => put(pattern)}>
                  {rotationNames[r]}
                </button>
              )
            );
          })}
          {moved && (
            <button type="button" className="btn" onClick={() => put({})}>
              Nothing was moved
            </button>
          )}
        </div>
        <DndContext sensors={sensors} onDragEnd={dropped}>
          <RigPlan
            label="Wheels to move"
            units={units}
            wheels={wheels}
            lie={lie}
            size={96}
            tallness={narrow ? 52 : 74}
            wheel={(w) => {
              const own = w.unit.id === unit.id;
              const from = own ? cameFrom(w.local) : undefined;
              const wheel = (
                <PlainWheel
                  wheel={w}
                  selected={own && picked === w.local}
                  paired={own}
                  stripe={from !== undefined}
                  label={`${w.position}${from ? `: the wheel from ${name(from)} is here` : ''}`}
                  onSelect={() => tap(w)}
                >
                  <span className="figure text-big leading-none font-bold">{w.position}</span>
                  <span className="narrow text-note">{from ? `from ${name(from)}` : own ? 'stays' : ''}</span>
                </PlainWheel>
              );
              return own ? <Place position={w.position}>{wheel}</Place> : wheel;
            }}
          />
        </DndContext>
        <p className="mt-2 max-w-[70ch] text-note text-ink2">
          Pick a pattern, drag a wheel onto another, or tap the two. Directional tires stay on their side; the vehicle’s handbook
          comes before any pattern. Jack on level ground, use stands, chock the wheels.
        </p>
      </div>
      <section aria-label="What to do">
        <h2 className="border-b border-ink pb-2">What to do about the sensors</h2>
        {!moved ? (
          <p className="mt-3 text-body">Choose how the wheels were moved to see what to do with the sensors.</p>
        ) : (
          <>
            {practising && (
              <p className="mt-3">
                <button
                  type="button"
                  className="btn"
                  disabled={done.includes('wheels')}
                  onClick={() => bare({ action: 'rotateWheels', moves: benchMoves }, 'wheels')}
                >
                  {done.includes('wheels') ? 'The wheels are moved on the bench' : 'Move the wheels on the bench'}
                </button>
              </p>
            )}
            {work.putBack.length > 0 && (
              <>
                <h3 className="mt-4">Unscrew and put back</h3>
                <ol className="mt-1">
                  {work.putBack.map((p, i) => (
                    <li key={p.sensorId} className="flex items-center justify-between gap-3 border-b border-rule py-2 text-body">
                      <span>
                        {i + 1}. <b className="figure">{inPairs(p.sensorId)}</b>: off {name(p.from)}, onto {name(p.to)}
                        {crosses(p.from, p.to) ? ', the other side' : ''}
                      </span>
                      {practising && (
                        <button
                          type="button"
                          className="btn btn-small"
                          disabled={done.includes(p.sensorId)}
                          onClick={() => bare({ action: 'fit', sensorId: p.sensorId, position: name(p.to) }, p.sensorId)}
                        >
                          Do it
                        </button>
                      )}
                    </li>
                  ))}
                </ol>
                <p className="mt-1 text-note text-ink2">They know their position, not their tire: the monitor needs nothing.</p>
              </>
            )}
            {work.exchanges.length > 0 && (
              <>
                <h3 className="mt-4">{canExchange ? 'Exchange on the monitor, in this order' : 'Pair again'}</h3>
                {canExchange ? (
                  <ol className="mt-1">
                    {work.exchanges.map(([a, b], i) => (
                      <li
                        key={`${a} ${b}`}
                        className="flex items-center justify-between gap-3 border-b border-rule py-2 text-head"
                      >
                        <span>
                          {i + 1}. <b>{name(a)}</b> with <b>{name(b)}</b>
                        </span>
                        {practising && (
                          <button
                            type="button"
                            className="btn btn-small"
                            disabled={
                              done.includes(`${a} ${b}`) || (i > 0 && !done.includes((work.exchanges[i - 1] ?? []).join(' ')))
                            }
                            onClick={() => bare({ action: 'exchange', a: name(a), b: name(b) }, `${a} ${b}`)}
                          >
                            Exchange {name(a)} with {name(b)}
                          </button>
                        )}
                      </li>
                    ))}
                  </ol>
                ) : (
                  <p className="mt-1 text-body">
                    This monitor exchanges no positions: pair {[...new Set(work.exchanges.flat())].map(name).join(', ')} again.
                  </p>
                )}
              </>
            )}
            {work.pairAgain.length > 0 && (
              <p className="mt-3 text-body">
                Pair again: {work.pairAgain.map(name).join(', ')} got a wheel whose place stays empty.
              </p>
            )}
            {work.putBack.length === 0 && work.exchanges.length === 0 && work.pairAgain.length === 0 && (
              <p className="mt-3 text-body">None of these wheels has a sensor: nothing to do.</p>
            )}
            <button type="button" className="btn btn-solid mt-4 btn-tall" onClick={() => void write()}>
              All done: write it down
            </button>
          </>
        )}
        {monitor?.idSets !== undefined && monitor.idSets > 1 && (
          <p className="mt-4 text-body text-ink2">
            The {monitor.name} holds {monitor.idSets} sets of IDs at once: two wheel sets can alternate without pairing again.
          </p>
        )}
      </section>
    </div>
  );
}
