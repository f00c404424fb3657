/** What a column of a structure list may say. `property` keeps the column under its own heading. */
export const columnRoles = [
  'level',
  'item',
  'parent',
  'partNumber',
  'name',
  'description',
  'revision',
  'quantity',
  'source',
  'property',
  'ignore',
] as const;
export type ColumnRole = (typeof columnRoles)[number];
