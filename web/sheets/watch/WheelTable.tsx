import { memo } from 'react';
import type { WatchView, WheelView } from '#schema/alarm.ts';
import { type Format, timeOfDay, useFormat } from '../../parts/format.ts';
import { HeadRow } from '../../parts/HeadRow.tsx';
import { inkOf, isFresh } from '../../parts/words.ts';

/** The state in words, where the time alone would look like a live one. */
const WORD: Partial<Record<ReturnType<typeof inkOf>, string>> = {
  silent: 'no reading',
  asleep: 'asleep',
  old: 'old',
  resting: 'resting',
};

interface RowProps {
  w: WheelView;
  connected: boolean;
  f: Format;
  /** When it was last heard, in words. */
  heard: string;
}

/** Drawn again only when this wheel reports. */
const Row = memo(function Row({ w, connected, f, heard }: RowProps) {
  const figure = (kpa: number | null) => (kpa === null ? '' : f.figure(kpa));
  const ink = inkOf(w, connected);
  const fresh = isFresh(w, connected);
  // The ink of an alarm says nothing of the age of the figure.
  const stale = fresh || (ink !== 'act' && ink !== 'look') ? undefined : connected && w.state === 'asleep' ? 'asleep' : 'old';
  const word = WORD[ink] ?? stale;
  return (
    <tr>
      <th scope="row" className="border-b-rule! font-semibold text-ink!">
        {w.position}
      </th>
      <td className="font-semibold">
        {w.pressureKpa === null ? '' : fresh ? figure(w.pressureKpa) : `(${figure(w.pressureKpa)})`}
      </td>
      <td>{fresh && w.expectedKpa !== null ? `about ${figure(w.expectedKpa)}` : ''}</td>
      <td className="whitespace-nowrap">
        {w.coldKpa === null ? '' : `${figure(w.coldKpa)} at ${f.temperature(w.coldTempC ?? 20)}`}
      </td>
      <td className="whitespace-nowrap">
        {figure(w.lowKpa)}
        {w.lowAssumed && <span className="text-ink2"> not set</span>}
      </td>
      <td>{figure(w.highKpa)}</td>
      <td className="whitespace-nowrap">{w.tempC === null ? '' : f.temperature(w.tempC)}</td>
      <td className="whitespace-nowrap">
        {heard}
        {word && w.time !== null ? `, ${word}` : ''}
      </td>
    </tr>
  );
});

/** All wheels as a list: for reading out, and for the exact figures. */
export function WheelTable({ view, connected }: { view: WatchView; connected: boolean }) {
  const f = useFormat();
  return (
    <div className="overflow-x-auto">
      <table className="sheet-table">
        <caption className="pb-1 text-left text-body font-bold">
          All wheels <span className="text-note font-normal text-ink2">pressures in {f.unit}</span>
        </caption>
        <HeadRow names={['Wheel', 'Reads', 'Expected now', 'Cold', 'Low', 'High', 'Sensor', 'Last heard']} />
        <tbody className="narrow">
          {view.wheels.map((w) => (
            <Row
              key={w.position}
              w={w}
              connected={connected}
              f={f}
              heard={w.time !== null ? timeOfDay(w.time, view.time) : w.sensorId === null ? 'no sensor' : 'not yet'}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}
