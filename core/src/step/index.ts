export { readStep, topLabel } from './readAssembly.ts';
export type { ModelContent } from './readAssembly.ts';
export type { Slice } from './slices.ts';
export { meshSlice } from './solids.ts';
