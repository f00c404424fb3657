import { sum } from './sum.ts';
import type { TableLook } from './model.ts';

/** A last strip of fewer lines than this looks forgotten: then all of them become about equally high. */
const LEAST_LINES = 3;

/** Rows that stand in one strip. */
export interface Run {
  readonly from: number;
  readonly to: number;
  readonly height: number;
}

/**
 * Rows in runs that are no higher than they may be: as few as it takes, or so many of about one height. A run never ends
 * with the heading of a group.
 */
export function breakIntoStrips(
  rowHeights: readonly number[],
  across: ReadonlySet<number>,
  most: number,
  { strips: wanted = 1, stripLines = Infinity }: TableLook,
): Run[] {
  const within = (height: number) => runsWithin(rowHeights, across, Math.min(height, most), stripLines);
  const filled = within(most);
  const last = filled[filled.length - 1];
  if (wanted <= 1 && (filled.length === 1 || last.to - last.from >= LEAST_LINES || stripLines < Infinity))
    return filled;
  const count = Math.max(wanted, filled.length);
  // The least height that does not take more: between that of one row and of all, found by halving.
  let low = 0,
    high = sum(rowHeights);
  for (let step = 0; step < 40; step++) {
    const middle = (low + high) / 2;
    if (within(middle).length <= count) high = middle;
    else low = middle;
  }
  return within(high);
}

function runsWithin(
  rowHeights: readonly number[],
  across: ReadonlySet<number>,
  most: number,
  mostLines: number,
): Run[] {
  const runs: Run[] = [];
  let from = 0;
  const end = (to: number) => {
    runs.push({ from, to, height: sum(rowHeights.slice(from, to)) });
    from = to;
  };
  let height = 0;
  for (let at = 0; at < rowHeights.length; at++) {
    if (at > from && (height + rowHeights[at] > most + 1e-6 || at - from >= mostLines)) {
      let to = at;
      while (to - 1 > from && across.has(to - 1)) to--;
      end(to);
      height = sum(rowHeights.slice(from, at));
    }
    height += rowHeights[at];
  }
  end(rowHeights.length);
  return runs;
}
