import { invariantsAgree, type Likeness, type Moments } from '../geometry/index.ts';
import { groupBy } from './groups.ts';
import { partLabel, type Assembly, type Component, type Finding, type ShapeKey } from './records.ts';
import { about, firsts, listedAs } from './sharedNumbers.ts';

/** A shape with what it measures whatever way it is turned. */
interface MeasuredShape {
  readonly key: ShapeKey;
  readonly moments: Pick<Moments, 'volume' | 'area' | 'principal'>;
}

/**
 * Pairs of shapes that could be the same or mirrored: those whose invariants agree. Sorted by volume, so only
 * neighbours are looked at.
 */
export function alikeCandidates(shapes: readonly MeasuredShape[]): [ShapeKey, ShapeKey][] {
  const sorted = shapes.filter(({ moments }) => moments.volume > 0).sort((a, b) => a.moments.volume - b.moments.volume);
  const pairs: [ShapeKey, ShapeKey][] = [];
  for (let one = 0; one < sorted.length; one++) {
    for (
      let other = one + 1;
      other < sorted.length && sorted[other].moments.volume <= sorted[one].moments.volume * (1 + 1e-4);
      other++
    ) {
      if (invariantsAgree(sorted[one].moments, sorted[other].moments)) pairs.push([sorted[one].key, sorted[other].key]);
    }
  }
  return pairs;
}

export interface LikePair {
  readonly shapes: readonly [ShapeKey, ShapeKey];
  readonly likeness: Likeness;
}

/**
 * What the drafter should look at: one shape under different numbers, one number on different shapes, and mirrored
 * pairs.
 * @param pairs confirmed likenesses between different shapes; components with one shape key are alike without them
 */
export function alikeFindings(assembly: Assembly, pairs: readonly LikePair[]): Finding[] {
  const parts = assembly.components.filter(({ shape, usages }) => shape !== null && usages.length === 0);
  const classOf = sameClasses(pairs);
  const shapeClass = (component: Component): string => classOf(component.shape!);
  const findings: Finding[] = [];
  for (const members of groupBy(parts, shapeClass).values()) {
    const named = firsts(members, partLabel);
    if (named.length > 1)
      findings.push(
        about(
          'same-shape',
          named,
          `${list(named)} have the same shape under different ${named.every(({ partNumber }) => partNumber) ? 'numbers' : 'names'}.`,
        ),
      );
  }
  for (const [label, members] of groupBy(parts, listedAs)) {
    const groups = [...groupBy(members, shapeClass).values()];
    const shapes = groups.map(([first]) => first);
    if (label === null || shapes.length < 2) continue;
    const names = new Set(shapes.map(({ name }) => name)).size > 1 ? `: ${list(shapes, ({ name }) => name)}` : '';
    findings.push(
      about(
        'same-number',
        shapes,
        `${label} is used for ${shapes.length} different shapes${names}. In lists they are one line until you keep them apart.`,
        groups,
      ),
    );
  }
  const ofShape = groupBy(parts, ({ shape }) => shape!);
  for (const {
    shapes: [one, other],
    likeness,
  } of pairs) {
    const left = ofShape.get(one)?.[0],
      right = ofShape.get(other)?.[0];
    if (likeness === 'mirrored' && left && right)
      findings.push(about('mirrored-pair', [left, right], `${list([left, right])} are mirror images of each other.`));
  }
  return findings;
}

const list = (components: readonly Component[], nameOf: (component: Component) => string = partLabel): string => {
  const names = components.map((component) => `“${nameOf(component)}”`);
  return `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
};

/** Class of a shape: shapes joined by “same”, directly or over others, have one. */
function sameClasses(pairs: readonly LikePair[]): (shape: ShapeKey) => string {
  const parent = new Map<ShapeKey, ShapeKey>();
  const rootOf = (shape: ShapeKey): ShapeKey => {
    let at = shape;
    for (let up = parent.get(at); up !== undefined; up = parent.get(at)) at = up;
    return at;
  };
  for (const {
    shapes: [one, other],
    likeness,
  } of pairs) {
    if (likeness === 'same' && rootOf(one) !== rootOf(other)) parent.set(rootOf(one), rootOf(other));
  }
  return rootOf;
}
