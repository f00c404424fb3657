import { describe, expect, test } from 'vitest';
import { drawing } from '../../../../testkit/blocks.ts';
import { makeBill } from '../../bill/index.ts';
import { newColumn } from '../../columns/index.ts';
import { drawSheet, newList, otherBills, type SheetInputs, type SheetTable } from '../index.ts';

const { sheet, inputs } = drawing(12);
const [own] = sheet.tables;
const buyers = {
  bill: makeBill(inputs.assembly, { depth: 'parts-only', identity: 'part-number', machines: 3 }),
  columns: [newColumn('partNumber'), newColumn('quantity')],
  assembly: inputs.assembly,
};
const drawnWith = (tables: readonly SheetTable[], more: Partial<SheetInputs> = {}) =>
  drawSheet({ ...inputs, lists: new Map([['buyers', buyers]]), ...more, sheet: { ...sheet, tables, ...more.sheet } });
const another = { id: 'more', place: 'top-left', bill: 'buyers' } as const;

describe('several lists on a sheet', () => {
  test('each shows the bill that it is of, in the columns of that one', () => {
    const [first, second] = drawnWith([own, another]).layout.tables;
    expect([first.bill === inputs.bill, second.bill === buyers.bill]).toEqual([true, true]);
    expect(second.content.headings).toEqual(['PART NUMBER', 'QTY']);
    expect(second.content.rows).toHaveLength(12);
    expect(otherBills({ tables: [own, another, { ...another, id: 'third' }] })).toEqual(['buyers']);
  });
  test('lines of another bill are not taken for those of the sheet: they are not lit with balloons', () => {
    const ids = (tables: readonly SheetTable[]) =>
      new Set(drawnWith(tables).scene.marks.flatMap(({ source }) => (source.kind === 'table' ? [source.id] : [])));
    expect(ids([own]).size).toBeGreaterThan(12);
    expect([...ids([another])]).toEqual(['table']);
  });
  test('what is ballooned is told by what balloons point at, whichever bill is listed', () => {
    const balloons = sheet.balloons.slice(0, 3);
    const [list] = drawnWith([{ ...another, onlyBallooned: true }], {
      sheet: { ...sheet, tables: [{ ...another, onlyBallooned: true }], balloons },
    }).layout.tables;
    expect(list.content.rows).toHaveLength(3);
  });
  test('a bill that is gone is said, and the list shows that of the sheet', () => {
    const { layout, problems } = drawnWith([{ ...another, bill: 'gone' }]);
    expect(layout.tables[0].bill).toBe(inputs.bill);
    expect(problems.map(({ code }) => code)).toContain('list-bill-gone');
    expect(drawnWith([another]).problems.map(({ code }) => code)).not.toContain('list-bill-gone');
  });
  test('one that hangs on another stands at its end, as wide, and moves on when that grows', () => {
    const hung = { ...another, onList: own.id };
    const boxes = (tables: readonly SheetTable[]) =>
      drawnWith(tables).layout.tables.map(({ measured }) => measured.box);
    const [below, above] = boxes([own, hung]);
    expect([above[0], above[2]].map(Math.round)).toEqual([below[0], below[2]].map(Math.round));
    expect(above[3]).toBeLessThan(below[1]);
    const [taller, higher] = boxes([{ ...own, pitch: 9 }, hung]);
    expect(above[3] - higher[3]).toBeCloseTo(below[1] - taller[1], 6);
    expect(drawnWith([own, hung]).problems.map(({ code }) => code)).not.toContain('lists-overlap');
  });
  test('in whichever order they are stored; lists that hang on one another, or on none, hang where they would', () => {
    const hung = { ...another, onList: own.id };
    const boxOf = (tables: readonly SheetTable[], id: string) =>
      drawnWith(tables).layout.tables.find(({ table }) => table.id === id)!.measured.box;
    expect(boxOf([hung, own], 'more')).toEqual(boxOf([own, hung], 'more'));
    const [one, two] = [
      { ...own, onList: 'more' },
      { ...another, onList: own.id },
    ];
    expect(drawnWith([one, two]).layout.tables).toHaveLength(2);
    expect(boxOf([{ ...another, onList: 'nowhere' }], 'more')).toEqual(boxOf([another], 'more'));
    expect(boxOf([{ ...another, onList: 'more' }], 'more')).toEqual(boxOf([another], 'more'));
  });
  test('a new one looks like those that there are', () => {
    const like = {
      ...own,
      lettering: 4,
      pens: { frame: 1, heading: 1, rows: 0, columns: 0 },
      look: 'House',
      title: 'x',
    };
    expect(newList([{ tables: [] }, { tables: [like] }], 'new', 'top-right')).toMatchObject({
      id: 'new',
      place: 'top-right',
      lettering: 4,
      pens: like.pens,
      look: 'House',
    });
    expect(newList([{ tables: [] }], 'new', 'top-right')).toEqual({ id: 'new', place: 'top-right' });
  });
});
