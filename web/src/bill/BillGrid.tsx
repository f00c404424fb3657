import { Button } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconChevronDown, IconChevronRight } from '@tabler/icons-react';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState, type ClipboardEvent, type KeyboardEvent } from 'react';
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
import { blockToText, textToBlock } from '../../../core/src/formats/index.ts';
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
import { clampSpot, cornersOf, moveSpot, type Spot } from '../shell/gridSpots.ts';
import { pickedRowOf } from './gridSelection.ts';
import { useBillEdit } from '../lines/useBillEdit.ts';

const ROW = 30;
/** What a level of indentation, and the fold mark, take in the item column; in characters. */
const INDENT = 2;

export interface BillGridProps {
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
  const [anchor, setAnchor] = useState<Spot | null>(null);
  const [focus, setFocus] = useState<Spot | null>(null);
  const [typing, setTyping] = useState<string | null>(null);
  const [wholeTyping, setWholeTyping] = useState(false);
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 15,
  });
  const pickedRow = pickedRowOf(bill, picked, rowKey);
  useEffect(() => {
    if (pickedRow >= 0) virtual.scrollToIndex(lineOfRow.get(pickedRow) ?? 0, { align: 'auto' });
  }, [pickedRow]); // eslint-disable-line react-hooks/exhaustive-deps -- only when another line is picked
  const limits = { rows: bill.rows.length, columns: columns.length };
  const spot = focus && clampSpot(focus, limits);
  const [from, to] = cornersOf(anchor && clampSpot(anchor, limits), spot);
  const selected =
    from && to
      ? { rows: bill.rows.slice(from.row, to.row + 1), columns: columns.slice(from.column, to.column + 1) }
      : null;

  const goTo = (next: Spot, extend = false) => {
    const place = clampSpot(next, limits);
    setFocus(place);
    if (!extend) setAnchor(place);
    virtual.scrollToIndex(lineOfRow.get(place.row) ?? 0, { align: 'auto' });
    onRow(bill.rows[place.row]?.key ?? null);
    pick(bill.rows[place.row]?.components[0] ?? null);
  };
  const put = (label: string, inputs: readonly CellInput[]) => {
    const { commands, refused } = typeInto(assembly, bill, billDocument.content, inputs);
    if (refused.length > 0) notifications.show({ message: refused.slice(0, 3).join(' '), color: 'orange' });
    if (commands.length > 0) change(label, ...commands);
  };
  const begin = (text?: string) => {
    if (!spot) return;
    const row = bill.rows[spot.row],
      column = columns[spot.column];
    if (!isTypable(row, column))
      return void notifications.show({
        message: `${column.heading} is worked out; it cannot be typed.`,
        color: 'orange',
      });
    setTyping(text ?? bill.cell(row, column).text);
    setWholeTyping(text === undefined);
  };
  const finish = (text: string, then: 'down' | 'right' | 'left' | 'fill' | null) => {
    setTyping(null);
    scroller.current?.focus();
    if (!spot || !selected) return;
    const column = columns[spot.column];
    if (then === 'fill')
      put(
        `type ${text || 'nothing'} into ${selected.rows.length} lines`,
        selected.rows.map((row) => ({ row, column, text })),
      );
    else if (text !== bill.cell(bill.rows[spot.row], column).text)
      put(`type ${column.heading.toLowerCase()} ${text}`, [{ row: bill.rows[spot.row], column, text }]);
    if (then === 'down') goTo({ row: spot.row + 1, column: spot.column });
    if (then === 'right' || then === 'left')
      goTo(moveSpot(spot, { key: 'Tab', shiftKey: then === 'left', ctrlKey: false }, limits, 1)!);
  };
  const fillDown = () => {
    if (!selected || selected.rows.length < 2) return;
    const top = selected.columns.map((column) => bill.cell(selected.rows[0], column).text);
    put(`fill down ${selected.rows.length} lines`, spread([top], selected.rows.slice(1), selected.columns));
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget || typing !== null || event.key === 'Tab') return; // Tab leaves the list
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 300) / ROW) - 2);
    const next = moveSpot(
      spot ?? { row: pickedRow < 0 ? (event.key === 'ArrowDown' ? -1 : 0) : pickedRow, column: 0 },
      { key: event.key, shiftKey: event.shiftKey, ctrlKey: event.ctrlKey || event.metaKey },
      limits,
      page,
    );
    if (next) goTo(next, event.shiftKey);
    else if (event.key === 'Enter' || event.key === 'F2') begin();
    else if (event.key === 'Escape') {
      setAnchor(null);
      setFocus(null);
      onRow(null);
      pick(null);
    } else if ((event.key === 'Delete' || event.key === 'Backspace') && selected)
      put(
        'empty cells',
        spread(
          [['']],
          selected.rows,
          selected.columns.filter((column) => isTypable(selected.rows[0], column)),
        ),
      );
    else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'a') {
      setAnchor({ row: 0, column: 0 });
      setFocus({ row: limits.rows - 1, column: limits.columns - 1 });
    } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'd') fillDown();
    else if (event.key.length === 1 && !event.ctrlKey && !event.metaKey && !event.altKey && spot)
      begin(event.key === ' ' ? '' : event.key);
    else return;
    event.preventDefault();
  };
  const onCopy = (event: ClipboardEvent) => {
    if (!selected || typing !== null) return;
    event.clipboardData.setData(
      'text/plain',
      blockToText(selected.rows.map((row) => selected.columns.map((column) => bill.cell(row, column).text))),
    );
    event.preventDefault();
  };
  const onCut = (event: ClipboardEvent) => {
    onCopy(event);
    if (selected && typing === null)
      put(
        'cut cells',
        spread(
          [['']],
          selected.rows,
          selected.columns.filter((column) => isTypable(selected.rows[0], column)),
        ),
      );
  };
  const onPaste = (event: ClipboardEvent) => {
    if (!from || !selected || typing !== null) return;
    const block = textToBlock(event.clipboardData.getData('text/plain'));
    const rows = bill.rows.slice(from.row, from.row + Math.max(block.length, selected.rows.length)),
      across = columns.slice(from.column, from.column + Math.max(block[0]?.length ?? 0, selected.columns.length));
    const beyond = beyondList(block, rows.length, across.length);
    if (beyond) notifications.show({ message: beyond, color: 'orange' });
    put(`paste ${block.length} × ${block[0]?.length ?? 0} cells`, spread(block, rows, across));
    event.preventDefault();
  };
  return (
    <>
      <div
        className="rows billgrid"
        ref={scroller}
        tabIndex={0}
        role="grid"
        aria-label="List"
        aria-multiselectable
        aria-rowcount={lines.length}
        onKeyDown={onKey}
        onCopy={onCopy}
        onCut={onCut}
        onPaste={onPaste}
      >
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
                  const isFocus = spot?.row === line.row && spot.column === at;
                  const inside =
                    from && to && line.row >= from.row && line.row <= to.row && at >= from.column && at <= to.column;
                  if (isFocus && typing !== null)
                    return (
                      <CellInputField
                        key={column.id}
                        label={column.heading}
                        width={widths[at]}
                        text={typing}
                        whole={wholeTyping}
                        choices={column.source === 'source' ? sourceWords : []}
                        onFinish={finish}
                        onLeave={() => {
                          setTyping(null);
                          scroller.current?.focus();
                        }}
                      />
                    );
                  return (
                    <GridCell
                      key={column.id}
                      row={row}
                      column={column}
                      width={widths[at]}
                      state={isFocus ? 'focus' : inside ? 'inside' : null}
                      onDown={(extend) => goTo({ row: line.row, column: at }, extend)}
                      onEdit={() => begin()}
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
          count={selected.rows.length * selected.columns.length}
          onBack={() =>
            put(
              'back to the model',
              selected.rows.flatMap((row) =>
                selected.columns
                  .filter((column) => bill.cell(row, column).model !== undefined || column.source === 'quantity')
                  .map((column) => ({ row, column, text: null })),
              ),
            )
          }
          onFill={selected.rows.length > 1 ? fillDown : null}
        />
      )}
    </>
  );
}

/** Wide enough for the heading and nearly all texts; long ones end in dots and are read in full when pointed at. */
export function usualWidth(column: Column, texts: readonly string[]): number {
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
