import { Button } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconChevronDown, IconChevronRight } from '@tabler/icons-react';
import { useEffect, useMemo } from 'react';
import { partLabel } from '../../../core/src/assembly/index.ts';
import {
  addressOf,
  keysOf,
  printedLines,
  printedTexts,
  type PrintedLine,
  type Row,
} from '../../../core/src/bill/index.ts';
import { keyWords, linkedOf, saidBy } from '../../../core/src/catalogues/index.ts';
import { alignmentOf, headingOf, propertyNameOf, type Column } from '../../../core/src/columns/index.ts';
import { useDoing, useMachine, usePicking, usePicks } from '../data/openProject.ts';
import { CellText } from '../shell/CellText.tsx';
import { Thumb } from '../shell/Thumb.tsx';
import { Link } from 'react-router';
import {
  beyondList,
  cataloguesOn,
  isTypable,
  joinRows,
  mergeAsUsual,
  partRow,
  sourceWords,
  spread,
  typeInto,
  type CellInput,
} from '../../../core/src/documents/index.ts';
import { Headings } from './Headings.tsx';
import { CellInputField } from '../shell/CellInputField.tsx';
import { useTypedGrid, type Corners } from '../shell/useTypedGrid.ts';
import { pickedRowOf } from './gridSelection.ts';
import { useBillEdit } from '../lines/useBillEdit.ts';

const ROW = 30;
/** What a level of indentation, and the fold mark, take in the item column; in characters. */
const INDENT = 2;

interface BillGridProps {
  /** Key of the row picked here last. */ readonly rowKey: string | null;
  readonly onRow: (key: string | null) => void;
}

/** The list as it will read, edited in place: arrows move, typing edits, blocks are copied from and to spreadsheets. */
export function BillGrid({ rowKey, onRow }: BillGridProps) {
  const { assembly, bill, billDocument } = useMachine();
  const { picked } = usePicks();
  const { pick } = usePicking();
  const { change } = useBillEdit();
  const { columns: all } = billDocument.content;
  const columns = useMemo(() => all.filter(({ hidden }) => !hidden), [all]);
  const lines = useMemo(() => printedLines(bill, columns), [bill, columns]);
  const lineOfRow = useMemo(
    () => new Map(lines.flatMap(({ row }, at) => (row < 0 ? [] : [[row, at] as const]))),
    [lines],
  );
  const widths = useMemo(
    () =>
      columns.map(
        (column) =>
          column.width ??
          usualWidth(
            column,
            bill.rows
              .slice(0, 400)
              .map(
                (row) =>
                  bill.cell(row, column).text +
                  (column.source === 'item' && row.level + Number(row.canOpen) > 1
                    ? ' '.repeat(INDENT * row.level)
                    : ''),
              ),
          ),
      ),
    [columns, bill],
  );
  const pickedRow = pickedRowOf(bill, picked, rowKey);
  const put = (label: string, inputs: readonly CellInput[]) => {
    const { commands, refused } = typeInto(assembly, bill, billDocument.content, inputs);
    if (refused.length > 0) notifications.show({ message: refused.slice(0, 3).join(' '), color: 'orange' });
    if (commands.length > 0) change(label, ...commands);
  };
  const cellsIn = ([from, to]: Corners) => ({
    rows: bill.rows.slice(from.row, to.row + 1),
    across: columns.slice(from.column, to.column + 1),
  });
  const grid = useTypedGrid({
    limits: { rows: bill.rows.length, columns: columns.length },
    rows: bill.rows.length,
    lines: lines.length,
    lineOf: (row) => lineOfRow.get(row) ?? 0,
    rowHeight: ROW,
    start: pickedRow,
    textAt: ({ row, column }) => bill.cell(bill.rows[row], columns[column]).text,
    refuses: ({ row, column }) => {
      if (isTypable(bill.rows[row], columns[column])) return false;
      notifications.show({
        message: `${columns[column].heading} is worked out; it cannot be typed.`,
        color: 'orange',
      });
      return true;
    },
    onSpot: (spot) => {
      onRow((spot && bill.rows[spot.row]?.key) ?? null);
      pick((spot && bill.rows[spot.row]?.components[0]) ?? null);
    },
    onTyped: (text, spot) => {
      const column = columns[spot.column];
      put(`type ${column.heading.toLowerCase()} ${text}`, [{ row: bill.rows[spot.row], column, text }]);
    },
    onFill: (text, selected, at) => {
      const { rows } = cellsIn(selected);
      put(
        `type ${text || 'nothing'} into ${rows.length} lines`,
        rows.map((row) => ({ row, column: columns[at], text })),
      );
    },
    onFillDown: (selected) => fillDown(selected),
    onEmpty: (label, selected) => {
      const { rows, across } = cellsIn(selected);
      put(
        label,
        spread(
          [['']],
          rows,
          across.filter((column) => isTypable(rows[0], column)),
        ),
      );
    },
    onPaste: (block, [from, to]) => {
      const rows = bill.rows.slice(from.row, from.row + Math.max(block.length, to.row - from.row + 1)),
        across = columns.slice(from.column, from.column + Math.max(block[0]?.length ?? 0, to.column - from.column + 1));
      const beyond = beyondList(block, rows.length, across.length);
      if (beyond) notifications.show({ message: beyond, color: 'orange' });
      put(`paste ${block.length} × ${block[0]?.length ?? 0} cells`, spread(block, rows, across));
    },
  });
  const { spot, virtual, goTo } = grid;
  const fillDown = (selected: Corners) => {
    const { rows, across } = cellsIn(selected);
    if (rows.length < 2) return;
    const top = across.map((column) => bill.cell(rows[0], column).text);
    put(`fill down ${rows.length} lines`, spread([top], rows.slice(1), across));
  };
  useEffect(() => {
    if (pickedRow >= 0) virtual.scrollToIndex(lineOfRow.get(pickedRow) ?? 0, { align: 'auto' });
  }, [pickedRow]); // eslint-disable-line react-hooks/exhaustive-deps -- only when another line is picked
  const selected = grid.selected && cellsIn(grid.selected);
  return (
    <>
      <div {...grid.frame} aria-label="List">
        <Headings columns={columns} widths={widths} />
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map(({ index, start }) => {
            const line = lines[index];
            if (line.kind !== 'row')
              return <Between key={index} line={line} columns={columns} widths={widths} top={start} />;
            const row = bill.rows[line.row];
            return (
              <div
                key={row.key}
                role="row"
                aria-selected={line.row === pickedRow}
                className={`billrow${line.row === pickedRow ? ' picked' : ''}`}
                style={{ top: start }}
              >
                {columns.map((column, at) => {
                  const state = grid.stateOf(line.row, at);
                  const field = grid.fieldOf(line.row, at);
                  if (field)
                    return (
                      <CellInputField
                        key={column.id}
                        label={column.heading}
                        width={widths[at]}
                        choices={column.source === 'source' ? sourceWords : []}
                        {...field}
                      />
                    );
                  return (
                    <GridCell
                      key={column.id}
                      row={row}
                      column={column}
                      width={widths[at]}
                      state={state}
                      onDown={(extend) => goTo({ row: line.row, column: at }, extend)}
                      onEdit={() => grid.begin()}
                    />
                  );
                })}
              </div>
            );
          })}
        </div>
        {bill.rows.length === 0 && (
          <p className="quiet" style={{ padding: '0 20px' }}>
            Nothing is listed: every component is left out, or the rules hold for none.
          </p>
        )}
      </div>
      {spot && selected && (
        <CellBar
          rows={selected.rows}
          row={bill.rows[spot.row]}
          column={columns[spot.column]}
          count={selected.rows.length * selected.across.length}
          onBack={() =>
            put(
              'back to the model',
              selected.rows.flatMap((row) =>
                selected.across
                  .filter((column) => bill.cell(row, column).model !== undefined || column.source === 'quantity')
                  .map((column) => ({ row, column, text: null })),
              ),
            )
          }
          onFill={selected.rows.length > 1 ? () => fillDown(grid.selected!) : null}
        />
      )}
    </>
  );
}

/** Wide enough for the heading and nearly all texts; long ones end in dots and are read in full when pointed at. */
function usualWidth(column: Column, texts: readonly string[]): number {
  if (column.source === 'picture') return 64;
  const lengths = texts.map((text) => text.length).sort((a, b) => a - b);
  const longest = Math.max(lengths[Math.floor(texts.length * 0.97)] ?? 0, Math.min(12, lengths.at(-1) ?? 0));
  return Math.round(
    Math.min(320, Math.max(headingOf(column).length * 6.6 + 46, longest * 7.2 + 26, column.source === 'item' ? 84 : 0)),
  );
}

interface GridCellProps {
  readonly row: Row;
  readonly column: Column;
  readonly width: number;
  readonly state: 'focus' | 'inside' | null;
  readonly onDown: (extend: boolean) => void;
  readonly onEdit: () => void;
}

function GridCell({ row, column, width, state, onDown, onEdit }: GridCellProps) {
  const { assembly, bill, billDocument } = useMachine();
  const { change } = useBillEdit();
  const { text, value, differing, model, fault } = bill.cell(row, column);
  const isItem = column.source === 'item';
  const fold = () => {
    const address = addressOf(assembly.components[row.components[0]].key, null);
    const { [address]: _was, ...others } = billDocument.content.recipe.closed ?? {};
    change(row.opened ? `close ${row.item}` : `open ${row.item}`, {
      kind: 'changeRecipe',
      change: { closed: row.opened ? { ...others, [address]: true } : Object.keys(others).length > 0 ? others : null },
    });
  };
  const words =
    fault ??
    (isItem && row.provisional
      ? 'Proposed; not taken over yet'
      : model !== undefined
        ? `Typed in this bill; the model says “${model}”`
        : text);
  const align = alignmentOf(column);
  return (
    <span
      role="gridcell"
      title={words}
      aria-selected={state !== null}
      style={{
        width,
        paddingLeft: isItem ? 10 + (row.level - 1) * 14 : undefined,
        justifyContent: align === 'right' ? 'flex-end' : align === 'centre' && !isItem ? 'center' : 'flex-start',
      }}
      className={`cell gridcell${isItem ? ` item${row.provisional ? ' proposed' : ''}` : ''}${state ? ` ${state}` : ''}${model !== undefined ? ' typed' : ''}${fault ? ' faulty' : ''}`}
      onPointerDown={(event) => {
        if (event.button === 0) onDown(event.shiftKey);
      }}
      onDoubleClick={onEdit}
    >
      {isItem && row.canOpen && (
        <button
          className="foldmark"
          aria-label={row.opened ? `Close ${row.item}` : `Open ${row.item}`}
          onPointerDown={(event) => event.stopPropagation()}
          onClick={fold}
        >
          {row.opened ? <IconChevronDown size={13} /> : <IconChevronRight size={13} />}
        </button>
      )}
      {column.source === 'picture' ? (
        row.components.length > 0 && <Thumb component={assembly.components[row.components[0]]} />
      ) : (
        <span className="ellipsis">{fault ? '?' : <CellText text={text} value={value} />}</span>
      )}
      {differing > 1 && <span className="differs">{differing} values</span>}
    </span>
  );
}

/** A heading of a group, or a sum. */
function Between({
  line,
  columns,
  widths,
  top,
}: {
  line: PrintedLine;
  columns: readonly Column[];
  widths: readonly number[];
  top: number;
}) {
  const { bill } = useMachine();
  if (line.kind === 'heading')
    return (
      <div role="row" className="billrow between heading" style={{ top }}>
        <span role="gridcell" className="cell gridcell" style={{ paddingLeft: 10 + (line.level - 1) * 14 }}>
          {line.title}
        </span>
        <span className="quiet">
          {line.to - line.from} {line.to - line.from === 1 ? 'line' : 'lines'}
        </span>
      </div>
    );
  const texts = printedTexts(bill, columns, line);
  return (
    <div role="row" className={`billrow between ${line.kind}`} style={{ top }}>
      {columns.map((column, at) => (
        <span
          key={column.id}
          role="gridcell"
          className="cell gridcell"
          style={{ width: widths[at], justifyContent: alignmentOf(column) === 'right' ? 'flex-end' : 'flex-start' }}
        >
          {texts[at]}
        </span>
      ))}
    </div>
  );
}

/** What can be done with the selected cells, and where a typed value comes from. */
function CellBar({
  rows,
  row,
  column,
  count,
  onBack,
  onFill,
}: {
  rows: readonly Row[];
  row: Row;
  column: Column;
  count: number;
  onBack: () => void;
  onFill: (() => void) | null;
}) {
  const { assembly, edited, bill, billDocument, catalogues } = useMachine();
  const { perform } = useDoing();
  const { change, intend } = useBillEdit();
  const { text, model } = bill.cell(row, column);
  const name = propertyNameOf(column.source);
  const { lines, recipe } = billDocument.content;
  const [component] = row.components;
  const said =
    name !== null && component !== undefined && model === undefined && count === 1
      ? saidBy(
          edited,
          component,
          name,
          linkedOf(billDocument.content.catalogues, cataloguesOn(billDocument.content, catalogues)),
        )
      : null;
  const own = row.line ? lines.find(({ id }) => id === row.line) : undefined;
  const pinned = row.addresses.some((address) => billDocument.content.ledger[address]?.pinned);
  const counted = row.components.some((index) => recipe.quantityOf?.[assembly.components[index].key]);
  const everywhere = () =>
    intend(`${name} ${text} for every bill`, {
      kind: 'sayEverywhere',
      bill: billDocument.id,
      line: row.addresses[0],
      column: column.id,
    });
  const join = rows.length > 1 ? joinRows(assembly, rows) : null;
  const part = rows.length === 1 ? partRow(assembly, billDocument.content, row) : null;
  const merge = rows.length === 1 ? mergeAsUsual(assembly, billDocument.content, row) : null;
  const pin = () =>
    perform(pinned ? `unpin ${row.item}` : `pin ${row.item}`, {
      document: billDocument.id,
      command: {
        kind: 'setNumbers',
        numbers: Object.fromEntries(
          row.addresses.map((address) => [address, { number: row.number, ...(pinned ? {} : { pinned: true }) }]),
        ) as never,
      },
    });
  return (
    <div className="cellbar" role="toolbar" aria-label="Selected cells">
      <span className="ellipsis">
        {count > 1 ? `${count} cells` : column.heading}
        {model !== undefined && count === 1 ? <>: typed in this bill; the model says “{model || 'nothing'}”</> : null}
      </span>
      {said && (
        <Button
          size="compact-xs"
          variant="default"
          component={Link}
          to={`/catalogues/${said.catalogue}?find=${encodeURIComponent(keyWords(said.key))}`}
        >
          From the catalogue {said.name}
        </Button>
      )}
      {(model !== undefined || (column.source === 'quantity' && counted)) && (
        <Button size="compact-xs" variant="default" onClick={onBack}>
          Back to the model
        </Button>
      )}
      {model !== undefined && name && count === 1 && (
        <Button size="compact-xs" variant="default" onClick={everywhere}>
          For every bill
        </Button>
      )}
      {column.source === 'item' && count === 1 && (
        <Button size="compact-xs" variant="default" onClick={pin}>
          {pinned ? 'Unpin the number' : 'Pin the number'}
        </Button>
      )}
      {onFill && (
        <Button size="compact-xs" variant="default" onClick={onFill}>
          Fill down
        </Button>
      )}
      {join && (
        <Button size="compact-xs" variant="default" onClick={() => change(`make ${rows.length} lines one`, join)}>
          Make them one line
        </Button>
      )}
      {part && (
        <Button size="compact-xs" variant="default" onClick={() => change(`keep the parts of ${row.item} apart`, part)}>
          Keep its parts apart
        </Button>
      )}
      {merge && (
        <Button size="compact-xs" variant="default" onClick={() => change(`merge ${row.item} as usual`, merge)}>
          Merge as usual
        </Button>
      )}
      {own && (
        <Button
          size="compact-xs"
          variant="default"
          onClick={() =>
            perform(`take line ${row.item} away`, {
              document: billDocument.id,
              command: { kind: 'changeLines', remove: [own.id], put: [] },
            })
          }
        >
          Take this line away
        </Button>
      )}
      {!own &&
        row.components.length > 0 &&
        count === 1 &&
        keysOf(assembly, row).length > 1 &&
        column.source === 'item' && (
          <span className="quiet">
            {keysOf(assembly, row).length} definitions: {partLabel(assembly.components[row.components[0]])} …
          </span>
        )}
    </div>
  );
}
