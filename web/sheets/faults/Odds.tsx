/** Causes with their odds as bars; dashed: before the last answer. */
export function Odds({
  list,
  marked,
}: {
  list: readonly { cause: string; name: string; odds: number; before: number }[];
  /** Show where each was before the last answer. */
  marked: boolean;
}) {
  return (
    <ol>
      {list.slice(0, 7).map((c, i) => (
        <li key={c.cause} className="py-1" data-cause={c.cause}>
          <p className="flex items-baseline justify-between gap-3 text-body leading-snug">
            <span className="font-semibold">{c.name}</span>
            <span className="figure whitespace-nowrap">
              {c.odds >= 0.995 ? '> 99' : c.odds < 0.005 ? '< 1' : Math.round(100 * c.odds)} %
            </span>
          </p>
          <div aria-hidden className="relative mt-1 h-[18px] border border-ink">
            <div
              className={`absolute inset-y-0 left-0 ${i === 0 ? 'bg-cyan' : 'halftone-cyan'}`}
              style={{ width: `${(100 * c.odds).toFixed(1)}%` }}
            />
            {marked && (
              <div
                className="absolute inset-y-[-4px] border-l-2 border-dashed border-ink"
                style={{ left: `${(100 * c.before).toFixed(1)}%` }}
              />
            )}
          </div>
        </li>
      ))}
    </ol>
  );
}
