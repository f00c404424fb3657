import { distance2, stretchesCross, type Vec2 } from '../geometry/index.ts';
import { balloonBox, spineToStretch, type Outline } from './outline.ts';
import { LEAST_APART, LEAST_SLANT } from './records.ts';

/** A balloon as it lies on paper. */
interface LaidOutline extends Outline {
  readonly centre: Vec2;
  /** Where its leader ends. */
  readonly anchor: Vec2;
  /** Corners of its leader on the way there; none where absent. */
  readonly bends?: readonly Vec2[];
}

type Stretch = readonly [Vec2, Vec2];
/** The straight pieces of a leader, from the balloon on. */
function piecesOf({ centre, anchor, bends = [] }: LaidOutline): Stretch[] {
  const points = [centre, ...bends, anchor];
  return points.slice(1).map((to, at) => [points[at], to]);
}

/** What makes balloons hard to read, by what it is; each with the indices of those concerned, in order. */
export interface BalloonFaults {
  /** Lie over one another. */
  readonly overlapping: readonly number[];
  /** Leaders that cross. */
  readonly crossing: readonly number[];
  /** Leaders that run through another balloon. */
  readonly through: readonly number[];
  /** Leaders that are nearly level or upright, and read as dimension or frame lines. */
  readonly level: readonly number[];
  /** End within 2 mm of one another. */
  readonly close: readonly number[];
}

/** Looks at every two of them. */
export function balloonFaults(balloons: readonly LaidOutline[]): BalloonFaults {
  const marked = () => new Uint8Array(balloons.length);
  const found = { overlapping: marked(), crossing: marked(), through: marked(), close: marked() };
  const both = (marks: Uint8Array, one: number, other: number) => (marks[one] = marks[other] = 1);
  const knows = (marks: Uint8Array, one: number, other: number) => (marks[one] & marks[other]) === 1;
  const asksThrough = (at: number) => (found.through[at] | found.overlapping[at]) === 0;
  // Most pairs are far apart: boxes around balloon and leader tell.
  const boxes = balloons.map((one) => {
    const [x0, y0, x1, y1] = balloonBox(one.centre, one);
    const [xs, ys] = [0, 1].map((axis) => [one.anchor, ...(one.bends ?? [])].map((point) => point[axis]));
    return [
      Math.min(x0, ...xs) - 2,
      Math.min(y0, ...ys) - 2,
      Math.max(x1, ...xs) + 2,
      Math.max(y1, ...ys) + 2,
    ] as const;
  });
  const pieces = balloons.map(piecesOf);
  const isThrough = (leader: readonly Stretch[], { centre, extra, radius }: LaidOutline) =>
    leader.some(([from, to]) => spineToStretch(centre, extra, from, to) < radius);
  // From left to right: what begins beyond the end of one is beside it, and so is all that follows.
  const order = [...balloons.keys()].sort((i, j) => boxes[i][0] - boxes[j][0]);
  order.forEach((i, at) => {
    const one = balloons[i];
    for (let next = at + 1; next < order.length; next++) {
      const j = order[next];
      const [a, b] = [boxes[i], boxes[j]];
      if (b[0] > a[2]) break;
      if (a[1] > b[3] || b[1] > a[3]) continue;
      const other = balloons[j];
      // What is known of both is not worked out again: thousands on one spot are as many pairs.
      if (!knows(found.overlapping, i, j) && gapOf(one, other) < 0) both(found.overlapping, i, j);
      if (distance2(one.anchor, other.anchor) < LEAST_APART)
        both(found.close, i, j); // cheaper than to ask first
      else if (
        !knows(found.crossing, i, j) &&
        pieces[i].some(([a0, a1]) => pieces[j].some(([b0, b1]) => stretchesCross(a0, a1, b0, b1)))
      )
        both(found.crossing, i, j);
      // Of those that overlap it is not said in the end.
      if (asksThrough(i) && isThrough(pieces[i], other)) found.through[i] = 1;
      if (asksThrough(j) && isThrough(pieces[j], one)) found.through[j] = 1;
    }
  });
  // Of two that overlap each leader begins in the other one: that is said once.
  found.overlapping.forEach((is, at) => is && (found.through[at] = 0));
  // With a corner it is the last piece that meets the part; the first may be a level shoulder.
  const level = pieces.flatMap((leader, at) => {
    const [from, to] = leader[leader.length - 1];
    const angle = Math.atan2(Math.abs(to[1] - from[1]), Math.abs(to[0] - from[0]));
    return distance2(from, to) > 0 && (angle < LEAST_SLANT || angle > Math.PI / 2 - LEAST_SLANT) ? [at] : [];
  });
  const inOrder = (marks: Uint8Array) => [...balloons.keys()].filter((at) => marks[at] === 1);
  return {
    overlapping: inOrder(found.overlapping),
    crossing: inOrder(found.crossing),
    through: inOrder(found.through),
    close: inOrder(found.close),
    level,
  };
}

/** Between the borders of two balloons; negative where they overlap. */
const gapOf = (one: LaidOutline, other: LaidOutline): number =>
  spineToStretch(
    one.centre,
    one.extra,
    [other.centre[0] - other.extra, other.centre[1]],
    [other.centre[0] + other.extra, other.centre[1]],
  ) -
  one.radius -
  other.radius;
