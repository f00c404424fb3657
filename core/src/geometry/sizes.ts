import { boxDiagonal, meshBox, type Mesh } from './meshes.ts';
import { meshMoments } from './moments.ts';
import { cross, dot, length, normalize, type Vec3 } from './vectors.ts';

/** A size measured on a shape, with how it was obtained in words. mm. */
interface MeasuredSize {
  readonly value: number;
  readonly how: string;
}
/** What kind of stock a shape could be cut from. */
export type Stock =
  'round bar' | 'round tube' | 'rectangular bar' | 'rectangular tube' | 'profile' | 'plate' | 'turned part';
export interface ShapeSizes {
  /** Edges of the box along the shape's own main axes, longest first. */
  readonly box: Vec3;
  readonly stock: Stock | null;
  /** Named sizes: Length, Width, Height, Diameter, Wall, Thickness. */
  readonly sizes: Readonly<Record<string, MeasuredSize>>;
}

/** Sines of angles below this are none: facets of a straight side are exact, files keep at least six digits. */
const STRAIGHT = 2e-4;
/** Lengths that agree to this share of the diagonal are one. */
const LENGTH_SHARE = 2e-5;
/** A tessellated circle may be this much narrower than it is: half a facet of 0.2 rad, and some. */
const FACETED = 0.015;
/** A plate is at most this thick beside its shorter side, and its two large faces are most of its surface. */
const PLATE_SHARE = 0.2;

/**
 * Overall box along the shape's own main axes, and the sizes of the stock that it could be cut from: bars and tubes
 * by length and section, plates by thickness, turned parts by diameter. Vertices of a tessellation lie on the true
 * shape, so the sizes are exact where corners or circles give them.
 */
export function measureSizes(mesh: Mesh): ShapeSizes {
  const tolerance = Math.max(LENGTH_SHARE * boxDiagonal(meshBox(mesh)), 1e-6);
  const facets = facetsOf(mesh);
  const frames = candidateFrames(mesh, facets);
  const boxes = frames.map((frame) => extentsAlong(mesh, frame));
  const best = boxes.reduce((least, box, at) => (volumeOf(box) < volumeOf(boxes[least]) * (1 - 1e-6) ? at : least), 0);
  const order = [0, 1, 2].sort((a, b) => boxes[best][b] - boxes[best][a]);
  const frame = order.map((at) => frames[best][at]) as unknown as [Vec3, Vec3, Vec3];
  const box = order.map((at) => rounded(boxes[best][at])) as unknown as Vec3;
  const shape: Shape = { mesh, facets, frame, box, tolerance, volume: meshMoments(mesh).volume };
  const stock = plate(shape) ?? barAlong(shape, 0) ?? turned(shape) ?? barAlong(shape, 2) ?? { stock: null, sizes: {} };
  return { box, ...stock }; // round stock knows its box better: a tessellated circle is a little too narrow
}

const volumeOf = (box: Vec3): number => box[0] * box[1] * box[2];
const rounded = (value: number): number => Math.round(value * 1e4) / 1e4;

interface Facets {
  /** Unit normal per triangle, x y z; zero for triangles without area. */
  readonly normals: Float64Array;
  readonly areas: Float64Array;
  readonly total: number;
}
interface Shape {
  readonly mesh: Mesh;
  readonly facets: Facets;
  /** Main axes, longest first. */
  readonly frame: readonly [Vec3, Vec3, Vec3];
  readonly box: Vec3;
  readonly tolerance: number;
  readonly volume: number;
}
type Recognised = Pick<ShapeSizes, 'stock' | 'sizes'> & { readonly box?: Vec3 };

function facetsOf({ positions: p, triangles: t }: Mesh): Facets {
  const normals = new Float64Array(t.length),
    areas = new Float64Array(t.length / 3);
  let total = 0;
  for (let at = 0; at < t.length; at += 3) {
    const a = t[at] * 3,
      b = t[at + 1] * 3,
      c = t[at + 2] * 3;
    const n = cross(
      [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]],
      [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]],
    );
    const size = length(n);
    areas[at / 3] = size / 2;
    total += size / 2;
    if (size > 0) for (let axis = 0; axis < 3; axis++) normals[at + axis] = n[axis] / size;
  }
  return { normals, areas, total };
}

/** Own axes first, then principal axes, then frames of the largest flat directions: the smallest box decides. */
function candidateFrames(mesh: Mesh, { normals, areas }: Facets): [Vec3, Vec3, Vec3][] {
  const directions = new Map<string, { normal: Vec3; area: number }>();
  for (let at = 0; at < areas.length; at++) {
    let normal: Vec3 = [normals[at * 3], normals[at * 3 + 1], normals[at * 3 + 2]];
    const lead = normal.find((value) => Math.abs(value) > 1e-6) ?? 0;
    if (lead < 0) normal = [-normal[0], -normal[1], -normal[2]];
    const key = normal.map((value) => Math.round(value * 1e4)).join(' ');
    const known = directions.get(key);
    if (known) known.area += areas[at];
    else if (lead !== 0) directions.set(key, { normal, area: areas[at] });
  }
  const largest = [...directions.values()]
    .sort((a, b) => b.area - a.area)
    .slice(0, 6)
    .map(({ normal }) => normal);
  const frames: [Vec3, Vec3, Vec3][] = [
    [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ],
    [...meshMoments(mesh).axes],
  ];
  for (const z of largest)
    for (const x of largest) {
      if (Math.abs(dot(x, z)) > 1e-3) continue;
      frames.push([x, cross(z, x), z]);
      if (frames.length > 24) return frames;
    }
  return frames;
}

function extentsAlong({ positions: p }: Mesh, frame: readonly Vec3[]): Vec3 {
  const low = [Infinity, Infinity, Infinity],
    high = [-Infinity, -Infinity, -Infinity];
  for (let at = 0; at < p.length; at += 3) {
    for (let axis = 0; axis < 3; axis++) {
      const value = p[at] * frame[axis][0] + p[at + 1] * frame[axis][1] + p[at + 2] * frame[axis][2];
      if (value < low[axis]) low[axis] = value;
      if (value > high[axis]) high[axis] = value;
    }
  }
  return [high[0] - low[0], high[1] - low[1], high[2] - low[2]];
}

/** Shares of the surface that face along the axis and across it; a prism has nothing else. */
function facing({ facets: { normals, areas, total } }: Shape, axis: Vec3): { along: number; across: number } {
  let along = 0,
    across = 0;
  for (let at = 0; at < areas.length; at++) {
    const turn = Math.abs(normals[at * 3] * axis[0] + normals[at * 3 + 1] * axis[1] + normals[at * 3 + 2] * axis[2]);
    if (turn > 1 - STRAIGHT) along += areas[at];
    else if (turn < STRAIGHT) across += areas[at];
  }
  return { along: along / total, across: across / total };
}
const isPrism = ({ along, across }: { along: number; across: number }): boolean => along + across > 1 - 1e-6;

/** A prism along its shortest axis whose large faces are most of it. */
function plate(shape: Shape): Recognised | null {
  const { box, frame } = shape;
  const faces = facing(shape, frame[2]);
  if (box[2] > PLATE_SHARE * box[1] || !isPrism(faces) || faces.along < 0.5) return null;
  // A flat bar is a plate too, but is bought by width: longer than four times its width, all around rectangular.
  if (box[0] > 4 * box[1] && isRectangular(shape, 0)) return null;
  return {
    stock: 'plate',
    sizes: {
      Thickness: { value: box[2], how: 'measured between the two large faces of a plate' },
      Length: { value: box[0], how: 'measured along the longer side of a plate' },
      Width: { value: box[1], how: 'measured along the shorter side of a plate' },
    },
  };
}

/** Every facet faces along one of the main axes. */
const isRectangular = (shape: Shape, along: number): boolean =>
  isPrism(facing(shape, shape.frame[along])) &&
  isPrism(facing(shape, shape.frame[(along + 1) % 3])) &&
  isPrism(facing(shape, shape.frame[(along + 2) % 3]));

/** Bars and tubes along the given main axis. */
function barAlong(shape: Shape, along: 0 | 2): Recognised | null {
  const { box, frame, tolerance, volume } = shape;
  const axis = frame[along];
  const faces = facing(shape, axis);
  if (!isPrism(faces) || faces.along === 0) return null;
  const Length = { value: box[along], how: 'measured along the straight sides' };
  const others = [0, 1, 2].filter((at) => at !== along);
  const [width, height] = others.map((at) => box[at]);
  if (Math.abs(width - height) < FACETED * width) {
    const radii = sideRadii(shape, axis);
    const isRoundOutside =
      radii !== null && radii.length > 0 && Math.abs(2 * radii[radii.length - 1] - width) < FACETED * width;
    if (isRoundOutside && radii.length === 1)
      return {
        stock: 'round bar',
        box: roundBox(box[along], radii[0]),
        sizes: { Length, Diameter: { value: rounded(2 * radii[0]), how: 'measured on a round bar' } },
      };
    if (isRoundOutside && radii.length === 2) {
      return {
        stock: 'round tube',
        box: roundBox(box[along], radii[1]),
        sizes: {
          Length,
          Diameter: { value: rounded(2 * radii[1]), how: 'outer diameter, measured on a round tube' },
          Wall: { value: rounded(radii[1] - radii[0]), how: 'outer less inner radius of a round tube' },
        },
      };
    }
  }
  if (along !== 0) return null;
  const section = volume / box[along];
  const sides = {
    Width: { value: width, how: 'measured across the section' },
    Height: { value: height, how: 'measured across the section' },
  };
  if (!isRectangular(shape, along)) return { stock: 'profile', sizes: { Length, ...sides } };
  if (Math.abs(section - width * height) < 1e-4 * width * height)
    return { stock: 'rectangular bar', sizes: { Length, ...sides } };
  // Wall from what is missing of the full section: (w − 2t)(h − 2t) = w h − section.
  const half = (width + height) / 4;
  const wall = half - Math.sqrt(Math.max(0, half * half - section / 4));
  const isWall =
    wall > tolerance &&
    wall < Math.min(width, height) / 2 - tolerance &&
    hasCoordinate(shape, others[0], width / 2 - wall) &&
    hasCoordinate(shape, others[1], height / 2 - wall);
  return isWall
    ? {
        stock: 'rectangular tube',
        sizes: {
          Length,
          ...sides,
          Wall: { value: rounded(wall), how: 'from the area of the section of a rectangular tube' },
        },
      }
    : { stock: 'profile', sizes: { Length, ...sides } };
}

const roundBox = (size: number, radius: number): Vec3 =>
  [size, rounded(2 * radius), rounded(2 * radius)].sort((a, b) => b - a) as unknown as Vec3;

/** Whether a vertex stands this far from the middle along a main axis. */
function hasCoordinate({ mesh: { positions: p }, frame, tolerance }: Shape, axis: number, from: number): boolean {
  let low = Infinity,
    high = -Infinity;
  const along = (at: number) => p[at] * frame[axis][0] + p[at + 1] * frame[axis][1] + p[at + 2] * frame[axis][2];
  for (let at = 0; at < p.length; at += 3) {
    low = Math.min(low, along(at));
    high = Math.max(high, along(at));
  }
  for (let at = 0; at < p.length; at += 3)
    if (Math.abs(Math.abs(along(at) - (low + high) / 2) - from) < 4 * tolerance) return true;
  return false;
}

/**
 * Radii about the axis through the centroid on which every vertex of the sides stands, least first; null for more
 * than two.
 */
function sideRadii({ mesh, tolerance }: Shape, axis: Vec3): number[] | null {
  const { centroid } = meshMoments(mesh);
  const radii: number[] = [];
  for (let at = 0; at < mesh.positions.length; at += 3) {
    if (Math.abs(dot([mesh.normals[at], mesh.normals[at + 1], mesh.normals[at + 2]], axis)) > 0.5) continue; // ends
    const radius = length(
      cross(
        [mesh.positions[at] - centroid[0], mesh.positions[at + 1] - centroid[1], mesh.positions[at + 2] - centroid[2]],
        axis,
      ),
    );
    if (radii.some((known) => Math.abs(known - radius) < 4 * tolerance)) continue;
    radii.push(radius);
    if (radii.length > 2) return null;
  }
  return radii.sort((a, b) => a - b);
}

/** Round about one of its main axes: every facet's normal, carried on, meets the axis. */
function turned(shape: Shape): Recognised | null {
  const { mesh, frame, box } = shape;
  for (const along of [0, 2, 1]) {
    const others = [0, 1, 2].filter((at) => at !== along);
    const diameter = box[others[0]];
    if (Math.abs(box[others[0]] - box[others[1]]) > FACETED * diameter) continue;
    if (!isRound(mesh, frame[along])) continue;
    return {
      stock: 'turned part',
      sizes: {
        Length: { value: box[along], how: 'measured along the axis of a turned part' },
        Diameter: {
          value: rounded(Math.max(box[others[0]], box[others[1]])),
          how: 'largest diameter of a turned part',
        },
      },
    };
  }
  return null;
}

function isRound(mesh: Mesh, axis: Vec3): boolean {
  const { centroid } = meshMoments(mesh);
  const { positions: p, normals: n } = mesh;
  let round = 0,
    curved = 0;
  for (let at = 0; at < p.length; at += 3) {
    const normal: Vec3 = [n[at], n[at + 1], n[at + 2]];
    if (Math.abs(dot(normal, axis)) > 1 - STRAIGHT) continue; // ends and shoulders
    const arm = cross(axis, cross([p[at] - centroid[0], p[at + 1] - centroid[1], p[at + 2] - centroid[2]], axis));
    if (length(arm) < 1e-9) continue;
    curved++;
    // The kernel's normals at a face's border may lag by half a facet: 0.2 rad at most.
    if (Math.abs(dot(normal, normalize(cross(axis, arm)))) < 0.12) round++;
  }
  return curved > 20 && round > 0.98 * curved;
}
