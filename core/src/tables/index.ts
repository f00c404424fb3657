export { layOutTable, drawTable, tableStyles } from './tables.ts';
export type { MeasuredTable, Strip, TableContent, TableRoom, TableStyle } from './tables.ts';
