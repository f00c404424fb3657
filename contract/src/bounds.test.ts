import fc from 'fast-check';
import * as v from 'valibot';
import { describe, expect, test } from 'vitest';
import { blankSheet, usualPaper, viewRequest, type SheetView } from '../../core/src/sheets/index.ts';
import { lookOrder, lookSchema } from './api/views.ts';
import { parseCommand, parseDocument, parseJson } from './index.ts';

const sheet = blankSheet('Assembly', usualPaper('A3'));
const note = { id: 'n', at: [10, 10], width: 50, text: 'Grease', lettering: 3.5 };

describe('numbers on paper', () => {
  const put = (at: readonly number[]) =>
    parseCommand('sheet', { kind: 'changeNotes', remove: [], put: [{ ...note, at }] });
  test('reach a hundred metres each way, and no farther', () => {
    expect(() => put([100_000, -100_000])).not.toThrow();
    expect(() => put([1e21, 0])).toThrow('it may be up to 100,000');
    expect(() => put([0, -1e6])).toThrow('it may be from -100,000 on');
  });
  test('of a sheet that was stored before they had bounds lie at them, and it opens', () => {
    const opened = parseDocument('sheet', { ...sheet, notes: [{ ...note, at: [1e300, 12] }] });
    expect(opened).toMatchObject({ notes: [{ at: [100_000, 12] }] });
  });
  test('any other fault of it is one', () =>
    expect(() => parseDocument('sheet', { ...sheet, notes: [{ ...note, at: ['x', 12] }] })).toThrow());
});

describe('what a section takes away', () => {
  const add = (section: object) =>
    parseCommand('sheet', {
      kind: 'addView',
      view: {
        id: 'v',
        direction: 'front',
        scale: 1,
        centre: [10, 10],
        byHand: true,
        section: { letter: 'A', ...section },
      },
    });
  const half = { normal: [0, 1, 0], offset: 5 };
  const path = {
    points: [
      [0, 0, 0],
      [9, 0, 0],
    ],
    along: [0, 0, 1],
    towards: [0, -1, 0],
  };
  const piece = { at: [0, 5, 0], half: [20, 10] };
  test('is told by a line, by planes or by pieces', () => {
    expect(() => add({ path })).not.toThrow();
    expect(() => add({ cuts: [[half]] })).not.toThrow();
    expect(() => add({ pieces: [piece] })).not.toThrow();
    expect(() => add({ path, cuts: [[half]] })).toThrow('not in two of these ways');
    expect(() => add({ path, pieces: [piece] })).toThrow('not in two of these ways');
  });
  test('in pieces are a few of some size', () => {
    expect(() => add({ pieces: [] })).toThrow();
    expect(() => add({ pieces: [{ ...piece, half: [20, 0] }] })).toThrow();
    expect(() => add({ pieces: Array.from({ length: 9 }, () => piece) })).toThrow();
  });
  test('is turned into one plane where its line has two stretches', () => {
    const bent = { ...path, points: [...path.points, [15, 9, 0]] };
    expect(() => add({ path: { ...bent, aligned: true } })).not.toThrow();
    expect(() => add({ path: { ...path, aligned: true } })).toThrow('two stretches');
  });
  test('can be ordered of every piece that a sheet takes, and of every line that is turned', () => {
    const far = fc.double({ min: -1e7, max: 1e7, noNaN: true }),
      side = fc.double({ min: 1e-3, max: 1e7, noNaN: true });
    const orderOf = (section: object, direction: 'front' | 'isometric') => {
      const view = { id: 'v', direction, scale: 1, centre: [10, 10], byHand: true, section } as unknown as SheetView;
      expect(() => parseCommand('sheet', { kind: 'addView', view })).not.toThrow();
      return v.parse(lookSchema, JSON.parse(JSON.stringify(lookOrder(viewRequest(view), null)))).cut!.panes!;
    };
    fc.assert(
      fc.property(fc.tuple(far, far, far), fc.tuple(side, side), fc.boolean(), (at, half, isFront) => {
        const [pane] = orderOf({ letter: '', pieces: [{ at, half }] }, isFront ? 'front' : 'isometric');
        expect(pane.border!.length).toBeGreaterThan(10);
      }),
    );
    fc.assert(
      fc.property(fc.double({ min: -1.4, max: 1.4, noNaN: true }), fc.integer({ min: -9e6, max: 9e6 }), (by, along) => {
        fc.pre(Math.abs(by) > 0.02);
        const points = [
          [along - 9, 4, 0],
          [along, 4, 0],
          [along + 9 * Math.cos(by), 4 + 9 * Math.sin(by), 0],
        ];
        const [pane] = orderOf({ letter: 'A', path: { ...path, points, aligned: true } }, 'front');
        expect(pane.turned!.by).toBeCloseTo(-by, 5);
      }),
    );
  });
  test('lies on one side of planes that are some', () => {
    expect(() => add({ cuts: [[{ ...half, normal: [0, 0, 0] }]] })).toThrow('no unit vector');
    expect(() => add({ path: { ...path, towards: [0, 0, 0] } })).toThrow('no unit vector');
    expect(() => add({ cuts: [[]] })).toThrow();
    expect(() => add({ cuts: Array.from({ length: 65 }, () => [half]) })).toThrow();
  });
});

describe('half a sign', () => {
  test('in a name or a field is no sign of its own any more', () => {
    const sent = '{"name":"Slat \\ud83d","\\udc00":[{"a":"\\ud83d\\ude00"}]}';
    expect(parseJson(sent)).toEqual({ name: 'Slat \ufffd', '\ufffd': [{ a: '\ud83d\ude00' }] });
  });
  test('costs nothing where there is none', () => {
    const sent = JSON.stringify(sheet);
    expect(parseJson(sent)).toEqual(sheet);
  });
});

describe('what a detail looks at', () => {
  const far = fc.double({ min: -1e7, max: 1e7, noNaN: true }),
    side = fc.double({ min: 1e-3, max: 1e7, noNaN: true });
  const details = fc.record({
    of: fc.constant('whole'),
    letter: fc.constant('A'),
    centre: fc.tuple(far, far),
    radius: side,
    half: fc.option(fc.tuple(side, side), { nil: undefined }),
  });
  const viewOf = (detail: NonNullable<SheetView['detail']>): SheetView => ({
    id: 'd',
    direction: 'front',
    scale: 5,
    centre: [10, 10],
    byHand: true,
    detail: JSON.parse(JSON.stringify(detail)) as typeof detail,
  });
  test('can be ordered of every detail that a sheet takes', () => {
    fc.assert(
      fc.property(details, (detail) => {
        const view = viewOf(detail as NonNullable<SheetView['detail']>);
        expect(() => parseCommand('sheet', { kind: 'addView', view })).not.toThrow();
        const { window } = v.parse(lookSchema, JSON.parse(JSON.stringify(lookOrder(viewRequest(view), null))));
        expect(window![2] - window![0]).toBeGreaterThan(0);
      }),
    );
  });
  test.each([[[0, 0, 0, 5]], [[5, 0, 0, 5]], [[0, 0, 1e9, 5]], [[0, 0, 5]]])('is no window: %j', (window) =>
    expect(v.safeParse(lookSchema, { direction: 'front', variant: null, window }).success).toBe(false),
  );
});
