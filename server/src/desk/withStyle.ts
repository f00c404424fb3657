import type { HouseStyle } from '../../../contract/src/index.ts';
import type { BillDocument } from '../../../core/src/documents/index.ts';

/** The bill with the columns and the way of numbering of a style. */
export const withStyle = (bill: BillDocument, style: HouseStyle | null): BillDocument =>
  style
    ? {
        ...bill,
        columns: style.columns as BillDocument['columns'],
        recipe: { ...bill.recipe, ...(style.numbering ? { numbering: style.numbering } : {}) },
      }
    : bill;
