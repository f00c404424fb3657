import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { drawing } from '../../../../testkit/blocks.ts';
import {
  drawSheet,
  listCell,
  listCellAt,
  MOST_TYPED,
  newTyped,
  planSheet,
  typedTable,
  withTypedBlock,
  withTypedSize,
  type Sheet,
  type SheetTable,
} from '../index.ts';

const { sheet, inputs } = drawing(6);

describe('a table that is typed by hand', () => {
  const texts = withTypedBlock(newTyped(2, 2), -1, 0, [
    ['What', 'Value'],
    ['Drawing', '{drawing number}'],
    ['Of item 3', '{count 3}'],
  ]);
  const typed: SheetTable = { ...typedTable({ id: 'typed', place: 'top-left' }), typed: texts };
  const drawn = (tables: readonly SheetTable[]) => drawSheet({ ...inputs, sheet: { ...sheet, tables } });

  test('shows what is typed, words in braces as what they name', () => {
    const [laid] = drawn([typed]).layout.tables;
    expect(laid.content.headings).toEqual(['What', 'Value']);
    expect(laid.content.rows).toEqual([
      ['Drawing', 'D-1'],
      ['Of item 3', '1'],
    ]);
  });
  test('is no parts list: no line is missing from it, and a drawing gets its list besides', () => {
    expect(drawn([...sheet.tables, typed]).problems).toEqual(drawn(sheet.tables).problems);
    const planned = planSheet({ ...inputs, sheet: { ...sheet, tables: [typed] } as Sheet });
    expect(planned.tables.map(({ typed: one, place }) => [one !== undefined, place])).toEqual([
      [true, 'top-left'],
      [false, 'title-block'],
    ]);
  });
  test('its cells and headings are met on paper', () => {
    const [laid] = drawn([typed]).layout.tables;
    for (const line of [-1, 0, 1])
      for (const column of [0, 1]) {
        const { box } = listCell(laid, line, column)!;
        expect(listCellAt([laid], [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2])).toMatchObject({ line, column });
      }
    expect(listCell(laid, 2, 0)).toBeNull();
  });
});

describe('typing into it', () => {
  const word = fc.string({ maxLength: 5 }).filter((text) => !text.includes('\n'));
  const block = fc.array(fc.array(word, { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 4 });
  test('what is pasted stands from the cell on, all else stays, and every row has every column', () => {
    fc.assert(
      fc.property(block, fc.nat(3), fc.nat(3), (texts, line, column) => {
        const before = withTypedBlock(newTyped(3, 3), 0, 0, [
          ['a', 'b', 'c'],
          ['d', 'e', 'f'],
          ['g', 'h', 'i'],
        ]);
        const after = withTypedBlock(before, line, column, texts);
        after.rows.forEach((row, at) => {
          expect(row).toHaveLength(after.columns.length);
          row.forEach((text, of) => {
            const put = of < column ? undefined : texts[at - line]?.[of - column];
            expect(text).toBe(put ?? before.rows[at]?.[of] ?? '');
          });
        });
      }),
    );
  });
  test('it grows as far as it may, and columns never share an id', () => {
    const huge = withTypedBlock(newTyped(1, 1), 0, 0, Array(900).fill(Array(50).fill('x')));
    expect([huge.columns.length, huge.rows.length]).toEqual([MOST_TYPED.columns, MOST_TYPED.rows]);
    const again = withTypedSize(withTypedSize(newTyped(4, 1), { columns: 2 }), { columns: 6 });
    expect(new Set(again.columns.map(({ id }) => id)).size).toBe(6);
    expect(withTypedSize(newTyped(3, 3), { columns: 0, rows: -5 })).toMatchObject({
      columns: { length: 1 },
      rows: { length: 1 },
    });
  });
});
