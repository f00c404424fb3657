import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { runs } from '../../../../testkit/runs.ts';
import { scenesOfShapes } from '../../../../testkit/scenes.ts';
import { at, boxMesh } from '../../../../testkit/shapes.ts';
import type { PathKey } from '../../assembly/index.ts';
import { type Placement, type Vec2 } from '../../geometry/index.ts';
import { areaWithin, wavyBorder, type Cut } from '../../sections/index.ts';
import { cutAreas, drawLook, linesWithin, sumLines, viewPlacement, type Body, type ViewLines } from '../index.ts';
import { ClosedBorder } from './closedBorder.ts';
import { sharedBy } from './cutAreas.ts';

const named = (mesh: Body['mesh'], path: string, placement: Placement = at(0, 0, 0)): Body => ({
  mesh,
  placement,
  path: path as PathKey,
});
const front = viewPlacement('front');
function areasByPath(lines: ViewLines): Record<string, number> {
  const sums = new Map<string, number>();
  cutAreas(lines).forEach((rings, face) => {
    const path = lines.paths[lines.cutOccurrences![face]];
    sums.set(path, (sums.get(path) ?? 0) + areaWithin(rings));
  });
  return Object.fromEntries(sums);
}
const lengthOf = (ends: ArrayLike<number> = []): number => {
  let sum = 0;
  for (let k = 0; k < ends.length; k += 4) sum += Math.hypot(ends[k + 2] - ends[k], ends[k + 3] - ends[k + 1]);
  return sum;
};

/** A block from y −20 to 20, with a rod in it that nobody sees from outside. */
const block = named(boxMesh(100, 40, 60), 'block', at(-50, -20, -30));
const core = named(boxMesh(60, 10, 10), 'core', at(-30, -5, -5));
const open = (border: readonly Vec2[], y = 0): { cuts: []; panes: { border: readonly Vec2[]; cuts: Cut[] }[] } => ({
  cuts: [],
  panes: [{ border, cuts: [[{ normal: [0, 1, 0], offset: y }]] }],
});

describe('a piece of a view that is cut open', () => {
  const border = wavyBorder([0, 0], [25, 20]);
  const { lines, spots } = drawLook([block, core], front, { cut: open(border) });
  test('shows what is inside within its border, and nothing else elsewhere', () => {
    const inner: Vec2[] = [
      [-30, -5],
      [30, -5],
      [30, 5],
      [-30, 5],
    ];
    const core = areaWithin(sharedBy([inner], [border], 200));
    expect(areasByPath(lines)).toEqual({
      core: expect.closeTo(core, 2),
      block: expect.closeTo(areaWithin([border]) - core, 2),
    });
    // The outline of the block, and of the rod from border to border: upper and lower edge.
    const whole = drawLook([block, core === 0 ? block : named(boxMesh(1, 1, 1), 'away', at(0, 0, 0))], front).lines;
    expect(sumLines(whole).visibleMm).toBeCloseTo(320, 6);
    expect(sumLines(lines).visibleMm - 320).toBeGreaterThan(90);
    expect(sumLines(lines).visibleMm - 320).toBeLessThan(110);
  });
  test('has a border all round where it lies in matter', () => {
    const round = border.reduce((sum, corner, k) => {
      const next = border[(k + 1) % border.length];
      return sum + Math.hypot(next[0] - corner[0], next[1] - corner[1]);
    }, 0);
    expect(lengthOf(lines.borderEnds)).toBeCloseTo(round, 6);
  });
  test('has none beyond the machine, nor where nothing was taken', () => {
    const beyond: Vec2[] = [
      [20, -10],
      [90, -10],
      [90, 10],
      [20, 10],
    ];
    const over = drawLook([block], front, { cut: open(beyond) }).lines;
    // Within x ≤ 50: two sides of 30 and one of 20; the view is no wider for it.
    expect(lengthOf(over.borderEnds)).toBeCloseTo(80, 6);
    expect(over.box).toEqual(drawLook([block], front).lines.box);
    expect(lengthOf(drawLook([block], front, { cut: open(border, -25) }).lines.borderEnds)).toBe(0);
  });
  test('may be larger than all the world', () => {
    const all = drawLook([block, core], front, { cut: open(wavyBorder([3e6, 0], [1e7, 1e7])) }).lines;
    expect(areasByPath(all)).toEqual({ block: expect.closeTo(100 * 60 - 600, 2), core: expect.closeTo(600, 2) });
    expect(all.borderEnds).toBeUndefined();
    // Its edge runs through the machine: all to the right of it is cut open.
    const edge: Vec2[] = [
      [0, -1e7],
      [1e7, -1e7],
      [1e7, 1e7],
      [0, 1e7],
    ];
    const right = drawLook([block, core], front, { cut: open(edge) }).lines;
    expect(areasByPath(right)).toEqual({ block: expect.closeTo(50 * 60 - 300, 2), core: expect.closeTo(300, 2) });
    expect(lengthOf(right.borderEnds)).toBeCloseTo(60, 0);
  });
  test('offers spots in its cut faces, in the coordinates of the parts', () => {
    const own = [...spots.occurrences.keys()].filter((k) => spots.paths[spots.occurrences[k]] === 'core');
    expect(own.length).toBeGreaterThan(0);
    const best = own[0];
    expect(spots.onFace[best]).toBe(2);
    expect(spots.anchors.slice(best * 3, best * 3 + 3)[1]).toBeCloseTo(5, 6);
    const round = new ClosedBorder(border);
    for (const k of spots.occurrences.keys()) {
      const [x, y] = spots.points.subarray(k * 2, k * 2 + 2);
      expect(spots.room[k]).toBeLessThanOrEqual(round.distanceTo([x, y]) + 1e-9);
      if (spots.onFace[k] === 2) expect(round.has(x, y)).toBe(true);
    }
  });
  test('an enlarged detail of it shows the same, finer', () => {
    const window = [-10, -12, 20, 12] as const;
    const cut = open(border);
    const region = { centre: [5, 0], radius: 20, half: [15, 12] } as const;
    const [detail, same] = [drawLook([block, core], front, { cut, window }).lines, lines].map((one) =>
      linesWithin(one, region),
    );
    expect(sumLines(detail).visibleMm).toBeCloseTo(sumLines(same).visibleMm, 2);
    expect(areasByPath(detail)).toEqual({
      block: expect.closeTo(areasByPath(same).block, 1),
      core: expect.closeTo(areasByPath(same).core, 1),
    });
  });
});

test('what is seen in a box is what is seen of a machine from which that much was really taken away', () => {
  const side = fc.integer({ min: 8, max: 60 });
  fc.assert(
    fc.property(
      scenesOfShapes(5, 24),
      fc.tuple(side, side, side, side, side),
      fc.constantFrom('front', 'top', 'isometric' as const),
      (bodies, [x, y, wide, high, deep], direction) => {
        const view = viewPlacement(direction);
        // Off whole mm, where nothing else stands.
        const [x0, y0, x1, y1] = [x - 30.317, y - 30.219, x + wide - 30.317, y + high - 30.219];
        const z = deep * 0.7 - 20.171;
        const inView = (nx: number, ny: number, nz: number, offset: number) => ({
          normal: [0, 1, 2].map((k) => nx * view[k] + ny * view[4 + k] + nz * view[8 + k]) as [number, number, number],
          offset,
        });
        const before = inView(0, 0, -1, -z);
        const prism: Cut = [
          before,
          inView(1, 0, 0, x1),
          inView(-1, 0, 0, -x0),
          inView(0, 1, 0, y1),
          inView(0, -1, 0, -y0),
        ];
        const really = drawLook(bodies, view, { cut: { cuts: [prism] } }).lines;
        const border: Vec2[] = [
          [x0, y0],
          [x1, y0],
          [x1, y1],
          [x0, y1],
        ];
        const pane = drawLook(bodies, view, { cut: { cuts: [], panes: [{ border, cuts: [[before]] }] } }).lines;
        // Facets of round parts that are really cut are divided otherwise: outlines differ by a little of their length.
        const [one, other] = [pane, really].map((lines) => sumLines(lines).visibleMm);
        expect(Math.abs(one - other)).toBeLessThan(0.1 + 0.01 * other);
        const total = (lines: ViewLines) => cutAreas(lines).reduce((sum, rings) => sum + areaWithin(rings), 0);
        expect(Math.abs(total(pane) - total(really))).toBeLessThan(0.1 + 0.01 * total(really));
      },
    ),
    { numRuns: runs(15, 200), seed: 11 },
  );
});
