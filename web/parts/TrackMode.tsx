import { useState } from 'react';
import type { WatchView } from '#schema/alarm.ts';
import { useWatchCommands } from '../data/queries.ts';
import { toastError } from '../state/toast.ts';
import { Notice } from './controls.tsx';
import { timeOfDay } from './format.ts';

const HOURS = [2, 4, 8, 12] as const;

/** A track day's mode: bleeding in the pit doesn't ring. It ends by itself, and asks for the road pressures then. */
export function TrackMode({ view, offer = true }: { view: WatchView; offer?: boolean }) {
  const commands = useWatchCommands(view.rigId);
  const [hours, setHours] = useState<number>(8);
  const { track } = view;
  const tell = (mode: 'track' | 'over' | 'road', minutes?: number) => void commands.track(mode, minutes).catch(toastError);
  if (track?.endedTime)
    return (
      <Notice tone="act">
        <p>
          The track day is over since {timeOfDay(track.endedTime, view.time)}. These tires may still be at track pressure: set the
          road pressures cold before you drive home.
        </p>
        <p className="mt-2 flex flex-wrap gap-2">
          <button type="button" className="btn btn-solid" onClick={() => tell('road')}>
            Road pressures are set
          </button>
          <button type="button" className="btn" onClick={() => tell('track', hours * 60)}>
            Back to the track
          </button>
        </p>
      </Notice>
    );
  if (track)
    return (
      <div className="border-2 border-ink p-3 text-body">
        <p>
          <b>Track mode until {timeOfDay(track.untilTime, view.time)}.</b> Air that you let out doesn’t ring, and wheels may
          differ. A burst, a low tire and heat still ring.
        </p>
        <p className="mt-2">
          <button type="button" className="btn" onClick={() => tell('over')}>
            The track day is over
          </button>
        </p>
      </div>
    );
  if (!offer) return null;
  return (
    <div className="flex flex-wrap items-end gap-2 border border-rule p-3 text-body">
      <p className="min-w-[240px] flex-1 self-center">
        In track mode bleeding in the pit doesn’t ring. A burst, a low tire and heat still do. It ends by itself.
      </p>
      <div className="field w-[96px]">
        <label htmlFor="track-hours">For</label>
        <select id="track-hours" className="input" value={hours} onChange={(e) => setHours(Number(e.target.value))}>
          {HOURS.map((h) => (
            <option key={h} value={h}>
              {h} hours
            </option>
          ))}
        </select>
      </div>
      <button type="button" className="btn" onClick={() => tell('track', hours * 60)}>
        Switch track mode on
      </button>
    </div>
  );
}
