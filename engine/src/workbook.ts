import { Refusal } from '../../core/src/assembly/index.ts';
import { unzipBounded, type Table } from '../../core/src/sources/index.ts';

/** A list of parts is never as large; an archive that unpacks to more was made to fill the memory. */
const BOUNDS = { bytes: 200_000_000, entries: 5000 };

/**
 * The first sheet of a workbook that has rows, as text: formulas by their results, dates as ISO dates.
 * @throws Refusal where it is no workbook, is damaged, unpacks to too much or has no rows
 */
export async function readWorkbook(bytes: Uint8Array): Promise<Table> {
  // Unpacked once only to see that it stays in bounds: the library below would unpack whatever it is given.
  const parts = unzipBounded(bytes, () => true, BOUNDS);
  if (!parts.has('xl/workbook.xml'))
    throw new Refusal('not-a-workbook', 'The archive is no XLSX workbook. Save the list as XLSX or CSV.');
  parts.clear();
  const { default: excel } = await import('exceljs');
  const workbook = new excel.Workbook();
  try {
    await workbook.xlsx.load(Buffer.from(bytes.buffer as ArrayBuffer, bytes.byteOffset, bytes.length) as never);
  } catch (error) {
    throw new Refusal(
      'not-a-workbook',
      `The workbook could not be read (${(error as Error).message}). Save the list as CSV and bring that in.`,
    );
  }
  const sheet = workbook.worksheets.find(({ actualRowCount }) => actualRowCount > 0);
  if (!sheet) throw new Refusal('no-products', 'The workbook has no sheet with rows, so there is nothing to list.');
  const rows: string[][] = [];
  sheet.eachRow({ includeEmpty: false }, (row) => {
    const cells: string[] = [];
    row.eachCell(
      { includeEmpty: true },
      (cell, column) =>
        (cells[column - 1] =
          cell.isMerged && cell.master !== cell ? '' : cellText(cell.value, cell.text, cell.numFmt ?? '')),
    );
    rows.push(Array.from(cells, (cell) => cell ?? ''));
  });
  return rows;
}

/** @param pattern how a number is shown, by which it has its decimals and unit */
function cellText(value: unknown, shown: string, pattern: string): string {
  if (value instanceof Date) return value.toISOString().slice(0, 10);
  if (value && typeof value === 'object' && 'result' in value)
    return cellText(value.result, String(value.result ?? ''), pattern);
  return typeof value === 'number' ? numberText(value, pattern) : (shown ?? '').trim();
}

/** As the pattern shows it where it is a plain one: 0.00 \"m\" gives 2.66 m. Other patterns leave the number whole. */
function numberText(value: number, pattern: string): string {
  const [, decimals, unit] = /^#?,?#*0(?:\.(0+))?(?:\s*"\s*([^"]+?)\s*")?$/.exec(pattern) ?? [];
  if (decimals === undefined && unit === undefined) return String(value);
  return [decimals === undefined ? String(value) : value.toFixed(decimals.length), unit].filter(Boolean).join(' ');
}
