import type { RowIndex } from '../../../core/src/assembly/index.ts';
import { useEffect, useMemo, useRef } from 'react';
import { cellName, columnLetters, type LookCell, type SheetLook } from '../../../core/src/forms/index.ts';

/** Pixels of the edges with letters and numbers. */
const EDGE = { top: 20, left: 34 };

interface SheetPictureProps {
  readonly sheet: SheetLook;
  /** Cell where the list begins; null where it is on another sheet. */
  readonly start: { readonly row: RowIndex; readonly column: number } | null;
  /** Letters of columns that take something, with what. */
  readonly takes: ReadonlyMap<string, string>;
  readonly onPick: (cell: { readonly row: RowIndex; readonly column: number }) => void;
}

/** A sheet of a form as a picture on which a cell is picked: by a click, or by the arrows. */
export function SheetPicture({ sheet, start, takes, onPick }: SheetPictureProps) {
  const holder = useRef<HTMLDivElement>(null);
  const left = useMemo(() => sums(sheet.widths), [sheet.widths]);
  const top = useMemo(() => sums(sheet.heights), [sheet.heights]);
  /** A text runs on over empty cells, as on the sheet. */
  const taken = useMemo(
    () => new Set(sheet.cells.flatMap(({ row, column, text }) => (text ? [`${row} ${column}`] : []))),
    [sheet],
  );
  const runsOn = ({ row, column, columns, wrap, align }: LookCell) =>
    !wrap && align !== 'right' && align !== 'center' && columns === 1 && !taken.has(`${row} ${column + 1}`);
  const box = (row: RowIndex, column: number, rows = 1, columns = 1) => ({
    left: EDGE.left + (left[column - 1] ?? 0),
    top: EDGE.top + (top[row - 1] ?? 0),
    width: (left[Math.min(column - 1 + columns, left.length - 1)] ?? 0) - (left[column - 1] ?? 0),
    height: (top[Math.min(row - 1 + rows, top.length - 1)] ?? 0) - (top[row - 1] ?? 0),
  });
  useEffect(() => {
    holder.current?.querySelector('.liststart')?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [start]);
  const move = (down: number, right: number) => {
    const from = start ?? { row: 1, column: 1 };
    onPick({
      row: Math.min(sheet.heights.length, Math.max(1, from.row + down)),
      column: Math.min(sheet.widths.length, Math.max(1, from.column + right)),
    });
  };
  const steps: Record<string, [number, number]> = {
    ArrowDown: [1, 0],
    ArrowUp: [-1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
  };
  return (
    <div
      ref={holder}
      className="sheetpicture"
      role="application"
      aria-label={`Sheet ${sheet.name}: the list begins at ${start ? cellName(start) : 'no cell of it'}. Arrows move it.`}
      tabIndex={0}
      onKeyDown={(event) => {
        const step = Object.hasOwn(steps, event.key) ? steps[event.key] : undefined;
        if (!step) return;
        event.preventDefault();
        move(...step);
      }}
      onClick={(event) => {
        const { left: x0, top: y0 } = event.currentTarget.getBoundingClientRect();
        const x = event.clientX - x0 + event.currentTarget.scrollLeft - EDGE.left,
          y = event.clientY - y0 + event.currentTarget.scrollTop - EDGE.top;
        const column = left.findIndex((edge) => edge > x),
          row = top.findIndex((edge) => edge > y);
        if (x >= 0 && y >= 0 && column > 0 && row > 0) onPick({ row, column });
      }}
    >
      <div className="sheetpaper" style={{ width: EDGE.left + left.at(-1)!, height: EDGE.top + top.at(-1)! }}>
        {sheet.widths.map((width, at) => {
          const letters = columnLetters(at + 1);
          return (
            <span
              key={letters}
              className={`edge${takes.has(letters) ? ' takes' : ''}`}
              title={takes.get(letters)}
              style={{ left: EDGE.left + left[at], top: 0, width, height: EDGE.top }}
            >
              {width > 0 && letters}
            </span>
          );
        })}
        {sheet.heights.map((height, at) => (
          <span key={at} className="edge" style={{ left: 0, top: EDGE.top + top[at], width: EDGE.left, height }}>
            {height > 0 && at + 1}
          </span>
        ))}
        {sheet.cells.map((cell) => (
          <span
            key={`${cell.row} ${cell.column}`}
            className="cell"
            style={{
              ...box(cell.row, cell.column, cell.rows, cell.columns),
              ...(cell.fill ? { background: cell.fill } : {}),
              ...(cell.colour ? { color: cell.colour } : {}),
              overflow: runsOn(cell) ? 'visible' : 'hidden',
              fontWeight: cell.bold ? 700 : 400,
              fontStyle: cell.italic ? 'italic' : 'normal',
              fontSize: Math.min(28, cell.size * 1.15),
              justifyContent: cell.align === 'right' ? 'flex-end' : cell.align === 'center' ? 'center' : 'flex-start',
              whiteSpace: cell.wrap ? 'normal' : 'pre',
              borderTopColor: cell.lines.includes('t') ? '#444' : undefined,
              borderRightColor: cell.lines.includes('r') ? '#444' : undefined,
              borderBottomColor: cell.lines.includes('b') ? '#444' : undefined,
              borderLeftColor: cell.lines.includes('l') ? '#444' : undefined,
            }}
          >
            {cell.text}
          </span>
        ))}
        {sheet.pictures.map(({ from, to, source }, at) => {
          const area = box(from[1], from[0], Math.max(1, to[1] - from[1]), Math.max(1, to[0] - from[0]));
          return source ? (
            <img key={at} className="onsheet" src={source} alt="" style={area} />
          ) : (
            <span key={at} className="onsheet picture" style={area}>
              picture
            </span>
          );
        })}
        {start && <span className="liststart" style={box(start.row, start.column)} />}
      </div>
      {sheet.isCut && <p className="quiet">There is more of this sheet than its picture shows.</p>}
    </div>
  );
}

/** Where each column or row begins, and where the last one ends. */
function sums(sizes: readonly number[]): number[] {
  const edges = [0];
  for (const size of sizes) edges.push(edges[edges.length - 1] + size);
  return edges;
}
