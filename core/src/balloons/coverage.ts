import type { Row } from '../bill/index.ts';

/** Item numbers by how they are ballooned; every item stands in exactly one list, in the order of the rows. */
export interface Coverage {
  /** Count of rows. */
  readonly rows: number;
  /** Count of rows ballooned exactly once. */
  readonly ballooned: number;
  /** Without a balloon. */
  readonly missing: readonly string[];
  /** With more than one balloon. */
  readonly doubled: readonly string[];
  /** Ids of balloons whose part is gone or has no line. */
  readonly hanging: readonly string[];
  /** Opened subassemblies need none, since their contents have balloons, nor do lines without a shape. */
  readonly excused: readonly string[];
  /** Without a balloon here, and with one on another sheet. */
  readonly elsewhere: readonly string[];
}

/**
 * @param balloons row index per balloon id, -1 for a balloon whose part is gone or has no line
 * @param also ids of balloons that name their line once more, on purpose
 * @param elsewhere rows that have a balloon on another sheet
 */
export function checkCoverage(
  rows: readonly Row[],
  balloons: ReadonlyMap<string, number>,
  elsewhere: ReadonlySet<number> = new Set(),
  also: ReadonlySet<string> = new Set(),
): Coverage {
  const times = new Int32Array(rows.length);
  const hanging: string[] = [];
  for (const [id, row] of balloons) {
    if (row < 0) hanging.push(id);
    else if (!also.has(id)) times[row]++;
  }
  for (const id of also) {
    const row = balloons.get(id) ?? -1;
    if (row >= 0 && times[row] === 0) times[row] = 1;
  }
  const items = (holds: (row: Row, at: number) => boolean) => rows.filter(holds).map((row) => row.item);
  return {
    rows: rows.length,
    ballooned: times.filter((count) => count === 1).length,
    missing: items((row, at) => times[at] === 0 && !isExcused(row) && !elsewhere.has(at)),
    doubled: items((_, at) => times[at] > 1),
    hanging,
    excused: items((row, at) => times[at] === 0 && isExcused(row)),
    elsewhere: items((row, at) => times[at] === 0 && !isExcused(row) && elsewhere.has(at)),
  };
}

const isExcused = (row: Row): boolean => row.opened || row.components.length === 0;
