import { uniteBoxes2, type Vec2 } from '../../geometry/index.ts';
import { WIDTH_RANGE, type ColumnWidth } from '../../tables/index.ts';
import type { LaidTable } from '../laid/listsOnSheet.ts';
import type { Sheet, SheetTable } from '../records.ts';
import { idsOf, plus, type KindOfThing } from './thing.ts';
import { keepOnPaper } from '../paper/paper.ts';

/** Nearer than this to where it hangs by itself, a list hangs there again; mm. */
const HANGS_WITHIN = 4;

/** A list with its anchored corner at this point. */
function putTable(table: SheetTable, { home }: Pick<LaidTable, 'home'>, corner: Vec2): SheetTable {
  const { at: _, ...hanging } = table;
  return Math.hypot(corner[0] - home[0], corner[1] - home[1]) <= HANGS_WITHIN ? hanging : { ...hanging, at: corner };
}

/** A list or a typed table; it stays in its corner until it is put elsewhere. */
export const tableThing: KindOfThing<'table'> = {
  called: 'list',
  about: 'list',
  placed: ({ layout }) =>
    layout.tables.map(({ table: { id }, measured: { strips } }) => ({
      thing: { kind: 'table', id },
      box: strips.map(({ box }) => box).reduce(uniteBoxes2),
    })),
  moving: 'move list',
  move: (sheet, moves, { laid: { tables = [] } }) => ({
    ...sheet,
    tables: sheet.tables.map((table) => {
      const move = moves.find(({ thing }) => thing.id === table.id);
      const laid = tables.find((one) => one.table.id === table.id);
      return move && laid ? putTable(table, laid, keepOnPaper(sheet.paper, plus(laid.corner, move.by))) : table;
    }),
  }),
  remove: (sheet, things) => {
    const gone = idsOf(things);
    return { ...sheet, tables: sheet.tables.filter(({ id }) => !gone.has(id)) };
  },
};

/** @param width null for what fits what stands in it */
export const withColumnWidth = (sheet: Sheet, list: string, column: string, width: ColumnWidth | null): Sheet => ({
  ...sheet,
  tables: sheet.tables.map((table): SheetTable => {
    if (table.id !== list) return table;
    const { columnWidths = [], ...rest } = table;
    const others = columnWidths.filter((one) => one.column !== column);
    const all = width === null ? others : [...others, { column, ...width }];
    return all.length > 0 ? { ...rest, columnWidths: all } : rest;
  }),
});

/**
 * The sheet with a column of a list wider or narrower by dragging its border: the left one of a list that stays at its
 * right, else the right one.
 * @param laid the list as it was
 * @param by across the sheet; mm
 */
export function sizeColumn(
  sheet: Sheet,
  { table: { id }, measured, columns, side }: LaidTable,
  at: number,
  by: number,
): Sheet {
  const wanted = measured.widths[at] + (side === 'right' ? -by : by);
  const width = Math.round(Math.min(Math.max(wanted, WIDTH_RANGE[0]), WIDTH_RANGE[1]) * 2) / 2;
  return withColumnWidth(sheet, id, columns[at].id, { width });
}

/** The border of a column. */
export const columnEdgeThing: KindOfThing<'columnEdge'> = {
  called: 'column',
  about: 'list',
  draw: (sheet, { id, column }, [by], { tables = [] }) => {
    const laid = tables.find(({ table }) => table.id === id);
    return laid ? sizeColumn(sheet, laid, column, by) : sheet;
  },
  drawing: () => 'width of a column',
};

/** The heading of a column: dragged, the columns of the bill follow, which is not a change of the sheet. */
export const columnHeadThing: KindOfThing<'columnHead'> = { called: 'heading', about: 'list' };
