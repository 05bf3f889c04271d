import { Suspense } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useMonitor } from '../../data/queries.ts';
import { SheetHead, Switch } from '../../parts/controls.tsx';
import { HeldStops } from '../../parts/HeldStops.tsx';
import { lazyPart } from '../../parts/lazy-part.ts';
import { useRig } from '../../state/useRig.ts';

const parts = {
  board: {
    text: 'All heard',
    about: 'Every sensor’s first word: what is normal, when to worry, what to try.',
    part: lazyPart(() => import('./Board.tsx')),
  },
  gauge: {
    text: 'Gauge',
    about: 'Sensors against your own gauge, cold and at rest, like with like.',
    part: lazyPart(() => import('./GaugePart.tsx')),
  },
  proof: {
    text: 'Prove an alarm',
    about: 'Provoke one on purpose, once, standing still: then you know that it comes.',
    part: lazyPart(() => import('./Proof.tsx')),
  },
  report: {
    text: 'Report',
    about: 'All of it on paper: what was set, fitted, measured and proved, and what is open.',
    part: lazyPart(() => import('./ReportPart.tsx')),
  },
} as const;
type Part = keyof typeof parts;

/** The first drive proves the set. */
export default function FirstDrive() {
  const { rig } = useRig();
  const monitor = useMonitor(rig);
  const [search, setSearch] = useSearchParams();
  const asked = search.get('part') ?? 'board';
  const part: Part = asked in parts ? (asked as Part) : 'board';
  const { part: Shown, about } = parts[part];
  const order = Object.keys(parts) as Part[];
  const next = order[order.indexOf(part) + 1];
  return (
    <>
      <div className="print:hidden">
        <SheetHead title="First drive">{about}</SheetHead>
        <div className="mb-4 max-w-full overflow-x-auto">
          <Switch
            parts
            label="Part of the first drive"
            value={part}
            options={(Object.keys(parts) as Part[]).map((p) => ({ value: p, text: parts[p].text }))}
            onChange={(p) => setSearch(p === 'board' ? {} : { part: p }, { replace: true })}
          />
        </div>
      </div>
      {part !== 'report' && <HeldStops monitor={monitor} />}
      <Suspense fallback={<p className="text-ink2">One moment…</p>}>
        <Shown />
      </Suspense>
      <p className="mt-6 print:hidden">
        {next ? (
          <button type="button" className="btn" onClick={() => setSearch({ part: next }, { replace: true })}>
            Next: {parts[next].text.toLowerCase()}
          </button>
        ) : (
          <Link className="btn" to={`/rigs/${rig.id}/watch`}>
            Next: watch
          </Link>
        )}
      </p>
    </>
  );
}
