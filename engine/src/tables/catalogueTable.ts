import { randomBytes } from 'node:crypto';
import { Refusal, type Properties } from '../../../core/src/assembly/index.ts';
import {
  compareCatalogue,
  headingRowOf,
  MOST_CATALOGUE,
  newCatalogue,
  proposeCatalogue,
  readCatalogue,
  type Catalogue,
  type CatalogueMapping,
  type ProposedMapping,
} from '../../../core/src/catalogues/index.ts';
import type { Table } from '../../../core/src/sources/index.ts';

/** How a table would be read as a catalogue, and its first rows. */
export interface CataloguePreview {
  readonly rows: readonly (readonly string[])[];
  /** Count of all rows. */
  readonly of: number;
  readonly headings: readonly string[];
  readonly mapping: CatalogueMapping;
  readonly isUnsure: boolean;
}
/** A table read as a catalogue. */
export interface CatalogueText {
  /** JSON: the catalogue, or what the table would do to the one that there is. */
  readonly text: string;
  readonly headings: readonly string[];
  readonly problems: readonly string[];
}

const PREVIEW_ROWS = 15;
const headingsOf = (table: Table, row: number): readonly string[] => table[Math.max(0, row)] ?? [];

/** @throws Refusal where it has more cells than a catalogue may have */
function refuseLarge(table: Table): void {
  const cells = table.reduce((sum, row) => sum + row.length, 0);
  const width = table.reduce((most, row) => Math.max(most, row.length), 0);
  if (cells > MOST_CATALOGUE.cells)
    throw new Refusal(
      'too-many-cells',
      `The table has ${(cells / 1e6).toFixed(1)} million cells; a catalogue has at most ${MOST_CATALOGUE.cells / 1e6} million. Leave out columns and rows that no list needs.`,
    );
  if (width > MOST_CATALOGUE.columns)
    throw new Refusal(
      'too-many-columns',
      `The table has ${width} columns; a catalogue has at most ${MOST_CATALOGUE.columns}.`,
    );
  if (table.length === 0) throw new Refusal('no-rows', 'The table has no rows, so there is nothing to take over.');
}

/** @throws Refusal, see refuseLarge */
export function previewTable(table: Table): CataloguePreview {
  refuseLarge(table);
  const { isUnsure, ...mapping }: ProposedMapping = proposeCatalogue(table, headingRowOf(table));
  return {
    rows: table.slice(0, PREVIEW_ROWS),
    of: table.length,
    headings: headingsOf(table, mapping.headingRow),
    mapping,
    isUnsure,
  };
}

/** Bytes of randomness in the id of a column or item. */
const newId = (): string => randomBytes(9).toString('base64url').replace(/^[-_]/, 'x');

/**
 * @param name of the catalogue that would be made
 * @param current JSON of the catalogue that the table is compared with; a new one is made where null
 * @throws Refusal, see refuseLarge, and where the mapping does not fit the table
 */
export function readCatalogueTable(
  table: Table,
  name: string,
  mapping: CatalogueMapping,
  current: string | null,
): CatalogueText {
  refuseLarge(table);
  const width = table.reduce((most, row) => Math.max(most, row.length), 0);
  if (mapping.columns.length !== width || !mapping.key.some((at) => mapping.columns[at]?.use))
    throw new Refusal('mapping', 'Say by which column parts are found; it has to be one that is taken over.');
  const before = current === null ? null : (JSON.parse(current) as Catalogue);
  const { columns, key, items, problems } = readCatalogue(table, mapping, before?.columns ?? [], newId);
  const headings = headingsOf(table, mapping.headingRow);
  if (!before) {
    const made: Catalogue = {
      ...newCatalogue,
      name: name.replace(/\.[^.]{1,5}$/, '').slice(0, 400),
      columns,
      key,
      items: items.map((values: Properties) => ({ id: newId(), values })),
    };
    return { text: JSON.stringify(made), headings, problems };
  }
  const { added, changed, gone, same } = compareCatalogue(before.items, { columns, key, items });
  return {
    text: JSON.stringify({
      columns,
      key,
      added,
      changed: changed.map(({ item, values, columns: which }) => ({ id: item.id, values, columns: which })),
      gone: gone.map(({ id }) => id),
      same,
      problems,
    }),
    headings,
    problems,
  };
}
