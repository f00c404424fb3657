import { firstFit } from './firstFit.ts';
import { costOf, leanBars, type FilledBars, type Instance } from './instance.ts';
import type { Master } from './master.ts';

/** What a fraction has to be, at least, to be rounded up with others in one step. */
const NEARLY = 0.999;

/**
 * Whole bars from the relaxed problem: what is whole in it is taken, then what is nearly so, and the rest is relaxed
 * again, until nothing is left. At each step the rest is also filled by first fit, which often ends it.
 * @param limits bars of each kind, at most
 * @param below a plan that costs as much is of no use
 * @param random for choices among equals; the same numbers give the same plan
 * @returns null where it leads nowhere
 */
export function dive(
  master: Master,
  instance: Instance,
  limits: readonly number[],
  below: number,
  random: () => number,
  shouldStop: () => boolean,
): FilledBars[] | null {
  const left = [...instance.demands],
    bars = [...limits],
    taken: FilledBars[] = [];
  let best: FilledBars[] | null = null,
    least = below;
  const take = (kind: number, fill: readonly number[], count: number) => {
    for (const bar of leanBars(left, [{ kind, fill, count: Math.min(count, bars[kind]) }])) {
      bar.fill.forEach((inBar, at) => (left[at] -= inBar * bar.count));
      bars[kind] -= bar.count;
      taken.push(bar);
    }
  };
  const finish = () => {
    const rest = firstFit(instance, left, bars);
    if (!rest) return;
    const plan = [...taken, ...rest];
    const cost = costOf(instance, plan);
    if (cost < least) {
      best = plan;
      least = cost;
    }
  };
  while (left.some((count) => count > 0)) {
    if (shouldStop()) break;
    const { uses, cost, missing } = master.solve(left, bars);
    if (missing > 1e-7 || costOf(instance, taken) + cost >= least - 1e-6 * Math.max(1, Math.abs(least))) break;
    const whole = uses.filter(({ amount }) => amount >= NEARLY);
    const before = taken.length;
    if (whole.length > 0) for (const { kind, fill, amount } of whole) take(kind, fill, Math.floor(amount + 1 - NEARLY));
    else {
      let chosen = uses[0],
        weight = -1;
      for (const use of uses) {
        const own = use.amount + 0.3 * random();
        if (own > weight) {
          weight = own;
          chosen = use;
        }
      }
      if (chosen) take(chosen.kind, chosen.fill, 1);
    }
    if (taken.length === before) break;
    finish();
  }
  if (left.every((count) => count === 0) && costOf(instance, taken) < least) best = taken;
  return best;
}
