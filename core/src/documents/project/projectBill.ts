import {
  ownValue,
  applyVariant,
  Refusal,
  editAssembly,
  type Assembly,
  type ComponentKey,
  type EditedAssembly,
  type FactsByShape,
  type Treatment,
} from '../../assembly/index.ts';
import { lineProperties, linkedOf, withCatalogues, type Catalogue, type KeptValues } from '../../catalogues/index.ts';
import {
  firstNumbers,
  makeBill,
  numbersToKeep,
  type Bill,
  type BillDecisions,
  type BillExtras,
  type VariantInput,
} from '../../bill/index.ts';
import type { Sheet } from '../../sheets/index.ts';
import type { BillDocument } from '../kinds/bill.ts';
import type { ComponentEdits } from '../kinds/components.ts';

/** Everything that a project's bill is computed from. */
export interface ProjectBillInput {
  /** As the file says it. */
  readonly original: Assembly;
  readonly edits: ComponentEdits;
  readonly facts: FactsByShape;
  readonly bill: BillDocument;
  readonly fileName: string;
  /** By document id; those that the bill takes values from. */
  readonly catalogues?: ReadonlyMap<string, Catalogue> | undefined;
  /** Subassembly that the list is of; the whole machine where absent. */
  readonly root?: ComponentKey | undefined;
}

/** The assembly with one of its subassemblies on top. @throws Refusal where it has none of this key */
function rootedAt(assembly: Assembly, root: ComponentKey | undefined): Assembly {
  if (root === undefined) return assembly;
  const at = assembly.components.findIndex(({ key, usages }) => key === root && usages.length > 0);
  if (at < 0) throw new Refusal('not-there', 'That subassembly is no longer in the machine.');
  return { ...assembly, root: at };
}

/** The assembly as the drafter has it, in a variant or (null) as a whole. */
export function editedFor(
  { original, edits, facts }: Pick<ProjectBillInput, 'original' | 'edits' | 'facts'>,
  variant: string | null,
): EditedAssembly {
  const wanted = variant === null ? undefined : ownValue(edits.variants, variant);
  if (!wanted) return editAssembly(original, edits, facts);
  const made = applyVariant(original, edits, wanted);
  return editAssembly(made.assembly, made.edits, facts);
}

const keptMaps = new WeakMap<KeptValues, ReadonlyMap<string, Catalogue>>();
/** The catalogues that a bill reads: those of the day that it keeps, else as they are now. */
export function cataloguesOn(
  { kept }: Pick<BillDocument, 'kept'>,
  now: ReadonlyMap<string, Catalogue> | undefined,
): ReadonlyMap<string, Catalogue> | undefined {
  if (!kept) return now;
  let map = keptMaps.get(kept);
  if (!map) keptMaps.set(kept, (map = new Map(Object.entries(kept.catalogues))));
  return map;
}

/** A bill whose lines without a shape say what the catalogue says of their items, below what was typed for them. */
export function withLiveLines(
  bill: BillDocument,
  catalogues: ReadonlyMap<string, Catalogue> = new Map(),
): BillDocument {
  if (!bill.lines.some(({ from }) => from)) return bill;
  return {
    ...bill,
    lines: bill.lines.map((line) => {
      const catalogue = line.from && catalogues.get(line.from.catalogue);
      const item = catalogue?.items.find(({ id }) => id === line.from!.item);
      return catalogue && item
        ? { ...line, properties: { ...lineProperties(catalogue, item), ...line.properties } }
        : line;
    }),
  };
}

/** Decisions of a stored bill, with how components are treated. */
export const billDecisions = (
  { ledger, joins, apart, overrides, lines }: BillDocument,
  treatments: readonly (Treatment | undefined)[],
): BillDecisions => ({ treatments, ledger, joins, apart, overrides, lines });

/** Of a project's bills the one whose lines and numbers a sheet shows: the one it names, else the first. */
export const billShownBy = <Document extends { readonly id: string }>(
  bills: readonly Document[],
  { bill }: { readonly bill?: Sheet['bill'] | null },
): Document => bills.find(({ id }) => id === bill) ?? bills[0];

/** Variants that a bill shows in columns of their own. */
const variantIdsOf = ({ columns }: Pick<BillDocument, 'columns'>): string[] => [
  ...new Set(
    columns.flatMap(({ source, hidden }) =>
      source.startsWith('variant:') && !hidden ? [source.slice('variant:'.length)] : [],
    ),
  ),
];

/**
 * A stored bill, computed. Formulas among its columns are worked out where their reader is loaded (readyForFormulas).
 * @param edited the assembly of the bill's variant, where it is at hand already; without what catalogues say
 * @returns `edited` with what they say
 */
export function projectBill(
  input: ProjectBillInput,
  edited: EditedAssembly = editedFor(input, input.bill.recipe.variant ?? null),
): { edited: EditedAssembly; bill: Bill; extras: BillExtras; decisions: BillDecisions } {
  const { edits, fileName } = input;
  const catalogues = cataloguesOn(input.bill, input.catalogues);
  const bill = withLiveLines(input.bill, catalogues);
  const linked = linkedOf(bill.catalogues, catalogues);
  const known = withCatalogues(edited, linked);
  const whole = input.root === undefined ? known : { ...known, assembly: rootedAt(known.assembly, input.root) };
  const variants = new Map<string, VariantInput>();
  for (const id of variantIdsOf(bill)) {
    if (!ownValue(edits.variants, id)) continue;
    const { assembly, treatments } = withCatalogues(editedFor(input, id), linked);
    variants.set(id, { assembly: rootedAt(assembly, input.root), treatments });
  }
  const extras: BillExtras = { columns: bill.columns, variants, fileName };
  const decisions = billDecisions(bill, whole.treatments);
  return { edited: whole, bill: makeBill(whole.assembly, bill.recipe, decisions, extras), extras, decisions };
}

/** A new bill with numbers for all its lines: those that it has issued are kept, pins alone leave the others to be given out. */
export function withFirstNumbers(
  bill: BillDocument,
  { assembly, treatments }: Pick<EditedAssembly, 'assembly' | 'treatments'>,
): BillDocument {
  const made = makeBill(assembly, bill.recipe, billDecisions(bill, treatments), { columns: bill.columns });
  const issued = Object.values(bill.ledger).some(({ pinned }) => !pinned);
  const numbers = issued ? numbersToKeep(made) : firstNumbers(made, bill.ledger);
  return { ...bill, ledger: { ...bill.ledger, ...numbers } };
}
