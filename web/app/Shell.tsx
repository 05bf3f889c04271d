import { Suspense, useEffect, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, NavLink, Outlet, useLocation, useNavigate, useParams } from 'react-router';
import { isSpare } from '#core/rig/positions.ts';
import { useOutdated } from '../data/build.ts';
import { useLive, useLiveState } from '../data/live.ts';
import { useAlarms, useWatch, useWholeRig, type WholeRig } from '../data/queries.ts';
import { useCannotStore } from '../data/storing.ts';
import { FaultBoundary } from '../parts/FaultBoundary.tsx';
import { lazyPart } from '../parts/lazy-part.ts';
import { kindWords } from '../parts/words-kinds.ts';
import { markUsed } from '../sheets/yard/used.ts';
import { usePreferences } from '../state/preferences.ts';
import { type Progress, progressOf, type Sheet, sheets } from '../state/sheets.ts';

const Caller = lazyPart(() => import('../sheets/watch/Caller.tsx'));
const Commands = lazyPart(() => import('./Commands.tsx'), true);
const OutboxLine = lazyPart(() => import('./OutboxLine.tsx'), true);
const Switches = lazyPart(() => import('./Switches.tsx'), true);
const HelpBox = lazyPart(() => import('./HelpBox.tsx'), true);

const dots: Record<Progress['state'], string> = { done: '●', part: '◐', open: '○', none: '' };
const dotWords: Record<Progress['state'], string> = { done: 'done', part: 'begun', open: 'not begun', none: '' };

function SheetLink({ sheet, rigId, progress }: { sheet: Sheet; rigId: string; progress: Progress | undefined }) {
  const state = progress?.state ?? 'none';
  return (
    <NavLink
      to={`/rigs/${rigId}/${sheet.path}`}
      title={progress?.text}
      className={({ isActive }) =>
        `flex items-center gap-2 px-5 py-[5px] text-body ${isActive ? 'bg-ink font-bold text-paper' : 'hover:bg-paper2'}`
      }
    >
      <span className="narrow w-5 text-note">{sheet.number}</span>
      <span className="grow">{sheet.title}</span>
      {state !== 'none' && (
        <>
          <span aria-hidden className="text-body leading-none">
            {dots[state]}
          </span>
          <span className="sr-only">
            , {dotWords[state]}: {progress?.text}
          </span>
        </>
      )}
    </NavLink>
  );
}

function SheetList({ whole, rigId }: { whole: WholeRig | null | undefined; rigId: string }) {
  const watch = useWatch(rigId);
  const progress = whole ? progressOf(whole, watch.data) : {};
  const groups = [...new Set(sheets.map((s) => s.group))];
  return (
    <nav aria-label="Sheets" className="py-4">
      {groups.map((g) => (
        <div key={g} className="mb-3">
          <p className="px-5 pb-1 text-note font-semibold text-ink2">{g}</p>
          {sheets
            .filter((s) => s.group === g)
            .map((s) => (
              <SheetLink key={s.path} sheet={s} rigId={rigId} progress={progress[s.path]} />
            ))}
        </div>
      ))}
      <div className="mt-5 px-5 text-note text-ink2">
        <Link to="/" className="underline underline-offset-3">
          All rigs
        </Link>
      </div>
    </nav>
  );
}

/** On a phone the sheets stand in one line that scrolls sideways. */
function SheetStrip({ rigId }: { rigId: string }) {
  const { pathname } = useLocation();
  const ref = useRef<HTMLElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another page, another link
  useEffect(() => {
    ref.current?.querySelector('[aria-current="page"]')?.scrollIntoView({ inline: 'center', block: 'nearest' });
  }, [pathname]);
  return (
    <nav ref={ref} aria-label="Sheets" className="flex overflow-x-auto border-b border-rule">
      {sheets.map((s) => (
        <NavLink
          key={s.path}
          to={`/rigs/${rigId}/${s.path}`}
          className={({ isActive }) =>
            `flex min-h-[46px] items-center px-3 text-body whitespace-nowrap ${isActive ? 'bg-ink font-bold text-paper' : ''}`
          }
        >
          {s.title}
        </NavLink>
      ))}
    </nav>
  );
}

/** The server runs a newer Druckwerk than this page: said at once, before parts of it are missing. */
function OutdatedLine() {
  if (!useOutdated()) return null;
  return (
    <p role="status" className="border-b-2 border-ink bg-paper2 px-6 py-2 text-body max-md:px-3 print:hidden">
      Druckwerk has been updated. This page is still the old version.{' '}
      <button type="button" className="btn btn-small" onClick={() => window.location.reload()}>
        Load the page again
      </button>
    </p>
  );
}

/** Says on every page that what is sent may not be kept, readings included. */
function StoreLine() {
  const why = useCannotStore();
  if (why === null) return null;
  return (
    <div role="alert" className="halftone-magenta border-b-2 border-ink px-4 py-2">
      <span className="box-decoration-clone bg-paper px-2 py-1 font-semibold">
        Storing fails, so readings may be missing and alarms can’t be relied on. {why}
      </span>
    </div>
  );
}

/** Says at once, on every sheet, that nothing shown is live any more. */
function LostLine() {
  const state = useLiveState();
  if (state !== 'lost') return null;
  return (
    <div role="alert" className="halftone-magenta border-b-2 border-ink px-4 py-2">
      <span className="box-decoration-clone bg-paper px-2 py-1 font-semibold">
        No connection to the server. Nothing on this page is live. Trying again every second.
      </span>
    </div>
  );
}

/** Alarms are shown on every sheet, not only on the watch. */
function AlarmLine({ rigId }: { rigId: string }) {
  const alarms = useAlarms(rigId);
  const { pathname } = useLocation();
  const open = alarms.data?.filter((a) => a.toTime === null) ?? [];
  const urgent = open.filter((a) => a.severity === 'stop' && a.acknowledgedAt === null && !isSpare(a.position));
  if (urgent.length === 0 || pathname.endsWith('/watch') || pathname.endsWith('/watch/drive')) return null;
  return (
    <section aria-label="Open alarms" className="print:hidden">
      <Link to={`/rigs/${rigId}/watch`} className="block border-b-4 border-magenta bg-ink px-4 py-2 font-semibold text-paper">
        {urgent.map((a) => `${a.position} ${kindWords[a.kind]}`).join(', ')}. Open the watch.
      </Link>
    </section>
  );
}

/** Keys that open sheets are not for one who types, nor while a box is open. */
const typing = (e: KeyboardEvent) =>
  e.target instanceof HTMLElement &&
  (e.target.matches('input, textarea, select, [contenteditable]') || e.target.closest('[role=dialog]') !== null);

/** A second digit counts with the first for so long, ms. */
const SECOND_DIGIT_MS = 700;

export function Shell() {
  const { rigId = null } = useParams();
  const whole = useWholeRig(rigId ?? '');
  const prefs = usePreferences();
  const navigate = useNavigate();
  const [commands, setCommands] = useState(false);
  const [helpShown, setHelpShown] = useState(false);
  const [switches, setSwitches] = useState(false);
  const { pathname, search } = useLocation();
  const main = useRef<HTMLElement>(null);
  const first = useRef(true);
  useLive(rigId);
  useEffect(() => {
    if (rigId !== null) markUsed(rigId, Date.now());
  }, [rigId]);

  // A new sheet starts at its head, for the eye and for the screen reader.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each sheet
  useEffect(() => {
    if (first.current) first.current = false;
    else main.current?.focus({ preventScroll: true });
    window.scrollTo(0, 0);
  }, [pathname]);
  // The title names the sheet and the rig: it is what a list of tabs and a screen reader say first.
  const rigName = whole?.rig.name;
  useEffect(() => {
    const sheet = sheets.find((s) => pathname.split('/')[3] === s.path)?.title ?? 'Yard';
    document.title = [sheet, rigName, 'Druckwerk'].filter(Boolean).join(' · ');
  }, [pathname, rigName]);

  // Numbers open sheets at once; a second digit that follows soon goes on from 1 to 10 and more.
  const digits = useRef({ text: '', at: 0 });
  useHotkeys(
    '0,1,2,3,4,5,6,7,8,9',
    (e) => {
      if (rigId === null || typing(e) || e.metaKey || e.ctrlKey || e.altKey) return;
      const d = digits.current;
      const both = e.timeStamp - d.at < SECOND_DIGIT_MS ? d.text + e.key : e.key;
      const sheet = sheets.find((s) => s.number === Number(both)) ?? sheets.find((s) => s.number === Number(e.key));
      d.text = both === '1' ? both : '';
      d.at = e.timeStamp;
      if (sheet) navigate(`/rigs/${rigId}/${sheet.path}`);
      else if (e.key === '0') navigate('/');
    },
    { useKey: true },
  );
  useHotkeys(
    '/',
    (e) => {
      if (typing(e)) return;
      e.preventDefault();
      setCommands(true);
    },
    { useKey: true },
  );
  useHotkeys('?', (e) => !typing(e) && setHelpShown(true), { useKey: true, ignoreModifiers: true });

  if (rigId !== null && whole === null) {
    return (
      <div className="p-8">
        <h1>There is no such rig</h1>
        <p className="my-3">It may have been deleted.</p>
        <Link className="btn" to="/">
          All rigs
        </Link>
      </div>
    );
  }
  return (
    <div className="flex min-h-dvh flex-col">
      <a href="#sheet" className="sr-only focus:not-sr-only focus:absolute focus:z-10 focus:bg-paper focus:p-2">
        To the sheet
      </a>
      <header className="flex flex-wrap items-center gap-x-6 gap-y-2 border-b border-ink px-5 py-3 max-md:gap-x-4 max-md:px-3 max-md:py-2">
        <Link to="/" className="font-display text-big font-semibold md:w-[152px]">
          Druckwerk
        </Link>
        <div className="min-w-0 grow">
          {whole && (
            <p className="truncate">
              <span className="font-display text-head font-semibold">{whole.rig.name}</span>
              <span className="narrow ml-3 text-note text-ink2 max-md:hidden">
                {whole.rig.note ?? whole.units.map((u) => u.name).join(', ')}
              </span>
            </p>
          )}
        </div>
        <button
          type="button"
          className="btn btn-small md:hidden short:inline-flex"
          aria-expanded={switches}
          onClick={() => setSwitches(!switches)}
        >
          {prefs.pressure}, °{prefs.temp}
        </button>
        <div
          className={`flex flex-wrap gap-2 max-md:w-full max-md:justify-between ${switches ? '' : 'max-md:hidden short:hidden'}`}
        >
          <Suspense fallback={<span className="h-[36px] w-[304px]" />}>
            <Switches />
          </Suspense>
          <button type="button" className="btn btn-small max-md:hidden" onClick={() => setCommands(true)}>
            Find <span className="kbd">/</span>
          </button>
          <button type="button" className="btn btn-small" onClick={() => setHelpShown(true)}>
            Help <span className="kbd">?</span>
          </button>
        </div>
      </header>
      <div id="notices">
        <OutdatedLine />
        <StoreLine />
        <Suspense fallback={null}>
          <OutboxLine />
        </Suspense>
        {rigId !== null && <LostLine />}
        {rigId !== null && <AlarmLine rigId={rigId} />}
      </div>
      {rigId !== null && (
        <FaultBoundary
          what="Alarm sound"
          about="Alarms make no sound on this page until you load it again. They are still shown."
        >
          <Suspense fallback={null}>
            <Caller key={rigId} rigId={rigId} />
          </Suspense>
        </FaultBoundary>
      )}
      {rigId !== null && (
        <div className="md:hidden">
          <SheetStrip rigId={rigId} />
        </div>
      )}
      <div className="flex grow">
        {rigId !== null && (
          <div className="w-[184px] shrink-0 border-r border-rule max-md:hidden print:hidden">
            <SheetList whole={whole} rigId={rigId} />
          </div>
        )}
        <main
          id="sheet"
          data-path={pathname + search}
          ref={main}
          tabIndex={-1}
          className="min-w-0 grow px-6 py-5 outline-none max-md:px-3 print:p-0"
        >
          <FaultBoundary what="This sheet" about="The other sheets and the rig’s alarms still work." until={[pathname]}>
            <Suspense fallback={<p className="text-ink2">One moment…</p>}>
              {rigId === null || whole ? <Outlet context={whole} /> : null}
            </Suspense>
          </FaultBoundary>
        </main>
      </div>
      <Suspense fallback={null}>
        {commands && <Commands rigId={rigId} onClose={() => setCommands(false)} onHelp={() => setHelpShown(true)} />}
        {helpShown && <HelpBox path={pathname.split('/')[3] ?? 'yard'} onClose={() => setHelpShown(false)} />}
      </Suspense>
    </div>
  );
}
