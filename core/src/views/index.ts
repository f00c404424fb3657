export { directionNames, viewPlacement } from './directions.ts';
export type { DirectionName, UpAxis } from './directions.ts';
export { lineKinds, sumLines, visibleLines } from './records.ts';
export type { Body, LineKind, ViewLines, ViewSums } from './records.ts';
export { drawView } from './hiddenLines.ts';
export { linesForPen } from './declot.ts';
export { findSpots } from './spots.ts';
export type { Spots } from './spots.ts';
