import type { Vec3 } from '../geometry/index.ts';

/** Triangles of a scene while they are gathered; see ViewScene for what the arrays hold. */
export class TriangleList {
  private readonly corners: number[] = [];
  private readonly facing: number[] = [];
  private readonly body: number[] = [];
  private readonly face: number[] = [];
  private readonly region: number[] = [];
  private readonly stray: number[] = [];

  /** @param corners nine numbers, counter-clockwise; the new triangle's index */
  add(corners: readonly number[], facing: number, body: number, face: number, region: number, stray: number): number {
    this.corners.push(...corners);
    this.body.push(body);
    this.face.push(face);
    this.region.push(region);
    this.stray.push(stray);
    return this.facing.push(facing) - 1;
  }

  /** A triangle of the view plane however it runs round; one without area there is left out. */
  addEitherWay(a: Vec3, b: Vec3, c: Vec3, like: { body: number; face: number; region: number; stray: number }): void {
    const nz = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
    const nx = (b[1] - a[1]) * (c[2] - a[2]) - (b[2] - a[2]) * (c[1] - a[1]);
    const ny = (b[2] - a[2]) * (c[0] - a[0]) - (b[0] - a[0]) * (c[2] - a[2]);
    const size = Math.hypot(nx, ny, nz);
    if (Math.abs(nz) <= 1e-6 * size) return;
    const corners = nz > 0 ? [...a, ...b, ...c] : [...a, ...c, ...b];
    this.add(corners, Math.abs(nz) / size, like.body, like.face, like.region, like.stray);
  }

  finish() {
    return {
      corners: Float64Array.from(this.corners),
      facing: Float64Array.from(this.facing),
      triangleBody: Int32Array.from(this.body),
      triangleFace: Int32Array.from(this.face),
      triangleRegion: Int32Array.from(this.region),
      triangleStray: Float64Array.from(this.stray),
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
  /** At most two. */
  readonly own: readonly OwnRegion[];
}

/** Candidate lines of a scene while they are gathered; see ViewScene for what the arrays hold. */
export class LineList {
  private readonly ends: number[] = [];
  private readonly kind: number[] = [];
  private readonly body: number[] = [];
  private readonly sagitta: number[] = [];
  private readonly neighbours: number[] = [];
  private readonly turnedAway: number[] = [];
  private readonly regions: number[] = [];
  private readonly shifts: number[] = [];
  private longestShift = 0;

  add({ from, to, kind, body, sagitta, neighbours, turnedAway, own }: CandidateLine): void {
    this.ends.push(from[0], from[1], from[2], to[0], to[1], to[2]);
    this.kind.push(kind);
    this.body.push(body);
    this.sagitta.push(sagitta);
    this.neighbours.push(neighbours[0], neighbours[1]);
    this.turnedAway.push(turnedAway ? 1 : 0);
    for (const at of [0, 1]) {
      const one = own[at];
      this.regions.push(one ? one.region : -1);
      this.shifts.push(one ? one.shift[0] : 0, one ? one.shift[1] : 0);
      if (one) this.longestShift = Math.max(this.longestShift, Math.hypot(one.shift[0], one.shift[1]));
    }
  }

  finish() {
    return {
      edges: Float64Array.from(this.ends),
      edgeKind: Uint8Array.from(this.kind),
      edgeBody: Int32Array.from(this.body),
      edgeSagitta: Float64Array.from(this.sagitta),
      edgeNeighbours: Int32Array.from(this.neighbours),
      edgeTurnedAway: Uint8Array.from(this.turnedAway),
      edgeRegions: Int32Array.from(this.regions),
      edgeShifts: Float64Array.from(this.shifts),
      longestShift: this.longestShift,
    };
  }
}
