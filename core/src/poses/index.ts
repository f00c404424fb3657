export { displacements, movedBy, wholeStep, withMove } from './records.ts';
export type { Pose, PoseMove } from './records.ts';
export { explode, MOST_MOVES } from './explode.ts';
export type { Exploded } from './explode.ts';
export type { Locked } from './meetings.ts';
export type { Part } from './units.ts';
export { carriedOn, fastenedTo, MOST_STEPS, playedTo, reordered, seated, wayAt, wayOfFace } from './byHand.ts';
export type { ClickedWay } from './byHand.ts';
