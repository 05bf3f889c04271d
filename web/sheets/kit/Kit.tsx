import { Suspense } from 'react';
import { Link, useSearchParams } from 'react-router';
import { SheetHead, Switch } from '../../parts/controls.tsx';
import { lazyPart } from '../../parts/lazy-part.ts';
import { useRig } from '../../state/useRig.ts';

const parts = {
  stems: { text: 'Stems', part: lazyPart(() => import('./Stems.tsx')), about: 'What may go on which stem, and why.' },
  box: { text: 'Box', part: lazyPart(() => import('./BoxList.tsx')), about: 'Count what came, see what this rig still needs.' },
  monitor: {
    text: 'Monitor',
    part: lazyPart(() => import('./MonitorPart.tsx')),
    about: 'What your monitor can do, and which of its positions is which wheel.',
  },
  readback: {
    text: 'Read back',
    part: lazyPart(() => import('./ReadBack.tsx')),
    about: 'A kit that somebody else set up: read it back, compare it, change only what differs.',
  },
  buying: {
    text: 'Before buying',
    part: lazyPart(() => import('./Buying.tsx')),
    about: 'Each way of buying, for this rig.',
  },
  labels: { text: 'Labels', part: lazyPart(() => import('./Labels.tsx')), about: 'One for each wheel, to print and cut.' },
};
type Part = keyof typeof parts;

/** What comes after each part of the sheet: the next part, or the next sheet. */
const NEXT: Record<Part, { to: Part | null; text: string }> = {
  stems: { to: 'box', text: 'Next: the box' },
  box: { to: 'monitor', text: 'Next: the monitor' },
  monitor: { to: null, text: 'Next: pressures' },
  readback: { to: null, text: 'Next: pressures' },
  buying: { to: 'stems', text: 'Next: stems' },
  labels: { to: null, text: 'Next: pressures' },
};

/** What came in the box, what goes on which stem, and what the monitor can show. */
export default function Kit() {
  const { rig } = useRig();
  const [search, setSearch] = useSearchParams();
  const asked = search.get('part') ?? 'stems';
  const part: Part = asked in parts ? (asked as Part) : 'stems';
  const { part: Shown, about } = parts[part];
  const next = NEXT[part];
  return (
    <>
      <div className="print:hidden">
        <SheetHead title="Kit">{about}</SheetHead>
      </div>
      <div className="mb-5 max-w-full overflow-x-auto print:hidden">
        <Switch
          parts
          label="Part of the kit"
          value={part}
          options={(Object.keys(parts) as Part[]).map((p) => ({ value: p, text: parts[p].text }))}
          onChange={(p) => setSearch({ part: p }, { replace: true })}
        />
      </div>
      <Suspense fallback={<p className="text-ink2">One moment…</p>}>
        <Shown />
      </Suspense>
      <p className="next-step print:hidden">
        <Link className="btn btn-solid" to={next.to === null ? `/rigs/${rig.id}/pressures` : `?part=${next.to}`}>
          {next.text}
        </Link>
      </p>
    </>
  );
}
