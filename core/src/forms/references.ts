// Names of cells (A1), and the references in formulas. Grammar: ECMA-376 part 1, 18.17.2.

/** A cell by its row and column, both from 1. */
export interface CellPlace {
  readonly row: number;
  readonly column: number;
}
/** Rows and columns from 1, both ends within. */
export interface CellRange {
  readonly from: CellPlace;
  readonly to: CellPlace;
}

/** Limits of a sheet (ECMA-376 part 1, 18.3.1.73 and 18.3.1.13). */
export const MOST_ROWS = 1_048_576,
  MOST_COLUMNS = 16_384;

export function columnLetters(column: number): string {
  let letters = '';
  for (let rest = column; rest > 0; rest = Math.floor((rest - 1) / 26))
    letters = String.fromCharCode(65 + ((rest - 1) % 26)) + letters;
  return letters;
}
/** The number of a column from its letters; 0 for what is none. */
export function columnNumber(letters: string): number {
  if (!/^[A-Za-z]{1,3}$/.test(letters)) return 0;
  let number = 0;
  for (const letter of letters.toUpperCase()) number = number * 26 + letter.charCodeAt(0) - 64;
  return number <= MOST_COLUMNS ? number : 0;
}
export const cellName = ({ row, column }: CellPlace): string => columnLetters(column) + row;
/** The cell of a name such as B12; null for what is none. */
export function readCellName(name: string): CellPlace | null {
  const match = /^\$?([A-Za-z]{1,3})\$?([1-9]\d{0,6})$/.exec(name.trim());
  const column = match ? columnNumber(match[1]) : 0;
  return match && column > 0 && Number(match[2]) <= MOST_ROWS ? { row: Number(match[2]), column } : null;
}
/** A range such as A1:B2, or one cell; null for what is none. */
export function readRange(name: string): CellRange | null {
  const [first, last = first, ...more] = name.split(':');
  const from = readCellName(first),
    to = readCellName(last);
  return from && to && more.length === 0 ? { from, to } : null;
}
export const rangeName = ({ from, to }: CellRange): string =>
  from.row === to.row && from.column === to.column ? cellName(from) : `${cellName(from)}:${cellName(to)}`;
export const isInRange = ({ row, column }: CellPlace, { from, to }: CellRange): boolean =>
  row >= from.row && row <= to.row && column >= from.column && column <= to.column;

/** One end of a reference in a formula; whole rows have no column, whole columns no row. */
interface ReferenceEnd {
  readonly column: string;
  readonly columnFixed: boolean;
  readonly row: number;
  readonly rowFixed: boolean;
}
export interface Reference {
  /** Name of the sheet that is written before it; null for the sheet of the formula. */
  readonly sheet: string | null;
  readonly from: ReferenceEnd;
  /** Null for a single cell. */
  readonly to: ReferenceEnd | null;
}

const CELL = String.raw`\$?[A-Za-z]{1,3}\$?[1-9]\d{0,6}`;
const NAME = String.raw`[A-Za-z_\\\u0080-\uffff][\w.\\?\u0080-\uffff]*`;
const TOKEN = new RegExp(
  String.raw`"(?:[^"]|"")*"` +
    String.raw`|((?:'(?:[^']|'')+'|${NAME}(?::${NAME})?)!)?(?:(${CELL})(?::(${CELL}))?(?![\w.(!\u0080-\uffff])|(\$?[1-9]\d{0,6}):(\$?[1-9]\d{0,6})(?![\w.]))` +
    String.raw`|(?:'(?:[^']|'')+'|${NAME})!?|\d[\w.]*`,
  'gu',
);

function readEnd(text: string): ReferenceEnd {
  const [, columnSign, column, rowSign, row] = /^(\$?)([A-Za-z]*)(\$?)(\d+)$/.exec(text)!;
  return column === ''
    ? { column, columnFixed: false, row: Number(row), rowFixed: columnSign !== '' || rowSign !== '' }
    : { column, columnFixed: columnSign !== '', row: Number(row), rowFixed: rowSign !== '' };
}
const endText = ({ column, columnFixed, row, rowFixed }: ReferenceEnd): string =>
  `${columnFixed ? '$' : ''}${column}${rowFixed ? '$' : ''}${row}`;

/** Name of a sheet as it stands before a reference. */
const sheetOf = (prefix: string): string => {
  const bare = prefix.slice(0, -1);
  return bare.startsWith("'") ? bare.slice(1, -1).replaceAll("''", "'") : bare;
};

/**
 * The formula with every reference to cells or whole rows as `change` gives it back. Texts in quotes, columns of tables
 * in brackets, names and functions stay.
 */
export function mapReferences(formula: string, change: (reference: Reference) => Reference): string {
  return outsideBrackets(formula, (piece) =>
    piece.replace(
      TOKEN,
      (whole: string, sheet?: string, one?: string, other?: string, row?: string, toRow?: string) => {
        const first = one ?? row;
        if (first === undefined) return whole;
        const last = other ?? toRow;
        const changed = change({
          sheet: sheet === undefined ? null : sheetOf(sheet),
          from: readEnd(first),
          to: last === undefined ? null : readEnd(last),
        });
        return `${sheet ?? ''}${endText(changed.from)}${changed.to ? `:${endText(changed.to)}` : ''}`;
      },
    ),
  );
}

/** What stands outside of brackets, changed. Texts in quotes may hold brackets. */
function outsideBrackets(formula: string, change: (piece: string) => string): string {
  if (!formula.includes('[')) return change(formula);
  let made = '',
    from = 0,
    depth = 0;
  let quoted: string | null = null;
  for (let at = 0; at < formula.length; at++) {
    const sign = formula[at];
    if (depth === 0 && quoted) {
      if (sign === quoted) quoted = null;
    } else if (depth === 0 && (sign === '"' || sign === "'")) quoted = sign;
    else if (sign === '[' && depth++ === 0) {
      made += change(formula.slice(from, at));
      from = at;
    } else if (sign === ']' && depth > 0 && --depth === 0) {
      made += formula.slice(from, at + 1);
      from = at + 1;
    }
  }
  return made + (depth > 0 ? formula.slice(from) : change(formula.slice(from)));
}

/** The formula as it reads when its cell is copied so many rows down and columns to the right. */
export function copiedFormula(formula: string, down: number, right: number): string {
  const moved = (end: ReferenceEnd): ReferenceEnd => ({
    ...end,
    row: end.rowFixed ? end.row : end.row + down,
    column:
      end.columnFixed || end.column === '' || right === 0
        ? end.column
        : columnLetters(columnNumber(end.column) + right),
  });
  return mapReferences(formula, ({ sheet, from, to }) => ({ sheet, from: moved(from), to: to && moved(to) }));
}

/** Rows that are put into a sheet. */
export interface InsertedRows {
  readonly sheet: string;
  /** They come behind this row. */
  readonly behind: number;
  readonly count: number;
}
/** A row's number when the rows are in. */
export const rowAfter = (row: number, { behind, count }: InsertedRows): number => (row > behind ? row + count : row);
/**
 * First and last row of a range when the rows are in: one that ends at the row before them takes them in, so that a sum
 * over a list grows with it.
 */
export const rowsAfter = (first: number, last: number, inserted: InsertedRows): [number, number] => [
  rowAfter(first, inserted),
  first <= inserted.behind && last >= inserted.behind ? last + inserted.count : rowAfter(last, inserted),
];

/**
 * A formula outside of the list when rows have been put in.
 * @param on name of the sheet that the formula stands on
 */
export function formulaAfter(formula: string, on: string, inserted: InsertedRows): string {
  const same = (sheet: string | null) => (sheet ?? on).toLowerCase() === inserted.sheet.toLowerCase();
  return mapReferences(formula, (reference) => {
    const { sheet, from, to } = reference;
    if (!same(sheet)) return reference;
    if (!to) return { sheet, from: { ...from, row: rowAfter(from.row, inserted) }, to };
    const turned = from.row > to.row;
    const [first, last] = rowsAfter(Math.min(from.row, to.row), Math.max(from.row, to.row), inserted);
    return { sheet, from: { ...from, row: turned ? last : first }, to: { ...to, row: turned ? first : last } };
  });
}

/**
 * A formula of the list's first row as it stands so many rows below, when rows have been put in: what is not fixed goes
 * along, fixed ranges over the list grow.
 */
export function listFormula(formula: string, on: string, down: number, inserted: InsertedRows): string {
  const same = (sheet: string | null) => (sheet ?? on).toLowerCase() === inserted.sheet.toLowerCase();
  return mapReferences(formula, ({ sheet, from, to }) => {
    const moved = (end: ReferenceEnd, isEnd: boolean): ReferenceEnd => {
      const grows = isEnd && end.rowFixed && end.row === inserted.behind;
      const row = !same(sheet) ? end.row : grows ? end.row + inserted.count : rowAfter(end.row, inserted);
      return { ...end, row: end.rowFixed ? row : row + down };
    };
    return { sheet, from: moved(from, false), to: to && moved(to, from.rowFixed || from.row < inserted.behind) };
  });
}
