export { cheapestAssignment } from './assignment.ts';
export {
  arrangements,
  BALLOON_DISTANCE_RANGE,
  leaderMarks,
  roomEnough,
  LEAST_FACE_RADIUS,
  LEAST_CLEARANCE,
  LEAST_SLANT,
} from './records.ts';
export type { AnchorChoice, Arrangement, Balloon, BalloonDress, LeaderEnd, LeaderMark, OwnLook } from './records.ts';
export { anchorChoices, convexHull, insideConvex } from './anchors.ts';
export { arrangeRing, firstRow } from './arrange.ts';
export type { Placed, RingRequest, Standing } from './request.ts';
export { BARRED_RADIUS, balloonShapes, balloonBox, borderPoints, extraFor, leaves, widthInside } from './outline.ts';
export type { BalloonShape } from './outline.ts';
export { checkCoverage } from './coverage.ts';
export type { Coverage } from './coverage.ts';
export { balloonFaults } from './faults.ts';
export type { BalloonFaults } from './faults.ts';
