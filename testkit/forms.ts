import { encode } from 'fast-png';
import type { FormLine, FormList, FormMap } from '../core/src/forms/index.ts';

/** A small picture, as a company's logo. */
export const logoPng = (): Uint8Array =>
  encode({ width: 8, height: 4, data: new Uint8Array(8 * 4 * 4).fill(120), channels: 4, depth: 8 });

/**
 * A workshop's form as its spreadsheet program would write it: a logo, merged headings, a list of one row with a sum below it, a second
 * sheet that counts on the first, a named cell, a print area, a rule for colours.
 */
export async function workshopForm(): Promise<Uint8Array> {
  const { default: excel } = await import('exceljs');
  const book = new excel.Workbook();
  book.created = book.modified = new Date(0);
  const sheet = book.addWorksheet('Parts');
  sheet.columns = [6, 14, 34, 8, 12, 12].map((width) => ({ width }));
  sheet.mergeCells('A1:B3');
  sheet.addImage(book.addImage({ buffer: Buffer.from(logoPng()) as never, extension: 'png' }), 'A1:B3');
  sheet.mergeCells('C1:F1');
  sheet.getCell('C1').value = 'Parts list of {Title}';
  sheet.getCell('C1').font = { bold: true, size: 16 };
  sheet.getCell('C2').value = { richText: [{ text: 'Drawing ' }, { font: { bold: true }, text: '{Drawing number}' }] };
  sheet.getCell('E2').value = 'Rev.';
  sheet.getCell('C3').value = 'Handed over to {Buyer}';
  const headings = ['Pos.', 'Part No.', 'Name', 'Qty', 'Mass [kg]', 'Total'];
  headings.forEach((text, at) => {
    const cell = sheet.getCell(5, at + 1);
    cell.value = text;
    cell.font = { bold: true };
    cell.fill = { type: 'pattern', pattern: 'solid', fgColor: { argb: 'FFDCE6DC' } };
  });
  headings.forEach((_, at) => {
    const cell = sheet.getCell(6, at + 1);
    const line = { style: 'thin' } as const;
    cell.border = { top: line, bottom: line, left: line, right: line };
  });
  sheet.getCell('E6').numFmt = '0.000';
  sheet.getCell('F6').value = { formula: 'D6*E6', result: 0 };
  sheet.getCell('F6').numFmt = '0.00';
  sheet.getCell('C7').value = 'Sum';
  sheet.getCell('D7').value = { formula: 'SUM(D6:D6)', result: 0 };
  sheet.getCell('F7').value = { formula: 'SUM(F6:F6)', result: 0 };
  sheet.mergeCells('A9:F9');
  sheet.getCell('A9').value = 'Tolerances as agreed. {Owner}';
  sheet.addConditionalFormatting({
    ref: 'D6',
    rules: [{ type: 'cellIs', operator: 'greaterThan', formulae: ['9'], priority: 1, style: { font: { bold: true } } }],
  });
  sheet.pageSetup.printArea = 'A1:F9';
  sheet.headerFooter.oddFooter = '&L{Title}&RPage &P';
  const other = book.addWorksheet('Summary');
  other.getCell('A1').value = 'Pieces';
  other.getCell('B1').value = { formula: 'Parts!D7', result: 0 };
  other.getCell('B2').value = { formula: 'SUM(Parts!$D$6:$D$6)', result: 0 };
  other.getCell('B3').value = { formula: '1+1', result: 2 };
  book.definedNames.add('Parts!$A$6', 'FirstLine');
  return new Uint8Array(await book.xlsx.writeBuffer());
}

/** How the form above is filled. */
export const workshopMap: FormMap = {
  version: 1,
  start: { sheet: 'Parts', cell: 'A6' },
  rows: 'insert',
  ready: 1,
  columns: [
    { to: 'A', heading: 'Pos.', from: 'Item' },
    { to: 'B', heading: 'Part No.', from: 'Part number' },
    { to: 'C', heading: 'Name', from: 'Name' },
    { to: 'D', heading: 'Qty', from: 'Qty' },
    { to: 'E', heading: 'Mass [kg]', from: 'Mass each', unit: 'kg' },
  ],
  fields: [{ sheet: 'Parts', cell: 'F2', text: '{Revision}' }],
  groups: true,
  overwrite: false,
  fileName: '{Drawing number} rev {Revision}.xlsx',
};

/** A list of plates with numbers, ready for the map above. */
export function plateList(count: number, nameOf = (at: number) => `Plate ${at + 1}`): FormList {
  const lines = Array.from({ length: count }, (_, at): FormLine => ({
    kind: 'row',
    label: `line ${at + 1}`,
    picture: null,
    cells: [
      { kind: 'number', value: at + 1, pattern: 'General' },
      { kind: 'text', value: `00${at + 1}` },
      { kind: 'text', value: nameOf(at) },
      { kind: 'number', value: (at % 7) + 1, pattern: 'General' },
      { kind: 'number', value: (at + 1) / 8, pattern: '0.00' },
    ],
  }));
  return { columns: Array.from({ length: 5 }, () => ({ isThere: true, isPicture: false })), lines, problems: [] };
}
