import Flatbush from 'flatbush';
import { distanceToStretch, hypot, type Box2, type Vec2 } from '../geometry/index.ts';

/** How the cut faces of a part are hatched. */
export interface HatchStyle {
  /** Of the lines, anticlockwise from level; radian. */
  readonly angle: number;
  /** Between lines, as a share of what the size of the area asks for. */
  readonly pitch: number;
}

const turn = (degrees: number): number => (degrees * Math.PI) / 180;
/**
 * Parts side by side differ in direction first, then in pitch, then in an angle that is unusual (ISO 128-50, 4: adjacent areas).
 */
const styles: readonly HatchStyle[] = [1, 0.6, 1.5]
  .flatMap((pitch) => [45, 135].map((angle): HatchStyle => ({ angle: turn(angle), pitch })))
  .concat([1, 0.6, 1.5].flatMap((pitch) => [30, 120, 60, 150].map((angle) => ({ angle: turn(angle), pitch }))));

/** The area of a part on a cut. */
export interface HatchedArea {
  /** What is hatched alike everywhere. */
  readonly part: string;
  /** Closed outlines; around matter to the left, around holes to the right. */
  readonly rings: readonly (readonly Vec2[])[];
}

/** Areas this close stand side by side, as a share of the extent of all; a fit's clearance is no gap to the eye. */
const BESIDE_SHARE = 2e-3;

/**
 * A style for every part, such that parts side by side differ as long as there are styles. Parts take the first that is
 * free in the order of their names, so the same machine is hatched the same each time.
 * Source: greedy colouring (D. Welsh, M. Powell, Computer Journal 10, 1967), most neighbours first.
 * @param sections areas that lie in one plane each
 */
export function hatchStyles(sections: readonly (readonly HatchedArea[])[]): Map<string, HatchStyle> {
  const neighbours = new Map<string, Set<string>>();
  for (const areas of sections)
    for (const { part } of areas) if (!neighbours.has(part)) neighbours.set(part, new Set());
  for (const areas of sections)
    for (const [one, other] of besideOneAnother(areas)) {
      neighbours.get(one)!.add(other);
      neighbours.get(other)!.add(one);
    }
  const order = [...neighbours].sort(([a, beside], [b, others]) => others.size - beside.size || (a < b ? -1 : 1));
  const taken = new Map<string, number>();
  for (const [part, beside] of order) {
    const used = new Set([...beside].map((other) => taken.get(other)));
    const free = styles.findIndex((_, at) => !used.has(at));
    taken.set(part, free < 0 ? taken.size % styles.length : free);
  }
  return new Map([...taken].map(([part, at]) => [part, styles[at]]));
}

function besideOneAnother(areas: readonly HatchedArea[]): [string, string][] {
  const sides: { readonly part: string; readonly a: Vec2; readonly b: Vec2 }[] = [];
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { part, rings } of areas)
    for (const ring of rings)
      ring.forEach((a, at) => {
        sides.push({ part, a, b: ring[(at + 1) % ring.length] });
        grow(box, a);
      });
  if (sides.length === 0) return [];
  const near = hypot(box[2] - box[0], box[3] - box[1]) * BESIDE_SHARE;
  const index = new Flatbush(sides.length);
  for (const { a, b } of sides)
    index.add(Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.max(a[0], b[0]), Math.max(a[1], b[1]));
  index.finish();
  const pairs = new Map<string, [string, string]>();
  for (const { part, a, b } of sides) {
    const found = index.search(
      Math.min(a[0], b[0]) - near,
      Math.min(a[1], b[1]) - near,
      Math.max(a[0], b[0]) + near,
      Math.max(a[1], b[1]) + near,
    );
    for (const at of found) {
      const other = sides[at];
      if (other.part <= part || pairs.has(`${part}\n${other.part}`)) continue;
      if (apart(a, b, other.a, other.b) <= near) pairs.set(`${part}\n${other.part}`, [part, other.part]);
    }
  }
  return [...pairs.values()];
}

/** Distance of two stretches that do not cross, as borders of areas do not. */
const apart = (a: Vec2, b: Vec2, c: Vec2, d: Vec2): number =>
  Math.min(
    distanceToStretch(a, c, d),
    distanceToStretch(b, c, d),
    distanceToStretch(c, a, b),
    distanceToStretch(d, a, b),
  );

function grow(box: [number, number, number, number], [x, y]: Vec2): void {
  box[0] = Math.min(box[0], x);
  box[1] = Math.min(box[1], y);
  box[2] = Math.max(box[2], x);
  box[3] = Math.max(box[3], y);
}

/** More lines than this are a grey area, whatever pitch was asked for. */
const MOST_LINES = 4000;

/**
 * Level lines of one pitch across an area, turned by an angle: x1, y1, x2, y2 each, from border to border. Lines of one
 * pitch and angle lie on one lattice, so areas of one part go on into one another.
 * Source: scan lines with the non-zero winding rule (J. Foley et al., "Computer Graphics: Principles and Practice", 3.6).
 */
export function hatchLines(rings: HatchedArea['rings'], { angle, pitch }: HatchStyle): number[] {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  // Turned back, the lines are level.
  const turned = rings.map((ring) => ring.map(([x, y]): Vec2 => [x * c + y * s, y * c - x * s]));
  const crossings = new Map<number, { readonly x: number; readonly way: 1 | -1 }[]>();
  const heights = turned.flat().map(([, y]) => y);
  const extent =
    heights.reduce((most, y) => Math.max(most, y), -Infinity) -
    heights.reduce((least, y) => Math.min(least, y), Infinity);
  const step = Math.max(pitch, extent / MOST_LINES);
  for (const ring of turned)
    ring.forEach(([x0, y0], at) => {
      const [x1, y1] = ring[(at + 1) % ring.length];
      const [low, high] = [Math.min(y0, y1), Math.max(y0, y1)];
      // Half open, so that a line through a corner counts once.
      for (let line = Math.ceil(low / step); line * step < high; line++) {
        const crossing = { x: x0 + ((line * step - y0) / (y1 - y0)) * (x1 - x0), way: y1 > y0 ? 1 : -1 } as const;
        const known = crossings.get(line);
        if (known) known.push(crossing);
        else crossings.set(line, [crossing]);
      }
    });
  const lines: number[] = [];
  for (const [line, met] of [...crossings].sort(([a], [b]) => a - b)) {
    const y = line * step;
    met.sort((a, b) => a.x - b.x);
    let winding = 0;
    for (const [at, { x, way }] of met.entries()) {
      winding += way;
      const next = met[at + 1];
      if (winding !== 0 && next && next.x > x)
        lines.push(x * c - y * s, x * s + y * c, next.x * c - y * s, next.x * s + y * c);
    }
  }
  return lines;
}

/** Finest and coarsest pitch on paper, and how it grows with the size of an area; mm. */
const PITCHES = [1, 1.4, 2, 2.8, 4] as const;
const PITCH_OF_SIZE = 0.09;

/** Distance between lines for an area of this size on paper; mm. The larger the area the wider (ISO 128-50, 4). */
export function pitchFor(areaMm2: number): number {
  const wanted = Math.sqrt(areaMm2) * PITCH_OF_SIZE;
  return PITCHES.findLast((pitch) => pitch <= wanted) ?? PITCHES[0];
}

/** Area within closed outlines; mm². */
export function areaWithin(rings: HatchedArea['rings']): number {
  let twice = 0;
  for (const ring of rings)
    ring.forEach(([x, y], at) => {
      const [u, v] = ring[(at + 1) % ring.length];
      twice += x * v - y * u;
    });
  return Math.abs(twice / 2);
}

/** The box around outlines; infinite where there is none. */
export function boxAround(rings: HatchedArea['rings']): Box2 {
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const ring of rings) for (const point of ring) grow(box, point);
  return box;
}
