import * as v from 'valibot';
import type { Balloon } from '../../core/src/balloons/index.ts';
import { depths, identities, type Address } from '../../core/src/bill/index.ts';
import type { ColumnSource } from '../../core/src/columns/index.ts';
import { modelAxes } from '../../core/src/assembly/index.ts';
import { upgradeComponentEdits, type BillDocument, type Command, type ComponentEdits, type DocumentKind, type ProjectDocument } from '../../core/src/documents/index.ts';
import { paperNames, tablePlaces, titleFieldNames, type Sheet } from '../../core/src/sheets/index.ts';
import { directionNames } from '../../core/src/views/index.ts';

const shortText = v.pipe(v.string(), v.maxLength(400));
const id = v.pipe(v.string(), v.minLength(1), v.maxLength(64));
const finite = v.pipe(v.number(), v.finite());
const point = v.tuple([finite, finite]);
const whole = v.pipe(v.number(), v.integer(), v.minValue(0));

const columnSource = v.custom<ColumnSource>(
  (value) => typeof value === 'string' && (/^property:.{1,400}$/su.test(value) || ['item', 'quantity', 'totalQuantity', 'partNumber', 'name', 'description', 'revision', 'source'].includes(value)),
  'This is no known source of a column.',
);
const column = v.object({ id: shortText, source: columnSource, heading: shortText });
const address = v.custom<Address>((value) => typeof value === 'string' && /^[0-9a-f]{32}(@[0-9a-f]{32})?$/.test(value), 'An address is one or two component keys.');
const ledgerEntry = v.object({ number: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1e9)), pinned: v.optional(v.boolean()), retired: v.optional(v.boolean()) });

export const billSchema = v.object({
  version: v.literal(1), name: shortText, recipe: v.object({ depth: v.picklist(depths), identity: v.picklist(identities) }),
  columns: v.pipe(v.array(column), v.minLength(1), v.maxLength(200)), ledger: v.record(address, ledgerEntry),
});

const paper = v.object({ size: v.picklist(paperNames), landscape: v.boolean() });
const scale = v.pipe(finite, v.minValue(1e-6), v.maxValue(1e6));
const view = v.object({ id, direction: v.picklist(directionNames), scale, centre: point, byHand: v.boolean() });
const table = v.nullable(v.object({ place: v.picklist(tablePlaces) }));
const balloonLook = v.object({ lettering: v.pipe(finite, v.minValue(0.5), v.maxValue(50)), radius: v.pipe(finite, v.minValue(0.5), v.maxValue(100)) });
const usageKey = v.pipe(v.string(), v.regex(/^[0-9a-f]{32}\.\d+$/));
const balloon = v.object({
  id, view: id, path: v.pipe(v.array(usageKey), v.maxLength(512)), anchor: v.tuple([finite, finite, finite]), end: v.picklist(['dot', 'arrow']), offset: point, byHand: v.boolean(),
}) as unknown as v.GenericSchema<Balloon>;
const field = v.picklist(titleFieldNames);
const fields = v.object({ title: shortText, drawingNumber: shortText, revision: shortText, owner: shortText, createdBy: shortText, approvedBy: shortText, date: shortText, documentType: shortText });

export const sheetSchema = v.object({
  version: v.literal(1), name: shortText, paper, fields, views: v.pipe(v.array(view), v.maxLength(50)), table,
  balloons: v.pipe(v.array(balloon), v.maxLength(5000)), balloonLook,
});

const treatment = v.object({ ownLine: v.boolean(), countContents: v.boolean() });
const componentKey = v.pipe(v.string(), v.regex(/^[0-9a-f]{32}$/));
const pathKey = v.pipe(v.string(), v.regex(/^[0-9a-f]{32}\.\d+(\/[0-9a-f]{32}\.\d+){0,511}$/));
const propertyName = v.pipe(v.string(), v.minLength(1), v.maxLength(200), v.check((name) => name !== '__proto__', 'This is no name for a property.'));
const longText = v.pipe(v.string(), v.maxLength(10_000));
const propertyValue = v.object({ value: v.union([longText, finite, v.boolean()]), unit: v.optional(v.pipe(v.string(), v.maxLength(40))) });
const properties = v.record(propertyName, propertyValue);
const ownProperty = v.object({ type: v.picklist(['text', 'number', 'yes or no']), unit: v.pipe(v.string(), v.maxLength(40)) });
const axis = v.picklist(modelAxes);
const orientation = v.nullable(v.object({ up: axis, front: axis }));
const findingKey = v.pipe(v.string(), v.minLength(1), v.maxLength(200));
const decision = v.object({ answer: v.picklist(['same', 'apart', 'seen']) });
const density = v.pipe(finite, v.minValue(1), v.maxValue(30_000));
export const componentsSchema = v.object({
  version: v.literal(2), treatments: v.record(componentKey, treatment), placeTreatments: v.record(pathKey, treatment), typed: v.record(componentKey, properties), typedAt: v.record(pathKey, properties),
  densities: v.record(propertyName, density), orientation, sameAs: v.record(componentKey, componentKey), ownProperties: v.record(propertyName, ownProperty), upperCase: v.boolean(), decisions: v.record(findingKey, decision),
});

const commandSchemas = {
  components: v.variant('kind', [
    v.object({ kind: v.literal('setTreatment'), component: componentKey, treatment: v.nullable(treatment) }),
    v.object({ kind: v.literal('setTreatments'), components: v.record(componentKey, v.nullable(treatment)), places: v.record(pathKey, v.nullable(treatment)) }),
    v.object({ kind: v.literal('typeValues'), name: propertyName, components: v.record(componentKey, v.nullable(propertyValue)), places: v.record(pathKey, v.nullable(propertyValue)) }),
    v.object({ kind: v.literal('setOwnProperty'), name: propertyName, property: v.nullable(ownProperty) }),
    v.object({ kind: v.literal('setUpperCase'), on: v.boolean() }),
    v.object({ kind: v.literal('setOrientation'), orientation }),
    v.object({ kind: v.literal('setDensity'), material: propertyName, density: v.nullable(density) }),
    v.object({ kind: v.literal('decide'), finding: findingKey, decision: v.nullable(decision), sameAs: v.record(componentKey, v.nullable(componentKey)) }),
  ]),
  bill: v.variant('kind', [
    v.object({ kind: v.literal('setDepth'), depth: v.picklist(depths) }),
    v.object({ kind: v.literal('setIdentity'), identity: v.picklist(identities) }),
    v.object({ kind: v.literal('addColumn'), column, at: whole }),
    v.object({ kind: v.literal('removeColumn'), id: shortText }),
    v.object({ kind: v.literal('moveColumn'), id: shortText, to: whole }),
    v.object({ kind: v.literal('renameColumn'), id: shortText, heading: shortText }),
    v.object({ kind: v.literal('setNumbers'), numbers: v.record(address, v.nullable(ledgerEntry)) }),
  ]),
  sheet: v.variant('kind', [
    v.object({ kind: v.literal('setPaper'), paper }),
    v.object({ kind: v.literal('setField'), field, value: shortText }),
    v.object({ kind: v.literal('renameSheet'), name: shortText }),
    v.object({ kind: v.literal('addView'), view }),
    v.object({ kind: v.literal('removeView'), id }),
    v.object({ kind: v.literal('changeView'), id, change: v.partial(v.object({ centre: point, scale, byHand: v.boolean(), direction: v.picklist(directionNames) })) }),
    v.object({ kind: v.literal('setTable'), table }),
    v.object({ kind: v.literal('setBalloonLook'), look: balloonLook }),
    v.object({ kind: v.literal('changeBalloons'), remove: v.pipe(v.array(id), v.maxLength(5000)), put: v.pipe(v.array(balloon), v.maxLength(5000)) }),
  ]),
} as const;

/** A command for a document of this kind. @throws v.ValiError where it is none */
export const parseCommand = (kind: DocumentKind, value: unknown): Command => v.parse(commandSchemas[kind], value) as Command;

/** A document of this kind, as read from the database. @throws v.ValiError where it is none */
export function parseDocument(kind: DocumentKind, value: unknown): ProjectDocument {
  if (kind === 'bill') return v.parse(billSchema, value) as BillDocument;
  if (kind === 'sheet') return v.parse(sheetSchema, value) as Sheet;
  return v.parse(componentsSchema, upgradeComponentEdits(value)) as ComponentEdits;
}
