import type { Properties, PropertyValue } from '../../assembly/index.ts';
import { MOST_CATALOGUE, type Catalogue, type CatalogueColumn, type CatalogueItem } from '../../catalogues/index.ts';
import { changeEntries, done, idsIn, refused, type Applied, type CommandTable, type Refused } from './applied.ts';

/** What can be done to a catalogue. */
export type CatalogueCommand =
  | { readonly kind: 'renameCatalogue'; readonly name: string }
  /** Types values, by item and column; null takes one away. */
  | {
      readonly kind: 'typeItems';
      readonly items: Readonly<Record<string, Readonly<Record<string, PropertyValue | null>>>>;
    }
  /**
   * Takes items away, with the ways to write keys that stand for them, then puts others at these places; an item that is
   * there already is replaced. `aliases` come with those that are put.
   */
  | {
      readonly kind: 'changeItems';
      readonly remove: readonly string[];
      readonly put: readonly { readonly item: CatalogueItem; readonly at: number }[];
      readonly aliases?: Readonly<Record<string, string>> | undefined;
    }
  /** Columns in their order, and by which of them parts are found; values of columns that are left out are kept. */
  | {
      readonly kind: 'setCatalogueColumns';
      readonly columns: readonly CatalogueColumn[];
      readonly key: readonly string[];
    }
  /** Accepts other ways to write keys, or with null takes that back. */
  | { readonly kind: 'acceptKeys'; readonly aliases: Readonly<Record<string, string | null>> };

type Done = Applied<Catalogue, CatalogueCommand> | Refused;

export const catalogueCommands: CommandTable<Catalogue, CatalogueCommand> = {
  renameCatalogue: {
    apply: (catalogue, { name }) => done(catalogue, { name }, { kind: 'renameCatalogue', name: catalogue.name }),
    words: ({ name }) => `rename the catalogue ${name}`,
    touches: () => ['name'],
  },
  typeItems: {
    apply: (catalogue, { items }) => typeItems(catalogue, items),
    words: () => 'type into the catalogue',
    touches: ({ items }) =>
      Object.entries(items).flatMap(([item, values]) => Object.keys(values).map((column) => `item ${item} ${column}`)),
  },
  changeItems: {
    apply: (catalogue, command) => changeItems(catalogue, command),
    words: ({ put }) => (put.length > 0 ? 'change items' : 'take items away'),
    touches: ({ remove, put, aliases = {} }) => [
      ...idsIn({ remove, put: put.map(({ item }) => item) }).map((id) => `item ${id}`),
      ...Object.keys(aliases).map((key) => `key ${key}`),
    ],
  },
  setCatalogueColumns: {
    apply: (catalogue, { columns, key }) => {
      const ids = new Set(columns.map(({ id }) => id));
      if (ids.size !== columns.length) return refused('Two columns of the catalogue would be the same one.');
      if (!key.every((id) => ids.has(id)) || new Set(key).size !== key.length)
        return refused('The catalogue has no such column to find parts by.');
      const tooMany = tooManyCells(columns.length, catalogue.items.length);
      if (tooMany) return refused(tooMany);
      return done(
        catalogue,
        { columns, key },
        { kind: 'setCatalogueColumns', columns: catalogue.columns, key: catalogue.key },
      );
    },
    words: () => 'columns of the catalogue',
    touches: () => ['columns'],
  },
  acceptKeys: {
    apply: (catalogue, { aliases }) => {
      const ids = new Set(catalogue.items.map(({ id }) => id));
      const lost = Object.entries(aliases).find(([, item]) => item !== null && !ids.has(item));
      if (lost) return refused(noSuchItem(lost[0]));
      const { map, before } = changeEntries(catalogue.aliases, aliases);
      return done(catalogue, { aliases: map }, { kind: 'acceptKeys', aliases: before });
    },
    words: () => 'accept what items are called',
    touches: ({ aliases }) =>
      Object.entries(aliases).flatMap(([key, item]) => [
        `key ${key}`,
        ...(item === null ? [] : [`item ${item}`]), // it has to be there
      ]),
  },
};

/** What is wrong with a catalogue that comes from outside, in a sentence; null for nothing. */
export function catalogueFault({ columns, key, items, aliases }: Catalogue): string | null {
  const columnIds = new Set(columns.map(({ id }) => id)),
    itemIds = new Set(items.map(({ id }) => id));
  if (columnIds.size < columns.length) return 'Two columns of the catalogue have one id; give each its own.';
  if (itemIds.size < items.length) return 'Two items of the catalogue have one id; give each its own.';
  const strange = key.find((id) => !columnIds.has(id));
  if (strange !== undefined) return `Parts are found by “${strange}”, which is no column of the catalogue.`;
  if (new Set(key).size < key.length) return 'Parts are found by one column twice; name each once.';
  const lost = Object.entries(aliases).find(([, item]) => !itemIds.has(item));
  return lost ? `“${lost[0].slice(0, 60)}” stands for the item “${lost[1]}”, which the catalogue does not have.` : null;
}

const tooManyCells = (columns: number, items: number): string | null =>
  columns * items > MOST_CATALOGUE.cells
    ? `A catalogue has at most ${MOST_CATALOGUE.cells / 1e6} million cells; this one would have ${((columns * items) / 1e6).toFixed(1)} million.`
    : null;

function typeItems(
  catalogue: Catalogue,
  typed: Readonly<Record<string, Readonly<Record<string, PropertyValue | null>>>>,
): Done {
  const wanted = new Map(Object.entries(typed));
  const before: Record<string, Record<string, PropertyValue | null>> = {};
  const next = catalogue.items.map((item): CatalogueItem => {
    const changes = wanted.get(item.id);
    if (!changes) return item;
    const values: Record<string, PropertyValue> = { ...item.values };
    before[item.id] = {};
    for (const [column, value] of Object.entries(changes)) {
      before[item.id][column] = Object.hasOwn(values, column) ? values[column] : null;
      if (value === null) delete values[column];
      else values[column] = value;
    }
    return { ...item, values };
  });
  // Somebody else took one of them away: the others are typed all the same.
  return done(catalogue, { items: next }, { kind: 'typeItems', items: before });
}

function changeItems(
  catalogue: Catalogue,
  { remove, put, aliases: come = {} }: Extract<CatalogueCommand, { kind: 'changeItems' }>,
): Done {
  const away = new Set([...remove, ...put.map(({ item }) => item.id)]);
  if (new Set(put.map(({ item }) => item.id)).size !== put.length)
    return refused('Two items of the catalogue would be the same one.');
  const before = catalogue.items.flatMap((item, at) => (away.has(item.id) ? [{ item, at }] : []));
  const known = new Set(before.map(({ item }) => item.id));
  const stays = catalogue.items.filter(({ id }) => !away.has(id));
  const tooMany = tooManyCells(catalogue.columns.length, stays.length + put.length);
  if (tooMany) return refused(tooMany);
  const items = inserted(stays, put);
  const there = new Set(items.map(({ id }) => id));
  // They come with items that come, so that taking these away again takes them along.
  const comes = new Set(put.map(({ item }) => item.id).filter((id) => !known.has(id)));
  const lost = Object.entries(come).find(([key, item]) => !comes.has(item) || Object.hasOwn(catalogue.aliases, key));
  if (lost) return refused(noSuchItem(lost[0]));
  const dropped = Object.entries(catalogue.aliases).filter(
    ([key, item]) => !there.has(item) && !Object.hasOwn(come, key),
  );
  const left = new Set(dropped.map(([key]) => key));
  const aliases = {
    ...Object.fromEntries(Object.entries(catalogue.aliases).filter(([key]) => !left.has(key))),
    ...come,
  };
  return done(
    catalogue,
    { items, ...(dropped.length + Object.keys(come).length > 0 ? { aliases } : {}) },
    {
      kind: 'changeItems',
      remove: [...comes],
      put: before,
      ...(dropped.length > 0 ? { aliases: Object.fromEntries(dropped) } : {}),
    },
  );
}

const noSuchItem = (key: string): string =>
  `“${key.slice(0, 60)}” cannot stand for an item that the catalogue does not have (any more).`;

/** Each at its place in what comes out; in one pass however many they are. */
function inserted(
  stays: readonly CatalogueItem[],
  put: readonly { readonly item: CatalogueItem; readonly at: number }[],
): CatalogueItem[] {
  const waiting = put.toSorted((a, b) => a.at - b.at);
  const items: CatalogueItem[] = [];
  let next = 0;
  for (const item of stays) {
    while (next < waiting.length && waiting[next].at <= items.length) items.push(waiting[next++].item);
    items.push(item);
  }
  for (; next < waiting.length; next++) items.push(waiting[next].item);
  return items;
}

/** New items behind those that there are. */
export const addItems = (
  { items }: Pick<Catalogue, 'items'>,
  values: readonly Properties[],
  newId: () => string,
): CatalogueCommand => ({
  kind: 'changeItems',
  remove: [],
  put: values.map((one, at) => ({ item: { id: newId(), values: one }, at: items.length + at })),
});
