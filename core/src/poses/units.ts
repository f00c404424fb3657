import type { PathKey, UsageKey } from '../assembly/index.ts';
import { pathKey } from '../assembly/index.ts';
import {
  applyToDirection,
  applyToPoint,
  cross,
  determinant,
  dot,
  faceSurfaces,
  length,
  normalize,
  scale,
  subtract,
  type Mesh,
  type Placement,
  type Vec3,
} from '../geometry/index.ts';
import type { Frame, FramedSolid } from './blocking.ts';

/** One shape standing in the machine, as it is taken apart. */
export interface Part {
  readonly path: readonly UsageKey[];
  readonly mesh: Mesh;
  readonly placement: Placement;
  /** Parts with one name are of one shape. */
  readonly shape: string;
}

/** What leaves as one: a part, or a subassembly with everything in it. */
export interface Unit {
  readonly path: PathKey;
  readonly parts: readonly Part[];
  /** Geometry of the assembly itself, beside its contents: it has no place of its own to leave. */
  readonly stays: boolean;
}

/** The things directly inside a place, in structure order. */
export function unitsIn(parts: readonly Part[], depth: number): Unit[] {
  const units = new Map<string, { path: PathKey; parts: Part[]; stays: boolean }>();
  for (const part of parts) {
    const own = part.path.length === depth;
    const path = pathKey(part.path.slice(0, own ? depth : depth + 1));
    const name = own ? `${path} itself` : path;
    const unit = units.get(name);
    if (unit) unit.parts.push(part);
    else units.set(name, { path, parts: [part], stays: own });
  }
  return [...units.values()];
}

/** Shapes of a unit, for telling twins. */
export const signatureOf = ({ parts }: Unit): string =>
  parts
    .map(({ shape }) => shape)
    .sort()
    .join(' ');

/** Triangles of parts in frames, made when they are asked for. */
export class Framer {
  private readonly known = new Map<Part, Map<Frame, FramedSolid>>();
  private readonly units = new Map<Unit['parts'], Map<Frame, FramedSolid>>();
  /** @param frames to begin with; others come as ways are asked for */
  constructor(private readonly frames: Frame[]) {}

  unit({ parts }: Unit, frame: Frame): FramedSolid {
    if (parts.length === 1) return this.part(parts[0], frame);
    const known = this.units.get(parts)?.get(frame);
    if (known) return known;
    const made = this.unite(parts, frame);
    const frames = this.units.get(parts) ?? new Map<Frame, FramedSolid>();
    this.units.set(parts, frames.set(frame, made));
    return made;
  }

  private unite(parts: Unit['parts'], frame: Frame): FramedSolid {
    const solids = parts.map((part) => this.part(part, frame));
    const corners = new Float32Array(solids.reduce((sum, solid) => sum + solid.corners.length, 0));
    let at = 0;
    for (const solid of solids) {
      corners.set(solid.corners, at);
      at += solid.corners.length;
    }
    return { corners, box: uniteAll(solids) };
  }

  /** Gives back what was made in a frame. */
  forget(frame: Frame): void {
    for (const frames of [...this.known.values(), ...this.units.values()]) frames.delete(frame);
  }

  /** Farthest point of a unit along a way. */
  farthest({ parts }: Unit, along: Vec3): number {
    let frame = this.frames.find(({ w }) => sameAxis(w, along));
    if (!frame) this.frames.push((frame = frameAlong(along)));
    const way = frame;
    const box = uniteAll(parts.map((part) => this.part(part, way)));
    return dot(frame.w, along) > 0 ? box[5] : -box[2];
  }

  private part(part: Part, frame: Frame): FramedSolid {
    let frames = this.known.get(part);
    if (!frames) this.known.set(part, (frames = new Map()));
    let solid = frames.get(frame);
    if (!solid) frames.set(frame, (solid = inFrame(part, frame)));
    return solid;
  }
}

function uniteAll(solids: readonly FramedSolid[]): FramedSolid['box'] {
  const box: [number, number, number, number, number, number] = [
    Infinity,
    Infinity,
    Infinity,
    -Infinity,
    -Infinity,
    -Infinity,
  ];
  for (const solid of solids)
    for (let k = 0; k < 3; k++) {
      if (solid.box[k] < box[k]) box[k] = solid.box[k];
      if (solid.box[k + 3] > box[k + 3]) box[k + 3] = solid.box[k + 3];
    }
  return box;
}

function inFrame({ mesh, placement }: Part, { u, v, w }: Frame): FramedSolid {
  const count = mesh.positions.length / 3;
  const points = new Float32Array(count * 3);
  const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  for (let at = 0; at < count; at++) {
    const p = applyToPoint(placement, [mesh.positions[at * 3], mesh.positions[at * 3 + 1], mesh.positions[at * 3 + 2]]);
    points[at * 3] = dot(p, u);
    points[at * 3 + 1] = dot(p, v);
    points[at * 3 + 2] = dot(p, w);
    for (let k = 0; k < 3; k++) {
      const value = points[at * 3 + k];
      if (value < box[k]) box[k] = value;
      if (value > box[k + 3]) box[k + 3] = value;
    }
  }
  const corners = new Float32Array(mesh.triangles.length * 3);
  const mirrored = determinant(placement) < 0;
  for (let at = 0; at < mesh.triangles.length; at++) {
    // A mirrored shape would be inside out.
    const corner = mirrored ? at - (at % 3) + ((3 - (at % 3)) % 3) : at;
    const from = mesh.triangles[corner] * 3;
    corners[at * 3] = points[from];
    corners[at * 3 + 1] = points[from + 1];
    corners[at * 3 + 2] = points[from + 2];
  }
  return { corners, box: box as never };
}

/** The frame whose w is this unit vector. */
export function frameAlong(w: Vec3): Frame {
  const near: Vec3 = Math.abs(w[2]) > 0.9 ? [1, 0, 0] : [0, 0, 1];
  const u = normalize(subtract(near, scale(w, dot(near, w))));
  return { u, v: cross(w, u), w };
}

/** Directions within this of one another are one; cosine of half a degree. */
const SAME = Math.cos((0.5 * Math.PI) / 180);
export const sameAxis = (one: Vec3, other: Vec3): boolean => Math.abs(dot(one, other)) > SAME;

/**
 * Ways that the shape of a part suggests: the axis of its largest round face and the normal of its largest plane one,
 * in machine coordinates.
 */
export function ownAxes(part: Part): Vec3[] {
  const { round, plane } = largestFaces(part);
  return [...(round ? [round] : []), ...(plane ? [plane] : [])];
}

/** Axis of the largest round face of a thing of one part, in machine coordinates; null where it has none. */
export const roundAxis = ({ parts }: Unit): Vec3 | null => (parts.length === 1 ? largestFaces(parts[0]).round : null);

function largestFaces({ mesh, placement }: Part): { readonly round: Vec3 | null; readonly plane: Vec3 | null } {
  let round: { axis: Vec3; area: number } | null = null,
    plane: { axis: Vec3; area: number } | null = null;
  for (const [face, surface] of faceSurfaces(mesh).entries()) {
    if (!surface || surface.kind === 'sphere') continue;
    const area = areaOf(mesh, face);
    if (surface.kind === 'plane') {
      if (area > (plane?.area ?? 0)) plane = { axis: surface.axis, area };
    } else if (area > (round?.area ?? 0)) round = { axis: surface.axis, area };
  }
  const turned = (axis: Vec3 | undefined): Vec3 | null => {
    const way = axis && applyToDirection(placement, axis);
    return way && length(way) > 0.5 ? normalize(way) : null;
  };
  return { round: turned(round?.axis), plane: turned(plane?.axis) };
}

function areaOf(mesh: Mesh, face: number): number {
  const point = (at: number): Vec3 => {
    const from = mesh.triangles[at] * 3;
    return [mesh.positions[from], mesh.positions[from + 1], mesh.positions[from + 2]];
  };
  let sum = 0;
  for (let at = mesh.faceStarts[face] * 3; at < mesh.faceStarts[face + 1] * 3; at += 3) {
    const a = point(at);
    sum += length(cross(subtract(point(at + 1), a), subtract(point(at + 2), a))) / 2;
  }
  return sum;
}
