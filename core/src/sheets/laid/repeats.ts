import { partLabel, type Assembly } from '../../assembly/index.ts';
import { openedAlone, type Pose } from '../../poses/index.ts';
import type { Spots } from '../../views/index.ts';
import type { SheetView } from '../records.ts';
import type { SheetInputs } from '../sheetInputs.ts';

/** Which of things that are alike one alone is taken apart in a view, of how many: “Roller 1 of 60”. */
export function repeatsShown({ only }: Pick<SheetView, 'only'>, { moves }: Pose, assembly: Assembly): string {
  const isShown = (path: string) => !only || only.some((place) => path.startsWith(place === '' ? '' : `${place}/`));
  return openedAlone(moves, assembly)
    .filter(({ path }) => isShown(path))
    .map(({ component, of }) => {
      const one = assembly.components[component];
      return `${one.name || partLabel(one)} 1 of ${of}`;
    })
    .join(', ');
}

/**
 * Rows of what is seen, where of things that are alike one alone is taken apart: its parts are pointed at there as far as they
 * are seen.
 * @param rows per entry of `spots.paths`, −1 for none
 */
export function rowsWithoutRepeats(
  spots: Pick<Spots, 'paths' | 'occurrences'>,
  rows: readonly number[],
  view: Pick<SheetView, 'pose'>,
  { poses, assembly }: Pick<SheetInputs, 'poses' | 'assembly'>,
): readonly number[] {
  const moves = poses?.find(({ id }) => id === view.pose)?.moves ?? [];
  const others = new Set<string>(openedAlone(moves, assembly).flatMap((one) => one.others));
  if (others.size === 0) return rows;
  const repeated = spots.paths.map((path) => {
    for (let end = path.indexOf('/'); end > 0; end = path.indexOf('/', end + 1))
      if (others.has(path.slice(0, end))) return true;
    return false;
  });
  const seen = new Set<number>();
  for (const at of spots.occurrences) if (!repeated[at]) seen.add(rows[at]);
  return rows.map((row, at) => (repeated[at] && seen.has(row) ? -1 : row));
}
