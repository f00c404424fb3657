import type { HouseStyle } from '../../../contract/src/index.ts';
import type { BillDocument } from '../../../core/src/documents/index.ts';

/** The columns of a bill as a house style, without those of single variants, and how it is numbered. */
export const currentStyle = ({ columns, recipe: { numbering } }: BillDocument, name: string): HouseStyle => ({
  kind: 'sledgeboard house style',
  version: 1,
  name,
  columns: columns
    .filter(({ source }) => !source.startsWith('variant:'))
    .map((column) => ({ ...column })) as HouseStyle['columns'],
  ...(numbering ? { numbering: structuredClone(numbering) as HouseStyle['numbering'] } : {}),
});
