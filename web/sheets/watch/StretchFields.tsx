import { forField } from '../../parts/format.ts';

export interface Stretch {
  from: number;
  to: number;
}

/** Begin and end of a stretch of history, to the minute. */
export function StretchFields({ from, to, onChange }: Stretch & { onChange: (stretch: Stretch) => void }) {
  return (['from', 'to'] as const).map((end) => (
    <label key={end} className="text-body">
      {end === 'from' ? 'From' : 'To'}{' '}
      <input
        type="datetime-local"
        className="input"
        value={forField(end === 'from' ? from : to)}
        onChange={(e) => {
          const ms = Date.parse(e.target.value);
          if (Number.isNaN(ms)) return;
          const next = { from, to, [end]: ms };
          if (next.from < next.to) onChange(next);
        }}
      />
    </label>
  ));
}
