import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { lineKinds } from '../records.ts';
import { shortTangents } from './tangents.ts';

const [FULL, TANGENT] = [lineKinds.indexOf('feature'), lineKinds.indexOf('tangent')];
const line = (kind: number, x1: number, y1: number, x2: number, y2: number) => ({ x1, y1, x2, y2, kind, body: 0 });
/** A box of full lines from (0, 0) to (100, 50). */
const box = [
  line(FULL, 0, 0, 100, 0),
  line(FULL, 100, 0, 100, 50),
  line(FULL, 100, 50, 0, 50),
  line(FULL, 0, 50, 0, 0),
];
const PEN = 0.5;
const short = (...tangents: ReturnType<typeof line>[]) => [...shortTangents([...box, ...tangents], PEN)];

describe('a tangent edge', () => {
  test('ends a millimetre short of the outlines that it runs into, for a pen of half a millimetre', () => {
    expect(short(line(TANGENT, 0, 10, 100, 10))).toEqual([99, 10, 1, 10]);
  });
  test('goes to its end where it meets no full line', () => {
    expect(short(line(TANGENT, 0, 10, 60, 10))).toEqual([60, 10, 1, 10]);
    expect(short(line(TANGENT, 20, 10, 60, 10))).toEqual([60, 10, 20, 10]);
  });
  test('in pieces, whichever way they run, loses as much along the line, and nothing where pieces meet', () => {
    const pieces = short(line(TANGENT, 0.4, 10, 0, 10), line(TANGENT, 0.4, 10, 50, 10), line(TANGENT, 100, 10, 50, 10));
    expect(pieces).toEqual([99, 10, 50, 10, 50, 10, 1, 10]);
  });
  test('that is short stays whole: there would be nothing left', () => {
    expect(short(line(TANGENT, 0, 10, 3, 10))).toEqual([3, 10, 0, 10]);
  });
  test('never grows, and loses two gaps at most', () => {
    const coordinate = fc.integer({ min: 0, max: 50 });
    fc.assert(
      fc.property(fc.array(fc.tuple(coordinate, coordinate, coordinate, coordinate), { maxLength: 8 }), (all) => {
        const tangents = all.filter(([a, b, c, d]) => a !== c || b !== d).map((ends) => line(TANGENT, ...ends));
        const lengthOf = (ends: readonly number[]) =>
          ends.reduce(
            (sum, _, at) => (at % 4 ? sum : sum + Math.hypot(ends[at + 2] - ends[at], ends[at + 3] - ends[at + 1])),
            0,
          );
        const before = tangents.reduce((sum, { x1, y1, x2, y2 }) => sum + Math.hypot(x2 - x1, y2 - y1), 0);
        const after = lengthOf(short(...tangents));
        expect(after).toBeLessThanOrEqual(before + 1e-9);
        expect(after).toBeGreaterThanOrEqual(before - 2 * tangents.length - 1e-9);
      }),
    );
  });
});
