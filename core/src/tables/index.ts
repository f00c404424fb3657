export {
  bandsOf,
  layOutTable,
  LETTERING_RANGE,
  PEN_RANGE,
  PITCH_RANGE,
  usualPens,
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
  TablePens,
  TableRoom,
  TableStyle,
} from './tables.ts';
