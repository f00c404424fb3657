import { useDebouncedValue } from '@mantine/hooks';
import { useMemo, useState } from 'react';
import { billShownBy } from '../../../core/src/documents/index.ts';
import { boxInside, growBox } from '../../../core/src/geometry/index.ts';
import { otherBills, sectionsOf, setInputs, type Sheet, type SheetInputs } from '../../../core/src/sheets/index.ts';
import { regionBox, type ViewLines } from '../../../core/src/views/index.ts';
import { useProject } from '../data/openProject.ts';
import { useStable } from '../data/ProjectContext.tsx';
import { useOtherBills } from '../data/bills/useOtherBills.ts';
import { useViewLines, type Machine } from '../data/made/views.ts';
import { useDrawnLines } from './useDrawnLines.ts';

/** While a cutting line or the border of a detail is dragged, its view is asked for anew where the pointer rests so long; ms. */
const RESTS = 180;

/**
 * Lines of the views of a sheet. A section whose cutting line is on its way keeps the lines that it had until those where the
 * line rests are there: each place is a view of its own, which the server has to draw. A detail has those of the view that it
 * is a piece of meanwhile, which are the same but less fine.
 */
function useSheetLines(project: Machine, views: Sheet['views']) {
  const [rested] = useDebouncedValue(views, RESTS);
  const [last] = useState(() => new Map<string, ViewLines>());
  const asked = views.map((view) => {
    const at = rested.find(({ id }) => id === view.id);
    return {
      ...view,
      ...(view.section && at?.section ? { section: at.section } : {}),
      ...(view.detail && at?.detail ? { detail: at.detail } : {}),
    };
  });
  const found = useViewLines(project, asked);
  const lines = new Map(found.lines);
  for (const view of views) {
    const parent = view.detail && lines.get(view.detail.of);
    if (parent && !isShownBy(view, found.lines.get(view.id))) lines.set(view.id, parent);
    if (!view.section || view.detail) continue;
    const name = `${view.id} ${String(view.direction)}`;
    const own = found.lines.get(view.id) ?? last.get(name);
    if (!own) continue;
    last.set(name, own);
    lines.set(view.id, own);
  }
  return { ...found, lines };
}

/** Whether these lines reach as far as the piece of a detail does; windows that differ by less than that are one. */
const isShownBy = ({ detail }: Sheet['views'][number], lines: ViewLines | undefined): boolean =>
  lines !== undefined && (!detail || boxInside(regionBox(detail), growBox(lines.box, SAME_WINDOW)));
const SAME_WINDOW = 2e-3; // mm

/** Everything a sheet is computed from; views appear as their lines arrive. */
export function useSheetInputs(
  id: string,
  sheet: Sheet,
): { inputs: SheetInputs; waiting: boolean; failed: string | null } {
  const project = useProject();
  const { assembly, bill, bills, set, sheets, billDocument } = project;
  const { columns } = billDocument.content;
  const { lines, waiting, failed } = useSheetLines(project, sheet.views);
  const others = useStable(
    sheets
      .filter((other) => other.id !== id && billShownBy(bills, other.content).id === billDocument.id)
      .map(({ content }) => content),
  );
  const elsewhere = useViewLines(
    project,
    useMemo(() => sectionsOf(others, sheet), [others, sheet]),
  ).lines;
  const sections = useStable([...elsewhere.values()]);
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
      sectionsElsewhere: sections,
    }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the maps are new each time, `arrived` and `drawn` say what is in them
    [sheet, others, set.content, assembly, bill, columns, lists, arrived, drawn, sections],
  );
  return { inputs, waiting, failed };
}
