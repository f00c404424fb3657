import Papa from 'papaparse';
import { structureTotals, type Assembly, type Finding, type Properties } from '../assembly/index.ts';
import { printedColumns, printedHeadings, printedLines, printedTexts, type Bill } from '../bill/index.ts';
import type { Column } from '../columns/index.ts';

/** One line of a bill for other programs. */
export interface BillRecord {
  readonly key: string;
  readonly item: string;
  readonly level: number;
  readonly kind: 'part' | 'assembly' | 'line';
  readonly partNumber: string;
  readonly name: string;
  readonly description: string;
  readonly revision: string;
  readonly quantity: number;
  readonly totalQuantity: number;
  readonly properties: Properties;
}
export interface BillDocumentJson {
  readonly file: string;
  readonly schema: string;
  readonly sourceUnit: string;
  readonly depth: string;
  readonly leafOccurrences: number;
  readonly parts: number;
  readonly assemblies: number;
  readonly rows: readonly BillRecord[];
  readonly findings: readonly Finding[];
}

/** The bill as records; a line of several components shows what the first one says, and a finding tells where they differ. */
export function billRecords(assembly: Assembly, bill: Bill, file: string): BillDocumentJson {
  const rows = bill.rows.map((row): BillRecord => {
    const { partNumber, name, description, revision, properties } = row.components.length > 0 ? assembly.components[row.components[0]] : { partNumber: '', name: '', description: '', revision: '', properties: {} };
    return { key: row.key, item: row.item, level: row.level, kind: row.kind, partNumber, name, description, revision, quantity: row.quantity, totalQuantity: row.totalQuantity, properties };
  });
  return { file, schema: assembly.schema, sourceUnit: assembly.sourceUnit, depth: bill.recipe.depth, ...structureTotals(assembly), rows, findings: [...assembly.findings, ...bill.findings] };
}

/**
 * The bill as CSV (RFC 4180, comma) or TSV. Cells that a spreadsheet would run as a formula get a leading apostrophe.
 */
export function billToText(bill: Bill, columns: readonly Column[], separator: ',' | '\t'): string {
  const shown = printedColumns(columns);
  const data = printedLines(bill, shown).map((line) => printedTexts(bill, shown, line).map((text) => text.replace(/\u00a0/g, ' ')));
  return `${Papa.unparse({ fields: printedHeadings(shown), data }, { delimiter: separator, newline: '\r\n', escapeFormulae: true })}\r\n`;
}

/** Cells for the clipboard, as spreadsheets write them: tabs between cells, quotes around texts with breaks. */
export const blockToText = (cells: readonly (readonly string[])[]): string => Papa.unparse(cells.map((row) => row.map((text) => text.replace(/\u00a0/g, ' '))), { delimiter: '\t', newline: '\n' });

/** Cells from the clipboard of a spreadsheet; the line end after the last row is no row of its own. */
export function textToBlock(text: string): string[][] {
  const { data } = Papa.parse<string[]>(text.replace(/\r?\n$/, ''), { delimiter: '\t' });
  return data;
}
