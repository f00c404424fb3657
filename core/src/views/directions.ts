import { cross, dot, length, normalize, type Placement, type Vec3 } from '../geometry/index.ts';

/** Six sides, then eight corners: seen from the front right and above, unless their names say otherwise. */
export const directionNames = [
  'front',
  'back',
  'left',
  'right',
  'top',
  'bottom',
  'isometric',
  'isometric-left',
  'isometric-back',
  'isometric-back-left',
  'isometric-below',
  'isometric-below-left',
  'isometric-below-back',
  'isometric-below-back-left',
] as const;
export type DirectionName = (typeof directionNames)[number];

/**
 * Where a view is seen from as turned by hand: the unit vectors to the right, up and towards the viewer in machine
 * coordinates, one behind the other.
 */
export type Turn = readonly [number, number, number, number, number, number, number, number, number];
/** Where a view is seen from. */
export type Direction = DirectionName | Turn;

/** In captions and lists; a turned view has no name of its own. */
export const directionName = (direction: Direction): string =>
  typeof direction === 'string' ? direction.replaceAll('-', ' ') : 'turned';

/** Whether it shows three sides at once, so that nothing is measured in it. */
export const isPictorial = (direction: Direction): boolean =>
  typeof direction !== 'string' || direction.startsWith('isometric');

const NOISE = 1e-6; // of a turn written with six digits

/** Whether these are three unit vectors at right angles that make a right-handed turn. */
export function isTurn(numbers: Turn): boolean {
  const row = (at: number) => numbers.slice(at, at + 3) as unknown as Vec3;
  const [x, y, z] = [row(0), row(3), row(6)];
  const near = (one: number, other: number) => Math.abs(one - other) < 10 * NOISE;
  return [x, y, z].every((axis) => near(dot(axis, axis), 1)) && near(dot(x, y), 0) && near(dot(cross(x, y), z), 1);
}

/** Where the viewer stands, seen from the machine, and what is up on paper; model axes for up = z. */
const looks: Readonly<Record<DirectionName, { readonly viewer: Vec3; readonly up: Vec3 }>> = {
  front: { viewer: [0, -1, 0], up: [0, 0, 1] },
  back: { viewer: [0, 1, 0], up: [0, 0, 1] },
  left: { viewer: [-1, 0, 0], up: [0, 0, 1] },
  right: { viewer: [1, 0, 0], up: [0, 0, 1] },
  top: { viewer: [0, 0, 1], up: [0, 1, 0] },
  bottom: { viewer: [0, 0, -1], up: [0, -1, 0] },
  isometric: { viewer: [1, -1, 1], up: [0, 0, 1] },
  'isometric-left': { viewer: [-1, -1, 1], up: [0, 0, 1] },
  'isometric-back': { viewer: [1, 1, 1], up: [0, 0, 1] },
  'isometric-back-left': { viewer: [-1, 1, 1], up: [0, 0, 1] },
  'isometric-below': { viewer: [1, -1, -1], up: [0, 0, 1] },
  'isometric-below-left': { viewer: [-1, -1, -1], up: [0, 0, 1] },
  'isometric-below-back': { viewer: [1, 1, -1], up: [0, 0, 1] },
  'isometric-below-back-left': { viewer: [-1, 1, -1], up: [0, 0, 1] },
};

/**
 * Seen from where this vector points, up as nearly up as it can be; what is behind is up where the machine is seen from
 * straight above.
 * @returns null for a vector without a direction
 */
export function turnTowards(viewer: Vec3): Turn | null {
  if (!viewer.every(Number.isFinite) || Math.max(...viewer.map(Math.abs)) < 1e-12) return null;
  const z = normalize(viewer);
  const level = cross([0, 0, 1], z);
  const x = length(level) < 1e-9 ? ([1, 0, 0] as const) : normalize(level);
  return [...x, ...cross(z, x), ...z] as unknown as Turn;
}

/**
 * Machine coordinates to view coordinates: x to the right and y up on the view plane, z towards the viewer; mm, no
 * scale.
 */
export function viewPlacement(direction: Direction): Placement {
  if (typeof direction !== 'string')
    return [0, 3, 6].flatMap((at) => [direction[at], direction[at + 1], direction[at + 2], 0]);
  const { viewer, up } = looks[direction];
  const z = normalize(viewer);
  const x = normalize(cross(up, z));
  const y = cross(z, x);
  return [x, y, z].flatMap((row) => [row[0], row[1], row[2], 0]);
}

/** From which side or corner of a view, as it lies on paper, a projected view of it is seen. */
export const projectionSides = [
  'left',
  'right',
  'above',
  'below',
  'above-left',
  'above-right',
  'below-left',
  'below-right',
] as const;
export type ProjectionSide = (typeof projectionSides)[number];

const axesOf = (direction: Direction): [Vec3, Vec3, Vec3] => {
  const m = viewPlacement(direction);
  return [0, 4, 8].map((at): Vec3 => [m[at], m[at + 1], m[at + 2]]) as [Vec3, Vec3, Vec3];
};

/** As a standard direction where it is one. @param rows to the right, up, towards the viewer; unit vectors */
function asDirection(rows: readonly Vec3[]): Direction {
  const turn = rows.flat().map((value) => Math.round(value * 1e12) / 1e12 + 0) as unknown as Turn;
  const named = directionNames.find((name) => {
    const known = viewPlacement(name).filter((_, at) => at % 4 !== 3);
    return known.every((value, at) => Math.abs(value - turn[at]) < NOISE);
  });
  return named ?? turn;
}

/**
 * What is seen from a side or a corner of a view: turned by a right angle (ISO 5456-2), or halfway between two such and
 * the view itself.
 */
export function projectedDirection(direction: Direction, side: ProjectionSide): Direction {
  const [x, y, z] = axesOf(direction);
  const back = (a: Vec3): Vec3 => [-a[0], -a[1], -a[2]];
  switch (side) {
    case 'right':
      return asDirection([back(z), y, x]);
    case 'left':
      return asDirection([z, y, back(x)]);
    case 'above':
      return asDirection([x, back(z), y]);
    case 'below':
      return asDirection([x, z, back(y)]);
  }
  const [upright, level] = side.split('-');
  const from = [level === 'right' ? x : back(x), upright === 'above' ? y : back(y), z];
  const viewer = normalize([0, 1, 2].map((k) => from[0][k] + from[1][k] + from[2][k]) as unknown as Vec3);
  const right = normalize(cross(y, viewer));
  return asDirection([right, cross(viewer, right), viewer]);
}

/** What a view can be turned about: the line of sight, or the level or upright line of the paper. */
export const turnAxes = ['sight', 'level', 'upright'] as const;
export type TurnAxis = (typeof turnAxes)[number];

/** A view turned further. @param degrees about the line of sight anticlockwise; else so that its top or left side comes nearer */
export function turnedBy(direction: Direction, about: TurnAxis, degrees: number): Direction {
  const [x, y, z] = axesOf(direction);
  const turn = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const mix = (a: Vec3, p: number, b: Vec3, q: number): Vec3 => [
    a[0] * p + b[0] * q,
    a[1] * p + b[1] * q,
    a[2] * p + b[2] * q,
  ];
  switch (about) {
    case 'sight':
      return asDirection([mix(x, c, y, -s), mix(x, s, y, c), z]);
    case 'level':
      return asDirection([x, mix(y, c, z, -s), mix(y, s, z, c)]);
    case 'upright':
      return asDirection([mix(x, c, z, s), y, mix(x, -s, z, c)]);
  }
}
