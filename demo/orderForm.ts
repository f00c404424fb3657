import { encode } from 'fast-png';
import { withoutClock } from '../engine/src/index.ts';
import type { FormMap } from '../core/src/forms/index.ts';

/** The camp's logo: a hill of snow over a line. */
function logo(): Uint8Array {
  const width = 132,
    height = 72;
  const data = new Uint8Array(width * height * 4).fill(255);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const hill = 58 - 46 * Math.exp(-(((x - 54) / 26) ** 2)) - 24 * Math.exp(-(((x - 100) / 15) ** 2));
      const isHill = y > hill && y < 58;
      const isLine = y >= 62 && y < 67;
      if (!isHill && !isLine) continue;
      const colour = isLine ? [217, 84, 30] : y < hill + 9 ? [176, 200, 206] : [32, 48, 58];
      data.set([...colour, 255], (y * width + x) * 4);
    }
  return encode({ width, height, data, channels: 4, depth: 8 });
}

const HEADINGS = [
  ['Pos.', 6],
  ['Qty', 7],
  ['Part No.', 14],
  ['Name', 34],
  ['Material', 22],
  ['Mass [kg]', 11],
  ['Supplier', 22],
  ['Unit cost', 13],
  ['Amount', 13],
] as const;
/** Rows of headings and of the first line. */
const HEADING = 8,
  FIRST = 9;
const INK = 'FF20303A',
  SHADE = 'FFE6ECE4';

/** The form that the camp's workshop orders on; the same bytes at every call. */
export async function orderForm(): Promise<Uint8Array> {
  const { default: excel } = await import('exceljs');
  const book = new excel.Workbook();
  book.creator = book.lastModifiedBy = 'Camp workshop';
  book.created = book.modified = new Date(0);
  const sheet = book.addWorksheet('Order', {
    pageSetup: { paperSize: 9, orientation: 'landscape', fitToPage: true, fitToWidth: 1, fitToHeight: 0 },
    views: [{ showGridLines: false }],
  });
  sheet.columns = HEADINGS.map(([, width]) => ({ width }));
  sheet.mergeCells('A1:C4');
  sheet.addImage(book.addImage({ buffer: Buffer.from(logo()) as never, extension: 'png' }), {
    tl: { col: 0.2, row: 0.2 },
    ext: { width: 132, height: 72 },
  });
  sheet.mergeCells('D1:I2');
  Object.assign(sheet.getCell('D1'), {
    value: 'Order of parts: {Title}',
    font: { name: 'Calibri', bold: true, size: 18, color: { argb: INK } },
    alignment: { vertical: 'middle' },
  });
  const facts = [
    ['D3', 'Drawing {Drawing number}, revision {Revision}'],
    ['D4', 'List “{Bill}” for {Machines} machine(s), {Date}'],
    ['H3', 'Ordered by'],
    ['H4', 'Camp workshop, store 2'],
  ];
  for (const [at, value] of facts) sheet.getCell(at).value = value;
  sheet.mergeCells('A6:I6');
  Object.assign(sheet.getCell('A6'), {
    value: 'Goods go to the winter depot. Say early what will be late.',
    font: { name: 'Calibri', italic: true, color: { argb: 'FF566269' } },
  });
  const thin = { style: 'thin', color: { argb: 'FF9AA5A0' } } as const;
  const box = { top: thin, bottom: thin, left: thin, right: thin };
  HEADINGS.forEach(([heading], at) => {
    Object.assign(sheet.getCell(HEADING, at + 1), {
      value: heading,
      font: { name: 'Calibri', bold: true, color: { argb: INK } },
      fill: { type: 'pattern', pattern: 'solid', fgColor: { argb: SHADE } },
      border: box,
      alignment: { wrapText: true, vertical: 'middle' },
    });
    Object.assign(sheet.getCell(FIRST, at + 1), { border: box, alignment: { vertical: 'top', wrapText: at === 3 } });
  });
  sheet.getCell(FIRST, 6).numFmt = '0.00';
  sheet.getCell(FIRST, 8).numFmt = '#,##0.00';
  Object.assign(sheet.getCell(FIRST, 9), { value: { formula: 'B9*H9', result: 0 }, numFmt: '#,##0.00' });
  sheet.mergeCells('A10:H10');
  Object.assign(sheet.getCell('A10'), {
    value: 'Sum',
    font: { name: 'Calibri', bold: true },
    alignment: { horizontal: 'right' },
    border: box,
  });
  Object.assign(sheet.getCell('I10'), {
    value: { formula: 'SUM(I9:I9)', result: 0 },
    font: { name: 'Calibri', bold: true },
    numFmt: '#,##0.00',
    border: box,
  });
  sheet.getCell('A12').value = 'Checked:';
  sheet.getCell('D12').value = 'Released:';
  sheet.pageSetup.printArea = 'A1:I13';
  sheet.pageSetup.printTitlesRow = `${HEADING}:${HEADING}`;
  sheet.headerFooter.oddFooter = '&L{Drawing number}&RPage &P of &N';
  const terms = book.addWorksheet('Terms');
  terms.columns = [{ width: 60 }, { width: 14 }];
  const lines = [
    'Prices without tax.',
    'Part deliveries are welcome, with the item numbers of the list.',
    'Pieces ordered',
  ];
  lines.forEach((text, at) => (terms.getCell(at + 1, 1).value = text));
  terms.getCell('B3').value = { formula: 'SUM(Order!B9:B9)', result: 0 };
  return withoutClock(new Uint8Array(await book.xlsx.writeBuffer()));
}

/** How that form is filled. */
export const orderFormMap: FormMap = {
  version: 1,
  start: { sheet: 'Order', cell: `A${FIRST}` },
  rows: 'insert',
  ready: 1,
  columns: [
    { to: 'A', heading: 'Pos.', from: 'Item' },
    { to: 'B', heading: 'Qty', from: 'Qty' },
    { to: 'C', heading: 'Part No.', from: 'Part number' },
    { to: 'D', heading: 'Name', from: 'Name' },
    { to: 'E', heading: 'Material', from: 'Material' },
    { to: 'F', heading: 'Mass [kg]', from: 'Mass each', unit: 'kg' },
    { to: 'G', heading: 'Supplier', from: 'Supplier' },
    { to: 'H', heading: 'Unit cost', from: 'Unit cost', unit: 'EUR' },
  ],
  fields: [],
  groups: false,
  overwrite: false,
  fileName: '{Drawing number} rev {Revision} {Bill}.xlsx',
};
