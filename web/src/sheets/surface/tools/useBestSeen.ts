import type { RowIndex } from '../../../../../core/src/assembly/index.ts';
import { useMemo } from 'react';
import { billShownBy } from '../../../../../core/src/documents/index.ts';
import { roomInView, type SheetInputs, type SheetView } from '../../../../../core/src/sheets/index.ts';
import { useProject } from '../../../data/openProject.ts';
import { useSpots } from '../../../data/made/views.ts';

/** A sheet on which a line can be ballooned. */
interface BestSeen {
  readonly sheet: string;
  /** As it stands in the set, from 1. */
  readonly number: number;
  readonly name: string;
}

const NONE: readonly SheetView[] = [];

/**
 * Where a line is seen best on the other sheets that show the same list of the same revision.
 * @param row null looks for nothing
 */
export function useBestSeen(
  id: string,
  row: RowIndex | null,
  inputs: Pick<SheetInputs, 'assembly' | 'bill'>,
): { readonly best: BestSeen | null; readonly waiting: boolean } {
  const project = useProject();
  const { sheets, bills } = project;
  const own = sheets.find((one) => one.id === id);
  const views = useMemo(
    () =>
      sheets.flatMap(({ id: sheet, content }, at) =>
        sheet !== id &&
        own &&
        content.revision === own.content.revision &&
        billShownBy(bills, content).id === billShownBy(bills, own.content).id
          ? content.views.map((view) => ({ view, sheet, number: at + 1, name: content.name }))
          : [],
      ),
    [sheets, bills, own, id],
  );
  const asked = useMemo(() => views.map(({ view }) => view), [views]);
  const { spots, waiting } = useSpots(project, row === null ? NONE : asked);
  const arrived = spots.map((one) => (one ? 1 : 0)).join('');
  const best = useMemo(() => {
    if (row === null) return null;
    let most = 0;
    let found: BestSeen | null = null;
    for (const [at, { view, ...where }] of views.entries()) {
      const room = spots[at] ? roomInView(view, spots[at], inputs, row) : 0;
      if (room > most) [most, found] = [room, where];
    }
    return found;
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `arrived` says which spots are there
  }, [row, views, arrived, inputs.assembly, inputs.bill]);
  return { best, waiting: row !== null && waiting };
}
