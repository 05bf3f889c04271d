import Papa from 'papaparse';
import { useState } from 'react';
import { addShownId, historyOf, moveSensor, openPosition, pairSensor } from '#core/pairing/book.ts';
import { readId, shownIdOf } from '#core/pairing/ids.ts';
import { showsOf } from '#core/pairing/signs.ts';
import type { RigWheel } from '#core/rig/positions.ts';
import type { SensorKind } from '#schema/common.ts';
import type { Sensor } from '#schema/unit.ts';
import { ApiProblem } from '../../data/api.ts';
import { useMonitor, useRecords } from '../../data/queries.ts';
import { Box } from '../../parts/Box.tsx';
import { Field, Switch } from '../../parts/controls.tsx';
import { dayHere, idText, inPairs } from '../../parts/format.ts';
import { placeInWords } from '../../parts/words.ts';
import { freshKey } from '../../state/keys.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { kinds } from './Setup.tsx';
import { usePairing } from './usePairing.ts';
import { idFaultWords, styleNames, whyLeft } from './words.ts';

const kindNames: Record<SensorKind, string> = { cap: 'cap', flowThrough: 'flow-through', internal: 'internal' };
const day = (iso: string | undefined) => (iso ? dayHere(iso) : 'not noted');

/** Which sensor is on which wheel, what was there before, and the sensors at hand. */
export function BookPart() {
  const { rig, units, wheels } = useRig();
  const { change } = usePairing();
  const { changeUnit } = useRecords();
  const [open, setOpen] = useState<{ wheel: RigWheel; what: 'move' | 'replace' | 'history' | 'addId' } | null>(null);
  const loose = units.flatMap((unit) => (unit.loose ?? []).map((sensor) => ({ unit, sensor })));
  const [addTo, setAddTo] = useState(units[0]?.id ?? '');
  const [newId, setNewId] = useState('');
  const [newKind, setNewKind] = useState<SensorKind>('cap');
  const [fault, setFault] = useState<string | null>(null);
  const addLoose = async (e: React.FormEvent) => {
    e.preventDefault();
    const read = readId(newId);
    const wrong =
      idFaultWords(read) ??
      (loose.some((l) => l.sensor.id === read.id) || wheels.some((w) => w.wheel.sensor?.id === read.id)
        ? 'It is in the book already'
        : null);
    setFault(wrong);
    if (wrong !== null || !read.id) return;
    const sensor = { id: read.id, kind: newKind };
    try {
      await changeUnit(addTo, (u) => ({ ...u, loose: [...(u.loose ?? []), sensor] }));
      setNewId((now) => (now === newId ? '' : now));
      toast(`${idText(sensor)} is in the spares.`);
    } catch (error) {
      toastError(error);
    }
  };
  return (
    <>
      <div className="overflow-x-auto">
        <table className="sheet-table">
          <caption className="sr-only">ID book of {rig.name}</caption>
          <thead>
            <tr>
              <th scope="col">Wheel</th>
              <th scope="col">ID</th>
              <th scope="col">Kind</th>
              <th scope="col">Since</th>
              <th scope="col" className="max-md:hidden">
                How
              </th>
              <th scope="col">
                <span className="sr-only">Change</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {wheels.map((w) => {
              const { sensor } = w.wheel;
              return (
                <tr key={w.position}>
                  <td>
                    <b className="figure text-head">{w.position}</b>
                  </td>
                  <td className="figure text-head font-semibold whitespace-nowrap">
                    {sensor ? (shownIdOf(sensor) === null ? 'no ID' : idText(sensor)) : 'open'}
                  </td>
                  <td className="text-body">
                    {sensor ? kindNames[sensor.kind] : ''}
                    {sensor?.factoryPosition
                      ? `, coded for ${sensor.factoryPosition}${sensor.mark ? ` (${sensor.mark})` : ''}`
                      : ''}
                    {sensor?.fitted === false ? ', paired at the table' : ''}
                  </td>
                  <td className="narrow whitespace-nowrap">{sensor ? day(sensor.pairedAt) : ''}</td>
                  <td className="text-note text-ink2 max-md:hidden">{sensor?.style ? styleNames[sensor.style] : ''}</td>
                  <td>
                    <span className="flex flex-wrap justify-end gap-1">
                      {sensor && (
                        <>
                          {shownIdOf(sensor) === null && (
                            <button
                              type="button"
                              className="btn btn-small"
                              aria-label={`Add the ID of ${w.position}`}
                              onClick={() => setOpen({ wheel: w, what: 'addId' })}
                            >
                              Add its ID
                            </button>
                          )}
                          <button
                            type="button"
                            className="btn btn-small"
                            aria-label={`Delete ${w.position}, to open`}
                            onClick={() =>
                              void change(w, `${w.position} is open.`, (u, at) => openPosition(u, w.local, at, false))
                            }
                          >
                            Delete
                          </button>
                          <button
                            type="button"
                            className="btn btn-small"
                            aria-label={`Take the sensor off ${w.position} and keep it`}
                            onClick={() =>
                              void change(w, `${w.position} is open. Its sensor is in the spares.`, (u, at) =>
                                openPosition(u, w.local, at, true),
                              )
                            }
                          >
                            Move to spares
                          </button>
                          <button
                            type="button"
                            className="btn btn-small"
                            aria-label={`Move the sensor of ${w.position}`}
                            onClick={() => setOpen({ wheel: w, what: 'move' })}
                          >
                            Move
                          </button>
                        </>
                      )}
                      <button
                        type="button"
                        className="btn btn-small"
                        aria-label={`${sensor ? 'Replace' : 'Add'} the sensor of ${w.position}`}
                        onClick={() => setOpen({ wheel: w, what: 'replace' })}
                      >
                        {sensor ? 'Replace' : 'Add'}
                      </button>
                      {historyOf(w.unit, w.local).length > 0 && (
                        <button
                          type="button"
                          className="btn btn-small"
                          aria-label={`History of ${w.position}`}
                          onClick={() => setOpen({ wheel: w, what: 'history' })}
                        >
                          History
                        </button>
                      )}
                    </span>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      <div className="mt-6 grid gap-x-10 gap-y-6 lg:grid-cols-2">
        <section aria-label="Spare sensors">
          <h2 className="border-b border-ink pb-1">At hand, on no wheel</h2>
          <p className="mt-1 text-note text-ink2">Spares in the glove box: no watch waits for them.</p>
          <ul>
            {loose.map(({ unit, sensor }) => (
              <li key={sensor.id} className="flex items-center justify-between gap-3 border-b border-rule py-2">
                <span>
                  <b className="figure text-head">{idText(sensor)}</b>{' '}
                  <span className="text-body text-ink2">
                    {kindNames[sensor.kind]}, with {unit.name}
                  </span>
                </span>
                <button
                  type="button"
                  className="btn btn-small"
                  aria-label={`Forget ${idText(sensor)}`}
                  onClick={() =>
                    void changeUnit(unit.id, ({ loose: own, ...u }) => {
                      const rest = (own ?? []).filter((s) => s.id !== sensor.id);
                      return rest.length > 0 ? { ...u, loose: rest } : u;
                    }).then(
                      () =>
                        toast(`${idText(sensor)} is out of the book.`, {
                          undo: async () => {
                            await changeUnit(unit.id, (u) => ({ ...u, loose: [...(u.loose ?? []), sensor] })).catch(toastError);
                          },
                        }),
                      toastError,
                    )
                  }
                >
                  Forget
                </button>
              </li>
            ))}
          </ul>
          <form onSubmit={(e) => void addLoose(e)} noValidate className="mt-3 flex flex-wrap items-start gap-3">
            <Field
              label="ID of a spare sensor"
              value={newId}
              error={fault ?? undefined}
              onChange={(e) => setNewId(e.target.value)}
            />
            <div className="pt-[22px]">
              <Switch label="Kind of the spare sensor" value={newKind} options={kinds} onChange={setNewKind} />
            </div>
            {units.length > 1 && (
              <label className="text-note text-ink2">
                Kept with
                <select className="input block text-ink" value={addTo} onChange={(e) => setAddTo(e.target.value)}>
                  {units.map((u) => (
                    <option key={u.id} value={u.id}>
                      {u.name}
                    </option>
                  ))}
                </select>
              </label>
            )}
            <button type="submit" className="btn mt-[22px]">
              Add
            </button>
          </form>
        </section>
        <FromFile />
      </div>
      {open?.what === 'history' && (
        <Box open title={`History of ${open.wheel.position}`} onClose={() => setOpen(null)}>
          <ul>
            {historyOf(open.wheel.unit, open.wheel.local).map((e) => (
              <li key={`${e.sensorId} ${e.until}`} className="border-b border-rule py-2">
                <b className="figure text-head">{inPairs(e.sensorId)}</b>{' '}
                <span className="text-body">
                  {kindNames[e.kind]}, from {day(e.since)} to {day(e.until)}, {whyLeft[e.why]}
                </span>
              </li>
            ))}
          </ul>
        </Box>
      )}
      {open?.what === 'move' && (
        <Box open title={`Move the sensor of ${open.wheel.position}`} onClose={() => setOpen(null)}>
          <p className="mb-3 text-body">
            {open.wheel.wheel.sensor?.factoryPosition
              ? `To a wheel of ${open.wheel.unit.name}. This sensor is coded for ${open.wheel.wheel.sensor.factoryPosition}: wherever it is screwed on, look at ${open.wheel.wheel.sensor.factoryPosition} for its reading.`
              : `To a wheel of ${open.wheel.unit.name}. A sensor that is there goes the other way. Change it on the monitor too.`}
          </p>
          <div className="flex flex-wrap gap-2">
            {wheels
              .filter((w) => w.unit.id === open.wheel.unit.id && w !== open.wheel)
              .map((w) => (
                <button
                  key={w.position}
                  type="button"
                  className="btn"
                  onClick={() => {
                    void change(open.wheel, `The sensor of ${open.wheel.position} is on ${w.position}.`, (u, at) =>
                      moveSensor(u, open.wheel.local, w.local, at),
                    );
                    setOpen(null);
                  }}
                >
                  {w.position}
                  {w.wheel.sensor ? ', exchange' : ''}
                </button>
              ))}
          </div>
        </Box>
      )}
      {open?.what === 'addId' && <AddIdBox wheel={open.wheel} onClose={() => setOpen(null)} />}
      {open?.what === 'replace' && <ReplaceBox wheel={open.wheel} loose={loose} onClose={() => setOpen(null)} />}
    </>
  );
}

/** Another sensor for a wheel: one at hand, or a new one by its ID. */
function ReplaceBox({ wheel, loose, onClose }: { wheel: RigWheel; loose: readonly { sensor: Sensor }[]; onClose: () => void }) {
  const { rig } = useRig();
  const shows = showsOf(useMonitor(rig), rig.pairing);
  const { pair } = usePairing();
  const [id, setId] = useState('');
  const [kind, setKind] = useState<SensorKind>(wheel.wheel.sensor?.kind ?? 'cap');
  const [fault, setFault] = useState<string | null>(null);
  const put = async (sensor: Sensor) => {
    try {
      await pair(wheel, sensor, null);
      onClose();
    } catch (error) {
      setFault(error instanceof Error ? error.message : String(error));
    }
  };
  const read = readId(id);
  return (
    <Box open title={`${wheel.wheel.sensor ? 'Replace' : 'Add'} the sensor of ${wheel.position}`} onClose={onClose}>
      <p className="mb-3 text-body text-ink2">{placeInWords(wheel.local, wheel.unit.name, wheel.unit.axles.length)}</p>
      {loose.length > 0 && (
        <div className="mb-4 flex flex-wrap gap-2">
          {loose.map(({ sensor }) => (
            <button key={sensor.id} type="button" className="btn" onClick={() => void put(sensor)}>
              {idText(sensor)}, {kindNames[sensor.kind]}
            </button>
          ))}
        </div>
      )}
      <form
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          const wrong = idFaultWords(read);
          setFault(wrong);
          if (wrong === null && read.id) void put({ id: read.id, kind });
        }}
      >
        <Field
          label="ID of the new sensor"
          value={id}
          error={fault ?? undefined}
          hint={read.id && read.corrected.length > 0 ? `Read as ${inPairs(read.id)}` : undefined}
          onChange={(e) => setId(e.target.value)}
        />
        <div className="mt-3 flex flex-wrap items-center gap-3">
          <Switch label="Kind of the new sensor" value={kind} options={kinds} onChange={setKind} />
          <button type="submit" className={`btn ${shows.ids ? 'btn-solid' : ''}`}>
            {wheel.wheel.sensor ? 'Replace it, the old one is retired' : 'Add it'}
          </button>
          {!shows.ids && (
            <button type="button" className="btn btn-solid" onClick={() => void put({ id: freshKey(), kind })}>
              {wheel.wheel.sensor ? 'Replace it without an ID' : 'Add it without an ID'}
            </button>
          )}
        </div>
      </form>
    </Box>
  );
}

/** The ID of a sensor that was paired without one. Its readings and its history stay. */
function AddIdBox({ wheel, onClose }: { wheel: RigWheel; onClose: () => void }) {
  const { changeUnit } = useRecords();
  const [id, setId] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const read = readId(id);
  const save = async (e: React.FormEvent) => {
    e.preventDefault();
    const wrong = idFaultWords(read);
    setFault(wrong);
    const shownId = read.id;
    if (wrong !== null || !shownId) return;
    try {
      await changeUnit(wheel.unit.id, (u) => addShownId(u, wheel.local, shownId));
      toast(`${wheel.position} is ${inPairs(shownId)}. Its readings are kept.`);
      onClose();
    } catch (error) {
      setFault(error instanceof ApiProblem && error.errors[0] ? error.errors[0].detail : String(error));
    }
  };
  return (
    <Box open title={`ID of the sensor on ${wheel.position}`} onClose={onClose}>
      <p className="mb-3 text-body">
        From a reading tool, a program, or the sensor itself. Readings that name this ID then belong to this wheel.
      </p>
      <form noValidate onSubmit={(e) => void save(e)} className="flex items-start gap-2">
        <Field label="Its ID" className="grow" value={id} error={fault ?? undefined} onChange={(e) => setId(e.target.value)} />
        <button type="submit" className="btn btn-solid mt-[22px]">
          Add it
        </button>
      </form>
    </Box>
  );
}

/** A table of positions and IDs from a file. What can't be used is named by its line; the rest is used. */
function FromFile() {
  const { wheels } = useRig();
  const { changeUnit } = useRecords();
  const [told, setTold] = useState<string[]>([]);
  const take = async (file: File) => {
    const rows = Papa.parse<string[]>(await file.text(), { skipEmptyLines: true }).data;
    const lines: string[] = [];
    const byUnit = new Map<string, { local: string; id: string; kind: SensorKind }[]>();
    rows.forEach((row, i) => {
      const cells = row.map((c) => c.trim());
      const wheel = wheels.find((w) => cells.some((c) => c.toUpperCase() === w.position));
      if (!wheel) {
        if (i > 0) lines.push(`Line ${i + 1}: no wheel of this rig`);
        return;
      }
      const others = cells.filter((c) => c.toUpperCase() !== wheel.position);
      const id = others.map(readId).find((r) => r.id !== null);
      if (!id?.id) {
        lines.push(`Line ${i + 1}: ${idFaultWords(readId(others[0] ?? '')) ?? 'no ID'}`);
        return;
      }
      const kind =
        kinds.find((k) => others.some((c) => c.toLowerCase() === k.text.toLowerCase()))?.value ??
        wheel.wheel.sensor?.kind ??
        'cap';
      byUnit.set(wheel.unit.id, [...(byUnit.get(wheel.unit.id) ?? []), { local: wheel.local, id: id.id, kind }]);
    });
    let count = 0;
    for (const [unitId, list] of byUnit) {
      try {
        const at = new Date().toISOString();
        await changeUnit(unitId, (u) =>
          list.reduce((unit, x) => pairSensor(unit, x.local, { id: x.id, kind: x.kind, pairedAt: at }, at), u),
        );
        count += list.length;
      } catch (error) {
        lines.push(error instanceof Error ? error.message : String(error));
      }
    }
    setTold(lines);
    toast(count === 1 ? 'One sensor from the file is in the book.' : `${count} sensors from the file are in the book.`);
  };
  return (
    <section aria-label="From a file">
      <h2 className="border-b border-ink pb-1">From a file</h2>
      <p className="mt-1 text-note text-ink2">A CSV with a wheel (A1L) and its ID in each line, and the kind if you like.</p>
      <label className="btn mt-2 cursor-pointer focus-within:outline-3 focus-within:outline-cyan">
        Read IDs from a file
        <input
          type="file"
          accept=".csv,.txt,text/csv"
          className="sr-only"
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) void take(file);
            e.target.value = '';
          }}
        />
      </label>
      {told.length > 0 && (
        <ul className="mt-2 text-body">
          {told.map((t) => (
            <li key={t}>{t}</li>
          ))}
        </ul>
      )}
    </section>
  );
}
