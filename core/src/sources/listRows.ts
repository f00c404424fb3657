import { ownValue, propertyNameFor, Refusal, type Finding, type PropertyValue } from '../assembly/index.ts';
import { columnRoles, type ColumnRole } from './columnRoles.ts';
import type { TreeNode } from './shareAlike.ts';

/** Cells as text, row by row; rows may differ in length. */
export type Table = readonly (readonly string[])[];

/** How a table is read: which row holds the headings, and what each column says. */
export interface ListMapping {
  /** Index of the heading row, −1 where there is none. */
  readonly headingRow: number;
  /** One per column. */
  readonly roles: readonly ColumnRole[];
}

/** Why a mapping cannot be used yet, in words; null where it can. */
export function mappingProblem({ roles }: ListMapping): string | null {
  const twice = columnRoles.find(
    (role) => role !== 'property' && role !== 'ignore' && roles.filter((one) => one === role).length > 1,
  );
  if (twice) return `Two columns say “${twice}”; choose one.`;
  if (!roles.includes('partNumber') && !roles.includes('name'))
    return 'No column says which part a row is; choose the one with part numbers or names.';
  if (roles.includes('parent') && (roles.includes('level') || roles.includes('item')))
    return 'A list goes by level or by parent, not both; ignore one of the columns.';
  return null;
}

/** What a row counts where it is not pieces. */
export type ListAmount =
  { readonly kind: 'as required' } | { readonly kind: 'fixed'; readonly value: number; readonly unit: string };

/** A row that names a part. */
export interface ListRow {
  /** From 1, as a table program counts. */
  readonly row: number;
  /** As it is written; empty where there is none. */
  readonly item: string;
  readonly level: number;
  readonly parent: string;
  /** Pieces; 1 where an amount is given. */
  readonly quantity: number;
  readonly amount: ListAmount | null;
  readonly facts: Omit<TreeNode, 'usage' | 'children'>;
}

/** A column of the list as it may stand in a bill. */
export interface ListColumn {
  readonly role: ColumnRole;
  /** Without the unit that stands behind it in brackets. */
  readonly heading: string;
  /** Where every cell is a number, and its unit stands in the heading or behind each of them. */
  readonly number: {
    readonly unit: string;
    readonly unitPlace: 'heading' | 'cell';
    readonly decimals: number;
    readonly decimalSign: '.' | ',';
  } | null;
  /** What the sum below its last row adds: its cells, its cells times the pieces; null where none stands there. */
  readonly sum: 'cells' | 'pieces' | null;
}

interface ListRows {
  readonly rows: readonly ListRow[];
  readonly columns: readonly ListColumn[];
  readonly findings: readonly Finding[];
}

const MOST_LEVELS = 512;
/** A number, its decimals, and the unit behind it. */
const NUMBER = /^-?\d+(?:[.,](\d+))?(?:\s+([^\s\d.,].{0,39}))?$/;
const valueOf = (text: string): number => Number(/^[-\d.,]+/.exec(text)![0].replace(',', '.'));

/** The rows of a list that name parts; headings and sums of groups are recognised and told, not read as parts. */
export function readRows(table: Table, mapping: ListMapping): ListRows {
  const { headingRow, roles } = mapping;
  const kinds = kindsOfRows(table, mapping);
  const parts = [...kinds.keys()].filter((at) => kinds[at] === 'part');
  const columns = roles.map((role, at) =>
    columnOf(
      role,
      propertyNameFor((headingRow >= 0 && table[headingRow][at]) || `Column ${at + 1}`),
      parts.map((row) => table[row][at] ?? ''),
    ),
  );
  const rows = parts.map((at): ListRow => {
    const cells = table[at];
    const cell = (role: ColumnRole) => cells[roles.indexOf(role)] ?? '';
    const properties: Record<string, PropertyValue> = {};
    columns.forEach(({ role, heading, number }, column) => {
      const text = cells[column];
      if (role === 'property' && text)
        properties[heading] = number ? { value: valueOf(text), unit: number.unit } : { value: text };
    });
    return {
      row: at + 1,
      item: cell('item'),
      level: levelOf(cell('level'), cell('item'), at + 1),
      parent: cell('parent'),
      ...quantityOf(cell('quantity'), at + 1),
      facts: {
        partNumber: cell('partNumber'),
        name: cell('name'),
        description: cell('description'),
        revision: cell('revision'),
        source: sourceOf(cell('source')),
        shape: null,
        properties,
      },
    };
  });
  const bottom = kinds.at(-1) === 'sum' ? table[table.length - 1] : [];
  const summed = columns.map((column, at) => ({
    ...column,
    sum: column.number
      ? sumOf(
          bottom[at] ?? '',
          rows.map(({ facts, quantity }) => [Number(ownValue(facts.properties, column.heading)?.value ?? 0), quantity]),
        )
      : null,
  }));
  return { rows, columns: summed, findings: leftOut(kinds) };
}

/** What a row of the table is. */
type RowKind = 'part' | 'above' | 'heading' | 'sum' | 'nothing' | 'no part';

function kindsOfRows(table: Table, { headingRow, roles }: ListMapping): RowKind[] {
  const filled = (cells: readonly string[]) => [...cells.keys()].filter((at) => cells[at] && roles[at] !== 'ignore');
  const says = (cells: readonly string[], role: ColumnRole) => (cells[roles.indexOf(role)] ?? '') !== '';
  const body = table.slice(headingRow + 1);
  const hasItems = body.some((cells) => says(cells, 'item'));
  const hasQuantities = body.some((cells) => says(cells, 'quantity'));
  /** A single text where a line of the list would have more. */
  const stands = (cells: readonly string[]) =>
    filled(cells).length === 1 &&
    (hasItems || hasQuantities) &&
    !says(cells, 'item') &&
    !says(cells, 'level') &&
    !says(cells, 'quantity');
  const titles = new Set<string>();
  const isSum = (cells: readonly string[], last: boolean): boolean => {
    const texts = filled(cells).filter((at) => !/\d/.test(cells[at]) || /^Sum /.test(cells[at]));
    if (texts.length !== 1 || says(cells, 'item') || says(cells, 'level')) return false;
    const words = cells[texts[0]];
    return (last && words === 'Total') || (words.startsWith('Sum ') && titles.has(words.slice(4)));
  };
  const kinds = table.map((cells, at): RowKind => {
    if (at <= headingRow) return 'above';
    if (filled(cells).length === 0) return 'nothing';
    if (isSum(cells, at === table.length - 1)) return 'sum';
    if (stands(cells) && (hasItems || isTitle(table, at, stands, cells[filled(cells)[0]]))) {
      titles.add(cells[filled(cells)[0]]);
      return 'heading';
    }
    return says(cells, 'partNumber') || says(cells, 'name') ? 'part' : 'no part';
  });
  return kinds;
}

/**
 * Whether a lonely text heads a group in a list without item numbers: a sum says its name, or it stands in every row
 * below it up to the next lonely text. A part number alone in its row is a part otherwise.
 */
function isTitle(table: Table, at: number, stands: (cells: readonly string[]) => boolean, text: string): boolean {
  if (table.slice(at + 1).some((cells) => cells.includes(`Sum ${text}`))) return true;
  let end = at + 1;
  while (end < table.length && !stands(table[end]) && !table[end].includes('Total')) end++;
  return end > at + 1 && table.slice(at + 1, end).every((cells) => cells.includes(text));
}

/** What was not read as a part, in sentences. */
function leftOut(kinds: readonly RowKind[]): Finding[] {
  const rowsOf = (...wanted: RowKind[]) => [...kinds.keys()].filter((at) => wanted.includes(kinds[at]));
  const told = (rows: readonly number[]) =>
    `${rows.length === 1 ? 'Row' : 'Rows'} ${rows
      .slice(0, 8)
      .map((at) => at + 1)
      .join(', ')}${rows.length > 8 ? ` and ${rows.length - 8} more` : ''}`;
  const titles = rowsOf('heading', 'sum'),
    none = rowsOf('no part');
  const findings: Finding[] = [];
  if (titles.length > 0)
    findings.push({
      code: 'list-headings',
      message: `${told(titles)} of the list ${titles.length === 1 ? 'is a heading or a sum and was' : 'are headings or sums and were'} not read as parts.`,
    });
  if (none.length > 0)
    findings.push({
      code: 'rows-without-part',
      message: `${told(none)} of the list ${none.length === 1 ? 'names' : 'name'} no part, neither by number nor by name, and ${none.length === 1 ? 'was' : 'were'} left out.`,
    });
  return findings;
}

/** How a list says that a sum adds every line once. */
const ONCE = / \(one each\)$/;

/** What a sum adds, by working it out both ways. @param cells values and pieces of the rows */
function sumOf(written: string, cells: readonly (readonly [value: number, pieces: number])[]): ListColumn['sum'] {
  const text = written.replace(ONCE, '');
  if (!NUMBER.test(text)) return null;
  const shown = valueOf(text);
  // Every cell may be rounded by half of its last digit.
  const step = 0.5 / 10 ** (NUMBER.exec(text)![1]?.length ?? 0);
  const near = (sum: number, roundings: number) => Math.abs(sum - shown) <= step * (roundings + 1) * 1.001;
  const plain = cells.reduce((sum, [value]) => sum + value, 0);
  const pieces = cells.reduce((sum, [value, count]) => sum + value * count, 0);
  if (near(plain, cells.length) && (text !== written || !near(pieces, cells.length))) return 'cells';
  return near(
    pieces,
    cells.reduce((sum, [, count]) => sum + count, 0),
  )
    ? 'pieces'
    : null;
}

type ReadColumn = Omit<ListColumn, 'sum'>;
function columnOf(role: ColumnRole, heading: string, cells: readonly string[]): ReadColumn {
  const [, bare = heading, above] = /^(.+?)\s*\[([^\]]{1,40})\]$/.exec(heading) ?? [];
  const given = cells.filter(Boolean);
  // Such as that of pictures, which a table of texts does not have.
  if (role === 'property' && given.length === 0) return { role: 'ignore', heading, number: null };
  const behind = new Set(given.map((text) => NUMBER.exec(text)?.[2]));
  const [first] = behind;
  const unit = above ?? first;
  const isNumber = given.length > 0 && given.every((text) => NUMBER.test(text)) && behind.size === 1;
  // A number without any unit may be a code, such as a key or a year: it stays a text.
  if (role !== 'property' || !isNumber || !unit || (above !== undefined && first !== undefined))
    return { role, heading, number: null };
  const decimals = given.reduce((most, text) => Math.max(most, NUMBER.exec(text)![1]?.length ?? 0), 0);
  const decimalSign = given.some((text) => text.includes(',')) ? ',' : '.';
  // 1,250 may be a thousand and more: it stays a text.
  if (decimalSign === ',' && given.every((text) => !text.includes(',') || /,\d{3}$/.test(text)))
    return { role, heading, number: null };
  const unitPlace = above === undefined ? 'cell' : 'heading';
  return { role, heading: bare, number: { unit, unitPlace, decimals: Math.min(decimals, 12), decimalSign } };
}
function levelOf(level: string, item: string, row: number): number {
  // Levels are also written as "..2" or "+2".
  const digits = /^[.\s+>-]*(\d+)$/.exec(level);
  if (level) {
    if (!digits || Number(digits[1]) > MOST_LEVELS)
      throw new Refusal(
        'level',
        `Row ${row}: the level “${level}” is no whole number up to ${MOST_LEVELS}. Mend it, or choose another column.`,
      );
    return Number(digits[1]);
  }
  return item ? item.replace(/\.0*$/, '').split(/[.\-/]/).length : 0;
}

function quantityOf(text: string, row: number): Pick<ListRow, 'quantity' | 'amount'> {
  const bare = text
    .replace(/\s*(pcs?|pieces?|x|×|stk|off|ea)\.?$/i, '')
    .replace(/[.,]0+$/, '')
    .trim();
  if (!bare) return { quantity: 1, amount: null };
  if (/^as req(uired|\.)?$/i.test(bare)) return { quantity: 1, amount: { kind: 'as required' } };
  const [, amount, unit] = /^(\d+(?:[.,]\d+)?)\s*([^\s\d.,].{0,39})$/.exec(bare) ?? [];
  if (unit) return { quantity: 1, amount: { kind: 'fixed', value: Number(amount.replace(',', '.')), unit } };
  const value = Number(bare);
  if (!Number.isSafeInteger(value) || value < 0)
    throw new Refusal(
      'quantity-not-whole',
      `Row ${row}: the quantity “${text}” is no whole number of pieces, so it cannot be counted. Mend it, or choose another column.`,
    );
  return { quantity: value, amount: null };
}

const sourceOf = (text: string): 'made' | 'bought' | null =>
  /^(made?|make|eigen|fertigung)/i.test(text) ? 'made' : /^(b(ou|uy)|purch|kauf|zukauf)/i.test(text) ? 'bought' : null;
