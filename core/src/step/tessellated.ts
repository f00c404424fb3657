import { keyMesh, Refusal, type ShapeMesh } from '../assembly/index.ts';
import { meshOfTriangles } from '../geometry/index.ts';
import { numberOf, refsOf, type StepFile, isList, type Value } from '../exchange/index.ts';
import { colourOf, representationParts, type ShapeLinks } from './shapes.ts';
import { lengthUnitOf } from './units.ts';

/** Where the records of a face keep their parts: coordinates first, then these, counted from 0. */
const FACES: Readonly<
  Record<string, { readonly index: number; readonly triangles?: number; readonly strips?: number }>
> = {
  TRIANGULATED_FACE: { index: 5, triangles: 6 },
  COMPLEX_TRIANGULATED_FACE: { index: 5, strips: 6 },
  TRIANGULATED_SURFACE_SET: { index: 4, triangles: 5 },
  COMPLEX_TRIANGULATED_SURFACE_SET: { index: 4, strips: 5 },
};
const CONTAINERS = ['TESSELLATED_SOLID', 'TESSELLATED_SHELL', 'TESSELLATED_GEOMETRIC_SET'];

/**
 * The shape that a product definition carries as triangles, or null where it carries none. Source: ISO 10303-42
 * edition 4, tessellated shape models (strips alternate their sense, fans turn about their first point; indices count
 * from 1).
 */
export function readTessellated(file: StepFile, links: ShapeLinks, definition: number): ShapeMesh | null {
  const positions: number[] = [],
    triangles: number[] = [],
    groups: number[] = [],
    colours: number[] = [];
  for (const representation of links.ofDefinition.get(definition) ?? []) {
    const { items, context } = representationParts(file, representation);
    const toMm = context < 0 ? 1 : lengthUnitOf(file, context).toMm;
    for (const [face, colour] of facesBelow(file, items)) {
      addFace(file, face, toMm, positions, triangles);
      while (groups.length < triangles.length / 3) groups.push(colours.length);
      colours.push(colour);
    }
  }
  if (triangles.length === 0) return null;
  const mesh = meshOfTriangles({
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    groups: Uint32Array.from(groups),
    colours,
  });
  return mesh.triangles.length > 0 ? keyMesh(mesh) : null;
}

/** Faces in these items and in the solids and shells among them, each with the colour that it or what holds it has. */
function facesBelow(file: StepFile, items: readonly number[]): [number, number][] {
  const faces: [number, number][] = [];
  const waiting: [number, number][] = items.map((item) => [item, -1] as [number, number]).reverse();
  const seen = new Set<number>();
  while (waiting.length > 0) {
    const [item, above] = waiting.pop()!;
    if (seen.has(item)) continue;
    seen.add(item);
    const colour = styleOf(file, item) ?? above;
    if (file.keywordsOf(item).some((keyword) => Object.hasOwn(FACES, keyword))) faces.push([item, colour]);
    const holder = CONTAINERS.find((keyword) => file.is(item, keyword));
    if (holder) for (const part of refsOf(file.value(item, holder, 1)).reverse()) waiting.push([part, colour]);
  }
  return faces;
}

const stylesOf = new WeakMap<StepFile, Map<number, number>>();

function styleOf(file: StepFile, item: number): number | undefined {
  let styles = stylesOf.get(file);
  if (!styles) {
    styles = new Map();
    for (const slot of file.ofType('STYLED_ITEM')) {
      const colour = colourOf(file, refsOf(file.value(slot, 'STYLED_ITEM', 1)));
      if (colour !== null) styles.set(file.ref(slot, 'STYLED_ITEM', 2), colour);
    }
    stylesOf.set(file, styles);
  }
  return styles.get(item);
}

/** Points that are read for a file, and how many have been taken out of it: several faces may share a list. */
interface Points {
  readonly lists: Map<number, Float64Array>;
  taken: number;
}
const pointsOf = new WeakMap<StepFile, Points>();
/** A point takes at least so many bytes in a file (`(0,0,0),`), and so often one may be taken by all faces on average. */
const POINT_BYTES = 8,
  SHARED = 16;

/** Coordinates of a list, three by three, in the file's unit. */
function coordinates(file: StepFile, list: number): Float64Array {
  let known = pointsOf.get(file);
  if (!known) pointsOf.set(file, (known = { lists: new Map(), taken: 0 }));
  let points = known.lists.get(list);
  if (points) return points;
  const values = file.value(list, 'COORDINATES_LIST', 2);
  points = new Float64Array(isList(values) ? values.length * 3 : 0);
  if (isList(values))
    for (const [at, point] of values.entries())
      for (let axis = 0; axis < 3; axis++) points[at * 3 + axis] = isList(point) ? (numberOf(point[axis]) ?? 0) : 0;
  known.lists.set(list, points);
  return points;
}

/** @throws Refusal where faces take the same points so often that no file means it */
function countTaken(file: StepFile, count: number): void {
  const known = pointsOf.get(file)!;
  known.taken += count;
  if (known.taken * POINT_BYTES > SHARED * file.index.bytes.length)
    throw new Refusal(
      'shapes-too-large',
      'The meshes of the parts have far more points than the file holds, since many share the same. No model is like that, so it is refused; nothing was stored.',
    );
}

function addFace(file: StepFile, face: number, toMm: number, positions: number[], triangles: number[]): void {
  const keyword = file.keywordsOf(face).find((name) => Object.hasOwn(FACES, name))!;
  const layout = FACES[keyword];
  const points = coordinates(file, file.ref(face, keyword, 1));
  const chosen = integers(file.value(face, keyword, layout.index));
  const most = chosen.length > 0 ? chosen.length : points.length / 3;
  /** Where the points of this face stand that its triangles use. */
  const placed = new Map<number, number>();
  const place = (at: number): number => {
    const point = chosen.length > 0 ? chosen[at - 1] : at;
    let found = placed.get(point);
    if (found === undefined) {
      placed.set(point, (found = positions.length / 3));
      for (let axis = 0; axis < 3; axis++) positions.push((points[(point - 1) * 3 + axis] ?? 0) * toMm);
    }
    return found;
  };
  const add = (a: number, b: number, c: number) => {
    if ([a, b, c].every((at) => at >= 1 && at <= most)) triangles.push(place(a), place(b), place(c));
  };
  if (layout.triangles !== undefined)
    for (const [a, b, c] of lists(file.value(face, keyword, layout.triangles))) add(a, b, c);
  if (layout.strips !== undefined) {
    for (const strip of lists(file.value(face, keyword, layout.strips))) {
      for (let at = 0; at + 2 < strip.length; at++) add(strip[at], strip[at + 1 + (at % 2)], strip[at + 2 - (at % 2)]);
    }
    for (const fan of lists(file.value(face, keyword, layout.strips + 1))) {
      for (let at = 1; at + 1 < fan.length; at++) add(fan[0], fan[at], fan[at + 1]);
    }
  }
  countTaken(file, placed.size);
}

const integers = (value: Value): number[] => (isList(value) ? value.map((one) => numberOf(one) ?? 0) : []);
const lists = (value: Value): number[][] => (isList(value) ? value.map((one) => integers(one)) : []);
