export { readStep, topLabel } from './readAssembly.ts';
export type { StepContent, ReadOptions } from './readAssembly.ts';
export type { Slice } from './slices.ts';
export { openStep } from './file.ts';
export type { StepFile } from './file.ts';
export { decodeText } from './text.ts';
