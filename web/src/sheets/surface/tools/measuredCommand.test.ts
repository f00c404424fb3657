import { describe, expect, test } from 'vitest';
import {
  blankSheet,
  usualPaper,
  type Measurable,
  type Sheet,
  type SheetLayout,
} from '../../../../../core/src/sheets/index.ts';
import { directionOf, measuredCommand } from './measuredCommand.ts';

const note = { id: 'n', text: 'Grease', at: [20, 20] } as unknown as Sheet['notes'][number];
const view = { id: 'v', direction: 'front', scale: 1, centre: [100, 100] } as unknown as Sheet['views'][number];
const sheet: Sheet = { ...blankSheet('Assembly', usualPaper('A3')), notes: [note], views: [view] };
const layoutOf = (one: Sheet['views'][number] = view) =>
  ({
    views: [{ view: one, box: [50, 50, 150, 150], toPaper: (x: number, y: number) => [100 + x, 100 - y] }],
    dimensions: [],
    balloons: [],
    tables: [],
    titleBlock: [230, 245, 410, 287],
  }) as unknown as SheetLayout;
const facts = {} as Parameters<typeof measuredCommand>[4];
const found = (more: Partial<Measurable> = {}): Measurable =>
  ({ view: 'v', point: { path: [], at: [0, 0, 0] }, at: [0, 0], ...more }) as unknown as Measurable;

describe('something picked to be measured', () => {
  test('is what a note points at from then on', () => {
    const made = measuredCommand({ kind: 'leader', note: 'n' }, found(), sheet, layoutOf(), facts)!;
    expect(made.command).toEqual({
      kind: 'changeNotes',
      remove: [],
      put: [{ ...note, leader: { view: 'v', point: found().point } }],
    });
    expect(made.dimension).toBeUndefined();
  });
  test('for a note that is gone does nothing, and the tool is put down', () =>
    expect(measuredCommand({ kind: 'leader', note: 'gone' }, found(), sheet, layoutOf(), facts)).toMatchObject({
      command: null,
    }));
  test('on a view that is gone is nothing', () =>
    expect(measuredCommand({ kind: 'diameter', view: 'gone' }, found(), sheet, layoutOf(), facts)).toBeNull());
  test('has a centre line of its own, once, and is no longer among those without', () => {
    const has = { ...view, centreLines: { smallest: 3, on: ['a'], off: ['b', 'c'] } };
    const picked = measuredCommand(
      { kind: 'centreLine', view: 'v' },
      found({ axis: 'b' }),
      sheet,
      layoutOf(has),
      facts,
    )!;
    expect(picked.command).toEqual({
      kind: 'changeView',
      id: 'v',
      change: { centreLines: { smallest: 3, on: ['a', 'b'], off: ['c'] } },
    });
    const again = measuredCommand(
      { kind: 'centreLine', view: 'v' },
      found({ axis: 'a' }),
      sheet,
      layoutOf(has),
      facts,
    )!;
    expect(again.command).toMatchObject({ change: { centreLines: { on: ['a'], off: ['b', 'c'] } } });
  });
  test('without an axis has no centre line', () =>
    expect(measuredCommand({ kind: 'centreLine', view: 'v' }, found(), sheet, layoutOf(), facts)!.command).toBeNull());
});

test.each([
  [[0, 0], [100, 4], 'x'],
  [[0, 0], [4, -100], 'y'],
  [[0, 0], [100, 6], 'between'],
  [[10, 10], [-40, 60], 'between'],
] as const)('from %j to %j is measured along %s', (from, to, along) => expect(directionOf(from, to)).toBe(along));
