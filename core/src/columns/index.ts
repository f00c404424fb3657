export { newColumn, defaultColumns, knownColumns, cellOf, propertyText, isNumberColumn } from './columns.ts';
export type { Cell, Column, ColumnSource, KnownColumn, LineFacts } from './columns.ts';
