import { useMemo } from 'react';
import type { Sheet, SheetInputs } from '../../../core/src/sheets/index.ts';
import { useProject } from '../data/ProjectContext.tsx';
import { useViewLines } from '../data/views.ts';

/** Everything a sheet is computed from; views appear as their lines arrive. */
export function useSheetInputs(sheet: Sheet): { inputs: SheetInputs; waiting: boolean; failed: string | null } {
  const {
    id,
    standing,
    assembly,
    bill,
    billDocument: {
      content: { columns },
    },
  } = useProject();
  const { lines, waiting, failed } = useViewLines(
    id,
    standing,
    sheet.views.map(({ direction }) => direction),
  );
  const arrived = [...lines.keys()].join();
  const inputs = useMemo<SheetInputs>(
    () => ({
      sheet,
      assembly,
      bill,
      columns,
      up: 'z',
      lines: new Map(
        sheet.views.flatMap((view) =>
          lines.has(view.direction) ? [[view.id, lines.get(view.direction)!] as const] : [],
        ),
      ),
    }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `lines` is a new map each time, `arrived` says what is in it
    [sheet, assembly, bill, columns, arrived],
  );
  return { inputs, waiting, failed };
}
