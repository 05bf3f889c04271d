import type { ReactNode } from 'react';
import { NavLink } from 'react-router';

const pages = [
  ['', 'Now'],
  ['/charts', 'Charts'],
  ['/replay', 'Replay'],
  ['/files', 'Files'],
] as const;

/** The pages of the watch. */
export function WatchTabs({ rigId, children }: { rigId: string; children?: ReactNode }) {
  return (
    <div className="mb-4 flex flex-wrap items-center justify-between gap-x-5 gap-y-2 border-b border-rule max-md:flex-col-reverse max-md:items-start">
      <nav aria-label="Pages of the watch" className="flex flex-wrap gap-x-5">
        {pages.map(([path, title]) => (
          <NavLink
            key={title}
            to={`/rigs/${rigId}/watch${path}`}
            end
            className={({ isActive }) =>
              `-mb-px border-b-4 py-2 ${isActive ? 'border-ink font-semibold' : 'border-transparent text-ink2 hover:border-rule'}`
            }
          >
            {title}
          </NavLink>
        ))}
      </nav>
      {children && <div className="flex flex-wrap gap-2 pb-1.5">{children}</div>}
    </div>
  );
}
