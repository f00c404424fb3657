import type { Assembly, ComponentKey, PropertyValue } from '../../assembly/index.ts';
import {
  keysOf,
  numberingAt,
  usualNumbering,
  type Bill,
  type LineWithoutShape,
  type QuantityKind,
  type Recipe,
  type Row,
} from '../../bill/index.ts';
import { propertyNameOf, readNumber, referenceOf, type Column } from '../../columns/index.ts';
import { applyBillCommand, type BillCommand, type BillDocument, type CellTexts } from '../kinds/bill.ts';

/** A text for a cell; null gives the cell back to the model. */
export interface CellInput {
  readonly row: Row;
  readonly column: Column;
  readonly text: string | null;
}

/** What “Made or bought” can say. */
export const sourceWords: readonly string[] = ['made', 'bought'];

/** Columns whose cells can be typed into on an ordinary line. */
export const isTypable = (row: Row, { source }: Column): boolean =>
  row.line
    ? source === 'item' || source === 'quantity' || propertyNameOf(source) !== null
    : source === 'item' ||
      source === 'quantity' ||
      source === 'pattern' ||
      source === 'formula' ||
      source === 'massEach' ||
      source === 'usedIn' ||
      source === 'labels' ||
      propertyNameOf(source) !== null;

/** What was typed so far, by where it goes. */
class Typed {
  readonly refused: string[] = [];
  private readonly cells: Record<string, Record<string, string | null>> = {};
  private readonly numbers: Record<string, { number: number; pinned: true }> = {};
  /** Null until one is typed. */
  private quantities: Record<ComponentKey, QuantityKind> | null = null;
  private readonly lines = new Map<string, LineWithoutShape>();

  constructor(
    private readonly assembly: Assembly,
    private readonly bill: Bill,
    private readonly document: BillDocument,
  ) {}

  type({ row, column, text }: CellInput): void {
    if (!isTypable(row, column)) this.refused.push(`${column.heading} is worked out; it cannot be typed.`);
    else if (column.source === 'item') this.typeNumber(row, text ?? '');
    else if (column.source === 'quantity') this.typeQuantity(row, text);
    else if (column.source === 'source' && text && !sourceWords.includes(text.trim().toLowerCase()))
      this.refused.push(`${column.heading} is one of two words: ${sourceWords.join(' or ')}.`);
    else if (row.line)
      this.changeLine(row.line, (line) => ({
        ...line,
        properties: withProperty(line.properties, propertyNameOf(column.source)!, text),
      }));
    else {
      const model = this.bill.cell(row, column).model ?? this.bill.cell(row, column).text;
      const typed = text === model ? null : text; // what the model says anyway is no override
      // Every member of the line, so that it reads the same whichever comes first after a new revision.
      for (const address of row.addresses) (this.cells[address] ??= {})[referenceOf(column)] = typed;
    }
  }

  private typeNumber(row: Row, text: string): void {
    const number = numberTyped(this.bill, this.document, row, text);
    if (number !== null) for (const address of row.addresses) this.numbers[address] = { number, pinned: true };
    else
      this.refused.push(
        `“${text}” is no number that line ${row.item} can have: whole, from 1 up${row.level > 1 ? ', and its last part only' : ''}.`,
      );
  }

  private typeQuantity(row: Row, text: string | null): void {
    const kind = quantityTyped(text);
    if (kind === undefined)
      return void this.refused.push(
        `“${text}” is no quantity: type a number with or without a unit, or “as required”.`,
      );
    if (row.line) {
      if (kind) this.changeLine(row.line, (line) => ({ ...line, quantity: kind }));
      return;
    }
    this.quantities ??= { ...this.document.recipe.quantityOf };
    for (const key of keysOf(this.assembly, row)) {
      if (kind === null) delete this.quantities[key];
      else this.quantities[key] = kind;
    }
  }

  private changeLine(wanted: string, change: (line: LineWithoutShape) => LineWithoutShape): void {
    const line = this.lines.get(wanted) ?? this.document.lines.find(({ id }) => id === wanted);
    if (line) this.lines.set(line.id, change(line));
  }

  commands(): BillCommand[] {
    const { lines, overrides } = this.document;
    const commands: BillCommand[] = [];
    if (Object.keys(this.numbers).length > 0) commands.push({ kind: 'setNumbers', numbers: this.numbers });
    if (this.quantities) {
      const quantityOf = Object.keys(this.quantities).length > 0 ? this.quantities : null;
      commands.push({ kind: 'changeRecipe', change: { quantityOf } });
    }
    if (this.lines.size > 0)
      commands.push({
        kind: 'changeLines',
        remove: [],
        put: [...this.lines.values()].map((line) => ({ line, at: lines.findIndex(({ id }) => id === line.id) })),
      });
    const overridden = Object.entries(this.cells).filter(([address, texts]) =>
      Object.entries(texts).some(
        ([reference, text]) =>
          text !== null || (overrides[address as never] as CellTexts | undefined)?.[reference] !== undefined,
      ),
    );
    if (overridden.length > 0) commands.push({ kind: 'typeCells', cells: Object.fromEntries(overridden) as never });
    return commands;
  }
}

/**
 * Commands that type these texts, as one gesture: numbers go to the ledger and are pinned, quantities to the recipe,
 * everything else is an override of this bill. What cannot be typed is told and left.
 */
export function typeInto(
  assembly: Assembly,
  bill: Bill,
  document: BillDocument,
  inputs: readonly CellInput[],
): { commands: BillCommand[]; refused: string[] } {
  const typed = new Typed(assembly, bill, document);
  for (const input of inputs) typed.type(input);
  return { commands: typed.commands(), refused: [...new Set(typed.refused)] };
}

/** The last part of an item number, with or without what stands before it; null for anything that is none. */
function numberTyped(bill: Bill, { recipe }: BillDocument, row: Row, text: string): number | null {
  const { prefix, separator } = numberingAt(recipe.numbering ?? usualNumbering, row.level);
  const above = row.parent < 0 ? '' : bill.rows[row.parent].item + separator;
  let bare = text.trim();
  for (const before of [above, prefix]) if (before && bare.startsWith(before)) bare = bare.slice(before.length);
  return /^\d{1,9}$/.test(bare) && Number(bare) >= 1 ? Number(bare) : null;
}

/** Null takes a quantity back to counting; undefined for what is none. */
function quantityTyped(
  text: string | null,
): Exclude<QuantityKind, { kind: 'each' } | { kind: 'sum' }> | null | undefined {
  const bare = (text ?? '').trim();
  if (bare === '') return null;
  if (/^as req(uired|\.)?$/i.test(bare)) return { kind: 'as required' };
  const number = readNumber(bare);
  return number && number.value >= 0 ? { kind: 'fixed', value: number.value, unit: number.unit } : undefined;
}

function withProperty(
  properties: Readonly<Record<string, PropertyValue>>,
  name: string,
  text: string | null,
): Record<string, PropertyValue> {
  const { [name]: _gone, ...others } = properties;
  return text === null || text === '' ? others : { ...others, [name]: { value: text } };
}

/**
 * Fills a block of texts into the cells from a corner on; a single text, or a smaller block, repeats over a larger
 * selection.
 */
export function spread<Line, Of>(
  block: readonly (readonly string[])[],
  rows: readonly Line[],
  columns: readonly Of[],
): { readonly row: Line; readonly column: Of; readonly text: string }[] {
  if (block.length === 0 || block[0].length === 0) return [];
  return rows.flatMap((row, down) =>
    columns.map((column, across) => {
      const line = block[down % block.length];
      return { row, column, text: line[across % line.length] ?? '' };
    }),
  );
}

/**
 * Makes several lines one: what stands in the others is counted with the first, wherever it is listed. Null where
 * these lines cannot be one: lines without a shape, parts with assemblies, lines of different subassemblies.
 */
export function joinRows(assembly: Assembly, rows: readonly Row[]): BillCommand | null {
  const [first, ...others] = rows;
  if (
    !first ||
    others.length === 0 ||
    rows.some(({ kind, parent }) => kind === 'line' || kind !== first.kind || parent !== first.parent)
  )
    return null;
  const [target] = keysOf(assembly, first);
  const from = others.flatMap((row) => keysOf(assembly, row)).filter((key) => key !== target);
  return {
    kind: 'decideLines',
    joins: Object.fromEntries(from.map((key) => [key, target])) as never,
    apart: Object.fromEntries(from.map((key) => [key, null])) as never,
  };
}

/**
 * Gives each part of a merged line a line of its own: takes joins back, and keeps the others apart by name. Null
 * where there is one part only.
 */
export function partRow(assembly: Assembly, { joins }: BillDocument, row: Row): BillCommand | null {
  const keys = [...new Set(keysOf(assembly, row))];
  if (keys.length < 2) return null;
  const joined = keys.filter((key) => joins[key as never] !== undefined);
  const merged = keys.filter((key) => !joined.includes(key)).slice(1);
  return {
    kind: 'decideLines',
    joins: Object.fromEntries(joined.map((key) => [key, null])) as never,
    apart: Object.fromEntries(merged.map((key, at) => [key, String(at + 1)])) as never,
  };
}

/** Takes back that a line's parts are kept apart; null where they are not. */
export function mergeAsUsual(assembly: Assembly, { apart }: BillDocument, row: Row): BillCommand | null {
  const keys = keysOf(assembly, row).filter((key) => apart[key as never] !== undefined);
  return keys.length === 0
    ? null
    : { kind: 'decideLines', joins: {}, apart: Object.fromEntries(keys.map((key) => [key, null])) as never };
}

/** What of a block does not fit into the rows and columns left, in words; null where all of it does. */
export function beyondList(block: readonly (readonly string[])[], rows: number, columns: number): string | null {
  const count = (over: number, one: string) => (over > 0 ? [`${over} ${one}${over === 1 ? '' : 's'}`] : []);
  const over = [...count(block.length - rows, 'row'), ...count((block[0]?.length ?? 0) - columns, 'column')];
  return over.length === 0
    ? null
    : `The block is larger than what is left of the list: its last ${over.join(' and ')} ${over.join() === '1 row' || over.join() === '1 column' ? 'was' : 'were'} not pasted. Nothing else was lost.`;
}

/** Choices after which other lines stand in a list. */
const RELISTING = new Set<keyof Recipe>(['depth', 'identity', 'identityWith', 'closed', 'filter', 'variant']);

/** Whether other lines stand in the list after a command, so that numbers are given out and balloons follow. */
export const relists = (command: BillCommand): boolean =>
  command.kind === 'setDepth' ||
  command.kind === 'setIdentity' ||
  command.kind === 'decideLines' ||
  command.kind === 'changeLines' ||
  (command.kind === 'changeRecipe' && Object.keys(command.change).some((key) => RELISTING.has(key as keyof Recipe)));

/** The document as it would read after these commands; null where one of them is refused. */
export const after = (bill: BillDocument, commands: readonly BillCommand[]): BillDocument | null =>
  commands.reduce<BillDocument | null>((document, command) => {
    const applied = document && applyBillCommand(document, command);
    return applied?.ok ? applied.document : null;
  }, bill);
