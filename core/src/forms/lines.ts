import type { SpreadsheetValue } from '../columns/index.ts';
import type { FormLine } from './records.ts';
import { columnLetters, listFormula, readCellName, type InsertedRows } from './references.ts';
import { dayNumber, inlineText, newCell, rowOf, type SheetCells } from './sheetCells.ts';
import { isDatePattern, isPlainPattern, type CellStyles } from './styles.ts';
import {
  childOf,
  childrenOf,
  escapeAttribute,
  escapeText,
  innerXml,
  prefixOf,
  textOf,
  type XmlElement,
} from './xml.ts';

/** What lines are written after. */
interface ListPattern {
  /** Name of the sheet. */
  readonly sheet: string;
  /** Number of the list's first row. */
  readonly first: number;
  /** Numbers of the workbook's columns that take values, in the order of the map. */
  readonly columns: readonly number[];
  readonly inserted: InsertedRows;
  readonly from1904: boolean;
  /** Height of rows with pictures in points; null without pictures. */
  readonly height: number | null;
}

interface PatternCell {
  readonly column: number;
  readonly letters: string;
  /** Number of its look. */
  readonly style: number;
  /** Index in the map of what stands there; −1 for what the form has. */
  readonly takes: number;
  readonly formula: string | null;
  /** Further attributes and content of what the form has. */
  readonly kind: string;
  readonly content: string;
}

/** Writes lines of a list into rows that are like the first one. */
export class LineWriter {
  private readonly cells: readonly PatternCell[];
  private readonly prefix: string;
  private readonly rowAttributes: string;
  private readonly looks = new Map<string, number>();

  constructor(
    private readonly sheet: SheetCells,
    private readonly styles: CellStyles | null,
    private readonly pattern: ListPattern,
  ) {
    const row = rowOf(sheet, pattern.first);
    this.prefix = prefixOf(row);
    const attributes = new Map(row.attributes);
    attributes.delete('r');
    if (pattern.height !== null) {
      attributes.set('ht', String(Math.max(pattern.height, Number(attributes.get('ht') ?? 0))));
      attributes.set('customHeight', '1');
    }
    this.rowAttributes = [...attributes].map(([name, value]) => ` ${name}="${escapeAttribute(value)}"`).join('');
    const own = new Map(
      childrenOf(row, 'c').map((cell) => [readCellName(cell.attributes.get('r')!)?.column ?? 0, cell]),
    );
    const usual = Number(attributes.get('s') ?? 0);
    const all = [...new Set([...own.keys(), ...pattern.columns])].sort((a, b) => a - b);
    this.cells = all.map((column) => patternCell(column, own.get(column), usual, pattern.columns.indexOf(column)));
  }

  /** Markup of a row that is new. */
  newRow(line: FormLine, number: number): string {
    const pieces = [`<${this.prefix}row r="${number}"${this.rowAttributes}>`];
    for (const cell of this.cells) {
      const name = cell.letters + number;
      if (cell.takes >= 0) pieces.push(this.value(line.cells[cell.takes], line.kind, name, cell.style));
      else pieces.push(this.asInForm(cell, name, number - this.pattern.first));
    }
    pieces.push(`</${this.prefix}row>`);
    return pieces.join('');
  }

  /** Puts a line into a row that is there: what the list does not take stays. */
  intoRow(line: FormLine, number: number): void {
    const row = rowOf(this.sheet, number);
    if (this.pattern.height !== null) {
      row.attributes.set('ht', String(Math.max(this.pattern.height, Number(row.attributes.get('ht') ?? 0))));
      row.attributes.set('customHeight', '1');
    }
    const known = new Map(childrenOf(row, 'c').map((cell) => [cell.attributes.get('r'), cell]));
    for (const { letters, column, style, takes } of this.cells) {
      if (takes < 0) continue;
      const cell = known.get(letters + number) ?? newCell(this.sheet, number, column);
      const look = Number(cell.attributes.get('s') ?? style);
      const made = this.parts(line.cells[takes], line.kind, look);
      cell.attributes.set('s', String(made.style));
      cell.attributes.delete('t');
      if (made.type) cell.attributes.set('t', made.type);
      cell.children = made.content === '' ? [] : [{ raw: made.content }];
    }
  }

  private value(value: SpreadsheetValue | null, kind: FormLine['kind'], name: string, base: number): string {
    const { style, type, content } = this.parts(value, kind, base);
    const look = style === 0 ? '' : ` s="${style}"`;
    return content === ''
      ? `<${this.prefix}c r="${name}"${look}/>`
      : `<${this.prefix}c r="${name}"${look}${type ? ` t="${type}"` : ''}>${content}</${this.prefix}c>`;
  }

  private parts(value: SpreadsheetValue | null, kind: FormLine['kind'], base: number) {
    const style = this.lookOf(base, value, kind !== 'row');
    const { prefix } = this;
    if (value === null || value.value === '') return { style, type: '', content: '' };
    if (value.kind === 'text') return { style, type: 'inlineStr', content: inlineText(value.value, prefix) };
    const number = value.kind === 'date' ? dayNumber(value.value, this.pattern.from1904) : value.value;
    return { style, type: '', content: `<${prefix}v>${number}</${prefix}v>` };
  }

  /** The form's own look, but for numbers and dates that would read wrong in it. */
  private lookOf(base: number, value: SpreadsheetValue | null, bold: boolean): number {
    if (!this.styles) return base;
    const key = `${base} ${bold} ${value === null || value.kind === 'text' ? '' : value.pattern}`;
    let look = this.looks.get(key);
    if (look === undefined) {
      const pattern = wantedPattern(value, this.styles.patternOf(base));
      look =
        pattern === null && !bold
          ? base
          : this.styles.changed(base, { ...(pattern === null ? {} : { pattern }), bold });
      this.looks.set(key, look);
    }
    return look;
  }

  /** A cell that the list does not take, as the first row has it. */
  private asInForm({ style, formula, kind, content }: PatternCell, name: string, down: number): string {
    const { prefix, pattern } = this;
    const look = style === 0 ? '' : ` s="${style}"`;
    if (formula !== null) {
      const text = escapeText(listFormula(formula, pattern.sheet, down, pattern.inserted));
      return `<${prefix}c r="${name}"${look}><${prefix}f>${text}</${prefix}f></${prefix}c>`;
    }
    return content === ''
      ? `<${prefix}c r="${name}"${look}/>`
      : `<${prefix}c r="${name}"${look}${kind}>${content}</${prefix}c>`;
  }
}

function patternCell(column: number, cell: XmlElement | undefined, usual: number, takes: number): PatternCell {
  const formula = cell && childOf(cell, 'f');
  const type = cell?.attributes.get('t');
  return {
    column,
    letters: columnLetters(column),
    style: Number(cell?.attributes.get('s') ?? usual),
    takes,
    formula: formula ? textOf(formula) : null,
    kind: type ? ` t="${escapeAttribute(type)}"` : '',
    content: cell && !formula ? innerXml(cell) : '',
  };
}

/** The number pattern that a cell needs besides the form's own; null where that one does. */
function wantedPattern(value: SpreadsheetValue | null, own: string): string | null {
  if (value === null || value.kind === 'text') return null;
  if (value.kind === 'date') return isDatePattern(own) ? null : value.pattern;
  // A number with its unit in the cell would be wrong without it.
  if (value.pattern.includes('"')) return value.pattern;
  if (isDatePattern(own)) return value.pattern;
  return isPlainPattern(own) && value.pattern !== own ? value.pattern : null;
}
