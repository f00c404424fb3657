export {
  addressOf,
  decidedFor,
  depths,
  identities,
  lineAddress,
  noDecisions,
  numberingAt,
  usualNumbering,
} from './records.ts';
export type {
  Address,
  Amount,
  Bill,
  BillData,
  BillDecisions,
  BillFinding,
  BillTotals,
  Depth,
  GroupKey,
  Identity,
  Ledger,
  LedgerEntry,
  LevelNumbering,
  LineWithoutShape,
  Numbering,
  QuantityKind,
  QuantityRule,
  Recipe,
  RetiredLine,
  RetiredPart,
  Row,
  Section,
  SortKey,
} from './records.ts';
export { addressesWithoutPart } from './findings.ts';
export { computeBill, keysOf, makeBill, numbersToKeep, openBill } from './makeBill.ts';
export type { BillExtras, VariantInput } from './makeBill.ts';
export { billTotals, chartMeasures, chartShares, columnFindings, faultFindings, idleColumns } from './totals.ts';
export type { ChartMeasure, ChartShare } from './totals.ts';
export { packBill, unpackBill } from './handOver.ts';
export type { PackedBill } from './handOver.ts';
export { hasUnitColumn } from './cells.ts';
export { sourcesUsed } from './sources.ts';
export { firstNumbers, renumber } from './renumber.ts';
export type { RenumberOrder } from './renumber.ts';
export { explainRow } from './explain.ts';
export { compareBills } from './compare.ts';
export type { ComparedBill } from './compare.ts';
export { printedColumns, printedHeadings, printedLines, printedTexts, rowLabel } from './printed.ts';
export type { PrintedLine } from './printed.ts';
export {
  depthWords,
  identityFallbacks,
  identityWords,
  quantityWords,
  recipeSentence,
  recipeWords,
} from './sentence.ts';
