import * as v from 'valibot';
import {
  depths,
  identities,
  type LineWithoutShape,
  type Numbering,
  type QuantityKind,
} from '../../../core/src/bill/index.ts';
import {
  comparisons,
  dateForms,
  denominators,
  plainSources,
  type Column,
  type ColumnSource,
  type RuleGroup,
} from '../../../core/src/columns/index.ts';
import type { BillCommand, BillDocument } from '../../../core/src/documents/index.ts';
import { catalogueLinks, keptValues } from './catalogue.ts';
import {
  address,
  componentKey,
  entriesOf,
  finite,
  holds,
  columnId,
  id,
  lineId,
  listOf,
  longText,
  nullable,
  properties,
  shortText,
  unitText,
  whole,
  type Same,
} from './shared.ts';

const columnSource = v.custom<ColumnSource>(
  (value) =>
    typeof value === 'string' &&
    (/^(property|variant):.{1,400}$/su.test(value) ||
      value === 'pattern' ||
      value === 'formula' ||
      (plainSources as readonly string[]).includes(value)),
  'This is no known source of a column.',
);
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
export const columnFields = {
  heading: shortText,
  expression: v.optional(v.pipe(v.string(), v.maxLength(2000))),
  format: v.optional(format),
  total: v.optional(v.union([v.boolean(), v.literal('one each')])),
  required: v.optional(v.boolean()),
  width: v.optional(v.pipe(finite, v.minValue(20), v.maxValue(2000))),
  hidden: v.optional(v.boolean()),
  stays: v.optional(v.boolean()),
};
export const column = v.strictObject({ id: columnId, source: columnSource, ...columnFields });
export const columns = listOf(column, 200, 1);
export const number = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1e9));
export const ledgerEntry = v.strictObject({
  number,
  pinned: v.optional(v.boolean()),
  retired: v.optional(v.boolean()),
  was: v.optional(v.strictObject({ partNumber: longText, name: longText })),
});

export const quantityKind = v.variant('kind', [
  v.strictObject({ kind: v.literal('each') }),
  v.strictObject({ kind: v.literal('sum'), size: shortText, unit: unitText }),
  v.strictObject({ kind: v.literal('as required') }),
  v.strictObject({ kind: v.literal('fixed'), value: v.pipe(finite, v.minValue(0)), unit: unitText }),
]);
const rule = v.strictObject({ source: columnSource, comparison: v.picklist(comparisons), operand: shortText });
const rulesInside: v.GenericSchema<RuleGroup<ColumnSource>> = v.strictObject({
  holds: v.picklist(['all', 'any']),
  of: listOf(v.union([rule, v.lazy(() => rulesInside)]), 100),
});
/** Groups within groups. */
const DEEPEST_RULES = 30;
const nestsAtMost = (value: unknown, most: number): boolean =>
  most > 0 &&
  (!value ||
    typeof value !== 'object' ||
    !('of' in value) ||
    !Array.isArray(value.of) ||
    value.of.every((one) => nestsAtMost(one, most - 1)));
export const ruleGroup = v.pipe(
  v.custom<RuleGroup<ColumnSource>>(
    (value) => nestsAtMost(value, DEEPEST_RULES),
    `Rules stand more than ${DEEPEST_RULES} deep in one another.`,
  ),
  rulesInside,
);
const sortKey = { source: columnSource, descending: v.optional(v.boolean()) };
const levelNumbering = v.strictObject({
  start: number,
  step: v.pipe(number, v.maxValue(10_000)),
  prefix: v.pipe(v.string(), v.maxLength(20)),
  width: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(9)),
});
export const numbering = v.strictObject({
  ...levelNumbering.entries,
  levels: v.optional(listOf(levelNumbering, 20)),
  separator: v.pipe(v.string(), v.maxLength(5)),
  letters: v.boolean(),
  groupRange: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1e6)),
  reserved: listOf(v.strictObject({ from: number, to: number }), 100),
});
export const recipeFields = {
  identityWith: listOf(shortText, 50),
  closed: entriesOf(address, v.literal(true)),
  machines: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1e6)),
  quantityOf: entriesOf(componentKey, quantityKind),
  quantityRules: listOf(v.strictObject({ when: ruleGroup, is: quantityKind }), 100),
  filter: v.nullable(ruleGroup),
  sort: listOf(v.strictObject(sortKey), 20),
  groups: listOf(v.strictObject({ ...sortKey, subtotal: v.optional(v.boolean()) }), 5),
  numbering,
  locale: v.pipe(v.string(), v.maxLength(40), v.regex(/^([a-zA-Z]{2,8}(-[a-zA-Z0-9]{1,8})*)?$/)),
  variant: v.nullable(id),
};
const lineWithoutShape = v.strictObject({
  id: lineId,
  parent: v.nullable(componentKey),
  after: v.nullable(address),
  quantity: v.variant('kind', [quantityKind.options[2], quantityKind.options[3]]),
  properties,
  from: v.optional(v.strictObject({ catalogue: id, item: id })),
});
export const lines = listOf(lineWithoutShape, 10_000);

/** What a model says may be longer than what is typed, as several values together. */
const MOST_WAS = 100_000;
const overtakenCell = v.strictObject({ typed: longText, was: v.pipe(v.string(), v.maxLength(MOST_WAS)) });

export const billSchema = v.strictObject({
  version: v.literal(2),
  name: shortText,
  recipe: v.strictObject({
    depth: v.picklist(depths),
    identity: v.picklist(identities),
    ...v.partial(v.strictObject(recipeFields)).entries,
  }),
  columns,
  ledger: entriesOf(address, ledgerEntry),
  joins: entriesOf(address, address),
  apart: entriesOf(address, shortText),
  overrides: entriesOf(address, v.record(shortText, longText)),
  lines,
  away: v.optional(v.literal(true)),
  catalogues: v.optional(catalogueLinks),
  kept: v.optional(keptValues),
  revision: v.optional(shortText),
  overtaken: v.optional(entriesOf(address, v.record(shortText, overtakenCell))),
});

/** What can be done to a bill. */
export const billCommandSchema = v.variant('kind', [
  v.strictObject({ kind: v.literal('setDepth'), depth: v.picklist(depths) }),
  v.strictObject({ kind: v.literal('setIdentity'), identity: v.picklist(identities) }),
  v.strictObject({ kind: v.literal('addColumn'), column, at: whole }),
  v.strictObject({ kind: v.literal('removeColumn'), id: columnId }),
  v.strictObject({ kind: v.literal('moveColumn'), id: columnId, to: whole }),
  v.strictObject({ kind: v.literal('renameColumn'), id: columnId, heading: shortText }),
  v.strictObject({ kind: v.literal('changeRecipe'), change: nullable(recipeFields) }),
  v.strictObject({ kind: v.literal('renameBill'), name: shortText }),
  v.strictObject({ kind: v.literal('setAway'), away: v.boolean() }),
  v.strictObject({ kind: v.literal('showRevision'), revision: v.nullable(shortText) }),
  v.strictObject({ kind: v.literal('keepValues'), kept: v.nullable(keptValues) }),
  v.strictObject({ kind: v.literal('setCatalogues'), links: v.nullable(catalogueLinks) }),
  v.strictObject({
    kind: v.literal('changeColumn'),
    id: columnId,
    change: nullable({ ...columnFields, heading: v.optional(shortText) }),
  }),
  v.strictObject({ kind: v.literal('setColumns'), columns }),
  v.strictObject({
    kind: v.literal('decideLines'),
    joins: entriesOf(address, v.nullable(address)),
    apart: entriesOf(address, v.nullable(shortText)),
  }),
  v.strictObject({
    kind: v.literal('typeCells'),
    cells: entriesOf(address, v.record(shortText, v.nullable(longText))),
  }),
  v.strictObject({
    kind: v.literal('noteOvertaken'),
    cells: entriesOf(address, v.record(shortText, v.nullable(overtakenCell))),
  }),
  v.strictObject({
    kind: v.literal('changeLines'),
    remove: v.array(shortText),
    put: v.array(v.strictObject({ line: lineWithoutShape, at: whole })),
  }),
  v.strictObject({ kind: v.literal('setNumbers'), numbers: entriesOf(address, v.nullable(ledgerEntry)) }),
]);

holds<Same<typeof column, Column>>();
holds<Same<typeof numbering, Numbering>>();
holds<Same<typeof quantityKind, QuantityKind>>();
holds<Same<typeof lineWithoutShape, LineWithoutShape>>();
holds<Same<typeof billSchema, BillDocument>>();
holds<Same<typeof billCommandSchema, BillCommand>>();
