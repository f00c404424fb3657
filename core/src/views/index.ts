export {
  directionName,
  directionNames,
  isPictorial,
  isTurn,
  projectedDirection,
  projectionSides,
  turnAxes,
  turnedBy,
  turnTowards,
  viewPlacement,
} from './directions.ts';
export type { Direction, DirectionName, ProjectionSide, Turn, TurnAxis } from './directions.ts';
export { lookAt, lookKey, shownBy, TESSELLATION_VERSION } from './seen/looks.ts';
export type { CutRequest, Look, LookRequest } from './seen/looks.ts';
export { lineKinds, sumLines, tangentLooks, visibleLines, withHiddenAside } from './records.ts';
export type { Body, TangentLook, ViewAxes, ViewCuts, ViewLines, ViewSums } from './records.ts';
export { bodiesLeft } from './scene/cutBodies.ts';
export type { LookCut, Pane } from './scene/cutBodies.ts';
export { drawView } from './lines/hiddenLines.ts';
export { pathWays } from './scene/ways.ts';
export type { PathWay } from './scene/ways.ts';
export { linesWithin, regionBox, spotsWithin } from './seen/region.ts';
export type { Region } from './seen/region.ts';
export { shadeLook, shadings } from './seen/shade.ts';
export type { Shading } from './seen/shade.ts';
export { linesForPen } from './lines/declot.ts';
export { drawLook, helpWithLook } from './seen/drawLook.ts';
export { LOTS } from './lines/lots.ts';
export type { PackedLot, SharedWork } from './lines/lots.ts';
export { pointSeen, viewAt } from './seen/panes.ts';
export { findSpots } from './seen/spots.ts';
export type { DrawnView, Spots } from './seen/spots.ts';
export { listCutFaces } from './seen/cutFaces.ts';
export type { CutFaces } from './seen/cutFaces.ts';
export { cutAreas } from './seen/cutAreas.ts';
