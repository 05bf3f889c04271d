import { Link } from 'react-router';
import { convert } from '#core/units/units.ts';
import type { Climate } from '#schema/unit.ts';
import { useFormat } from '../../parts/format.ts';

/** The day, moved by hand: the ladder follows while a slider is dragged, and it is saved when it is let go. */
export function DaySliders({
  climate,
  rigId,
  onTry,
  onKeep,
}: {
  climate: Climate;
  rigId: string;
  onTry: (climate: Climate) => void;
  onKeep: (climate: Climate) => void;
}) {
  const f = useFormat();
  const slider = (
    label: string,
    text: string,
    value: number,
    [min, max, step]: [number, number, number],
    change: (v: number) => Climate,
  ) => (
    <label className="block text-note">
      <span className="flex justify-between gap-2">
        <span className="text-ink2">{label}</span>
        <span className="figure text-body font-semibold">{text}</span>
      </span>
      <input
        type="range"
        className="day-slider"
        min={min}
        max={max}
        step={step}
        value={value}
        aria-valuetext={text}
        onChange={(e) => onTry(change(Number(e.target.value)))}
        onPointerUp={(e) => onKeep(change(Number(e.currentTarget.value)))}
        onKeyUp={(e) => onKeep(change(Number(e.currentTarget.value)))}
        onBlur={(e) => onKeep(change(Number(e.currentTarget.value)))}
      />
    </label>
  );
  const deg = (c: number) => Math.round(convert(c, 'C', f.temp));
  const toC = (v: number) => convert(v, f.temp, 'C');
  const from = (c: number) => deg(c);
  const setM = climate.altitudeSetM ?? 0;
  return (
    <div className="grid grid-cols-2 gap-x-6 gap-y-2 md:grid-cols-4">
      {slider('Coldest start', f.temperature(climate.coldestC), deg(climate.coldestC), [from(-40), from(20), 1], (v) => ({
        ...climate,
        coldestC: Math.min(toC(v), climate.hottestC),
      }))}
      {slider('Hottest afternoon', f.temperature(climate.hottestC), deg(climate.hottestC), [from(0), from(50), 1], (v) => ({
        ...climate,
        hottestC: Math.max(toC(v), climate.coldestC),
      }))}
      {slider('Pressures set at', `${Math.round(setM)} m`, setM, [0, 3000, 10], (v) => ({ ...climate, altitudeSetM: v }))}
      {slider(
        'Highest pass',
        climate.passM === undefined ? 'none' : `${Math.round(climate.passM)} m`,
        climate.passM ?? setM,
        [0, 4000, 10],
        (v) => ({ ...climate, passM: v }),
      )}
      <p className="col-span-full text-note text-ink2">
        These sliders change the same day as on{' '}
        <Link className="underline underline-offset-3" to={`/rigs/${rigId}/pressures`}>
          Pressures
        </Link>
        , where you can type it or load a weather file.
      </p>
    </div>
  );
}
