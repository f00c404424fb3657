import { unzipSync, zipSync } from 'fflate';
import { withFitSigns } from '../../../core/src/assembly/index.ts';
import type { BillTable } from '../../../core/src/formats/index.ts';

/** A deeper outline than this cannot be folded in a spreadsheet (ECMA-376 part 1, 18.3.1.73, outlineLevel). */
const DEEPEST_OUTLINE = 7;
const PICTURE_PX = 40;
/** Signs that a sheet's name may not hold, and letters that it may have at most (ECMA-376 part 1, 18.2.19). */
const NO_SHEET_NAME = /[*?:\\/[\]\t\r\n]/g;
const LONGEST_SHEET_NAME = 31;

/** A name for the sheet of a bill: no apostrophe at its ends, not the one that spreadsheets keep for themselves. */
export function sheetNameFor(name: string): string {
  const fit = withFitSigns(name).replace(NO_SHEET_NAME, ' ');
  const cut = fit.slice(0, LONGEST_SHEET_NAME).replace(/[\ud800-\udbff]$/, '');
  const bare = cut.replace(/^['\s]+|['\s]+$/g, '');
  return /^history$/i.test(bare) ? `${bare} list` : bare || 'Bill';
}
/** A cell holds no more text (Excel's own limit, kept by other programs too). */
const LONGEST_TEXT = 32_767;
const fitting = (given: string): string => {
  const text = withFitSigns(given);
  return text.length <= LONGEST_TEXT
    ? text
    : `${text.slice(0, LONGEST_TEXT - 100)} … (${text.length} characters; whole in CSV or JSON)`;
};

/**
 * An XLSX workbook of a bill: real numbers and dates, widths, the heading frozen, indented lines as an outline that
 * folds.
 * @param pictures PNG by component index, for the picture columns
 */
export async function writeBillWorkbook(
  table: BillTable,
  name: string,
  pictures: ReadonlyMap<number, Uint8Array>,
): Promise<Uint8Array> {
  const { default: excel } = await import('exceljs');
  const workbook = new excel.Workbook();
  workbook.creator = workbook.lastModifiedBy = 'Sledgeboard';
  // A workbook has to have dates; the beginning of time says that there is none.
  workbook.created = workbook.modified = new Date(0);
  const sheet = workbook.addWorksheet(sheetNameFor(name), {
    views: [{ state: 'frozen', ySplit: 1 }],
    properties: { outlineProperties: { summaryBelow: false, summaryRight: false } } as never,
  });
  const horizontal = (align: 'left' | 'centre' | 'right') => (align === 'centre' ? 'center' : align);
  sheet.columns = table.columns.map(({ width }) => ({ width }));
  const headings = sheet.addRow(table.columns.map(({ heading }) => heading));
  headings.font = { bold: true };
  table.columns.forEach(({ align }, at) => (headings.getCell(at + 1).alignment = { horizontal: horizontal(align) }));
  const pictureColumns = table.columns.flatMap(({ isPicture }, at) => (isPicture ? [at] : []));
  const images = new Map<number, number>();
  table.lines.forEach(({ kind, outline, component, cells }) => {
    const row = sheet.addRow([]);
    cells.forEach((given, at) => {
      if (!given) return;
      const cell = row.getCell(at + 1);
      cell.value =
        given.kind === 'date'
          ? new Date(`${given.value}T00:00:00Z`)
          : given.kind === 'text'
            ? fitting(given.value)
            : given.value;
      if (given.kind !== 'text' && given.pattern !== 'General') cell.numFmt = given.pattern;
      cell.alignment = {
        horizontal: horizontal(table.columns[at].align),
        vertical: 'middle',
        ...(at === 0 && outline > 0 ? { indent: outline } : {}),
      };
    });
    if (kind !== 'row') row.font = { bold: true };
    if (outline > 0) row.outlineLevel = Math.min(DEEPEST_OUTLINE, outline);
    const png = pictures.get(component);
    if (!png || pictureColumns.length === 0) return;
    let image = images.get(component);
    if (image === undefined)
      images.set(component, (image = workbook.addImage({ buffer: Buffer.from(png) as never, extension: 'png' })));
    for (const at of pictureColumns)
      sheet.addImage(image, { tl: { col: at, row: row.number - 1 }, ext: { width: PICTURE_PX, height: PICTURE_PX } });
    row.height = PICTURE_PX * 0.75 + 2; // points
  });
  return withoutClock(new Uint8Array(await workbook.xlsx.writeBuffer()));
}

/** The same archive with the oldest date that one can have on all that is in it, so that the same bill gives the same bytes. */
export const withoutClock = (archive: Uint8Array): Uint8Array =>
  zipSync(unzipSync(archive), { mtime: new Date(1980, 0, 1), level: 6 });
