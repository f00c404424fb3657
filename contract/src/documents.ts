import * as v from 'valibot';
import type { Balloon } from '../../core/src/balloons/index.ts';
import { depths, identities, usualNumbering, type Address } from '../../core/src/bill/index.ts';
import {
  comparisons,
  dateForms,
  denominators,
  plainSources,
  type ColumnSource,
  type RuleGroup,
} from '../../core/src/columns/index.ts';
import { modelAxes, Refusal, treatmentWords } from '../../core/src/assembly/index.ts';
import {
  RECIPE_KIND,
  upgradeBill,
  upgradeComponentEdits,
  type BillDocument,
  type Command,
  type ComponentEdits,
  type DocumentKind,
  type ProjectDocument,
  type RecipeFile,
} from '../../core/src/documents/index.ts';
import { paperNames, tablePlaces, titleFieldNames, type Sheet } from '../../core/src/sheets/index.ts';
import { directionNames } from '../../core/src/views/index.ts';

const shortText = v.pipe(v.string(), v.maxLength(400));
const id = v.pipe(v.string(), v.minLength(1), v.maxLength(64));
const finite = v.pipe(v.number(), v.finite());
const point = v.tuple([finite, finite]);
const whole = v.pipe(v.number(), v.integer(), v.minValue(0));

const columnSource = v.custom<ColumnSource>(
  (value) =>
    typeof value === 'string' &&
    (/^(property|variant):.{1,400}$/su.test(value) ||
      value === 'pattern' ||
      value === 'formula' ||
      (plainSources as readonly string[]).includes(value)),
  'This is no known source of a column.',
);
const longText = v.pipe(v.string(), v.maxLength(10_000));
const unitText = v.pipe(v.string(), v.maxLength(40));
const digits = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(12));
const format = v.strictObject({
  unit: v.optional(unitText),
  unitPlace: v.optional(v.picklist(['cell', 'heading', 'nowhere'])),
  decimals: v.optional(digits),
  significant: v.optional(v.pipe(digits, v.minValue(1))),
  decimalSign: v.optional(v.picklist(['.', ','])),
  fraction: v.optional(v.strictObject({ denominator: v.picklist(denominators), stacked: v.boolean() })),
  date: v.optional(v.picklist(dateForms)),
  upperCase: v.optional(v.boolean()),
  yes: v.optional(unitText),
  no: v.optional(unitText),
  empty: v.optional(unitText),
  align: v.optional(v.picklist(['left', 'centre', 'right'])),
});
const columnFields = {
  heading: shortText,
  expression: v.optional(v.pipe(v.string(), v.maxLength(2000))),
  format: v.optional(format),
  total: v.optional(v.union([v.boolean(), v.literal('one each')])),
  required: v.optional(v.boolean()),
  width: v.optional(v.pipe(finite, v.minValue(20), v.maxValue(2000))),
  hidden: v.optional(v.boolean()),
};
const column = v.strictObject({ id: shortText, source: columnSource, ...columnFields });
const columns = v.pipe(v.array(column), v.minLength(1), v.maxLength(200));
const componentKey = v.pipe(v.string(), v.regex(/^[0-9a-f]{32}$/));
const address = v.custom<Address>(
  (value) =>
    typeof value === 'string' &&
    (/^[0-9a-f]{32}(@[0-9a-f]{32})?$/.test(value) || /^line:[0-9a-zA-Z-]{1,64}(@[0-9a-f]{32})?$/.test(value)),
  'An address is one or two component keys, or a line of its own.',
);
const number = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1e9));
const ledgerEntry = v.strictObject({ number, pinned: v.optional(v.boolean()), retired: v.optional(v.boolean()) });

const quantityKind = v.variant('kind', [
  v.strictObject({ kind: v.literal('each') }),
  v.strictObject({ kind: v.literal('sum'), size: shortText, unit: unitText }),
  v.strictObject({ kind: v.literal('as required') }),
  v.strictObject({ kind: v.literal('fixed'), value: v.pipe(finite, v.minValue(0)), unit: unitText }),
]);
const rule = v.strictObject({ source: columnSource, comparison: v.picklist(comparisons), operand: shortText });
const ruleGroup: v.GenericSchema<RuleGroup<ColumnSource>> = v.strictObject({
  holds: v.picklist(['all', 'any']),
  of: v.pipe(v.array(v.union([rule, v.lazy(() => ruleGroup)])), v.maxLength(100)),
});
const sortKey = { source: columnSource, descending: v.optional(v.boolean()) };
const levelNumbering = v.strictObject({
  start: number,
  step: v.pipe(number, v.maxValue(10_000)),
  prefix: v.pipe(v.string(), v.maxLength(20)),
  width: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(9)),
});
const numbering = v.strictObject({
  ...levelNumbering.entries,
  levels: v.optional(v.pipe(v.array(levelNumbering), v.maxLength(20))),
  separator: v.pipe(v.string(), v.maxLength(5)),
  letters: v.boolean(),
  groupRange: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1e6)),
  reserved: v.pipe(v.array(v.strictObject({ from: number, to: number })), v.maxLength(100)),
});
const recipeFields = {
  identityWith: v.pipe(v.array(shortText), v.maxLength(50)),
  closed: v.record(address, v.literal(true)),
  machines: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1e6)),
  quantityOf: v.record(componentKey, quantityKind),
  quantityRules: v.pipe(v.array(v.strictObject({ when: ruleGroup, is: quantityKind })), v.maxLength(100)),
  filter: v.nullable(ruleGroup),
  sort: v.pipe(v.array(v.strictObject(sortKey)), v.maxLength(20)),
  groups: v.pipe(v.array(v.strictObject({ ...sortKey, subtotal: v.optional(v.boolean()) })), v.maxLength(5)),
  numbering,
  locale: v.pipe(v.string(), v.maxLength(40), v.regex(/^([a-zA-Z]{2,8}(-[a-zA-Z0-9]{1,8})*)?$/)),
  variant: v.nullable(id),
};
const propertyName = v.pipe(
  v.string(),
  v.minLength(1),
  v.maxLength(200),
  v.check((name) => name !== '__proto__', 'This is no name for a property.'),
);
const propertyValue = v.strictObject({ value: v.union([longText, finite, v.boolean()]), unit: v.optional(unitText) });
const properties = v.record(propertyName, propertyValue);
const lineWithoutShape = v.strictObject({
  id: v.pipe(v.string(), v.regex(/^[0-9a-zA-Z-]{1,64}$/)),
  parent: v.nullable(componentKey),
  after: v.nullable(address),
  quantity: v.variant('kind', [quantityKind.options[2], quantityKind.options[3]]),
  properties,
});
const lines = v.pipe(v.array(lineWithoutShape), v.maxLength(10_000));

export const billSchema = v.strictObject({
  version: v.literal(2),
  name: shortText,
  recipe: v.strictObject({
    depth: v.picklist(depths),
    identity: v.picklist(identities),
    ...v.partial(v.strictObject(recipeFields)).entries,
  }),
  columns,
  ledger: v.record(address, ledgerEntry),
  joins: v.record(address, address),
  apart: v.record(address, shortText),
  overrides: v.record(address, v.record(shortText, longText)),
  lines,
  away: v.optional(v.literal(true)),
});

/** A reusable set of columns with their formats, and the order that goes with them. */
export const houseStyleSchema = v.strictObject({
  kind: v.literal('sledgeboard house style'),
  version: v.literal(1),
  name: v.pipe(shortText, v.minLength(1)),
  columns,
  numbering: v.optional(numbering),
});
export type HouseStyle = v.InferOutput<typeof houseStyleSchema>;

const anyRules: v.GenericSchema<RuleGroup> = v.strictObject({
  holds: v.picklist(['all', 'any']),
  of: v.pipe(
    v.array(
      v.union([
        v.strictObject({ source: shortText, comparison: v.picklist(comparisons), operand: shortText }),
        v.lazy(() => anyRules),
      ]),
    ),
    v.maxLength(100),
  ),
});
const keyList = <Entries extends v.ObjectEntries>(more: Entries) =>
  v.union([
    longText,
    v.pipe(
      v.array(v.strictObject({ source: shortText, descending: v.optional(v.boolean()), ...more })),
      v.maxLength(20),
    ),
  ]);
const partName = shortText;
const {
  filter: _filter,
  sort: _sort,
  groups: _groups,
  quantityOf: _quantityOf,
  closed: _closed,
  quantityRules: _rules,
  ...plainChoices
} = recipeFields;
const { heading: _heading, ...moreOfColumn } = columnFields;
const treatment = v.strictObject({ ownLine: v.boolean(), countContents: v.boolean() });
const pathKey = v.pipe(v.string(), v.regex(/^[0-9a-f]{32}\.\d+(\/[0-9a-f]{32}\.\d+){0,511}$/));

/** A recipe as a file, see core's RecipeFile: what a person writes as well as what the Bill station hands over. */
export const recipeFileSchema = v.partial(
  v.strictObject({
    kind: v.literal(RECIPE_KIND),
    version: v.literal(1),
    name: shortText,
    recipe: v.partial(
      v.strictObject({
        depth: v.picklist(depths),
        identity: v.picklist(identities),
        ...plainChoices,
        numbering: v.pipe(
          v.partial(numbering),
          v.transform((given) => ({ ...usualNumbering, ...given })),
        ),
        filter: v.nullable(v.union([longText, anyRules])),
        sort: keyList({}),
        groups: keyList({ subtotal: v.optional(v.boolean()) }),
        quantityOf: v.record(partName, quantityKind),
        closed: v.record(partName, v.literal(true)),
        quantityRules: v.pipe(
          v.array(v.strictObject({ when: v.union([longText, anyRules]), is: quantityKind })),
          v.maxLength(100),
        ),
      }),
    ),
    columns: v.union([
      longText,
      v.pipe(
        v.array(
          v.union([
            longText,
            v.strictObject({
              id: v.optional(shortText),
              source: shortText,
              heading: v.optional(shortText),
              ...moreOfColumn,
            }),
          ]),
        ),
        v.minLength(1),
        v.maxLength(200),
      ),
    ]),
    ledger: v.record(partName, v.union([number, ledgerEntry])),
    joins: v.record(partName, partName),
    apart: v.record(partName, shortText),
    overrides: v.record(partName, v.record(shortText, longText)),
    lines,
    treatments: v.record(partName, v.union([v.picklist(treatmentWords), treatment])),
    placeTreatments: v.record(pathKey, treatment),
    typed: v.record(partName, properties),
    typedAt: v.record(pathKey, properties),
    densities: v.record(propertyName, v.pipe(finite, v.minValue(1), v.maxValue(30_000))),
    sameAs: v.record(partName, partName),
    variants: v.record(
      id,
      v.strictObject({
        name: v.pipe(shortText, v.minLength(1)),
        without: v.optional(v.array(partName)),
        withoutPlaces: v.optional(v.array(pathKey)),
        exchanged: v.optional(v.record(partName, partName)),
        typed: v.optional(v.record(partName, properties)),
      }),
    ),
  }),
);

/**
 * A recipe file, or a house style, which is one with columns and numbering only. @throws v.ValiError where it is
 * neither
 */
export function parseRecipeFile(value: unknown): RecipeFile {
  if (v.is(v.looseObject({ kind: v.literal('sledgeboard house style') }), value)) {
    const { columns: own, numbering: numbers } = v.parse(houseStyleSchema, value);
    return {
      columns: own as RecipeFile['columns'],
      ...(numbers ? { recipe: { numbering: numbers } } : {}),
    } as RecipeFile;
  }
  return v.parse(recipeFileSchema, value) as unknown as RecipeFile;
}

const paper = v.strictObject({ size: v.picklist(paperNames), landscape: v.boolean() });
const scale = v.pipe(finite, v.minValue(1e-6), v.maxValue(1e6));
const view = v.strictObject({ id, direction: v.picklist(directionNames), scale, centre: point, byHand: v.boolean() });
const table = v.nullable(v.strictObject({ place: v.picklist(tablePlaces), onlyBallooned: v.optional(v.boolean()) }));
const balloonLook = v.strictObject({
  lettering: v.pipe(finite, v.minValue(0.5), v.maxValue(50)),
  radius: v.pipe(finite, v.minValue(0.5), v.maxValue(100)),
});
const usageKey = v.pipe(v.string(), v.regex(/^[0-9a-f]{32}\.\d+$/));
const balloon = v.strictObject({
  id,
  view: id,
  path: v.pipe(v.array(usageKey), v.maxLength(512)),
  anchor: v.tuple([finite, finite, finite]),
  end: v.picklist(['dot', 'arrow']),
  offset: point,
  byHand: v.boolean(),
}) as unknown as v.GenericSchema<Balloon>;
const field = v.picklist(titleFieldNames);
const fields = v.strictObject({
  title: shortText,
  drawingNumber: shortText,
  revision: shortText,
  owner: shortText,
  createdBy: shortText,
  approvedBy: shortText,
  date: shortText,
  documentType: shortText,
});

export const sheetSchema = v.strictObject({
  version: v.literal(1),
  name: shortText,
  bill: v.optional(id),
  paper,
  fields,
  views: v.pipe(v.array(view), v.maxLength(50)),
  table,
  balloons: v.pipe(v.array(balloon), v.maxLength(5000)),
  balloonLook,
});

const ownProperty = v.strictObject({
  type: v.picklist(['text', 'number', 'yes or no']),
  unit: v.pipe(v.string(), v.maxLength(40)),
});
const variant = v.strictObject({
  name: v.pipe(shortText, v.minLength(1)),
  without: v.array(componentKey),
  withoutPlaces: v.array(pathKey),
  exchanged: v.record(componentKey, componentKey),
  typed: v.record(componentKey, properties),
});
const axis = v.picklist(modelAxes);
const orientation = v.nullable(v.strictObject({ up: axis, front: axis }));
const findingKey = v.pipe(v.string(), v.minLength(1), v.maxLength(200));
const decision = v.strictObject({ answer: v.picklist(['same', 'apart', 'seen']) });
const density = v.pipe(finite, v.minValue(1), v.maxValue(30_000));
export const componentsSchema = v.strictObject({
  version: v.literal(3),
  treatments: v.record(componentKey, treatment),
  placeTreatments: v.record(pathKey, treatment),
  typed: v.record(componentKey, properties),
  typedAt: v.record(pathKey, properties),
  densities: v.record(propertyName, density),
  orientation,
  sameAs: v.record(componentKey, componentKey),
  ownProperties: v.record(propertyName, ownProperty),
  upperCase: v.boolean(),
  decisions: v.record(findingKey, decision),
  variants: v.record(id, variant),
});

/** The same fields, each of them left out or null to take it back to the usual. */
const nullable = <Entries extends v.ObjectEntries>(entries: Entries) =>
  v.partial(
    v.strictObject(
      Object.fromEntries(
        Object.entries(entries).map(([key, schema]) => [key, v.nullable(schema as v.GenericSchema)]),
      ) as unknown as Record<keyof Entries & string, v.GenericSchema>,
    ),
  );

const commandSchemas = {
  components: v.variant('kind', [
    v.strictObject({ kind: v.literal('setTreatment'), component: componentKey, treatment: v.nullable(treatment) }),
    v.strictObject({
      kind: v.literal('setTreatments'),
      components: v.record(componentKey, v.nullable(treatment)),
      places: v.record(pathKey, v.nullable(treatment)),
    }),
    v.strictObject({
      kind: v.literal('typeValues'),
      name: propertyName,
      components: v.record(componentKey, v.nullable(propertyValue)),
      places: v.record(pathKey, v.nullable(propertyValue)),
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
      sameAs: v.record(componentKey, v.nullable(componentKey)),
    }),
  ]),
  bill: v.variant('kind', [
    v.strictObject({ kind: v.literal('setDepth'), depth: v.picklist(depths) }),
    v.strictObject({ kind: v.literal('setIdentity'), identity: v.picklist(identities) }),
    v.strictObject({ kind: v.literal('addColumn'), column, at: whole }),
    v.strictObject({ kind: v.literal('removeColumn'), id: shortText }),
    v.strictObject({ kind: v.literal('moveColumn'), id: shortText, to: whole }),
    v.strictObject({ kind: v.literal('renameColumn'), id: shortText, heading: shortText }),
    v.strictObject({ kind: v.literal('changeRecipe'), change: nullable(recipeFields) }),
    v.strictObject({ kind: v.literal('renameBill'), name: shortText }),
    v.strictObject({ kind: v.literal('setAway'), away: v.boolean() }),
    v.strictObject({
      kind: v.literal('changeColumn'),
      id: shortText,
      change: nullable({ ...columnFields, heading: v.optional(shortText) }),
    }),
    v.strictObject({ kind: v.literal('setColumns'), columns }),
    v.strictObject({
      kind: v.literal('decideLines'),
      joins: v.record(address, v.nullable(address)),
      apart: v.record(address, v.nullable(shortText)),
    }),
    v.strictObject({
      kind: v.literal('typeCells'),
      cells: v.record(address, v.record(shortText, v.nullable(longText))),
    }),
    v.strictObject({
      kind: v.literal('changeLines'),
      remove: v.array(shortText),
      put: v.array(v.strictObject({ line: lineWithoutShape, at: whole })),
    }),
    v.strictObject({ kind: v.literal('setNumbers'), numbers: v.record(address, v.nullable(ledgerEntry)) }),
  ]),
  sheet: v.variant('kind', [
    v.strictObject({ kind: v.literal('setPaper'), paper }),
    v.strictObject({ kind: v.literal('setField'), field, value: shortText }),
    v.strictObject({ kind: v.literal('renameSheet'), name: shortText }),
    v.strictObject({ kind: v.literal('setBill'), bill: v.nullable(id) }),
    v.strictObject({ kind: v.literal('addView'), view }),
    v.strictObject({ kind: v.literal('removeView'), id }),
    v.strictObject({
      kind: v.literal('changeView'),
      id,
      change: v.partial(
        v.strictObject({ centre: point, scale, byHand: v.boolean(), direction: v.picklist(directionNames) }),
      ),
    }),
    v.strictObject({ kind: v.literal('setTable'), table }),
    v.strictObject({ kind: v.literal('setBalloonLook'), look: balloonLook }),
    v.strictObject({
      kind: v.literal('changeBalloons'),
      remove: v.pipe(v.array(id), v.maxLength(5000)),
      put: v.pipe(v.array(balloon), v.maxLength(5000)),
    }),
  ]),
} as const;

/** A command for a document of this kind. @throws v.ValiError where it is none */
export const parseCommand = (kind: DocumentKind, value: unknown): Command =>
  v.parse(commandSchemas[kind], value) as Command;

/** The versions of stored kinds that this program writes; older ones are upgraded, newer ones refused. */
const KNOWN: Readonly<Record<DocumentKind, number>> = { bill: 2, sheet: 1, components: 3 };

/** @throws Refusal where something was stored by a newer program: read by half it would lose what it does not know */
function refuseNewer(what: string, value: unknown, known: number): void {
  const version = value && typeof value === 'object' && 'version' in value ? value.version : null;
  if (typeof version === 'number' && version > known)
    throw new Refusal(
      'newer-version',
      `This ${what} was stored by a newer version of the program (version ${version}; up to ${known} can be read). Update the program; nothing was changed.`,
    );
}

/**
 * A document of this kind, as read from the database.
 * @throws v.ValiError where it is none, Refusal where a newer program stored it
 */
export function parseDocument(kind: DocumentKind, value: unknown): ProjectDocument {
  refuseNewer(kind === 'components' ? 'set of component edits' : kind, value, KNOWN[kind]);
  if (kind === 'bill') return v.parse(billSchema, upgradeBill(value)) as unknown as BillDocument;
  if (kind === 'sheet') return v.parse(sheetSchema, value) as Sheet;
  return v.parse(componentsSchema, upgradeComponentEdits(value)) as unknown as ComponentEdits;
}
