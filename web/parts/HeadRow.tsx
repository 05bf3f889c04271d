/** The head of a table: names of its columns. */
export function HeadRow({
  names,
  wide,
}: {
  names: readonly string[] /** The column that a phone has no room for. */;
  wide?: string;
}) {
  return (
    <thead>
      <tr>
        {names.map((name) => (
          <th key={name} scope="col" {...(name === wide ? { className: 'max-md:hidden' } : {})}>
            {name}
          </th>
        ))}
      </tr>
    </thead>
  );
}
