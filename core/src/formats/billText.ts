import Papa from 'papaparse';
import { mayRun } from '../sources/index.ts';
import { structureTotals, type Assembly, type Finding, type Properties } from '../assembly/index.ts';
import {
  printedColumns,
  printedHeadings,
  printedLines,
  printedTexts,
  type Amount,
  type Bill,
  type Row,
} from '../bill/index.ts';
import { headingOf, type Column } from '../columns/index.ts';

/** One line of a bill for other programs. */
interface BillRecord {
  /** Of the line within this bill. */
  readonly key: string;
  /** Item number as it reads. */
  readonly item: string;
  /** 1 at the top. */
  readonly level: number;
  /** `line`: without a shape. */
  readonly kind: 'part' | 'assembly' | 'line';
  /** Of its first component; empty where there is none. */
  readonly partNumber: string;
  /** Of its first component; empty where there is none. */
  readonly name: string;
  /** Of its first component; empty where there is none. */
  readonly description: string;
  /** Of its first component; empty where there is none. */
  readonly revision: string;
  /** Pieces in one of what it is listed in. */
  readonly quantity: number;
  /** Pieces in one machine. */
  readonly totalQuantity: number;
  /** Of its first component, by name. */
  readonly properties: Properties;
  /** Where it is not counted by the piece: what its quantity is. */
  readonly amount?: Amount;
  /** Texts of the columns, where columns were asked for. */
  readonly cells?: readonly string[];
}
interface BillDocumentJson {
  /** Name of the file that it was read from. */
  readonly file: string;
  /** As the file names it. */
  readonly schema: string;
  /** Unit of length of the file; lengths here are mm. */
  readonly sourceUnit: string;
  /** Which lines stand in it. */
  readonly depth: string;
  /** Pieces in one machine. */
  readonly leafOccurrences: number;
  /** Count of different parts. */
  readonly parts: number;
  /** Count of different assemblies. */
  readonly assemblies: number;
  /** Lines in their order. */
  readonly rows: readonly BillRecord[];
  /** What was noticed in the file and in the list. */
  readonly findings: readonly Finding[];
  /** For so many machines, where that is not one; quantities above are those of one. */
  readonly machines?: number;
  /** In their order, where columns were asked for. */
  readonly columns?: readonly { readonly heading: string; readonly source: string }[];
  /** Groups of rows from `at` up to `to`, with the sums of the columns that have one, by heading. */
  readonly groups?: readonly {
    readonly title: string;
    readonly level: number;
    readonly at: number;
    readonly to: number;
    readonly sums: Readonly<Record<string, string>>;
  }[];
  /** Below the last line, by heading. */
  readonly sums?: Readonly<Record<string, string>>;
}

/**
 * The bill as JSON text (BillDocumentJson), piece by piece: as one text, a list of hundreds of thousands of lines
 * would take more memory than the file that it comes from. A line of several components shows what the first one
 * says, and a finding tells where they differ.
 * @param columns with them, every row has their texts, and groups and sums are given
 * @param noticed further findings
 */
export function* billJson(
  assembly: Assembly,
  bill: Bill,
  file: string,
  columns: readonly Column[] | null = null,
  noticed: readonly Finding[] = [],
): Generator<string> {
  const shown = columns && printedColumns(columns);
  const head = {
    file,
    schema: assembly.schema,
    sourceUnit: assembly.sourceUnit,
    depth: bill.recipe.depth,
    ...structureTotals(assembly),
  };
  yield `${JSON.stringify(head).slice(0, -1)},"rows":[`;
  let piece: string[] = [];
  for (const [at, row] of bill.rows.entries()) {
    piece.push(JSON.stringify(recordOf(assembly, bill, row, shown)));
    if (piece.length < AT_ONCE && at + 1 < bill.rows.length) continue;
    yield piece.join(',') + (at + 1 < bill.rows.length ? ',' : '');
    piece = [];
  }
  const { machines = 1 } = bill.recipe;
  const tail = {
    findings: [...assembly.findings, ...noticed, ...bill.findings],
    ...(machines === 1 ? {} : { machines }),
    ...(shown ? columnsOf(bill, shown) : {}),
  };
  yield `],${JSON.stringify(tail).slice(1)}\n`;
}
const AT_ONCE = 1000;

const NOTHING = { partNumber: '', name: '', description: '', revision: '', properties: {} };

function recordOf({ components }: Assembly, bill: Bill, row: Row, shown: readonly Column[] | null): BillRecord {
  const { partNumber, name, description, revision, properties } =
    row.components.length > 0 ? components[row.components[0]] : NOTHING;
  return {
    key: row.key,
    item: row.item,
    level: row.level,
    kind: row.kind,
    partNumber,
    name,
    description,
    revision,
    quantity: row.quantity,
    totalQuantity: row.totalQuantity,
    properties,
    ...(row.amount.kind === 'each' ? {} : { amount: row.amount }),
    ...(shown ? { cells: shown.map((column) => bill.cell(row, column).text) } : {}),
  };
}

function columnsOf(bill: Bill, shown: readonly Column[]): Pick<BillDocumentJson, 'columns' | 'groups' | 'sums'> {
  const sumsOver = (from: number, to: number) =>
    Object.fromEntries(
      shown.flatMap((column) => {
        const sum = column.total ? bill.sum(column, from, to) : null;
        return sum ? [[headingOf(column), sum.text]] : [];
      }),
    );
  return {
    columns: shown.map((column) => ({ heading: headingOf(column), source: column.source })),
    groups: bill.sections.map(({ title, level, at, to }) => ({ title, level, at, to, sums: sumsOver(at, to) })),
    sums: sumsOver(0, bill.rows.length),
  };
}

/**
 * The bill as CSV (RFC 4180, comma) or TSV. Cells that a spreadsheet would run as a formula get a leading apostrophe.
 */
export function billToText(bill: Bill, columns: readonly Column[], separator: ',' | '\t'): string {
  const shown = printedColumns(columns);
  const data = printedLines(bill, shown).map((line) =>
    printedTexts(bill, shown, line).map((text) => neutral(text.replace(/\u00a0/g, ' '))),
  );
  return `${Papa.unparse({ fields: printedHeadings(shown).map(neutral), data }, { delimiter: separator, newline: '\r\n' })}\r\n`;
}

/** With an apostrophe before what a spreadsheet would run, also behind blanks and in a line further down. */
export const neutral = (text: string): string => (mayRun(text) ? `'${text}` : text);

/** Cells for the clipboard, as spreadsheets write them: tabs between cells, quotes around texts with breaks. */
export const blockToText = (cells: readonly (readonly string[])[]): string =>
  Papa.unparse(
    cells.map((row) => row.map((text) => text.replace(/\u00a0/g, ' '))),
    { delimiter: '\t', newline: '\n' },
  );

/** Cells from the clipboard of a spreadsheet; the line end after the last row is no row of its own. */
export function textToBlock(text: string): string[][] {
  const { data } = Papa.parse<string[]>(text.replace(/\r?\n$/, ''), { delimiter: '\t' });
  return data;
}
