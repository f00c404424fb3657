import { useMemo } from 'react';
import type { Sheet, SheetInputs } from '../../../core/src/sheets/index.ts';
import { useProject, useStable } from '../data/ProjectContext.tsx';
import { useViewLines } from '../data/views.ts';

/** Everything a sheet is computed from; views appear as their lines arrive. */
export function useSheetInputs(sheet: Sheet): { inputs: SheetInputs; waiting: boolean; failed: string | null } {
  const project = useProject();
  const {
    assembly,
    bill,
    billDocument: {
      content: { columns },
    },
  } = project;
  const { lines, waiting, failed } = useViewLines(
    project,
    sheet.views.map(({ direction }) => direction),
  );
  const arrived = [...lines.values()];
  const inputs = useMemo<SheetInputs>(
    () => ({
      sheet,
      assembly,
      bill,
      columns,
      lines: new Map(
        sheet.views.flatMap((view) =>
          lines.has(view.direction) ? [[view.id, lines.get(view.direction)!] as const] : [],
        ),
      ),
    }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `lines` is a new map each time, `arrived` says what is in it
    [sheet, assembly, bill, columns, useStable(arrived)],
  );
  return { inputs, waiting, failed };
}
