import { describe, expect, test } from 'vitest';
import { seeded } from '../../../testkit/mutants.ts';
import { at, boxMesh, cylinderMesh, latheMesh } from '../../../testkit/shapes.ts';
import { applyToPoint, composePlacements, placementFromAxes, type Mesh, type Placement } from '../geometry/index.ts';
import { pairAlong } from './blocking.ts';
import { waysBetween } from '../../../testkit/slowBlocking.ts';
import { frameAlong, Framer } from './units.ts';

const up = frameAlong([0, 0, 1]);
const along = (one: [Mesh, Placement], other: [Mesh, Placement]) => {
  const framer = new Framer([up]);
  const solid = ([mesh, placement]: [Mesh, Placement]) =>
    framer.unit({ path: '' as never, stays: false, parts: [{ path: [], mesh, placement, shape: '' }] }, up);
  return pairAlong(solid(one), solid(other), 2, 0.02);
};
const tube = (outer: number, inner: number, height: number) =>
  latheMesh([
    [inner, 0],
    [outer, 0],
    [outer, height],
    [inner, height],
  ]);

describe('two things along a way', () => {
  test('one on the other: it can go up and not down, and is beyond at once', () => {
    const found = along([boxMesh(10, 10, 2), at(0, 0, 5)], [boxMesh(40, 40, 5), at(-10, -10, 0)])!;
    expect(found).toEqual({ up: Infinity, down: 0, upBy: 0, downBy: 7 });
  });
  test('one far below the other hits it after the space between', () => {
    const found = along([boxMesh(10, 10, 2), at(0, 0, 0)], [boxMesh(40, 40, 5), at(-10, -10, 30)])!;
    expect(found).toEqual({ up: 28, down: Infinity, upBy: 35, downBy: -28 });
  });
  test('side by side they do not meet, also where they reach into one another by a little', () => {
    expect(along([boxMesh(10, 10, 10), at(0, 0, 0)], [boxMesh(10, 10, 10), at(10, 0, 3)])).toBeNull();
    expect(along([boxMesh(10, 10, 10), at(0, 0, 0)], [boxMesh(10, 10, 10), at(9.9, 0, 3)])).toBeNull();
  });
  test('a shaft in a bore of its own size, differently faceted, slides; its collar does not', () => {
    const bore = tube(20, 8, 12);
    expect(along([cylinderMesh(8, 40, 37), at(0, 0, -10)], [bore, at(0, 0, 0)])?.up ?? Infinity).toBe(Infinity);
    const collar = latheMesh([
      [0, -10],
      [11, -10],
      [11, -2],
      [8, -2],
      [8, 30],
      [0, 30],
    ]);
    expect(along([collar, at(0, 0, 0)], [bore, at(0, 0, 0)])).toMatchObject({ up: 2, down: Infinity });
  });
  test('a ring in a groove is held both ways', () => {
    const grooved = latheMesh([
      [0, 0],
      [10, 0],
      [10, 20],
      [8, 20],
      [8, 23],
      [10, 23],
      [10, 40],
      [0, 40],
    ]);
    expect(along([tube(13, 8.2, 2), at(0, 0, 20.5)], [grooved, at(0, 0, 0)])).toMatchObject({ up: 0.5, down: 0.5 });
  });
  test('a screw in wood without a hole comes out, head first', () => {
    const screw = latheMesh([
      [0, 0],
      [2.5, 0],
      [2.5, 30],
      [5, 33],
      [0, 33],
    ]);
    const found = along([screw, at(20, 20, -5)], [boxMesh(40, 40, 28), at(0, 0, 0)])!;
    expect(found.up).toBe(Infinity);
    expect(found.down).toBeLessThan(3);
  });
  test('a thread drawn inside its nut holds nothing', () => {
    expect(along([tube(7, 3.3, 6), at(0, 0, 0)], [cylinderMesh(4, 50), at(0, 0, -3)])).toMatchObject({
      up: Infinity,
      down: Infinity,
    });
  });
  test('a mirrored shape is not inside out', () => {
    const mirrored: Placement = [-1, 0, 0, 10, 0, 1, 0, 0, 0, 0, 1, 5];
    expect(along([boxMesh(10, 10, 2), mirrored], [boxMesh(40, 40, 5), at(-10, -10, 0)])).toMatchObject({
      up: Infinity,
      down: 0,
    });
  });
});

test('says the same as rays through all their matter, on random scenes', () => {
  const random = seeded(20261126);
  const between = (low: number, high: number) => low + (high - low) * random();
  const shape = () => {
    const size = between(5, 40);
    const kind = random();
    if (kind < 0.4) return boxMesh(size, between(5, 40), between(3, 30));
    return kind < 0.7 ? cylinderMesh(size / 2, between(5, 40), 32) : tube(size / 2 + 3, size / 4, between(4, 30));
  };
  const anywhere = (): Placement =>
    composePlacements(
      placementFromAxes(
        [between(-15, 15), between(-15, 15), between(-40, 40)],
        [between(-1, 1), between(-1, 1), between(-1, 1)],
        null,
      ),
      at(-10, -10, -10),
    );
  let held = 0,
    free = 0;
  for (let scene = 0; scene < 400; scene++) {
    const [one, other]: [Mesh, Placement][] = [
      [shape(), anywhere()],
      [shape(), anywhere()],
    ];
    const truth = waysBetween(
      one[0],
      (point) => applyToPoint(one[1], point),
      other[0],
      (point) => applyToPoint(other[1], point),
      random,
    );
    // Not of those that go through one another, which is no machine, nor where little more than a corner is shared.
    if (truth.inside > 0 || (truth.across > 0 && (truth.across < 2 || (truth.met > 0 && truth.met < 30)))) continue;
    const found = along(one, other);
    for (const [way, share] of [
      ['up', truth.up],
      ['down', truth.down],
    ] as const) {
      if (share > 0 && share < 0.05) continue;
      expect([scene, way, (found?.[way] ?? Infinity) < Infinity]).toEqual([scene, way, share > 0]);
      if (share > 0) held++;
      else free++;
    }
  }
  expect([held > 60, free > 200]).toEqual([true, true]);
});
