import { Link } from 'react-router';
import type { DueEntry } from '#schema/calendar.ts';
import { addressOf } from '../../data/address.ts';
import { useDue } from '../../data/queries.ts';
import { LOCALE } from '../../parts/locale.ts';
import { toast } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { TireAges } from './TireAges.tsx';

const day = new Intl.DateTimeFormat(LOCALE, {
  weekday: 'short',
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  timeZone: 'UTC',
});

/** Where each kind of job is done. */
const PLACE: Record<DueEntry['kind'], { path: string; text: string }> = {
  cells: { path: 'upkeep?job=cell', text: 'Do it' },
  cellSign: { path: 'upkeep?job=cell', text: 'Do it' },
  cellMissed: { path: 'faults', text: 'Find it' },
  sealedCells: { path: 'upkeep?job=sealedCell', text: 'Do it' },
  winter: { path: 'alarms', text: 'To the limits' },
  summer: { path: 'alarms', text: 'To the limits' },
  warranty: { path: 'kit', text: 'To the kit' },
  retighten: { path: 'upkeep?job=retighten', text: 'Do it' },
  gauge: { path: 'first-drive?part=gauge', text: 'Compare' },
  tireAge: { path: 'upkeep?job=oldTires', text: 'Do it' },
  job: { path: 'upkeep', text: 'Do it' },
};
function linkOf(d: DueEntry): string {
  if (d.job) return `upkeep?job=${d.job}`;
  const { path } = PLACE[d.kind];
  return path.includes('job=') && d.positions[0] ? `${path}&wheel=${d.positions[0]}` : path;
}

/** What is due, and the same for a calendar. */
export function DuePart() {
  const whole = useRig();
  const { rig } = whole;
  const due = useDue(whole);
  const file = addressOf('calendar', { params: { rig: rig.id } });
  const address = new URL(file, window.location.href).href;
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(address);
      toast('The address is copied.');
    } catch {
      toast('This browser doesn’t let it be copied. Mark the address and copy it.', { tone: 'error' });
    }
  };
  return (
    <div className="grid gap-x-8 gap-y-6 xl:grid-cols-[minmax(0,1fr)_336px]">
      <section aria-label="What is due">
        {due.data === undefined ? (
          <p className="text-ink2">{due.isError ? 'This can’t be read just now.' : 'One moment…'}</p>
        ) : due.data.length === 0 ? (
          <p className="max-w-[60ch]">
            Nothing has a day yet. Say on Kit when each sensor’s battery was put in, set limits by season on Alarms, and compare
            gauge and sensors on First drive: the days will be here.
          </p>
        ) : (
          <ol className="border-t border-ink">
            {due.data.map((d) => (
              <li
                key={`${d.kind} ${d.job ?? ''} ${d.date} ${d.positions[0] ?? ''}`}
                className="grid grid-cols-[136px_minmax(0,1fr)_auto] items-baseline gap-x-4 border-b border-rule py-3 max-md:grid-cols-[minmax(0,1fr)_auto]"
                data-due={d.kind}
              >
                <span className="narrow text-body max-md:col-span-2">
                  {day.format(Date.parse(d.date))}
                  {d.overdue && <b className="ml-2 text-magenta">overdue</b>}
                  {d.yearly && <span className="ml-2 text-ink2">each year</span>}
                </span>
                <span>
                  <span className="block text-body font-semibold">{d.title}</span>
                  <span className="block text-body text-ink2">{d.text}</span>
                </span>
                <Link className="btn btn-small self-center" to={`/rigs/${rig.id}/${linkOf(d)}`}>
                  {PLACE[d.kind].text}
                </Link>
              </li>
            ))}
          </ol>
        )}
      </section>
      <div className="flex flex-col gap-6">
        <section aria-label="For your calendar">
          <h2 className="mb-2 border-b border-ink pb-1">For your calendar</h2>
          <p className="mb-3 text-body">
            Save it as a file, or subscribe to the address: then a job that moves moves in your calendar too. The address works
            where this app can be reached.
          </p>
          <p className="mb-2">
            <a className="btn" href={file} download={`${rig.name}.ics`}>
              Save as a calendar file
            </a>
          </p>
          <div className="field">
            <label htmlFor="calendar-address">Address</label>
            <input
              id="calendar-address"
              className="input text-note"
              readOnly
              value={address}
              onFocus={(e) => e.currentTarget.select()}
            />
          </div>
          <p className="mt-2">
            <button type="button" className="btn" onClick={() => void copy()}>
              Copy the address
            </button>
          </p>
        </section>
        <TireAges />
      </div>
    </div>
  );
}
