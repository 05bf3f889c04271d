import { type FormEvent, useEffect, useRef, useState } from 'react';
import { ask } from '../data/api.ts';
import { Field, Notice } from '../parts/controls.tsx';

/** A device of the home network types the code that is on the computer's screen. */
export default function Pair() {
  const [code, setCode] = useState(() => window.location.hash.replace(/\D/g, ''));
  const [fault, setFault] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const send = async (digits: string) => {
    setBusy(true);
    setFault(null);
    try {
      await ask('pairDevice', { body: { code: digits } });
      // From the start again, as a device that is known.
      window.location.replace('/');
    } catch (error) {
      setFault((error as Error).message);
      setBusy(false);
    }
  };
  const tried = useRef(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a code that came with the address is tried once
  useEffect(() => {
    if (tried.current || code.length !== 8) return;
    tried.current = true;
    window.history.replaceState(null, '', '/pair');
    void send(code);
  }, []);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    if (code.replace(/\D/g, '').length === 8) void send(code);
    else setFault('The code has eight digits.');
  };
  return (
    <main className="mx-auto max-w-[520px] p-5">
      <p className="font-display text-big font-semibold">Druckwerk</p>
      <h1 className="mt-4">Pair this device</h1>
      <p className="lede mt-2">On the computer open “Use it on a phone” at the foot of the yard, and type the code it shows.</p>
      {window.location.protocol === 'http:' && !['localhost', '127.0.0.1'].includes(window.location.hostname) && (
        <div className="mt-3">
          <Notice>
            This way is not encrypted: others in this network could read along. Use it in your own network only, or start
            Druckwerk with --https.
          </Notice>
        </div>
      )}
      <form noValidate onSubmit={submit} className="mt-4 flex flex-col gap-3">
        <Field
          label="Code"
          inputMode="numeric"
          autoFocus
          placeholder="1234 5678"
          value={code}
          error={fault ?? undefined}
          onChange={(e) => setCode(e.target.value)}
        />
        <button type="submit" className="btn btn-solid" disabled={busy}>
          {busy ? 'One moment…' : 'Pair'}
        </button>
      </form>
    </main>
  );
}
