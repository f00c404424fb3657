import earcut from 'earcut';
import { hypot, meshOfTriangles, type Mesh } from '../geometry/index.ts';
import type { Outline } from './outlines.ts';
import type { Paint } from './paint.ts';

/** Outlines with how they are painted, the lowest first; mm, y up. */
export interface FlatShape {
  readonly outlines: readonly Outline[];
  readonly paint: Paint;
}

/**
 * Half the breadth of a line as a share of the layout's diagonal: so little that both its borders are one line in a view
 * (SAME_POINT_SHARE), and more than at which vertices are one.
 */
const LINE_SHARE = 0.7e-7;
/** An element of more outlines than this is filled without holes: each would be looked for in all others. */
const MOST_RINGS = 300;
/** Distance of one shape to the next above it, as a share of the symbol's size. */
const LAYER_SHARE = 1e-3;

/** Around all that is drawn; of nothing it is inside out. */
export function boxOfShapes(shapes: readonly Pick<FlatShape, 'outlines'>[]): [number, number, number, number] {
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { outlines } of shapes)
    for (const { points } of outlines)
      for (let at = 0; at < points.length; at++) {
        box[at % 2] = Math.min(box[at % 2], points[at]);
        box[(at % 2) + 2] = Math.max(box[(at % 2) + 2], points[at]);
      }
  return box;
}

/**
 * A mesh of flat shapes on the plane z = 0, seen from above: what is painted later lies higher, the last at 0. Areas become
 * triangles, lines bands that are too narrow to be seen as such. Null where nothing is drawn.
 * @param diagonal of the whole layout; mm
 */
export function flatMesh(shapes: readonly FlatShape[], diagonal: number): Mesh | null {
  const box = boxOfShapes(shapes);
  const size = hypot(box[2] - box[0], box[3] - box[1]);
  if (!(size > 0 && Number.isFinite(size))) return null;
  const builder = new Builder(Math.max(diagonal * LINE_SHARE, size * LINE_SHARE));
  shapes.forEach(({ outlines, paint }, at) => {
    const z = -(shapes.length - 1 - at) * size * LAYER_SHARE;
    if (paint.fill !== null) builder.fill(outlines, z, paint.fill);
    if (paint.stroke !== null || paint.fill === null) builder.lines(outlines, z, paint.stroke ?? -1);
  });
  return builder.finish();
}

class Builder {
  private readonly positions: number[] = [];
  private readonly triangles: number[] = [];
  private readonly groups: number[] = [];
  private readonly colours: number[] = [];
  constructor(private readonly half: number) {}

  /** Areas with their holes: an outline within an odd number of others is one. */
  fill(outlines: readonly Outline[], z: number, colour: number): void {
    const rings = outlines
      .map(({ points }) => ({ points, area: Math.abs(signedArea(points)) }))
      .filter(({ points, area }) => points.length >= 6 && area > 0)
      .sort((one, other) => other.area - one.area);
    const areas: { outer: number[]; holes: number[][] }[] = [];
    rings.forEach(({ points }, at) => {
      const around =
        rings.length > MOST_RINGS
          ? 0
          : rings.slice(0, at).filter((ring) => isInside(points[0], points[1], ring.points)).length;
      const holder =
        around % 2 === 1 ? areas.findLast(({ outer }) => isInside(points[0], points[1], outer)) : undefined;
      if (holder) holder.holes.push(points);
      else areas.push({ outer: points, holes: [] });
    });
    for (const { outer, holes } of areas) {
      const flat = [...outer];
      const starts = holes.map((hole) => {
        const start = flat.length / 2;
        for (const value of hole) flat.push(value);
        return start;
      });
      const first = this.positions.length / 3;
      for (let at = 0; at < flat.length; at += 2) this.positions.push(flat[at], flat[at + 1], z);
      const cut = earcut(flat, starts);
      for (let at = 0; at < cut.length; at += 3)
        this.triangle(first + cut[at], first + cut[at + 1], first + cut[at + 2]);
    }
    this.face(colour);
  }

  /** Bands along outlines, one face each. */
  lines(outlines: readonly Outline[], z: number, colour: number): void {
    for (const { points, closed } of outlines) {
      const path = withoutRepeats(closed ? [...points, points[0], points[1]] : points);
      const count = path.length / 2;
      if (count < 2) continue;
      const first = this.positions.length / 3;
      for (let at = 0; at < count; at++) {
        const [nx, ny] = normalAt(path, at, closed);
        const [x, y] = [path[at * 2], path[at * 2 + 1]];
        this.positions.push(x + nx * this.half, y + ny * this.half, z, x - nx * this.half, y - ny * this.half, z);
      }
      for (let at = 0; at + 1 < count; at++) {
        const a = first + at * 2;
        this.triangle(a, a + 1, a + 2);
        this.triangle(a + 2, a + 1, a + 3);
      }
      this.face(colour);
    }
  }

  finish(): Mesh | null {
    if (this.triangles.length === 0) return null;
    const mesh = meshOfTriangles({
      positions: Float64Array.from(this.positions),
      triangles: Uint32Array.from(this.triangles),
      groups: Uint32Array.from(this.groups),
      colours: this.colours,
    });
    return mesh.triangles.length > 0 ? mesh : null;
  }

  /** Counter-clockwise seen from above. */
  private triangle(a: number, b: number, c: number): void {
    const { positions: p } = this;
    const area =
      (p[b * 3] - p[a * 3]) * (p[c * 3 + 1] - p[a * 3 + 1]) - (p[c * 3] - p[a * 3]) * (p[b * 3 + 1] - p[a * 3 + 1]);
    if (area < 0) this.triangles.push(a, c, b);
    else this.triangles.push(a, b, c);
  }
  private face(colour: number): void {
    const group = this.colours.length;
    while (this.groups.length < this.triangles.length / 3) this.groups.push(group);
    this.colours.push(colour);
  }
}

function signedArea(points: readonly number[]): number {
  let sum = 0;
  for (let at = 0; at < points.length; at += 2) {
    const next = (at + 2) % points.length;
    sum += points[at] * points[next + 1] - points[next] * points[at + 1];
  }
  return sum / 2;
}
function isInside(x: number, y: number, ring: readonly number[]): boolean {
  let inside = false;
  for (let at = 0, before = ring.length - 2; at < ring.length; before = at, at += 2) {
    const [x0, y0, x1, y1] = [ring[at], ring[at + 1], ring[before], ring[before + 1]];
    if (y0 > y !== y1 > y && x < ((x1 - x0) * (y - y0)) / (y1 - y0) + x0) inside = !inside;
  }
  return inside;
}
function withoutRepeats(points: readonly number[]): number[] {
  const path: number[] = [];
  for (let at = 0; at < points.length; at += 2)
    if (path.length === 0 || points[at] !== path.at(-2) || points[at + 1] !== path.at(-1))
      path.push(points[at], points[at + 1]);
  return path;
}
/** Square to the path at a point: between its two stretches. */
function normalAt(path: readonly number[], at: number, closed: boolean): [number, number] {
  const count = path.length / 2;
  const before = at > 0 ? at - 1 : closed ? count - 2 : 0;
  const after = at < count - 1 ? at + 1 : closed ? 1 : count - 1;
  const unit = (from: number, to: number): [number, number] => {
    const [dx, dy] = [path[to * 2] - path[from * 2], path[to * 2 + 1] - path[from * 2 + 1]];
    const size = hypot(dx, dy) || 1;
    return [dx / size, dy / size];
  };
  const [ax, ay] = before === at ? unit(at, after) : unit(before, at);
  const [bx, by] = after === at ? [ax, ay] : unit(at, after);
  const [sx, sy] = [ax + bx, ay + by];
  const size = hypot(sx, sy);
  return size < 1e-9 ? [-ay, ax] : [-sy / size, sx / size];
}
