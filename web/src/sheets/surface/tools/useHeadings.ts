import { headingDrop, type Guide, type ThingOf } from '../../../../../core/src/sheets/index.ts';
import { useDocuments, useMachine } from '../../../data/openProject.ts';
import { useBillEdit } from '../../../lines/useBillEdit.ts';
import type { OnPaper } from './paperTool.ts';

/** Headings of lists dragged to another place: the columns of the bill follow, and with them every list that shows it. */
export function useHeadings({ layout }: OnPaper, onGuides: (guides: readonly Guide[]) => void) {
  const { bills } = useDocuments();
  const { billDocument } = useMachine();
  const { intend } = useBillEdit();
  const found = ({ id, column }: ThingOf<'columnHead'>, x: number) => {
    const laid = layout.tables.find(({ table }) => table.id === id);
    const drop = laid && headingDrop(laid, column, x);
    return laid && drop ? { laid, drop, column: laid.columns[column] } : null;
  };
  return {
    lookAt: (head: ThingOf<'columnHead'>, x: number) => {
      const over = found(head, x);
      onGuides(over ? [{ axis: 'x', at: over.drop.edge }] : []);
    },
    drop: (head: ThingOf<'columnHead'>, x: number) => {
      onGuides([]);
      const over = found(head, x);
      if (!over) return;
      // Hidden columns of the bill stand between: it goes where the one is whose place it takes.
      const { id: bill, content } = bills.find((one) => one.id === over.laid.table.bill) ?? billDocument;
      const { columns } = content;
      const to = columns.findIndex(({ id }) => id === over.laid.columns[over.drop.to].id);
      intend(`move column ${over.column.heading}`, {
        kind: 'changeBill',
        bill,
        commands: [{ kind: 'moveColumn', id: over.column.id, to }],
      });
    },
  };
}
