import type { Address } from '../../bill/index.ts';
import type { BuyingPlan, BuyingRole, GroupChoice, IssuedOrder, LineChoice } from '../../buying/index.ts';
import { currencies } from '../../columns/index.ts';
import { changeEntries, done, refused, withFields, type CommandTable } from './applied.ts';

/** What is one value of a plan each. */
type PlanChange = {
  readonly [
    Key in
      'bill' | 'builds' | 'sparePercent' | 'currency' | 'catalogues' | 'stock' | 'kerfMm' | 'trimMm' | 'leastLeftOverMm'
  ]?: BuyingPlan[Key];
};
/** What is told entry by entry; null takes one away. */
interface PlanEntries {
  /** By currency. */
  readonly rates?: Readonly<Record<string, number | null>>;
  /** By role. */
  readonly sources?: { readonly [Role in BuyingRole]?: string | null };
  /** By address of the line. */
  readonly lines?: Readonly<Record<Address, LineChoice | null>>;
  /** By key of the section. */
  readonly groups?: Readonly<Record<string, GroupChoice | null>>;
}

export type BuyingCommand =
  | { readonly kind: 'renamePlan'; readonly name: string }
  /** Takes the plan away, or brings it (back). */
  | { readonly kind: 'setAway'; readonly away: boolean }
  | { readonly kind: 'changePlan'; readonly change: PlanChange }
  | { readonly kind: 'setEntries'; readonly entries: PlanEntries };

/** No plan is for more machines than this. */
export const MOST_MACHINES = 1_000_000;

export const buyingCommands: CommandTable<BuyingPlan, BuyingCommand> = {
  renamePlan: {
    apply: (plan, { name }) =>
      name.trim() === ''
        ? refused('A plan needs a name.')
        : done(plan, { name }, { kind: 'renamePlan', name: plan.name }),
    words: ({ name }) => `rename the plan ${name}`,
    touches: () => ['name'],
  },
  setAway: {
    apply: (plan, { away }) => withFields(plan, { away: away || null }, { kind: 'setAway', away: plan.away ?? false }),
    words: ({ away }) => (away ? 'take the plan away' : 'bring the plan back'),
    touches: () => ['away'],
  },
  changePlan: {
    apply: (plan, { change }) => {
      const { builds, currency } = change;
      if (builds && new Set(builds.map(({ variant }) => variant)).size < builds.length)
        return refused('Each variant is built so and so often, once.');
      if (builds && builds.reduce((sum, { count }) => sum + count, 0) === 0)
        return refused('At least one machine is built.');
      if (currency !== undefined && !(currencies as readonly string[]).includes(currency))
        return refused(`${currency} is no currency that is known.`);
      const before = Object.fromEntries(
        Object.keys(change).map((key) => [key, plan[key as keyof PlanChange]]),
      ) as PlanChange;
      return done(plan, change, { kind: 'changePlan', change: before });
    },
    words: () => 'change the plan',
    touches: ({ change }) => Object.keys(change),
  },
  setEntries: {
    apply: (plan, { entries }) => {
      const changed: Record<string, unknown> = {},
        before: Record<string, unknown> = {};
      for (const [field, own] of Object.entries(entries)) {
        const { map, before: were } = changeEntries(plan[field as keyof PlanEntries] as Record<string, unknown>, own);
        changed[field] = map;
        before[field] = were;
      }
      return done(plan, changed, { kind: 'setEntries', entries: before as PlanEntries });
    },
    words: () => 'say something of lines of the plan',
    touches: ({ entries }) =>
      Object.entries(entries).flatMap(([field, own]) => Object.keys(own as object).map((key) => `${field} ${key}`)),
  },
};

/** An issued order stays as it is; it can only be taken away and come back. */
export type OrderCommand = { readonly kind: 'setAway'; readonly away: boolean };

export const orderCommands: CommandTable<IssuedOrder, OrderCommand> = {
  setAway: {
    apply: (order, { away }) =>
      withFields(order, { away: away || null }, { kind: 'setAway', away: order.away ?? false }),
    words: ({ away }) => (away ? 'take the order away' : 'bring the order back'),
    touches: () => ['away'],
  },
};

/** One with nothing on it. */
export const emptyOrder: IssuedOrder = {
  version: 1,
  number: '0',
  date: '2000-01-01',
  plan: '',
  what: '',
  revision: '',
  currency: 'EUR',
  lines: [],
};
