import * as v from 'valibot';
import { sheetStyleSchema } from './sheet.ts';
import { treatmentWords } from '../../../core/src/assembly/index.ts';
import { depths, identities, usualNumbering } from '../../../core/src/bill/index.ts';
import { comparisons, type RuleGroup } from '../../../core/src/columns/index.ts';
import { RECIPE_KIND, type RecipeFile } from '../../../core/src/documents/index.ts';
import { columnFields, columns, ledgerEntry, lines, number, numbering, quantityKind, recipeFields } from './bill.ts';
import {
  density,
  entriesOf,
  holds,
  columnId,
  id,
  listOf,
  longText,
  pathKey,
  properties,
  propertyName,
  shortText,
  treatment,
  type Same,
} from './shared.ts';
import { refuseNewer } from './versions.ts';

/** A reusable set of columns with their formats and way of numbering, and what it says of sheets. */
export const houseStyleSchema = v.strictObject({
  kind: v.literal('sledgeboard house style'),
  version: v.literal(1),
  name: v.pipe(shortText, v.minLength(1)),
  columns,
  numbering: v.optional(numbering),
  sheet: v.optional(sheetStyleSchema),
});
export type HouseStyle = v.InferOutput<typeof houseStyleSchema>;

const anyRules: v.GenericSchema<RuleGroup> = v.strictObject({
  holds: v.picklist(['all', 'any']),
  of: listOf(
    v.union([
      v.strictObject({ source: shortText, comparison: v.picklist(comparisons), operand: shortText }),
      v.lazy(() => anyRules),
    ]),
    100,
  ),
});
const keyList = <Entries extends v.ObjectEntries>(more: Entries) =>
  v.union([longText, listOf(v.strictObject({ source: shortText, descending: v.optional(v.boolean()), ...more }), 20)]);
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
/** A recipe as a file, see core's RecipeFile: what a person writes as well as what the Bill station hands over. */
const recipeFileSchema = v.partial(
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
        quantityRules: listOf(v.strictObject({ when: v.union([longText, anyRules]), is: quantityKind }), 100),
      }),
    ),
    columns: v.union([
      longText,
      listOf(
        v.union([
          longText,
          v.strictObject({
            id: v.optional(columnId),
            source: shortText,
            heading: v.optional(shortText),
            ...moreOfColumn,
          }),
        ]),
        200,
        1,
      ),
    ]),
    ledger: v.record(partName, v.union([number, ledgerEntry])),
    joins: v.record(partName, partName),
    apart: v.record(partName, shortText),
    overrides: v.record(partName, v.record(shortText, longText)),
    lines,
    treatments: v.record(partName, v.union([v.picklist(treatmentWords), treatment])),
    placeTreatments: entriesOf(pathKey, treatment),
    typed: v.record(partName, properties),
    typedAt: entriesOf(pathKey, properties),
    densities: v.record(propertyName, density),
    sameAs: v.record(partName, partName),
    keptApart: v.record(partName, v.pipe(v.string(), v.minLength(1), v.maxLength(64))),
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

/** A house style. @throws v.ValiError where it is none, Refusal where a newer program wrote it */
export function parseHouseStyle(value: unknown): HouseStyle {
  refuseNewer('house style', value, 1);
  return v.parse(houseStyleSchema, value);
}

/**
 * A recipe file, or a house style, which is one with columns and numbering only. @throws v.ValiError where it is
 * neither
 */
export function parseRecipeFile(value: unknown): RecipeFile {
  if (v.is(v.looseObject({ kind: v.literal('sledgeboard house style') }), value)) {
    const { columns: own, numbering: numbers } = parseHouseStyle(value);
    return {
      columns: own as RecipeFile['columns'],
      ...(numbers ? { recipe: { numbering: numbers } } : {}),
    } as RecipeFile;
  }
  refuseNewer('recipe file', value, 1);
  return v.parse(recipeFileSchema, value) as unknown as RecipeFile;
}

holds<Same<typeof recipeFileSchema, RecipeFile & { readonly kind?: typeof RECIPE_KIND; readonly version?: 1 }>>();
