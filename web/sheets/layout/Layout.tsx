import { useQueryClient } from '@tanstack/react-query';
import { useMemo, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link } from 'react-router';
import { freeLists } from '#core/kit/lists.ts';
import { reorderUnits } from '#core/rig/order.ts';
import {
  AXLE_LAYOUTS,
  type AxleLayout,
  isMotorcycle,
  layoutOf,
  MAX_UNITS,
  makeAxle,
  type RigWheel,
  renumber,
  unitLetter,
} from '#core/rig/positions.ts';
import type { ChangeStep } from '#schema/changes.ts';
import type { Axle, Rig, Stem, Unit } from '#schema/unit.ts';
import { keys, unitsOf, useMonitor, useRecords, useRigs, useUnits } from '../../data/queries.ts';
import { Notice, SheetHead, Switch } from '../../parts/controls.tsx';
import { idText, parseLength, parseNumber } from '../../parts/format.ts';
import { PlainWheel } from '../../parts/PlainWheel.tsx';
import { RigPlan, useLie, useNarrow } from '../../parts/RigPlan.tsx';
import { SavedField } from '../../parts/SavedField.tsx';
import { StandSwitch } from '../../parts/StandSwitch.tsx';
import { placeInWords } from '../../parts/words.ts';
import { tryMarking } from '../../state/marking.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { withWheel } from '../../state/wheels.ts';
import { MarkingRead } from './MarkingRead.tsx';
import { WheelSets } from './WheelSets.tsx';

const layoutNames: Record<AxleLayout, string> = {
  single: 'single',
  dual: 'dual',
  centre: 'one wheel',
  sidecarRight: 'sidecar right',
  sidecarLeft: 'sidecar left',
};

/** A step that can be taken back: documents as they were before and after. */
interface Edit {
  what: string;
  before: { units: Unit[]; rig: Rig };
  after: { units: Unit[]; rig: Rig };
}

/** What was done on this page, so that it can be undone. It is kept while the app is open. */
const histories = new Map<string, { done: Edit[]; undone: Edit[] }>();

/** Changes to the rig, each saved at once and each undoable. */
function useEditor() {
  const { rig, units } = useRig();
  const { changeAll } = useRecords();
  const client = useQueryClient();
  const [, redraw] = useState(0);
  const queue = useRef<Promise<void>>(Promise.resolve());
  let history = histories.get(rig.id);
  if (!history) {
    history = { done: [], undone: [] };
    histories.set(rig.id, history);
  }
  const book = history;

  /** The documents as they are stored now, which may be younger than what is drawn. */
  const current = (): Edit['before'] => {
    const stored = client.getQueryData<Rig[]>(keys.rigs)?.find((r) => r.id === rig.id) ?? rig;
    return { rig: stored, units: unitsOf(stored, client.getQueryData<Unit[]>(keys.units) ?? units) };
  };
  /** Bring the stored documents to a wanted state, whatever their version is now. */
  const reach = async (want: { units: Unit[]; rig: Rig }) => {
    const now = current().rig;
    const head = (r: Rig) => JSON.stringify([r.unitIds, r.name, r.note, r.unwatched, r.pairing?.byUnit, r.map, r.lists]);
    const steps: ChangeStep[] = [];
    if (head(now) !== head(want.rig)) {
      steps.push({ do: 'putRig', doc: { ...want.rig, version: now.version, loadState: now.loadState } });
    }
    const stored = client.getQueryData<Unit[]>(keys.units) ?? units;
    for (const unit of want.units) {
      const old = stored.find((u) => u.id === unit.id);
      if (old && JSON.stringify({ ...old, version: 0 }) !== JSON.stringify({ ...unit, version: 0 })) {
        steps.push({ do: 'putUnit', doc: { ...unit, version: old.version } });
      }
    }
    // All of it or none: an edit that was taken half way could be undone by nothing.
    if (steps.length > 0) await changeAll(steps);
  };
  /** One after the other: a key that is pressed twice in a row counts twice. */
  const guard = (work: () => Promise<void>): Promise<void> => {
    queue.current = queue.current.then(work).catch(toastError);
    return queue.current.then(() => redraw((n) => n + 1));
  };
  /** Change what is stored now: `work` is given that, which may be younger than what is drawn. */
  const change = (what: string, work: (now: Edit['before']) => Edit['after']) =>
    guard(async () => {
      const before = current();
      const after = work(before);
      await reach(after);
      book.done.push({ what, before, after });
      book.undone.length = 0;
    });
  const onUnit = (what: string, index: number, work: (unit: Unit) => Unit) =>
    change(what, (now) => ({ ...now, units: now.units.map((u, i) => (i === index ? renumber(work(u)) : u)) }));
  const onRig = (what: string, work: (rig: Rig) => Rig) => change(what, (now) => ({ ...now, rig: work(now.rig) }));
  const undo = () =>
    guard(async () => {
      const edit = book.done.at(-1);
      if (!edit) return;
      await reach(edit.before);
      book.done.pop();
      book.undone.push(edit);
      toast(`Undone: ${edit.what}`);
    });
  const redo = () =>
    guard(async () => {
      const edit = book.undone.at(-1);
      if (!edit) return;
      await reach(edit.after);
      book.undone.pop();
      book.done.push(edit);
      toast(`Done again: ${edit.what}`);
    });
  return { onUnit, onRig, undo, redo, canUndo: book.done.at(-1)?.what ?? null, canRedo: book.undone.at(-1)?.what ?? null };
}

const needName = (text: string) =>
  text.trim() === '' ? 'Give it a name' : text.trim().length > 80 ? 'At most 80 characters' : null;
const checkLength = (text: string) => {
  if (text.trim() === '') return null;
  const n = parseLength(text);
  return n === null ? 'Type metres, or feet as in 21 ft' : n < 0 || n > 30 ? 'Between 0 and 30 m' : null;
};
const needLitres = (text: string) => {
  const n = parseNumber(text);
  return n === null ? 'Type a number' : n < 1 || n > 400 ? 'Between 1 and 400 litres' : null;
};

/** The plan is the editor: select a wheel, an axle or a unit on it. */
export default function Layout() {
  const { rig, units, allWheels: wheels } = useRig();
  const allUnits = useUnits();
  const rigs = useRigs();
  const monitor = useMonitor(rig);
  const { addUnit } = useRecords();
  const { onUnit, onRig, undo, redo, canUndo, canRedo } = useEditor();
  const narrow = useNarrow();
  const lie = useLie();
  const [position, setPosition] = useState<string | null>(null);
  const selected = wheels.find((w) => w.position === position) ?? wheels[0];
  useHotkeys('mod+z', () => void undo(), { preventDefault: true });
  useHotkeys('mod+shift+z, mod+y', () => void redo(), { preventDefault: true });

  const onAxles = (index: number, what: string, work: (axles: Axle[]) => Axle[]) =>
    void onUnit(what, index, (unit) => ({ ...unit, axles: work(unit.axles) }));
  const onAxle = (index: number, ai: number, what: string, work: (axle: Axle) => Axle) =>
    onAxles(index, what, (axles) => axles.map((a, i) => (i === ai ? work(a) : a)));
  const setLayout = (ui: number, ai: number, layout: AxleLayout) =>
    onAxles(ui, `axle ${unitLetter(ui)}${ai + 1} ${layoutNames[layout]}`, (axles) =>
      axles.map((a, i) => (i === ai ? makeAxle(layout, ai + 1, a) : a)),
    );
  const addAxle = (ui: number) =>
    onAxles(ui, 'axle added', (axles) => {
      const last = axles.at(-1);
      const layout = (last && layoutOf(last)) ?? 'single';
      const fresh = makeAxle(layout === 'dual' || layout === 'centre' ? layout : 'single', axles.length + 1);
      return [...axles, { ...fresh, ...(last?.airLitres ? { airLitres: last.airLitres } : {}) }];
    });
  const removeAxle = (ui: number, ai: number) => {
    setPosition(null);
    onAxles(ui, `axle ${unitLetter(ui)}${ai + 1} removed`, (axles) => axles.filter((_, i) => i !== ai));
  };
  const moveAxle = (ui: number, ai: number, by: number) =>
    onAxles(ui, 'axles reordered', (axles) => {
      const list = [...axles];
      const [axle] = list.splice(ai, 1);
      if (axle) list.splice(ai + by, 0, axle);
      return list;
    });
  const setSpares = (ui: number, by: 1 | -1) =>
    void onUnit(by > 0 ? 'spare added' : 'spare removed', ui, (unit) => {
      if (by < 0) return { ...unit, spares: unit.spares.slice(0, -1) };
      const litres = unit.axles.at(-1)?.airLitres;
      const wheel = { position: `S${unit.spares.length + 1}`, sensor: null };
      return { ...unit, spares: [...unit.spares, { wheel, settings: {}, ...(litres ? { airLitres: litres } : {}) }] };
    });
  const addToRig = async (make: () => Promise<string>) => {
    try {
      const id = await make();
      await onRig('unit added', (r) => {
        const next = reorderUnits(r, [...r.unitIds, id]);
        if (!monitor || monitor.units < 2) return next;
        // The same monitor may pull other trailers: this one gets a list of its own, or the one it has there already.
        const lists = freeLists(next, rigs.data ?? [], monitor);
        const list = lists[monitor.listing === 'long' ? 'A' : unitLetter(next.unitIds.length - 1)];
        if (list !== undefined && list < monitor.units) toast(`Switch the monitor to list ${list + 1}.`);
        return (rigs.data ?? []).some((x) => x.id !== r.id && x.monitorId === monitor.id) ? { ...next, lists } : next;
      });
    } catch (error) {
      toastError(error);
    }
  };
  const addNewUnit = (kind: 'vehicle' | 'trailer') =>
    addToRig(async () => {
      const axles = kind === 'trailer' ? [makeAxle('single', 1)] : [makeAxle('single', 1), makeAxle('single', 2)];
      return (await addUnit({ name: kind === 'trailer' ? 'Trailer' : 'Towed car', kind, axles, spares: [] })).id;
    });
  const removeUnit = (ui: number) => {
    setPosition(null);
    void onRig(`${units[ui]?.name} taken out`, (r) =>
      reorderUnits(
        r,
        r.unitIds.filter((_, i) => i !== ui),
      ),
    );
  };
  const moveUnit = (ui: number, by: number) =>
    void onRig('units reordered', (r) => {
      const unitIds = [...r.unitIds];
      const [id] = unitIds.splice(ui, 1);
      if (id) unitIds.splice(ui + by, 0, id);
      return reorderUnits(r, unitIds);
    });
  const setWatched = (ui: number, on: boolean) => {
    const letter = unitLetter(ui);
    void onRig(`${units[ui]?.name} ${on ? 'watched' : 'not watched'}`, ({ unwatched = [], ...r }) => {
      const list = on ? unwatched.filter((l) => l !== letter) : [...unwatched, letter];
      return list.length > 0 ? { ...r, unwatched: list } : r;
    });
  };
  const setStem = (wheel: RigWheel, stem: Stem) =>
    void onUnit(`${wheel.position} ${stem} stem`, wheel.unitIndex, (u) => withWheel(wheel, (w) => ({ ...w, stem }), u));
  const others = useMemo(() => allUnits.data?.filter((u) => !rig.unitIds.includes(u.id)) ?? [], [allUnits.data, rig.unitIds]);

  const ui = selected?.unitIndex ?? 0;
  const unit = units[ui];
  const ai = selected?.axleIndex ?? null;
  const axle = ai === null ? null : (unit?.axles[ai] ?? null);
  return (
    <>
      <SheetHead
        title="Layout"
        aside={
          <div className="flex gap-2">
            <button
              type="button"
              className="btn btn-small"
              disabled={!canUndo}
              onClick={() => void undo()}
              title={canUndo ?? undefined}
            >
              Undo <span className="kbd">Ctrl Z</span>
            </button>
            <button
              type="button"
              className="btn btn-small"
              disabled={!canRedo}
              onClick={() => void redo()}
              title={canRedo ?? undefined}
            >
              Redo
            </button>
          </div>
        }
      >
        {
          {
            across: 'The road is to the left.',
            up: 'The road is up.',
            fromLeft: 'You stand left of the rig, the road is to the left.',
            fromRight: 'You stand right of the rig, the road is to the right.',
          }[lie]
        }{' '}
        Left is always as seen from the driver’s seat. Select a wheel to change its axle or unit.
      </SheetHead>
      <div className="grid gap-6 xl:grid-cols-[minmax(0,1fr)_320px]">
        <div className="min-w-0">
          <div className="mb-3">
            <StandSwitch />
          </div>
          <RigPlan
            label="Layout of the rig"
            units={units}
            wheels={wheels}
            lie={lie}
            size={100}
            wheel={(w) => (
              <PlainWheel wheel={w} selected={w === selected} paired={w.wheel.sensor !== null} onSelect={setPosition}>
                <span className="figure text-big leading-none font-bold">{w.position}</span>
                <span className="narrow text-note leading-tight">
                  {w.wheel.stem ? `${w.wheel.stem} stem` : 'stem not said'}
                  <br />
                  <span className="text-ink2">{w.wheel.sensor ? idText(w.wheel.sensor) : 'no sensor'}</span>
                </span>
              </PlainWheel>
            )}
            underAxle={(u, a) => {
              const here = units[u]?.axles[a];
              const layout = here ? layoutOf(here) : null;
              const name = `${unitLetter(u)}${a + 1}`;
              return (
                <div className={`flex gap-1 ${narrow ? 'flex-col pl-1' : 'flex-wrap justify-center'}`}>
                  {(layout === 'single' || layout === 'dual') && (
                    <button
                      type="button"
                      className="btn btn-small"
                      onClick={() => setLayout(u, a, layout === 'single' ? 'dual' : 'single')}
                    >
                      <span className="sr-only">{name}: </span>
                      {layout === 'single' ? 'Make dual' : 'Make single'}
                    </button>
                  )}
                  {(units[u]?.axles.length ?? 0) > 1 && (
                    <button
                      type="button"
                      className="btn btn-small"
                      onClick={() => removeAxle(u, a)}
                      aria-label={`Remove axle ${name}`}
                    >
                      Remove
                    </button>
                  )}
                </div>
              );
            }}
          />
          <div className="mt-6 flex flex-wrap gap-2">
            {units.map((u, i) => (
              <button key={u.id} type="button" className="btn" disabled={u.axles.length >= 9} onClick={() => addAxle(i)}>
                Add axle to {unitLetter(i)}
              </button>
            ))}
            {units.length < MAX_UNITS && (
              <>
                <button type="button" className="btn" onClick={() => void addNewUnit('trailer')}>
                  Add trailer
                </button>
                <button type="button" className="btn" onClick={() => void addNewUnit('vehicle')}>
                  Add towed vehicle
                </button>
              </>
            )}
          </div>
          {others.length > 0 && units.length < MAX_UNITS && (
            <details className="mt-4 text-body">
              <summary className="underline underline-offset-3">Hitch a unit you already have</summary>
              <p className="my-2 text-ink2">The unit is shared: what is set or fitted on it here holds in its other rigs too.</p>
              <ul className="flex flex-wrap gap-2">
                {others.map((u) => (
                  <li key={u.id}>
                    <button type="button" className="btn btn-small" onClick={() => void addToRig(async () => u.id)}>
                      {u.name}
                    </button>
                  </li>
                ))}
              </ul>
            </details>
          )}
          <p className="next-step">
            <Link className="btn btn-solid" to={`/rigs/${rig.id}/kit`}>
              Next: kit
            </Link>
          </p>
        </div>
        <aside aria-label="What is selected" className="flex flex-col gap-4">
          {unit && selected && (
            <>
              <h2 className="border-b border-ink pb-1">Wheel {selected.position}</h2>
              <p className="text-body text-ink2">{placeInWords(selected.local, unit.name, unit.axles.length)}</p>
              <div className="flex items-center gap-2">
                <span className="text-note text-ink2">Valve stem</span>
                <Switch
                  label={`Valve stem of ${selected.position}`}
                  value={selected.wheel.stem ?? ''}
                  options={[
                    { value: 'metal', text: 'Metal' },
                    { value: 'rubber', text: 'Rubber' },
                  ]}
                  onChange={(stem) => setStem(selected, stem as Stem)}
                />
              </div>
              {selected.wheel.stem === 'rubber' && (
                <Notice>
                  {isMotorcycle(unit)
                    ? 'On a motorcycle use metal stems only: a sensor that shears a rubber stem empties the tire while riding.'
                    : 'Rubber takes a light cap at most, and metal is safer. A flow-through sensor needs a metal stem: a rubber one cracks, leaks or shears.'}
                </Notice>
              )}
              {axle && ai !== null && (
                <>
                  <h2 className="mt-2 border-b border-ink pb-1">
                    Axle {unitLetter(ui)}
                    {ai + 1}
                  </h2>
                  <SavedField
                    key={`label ${unit.id} ${ai}`}
                    label="Your word for it"
                    value={axle.label ?? ''}
                    check={(t) => (t.length > 40 ? 'At most 40 characters' : null)}
                    onSave={(label) =>
                      onAxles(ui, 'axle named', (axles) =>
                        axles.map((a, i) => {
                          if (i !== ai) return a;
                          const { label: _old, ...rest } = a;
                          return label === '' ? rest : { ...rest, label };
                        }),
                      )
                    }
                  />
                  <div className="field">
                    <label htmlFor="axle-wheels">Wheels on it</label>
                    <select
                      id="axle-wheels"
                      className="input"
                      value={layoutOf(axle) ?? ''}
                      onChange={(e) => setLayout(ui, ai, e.target.value as AxleLayout)}
                    >
                      {(Object.keys(AXLE_LAYOUTS) as AxleLayout[]).map((l) => (
                        <option key={l} value={l}>
                          {layoutNames[l]} ({AXLE_LAYOUTS[l].length})
                        </option>
                      ))}
                    </select>
                  </div>
                  <SavedField
                    key={`marking ${unit.id} ${ai}`}
                    label="Marking on the sidewall, such as LT235/80R16 120/116Q"
                    value={axle.marking ?? ''}
                    check={(t) => (t.trim().length > 60 ? 'At most 60 characters' : null)}
                    onSave={(text) =>
                      onAxle(ui, ai, 'tire marking', (a) => {
                        const { marking: _old, ...rest } = a;
                        const read = text === '' ? null : tryMarking(text);
                        // The volume follows the marking; it can be typed over afterwards.
                        const litres = read !== null && typeof read !== 'string' ? { airLitres: Math.round(read.airLitres) } : {};
                        return text === '' ? rest : { ...rest, marking: text, ...litres };
                      })
                    }
                  />
                  {axle.marking && <MarkingRead marking={axle.marking} />}
                  {(ai > 0 || unit.kind === 'trailer') && (
                    <SavedField
                      key={`distance ${unit.id} ${ai}`}
                      label={
                        unit.kind === 'trailer'
                          ? 'Behind the coupling (metres, or such as 21 ft)'
                          : 'Behind the front axle (metres, or such as 12 ft)'
                      }
                      unit="m"
                      value={axle.distanceM === undefined ? '' : String(Number(axle.distanceM.toFixed(2)))}
                      check={checkLength}
                      onSave={(text) =>
                        onAxle(ui, ai, 'axle distance', (a) => {
                          const { distanceM: _old, ...rest } = a;
                          const metres = parseLength(text);
                          return metres === null ? rest : { ...rest, distanceM: metres };
                        })
                      }
                    />
                  )}
                  <SavedField
                    key={`air ${unit.id} ${ai}`}
                    label="Air in one tire (an estimate; the bench uses it)"
                    unit="litres"
                    value={axle.airLitres === undefined ? '60' : String(axle.airLitres)}
                    check={needLitres}
                    onSave={(text) =>
                      onAxles(ui, 'air volume', (axles) =>
                        axles.map((a, i) => (i === ai ? { ...a, airLitres: parseNumber(text) ?? 60 } : a)),
                      )
                    }
                  />
                  {unit.axles.length > 1 && (
                    <div className="flex gap-2">
                      <button type="button" className="btn btn-small" disabled={ai === 0} onClick={() => moveAxle(ui, ai, -1)}>
                        Axle forward
                      </button>
                      <button
                        type="button"
                        className="btn btn-small"
                        disabled={ai === unit.axles.length - 1}
                        onClick={() => moveAxle(ui, ai, 1)}
                      >
                        Axle back
                      </button>
                    </div>
                  )}
                </>
              )}
              <h2 className="mt-2 border-b border-ink pb-1">
                {unitLetter(ui)} {unit.name}
              </h2>
              <SavedField
                key={`unit ${unit.id}`}
                label="Name of the unit"
                value={unit.name}
                check={needName}
                onSave={(name) => void onUnit('unit renamed', ui, (u) => ({ ...u, name }))}
              />
              <div className="flex flex-wrap items-center gap-2">
                <Switch
                  label="Kind of unit"
                  value={unit.kind}
                  options={[
                    { value: 'vehicle', text: 'Vehicle' },
                    { value: 'trailer', text: 'Trailer' },
                  ]}
                  onChange={(kind) => void onUnit(`${unit.name} is a ${kind}`, ui, (u) => ({ ...u, kind }))}
                />
                <button
                  type="button"
                  className="btn btn-small"
                  disabled={unit.spares.length >= 4}
                  onClick={() => setSpares(ui, 1)}
                >
                  Add spare
                </button>
                {unit.spares.length > 0 && (
                  <button type="button" className="btn btn-small" onClick={() => setSpares(ui, -1)}>
                    Remove spare
                  </button>
                )}
              </div>
              <SavedField
                key={`hitch ${unit.id}`}
                label={`Coupling at its back, behind ${unit.kind === 'trailer' ? 'its own coupling' : 'the front axle'} (for the radio)`}
                unit="m"
                value={unit.hitchM === undefined ? '' : String(Number(unit.hitchM.toFixed(2)))}
                check={checkLength}
                onSave={(text) => {
                  const metres = parseLength(text);
                  void onUnit('coupling distance', ui, ({ hitchM: _old, ...rest }) =>
                    metres === null ? rest : { ...rest, hitchM: metres },
                  );
                }}
              />
              {units.length > 1 && (
                <label className="flex min-h-[44px] items-center gap-2 text-body">
                  <input
                    type="checkbox"
                    className="size-[20px] accent-ink"
                    checked={!rig.unwatched?.includes(unitLetter(ui))}
                    onChange={(e) => setWatched(ui, e.target.checked)}
                  />
                  Watched by this kit
                </label>
              )}
              {rig.unwatched?.includes(unitLetter(ui)) && (
                <p className="text-body text-ink2">
                  {unit.name} isn’t asked for in Kit, Pairing, Fitting or Watch. Its pressures stay here.
                </p>
              )}
              <WheelSets
                key={`sets ${unit.id}`}
                unit={unit}
                idSets={monitor?.idSets ?? 1}
                onChange={(what, next) => void onUnit(what, ui, () => next)}
              />
              {units.length > 1 && (
                <div className="flex flex-wrap gap-2">
                  <button type="button" className="btn btn-small" disabled={ui === 0} onClick={() => moveUnit(ui, -1)}>
                    Move forward
                  </button>
                  <button
                    type="button"
                    className="btn btn-small"
                    disabled={ui === units.length - 1}
                    onClick={() => moveUnit(ui, 1)}
                  >
                    Move back
                  </button>
                  <button type="button" className="btn btn-small" onClick={() => removeUnit(ui)}>
                    Remove from the rig
                  </button>
                </div>
              )}
            </>
          )}
          <h2 className="mt-2 border-b border-ink pb-1">The rig</h2>
          <SavedField
            key={`rig ${rig.id}`}
            label="Name of the rig"
            value={rig.name}
            check={needName}
            onSave={(name) => void onRig('rig renamed', (r) => ({ ...r, name }))}
          />
        </aside>
      </div>
    </>
  );
}
