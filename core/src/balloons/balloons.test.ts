import fc from 'fast-check';
import { munkres } from 'munkres';
import { describe, expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import { makeBill } from '../bill/index.ts';
import { distance2, distanceToStretch, stretchesCross, type Box2, type Vec2 } from '../geometry/index.ts';
import { convexHull, distanceToOutline, insideConvex } from './anchors.ts';
import { cheapestAssignment } from './assignment.ts';
import { leadersCross, pairCost, runsThrough, type Seat } from './costs.ts';
import {
  arrangements,
  arrangeRing,
  balloonFaults,
  balloonShapes,
  borderPoints,
  checkCoverage,
  extraFor,
  firstRow,
  leaves,
  widthInside,
  type RingRequest,
} from './index.ts';

const frame: Box2 = [20, 10, 584, 410];
const titleBlock: Box2 = [404, 368, 584, 410];

/** A view of 200 × 160 in the upper left part of an A2 sheet, with anchors at these shares of its box. */
function request(anchors: readonly Vec2[], more: Partial<RingRequest> = {}): RingRequest {
  const hull: Vec2[] = [
    [120, 90],
    [320, 90],
    [320, 250],
    [120, 250],
  ];
  return {
    hull,
    frame,
    obstacles: [titleBlock],
    radius: 6,
    distance: 22,
    standing: [],
    items: anchors.map(([u, v]) => ({
      choices: [{ point: [120 + 200 * u, 90 + 160 * v], end: 'dot', room: 2, spot: 0 }],
    })),
    ...more,
  };
}
const anchorOf = (made: RingRequest, item: number) => made.items[item].choices[0].point;

/** Everything that a checker looks for, found by comparing every pair. */
function faults(made: RingRequest, placed: ReturnType<typeof arrangeRing>): string[] {
  const found: string[] = [];
  placed.forEach((one, i) => {
    if (!one) return void found.push(`${i} has no place`);
    const [x, y] = one.centre;
    if (x - 6 < frame[0] || x + 6 > frame[2] || y - 6 < frame[1] || y + 6 > frame[3])
      found.push(`${i} leaves the frame`);
    if (insideConvex(one.centre, made.hull) || distanceToOutline(one.centre, made.hull) < 6)
      found.push(`${i} stands on the machine`);
    for (const box of made.obstacles)
      if (x + 6 > box[0] && x - 6 < box[2] && y + 6 > box[1] && y - 6 < box[3])
        found.push(`${i} stands on the title block`);
    placed.forEach((other, j) => {
      if (!other || j <= i) return;
      if (distance2(one.centre, other.centre) < 12) found.push(`${i} and ${j} overlap`);
      if (stretchesCross(one.centre, anchorOf(made, i), other.centre, anchorOf(made, j)))
        found.push(`leaders ${i} and ${j} cross`);
      if (distanceToStretch(other.centre, one.centre, anchorOf(made, i)) < 6)
        found.push(`leader ${i} runs through ${j}`);
    });
  });
  return found;
}

describe('a ring', () => {
  const share = fc.integer({ min: 2, max: 98 }).map((value) => value / 100);
  test('places every balloon: none overlaps, none stands on anything, no leaders cross', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.tuple(share, share), {
          minLength: 1,
          maxLength: 28,
          comparator: (a, b) => Math.hypot(a[0] - b[0], a[1] - b[1]) < 0.05,
        }),
        (anchors) => {
          const made = request(anchors);
          expect(faults(made, arrangeRing(made))).toEqual([]);
        },
      ),
      { numRuns: 60, seed: 20260302 },
    );
  });
  test('also where balloons are drawn out for long numbers, up to 20 of them', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.tuple(share, share), {
          minLength: 1,
          maxLength: 20,
          comparator: (a, b) => Math.hypot(a[0] - b[0], a[1] - b[1]) < 0.05,
        }),
        fc.double({ min: 0.5, max: 9, noNaN: true }),
        (anchors, extra) => {
          const made = request(anchors, { extra });
          const placed = arrangeRing(made);
          expect(placed.every((one) => one !== null)).toBe(true);
          // By points along borders and leaders: none of one lies in another one, on the machine or beyond the frame.
          const holds = ([cx, cy]: Vec2, [x, y]: Vec2) => Math.hypot(Math.max(0, Math.abs(x - cx) - extra), y - cy) < 6;
          placed.forEach((one, i) => {
            const border = borderPoints(one!.centre, { radius: 6, extra });
            for (const [x, y] of border) {
              expect(x > frame[0] && x < frame[2] && y > frame[1] && y < frame[3]).toBe(true);
              expect(insideConvex([x, y], made.hull)).toBe(false);
              expect(x > titleBlock[0] && y > titleBlock[1]).toBe(false);
            }
            const [ax, ay] = anchorOf(made, i);
            const leader = Array.from({ length: 100 }, (_, k): Vec2 => {
              const [x, y] = one!.centre;
              return [x + ((ax - x) * k) / 99, y + ((ay - y) * k) / 99];
            });
            placed.forEach((other, j) => {
              if (i !== j) expect([...border, ...leader].some((point) => holds(other!.centre, point))).toBe(false);
            });
          });
        },
      ),
      { numRuns: 40, seed: 20261127 },
    );
  });
  test('the same question gives the same answer', () => {
    const made = request([
      [0.1, 0.2],
      [0.8, 0.3],
      [0.5, 0.9],
    ]);
    expect(arrangeRing(made)).toEqual(arrangeRing(made));
  });
  test('leaders are neither horizontal nor vertical', () => {
    const made = request([
      [0.02, 0.5],
      [0.5, 0.02],
      [0.98, 0.5],
      [0.5, 0.98],
    ]);
    for (const [at, placed] of arrangeRing(made).entries()) {
      const [dx, dy] = [0, 1].map((axis) => Math.abs(placed!.centre[axis] - anchorOf(made, at)[axis]));
      expect(Math.min(dx, dy)).toBeGreaterThan(1);
    }
  });
  test('balloons set by hand are kept clear of', () => {
    const standing = [{ centre: [220, 62] as Vec2, anchor: [220, 100] as Vec2 }];
    const made = request(
      [
        [0.45, 0.1],
        [0.5, 0.12],
        [0.55, 0.1],
      ],
      { standing },
    );
    for (const placed of arrangeRing(made))
      expect(distance2(placed!.centre, standing[0].centre)).toBeGreaterThanOrEqual(12);
  });
  test('where there is no room at all, nothing is placed on top of something', () => {
    const made = request([[0.5, 0.5]], { frame: [120, 90, 320, 250] });
    expect(arrangeRing(made)).toEqual([null]);
  });
});

test('what makes balloons hard to read is found: overlap, crossing, through, close ends, level leaders', () => {
  const at = (centre: Vec2, anchor: Vec2, extra = 0) => ({ centre, anchor, radius: 5, extra });
  const none = { overlapping: [], crossing: [], through: [], close: [], level: [] };
  const one = at([0, 0], [30, 40]);
  expect(balloonFaults([one, at([40, 0], [60, 40])])).toEqual(none);
  expect(balloonFaults([one, at([8, -3], [70, 40])])).toEqual({ ...none, overlapping: [0, 1] });
  expect(balloonFaults([one, at([13, 0], [70, 40], 9)])).toEqual({ ...none, overlapping: [0, 1] });
  expect(balloonFaults([one, at([40, 0], [-10, 45])])).toEqual({ ...none, crossing: [0, 1] });
  expect(balloonFaults([one, at([15, 21], [60, 90])])).toEqual({ ...none, through: [0] });
  expect(balloonFaults([one, at([60, 0], [31, 41])])).toEqual({ ...none, close: [0, 1] });
  expect(balloonFaults([at([0, 0], [50, 1]), at([0, 30], [1, 90])])).toEqual({ ...none, level: [0, 1] });
});

test('four thousand balloons on one spot are told to be so', () => {
  const all = Array.from({ length: 4000 }, () => ({
    centre: [50, 50] as Vec2,
    anchor: [70, 80] as Vec2,
    radius: 5,
    extra: 0,
  }));
  const { overlapping, close, through, crossing } = balloonFaults(all);
  expect([overlapping.length, close.length, through.length, crossing.length]).toEqual([4000, 4000, 0, 0]);
});

test('of any balloons the same faults are found as by looking at every two alone', () => {
  const on = fc.double({ min: 0, max: 200, noNaN: true });
  const one = fc.record({
    centre: fc.tuple(on, on),
    anchor: fc.tuple(on, on),
    radius: fc.double({ min: 2, max: 8, noNaN: true }),
    extra: fc.double({ min: 0, max: 9, noNaN: true }),
  });
  fc.assert(
    fc.property(fc.array(one, { maxLength: 14 }), (balloons) => {
      const found = balloonFaults(balloons);
      for (const kind of ['overlapping', 'crossing', 'close', 'level'] as const) {
        const alone = new Set<number>();
        balloons.forEach((a, i) => {
          if (kind === 'level' && balloonFaults([a]).level.length > 0) alone.add(i);
          balloons.forEach((b, j) => {
            if (i !== j && kind !== 'level' && balloonFaults([a, b])[kind].length > 0) alone.add(i).add(j);
          });
        });
        expect(found[kind]).toEqual([...alone].sort((a, b) => a - b));
      }
    }),
  );
});

describe('the border of a balloon', () => {
  const size = fc.double({ min: 0.1, max: 20, noNaN: true });
  test('is a circle for short numbers and wider for long ones, so that any but the longest stand inside', () => {
    expect(extraFor(5, 6)).toBe(0);
    fc.assert(
      fc.property(size, fc.double({ min: 0, max: 60, noNaN: true }), (radius, width) => {
        const extra = extraFor(width, radius);
        expect(extra).toBeGreaterThanOrEqual(0);
        expect(widthInside({ radius, extra }) >= width - 1e-9 || extra === 4 * radius).toBe(true);
      }),
    );
  });
  test('a leader begins on it, on the way to its end', () => {
    fc.assert(
      fc.property(
        size,
        fc.double({ min: 0, max: 20, noNaN: true }),
        fc.double({ min: 0, max: 6.3, noNaN: true }),
        (radius, extra, turn) => {
          const point: Vec2 = [500 + 300 * Math.cos(turn), 400 + 300 * Math.sin(turn)];
          const [x, y] = leaves([500, 400], { radius, extra }, point);
          expect(Math.hypot(Math.max(0, Math.abs(x - 500) - extra), y - 400)).toBeCloseTo(radius, 6);
          expect((x - 500) * Math.sin(turn) - (y - 400) * Math.cos(turn)).toBeCloseTo(0, 6);
          expect((x - 500) * Math.cos(turn) + (y - 400) * Math.sin(turn)).toBeGreaterThan(0);
        },
      ),
    );
  });
});

describe.each(balloonShapes)('a balloon of shape %s', (shape) => {
  const radius = 4;
  const any = fc.record({
    width: fc.double({ min: 1, max: 25, noNaN: true }),
    turn: fc.double({ min: 0, max: 6.28, noNaN: true }),
  });
  test('holds its number, and its leader begins on what is drawn', () => {
    fc.assert(
      fc.property(any, ({ width, turn }) => {
        const outline = { radius, extra: extraFor(width, radius, 1, shape), shape };
        if (outline.extra < 4 * radius) expect(widthInside(outline)).toBeGreaterThanOrEqual(width - 1e-9);
        const border = borderPoints([0, 0], outline);
        // A number as wide as that and half as high as the balloon lies inside.
        if (shape !== 'none' && shape !== 'underlined' && outline.extra < 4 * radius)
          for (const corner of [-1, 1].flatMap((x) => [-1, 1].map((y): Vec2 => [(x * width) / 2, (y * radius) / 2.5])))
            expect(insideConvex(corner, border)).toBe(true);
        const far: Vec2 = [90 * Math.cos(turn), 90 * Math.sin(turn)];
        const start = leaves([0, 0], outline, far);
        expect(Math.hypot(...start)).toBeLessThan(outline.extra + 1.4 * radius);
        if (border.length > 0)
          expect(
            Math.min(...border.map((from, at) => distanceToStretch(start, from, border[(at + 1) % border.length]))),
          ).toBeLessThan(0.05);
      }),
    );
  });
});

test('the convex hull holds all points, and only points of the set are its corners', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: -50, max: 50 }), fc.integer({ min: -50, max: 50 })), {
        minLength: 3,
        maxLength: 40,
      }),
      (points) => {
        const hull = convexHull(points as Vec2[]);
        for (const corner of hull) expect(points).toContainEqual(corner);
        if (hull.length >= 3) for (const point of points) expect(insideConvex(point as Vec2, hull)).toBe(true);
      },
    ),
  );
});

test('coverage: every row is ballooned once, missing, doubled or excused', () => {
  const bolt = leaf('BOLT');
  const { rows } = makeBill(
    assemblyOf(node('TOP', [1, node('FOOT', [2, bolt])], [1, leaf('A')], [1, leaf('B')], [1, leaf('C')])),
    { depth: 'structured', identity: 'part-number' },
  );
  const balloons = new Map([
    ['x', 2],
    ['y', 3],
    ['z', 3],
    ['lost', -1],
  ]);
  expect(checkCoverage(rows, balloons)).toEqual({
    rows: 5,
    ballooned: 1,
    missing: ['1.1', '4'],
    doubled: ['3'],
    hanging: ['lost'],
    excused: ['1'],
    elsewhere: [],
  });
  expect(checkCoverage(rows, balloons, new Set([0, 1, 3]))).toMatchObject({
    missing: ['4'],
    doubled: ['3'],
    excused: ['1'],
    elsewhere: ['1.1'],
  });
});

test('the cheapest assignment costs what a library finds by another method', () => {
  fc.assert(
    fc.property(
      fc
        .integer({ min: 1, max: 8 })
        .chain((rows) =>
          fc
            .integer({ min: rows, max: 11 })
            .chain((columns) =>
              fc
                .array(fc.integer({ min: 0, max: 500 }), { minLength: rows * columns, maxLength: rows * columns })
                .map((costs) => ({ rows, columns, costs })),
            ),
        ),
      ({ rows, columns, costs }) => {
        const columnOf = cheapestAssignment(Float64Array.from(costs), rows, columns);
        expect(new Set(columnOf).size).toBe(rows);
        const byRow = Array.from({ length: rows }, (_, row) => costs.slice(row * columns, (row + 1) * columns));
        const total = (pairs: Iterable<readonly [number, number]>) =>
          [...pairs].reduce((sum, [row, column]) => sum + byRow[row][column], 0);
        expect(total([...columnOf].entries())).toBe(total(munkres(byRow)));
      },
    ),
  );
});

describe('what two balloons cost each other', () => {
  const on = fc.double({ min: 0, max: 60, noNaN: true });
  const one = fc.record({ x: on, y: on, extra: fc.double({ min: 0, max: 9, noNaN: true }), toX: on, toY: on });
  test('is what looking at the whole border and leader by points finds', () => {
    const radius = 5;
    const points = ({ x, y, toX, toY }: Seat) =>
      Array.from({ length: 400 }, (_, k): Vec2 => [x + ((toX - x) * k) / 399, y + ((toY - y) * k) / 399]);
    const away = ({ x, y, extra }: Seat, [px, py]: Vec2) => Math.hypot(Math.max(0, Math.abs(px - x) - extra), py - y);
    fc.assert(
      fc.property(one, one, (a, b) => {
        const least = Math.min(...points(a).map((point) => away(b, point)));
        if (Math.abs(least - radius - 1) > 0.2) expect(runsThrough(a, b, radius)).toBe(least < radius + 1);
        expect(pairCost(a, b, radius)).toBe(pairCost(b, a, radius));
        expect(leadersCross(a, b)).toBe(stretchesCross([a.x, a.y], [a.toX, a.toY], [b.x, b.y], [b.toX, b.toY]));
      }),
    );
  });
});

describe('arrangements', () => {
  const anchors = Array.from({ length: 24 }, (_, at): Vec2 => [
    ((at * 0.7548) % 0.9) + 0.05,
    ((at * 0.5698) % 0.9) + 0.05,
  ]);
  test.each(arrangements)('in a %s nothing is wrong, and all stand where they should', (arrangement) => {
    const made = request(anchors, { radius: 4, arrangements: [arrangement] });
    const placed = arrangeRing(made);
    expect(placed.every((one) => one !== null)).toBe(true);
    for (const one of placed) {
      const [x, y] = one!.centre;
      const beside = x < 120 || x > 320,
        above = y < 90 || y > 250;
      if (arrangement === 'rows') expect(above).toBe(true);
      if (arrangement === 'columns') expect(beside).toBe(true);
    }
    const laid = placed.map((one, at) => ({ centre: one!.centre, anchor: anchorOf(made, at), radius: 4, extra: 0 }));
    expect(balloonFaults(laid)).toMatchObject({ overlapping: [], crossing: [], through: [] });
  });
  test('where one row is full, a second stands behind its gaps, and no leader runs through a balloon', () => {
    const many = Array.from({ length: 60 }, (_, at): Vec2 => [
      ((at * 0.7548) % 0.9) + 0.05,
      ((at * 0.5698) % 0.9) + 0.05,
    ]);
    const made = request(many);
    expect(firstRow({ ...made, distance: 22 }).length).toBeLessThan(many.length * 1.2);
    const placed = arrangeRing(made);
    expect(placed.filter((one) => one === null)).toEqual([]);
    const laid = placed.map((one, at) => ({ centre: one!.centre, anchor: anchorOf(made, at), radius: 6, extra: 0 }));
    expect(balloonFaults(laid)).toMatchObject({ overlapping: [], crossing: [], through: [] });
  });
});

test('coverage: a balloon that names its line once more doubles nothing, and counts where it is the only one', () => {
  const { rows } = makeBill(assemblyOf(node('TOP', [1, leaf('A')], [1, leaf('B')])), {
    depth: 'parts-only',
    identity: 'part-number',
  });
  const balloons = new Map([
    ['a', 0],
    ['again', 0],
    ['b', 1],
  ]);
  expect(checkCoverage(rows, balloons)).toMatchObject({ ballooned: 1, doubled: ['1'] });
  expect(checkCoverage(rows, balloons, new Set(), new Set(['again']))).toMatchObject({ ballooned: 2, doubled: [] });
  expect(checkCoverage(rows, balloons, new Set(), new Set(['a', 'again', 'b']))).toMatchObject({
    ballooned: 2,
    doubled: [],
    missing: [],
  });
});
