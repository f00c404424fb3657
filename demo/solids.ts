import {
  applyToPoint,
  composePlacements,
  identityPlacement,
  type Placement,
  type Vec3,
} from '../core/src/geometry/index.ts';

/** A corner of a closed path; the way to the next corner is straight unless an arc is given. */
export interface Corner {
  readonly x: number;
  readonly y: number;
  readonly arc?: { readonly cx: number; readonly cy: number; readonly ccw: boolean };
}
/** A closed path in the profile's plane, mm; counter-clockwise when it bounds from outside. */
export type Loop =
  { readonly circle: readonly [x: number, y: number, radius: number] } | { readonly corners: readonly Corner[] };

/** A solid before it is written: profiles stacked along z, or a profile turned about z, in a frame of its own. */
export type Solid =
  | { readonly kind: 'stack'; readonly frame: Placement; readonly layers: readonly Layer[] }
  | {
      readonly kind: 'lathe';
      readonly frame: Placement;
      readonly profile: readonly (readonly [radius: number, z: number])[];
    };

/** One slab of a stack. The profile of a neighbour lies inside this one or around it; only single slabs have holes. */
export interface Layer {
  readonly from: number;
  readonly to: number;
  readonly outer: Loop;
  readonly holes?: readonly Loop[];
}

export const circle = (radius: number, x = 0, y = 0): Loop => ({ circle: [x, y, radius] });
export const polygon = (points: readonly (readonly [number, number])[]): Loop => ({
  corners: points.map(([x, y]) => ({ x, y })),
});
export const rectangle = (width: number, height: number, x = 0, y = 0): Loop =>
  polygon([
    [x - width / 2, y - height / 2],
    [x + width / 2, y - height / 2],
    [x + width / 2, y + height / 2],
    [x - width / 2, y + height / 2],
  ]);

/** Hexagon of this width across flats. */
export const hexagon = (acrossFlats: number): Loop =>
  polygon(
    Array.from({ length: 6 }, (_, at) => {
      const angle = (at * Math.PI) / 3;
      return [(acrossFlats / Math.sqrt(3)) * Math.cos(angle), (acrossFlats / Math.sqrt(3)) * Math.sin(angle)] as const;
    }),
  );

/** A rectangle with rounded corners. */
export function rounded(width: number, height: number, radius: number): Loop {
  const a = width / 2,
    b = height / 2,
    r = radius;
  const turn = (x: number, y: number, cx: number, cy: number): Corner => ({ x, y, arc: { cx, cy, ccw: true } });
  return {
    corners: [
      { x: -a + r, y: -b },
      turn(a - r, -b, a - r, -b + r),
      { x: a, y: -b + r },
      turn(a, b - r, a - r, b - r),
      { x: a - r, y: b },
      turn(-a + r, b, -a + r, b - r),
      { x: -a, y: b - r },
      turn(-a, -b + r, -a + r, -b + r),
    ],
  };
}

export const prism = (outer: Loop, from: number, to: number, holes: readonly Loop[] = []): Solid => ({
  kind: 'stack',
  frame: identityPlacement,
  layers: [{ from, to, outer, holes }],
});
export const stack = (...layers: readonly [outer: Loop, from: number, to: number][]): Solid => ({
  kind: 'stack',
  frame: identityPlacement,
  layers: layers.map(([outer, from, to]) => ({ outer, from, to })),
});
export const lathe = (...profile: readonly (readonly [number, number])[]): Solid => ({
  kind: 'lathe',
  frame: identityPlacement,
  profile,
});
export const block = (x: number, y: number, z: number): Solid => prism(rectangle(x, y), 0, z);
export const tube = (diameter: number, wall: number, length: number): Solid =>
  prism(circle(diameter / 2), 0, length, [circle(diameter / 2 - wall)]);
export const rod = (diameter: number, length: number): Solid => prism(circle(diameter / 2), 0, length);

export const put = (placement: Placement, solid: Solid): Solid => ({
  ...solid,
  frame: composePlacements(placement, solid.frame),
});

export const move = (x: number, y: number, z: number): Placement => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];

/** Turn about one axis by degrees, then stand at (x, y, z). */
export function turn(axis: 'x' | 'y' | 'z', degrees: number, x = 0, y = 0, z = 0): Placement {
  const c = Math.cos((degrees * Math.PI) / 180),
    s = Math.sin((degrees * Math.PI) / 180);
  if (axis === 'x') return [1, 0, 0, x, 0, c, -s, y, 0, s, c, z];
  if (axis === 'y') return [c, 0, s, x, 0, 1, 0, y, -s, 0, c, z];
  return [c, -s, 0, x, s, c, 0, y, 0, 0, 1, z];
}

/** The solid as seen in a mirror standing in the xz plane: y becomes −y, still a proper solid. */
export function mirrored(solid: Solid): Solid {
  const [a, b, c, d, e, f, g, h, i, j, k, l] = solid.frame;
  // mirror · frame · mirror is a turn again; the inner mirror is taken over by the profile.
  const frame: Placement = [a, -b, c, d, -e, f, -g, -h, i, -j, k, l];
  if (solid.kind === 'lathe') return { ...solid, frame };
  return {
    ...solid,
    frame,
    layers: solid.layers.map((layer) => ({ ...layer, outer: flip(layer.outer), holes: layer.holes?.map(flip) })),
  };
}

function flip(loop: Loop): Loop {
  if ('circle' in loop) return { circle: [loop.circle[0], -loop.circle[1], loop.circle[2]] };
  const { corners } = loop;
  return {
    corners: corners.map((_, at) => {
      const here = corners[(corners.length - at) % corners.length];
      const arc = corners[(corners.length - at - 1) % corners.length].arc; // the way that now leaves here
      return { x: here.x, y: -here.y, ...(arc ? { arc: { cx: arc.cx, cy: -arc.cy, ccw: arc.ccw } } : {}) };
    }),
  };
}

/** Enclosed area, mm²; arcs counted exactly. */
function area(loop: Loop): number {
  if ('circle' in loop) return Math.PI * loop.circle[2] ** 2;
  let twice = 0;
  loop.corners.forEach((a, at) => {
    const b = loop.corners[(at + 1) % loop.corners.length];
    twice += a.x * b.y - a.y * b.x;
    if (a.arc) {
      const { cx, cy, ccw } = a.arc;
      const swept = sweep(Math.atan2(a.y - cy, a.x - cx), Math.atan2(b.y - cy, b.x - cx), ccw);
      twice += (swept - Math.sin(swept)) * ((a.x - cx) ** 2 + (a.y - cy) ** 2);
    }
  });
  return Math.abs(twice / 2);
}

const sweep = (from: number, to: number, ccw: boolean): number => {
  const turnAround = 2 * Math.PI;
  const forward = (((to - from) % turnAround) + turnAround) % turnAround;
  return ccw ? forward : forward - turnAround;
};

/** Exact volume, mm³. */
export function volume(solid: Solid): number {
  if (solid.kind === 'stack') {
    return solid.layers.reduce(
      (sum, { outer, holes = [], from, to }) =>
        sum + (to - from) * (area(outer) - holes.reduce((all, hole) => all + area(hole), 0)),
      0,
    );
  }
  return Math.abs(
    solid.profile.reduce((sum, [r1, z1], at) => {
      const [r2, z2] = solid.profile[(at + 1) % solid.profile.length];
      return sum + (Math.PI / 3) * (z2 - z1) * (r1 * r1 + r1 * r2 + r2 * r2);
    }, 0),
  );
}

export const inFrame = (solid: Solid, p: Vec3): Vec3 => applyToPoint(solid.frame, p);
