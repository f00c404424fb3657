import { useMemo } from 'react';
import type { Sheet, SheetView } from '../../../core/src/sheets/index.ts';
import { useDocuments } from '../data/openProject.ts';

/** Views of all sheets of the set, those of one sheet last: its letters go on from theirs, and what is said of parts there holds. */
export function useSetViews(id: string, { views }: Sheet): readonly SheetView[] {
  const { sheets } = useDocuments();
  return useMemo(
    () => [...sheets.filter((one) => one.id !== id).flatMap(({ content }) => content.views), ...views],
    [sheets, id, views],
  );
}
