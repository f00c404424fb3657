import { hypot, type Vec3 } from '../../geometry/index.ts';
import type { Window } from './window.ts';

/** Numbers while they are gathered; grows by doubling. */
class Gathered<Numbers extends Float64Array | Int32Array | Uint8Array> {
  private held: Numbers;
  count = 0;
  constructor(private readonly ofSize: (size: number) => Numbers) {
    this.held = ofSize(1024);
  }

  push(value: number): void {
    if (this.count === this.held.length) {
      const larger = this.ofSize(this.count * 2);
      larger.set(this.held);
      this.held = larger;
    }
    this.held[this.count++] = value;
  }

  finish(): Numbers {
    return this.held.slice(0, this.count) as Numbers;
  }
}
const floats = () => new Gathered((size) => new Float64Array(size));
const integers = () => new Gathered((size) => new Int32Array(size));
const bytes = () => new Gathered((size) => new Uint8Array(size));

/** Triangles of a scene while they are gathered; see ViewScene for what the arrays hold. */
export class TriangleList {
  private readonly corners = floats();
  private readonly facing = floats();
  private readonly body = integers();
  private readonly face = integers();
  private readonly region = integers();
  private readonly stray = floats();

  /** @param points of which the corners are these three, counter-clockwise; the new triangle's index */
  addOf(
    points: ArrayLike<number>,
    a: number,
    b: number,
    c: number,
    facing: number,
    body: number,
    face: number,
    region: number,
    stray: number,
  ): number {
    this.corner(points, a);
    this.corner(points, b);
    this.corner(points, c);
    this.body.push(body);
    this.face.push(face);
    this.region.push(region);
    this.stray.push(stray);
    this.facing.push(facing);
    return this.facing.count - 1;
  }

  private corner(points: ArrayLike<number>, at: number): void {
    this.corners.push(points[at * 3]);
    this.corners.push(points[at * 3 + 1]);
    this.corners.push(points[at * 3 + 2]);
  }

  /** A triangle of the view plane however it runs round; one without area there is left out. */
  addEitherWay(a: Vec3, b: Vec3, c: Vec3, like: { body: number; face: number; region: number; stray: number }): void {
    const nz = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
    const nx = (b[1] - a[1]) * (c[2] - a[2]) - (b[2] - a[2]) * (c[1] - a[1]);
    const ny = (b[2] - a[2]) * (c[0] - a[0]) - (b[0] - a[0]) * (c[2] - a[2]);
    const size = hypot(nx, ny, nz);
    if (Math.abs(nz) <= 1e-6 * size) return;
    const corners = nz > 0 ? [...a, ...b, ...c] : [...a, ...c, ...b];
    this.addOf(corners, 0, 1, 2, Math.abs(nz) / size, like.body, like.face, like.region, like.stray);
  }

  finish() {
    return {
      corners: this.corners.finish(),
      facing: this.facing.finish(),
      triangleBody: this.body.finish(),
      triangleFace: this.face.finish(),
      triangleRegion: this.region.finish(),
      triangleStray: this.stray.finish(),
    };
  }
}

/** A curved region that runs through a line, and how far beside the line its own facets are clear of it. */
export interface OwnRegion {
  readonly region: number;
  readonly shift: readonly [number, number];
}

export interface CandidateLine {
  readonly from: Vec3;
  readonly to: Vec3;
  readonly kind: number;
  readonly body: number;
  readonly sagitta: number;
  readonly neighbours: readonly [number, number];
  readonly turnedAway: boolean;
  /** Whether the matter beside it turns away there: it may bound what is seen of its body. */
  readonly isContour: boolean;
  /** At most two. */
  readonly own: readonly OwnRegion[];
}

/** Candidate lines of a scene while they are gathered; see ViewScene for what the arrays hold. */
export class LineList {
  private readonly ends = floats();
  private readonly kind = bytes();
  private readonly body = integers();
  private readonly sagitta = floats();
  private readonly neighbours = integers();
  private readonly turnedAway = bytes();
  private readonly contour = bytes();
  private readonly regions = integers();
  private readonly shifts = floats();

  /** @param window lines are cut off at its border; drawn whole where null */
  constructor(private readonly window: Window | null = null) {}

  add(line: CandidateLine): void {
    if (!this.window) return this.keep(line);
    const inside = this.window.clip(line.from, line.to);
    if (inside) this.keep({ ...line, from: inside[0], to: inside[1] });
  }

  private keep({ from, to, kind, body, sagitta, neighbours, turnedAway, isContour, own }: CandidateLine): void {
    for (let axis = 0; axis < 3; axis++) this.ends.push(from[axis]);
    for (let axis = 0; axis < 3; axis++) this.ends.push(to[axis]);
    this.kind.push(kind);
    this.body.push(body);
    this.sagitta.push(sagitta);
    this.neighbours.push(neighbours[0]);
    this.neighbours.push(neighbours[1]);
    this.turnedAway.push(turnedAway ? 1 : 0);
    this.contour.push(isContour ? 1 : 0);
    for (let at = 0; at < 2; at++) {
      const one = own[at];
      this.regions.push(one ? one.region : -1);
      this.shifts.push(one ? one.shift[0] : 0);
      this.shifts.push(one ? one.shift[1] : 0);
    }
  }

  finish() {
    return {
      edges: this.ends.finish(),
      edgeKind: this.kind.finish(),
      edgeBody: this.body.finish(),
      edgeSagitta: this.sagitta.finish(),
      edgeNeighbours: this.neighbours.finish(),
      edgeTurnedAway: this.turnedAway.finish(),
      edgeContour: this.contour.finish(),
      edgeRegions: this.regions.finish(),
      edgeShifts: this.shifts.finish(),
    };
  }
}
