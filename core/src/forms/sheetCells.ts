import { Refusal, withFitSigns } from '../assembly/index.ts';
import { cellName, columnLetters, copiedFormula, readCellName, type CellPlace } from './references.ts';
import { childOf, childrenOf, escapeText, isElement, prefixOf, textOf, type XmlElement } from './xml.ts';

/** Cells of the sheet that the list stands on. */
const MOST_CELLS = 500_000;

/** The cells of a sheet: every row and cell named, formulas written out where cells share one. */
export interface SheetCells {
  /** Element that holds the rows. */
  readonly data: XmlElement;
  /** Rows by their numbers. */
  readonly rows: Map<number, XmlElement>;
}

/**
 * Writers may leave out where rows and cells are, and write a formula once for many cells; both are made plain in the
 * tree, so that rows can be put in.
 * @throws Refusal where there are too many cells, or none
 */
export function plainCells(sheet: XmlElement, name: string): SheetCells {
  const data = childOf(sheet, 'sheetData');
  if (!data) throw new Refusal('damaged-workbook', `The sheet “${name}” has no cells. Save the workbook again.`);
  const rows = new Map<number, XmlElement>();
  const shared = new Map<string, { readonly at: CellPlace; readonly formula: string }>();
  let row = 0,
    count = 0;
  for (const line of childrenOf(data, 'row')) {
    row = Number(line.attributes.get('r') ?? row + 1);
    line.attributes.set('r', String(row));
    line.attributes.delete('spans');
    rows.set(row, line);
    let column = 0;
    for (const cell of childrenOf(line, 'c')) {
      column = readCellName(cell.attributes.get('r') ?? '')?.column ?? column + 1;
      cell.attributes.set('r', `${columnLetters(column)}${row}`);
      if (++count > MOST_CELLS)
        throw new Refusal(
          'too-many-cells',
          `The sheet “${name}” has more than ${MOST_CELLS.toLocaleString('en')} cells; no form is like that. Take out what does not belong to it.`,
        );
      writeOut(childOf(cell, 'f'), { row, column }, shared);
    }
  }
  return { data, rows };
}

/** Of cells that share a formula the first has its text (ECMA-376 part 1, 18.3.1.40). */
function writeOut(
  formula: XmlElement | undefined,
  at: CellPlace,
  shared: Map<string, { readonly at: CellPlace; readonly formula: string }>,
): void {
  if (formula?.attributes.get('t') !== 'shared') return;
  const key = formula.attributes.get('si') ?? '';
  const text = textOf(formula);
  const first = shared.get(key);
  if (text !== '') shared.set(key, { at, formula: text });
  else if (first) formula.children = [copiedFormula(first.formula, at.row - first.at.row, at.column - first.at.column)];
  for (const name of ['t', 'si', 'ref']) formula.attributes.delete(name);
}

/** The cell of a row; undefined where it has none. */
export const cellIn = (row: XmlElement | undefined, place: CellPlace): XmlElement | undefined => {
  const name = cellName(place);
  return row && childrenOf(row, 'c').find(({ attributes }) => attributes.get('r') === name);
};

/** A row of a sheet, made where it is missing. */
export function rowOf({ data, rows }: SheetCells, number: number): XmlElement {
  let row = rows.get(number);
  if (row) return row;
  row = { name: `${prefixOf(data)}row`, attributes: new Map([['r', String(number)]]), children: [] };
  rows.set(number, row);
  const at = data.children.findIndex((node) => isElement(node) && Number(node.attributes.get('r')) > number);
  data.children.splice(at < 0 ? data.children.length : at, 0, row);
  return row;
}
/** A cell of a row in its place among the others. */
export function newCell(cells: SheetCells, rowNumber: number, column: number): XmlElement {
  const row = rowOf(cells, rowNumber);
  const cell = {
    name: `${prefixOf(row)}c`,
    attributes: new Map([['r', `${columnLetters(column)}${rowNumber}`]]),
    children: [],
  };
  const at = row.children.findIndex(
    (node) => isElement(node) && (readCellName(node.attributes.get('r') ?? '')?.column ?? 0) > column,
  );
  row.children.splice(at < 0 ? row.children.length : at, 0, cell);
  return cell;
}

/** A text as a cell holds it. `_x000D_` means a sign, so one that is typed is written otherwise (18.4.12, ST_Xstring). */
export function inlineText(text: string, prefix: string): string {
  const fit = withFitSigns(text).replace(/_(?=x[0-9A-Fa-f]{4}_)/g, '_x005F_');
  const space = /^\s|\s$|\n/.test(fit) ? ' xml:space="preserve"' : '';
  return `<${prefix}is><${prefix}t${space}>${escapeText(fit)}</${prefix}t></${prefix}is>`;
}

/** Days as spreadsheets count them (18.17.4.1). */
export const dayNumber = (day: string, from1904 = false): number =>
  Math.round(Date.parse(`${day}T00:00:00Z`) / 86_400_000) + 25_569 - (from1904 ? 1462 : 0);
