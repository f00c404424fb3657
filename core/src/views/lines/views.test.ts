import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { scenesOfShapes } from '../../../../testkit/scenes.ts';
import { applyToPoint, type Placement } from '../../geometry/index.ts';
import {
  drawLook,
  drawView,
  directionNames,
  findSpots,
  linesWithin,
  sumLines,
  viewPlacement,
  visibleLines,
  withHiddenAside,
  type Body,
  type DirectionName,
  type ViewLines,
  type ViewSums,
} from '../index.ts';
import { drawScene } from './hiddenLines.ts';
import { buildScene } from '../scene/scene.ts';
import { at, body, boxMesh, cylinderMesh } from '../../../../testkit/shapes.ts';
import { runs } from '../../../../testkit/runs.ts';

const sums = (bodies: readonly Body[], direction: DirectionName): ViewSums =>
  sumLines(drawView(bodies, viewPlacement(direction)));
const rounded = ({ visibleMm, tangentMm, hiddenMm }: ViewSums) =>
  [visibleMm, tangentMm, hiddenMm].map((value) => Math.round(value * 1000) / 1000);
const isometricLength = Math.sqrt(2 / 3); // of 1 mm along a model axis

describe('directions', () => {
  test.each<[DirectionName, number[], number[]]>([
    ['front', [1, 0, 0], [0, 0, 1]],
    ['back', [-1, 0, 0], [0, 0, 1]],
    ['right', [0, 1, 0], [0, 0, 1]],
    ['left', [0, -1, 0], [0, 0, 1]],
    ['top', [1, 0, 0], [0, 1, 0]],
    ['bottom', [1, 0, 0], [0, -1, 0]],
  ])('%s: what runs to the right and what runs up', (direction, right, up) => {
    const [x, y] = [
      applyToPoint(viewPlacement(direction), right as never),
      applyToPoint(viewPlacement(direction), up as never),
    ];
    expect([x, y].map((point) => point.map((value) => Math.round(value) + 0))).toEqual([
      [1, 0, 0],
      [0, 1, 0],
    ]);
  });
  test('isometric looks from the front right above', () => {
    const towards = applyToPoint(viewPlacement('isometric'), [1, -1, 1]);
    expect(towards.map((value) => Math.round(value * 1e9) / 1e9)).toEqual([0, 0, Math.round(Math.sqrt(3) * 1e9) / 1e9]);
  });
});

describe('one box of 30 × 20 × 10', () => {
  const box = [body(boxMesh(30, 20, 10))];
  test('seen straight it is a rectangle: what lies behind is under the visible lines and in no sum', () => {
    expect(rounded(sums(box, 'front'))).toEqual([80, 0, 0]);
    expect(rounded(sums(box, 'top'))).toEqual([100, 0, 0]);
    expect(rounded(sums(box, 'right'))).toEqual([60, 0, 0]);
  });
  test('isometric: nine edges visible, three hidden', () => {
    const [visible, , hidden] = rounded(sums(box, 'isometric'));
    expect(visible).toBeCloseTo(180 * isometricLength, 3);
    expect(hidden).toBeCloseTo(60 * isometricLength, 3);
  });
  test('a mirrored placement hides the same', () => {
    const mirror: Placement = [-1, 0, 0, 30, 0, 1, 0, 0, 0, 0, 1, 0];
    expect(rounded(sums([body(boxMesh(30, 20, 10), 0, mirror)], 'isometric'))).toEqual(rounded(sums(box, 'isometric')));
  });
});

describe('several boxes', () => {
  test('a box wholly behind another is hidden, and its lines count once', () => {
    const bodies = [body(boxMesh(30, 10, 30), 0), body(boxMesh(10, 10, 10), 1, at(10, 40, 10))];
    expect(rounded(sums(bodies, 'front'))).toEqual([120, 0, 40]);
    expect(findSpots(bodies, viewPlacement('front'), drawView(bodies, viewPlacement('front'))).paths).toEqual(['0']);
  });
  test('two boxes side by side share the line where they touch', () => {
    expect(rounded(sums([body(boxMesh(10, 10, 10), 0), body(boxMesh(10, 10, 10), 1, at(10, 0, 0))], 'front'))).toEqual([
      70, 0, 0,
    ]);
  });
  test('a box half covered is cut exactly at the edge that covers it', () => {
    const bodies = [body(boxMesh(20, 5, 20), 0), body(boxMesh(20, 5, 20), 1, at(10, 20, 5))];
    expect(rounded(sums(bodies, 'front'))).toEqual([80 + 55, 0, 25]);
  });
  test('lines carry the occurrence that they belong to', () => {
    const lines = drawView(
      [body(boxMesh(10, 10, 10), 7), body(boxMesh(10, 10, 10), 9, at(50, 0, 0))],
      viewPlacement('front'),
    );
    expect(new Set(lines.paths)).toEqual(new Set(['7', '9']));
    for (let line = 0; line < lines.kinds.length; line++)
      expect(lines.paths[lines.occurrences[line]]).toBe(lines.ends[line * 4] < 30 ? '7' : '9');
  });
  test('without hidden lines the visible ones stay as they are', () => {
    const all = drawView([body(boxMesh(3, 2, 1))], viewPlacement('isometric'));
    expect(sumLines(visibleLines(all))).toEqual({ ...sumLines(all), hiddenMm: 0 });
  });
});

describe('a cylinder of radius 10 and height 30', () => {
  const cylinder = [body(cylinderMesh(10, 30))];
  test('from the front: two outlines, top and bottom, each drawn once', () => {
    expect(rounded(sums(cylinder, 'front'))).toEqual([100, 0, 0]);
  });
  test('from the top one circle, though there are two', () => {
    expect(sums(cylinder, 'top').visibleMm).toBeCloseTo(2 * Math.PI * 10, 0);
    expect(sums(cylinder, 'top').hiddenMm).toBe(0);
  });
  test('isometric: the far half of the lower rim is hidden', () => {
    const { visibleMm, hiddenMm } = sums(cylinder, 'isometric');
    const [a, b] = [10, 10 * Math.sqrt(1 / 3)];
    const ellipse = Math.PI * (3 * (a + b) - Math.sqrt((3 * a + b) * (a + 3 * b))); // Ramanujan 1914
    expect(visibleMm).toBeCloseTo(1.5 * ellipse + 60 * isometricLength, -0.5);
    expect(hiddenMm).toBeCloseTo(ellipse / 2, -0.5);
  });
  test('a shaft in a bore of the same size, tessellated otherwise, is drawn as one circle', () => {
    const bodies = [body(cylinderMesh(10, 30, 48), 0), body(cylinderMesh(10, 30, 60), 1)];
    expect(sums(bodies, 'top').visibleMm).toBeCloseTo(2 * Math.PI * 10, 0);
  });
});

type Box = { readonly size: [number, number, number]; readonly corner: [number, number, number] };
/** A straight line along an axis of the boxes. */
interface AxisLine {
  readonly from: readonly number[];
  readonly axis: number;
  readonly length: number;
}

const edgesOf = ({ size, corner }: Box): AxisLine[] =>
  [0, 1, 2].flatMap((axis) =>
    [0, 1].flatMap((p) =>
      [0, 1].map((q): AxisLine => {
        const from = [...corner];
        from[(axis + 1) % 3] += p * size[(axis + 1) % 3];
        from[(axis + 2) % 3] += q * size[(axis + 2) % 3];
        return { from, axis, length: size[axis] };
      }),
    ),
  );

/** Where faces of two boxes pass through one another: a face across one axis and a face of the other box across another. */
const meetingsOf = (one: Box, other: Box): AxisLine[] =>
  [0, 1, 2].flatMap((axis) =>
    [1, 2].flatMap((turn) =>
      [0, 1].flatMap((p) =>
        [0, 1].flatMap((q): AxisLine[] => {
          const [i, j] = [(axis + turn) % 3, (axis + 3 - turn) % 3];
          const own = one.corner[i] + p * one.size[i],
            others = other.corner[j] + q * other.size[j];
          const low = Math.max(one.corner[axis], other.corner[axis]),
            high = Math.min(one.corner[axis] + one.size[axis], other.corner[axis] + other.size[axis]);
          const isWithin = (value: number, box: Box, at: number) =>
            value > box.corner[at] && value < box.corner[at] + box.size[at];
          if (low >= high || !isWithin(own, other, i) || !isWithin(others, one, j)) return [];
          const from = [0, 0, 0];
          from[axis] = low;
          from[i] = own;
          from[j] = others;
          return [{ from, axis, length: high - low }];
        }),
      ),
    ),
  );

/** Visible length of all box edges, and of where boxes pass through one another, by looking at many points: slow and plain. */
function visibleBySampling(boxes: readonly Box[], view: Placement): number {
  const STEPS = 400;
  const towards = [view[8], view[9], view[10]];
  const lines = [
    ...boxes.flatMap(edgesOf),
    ...boxes.flatMap((one, at) => boxes.slice(at + 1).flatMap((other) => meetingsOf(one, other))),
  ];
  let total = 0;
  for (const { from, axis, length } of lines) {
    let seen = 0;
    for (let step = 0; step < STEPS; step++) {
      const point = from.with(axis, from[axis] + (length * (step + 0.5)) / STEPS);
      if (!boxes.some((box) => rayMeets(point, towards, box))) seen++;
    }
    total += (Math.hypot(view[axis], view[4 + axis]) * length * seen) / STEPS;
  }
  return total;
}

/** Whether the ray from the point towards the viewer enters the box, touching not counted. */
function rayMeets(point: number[], way: number[], { size, corner }: { size: number[]; corner: number[] }): boolean {
  let near = 1e-6,
    far = Infinity;
  for (let axis = 0; axis < 3; axis++) {
    const a = (corner[axis] - point[axis]) / way[axis],
      b = (corner[axis] + size[axis] - point[axis]) / way[axis];
    near = Math.max(near, Math.min(a, b));
    far = Math.min(far, Math.max(a, b));
  }
  return far - near > 1e-6;
}

test('random boxes: as much is visible as a point-by-point look finds', () => {
  const coordinate = fc.integer({ min: 0, max: 5000 }).map((value) => value / 97 + (value % 7) / 13); // off any common grid
  const box = fc.record({
    size: fc
      .tuple(coordinate, coordinate, coordinate)
      .map((size) => size.map((value) => value + 4) as [number, number, number]),
    corner: fc.tuple(coordinate, coordinate, coordinate),
  });
  fc.assert(
    fc.property(fc.array(box, { minLength: 1, maxLength: 5 }), (drawn) => {
      // Two faces in one plane have no truth to compare with: which one is in front is nobody's to say.
      const boxes = drawn.map(({ size, corner }, index) => ({
        size: size.map((value, axis) => value + index * 0.0371 + axis * 0.0113) as unknown as typeof size,
        corner: corner.map((value, axis) => value + index * 0.0613 + axis * 0.0177) as unknown as typeof corner,
      }));
      const view = viewPlacement('isometric');
      const { visibleMm } = sumLines(
        drawView(
          boxes.map(({ size, corner }, index) => body(boxMesh(...size), index, at(...corner))),
          view,
        ),
      );
      const sampled = visibleBySampling(boxes, view);
      expect(Math.abs(visibleMm - sampled)).toBeLessThan(0.004 * sampled + 1.5); // 400 points per edge leave that much open
    }),
    { numRuns: 60 },
  );
});

describe('spots for leaders', () => {
  const bodies = [body(boxMesh(100, 10, 100), 0), body(boxMesh(20, 10, 20), 1, at(40, -30, 40))];
  const lines = drawView(bodies, viewPlacement('front'));
  const spots = findSpots(bodies, viewPlacement('front'), lines);
  expect([...spots.breadths].map((breadth) => Math.round(breadth))).toEqual([100, 20]);
  const of = (occurrence: number, face: number) =>
    [...spots.occurrences.keys()].filter(
      (spot) => spots.occurrences[spot] === occurrence && spots.onFace[spot] === face,
    );
  test('the roomiest spot of a free square is its middle', () => {
    const [best] = of(1, 1);
    expect(
      [spots.points[best * 2], spots.points[best * 2 + 1], spots.room[best]].map((value) => Math.round(value * 5) / 5),
    ).toEqual([50, 50, 10]);
  });
  test('no spot of the large plate lies where the small one covers it', () => {
    for (const spot of of(0, 1)) {
      const [x, y] = [spots.points[spot * 2], spots.points[spot * 2 + 1]];
      expect(x > 40 && x < 60 && y > 40 && y < 60).toBe(false);
      expect(spots.room[spot]).toBeLessThanOrEqual(50);
    }
  });
  test('anchors are in the own coordinates of their part', () => {
    const [best] = of(1, 1);
    expect([...spots.anchors.subarray(best * 3, best * 3 + 3)].map((value) => Math.round(value) + 0)).toEqual([
      10, 0, 10,
    ]);
  });
  test.each(directionNames)('every spot seen from %s lies within the view', (direction) => {
    const drawn = drawView(bodies, viewPlacement(direction));
    const { points } = findSpots(bodies, viewPlacement(direction), drawn);
    for (let spot = 0; spot < points.length; spot += 2) {
      expect(points[spot]).toBeGreaterThanOrEqual(drawn.box[0] - 0.2);
      expect(points[spot + 1]).toBeLessThanOrEqual(drawn.box[3] + 0.2);
    }
  });
});

test('hidden lines stand aside of those that can be seen, all of them but tangent ones, also in a piece of the view', () => {
  const bodies = [body(boxMesh(30, 10, 30), 0), body(cylinderMesh(4, 10, 24), 1, at(15, 40, 10))];
  const all = drawView(bodies, viewPlacement('isometric'));
  const aside = withHiddenAside(all);
  const { hiddenMm, visibleMm } = sumLines(all);
  const length = (ends: Float64Array) => {
    let sum = 0;
    for (let at = 0; at < ends.length; at += 4) sum += Math.hypot(ends[at + 2] - ends[at], ends[at + 3] - ends[at + 1]);
    return sum;
  };
  expect(length(aside.hiddenEnds!)).toBeCloseTo(hiddenMm, 6);
  expect(sumLines(aside).visibleMm).toBeCloseTo(visibleMm, 6);
  const [x0, y0, x1, y1] = all.box;
  const middle = [(x0 + x1) / 2, (y0 + y1) / 2] as const;
  expect(length(linesWithin(aside, { centre: middle, radius: 1e3 }).hiddenEnds!)).toBeCloseTo(hiddenMm, 6);
  expect(length(linesWithin(aside, { centre: middle, radius: 5 }).hiddenEnds!)).toBeLessThan(hiddenMm);
});

describe('lines that can be seen, without the hidden ones', () => {
  const length = ({ ends, kinds }: ViewLines) =>
    kinds.reduce(
      (sum, _, at) => sum + Math.hypot(ends[at * 4 + 2] - ends[at * 4], ends[at * 4 + 3] - ends[at * 4 + 1]),
      0,
    );
  test('are those that are found when everything is looked at, whatever surely hides them', () => {
    fc.assert(
      fc.property(scenesOfShapes(14, 24), fc.constantFrom(...directionNames), (bodies, direction) => {
        const view = viewPlacement(direction);
        const all = visibleLines(drawView(bodies, view));
        const lines = drawScene(buildScene(bodies, view, { hidden: false }), bodies);
        expect(lines.box).toEqual(all.box);
        expect(Math.abs(length(lines) - length(all))).toBeLessThan(1e-3 * length(all));
        const seen = new Set(Array.from(all.occurrences, (occurrence) => all.paths[occurrence]));
        expect(new Set(Array.from(lines.occurrences, (occurrence) => lines.paths[occurrence]))).toEqual(seen);
      }),
      { numRuns: runs(80, 400), seed: 11 },
    );
  });
  test('a part inside a closed one costs no line, one behind a hole is seen', () => {
    const inside = [body(boxMesh(100, 100, 100), 0), body(cylinderMesh(10, 30, 24), 1, at(50, 50, 40))];
    expect(drawLook(inside, viewPlacement('isometric')).lines.paths).toEqual(['0']);
    const frame = [
      body(boxMesh(100, 10, 45), 0),
      body(boxMesh(100, 10, 45), 1, at(0, 0, 55)),
      body(cylinderMesh(4, 30, 24), 2, at(50, 60, 45)),
    ];
    expect(drawLook(frame, viewPlacement('front')).lines.paths).toContain('2');
  });
});
