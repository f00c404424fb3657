/** The first rows of a table below what is said of its columns; its headings stand out, what is above them is faint. */
export function PreviewRows({
  rows,
  headingRow,
  columns,
}: {
  readonly rows: readonly (readonly string[])[];
  /** −1 where there is none. */
  readonly headingRow: number;
  /** Count of them. */
  readonly columns: number;
}) {
  return (
    <tbody>
      {rows.map((row, at) => (
        <tr key={at} className={at === headingRow ? 'heading' : at < headingRow ? 'before' : undefined}>
          {Array.from({ length: columns }, (_, column) => (
            <td key={column}>{row[column] ?? ''}</td>
          ))}
        </tr>
      ))}
    </tbody>
  );
}
