import { Suspense } from 'react';
import { useSearchParams } from 'react-router';
import { JOB_IDS, type JobId } from '#core/upkeep/jobs.ts';
import { SheetHead, Switch } from '../../parts/controls.tsx';
import { lazyPart } from '../../parts/lazy-part.ts';
import { DuePart } from './DuePart.tsx';

const CellsPart = lazyPart(() => import('./CellsPart.tsx').then((m) => ({ default: m.CellsPart })));
const JobsPart = lazyPart(() => import('./JobsPart.tsx').then((m) => ({ default: m.JobsPart })));
const JobView = lazyPart(() => import('./JobView.tsx').then((m) => ({ default: m.JobView })));
const PartsPart = lazyPart(() => import('./PartsPart.tsx').then((m) => ({ default: m.PartsPart })));

const parts = {
  due: { text: 'Due', about: 'What is due and when, as a list and for your calendar.' },
  cells: { text: 'Batteries', about: 'How long each sensor’s battery lasts, by use, cold and what it tells.' },
  jobs: { text: 'Jobs', about: 'Every job step by step: parts, tools, the usual mistake, the proof.' },
  parts: { text: 'Parts', about: 'What is on hand, what will be used up, what to buy.' },
} as const;
type Part = keyof typeof parts;

/** What keeps the kit alive. */
export default function Upkeep() {
  const [search, setSearch] = useSearchParams();
  const asked = search.get('part') ?? 'due';
  const job = search.get('job');
  const part: Part = asked in parts ? (asked as Part) : 'due';
  const isJob = job !== null && (JOB_IDS as readonly string[]).includes(job);
  return (
    <>
      <SheetHead title="Upkeep">{isJob ? parts.jobs.about : parts[part].about}</SheetHead>
      <div className="mb-4 print:hidden">
        <Switch
          parts
          label="Part of upkeep"
          value={isJob ? 'jobs' : part}
          options={(Object.keys(parts) as Part[]).map((p) => ({ value: p, text: parts[p].text }))}
          onChange={(p) => setSearch(p === 'due' ? {} : { part: p }, { replace: true })}
        />
      </div>
      <Suspense fallback={<p className="text-ink2">One moment…</p>}>
        {isJob ? (
          <JobView
            key={job}
            id={job as JobId}
            wheel={search.get('wheel') ?? ''}
            onLeave={() => setSearch({ part: 'jobs' }, { replace: true })}
          />
        ) : part === 'due' ? (
          <DuePart />
        ) : part === 'cells' ? (
          <CellsPart />
        ) : part === 'jobs' ? (
          <JobsPart />
        ) : (
          <PartsPart />
        )}
      </Suspense>
    </>
  );
}
