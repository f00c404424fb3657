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
export { lookAt, lookKey, lookName, shownBy, TESSELLATION_VERSION } from './looks.ts';
export type { Look, LookedAt, LookRequest } from './looks.ts';
export { lineKinds, sumLines, tangentLooks, visibleLines, withHiddenAside } from './records.ts';
export type { Body, LineKind, TangentLook, ViewAxes, ViewLines, ViewSums } from './records.ts';
export { drawView } from './hiddenLines.ts';
export { pathWays } from './ways.ts';
export type { PathWay } from './ways.ts';
export { linesWithin, regionBox, spotsWithin } from './region.ts';
export type { Region } from './region.ts';
export { shadeView, shadings } from './shade.ts';
export type { ShadedPicture, Shading } from './shade.ts';
export { linesForPen } from './declot.ts';
export { drawLook, findSpots } from './spots.ts';
export type { DrawnView, Spots } from './spots.ts';
