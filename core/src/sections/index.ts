export { areaOf, cutMesh } from './cutMesh.ts';
export { notCutLengthwise } from './lengthwise.ts';
export { MOST_CUTS, MOST_PLANES, ownCut, parseCut } from './planes.ts';
export type { Cut, CutFace, CutShape, HalfSpace } from './records.ts';
export { areaWithin, boxAround, hatchLines, hatchStyles, pitchFor } from './hatch.ts';
export type { HatchedArea, HatchStyle } from './hatch.ts';
export { alignedCuts, cutsAlong, MOST_CORNERS, pathFault } from './path.ts';
export type { AlignedTurn, CutPath } from './path.ts';
export { wavyBorder } from './border.ts';
