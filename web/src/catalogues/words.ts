import type { CatalogueKind } from '../../../core/src/catalogues/index.ts';

export const kindWords: Readonly<Record<CatalogueKind, string>> = {
  text: 'text',
  number: 'number',
  money: 'price',
  date: 'date',
  'yes or no': 'yes or no',
  link: 'link',
  picture: 'picture',
};
