export {
  bandsOf,
  layOutTable,
  LETTERING_RANGE,
  PITCH_RANGE,
  rowDirections,
  tableHeadings,
  tableStyles,
  WIDTH_RANGE,
} from './tables.ts';
export { drawTable } from './drawTable.ts';
export type {
  MeasuredTable,
  RowDirection,
  Strip,
  TableContent,
  TableHeading,
  TableLook,
  TableRoom,
  TableStyle,
} from './tables.ts';
