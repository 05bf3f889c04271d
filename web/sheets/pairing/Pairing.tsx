import { Suspense, useState } from 'react';
import { useSearchParams } from 'react-router';
import { useRecords } from '../../data/queries.ts';
import { SheetHead, Switch } from '../../parts/controls.tsx';
import { lazyPart } from '../../parts/lazy-part.ts';
import { toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { GuidePart } from './GuidePart.tsx';
import { Setup } from './Setup.tsx';

const BookPart = lazyPart(() => import('./BookPart.tsx').then((m) => ({ default: m.BookPart })));
const CheckPart = lazyPart(() => import('./CheckPart.tsx').then((m) => ({ default: m.CheckPart })));
const RotationPart = lazyPart(() => import('./RotationPart.tsx').then((m) => ({ default: m.RotationPart })));
const DetectivePart = lazyPart(() => import('./DetectivePart.tsx').then((m) => ({ default: m.DetectivePart })));

const parts = {
  guide: {
    text: 'Guide',
    about: 'Wheel by wheel, the way your kit does it. You can stop any time and continue where you left off.',
  },
  book: { text: 'ID book', about: 'Which sensor is on which wheel, since when, and what was there before.' },
  check: {
    text: 'Final check',
    about: 'Step through all positions as the monitor does, and see that each has its own sensor.',
  },
  rotation: { text: 'Rotation', about: 'Wheels were moved: what to do about their sensors.' },
  detective: { text: 'Detective', about: 'Two may be swapped? The shortest proof of which sensor is on which wheel.' },
} as const;
type Part = keyof typeof parts;

/** Which sensor is on which wheel: made known, kept, checked and proved. */
export default function Pairing() {
  const { rig, wheels } = useRig();
  const { changeRig } = useRecords();
  const [search, setSearch] = useSearchParams();
  const asked = search.get('part') ?? 'guide';
  const part: Part = asked in parts ? (asked as Part) : 'guide';
  const [setup, setSetup] = useState(false);
  const paired = wheels.filter((w) => w.wheel.sensor).length;
  return (
    <>
      <div className="print:hidden">
        <SheetHead
          title="Pairing"
          aside={
            <p className="figure text-head font-semibold">
              {paired} of {wheels.length} paired
            </p>
          }
        >
          {parts[part].about}
        </SheetHead>
        <div className="mb-4 max-w-full overflow-x-auto">
          <Switch
            parts
            label="Part of the pairing"
            value={part}
            options={(Object.keys(parts) as Part[]).map((p) => ({ value: p, text: parts[p].text }))}
            onChange={(p) => setSearch(p === 'guide' ? {} : { part: p }, { replace: true })}
          />
        </div>
      </div>
      <Suspense fallback={<p className="text-ink2">One moment…</p>}>
        {part === 'guide' &&
          (rig.pairing && !setup ? (
            <GuidePart pairing={rig.pairing} onChangeWay={() => setSetup(true)} />
          ) : (
            <Setup
              onBegin={(pairing) => {
                changeRig(rig.id, (now) => ({ ...now, pairing }))
                  .then(() => setSetup(false))
                  .catch(toastError);
              }}
            />
          ))}
        {part === 'book' && <BookPart />}
        {part === 'check' && <CheckPart />}
        {part === 'rotation' && <RotationPart />}
        {part === 'detective' && <DetectivePart />}
      </Suspense>
    </>
  );
}
