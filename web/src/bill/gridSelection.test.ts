import { describe, expect, test } from 'vitest';
import { cornersOf, moveSpot } from '../shell/gridSpots.ts';
import { pickedRowOf } from './gridSelection.ts';

const limits = { rows: 10, columns: 3 };
const press = (key: string, from: [number, number], more: { shiftKey?: boolean; ctrlKey?: boolean } = {}) => {
  const to = moveSpot({ row: from[0], column: from[1] }, { key, shiftKey: false, ctrlKey: false, ...more }, limits, 4);
  return to && [to.row, to.column];
};

describe('keys move through cells as in a spreadsheet', () => {
  test.each<[string, [number, number], { shiftKey?: boolean; ctrlKey?: boolean }, [number, number] | null]>([
    ['ArrowDown', [2, 1], {}, [3, 1]],
    ['ArrowDown', [9, 1], {}, [9, 1]],
    ['ArrowUp', [5, 1], { ctrlKey: true }, [0, 1]],
    ['ArrowLeft', [5, 0], {}, [5, 0]],
    ['ArrowRight', [5, 0], { ctrlKey: true }, [5, 2]],
    ['PageDown', [3, 1], {}, [7, 1]],
    ['PageUp', [3, 1], {}, [0, 1]],
    ['Home', [3, 2], {}, [3, 0]],
    ['End', [3, 0], { ctrlKey: true }, [9, 2]],
    ['Tab', [3, 2], {}, [4, 0]],
    ['Tab', [3, 0], { shiftKey: true }, [2, 2]],
    ['Tab', [9, 2], {}, null], // Tab leaves the grid
    ['Tab', [0, 0], { shiftKey: true }, null],
    ['a', [0, 0], {}, null],
  ])('%s from %j', (key, from, more, to) => expect(press(key, from, more)).toEqual(to));
  test('in an empty list no key leads anywhere', () =>
    expect(
      moveSpot(
        { row: 0, column: 0 },
        { key: 'ArrowDown', shiftKey: false, ctrlKey: false },
        { rows: 0, columns: 3 },
        4,
      ),
    ).toBeNull());
  test('a selection reads the same whichever corner it was begun at', () => {
    expect(cornersOf({ row: 5, column: 0 }, { row: 2, column: 2 })).toEqual([
      { row: 2, column: 0 },
      { row: 5, column: 2 },
    ]);
    expect(cornersOf(null, { row: 2, column: 2 })).toEqual([null, null]);
  });
});

test('of several rows that list the picked part, the one picked in the list counts', () => {
  const rows = [
    ['a', 4],
    ['b', 5],
    ['c', 4],
    ['wax', null],
  ].map(([key, part]) => ({ key, components: part === null ? [] : [part] }));
  const at = (picked: number | null, key: string | null) => pickedRowOf({ rows } as never, picked, key);
  expect([at(4, 'c'), at(4, null), at(5, 'c'), at(null, 'wax'), at(null, 'c'), at(9, null)]).toEqual([
    2, 0, 1, 3, -1, -1,
  ]);
});
