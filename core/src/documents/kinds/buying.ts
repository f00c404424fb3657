import type { Address } from '../../bill/index.ts';
import type { BuyingPlan, BuyingRole, GroupChoice, IssuedOrder, LineChoice } from '../../buying/index.ts';
import { currencies } from '../../columns/index.ts';
import { changeEntries, changeFields, refused, type Applied, type Refused } from './applied.ts';

/** What is one value of a plan each. */
export type PlanChange = {
  readonly [
    Key in
      'bill' | 'builds' | 'sparePercent' | 'currency' | 'catalogues' | 'stock' | 'kerfMm' | 'trimMm' | 'leastLeftOverMm'
  ]?: BuyingPlan[Key];
};
/** What is told entry by entry; null takes one away. */
export interface PlanEntries {
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

type Done = Applied<BuyingPlan, BuyingCommand> | Refused;

export function applyBuyingCommand(plan: BuyingPlan, command: BuyingCommand): Done {
  switch (command.kind) {
    case 'renamePlan':
      return command.name.trim() === ''
        ? refused('A plan needs a name.')
        : { ok: true, document: { ...plan, name: command.name }, inverse: { kind: 'renamePlan', name: plan.name } };
    case 'setAway': {
      const { changed, before } = changeFields<BuyingPlan>(plan, { away: command.away ? true : null });
      return { ok: true, document: changed, inverse: { kind: 'setAway', away: before.away ?? false } };
    }
    case 'changePlan': {
      const { builds, currency } = command.change;
      if (builds && new Set(builds.map(({ variant }) => variant)).size < builds.length)
        return refused('Each variant is built so and so often, once.');
      if (builds && builds.reduce((sum, { count }) => sum + count, 0) === 0)
        return refused('At least one machine is built.');
      if (currency !== undefined && !(currencies as readonly string[]).includes(currency))
        return refused(`${currency} is no currency that is known.`);
      const before = Object.fromEntries(
        Object.keys(command.change).map((key) => [key, plan[key as keyof PlanChange]]),
      ) as PlanChange;
      return {
        ok: true,
        document: { ...plan, ...command.change },
        inverse: { kind: 'changePlan', change: before },
      };
    }
    case 'setEntries': {
      const changed: Record<string, unknown> = {},
        before: Record<string, unknown> = {};
      for (const [field, entries] of Object.entries(command.entries)) {
        const done = changeEntries(plan[field as keyof PlanEntries] as Record<string, unknown>, entries);
        changed[field] = done.map;
        before[field] = done.before;
      }
      return {
        ok: true,
        document: { ...plan, ...changed },
        inverse: { kind: 'setEntries', entries: before as PlanEntries },
      };
    }
  }
}

export function buyingTouches(command: BuyingCommand): string[] {
  switch (command.kind) {
    case 'renamePlan':
      return ['name'];
    case 'setAway':
      return ['away'];
    case 'changePlan':
      return Object.keys(command.change);
    case 'setEntries':
      return Object.entries(command.entries).flatMap(([field, entries]) =>
        Object.keys(entries as object).map((key) => `${field} ${key}`),
      );
  }
}

/** An issued order stays as it is; it can only be taken away and come back. */
export type OrderCommand = { readonly kind: 'setAway'; readonly away: boolean };

export function applyOrderCommand(order: IssuedOrder, { away }: OrderCommand): Applied<IssuedOrder, OrderCommand> {
  const { changed, before } = changeFields<IssuedOrder>(order, { away: away ? true : null });
  return { ok: true, document: changed, inverse: { kind: 'setAway', away: before.away ?? false } };
}

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
