import {
  dot,
  faceSurfaces,
  keepSurfaces,
  meshBox,
  planeSurface,
  scale,
  type Box3,
  type Mesh,
  type Surface,
  type Vec3,
} from '../geometry/index.ts';
import { capOf } from './caps.ts';
import type { Cut, CutFace, CutShape, HalfSpace } from './records.ts';
import { ringsOf, unitedRings } from './rings.ts';
import { addTriangle, noTriangles, Shell, type Triangles } from './shell.ts';

/** A face of what is left while it is made. */
interface MadeFace {
  /** Face of the shape; −1 for a cut face. */
  readonly from: number;
  /** Of a cut face; through all planes. */
  readonly plane: number;
  readonly surface: Surface | null;
  readonly colour: number;
}

/** A shape of which nothing has been taken yet. */
export const wholeShape = (mesh: Mesh): CutShape => ({
  mesh,
  faceFrom: Int32Array.from({ length: mesh.faceStarts.length - 1 }, (_, face) => face),
  faces: [],
  isOpen: false,
  overlaps: false,
});

/**
 * A shape without the matter that the cuts take, closed by cut faces where it was closed. Edges are divided where the
 * surfaces beside them meet the plane, so cut faces of elementary shapes are exact at their corners and, since lines of a
 * view follow the surfaces, between them.
 * The matter within a cut is what is left after each of its planes, with a cut face at each; what stays is what was sorted
 * out on the way, and these faces turned over.
 * @param cuts in the coordinates of the shape
 * @returns null where nothing is left
 */
export function cutMesh(mesh: Mesh, cuts: readonly Cut[]): CutShape | null {
  let shape: CutShape | null = wholeShape(mesh);
  let plane = 0;
  for (const cut of cuts) {
    if (shape) shape = takeAway(shape, cut, plane);
    plane += cut.length;
  }
  return shape;
}

const boxes = new WeakMap<Mesh, Box3>();
/** A shape stands at many places, and is asked for at each. */
function boxOf(mesh: Mesh): Box3 {
  let box = boxes.get(mesh);
  if (!box) boxes.set(mesh, (box = meshBox(mesh)));
  return box;
}

/** How a shape lies to a cut. */
function lieOf(mesh: Mesh, cut: Cut): 'beside' | 'within' | 'across' {
  const box = boxOf(mesh);
  let within = true;
  for (const { normal, offset } of cut) {
    let low = -offset,
      high = -offset;
    for (let axis = 0; axis < 3; axis++) {
      const [one, other] = [normal[axis] * box[axis], normal[axis] * box[axis + 3]];
      low += Math.min(one, other);
      high += Math.max(one, other);
    }
    if (low >= 0) return 'beside';
    if (high > 0) within = false;
  }
  return within ? 'within' : 'across';
}

function takeAway(shape: CutShape, cut: Cut, firstPlane: number): CutShape | null {
  const { mesh } = shape;
  const lie = lieOf(mesh, cut);
  if (lie === 'beside') return shape;
  if (lie === 'within') return null;
  const surfaces = faceSurfaces(mesh);
  const shell = new Shell(mesh, surfaces);
  const planeOf = new Map(shape.faces.map(({ face, plane }) => [face, plane]));
  const faces: MadeFace[] = surfaces.map((surface, face) => ({
    from: shape.faceFrom[face],
    plane: planeOf.get(face) ?? -1,
    surface,
    colour: mesh.faceColours[face] ?? -1,
  }));
  const own = faces.length;
  const colour = mesh.faceColours[0] ?? -1;
  for (const [at, { normal, offset }] of cut.entries())
    faces.push({ from: -1, plane: firstPlane + at, surface: planeSurface(scale(normal, -1), -offset), colour });
  const { kept, within, isOpen, overlaps } = sortOut(shell, trianglesOf(mesh), cut, own);
  if (within.faces.length === 0) return shape;
  const left = noTriangles();
  for (let at = 0; at < kept.faces.length; at++) {
    const [a, b, c] = kept.corners.slice(at * 3, at * 3 + 3);
    shell.refined(a, b, c, (p, q, r) => addTriangle(left, p, q, r, kept.faces[at]));
  }
  // What bounds the matter that was taken bounds what is left from the other side.
  for (let at = 0; at < within.faces.length; at++) {
    const face = within.faces[at];
    if (face >= own)
      addTriangle(left, within.corners[at * 3], within.corners[at * 3 + 2], within.corners[at * 3 + 1], face);
  }
  return left.faces.length === 0
    ? null
    : assembled(shell, left, faces, {
        isOpen: shape.isOpen || isOpen,
        overlaps: shape.overlaps || overlaps,
      });
}

function trianglesOf(mesh: Mesh): Triangles {
  const all = noTriangles();
  for (let face = 0; face + 1 < mesh.faceStarts.length; face++)
    for (let at = mesh.faceStarts[face] * 3; at < mesh.faceStarts[face + 1] * 3; at += 3)
      addTriangle(all, mesh.triangles[at], mesh.triangles[at + 1], mesh.triangles[at + 2], face);
  return all;
}

/**
 * Goes through the planes of a cut.
 * @param own how many faces the shape has; the cut faces are numbered behind them
 */
function sortOut(shell: Shell, all: Triangles, cut: readonly HalfSpace[], own: number) {
  const kept = noTriangles();
  let within = all;
  let isOpen = false,
    overlaps = false;
  for (const [at, half] of cut.entries()) {
    const divided = shell.divide(within, half);
    ({ within } = divided);
    // Cut faces before this plane lie within what is left, and are none.
    for (let one = 0; one < divided.beyond.faces.length; one++) {
      const [a, b, c] = divided.beyond.corners.slice(one * 3, one * 3 + 3);
      if (divided.beyond.faces[one] < own) addTriangle(kept, a, b, c, divided.beyond.faces[one]);
    }
    const { triangles: cap, ...said } = capOf(shell, divided.sides, half.normal);
    isOpen ||= said.isOpen;
    overlaps ||= said.overlaps;
    const vertices = new Map<number, number>();
    const vertexAt = (place: number): number => {
      let vertex = vertices.get(place);
      if (vertex === undefined) vertices.set(place, (vertex = shell.addVertex(place, scale(half.normal, -1))));
      return vertex;
    };
    for (let one = 0; one < cap.length; one += 3)
      addTriangle(within, vertexAt(cap[one]), vertexAt(cap[one + 1]), vertexAt(cap[one + 2]), own + at);
  }
  return { kept, within, isOpen, overlaps };
}

/** What is left as a mesh: its faces in their order, cut faces last. */
function assembled(
  shell: Shell,
  left: Triangles,
  faces: readonly MadeFace[],
  { isOpen, overlaps }: { readonly isOpen: boolean; readonly overlaps: boolean },
): CutShape {
  const order = Array.from(left.faces.keys()).sort((a, b) => left.faces[a] - left.faces[b] || a - b);
  const vertices = new Map<number, number>();
  const positions: number[] = [],
    normals: number[] = [],
    starts: number[] = [],
    made: MadeFace[] = [];
  const triangles = new Uint32Array(order.length * 3);
  let last = -1;
  order.forEach((at, place) => {
    if (left.faces[at] !== last) {
      last = left.faces[at];
      starts.push(place);
      made.push(faces[last]);
    }
    for (let corner = 0; corner < 3; corner++) {
      const from = left.corners[at * 3 + corner];
      let vertex = vertices.get(from);
      if (vertex === undefined) {
        vertices.set(from, (vertex = positions.length / 3));
        positions.push(...shell.points[shell.placeOf[from]]);
        normals.push(...shell.normals[from]);
      }
      triangles[place * 3 + corner] = vertex;
    }
  });
  const mesh: Mesh = {
    positions: Float64Array.from(positions),
    normals: Float32Array.from(normals),
    triangles,
    faceStarts: Uint32Array.from([...starts, order.length]),
    faceColours: Int32Array.from(made, ({ colour }) => colour),
  };
  const surfaces = made.map(({ surface }) => surface);
  keepSurfaces(mesh, surfaces);
  const cutFaces = made.flatMap(({ plane, surface }, face): CutFace[] => {
    if (plane < 0) return [];
    const rings = ringsOf(mesh, face, surfaces);
    const normal = surface!.axis;
    return [{ face, plane, normal, rings: overlaps ? unitedRings(rings, normal) : rings }];
  });
  return { mesh, faceFrom: Int32Array.from(made, ({ from }) => from), faces: cutFaces, isOpen, overlaps };
}

/** Area of a cut face by its outlines; mm². */
export function areaOf({ rings, normal }: CutFace): number {
  let twice = 0;
  for (const ring of rings) {
    const at = (corner: number): Vec3 => [ring[corner], ring[corner + 1], ring[corner + 2]];
    for (let corner = 0; corner < ring.length; corner += 3) {
      const [a, b] = [at(corner), at((corner + 3) % ring.length)];
      twice += dot(normal, [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]);
    }
  }
  return twice / 2;
}
