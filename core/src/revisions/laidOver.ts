import { refuseTooMany, type Assembly, type Component, type Occurrence, type Usage } from '../assembly/index.ts';
import { composePlacements, identityPlacement } from '../geometry/index.ts';
import { distanceOf, sameTurn } from './usages.ts';

/** Where the bodies of two machines stand that are laid over one another. */
interface LaidOver {
  /** Bodies that are in both, in one place and of one shape; as the later assembly has them. */
  readonly stays: readonly Occurrence[];
  /** Those of the earlier one that are not there any more, stood elsewhere or had another shape. */
  readonly was: readonly Occurrence[];
  /** Those of the later one that are not as they were. */
  readonly is: readonly Occurrence[];
}

/** What has moved by less stands where it stood: no picture of a whole machine shows it. mm */
const UNSEEN = 0.05;

/**
 * Two machines under one set of keys, neither of them a variant, as they stand over one another: what is one in both is
 * there once. One walk through both at once, usage by usage.
 * @throws Refusal where either has more occurrences than can be shown
 */
export function laidOver(before: Assembly, after: Assembly): LaidOver {
  for (const assembly of [before, after]) refuseTooMany(assembly, (index) => assembly.components[index].shape !== null);
  const stays: Occurrence[] = [],
    was: Occurrence[] = [],
    is: Occurrence[] = [];
  const visit = (one: Occurrence | null, other: Occurrence | null) => {
    const wasIn = one && before.components[one.components[one.components.length - 1]],
      isIn = other && after.components[other.components[other.components.length - 1]];
    if (one && other && isOneBody(wasIn!, isIn!) && standsAlike(one, other)) stays.push(other);
    else {
      if (one && wasIn!.shape !== null) was.push(one);
      if (other && isIn!.shape !== null) is.push(other);
    }
    for (const [usage, later] of paired(wasIn?.usages ?? [], isIn?.usages ?? []))
      visit(usage && within(one!, usage), later && within(other!, later));
  };
  const top = ({ root, turn }: Assembly): Occurrence => ({
    path: [],
    components: [root],
    placement: turn ?? identityPlacement,
  });
  visit(top(before), top(after));
  return { stays, was, is };
}

const isOneBody = (one: Component, other: Component): boolean =>
  one.shape !== null && one.shape === other.shape && one.key === other.key;

const standsAlike = ({ placement: one }: Occurrence, { placement: other }: Occurrence): boolean =>
  distanceOf(one, other) <= UNSEEN && sameTurn(one, other);

const within = ({ path, components, placement }: Occurrence, usage: Usage): Occurrence => ({
  path: [...path, usage.key],
  components: [...components, usage.child],
  placement: composePlacements(placement, usage.placement),
});

/** Usages of one key together; null where one side lacks it. */
function* paired(
  before: readonly Usage[],
  after: readonly Usage[],
): Generator<readonly [was: Usage | null, is: Usage | null]> {
  // A fresh export mostly keeps the order: then nothing needs to be looked for.
  if (before.length === after.length && before.every(({ key }, at) => key === after[at].key)) {
    for (const [at, usage] of before.entries()) yield [usage, after[at]];
    return;
  }
  const left = new Map(before.map((usage) => [usage.key, usage]));
  for (const usage of after) {
    yield [left.get(usage.key) ?? null, usage];
    left.delete(usage.key);
  }
  for (const usage of left.values()) yield [usage, null];
}
