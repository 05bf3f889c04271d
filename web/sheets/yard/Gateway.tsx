import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { wheelsOf } from '#core/rig/positions.ts';
import { WATCH } from '#core/watch/parameters.ts';
import type { GatewayFields, GatewaySettings, GatewayView, UnknownSensor } from '#schema/gateway.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { ApiProblem, ask } from '../../data/api.ts';
import { unitsOf, useRecords, useRigs, useUnits } from '../../data/queries.ts';
import { Field, Notice } from '../../parts/controls.tsx';
import { dayAndTime, duration, inPairs, useFormat } from '../../parts/format.ts';
import { freshKey } from '../../state/keys.ts';
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

/** A wheel that a sensor or a name can be of. */
interface Choice {
  key: string;
  text: string;
  sensorId: string | null;
}

/** All wheels of rigs that aren't archived, once each. */
const choicesOf = (rigs: readonly Rig[], units: Unit[]): Choice[] =>
  rigs
    .filter((r) => !r.archived)
    .flatMap((r) =>
      wheelsOf(unitsOf(r, units)).map((w) => ({
        key: `${w.unit.id} ${w.wheel.position}`,
        text: `${r.name}: ${w.position}`,
        sensorId: w.wheel.sensor?.id ?? null,
      })),
    )
    .filter((o, i, all) => all.findIndex((x) => x.key === o.key) === i);

/** Keeps the sensor that a gateway means by a name of its own; null: none. */
function useName() {
  const client = useQueryClient();
  return async (name: string, sensorId: string | null) => {
    const settings = client.getQueryData<GatewayView>(GATEWAY)?.settings;
    if (!settings) return;
    const { [name]: _before, ...rest } = settings.names;
    const names = sensorId === null ? rest : { ...rest, [name]: sensorId };
    client.setQueryData(GATEWAY, await ask('setGateway', { body: { ...settings, names } }));
  };
}

/** A sensor that was heard and is on no wheel, or a name that is no ID: how often, what it says, and which wheel it could be. */
function Unknown({ sensor, choices }: { sensor: UnknownSensor; choices: readonly Choice[] }) {
  const f = useFormat();
  const client = useQueryClient();
  const { changeUnit } = useRecords();
  const keepName = useName();
  const [chosen, setChosen] = useState('');
  // A name may be of a wheel that has its sensor already.
  const open = sensor.isName ? choices : choices.filter((o) => o.sensorId === null);
  const seconds = (Date.parse(sensor.lastTime) - Date.parse(sensor.firstTime)) / 1000;
  const shown = sensor.isName ? `“${sensor.id}”` : inPairs(sensor.id);
  const pair = async () => {
    const choice = open.find((o) => o.key === chosen);
    if (!choice) return;
    const [unitId, position] = chosen.split(' ');
    const put = (id: string | null) =>
      changeUnit(unitId as string, (unit) => {
        const next = structuredClone(unit);
        for (const wheel of [...next.axles.flatMap((a) => a.wheels), ...next.spares.map((s) => s.wheel)])
          if (wheel.position === position) wheel.sensor = id === null ? null : { id, kind: 'cap' };
        return next;
      });
    // A name that is asked about again was of a sensor that is on no wheel now.
    const before = client.getQueryData<GatewayView>(GATEWAY)?.settings?.names[sensor.id] ?? null;
    // A sensor whose ID no message says is kept without one.
    const id = choice.sensorId ?? (sensor.isName ? freshKey() : sensor.id);
    try {
      if (choice.sensorId === null) await put(id);
      if (sensor.isName) await keepName(sensor.id, id);
      await client.invalidateQueries({ queryKey: GATEWAY });
      const undo = async () => {
        if (sensor.isName) await keepName(sensor.id, before);
        if (choice.sensorId === null) await put(null);
      };
      toast(`${shown} is on ${choice.text}.`, { undo: () => undo().catch(toastError) });
    } catch (error) {
      toastError(error);
    }
  };
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-rule py-2">
      <span className="min-w-[260px] grow">
        <b className={sensor.isName ? undefined : 'narrow'}>{shown}</b>{' '}
        <span className="text-ink2">
          heard {sensor.count === 1 ? 'once' : `${sensor.count} times in ${duration(Math.max(1, seconds))}`},{' '}
          {f.pressure(sensor.pressureKpa)}
        </span>
      </span>
      <label className="flex items-center gap-2">
        <span className="whitespace-nowrap text-body">Which wheel?</span>
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

/** Names of the gateway's own, and the wheel each is of. */
function Names({ view, choices }: { view: GatewayView; choices: readonly Choice[] }) {
  const keepName = useName();
  const names = view.settings?.names ?? {};
  const remove = async (name: string, id: string) => {
    try {
      await keepName(name, null);
      toast(`“${name}” is on no wheel now.`, { undo: () => keepName(name, id).catch(toastError) });
    } catch (error) {
      toastError(error);
    }
  };
  if (Object.keys(names).length === 0) return null;
  return (
    <div className="mt-3 max-w-[860px]">
      <h3 className="text-body font-bold">Names in the messages</h3>
      <ul className="border-t border-ink">
        {Object.entries(names).map(([name, id]) => (
          <li key={name} className="flex flex-wrap items-center gap-x-4 border-b border-rule py-2">
            <span className="grow">
              <b>“{name}”</b>{' '}
              <span className="text-ink2">
                {choices.find((c) => c.sensorId?.toUpperCase() === id.toUpperCase())?.text ?? 'its sensor is on no wheel now'}
              </span>
            </span>
            <button type="button" className="underline underline-offset-3" onClick={() => void remove(name, id)}>
              Remove<span className="sr-only"> the name {name}</span>
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** A message whose own time differs this much from its arrival is pointed out, s: readings this far ahead of the clock are set aside. */
const APART_S = WATCH.aheadMs / 1000;

/** The messages' time isn't the time at which they arrive: the gateway's clock may be wrong. */
function Dated({ apartS }: { apartS: number | null }) {
  if (apartS === null || Math.abs(apartS) <= APART_S) return null;
  const apart = duration(Math.abs(apartS));
  return (
    <Notice>
      {apartS > 0
        ? `The last message was dated ${apart} ahead of this computer’s clock. Such readings are set aside and aren’t watched.`
        : `The last message was dated ${apart} before it came. Its readings are shown as old.`}{' '}
      Check the gateway’s clock and time zone, or leave the field of the time empty: then the time of arrival counts.
    </Notice>
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
        {text('battery', 'Field of the battery, V', 'Leave it empty if there is none')}
        {text('rssi', 'Field of the signal, dBm', 'Leave it empty if there is none')}
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
  const choices = choicesOf(rigs.data ?? [], units.data ?? []);
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
      {view && on && !editing && <Dated apartS={view.apartS} />}
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
              <Unknown key={u.id} sensor={u} choices={choices} />
            ))}
          </ul>
        </div>
      )}
      {view && !editing && <Names view={view} choices={choices} />}
    </details>
  );
}
