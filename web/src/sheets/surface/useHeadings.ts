import { headingDrop, type Guide, type SheetLayout } from '../../../../core/src/sheets/index.ts';
import { useProject } from '../../data/ProjectContext.tsx';
import { useBillEdit } from '../../lines/useBillEdit.ts';

/** Headings of lists dragged to another place: the columns of the bill follow, and with them every list that shows it. */
export function useHeadings({
  layout,
  onGuides,
}: {
  readonly layout: SheetLayout;
  readonly onGuides: (guides: readonly Guide[]) => void;
}) {
  const { bills, billDocument } = useProject();
  const { intend } = useBillEdit();
  const found = (name: string, x: number) => {
    const cut = name.lastIndexOf(' ');
    const laid = layout.tables.find(({ table }) => table.id === name.slice(0, cut));
    const drop = laid && headingDrop(laid, Number(name.slice(cut + 1)), x);
    return laid && drop ? { laid, drop, column: laid.columns[Number(name.slice(cut + 1))] } : null;
  };
  return {
    lookAt: (name: string, x: number) => {
      const over = found(name, x);
      onGuides(over ? [{ axis: 'x', at: over.drop.edge }] : []);
    },
    drop: (name: string, x: number) => {
      onGuides([]);
      const over = found(name, x);
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
