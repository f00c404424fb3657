export { catalogueKinds, MOST_CATALOGUE, MOST_LINKS, newCatalogue } from './records.ts';
export type { Catalogue, CatalogueColumn, CatalogueItem, CatalogueKind, CatalogueLink } from './records.ts';
export { catalogueText, typedItems } from './cells.ts';
export type { ItemInput } from './cells.ts';
export { offerChange, offerColumns, offerValues, withOfferColumns } from './offers.ts';
export type { OfferChange, PartOffer } from './offers.ts';
export { catalogueIndex, itemKey, keyText, keyWords, looseKey } from './match.ts';
export type { CatalogueIndex, Match } from './match.ts';
export { changedSince, valuesToKeep } from './kept.ts';
export type { ChangedSince, KeptValues } from './kept.ts';
export {
  componentKeyText,
  doubledKeys,
  itemProperties,
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
  currencyOf,
  headingRowOf,
  isSameValue,
  proposeCatalogue,
  readAmount,
  readCatalogue,
  readCell,
} from './reading.ts';
export type {
  CatalogueChanges,
  CatalogueMapping,
  DecimalSign,
  ProposedMapping,
  ReadCatalogue,
  ReadColumn,
} from './reading.ts';
