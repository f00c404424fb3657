import type { Properties } from '../assembly/index.ts';

/** What the values of a column are. A money value has its currency as unit, ISO 4217; a date is written 2026-03-05. */
export const catalogueKinds = ['text', 'number', 'money', 'date', 'yes or no', 'link', 'picture'] as const;
export type CatalogueKind = (typeof catalogueKinds)[number];

/** One column of a catalogue. */
export interface CatalogueColumn {
  /** Of its own in the catalogue. */
  readonly id: string;
  /** As it reads; in a bill its values are properties of this name. */
  readonly heading: string;
  /** See there. */
  readonly kind: CatalogueKind;
  /** Unit or currency that values typed without one have; empty for none. */
  readonly unit: string;
}

/** One part of a catalogue. */
export interface CatalogueItem {
  /** Of its own in the catalogue. */
  readonly id: string;
  /** By id of the column; what is not known is not there. */
  readonly values: Properties;
}

/** A table of parts that all projects share. */
export interface Catalogue {
  /** Of this record, as it is stored. */
  readonly version: 1;
  /** In lists and menus. */
  readonly name: string;
  /** In their order; at least one. */
  readonly columns: readonly CatalogueColumn[];
  /** In their order. */
  readonly items: readonly CatalogueItem[];
  /** Ids of the one or two columns by which parts are found: usually that of part numbers. */
  readonly key: readonly string[];
  /** Other ways to write keys that were accepted, by that text (see `keyText`): id of the item. */
  readonly aliases: Readonly<Record<string, string>>;
}
/** A catalogue has no more columns, and no more cells, than these; a key no more columns. */
export const MOST_CATALOGUE = { columns: 100, cells: 1_000_000, key: 2 } as const;

export const newCatalogue: Catalogue = {
  version: 1,
  name: 'Catalogue',
  columns: [{ id: 'number', heading: 'Part number', kind: 'text', unit: '' }],
  items: [],
  key: ['number'],
  aliases: {},
};

/** That a bill takes values from a catalogue. The first in a bill that says something about a part counts. */
export interface CatalogueLink {
  /** Document id of the catalogue. */
  readonly catalogue: string;
  /** What of the parts is looked up in its key, in the order of that: names of properties; part number where absent. */
  readonly by?: readonly string[];
  /** Ids of the columns that are taken; all where absent. */
  readonly columns?: readonly string[];
}
/** A bill takes values from no more catalogues than this. */
export const MOST_LINKS = 20;
