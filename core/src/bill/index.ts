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
export { MAX_ROWS } from './lines.ts';
export { firstNumbers, renumber, renumberOrders } from './renumber.ts';
export type { Renumbering, RenumberOrder } from './renumber.ts';
export { explainRow } from './explain.ts';
export type { Explanation, OccurrenceOf, PlacesOf } from './explain.ts';
export { compareBills } from './compare.ts';
export type { ComparedBill, LineDifference } from './compare.ts';
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
export type { SentenceContext, SentenceWords } from './sentence.ts';
