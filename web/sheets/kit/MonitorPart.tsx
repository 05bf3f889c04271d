import { useState } from 'react';
import { tempShown } from '#core/alarms/card.ts';
import { freeLists, listConflicts, listsOf, placeKey, placeName } from '#core/kit/lists.ts';
import { checkMap, type GiveUpReason, type Pattern, proposeMap, rowsOf } from '#core/kit/map.ts';
import { showsOf } from '#core/pairing/signs.ts';
import { unitLetter } from '#core/rig/positions.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { MonitorPlace } from '#schema/unit.ts';
import { useMonitors, useRecords, useRigs, useUnits } from '../../data/queries.ts';
import { Notice, Switch } from '../../parts/controls.tsx';
import { HeldStops } from '../../parts/HeldStops.tsx';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { MonitorForm } from './MonitorForm.tsx';

const why: Record<GiveUpReason, string> = {
  noList: 'the monitor has no list for this unit',
  noRow: 'the monitor has no row for this axle',
  narrowRow: 'the row has no places for outer duals',
  noSparePlace: 'no place is left for the spare',
};

const groups: Record<Monitor['groups'], string> = {
  axle: 'limits by axle',
  unit: 'one pair of limits for a whole trailer',
  rearWithTrailer: 'rear axles and trailer share one pair of limits',
  wheel: 'limits by wheel',
  all: 'one pair of limits for all',
  baseline: 'works out its own limits from a baseline',
};
const powers = { battery: 'its own battery', sun: 'the sun', usb: 'USB', socket: 'a 12 V socket' };
const saving = {
  byItself: 'saves what you key by itself',
  shortPress: 'needs a press to save',
  longPress: 'needs a long press to save',
  extraPress: 'needs one more press to save',
};

/** How it says that it took a sensor. */
function pairingLine(m: Monitor): string {
  const { signs } = showsOf(m);
  if (signs.length === 0) return 'gives no sign when it took a sensor';
  return `shows ${signs.map((s) => ({ id: 'sensor IDs', pressure: 'the pressure', lamp: 'a lamp', beep: 'a beep' })[s]).join(', ')} when it took a sensor`;
}

/** How its limit menu goes, in a line. */
function menuLine(menu: NonNullable<Monitor['menu']>): string {
  const order = menu.order === 'free' ? 'any value chosen directly' : menu.walk === 'limit' ? 'limit by limit' : 'group by group';
  const confirms = menu.confirmValue ?? menu.confirmPage;
  return [
    `menu: ${order}`,
    ...(confirms ? [`confirmed by a ${confirms} press`] : []),
    ...(menu.timeoutS ? [`closes after ${menu.timeoutS} s`] : []),
  ].join(', ');
}

/** What a monitor can do, in sentences. */
function Abilities({ m }: { m: Monitor }) {
  const lines = [
    `${m.positionsPerUnit} positions a unit, ${m.units === 1 ? 'one unit' : `up to ${m.units} units`}`,
    groups[m.groups],
    `keyed in ${m.unit}, steps of ${m.step}, ${m.min} to ${m.max}`,
    m.presetLow === null && m.presetHigh === null
      ? 'no presets'
      : `presets ${m.presetLow ?? 'none'} low, ${m.presetHigh ?? 'none'} high${m.presetHotC === null ? '' : `, ${tempShown(m, m.presetHotC)} °${m.tempUnit ?? 'C'}`}`,
    ...(m.menu ? [menuLine(m.menu)] : []),
    ...(m.correctsToC === undefined ? [] : [`corrects its pressures to ${m.correctsToC} °C by itself`]),
    m.interlock ? 'refuses a high under the low while keying' : 'takes limits in any order',
    pairingLine(m),
    m.canDisconnect ? 'can disconnect a unit' : 'cannot disconnect a unit',
    ...(m.scanS ? [`scans in ${m.scanS} s`] : []),
    ...(m.sleepMin ? [`sleeps after ${m.sleepMin} min`] : []),
    ...(m.alarms ? [`alarms for ${m.alarms.join(', ')}`] : []),
    ...(m.power
      ? [`runs from ${m.power.map((p) => powers[p]).join(', ')}${m.batteryHours ? ` (${m.batteryHours} h)` : ''}`]
      : []),
    ...(m.saves ? [saving[m.saves]] : []),
  ];
  return (
    <ul className="mt-2 text-body">
      {lines.map((l) => (
        <li key={l} className="border-b border-rule py-[3px]">
          {l}
        </li>
      ))}
    </ul>
  );
}

/** A name for one place, saved when it is left. */
function PlaceNameInput({
  label,
  hint,
  value,
  narrow,
  onSave,
}: {
  label: string;
  hint: string | undefined;
  value: string;
  narrow: number | undefined;
  onSave: (text: string) => void;
}) {
  const [text, setText] = useState(value);
  const save = () => {
    if (text.trim() !== value) onSave(text.trim());
  };
  return (
    <input
      aria-label={label}
      className="input h-[46px] px-1! text-center text-body"
      style={narrow ? { gridColumn: narrow } : undefined}
      placeholder={hint ?? '–'}
      maxLength={16}
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={save}
      onKeyDown={(e) => e.key === 'Enter' && save()}
    />
  );
}

/** Which monitor, what it can do, and which of its positions are which wheels. */
export default function MonitorPart() {
  const { rig, units, wheels } = useRig();
  const monitors = useMonitors(true);
  const rigs = useRigs();
  const { putRig, changeRig, changeAll, changeMonitor } = useRecords();
  const allUnits = useUnits();
  const [naming, setNaming] = useState(false);
  const [pattern, setPattern] = useState<Pattern>('inner');
  const [moving, setMoving] = useState<string | null>(null);
  const [describing, setDescribing] = useState<'new' | 'edit' | null>(null);
  const monitor = monitors.data?.find((m) => m.id === rig.monitorId);
  const choose = (id: string) =>
    void changeRig(rig.id, ({ lists: _old, ...now }) => {
      const next = monitors.data?.find((m) => m.id === id);
      // Another rig may use the same monitor: everything but what both have in common gets a free list.
      const others = (rigs.data ?? []).some((r) => r.id !== rig.id && !r.archived && r.monitorId === id);
      const lists = next && others ? freeLists(now, rigs.data ?? [], next) : null;
      return { ...now, monitorId: id === '' ? null : id, map: {}, ...(lists ? { lists } : {}) };
    }).catch(toastError);
  const remove = async (m: Monitor) => {
    const holders = (rigs.data ?? []).filter((r) => r.monitorId === m.id);
    const others = holders.filter((r) => r.id !== rig.id).map((r) => r.name);
    if (others.length > 0) {
      toast(`${m.name} is also the monitor of ${others.join(' and ')}. Choose another one there first.`);
      return;
    }
    try {
      await changeAll([
        ...holders.map((r) => ({ do: 'putRig' as const, doc: { ...r, monitorId: null, map: {} } })),
        { do: 'delete', kind: 'monitors', id: m.id },
      ]);
      const before = rig;
      toast(`${m.name} is deleted.`, {
        undo: async () => {
          try {
            await changeAll([{ do: 'restore', kind: 'monitors', id: m.id }]);
            await changeRig(rig.id, (now) => ({ ...now, monitorId: m.id, ...(before.map ? { map: before.map } : {}) }));
          } catch (error) {
            toastError(error);
          }
        },
      });
    } catch (error) {
      toastError(error);
    }
  };
  if (!monitors.data) return <p className="text-ink2">One moment…</p>;
  const lists = monitor ? listsOf(rig, monitor) : [];
  const proposal = monitor ? proposeMap(units, monitor, pattern, lists) : null;
  const own = rig.map && Object.keys(rig.map).length > 0 ? rig.map : null;
  const places: Record<string, MonitorPlace> = own ?? proposal?.places ?? {};
  const faults = monitor ? checkMap(units, monitor, places, rig.unwatched) : [];
  const conflicts = monitor ? listConflicts(rig, rigs.data ?? [], allUnits.data ?? [], monitor) : [];
  const long = monitor?.listing === 'long';
  const shownLists = [...new Set(lists.filter((l): l is number => l !== null && l < (monitor?.units ?? 0)))].sort(
    (a, b) => a - b,
  );
  const setList = (letter: string, list: number) =>
    void changeRig(rig.id, (now) => {
      const moved = Object.fromEntries(
        Object.entries(now.map ?? {}).map(([p, place]) => [p, long || p.startsWith(letter) ? { ...place, list } : place]),
      );
      return { ...now, map: moved, lists: { ...now.lists, [letter]: list } };
    }).catch(toastError);
  const setName = (place: MonitorPlace, name: string) => {
    if (!monitor) return;
    void changeMonitor(monitor.id, (m) => {
      const { [placeKey(place)]: _old, ...rest } = m.placeNames ?? {};
      return { ...m, placeNames: name === '' ? rest : { ...rest, [placeKey(place)]: name } };
    }).catch(toastError);
  };
  const rows = monitor ? rowsOf(monitor) : [];
  const at = (list: number, row: number, column: number) =>
    Object.entries(places).find(([, p]) => p.list === list && p.row === row && p.column === column)?.[0];
  const unmapped = wheels.filter((w) => !places[w.position]).map((w) => w.position);
  const press = async (list: number, row: number, column: number) => {
    const here = at(list, row, column);
    if (moving === null) {
      if (here) setMoving(here);
      return;
    }
    const from = places[moving];
    const next = { ...places, [moving]: { list, row, column } };
    if (here && here !== moving) {
      if (from) next[here] = from;
      else delete next[here];
    }
    const moved = moving;
    setMoving(null);
    try {
      const saved = await changeRig(rig.id, (now) => ({ ...now, map: next }));
      toast(`${moved} is shown there now.`, {
        undo: () => putRig({ ...rig, version: saved.version }).then(() => undefined, toastError),
      });
    } catch (error) {
      toastError(error);
    }
  };
  return (
    <div className="grid gap-x-8 gap-y-6 xl:grid-cols-[minmax(0,1fr)_372px]">
      <div className="min-w-0">
        {!monitor || !proposal ? (
          <section aria-label="Choose the monitor">
            <p className="mb-3 max-w-[60ch]">
              Choose the monitor that is nearest to yours, or describe your own: then its positions can be laid over your wheels.
            </p>
            <ul className="border-t border-ink">
              {monitors.data.map((m) => (
                <li key={m.id} className="flex items-center gap-4 border-b border-rule py-2">
                  <div className="min-w-0 grow">
                    <p className="font-bold">{m.name}</p>
                    <p className="text-body text-ink2">
                      {m.note ?? ''} {m.positionsPerUnit * m.units} positions, {groups[m.groups]}.
                    </p>
                  </div>
                  <button
                    type="button"
                    className="btn shrink-0"
                    aria-label={`Mine is like it: ${m.name}`}
                    onClick={() => choose(m.id)}
                  >
                    Mine is like it
                  </button>
                </li>
              ))}
            </ul>
          </section>
        ) : (
          <>
            <div className="mb-3 flex flex-wrap items-center gap-3">
              <h2>Positions</h2>
              {!own && (
                <Switch
                  label="Where single wheels are among dual positions"
                  value={pattern}
                  options={[
                    { value: 'inner', text: 'Inner places' },
                    { value: 'outer', text: 'Outer places' },
                  ]}
                  onChange={setPattern}
                />
              )}
              <Switch
                label="What the places show"
                value={naming ? 'names' : 'wheels'}
                options={[
                  { value: 'wheels', text: 'Wheels' },
                  { value: 'names', text: 'Names of the leaflet' },
                ]}
                onChange={(v) => setNaming(v === 'names')}
              />
              {own && (
                <button
                  type="button"
                  className="btn btn-small"
                  onClick={() => void changeRig(rig.id, (now) => ({ ...now, map: {} })).catch(toastError)}
                >
                  Back to what is proposed
                </button>
              )}
            </div>
            <p className="mb-3 max-w-[68ch] text-body text-ink2">
              {naming
                ? 'Type what the leaflet or the display calls each place. The names are then used on the card, in the guide and on labels.'
                : moving
                  ? `Press the place that shows ${moving}.`
                  : 'The monitor’s places as a plain grid, front row first, left as from the driver’s seat. Press a wheel, then the place where your monitor shows it.'}
            </p>
            <div className="flex flex-wrap gap-8">
              {shownLists.map((list) => (
                <section key={unitLetter(list)} aria-label={`List ${list + 1} of the monitor`}>
                  <h3 className="mb-2">
                    List {list + 1}
                    <span className="ml-2 font-normal text-ink2">
                      {units
                        .filter((_, i) => lists[i] === list)
                        .map((u) => u.name)
                        .join(', ')}
                    </span>
                  </h3>
                  {rows.map((width, row) => (
                    <div
                      // biome-ignore lint/suspicious/noArrayIndexKey: a row is its number
                      key={row}
                      className="mb-1 grid w-[272px] gap-1"
                      style={{ gridTemplateColumns: `repeat(${Math.max(4, width)}, 1fr)` }}
                    >
                      {Array.from({ length: width }, (_, column) => {
                        const here = at(list, row, column);
                        const name = placeName(monitor, { list, row, column });
                        if (naming)
                          return (
                            <PlaceNameInput
                              // biome-ignore lint/suspicious/noArrayIndexKey: a column is its number
                              key={column}
                              label={`Name of row ${row + 1}, place ${column + 1} in list ${list + 1}${here ? `, ${here}` : ''}`}
                              hint={here}
                              value={name ?? ''}
                              narrow={width === 2 ? column + 2 : undefined}
                              onSave={(t) => setName({ list, row, column }, t)}
                            />
                          );
                        return (
                          <button
                            // biome-ignore lint/suspicious/noArrayIndexKey: a column is its number
                            key={column}
                            type="button"
                            aria-label={`Row ${row + 1}, place ${column + 1}: ${here ?? 'not used'}`}
                            aria-pressed={here !== undefined && here === moving}
                            style={width === 2 ? { gridColumn: column === 0 ? 2 : 3 } : undefined}
                            className={`figure h-[46px] border text-head font-semibold ${here ? 'border-ink' : 'border-dashed border-ink2 text-ink2'} ${here !== undefined && here === moving ? 'bg-ink text-paper' : ''}`}
                            onClick={() => void press(list, row, column)}
                          >
                            {here ?? '–'}
                            {name && <span className="narrow block text-note leading-none font-normal">{name}</span>}
                          </button>
                        );
                      })}
                    </div>
                  ))}
                </section>
              ))}
            </div>
            {(monitor.units > 1 || conflicts.length > 0) && (
              <div className="mt-4 flex flex-wrap gap-4">
                {(long ? units.slice(0, 1) : units).map((u, i) => {
                  const letter = unitLetter(i);
                  return (
                    lists[i] !== null && (
                      <div key={u.id} className="field">
                        <label htmlFor={`list-${letter}`}>{long ? 'This rig is on' : `${letter} ${u.name} is on`}</label>
                        <select
                          id={`list-${letter}`}
                          className="input"
                          value={lists[i]}
                          onChange={(e) => setList(letter, Number(e.target.value))}
                        >
                          {Array.from({ length: Math.max(monitor.units, (lists[i] ?? 0) + 1) }, (_, n) => (
                            // biome-ignore lint/suspicious/noArrayIndexKey: a list is its number
                            <option key={n} value={n}>
                              list {n + 1}
                              {n >= monitor.units ? ' (it has none)' : ''}
                            </option>
                          ))}
                        </select>
                      </div>
                    )
                  );
                })}
              </div>
            )}
            {conflicts.length > 0 && (
              <div className="mt-4 max-w-[68ch]" role="alert">
                <Notice tone="act">
                  {conflicts.map((c) => (
                    <p key={`${c.list} ${c.other} ${c.otherRig}`}>
                      <b>
                        List {c.list + 1} has {c.other} already ({c.otherRig}).
                      </b>{' '}
                      Pairing {c.own} into it would overwrite that. Choose another list for one of them.
                    </p>
                  ))}
                </Notice>
              </div>
            )}
            {unmapped.length > 0 && (
              <div className="mt-4 max-w-[68ch]">
                <Notice>
                  <b>Too few positions.</b> Give up, the first first:
                  <ul className="mt-1">
                    {(own ? unmapped.map((position) => ({ position, why: undefined })) : proposal.giveUp).map((g) => (
                      <li key={g.position}>
                        <button type="button" className="underline underline-offset-3" onClick={() => setMoving(g.position)}>
                          {g.position}
                        </button>
                        {g.why ? `: ${why[g.why]}` : ''}
                      </li>
                    ))}
                  </ul>
                </Notice>
              </div>
            )}
            <HeldStops monitor={monitor} />
            {faults.some((f) => f.code !== 'unmapped') && (
              <div className="mt-4 max-w-[68ch]" role="status">
                <Notice>
                  {faults.map((f) =>
                    f.code === 'uneven' ? (
                      <p key={f.axles.join()}>
                        <b>
                          {f.axles[0]} and {f.axles[1]} are on different positions.
                        </b>{' '}
                        Use the same pattern on every axle, or sides and axles get mixed up on the road.
                      </p>
                    ) : f.code === 'twice' ? (
                      <p key={f.positions.join()}>
                        {f.positions[0]} and {f.positions[1]} are on one place.
                      </p>
                    ) : f.code === 'outside' ? (
                      <p key={f.position}>{f.position} is on a place this monitor does not have.</p>
                    ) : null,
                  )}
                </Notice>
              </div>
            )}
          </>
        )}
      </div>
      <aside aria-label="Monitor">
        <div className="field">
          <label htmlFor="monitor">Monitor of this rig</label>
          <select id="monitor" className="input" value={rig.monitorId ?? ''} onChange={(e) => choose(e.target.value)}>
            <option value="">None chosen</option>
            {monitors.data.map((m) => (
              <option key={m.id} value={m.id}>
                {m.name}
              </option>
            ))}
          </select>
        </div>
        {monitor?.note && <p className="mt-2 text-body">{monitor.note}</p>}
        {monitor && <Abilities m={monitor} />}
        <p className="mt-4">
          <span className="flex flex-wrap gap-2">
            <button type="button" className="btn" onClick={() => setDescribing('new')}>
              {monitor ? 'Copy it and change the copy' : 'Describe your own'}
            </button>
            {monitor && (
              <>
                <button type="button" className="btn" onClick={() => setDescribing('edit')}>
                  Edit it
                </button>
                <button type="button" className="btn" onClick={() => void remove(monitor)}>
                  Delete it
                </button>
              </>
            )}
          </span>
        </p>
        {describing && (
          <MonitorForm
            start={monitor}
            edit={describing === 'edit'}
            onClose={() => setDescribing(null)}
            onMade={(m) => {
              setDescribing(null);
              if (m.id !== rig.monitorId) choose(m.id);
            }}
          />
        )}
      </aside>
    </div>
  );
}
