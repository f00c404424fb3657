import type { RowIndex } from '../../../../../core/src/assembly/index.ts';
import { boxHeight } from '../../../../../core/src/geometry/index.ts';
import { isSameThing, listHeadings, type LaidTable } from '../../../../../core/src/sheets/index.ts';
import { bandsOf, type Strip } from '../../../../../core/src/tables/index.ts';
import { BoxHandle } from './BoxHandle.tsx';
import { isPickedOf, PICKED, type HandleProps } from './picked.ts';

export interface ListHandlesProps {
  /** A line of a list; a row of the bill that it shows. */
  readonly onRow: (list: LaidTable, row: RowIndex) => void;
  /** Lets a column of a list fit what stands in it. */
  readonly onFit: (list: string, column: string) => void;
}

/** A list: its lines, and once it is picked the headings and borders of its columns. */
export function ListHandles({
  table: laid,
  things,
  start,
  onRow,
  onFit,
}: HandleProps & ListHandlesProps & { readonly table: LaidTable }) {
  const { table, bill, measured, billRows, columns } = laid;
  const picking = start({ kind: 'table', id: table.id });
  const isPicked = isPickedOf(things, table.id, 'table', 'columnEdge', 'columnHead');
  return measured.strips.map((strip, at) => (
    <g key={at}>
      <BoxHandle
        box={strip.box}
        label={table.typed ? 'Table' : 'List'}
        onPointerDown={picking}
        style={isPicked ? PICKED : undefined}
      />
      {bandsOf(measured, strip).rows.map(({ row, top, bottom }) => {
        const billRow = billRows[row];
        if (billRow < 0) return null; // a heading or a sum
        return (
          <BoxHandle
            key={row}
            style={{ cursor: 'pointer' }}
            box={[strip.box[0], top, strip.box[2], bottom]}
            label={`Line ${bill.rows[billRow].item}`}
            onPointerDown={(event) => {
              picking(event);
              onRow(laid, billRow);
            }}
          />
        );
      })}
      {isPicked &&
        at === 0 &&
        !table.typed &&
        listHeadings(laid).map((box, column) => (
          <BoxHandle
            key={`head ${column}`}
            style={{ cursor: 'grab' }}
            box={box}
            label={`Heading ${columns[column].heading}, drag to another place`}
            onPointerDown={start({ kind: 'columnHead', id: table.id, column })}
          />
        ))}
      {isPicked && <ColumnEdges laid={laid} strip={strip} things={things} start={start} onFit={onFit} />}
    </g>
  ));
}

function ColumnEdges({
  laid,
  strip,
  things,
  start,
  onFit,
}: HandleProps & Pick<ListHandlesProps, 'onFit'> & { readonly laid: LaidTable; readonly strip: Strip }) {
  const { table, measured, columns } = laid;
  return columnEdges(laid, strip).map((x, column) => {
    const edge = { kind: 'columnEdge', id: table.id, column } as const;
    const dragged = things.some((one) => isSameThing(one, edge));
    return (
      <g key={column}>
        <rect
          role="button"
          x={x - 1}
          y={strip.box[1]}
          width={2}
          height={boxHeight(strip.box)}
          fill={dragged ? 'rgb(217 84 30 / 35%)' : 'transparent'}
          style={{ cursor: 'ew-resize', pointerEvents: 'all' }}
          aria-label={`Border of the column ${columns[column].heading}`}
          onPointerDown={start(edge)}
          onDoubleClick={(event) => {
            event.stopPropagation();
            onFit(table.id, columns[column].id);
          }}
        />
        {dragged && (
          <text x={x + 1.5} y={strip.box[1] - 1.5} fontSize={3.5} fill="#d9541e" pointerEvents="none">
            {measured.widths[column].toFixed(1)} mm
          </text>
        )}
      </g>
    );
  });
}

/** Across the sheet, the border of each column by which it is made wider: see `sizeColumn`. */
function columnEdges({ measured: { widths }, side }: LaidTable, { box }: Strip): number[] {
  let x = box[0];
  return widths.map((width) => {
    const left = x;
    x += width;
    return side === 'right' ? left : x;
  });
}
