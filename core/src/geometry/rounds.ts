import { faceSurfaces } from './faceSurfaces.ts';
import type { Mesh } from './meshes.ts';
import { isSameSurface, type Surface } from './surfaces.ts';
import { add, cross, dot, hypot, length, scale, subtract, type Vec3 } from './vectors.ts';

/** A round feature of a shape: a hole, a shaft, a tube, the bend of a tube. */
interface Round {
  /** Its axis from end to end, two points; of a bend the middle of the tube, in steps of a few degrees. mm, own coordinates. */
  readonly along: readonly Vec3[];
  /** Largest distance of its faces from the axis; mm. */
  readonly radius: number;
  /** Faces of the mesh that it is made of. */
  readonly faces: readonly number[];
}

/** Directions about an axis are told apart in this many steps. */
const BINS = 72;
/** A rounding goes a quarter of the way round; a hole made of two halves goes all of it. */
const LEAST_BINS = (BINS * 170) / 360;
/** Faces of one feature follow one another in files: no farther back is looked. */
const LOOKED_BACK = 64;
const BEND_STEP = (5 * Math.PI) / 180;

const known = new WeakMap<Mesh, readonly Round[]>();

/**
 * The round features of a shape, in the order of their faces: cylinders, cones and tori that go at least 170° round,
 * faces on one surface taken together. Found from the surfaces that the vertices lie on, so exact where the vertices are.
 * Kept with the mesh.
 */
export function roundsOf(mesh: Mesh): readonly Round[] {
  let rounds = known.get(mesh);
  if (!rounds) known.set(mesh, (rounds = findRounds(mesh)));
  return rounds;
}

/** Faces on one surface of revolution. */
interface Group {
  readonly surface: Surface;
  readonly frame: readonly [Vec3, Vec3];
  readonly faces: number[];
  /** Along the axis, from the origin of the surface. */
  low: number;
  high: number;
  radius: number;
  /** Directions about the axis, and about the middle of a torus' tube, in which there is a face. */
  readonly about: Uint8Array;
  readonly tube: Uint8Array;
  /** Of the corners of a torus about its axis; radian. */
  readonly angles: number[];
}

function findRounds(mesh: Mesh): Round[] {
  const groups: Group[] = [];
  faceSurfaces(mesh).forEach((surface, face) => {
    if (!surface || (surface.kind !== 'cylinder' && surface.kind !== 'cone' && surface.kind !== 'torus')) return;
    const recent = groups.slice(-LOOKED_BACK);
    let group = recent.find((one) => isSameSurface(one.surface, surface));
    if (!group) {
      group = {
        surface,
        frame: acrossOf(surface.axis),
        faces: [],
        low: Infinity,
        high: -Infinity,
        radius: 0,
        about: new Uint8Array(BINS),
        tube: new Uint8Array(BINS),
        angles: [],
      };
      groups.push(group);
    }
    take(group, mesh, face);
  });
  return groups.flatMap(roundOf);
}

/** Two unit vectors across an axis, at right angles. */
function acrossOf(axis: Vec3): [Vec3, Vec3] {
  const least = [0, 1, 2].reduce((best, k) => (Math.abs(axis[k]) < Math.abs(axis[best]) ? k : best), 0);
  const u = cross(axis, [0, 1, 2].map((k) => (k === least ? 1 : 0)) as unknown as Vec3);
  const unit = scale(u, 1 / length(u));
  return [unit, cross(axis, unit)];
}

function take(group: Group, mesh: Mesh, face: number): void {
  const {
    surface: { origin, axis, profile, kind },
    frame: [u, v],
  } = group;
  group.faces.push(face);
  const { positions, triangles } = mesh;
  for (let at = mesh.faceStarts[face] * 3; at < mesh.faceStarts[face + 1] * 3; at += 3) {
    const about: number[] = [],
      tube: number[] = [];
    for (let corner = 0; corner < 3; corner++) {
      const vertex = triangles[at + corner] * 3;
      const from = subtract([positions[vertex], positions[vertex + 1], positions[vertex + 2]], origin);
      const h = dot(from, axis),
        x = dot(from, u),
        y = dot(from, v);
      const rho = hypot(x, y);
      group.low = Math.min(group.low, h);
      group.high = Math.max(group.high, h);
      group.radius = Math.max(group.radius, rho);
      if (rho > 1e-9) about.push(Math.atan2(y, x));
      if (kind === 'torus') tube.push(Math.atan2(h, rho - profile[0]));
    }
    cover(group.about, about);
    cover(group.tube, tube);
    if (kind === 'torus') group.angles.push(...about);
  }
}

/** Marks the shorter way round between the angles of a triangle's corners. */
function cover(bins: Uint8Array, angles: readonly number[]): void {
  if (angles.length < 2) return;
  let low = 0,
    high = 0;
  for (const angle of angles) {
    let off = angle - angles[0];
    if (off > Math.PI) off -= 2 * Math.PI;
    if (off < -Math.PI) off += 2 * Math.PI;
    low = Math.min(low, off);
    high = Math.max(high, off);
  }
  const perBin = (2 * Math.PI) / BINS;
  const from = Math.floor((angles[0] + low) / perBin + 1e-6),
    to = Math.ceil((angles[0] + high) / perBin - 1e-6);
  for (let bin = from; bin < to && bin < from + BINS; bin++) bins[((bin % BINS) + BINS) % BINS] = 1;
}

const covered = (bins: Uint8Array): number => bins.reduce((sum, bin) => sum + bin, 0);

function roundOf({ surface, frame: [u, v], faces, low, high, radius, about, tube, angles }: Group): Round[] {
  const { origin, axis, profile } = surface;
  if (covered(about) >= LEAST_BINS)
    return [{ along: [add(origin, scale(axis, low)), add(origin, scale(axis, high))], radius, faces }];
  if (surface.kind !== 'torus' || covered(tube) < LEAST_BINS) return [];
  // The bend of a tube, from its first corner to its last after the directions in which there is nothing.
  const first = about.findIndex((bin, at) => bin === 1 && about[(at + BINS - 1) % BINS] === 0);
  if (first < 0) return [];
  const turn = 2 * Math.PI;
  const empty = ((first - 1) / BINS) * turn;
  const offsets = angles.map((angle) => (((angle - empty) % turn) + turn) % turn);
  const from = offsets.reduce((least, one) => Math.min(least, one), Infinity),
    to = offsets.reduce((most, one) => Math.max(most, one), 0);
  const pieces = Math.max(1, Math.ceil((to - from) / BEND_STEP - 1e-6));
  const along = Array.from({ length: pieces + 1 }, (_, at): Vec3 => {
    const angle = empty + from + ((to - from) * at) / pieces;
    const way = add(scale(u, Math.cos(angle)), scale(v, Math.sin(angle)));
    return add(origin, scale(way, profile[0]));
  });
  return [{ along, radius: profile[1], faces }];
}
