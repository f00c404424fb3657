import { cheapestAssignment } from '../balloons/index.ts';
import { groupBy, type Component, type Usage } from '../assembly/index.ts';
import { hypot, type Placement } from '../geometry/index.ts';
import { SAME_PLACE } from './prints.ts';

/** Directions this near are one; of their length, which is 1. */
const SAME_TURN = 1e-6;
/** More of one component under one parent than this are not all compared with one another. */
const MOST_ASSIGNED = 250;
/** … and with more pairs than this not even each with each: they are taken in their order. */
const MOST_COMPARED = 4_000_000;
/** Labels that differ weigh more than any distance within a machine. */
const OTHER_LABEL = 1e12;

/** How far apart two places are; mm. */
export const distanceOf = (one: Placement, other: Placement): number =>
  hypot(one[3] - other[3], one[7] - other[7], one[11] - other[11]);

export function sameTurn(one: Placement, other: Placement): boolean {
  for (let row = 0; row < 12; row += 4)
    for (let at = row; at < row + 3; at++) if (Math.abs(one[at] - other[at]) > SAME_TURN) return false;
  return true;
}

/** Whether two placements are one but for noise. */
export const samePlacement = (one: Placement, other: Placement): boolean =>
  one === other || (distanceOf(one, other) <= SAME_PLACE && sameTurn(one, other));

/**
 * What a label says of a place: nothing where it is a running number, by itself or behind what is used, since writers
 * give those out anew with every file.
 */
function meant(label: string, { partNumber, name }: Pick<Component, 'partNumber' | 'name'>): string {
  let left = label;
  for (const own of [partNumber, name]) if (own) left = left.replace(own, '');
  return /\p{L}/u.test(left) ? label : '';
}

/**
 * For every usage of a component in the later assembly its index in the earlier one, −1 for those that are new: by what
 * is used, then by place, then by label, then the nearest. So equal things that swapped their order are where they were.
 * @param wasChild index in the earlier assembly of what the later one uses; −1 for what is new
 * @param used of the later assembly, by index
 */
export function matchUsages(
  before: Component,
  after: Component,
  wasChild: (child: number) => number,
  used: (child: number) => Component,
): Int32Array {
  const found = new Int32Array(after.usages.length).fill(-1);
  const taken = new Uint8Array(before.usages.length);
  const take = (is: number, was: number) => {
    found[is] = was;
    taken[was] = 1;
  };
  // A fresh export mostly keeps the order: then nothing needs to be looked for.
  after.usages.forEach((usage, is) => {
    const other = before.usages[is];
    if (
      other?.child === wasChild(usage.child) &&
      (other.label === usage.label || !meant(usage.label, used(usage.child))) &&
      samePlacement(other.placement, usage.placement)
    )
      take(is, is);
  });
  const open = [...found.keys()].filter((is) => found[is] < 0 && wasChild(after.usages[is].child) >= 0);
  if (open.length === 0) return found;
  const earlier = groupBy(
    [...taken.keys()].filter((was) => taken[was] === 0),
    (was) => before.usages[was].child,
  );
  for (const [child, later] of groupBy(open, (is) => wasChild(after.usages[is].child))) {
    const here = earlier.get(child);
    const labelOf = ({ label }: Usage) => meant(label, used(after.usages[later[0]].child));
    if (here) matchPlaces(here, later, before.usages, after.usages, labelOf, take);
  }
  return found;
}

/** Usages of one component under one parent. */
function matchPlaces(
  earlier: readonly number[],
  later: readonly number[],
  before: readonly Usage[],
  after: readonly Usage[],
  labelOf: (usage: Usage) => string,
  take: (is: number, was: number) => void,
): void {
  const left = new Set(earlier);
  const placeOf = (usage: Usage, { placement } = usage) =>
    `${labelOf(usage)}|${Math.round(placement[3] * 1e3)}|${Math.round(placement[7] * 1e3)}|${Math.round(placement[11] * 1e3)}`;
  const places = groupBy(earlier, (was) => placeOf(before[was]));
  const open = later.filter((is) => {
    const here = places.get(placeOf(after[is])) ?? [];
    const at = here.findIndex((one) => samePlacement(before[one].placement, after[is].placement));
    if (at < 0) return true;
    const [was] = here.splice(at, 1);
    left.delete(was);
    take(is, was);
    return false;
  });
  // Squares: many that moved a little are likelier than one that went all the way past the others.
  const cost = (was: number, is: number) =>
    distanceOf(before[was].placement, after[is].placement) ** 2 +
    (sameTurn(before[was].placement, after[is].placement) ? 0 : SAME_PLACE) +
    (labelOf(before[was]) === labelOf(after[is]) ? 0 : OTHER_LABEL);
  const [few, many] = left.size <= open.length ? [[...left], open] : [open, [...left]];
  const isLater = few === open;
  const pair = (one: number, other: number) => (isLater ? take(one, other) : take(other, one));
  const costBetween = (one: number, other: number) => (isLater ? cost(other, one) : cost(one, other));
  if (few.length === 0) return;
  if (few.length * many.length > MOST_COMPARED) return few.forEach((one, at) => pair(one, many[at]));
  if (many.length > MOST_ASSIGNED) return nearestFirst(few, many, costBetween, pair);
  const costs = Float64Array.from(few.flatMap((one) => many.map((other) => costBetween(one, other))));
  cheapestAssignment(costs, few.length, many.length).forEach((column, row) => pair(few[row], many[column]));
}

/** Each of the few takes the nearest that is left: not the best of all, but as many as there are can be done. */
function nearestFirst(
  few: readonly number[],
  many: readonly number[],
  cost: (one: number, other: number) => number,
  pair: (one: number, other: number) => void,
): void {
  const left = [...many];
  for (const one of few) {
    let best = 0,
      least = Infinity;
    left.forEach((other, at) => {
      const now = cost(one, other);
      if (now < least) [best, least] = [at, now];
    });
    pair(one, left[best]);
    left[best] = left[left.length - 1];
    left.pop();
  }
}
