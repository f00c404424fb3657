import type { OrderLine } from './orders.ts';
import type { RequirementLine } from './records.ts';

export const driverMeasures = ['cost', 'mass', 'lead time'] as const;
export type DriverMeasure = (typeof driverMeasures)[number];

/** What a part of the machine weighs in: its share, and that of all up to it. */
interface Driver {
  readonly key: string;
  readonly title: string;
  /** Currency of the plan, kg, or days. */
  readonly amount: number;
  /** Of all that is known, 0 to 1; 0 for lead times, which do not add up. */
  readonly share: number;
  /** Of this and all larger ones. */
  readonly cumulative: number;
}
interface Drivers {
  /** Largest first. */
  readonly drivers: readonly Driver[];
  /** Lines of which it is not known. */
  readonly unknown: number;
}

/** What drives cost or lead time of an order, or the mass of all machines. */
export function driversOf(
  measure: DriverMeasure,
  order: readonly OrderLine[],
  requirement: readonly RequirementLine[],
): Drivers {
  const told =
    measure === 'mass'
      ? requirement.flatMap((line) =>
          line.kind === 'each' && line.needed !== null && line.needed > 0
            ? [
                {
                  key: line.key,
                  title: titleOf(line),
                  amount: line.massEach === null ? null : line.massEach * line.needed,
                },
              ]
            : [],
        )
      : order.map((line) => ({
          key: line.key,
          title: titleOf(line),
          amount: measure === 'cost' ? line.cost : line.leadDays,
        }));
  const known = told.flatMap(({ amount, ...one }) => (amount === null || amount <= 0 ? [] : [{ ...one, amount }]));
  known.sort((one, other) => other.amount - one.amount);
  const all = known.reduce((sum, { amount }) => sum + amount, 0);
  let cumulative = 0;
  return {
    drivers: known.map((one) => {
      const share = measure === 'lead time' || all === 0 ? 0 : one.amount / all;
      cumulative += share;
      return { ...one, share, cumulative };
    }),
    unknown: told.filter(({ amount }) => amount === null).length,
  };
}
const titleOf = ({ name, partNumber }: Pick<OrderLine, 'name' | 'partNumber'>): string => name || partNumber;
