import { describe, expect, test } from 'vitest';
import type { PathKey } from '../../assembly/index.ts';
import { applyToPoint, distanceToStretch, type Box2, type Placement, type Vec3 } from '../../geometry/index.ts';
import { directionNames, drawLook, drawView, viewPlacement, type ViewLines } from '../index.ts';
import {
  compareLines,
  deviationOf,
  exactLines,
  facetsOf,
  type Agreement,
  type PlacedSolid,
  type Solid,
} from '../../../../testkit/exactShapes.ts';
import { runs } from '../../../../testkit/runs.ts';

/** A repeatable stream of numbers in [0, 1). Source: G. Steele, "Fast splittable pseudorandom number generators", 2014. */
function randomOf(seed: number): () => number {
  let state = seed * 0x9e3779b9;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let z = Math.imul(state ^ (state >>> 15), 1 | state);
    z = (z + Math.imul(z ^ (z >>> 7), 61 | z)) ^ z;
    return ((z ^ (z >>> 14)) >>> 0) / 4294967296;
  };
}

type Turn = readonly [Vec3, Vec3, Vec3];
const straight: Turn = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];
/** A random turn from a unit quaternion (K. Shoemake 1992). */
function randomTurn(random: () => number): Turn {
  const [u, a, b] = [random(), 2 * Math.PI * random(), 2 * Math.PI * random()];
  const [x, y, z, w] = [
    Math.sqrt(1 - u) * Math.sin(a),
    Math.sqrt(1 - u) * Math.cos(a),
    Math.sqrt(u) * Math.sin(b),
    Math.sqrt(u) * Math.cos(b),
  ];
  return [
    [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
    [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
    [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
  ];
}
const placed = (solid: Solid, turn: Turn, at: Vec3): PlacedSolid => ({
  solid,
  placement: turn.flatMap((row, axis) => [...row, at[axis]]),
});

/** What is drawn against what is true, within 0.3 mm and what the facets stray. */
function judge(
  solids: readonly PlacedSolid[],
  view: Placement,
  steps: number,
  step = 0.25,
  exact = exactLines(solids, view, step),
): Agreement {
  const bodies = solids.map(({ solid, placement }, index) => ({
    mesh: facetsOf(solid, steps),
    placement,
    path: String(index) as PathKey,
  }));
  const within = Math.max(0.3, step / 2) + Math.max(...solids.map(({ solid }) => deviationOf(solid, steps)));
  return compareLines(exact, drawView(bodies, view), within);
}

const WANTED = 0.998;
/** A single small scene may hold one line that meets a facet so flat that 0.3 mm beside it are 2 mm along it. */
const WANTED_OF_ONE = 0.998;
const wanted = ({ drawn, exact, longestGap }: Agreement, least = WANTED) => ({
  drawn: drawn >= least,
  exact: exact >= least,
  longestGap: longestGap <= 1,
});
const allWell = { drawn: true, exact: true, longestGap: true };

function randomSolid(random: () => number): Solid {
  const size = (low: number, high: number) => low + (high - low) * random();
  const kind = Math.floor(random() * 5);
  if (kind === 0) return { kind: 'box', x: size(10, 80), y: size(10, 80), z: size(2, 60) };
  if (kind === 1) {
    const radius = size(4, 30);
    return { kind: 'frustum', low: radius, high: radius, height: size(5, 100) };
  }
  if (kind === 2) return { kind: 'frustum', low: size(8, 30), high: size(2, 25), height: size(8, 60) };
  if (kind === 3) return { kind: 'sphere', radius: size(5, 35) };
  return { kind: 'torus', radius: size(15, 30), tube: size(3, 12) };
}

describe('random scenes', () => {
  const seeds = Array.from({ length: runs(60, 200) }, (_, seed) => seed + 1);
  const all: Agreement[] = [];
  const mean = (of: (one: Agreement) => number) => all.reduce((sum, one) => sum + of(one), 0) / all.length;
  test.each(seeds)('what is drawn is true and what is true is drawn (seed %i)', (seed) => {
    const random = randomOf(seed);
    const count = 1 + Math.floor(random() * 4);
    const square = seed % 3 === 0; // a third stands square to the axes, as most machines do
    const solids = Array.from({ length: count }, () =>
      placed(randomSolid(random), square ? straight : randomTurn(random), [
        90 * random(),
        90 * random(),
        90 * random(),
      ]),
    );
    const named = seed % 2 === 0;
    const view = named
      ? viewPlacement(directionNames[seed % directionNames.length])
      : randomTurn(random).flatMap((row) => [...row, 0]);
    // The geometry kernel cuts shapes of this size into 50 and more.
    const steps = [48, 72, 120][seed % 3 === 0 ? Math.floor(random() * 3) : seed % 3];
    const agreement = judge(solids, view, steps);
    all.push(agreement);
    expect({ ...wanted(agreement, WANTED_OF_ONE), figures: agreement }).toEqual({ ...allWell, figures: agreement });
  });
  test('all of them together', () => {
    expect(all).toHaveLength(seeds.length);
    expect(mean(({ drawn }) => drawn)).toBeGreaterThanOrEqual(WANTED);
    expect(mean(({ exact }) => exact)).toBeGreaterThanOrEqual(WANTED);
  });
});

describe('machines whose parts touch, lie flush or pass through one another', () => {
  const cylinder = (radius: number, height: number): Solid => ({ kind: 'frustum', low: radius, high: radius, height });
  const box = (x: number, y: number, z: number): Solid => ({ kind: 'box', x, y, z });
  /** Its axis along model x. */
  const lying: Turn = [
    [0, 0, 1],
    [1, 0, 0],
    [0, 1, 0],
  ];
  const rollers = [
    ...Array.from({ length: 20 }, (_, at) => placed(cylinder(30, 400), lying, [0, 150 * at, 50])),
    placed(box(8, 2950, 100), straight, [-8, -50, 0]),
    placed(box(8, 2950, 100), straight, [400, -50, 0]),
  ];
  const shaftInPlate = [
    placed(box(200, 12, 120), straight, [-100, 0, -60]),
    placed(
      cylinder(20, 160),
      [straight[0], straight[2].map((value) => -value) as unknown as Vec3, straight[1]],
      [0, 90, 0],
    ),
    placed(cylinder(8, 60), lying, [-100, -30, 10]),
  ];
  const pack = [
    placed(cylinder(40, 10), straight, [0, 0, 0]),
    placed(cylinder(40, 3), straight, [0, 0, 10]),
    placed(cylinder(25, 30), straight, [0, 0, 13]),
    placed({ kind: 'frustum', low: 25, high: 12, height: 15 }, straight, [0, 0, 43]),
    placed({ kind: 'sphere', radius: 12 }, straight, [0, 0, 58]),
    placed({ kind: 'torus', radius: 40, tube: 4 }, straight, [0, 0, 5]),
  ];
  const covers = [
    placed(box(300, 1, 200), straight, [0, 0, 0]),
    placed(box(1, 150, 200), straight, [300, 0, 0]),
    placed(box(300, 150, 1), straight, [0, 0, 200]),
    placed(cylinder(15, 201), straight, [60, 75, 0]),
    placed(box(100, 60, 40), straight, [200, 1, 0]),
  ];
  const directions = [...directionNames, 'turned'] as const;
  const cases = Object.entries({ rollers, shaftInPlate, pack, covers }).flatMap(([name, solids]) =>
    // The plain judge takes long, most of all where many solids stand in a row: not from everywhere.
    directions
      .filter((direction, at) => at % (solids.length < 10 ? 2 : 6) === 1 || direction === 'turned' || runs(0, 1) === 1)
      .map((direction) => [name, direction, solids] as const),
  );
  test.each(cases)('%s seen %s, with 36 and with 96 facets per turn', (_, direction, solids) => {
    const view =
      direction === 'turned' ? randomTurn(randomOf(7)).flatMap((row) => [...row, 0]) : viewPlacement(direction);
    const step = solids.length > 10 ? 2 : 0.5;
    // What is true is found once; it knows nothing of facets.
    const exact = exactLines(solids, view, step);
    for (const steps of [36, 96]) {
      const agreement = judge(solids, view, steps, step, exact);
      expect({ steps, ...wanted(agreement), figures: agreement }).toEqual({ steps, ...allWell, figures: agreement });
    }
  });
});

/** Ends of visible lines that no other visible line comes near, away from the border of the window. */
function looseEnds({ ends, visible }: ViewLines, within: number, window: Box2 | null): string[] {
  const lines = Array.from(visible.keys()).filter((line) => visible[line] === 1);
  const isFree = (x: number, y: number, own: number) =>
    !lines.some((line) => {
      if (line === own) return false;
      const [ax, ay, bx, by] = ends.subarray(line * 4, line * 4 + 4);
      return distanceToStretch([x, y], [ax, ay], [bx, by]) <= within;
    });
  const isInside = (x: number, y: number) =>
    !window || Math.min(x - window[0], y - window[1], window[2] - x, window[3] - y) > within;
  return lines.flatMap((line) =>
    [0, 2].flatMap((end) => {
      const [x, y] = ends.subarray(line * 4 + end, line * 4 + end + 2);
      return isInside(x, y) && isFree(x, y, line) ? [`${x.toFixed(3)}, ${y.toFixed(3)}`] : [];
    }),
  );
}

describe('at the scale of the paper', () => {
  /** On paper; mm. */
  const WITHIN = 0.1,
    GAP = 0.2,
    ENDS_WITHIN = 0.05;
  const cylinder = (radius: number, height: number): Solid => ({ kind: 'frustum', low: radius, high: radius, height });
  const ring = (inner: number, outer: number, height: number): Solid => ({ kind: 'tube', inner, outer, height });
  const box = (x: number, y: number, z: number): Solid => ({ kind: 'box', x, y, z });
  const upright = (solid: Solid, x: number, y: number, z: number) => placed(solid, straight, [x, y, z]);
  /** A bolt, with washers and a nut, through whatever lies between these heights; heads and nuts are round. */
  const bolted = (x: number, y: number, low: number, high: number) => [
    upright(ring(3.2, 6, 1.6), x, y, high),
    upright(cylinder(5, 4), x, y, high + 1.6),
    upright(cylinder(3, high - low + 11), x, y, low - 9.4),
    upright(ring(3.2, 6, 1.6), x, y, low - 1.6),
    upright(ring(3, 5.5, 5), x, y, low - 6.6),
  ];
  /** Two flanges with a gasket on a pipe, six bolts, a ball on top. */
  const flanges = [
    upright(ring(20, 45, 12), 0, 0, 0),
    upright(ring(20, 30, 2), 0, 0, 12),
    upright(ring(20, 45, 12), 0, 0, 14),
    upright(ring(20, 24, 60), 0, 0, 26),
    upright({ kind: 'frustum', low: 30, high: 24, height: 10 }, 0, 0, -10),
    upright({ kind: 'sphere', radius: 20 }, 0, 0, 92),
    ...Array.from({ length: 6 }, (_, at) => {
      const turn = (Math.PI * at) / 3 + 0.2;
      return bolted(37 * Math.cos(turn), 37 * Math.sin(turn), 0, 26);
    }).flat(),
  ];
  /** A long beam with feet, a shaft in rings, and small screws along it: seen at 1:10. */
  const bench = [
    upright(box(1600, 120, 20), 0, 0, 0),
    ...[100, 1500].flatMap((x) => [
      upright(box(40, 100, 300), x - 20, 10, -300),
      upright(cylinder(40, 12), x, 60, -312),
      placed(ring(25, 45, 40), [straight[2], straight[0], straight[1]] as unknown as Turn, [x, 60, 80]),
    ]),
    placed(
      cylinder(25, 1600),
      [
        [0, 0, 1],
        [1, 0, 0],
        [0, 1, 0],
      ],
      [0, 60, 80],
    ),
    ...Array.from({ length: 6 }, (_, at) => bolted(60 + 280 * at, 20, 0, 20)).flat(),
  ];
  const cases = [
    ['flanges', flanges, 1, null],
    ['flanges', flanges, 2, [30, 30]],
    ['flanges', flanges, 5, [12, 12]],
    ['flanges', flanges, 10, [7, 7]],
    ['bench', bench, 0.1, null],
    ['bench', bench, 5, [14, 10]],
  ] as const;
  const all = cases.flatMap(([name, solids, scale, half], at) =>
    (['front', 'isometric', 'turned'] as const)
      .filter((_, way) => (at % 3 === way && scale !== 2 && scale !== 10) || runs(0, 1) === 1)
      .map((direction) => ({ name, solids, scale, half, direction })),
  );
  test.each(all)('$name $direction at $scale : 1', ({ solids, scale, half, direction }) => {
    const view =
      direction === 'turned' ? randomTurn(randomOf(23)).flatMap((row) => [...row, 0]) : viewPlacement(direction);
    // Around a washer on the outside.
    const [x, y] = applyToPoint(view, [60 * +(solids === bench) + 37 * +(solids !== bench), 7.5, 27]);
    const window: Box2 | null = half && [x - half[0], y - half[1], x + half[0], y + half[1]];
    const bodies = solids.map(({ solid, placement }, index) => ({
      mesh: facetsOf(solid, 63),
      placement,
      path: String(index) as PathKey,
    }));
    const { lines } = drawLook(bodies, view, window ? { window } : {});
    const seen = exactLines(solids, view, WITHIN / scale, window);
    const found = compareLines(seen, lines, WITHIN / scale);
    const well = found.drawn >= WANTED && found.exact >= WANTED && found.longestGap * scale <= GAP;
    expect({ ...found, well }).toEqual({ ...found, well: true });
    expect(looseEnds(lines, ENDS_WITHIN / scale, window)).toEqual([]);
  });
});
