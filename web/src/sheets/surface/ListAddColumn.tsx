import { listHeadings, type SheetLayout } from '../../../../core/src/sheets/index.ts';
import { AddColumn } from '../../lines/AddColumn.tsx';

/** Beside the heading of the picked list: one more column. */
export function ListAddColumn({
  layout,
  list,
  zoom,
}: {
  readonly layout: SheetLayout;
  readonly list: string;
  /** CSS pixels per mm. */
  readonly zoom: number;
}) {
  const laid = layout.tables.find(({ table }) => table.id === list);
  if (!laid) return null;
  const heading = listHeadings(laid)[0] ?? laid.measured.strips[0].box;
  const [x0, , x1] = laid.measured.strips[0].box;
  // On the side to which the list grows: beyond the other one the paper ends.
  const left = laid.side === 'right' ? x0 * zoom - 6 : x1 * zoom + 6;
  return (
    <div
      className="listcolumn"
      style={{
        left,
        top: ((heading[1] + heading[3]) / 2) * zoom,
        transform: `translate(${laid.side === 'right' ? '-100%' : '0'}, -50%)`,
      }}
      onPointerDown={(event) => event.stopPropagation()}
      onPointerUp={(event) => event.stopPropagation()}
      onDoubleClick={(event) => event.stopPropagation()}
    >
      <AddColumn />
    </div>
  );
}
