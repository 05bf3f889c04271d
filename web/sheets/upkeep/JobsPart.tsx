import { Link } from 'react-router';
import { JOB_IDS, jobOf } from '#core/upkeep/jobs.ts';
import { useRig } from '../../state/useRig.ts';
import { JOB_WORDS } from './words.ts';

/** All jobs that can be done step by step. */
export function JobsPart() {
  const { rig } = useRig();
  return (
    <ul className="grid gap-x-8 md:grid-cols-2">
      {JOB_IDS.map((id) => (
        <li key={id} className="border-b border-rule py-3">
          <Link className="block hover:bg-paper2" to={`/rigs/${rig.id}/upkeep?job=${id}`}>
            <span className="flex items-baseline justify-between gap-3">
              <span className="text-head font-bold underline underline-offset-3">{JOB_WORDS[id].title}</span>
              <span className="narrow text-body whitespace-nowrap text-ink2">{jobOf(id).minutes} min</span>
            </span>
            <span className="block text-body">{JOB_WORDS[id].about}</span>
          </Link>
        </li>
      ))}
    </ul>
  );
}
