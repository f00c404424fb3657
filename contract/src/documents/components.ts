import * as v from 'valibot';
import { modelAxes } from '../../../core/src/assembly/index.ts';
import type { ComponentCommand, ComponentEdits } from '../../../core/src/documents/index.ts';
import {
  componentKey,
  density,
  entriesOf,
  holds,
  id,
  pathKey,
  properties,
  propertyName,
  propertyValue,
  shortText,
  treatment,
  type Same,
} from './shared.ts';

const ownProperty = v.strictObject({
  type: v.picklist(['text', 'number', 'yes or no']),
  unit: v.pipe(v.string(), v.maxLength(40)),
});
const variant = v.strictObject({
  name: v.pipe(shortText, v.minLength(1)),
  without: v.array(componentKey),
  withoutPlaces: v.array(pathKey),
  exchanged: entriesOf(componentKey, componentKey),
  typed: entriesOf(componentKey, properties),
});
const axis = v.picklist(modelAxes);
const orientation = v.nullable(v.strictObject({ up: axis, front: axis }));
const findingKey = v.pipe(v.string(), v.minLength(1), v.maxLength(200));
const decision = v.strictObject({ answer: v.picklist(['same', 'apart', 'seen']) });
const apartTag = v.pipe(v.string(), v.minLength(1), v.maxLength(64));
export const componentsSchema = v.strictObject({
  version: v.literal(4),
  treatments: entriesOf(componentKey, treatment),
  placeTreatments: entriesOf(pathKey, treatment),
  typed: entriesOf(componentKey, properties),
  typedAt: entriesOf(pathKey, properties),
  densities: v.record(propertyName, density),
  orientation,
  sameAs: entriesOf(componentKey, componentKey),
  keptApart: entriesOf(componentKey, apartTag),
  ownProperties: v.record(propertyName, ownProperty),
  upperCase: v.boolean(),
  decisions: v.record(findingKey, decision),
  variants: v.record(id, variant),
});

/** What can be done to component edits. */
export const componentCommandSchema = v.variant('kind', [
  v.strictObject({ kind: v.literal('setTreatment'), component: componentKey, treatment: v.nullable(treatment) }),
  v.strictObject({
    kind: v.literal('setTreatments'),
    components: entriesOf(componentKey, v.nullable(treatment)),
    places: entriesOf(pathKey, v.nullable(treatment)),
  }),
  v.strictObject({
    kind: v.literal('typeValues'),
    name: propertyName,
    components: entriesOf(componentKey, v.nullable(propertyValue)),
    places: entriesOf(pathKey, v.nullable(propertyValue)),
  }),
  v.strictObject({ kind: v.literal('setOwnProperty'), name: propertyName, property: v.nullable(ownProperty) }),
  v.strictObject({ kind: v.literal('setUpperCase'), on: v.boolean() }),
  v.strictObject({ kind: v.literal('setVariant'), id, variant: v.nullable(variant) }),
  v.strictObject({ kind: v.literal('setOrientation'), orientation }),
  v.strictObject({ kind: v.literal('setDensity'), material: propertyName, density: v.nullable(density) }),
  v.strictObject({
    kind: v.literal('decide'),
    finding: findingKey,
    decision: v.nullable(decision),
    sameAs: entriesOf(componentKey, v.nullable(componentKey)),
    apart: v.optional(entriesOf(componentKey, v.nullable(apartTag))),
  }),
]);

holds<Same<typeof componentsSchema, ComponentEdits>>();
holds<Same<typeof componentCommandSchema, ComponentCommand>>();
