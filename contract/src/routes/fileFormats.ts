/** Files that a bill is handed over as; `recipe` is how it is made, without the machine. */
export const billFormats = ['csv', 'tsv', 'xlsx', 'json', 'recipe'] as const;
/** The same of a sheet. */
export const sheetFormats = ['pdf', 'svg', 'png'] as const;
/** The same of what there is to look at in a set. */
export const checkFormats = ['pdf', 'json'] as const;
/** The same of what changed between revisions or differs between lists. */
export const comparisonFormats = ['json', 'csv', 'xlsx', 'text'] as const;
/** The same of a plan of buying. */
export const buyingFormats = ['json', 'csv', 'xlsx', 'pdf'] as const;
/** The same of an issued order. */
export const orderFormats = ['json', 'csv', 'xlsx'] as const;
