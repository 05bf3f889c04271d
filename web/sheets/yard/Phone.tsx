import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import type { CodeAnswer, Device, Role } from '#schema/devices.ts';
import { ask } from '../../data/api.ts';
import { Box } from '../../parts/Box.tsx';
import { Field, Notice } from '../../parts/controls.tsx';
import { dayAndTime } from '../../parts/format.ts';
import { toast, toastError } from '../../state/toast.ts';

const NETWORK = ['network'] as const;
const DEVICES = ['devices'] as const;

const roleWords: Record<Role, string> = {
  full: 'may do everything',
  read: 'sees everything, types readings',
  readings: 'sends readings only (a gateway)',
};

/** The code that pairs a device, large and as a picture. */
function CodeBox({ answer, onClose }: { answer: CodeAnswer; onClose: () => void }) {
  const [way] = answer.ways;
  return (
    <Box open title="Pair a device" onClose={onClose}>
      {way ? (
        <div className="flex flex-wrap items-center gap-5">
          <img
            alt={`QR code of ${way.url}`}
            src={`data:image/svg+xml,${encodeURIComponent(way.svg)}`}
            className="size-[220px] border border-ink bg-white"
          />
          <div className="min-w-[220px] grow">
            <p>Point the phone’s camera at it, or open</p>
            <p className="narrow text-head font-bold break-all">{way.url.split('/pair')[0]}</p>
            <p className="mt-2">and type</p>
            <p className="figure text-fig1 font-bold">
              {answer.code.slice(0, 4)} {answer.code.slice(4)}
            </p>
            <p className="text-body text-ink2">Good for one device, until {dayAndTime(Date.parse(answer.until))}.</p>
          </div>
        </div>
      ) : (
        <p className="error" role="alert">
          This computer is in no network just now. Connect it, then make another code.
        </p>
      )}
    </Box>
  );
}

/** The home network, and the devices in it that may come in. */
export default function Phone() {
  const client = useQueryClient();
  const me = useQuery({ queryKey: ['me'], queryFn: () => ask('me', {}) });
  const here = me.data?.device === null;
  const network = useQuery({ queryKey: NETWORK, queryFn: () => ask('network', {}), enabled: here });
  const devices = useQuery({ queryKey: DEVICES, queryFn: () => ask('devices', {}), enabled: here });
  const [name, setName] = useState('');
  const [role, setRole] = useState<Role>('full');
  const [fault, setFault] = useState<string | null>(null);
  const [code, setCode] = useState<CodeAnswer | null>(null);
  // Only at the computer itself.
  if (!here || !network.data) return null;
  const { on, https, addresses } = network.data;
  const turn = async () => {
    try {
      client.setQueryData(NETWORK, await ask('setNetwork', { body: { on: !on } }));
    } catch (error) {
      toastError(error);
    }
  };
  const show = async (e: FormEvent) => {
    e.preventDefault();
    if (name.trim() === '') {
      setFault('Give it a name, such as “my phone”');
      return;
    }
    setFault(null);
    try {
      setCode(await ask('deviceCode', { body: { name: name.trim(), role } }));
    } catch (error) {
      toastError(error);
    }
  };
  const revoke = async (d: Device) => {
    try {
      await ask('revokeDevice', { params: { id: d.id } });
      toast(`${d.name} may not come in any more.`);
      await client.invalidateQueries({ queryKey: DEVICES });
    } catch (error) {
      toastError(error);
    }
  };
  return (
    <details className="mt-4">
      <summary className="text-body font-bold">
        Use it on a phone
        <span className="ml-2 font-normal text-ink2">
          {on ? (https ? 'on, encrypted' : 'on') : 'off'}
          {devices.data &&
            devices.data.length > 0 &&
            `, ${devices.data.length === 1 ? '1 device' : `${devices.data.length} devices`}`}
        </span>
      </summary>
      <p className="my-2 max-w-[70ch] text-body text-ink2">
        Let phones in your home network open Druckwerk, to type and read beside the wheel. Each is paired by a code first.
      </p>
      {network.data.fault && <Notice tone="act">{network.data.fault}</Notice>}
      <p className="my-3">
        <button type="button" className={`btn ${on ? '' : 'btn-solid'}`} onClick={() => void turn()}>
          {on ? 'Close it to the home network' : 'Open it to the home network'}
        </button>
        {on && <span className="ml-3">{addresses.join(', ')}</span>}
      </p>
      {on && !https && (
        <div className="max-w-[860px]">
          <Notice>
            The way to the phone is not encrypted: others in the network could read along. Start Druckwerk with --https for a
            certificate of its own. The phone then also works without a connection, keeps its screen on and shows notices.
          </Notice>
        </div>
      )}
      {on && (
        <form noValidate onSubmit={(e) => void show(e)} className="mt-3 flex max-w-[860px] flex-wrap items-end gap-3">
          <Field
            label="Name of the device"
            placeholder="my phone"
            value={name}
            error={fault ?? undefined}
            onChange={(e) => setName(e.target.value)}
          />
          <label className="field">
            <span className="block text-note text-ink2">What it may do</span>
            <select className="input" value={role} onChange={(e) => setRole(e.target.value as Role)}>
              {(Object.keys(roleWords) as Role[]).map((r) => (
                <option key={r} value={r}>
                  {roleWords[r]}
                </option>
              ))}
            </select>
          </label>
          <button type="submit" className="btn btn-solid">
            Show a code
          </button>
        </form>
      )}
      {(devices.data?.length ?? 0) > 0 && (
        <ul className="mt-4 max-w-[860px] border-t border-ink">
          {devices.data?.map((d) => (
            <li key={d.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule py-2 text-body">
              <b className="min-w-[150px]">{d.name}</b>
              <span className="grow text-ink2">
                {roleWords[d.role]}, {d.seenAt ? `here last ${dayAndTime(Date.parse(d.seenAt))}` : 'not here yet'}
              </span>
              <button type="button" className="underline underline-offset-3" onClick={() => void revoke(d)}>
                Revoke<span className="sr-only"> {d.name}</span>
              </button>
            </li>
          ))}
        </ul>
      )}
      {code && (
        <CodeBox
          answer={code}
          onClose={() => {
            setCode(null);
            void client.invalidateQueries({ queryKey: DEVICES });
          }}
        />
      )}
    </details>
  );
}
