import { useState, type ClipboardEvent, type KeyboardEvent } from 'react';
import { blockToText, textToBlock } from '../../../core/src/formats/index.ts';
import { clampSpot, cornersOf, moveSpot, type Spot } from './gridSpots.ts';
import { useVirtualRows } from '../controls/useVirtualRows.ts';

/** Upper left and lower right cell of what is selected. */
export type Corners = readonly [from: Spot, to: Spot];
/** Where one goes on after a text was typed. */
type ThenTo = 'down' | 'right' | 'left' | 'fill' | null;

/** What a list or a table is, in which cells are selected and typed. */
export interface TypedGridOf {
  /** Cells that can be reached: a row more than there are where one can be typed below the last. */
  readonly limits: { readonly rows: number; readonly columns: number };
  /** Rows that are there. */
  readonly rows: number;
  /** Lines on the screen, also those that are no row. */
  readonly lines: number;
  /** Of them the one that a row is. */
  readonly lineOf: (row: number) => number;
  /** px. */
  readonly rowHeight: number;
  /** Row from which keys go on while no cell is picked; −1 for none. */
  readonly start: number;
  readonly textAt: (spot: Spot) => string;
  /** Whether typing is done otherwise, or not at all: then nothing is opened. */
  readonly refuses: (spot: Spot) => boolean;
  /** Another cell is picked; null when none is any more. */
  readonly onSpot: (spot: Spot | null) => void;
  readonly onTyped: (text: string, spot: Spot) => void;
  /** The same text in all that is selected. */
  readonly onFill: (text: string, selected: Corners, column: number) => void;
  /** Texts of the first row of what is selected into its others. */
  readonly onFillDown: (selected: Corners) => void;
  /** @param label what undo says */
  readonly onEmpty: (label: string, selected: Corners) => void;
  readonly onPaste: (block: string[][], selected: Corners, event: ClipboardEvent) => void;
}

/** A cell, and others up to it, picked as in a spreadsheet. */
function useSelection({ limits, onSpot }: TypedGridOf, scrollTo: (row: number) => void) {
  const [anchor, setAnchor] = useState<Spot | null>(null);
  const [focus, setFocus] = useState<Spot | null>(null);
  const spot = focus && limits.rows > 0 ? clampSpot(focus, limits) : null;
  const [from, to] = cornersOf(anchor && clampSpot(anchor, limits), spot);
  return {
    spot,
    selected: from && to ? ([from, to] as const) : null,
    goTo: (next: Spot, extend = false) => {
      const place = clampSpot(next, limits);
      setFocus(place);
      if (!extend) setAnchor(place);
      scrollTo(place.row);
      onSpot(place);
    },
    selectAll: (rows: number) => {
      setAnchor({ row: 0, column: 0 });
      setFocus({ row: Math.max(0, rows - 1), column: limits.columns - 1 });
    },
    leave: () => {
      setAnchor(null);
      setFocus(null);
      onSpot(null);
    },
  };
}

/** Cells that are selected by pointer and keys, typed into, filled, copied, cut and pasted as in a spreadsheet. */
export function useTypedGrid(of: TypedGridOf) {
  const { limits, textAt } = of;
  const [typing, setTyping] = useState<{ readonly text: string; readonly whole: boolean } | null>(null);
  const { scroller, virtual } = useVirtualRows(of.lines, of.rowHeight);
  const selection = useSelection(of, (row) => virtual.scrollToIndex(of.lineOf(row), { align: 'auto' }));
  const { spot, selected, goTo } = selection;
  const begin = (text?: string) => {
    if (spot && !of.refuses(spot)) setTyping({ text: text ?? textAt(spot), whole: text === undefined });
  };
  const leaveTyping = () => {
    setTyping(null);
    scroller.current?.focus();
  };
  const finish = (text: string, then: ThenTo) => {
    leaveTyping();
    if (!spot || !selected) return;
    if (then === 'fill') of.onFill(text, selected, spot.column);
    else if (text !== textAt(spot)) of.onTyped(text, spot);
    if (then === 'down') goTo({ row: spot.row + 1, column: spot.column });
    if (then === 'right' || then === 'left')
      goTo(moveSpot(spot, { key: 'Tab', shiftKey: then === 'left', ctrlKey: false }, limits, 1) ?? spot);
  };
  return {
    virtual,
    ...selection,
    begin,
    /** Of the field over a cell that is typed into; null over all others. */
    fieldOf: (row: number, column: number) =>
      typing && spot?.row === row && spot.column === column
        ? { ...typing, onFinish: finish, onLeave: leaveTyping }
        : null,
    /** How a cell is marked. */
    stateOf: (row: number, column: number): 'focus' | 'inside' | null => {
      if (spot?.row === row && spot.column === column) return 'focus';
      if (!selected) return null;
      const [from, to] = selected;
      return row >= from.row && row <= to.row && column >= from.column && column <= to.column ? 'inside' : null;
    },
    /** Of the element that has the cells. */
    frame: {
      ref: scroller,
      className: 'rows billgrid',
      tabIndex: 0,
      role: 'grid',
      'aria-multiselectable': true,
      'aria-rowcount': of.lines,
      onKeyDown: keysOf(of, selection, typing !== null, begin, scroller),
      ...clipboardOf(of, selection, typing !== null),
    },
  };
}
type Selection = ReturnType<typeof useSelection>;

const keysOf =
  (
    of: TypedGridOf,
    { spot, selected, goTo, selectAll, leave }: Selection,
    isTyping: boolean,
    begin: (text?: string) => void,
    scroller: { readonly current: HTMLDivElement | null },
  ) =>
  (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget || isTyping || event.key === 'Tab') return; // Tab leaves the list
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 300) / of.rowHeight) - 2);
    const held = event.ctrlKey || event.metaKey;
    const next = moveSpot(
      spot ?? { row: of.start < 0 ? (event.key === 'ArrowDown' ? -1 : 0) : of.start, column: 0 },
      { key: event.key, shiftKey: event.shiftKey, ctrlKey: held },
      of.limits,
      page,
    );
    if (next) goTo(next, event.shiftKey);
    else if (event.key === 'Enter' || event.key === 'F2') begin();
    else if (event.key === 'Escape') leave();
    else if ((event.key === 'Delete' || event.key === 'Backspace') && selected) of.onEmpty('empty cells', selected);
    else if (held && event.key.toLowerCase() === 'a') selectAll(of.rows);
    else if (held && event.key.toLowerCase() === 'd') {
      if (selected) of.onFillDown(selected);
    } else if (event.key.length === 1 && !held && !event.altKey && spot) begin(event.key === ' ' ? '' : event.key);
    else return;
    event.preventDefault();
  };

const clipboardOf = (of: TypedGridOf, { selected }: Selection, isTyping: boolean) => {
  const onCopy = (event: ClipboardEvent) => {
    if (!selected || isTyping) return;
    const [from, to] = selected;
    const rows = Array.from({ length: to.row - from.row + 1 }, (_, row) =>
      Array.from({ length: to.column - from.column + 1 }, (__, column) =>
        of.textAt({ row: from.row + row, column: from.column + column }),
      ),
    );
    event.clipboardData.setData('text/plain', blockToText(rows));
    event.preventDefault();
  };
  return {
    onCopy,
    onCut: (event: ClipboardEvent) => {
      onCopy(event);
      if (selected && !isTyping) of.onEmpty('cut cells', selected);
    },
    onPaste: (event: ClipboardEvent) => {
      if (!selected || isTyping) return;
      event.preventDefault();
      of.onPaste(textToBlock(event.clipboardData.getData('text/plain')), selected, event);
    },
  };
};
