import Flatbush from 'flatbush';
import { commonBox, cross, dot, length, subtract, type Box3, type Surface } from '../../geometry/index.ts';
import { boxOfPoints, byFace, crossings, FrontFacets, grown, passesThrough, type FacetSearch } from './frontFacets.ts';
import type { LineList } from './lists.ts';
import { addMeeting, LEAST_ANGLE, type Stretch } from './meetingCurves.ts';
import type { PlacedBody } from './placed.ts';

/** What lines of meeting are looked for with. */
interface Search extends FacetSearch {
  /** Lines are divided until they stray from their curve by less; mm. */
  readonly fine: number;
  /** Points nearer to a facet's plane lie in it; mm. */
  readonly touch: number;
}

/**
 * The lines where bodies pass through one another: a shaft drawn solid in its plate, a key in a shaft, what stands in the
 * cut face of a section. Facet against facet, of those that are turned to the viewer, since matter hides all other places;
 * the ends of what they have in common are then carried onto the surfaces that they stand for, and where these do not meet
 * there, facets alone do. Faces that lie on one another, and round ones that touch, have no such line.
 * Source: T. Möller, "A fast triangle-triangle intersection test", Journal of Graphics Tools 2 (1997), the intervals on the
 * common line.
 */
export class Meetings {
  private readonly boxes: readonly Box3[];
  private readonly standing: readonly number[];
  private readonly tree: Flatbush | null;
  private readonly facets = new Map<number, FrontFacets>();

  constructor(
    private readonly placed: readonly PlacedBody[],
    private readonly search: Search,
  ) {
    this.boxes = placed.map(({ points }) => boxOfPoints(points, search.toMachine));
    this.standing = this.boxes.flatMap((box, at) => (box[0] <= box[3] ? [at] : []));
    this.tree = this.standing.length < 2 ? null : new Flatbush(this.standing.length);
    for (const at of this.standing) {
      const box = this.boxes[at];
      this.tree?.add(box[0], box[1], box[3], box[4]);
    }
    this.tree?.finish();
  }

  /** Adds the lines where a body passes through those behind it in the order of bodies. */
  addOf(one: number, lines: LineList): void {
    const { boxes, standing, search } = this;
    const box = boxes[one];
    if (!this.tree || box[0] > box[3]) return;
    const near = this.tree.search(box[0], box[1], box[3], box[4], (at) => standing[at] > one);
    for (const at of near) {
      const common = commonBox(box, boxes[standing[at]]);
      // What only touches has a common box without depth.
      if ([0, 1, 2].every((axis) => common[axis + 3] - common[axis] > DEEPER * search.touch))
        meet(this.facetsOf(one), this.facetsOf(standing[at]), common, search, lines);
    }
  }

  private facetsOf(at: number): FrontFacets {
    let found = this.facets.get(at);
    if (!found) this.facets.set(at, (found = new FrontFacets(this.placed[at], this.search)));
    return found;
  }
}
/** Than what touches. */
const DEEPER = 4;

/** What bodies have in common within a box: plane faces, of which all facets lie in one plane, as wholes, the others by facets. */
function meet(one: FrontFacets, other: FrontFacets, box: Box3, search: Search, lines: LineList): void {
  const [ownCurved, ownPlane] = one.within(box),
    [otherCurved, otherPlane] = other.within(box);
  const may = crossingFaces(one, other);
  const add = (at: number, index: number): void => {
    const found = commonStretch(one, at, other, index, search.touch);
    if (found) addMeeting(found, search.fine, lines);
  };
  planesInPlanes(one, ownPlane, other, otherPlane, search.touch, may, add);
  throughPlanes(one, ownPlane, other, otherCurved, search, (at, index) => {
    if (may(at, index)) add(at, index);
  });
  throughPlanes(other, otherPlane, one, ownCurved, search, (index, at) => {
    if (may(at, index)) add(at, index);
  });
  const otherFaces = byFace(other, otherCurved).map(([first]) => first);
  for (const face of byFace(one, ownCurved)) {
    if (!otherFaces.some((first) => may(face[0], first))) continue;
    for (const at of face) for (const index of other.within(one.boxOf(at))[0]) if (may(at, index)) add(at, index);
  }
}

/**
 * Visits facets of plane faces with the facets of curved ones that may pass through them.
 * @param planes facets of plane faces of `flat`
 * @param facets of `through`
 */
function throughPlanes(
  flat: FrontFacets,
  planes: readonly number[],
  through: FrontFacets,
  facets: readonly number[],
  { touch, toMachine }: Pick<Search, 'touch' | 'toMachine'>,
  visit: (plane: number, facet: number) => void,
): void {
  for (const [first] of byFace(flat, planes)) {
    const face = flat.faceOf(first);
    for (const facet of facets) {
      if (!passesThrough(through, facet, flat, first, touch)) continue;
      const [p, q] = crossings(through, facet, flat, first, touch);
      const box = grown(boxOfPoints([...p.point, ...q.point], toMachine), touch);
      for (const at of flat.within(box)[1]) if (flat.faceOf(at) === face) visit(at, facet);
    }
  }
}

/** Visits the facets of plane faces that have something in common: two such faces meet on one line, along which each has stretches. */
function planesInPlanes(
  one: FrontFacets,
  own: readonly number[],
  other: FrontFacets,
  others: readonly number[],
  touch: number,
  may: (at: number, index: number) => boolean,
  visit: (at: number, index: number) => void,
): void {
  const otherFaces = byFace(other, others);
  for (const face of byFace(one, own))
    for (const otherFace of otherFaces) {
      if (!may(face[0], otherFace[0])) continue;
      const way = cross(one.normalOf(face[0]), other.normalOf(otherFace[0]));
      const along = (of: FrontFacets, facets: readonly number[], by: FrontFacets, first: number) =>
        facets
          .filter((at) => passesThrough(of, at, by, first, touch))
          .map((at) => {
            const [low, high] = crossings(of, at, by, first, touch).map(({ point }) => dot(point, way));
            return { at, from: Math.min(low, high), to: Math.max(low, high) };
          })
          .sort((a, b) => a.from - b.from);
      const stretches = along(one, face, other, otherFace[0]);
      const counter = stretches.length === 0 ? [] : along(other, otherFace, one, face[0]);
      let start = 0;
      for (const { at, from, to } of stretches) {
        // Facets of one plane face do not lie on one another, so what ended before this one ended for good.
        while (start < counter.length && counter[start].to < from) start++;
        for (let next = start; next < counter.length && counter[next].from <= to; next++) visit(at, counter[next].at);
      }
    }
}

/** Tells, of two facets, whether their faces may cross; asked of the surfaces once for each two faces. */
function crossingFaces(one: FrontFacets, other: FrontFacets): (at: number, index: number) => boolean {
  const known = new Map<number, boolean>();
  const [surfaces, others] = [one.body.surfaces, other.body.surfaces];
  return (at, index) => {
    const [face, otherFace] = [one.faceOf(at), other.faceOf(index)];
    const key = face * others.length + otherFace;
    let may = known.get(key);
    if (may === undefined) known.set(key, (may = mayCross(surfaces[face], others[otherFace])));
    return may;
  };
}

/**
 * Whether faces on these surfaces may pass through one another at an angle: parallel planes never do, nor cylinders side by
 * side or one within the other.
 */
function mayCross(one: Surface | null, other: Surface | null): boolean {
  if (!one || !other || one.kind !== other.kind) return true;
  if (one.kind !== 'plane' && one.kind !== 'cylinder') return true;
  if (length(cross(one.axis, other.axis)) > LEAST_ANGLE) return true;
  if (one.kind === 'plane') return false;
  const apart = length(cross(subtract(other.origin, one.origin), one.axis));
  const [radius, otherRadius] = [one, other].map(({ profile: [n, , d = 0] }) => Math.abs(d / n));
  return apart < radius + otherRadius && apart > Math.abs(radius - otherRadius) + ON_AXIS * radius;
}
/** Axes this near are one; of the radius. */
const ON_AXIS = 1e-3;

/** What two facets have in common; null where that is nothing, or not longer than `touch`. */
function commonStretch(one: FrontFacets, at: number, other: FrontFacets, index: number, touch: number): Stretch | null {
  if (!passesThrough(one, at, other, index, touch) || !passesThrough(other, index, one, at, touch)) return null;
  const way = cross(one.normalOf(at), other.normalOf(index));
  const size = length(way);
  const ends = [crossings(one, at, other, index, touch), crossings(other, index, one, at, touch)].map((found, of) => {
    const [p, q] = found.map((crossing) => ({ crossing, of, along: dot(crossing.point, way) }));
    return p.along <= q.along ? [p, q] : [q, p];
  });
  const from = ends[0][0].along >= ends[1][0].along ? ends[0][0] : ends[1][0],
    to = ends[0][1].along <= ends[1][1].along ? ends[0][1] : ends[1][1];
  if (to.along - from.along <= touch * size) return null;
  const facets = [one.facet(at), other.facet(index)] as const;
  const [start, end] = [from, to].map(({ crossing, of }) => ({ ...crossing, of: facets[of] }));
  return { from: start, to: end, facets };
}
