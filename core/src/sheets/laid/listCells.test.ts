import { describe, expect, test } from 'vitest';
import { drawing } from '../../../../testkit/blocks.ts';
import { drawSheet, headingDrop, listCell, listCellAt, listHeadings, nextListCell } from '../index.ts';

describe('cells of a list on paper', () => {
  const { sheet, inputs } = drawing(12);
  const laidAs = (look: object) =>
    drawSheet({ ...inputs, sheet: { ...sheet, tables: [{ ...sheet.tables[0], ...look }] } }).layout.tables[0];
  const upwards = laidAs({ rows: 'up' }),
    downwards = laidAs({ rows: 'down' }),
    strips = laidAs({ strips: 3 });

  test.each([
    ['upwards', upwards],
    ['downwards', downwards],
    ['in strips', strips],
  ])('every line of the bill has each of its cells there, %s', (_, laid) => {
    for (const [line, row] of laid.billRows.entries())
      for (const column of laid.columns.keys()) {
        const cell = listCell(laid, line, column)!;
        const [x0, y0, x1, y1] = cell.box;
        expect(listCellAt([laid], [(x0 + x1) / 2, (y0 + y1) / 2])).toEqual(cell);
        expect([cell.row, x1 - x0]).toEqual([row, expect.closeTo(laid.measured.widths[column], 9)]);
      }
  });
  test('headings, sums and what is beside the list are no cells', () => {
    const [x0, y0] = upwards.measured.box;
    expect(listCellAt([upwards], [x0 - 1, y0 + 1])).toBeNull();
    const [heading] = listHeadings(upwards);
    expect(listCellAt([upwards], [heading[0] + 1, (heading[1] + heading[3]) / 2])).toBeNull();
    const summed = { ...upwards, billRows: upwards.billRows.with(3, -1) };
    expect(listCell(summed, 3, 0)).toBeNull();
    expect(listCell(upwards, 99, 0)).toBeNull();
  });
  test('from one to the next as they stand on paper: beside it, around the ends of lines, below', () => {
    const last = upwards.columns.length - 1;
    const from = listCell(upwards, 4, last)!;
    const below = nextListCell(upwards, from, 'down')!;
    expect([below.line, below.column, below.box[1] > from.box[1]]).toEqual([3, last, true]);
    expect(nextListCell(downwards, listCell(downwards, 4, last)!, 'down')!.line).toBe(5);
    const next = nextListCell(downwards, listCell(downwards, 4, last)!, 'right')!;
    expect([next.line, next.column]).toEqual([5, 0]);
    expect(nextListCell(downwards, next, 'left')).toMatchObject({ line: 4, column: last });
    expect(nextListCell(downwards, listCell(downwards, 0, 0)!, 'up')).toBeNull();
    // A sum is passed over.
    const summed = { ...downwards, billRows: downwards.billRows.with(5, -1) };
    expect(nextListCell(summed, listCell(summed, 4, 0)!, 'down')!.line).toBe(6);
  });
  test('a heading dropped beyond the middle of another one takes its place', () => {
    const boxes = listHeadings(upwards);
    const middle = (at: number) => (boxes[at][0] + boxes[at][2]) / 2;
    expect(headingDrop(upwards, 0, middle(0))).toBeNull();
    expect(headingDrop(upwards, 0, middle(2) + 0.1)).toEqual({ to: 2, edge: boxes[2][2] });
    expect(headingDrop(upwards, 3, middle(1) - 0.1)).toEqual({ to: 1, edge: boxes[1][0] });
    expect(headingDrop(upwards, 3, 0)).toEqual({ to: 0, edge: boxes[0][0] });
    expect(listHeadings(laidAs({ heading: 'none' }))).toEqual([]);
  });
});
