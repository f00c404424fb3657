import { composePlacements, determinant, hypot, type Box2, type Placement } from '../../geometry/index.ts';
import type { Body } from '../records.ts';
import { bodiesLeft, type LookCut } from '../scene/cutBodies.ts';
import { borderOf, turnedView } from './panes.ts';

/** In which colours faces are shaded: those that they have in the file, or all grey. */
export const shadings = ['colours', 'greys'] as const;
export type Shading = (typeof shadings)[number];

/** A picture of shaded faces, to lie under the lines of the same view. */
interface ShadedPicture {
  readonly width: number;
  readonly height: number;
  /** Red, green, blue and opacity per pixel, the uppermost row first; nothing where no face is seen. */
  readonly rgba: Uint8Array;
}

/** Pixels along the longer side: 300 per inch for a view of 200 mm. */
const PIXELS = 2400;
const PLAIN = 0xc3c9cb,
  GREY = 0xd0d0d0;
/** From the upper left behind the viewer; view coordinates, unit length. */
const LIGHT = [-0.349, 0.599, 0.72] as const;
const AMBIENT = 0.62,
  DIFFUSE = 0.42;
/** Of the way to white: lines and numbers on it have to be read. */
const PALE = 0.25;

/**
 * Faces in their colours, lit from the upper left, by a depth buffer; light is interpolated over each triangle (H. Gouraud
 * 1971).
 * @param view machine to view coordinates, z towards the viewer (see viewPlacement)
 * @param box on the view plane that the picture fills; mm
 */
export function shadeView(bodies: readonly Body[], view: Placement, box: Box2, shading: Shading): ShadedPicture {
  const [wide, high] = [Math.max(box[2] - box[0], 1e-9), Math.max(box[3] - box[1], 1e-9)];
  const pixel = Math.max(wide, high) / PIXELS;
  const width = Math.max(1, Math.round(wide / pixel)),
    height = Math.max(1, Math.round(high / pixel));
  const [perX, perY] = [width / wide, height / high];
  const depth = new Float32Array(width * height).fill(-Infinity);
  const rgba = new Uint8Array(width * height * 4);
  for (const { mesh, placement } of bodies) {
    const m = composePlacements(view, placement);
    const mirrored = determinant(m) < 0 ? -1 : 1;
    const count = mesh.positions.length / 3;
    const points = new Float32Array(count * 3),
      light = new Float32Array(count);
    for (let at = 0; at < count; at++) {
      const [x, y, z] = [mesh.positions[at * 3], mesh.positions[at * 3 + 1], mesh.positions[at * 3 + 2]];
      points[at * 3] = (m[0] * x + m[1] * y + m[2] * z + m[3] - box[0]) * perX;
      points[at * 3 + 1] = (box[3] - (m[4] * x + m[5] * y + m[6] * z + m[7])) * perY;
      points[at * 3 + 2] = m[8] * x + m[9] * y + m[10] * z + m[11];
      const [a, b, c] = [mesh.normals[at * 3], mesh.normals[at * 3 + 1], mesh.normals[at * 3 + 2]];
      const nx = m[0] * a + m[1] * b + m[2] * c,
        ny = m[4] * a + m[5] * b + m[6] * c,
        nz = m[8] * a + m[9] * b + m[10] * c;
      const size = hypot(nx, ny, nz) || 1;
      // What looks away is the inside of an open shape: it is lit as if it looked here.
      const way = nz * mirrored < 0 ? -mirrored : mirrored;
      light[at] = AMBIENT + DIFFUSE * Math.max(0, (way * (nx * LIGHT[0] + ny * LIGHT[1] + nz * LIGHT[2])) / size);
    }
    for (let face = 0; face + 1 < mesh.faceStarts.length; face++) {
      const own = mesh.faceColours[face];
      const colour = shading === 'greys' ? GREY : own >= 0 ? own : PLAIN;
      for (let at = mesh.faceStarts[face] * 3; at < mesh.faceStarts[face + 1] * 3; at += 3)
        fill(points, light, mesh.triangles, at, colour, width, height, depth, rgba);
    }
  }
  return { width, height, rgba };
}

/**
 * The same of what is left of a machine, with what is seen in its panes.
 * @param cut nothing is taken away where null
 */
export function shadeLook(
  machine: readonly Body[],
  view: Placement,
  { box, shading, cut }: { readonly box: Box2; readonly shading: Shading; readonly cut: LookCut | null },
): ShadedPicture {
  const picture = shadeView(cut ? bodiesLeft(machine, cut) : machine, view, box, shading);
  const { width, height, rgba } = picture;
  for (const pane of cut?.panes ?? []) {
    const left = bodiesLeft(machine, { ...cut!, cuts: pane.cuts });
    const inside = shadeView(left, turnedView(view, pane), box, shading);
    const border = borderOf(pane, [box]);
    const high = (box[3] - box[1]) / height;
    for (let row = 0; row < height; row++) {
      const y = box[3] - (row + 0.5) * high;
      for (const [from, to] of border.parts([box[0], y, box[2], y], 0, true)) {
        const first = (row * width + Math.ceil(from * width - 0.5)) * 4,
          end = (row * width + Math.ceil(to * width - 0.5)) * 4;
        rgba.set(inside.rgba.subarray(first, end), first);
      }
    }
  }
  return picture;
}

function fill(
  points: Float32Array,
  light: Float32Array,
  triangles: Uint32Array,
  at: number,
  colour: number,
  width: number,
  height: number,
  depth: Float32Array,
  rgba: Uint8Array,
): void {
  const [a, b, c] = [triangles[at] * 3, triangles[at + 1] * 3, triangles[at + 2] * 3];
  const [ax, ay, bx, by, cx, cy] = [points[a], points[a + 1], points[b], points[b + 1], points[c], points[c + 1]];
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  if (area === 0) return;
  const x0 = Math.max(0, Math.ceil(Math.min(ax, bx, cx) - 0.5)),
    x1 = Math.min(width - 1, Math.floor(Math.max(ax, bx, cx) - 0.5)),
    y0 = Math.max(0, Math.ceil(Math.min(ay, by, cy) - 0.5)),
    y1 = Math.min(height - 1, Math.floor(Math.max(ay, by, cy) - 0.5));
  const [az, bz, cz] = [points[a + 2], points[b + 2], points[c + 2]];
  const [al, bl, cl] = [light[triangles[at]], light[triangles[at + 1]], light[triangles[at + 2]]];
  const [red, green, blue] = [16, 8, 0].map((shift) => (colour >> shift) & 255);
  for (let y = y0; y <= y1; y++)
    for (let x = x0; x <= x1; x++) {
      const [px, py] = [x + 0.5, y + 0.5];
      const u = ((bx - px) * (cy - py) - (by - py) * (cx - px)) / area,
        v = ((cx - px) * (ay - py) - (cy - py) * (ax - px)) / area;
      const w = 1 - u - v;
      if (u < -1e-6 || v < -1e-6 || w < -1e-6) continue;
      const z = u * az + v * bz + w * cz;
      const place = y * width + x;
      if (z <= depth[place]) continue;
      depth[place] = z;
      const lit = u * al + v * bl + w * cl;
      rgba[place * 4] = paled(red * lit);
      rgba[place * 4 + 1] = paled(green * lit);
      rgba[place * 4 + 2] = paled(blue * lit);
      rgba[place * 4 + 3] = 255;
    }
}

const paled = (value: number): number => Math.min(255, Math.round(value + (255 - value) * PALE));
