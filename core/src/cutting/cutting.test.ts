import fc from 'fast-check';
import { beforeAll, describe, expect, test } from 'vitest';
import { linearSolver } from '../../../engine/src/pool/linearSolver.ts';
import { cutFaults, firstFitDecreasing, leastCost } from '../../../testkit/slowCutting.ts';
import { bestFills } from './knapsack.ts';
import { planCuts, type CutProblem, type LinearSolver, type StockBar } from './index.ts';
import { runs } from '../../../testkit/runs.ts';

let solver: LinearSolver;
beforeAll(async () => {
  solver = await linearSolver();
});

const bar = (lengthMm: number, price: number | null = null, available: number | null = null): StockBar => ({
  lengthMm,
  price,
  available,
});
const problem = (
  pieces: readonly (readonly [lengthMm: number, count: number])[],
  stock: readonly StockBar[],
  rest: Partial<CutProblem> = {},
): CutProblem => ({
  pieces: pieces.map(([lengthMm, count]) => ({ lengthMm, count })),
  stock,
  kerfMm: 0,
  trimMm: 0,
  leastLeftOverMm: 200,
  ...rest,
});
const plan = (of: CutProblem) => planCuts(of, solver);

describe('one bar', () => {
  test('the last piece may end where the bar ends: two of 1000 fit 2003 with a saw of 3, not 2002', () => {
    expect(plan(problem([[1000, 2]], [bar(2003)], { kerfMm: 3 })).bars).toEqual([
      { stock: 0, count: 1, pieces: [{ piece: 0, count: 2 }], leftOverMm: 0 },
    ]);
    expect(plan(problem([[1000, 2]], [bar(2002)], { kerfMm: 3 })).boughtMm).toBe(4004);
  });
  test('both ends are trimmed', () => {
    expect(plan(problem([[1000, 2]], [bar(2020)], { trimMm: 10 })).boughtMm).toBe(2020);
    expect(plan(problem([[1000, 2]], [bar(2019)], { trimMm: 10 })).boughtMm).toBe(4038);
  });
  test('a left-over counts as waste below the least length that is kept', () => {
    const kept = plan(problem([[700, 1]], [bar(1000)], { kerfMm: 2, leastLeftOverMm: 298 }));
    expect(kept).toMatchObject({ piecesMm: 700, keptMm: 298, wasteMm: 2 });
    expect(plan(problem([[700, 1]], [bar(1000)], { kerfMm: 2, leastLeftOverMm: 299 }))).toMatchObject({
      keptMm: 0,
      wasteMm: 300,
    });
  });
  test('a leaning cut is wider along the bar', () => {
    const mitred = (lengthMm: number): CutProblem => ({
      ...problem([], [bar(lengthMm)], { kerfMm: 3 }),
      pieces: [{ lengthMm: 1000, count: 2, ends: [60, 60] }],
    });
    // 3 / cos 60° = 6, and each piece may bring its own cut along
    expect(plan(mitred(2000 + 3 + 4 * 3)).boughtMm).toBe(2015);
    expect(plan(mitred(2000 + 2)).boughtMm).toBe(4004);
  });
});

describe('which bars', () => {
  test('two short bars are bought where they are cheaper than a long one', () => {
    expect(plan(problem([[900, 2]], [bar(2000, 30), bar(1000, 14)]))).toMatchObject({ cost: 28, optimal: true });
    expect(plan(problem([[900, 2]], [bar(2000, 27), bar(1000, 14)]))).toMatchObject({ cost: 27, optimal: true });
  });
  test('bars that lie there already are used before any is bought, and no more than there are', () => {
    const made = plan(problem([[900, 3]], [bar(1000, 0, 2), bar(2000, 30)]));
    expect(made).toMatchObject({ cost: 30, optimal: true });
    expect(made.bars.map(({ stock, count }) => [stock, count])).toEqual([
      [1, 1],
      [0, 2],
    ]);
  });
  test('without prices the least length is bought', () => {
    expect(plan(problem([[900, 2]], [bar(2000), bar(1000, 5)]))).toMatchObject({
      measure: 'length',
      cost: 2000,
      lowerBound: 2000,
      optimal: true,
    });
  });
  test('where bars run out, the pieces without one are told and the rest is cut', () => {
    const short = problem([[900, 5]], [bar(1000, 3, 2)]);
    expect(plan(short)).toMatchObject({ missing: [{ piece: 0, count: 3 }], optimal: false, cost: 6 });
    expect(cutFaults(short, plan(short))).toEqual([]);
  });
  test('a piece longer than any bar is named and the others are cut', () => {
    expect(
      plan(
        problem(
          [
            [2500, 1],
            [900, 2],
          ],
          [bar(2000, 30)],
        ),
      ),
    ).toMatchObject({ tooLong: [0], cost: 30 });
  });
  test('without any bar, or with bars that trimming leaves nothing of, everything is too long', () => {
    expect(plan(problem([[10, 1]], [])).tooLong).toEqual([0]);
    expect(plan(problem([[10, 1]], [bar(20)], { trimMm: 10 })).tooLong).toEqual([0]);
  });
  test('first fit wastes a bar where three pairs would fill three bars', () => {
    const pairs = problem(
      [
        [6, 1],
        [5, 2],
        [4, 1],
        [3, 1],
        [7, 1],
      ],
      [bar(10, 1)],
    );
    expect(plan(pairs)).toMatchObject({ cost: 3, lowerBound: 3, optimal: true });
  });
});

test('once it is told to stop, the best so far is the plan, with what is known of its worth', () => {
  let asked = 0;
  const pieces = Array.from({ length: 30 }, (_, at) => [310 + 67 * at, 3] as const);
  const large = problem(pieces, [bar(6000, 42), bar(4000, 29.5)], { kerfMm: 2 });
  const stopped = planCuts(large, solver, { shouldStop: () => ++asked > 3 });
  expect(stopped.stopped).toBe(true);
  expect(cutFaults(large, stopped)).toEqual([]);
  expect(stopped.lowerBound).toBeGreaterThan(0);
  const whole = plan(large);
  expect(whole.stopped).toBe(false);
  expect(whole.cost).toBeLessThanOrEqual(stopped.cost);
  expect(whole.lowerBound).toBeGreaterThanOrEqual(stopped.lowerBound);
});
test('what is told on the way never gets worse', () => {
  const told: { cost: number; lowerBound: number }[] = [];
  const pieces = Array.from({ length: 20 }, (_, at) => [313 + 101 * at, 7] as const);
  planCuts(problem(pieces, [bar(6000, 42), bar(4400, 32)], { kerfMm: 2 }), solver, {
    onProgress: (one) => told.push(one),
  });
  expect(told.length).toBeGreaterThan(1);
  for (const [at, one] of told.slice(1).entries()) {
    expect(one.cost).toBeLessThanOrEqual(told[at].cost);
    expect(one.lowerBound).toBeGreaterThanOrEqual(told[at].lowerBound);
  }
});
test('a hundred thousand pieces take no longer than their lengths ask for, within one bar of the bound', () => {
  const many = problem(
    Array.from({ length: 20 }, (_, at) => [413 + 97 * at, 5000] as const),
    [bar(6000, 42)],
    { kerfMm: 2 },
  );
  const made = plan(many);
  expect(cutFaults(many, made)).toEqual([]);
  expect(made.cost - made.lowerBound).toBeLessThanOrEqual(42);
  expect(made.bars.length).toBeLessThan(200);
});

const small = fc.record({
  pieces: fc.array(fc.record({ lengthMm: fc.integer({ min: 1, max: 60 }), count: fc.integer({ min: 1, max: 3 }) }), {
    minLength: 1,
    maxLength: 4,
  }),
  stock: fc.array(
    fc.record({
      lengthMm: fc.integer({ min: 60, max: 120 }),
      price: fc.integer({ min: 0, max: 40 }).map((price) => price / 4),
      available: fc.option(fc.integer({ min: 1, max: 3 }), { nil: null, freq: 2 }),
    }),
    { minLength: 1, maxLength: 3 },
  ),
  kerfMm: fc.constantFrom(0, 0.5, 2),
  trimMm: fc.constant(0),
  leastLeftOverMm: fc.constantFrom(0, 10),
});
const middling = fc.record({
  pieces: fc.array(
    fc.record({
      lengthMm: fc.oneof(
        fc.integer({ min: 50, max: 3000 }),
        fc.integer({ min: 50e3, max: 3e6 }).map((µm) => µm / 1000),
      ),
      count: fc.integer({ min: 1, max: 12 }),
      ends: fc.option(fc.tuple(fc.constantFrom(0, 22.5, 45), fc.constantFrom(0, 45, 60)), { nil: undefined, freq: 3 }),
    }),
    { minLength: 1, maxLength: 14 },
  ),
  stock: fc.array(
    fc.record({
      lengthMm: fc.integer({ min: 2000, max: 8000 }),
      price: fc.option(
        fc.integer({ min: 0, max: 9000 }).map((cents) => cents / 100),
        { nil: null, freq: 20 },
      ),
      available: fc.option(fc.integer({ min: 0, max: 9 }), { nil: null, freq: 2 }),
    }),
    { minLength: 1, maxLength: 4 },
  ),
  kerfMm: fc.constantFrom(0, 2.5, 3.2),
  trimMm: fc.constantFrom(0, 10),
  leastLeftOverMm: fc.constantFrom(0, 300),
});
/** Small enough to try all ways to cut it. */
const isSmall = ({ pieces }: CutProblem) => pieces.reduce((sum, { count }) => sum + count, 0) <= 9;

describe('laws', () => {
  test('every piece is cut exactly once, within its bar, with kerf between, and the sums are right', () => {
    fc.assert(
      fc.property(middling, (of) => {
        expect(cutFaults(of, plan(of))).toEqual([]);
      }),
      { numRuns: 60 },
    );
  });
  test('small ones cost what trying all ways finds, and say that nothing is cheaper', () => {
    fc.assert(
      fc.property(small.filter(isSmall), (of) => {
        const made = plan(of);
        expect(cutFaults(of, made)).toEqual([]);
        const least = leastCost(of);
        if (least === Infinity) expect(made.missing.length + made.tooLong.length).toBeGreaterThan(0);
        else {
          expect(made.missing).toEqual([]);
          expect(made.cost).toBeCloseTo(least, 6);
          expect(made).toMatchObject({ optimal: true, lowerBound: made.cost });
        }
      }),
      { numRuns: runs(100, 1000) },
    );
  });
  test('no plan needs more bars than first fit decreasing', () => {
    fc.assert(
      fc.property(middling, fc.integer({ min: 3020, max: 8000 }), (of, lengthMm) => {
        const one: CutProblem = {
          ...of,
          pieces: of.pieces.map(({ lengthMm: length, count }) => ({ lengthMm: Math.floor(length), count })),
          stock: [bar(lengthMm, 1)],
        };
        expect(plan(one).cost).toBeLessThanOrEqual(firstFitDecreasing(one));
      }),
      { numRuns: 60 },
    );
  });
  test('one more length on offer never makes it dearer', () => {
    fc.assert(
      fc.property(middling, fc.integer({ min: 2000, max: 8000 }), (of, lengthMm) => {
        const priced = { ...of, stock: of.stock.map((one) => ({ ...one, price: one.price ?? 50, available: null })) };
        const before = plan(priced);
        if (before.tooLong.length > 0) return;
        const more = plan({ ...priced, stock: [...priced.stock, bar(lengthMm, 40)] });
        expect(more.cost).toBeLessThanOrEqual(before.cost);
      }),
      { numRuns: runs(20, 200) },
    );
  });
});

test('the best fill of a bar is worth what trying all fills finds, by search and by table', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          weight: fc.integer({ min: 3, max: 40 }),
          demand: fc.integer({ min: 1, max: 3 }),
          worth: fc.double({ min: -0.2, max: 1, noNaN: true }),
        }),
        { minLength: 1, maxLength: 5 },
      ),
      fc.integer({ min: 5, max: 90 }),
      (items, capacity) => {
        const all = (at: number, room: number): number => {
          if (at === items.length) return 0;
          let best = 0;
          for (let count = 0; count <= items[at].demand && count * items[at].weight <= room; count++)
            best = Math.max(best, count * items[at].worth + all(at + 1, room - count * items[at].weight));
          return best;
        };
        const [found] = bestFills(
          items.map(({ worth }) => worth),
          {
            weights: items.map(({ weight }) => weight),
            demands: items.map(({ demand }) => demand),
            capacities: [capacity],
            costs: [1],
            limits: [1],
          },
        );
        expect(found.worth).toBeCloseTo(all(0, capacity), 6);
        expect(found.bound).toBeGreaterThanOrEqual(found.worth);
      },
    ),
    { numRuns: 300 },
  );
});
