import type { Assembly } from '../../assembly/index.ts';
import type { CatalogueLink, KeptValues } from '../../catalogues/index.ts';
import type { Address, Depth, Identity, Ledger, LedgerEntry, LineWithoutShape, Recipe } from '../../bill/index.ts';
import { defaultColumns, findCircle, referenceOf, referencesOf, type Column } from '../../columns/index.ts';
import { changeEntries, changeFields, refused, type Applied, type Refused } from './applied.ts';

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
export type RecipeChange = { readonly [Key in Exclude<keyof Recipe, 'depth' | 'identity'>]?: Recipe[Key] | null };
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
  /** Which catalogues the bill takes values from; null for none. */
  /** Keeps what catalogues say on a day, or with null takes what they say now again. */
  | { readonly kind: 'keepValues'; readonly kept: KeptValues | null }
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

export function applyBillCommand(bill: BillDocument, command: BillCommand): Done {
  const { columns, recipe } = bill;
  const done = (changed: Partial<BillDocument>, inverse: BillCommand) => ({
    ok: true as const,
    document: { ...bill, ...changed },
    inverse,
  });
  switch (command.kind) {
    case 'setDepth':
      return done({ recipe: { ...recipe, depth: command.depth } }, { kind: 'setDepth', depth: recipe.depth });
    case 'setIdentity':
      return done(
        { recipe: { ...recipe, identity: command.identity } },
        { kind: 'setIdentity', identity: recipe.identity },
      );
    case 'changeRecipe': {
      const { changed, before } = changeFields(recipe, command.change);
      return done({ recipe: changed }, { kind: 'changeRecipe', change: before });
    }
    case 'renameBill':
      return command.name.trim() === ''
        ? refused('A bill needs a name.')
        : done({ name: command.name }, { kind: 'renameBill', name: bill.name });
    case 'setAway': {
      const { away, ...rest } = bill;
      return {
        ok: true,
        document: command.away ? { ...rest, away: true } : rest,
        inverse: { kind: 'setAway', away: away ?? false },
      };
    }
    case 'showRevision': {
      const { changed, before } = changeFields<BillDocument>(bill, { revision: command.revision });
      return { ok: true, document: changed, inverse: { kind: 'showRevision', revision: before.revision ?? null } };
    }
    case 'keepValues': {
      const { changed, before } = changeFields<BillDocument>(bill, { kept: command.kept });
      return { ok: true, document: changed, inverse: { kind: 'keepValues', kept: before.kept ?? null } };
    }
    case 'setCatalogues': {
      const { links } = command;
      if (links && new Set(links.map(({ catalogue }) => catalogue)).size < links.length)
        return refused('A bill takes values from each catalogue once.');
      const { changed, before } = changeFields<BillDocument>(bill, { catalogues: links });
      return { ok: true, document: changed, inverse: { kind: 'setCatalogues', links: before.catalogues ?? null } };
    }
    case 'addColumn': {
      if (columns.some(({ id }) => id === command.column.id))
        return refused(`The bill already has a column ${command.column.heading}.`);
      const after = columns.toSpliced(clampPlace(command.at, columns.length), 0, command.column);
      return circleIn(after) ?? done({ columns: after }, { kind: 'removeColumn', id: command.column.id });
    }
    case 'setColumns': {
      if (command.columns.length === 0) return refused('A bill keeps at least one column.');
      if (new Set(command.columns.map(({ id }) => id)).size < command.columns.length)
        return refused('Two of these columns have the same name inside.');
      return circleIn(command.columns) ?? done({ columns: command.columns }, { kind: 'setColumns', columns });
    }
    case 'setNumbers': {
      const { map, before } = changeEntries(bill.ledger, command.numbers);
      return done({ ledger: map }, { kind: 'setNumbers', numbers: before });
    }
    case 'decideLines': {
      const joins = changeEntries(bill.joins, command.joins),
        apart = changeEntries(bill.apart, command.apart);
      return done(
        { joins: joins.map, apart: apart.map },
        { kind: 'decideLines', joins: joins.before, apart: apart.before },
      );
    }
    case 'typeCells': {
      const { map, before } = changeCells(bill.overrides, command.cells);
      return done({ overrides: map }, { kind: 'typeCells', cells: before });
    }
    case 'noteOvertaken': {
      const { map, before } = changeCells(bill.overtaken ?? {}, command.cells);
      const { overtaken: _, ...rest } = bill;
      return {
        ok: true,
        document: Object.keys(map).length > 0 ? { ...rest, overtaken: map } : rest,
        inverse: { kind: 'noteOvertaken', cells: before },
      };
    }
    case 'changeLines':
      return changeLines(bill, command.remove, command.put);
  }
  const at = columns.findIndex(({ id }) => id === command.id);
  if (at < 0) return refused('That column is no longer in the bill.');
  switch (command.kind) {
    case 'removeColumn': {
      if (columns.length === 1) return refused('A bill keeps at least one column.');
      const user = columns.find(
        ({ id, expression }) =>
          id !== command.id && expression !== undefined && referencesOf(expression).includes(`column:${command.id}`),
      );
      if (user) return refused(`“${user.heading}” is made from this column; change that one first, or hide this one.`);
      return done({ columns: columns.toSpliced(at, 1) }, { kind: 'addColumn', column: columns[at], at });
    }
    case 'moveColumn':
      return done(
        { columns: columns.toSpliced(at, 1).toSpliced(clampPlace(command.to, columns.length - 1), 0, columns[at]) },
        { kind: 'moveColumn', id: command.id, to: at },
      );
    case 'renameColumn':
      return done(
        { columns: columns.with(at, { ...columns[at], heading: command.heading }) },
        { kind: 'renameColumn', id: command.id, heading: columns[at].heading },
      );
    case 'changeColumn': {
      const { changed, before } = changeFields(columns[at], command.change);
      const after = columns.with(at, changed);
      return circleIn(after) ?? done({ columns: after }, { kind: 'changeColumn', id: command.id, change: before });
    }
  }
}

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

/** What a command changes or claims, by name: two edits with no name in common can be applied in either order. */
export function billTouches(command: BillCommand): string[] {
  switch (command.kind) {
    case 'setDepth':
      return ['depth'];
    case 'setIdentity':
      return ['identity'];
    case 'changeRecipe':
      return Object.keys(command.change).map((key) => `recipe ${key}`);
    case 'renameBill':
      return ['name'];
    case 'setAway':
      return ['away'];
    case 'showRevision':
      return ['revision'];
    case 'setCatalogues':
      return ['catalogues'];
    case 'keepValues':
      return ['kept values'];
    case 'addColumn':
      return [`column ${command.column.id}`, 'column order'];
    case 'removeColumn':
      return [`column ${command.id}`, 'column order'];
    case 'moveColumn':
      return [`column ${command.id}`, 'column order'];
    case 'renameColumn':
      return [`column ${command.id}`];
    case 'changeColumn':
      return [`column ${command.id}`];
    case 'setColumns':
      return ['column', 'column order'];
    case 'setNumbers':
      return Object.entries(command.numbers).flatMap(([address, entry]) => [
        `number ${address}`,
        ...(entry && !entry.retired ? [numberClaim(address as Address, entry.number)] : []),
      ]);
    case 'decideLines':
      return [...Object.keys(command.joins), ...Object.keys(command.apart)].map((address) => `line ${address}`);
    case 'typeCells':
      return Object.entries(command.cells).flatMap(([address, texts]) =>
        Object.keys(texts).map((reference) => `cell ${address} ${reference}`),
      );
    case 'noteOvertaken':
      return Object.entries(command.cells).flatMap(([address, notes]) =>
        Object.keys(notes).map((reference) => `overtaken ${address} ${reference}`),
      );
    case 'changeLines':
      return ['lines'];
  }
}
