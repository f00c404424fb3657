import { describe, expect, test } from 'vitest';
import { coaxialPack, stopValve } from '../../../demo/machines.ts';
import { productStep } from '../../../demo/writeDemo.ts';
import { seeded } from '../../../testkit/mutants.ts';
import { at, boxMesh, cylinderMesh, latheMesh } from '../../../testkit/shapes.ts';
import { bolt, collisions, inRow, jointedMachine, part, ring, standingInOthers } from '../../../testkit/joints.ts';
import { waysBetween } from '../../../testkit/slowBlocking.ts';
import { listOccurrences, type UsageKey } from '../assembly/index.ts';
import { meshSlice, readStep } from '../step/index.ts';
import {
  add,
  applyToPoint,
  composePlacements,
  placementFromAxes,
  scale,
  type Placement,
  type Vec3,
} from '../geometry/index.ts';
import { explode, movedBy, wholeStep, type Exploded, type Part } from './index.ts';

const stepsOf = ({ moves }: Exploded): Record<string, Vec3> =>
  Object.fromEntries(moves.map((move) => [move.path, wholeStep(move)]));

/** A plate on a block, held by a bolt with washer and nut. */
const joint = (x = 0, name = ''): Part[] => [
  part(`${name}bolt`, bolt(40), at(x, 0, -18), 'bolt'),
  part(`${name}washer`, ring(8, 4.2, 1.5), at(x, 0, 20.5), 'washer'),
  part(`${name}nut`, ring(6.5, 4, 6), at(x, 0, -16), 'nut'),
];
const clamped: Part[] = [
  part('block', ring(60, 4.2, 20), at(0, 0, -10)),
  part('plate', ring(40, 4.2, 10), at(0, 0, 10)),
  ...joint(),
];

describe('a machine comes apart', () => {
  test('a bolt with its washer and nut along its axis, in one line: head, washer, plate above, nut below', () => {
    const { moves, locked } = explode(clamped);
    expect(locked).toEqual([]);
    const steps = stepsOf({ moves, locked });
    for (const step of Object.values(steps)) expect([Math.abs(step[0]), Math.abs(step[1])]).toEqual([0, 0]);
    expect(steps.nut[2]).toBeLessThan(-4);
    expect(steps.plate[2]).toBeGreaterThan(5);
    // Each further out than what it held, and clear of it.
    expect(steps.washer[2] + 20.5).toBeGreaterThan(steps.plate[2] + 20);
    expect(steps.bolt[2] - 18).toBeGreaterThan(steps.washer[2] + 22);
    expect(moves.map(({ path }) => path).indexOf('bolt' as never)).toBeLessThan(
      moves.map(({ path }) => path).indexOf('washer' as never),
    );
  });
  test('what lies in a cup leaves after its lid, the same way', () => {
    const cup = latheMesh([
      [0, 0],
      [50, 0],
      [50, 60],
      [46, 60],
      [46, 4],
      [0, 4],
    ]);
    const { moves, locked } = explode([
      part('cup', cup, at(0, 0, 0)),
      part('content', cylinderMesh(20, 20), at(0, 0, 4)),
      part('lid', cylinderMesh(50, 4), at(0, 0, 60)),
    ]);
    expect([locked, moves.map(({ path }) => path)]).toEqual([[], ['lid', 'content']]);
    const [lid, content] = moves.map(wholeStep);
    expect([content[0], content[1], content[2] > 56, lid[2] + 60 > content[2] + 24]).toEqual([0, 0, true, true]);
  });
  test('what is held from all sides is said, and moved all the same', () => {
    const hollow = latheMesh([
      [0, -30],
      [30, -30],
      [30, 30],
      [0, 30],
      [0, 25],
      [25, 25],
      [25, -25],
      [0, -25],
    ]);
    const { moves, locked } = explode([
      part('shell', hollow, at(0, 0, 0)),
      part('core', cylinderMesh(24.8, 49.6), at(0, 0, -24.8)),
    ]);
    expect(locked).toEqual([{ path: 'core', because: ['shell'] }]);
    expect(Math.hypot(...wholeStep(moves[0]))).toBeGreaterThan(1);
  });
  test('twins go equally far, to their own sides', () => {
    const wheel = cylinderMesh(20, 6);
    const placed = (x: number, axis: Vec3) => placementFromAxes([x, 0, 0], axis, null);
    const steps = stepsOf(
      explode([
        part('axle', boxMesh(200, 60, 60), at(-100, -30, -30)),
        part('left', wheel, placed(-100, [-1, 0, 0]), 'wheel'),
        part('right', wheel, placed(100, [1, 0, 0]), 'wheel'),
      ]),
    );
    expect(steps.left[0]).toBeLessThan(-5);
    expect(steps.right).toEqual(scale(steps.left, -1).map((value) => value + 0));
  });
  test('a pack of rings on a shaft comes apart along it, in its order', () => {
    const shaft = latheMesh([
      [0, 0],
      [20, 0],
      [20, 5],
      [10, 5],
      [10, 100],
      [0, 100],
    ]);
    const rings = Array.from({ length: 8 }, (_, rank) =>
      part(`ring ${rank}`, ring(18, 10, 6), at(0, 0, 5 + 7 * rank), 'ring'),
    );
    const steps = stepsOf(explode([part('shaft', shaft, at(0, 0, 0)), ...rings]));
    const places = rings.map(({ path }, rank) => 5 + 7 * rank + steps[path[0]][2]);
    for (const [rank, place] of places.entries()) if (rank > 0) expect(place).toBeGreaterThan(places[rank - 1] + 6);
    expect(places[0]).toBeGreaterThan(100);
  });
  test('along the axis of a slanting hole where that is no axis of the machine', () => {
    const slanted: Vec3 = [Math.SQRT1_2, 0, Math.SQRT1_2];
    const turned = placementFromAxes([0, 0, 0], slanted, null);
    const steps = stepsOf(
      explode([
        part('housing', ring(60, 8, 80), turned),
        part('pin', cylinderMesh(8, 60), composePlacements(turned, at(0, 0, 30))),
      ]),
    );
    const [x, y, z] = steps.pin;
    expect([Math.abs(y), Math.abs(Math.abs(x) - Math.abs(z)) < 0.02, Math.hypot(x, z) > 50]).toEqual([0, true, true]);
  });
});

describe('levels', () => {
  const machine: Part[] = [
    part('frame', boxMesh(300, 300, 10), at(-150, -150, -20)),
    ...clamped.map(({ path, ...rest }) => ({ ...rest, path: ['head', ...path] as UsageKey[] })),
  ];
  test('at the first one a subassembly leaves as one', () => {
    expect(explode(machine, { levels: 1 }).moves.map(({ path }) => path)).toEqual(['head']);
  });
  test('deeper it is opened in place, unless it leaves whole', () => {
    const paths = explode(machine).moves.map(({ path }) => path as string);
    expect(paths[0]).toBe('head');
    expect(paths.slice(1).sort()).toEqual(['head/bolt', 'head/nut', 'head/plate', 'head/washer']);
    expect(explode(machine, { whole: new Set(['head' as never]) }).moves).toHaveLength(1);
  });
  test('what is opened has room for what leaves it', () => {
    const steps = stepsOf(explode(machine));
    // The nut leaves downwards, towards the frame: the head goes far enough that it stays above.
    expect(-16 + steps['head/nut'][2] + steps.head[2]).toBeGreaterThan(-10);
  });
});

describe('what the file groups comes apart by how it is joined', () => {
  /** Two plates, clamped by sets of bolt, two washers and nut that the file groups. */
  const set = (name: string, x: number): Part[] =>
    [
      part('bolt', bolt(40), at(x, 0, -18), 'bolt'),
      part('washer', ring(8, 4.2, 1.5), at(x, 0, 20.5), 'washer'),
      part('below', ring(8, 4.2, 1.5), at(x, 0, -11.5), 'washer'),
      part('nut', ring(6.5, 4, 4.5), at(x, 0, -16), 'nut'),
    ].map((one) => ({ ...one, path: [name, ...one.path] as UsageKey[] }));
  // Two rings side by side stand for a plate with two holes.
  const plate = (height: number) => inRow([ring(40, 4.2, height), ring(40, 4.2, height)], 100);
  const machine = [
    part('lower', plate(20), at(0, 0, -10)),
    part('upper', plate(10.5), at(0, 0, 10)),
    ...set('set 1', 0),
    ...set('set 2', 100),
  ];

  test('a bolt set leaves to both sides of the plates that it clamps, in its true order, also at the first level', () => {
    for (const levels of [1, Infinity]) {
      const { moves, locked } = explode(machine, { levels });
      expect(locked).toEqual([]);
      const steps = stepsOf({ moves, locked });
      for (const name of ['set 1', 'set 2']) {
        expect(steps[name]).toBeUndefined();
        const [head, washer, below, nut] = ['bolt', 'washer', 'below', 'nut'].map((one) => steps[`${name}/${one}`]);
        for (const step of [head, washer, below, nut]) expect([step[0], step[1]]).toEqual([0, 0]);
        expect([head[2] > 0, washer[2] > 0, below[2] < 0, nut[2] < 0]).toEqual([true, true, true, true]);
        expect([head[2] - 18 > washer[2] + 22, nut[2] + 4.5 < below[2] + 4.5]).toEqual([true, true]);
        const order = moves.map(({ path }) => path as string);
        expect(order.indexOf(`${name}/nut`)).toBeLessThan(order.indexOf(`${name}/below`));
        expect(order.indexOf(`${name}/bolt`)).toBeLessThan(order.indexOf('upper'));
      }
      expect(steps['set 1/bolt']).toEqual(steps['set 2/bolt']);
    }
  });
  test('the checker of ways sees a set that is pulled through its plates', () => {
    const through: Exploded = { moves: [{ path: 'set 1' as never, steps: [[0, 0, 200]] }], locked: [] };
    expect(collisions(machine, through, seeded(1)).join()).toMatch(/set 1\/nut hits lower/);
    expect(collisions(machine, explode(machine), seeded(1))).toEqual([]);
  });
  test('what is asked to leave whole does, and is said to be held, with what holds it', () => {
    const { moves, locked } = explode(machine, { whole: new Set(['set 1' as never]) });
    expect(moves.map(({ path }) => path as string)).toContain('set 1');
    expect(locked.map(({ path }) => path as string)).toContain('set 1');
    expect(locked.find(({ path }) => (path as string) === 'set 1')!.because.length).toBeGreaterThan(0);
  });
  test('what can leave whole stays whole at the first level', () => {
    const head = clamped.map((one) => ({ ...one, path: ['head', ...one.path] as UsageKey[] }));
    const { moves } = explode([part('frame', boxMesh(300, 300, 10), at(-150, -150, -40)), ...head], { levels: 1 });
    expect(moves.map(({ path }) => path)).toEqual(['head']);
  });
});

test('more things at one place than can be looked at in pairs are refused with a sentence', () => {
  const pile = Array.from({ length: 1501 }, (_, rank) => part(`p${rank}`, boxMesh(1, 1, 1), at(2 * rank, 0, 0)));
  expect(() => explode(pile)).toThrow('1501 things stand side by side at one place of the machine; up to 1500');
});
test('the same machine comes apart in the same way', () => expect(explode(clamped)).toEqual(explode(clamped)));
test('one part alone, or nothing, has nowhere to go', () => {
  expect([explode([]), explode([part('a', boxMesh(1, 1, 1), at(0, 0, 0))])]).toEqual([
    { moves: [], locked: [] },
    { moves: [], locked: [] },
  ]);
});

test('on random machines with bolts through plates, packs on shafts and cups with lids nothing hits what is still there', () => {
  const random = seeded(30);
  for (let scene = 0; scene < (process.env.SLEDGEBOARD_LONG ? 60 : 9); scene++) {
    const parts = jointedMachine(random);
    for (const levels of [1, Infinity]) {
      const exploded = explode(parts, { levels });
      expect([scene, exploded.locked, collisions(parts, exploded, random)]).toEqual([scene, [], []]);
      expect([scene, standingInOthers(parts, exploded, random)]).toEqual([scene, []]);
    }
  }
});

test.each([
  ['stop valve', stopValve],
  ['coaxial pack', coaxialPack],
])('of the %s nothing hits what is still there, and nothing is held', (_, make) => {
  const { assembly, slices } = readStep(new TextEncoder().encode(productStep(make(), 'machine.step')));
  const meshes = new Map(
    slices.map(({ key, text, diagonalMm }) => [key, meshSlice(text, { deflection: diagonalMm / 300, angle: 0.4 })!]),
  );
  const parts = listOccurrences(assembly, (index) => assembly.components[index].shape !== null).map(
    ({ path, components, placement }): Part => {
      const { shape } = assembly.components[components[components.length - 1]];
      return { path, placement, shape: shape!, mesh: meshes.get(shape!)! };
    },
  );
  const exploded = explode(parts, { every: true });
  expect(exploded.moves).toHaveLength(parts.length - 1);
  expect([exploded.locked, collisions(parts, exploded, seeded(3), 60)]).toEqual([[], []]);
  expect(standingInOthers(parts, exploded, seeded(4))).toEqual([]);
});

test('on random stacks nothing hits, on its way, what is still there (against rays through all matter)', () => {
  const random = seeded(10);
  for (let scene = 0; scene < 25; scene++) {
    // Boxes piled up at random, none in another.
    const parts: Part[] = [];
    let top = 0;
    for (let level = 0; level < 5; level++) {
      let x = 0;
      const height = 5 + 20 * random();
      for (let column = 0; column < 3; column++) {
        const [width, depth] = [10 + 30 * random(), 20 + 30 * random()];
        const below = at(x, 30 * random(), top + (random() < 0.5 ? 0 : 2));
        parts.push(part(`${level}-${column}`, boxMesh(width, depth, height - 2), below));
        x += width + (random() < 0.5 ? 0 : 3);
      }
      top += height;
    }
    const { moves, locked: held } = explode(parts);
    const locked = held.map(({ path }) => path);
    expect(moves).toHaveLength(parts.length - 1);
    const there = new Map(parts.map((one) => [one.path.join('/'), one]));
    for (const move of moves) {
      const one = there.get(move.path)!;
      there.delete(move.path);
      if (locked.includes(move.path)) continue;
      const step = wholeStep(move);
      const far = Math.hypot(...step);
      const way = scale(step, 1 / far);
      // Seen along its way, up to where it goes: z is the way.
      const seen = placementFromAxes([0, 0, 0], way, null);
      const turn = (point: Vec3): Vec3 => [
        seen[0] * point[0] + seen[4] * point[1] + seen[8] * point[2],
        seen[1] * point[0] + seen[5] * point[1] + seen[9] * point[2],
        seen[2] * point[0] + seen[6] * point[1] + seen[10] * point[2],
      ];
      for (const other of there.values()) {
        const placeOf =
          (placement: Placement) =>
          (point: Vec3): Vec3 =>
            turn(applyToPoint(placement, point));
        const before = waysBetween(one.mesh, placeOf(one.placement), other.mesh, placeOf(other.placement), random, 200);
        const after = waysBetween(
          one.mesh,
          placeOf(movedBy(one.placement, add(step, scale(way, -1e-3)))),
          other.mesh,
          placeOf(other.placement),
          random,
          200,
        );
        // What was ahead is still ahead; and it has come to stand in nothing.
        if (before.across < 1) continue;
        expect([scene, move.path, after.inside]).toEqual([scene, move.path, 0]);
        if (before.up > 0.05) expect([scene, move.path, after.up > 0]).toEqual([scene, move.path, true]);
      }
    }
  }
});
