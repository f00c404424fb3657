export { packRecord, unpackRecord } from './pack.ts';
export { packMesh, unpackMesh, packViewLines, unpackViewLines, packSpots, unpackSpots } from './blobs.ts';
export { sceneToSvg, stretchesPath, viewToSvg, fontFamily } from './svg.ts';
export { billJson, billToText, blockToText, textToBlock } from './billText.ts';
export { billTable } from './billTable.ts';
export type { BillTable, TableLine } from './billTable.ts';
export type { BillDocumentJson, BillRecord } from './billText.ts';
export {
  changesInWords,
  compareSides,
  comparisonCsv,
  comparisonTable,
  comparisonText,
  listSide,
} from './comparison.ts';
export type {
  CompareSide,
  Comparison,
  ComparedComponent,
  ComparedLine,
  ComparedPlace,
  ComparedSide,
} from './comparison.ts';
export { effectOf, revisionText } from './effect.ts';
export { foreseenSheet } from './foreseen.ts';
export type { ChangedBox, ForeseenList, ForeseenSheet } from './foreseen.ts';
export type { BillEffect, Effect, RevisionInputs, SheetEffect } from './effect.ts';
export { buyingJson, gapPercent, mixWords, orderCsv, orderTable } from './buying.ts';
