import { Suspense } from 'react';
import { useSearchParams } from 'react-router';
import { useMonitor } from '../../data/queries.ts';
import { SheetHead, Switch } from '../../parts/controls.tsx';
import { useFormat } from '../../parts/format.ts';
import { LoadSwitch } from '../../parts/LoadSwitch.tsx';
import { lazyPart } from '../../parts/lazy-part.ts';
import { usePlans } from '../../state/plans.ts';
import { useRig } from '../../state/useRig.ts';
import { gridOf } from './gridOf.ts';
import { LimitsPart } from './LimitsPart.tsx';

const KeyingCard = lazyPart(() => import('./KeyingCard.tsx').then((m) => ({ default: m.KeyingCard })));
const YearPart = lazyPart(() => import('./YearPart.tsx').then((m) => ({ default: m.YearPart })));

const parts = {
  limits: {
    text: 'Limits',
    about: 'Each axle as a ladder: its load minimum, where the day takes the pressure, and where it alarms.',
  },
  card: { text: 'Keying card', about: 'Every key in the order this monitor needs, one step at a time.' },
  year: { text: 'The year', about: 'The limits against every day of your weather file.' },
} as const;
type Part = keyof typeof parts;

/** Which limits, why, and how they get into the monitor. */
export default function Alarms() {
  const whole = useRig();
  const monitor = useMonitor(whole.rig);
  const f = useFormat();
  const plans = usePlans(whole);
  const [search, setSearch] = useSearchParams();
  const asked = search.get('part') ?? 'limits';
  const part: Part = asked in parts ? (asked as Part) : 'limits';
  return (
    <>
      <div className="print:hidden">
        <SheetHead title="Alarms" aside={<LoadSwitch />}>
          {parts[part].about}
        </SheetHead>
        <div className="mb-4">
          <Switch
            parts
            label="Part of the alarms"
            value={part}
            options={(Object.keys(parts) as Part[]).map((p) => ({ value: p, text: parts[p].text }))}
            onChange={(p) => setSearch(p === 'limits' ? {} : { part: p }, { replace: true })}
          />
        </div>
      </div>
      <Suspense fallback={<p className="text-ink2">One moment…</p>}>
        {part === 'limits' && <LimitsPart monitor={monitor} />}
        {part === 'card' && <KeyingCard monitor={monitor} />}
        {part === 'year' && <YearPart monitor={monitor} plans={plans} grid={gridOf(monitor, f.unit)} />}
      </Suspense>
    </>
  );
}
