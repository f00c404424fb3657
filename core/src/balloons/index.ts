export { roomEnough, LEAST_FACE_RADIUS, LEAST_CLEARANCE, LEAST_SLANT } from './records.ts';
export type { AnchorChoice, Balloon, LeaderEnd } from './records.ts';
export { anchorChoices, convexHull, insideConvex } from './anchors.ts';
export { arrangeRing, ringCapacity } from './arrange.ts';
export type { Placed, RingRequest, Standing, Unplaced } from './arrange.ts';
export { balloonBox, borderPoints, extraFor, leaves, widthInside } from './outline.ts';
export { checkCoverage } from './coverage.ts';
export type { Coverage } from './coverage.ts';
