export { isAssembly, partLabel } from './records.ts';
export type {
  Assembly, Component, ComponentKey, Finding, Properties, PropertyValue, ShapeKey, ShapeMeasures, Usage, UsageKey,
} from './records.ts';
export { Refusal } from './refusal.ts';
export { MAX_LEVELS, parentsFirst, occurrenceCounts, structureTotals } from './counts.ts';
export { MAX_SHOWN_OCCURRENCES, listOccurrences, componentsAlong, placementAlong } from './occurrences.ts';
export type { Occurrence } from './occurrences.ts';
export { hashKey, quickKey } from './keys.ts';
export { groupBy } from './groups.ts';
export { treatmentWords, treatmentFor, wordFor } from './treatments.ts';
export type { Treatment, Treatments, TreatmentWord } from './treatments.ts';
