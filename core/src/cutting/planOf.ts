import { costOf, loadOf, type FilledBars, type InstanceOfProblem } from './instance.ts';
import type { CutBar, CutPlan, CutProblem } from './records.ts';

const UNITS_PER_MM = 1000;
const inMm = (units: number): number => units / UNITS_PER_MM;
/** Sums of prices are told to a millionth: what is below that is the error of adding. */
const tidy = (value: number): number => Math.round(value * 1e6) / 1e6;

/** Which pieces those are, given how many of each weight are not cut: the last of those that weigh the same. */
export function piecesOf(
  { pieces }: CutProblem,
  { members }: InstanceOfProblem,
  left: readonly number[],
): CutPlan['missing'] {
  return left.flatMap((count, at) => {
    let rest = count;
    return [...members[at]].reverse().flatMap((piece) => {
      const own = Math.min(rest, pieces[piece].count);
      rest -= own;
      return own > 0 ? [{ piece, count: own }] : [];
    });
  });
}

/** Bars filled with weights, as a plan that says which piece is cut from which bar. */
export function planOf(
  problem: CutProblem,
  instance: InstanceOfProblem,
  filled: readonly FilledBars[],
  lowerBound: number,
  stopped: boolean,
): CutPlan {
  const { pieces, stock, leastLeftOverMm } = problem;
  const bars = cutBars(problem, instance, filled);
  const cost = costOf(instance, filled);
  const sum = (of: (bar: CutBar) => number) => tidy(bars.reduce((all, bar) => all + bar.count * of(bar), 0));
  const boughtMm = sum((bar) => stock[bar.stock].lengthMm);
  const piecesMm = sum((bar) => bar.pieces.reduce((all, { piece, count }) => all + count * pieces[piece].lengthMm, 0));
  const keptMm = sum(({ leftOverMm }) => (leftOverMm > 0 && leftOverMm >= leastLeftOverMm ? leftOverMm : 0));
  return {
    bars,
    measure: instance.measure,
    cost: instance.measure === 'price' ? sum((bar) => stock[bar.stock].price!) : boughtMm,
    lowerBound: tidy(Math.min(lowerBound, cost) / instance.costUnits),
    optimal: lowerBound >= cost,
    stopped,
    boughtMm,
    piecesMm,
    keptMm,
    wasteMm: tidy(boughtMm - piecesMm - keptMm),
    tooLong: instance.tooLong,
    missing: [],
  };
}

/** Longest bars first, then the fullest; what is cut alike is one entry. */
function cutBars({ pieces, stock, trimMm }: CutProblem, instance: InstanceOfProblem, filled: readonly FilledBars[]) {
  const lengthOf = ({ kind }: FilledBars) => stock[instance.kinds[kind]].lengthMm;
  const ordered = [...filled].sort(
    (one, other) =>
      lengthOf(other) - lengthOf(one) ||
      loadOf(instance, other.fill) - loadOf(instance, one.fill) ||
      firstDifference(other.fill, one.fill),
  );
  // Pieces that weigh the same are handed out in their order
  const handedOut = instance.members.map(() => ({ member: 0, left: -1 }));
  const merged = new Map<string, CutBar>();
  for (const bar of ordered) {
    const { kind, fill } = bar;
    const leftOver = lengthOf(bar) * UNITS_PER_MM - 2 * trimMm * UNITS_PER_MM - loadOf(instance, fill);
    for (let rest = bar.count; rest > 0;) {
      let times = rest;
      const inBar = fill.flatMap((wanted, at) => {
        if (wanted === 0) return [];
        const next = handedOut[at],
          members = instance.members[at];
        if (next.left < 0) next.left = pieces[members[0]].count;
        if (next.left >= wanted) {
          times = Math.min(times, Math.floor(next.left / wanted));
          return [{ at, piece: members[next.member], count: wanted }];
        }
        times = 1;
        const cut: { at: number; piece: number; count: number }[] = [];
        let member = next.member,
          left = next.left;
        for (let open = wanted; open > 0; left = pieces[members[++member]]?.count ?? 0) {
          const own = Math.min(open, left);
          if (own > 0) cut.push({ at, piece: members[member], count: own });
          open -= own;
          if (own < left) break;
        }
        return cut;
      });
      for (const { at, count } of inBar) {
        const next = handedOut[at];
        next.left -= count * times;
        if (next.left === 0) next.left = pieces[instance.members[at][++next.member]]?.count ?? 0;
      }
      rest -= times;
      const cut = inBar.map(({ piece, count }) => ({ piece, count }));
      const name = `${instance.kinds[kind]} ${cut.map(({ piece, count }) => `${piece}:${count}`).join()}`;
      const known = merged.get(name);
      merged.set(name, {
        stock: instance.kinds[kind],
        count: (known?.count ?? 0) + times,
        pieces: cut,
        leftOverMm: inMm(Math.max(0, Math.round(leftOver))),
      });
    }
  }
  return [...merged.values()];
}

function firstDifference(one: readonly number[], other: readonly number[]): number {
  for (let at = 0; at < one.length; at++) if (one[at] !== other[at]) return one[at] - other[at];
  return 0;
}
