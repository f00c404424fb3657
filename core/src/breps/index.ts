export { trianglesWithin } from './faceMesh.ts';
export { meshBrep } from './meshBrep.ts';
export { NotElementary } from './records.ts';
export type { Brep, Curve, Edge, ElementarySurface, Face, Fineness, Loop, Shell } from './records.ts';
