export { OWN_SIDES, paperLabel, paperNames, usualPaper, paperSize, frameBox, penPair, zoneOf } from './paper.ts';
export type { Paper, PaperName } from './paper.ts';
export {
  blockOf,
  blockShownBy,
  MOST_FURTHER,
  MOST_REVISIONS,
  noTitleFields,
  plainTitleBlock,
  titleFieldNames,
  titleBlockBox,
} from './titleBlock.ts';
export type { FurtherField, RevisionLine, TitleBlock, TitleCell, TitleFields, TitleLogo } from './titleBlock.ts';
export { standardScales, proposeScale, scaleText } from './scales.ts';
export {
  blankSheet,
  dimensionDirections,
  projections,
  movesOf,
  viewRequest,
  sheetsInOrder,
  tablePlaces,
  upgradeFirstSheet,
  MOST_LISTS,
  MOST_RAILS,
  MOST_VIEWS,
  USUAL_TABLE,
} from './records.ts';
export type {
  BalloonLook,
  CentreLineLook,
  Detail,
  DimensionLook,
  DimensionPoint,
  Projected,
  Projection,
  Sheet,
  BalloonRail,
  TypedTable,
  SheetDimension,
  SheetNote,
  SheetPicture,
  SheetProblem,
  SheetSet,
  SheetTable,
  SheetView,
  TablePlace,
} from './records.ts';
export { centreLinesOf, USUAL_SMALLEST } from './centreLines.ts';
export type { CentreLine } from './centreLines.ts';
export {
  dimensionText,
  isApart,
  layOutDimension,
  measurableAt,
  roundNear,
  usualDimensionLook,
  usualOffset,
} from './dimensions.ts';
export type { LaidDimension, Measurable } from './dimensions.ts';
export { dimensionFacts, layOutSheet, ownLines, placeView, viewPen } from './layout.ts';
export { setInputs } from './sheetInputs.ts';
export type { LaidView } from './laidView.ts';
export type { LaidBalloon } from './balloonsOnSheet.ts';
export type { LaidTable } from './listsOnSheet.ts';
export type { SheetInputs, ShownBill } from './sheetInputs.ts';
export type { SheetLayout } from './layout.ts';
export { otherBills } from './listsOnSheet.ts';
export { cloudOutlines } from './clouds.ts';
export { drawSheet, viewPens } from './drawSheet.ts';
export type { DrawnSheet, DrawOptions } from './drawSheet.ts';
export { figureOf } from './figure.ts';
export { newNote, noteWords } from './notes.ts';
export type { LaidNote } from './notes.ts';
export {
  alignments,
  boxed,
  alignThings,
  distributeThings,
  inLineThings,
  isMovable,
  isSameThing,
  keepOnPaper,
  movedThings,
  moveThings,
  offTitleBlock,
  overlapsOf,
  resizeView,
  roomTaken,
  severalOf,
  sizeColumn,
  withColumnWidth,
  thingAt,
  thingsOn,
  thingsWithin,
  withoutThings,
} from './things.ts';
export type { PlacedThing, SheetThing, ThingAlignment, Ways } from './things.ts';
export { snapView } from './snap.ts';
export type { Guide } from './snap.ts';
export { alignedWith, placeProjected, swapSides } from './projected.ts';
export {
  barred,
  lookOfLettering,
  shapeOf,
  planSheet,
  planBalloons,
  proposeDetail,
  proposeView,
  unplacedView,
} from './plan.ts';
export type { BalloonPlan } from './plan.ts';
export { makeDrawing, withViews } from './makeDrawing.ts';
export type { DrawingRequest, ViewWish } from './makeDrawing.ts';
export { makeSet, sheetKinds } from './makeSet.ts';
export type { MadeSet, SetRequest, SheetKind } from './makeSet.ts';
export { tableContent } from './listsOnSheet.ts';
export { coverageOn, linesWithin, rowOfPath, withPlaces } from './places.ts';
export { makeDetailSheets } from './detailSheets.ts';
export type { DetailRequest, DetailSheets } from './detailSheets.ts';
export { readNote, writeNote } from './noteText.ts';
export type { NoteLine, NoteRun } from './noteText.ts';
export { blockWithStyle, isBlank, isPlain, setWithStyle, sheetInStyle, sheetStyleOf, sheetWithStyle } from './style.ts';
export { fastenerStacks, sheetWithFastenerStacks, withFastenerStacks } from './fasteners.ts';
export type { FastenerStack } from './fasteners.ts';
export { stackBalloons, stacksOf, unstack } from './stacks.ts';
export { shippedStyles } from './shippedStyles.ts';
export type { SheetStyle } from './style.ts';
export { divideList, linesLeftOut, linesShownTwice, listSheets } from './longList.ts';
export type { LongList } from './longList.ts';
export { leaderEndAt, leaderPlaces, roomInView, leaderScore, nextLeaderEnd, withLeaderEnd } from './leaderEnds.ts';
export type { LeaderPlace, LeaderScore } from './leaderEnds.ts';
export {
  bendName,
  evenOut,
  railBeside,
  railThrough,
  readBend,
  readingOrder,
  swapBalloons,
  withOwnLook,
  type OwnLookChange,
} from './balloonsByHand.ts';
export { lookOf } from './balloonsOnSheet.ts';
export { newList } from './style.ts';
export { balloonRun } from './balloonRun.ts';
export { headingDrop, listCell, listCellAt, listHeadings, nextListCell, type ListCell } from './listCells.ts';
export { checkReport, countOfReport, drawReport, type CheckReport, type CheckedSheet } from './checkReport.ts';
export { MOST_TYPED, newTyped, typedTable, withTypedBlock, withTypedSize } from './typedTable.ts';
export type { ChangeClouds } from './records.ts';
