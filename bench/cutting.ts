import {
  planCuts,
  type CutPlan,
  type CutProblem,
  type LinearSolver,
  type StockBar,
} from '../core/src/cutting/index.ts';
import { linearSolver } from '../engine/src/pool/linearSolver.ts';
import { firstFitDecreasing } from '../testkit/slowCutting.ts';

const INSTANCES = 12;
const bar = (lengthMm: number, price: number | null = null): StockBar => ({ lengthMm, price, available: null });
const four = [bar(6000, 42), bar(4000, 29.5), bar(3000, 23.1), bar(7500, 51.3)];
const saw = { kerfMm: 2.5, trimMm: 10, leastLeftOverMm: 300 };

/** A small generator of its own, so that every run cuts the same (Lehmer, 1951). */
function seeded(seed: number): (most: number) => number {
  let state = seed;
  return (most) => Math.floor(((state = (state * 48271) % 2147483647) / 2147483647) * most);
}
type Random = ReturnType<typeof seeded>;
const many = <Of>(count: number, of: (at: number) => Of): Of[] => Array.from({ length: count }, (_, at) => of(at));

/**
 * Seeded classes of instances, of about 200 pieces of 20 lengths where nothing else is said. Sources: uniform lengths as in
 * T. Gau and G. Wäscher, "CUTGEN1", European Journal of Operational Research 84 (1995); triplets that fill a bar exactly as in
 * E. Falkenauer, "A hybrid grouping genetic algorithm for bin packing", Journal of Heuristics 2 (1996).
 */
const classes: readonly (readonly [string, (random: Random) => CutProblem])[] = [
  [
    'uniform lengths, one bar',
    (random) => ({
      ...saw,
      pieces: many(20, () => ({ lengthMm: 150 + random(2500), count: 1 + random(19) })),
      stock: [bar(6000)],
    }),
  ],
  [
    'uniform lengths, four bars',
    (random) => ({
      ...saw,
      pieces: many(20, () => ({ lengthMm: 150 + random(2500), count: 1 + random(19) })),
      stock: four,
    }),
  ],
  [
    'few long and many short',
    (random) => ({
      ...saw,
      pieces: many(20, (at) =>
        at < 5
          ? { lengthMm: 2200 + random(3000), count: 1 + random(5) }
          : { lengthMm: 80 + random(400), count: 5 + random(10) },
      ),
      stock: four,
    }),
  ],
  [
    'triplets that fill a bar, 198 lengths',
    (random) => {
      const pieces = many(66, () => {
        const long = 380 + random(110);
        const middle = 250 + random(Math.floor((1000 - long) / 2) - 250);
        return { long, middle };
      });
      return {
        kerfMm: 0,
        trimMm: 0,
        leastLeftOverMm: 10,
        stock: [bar(1000)],
        pieces: pieces.flatMap(({ long, middle }) =>
          [long, middle, 1000 - long - middle].map((lengthMm) => ({ lengthMm, count: 1 })),
        ),
      };
    },
  ],
  [
    'uniform lengths, 150 of them, two bars',
    (random) => ({
      ...saw,
      pieces: many(150, () => ({ lengthMm: 150 + random(2500), count: 1 + random(9) })),
      stock: four.slice(0, 2),
    }),
  ],
];

/** How far plans are above their lower bound, how many are proven, and how long that takes against the relaxation alone. */
export async function cutting(): Promise<void> {
  const solver = await linearSolver();
  console.log(`\nCut plans, ${INSTANCES} seeded instances of each class`);
  console.log(
    '  above the lower bound (mean, most), proven, first fit decreasing above the plan, time against the bound alone',
  );
  for (const [name, make] of classes) {
    const problems = many(INSTANCES, (at) => make(seeded(7919 * (at + 1))));
    const results = problems.map((problem) => measured(problem, solver));
    const mean = (of: (one: (typeof results)[number]) => number) =>
      results.reduce((sum, one) => sum + of(one), 0) / results.length;
    const gaps = results.map(({ plan }) => plan.cost / plan.lowerBound - 1);
    const percent = (value: number) => `${(100 * value).toFixed(2)} %`.padStart(8);
    const proven = results.filter(({ plan }) => plan.optimal).length;
    console.log(
      `  ${name.padEnd(40)} ${percent(mean(({ plan }) => plan.cost / plan.lowerBound - 1))} ${percent(Math.max(...gaps))}  ${String(proven).padStart(2)} of ${INSTANCES} ${percent(mean(({ simple, plan }) => simple / plan.cost - 1))} ${mean(
        ({ share }) => share,
      )
        .toFixed(1)
        .padStart(6)}`,
    );
  }
}

function measured(problem: CutProblem, solver: LinearSolver): { plan: CutPlan; simple: number; share: number } {
  let bound = 0;
  const start = performance.now();
  const plan = planCuts(problem, solver, { onProgress: () => (bound ||= performance.now() - start) });
  const whole = performance.now() - start;
  // First fit knows one bar: the one of them that makes it cheapest.
  const simple = Math.min(
    ...problem.stock
      .filter(({ lengthMm }) => problem.pieces.every((piece) => piece.lengthMm <= lengthMm - 2 * problem.trimMm))
      .map((one) => firstFitDecreasing({ ...problem, stock: [one] }) * (one.price ?? one.lengthMm)),
  );
  return { plan, simple, share: whole / (bound || whole) };
}
