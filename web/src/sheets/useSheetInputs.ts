import { useMemo } from 'react';
import type { Sheet, SheetInputs } from '../../../core/src/sheets/index.ts';
import { useProject, useStable } from '../data/ProjectContext.tsx';
import { useViewLines } from '../data/views.ts';

/** Everything a sheet is computed from; views appear as their lines arrive. */
export function useSheetInputs(sheet: Sheet): { inputs: SheetInputs; waiting: boolean; failed: string | null } {
  const project = useProject();
  const { assembly, bill, set } = project;
  const { columns } = project.billDocument.content;
  const shared = set.content.fields;
  const { lines, waiting, failed } = useViewLines(project, sheet.views);
  const arrived = useStable([...lines.values()]);
  const inputs = useMemo<SheetInputs>(
    () => ({ sheet, shared, assembly, bill, columns, lines }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `lines` is a new map each time, `arrived` says what is in it
    [sheet, shared, assembly, bill, columns, arrived],
  );
  return { inputs, waiting, failed };
}
