/**
 * A slow, plain judge of views: solids given by formulas, their outlines and edges as points on exact curves, and whether a
 * point is seen, by walking from it towards the viewer through the distance functions of all solids. It shares no code with
 * what draws views.
 */
import type { Box2, Mesh, Placement, Vec3 } from '../core/src/geometry/index.ts';
import type { ViewLines } from '../core/src/views/index.ts';
import { meetingStretches, type Solid } from './exactMeetings.ts';

export type { Solid };

export interface PlacedSolid {
  readonly solid: Solid;
  /** Turn and move: rows of a 3×4 matrix. */
  readonly placement: Placement;
}

const { hypot, cos, sin, PI, max, min, abs, sqrt } = Math;

/** Distance from the solid in its own coordinates, negative inside. */
export function distanceTo(solid: Solid, [x, y, z]: Vec3): number {
  switch (solid.kind) {
    case 'box': {
      const d = [
        abs(x - solid.x / 2) - solid.x / 2,
        abs(y - solid.y / 2) - solid.y / 2,
        abs(z - solid.z / 2) - solid.z / 2,
      ];
      return hypot(max(d[0], 0), max(d[1], 0), max(d[2], 0)) + min(max(d[0], d[1], d[2]), 0);
    }
    case 'sphere':
      return hypot(x, y, z) - solid.radius;
    case 'torus':
      return hypot(hypot(x, y) - solid.radius, z) - solid.tube;
    case 'tube': {
      const d = [
        abs(hypot(x, y) - (solid.inner + solid.outer) / 2) - (solid.outer - solid.inner) / 2,
        abs(z - solid.height / 2) - solid.height / 2,
      ];
      return hypot(max(d[0], 0), max(d[1], 0)) + min(max(d[0], d[1]), 0);
    }
    case 'frustum': {
      // The nearest of the three sides of the half profile, by the line segments that bound it.
      const rho = hypot(x, y),
        { low, high, height } = solid;
      const outside = [
        toSegment(rho, z, 0, 0, low, 0),
        toSegment(rho, z, low, 0, high, height),
        toSegment(rho, z, high, height, 0, height),
      ];
      const inside = z > 0 && z < height && rho < low + ((high - low) * z) / height;
      return min(...outside) * (inside ? -1 : 1);
    }
  }
}

function toSegment(px: number, py: number, ax: number, ay: number, bx: number, by: number): number {
  const dx = bx - ax,
    dy = by - ay;
  const t = max(0, min(1, ((px - ax) * dx + (py - ay) * dy) / (dx * dx + dy * dy || 1)));
  return hypot(px - ax - t * dx, py - ay - t * dy);
}

const apply = (m: Placement, [x, y, z]: Vec3): Vec3 => [
  m[0] * x + m[1] * y + m[2] * z + m[3],
  m[4] * x + m[5] * y + m[6] * z + m[7],
  m[8] * x + m[9] * y + m[10] * z + m[11],
];
/** Through a turn and move backwards. */
const applyBack = (m: Placement, [x, y, z]: Vec3): Vec3 => {
  const [a, b, c] = [x - m[3], y - m[7], z - m[11]];
  return [m[0] * a + m[4] * b + m[8] * c, m[1] * a + m[5] * b + m[9] * c, m[2] * a + m[6] * b + m[10] * c];
};

/** A point deeper than this in a solid is hidden; shallower is touching. mm */
const TOUCH = 1e-3;

/** The longest of the shortest steps on the way to the viewer: so much of a corner may be stepped over. mm */
const LEAST_STEP = 0.2;

/** Whether the line comes within the ball around the solid; most do not. */
function comesNear(solid: Solid, from: Vec3, way: Vec3): boolean {
  const [centre, radius] = ballAround(solid);
  const to = centre.map((value, axis) => value - from[axis]);
  const along = to[0] * way[0] + to[1] * way[1] + to[2] * way[2];
  const across = sqrt(max(0, to[0] ** 2 + to[1] ** 2 + to[2] ** 2 - along * along));
  return across <= radius + 0.01 && along >= -radius - 0.01;
}

/** Middle and radius of a ball around it, in its own coordinates. */
function ballAround(solid: Solid): readonly [Vec3, number] {
  return solid.kind === 'box'
    ? [[solid.x / 2, solid.y / 2, solid.z / 2], hypot(solid.x, solid.y, solid.z) / 2]
    : solid.kind === 'frustum' || solid.kind === 'tube'
      ? [
          [0, 0, solid.height / 2],
          hypot(solid.kind === 'tube' ? solid.outer : max(solid.low, solid.high), solid.height / 2),
        ]
      : [[0, 0, 0], solid.radius + (solid.kind === 'torus' ? solid.tube : 0)];
}

/** Whether anything stands between the point and the viewer. */
function isSeen(point: Vec3, towards: Vec3, solids: readonly PlacedSolid[], reach: number, least: number): boolean {
  const locals = solids.map(({ solid, placement }) => ({
    solid,
    from: applyBack(placement, point),
    way: applyBack([...placement.slice(0, 3), 0, ...placement.slice(4, 7), 0, ...placement.slice(8, 11), 0], towards),
  }));
  for (const { solid, from, way } of locals) {
    if (!comesNear(solid, from, way)) continue;
    for (let gone = 0; gone < reach;) {
      const distance = distanceTo(solid, [from[0] + gone * way[0], from[1] + gone * way[1], from[2] + gone * way[2]]);
      if (distance < -TOUCH) return false;
      gone += max(abs(distance), least);
    }
  }
  return true;
}

const around = (steps: number): number[] => Array.from({ length: steps + 1 }, (_, at) => (2 * PI * at) / steps);
const polyline = (from: Vec3, to: Vec3, step: number): Vec3[] => {
  const count = max(1, Math.ceil(hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]) / step));
  return Array.from(
    { length: count + 1 },
    (_, at) => from.map((value, axis) => value + ((to[axis] - value) * at) / count) as unknown as Vec3,
  );
};

/** Edges and outlines of a solid seen from `w` (its own coordinates), as rows of points about `step` apart. */
function exactCurves(solid: Solid, w: Vec3, step: number): Vec3[][] {
  switch (solid.kind) {
    case 'box': {
      const { x, y, z } = solid;
      const curves: Vec3[][] = [];
      for (const a of [0, 1])
        for (const b of [0, 1])
          curves.push(
            polyline([0, a * y, b * z], [x, a * y, b * z], step),
            polyline([a * x, 0, b * z], [a * x, y, b * z], step),
            polyline([a * x, b * y, 0], [a * x, b * y, z], step),
          );
      return curves;
    }
    case 'sphere': {
      const [u, v] = acrossTo(w);
      const turns = around(Math.ceil((2 * PI * solid.radius) / step));
      return [
        turns.map(
          (t) => [0, 1, 2].map((axis) => solid.radius * (cos(t) * u[axis] + sin(t) * v[axis])) as unknown as Vec3,
        ),
      ];
    }
    case 'frustum': {
      const { low, high, height } = solid;
      const circles = [
        [low, 0],
        [high, height],
      ].map(([radius, z]) =>
        around(Math.ceil((2 * PI * max(radius, 1e-3)) / step)).map((t): Vec3 => [radius * cos(t), radius * sin(t), z]),
      );
      // The normal (h cos t, h sin t, low − high) is square to w where h |w⊥| cos(t − t0) = (high − low) w_z.
      const side = hypot(w[0], w[1]);
      const share = side < 1e-9 ? 2 : ((high - low) * w[2]) / (height * side);
      if (abs(share) >= 1) return circles;
      const t0 = Math.atan2(w[1], w[0]),
        half = Math.acos(share);
      const rulings = [t0 - half, t0 + half].map((t) =>
        polyline([low * cos(t), low * sin(t), 0], [high * cos(t), high * sin(t), height], step),
      );
      return [...circles, ...rulings];
    }
    case 'tube': {
      const { inner, outer, height } = solid;
      return [inner, outer].flatMap((radius) =>
        exactCurves({ kind: 'frustum', low: radius, high: radius, height }, w, step),
      );
    }
    case 'torus':
      return torusOutlines(solid.radius, solid.tube, w, step);
  }
}

function torusOutlines(radius: number, tube: number, w: Vec3, step: number): Vec3[][] {
  const at = (theta: number, phi: number): Vec3 => [
    (radius + tube * cos(phi)) * cos(theta),
    (radius + tube * cos(phi)) * sin(theta),
    tube * sin(phi),
  ];
  const turns = around(Math.ceil((2 * PI * (radius + tube)) / step));
  if (abs(w[2]) < 1e-9) {
    const across = Math.atan2(w[1], w[0]) + PI / 2;
    const tubes = [across, across + PI].map((theta) =>
      around(Math.ceil((2 * PI * tube) / step)).map((phi) => at(theta, phi)),
    );
    return [...tubes, turns.map((t) => at(t, PI / 2)), turns.map((t) => at(t, -PI / 2))];
  }
  // cos φ (w⊥ · (cos θ, sin θ)) + sin φ w_z = 0; halved where φ turns fast, as it does when w lies almost in the ring's plane.
  const phiAt = (theta: number) => Math.atan2(-(w[0] * cos(theta) + w[1] * sin(theta)), w[2]);
  const walk = (from: number, to: number, other: number): number[] => {
    const [a, b] = [at(from, phiAt(from) + other), at(to, phiAt(to) + other)];
    const near = hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]) <= step;
    const middle = (from + to) / 2;
    return near ? [to] : [...walk(from, middle, other), ...walk(middle, to, other)];
  };
  return [0, PI].map((other) =>
    [turns[0], ...turns.slice(1).flatMap((t, index) => walk(turns[index], t, other))].map((theta) =>
      at(theta, phiAt(theta) + other),
    ),
  );
}

function acrossTo(w: Vec3): [Vec3, Vec3] {
  const near: Vec3 = abs(w[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0];
  const u0: Vec3 = [w[1] * near[2] - w[2] * near[1], w[2] * near[0] - w[0] * near[2], w[0] * near[1] - w[1] * near[0]];
  const size = hypot(...u0);
  const u: Vec3 = [u0[0] / size, u0[1] / size, u0[2] / size];
  return [u, [w[1] * u[2] - w[2] * u[1], w[2] * u[0] - w[0] * u[2], w[0] * u[1] - w[1] * u[0]]];
}

/** A point of a true line on the view plane, and how much of the line it stands for. */
export interface Sample {
  readonly x: number;
  readonly y: number;
  readonly length: number;
  readonly seen: boolean;
  /** Samples of one run of a line follow one another and share this. */
  readonly curve: number;
}

/**
 * All true lines of the solids along a view placement, as points about `step` mm apart.
 * @param window nothing but what lies in this box on the view plane; everything where null
 */
export function exactLines(
  solids: readonly PlacedSolid[],
  view: Placement,
  step: number,
  window: Box2 | null = null,
): Sample[] {
  const towards: Vec3 = [view[8], view[9], view[10]];
  const samples: Sample[] = [];
  let curve = 0;
  const least = min(LEAST_STEP, step);
  const isBeside = (x: number, y: number) =>
    window !== null && !(x > window[0] && x < window[2] && y > window[1] && y < window[3]);
  for (const { solid, placement } of solids) {
    const turn = [...placement.slice(0, 3), 0, ...placement.slice(4, 7), 0, ...placement.slice(8, 11), 0];
    for (const points of exactCurves(solid, applyBack(turn, towards), step)) {
      curve++;
      for (let at = 1; at < points.length; at++) {
        const [a, b] = [points[at - 1], points[at]].map((point) => apply(view, apply(placement, point)));
        const middle = points[at].map((value, axis) => (value + points[at - 1][axis]) / 2) as unknown as Vec3;
        const point = apply(placement, onto(solid, middle));
        const [x, y] = apply(view, point);
        if (isBeside(x, y)) {
          curve++;
          continue;
        }
        samples.push({
          x,
          y,
          length: hypot(b[0] - a[0], b[1] - a[1]),
          seen: isSeen(point, towards, solids, 2000, least),
          curve,
        });
      }
    }
  }
  const isWanted = (point: Vec3, within: number): boolean => {
    const [x, y] = apply(view, point);
    return (
      !window || (x > window[0] - within && x < window[2] + within && y > window[1] - within && y < window[3] + within)
    );
  };
  for (const [a, b, on] of window ? exactMeetings(solids, step, isWanted) : allMeetings(solids, step)) {
    const [[x1, y1], [x2, y2]] = [apply(view, a), apply(view, b)];
    const [x, y] = [(x1 + x2) / 2, (y1 + y2) / 2];
    if (isBeside(x, y)) continue;
    const seen = isSeen(on, towards, solids, 2000, least);
    samples.push({ x, y, length: hypot(x2 - x1, y2 - y1), seen, curve: ++curve });
  }
  return samples;
}

const meetingsOf = new WeakMap<readonly PlacedSolid[], Map<number, readonly Meeting[]>>();
/** All of them, found once for a machine: they are the same from wherever it is seen. */
function allMeetings(solids: readonly PlacedSolid[], step: number): readonly Meeting[] {
  let known = meetingsOf.get(solids);
  if (!known) meetingsOf.set(solids, (known = new Map()));
  let found = known.get(step);
  if (!found) known.set(step, (found = exactMeetings(solids, step, () => true)));
  return found;
}

type Meeting = readonly [from: Vec3, to: Vec3, on: Vec3];
/** Short stretches of all lines in which two of the solids pass through one another, each with a point of the line itself. */
function exactMeetings(
  solids: readonly PlacedSolid[],
  step: number,
  isWanted: (point: Vec3, within: number) => boolean,
): Meeting[] {
  return solids.flatMap((one, at) =>
    solids.slice(at + 1).flatMap((other) => {
      const [[c, r], [d, s]] = [one, other].map(({ solid, placement }) => {
        const [centre, radius] = ballAround(solid);
        return [apply(placement, centre), radius] as const;
      });
      if (hypot(c[0] - d[0], c[1] - d[1], c[2] - d[2]) > r + s) return [];
      const distance = (point: Vec3) =>
        distanceTo(other.solid, applyBack(other.placement, apply(one.placement, point)));
      const own = (point: Vec3) => distanceTo(one.solid, point);
      return meetingStretches(one.solid, distance, step, (point, within) =>
        isWanted(apply(one.placement, point), within),
      ).map(([a, b]) => {
        const middle = a.map((value, axis) => (value + b[axis]) / 2) as unknown as Vec3;
        const [from, to, on] = [a, b, ontoBothBy(own, distance, middle)].map((p) => apply(one.placement, p));
        return [from, to, on] as const;
      });
    }),
  );
}

/** Onto two surfaces at once, by steps down the slope of one distance and then of the other. */
function ontoBothBy(one: (p: Vec3) => number, other: (p: Vec3) => number, start: Vec3): Vec3 {
  let p = start;
  for (let step = 0; step < 60; step++)
    for (const distance of [one, other]) {
      const [off, small] = [distance(p), 1e-6];
      const slope = p.map((_, axis) => (distance(p.with(axis, p[axis] + small) as unknown as Vec3) - off) / small);
      const square = slope.reduce((sum, value) => sum + value * value, 0) || 1;
      p = p.map((value, axis) => value - (off * slope[axis]) / square) as unknown as Vec3;
    }
  return p;
}

/** Back onto the surface after taking the middle of a chord. */
function onto(solid: Solid, p: Vec3): Vec3 {
  if (solid.kind === 'sphere') {
    const size = hypot(...p);
    return [(p[0] * solid.radius) / size, (p[1] * solid.radius) / size, (p[2] * solid.radius) / size];
  }
  if (solid.kind === 'torus') {
    const rho = hypot(p[0], p[1]);
    const [a, b] = [rho - solid.radius, p[2]];
    const size = hypot(a, b);
    const wanted = solid.radius + (a * solid.tube) / size;
    return [(p[0] * wanted) / rho, (p[1] * wanted) / rho, (b * solid.tube) / size];
  }
  if (solid.kind === 'tube') {
    const rho = hypot(p[0], p[1]);
    const wanted = abs(rho - solid.inner) < abs(rho - solid.outer) ? solid.inner : solid.outer;
    return [(p[0] * wanted) / rho, (p[1] * wanted) / rho, p[2]];
  }
  if (solid.kind === 'frustum' && (p[2] < 1e-9 || p[2] > solid.height - 1e-9)) {
    const wanted = p[2] < 1e-9 ? solid.low : solid.high;
    const rho = hypot(p[0], p[1]);
    return rho === 0 ? p : [(p[0] * wanted) / rho, (p[1] * wanted) / rho, p[2]];
  }
  return p;
}

/** What a drawn view and the true lines have of each other. */
export interface Agreement {
  /** Share of the true visible length that is drawn, 0..1. */
  readonly drawn: number;
  /** Share of the drawn visible length that is true. */
  readonly exact: number;
  /** Longest run of a true line that is not drawn; mm. */
  readonly longestGap: number;
}

/** @param within mm; a true point is drawn where a visible line passes this near, and the other way round */
export function compareLines(samples: readonly Sample[], lines: ViewLines, within: number): Agreement {
  const drawn: { x: number; y: number; length: number }[] = [];
  const segments: number[][] = [];
  for (let at = 0; at < lines.kinds.length; at++) {
    if (!lines.visible[at]) continue;
    const [x1, y1, x2, y2] = lines.ends.subarray(at * 4, at * 4 + 4);
    segments.push([x1, y1, x2, y2]);
    const size = hypot(x2 - x1, y2 - y1);
    const count = max(1, Math.ceil(size / within));
    for (let part = 0; part < count; part++) {
      const t = (part + 0.5) / count;
      drawn.push({ x: x1 + t * (x2 - x1), y: y1 + t * (y2 - y1), length: size / count });
    }
  }
  const visible = samples.filter(({ seen }) => seen);
  const segmentsNear = buckets(
    segments.map((s) => [min(s[0], s[2]), min(s[1], s[3]), max(s[0], s[2]), max(s[1], s[3])]),
    within,
  );
  const samplesNear = buckets(
    visible.map(({ x, y }) => [x, y, x, y]),
    within,
  );
  let all = 0,
    found = 0,
    gap = 0,
    longestGap = 0,
    curve = -1;
  for (const sample of samples) {
    if (sample.curve !== curve) gap = 0;
    curve = sample.curve;
    const near =
      !sample.seen ||
      segmentsNear(sample.x, sample.y).some((at) => {
        const [x1, y1, x2, y2] = segments[at];
        return toSegment(sample.x, sample.y, x1, y1, x2, y2) <= within;
      });
    gap = near ? 0 : gap + sample.length;
    longestGap = max(longestGap, gap);
    if (!sample.seen) continue;
    all += sample.length;
    if (near) found += sample.length;
  }
  const total = drawn.reduce((sum, { length }) => sum + length, 0);
  const right = drawn
    .filter(({ x, y }) => samplesNear(x, y).some((at) => hypot(visible[at].x - x, visible[at].y - y) <= within))
    .reduce((sum, { length }) => sum + length, 0);
  return { drawn: all === 0 ? 1 : found / all, exact: total === 0 ? 1 : right / total, longestGap };
}

/** Indices of boxes that come within `reach` of a point; cells in a map. */
function buckets(boxes: readonly (readonly number[])[], reach: number): (x: number, y: number) => readonly number[] {
  const cell = max(reach * 4, 1);
  const cells = new Map<string, number[]>();
  boxes.forEach(([x0, y0, x1, y1], at) => {
    for (let column = Math.floor((x0 - reach) / cell); column <= Math.floor((x1 + reach) / cell); column++)
      for (let row = Math.floor((y0 - reach) / cell); row <= Math.floor((y1 + reach) / cell); row++) {
        const key = `${column} ${row}`;
        const list = cells.get(key);
        if (list) list.push(at);
        else cells.set(key, [at]);
      }
  });
  return (x, y) => cells.get(`${Math.floor(x / cell)} ${Math.floor(y / cell)}`) ?? [];
}

/** Rows of facets around the tube of a ring. */
const tubeRows = (steps: number): number => max(12, Math.ceil(steps / 2));

/** How far facets stray from a round surface that is cut into so many steps per turn. */
export function deviationOf(solid: Solid, steps: number): number {
  const sagitta = (radius: number, parts: number) => radius * (1 - cos(PI / parts));
  switch (solid.kind) {
    case 'box':
      return 0;
    case 'frustum':
      return sagitta(max(solid.low, solid.high), steps);
    case 'tube':
      return sagitta(solid.outer, steps);
    case 'sphere':
      return 2 * sagitta(solid.radius, steps); // both ways
    case 'torus':
      return sagitta(solid.radius + solid.tube, steps) + sagitta(solid.tube, tubeRows(steps));
  }
}

/**
 * The solid as a kernel would cut it: one face per surface, vertices of their own for each face and both sides of a seam,
 * normals averaged over the facets of a face.
 * @param steps per turn
 */
export function facetsOf(solid: Solid, steps: number): Mesh {
  const faces: { points: Vec3[]; triangles: number[][] }[] = [];
  const grid = (rows: number, columns: number, at: (row: number, column: number) => Vec3, flip = false) => {
    const points: Vec3[] = [],
      triangles: number[][] = [];
    for (let row = 0; row <= rows; row++)
      for (let column = 0; column <= columns; column++) points.push(at(row, column));
    const id = (row: number, column: number) => row * (columns + 1) + column;
    for (let row = 0; row < rows; row++)
      for (let column = 0; column < columns; column++) {
        const [a, b, c, d] = [id(row, column), id(row, column + 1), id(row + 1, column + 1), id(row + 1, column)];
        for (const t of (row + column) % 2
          ? [
              [a, b, c],
              [a, c, d],
            ]
          : [
              [a, b, d],
              [b, c, d],
            ]) {
          const corners = t.map((v) => points[v].map((value) => value.toFixed(9)).join());
          if (new Set(corners).size === 3) triangles.push(flip ? [t[0], t[2], t[1]] : t);
        }
      }
    faces.push({ points, triangles });
  };
  const disc = (radius: number, z: number, up: boolean) => {
    if (radius === 0) return;
    const points = around(steps)
      .slice(0, -1)
      .map((t): Vec3 => [radius * cos(t), radius * sin(t), z]);
    const triangles = points.slice(2).map((_, at) => (up ? [0, at + 1, at + 2] : [0, at + 2, at + 1]));
    faces.push({ points, triangles });
  };
  const turn = (at: number) => (at % steps === 0 ? 0 : (2 * PI * at) / steps);
  switch (solid.kind) {
    case 'box': {
      const { x, y, z } = solid;
      const face = (o: Vec3, u: Vec3, v: Vec3) =>
        grid(
          1,
          1,
          (row, column) => o.map((value, axis) => value + column * u[axis] + row * v[axis]) as unknown as Vec3,
        );
      face([0, 0, z], [x, 0, 0], [0, y, 0]);
      face([0, y, 0], [x, 0, 0], [0, -y, 0]);
      face([0, 0, 0], [x, 0, 0], [0, 0, z]);
      face([x, y, 0], [-x, 0, 0], [0, 0, z]);
      face([x, 0, 0], [0, y, 0], [0, 0, z]);
      face([0, y, 0], [0, -y, 0], [0, 0, z]);
      break;
    }
    case 'frustum': {
      const { low, high, height } = solid;
      grid(1, steps, (row, column) => {
        const radius = row ? high : low;
        return [radius * cos(turn(column)), radius * sin(turn(column)), row * height];
      });
      disc(low, 0, false);
      disc(high, height, true);
      break;
    }
    case 'tube': {
      const { inner, outer, height } = solid;
      const wall = (radius: number, inwards: boolean) =>
        grid(
          1,
          steps,
          (row, column) => [radius * cos(turn(column)), radius * sin(turn(column)), row * height],
          inwards,
        );
      const end = (z: number, flip: boolean) =>
        grid(
          1,
          steps,
          (row, column) => {
            const radius = row ? inner : outer;
            return [radius * cos(turn(column)), radius * sin(turn(column)), z];
          },
          flip,
        );
      wall(outer, false);
      wall(inner, true);
      end(height, false);
      end(0, true);
      break;
    }
    case 'sphere': {
      const rows = Math.ceil(steps / 2);
      grid(rows, steps, (row, column) => {
        const tilt = -PI / 2 + (PI * row) / rows;
        const radius = row === 0 || row === rows ? 0 : solid.radius * cos(tilt);
        return [radius * cos(turn(column)), radius * sin(turn(column)), solid.radius * sin(tilt)];
      });
      break;
    }
    case 'torus': {
      const rows = tubeRows(steps);
      grid(rows, steps, (row, column) => {
        const phi = row === rows ? 0 : (2 * PI * row) / rows;
        const radius = solid.radius + solid.tube * cos(phi);
        return [radius * cos(turn(column)), radius * sin(turn(column)), solid.tube * sin(phi)];
      });
    }
  }
  return joinFaces(faces);
}

function joinFaces(faces: readonly { points: Vec3[]; triangles: number[][] }[]): Mesh {
  const positions: number[] = [],
    normals: number[] = [],
    triangles: number[] = [],
    faceStarts: number[] = [0];
  for (const { points, triangles: own } of faces) {
    const first = positions.length / 3;
    const sums = points.map(() => [0, 0, 0]);
    for (const t of own) {
      const [a, b, c] = t.map((v) => points[v]);
      const u = b.map((value, axis) => value - a[axis]),
        v = c.map((value, axis) => value - a[axis]);
      const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
      const size = sqrt(n[0] ** 2 + n[1] ** 2 + n[2] ** 2) || 1;
      for (const vertex of t) for (let axis = 0; axis < 3; axis++) sums[vertex][axis] += n[axis] / size;
      triangles.push(...t.map((vertex) => vertex + first));
    }
    points.forEach((point, at) => {
      positions.push(...point);
      const size = hypot(...sums[at]) || 1;
      normals.push(...sums[at].map((value) => value / size));
    });
    faceStarts.push(triangles.length / 3);
  }
  return {
    positions: Float64Array.from(positions),
    normals: Float32Array.from(normals),
    triangles: Uint32Array.from(triangles),
    faceStarts: Uint32Array.from(faceStarts),
    faceColours: new Int32Array(faceStarts.length - 1).fill(-1),
  };
}
