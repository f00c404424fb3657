import equal from 'fast-deep-equal';
import { groupBy, type Assembly, type RowIndex } from '../../assembly/index.ts';
import {
  printedColumns,
  printedLines,
  printedTexts,
  type Bill,
  type PrintedLine,
  type RetiredLine,
} from '../../bill/index.ts';
import { alignmentOf, headingOf, type Column } from '../../columns/index.ts';
import type { Box2, Vec2 } from '../../geometry/index.ts';
import { layOutTable, type MeasuredTable, type TableContent, type TableRoom } from '../../tables/index.ts';
import type { LaidBalloon } from './balloonsOnSheet.ts';
import { saidText, type NoteFacts } from './notes.ts';
import { frameBox } from '../paper/paper.ts';
import { rowOfPath } from './places.ts';
import type { Sheet, SheetTable, TablePlace, TypedTable } from '../records.ts';
import { commonScale } from './scales.ts';
import type { SheetInputs, ShownBill } from '../sheetInputs.ts';
import { blockOf, blockShownBy, titleBlockBox } from '../paper/titleBlock.ts';

export interface LaidTable extends ListContent {
  readonly table: SheetTable;
  /** Its lines are lines of this bill. */
  readonly bill: Bill;
  /** Item number of each line; empty for headings and sums. */
  readonly items: readonly string[];
  /** Lines of the whole list, shown here or not. */
  readonly of: number;
  readonly measured: MeasuredTable;
  /** What its columns are, in their order. */
  readonly columns: readonly Column[];
  /** The corner from which it grows. */
  readonly corner: Vec2;
  /** Where that would be if it had not been put somewhere. */
  readonly home: Vec2;
  /** The side that stays where it is when it becomes wider. */
  readonly side: 'left' | 'right';
}

/** A list on paper, and the row of the bill that each of its lines is; −1 for headings and sums. */
interface ListContent {
  readonly content: TableContent;
  readonly billRows: readonly number[];
}

/** Behind the number of a line, where the bill has no column of pictures. */
const pictureColumn: Column = { id: 'picture', source: 'picture', heading: 'Picture' };

/** The columns that a list on paper shows of its bill: pictures where the list wants them. */
function listColumns(columns: readonly Column[], { pictures }: Pick<SheetTable, 'pictures'>): Column[] {
  const others = printedColumns(columns);
  if (pictures === undefined) return others;
  const own = columns.filter(({ hidden }) => !hidden);
  const at = own.findIndex(({ source }) => source === 'picture');
  if (at >= 0) return own.filter(({ source }, one) => source !== 'picture' || one === at);
  return others.toSpliced(others[0]?.source === 'item' ? 1 : 0, 0, pictureColumn);
}

/** How the bill stands in a list; see there. */
type ListWish = Pick<SheetTable, 'pictures' | 'struckRetired'>;
/** What a list is made of. */
interface Listed {
  readonly bill: Bill;
  /** Whose components the bill lists. */
  readonly assembly: Assembly;
  /** PNG by shape, where they are to be written into a file. */
  readonly pictures?: SheetInputs['pictures'];
}

/** A line of a list, or a number that is kept for what is gone. */
type ListLine = PrintedLine | (Omit<PrintedLine, 'kind'> & { readonly kind: 'retired'; readonly retired: RetiredLine });

/** The lines with those whose numbers are retired, each behind the row that it follows. */
function withRetired(lines: readonly PrintedLine[], retired: readonly RetiredLine[]): ListLine[] {
  const after = groupBy(retired, (one) => one.after);
  const linesOf = (row: RowIndex): ListLine[] =>
    (after.get(row) ?? []).map((one) => ({
      kind: 'retired',
      row: -1,
      level: 0,
      title: '',
      from: 0,
      to: 0,
      retired: one,
    }));
  return [...linesOf(-1), ...lines.flatMap((line) => (line.kind === 'row' ? [line, ...linesOf(line.row)] : [line]))];
}

/** What a struck line says: its number, and of its part what is known. */
function retiredText({ source }: Column, { item, was }: RetiredLine): string {
  if (source === 'item') return item;
  if (source === 'partNumber') return was?.partNumber ?? '';
  return source === 'name' ? (was?.name ?? 'retired') : '';
}

/** The bill as a table. @param only rows that are shown; all of them when absent */
export function tableContent(
  { bill, assembly, pictures }: Listed,
  columns: readonly Column[],
  only?: ReadonlySet<number>,
  wish: ListWish = {},
): ListContent {
  const shown = listColumns(columns, wish);
  const has = (from: number, to: number) => [...only!].some((row) => row >= from && row < to);
  const printed = printedLines(bill, shown).filter(
    ({ kind, row, from, to }) => !only || (kind === 'row' ? only.has(row) : kind === 'heading' && has(from, to)),
  ); // a sum over other lines than are shown would mislead
  const lines = withRetired(printed, (wish.struckRetired && !only && bill.retired) || []);
  const pictured = shown.findIndex(({ source }) => source === 'picture');
  return {
    billRows: lines.map(({ row }) => row),
    content: {
      // Units keep their case: kg is not KG
      headings: shown.map((column) => headingOf({ ...column, heading: column.heading.toUpperCase() })),
      alignments: shown.map(alignmentOf),
      levels: lines.map((line) =>
        line.kind === 'retired' ? line.retired.level - 1 : line.row < 0 ? 0 : bill.rows[line.row].level - 1,
      ),
      indented: shown.findIndex(({ source }) => source === 'name'),
      whole: new Set(shown.flatMap(({ source }, at) => (source === 'partNumber' || source === 'item' ? [at] : []))),
      rows: lines.map((line) =>
        line.kind === 'retired'
          ? shown.map((column) => onPaper(retiredText(column, line.retired)))
          : printedTexts(bill, shown, line, (text, values) => `${text} (${values} values)`).map(onPaper),
      ),
      bold: new Set(lines.flatMap(({ kind }, at) => (kind === 'row' || kind === 'retired' ? [] : [at]))),
      across: new Set(lines.flatMap(({ kind }, at) => (kind === 'heading' ? [at] : []))),
      struck: new Set(lines.flatMap(({ kind }, at) => (kind === 'retired' ? [at] : []))),
      ...(pictured < 0
        ? {}
        : {
            pictures: {
              column: pictured,
              of: new Map(
                lines.flatMap(({ kind, row }, at) => {
                  const shape = kind === 'row' ? shapeOf(bill, assembly, row) : null;
                  return shape ? [[at, { shape, png: pictures?.get(shape) ?? new Uint8Array() }] as const] : [];
                }),
              ),
            },
          }),
    },
  };
}

/** Shape of the part of a row; null for subassemblies and lines without a shape. */
function shapeOf(bill: Bill, assembly: Assembly, row: RowIndex): string | null {
  const [component] = bill.rows[row].components;
  return component === undefined ? null : assembly.components[component].shape;
}

/** Of a list the lines after so many, up to so many. */
function linesOf(
  { billRows, content }: ListContent,
  { after = 0, upTo }: NonNullable<SheetTable['lines']>,
): ListContent {
  const kept = (lines: ReadonlySet<number> = new Set()) =>
    new Set([...lines].map((line) => line - after).filter((line) => line >= 0));
  return {
    billRows: billRows.slice(after, upTo),
    content: {
      ...content,
      rows: content.rows.slice(after, upTo),
      levels: content.levels?.slice(after, upTo) ?? [],
      bold: kept(content.bold),
      across: kept(content.across),
      struck: kept(content.struck),
      ...(content.pictures
        ? {
            pictures: {
              column: content.pictures.column,
              of: new Map([...content.pictures.of].map(([line, picture]) => [line - after, picture] as const)),
            },
          }
        : {}),
    },
  };
}

const RAISED = '⁰¹²³⁴⁵⁶⁷⁸⁹',
  LOWERED = '₀₁₂₃₄₅₆₇₈₉';
const figures = (text: string, set: string): string => [...text].map((figure) => set.indexOf(figure)).join('');

/**
 * As the fonts for paper can letter it: they have neither raised and lowered figures, which are drawn small around the
 * fraction slash (see `textMarks`), nor blanks that do not break.
 */
const onPaper = (text: string): string =>
  text
    .replace(/\u00a0/g, ' ')
    .replace(
      /(\d?)([⁰¹²³⁴-⁹]+)⁄([₀-₉]+)/gu,
      (_, whole: string, top: string, bottom: string) =>
        `${whole}${whole ? ' ' : ''}${figures(top, RAISED)}\u2044${figures(bottom, LOWERED)}`,
    );

/** The how manyth sheet of how many. */
interface Place {
  readonly sheet: number;
  readonly of: number;
}

const typedColumns = ({ columns }: TypedTable): Column[] =>
  columns.map(({ id, heading }) => ({ id, source: `property:${id}`, heading }));

/** What is typed into a table, with what its words stand for put in. */
function typedContent({ columns, rows }: TypedTable, inputs: SheetInputs, place: Place): ListContent {
  const { sheet, shared, bill, assembly } = inputs;
  const facts: NoteFacts = {
    fields: { ...shared, ...sheet.fields },
    scale: commonScale(sheet),
    ...place,
    bill,
    assembly,
    block: blockOf(blockShownBy(inputs.block, sheet), sheet.further),
  };
  return {
    billRows: rows.map(() => -1),
    content: {
      headings: columns.map(({ heading }) => saidText(heading, facts)),
      alignments: columns.map(() => 'left'),
      rows: rows.map((texts) => texts.map((text) => onPaper(saidText(text, facts)))),
    },
  };
}

/** Document ids of the bills that lists of a sheet show besides its own. */
export const otherBills = ({ tables }: Pick<Sheet, 'tables'>): string[] => [
  ...new Set(tables.flatMap(({ bill }) => (bill === undefined ? [] : [bill]))),
];

/** The bill that a list shows. */
const billOf = ({ bill, columns, assembly, lists }: SheetInputs, table: SheetTable): ShownBill =>
  (table.bill === undefined ? undefined : lists?.get(table.bill)) ?? { bill, columns, assembly };

/** All lists; one that hangs on another one after that. */
export function layOutLists(inputs: SheetInputs, balloons: readonly LaidBalloon[], place: Place): LaidTable[] {
  const { tables } = inputs.sheet;
  const laid = new Map<string, LaidTable>();
  const layOut = (table: SheetTable, waiting: ReadonlySet<string>): LaidTable => {
    const done = laid.get(table.id);
    if (done) return done;
    const other =
      table.onList === undefined || waiting.has(table.onList)
        ? undefined
        : tables.find(({ id }) => id === table.onList);
    const on = other && layOut(other, new Set([...waiting, table.id]));
    const made = layOutList(inputs, table, { balloons, on, place });
    laid.set(table.id, made);
    return made;
  };
  return tables.map((table) => layOut(table, new Set([table.id])));
}

function layOutList(
  inputs: SheetInputs,
  table: SheetTable,
  {
    balloons,
    on,
    place,
  }: { readonly balloons: readonly LaidBalloon[]; readonly on: LaidTable | undefined; readonly place: Place },
): LaidTable {
  const { sheet, block } = inputs;
  const shownBill = billOf(inputs, table);
  const { bill } = shownBill;
  const columns = table.typed ? typedColumns(table.typed) : shownBill.columns;
  const only = table.onlyBallooned
    ? new Set(
        balloons.map(({ balloon, row }) =>
          bill === inputs.bill ? row : rowOfPath(bill, shownBill.assembly, balloon.path),
        ),
      )
    : undefined;
  const roomOf = (one: Pick<SheetTable, 'place' | 'at'>) => {
    const room = tableRoom(sheet, one, titleBlockBox(sheet.paper, blockOf(blockShownBy(block, sheet))));
    return on && !one.at ? roomOn(on, room) : room;
  };
  const room = roomOf(table);
  const shown = table.typed ? columns : listColumns(columns, table);
  const { all, list, measured } = table.typed
    ? measureList(typedContent(table.typed, inputs, place), table, shown, room)
    : measuredLately(table, { ...shownBill, pictures: inputs.pictures, only, room }, () =>
        measureList(
          tableContent({ ...shownBill, pictures: inputs.pictures }, columns, only, table),
          table,
          shown,
          room,
        ),
      );
  return {
    ...list,
    table,
    bill,
    columns: shown,
    measured,
    of: all.content.rows.length,
    items: list.billRows.map((row) => (row < 0 ? '' : bill.rows[row].item)),
    corner: cornerOf(room),
    home: cornerOf(roomOf({ place: table.place })),
    side: room.side,
  };
}

/** A list in its room. */
interface MeasuredList {
  /** All of its lines, and those of them that stand here. */
  readonly all: ListContent;
  readonly list: ListContent;
  readonly measured: MeasuredTable;
}

function measureList(all: ListContent, table: SheetTable, shown: readonly Column[], room: TableRoom): MeasuredList {
  const list = table.lines ? linesOf(all, table.lines) : all;
  const byColumn = <One extends { readonly column: string }>(all: readonly One[] = []) =>
    new Map(
      all.flatMap((one) => {
        const at = shown.findIndex(({ id }) => id === one.column);
        return at < 0 ? [] : [[at, one] as const];
      }),
    );
  const measured = layOutTable(list.content, room, {
    ...table,
    widths: byColumn(table.columnWidths),
    texts: byColumn(table.columnTexts),
    goesOnFrom: (table.lines?.after ?? 0) > 0,
    goesOn: list.content.rows.length + (table.lines?.after ?? 0) < all.content.rows.length,
  });
  return { all, list, measured };
}

/** What a list is measured from besides its own record. */
interface MeasuredFrom extends Omit<Listed, 'assembly'> {
  readonly columns: readonly Column[];
  readonly only: ReadonlySet<number> | undefined;
  readonly room: TableRoom;
}
/** Each list as it was measured last: while something else is dragged the sheet is laid out anew for every frame. */
const lately = new WeakMap<SheetTable, { readonly from: MeasuredFrom; readonly made: MeasuredList }>();

function measuredLately(table: SheetTable, from: MeasuredFrom, measure: () => MeasuredList): MeasuredList {
  const before = lately.get(table);
  if (before && isFromTheSame(before.from, from)) return before.made;
  const made = measure();
  lately.set(table, { from, made });
  return made;
}
const isFromTheSame = (one: MeasuredFrom, other: MeasuredFrom): boolean =>
  one.bill === other.bill &&
  one.columns === other.columns &&
  one.pictures === other.pictures &&
  equal(one.room, other.room) &&
  equal(one.only && [...one.only], other.only && [...other.only]);

/** Between a list and one that hangs on it; mm. */
const BETWEEN_LISTS = 4;

/** The room at the end of a list, for another one that grows the same way. */
function roomOn({ measured: { box, grows }, side }: LaidTable, { box: whole }: TableRoom): TableRoom {
  const [x0, x1] = side === 'right' ? [whole[0], box[2]] : [box[0], whole[2]];
  const [y0, y1] = grows === 'up' ? [whole[1], box[1] - BETWEEN_LISTS] : [box[3] + BETWEEN_LISTS, whole[3]];
  return { box: [x0, y0, x1, y1], grows, side, fullWidth: box[2] - box[0], share: 1 };
}

const GAP = 8; // mm between a list in a corner and the title block

const cornerOf = ({ box, side, grows }: TableRoom): Vec2 => [
  side === 'right' ? box[2] : box[0],
  grows === 'up' ? box[3] : box[1],
];

/** The room that a list may take from where it hangs, or from where it was put. */
function tableRoom(
  { paper }: Pick<Sheet, 'paper'>,
  { place, at }: Pick<SheetTable, 'place' | 'at'>,
  block: Box2,
): TableRoom {
  const frame = frameBox(paper);
  const room = hangingRoom(frame, place, block);
  if (!at) return room;
  const [x, y] = at;
  const [x0, x1] = room.side === 'right' ? [frame[0], x] : [x, frame[2]],
    [y0, y1] = room.grows === 'up' ? [frame[1], y] : [y, frame[3]];
  return { ...room, box: [x0, y0, x1, y1], fullWidth: Math.min(room.fullWidth, x1 - x0), share: 1 };
}

function hangingRoom(frame: Box2, place: TablePlace, block: Box2): TableRoom {
  const share = 0.62;
  if (place === 'title-block')
    return {
      box: [frame[0], frame[1], frame[2], block[1]],
      grows: 'up',
      side: 'right',
      fullWidth: block[2] - block[0],
      share,
    };
  if (place === 'top-right')
    return { box: [frame[0], frame[1], frame[2], block[1] - GAP], grows: 'down', side: 'right', fullWidth: 0, share };
  if (place === 'bottom-right')
    return { box: [frame[0], frame[1], frame[2], block[1] - GAP], grows: 'up', side: 'right', fullWidth: 0, share };
  if (place === 'top-left')
    return { box: [frame[0], frame[1], frame[2], block[1] - GAP], grows: 'down', side: 'left', fullWidth: 0, share };
  return {
    box: [frame[0], frame[1], Math.max(frame[0] + 1, block[0] - GAP), frame[3]],
    grows: 'up',
    side: 'left',
    fullWidth: 0,
    share: 1,
  };
}
