import type { ReactNode } from 'react';
import type { FittingStep } from '#core/fitting/cards.ts';
import type { RigWheel } from '#core/rig/positions.ts';
import type { SensorKind } from '#schema/common.ts';
import { useFittingNotes } from '../state/useFittingNotes.ts';
import { Notice } from './controls.tsx';
import { Drawing } from './Drawing.tsx';
import { bubbleAdvice, type StepText } from './words-fitting.ts';

/** The one step that matters now: what to do, why, the mistake to avoid, and the button that goes on. */
export function StepBox({
  wheel,
  kind,
  count,
  index,
  text,
  next,
  drawn,
  soap = false,
  canBack,
  onDone,
  children,
}: {
  wheel: RigWheel;
  kind: SensorKind;
  index: number;
  count: number;
  text: StepText;
  /** The step after this one, in its words. */
  next?: string | undefined;
  /** The step as a drawing, where there is one. */
  drawn?: FittingStep | undefined;
  /** The soap test: bubbles or none. */
  soap?: boolean;
  canBack: boolean;
  /** Left out where something else goes on, such as a sign of the monitor. */
  onDone?: (() => void) | undefined;
  children?: ReactNode;
}) {
  const { put, back } = useFittingNotes(wheel);
  const goBack = (
    <button type="button" className="btn btn-tall" disabled={!canBack} onClick={() => void back()}>
      One back
    </button>
  );
  return (
    <div className="mt-3 border-2 border-ink p-4">
      <div className="flex flex-wrap gap-x-6 gap-y-2">
        {drawn && (
          <div className="max-sm:hidden">
            <Drawing step={drawn} kind={kind} text={text.head} />
          </div>
        )}
        <div className="min-w-[220px] flex-1">
          <p className="text-body text-ink2">
            Step {index + 1} of {count}
          </p>
          <h3 className="text-big leading-tight font-bold" data-testid="step">
            {text.head}
          </h3>
          {text.why !== '' && <p className="mt-2 text-body">{text.why}</p>}
          {text.mistake && (
            <p className="mt-1 text-body text-ink2">
              <b>Mind:</b> {text.mistake}
            </p>
          )}
        </div>
      </div>
      {children}
      <div className="thumb-bar mt-3 flex flex-wrap gap-3">
        {soap ? (
          <>
            <button
              type="button"
              className="btn btn-solid btn-tall grow text-head"
              onClick={() =>
                void put((n) => ({
                  ...n,
                  leak: 'none',
                  done: [...n.done.filter((d) => d.code !== 'soap'), { code: 'soap', at: new Date().toISOString() }],
                }))
              }
            >
              No bubbles
            </button>
            <button
              type="button"
              className="btn btn-tall grow text-head"
              onClick={() => void put((n) => ({ ...n, leak: 'bubbles' }), `${wheel.position}: bubbles. See what to try.`)}
            >
              Bubbles
            </button>
          </>
        ) : (
          onDone && (
            <button type="button" className="btn btn-solid btn-tall grow text-head" onClick={onDone}>
              Done, next
            </button>
          )
        )}
        {goBack}
      </div>
      {drawn && (
        // On a phone the button comes before the picture: the thumb has it at once.
        <div className="mt-2 sm:hidden">
          <Drawing step={drawn} kind={kind} text={text.head} />
        </div>
      )}
      {next && (
        <p className="mt-3 border-t border-rule pt-2 text-body text-ink2">
          Then: <span className="text-ink">{next}</span>
        </p>
      )}
    </div>
  );
}

/** What to try when the soap test shows bubbles. */
export function BubbleAdvice({ wheel }: { wheel: RigWheel }) {
  if (wheel.wheel.fitting?.leak !== 'bubbles') return null;
  return (
    <div className="mt-3">
      <Notice tone="act">
        <b>Bubbles at {wheel.position}: it leaks.</b>
        <ol className="mt-1 list-decimal pl-5">
          {bubbleAdvice.map((a) => (
            <li key={a}>{a}</li>
          ))}
        </ol>
      </Notice>
    </div>
  );
}
