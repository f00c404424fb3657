import { groupBy } from '../assembly/index.ts';
import { cheapestAssignment } from '../balloons/index.ts';

/** The best match of more than this at once is sought greedily. */
const MOST_ASSIGNED = 250;

/** Two components that may be one, by their indices, and how many points speak for it. */
export interface Candidate {
  readonly was: number;
  readonly is: number;
  readonly score: number;
}

/** Candidates that hang together over the components that they are about. */
export function blocksOf(candidates: readonly Candidate[], width: number): Candidate[][] {
  const parent = new Map<number, number>();
  const rootOf = (node: number): number => {
    let at = node;
    for (let up = parent.get(at); up !== undefined && up !== at; up = parent.get(at)) {
      parent.set(at, parent.get(up) ?? up);
      at = up;
    }
    return at;
  };
  for (const { was, is } of candidates) {
    const one = rootOf(was),
      other = rootOf(width + is);
    if (one !== other) parent.set(one, other);
  }
  return [...groupBy(candidates, ({ was }) => rootOf(was)).values()];
}

/** Of pairs, those that exclude one another no more and have most points together. */
export function bestOf(block: readonly Candidate[]): Candidate[] {
  if (block.length === 1) return [...block];
  const before = [...new Set(block.map(({ was }) => was))].sort((one, other) => one - other),
    after = [...new Set(block.map(({ is }) => is))].sort((one, other) => one - other);
  if (Math.max(before.length, after.length) > MOST_ASSIGNED) return greedily(block);
  const rowOf = new Map(before.map((was, row) => [was, row])),
    columnOf = new Map(after.map((is, column) => [is, column]));
  // Every row may also stay alone, in a column of its own that costs nothing.
  const width = after.length + before.length;
  const costs = new Float64Array(before.length * width);
  const pairs = new Map<number, Candidate>();
  costs.fill(ALONE_TOGETHER);
  for (let row = 0; row < before.length; row++) costs.fill(0, row * width + after.length, (row + 1) * width);
  for (const candidate of block) {
    const at = rowOf.get(candidate.was)! * width + columnOf.get(candidate.is)!;
    costs[at] = -candidate.score;
    pairs.set(at, candidate);
  }
  const chosen = cheapestAssignment(costs, before.length, width);
  return [...chosen].flatMap((column, row) => pairs.get(row * width + column) ?? []);
}
/** What a pair costs that has nothing in common. */
const ALONE_TOGETHER = 1000;

function greedily(block: readonly Candidate[]): Candidate[] {
  const earlier = new Set<number>(),
    later = new Set<number>();
  return [...block]
    .sort((one, other) => other.score - one.score || one.was - other.was || one.is - other.is)
    .filter(({ was, is }) => {
      if (earlier.has(was) || later.has(is)) return false;
      earlier.add(was);
      later.add(is);
      return true;
    });
}
