import { memo } from 'react';
import type { WheelView } from '#schema/alarm.ts';
import { useFormat } from './format.ts';
import { type Ink, inkOf, isFresh, stateWord, wheelLine, wheelSentence } from './words.ts';

/** Level of a pressure in its column, 0 to 1: the scale runs from under the low alarm to over the high one. */
function scaleOf(view: WheelView): (kpa: number) => number {
  const cold = view.coldKpa ?? view.pressureKpa ?? 250;
  const bottom = Math.min(view.lowKpa ?? cold * 0.9, cold) - cold * 0.15;
  const top = Math.max(view.highKpa ?? cold * 1.2, cold) + cold * 0.08;
  return (kpa) => Math.min(1, Math.max(0, (kpa - bottom) / (top - bottom)));
}

/** The column: level is now, notches are the limits, the triangle is the cold target, the dashed line what it should read now. */
export function ColumnGauge({ view, ink, fresh }: { view: WheelView; ink: Ink; fresh: boolean }) {
  const at = scaleOf(view);
  const percent = (kpa: number) => `${(at(kpa) * 100).toFixed(1)}%`;
  return (
    <div aria-hidden className={`gauge ${ink === 'look' ? 'halftone-yellow' : ''}`}>
      {view.pressureKpa !== null && (
        <div className="gauge-fill" style={{ height: percent(Math.max(view.pressureKpa, 0)), minHeight: 3 }} />
      )}
      {view.lowKpa !== null && <div className="gauge-notch" style={{ bottom: percent(view.lowKpa) }} />}
      {view.highKpa !== null && <div className="gauge-notch" style={{ bottom: percent(view.highKpa) }} />}
      {view.expectedKpa !== null && fresh && <div className="gauge-expected" style={{ bottom: percent(view.expectedKpa) }} />}
      {view.coldKpa !== null && <div className="gauge-target" style={{ bottom: percent(view.coldKpa) }} />}
    </div>
  );
}

export interface WheelCardProps {
  view: WheelView;
  connected: boolean;
  selected: boolean;
  onSelect: (position: string) => void;
}

/** A wheel on the watch: code, figure, state, by ink before colour. */
export const WheelCard = memo(function WheelCard({ view, connected, selected, onSelect }: WheelCardProps) {
  const f = useFormat();
  const ink = inkOf(view, connected);
  const bracket = ink !== 'asleep' && !isFresh(view, connected);
  const figure = view.pressureKpa === null ? '' : f.figure(view.pressureKpa);
  return (
    <button
      type="button"
      className={`wheel ${ink === 'look' ? 'halftone-yellow' : ''}`}
      data-ink={ink}
      data-position={view.position}
      data-stale={bracket || undefined}
      aria-pressed={selected}
      aria-label={wheelSentence(view, ink, f, connected)}
      onClick={() => onSelect(view.position)}
    >
      <ColumnGauge view={view} ink={ink} fresh={isFresh(view, connected)} />
      <span className="wheel-plate">
        <span className="wheel-head narrow text-note leading-tight">
          <span className="font-semibold">{view.position}</span>
          <span className={ink === 'act' ? 'font-bold' : ''}>{stateWord(view, ink)}</span>
        </span>
        {figure === '' ? (
          <span className="narrow text-note leading-tight">{wheelLine(view, ink, f, connected)}</span>
        ) : (
          <>
            <span className="flex flex-wrap items-baseline gap-x-1">
              <span className="figure wheel-figure">{bracket ? `(${figure})` : figure}</span>
              <span className="wheel-unit narrow text-note">{f.unit}</span>
            </span>
            <span className={`wheel-line narrow text-note leading-tight ${ink === 'act' ? 'font-semibold' : ''}`}>
              {wheelLine(view, ink, f, connected)}
            </span>
          </>
        )}
      </span>
    </button>
  );
});
