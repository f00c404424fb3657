export { confidences } from './records.ts';
export type { Answer, Confidence, Pair, Recognition, ShapePrint, ShapePrints } from './records.ts';
export { printOf } from './prints.ts';
export { nothingAlike, recognise } from './recognise.ts';
export { withProjectKeys } from './rekey.ts';
export { changesBetween, countChanges, isNoChange } from './changes.ts';
export type { ChangedComponent, ChangedQuantity, ChangedUsage, ComponentChange, ModelChanges } from './changes.ts';
export { mergedMarks, mergeStructures } from './merged.ts';
export type { MergedMark, MergedRow, MergedStructure } from './merged.ts';
