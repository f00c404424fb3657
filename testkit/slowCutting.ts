import type { CutPlan, CutProblem } from '../core/src/cutting/index.ts';

/** Lengths are told apart to a thousandth of a millimetre. */
const SAME = 1e-6;

const cutWidth = (kerfMm: number, angle: number): number => kerfMm / Math.cos((angle * Math.PI) / 180);

/**
 * What is wrong with a plan, in sentences: every bar is laid out piece by piece with saw cuts between, as a saw would do
 * it, and pieces are counted by hand. Knows nothing of how plans are made.
 */
export function cutFaults({ pieces, stock, kerfMm, trimMm, leastLeftOverMm }: CutProblem, plan: CutPlan): string[] {
  const faults: string[] = [];
  const made = pieces.map(() => 0);
  let bought = 0,
    kept = 0,
    cost: number | null = 0;
  const used = stock.map(() => 0);
  for (const bar of plan.bars) {
    const { lengthMm, price } = stock[bar.stock];
    used[bar.stock] += bar.count;
    bought += bar.count * lengthMm;
    cost = cost === null || price === null ? null : cost + bar.count * price;
    let at = trimMm,
      before: number | null = null,
      cuts = 0;
    for (const { piece, count } of bar.pieces) {
      made[piece] += count * bar.count;
      const [left, right] = pieces[piece].ends ?? [0, 0];
      for (let times = 0; times < count; times++) {
        if (before !== null) {
          at += Math.max(cutWidth(kerfMm, before), cutWidth(kerfMm, left));
          cuts++;
        }
        at += pieces[piece].lengthMm;
        before = right;
      }
    }
    if (at > lengthMm - trimMm + SAME) faults.push(`A bar of ${lengthMm} is cut up to ${at}.`);
    if (bar.leftOverMm > lengthMm - trimMm - at + SAME) faults.push(`${bar.leftOverMm} are not left of a bar.`);
    if (bar.leftOverMm > 0 && bar.leftOverMm >= leastLeftOverMm) kept += bar.count * bar.leftOverMm;
    if (cuts < 0 || bar.pieces.length === 0) faults.push('A bar is bought for nothing.');
  }
  const wanted = pieces.map(
    ({ count }, piece) =>
      (plan.tooLong.includes(piece) ? 0 : count) - (plan.missing.find((one) => one.piece === piece)?.count ?? 0),
  );
  made.forEach((count, piece) => {
    if (count !== wanted[piece]) faults.push(`Piece ${piece} is cut ${count} times instead of ${wanted[piece]}.`);
  });
  stock.forEach(({ available }, index) => {
    if (available !== null && used[index] > available) faults.push(`${used[index]} bars of ${available} are used.`);
  });
  const piecesMm = made.reduce((sum, count, piece) => sum + count * pieces[piece].lengthMm, 0);
  const near = (one: number, other: number) => Math.abs(one - other) <= 1e-4 + 1e-9 * Math.abs(other);
  if (!near(plan.boughtMm, bought)) faults.push(`${plan.boughtMm} of bars are told, ${bought} bought.`);
  if (!near(plan.piecesMm, piecesMm)) faults.push(`${plan.piecesMm} of pieces are told, ${piecesMm} cut.`);
  if (!near(plan.keptMm, kept)) faults.push(`${plan.keptMm} is told to be kept, ${kept} is.`);
  if (!near(plan.wasteMm, bought - piecesMm - kept)) faults.push(`The waste is not ${plan.wasteMm}.`);
  if (plan.measure === 'price' && cost !== null && !near(plan.cost, cost)) faults.push(`It costs ${cost}.`);
  if (plan.lowerBound > plan.cost + 1e-6) faults.push(`It costs less than its lower bound ${plan.lowerBound}.`);
  return faults;
}

/** Pieces, each on its own, longest first, each into the first bar that has room; bars of one kind. */
export function firstFitDecreasing({ pieces, stock: [bar], kerfMm, trimMm }: CutProblem): number {
  const room: number[] = [];
  const all = pieces.flatMap(({ lengthMm, count }) => Array.from({ length: count }, () => lengthMm));
  for (const length of all.sort((one, other) => other - one)) {
    // The first piece of a bar needs no cut before it
    const at = room.findIndex((left) => left >= length + kerfMm - SAME);
    if (at >= 0) room[at] -= length + kerfMm;
    else room.push(bar.lengthMm - 2 * trimMm - length);
  }
  return room.length;
}

/** The least cost of all ways to put every piece into some bar, by trying them all. Square ends only. */
export function leastCost({ pieces, stock, kerfMm, trimMm }: CutProblem): number {
  const all = pieces
    .flatMap(({ lengthMm, count }) => Array.from({ length: count }, () => lengthMm))
    .sort((one, other) => other - one);
  const costOf = (kind: number) => stock[kind].price ?? stock[kind].lengthMm;
  const left = stock.map(({ available }) => available ?? Infinity);
  const open: { room: number }[] = [];
  let least = Infinity;
  const go = (at: number, cost: number) => {
    if (cost >= least) return;
    if (at === all.length) {
      least = cost;
      return;
    }
    const tried = new Set<number>();
    for (const bar of open) {
      if (bar.room < all[at] + kerfMm - SAME || tried.has(bar.room)) continue;
      tried.add(bar.room);
      bar.room -= all[at] + kerfMm;
      go(at + 1, cost);
      bar.room += all[at] + kerfMm;
    }
    stock.forEach(({ lengthMm }, kind) => {
      const room = lengthMm - 2 * trimMm - all[at];
      if (left[kind] === 0 || room < -SAME) return;
      left[kind]--;
      open.push({ room });
      go(at + 1, cost + costOf(kind));
      open.pop();
      left[kind]++;
    });
  };
  go(0, 0);
  return least;
}
