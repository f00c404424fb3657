// @vitest-environment jsdom
import { act, cleanup, createEvent, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { useTypedGrid, type Corners, type TypedGridOf } from './useTypedGrid.ts';

afterEach(cleanup);

/** Three rows of two columns; the second column is worked out. Below the last row one more can be typed. */
const texts = [
  ['a1', 'b1'],
  ['a2', 'b2'],
  ['a3', 'b3'],
];
const said: string[] = [];
const corners = ([from, to]: Corners) => `${from.row},${from.column}-${to.row},${to.column}`;
let grid: ReturnType<typeof useTypedGrid>;
function Shown({ limits = { rows: 4, columns: 2 }, start = -1 }: Partial<Pick<TypedGridOf, 'limits' | 'start'>>) {
  grid = useTypedGrid({
    limits,
    rows: 3,
    lines: limits.rows,
    lineOf: (row) => row,
    rowHeight: 30,
    start,
    textAt: ({ row, column }) => texts[row]?.[column] ?? '',
    refuses: ({ column }) => column === 1,
    onSpot: (spot) => said.push(spot ? `spot ${spot.row},${spot.column}` : 'left'),
    onTyped: (text, { row, column }) => said.push(`typed ${text} ${row},${column}`),
    onFill: (text, selected) => said.push(`fill ${text} ${corners(selected)}`),
    onFillDown: (selected) => said.push(`down ${corners(selected)}`),
    onEmpty: (label, selected) => said.push(`${label} ${corners(selected)}`),
    onPaste: (block, selected) => said.push(`paste ${JSON.stringify(block)} ${corners(selected)}`),
  });
  return <div {...grid.frame} aria-label="Grid" />;
}
const frame = () => screen.getByRole('grid');
const key = (name: string, held: object = {}) => fireEvent.keyDown(frame(), { key: name, ...held });
const clipboard = (kind: 'copy' | 'cut' | 'paste', text = '') => {
  const kept = { text };
  const event = createEvent[kind](frame());
  const data = { getData: () => kept.text, setData: (_: string, given: string) => (kept.text = given) };
  Object.defineProperty(event, 'clipboardData', { value: data });
  fireEvent(frame(), event);
  return kept.text;
};
beforeEach(() => {
  said.length = 0;
  Element.prototype.scrollTo = () => {}; // there is no layout here
});

test('keys go from cell to cell, with Shift to a block of them, and leave it', () => {
  render(<Shown />);
  key('ArrowDown'); // nothing was picked: the first row
  key('ArrowDown');
  key('ArrowRight', { shiftKey: true });
  expect(corners(grid.selected!)).toBe('1,0-1,1');
  expect([grid.stateOf(1, 1), grid.stateOf(1, 0), grid.stateOf(0, 0)]).toEqual(['focus', 'inside', null]);
  key('Escape');
  expect([grid.selected, said.at(-1)]).toEqual([null, 'left']);
});
test('keys go on from what is picked elsewhere', () => {
  render(<Shown start={2} />);
  key('ArrowUp');
  expect(said).toEqual(['spot 1,0']);
});
test('a letter begins anew, Enter goes on with what stands there, and typing goes down', () => {
  render(<Shown />);
  key('ArrowDown');
  key('x');
  expect(grid.fieldOf(0, 0)).toMatchObject({ text: 'x', whole: false });
  act(() => grid.fieldOf(0, 0)!.onFinish('xy', 'down'));
  expect(said.slice(-2)).toEqual(['typed xy 0,0', 'spot 1,0']);
  key('Enter');
  expect(grid.fieldOf(1, 0)).toMatchObject({ text: 'a2', whole: true });
  const before = said.length;
  act(() => grid.fieldOf(1, 0)!.onFinish('a2', null)); // as it was: nothing to keep
  expect(said.length).toBe(before);
});
test('what is worked out is not opened', () => {
  render(<Shown />);
  key('ArrowDown');
  key('ArrowRight');
  key('Enter');
  expect(grid.fieldOf(0, 1)).toBeNull();
});
test('one text goes into all that is selected; the first row fills the others', () => {
  render(<Shown />);
  key('a', { ctrlKey: true });
  expect(corners(grid.selected!)).toBe('0,0-2,1'); // not the row below, which is none yet
  key('d', { ctrlKey: true });
  expect(said.at(-1)).toBe('down 0,0-2,1');
  key('Delete');
  expect(said.at(-1)).toBe('empty cells 0,0-2,1');
});
test('cells are copied, cut and pasted as text', () => {
  render(<Shown />);
  key('a', { ctrlKey: true });
  expect(clipboard('copy')).toBe('a1\tb1\na2\tb2\na3\tb3');
  clipboard('cut');
  expect(said.at(-1)).toBe('cut cells 0,0-2,1');
  clipboard('paste', '1\t2\n3\t4');
  expect(said.at(-1)).toBe('paste [["1","2"],["3","4"]] 0,0-2,1');
});
test('of a list that has become empty nothing is selected', () => {
  const { rerender } = render(<Shown />);
  key('ArrowDown');
  rerender(<Shown limits={{ rows: 0, columns: 2 }} />);
  expect([grid.spot, grid.selected]).toEqual([null, null]);
  key('Enter');
  expect(grid.fieldOf(0, 0)).toBeNull();
});
