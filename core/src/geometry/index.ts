export {
  add,
  subtract,
  scale,
  dot,
  cross,
  length,
  hypot,
  normalize,
  distance2,
  distanceToStretch,
  stretchesCross,
  stretchMeetsBox,
  boxWidth,
  boxHeight,
  growBox,
  boxesOverlap,
  boxInside,
  moveBox,
  uniteBoxes2,
} from './vectors.ts';
export type { Vec2, Vec3, Box2 } from './vectors.ts';
export {
  identityPlacement,
  composePlacements,
  applyToDirection,
  applyToPoint,
  determinant,
  invertPlacement,
  placementFromAxes,
} from './placements.ts';
export type { Placement } from './placements.ts';
export { meshBox, commonBox, uniteBoxes, boxDiagonal, meshVolume, isFlatMesh, meshColour } from './meshes.ts';
export type { Mesh, Box3 } from './meshes.ts';
export { meshOfTriangles, toSrgb } from './facets.ts';
export { Places, weldPoints } from './places.ts';
export { meshMoments, invariantsAgree, compareMeshes } from './moments.ts';
export type { Likeness, Moments } from './moments.ts';
export { measureSizes } from './sizes.ts';
export type { ShapeSizes, Stock } from './sizes.ts';
export { dashedBox } from './standIn.ts';
export {
  fitSurface,
  isRuled,
  isSameSurface,
  normalOf,
  ontoAll,
  ontoBoth,
  ontoSurface,
  placeSurface,
  planeSurface,
  radialBend,
  signedDistance,
} from './surfaces.ts';
export type { FacePoints, Surface } from './surfaces.ts';
export { faceSurfaces, keepSurfaces } from './faceSurfaces.ts';
export { roundsOf } from './rounds.ts';
