import { Suspense } from 'react';
import { useSearchParams } from 'react-router';
import { SheetHead, Switch } from '../../parts/controls.tsx';
import { lazyPart } from '../../parts/lazy-part.ts';
import { LogPart } from './LogPart.tsx';

const LeaksPart = lazyPart(() => import('./LeaksPart.tsx').then((m) => ({ default: m.LeaksPart })));
const TopUpPart = lazyPart(() => import('./topup/TopUpPart.tsx').then((m) => ({ default: m.TopUpPart })));
const SeasonPart = lazyPart(() => import('./SeasonPart.tsx').then((m) => ({ default: m.SeasonPart })));
const TripPart = lazyPart(() => import('./TripPart.tsx').then((m) => ({ default: m.TripPart })));
const TrackPart = lazyPart(() => import('./track/TrackPart.tsx').then((m) => ({ default: m.TrackPart })));

const parts = {
  log: { text: 'Log', about: 'All that happened to this rig, by itself or written down.' },
  leaks: { text: 'Leaks', about: 'What each wheel loses, how fast, and how long that lasts.' },
  topup: { text: 'Top-up', about: 'A round with the pump: what each tire is filled to now, and the log writes itself.' },
  season: { text: 'Season', about: 'When the cold takes each axle to its low limit, and what to set before that.' },
  trip: { text: 'Trip', about: 'Pressures at rest and on the move along the way, by height and air.' },
  track: { text: 'Track day', about: 'What to let out of each hot tire, and what to start with next time.' },
} as const;
type Part = keyof typeof parts;

/** What the readings are for once the kit works. */
export default function Logbook() {
  const [search, setSearch] = useSearchParams();
  const asked = search.get('part') ?? 'log';
  const part: Part = asked in parts ? (asked as Part) : 'log';
  return (
    <div className="group/logbook">
      {/* Kneeling beside a wheel, the wheel has the page. */}
      <div className="max-md:group-has-[[data-round]]/logbook:hidden print:hidden">
        <SheetHead title="Logbook">{parts[part].about}</SheetHead>
        <div className="mb-4">
          <Switch
            parts
            label="Part of the logbook"
            value={part}
            options={(Object.keys(parts) as Part[]).map((p) => ({ value: p, text: parts[p].text }))}
            onChange={(p) => setSearch(p === 'log' ? {} : { part: p }, { replace: true })}
          />
        </div>
      </div>
      <Suspense fallback={<p className="text-ink2">One moment…</p>}>
        {part === 'log' && <LogPart />}
        {part === 'leaks' && <LeaksPart />}
        {part === 'topup' && <TopUpPart />}
        {part === 'season' && <SeasonPart />}
        {part === 'trip' && <TripPart />}
        {part === 'track' && <TrackPart />}
      </Suspense>
    </div>
  );
}
