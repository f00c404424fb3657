export { readStep, topLabel } from './readAssembly.ts';
export type { ModelContent, ReadOptions } from './readAssembly.ts';
export type { Slice } from './slices.ts';
export { openStep } from './file.ts';
export type { StepFile } from './file.ts';
export { describeStart } from './foreign.ts';
