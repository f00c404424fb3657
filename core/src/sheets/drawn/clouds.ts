import type { PathKey } from '../../assembly/index.ts';
import { boxesOverlap, type Box2, type Vec2 } from '../../geometry/index.ts';
import { textMark, type Mark, type MarkSource } from '../../marks/index.ts';
import type { LaidView } from '../laid/laidView.ts';
import type { ChangeClouds } from '../records.ts';

/** Between what is marked and its cloud; mm. What lies nearer together than twice that has one. */
const AROUND = 4;
/** Edge of the cells in which it is found out what lies near together; mm. */
const CELL = 1.5;
/** Breadth of one arc and how far it stands out, as a share of that; of how many pieces it is drawn. */
const ARC = 7,
  BULGE = 0.28,
  PIECES = 6;
const TRIANGLE = 11,
  LETTERING = 3.5,
  LETTER_BELOW = 0.5;

/**
 * A cloud around everything on a view that changed, and the letter of the revision in a triangle beside it, where least
 * stands; what lies near together has one. Nothing where nothing of it is seen.
 * @param within the triangles stay inside
 * @param obstacles on paper that triangles keep off, such as balloons and lists
 */
export function drawClouds(
  { letter, paths }: ChangeClouds,
  views: readonly LaidView[],
  {
    within,
    obstacles = [],
    pen,
  }: { readonly within: Box2; readonly obstacles?: readonly Box2[]; readonly pen: number },
): Mark[] {
  const clouds = views.flatMap((laid) =>
    cloudOutlines(paths, laid).map((outline, at) => ({ outline, id: `${laid.view.id} ${at}` })),
  );
  if (clouds.length === 0) return [];
  const lines = new Set<number>();
  for (const laid of views) for (const cell of cellsOn(stretchesOf(null, laid))) lines.add(cell);
  const taken = [...obstacles];
  return clouds.flatMap(({ outline, id }): Mark[] => {
    const source: MarkSource = { kind: 'cloud', id };
    const [x, y] = triangleAt(outline, within, taken, lines);
    taken.push(triangleBox(x, y));
    return [
      { kind: 'path', source, points: scallops(outline), closed: true, pen },
      { kind: 'path', source, points: triangle(x, y), closed: true, pen },
      textMark(source, letter, x, y + LETTER_BELOW, LETTERING, 'centre'),
    ];
  });
}

/**
 * Outlines on paper around what is seen of places, clockwise, corners about as far apart as an arc is broad; no two meet.
 * The cells that lie near a line of theirs are found, and the borders of what hangs together followed; holes are not.
 */
export function cloudOutlines(paths: readonly PathKey[], laid: LaidView): Vec2[][] {
  const cells = cellsNear(stretchesOf(paths, laid));
  return bordersOf(cells)
    .filter((border) => doubledArea(border) > 0)
    .map((border) => resampled(border.map(([x, y]): Vec2 => [x * CELL, y * CELL])));
}

/** Ends on paper of the lines that are seen of places and of all that these hold, or (null) of all: x1, y1, x2, y2 each. */
function stretchesOf(paths: readonly PathKey[] | null, { lines, toPaper }: LaidView): number[] {
  const wanted = new Set<string>(paths ?? []);
  const isOf = lines.paths.map((path) => {
    if (!paths) return true;
    for (let end = path.length; end > 0; end = path.lastIndexOf('/', end - 1))
      if (wanted.has(path.slice(0, end))) return true;
    return false;
  });
  const ends: number[] = [];
  for (let at = 0; at < lines.kinds.length; at++)
    if (lines.visible[at] === 1 && isOf[lines.occurrences[at]])
      ends.push(
        ...toPaper(lines.ends[at * 4], lines.ends[at * 4 + 1]),
        ...toPaper(lines.ends[at * 4 + 2], lines.ends[at * 4 + 3]),
      );
  return ends;
}

/** Sides of a cell in a map of cells, which may lie left of and above zero. */
const WIDE = 1 << 16,
  MIDDLE = 1 << 15;
const cellAt = (x: number, y: number): number => (y + MIDDLE) * WIDE + x + MIDDLE;
const placeOf = (cell: number): Vec2 => [(cell % WIDE) - MIDDLE, Math.floor(cell / WIDE) - MIDDLE];

/** Cells that stretches run through, but for corners. */
function cellsOn(ends: readonly number[]): Set<number> {
  const on = new Set<number>();
  for (let at = 0; at < ends.length; at += 4) {
    const [x0, y0, x1, y1] = [ends[at], ends[at + 1], ends[at + 2], ends[at + 3]];
    const steps = Math.max(1, Math.ceil(Math.hypot(x1 - x0, y1 - y0) / CELL));
    for (let step = 0; step <= steps; step++)
      on.add(
        cellAt(
          Math.floor((x0 + ((x1 - x0) * step) / steps) / CELL),
          Math.floor((y0 + ((y1 - y0) * step) / steps) / CELL),
        ),
      );
  }
  return on;
}

/** Cells whose middles lie within AROUND of a stretch. */
function cellsNear(ends: readonly number[]): Set<number> {
  const on = cellsOn(ends);
  const reach = Math.ceil(AROUND / CELL);
  const disc: Vec2[] = [];
  for (let y = -reach; y <= reach; y++)
    for (let x = -reach; x <= reach; x++) if (Math.hypot(x, y) <= reach) disc.push([x, y]);
  const near = new Set<number>();
  for (const cell of on) {
    const [x, y] = placeOf(cell);
    for (const [dx, dy] of disc) near.add(cellAt(x + dx, y + dy));
  }
  return near;
}

/** Borders of cells as closed ways from corner to corner, the cells at the right hand; outer ones clockwise on paper. */
function bordersOf(cells: ReadonlySet<number>): Vec2[][] {
  const from = new Map<number, number[]>();
  const edge = (start: number, end: number) => {
    const known = from.get(start);
    if (known) known.push(end);
    else from.set(start, [end]);
  };
  for (const cell of cells) {
    const [x, y] = placeOf(cell);
    if (!cells.has(cellAt(x, y - 1))) edge(cellAt(x, y), cellAt(x + 1, y));
    if (!cells.has(cellAt(x + 1, y))) edge(cellAt(x + 1, y), cellAt(x + 1, y + 1));
    if (!cells.has(cellAt(x, y + 1))) edge(cellAt(x + 1, y + 1), cellAt(x, y + 1));
    if (!cells.has(cellAt(x - 1, y))) edge(cellAt(x, y + 1), cellAt(x, y));
  }
  const borders: Vec2[][] = [];
  for (const start of from.keys()) {
    const border: Vec2[] = [];
    for (let at = start, next = from.get(at)?.pop(); next !== undefined; at = next, next = from.get(at)?.pop())
      border.push(placeOf(at));
    if (border.length > 0) borders.push(border);
  }
  return borders;
}

/** Twice the area within; above zero where it runs clockwise on paper (y down). */
const doubledArea = (border: readonly Vec2[]): number =>
  border.reduce((sum, [x, y], at) => {
    const [nextX, nextY] = border[(at + 1) % border.length];
    return sum + x * nextY - nextX * y;
  }, 0);

/** Corners of a border about ARC from one another along it. */
function resampled(border: readonly Vec2[]): Vec2[] {
  const length = border.length * CELL; // every piece of it is the side of a cell
  const arcs = Math.max(4, Math.round(length / (ARC * STAIRS)));
  return Array.from({ length: arcs }, (_, at) => border[Math.floor((at * border.length) / arcs)]);
}
/** A slanted border runs along the sides of cells: so much longer than straight, on the whole. */
const STAIRS = 1.2;

/** Arcs from corner to corner, bulging outward: to the left of the way. */
function scallops(outline: readonly Vec2[]): Vec2[] {
  return outline.flatMap((from, at) => {
    const to = outline[(at + 1) % outline.length];
    const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
    return Array.from({ length: PIECES }, (_, step): Vec2 => {
      const along = step / PIECES;
      const out = Math.sin(Math.PI * along) * BULGE;
      return [from[0] + dx * along + dy * out, from[1] + dy * along - dx * out];
    });
  });
}

/** What an obstacle weighs, against a cell with a line. */
const OBSTACLE = 100;

/** Middle of the triangle: beside a corner of the outline, where least stands; among equals the upper right one. */
function triangleAt(
  outline: readonly Vec2[],
  [left, top, right, bottom]: Box2,
  obstacles: readonly Box2[],
  lines: ReadonlySet<number>,
): Vec2 {
  const half = TRIANGLE / 2 + 1;
  let best: Vec2 = outline[0],
    least = Infinity;
  for (const [at, [x, y]] of outline.entries()) {
    // Outward: to the left of the way from the corner before to the one behind.
    const [x0, y0] = outline[(at + outline.length - 1) % outline.length],
      [x1, y1] = outline[(at + 1) % outline.length];
    const length = Math.hypot(x1 - x0, y1 - y0) || 1;
    const out = half + ARC * BULGE;
    const centre: Vec2 = [
      Math.min(Math.max(x + ((y1 - y0) / length) * out, left + half), right - half),
      Math.min(Math.max(y - ((x1 - x0) / length) * out, top + half), bottom - half),
    ];
    const box = triangleBox(...centre);
    let weight = (y - x) / 1e6 + OBSTACLE * obstacles.filter((one) => boxesOverlap(one, box)).length;
    for (let row = Math.floor(box[1] / CELL); row <= box[3] / CELL; row++)
      for (let column = Math.floor(box[0] / CELL); column <= box[2] / CELL; column++)
        if (lines.has(cellAt(column, row))) weight++;
    if (weight < least) [best, least] = [centre, weight];
  }
  return best;
}
const triangleBox = (x: number, y: number): Box2 => [
  x - TRIANGLE / 2 - 1,
  y - TRIANGLE / 2 - 2,
  x + TRIANGLE / 2 + 1,
  y + TRIANGLE / 2,
];
function triangle(x: number, y: number): Vec2[] {
  const height = (TRIANGLE * Math.sqrt(3)) / 2;
  return [
    [x, y - (height * 2) / 3],
    [x + TRIANGLE / 2, y + height / 3],
    [x - TRIANGLE / 2, y + height / 3],
  ];
}
