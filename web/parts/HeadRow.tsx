/** The head of a table: names of its columns. */
export function HeadRow({ names }: { names: readonly string[] }) {
  return (
    <thead>
      <tr>
        {names.map((name) => (
          <th key={name} scope="col">
            {name}
          </th>
        ))}
      </tr>
    </thead>
  );
}
