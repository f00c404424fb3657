import { placementFromAxes, type Vec3 } from '../core/src/geometry/index.ts';
import { axes, direction, point, real, type StepWriter } from './stepWriter.ts';
import { inFrame, type Corner, type Loop, type Solid } from './solids.ts';

/** Writes the solid as a manifold_solid_brep with analytic faces; its reference. */
export function writeSolid(step: StepWriter, solid: Solid): string {
  const writer = new SolidWriter(step, solid);
  const faces = solid.kind === 'stack' ? writer.stack() : writer.lathe();
  const shell = step.add(`CLOSED_SHELL('',(${faces.join(',')}))`);
  return step.add(`MANIFOLD_SOLID_BREP('',${shell})`);
}

/** An edge with the direction in which a bound runs along it. */
type Directed = readonly [edge: string, forward: boolean];
const reversed = (bound: readonly Directed[]): Directed[] =>
  [...bound].reverse().map(([edge, forward]) => [edge, !forward]);

class SolidWriter {
  constructor(
    private readonly step: StepWriter,
    private readonly solid: Solid,
  ) {}

  private at(x: number, y: number, z: number): Vec3 {
    return inFrame(this.solid, [x, y, z]);
  }

  private along(x: number, y: number, z: number): Vec3 {
    const o = this.at(0, 0, 0),
      p = this.at(x, y, z);
    return [p[0] - o[0], p[1] - o[1], p[2] - o[2]];
  }

  private vertex(x: number, y: number, z: number): string {
    return this.step.add(`VERTEX_POINT('',${point(this.step, this.at(x, y, z))})`);
  }

  private frame(x: number, y: number, z: number, normal: Vec3, reference: Vec3): string {
    return axes(this.step, placementFromAxes(this.at(x, y, z), this.along(...normal), this.along(...reference)));
  }

  private lineEdge(from: string, to: string, start: Vec3, way: Vec3): string {
    const size = Math.hypot(...way);
    const vector = this.step.add(
      `VECTOR('',${direction(this.step, this.along(way[0] / size, way[1] / size, way[2] / size))},1.)`,
    );
    const line = this.step.add(`LINE('',${point(this.step, this.at(...start))},${vector})`);
    return this.step.add(`EDGE_CURVE('',${from},${to},${line},.T.)`);
  }

  private circleEdge(from: string, to: string, x: number, y: number, z: number, radius: number, ccw = true): string {
    const curve = this.step.add(`CIRCLE('',${this.frame(x, y, z, [0, 0, 1], [1, 0, 0])},${real(radius)})`);
    return this.step.add(`EDGE_CURVE('',${from},${to},${curve},${ccw ? '.T.' : '.F.'})`);
  }

  private bound(edges: readonly Directed[], outer: boolean): string {
    const oriented = edges.map(([edge, forward]) =>
      this.step.add(`ORIENTED_EDGE('',*,*,${edge},${forward ? '.T.' : '.F.'})`),
    );
    const loop = this.step.add(`EDGE_LOOP('',(${oriented.join(',')}))`);
    return this.step.add(`${outer ? 'FACE_OUTER_BOUND' : 'FACE_BOUND'}('',${loop},.T.)`);
  }

  private face(
    surface: string,
    sameSense: boolean,
    outer: readonly Directed[],
    inner: readonly (readonly Directed[])[] = [],
  ): string {
    const bounds = [this.bound(outer, true), ...inner.map((edges) => this.bound(edges, false))];
    return this.step.add(`ADVANCED_FACE('',(${bounds.join(',')}),${surface},${sameSense ? '.T.' : '.F.'})`);
  }

  private plane(z: number, up: boolean): string {
    return this.step.add(`PLANE('',${this.frame(0, 0, z, [0, 0, up ? 1 : -1], [1, 0, 0])})`);
  }

  private cylinder(x: number, y: number, z: number, radius: number): string {
    return this.step.add(`CYLINDRICAL_SURFACE('',${this.frame(x, y, z, [0, 0, 1], [1, 0, 0])},${real(radius)})`);
  }

  stack(): string[] {
    const { layers } = this.solid as Solid & { kind: 'stack' };
    const faces: string[] = [];
    const walls = layers.map((layer) => {
      const outer = this.wall(layer.outer, layer.from, layer.to, faces, true);
      const holes = (layer.holes ?? []).map((hole) => this.wall(hole, layer.from, layer.to, faces, false));
      return { ...layer, outerWall: outer, holeWalls: holes, size: extent(layer.outer) };
    });
    const first = walls[0],
      last = walls[walls.length - 1];
    faces.push(
      this.face(
        this.plane(first.from, false),
        true,
        reversed(first.outerWall.low),
        first.holeWalls.map((wall) => reversed(wall.low)),
      ),
    );
    faces.push(
      this.face(
        this.plane(last.to, true),
        true,
        last.outerWall.high,
        last.holeWalls.map((wall) => wall.high),
      ),
    );
    for (let at = 1; at < walls.length; at++) {
      const below = walls[at - 1],
        above = walls[at];
      faces.push(
        below.size > above.size
          ? this.face(this.plane(above.from, true), true, below.outerWall.high, [reversed(above.outerWall.low)])
          : this.face(this.plane(above.from, false), true, reversed(above.outerWall.low), [below.outerWall.high]),
      );
    }
    return faces;
  }

  /** Side faces of one loop; the bounds run with the material on their left seen from above. */
  private wall(
    loop: Loop,
    low: number,
    high: number,
    faces: string[],
    outer: boolean,
  ): { low: Directed[]; high: Directed[] } {
    if ('circle' in loop) return this.roundWall(loop.circle, low, high, faces, outer);
    const corners = outer ? loop.corners : clockwise(loop.corners);
    const lowVertices = corners.map(({ x, y }) => this.vertex(x, y, low));
    const highVertices = corners.map(({ x, y }) => this.vertex(x, y, high));
    const uprights = corners.map(({ x, y }, at) =>
      this.lineEdge(lowVertices[at], highVertices[at], [x, y, low], [0, 0, 1]),
    );
    const ring = (vertices: string[], z: number) =>
      corners.map((corner, at) => {
        const next = (at + 1) % corners.length;
        return corner.arc
          ? this.circleEdge(
              vertices[at],
              vertices[next],
              corner.arc.cx,
              corner.arc.cy,
              z,
              Math.hypot(corner.x - corner.arc.cx, corner.y - corner.arc.cy),
              corner.arc.ccw,
            )
          : this.lineEdge(
              vertices[at],
              vertices[next],
              [corner.x, corner.y, z],
              [corners[next].x - corner.x, corners[next].y - corner.y, 0],
            );
      });
    const lowEdges = ring(lowVertices, low),
      highEdges = ring(highVertices, high);
    corners.forEach((corner, at) => {
      const next = (at + 1) % corners.length;
      const around: Directed[] = [
        [lowEdges[at], true],
        [uprights[next], true],
        [highEdges[at], false],
        [uprights[at], false],
      ];
      const { arc } = corner;
      if (arc)
        faces.push(
          this.face(
            this.cylinder(arc.cx, arc.cy, low, Math.hypot(corner.x - arc.cx, corner.y - arc.cy)),
            arc.ccw,
            around,
          ),
        );
      else {
        const dx = corners[next].x - corner.x,
          dy = corners[next].y - corner.y;
        const plane = this.step.add(`PLANE('',${this.frame(corner.x, corner.y, low, [dy, -dx, 0], [dx, dy, 0])})`);
        faces.push(this.face(plane, true, around));
      }
    });
    const run = (edges: string[]): Directed[] => edges.map((edge) => [edge, true]);
    return { low: run(lowEdges), high: run(highEdges) };
  }

  private roundWall(
    [x, y, radius]: readonly [number, number, number],
    low: number,
    high: number,
    faces: string[],
    outer: boolean,
  ): { low: Directed[]; high: Directed[] } {
    const lowVertex = this.vertex(x + radius, y, low),
      highVertex = this.vertex(x + radius, y, high);
    const lowEdge = this.circleEdge(lowVertex, lowVertex, x, y, low, radius);
    const highEdge = this.circleEdge(highVertex, highVertex, x, y, high, radius);
    const seam = this.lineEdge(lowVertex, highVertex, [x + radius, y, low], [0, 0, 1]);
    const around: Directed[] = [
      [lowEdge, true],
      [seam, true],
      [highEdge, false],
      [seam, false],
    ];
    faces.push(this.face(this.cylinder(x, y, low, radius), outer, outer ? around : reversed(around)));
    return { low: [[lowEdge, outer]], high: [[highEdge, outer]] };
  }

  lathe(): string[] {
    const { profile } = this.solid as Solid & { kind: 'lathe' };
    const vertices = profile.map(([r, z]) => (r > 0 ? this.vertex(r, 0, z) : null));
    const circles = profile.map(([r, z], at) =>
      r > 0 ? this.circleEdge(vertices[at]!, vertices[at]!, 0, 0, z, r) : null,
    );
    return profile.flatMap(([r1, z1], at) => {
      const next = (at + 1) % profile.length;
      const [r2, z2] = profile[next];
      if (r1 === 0 && r2 === 0) return [];
      if (z1 === z2) return [this.latheDisc(z1, r2 > r1, circles[at], circles[next])];
      const seam = this.lineEdge(vertices[at]!, vertices[next]!, [r1, 0, z1], [r2 - r1, 0, z2 - z1]);
      const surface = r1 === r2 ? this.cylinder(0, 0, z1, r1) : this.cone(r1, z1, r2, z2);
      return [
        this.face(surface, z2 > z1, [
          [circles[at]!, true],
          [seam, true],
          [circles[next]!, false],
          [seam, false],
        ]),
      ];
    });
  }

  private latheDisc(z: number, outwards: boolean, here: string | null, next: string | null): string {
    const [outer, inner] = outwards ? [next, here] : [here, next];
    return this.face(this.plane(z, !outwards), true, [[outer!, !outwards]], inner ? [[[inner, outwards]]] : []);
  }

  private cone(r1: number, z1: number, r2: number, z2: number): string {
    const [r, z] = r1 < r2 ? [r1, z1] : [r2, z2];
    const widensUp = (r2 - r1) * (z2 - z1) > 0;
    const angle = Math.atan(Math.abs((r2 - r1) / (z2 - z1)));
    return this.step.add(
      `CONICAL_SURFACE('',${this.frame(0, 0, z, [0, 0, widensUp ? 1 : -1], [1, 0, 0])},${real(r)},${real(angle)})`,
    );
  }
}

/** A hole's path the other way round where it is given as an outline: its walls look inwards. */
function clockwise(corners: readonly Corner[]): readonly Corner[] {
  const twice = corners.reduce((sum, { x, y }, at) => {
    const next = corners[(at + 1) % corners.length];
    return sum + x * next.y - y * next.x;
  }, 0);
  if (twice <= 0) return corners;
  return corners.map((_, at) => {
    const here = corners.length - 1 - at,
      before = corners[(here + corners.length - 1) % corners.length];
    const { x, y } = corners[here];
    return before.arc ? { x, y, arc: { ...before.arc, ccw: !before.arc.ccw } } : { x, y };
  });
}

/** Half the widest extent; enough to tell which of two nested profiles is the outer one. */
const extent = (loop: Loop): number =>
  'circle' in loop ? loop.circle[2] : Math.max(...loop.corners.map(({ x, y }) => Math.hypot(x, y)));
