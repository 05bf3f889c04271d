/** Names and what they are, in two columns. */
export function Facts({ rows, wide = 112 }: { rows: readonly (readonly [string, string])[]; wide?: number }) {
  return (
    <dl className="grid gap-y-[3px] text-body" style={{ gridTemplateColumns: `${wide}px 1fr` }}>
      {rows.map(([name, what]) => (
        <div key={name} className="contents">
          <dt className="text-ink2">{name}</dt>
          <dd>{what}</dd>
        </div>
      ))}
    </dl>
  );
}
