import type { Properties, PropertyValue } from '../assembly/index.ts';
import { currencies, pictureIn } from '../columns/index.ts';
import { dateOf } from './dates.ts';
import type { CatalogueColumn, CatalogueItem, CatalogueKind } from './records.ts';
import { itemKey } from './match.ts';

/** Cells as text, row by row; rows may differ in length. */
export type Cells = readonly (readonly string[])[];
type DecimalSign = '.' | ',';

/** How one column of a table is read. */
export interface ReadColumn {
  /** False for one that is left out. */
  readonly use: boolean;
  readonly heading: string;
  readonly kind: CatalogueKind;
  readonly unit: string;
}
/** How a table is read as a catalogue. */
export interface CatalogueMapping {
  /** Index of the heading row; −1 where there is none. */
  readonly headingRow: number;
  /** One per column of the table. */
  readonly columns: readonly ReadColumn[];
  /** Indices of the one or two columns that parts are found by. */
  readonly key: readonly number[];
  /** Before the decimals of all numbers. */
  readonly decimalSign: DecimalSign;
}
export interface ProposedMapping extends CatalogueMapping {
  /** Whether the table does not tell the decimal sign, so that somebody has to: `1,234` may be a thousand and more. */
  readonly isUnsure: boolean;
}

const CURRENCIES: Readonly<Record<string, string>> = {
  '€': 'EUR',
  $: 'USD',
  '£': 'GBP',
  '¥': 'JPY',
  kr: 'SEK',
  zł: 'PLN',
};
const CODES = new Set<string>(currencies);
/** ISO 4217 code of a sign or code; null for anything else. */
function currencyOf(text: string): string | null {
  const bare = text.trim();
  if (Object.hasOwn(CURRENCIES, bare)) return CURRENCIES[bare];
  const code = bare.toUpperCase();
  return CODES.has(code) ? code : null;
}

/** A number with what stands around it. Blanks and apostrophes may part thousands. */
const NUMBER = /^([^\d\s+\-−.,]{1,3}\s*)?([+\-−]?)\s*(\d[\d.,'’\u00a0\u202f ]*|[.,]\d+)\s*([^\s\d.,][^\d\n]{0,38})?$/u;
const isFlag = (text: string): boolean => /^(yes|no|true|false)$/i.test(text);
const isLink = (text: string): boolean => /^https?:\/\/\S+$/i.test(text);

/** Which decimal sign a written number must have; null where it may be either, undefined where it has none. */
function signOf(digits: string): DecimalSign | null | undefined {
  const points = digits.split('.').length - 1,
    commas = digits.split(',').length - 1;
  if (points > 0 && commas > 0) return digits.lastIndexOf('.') > digits.lastIndexOf(',') ? '.' : ',';
  if (points + commas === 0) return undefined;
  const sign: DecimalSign = points > 0 ? '.' : ',';
  // Twice the same sign parts thousands.
  if (points + commas > 1) return sign === '.' ? ',' : '.';
  return /^\d{1,3}[.,]\d{3}$/.test(digits) ? null : sign;
}

/** A number as it is written with this decimal sign, and what stands around it; null where it is none. */
export function readAmount(text: string, sign: DecimalSign): { readonly value: number; readonly unit: string } | null {
  const match = NUMBER.exec(text.trim());
  if (!match) return null;
  const [, before = '', minus, written, behind = ''] = match;
  // M8 is no number; € 8 is one.
  if (before.trim() !== '' && currencyOf(before) === null) return null;
  const digits = written.replace(/['’\u00a0\u202f ]/g, '');
  const other = sign === '.' ? ',' : '.';
  const [whole, fraction = '', ...more] = digits.split(sign);
  // The other sign parts thousands, each of three digits.
  if (more.length > 0 || fraction.includes(other) || !/^(\d*|\d{1,3}(?:[.,]\d{3})*)$/.test(whole)) return null;
  const value = Number(`${whole.replaceAll(other, '') || '0'}.${fraction || '0'}`);
  if (!Number.isFinite(value)) return null;
  return { value: minus === '-' || minus === '−' ? -value : value, unit: (behind || before).trim() };
}

/** Among so many rows the headings are looked for. */
const FIRST_ROWS = 20;

/** The row that reads most like headings: most texts that are no numbers, each once; −1 where none does. */
export function headingRowOf(table: Cells): number {
  const worth = table.slice(0, FIRST_ROWS).map((row) => {
    const texts = row.map((cell) => cell.trim()).filter(Boolean);
    const isWord = (text: string) => readAmount(text, '.') === null && !isLink(text) && text.length <= 80;
    return new Set(texts).size === texts.length && texts.every(isWord) ? texts.length : 0;
  });
  const most = Math.max(0, ...worth);
  return most < 2 ? (worth[0] === 1 && table.length > 1 ? 0 : -1) : worth.indexOf(most);
}

/** How a table would be read, told by its headings and its cells. @param headingRow −1 where it has none */
export function proposeCatalogue(table: Cells, headingRow: number): ProposedMapping {
  const body = table.slice(headingRow + 1);
  const width = table.reduce((most, row) => Math.max(most, row.length), 0);
  const signs = new Set(
    body.flatMap((row) =>
      row.flatMap((text) => {
        const match = NUMBER.exec(text.trim());
        const sign = match ? signOf(match[3].replace(/['’\u00a0\u202f ]/g, '')) : undefined;
        return sign === undefined || dateOf(text) !== null ? [] : [sign];
      }),
    ),
  );
  const decimalSign: DecimalSign = signs.has(',') && !signs.has('.') ? ',' : '.';
  const columns = Array.from({ length: width }, (_, at): ReadColumn => {
    const given = headingRow >= 0 ? (table[headingRow][at] ?? '').trim() : '';
    const cells = body.map((row) => (row[at] ?? '').trim()).filter(Boolean);
    const [, bare = given, above = ''] = /^(.+?)\s*[[(]([^\])]{1,40})[\])]$/.exec(given) ?? [];
    const read = kindOf(cells, above, decimalSign);
    const isPlain = read.kind === 'text' || read.kind === 'link';
    return {
      use: given !== '' || cells.length > 0,
      heading: (isPlain ? given : bare) || `Column ${at + 1}`,
      ...read,
    };
  });
  const isNumberHeading = ({ heading }: ReadColumn) =>
    /part\s*(no|number|nr)|item\s*(no|number)|article|artikel|teile?nummer|order\s*(no|number)|^(number|nr\.?|no\.?|code)$/i.test(
      heading,
    );
  const key = Math.max(0, columns.findIndex(isNumberHeading));
  // What parts are found by is written as it is, zeros in front and all.
  const asText = columns.map((column, at): ReadColumn => (at === key ? { ...column, kind: 'text', unit: '' } : column));
  return {
    headingRow,
    columns: asText,
    key: [key],
    decimalSign,
    isUnsure: signs.has(null) && !signs.has(',') && !signs.has('.'),
  };
}

function kindOf(cells: readonly string[], above: string, sign: DecimalSign): Pick<ReadColumn, 'kind' | 'unit'> {
  const none = { kind: 'text', unit: '' } as const;
  if (cells.length === 0) return none;
  if (cells.every(isFlag)) return { kind: 'yes or no', unit: '' };
  if (cells.every((text) => dateOf(text) !== null)) return { kind: 'date', unit: '' };
  if (cells.every(isLink)) return { kind: 'link', unit: '' };
  const amounts = cells.map((text) => readAmount(text, sign) ?? readAmount(text, sign === '.' ? ',' : '.'));
  const units = new Set(amounts.map((one) => one?.unit));
  if (units.has(undefined)) return none;
  const currencies = new Set([...units].map((unit) => currencyOf(unit || above)));
  if (!currencies.has(null)) return { kind: 'money', unit: currencies.size === 1 ? [...currencies][0]! : '' };
  // Zeros in front are those of a code.
  if (units.size > 1 || cells.some((text) => /^0\d/.test(text))) return none;
  const [unit] = units;
  return { kind: 'number', unit: unit || above };
}

/** A text as a value of a column; null for an empty one, undefined where it is none. */
export function readCell(
  text: string,
  { kind, unit }: Pick<CatalogueColumn, 'kind' | 'unit'>,
  sign: DecimalSign,
): PropertyValue | null | undefined {
  const bare = text.trim();
  if (bare === '') return null;
  if (kind === 'text' || kind === 'link') return { value: bare };
  if (kind === 'picture') return pictureIn(bare) === null ? undefined : { value: bare };
  if (kind === 'yes or no') return isFlag(bare) ? { value: /^(yes|true)$/i.test(bare) } : undefined;
  if (kind === 'date') {
    const date = dateOf(bare);
    return date === null ? undefined : { value: date };
  }
  const amount = readAmount(bare, sign);
  if (!amount) return undefined;
  const own = kind === 'money' ? amount.unit && currencyOf(amount.unit) : amount.unit;
  if (own === null) return undefined;
  const shown = own || unit;
  return { value: amount.value, ...(shown ? { unit: shown } : {}) };
}

/** What a table says of parts, and what of it could not be read. */
interface ReadCatalogue {
  readonly columns: readonly CatalogueColumn[];
  readonly key: readonly string[];
  /** Values by id of the column, in the order of the table. */
  readonly items: readonly Properties[];
  /** Sentences. */
  readonly problems: readonly string[];
}

/** At most so many rows are named in a sentence. */
const NAMED = 8;
const rowsText = (rows: readonly number[]): string =>
  `${rows.length === 1 ? 'Row' : 'Rows'} ${rows.slice(0, NAMED).join(', ')}${rows.length > NAMED ? ` and ${rows.length - NAMED} more` : ''}`;

/**
 * The parts of a table. Columns that are known by their heading keep their ids, so that a second import finds them.
 * @param known columns that the catalogue has
 */
export function readCatalogue(
  table: Cells,
  { headingRow, columns: given, key, decimalSign }: CatalogueMapping,
  known: readonly CatalogueColumn[],
  newId: () => string,
): ReadCatalogue {
  const idOf = new Map(known.map(({ id, heading }) => [heading.toLowerCase(), id]));
  const used = given.flatMap((column, at) => (column.use ? [{ ...column, at }] : []));
  const columns = used.map(({ heading, kind, unit }): CatalogueColumn => {
    const id = idOf.get(heading.toLowerCase()) ?? newId();
    idOf.delete(heading.toLowerCase()); // two columns of one heading are two columns
    return { id, heading, kind, unit };
  });
  const keyIds = key.flatMap((at) => {
    const found = used.findIndex((column) => column.at === at);
    return found < 0 ? [] : [columns[found].id];
  });
  const unread = new Map<string, number[]>();
  const without: number[] = [];
  const seen = new Map<string, number>();
  const twice: number[] = [];
  const items = table.slice(headingRow + 1).flatMap((cells, index): Properties[] => {
    const row = headingRow + 2 + index;
    if (cells.every((cell) => cell.trim() === '')) return [];
    const values: Record<string, PropertyValue> = {};
    used.forEach(({ at, heading }, one) => {
      const value = readCell(cells[at] ?? '', columns[one], decimalSign);
      if (value) values[columns[one].id] = value;
      else if (value === undefined) {
        // Nothing is lost: it stands there as it is written.
        values[columns[one].id] = { value: cells[at].trim() };
        const rows = unread.get(heading) ?? [];
        unread.set(heading, rows);
        rows.push(row);
      }
    });
    const name = itemKey({ key: keyIds }, values);
    if (name === null) without.push(row);
    else if (seen.has(name)) twice.push(row);
    else seen.set(name, row);
    return [values];
  });
  const problems = [...unread].map(
    ([heading, rows]) => `${rowsText(rows)}: what stands under “${heading}” is not of its kind and was kept as text.`,
  );
  if (without.length > 0) problems.push(`${rowsText(without)}: no key, so no part will be found by it.`);
  if (twice.length > 0)
    problems.push(`${rowsText(twice)}: a key that stands further up already; parts with it find several.`);
  return { columns, key: keyIds, items, problems };
}

/** What a second import would do to a catalogue. */
interface CatalogueChanges {
  /** Values of items that are new. */
  readonly added: readonly Properties[];
  /** Items that say something else, with the ids of the columns that do; what the table does not have stays. */
  readonly changed: readonly {
    readonly item: CatalogueItem;
    readonly values: Properties;
    readonly columns: readonly string[];
  }[];
  /** Items that the table does not have. */
  readonly gone: readonly CatalogueItem[];
  readonly same: number;
}

/** Items are told apart by their key; those without one by all that they say. */
export function compareCatalogue(
  items: readonly CatalogueItem[],
  { columns, key, items: read }: Pick<ReadCatalogue, 'columns' | 'key' | 'items'>,
): CatalogueChanges {
  const nameOf = (values: Properties) =>
    itemKey({ key }, values) ?? `no key ${JSON.stringify(columns.map(({ id }) => values[id] ?? null))}`;
  const waiting = new Map<string, CatalogueItem[]>();
  for (const item of items) {
    const name = nameOf(item.values);
    const known = waiting.get(name);
    if (known) known.push(item);
    else waiting.set(name, [item]);
  }
  const added: Properties[] = [];
  const changed: CatalogueChanges['changed'][number][] = [];
  let same = 0;
  for (const values of read) {
    const item = waiting.get(nameOf(values))?.shift();
    if (!item) {
      added.push(values);
      continue;
    }
    const differing = columns.filter(({ id }) => !isSameValue(item.values[id], values[id])).map(({ id }) => id);
    if (differing.length === 0) same++;
    else changed.push({ item, values, columns: differing });
  }
  return { added, changed, gone: [...waiting.values()].flat(), same };
}

export const isSameValue = (one: PropertyValue | undefined, other: PropertyValue | undefined): boolean =>
  one === other || (one?.value === other?.value && (one?.unit ?? '') === (other?.unit ?? ''));
