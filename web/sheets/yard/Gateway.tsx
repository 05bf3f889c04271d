import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { wheelsOf } from '#core/rig/positions.ts';
import type { GatewayFields, GatewaySettings, GatewayView, UnknownSensor } from '#schema/gateway.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { ApiProblem, ask } from '../../data/api.ts';
import { unitsOf, useRecords, useRigs, useUnits } from '../../data/queries.ts';
import { Field, Notice } from '../../parts/controls.tsx';
import { dayAndTime, duration, inPairs, useFormat } from '../../parts/format.ts';
import { toast, toastError } from '../../state/toast.ts';

const GATEWAY = ['gateway'] as const;
const EVERY_MS = 2500;

const EMPTY: GatewaySettings = {
  enabled: true,
  url: 'mqtt://192.168.1.20:1883',
  topic: 'tires/+/reading',
  fields: {
    sensor: 'topic:2',
    time: 'time',
    timeFormat: 'iso',
    pressure: 'pressure',
    pressureUnit: 'kPa',
    temp: 'temperature',
    tempUnit: 'C',
    battery: null,
    rssi: null,
  },
  names: {},
  publish: null,
};

const stateWords: Record<GatewayView['state'], string> = {
  off: 'off',
  connecting: 'connecting',
  connected: 'connected',
  lost: 'connection lost, trying again',
};

/** A sensor that was heard and is on no wheel: how often, what it says, and where it could go. */
function Unknown({ sensor, rigs, units }: { sensor: UnknownSensor; rigs: Rig[]; units: Unit[] }) {
  const f = useFormat();
  const client = useQueryClient();
  const { changeUnit } = useRecords();
  const [chosen, setChosen] = useState('');
  const open = rigs
    .filter((r) => !r.archived)
    .flatMap((r) =>
      wheelsOf(unitsOf(r, units))
        .filter((w) => !w.wheel.sensor)
        .map((w) => ({ key: `${w.unit.id} ${w.wheel.position}`, text: `${r.name}: ${w.position}` })),
    )
    .filter((o, i, all) => all.findIndex((x) => x.key === o.key) === i);
  const seconds = (Date.parse(sensor.lastTime) - Date.parse(sensor.firstTime)) / 1000;
  const pair = async () => {
    const [unitId, position] = chosen.split(' ');
    const text = open.find((o) => o.key === chosen)?.text;
    const put = (id: string | null) =>
      changeUnit(unitId as string, (unit) => {
        const next = structuredClone(unit);
        for (const wheel of [...next.axles.flatMap((a) => a.wheels), ...next.spares.map((s) => s.wheel)])
          if (wheel.position === position) wheel.sensor = id === null ? null : { id, kind: 'cap' };
        return next;
      });
    try {
      await put(sensor.id);
      await client.invalidateQueries({ queryKey: GATEWAY });
      toast(`${inPairs(sensor.id)} is on ${text}.`, { undo: () => put(null).then(() => undefined, toastError) });
    } catch (error) {
      toastError(error);
    }
  };
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-rule py-2">
      <span className="min-w-[260px] grow">
        <b className="narrow">{inPairs(sensor.id)}</b>{' '}
        <span className="text-ink2">
          heard {sensor.count === 1 ? 'once' : `${sensor.count} times in ${duration(Math.max(1, seconds))}`},{' '}
          {f.pressure(sensor.pressureKpa)}
        </span>
      </span>
      <label className="flex items-center gap-2">
        <span className="text-body">Which wheel?</span>
        <select className="input" value={chosen} onChange={(e) => setChosen(e.target.value)}>
          <option value="">not yet</option>
          {open.map((o) => (
            <option key={o.key} value={o.key}>
              {o.text}
            </option>
          ))}
        </select>
      </label>
      <button type="button" className="btn btn-small" disabled={chosen === ''} onClick={() => void pair()}>
        Put it there<span className="sr-only">: {sensor.id}</span>
      </button>
    </li>
  );
}

/** Settings of the gateway, each field with what the server says of it. */
function Settings({ view, onDone }: { view: GatewayView; onDone: () => void }) {
  const client = useQueryClient();
  const [typed, setTyped] = useState<GatewaySettings>(view.settings ?? EMPTY);
  const [password, setPassword] = useState('');
  const [faults, setFaults] = useState<Record<string, string>>({});
  const set = (change: Partial<GatewaySettings>) => setTyped((t) => ({ ...t, ...change }));
  const setField = (change: Partial<GatewayFields>) => setTyped((t) => ({ ...t, fields: { ...t.fields, ...change } }));
  const text = (name: keyof GatewayFields, label: string, hint?: string) => (
    <Field
      label={label}
      value={typed.fields[name] ?? ''}
      hint={hint}
      error={faults[`/fields/${name}`]}
      onChange={(e) =>
        setField({ [name]: e.target.value === '' && name !== 'sensor' && name !== 'pressure' ? null : e.target.value })
      }
    />
  );
  const choice = <N extends 'timeFormat' | 'pressureUnit' | 'tempUnit'>(
    name: N,
    label: string,
    options: readonly (readonly [GatewayFields[N], string])[],
  ) => (
    <label className="field">
      <span className="block text-note text-ink2">{label}</span>
      <select
        className="input"
        value={typed.fields[name]}
        onChange={(e) => setField({ [name]: e.target.value } as Partial<GatewayFields>)}
      >
        {options.map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
  const save = async (e: FormEvent) => {
    e.preventDefault();
    try {
      const body = { ...typed, enabled: true, ...(password === '' ? {} : { password }) };
      client.setQueryData(GATEWAY, await ask('setGateway', { body }));
      onDone();
    } catch (error) {
      if (error instanceof ApiProblem && error.errors.length > 0)
        setFaults(Object.fromEntries(error.errors.map((x) => [x.pointer, `This ${x.detail}`])));
      else toastError(error);
    }
  };
  return (
    <form noValidate onSubmit={(e) => void save(e)} className="mt-3 max-w-[860px]">
      <div className="grid gap-3 sm:grid-cols-2">
        <Field
          label="Address of the broker"
          value={typed.url}
          error={faults['/url'] && 'Give it as mqtt://name:1883, mqtts:// or ws://'}
          onChange={(e) => set({ url: e.target.value })}
        />
        <Field
          label="Topic"
          value={typed.topic}
          error={faults['/topic']}
          hint="+ matches one level, # at the end all that follow"
          onChange={(e) => set({ topic: e.target.value })}
        />
        <Field
          label="User name, if it needs one"
          value={typed.username ?? ''}
          onChange={(e) => {
            const { username: _gone, ...rest } = typed;
            setTyped(e.target.value === '' ? rest : { ...rest, username: e.target.value });
          }}
        />
        <Field
          label="Password"
          type="password"
          value={password}
          hint={
            view.hasPassword ? 'One is kept; leave it empty to go on with it.' : 'It is kept on this machine, in the data folder.'
          }
          onChange={(e) => setPassword(e.target.value)}
        />
        {text('sensor', 'Field of the sensor’s ID', 'topic:2 is the second level of the topic')}
        {text('time', 'Field of the time', 'Leave it empty to take the time at which it arrives')}
        {choice('timeFormat', 'The time is', [
          ['iso', 'date and time (ISO 8601)'],
          ['epochS', 'seconds since 1970'],
          ['epochMs', 'milliseconds since 1970'],
        ])}
        {text('pressure', 'Field of the pressure', 'a.b is the field b inside a')}
        {choice('pressureUnit', 'Its unit', [
          ['kPa', 'kPa'],
          ['bar', 'bar'],
          ['psi', 'psi'],
        ])}
        {text('temp', 'Field of the temperature')}
        {choice('tempUnit', 'Its unit', [
          ['C', '°C'],
          ['F', '°F'],
          ['K', 'K'],
        ])}
        <Field
          label="Send alarms and states out under"
          value={typed.publish ?? ''}
          placeholder="druckwerk"
          error={faults['/publish']}
          hint="Leave it empty to send nothing"
          onChange={(e) => set({ publish: e.target.value === '' ? null : e.target.value })}
        />
      </div>
      <p className="mt-4 flex flex-wrap gap-2">
        <button type="submit" className="btn btn-solid">
          Save and connect
        </button>
        <button type="button" className="btn" onClick={onDone}>
          Cancel
        </button>
      </p>
    </form>
  );
}

/** Readings of a gateway of the owner's: state, settings, sensors to be paired. */
export default function Gateway() {
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [editing, setEditing] = useState(false);
  const rigs = useRigs();
  const units = useUnits();
  const { data: view, error } = useQuery({
    queryKey: GATEWAY,
    queryFn: () => ask('gateway', {}),
    refetchInterval: open ? EVERY_MS : false,
  });
  const turn = async (enabled: boolean) => {
    if (!view?.settings) return;
    try {
      client.setQueryData(GATEWAY, await ask('setGateway', { body: { ...view.settings, enabled } }));
    } catch (e) {
      toastError(e);
    }
  };
  const rename = async () => {
    try {
      client.setQueryData(GATEWAY, await ask('renameGateway', {}));
      toast('This Druckwerk has a new name at the broker now.');
    } catch (e) {
      toastError(e);
    }
  };
  const on = view !== undefined && view.state !== 'off';
  return (
    <details className="mt-4" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="text-body font-bold">
        Readings over MQTT
        <span className="ml-2 font-normal text-ink2">
          {view && (view.settings ? stateWords[view.state] : 'not set up')}
          {view &&
            view.unknown.length > 0 &&
            `, ${view.unknown.length === 1 ? '1 sensor' : `${view.unknown.length} sensors`} to pair`}
        </span>
      </summary>
      <p className="my-2 max-w-[70ch] text-body text-ink2">
        A gateway that hears your sensors and speaks MQTT can hand its readings to Druckwerk. They are watched like any other.
      </p>
      {error && (
        <p className="error" role="alert">
          {error.message}
        </p>
      )}
      {view?.settings && !editing && (
        <p className="my-2">
          <b>{view.settings.url}</b>, {view.settings.topic}. {view.messages.toLocaleString('en-GB')} messages,{' '}
          {view.stored.toLocaleString('en-GB')} readings stored
          {view.refused > 0 && `, ${view.refused.toLocaleString('en-GB')} not readable`}
          {view.lastTime && `, the last one ${dayAndTime(Date.parse(view.lastTime))}`}.
        </p>
      )}
      {view?.fault && on && !editing && <Notice>{view.fault}</Notice>}
      {view?.pushedOut && on && !editing && (
        <Notice>
          <p className="max-w-[70ch]">
            The broker ends each connection within seconds. Most likely another Druckwerk, restored from a backup of this one, is
            connected under the same name, and each gets a part of the readings. Stop the other one, or take a new name here. What
            the broker still keeps for the old name stays with the other one.
          </p>
          <button type="button" className="btn mt-3" onClick={() => void rename()}>
            Take a new name
          </button>
        </Notice>
      )}
      {view && !editing && (
        <p className="my-3 flex flex-wrap gap-2">
          {view.settings && (
            <button type="button" className={`btn ${on ? '' : 'btn-solid'}`} onClick={() => void turn(!on)}>
              {on ? 'Disconnect' : 'Connect'}
            </button>
          )}
          <button type="button" className={`btn ${view.settings ? '' : 'btn-solid'}`} onClick={() => setEditing(true)}>
            {view.settings ? 'Change the settings' : 'Set it up'}
          </button>
        </p>
      )}
      {view && editing && <Settings view={view} onDone={() => setEditing(false)} />}
      {view && view.unknown.length > 0 && (
        <div className="mt-3 max-w-[860px]">
          <h3 className="text-body font-bold">Heard, and on no wheel yet</h3>
          <ul className="border-t border-ink">
            {view.unknown.map((u) => (
              <Unknown key={u.id} sensor={u} rigs={rigs.data ?? []} units={units.data ?? []} />
            ))}
          </ul>
        </div>
      )}
    </details>
  );
}
