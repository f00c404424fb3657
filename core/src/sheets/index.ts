export { OWN_SIDES, paperLabel, paperNames, usualPaper, paperSize, frameBox, penPair, zoneOf } from './paper/paper.ts';
export type { Paper, PaperName } from './paper/paper.ts';
export {
  blockOf,
  blockShownBy,
  MOST_FURTHER,
  MOST_REVISIONS,
  noTitleFields,
  plainTitleBlock,
  titleFieldNames,
  titleBlockBox,
} from './paper/titleBlock.ts';
export type { FurtherField, RevisionLine, TitleBlock, TitleCell, TitleFields, TitleLogo } from './paper/titleBlock.ts';
export { standardScales, proposeScale, scaleText } from './laid/scales.ts';
export {
  blankSheet,
  dimensionDirections,
  projections,
  movesOf,
  viewRequest,
  type ViewLook,
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
export { centreLinesOf, USUAL_SMALLEST } from './laid/centreLines.ts';
export type { CentreLine } from './laid/centreLines.ts';
export {
  dimensionText,
  isApart,
  layOutDimension,
  measurableAt,
  roundNear,
  usualDimensionLook,
  usualOffset,
} from './laid/dimensions.ts';
export type { LaidDimension, Measurable } from './laid/dimensions.ts';
export { dimensionFacts, layOutSheet, ownLines, placeView, viewPen } from './laid/layout.ts';
export { CHAIN } from './laid/chains.ts';
export { sectionsOf, setInputs } from './sheetInputs.ts';
export type { LaidView } from './laid/laidView.ts';
export type { LaidBalloon } from './laid/balloonsOnSheet.ts';
export type { LaidTable } from './laid/listsOnSheet.ts';
export type { SheetInputs, ShownBill } from './sheetInputs.ts';
export type { SheetLayout } from './laid/layout.ts';
export { otherBills } from './laid/listsOnSheet.ts';
export { cloudOutlines } from './drawn/clouds.ts';
export { drawSheet, viewPens } from './drawn/drawSheet.ts';
export type { DrawnSheet } from './drawn/drawSheet.ts';
export { figureOf } from './drawn/figure.ts';
export { newNote, noteWords } from './laid/notes.ts';
export type { LaidNote } from './laid/notes.ts';
export { alignments, alignThings, distributeThings, inLineThings } from './byHand/alignThings.ts';
export type { ThingAlignment } from './byHand/alignThings.ts';
export { movedBend, nextOfBalloon } from './byHand/balloonThings.ts';
export { sizeColumn, withColumnWidth } from './byHand/listThings.ts';
export { isSameThing } from './byHand/thing.ts';
export { keepOnPaper } from './paper/paper.ts';
export type {
  Copied,
  KindOfThing,
  PlacedThing,
  SheetThing,
  ThingAbout,
  ThingKind,
  ThingOf,
  Ways,
} from './byHand/thing.ts';
export {
  copyThings,
  drawThing,
  isMovable,
  kindOfThing,
  moveByHand,
  movedThings,
  moveThings,
  offTitleBlock,
  overlapsOf,
  pasteThings,
  roomTaken,
  severalOf,
  thingAt,
  thingsOn,
  thingsWithin,
  withoutThings,
} from './byHand/things.ts';
export { boxed, resizeView } from './byHand/viewThings.ts';
export { snapView } from './byHand/snap.ts';
export type { Guide } from './byHand/snap.ts';
export { alignedWith, placeProjected, swapSides } from './laid/projected.ts';
export {
  barred,
  freeLetter,
  lookOfLettering,
  shapeOf,
  planSheet,
  planBalloons,
  proposeDetail,
  proposeView,
  unplacedView,
} from './planned/plan.ts';
export { makeDrawing, withViews } from './planned/makeDrawing.ts';
export {
  middleOf,
  saidOfParts,
  openedAcross,
  pathAt,
  placeSection,
  planeOf,
  quarterBefore,
  sectionAlong,
  turnedSection,
} from './planned/sectionView.ts';
export type { LaidCuttingLine } from './laid/cuttingLines.ts';
export { parentOf, sectionIn } from './planned/sectionSheet.ts';
export type { AxisPlane } from './planned/sectionView.ts';
export { cutOpen, depthOf, pieceLeft } from './planned/cutPieces.ts';
export { MOST_PIECES } from './section.ts';
export { usualSectionLook } from './section.ts';
export type { CutPiece, Section, SectionLook } from './section.ts';
export type { ViewWish } from './planned/makeDrawing.ts';
export { makeSet, sheetKinds } from './planned/makeSet.ts';
export type { MadeSet, SheetKind } from './planned/makeSet.ts';
export { tableContent } from './laid/listsOnSheet.ts';
export { coverageOn, listedWithin, rowOfPath, withPlaces } from './laid/places.ts';
export { makeDetailSheets } from './planned/detailSheets.ts';
export type { DetailRequest } from './planned/detailSheets.ts';
export { readNote, writeNote } from './laid/noteText.ts';
export type { NoteLine, NoteRun } from './laid/noteText.ts';
export {
  blockWithStyle,
  isBlank,
  isPlain,
  setWithStyle,
  sheetInStyle,
  sheetStyleOf,
  sheetWithStyle,
} from './paper/style.ts';
export { fastenerStacks, sheetWithFastenerStacks, withFastenerStacks } from './planned/fasteners.ts';
export { stackBalloons, stacksOf, unstack } from './laid/stacks.ts';
export { shippedStyles } from './paper/shippedStyles.ts';
export type { SheetStyle } from './paper/style.ts';
export { divideList, linesLeftOut, linesShownTwice, listSheets } from './laid/longList.ts';
export {
  leaderEndAt,
  leaderPlaces,
  roomInView,
  leaderScore,
  nextLeaderEnd,
  withLeaderEnd,
} from './checked/leaderEnds.ts';
export type { LeaderPlace, LeaderScore } from './checked/leaderEnds.ts';
export {
  evenOut,
  railBeside,
  railThrough,
  readingOrder,
  swapBalloons,
  withOwnLook,
  type OwnLookChange,
} from './byHand/balloonsByHand.ts';
export { lookOf } from './laid/balloonsOnSheet.ts';
export { newList } from './paper/style.ts';
export { balloonRun } from './planned/balloonRun.ts';
export { headingDrop, listCell, listCellAt, listHeadings, nextListCell, type ListCell } from './laid/listCells.ts';
export { checkReport, countOfReport, drawReport, type CheckReport, type CheckedSheet } from './checked/checkReport.ts';
export { filledShare } from './checked/filledPaper.ts';
export { MOST_TYPED, newTyped, typedTable, withTypedBlock, withTypedSize } from './byHand/typedTable.ts';
export type { ChangeClouds } from './records.ts';
export { cutAreasOf, cutParts, hatchingOf, stylesFor } from './laid/hatching.ts';
