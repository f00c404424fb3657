import { describe, expect, test } from 'vitest';
import type { PathKey } from '../../assembly/index.ts';
import { normalize, type Placement, type Vec2, type Vec3 } from '../../geometry/index.ts';
import type { Cut } from '../../sections/index.ts';
import {
  cutAreas,
  drawLook,
  linesWithin,
  listCutFaces,
  sumLines,
  viewPlacement,
  type Body,
  type ViewLines,
} from '../index.ts';
import { distanceTo, facetsOf, type Solid } from '../../../../testkit/exactShapes.ts';
import { seeded } from '../../../../testkit/mutants.ts';
import { runs } from '../../../../testkit/runs.ts';
import { at, boxMesh, latheMesh } from '../../../../testkit/shapes.ts';

const named = (mesh: Body['mesh'], path: string, placement: Placement = at(0, 0, 0)): Body => ({
  mesh,
  placement,
  path: path as PathKey,
});
const below = (normal: Vec3, offset: number): Cut => [{ normal: normalize(normal), offset }];
const front = viewPlacement('front');

function areaOf(rings: readonly (readonly Vec2[])[]): number {
  let twice = 0;
  for (const ring of rings)
    ring.forEach(([x, y], k) => {
      const [u, v] = ring[(k + 1) % ring.length];
      twice += x * v - y * u;
    });
  return twice / 2;
}
const areasByPath = (lines: ViewLines): Record<string, number> =>
  Object.fromEntries(
    cutAreas(lines).map((rings, face) => [lines.paths[lines.cutOccurrences![face]], areaOf(rings)] as const),
  );

describe('a section seen from the front', () => {
  const tube = latheMesh([
    [10, 0],
    [20, 0],
    [20, 50],
    [10, 50],
  ]);
  const shaft = latheMesh([
    [0, -10],
    [9, -10],
    [9, 70],
    [0, 70],
  ]);
  const machine = [named(tube, 'tube'), named(shaft, 'shaft')];
  test('shows cut faces of what is cut, and leaves shafts whole where that is wanted', () => {
    const { lines } = drawLook(machine, front, { cut: { cuts: [below([0, 1, 0], 0)] } });
    expect(areasByPath(lines)).toEqual({ tube: expect.closeTo(1000, 2), shaft: expect.closeTo(18 * 80, 2) });
    const sparing = drawLook(machine, front, { cut: { cuts: [below([0, 1, 0], 0)], lengthwise: true } }).lines;
    expect(areasByPath(sparing)).toEqual({ tube: expect.closeTo(1000, 4) });
    expect([...sparing.cutWhole!].map((one) => sparing.paths[one])).toEqual(['shaft']);
  });
  test('what a drafter says of a place counts more than what is proposed', () => {
    const cuts = [below([0, 1, 0], 0)];
    const { lines } = drawLook(machine, front, {
      cut: { cuts, lengthwise: true, whole: ['tube' as PathKey], through: ['shaft' as PathKey] },
    });
    // The tube hides the middle of it.
    expect(areasByPath(lines)).toEqual({ shaft: expect.closeTo(18 * 30, 2) });
  });
  test('what stays whole covers the cut face behind it', () => {
    // A pin through the wall before the plane: its half covers what lies behind.
    const plate = named(boxMesh(60, 10, 40), 'plate', at(-30, -5, 0));
    const pin = named(facetsOf({ kind: 'sphere', radius: 8 }, 64), 'ball', at(0, 0, 20));
    const { lines } = drawLook([plate, pin], front, { cut: { cuts: [below([0, 1, 0], 0)], lengthwise: true } });
    expect(areasByPath(lines).plate / (60 * 40 - Math.PI * 64)).toBeCloseTo(1, 2);
  });
  test('where two parts lie in one another, the smaller one is seen', () => {
    const nut = named(boxMesh(30, 20, 10), 'nut', at(-15, -10, 0)),
      thread = named(boxMesh(8, 8, 30), 'thread', at(-4, -4, -10));
    const { lines } = drawLook([nut, thread], front, { cut: { cuts: [below([0, 1, 0], 0)] } });
    expect(areasByPath(lines)).toEqual({ nut: expect.closeTo(300 - 80, 2), thread: expect.closeTo(240, 2) });
  });
  test('draws no line where a half section ends, and both where the quarter is seen from a corner', () => {
    const block = [named(boxMesh(40, 40, 40), 'block', at(-20, -20, -20))];
    const quarter: Cut = [
      { normal: [0, 1, 0], offset: 0 },
      { normal: [-1, 0, 0], offset: 0 },
    ];
    const half = drawLook(block, front, { cut: { cuts: [quarter] } }).lines;
    expect(sumLines(half).visibleMm).toBeCloseTo(160, 6);
    const corner = drawLook(block, viewPlacement('isometric'), { cut: { cuts: [quarter] } }).lines;
    const whole = drawLook(block, viewPlacement('isometric')).lines;
    // Three further corners of the notch, each as long as an edge in this view.
    expect(sumLines(corner).visibleMm - sumLines(whole).visibleMm).toBeGreaterThan(40);
    expect(Object.keys(areasByPath(corner))).toEqual(['block']);
  });
  test('seen from above, the border of what is left is an edge', () => {
    const block = [named(boxMesh(40, 40, 40), 'block')];
    const { lines } = drawLook(block, viewPlacement('top'), { cut: { cuts: [below([0, 1, 0], 15)] } });
    expect(lines.box).toEqual([0, 15, 40, 40].map((value) => expect.closeTo(value, 6)));
    expect(sumLines(lines).visibleMm).toBeCloseTo(130, 6);
    expect(cutAreas(lines)).toEqual([]);
  });
  test('an enlarged detail shows the hatched area as far as it goes', () => {
    const { lines } = drawLook([named(boxMesh(40, 40, 40), 'block')], front, { cut: { cuts: [below([0, 1, 0], 15)] } });
    const piece = linesWithin(lines, { centre: [0, 20], radius: 10 });
    expect(areaOf(cutAreas(piece)[0]) / ((Math.PI * 100) / 2)).toBeCloseTo(1, 2);
    const square = linesWithin(lines, { centre: [0, 0], radius: 10, half: [5, 5] });
    expect(areaOf(cutAreas(square)[0])).toBeCloseTo(25, 4);
  });
  test('lists all faces of all planes, also those that are turned away', () => {
    const block = [named(boxMesh(40, 40, 40), 'block')];
    const cut = { cuts: [below([0, 1, 0], 15), below([1, 0, 0], 10)] };
    const { faces, left, of } = listCutFaces(block, front, cut);
    expect(faces.map(({ areaMm2, hatched }) => [areaMm2, hatched])).toEqual([
      [expect.closeTo(30 * 40), true],
      [expect.closeTo(25 * 40), false],
    ]);
    expect([left, of]).toEqual([1, 1]);
    expect(listCutFaces(block, front, { cuts: [below([0, 1, 0], 90)] }).left).toBe(0);
  });
  test('of a mirrored part too matter is on the left of its outlines', () => {
    const mirrored = named(boxMesh(40, 40, 40), 'block', [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]);
    const { faces } = listCutFaces([mirrored], front, { cuts: [below([0, 1, 0], 15)] });
    expect(faces.map(({ areaMm2, rings }) => [areaMm2, areaOf(rings)])).toEqual([
      [expect.closeTo(1600), expect.closeTo(1600)],
    ]);
  });
  test('a spot for a leader lies in the cut face before all others', () => {
    const { spots } = drawLook(machine, front, { cut: { cuts: [below([0, 1, 0], 0)] } });
    const own = Array.from(spots.occurrences.keys()).filter((spot) => spots.paths[spots.occurrences[spot]] === 'tube');
    expect(spots.onFace[own[0]]).toBe(2);
  });
});

/**
 * The plain judge: a point of a plane is hatched where it lies in a solid and no matter that is left stands between it and
 * the viewer; asked of the formulas of the solids, step by step.
 */
function isHatched(
  p: Vec3,
  sight: Vec3,
  solids: readonly { readonly solid: Solid; readonly by: Vec3 }[],
  cuts: readonly Cut[],
): boolean {
  const isTaken = (q: Vec3) =>
    cuts.some((cut) =>
      cut.every(({ normal, offset }) => q[0] * normal[0] + q[1] * normal[1] + q[2] * normal[2] < offset - 1e-6),
    );
  const isMatter = (q: Vec3, deep: number) =>
    solids.some(({ solid, by }) => distanceTo(solid, [q[0] - by[0], q[1] - by[1], q[2] - by[2]]) < -deep);
  if (!isMatter(p, 0)) return false;
  for (let way = 0.05; way < 110; way += 0.4) {
    const q: Vec3 = [p[0] + way * sight[0], p[1] + way * sight[1], p[2] + way * sight[2]];
    if (!isTaken(q) && isMatter(q, 0.02)) return false;
  }
  return true;
}

function isWithin([x, y]: Vec2, rings: readonly (readonly Vec2[])[]): boolean {
  let odd = false;
  for (const ring of rings)
    ring.forEach(([ax, ay], k) => {
      const [bx, by] = ring[(k + 1) % ring.length];
      if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) odd = !odd;
    });
  return odd;
}

describe('hatched areas of random machines, from random corners', () => {
  test.each(Array.from({ length: runs(8, 80) }, (_, seed) => seed + 1))('seed %i', (seed) => {
    const next = seeded(seed);
    const size = (low: number, high: number) => low + (high - low) * next();
    const solids = Array.from({ length: 1 + Math.floor(next() * 3) }, () => {
      const kind = Math.floor(next() * 4);
      const solid: Solid =
        kind === 0
          ? { kind: 'box', x: size(15, 40), y: size(15, 40), z: size(15, 40) }
          : kind === 1
            ? { kind: 'frustum', low: size(8, 20), high: size(5, 20), height: size(15, 40) }
            : kind === 2
              ? { kind: 'sphere', radius: size(8, 20) }
              : { kind: 'torus', radius: size(14, 20), tube: size(4, 8) };
      return { solid, by: [size(-25, 25), size(-25, 25), size(-20, 20)] as Vec3 };
    });
    const bodies = solids.map(({ solid, by }, index) => named(facetsOf(solid, 64), String(index), at(...by)));
    const planes =
      seed % 2 === 0
        ? [below([0, 1, 0], 1.3)[0], { normal: [-1, 0, 0] as Vec3, offset: -0.7 }]
        : below([size(-0.3, 0.3), 1, size(-0.3, 0.3)], 2);
    const view = viewPlacement(seed % 2 === 0 ? 'isometric' : 'front');
    const sight: Vec3 = [view[8], view[9], view[10]];
    const { lines } = drawLook(bodies, view, { cut: { cuts: [planes] } });
    const areas = cutAreas(lines);
    let asked = 0,
      wrong = 0;
    for (const [k, { normal, offset }] of planes.entries()) {
      const own = areas.filter((_, face) => lines.cutPlanes![face] === k);
      const u = normalize([normal[1] - normal[2], normal[2] - normal[0], normal[0] - normal[1]]);
      const v: Vec3 = [
        normal[1] * u[2] - normal[2] * u[1],
        normal[2] * u[0] - normal[0] * u[2],
        normal[0] * u[1] - normal[1] * u[0],
      ];
      for (let x = -60; x < 60; x += 3.7)
        for (let y = -60; y < 60; y += 3.7) {
          const p = [0, 1, 2].map((axis) => normal[axis] * offset + u[axis] * x + v[axis] * y) as unknown as Vec3;
          if (
            planes.some(
              (other, at2) =>
                at2 !== k && p[0] * other.normal[0] + p[1] * other.normal[1] + p[2] * other.normal[2] > other.offset,
            )
          )
            continue;
          const place: Vec2 = [
            p[0] * view[0] + p[1] * view[1] + p[2] * view[2],
            p[0] * view[4] + p[1] * view[5] + p[2] * view[6],
          ];
          asked++;
          if (isHatched(p, sight, solids, [planes]) !== own.some((rings) => isWithin(place, rings))) wrong++;
        }
    }
    // Points at a border may fall either way.
    expect({ asked: asked > 300, wrong: wrong <= asked * 0.012, share: wrong / asked }).toEqual({
      asked: true,
      wrong: true,
      share: wrong / asked,
    });
  });
});
