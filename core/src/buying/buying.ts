import type { Assembly, Treatment, ComponentIndex } from '../assembly/index.ts';
import type { Catalogue } from '../catalogues/index.ts';
import type { CutPlan } from '../cutting/index.ts';
import { cutGroups, groupProblems, plateSums, type CutGroup, type PlannedGroup, type PlateSum } from './cutGroups.ts';
import { longestLead, type LeadTime } from './leadTime.ts';
import { costOfOrder, orderLines, type OrderCost, type OrderLine } from './orders.ts';
import type { BuyingPlan, BuyingProblem, RequirementLine } from './records.ts';
import { requirementOf, type BuiltBill, type Requirement } from './requirement.ts';
import { stockOf } from './stock.ts';

/** One build of the machine: its list with every part once, and how its structure is opened. */
export interface BuildInput extends BuiltBill {
  readonly treatments: readonly (Treatment | undefined)[];
  /** Days that a component says that it takes, by index; null where it says nothing. */
  readonly daysOf: (component: ComponentIndex) => number | null;
}

/** What is needed and which bars there are: everything but the plans, which take longer. */
export interface BuyingNeed {
  readonly requirement: Requirement;
  readonly groups: readonly CutGroup[];
  readonly plates: readonly PlateSum[];
  readonly problems: readonly BuyingProblem[];
}

/** Everything that a plan comes to. */
export interface Buying extends BuyingNeed {
  readonly planned: readonly PlannedGroup[];
  readonly order: readonly OrderLine[];
  readonly cost: OrderCost;
  readonly lead: LeadTime;
}

/** @param catalogues those that bars are bought from */
export function buyingNeed(
  builds: readonly BuildInput[],
  plan: BuyingPlan,
  catalogues: readonly Catalogue[],
  itemsOf: (key: string) => readonly string[],
): BuyingNeed {
  const requirement = requirementOf(builds, plan, itemsOf);
  const stock = catalogues.map((catalogue) => stockOf(catalogue, plan));
  const { groups, problems } = cutGroups(
    requirement.lines,
    plan,
    stock.flatMap(({ items }) => items),
  );
  const cut = new Set(groups.flatMap(({ key, stock: bars }) => (bars.length > 0 ? [key] : [])));
  return {
    requirement,
    groups,
    // What bars are there for is no plate
    plates: plateSums(requirement.lines.filter(({ group }) => group === null || !cut.has(group))),
    problems: [...requirement.problems, ...stock.flatMap((one) => one.problems), ...problems],
  };
}

/** @param plans by key of the group */
export function buyingOf(builds: readonly BuildInput[], need: BuyingNeed, plans: ReadonlyMap<string, CutPlan>): Buying {
  const { lines } = need.requirement;
  const planned = need.groups.map((group): PlannedGroup => ({ group, plan: plans.get(group.key) ?? null }));
  const order = orderLines(lines, planned);
  const titles = new Map(lines.map((line) => [line.key, titleOf(line)]));
  const problems = planned.flatMap((one) => groupProblems(one, (key) => titles.get(key) ?? key));
  return {
    ...need,
    planned,
    order,
    cost: costOfOrder(order),
    lead: leadOf(builds, lines, planned),
    problems: [...need.problems, ...problems],
  };
}

const titleOf = ({ items, partNumber, name }: RequirementLine): string =>
  [items.length > 0 ? `item ${items.join(', ')}` : '', partNumber || name].filter(Boolean).join(', ');

function leadOf(
  builds: readonly BuildInput[],
  lines: readonly RequirementLine[],
  planned: readonly PlannedGroup[],
): LeadTime {
  const lineOf = new Map<string, RequirementLine>();
  for (const line of lines) for (const component of line.components) lineOf.set(component, line);
  const barOf = new Map(
    planned.flatMap(({ group, plan }) => {
      const used = new Set(plan?.bars.map(({ stock }) => stock));
      const slowest = [...used]
        .map((index) => group.stock[index])
        .filter(({ leadDays }) => leadDays !== null)
        .sort((one, other) => other.leadDays! - one.leadDays!)[0];
      return slowest ? [[group.key, { name: `bars of ${group.section}`, days: slowest.leadDays! }] as const] : [];
    }),
  );
  const all = builds
    .filter(({ machines }) => machines > 0)
    .map(({ assembly, treatments, daysOf }) =>
      longestLead(assembly, treatments, (index) => {
        const component: Assembly['components'][number] = assembly.components[index];
        const line = lineOf.get(component.key);
        const name = component.name || component.partNumber;
        // What is there already keeps nobody waiting.
        if (line?.toGet === 0) return { name, days: 0 };
        const stock = line?.group ? barOf.get(line.group) : undefined;
        return { name, days: line ? line.leadDays : daysOf(index), stock };
      }),
    );
  // Lines without a shape stand in no structure.
  const apart = lines
    .filter(({ components, toGet }) => components.length === 0 && toGet !== 0)
    .map(({ name, partNumber, leadDays }): LeadTime => ({
      days: leadDays,
      because: leadDays === null ? [] : [{ name: name || partNumber, days: leadDays }],
    }));
  return [...all, ...apart].reduce((most, one) => ((one.days ?? -1) > (most.days ?? -1) ? one : most), {
    days: null,
    because: [],
  });
}

/** Two plans side by side. */
interface ComparedPlans {
  readonly cost: readonly [number, number];
  readonly unknown: readonly [number, number];
  readonly days: readonly [number | null, number | null];
  readonly bars: readonly [number, number];
  readonly wasteMm: readonly [number, number];
  readonly boughtMm: readonly [number, number];
  /** Section by section. */
  readonly sections: readonly {
    readonly key: string;
    readonly title: string;
    /** In words, by length: `3 × 6000`; empty where there is no plan. */
    readonly bars: readonly [string, string];
    readonly cost: readonly [number | null, number | null];
    readonly wasteMm: readonly [number | null, number | null];
  }[];
}

export function comparePlans(one: Buying, other: Buying): ComparedPlans {
  const both = <Of>(of: (buying: Buying) => Of): readonly [Of, Of] => [of(one), of(other)];
  const plans = ({ planned }: Buying) => planned.flatMap(({ plan }) => (plan ? [plan] : []));
  const sum = (of: (plan: CutPlan) => number) =>
    both((buying) => plans(buying).reduce((all, plan) => all + of(plan), 0));
  const keys = [...new Set([...one.planned, ...other.planned].map(({ group }) => group.key))];
  return {
    cost: both(({ cost }) => cost.known),
    unknown: both(({ cost }) => cost.unknown.length),
    days: both(({ lead }) => lead.days),
    bars: sum(({ bars }) => bars.reduce((all, { count }) => all + count, 0)),
    wasteMm: sum(({ wasteMm }) => wasteMm),
    boughtMm: sum(({ boughtMm }) => boughtMm),
    sections: keys.map((key) => {
      const found = both(({ planned }) => planned.find(({ group }) => group.key === key));
      const { group } = (found[0] ?? found[1])!;
      const ofEach = <Of>(of: (planned: PlannedGroup) => Of, none: Of): readonly [Of, Of] => [
        found[0] ? of(found[0]) : none,
        found[1] ? of(found[1]) : none,
      ];
      return {
        key,
        title: [group.section, group.material].filter(Boolean).join(', '),
        bars: ofEach(barsText, ''),
        cost: ofEach(({ plan }) => (plan?.measure === 'price' ? plan.cost : null), null as number | null),
        wasteMm: ofEach(({ plan }) => plan?.wasteMm ?? null, null as number | null),
      };
    }),
  };
}

/** `3 × 6000, 1 × 4000`, the longest first. */
export function barsText({ group, plan }: PlannedGroup): string {
  if (!plan) return '';
  const counts = new Map<number, number>();
  for (const { stock, count } of plan.bars) {
    const { lengthMm } = group.stock[stock];
    counts.set(lengthMm, (counts.get(lengthMm) ?? 0) + count);
  }
  return [...counts]
    .sort(([one], [other]) => other - one)
    .map(([lengthMm, count]) => `${count} × ${Number(lengthMm.toFixed(2))}`)
    .join(', ');
}
