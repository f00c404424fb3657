import type { Assembly } from '../../assembly/index.ts';
import type { CatalogueLink, KeptValues } from '../../catalogues/index.ts';
import type { Address, Depth, Identity, Ledger, LedgerEntry, LineWithoutShape, Recipe } from '../../bill/index.ts';
import { defaultColumns, findCircle, referenceOf, referencesOf, type Column } from '../../columns/index.ts';
import {
  applyFrom,
  changeEntries,
  changeFields,
  done,
  refused,
  withFields,
  type Applied,
  type CommandTable,
  type Refused,
} from './applied.ts';

/** Texts typed into the cells of one line, by the reference of their column. */
export type CellTexts = Readonly<Record<string, string>>;

/** What stood in a typed cell when its model was overtaken by a revision. */
export interface OvertakenCell {
  /** The text that was typed. */
  readonly typed: string;
  /** What the model had said until then. */
  readonly was: string;
}

/** A bill as it is stored: how it is made, what it shows, and what was decided about it. */
export interface BillDocument {
  /** Of this record, as it is stored; see `upgradeDocument`. */
  readonly version: 2;
  /** In lists, file names and the title of a workbook. */
  readonly name: string;
  /** How it is made. */
  readonly recipe: Recipe;
  /** In their order; at least one. */
  readonly columns: readonly Column[];
  /** Numbers that were given out, by address. */
  readonly ledger: Ledger;
  /** Lines that were made one: address → the address that it counts with. */
  readonly joins: Readonly<Record<Address, Address>>;
  /** Lines kept apart: address → a tag; equal tags stay together. */
  readonly apart: Readonly<Record<Address, string>>;
  /** Typed texts by address. */
  readonly overrides: Readonly<Record<Address, CellTexts>>;
  /** Lines without a shape, in their order. */
  readonly lines: readonly LineWithoutShape[];
  /** Taken away; kept so that it can come back. */
  readonly away?: true;
  /** Typed cells whose model changed with a revision that was taken over, by address and reference; until dealt with. */
  readonly overtaken?: Readonly<Record<Address, Readonly<Record<string, OvertakenCell>>>>;
  /** Catalogues that it takes values from, the first first. */
  readonly catalogues?: readonly CatalogueLink[];
  /** What they said on a day, which it says until that is let go; what they say now where absent. */
  readonly kept?: KeptValues;
  /** Revision of the model that it counts, until a later one is taken over; the project's first where absent. */
  readonly revision?: string;
}

/** Choices of a recipe besides depth and identity; null takes one back to the usual. */
type RecipeChange = { readonly [Key in Exclude<keyof Recipe, 'depth' | 'identity'>]?: Recipe[Key] | null };
/** What can be changed about a column; null takes it back to the usual. */
export type ColumnChange = { readonly [Key in Exclude<keyof Column, 'id' | 'source'>]?: Column[Key] | null };

export type BillCommand =
  | { readonly kind: 'setDepth'; readonly depth: Depth }
  | { readonly kind: 'setIdentity'; readonly identity: Identity }
  | { readonly kind: 'changeRecipe'; readonly change: RecipeChange }
  | { readonly kind: 'renameBill'; readonly name: string }
  /** Takes the bill away, or brings it (back). */
  | { readonly kind: 'setAway'; readonly away: boolean }
  /** Which revision of the model the bill counts; null for the project's first. */
  | { readonly kind: 'showRevision'; readonly revision: string | null }
  /** Keeps what catalogues say on a day, or with null takes what they say now again. */
  | { readonly kind: 'keepValues'; readonly kept: KeptValues | null }
  /** Which catalogues the bill takes values from; null for none. */
  | { readonly kind: 'setCatalogues'; readonly links: readonly CatalogueLink[] | null }
  | { readonly kind: 'addColumn'; readonly column: Column; readonly at: number }
  | { readonly kind: 'removeColumn'; readonly id: string }
  | { readonly kind: 'moveColumn'; readonly id: string; readonly to: number }
  | { readonly kind: 'renameColumn'; readonly id: string; readonly heading: string }
  | { readonly kind: 'changeColumn'; readonly id: string; readonly change: ColumnChange }
  /** All columns at once: a house style. */
  | { readonly kind: 'setColumns'; readonly columns: readonly Column[] }
  /** Sets or, with null, takes away numbers. */
  | { readonly kind: 'setNumbers'; readonly numbers: Readonly<Record<Address, LedgerEntry | null>> }
  /** Joins lines, keeps them apart, or with null takes that back. */
  | {
      readonly kind: 'decideLines';
      readonly joins: Readonly<Record<Address, Address | null>>;
      readonly apart: Readonly<Record<Address, string | null>>;
    }
  /** Types texts into cells; null gives a cell back to the model. */
  | { readonly kind: 'typeCells'; readonly cells: Readonly<Record<Address, Readonly<Record<string, string | null>>>> }
  /** Remembers cells whose model was overtaken; null where that is dealt with. */
  | {
      readonly kind: 'noteOvertaken';
      readonly cells: Readonly<Record<Address, Readonly<Record<string, OvertakenCell | null>>>>;
    }
  /** Puts lines without a shape at a place of their list, those with a known id anew; takes others away. */
  | {
      readonly kind: 'changeLines';
      readonly remove: readonly string[];
      readonly put: readonly { readonly line: LineWithoutShape; readonly at: number }[];
    };

export const newBill = (
  assembly: Assembly,
  name: string,
  columns: readonly Column[] = defaultColumns(assembly),
): BillDocument => ({
  version: 2,
  name,
  recipe: { depth: 'parts-only', identity: 'part-number' },
  columns,
  ledger: {},
  joins: {},
  apart: {},
  overrides: {},
  lines: [],
});

type Done = Applied<BillDocument, BillCommand> | Refused;

/** What is done to one column of a bill. */
const ofColumn =
  <Command extends { readonly id: string }>(
    change: (bill: BillDocument, at: number, command: Command) => Done,
  ): ((bill: BillDocument, command: Command) => Done) =>
  (bill, command) => {
    const at = bill.columns.findIndex(({ id }) => id === command.id);
    return at < 0 ? refused('That column is no longer in the bill.') : change(bill, at, command);
  };
const cellsIn = (cells: Readonly<Record<Address, Readonly<Record<string, unknown>>>>, what: string): string[] =>
  Object.entries(cells).flatMap(([address, of]) =>
    Object.keys(of).map((reference) => `${what} ${address} ${reference}`),
  );

export const billCommands: CommandTable<BillDocument, BillCommand> = {
  setDepth: {
    apply: (bill, { depth }) =>
      done(bill, { recipe: { ...bill.recipe, depth } }, { kind: 'setDepth', depth: bill.recipe.depth }),
    words: ({ depth }) => `depth of the list: ${depth}`,
    touches: () => ['depth'],
  },
  setIdentity: {
    apply: (bill, { identity }) =>
      done(bill, { recipe: { ...bill.recipe, identity } }, { kind: 'setIdentity', identity: bill.recipe.identity }),
    words: () => 'what makes two lines one',
    touches: () => ['identity'],
  },
  changeRecipe: {
    apply: (bill, { change }) => {
      const { changed, before } = changeFields(bill.recipe, change);
      return done(bill, { recipe: changed }, { kind: 'changeRecipe', change: before });
    },
    words: ({ change }) => `change ${Object.keys(change).join(', ') || 'nothing'} of the list`,
    touches: ({ change }) => Object.keys(change).map((key) => `recipe ${key}`),
  },
  renameBill: {
    apply: (bill, { name }) =>
      name.trim() === ''
        ? refused('A bill needs a name.')
        : done(bill, { name }, { kind: 'renameBill', name: bill.name }),
    words: ({ name }) => `rename the list ${name}`,
    touches: () => ['name'],
  },
  setAway: {
    apply: (bill, { away }) => withFields(bill, { away: away || null }, { kind: 'setAway', away: bill.away ?? false }),
    words: ({ away }) => (away ? 'take the list away' : 'bring the list back'),
    touches: () => ['away'],
  },
  showRevision: {
    apply: (bill, { revision }) =>
      withFields(bill, { revision }, { kind: 'showRevision', revision: bill.revision ?? null }),
    words: () => 'revision that the list counts',
    touches: () => ['revision'],
  },
  keepValues: {
    apply: (bill, { kept }) => withFields(bill, { kept }, { kind: 'keepValues', kept: bill.kept ?? null }),
    words: ({ kept }) => (kept ? `keep what catalogues say on ${kept.date}` : 'what catalogues say now'),
    touches: () => ['kept values'],
  },
  setCatalogues: {
    apply: (bill, { links }) =>
      links && new Set(links.map(({ catalogue }) => catalogue)).size < links.length
        ? refused('A bill takes values from each catalogue once.')
        : withFields(bill, { catalogues: links }, { kind: 'setCatalogues', links: bill.catalogues ?? null }),
    words: () => 'catalogues of the list',
    touches: () => ['catalogues'],
  },
  addColumn: {
    apply: (bill, { column, at }) => {
      const { columns } = bill;
      if (columns.some(({ id }) => id === column.id))
        return refused(`The bill already has a column ${column.heading}.`);
      const after = columns.toSpliced(clampPlace(at, columns.length), 0, column);
      return circleIn(after) ?? done(bill, { columns: after }, { kind: 'removeColumn', id: column.id });
    },
    words: ({ column }) => `add column ${column.heading}`,
    touches: ({ column }) => [`column ${column.id}`, 'column order'],
  },
  removeColumn: {
    apply: ofColumn((bill, at, { id }) => {
      const { columns } = bill;
      if (columns.length === 1) return refused('A bill keeps at least one column.');
      const user = columns.find(
        (column) => column.id !== id && column.expression && referencesOf(column.expression).includes(`column:${id}`),
      );
      if (user) return refused(`“${user.heading}” is made from this column; change that one first, or hide this one.`);
      return done(bill, { columns: columns.toSpliced(at, 1) }, { kind: 'addColumn', column: columns[at], at });
    }),
    words: () => 'take a column away',
    touches: ({ id }) => [`column ${id}`, 'column order'],
  },
  moveColumn: {
    apply: ofColumn((bill, at, { id, to }) => {
      const others = bill.columns.toSpliced(at, 1);
      const columns = others.toSpliced(clampPlace(to, others.length), 0, bill.columns[at]);
      return done(bill, { columns }, { kind: 'moveColumn', id, to: at });
    }),
    words: () => 'move a column',
    touches: ({ id }) => [`column ${id}`, 'column order'],
  },
  renameColumn: {
    apply: ofColumn((bill, at, { id, heading }) =>
      done(
        bill,
        { columns: bill.columns.with(at, { ...bill.columns[at], heading }) },
        { kind: 'renameColumn', id, heading: bill.columns[at].heading },
      ),
    ),
    words: ({ heading }) => `rename a column ${heading}`,
    touches: ({ id }) => [`column ${id}`],
  },
  changeColumn: {
    apply: ofColumn((bill, at, { id, change }) => {
      const { changed, before } = changeFields(bill.columns[at], change);
      const after = bill.columns.with(at, changed);
      return circleIn(after) ?? done(bill, { columns: after }, { kind: 'changeColumn', id, change: before });
    }),
    words: () => 'change a column',
    touches: ({ id }) => [`column ${id}`],
  },
  setColumns: {
    apply: (bill, { columns }) => {
      if (columns.length === 0) return refused('A bill keeps at least one column.');
      if (new Set(columns.map(({ id }) => id)).size < columns.length)
        return refused('Two of these columns have the same name inside.');
      return circleIn(columns) ?? done(bill, { columns }, { kind: 'setColumns', columns: bill.columns });
    },
    words: () => 'columns of the list',
    touches: () => ['column', 'column order'],
  },
  setNumbers: {
    apply: (bill, { numbers }) => {
      const { map, before } = changeEntries(bill.ledger, numbers);
      return done(bill, { ledger: map }, { kind: 'setNumbers', numbers: before });
    },
    words: ({ numbers }) => (Object.keys(numbers).length === 1 ? 'type an item number' : 'number lines'),
    touches: ({ numbers }) =>
      Object.entries(numbers).flatMap(([address, entry]) => [
        `number ${address}`,
        ...(entry && !entry.retired ? [numberClaim(address as Address, entry.number)] : []),
      ]),
  },
  decideLines: {
    apply: (bill, command) => {
      const joins = changeEntries(bill.joins, command.joins),
        apart = changeEntries(bill.apart, command.apart);
      return done(
        bill,
        { joins: joins.map, apart: apart.map },
        { kind: 'decideLines', joins: joins.before, apart: apart.before },
      );
    },
    words: ({ joins }) => (Object.values(joins).some(Boolean) ? 'join lines' : 'decide about lines'),
    touches: ({ joins, apart }) => [...Object.keys(joins), ...Object.keys(apart)].map((address) => `line ${address}`),
  },
  typeCells: {
    apply: (bill, { cells }) => {
      const { map, before } = changeCells(bill.overrides, cells);
      return done(bill, { overrides: map }, { kind: 'typeCells', cells: before });
    },
    words: ({ cells }) => (Object.keys(cells).length === 1 ? 'type into a line' : 'type into lines'),
    touches: ({ cells }) => cellsIn(cells, 'cell'),
  },
  noteOvertaken: {
    apply: (bill, { cells }) => {
      const { map, before } = changeCells(bill.overtaken ?? {}, cells);
      const overtaken = Object.keys(map).length > 0 ? map : null;
      return withFields(bill, { overtaken }, { kind: 'noteOvertaken', cells: before });
    },
    words: () => 'decide about typed cells',
    touches: ({ cells }) => cellsIn(cells, 'overtaken'),
  },
  changeLines: {
    apply: (bill, { remove, put }) => changeLines(bill, remove, put),
    words: ({ put }) => (put.length > 0 ? 'change lines without a shape' : 'take lines away'),
    touches: () => ['lines'],
  },
};
export const applyBillCommand = applyFrom(billCommands);

const clampPlace = (at: number, most: number): number => Math.max(0, Math.min(most, Math.trunc(at)));

/** A refusal where columns made from others lead back to themselves. */
export function circleIn(columns: readonly Column[]): Refused | null {
  const byReference = new Map(columns.map((column) => [referenceOf(column), column]));
  const circle = findCircle(byReference.keys(), (reference) =>
    referencesOf(byReference.get(reference)?.expression ?? ''),
  );
  return (
    circle &&
    refused(
      `${circle.map((reference) => `“${byReference.get(reference)?.heading ?? reference}”`).join(' is made from ')}: that leads back to itself.`,
    )
  );
}

/** Changes what is kept for single cells, by address and reference; null takes it away, and with the last one its line. */
function changeCells<Content>(
  kept: Readonly<Record<Address, Readonly<Record<string, Content>>>>,
  cells: Readonly<Record<Address, Readonly<Record<string, Content | null>>>>,
): { map: Record<Address, Record<string, Content>>; before: Record<Address, Record<string, Content | null>> } {
  const map: Record<Address, Record<string, Content>> = { ...kept };
  const before: Record<Address, Record<string, Content | null>> = {};
  for (const [key, changes] of Object.entries(cells)) {
    const address = key as Address;
    const own: Record<string, Content> = { ...map[address] };
    before[address] = {};
    for (const [reference, content] of Object.entries(changes)) {
      before[address][reference] = own[reference] ?? null;
      if (content === null) delete own[reference];
      else own[reference] = content;
    }
    if (Object.keys(own).length > 0) map[address] = own;
    else delete map[address];
  }
  return { map, before };
}

function changeLines(
  bill: BillDocument,
  remove: readonly string[],
  put: readonly { readonly line: LineWithoutShape; readonly at: number }[],
): Done {
  const gone = new Set([...remove, ...put.map(({ line }) => line.id)]);
  const before = bill.lines.flatMap((line, at) => (gone.has(line.id) ? [{ line, at }] : []));
  const known = new Set(before.map(({ line }) => line.id));
  const lines = bill.lines.filter(({ id }) => !gone.has(id));
  for (const { line, at } of [...put].sort((one, two) => one.at - two.at))
    lines.splice(clampPlace(at, lines.length), 0, line);
  return {
    ok: true,
    document: { ...bill, lines },
    inverse: {
      kind: 'changeLines',
      remove: put.map(({ line }) => line.id).filter((id) => !known.has(id)),
      put: before,
    },
  };
}

/** One line alone has a number among those beside it. */
const numberClaim = (address: Address, number: number): string => {
  const at = address.indexOf('@');
  return `claimed ${at < 0 ? '' : address.slice(at + 1)} ${number}`;
};
