export { catalogueKinds, MOST_CATALOGUE, MOST_LINKS, newCatalogue } from './records.ts';
export type { Catalogue, CatalogueColumn, CatalogueItem, CatalogueKind, CatalogueLink } from './records.ts';
export { catalogueText, typedItems } from './cells.ts';
export type { ItemInput } from './cells.ts';
export { offerChange, offerValues, withOfferColumns } from './offers.ts';
export { catalogueIndex, itemKey, keyText, keyWords, looseKey } from './match.ts';
export type { Match } from './match.ts';
export { changedSince, valuesToKeep } from './kept.ts';
export type { KeptValues } from './kept.ts';
export {
  doubledKeys,
  lineProperties,
  linkedOf,
  matchComponents,
  catalogueSays,
  saidBy,
  unmatched,
  withCatalogues,
} from './layer.ts';
export type { Linked, Unmatched } from './layer.ts';
export {
  compareCatalogue,
  headingRowOf,
  isSameValue,
  proposeCatalogue,
  readAmount,
  readCatalogue,
  readCell,
} from './reading.ts';
export type { CatalogueMapping, ProposedMapping, ReadColumn } from './reading.ts';
