import { useMemo } from 'react';
import { billShownBy } from '../../../core/src/documents/index.ts';
import { otherBills, setInputs, type Sheet, type SheetInputs } from '../../../core/src/sheets/index.ts';
import { useProject } from '../data/openProject.ts';
import { useStable } from '../data/ProjectContext.tsx';
import { useOtherBills } from '../data/bills/useOtherBills.ts';
import { useViewLines } from '../data/made/views.ts';
import { useDrawnLines } from './useDrawnLines.ts';

/** Everything a sheet is computed from; views appear as their lines arrive. */
export function useSheetInputs(
  id: string,
  sheet: Sheet,
): { inputs: SheetInputs; waiting: boolean; failed: string | null } {
  const project = useProject();
  const { assembly, bill, bills, set, sheets, billDocument } = project;
  const { columns } = billDocument.content;
  const { lines, waiting, failed } = useViewLines(project, sheet.views);
  const others = useStable(
    sheets
      .filter((other) => other.id !== id && billShownBy(bills, other.content).id === billDocument.id)
      .map(({ content }) => content),
  );
  const lists = useOtherBills(project, useStable(otherBills(sheet)));
  const arrived = useStable([...lines.values()]);
  const drawnLines = useDrawnLines(sheet, lines);
  const drawn = useStable([...drawnLines.values()]);
  const inputs = useMemo<SheetInputs>(
    () => ({
      sheet,
      others,
      ...setInputs(set.content),
      assembly,
      bill,
      columns,
      lists,
      lines,
      drawn: drawnLines,
    }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the maps are new each time, `arrived` and `drawn` say what is in them
    [sheet, others, set.content, assembly, bill, columns, lists, arrived, drawn],
  );
  return { inputs, waiting, failed };
}
