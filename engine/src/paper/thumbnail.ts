import { encode } from 'fast-png';
import {
  applyToPoint,
  isFlatMesh,
  meshBox,
  meshColour,
  type Mesh,
  type Vec3,
} from '../../../core/src/geometry/index.ts';
import { viewPlacement } from '../../../core/src/views/index.ts';

/** Edge of the picture in pixels, and how many samples stand in each pixel's row and column. */
const SIZE = 96,
  SAMPLES = 2;
const MARGIN = 0.06;
const PLAIN = 0xb9c0c2;
/** From the upper left behind the viewer; view coordinates. */
const LIGHT: Vec3 = [-0.35, 0.6, 0.72];

/** A PNG picture of a shape, always from the same corner in the same light, on nothing; a symbol of a layout from above. */
export function drawThumbnail(mesh: Mesh): Uint8Array {
  const flat = isFlatMesh(mesh);
  const view = viewPlacement(flat ? 'top' : 'isometric');
  const count = mesh.positions.length / 3;
  const points = Float64Array.from({ length: count * 3 });
  for (let at = 0; at < count; at++)
    points.set(
      applyToPoint(view, [mesh.positions[at * 3], mesh.positions[at * 3 + 1], mesh.positions[at * 3 + 2]]),
      at * 3,
    );
  const [x0, y0, , x1, y1] = meshBox({ ...mesh, positions: points });
  const side = SIZE * SAMPLES;
  const scale = (side * (1 - 2 * MARGIN)) / Math.max(x1 - x0, y1 - y0, 1e-9);
  const toX = (x: number) => (x - (x0 + x1) / 2) * scale + side / 2,
    toY = (y: number) => side / 2 - (y - (y0 + y1) / 2) * scale;
  const depth = new Float64Array(side * side).fill(-Infinity),
    shade = new Uint32Array(side * side);
  const colourOf = colourPerTriangle(mesh);
  for (let at = 0; at < mesh.triangles.length; at += 3) {
    const corner = (n: number): Vec3 => {
      const p = mesh.triangles[at + n] * 3;
      return [toX(points[p]), toY(points[p + 1]), points[p + 2] * scale];
    };
    fill(corner(0), corner(1), corner(2), side, depth, shade, colourOf(at / 3));
    // Lines of a symbol are bands too narrow to fill anything.
    if (flat) trace(corner(0), corner(1), corner(2), side, depth, shade, colourOf(at / 3));
  }
  return encode({ width: SIZE, height: SIZE, data: smaller(depth, shade, side), channels: 4, depth: 8 });
}

function colourPerTriangle(mesh: Mesh): (triangle: number) => number {
  const plain = meshColour(mesh) ?? PLAIN;
  const colours = new Int32Array(mesh.triangles.length / 3).fill(plain);
  mesh.faceColours.forEach((colour, face) =>
    colours.fill(colour < 0 ? plain : colour, mesh.faceStarts[face], mesh.faceStarts[face + 1]),
  );
  return (triangle) => colours[triangle];
}

/** Draws the longest side of a triangle that is narrower than a sample. */
function trace(a: Vec3, b: Vec3, c: Vec3, side: number, depth: Float64Array, shade: Uint32Array, colour: number): void {
  const area = Math.abs((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]));
  const sides = [
    [a, b],
    [b, c],
    [c, a],
  ].map(([from, to]) => ({ from, to, long: Math.hypot(to[0] - from[0], to[1] - from[1]) }));
  const { from, to, long } = sides.reduce((longest, one) => (one.long > longest.long ? one : longest));
  if (area > long * 0.2) return;
  for (let at = 0; at <= Math.ceil(long); at++) {
    const share = at / Math.max(1, Math.ceil(long));
    const z = from[2] + share * (to[2] - from[2]);
    for (const [dx, dy] of PEN) {
      const x = Math.floor(from[0] + share * (to[0] - from[0]) + dx),
        y = Math.floor(from[1] + share * (to[1] - from[1]) + dy);
      if (x < 0 || y < 0 || x >= side || y >= side || depth[y * side + x] > z) continue;
      depth[y * side + x] = z;
      shade[y * side + x] = colour;
    }
  }
}
/** Samples of a line's breadth. */
const PEN = [
  [0, 0],
  [1, 0],
  [0, 1],
  [1, 1],
] as const;

function fill(a: Vec3, b: Vec3, c: Vec3, side: number, depth: Float64Array, shade: Uint32Array, colour: number): void {
  const area = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
  if (Math.abs(area) < 1e-9) return;
  // Normal in view coordinates (y up): paper y runs down.
  const u: Vec3 = [b[0] - a[0], a[1] - b[1], b[2] - a[2]],
    v: Vec3 = [c[0] - a[0], a[1] - c[1], c[2] - a[2]];
  const n: Vec3 = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
  const size = Math.hypot(...n) * Math.hypot(...LIGHT) * Math.sign(n[2] || 1);
  const light = 0.45 + 0.6 * Math.max(0, (n[0] * LIGHT[0] + n[1] * LIGHT[1] + n[2] * LIGHT[2]) / size);
  const channel = (shift: number) => Math.min(255, Math.round(((colour >> shift) & 255) * light));
  const lit = (channel(16) << 16) | (channel(8) << 8) | channel(0);
  const clamp = (value: number) => Math.max(0, Math.min(side - 1, value));
  for (let y = clamp(Math.floor(Math.min(a[1], b[1], c[1]))); y <= clamp(Math.ceil(Math.max(a[1], b[1], c[1]))); y++) {
    for (
      let x = clamp(Math.floor(Math.min(a[0], b[0], c[0])));
      x <= clamp(Math.ceil(Math.max(a[0], b[0], c[0])));
      x++
    ) {
      const p = x + 0.5,
        q = y + 0.5;
      const wb = ((p - a[0]) * (c[1] - a[1]) - (q - a[1]) * (c[0] - a[0])) / area,
        wc = ((b[0] - a[0]) * (q - a[1]) - (b[1] - a[1]) * (p - a[0])) / area;
      if (wb < 0 || wc < 0 || wb + wc > 1) continue;
      const z = a[2] + wb * (b[2] - a[2]) + wc * (c[2] - a[2]),
        at = y * side + x;
      if (z <= depth[at]) continue;
      depth[at] = z;
      shade[at] = lit;
    }
  }
}

/** Samples averaged into pixels; how many of them are covered is the opacity. */
function smaller(depth: Float64Array, shade: Uint32Array, side: number): Uint8Array {
  const pixels = new Uint8Array(SIZE * SIZE * 4);
  for (let y = 0; y < SIZE; y++)
    for (let x = 0; x < SIZE; x++) {
      const sum = [0, 0, 0];
      let covered = 0;
      for (let sample = 0; sample < SAMPLES * SAMPLES; sample++) {
        const at = (y * SAMPLES + Math.floor(sample / SAMPLES)) * side + x * SAMPLES + (sample % SAMPLES);
        if (depth[at] === -Infinity) continue;
        covered++;
        sum[0] += shade[at] >> 16;
        sum[1] += (shade[at] >> 8) & 255;
        sum[2] += shade[at] & 255;
      }
      if (covered > 0)
        pixels.set([...sum.map((value) => value / covered), (255 * covered) / SAMPLES ** 2], (y * SIZE + x) * 4);
    }
  return pixels;
}
