import { type CSSProperties, useEffect, useState } from 'react';
import { Link } from 'react-router';
import { unitLetter } from '#core/rig/positions.ts';
import { useLiveState } from '../../data/live.ts';
import { useFormat } from '../../parts/format.ts';
import { ring } from '../../parts/sound.ts';
import { inkOf, isFresh, stateWord, wheelLine, wheelSentence } from '../../parts/words.ts';
import { groupWords } from '../../parts/words-alarms.ts';
import { setPreferences } from '../../state/preferences.ts';
import { useRig } from '../../state/useRig.ts';
import { withoutLimits } from './UnsetLimits.tsx';
import { turnSoundOn, useCalls } from './useCalls.ts';

/** Keeps the screen awake as long as the page is shown. @returns whether it is */
function useAwake(): boolean {
  const [awake, setAwake] = useState(false);
  useEffect(() => {
    let lock: WakeLockSentinel | null = null;
    let ended = false;
    const take = async () => {
      if (document.hidden || !('wakeLock' in navigator)) return;
      try {
        lock = await navigator.wakeLock.request('screen');
        if (ended) return void lock.release();
        setAwake(true);
        lock.addEventListener('release', () => setAwake(false));
      } catch {
        // Battery saving or no permission: the line below says so.
        setAwake(false);
      }
    };
    void take();
    document.addEventListener('visibilitychange', take);
    return () => {
      ended = true;
      document.removeEventListener('visibilitychange', take);
      void lock?.release();
    };
  }, []);
  return awake;
}

/** For a phone or tablet in a holder: figures as large as they go, nothing to touch. */
export default function Drive() {
  const { rig, wheels, units } = useRig();
  const f = useFormat();
  const { view, groups, byPosition, sound, silenced, known } = useCalls(rig.id);
  const state = useLiveState();
  const connected = state === 'open';
  const awake = useAwake();
  if (!view) return <p>One moment…</p>;
  const first = groups.find((g) => g.severity !== 'note') ?? groups[0];
  const words = first && groupWords(first, byPosition, f, view.time);
  const rolling = wheels.filter((w) => w.place !== 'S');
  // Unit by unit, axle by axle.
  const parts: { letter: string; rows: (typeof rolling)[] }[] = [];
  for (const w of rolling) {
    const letter = w.position[0] as string;
    let part = parts.at(-1);
    if (part?.letter !== letter) {
      part = { letter, rows: [] };
      parts.push(part);
    }
    const row = part.rows.at(-1);
    if (row?.[0]?.position.slice(0, 2) === w.position.slice(0, 2)) row.push(w);
    else part.rows.push([w]);
  }
  const side = (p: string) => (p.includes('L') ? 0 : p.includes('R') ? 2 : 1);
  const order = ['LO', 'L', 'LI', 'C', 'RI', 'R', 'RO'];
  return (
    <div className="drive fixed inset-0 z-20 flex flex-col overflow-auto bg-paper text-ink" data-view="drive">
      <h1 className="sr-only">Drive view of {rig.name}</h1>
      {!connected && (
        <p className="bg-ink px-4 py-2 text-head font-semibold text-paper" role="status">
          The stream is lost: no figure here is live. Trying again…
        </p>
      )}
      {view.clock === 'bench' && (
        <p className="border-b border-ink px-4 py-1 text-body font-semibold">Practice: from the bench</p>
      )}
      {words && first ? (
        <div
          className={`drive-call px-4 py-3 short:py-1 ${first.severity === 'stop' ? 'border-b-8 border-magenta' : 'border-b-4 border-ink'}`}
          data-call={first.severity}
        >
          <p className="flex items-baseline justify-between gap-4 text-[clamp(22px,5vw,44px)] leading-tight font-bold short:text-big">
            <span className="short:truncate">{words.title}</span>
            {groups.length > 1 && <span className="shrink-0 text-body font-normal">and {groups.length - 1} more</span>}
          </p>
          <p className="mt-1 line-clamp-4 text-[clamp(16px,2.6vw,22px)] short:hidden">{words.text}</p>
        </div>
      ) : (
        <p className="border-b border-ink px-4 py-2 text-[clamp(18px,3vw,26px)] short:py-1 short:text-head">
          {!known
            ? 'Alarms unknown.'
            : !connected
              ? 'No alarm was open when the stream was lost.'
              : view.wheels.some((w) => w.state === 'live')
                ? 'No alarm is open.'
                : 'Nothing is heard just now.'}
          {withoutLimits(view).length > 0 && ' Not every wheel has limits.'}
        </p>
      )}
      <div
        className="drive-plan grid min-h-0 grow content-evenly gap-x-4 gap-y-1.5 p-2 landscape:auto-cols-fr landscape:grid-flow-col"
        style={{ '--rows': Math.max(...parts.map((p) => p.rows.length)) } as CSSProperties}
      >
        {parts.map(({ letter, rows }) => (
          <div key={letter} className="grid content-evenly gap-1.5">
            {units.length > 1 && (
              <p className="narrow text-body text-ink2 short:hidden">{units.find((_, i) => unitLetter(i) === letter)?.name}</p>
            )}
            {rows.map((row) => (
              <div key={row[0]?.position} className="flex gap-1.5">
                {[...row]
                  .sort((a, b) => order.indexOf(a.place) - order.indexOf(b.place) || side(a.position) - side(b.position))
                  .map((w) => {
                    const v = byPosition.get(w.position);
                    const ink = inkOf(v, connected);
                    const old = !isFresh(v, connected);
                    return (
                      <div
                        key={w.position}
                        className={`drive-wheel min-w-0 grow basis-0 px-2 py-1 ${w.position.includes('R') && row.length > 1 ? 'text-right' : ''}`}
                        data-ink={ink}
                        data-stale={old || undefined}
                        role="img"
                        aria-label={v ? wheelSentence(v, ink, f, connected) : w.position}
                      >
                        <p className="narrow flex justify-between gap-1 text-body font-semibold">
                          <span>{w.position}</span>
                          <span>{stateWord(v, ink)}</span>
                        </p>
                        <p className="figure drive-figure">
                          {v?.pressureKpa == null ? '–' : old ? `(${f.figure(v.pressureKpa)})` : f.figure(v.pressureKpa)}
                        </p>
                        <p className="drive-line narrow line-clamp-2 text-body leading-tight">
                          {wheelLine(v, ink, f, connected)}
                        </p>
                      </div>
                    );
                  })}
              </div>
            ))}
          </div>
        ))}
      </div>
      <div className="flex flex-wrap items-center gap-2 border-t border-ink px-4 py-2 text-body short:flex-nowrap short:py-1">
        {wheels
          .filter((w) => w.place === 'S')
          .map((w) => {
            const v = byPosition.get(w.position);
            return (
              v && (
                <span key={w.position} className="narrow shrink-0 border border-rule px-2 py-1">
                  <b>{w.position}</b>{' '}
                  {v.pressureKpa === null
                    ? '–'
                    : isFresh(v, connected)
                      ? f.figure(v.pressureKpa)
                      : `(${f.figure(v.pressureKpa)})`}
                </span>
              )
            );
          })}
        <span className="grow short:line-clamp-2">
          Pressures in {f.unit}. {awake ? 'The screen stays awake.' : 'This browser may let the screen sleep.'} Do not work the
          screen while driving.
        </span>
        {sound ? (
          <>
            <button type="button" className="btn" onClick={ring}>
              Test the sound
            </button>
            <button type="button" className="btn" onClick={() => setPreferences({ sound: false })}>
              Sound off
            </button>
          </>
        ) : (
          <button type="button" className="btn btn-solid" onClick={() => void turnSoundOn()}>
            Turn sound on
          </button>
        )}
        {silenced !== null && <span>sound is off</span>}
        {view?.track && (
          <span className="font-bold">
            {view.track.endedTime ? 'Set the road pressures before you drive home' : 'Track mode'}
          </span>
        )}
        <Link className="btn" to={`/rigs/${rig.id}/watch`}>
          Leave
        </Link>
      </div>
    </div>
  );
}
