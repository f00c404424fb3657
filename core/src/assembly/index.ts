export { fullLabel, isAssembly, ownValue, partLabel, propertyNameFor, unnamed } from './records.ts';
export type { ComponentIndex, Index, OccurrenceIndex, RowIndex } from './records.ts';
export type {
  Assembly,
  Component,
  ComponentKey,
  Finding,
  Properties,
  PropertyValue,
  ShapeKey,
  ShapeMeasures,
  ShapeMesh,
  Usage,
  UsageKey,
  PathKey,
} from './records.ts';
export { Refusal } from './refusal.ts';
export { hasUnfitSigns, withFitSigns, wellFormedText } from './signs.ts';
export { MAX_LEVELS, parentsFirst, occurrenceCounts, structureTotals } from './counts.ts';
export { listOccurrences, componentsAlong, placementAlong, refuseTooMany, usageAt } from './occurrences.ts';
export type { Occurrence } from './occurrences.ts';
export { hashKey, quickKey } from './keys.ts';
export { groupBy } from './groups.ts';
export { jsonFault, xmlFault } from './textFaults.ts';
export { LEFT_OUT_REASON, treatmentWords, treatmentFor, wordFor } from './treatments.ts';
export type { Treatment, Treatments, TreatmentWord } from './treatments.ts';
export { keyGraph, NO_KEY, refuseBrokenGraph } from './keyGraph.ts';
export type { ComponentDraft, DraftUsage } from './keyGraph.ts';
export { keyMesh } from './meshKey.ts';
export {
  asInFile,
  editAssembly,
  layersAt,
  layersOf,
  origins,
  ownFields,
  pathKey,
  pathOf,
  withSaid,
  modelAxes,
  usualOrientation,
  isOrientation,
  orientationTurn,
} from './edited.ts';
export type {
  EditedAssembly,
  FactsByShape,
  LayeredValue,
  MeasuredValue,
  ModelAxis,
  Orientation,
  Origin,
  ShapeFacts,
  StructureEdits,
} from './edited.ts';
export { densityOf } from './densities.ts';
export { materialFamily } from './materialFamily.ts';
export type { MaterialFamily } from './materialFamily.ts';
export { alikeCandidates, alikeFindings } from './alike.ts';
export { findingKey, listedAs, numberFindings, withShapeFindings } from './sharedNumbers.ts';
export type { LikePair } from './alike.ts';
export { measureShape, measuredNames } from './shapeFacts.ts';
export type { ShapeMeasurement } from './shapeFacts.ts';
export { applyVariant } from './variants.ts';
export type { Variant } from './variants.ts';
