import type { Cell } from 'exceljs';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { unzipBounded, type Table } from '../../../core/src/sources/index.ts';

/** A list of parts is never as large; an archive that unpacks to more was made to fill the memory. */
const BOUNDS = { bytes: 200_000_000, entries: 5000 };

/** Cells of a sheet, empty ones between them counted too. */
const MOST_CELLS = 5_000_000;
/** Parts of a sheet that say nothing of a list. Some name ranges, which a few letters make as large as a sheet can be. */
const NOT_READ = [
  'mergeCells',
  'dataValidations',
  'conditionalFormatting',
  'hyperlinks',
  'drawing',
  'legacyDrawing',
  'picture',
  'tableParts',
  'autoFilter',
  'sheetProtection',
  'rowBreaks',
  'colBreaks',
  'extLst',
];

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
    await workbook.xlsx.load(Buffer.from(bytes.buffer as ArrayBuffer, bytes.byteOffset, bytes.length) as never, {
      ignoreNodes: NOT_READ,
    });
  } catch {
    throw new Refusal(
      'not-a-workbook',
      'The workbook cannot be read: one of its parts is damaged or of another form than XLSX has. Save it again, or save the list as CSV and bring that in.',
    );
  }
  const sheet = workbook.worksheets.find(({ actualRowCount }) => actualRowCount > 0);
  if (!sheet) throw new Refusal('no-products', 'The workbook has no sheet with rows, so there is nothing to list.');
  const rows: string[][] = [];
  let count = 0;
  sheet.eachRow({ includeEmpty: false }, (row) => {
    const cells: string[] = [];
    row.eachCell({ includeEmpty: false }, (cell, column) => (cells[column - 1] = textOfCell(cell, sheet.name)));
    count += cells.length;
    if (count > MOST_CELLS)
      throw new Refusal(
        'too-many-cells',
        `The sheet “${sheet.name}” spans more than ${MOST_CELLS / 1e6} million cells; no list of parts is like that. Save the list alone as CSV and bring that in.`,
      );
    rows.push(Array.from(cells, (cell) => cell ?? ''));
  });
  return rows;
}

/** @throws Refusal where it holds nothing that can be read: a name or a quantity would be lost */
function textOfCell(cell: Cell, sheet: string): string {
  try {
    const text = cellText(cell.value, cell.text, cell.numFmt ?? '');
    if (typeof text === 'string') return text;
  } catch {
    // What the library makes of a damaged part may be anything.
  }
  throw new Refusal(
    'damaged-cell',
    `The cell ${cell.address} of “${sheet}” holds nothing that can be read, so the workbook is damaged. Save it again, or save the list as CSV and bring that in.`,
  );
}

/** @param pattern how a number is shown, by which it has its decimals and unit */
function cellText(value: unknown, shown: string, pattern: string): string {
  // A number that is no day, but shown as one.
  if (value instanceof Date) return Number.isNaN(value.getTime()) ? '(no date)' : value.toISOString().slice(0, 10);
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
