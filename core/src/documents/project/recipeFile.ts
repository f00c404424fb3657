import {
  Refusal,
  treatmentFor,
  type Assembly,
  type ComponentKey,
  type Finding,
  type PathKey,
  type Properties,
  type Treatment,
  type TreatmentWord,
  type Variant,
} from '../../assembly/index.ts';
import type { Address, LedgerEntry, LineWithoutShape, Recipe, QuantityKind } from '../../bill/index.ts';
import {
  newColumn,
  propertyNames,
  readColumns,
  readKeys,
  readRules,
  referenceOf,
  sourceFinder,
  toStored,
  type Checked,
  type Column,
  type ColumnSource,
  type FindSource,
  type RuleGroup,
} from '../../columns/index.ts';
import { circleIn, newBill, type BillDocument, type CellTexts } from '../kinds/bill.ts';
import { newComponentEdits, type ComponentEdits } from '../kinds/components.ts';

/**
 * A recipe as a file: how a bill is made, what it shows, and what was decided about it. Everything may be left out.
 * Columns are named by source or heading, rules, order and groups may be written as the sentence writes them, and
 * parts are named by key, part number or name, so that such a file can be written by hand and used for another
 * machine.
 */
export interface RecipeFile {
  /** Of the bill that it makes. */
  readonly name?: string;
  /** Choices; what is left out is as usual. */
  readonly recipe?: Omit<Partial<Recipe>, 'filter' | 'sort' | 'groups' | 'quantityOf' | 'closed' | 'quantityRules'> & {
    readonly filter?: string | RuleGroup | null;
    readonly sort?: string | readonly { readonly source: string; readonly descending?: boolean }[];
    readonly groups?:
      string | readonly { readonly source: string; readonly descending?: boolean; readonly subtotal?: boolean }[];
    readonly quantityOf?: Readonly<Record<string, QuantityKind>>;
    readonly closed?: Readonly<Record<string, true>>;
    readonly quantityRules?: readonly {
      readonly when: string | RuleGroup;
      readonly is: NonNullable<Recipe['quantityRules']>[number]['is'];
    }[];
  };
  /** Names of sources or patterns in one text, or columns with their looks; the usual ones where absent. */
  readonly columns?:
    | string
    | readonly (
        | string
        | (Omit<Column, 'id' | 'source' | 'heading'> & {
            readonly id?: string;
            readonly source: string;
            readonly heading?: string;
          })
      )[];
  /** Item numbers by part number or address. */
  readonly ledger?: Readonly<Record<string, LedgerEntry | number>>;
  /** Parts counted with others, by part number or address. */
  readonly joins?: Readonly<Record<string, string>>;
  /** Parts kept apart, by part number or address. */
  readonly apart?: Readonly<Record<string, string>>;
  /** Typed cells: part → reference of a column → text. */
  readonly overrides?: Readonly<Record<string, CellTexts>>;
  /** Lines without a shape. */
  readonly lines?: readonly LineWithoutShape[];
  /** How parts count: a word, or the two answers. */
  readonly treatments?: Readonly<Record<string, Treatment | TreatmentWord>>;
  /** How single places count, by path. */
  readonly placeTreatments?: Readonly<Record<PathKey, Treatment>>;
  /** Typed values of parts. */
  readonly typed?: Readonly<Record<string, Properties>>;
  /** Typed values of single places, by path. */
  readonly typedAt?: Readonly<Record<PathKey, Properties>>;
  /** kg/m³ by material. */
  readonly densities?: Readonly<Record<string, number>>;
  /** Parts that are one: part → the part that it is. */
  readonly sameAs?: Readonly<Record<string, string>>;
  /** Parts of one number that are parts of their own, by key; those of one tag stay together. */
  readonly keptApart?: Readonly<Record<string, string>>;
  /** Builds of the machine by id, parts by number. */
  readonly variants?: Readonly<
    Record<
      string,
      Pick<Variant, 'name'> & {
        readonly without?: readonly string[];
        readonly withoutPlaces?: readonly PathKey[];
        readonly exchanged?: Readonly<Record<string, string>>;
        readonly typed?: Readonly<Record<string, Properties>>;
      }
    >
  >;
}

/** Everything of a stored bill, and of what was decided about components, as a file that openRecipe reads back. */
export function recipeFileOf(bill: BillDocument, edits: ComponentEdits): RecipeFile & { kind: string; version: 1 } {
  const { version: _bill, away: _away, ...content } = bill;
  const { treatments, placeTreatments, typed, typedAt, densities, sameAs, keptApart, variants } = edits;
  const given = Object.entries({
    ...content,
    treatments,
    placeTreatments,
    typed,
    typedAt,
    densities,
    sameAs,
    keptApart,
    variants,
  }).filter(([, value]) => typeof value !== 'object' || Object.keys(value).length > 0);
  return { kind: RECIPE_KIND, version: 1, ...(Object.fromEntries(given) as unknown as RecipeFile) };
}
export const RECIPE_KIND = 'sledgeboard recipe';

export interface OpenedRecipe {
  /** With everything that the file says of it. */
  readonly bill: BillDocument;
  /** What the file says of components. */
  readonly edits: ComponentEdits;
  /** What the file names and the machine lacks. */
  readonly findings: readonly Finding[];
}

/**
 * The bill that a recipe file asks for, of this machine.
 * @param measured names of properties that the machine gets only by measuring its shapes
 * @throws Refusal with a sentence where a name or rule cannot be read
 */
export function openRecipe(file: RecipeFile, assembly: Assembly, measured: readonly string[] = []): OpenedRecipe {
  const typed = Object.values(file.typed ?? {}).flatMap((properties) => Object.keys(properties));
  const find = sourceFinder([...propertyNames(assembly), ...typed, ...measured]);
  const parts = new PartFinder(assembly);
  const usual = newBill(assembly, file.name ?? 'Bill');
  const edits: ComponentEdits = {
    ...newComponentEdits,
    placeTreatments: file.placeTreatments ?? {},
    typedAt: file.typedAt ?? {},
    densities: file.densities ?? {},
    treatments: parts.keyed(file.treatments, (treatment) =>
      typeof treatment === 'string' ? treatmentFor(treatment) : treatment,
    ),
    typed: parts.keyed(file.typed, (properties) => properties),
    sameAs: parts.keyed(file.sameAs, (name) => parts.one(name)),
    keptApart: parts.keyed(file.keptApart, (tag) => tag),
    variants: Object.fromEntries(
      Object.entries(file.variants ?? {}).map(
        ([id, { name, without = [], withoutPlaces = [], exchanged, typed: replaced }]): [string, Variant] => [
          id,
          {
            name,
            without: without.flatMap((part) => parts.all(part)),
            withoutPlaces,
            exchanged: parts.keyed(exchanged, (other) => parts.one(other)),
            typed: parts.keyed(replaced, (properties) => properties),
          },
        ],
      ),
    ),
  };
  const recipe = openChoices(file.recipe ?? {}, usual.recipe, find, parts);
  const columns = file.columns ? openColumns(file.columns, find) : usual.columns;
  const bill: BillDocument = {
    ...usual,
    recipe,
    columns:
      typeof file.columns === 'object' || !recipe.groups
        ? columns
        : columns.map((column) => (SUMMED.has(column.source) ? { ...column, total: true } : column)),
    lines: file.lines ?? [],
    ledger: parts.addressed(file.ledger, (entry) => (typeof entry === 'number' ? { number: entry } : entry)),
    joins: parts.addressed(file.joins, (target) => parts.addresses(target)[0] ?? null),
    apart: parts.addressed(file.apart, (tag) => tag),
    overrides: parts.addressed(file.overrides, (texts) =>
      Object.fromEntries(
        Object.entries(texts).map(([column, text]) => [
          column.startsWith('column:') ? column : (find(column) ?? column),
          text,
        ]),
      ),
    ),
  };
  return { bill, edits, findings: parts.findings() };
}

function openChoices(
  { filter, sort, groups, quantityOf, closed, quantityRules, ...plain }: NonNullable<RecipeFile['recipe']>,
  usual: Recipe,
  find: FindSource,
  parts: PartFinder,
): Recipe {
  const keys = <Key extends { source: string }>(given: string | readonly Key[], what: string) =>
    typeof given === 'string'
      ? checked(readKeys(given, find), what)
      : given.map((key) => ({ ...key, source: known(key.source, find, what) }));
  return {
    ...usual,
    ...plain,
    ...(filter ? { filter: openRules(filter, find) } : {}),
    ...(sort ? { sort: keys(sort, 'order') } : {}),
    ...(groups
      ? {
          groups:
            typeof groups === 'string'
              ? keys(groups, 'groups').map((key) => ({ ...key, subtotal: true }))
              : keys(groups, 'groups'),
        }
      : {}),
    ...(quantityOf ? { quantityOf: parts.keyed(quantityOf, (kind) => kind) } : {}),
    ...(closed ? { closed: parts.addressed(closed, () => true as const) } : {}),
    ...(quantityRules
      ? { quantityRules: quantityRules.map(({ when, is }) => ({ when: openRules(when, find), is })) }
      : {}),
  };
}

function openRules(rules: string | RuleGroup, find: FindSource): RuleGroup<ColumnSource> {
  if (typeof rules === 'string') return checked(readRules(rules, find), 'rules');
  return {
    holds: rules.holds,
    of: rules.of.map((rule) =>
      'of' in rule ? openRules(rule, find) : { ...rule, source: known(rule.source, find, 'rules') },
    ),
  };
}

function openColumns(columns: NonNullable<RecipeFile['columns']>, find: FindSource): Column[] {
  if (typeof columns === 'string') return checked(readColumns(columns, find), 'columns');
  const ids = new Set<string>();
  const made = columns
    .flatMap((given) =>
      typeof given === 'string' ? checked(readColumns(given, find), 'columns') : [openColumn(given, find)],
    )
    .map((column) => {
      const id = ids.has(column.id) ? `${column.id} ${ids.size + 1}` : column.id;
      ids.add(id);
      return { ...column, id };
    });
  // Only now is every heading known by which one column may name another.
  const byHeading = new Map(
    made.flatMap((column) => (column.expression === undefined ? [] : [[column.heading, referenceOf(column)] as const])),
  );
  const resolved = made.map((column) =>
    column.expression === undefined
      ? column
      : {
          ...column,
          expression: checked(
            toStored(column.expression, (name) =>
              name.startsWith('column:') ? name : (byHeading.get(name) ?? find(name)),
            ),
            'columns',
          ),
        },
  );
  const circle = circleIn(resolved);
  if (circle) throw new Refusal('recipe-circle', circle.reason);
  return resolved;
}

function openColumn(
  { id, source: name, heading, expression, ...rest }: Exclude<NonNullable<RecipeFile['columns']>[number], string>,
  find: FindSource,
): Column {
  const source = name === 'pattern' || name === 'formula' ? name : known(name, find, 'columns');
  const usual = newColumn(source, id ?? (expression === undefined ? source : `${source} ${heading ?? ''}`.trim()));
  return {
    ...usual,
    ...rest,
    ...(heading === undefined ? {} : { heading }),
    ...(expression === undefined ? {} : { expression }),
  };
}

function known(name: string, find: FindSource, what: string): ColumnSource {
  const source = find(name);
  if (!source)
    throw new Refusal(
      'unknown-column',
      `The recipe's ${what} name “${name}”, but no column or property is called so in this file.`,
    );
  return source;
}

function checked<Content>(read: Checked<Content>, what: string): Content {
  if (!read.ok) throw new Refusal('recipe-unread', `The ${what} of the recipe: ${read.fault.message}`);
  return read.content;
}

/** Finds components by key, part number or name; remembers what was asked for in vain. */
class PartFinder {
  private readonly byNumber = new Map<string, ComponentKey[]>();
  private readonly byName = new Map<string, ComponentKey[]>();
  private readonly missing = new Set<string>();

  constructor(assembly: Assembly) {
    for (const { key, partNumber, name } of assembly.components) {
      if (partNumber) this.byNumber.set(partNumber, [...(this.byNumber.get(partNumber) ?? []), key]);
      if (name) this.byName.set(name, [...(this.byName.get(name) ?? []), key]);
    }
  }

  /** All components that are called so; a key is taken as it is, since a later revision may know it. */
  all(name: string): ComponentKey[] {
    if (KEY.test(name)) return [name as ComponentKey];
    const found = this.byNumber.get(name) ?? this.byName.get(name);
    if (!found) this.missing.add(name);
    return found ?? [];
  }

  one(name: string): ComponentKey | null {
    return this.all(name)[0] ?? null;
  }

  /** `part`, or `part@parent` in an indented list. */
  addresses(name: string): Address[] {
    if (name.startsWith('line:')) return [name as Address];
    const at = name.lastIndexOf('@');
    const parent = at < 0 ? null : this.one(name.slice(at + 1));
    if (at < 0 || parent === null) return this.all(name) as unknown as Address[];
    return this.all(name.slice(0, at)).map((key) => `${key}@${parent}` as Address);
  }

  keyed<Given, Content>(
    record: Readonly<Record<string, Given>> | undefined,
    make: (given: Given) => Content | null,
  ): Record<ComponentKey, Content> {
    return this.collect(record, make, (name) => this.all(name)) as Record<ComponentKey, Content>;
  }

  addressed<Given, Content>(
    record: Readonly<Record<string, Given>> | undefined,
    make: (given: Given) => Content | null,
  ): Record<Address, Content> {
    return this.collect(record, make, (name) => this.addresses(name)) as Record<Address, Content>;
  }

  private collect<Given, Content>(
    record: Readonly<Record<string, Given>> | undefined,
    make: (given: Given) => Content | null,
    find: (name: string) => string[],
  ): Record<string, Content> {
    const made: Record<string, Content> = {};
    for (const [name, given] of Object.entries(record ?? {})) {
      const content = make(given);
      if (content !== null) for (const key of find(name)) made[key] = content;
    }
    return made;
  }

  findings(): Finding[] {
    const names = [...this.missing];
    return names.length === 0
      ? []
      : [
          {
            code: 'recipe-part-missing',
            message: `The recipe names ${names
              .slice(0, 8)
              .map((name) => `“${name}”`)
              .join(
                ', ',
              )}${names.length > 8 ? ` and ${names.length - 8} more` : ''}, which this file does not have; what it says of ${names.length === 1 ? 'it' : 'them'} is passed over.`,
          },
        ];
  }
}

/** What subtotals are of, where columns are only named. */
const SUMMED = new Set<ColumnSource>(['quantity', 'totalQuantity', 'massTotal']);
const KEY = /^[0-9a-f]{32}$/;
