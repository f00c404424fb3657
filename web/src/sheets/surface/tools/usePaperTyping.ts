import { notifications } from '@mantine/notifications';
import { useEffect, useRef, useState } from 'react';
import type { Box2, Vec2 } from '../../../../../core/src/geometry/index.ts';
import { isTypable } from '../../../../../core/src/documents/index.ts';
import {
  listCell,
  listCellAt,
  nextListCell,
  type LaidTable,
  type ListCell,
  type TitleCell,
  withTypedBlock,
} from '../../../../../core/src/sheets/index.ts';
import { useBillEdit } from '../../../lines/useBillEdit.ts';
import { useDocuments, useDoing, useMachine } from '../../../data/openProject.ts';
import type { OnPaper } from './paperTool.ts';
import type { PaperTextProps } from '../PaperText.tsx';

/** Texts typed where they stand: cells of the title block, notes, captions. */
export function usePaperTyping({ id, sheet, drawn, thing }: OnPaper) {
  const { set, bills } = useDocuments();
  const { billDocument } = useMachine();
  const { perform } = useDoing();
  const { intend } = useBillEdit();
  const { layout } = drawn;
  const latest = useRef(sheet);
  useEffect(() => {
    latest.current = sheet;
  }, [sheet]);
  const [typing, setTyping] = useState<Omit<PaperTextProps, 'zoom' | 'onClose'> | null>(null);
  /** A cell of a table that is typed by hand; texts from a spreadsheet fill it from there on. */
  const openTyped = (laid: LaidTable, cell: ListCell): void => {
    const { id: of, typed } = laid.table;
    const stored =
      typed && (cell.line < 0 ? typed.columns[cell.column]?.heading : typed.rows[cell.line]?.[cell.column]);
    if (!typed || stored === undefined) return;
    /** Into the table as it is by then: the field may have been opened before the last text was kept. */
    const put = (label: string, block: readonly (readonly string[])[]) => {
      const table = latest.current.tables.find((one) => one.id === of);
      if (!table?.typed) return;
      const next = withTypedBlock(table.typed, cell.line, cell.column, block);
      perform(label, { document: id, command: { kind: 'changeTables', remove: [], put: [{ ...table, typed: next }] } });
    };
    setTyping({
      key: `${of} ${cell.line} ${cell.column}`,
      label: cell.line < 0 ? `Heading ${cell.column + 1}` : `Row ${cell.line + 1}, column ${cell.column + 1}`,
      box: cell.box,
      stored,
      lines: false,
      onKeep: (text) => put('type into a table', [[text]]),
      onBlock: (block) => put('paste into a table', block),
      onStep: (way) => {
        const next =
          cell.line < 0
            ? listCell(laid, way === 'down' ? 0 : -1, cell.column + (way === 'right' ? 1 : way === 'left' ? -1 : 0))
            : nextListCell(laid, cell, way);
        if (next) openTyped(laid, next);
      },
    });
  };
  /** A cell of a list, typed into as in the bill; Tab and the arrows up and down go on to the next one. */
  const openCell = (cell: ListCell): void => {
    const laid = layout.tables.find(({ table }) => table.id === cell.list);
    const column = laid?.columns[cell.column];
    if (laid?.table.typed) return openTyped(laid, cell);
    const row = laid?.bill.rows[cell.row];
    if (!laid || !column || !row) return;
    const { bill, table } = laid;
    if (!isTypable(row, column)) {
      setTyping(null);
      return void notifications.show({
        message: `${column.heading} is worked out; it cannot be typed.`,
        color: 'orange',
      });
    }
    setTyping({
      key: `${cell.line} ${column.id}`,
      label: `${column.heading} of ${row.item}`,
      box: cell.box,
      stored: bill.cell(row, column).text,
      lines: false,
      onKeep: (text) =>
        intend(`type ${column.heading}`, {
          kind: 'typeCells',
          bill: bills.some((one) => one.id === table.bill) ? table.bill! : billDocument.id,
          cells: [{ line: row.addresses[0], column: column.id, text }],
        }),
      onStep: (way) => {
        let next = nextListCell(laid, cell, way);
        // Past what is worked out, so that going on is not stopped by it.
        while (next && !isTypable(bill.rows[next.row], laid.columns[next.column])) next = nextListCell(laid, next, way);
        if (next) openCell(next);
      },
    });
  };
  /** The text at a point, or of what is picked, opened to be typed. */
  const openText = (spot: Vec2 | null) => {
    const list = layout.tables.find(({ table }) => thing?.kind === 'table' && table.id === thing.id);
    const found = spot ? listCellAt(layout.tables, spot) : list && firstCell(list);
    if (found) return openCell(found);
    const contains = ({ box }: { readonly box: Box2 }) =>
      spot !== null && spot[0] >= box[0] && spot[0] <= box[2] && spot[1] >= box[1] && spot[1] <= box[3];
    const note = drawn.notes.find((one) => (spot ? contains(one) : thing?.kind === 'note' && thing.id === one.note.id));
    const cell = drawn.titleCells.find(
      (one) => one.field && (spot ? contains(one) : thing?.kind === 'titleBlock' && one.label === 'Title'),
    );
    const caption = layout.views.find(({ captionBox, view: one }) =>
      spot
        ? captionBox && contains({ box: captionBox })
        : (thing?.kind === 'view' || thing?.kind === 'caption') && thing.id === one.id,
    );
    if (note)
      setTyping({
        label: 'Text of the note',
        box: note.box,
        stored: note.note.text,
        lines: true,
        onKeep: (text) =>
          perform('text of a note', {
            document: id,
            command: { kind: 'changeNotes', remove: [], put: [{ ...note.note, text }] },
          }),
      });
    else if (cell?.field)
      setTyping({
        label: cell.label,
        box: cell.box,
        stored: cell.value,
        lines: false,
        onKeep: (value) => keepTitle(cell, value),
      });
    else if (caption)
      setTyping({
        label: 'Caption',
        box: caption.captionBox ?? [caption.box[0], caption.box[3] + 2, caption.box[2], caption.box[3] + 8],
        stored: caption.view.caption ?? '',
        lines: false,
        onKeep: (text) =>
          perform('caption', {
            document: id,
            command: { kind: 'changeView', id: caption.view.id, change: { caption: text.trim() || null } },
          }),
      });
  };
  /** On this sheet where it has a text of its own, else on all sheets. */
  const keepTitle = ({ field, label }: TitleCell, value: string) => {
    const words = label.toLowerCase();
    if (field && 'name' in field)
      perform(
        words,
        sheet.fields[field.name] === undefined
          ? { document: set.id, command: { kind: 'setSharedField', field: field.name, value } }
          : { document: id, command: { kind: 'setField', field: field.name, value } },
      );
    const block = set.content.block;
    if (!field || !('further' in field) || !block) return;
    const { further } = field;
    perform(
      words,
      sheet.further?.some((one) => one.id === further)
        ? { document: id, command: { kind: 'setFurther', id: further, value } }
        : {
            document: set.id,
            command: {
              kind: 'setTitleBlock',
              block: {
                ...block,
                further: block.further.map((one) => (one.id === further ? { ...one, value } : one)),
              },
            },
          },
    );
  };
  return { typing, openText, close: () => setTyping(null) };
}

/** The first line of a list that is one of the bill, in its first column. */
function firstCell(laid: LaidTable): ListCell | null {
  const line = laid.table.typed ? 0 : laid.billRows.findIndex((row) => row >= 0);
  return listCell(laid, line, 0);
}
