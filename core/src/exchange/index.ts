export { numberOf, openStep, refOf, refsOf, textOf } from './file.ts';
export type { StepFile } from './file.ts';
export { lineAt } from './lines.ts';
export { isEnumeration, isList, isTyped } from './values.ts';
export type { Value } from './values.ts';
export { describeStart } from './foreign.ts';
