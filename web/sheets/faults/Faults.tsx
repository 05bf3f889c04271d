import { Suspense } from 'react';
import { useSearchParams } from 'react-router';
import { SheetHead, Switch } from '../../parts/controls.tsx';
import { lazyPart } from '../../parts/lazy-part.ts';
import { FindPart } from './FindPart.tsx';

const RoadsidePart = lazyPart(() => import('./RoadsidePart.tsx').then((m) => ({ default: m.RoadsidePart })));
const TablePart = lazyPart(() => import('./TablePart.tsx').then((m) => ({ default: m.TablePart })));

const parts = {
  find: { text: 'Find it', about: 'Say what you see. You are asked for the test that tells the most for its minutes.' },
  roadside: { text: 'At the roadside', about: 'What to do now, cautions first.' },
  table: {
    text: 'The table',
    about: 'What the questions go by: how often each cause is, and what each test shows. Change what you know better.',
  },
} as const;
type Part = keyof typeof parts;

/** What is wrong, by the next best test. */
export default function Faults() {
  const [search, setSearch] = useSearchParams();
  const asked = search.get('part') ?? 'find';
  const part: Part = asked in parts ? (asked as Part) : 'find';
  return (
    <>
      <SheetHead title="Faults">{parts[part].about}</SheetHead>
      <div className="mb-4">
        <Switch
          parts
          label="Part of faults"
          value={part}
          options={(Object.keys(parts) as Part[]).map((p) => ({ value: p, text: parts[p].text }))}
          onChange={(p) => setSearch(p === 'find' ? {} : { part: p }, { replace: true })}
        />
      </div>
      <Suspense fallback={<p className="text-ink2">One moment…</p>}>
        {part === 'find' ? <FindPart /> : part === 'roadside' ? <RoadsidePart /> : <TablePart />}
      </Suspense>
    </>
  );
}
