import { isAssembly, ownValue, type EditedAssembly, type Treatment } from '../../assembly/index.ts';
import type { Address } from '../../bill/index.ts';
import {
  buyingNeed,
  daysOf,
  NotKnown,
  sourcesFor,
  type BuildInput,
  type BuyingNeed,
  type BuyingPlan,
} from '../../buying/index.ts';
import type { Catalogue } from '../../catalogues/index.ts';
import { componentValue, propertyNames, type ColumnSource } from '../../columns/index.ts';
import type { BillDocument } from '../kinds/bill.ts';
import { editedFor, projectBill, type ProjectBillInput } from './projectBill.ts';

/** A plan of buying and everything that it is computed from. */
export interface ProjectBuyingInput extends ProjectBillInput {
  readonly plan: BuyingPlan;
}

/**
 * The builds of a plan, each with its list: every part once and for one machine, as the bill counts and filters it.
 * Subassemblies that it lists whole stay whole. Builds of no machine are left out.
 */
export function buildsOf(input: ProjectBuyingInput): BuildInput[] {
  const { plan, edits } = input;
  const bill = pricedBill(input);
  return plan.builds.flatMap(({ variant, count }): BuildInput[] => {
    // A variant that is gone builds nothing; the plan keeps it in case it comes back.
    if (count === 0 || (variant !== null && !ownValue(edits.variants, variant))) return [];
    const { sort: _sort, groups: _groups, closed: _closed, ...recipe } = bill.recipe;
    const made = projectBill(
      { ...input, bill: { ...bill, recipe: { ...recipe, depth: 'parts-only', machines: 1, variant } } },
      boughtWhole(editedFor(input, variant)),
    );
    const { assembly, treatments } = made.edited;
    const { leadTime } = sourcesFor(plan.sources, propertyNames(assembly));
    return [
      {
        bill: made.bill,
        columns: bill.columns,
        assembly,
        machines: count,
        treatments,
        daysOf: (index) => {
          const component = assembly.components[index];
          const typed = ownValue(plan.lines, component.key as string as Address)?.leadDays;
          const said = leadTime === undefined ? null : daysOf(componentValue(component, leadTime as ColumnSource));
          return typed ?? (said instanceof NotKnown ? null : said);
        },
      },
    ];
  });
}

/** The bill with the catalogues of the plan too, as they are now: what it costs is never what it cost on another day. */
function pricedBill({ bill, plan }: Pick<ProjectBuyingInput, 'bill' | 'plan'>): BillDocument {
  const { kept: _kept, ...rest } = bill;
  const own = bill.catalogues ?? [];
  const more = plan.catalogues.filter((id) => !own.some(({ catalogue }) => catalogue === id));
  return { ...rest, catalogues: [...own, ...more.map((catalogue) => ({ catalogue }))] };
}

/** What is bought is bought whole, unless somebody said how it counts. */
function boughtWhole(edited: EditedAssembly): EditedAssembly {
  const { components, root } = edited.assembly;
  const treatments = components.map((component, index): Treatment | undefined => {
    const isWhole = index !== root && component.source === 'bought' && isAssembly(component);
    return edited.treatments[index] ?? (isWhole ? { ownLine: true, countContents: false } : undefined);
  });
  return { ...edited, treatments };
}

/** What a plan needs, and from which bars; fast, all that takes longer are its cut plans. */
export function needOf(input: ProjectBuyingInput, builds: readonly BuildInput[] = buildsOf(input)): BuyingNeed {
  const { bill, edited } = projectBill(input);
  const items = new Map<string, string[]>();
  const note = (key: string, item: string) => {
    const known = items.get(key);
    if (!known) items.set(key, [item]);
    else if (!known.includes(item)) known.push(item);
  };
  for (const row of bill.rows) {
    if (row.line !== undefined) note(`line:${row.line}`, row.item);
    for (const component of row.components) note(edited.assembly.components[component].key, row.item);
  }
  const stock = input.plan.stock.flatMap((id): Catalogue[] => {
    const found = input.catalogues?.get(id);
    return found ? [found] : [];
  });
  return buyingNeed(builds, input.plan, stock, (key) => items.get(key) ?? []);
}
