/**
 * Solids by their exact boundary representation, each with its volume by formula: what a tessellation is judged by. The
 * ways in which files bound one and the same solid (with a seam, without, through a pole) are solids of their own here.
 */
import type { Brep, Curve, Edge, ElementarySurface, Face, Loop } from '../core/src/breps/index.ts';
import {
  applyToPoint,
  composePlacements,
  placementFromAxes,
  type Placement,
  type Vec3,
} from '../core/src/geometry/index.ts';

export interface ExactSolid {
  readonly brep: Brep;
  /** mm³ */
  readonly volume: number;
}

/** An edge as a loop goes along it: `~edge` against its direction. */
type Way = number;

const { PI, sin, cos, tan, sqrt, acos } = Math;

/** Collects the parts of one shell. */
class Build {
  readonly vertices: Vec3[] = [];
  readonly edges: Edge[] = [];
  readonly faces: Face[] = [];

  vertex(...point: Vec3): number {
    return this.vertices.push(point) - 1;
  }

  line(start: number, end: number): number {
    return this.edges.push({ start, end, curve: { kind: 'line' }, forward: true }) - 1;
  }

  along(start: number, end: number, curve: Curve, forward = true): number {
    return this.edges.push({ start, end, curve, forward }) - 1;
  }

  /** About an axis through `centre`. */
  arc(start: number, end: number, centre: Vec3, radius: number, axis: Vec3 = [0, 0, 1], x: Vec3 = [1, 0, 0]): number {
    const frame = placementFromAxes(centre, axis, x);
    return this.along(start, end, { kind: 'conic', conic: 'ellipse', frame, a: radius, b: radius });
  }

  ring(radius: number, z: number): number {
    const start = this.vertex(radius, 0, z);
    return this.arc(start, start, [0, 0, z], radius);
  }

  face(surface: ElementarySurface, sameSense: boolean, ...loops: readonly (readonly Way[])[]): void {
    this.faces.push({
      surface,
      sameSense,
      colour: -1,
      loops: loops.map((loop): Loop => loop.map((way) => ({ edge: way < 0 ? ~way : way, forward: way >= 0 }))),
    });
  }

  solid(volume: number): ExactSolid {
    return {
      brep: { vertices: this.vertices, edges: this.edges, shells: [{ closed: true, faces: this.faces }] },
      volume,
    };
  }
}

const surface = (
  kind: ElementarySurface['kind'],
  radius = 0,
  second = 0,
  origin: Vec3 = [0, 0, 0],
  axis: Vec3 = [0, 0, 1],
  x: Vec3 = [1, 0, 0],
): ElementarySurface => ({ kind, frame: placementFromAxes(origin, axis, x), radius, second });
const level = (z: number, up: boolean): ElementarySurface => surface('plane', 0, 0, [0, 0, z], [0, 0, up ? 1 : -1]);

/** A cone, or a cylinder where both radii are one, standing on z = 0. */
export function frustum(low: number, high: number, height: number, seam: boolean): ExactSolid {
  const build = new Build();
  const [below, above] = [build.ring(low, 0), build.ring(high, height)];
  // A cone widens along its axis.
  const wall =
    low > high
      ? surface('cone', high, Math.atan((low - high) / height), [0, 0, height], [0, 0, -1])
      : low < high
        ? surface('cone', low, Math.atan((high - low) / height))
        : surface('cylinder', low);
  if (seam) {
    const line = build.line(build.edges[below].start, build.edges[above].start);
    build.face(wall, true, [below, line, ~above, ~line]);
  } else build.face(wall, true, [below], [~above]);
  build.face(level(0, false), true, [~below]);
  build.face(level(height, true), true, [above]);
  return build.solid((PI * height * (low * low + low * high + high * high)) / 3);
}

/** A cone with its apex, which its border comes to along a seam or not at all. */
export function cone(radius: number, height: number, seam: boolean): ExactSolid {
  const build = new Build();
  const below = build.ring(radius, 0);
  const wall = surface('cone', radius, Math.atan(radius / height), [0, 0, 0], [0, 0, -1]);
  if (seam) {
    const line = build.line(build.edges[below].start, build.vertex(0, 0, height));
    build.face(wall, true, [below, line, ~line]);
  } else build.face(wall, true, [below]);
  build.face(level(0, false), true, [~below]);
  return build.solid((PI * radius * radius * height) / 3);
}

/** A cone cut off by a plane along its axis: a hyperbola. Its volume as a sum of thin slices. */
export function cutCone(radius: number, height: number, share: number): ExactSolid {
  const build = new Build();
  const off = radius * share;
  const half = sqrt(radius * radius - off * off);
  const [right, left] = [build.vertex(off, -half, 0), build.vertex(off, half, 0)];
  const round = build.arc(left, right, [0, 0, 0], radius);
  const chord = build.line(right, left);
  // ρ² = off² + y² = (radius (1 − z / height))²
  const curve: Curve = {
    kind: 'conic',
    conic: 'hyperbola',
    frame: placementFromAxes([off, 0, height], [1, 0, 0], [0, 0, -1]),
    a: (off * height) / radius,
    b: off,
  };
  const bend = build.along(left, right, curve, false);
  const wall = surface('cone', radius, Math.atan(radius / height), [0, 0, 0], [0, 0, -1]);
  build.face(wall, true, [round, ~bend]);
  build.face(surface('plane', 0, 0, [off, 0, 0], [1, 0, 0], [0, 1, 0]), true, [bend, chord]);
  build.face(level(0, false), true, [~round, ~chord]);
  const slices = 20_000;
  let volume = 0;
  for (let at = 0; at < slices; at++) {
    const wide = radius * (1 - (at + 0.5) / slices);
    const missing = wide > off ? wide * wide * acos(off / wide) - off * sqrt(wide * wide - off * off) : 0;
    volume += ((PI * wide * wide - missing) * height) / slices;
  }
  return build.solid(volume);
}

/** A round bar cut off aslant: an ellipse. */
export function slantedRod(radius: number, height: number, slope: number, seam: boolean): ExactSolid {
  const build = new Build();
  const below = build.ring(radius, 0);
  const start = build.vertex(radius, 0, height + slope * radius);
  const size = sqrt(1 + slope * slope);
  const frame = placementFromAxes([0, 0, height], [-slope / size, 0, 1 / size], [1 / size, 0, slope / size]);
  const above = build.along(start, start, { kind: 'conic', conic: 'ellipse', frame, a: radius * size, b: radius });
  if (seam) {
    const line = build.line(build.edges[below].start, start);
    build.face(surface('cylinder', radius), true, [below, line, ~above, ~line]);
  } else build.face(surface('cylinder', radius), true, [below], [~above]);
  build.face(level(0, false), true, [~below]);
  build.face({ kind: 'plane', frame, radius: 0, second: 0 }, true, [above]);
  return build.solid(PI * radius * radius * height);
}

/** A tube with a window in its wall, wherever that stands: walls without seam, each with a hole. */
export function windowedTube(
  outer: number,
  inner: number,
  height: number,
  [from, wide, low, high]: readonly [number, number, number, number],
): ExactSolid {
  const build = new Build();
  const rings = [outer, inner].map((radius) => [build.ring(radius, 0), build.ring(radius, height)]);
  const corners = [outer, inner].map((radius) =>
    [low, high].map((z) => [from, from + wide].map((turn) => build.vertex(radius * cos(turn), radius * sin(turn), z))),
  );
  const arcs = [outer, inner].map((radius, wall) =>
    [low, high].map((z, at) => build.arc(corners[wall][at][0], corners[wall][at][1], [0, 0, z], radius)),
  );
  const posts = [0, 1].map((wall) => [0, 1].map((side) => build.line(corners[wall][0][side], corners[wall][1][side])));
  const spokes = [0, 1].map((at) => [0, 1].map((side) => build.line(corners[0][at][side], corners[1][at][side])));
  const window = (wall: number): Way[] => [posts[wall][0], arcs[wall][1], ~posts[wall][1], ~arcs[wall][0]];
  const back = (loop: readonly Way[]): Way[] => loop.map((way) => ~way).reverse();
  build.face(surface('cylinder', outer), true, [rings[0][0]], [~rings[0][1]], window(0));
  build.face(surface('cylinder', inner), false, [~rings[1][0]], [rings[1][1]], back(window(1)));
  build.face(level(0, false), true, [~rings[0][0]], [rings[1][0]]);
  build.face(level(height, true), true, [rings[0][1]], [~rings[1][1]]);
  build.face(level(low, true), true, [arcs[0][0], spokes[0][1], ~arcs[1][0], ~spokes[0][0]]);
  build.face(level(high, false), true, [spokes[1][0], arcs[1][1], ~spokes[1][1], ~arcs[0][1]]);
  for (const [side, turn] of [from, from + wide].entries()) {
    const normal: Vec3 = side === 0 ? [-sin(turn), cos(turn), 0] : [sin(turn), -cos(turn), 0];
    const origin: Vec3 = [outer * cos(turn), outer * sin(turn), low];
    const loop = [spokes[0][side], posts[1][side], ~spokes[1][side], ~posts[0][side]];
    build.face(surface('plane', 0, 0, origin, normal, [0, 0, 1]), true, side === 0 ? loop : back(loop));
  }
  const ringArea = outer * outer - inner * inner;
  return build.solid(PI * height * ringArea - (wide / 2) * ringArea * (high - low));
}

/** A whole ball: without any border, or with a meridian as its seam. */
export function ball(radius: number, seam: boolean): ExactSolid {
  const build = new Build();
  if (seam) {
    const [south, north] = [build.vertex(0, 0, -radius), build.vertex(0, 0, radius)];
    const meridian = build.arc(south, north, [0, 0, 0], radius, [0, -1, 0]);
    build.face(surface('sphere', radius), true, [meridian, ~meridian]);
  } else build.face(surface('sphere', radius), true);
  return build.solid((4 / 3) * PI * radius ** 3);
}

/** What of a ball lies between two levels, or above the one, or below it. */
export function ballZone(radius: number, low: number | null, high: number | null): ExactSolid {
  const build = new Build();
  const [below, above] = [low, high].map((z) => (z === null ? null : build.ring(sqrt(radius * radius - z * z), z)));
  build.face(
    surface('sphere', radius),
    true,
    ...(below === null ? [] : [[below]]),
    ...(above === null ? [] : [[~above]]),
  );
  if (below !== null) build.face(level(low!, false), true, [~below]);
  if (above !== null) build.face(level(high!, true), true, [above]);
  const to = (z: number): number => PI * (radius * radius * z - z ** 3 / 3);
  return build.solid(to(high ?? radius) - to(low ?? -radius));
}

/** A slice of an orange: two meridians from pole to pole. */
export function ballWedge(radius: number, angle: number): ExactSolid {
  const build = new Build();
  const [south, north] = [build.vertex(0, 0, -radius), build.vertex(0, 0, radius)];
  const axis = build.line(south, north);
  const meridians = [0, angle].map((turn) =>
    build.arc(south, north, [0, 0, 0], radius, [sin(turn), -cos(turn), 0], [cos(turn), sin(turn), 0]),
  );
  build.face(surface('sphere', radius), true, [meridians[1], ~meridians[0]]);
  build.face(surface('plane', 0, 0, [0, 0, 0], [0, -1, 0]), true, [meridians[0], ~axis]);
  build.face(surface('plane', 0, 0, [0, 0, 0], [-sin(angle), cos(angle), 0], [0, 0, 1]), true, [axis, ~meridians[1]]);
  return build.solid((2 / 3) * angle * radius ** 3);
}

/** A whole ring: without any border, or with both seams. */
export function torus(radius: number, tube: number, seams: boolean): ExactSolid {
  const build = new Build();
  if (seams) {
    const corner = build.vertex(radius + tube, 0, 0);
    const round = build.arc(corner, corner, [0, 0, 0], radius + tube);
    const across = build.arc(corner, corner, [radius, 0, 0], tube, [0, -1, 0]);
    build.face(surface('torus', radius, tube), true, [round, across, ~round, ~across]);
  } else build.face(surface('torus', radius, tube), true);
  return build.solid(2 * PI * PI * radius * tube * tube);
}

/** The upper half of a ring: two loops about the axis. */
export function halfTorus(radius: number, tube: number): ExactSolid {
  const build = new Build();
  const [outer, inner] = [build.ring(radius + tube, 0), build.ring(radius - tube, 0)];
  build.face(surface('torus', radius, tube), true, [outer], [~inner]);
  build.face(level(0, false), true, [~outer], [inner]);
  return build.solid(PI * PI * radius * tube * tube);
}

/** A bent bar: a stretch of a ring with two loops round its tube, short or the long way. */
export function elbow(radius: number, tube: number, angle: number, seam: boolean): ExactSolid {
  const build = new Build();
  const ends = [0, angle].map((turn) => {
    const start = build.vertex((radius + tube) * cos(turn), (radius + tube) * sin(turn), 0);
    const centre: Vec3 = [radius * cos(turn), radius * sin(turn), 0];
    return build.arc(start, start, centre, tube, [sin(turn), -cos(turn), 0], [cos(turn), sin(turn), 0]);
  });
  const wall = surface('torus', radius, tube);
  if (seam) {
    const line = build.arc(build.edges[ends[0]].start, build.edges[ends[1]].start, [0, 0, 0], radius + tube);
    build.face(wall, true, [line, ends[1], ~line, ~ends[0]]);
  } else build.face(wall, true, [ends[1]], [~ends[0]]);
  build.face(surface('plane', 0, 0, [radius, 0, 0], [0, -1, 0]), true, [ends[0]]);
  build.face(
    surface('plane', 0, 0, [radius * cos(angle), radius * sin(angle), 0], [-sin(angle), cos(angle), 0], [0, 0, 1]),
    true,
    [~ends[1]],
  );
  return build.solid(angle * PI * radius * tube * tube);
}

/** The dome of a tube wider than its ring, as heads of screws have it. Its volume as a sum of thin rings. */
export function appleDome(radius: number, tube: number, from: number): ExactSolid {
  const build = new Build();
  const wide = radius + tube * cos(from),
    base = tube * sin(from);
  const below = build.ring(wide, base);
  build.face(surface('torus', radius, tube), true, [below]);
  build.face(level(base, false), true, [~below]);
  const to = acos(-radius / tube),
    slices = 20_000;
  let volume = 0;
  for (let at = 0; at < slices; at++) {
    const turn = from + ((to - from) * (at + 0.5)) / slices;
    volume += (PI * (radius + tube * cos(turn)) ** 2 * tube * cos(turn) * (to - from)) / slices;
  }
  return build.solid(volume);
}

/** A round bar whose rims are rational splines; with `share` their edges begin so far round the closed spline. */
export function splineRod(radius: number, height: number, share: number): ExactSolid {
  const build = new Build();
  const w = sqrt(1 / 2);
  const square = [0, 1, 2, 3, 4, 5, 6, 7, 8].map((at): [number, number] => {
    const far = at % 2 === 1 ? radius / w : radius;
    return [far * cos((at * PI) / 4), far * sin((at * PI) / 4)];
  });
  const rims = [0, height].map((z) => {
    const curve: Curve = {
      kind: 'spline',
      degree: 2,
      knots: [0, 0, 0, 1, 1, 2, 2, 3, 3, 4, 4, 4],
      poles: square.map(([x, y]): Vec3 => [x, y, z]),
      weights: square.map((_, at) => (at % 2 === 1 ? w : 1)),
    };
    if (share === 0) {
      const start = build.vertex(radius, 0, z);
      return [build.along(start, start, curve)];
    }
    const [one, other] = [share, share + 0.4].map((turn) =>
      build.vertex(radius * cos(2 * PI * turn), radius * sin(2 * PI * turn), z),
    );
    return [build.along(one, other, curve), build.along(other, one, curve)];
  });
  build.face(surface('cylinder', radius), true, rims[0], rims[1].map((edge) => ~edge).reverse());
  build.face(level(0, false), true, rims[0].map((edge) => ~edge).reverse());
  build.face(level(height, true), true, rims[1]);
  return build.solid(PI * radius * radius * height);
}

/** The solid moved and turned. */
export function placed({ brep, volume }: ExactSolid, placement: Placement): ExactSolid {
  const framed = (frame: Placement): Placement => composePlacements(placement, frame);
  return {
    volume,
    brep: {
      vertices: brep.vertices.map((vertex) => applyToPoint(placement, vertex)),
      edges: brep.edges.map((edge): Edge => {
        const { curve } = edge;
        if (curve.kind === 'line') return edge;
        if (curve.kind === 'conic') return { ...edge, curve: { ...curve, frame: framed(curve.frame) } };
        return { ...edge, curve: { ...curve, poles: curve.poles.map((pole) => applyToPoint(placement, pole)) } };
      }),
      shells: brep.shells.map((shell) => ({
        ...shell,
        faces: shell.faces.map((face) => ({
          ...face,
          surface: { ...face.surface, frame: framed(face.surface.frame) },
        })),
      })),
    },
  };
}

/** The first solid with the second one as a hollow in it. */
export function hollowed(around: ExactSolid, hollow: ExactSolid): ExactSolid {
  const [vertices, edges] = [around.brep.vertices.length, around.brep.edges.length];
  const turned = hollow.brep.shells.map((shell) => ({
    ...shell,
    faces: shell.faces.map((face) => ({
      ...face,
      sameSense: !face.sameSense,
      loops: face.loops.map((loop) =>
        loop.map(({ edge, forward }) => ({ edge: edge + edges, forward: !forward })).reverse(),
      ),
    })),
  }));
  const moved = hollow.brep.edges.map((edge) => ({ ...edge, start: edge.start + vertices, end: edge.end + vertices }));
  return {
    volume: around.volume - hollow.volume,
    brep: {
      vertices: [...around.brep.vertices, ...hollow.brep.vertices],
      edges: [...around.brep.edges, ...moved],
      shells: [...around.brep.shells, ...turned],
    },
  };
}

/** How far a point is from the whole surface, by its plain equation; mm. */
export function distanceFrom({ kind, frame, radius, second }: ElementarySurface, point: Vec3): number {
  const local = [0, 1, 2].map((column) =>
    [0, 1, 2].reduce((sum, row) => sum + frame[row * 4 + column] * (point[row] - frame[row * 4 + 3]), 0),
  );
  const [x, y, z] = local;
  const rho = sqrt(x * x + y * y);
  switch (kind) {
    case 'plane':
      return Math.abs(z);
    case 'cylinder':
      return Math.abs(rho - radius);
    case 'cone':
      return Math.abs((rho - radius - z * tan(second)) * cos(second));
    case 'sphere':
      return Math.abs(sqrt(rho * rho + z * z) - radius);
    case 'torus':
      return Math.abs(sqrt((rho - radius) ** 2 + z * z) - second);
  }
}
