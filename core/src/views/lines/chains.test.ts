import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { seeded } from '../../../../testkit/mutants.ts';
import { chainsOf, type LinePiece } from './chains.ts';

type Point = readonly [number, number];
const piece = ([x1, y1]: Point, [x2, y2]: Point, body = 0): LinePiece => ({ x1, y1, x2, y2, body });
const along = (points: readonly Point[], body = 0): LinePiece[] =>
  points.slice(1).map((to, at) => piece(points[at], to, body));
const turned = ({ x1, y1, x2, y2, body }: LinePiece): LinePiece => ({ x1: x2, y1: y2, x2: x1, y2: y1, body });
/** Part of a circle in steps of ten degrees. */
const arc = (middle: Point, radius: number, from: number, to: number): Point[] =>
  Array.from({ length: Math.abs(to - from) / 10 + 1 }, (_, at) => {
    const angle = ((from + Math.sign(to - from) * at * 10) * Math.PI) / 180;
    return [middle[0] + radius * Math.cos(angle), middle[1] + radius * Math.sin(angle)];
  });
const lengthOf = (pieces: readonly LinePiece[]): number =>
  pieces.reduce((sum, { x1, y1, x2, y2 }) => sum + Math.hypot(x2 - x1, y2 - y1), 0);
const rounded = (values: ArrayLike<number>): number[] => Array.from(values, (value) => Number(value.toFixed(9)));

describe('pieces joined to whole lines', () => {
  test('a winding line is one from end to end, in whatever order and direction its pieces come', () => {
    const turn = fc.double({ min: -28, max: 28, noNaN: true });
    fc.assert(
      fc.property(fc.array(turn, { minLength: 1, maxLength: 40 }), fc.integer(), (turns, seed) => {
        let [x, y, angle] = [0, 0, 0];
        const points: Point[] = [[0, 0]];
        for (const by of [0, ...turns]) {
          angle += (by * Math.PI) / 180;
          // Farther at each step, so that it never comes back to where it was.
          x += 10 * Math.cos(angle) * points.length;
          y += 10 * Math.sin(angle) * points.length;
          points.push([x, y]);
        }
        const random = seeded(seed);
        const pieces = along(points).map((one) => (random() < 0.5 ? turned(one) : one));
        const order = pieces.map((_, at) => at).sort((a, b) => ((a * 7919 + seed) % 101) - ((b * 7919 + seed) % 101));
        const { lengths, places } = chainsOf(
          order.map((at) => pieces[at]),
          false,
        );
        for (const length of lengths) expect(length / lengthOf(pieces)).toBeCloseTo(1, 9);
        const walked = order.map((at, index) => [places[index], at]).sort(([a], [b]) => a - b);
        const steps = new Set(walked.slice(1).map(([, at], index) => at - walked[index][1]));
        expect(steps.size).toBe(1); // all forwards, or all back
      }),
    );
  });
  test('a corner ends it; a second body does only where that is asked for', () => {
    const corner = along([
      [0, 0],
      [10, 0],
      [10, 5],
    ]);
    expect(rounded(chainsOf(corner, false).lengths)).toEqual([10, 5]);
    const two = [piece([0, 0], [10, 0], 0), piece([10, 0], [14, 1], 1)];
    expect(rounded(chainsOf(two, true).lengths)).toEqual(rounded([10, Math.hypot(4, 1)]));
    expect(rounded(chainsOf(two, false).lengths)).toEqual(rounded([1, 1].map(() => 10 + Math.hypot(4, 1))));
  });
  test('where it would turn back on itself it ends', () => {
    // Two arcs that touch in a cusp, as an outline and a rim do.
    const [one, other] = [along(arc([0, 10], 10, -90, 0)), along(arc([0, 14], 14, -90, -10))];
    const { lengths } = chainsOf([...one, ...other], false);
    expect(rounded([...new Set(lengths)])).toEqual(rounded([lengthOf(one), lengthOf(other)]));
  });
  test('of three that meet the two that run on straightest are one line, the third is its own', () => {
    const meeting = [piece([-10, 0], [0, 0]), piece([0, 0], [10, 0.5]), piece([0, 0], [10, 3])];
    const { lengths } = chainsOf(meeting, false);
    const whole = 10 + Math.hypot(10, 0.5);
    expect(rounded(lengths)).toEqual(rounded([whole, whole, Math.hypot(10, 3)]));
  });
  test('a closed one begins at its far end', () => {
    // Two long sides and two round ends, as the edge of a disc looks from beside it.
    const outline = [...arc([40, 0], 1, -90, 90), ...arc([-40, 0], 1, 90, 270)];
    const loop = [...along(outline), piece(outline.at(-1)!, outline[0])];
    const { lengths, places } = chainsOf(loop, false);
    for (const length of lengths) expect(length).toBeCloseTo(lengthOf(loop), 9);
    const first = loop[places.indexOf(0)];
    expect(Math.abs(first.x1)).toBeGreaterThan(40.9);
    expect([...places].sort((a, b) => a - b)).toEqual(loop.map((_, at) => at));
  });
  test('a star of very many pieces, pieces without length and none at all end soon', () => {
    const star = Array.from({ length: 20_000 }, (_, at) => piece([0, 0], [Math.cos(at), Math.sin(at)]));
    expect(new Set(rounded(chainsOf(star, false).lengths))).toEqual(new Set([1]));
    expect([...chainsOf([piece([1, 1], [1, 1]), piece([1, 1], [1, 1])], false).lengths]).toEqual([0, 0]);
    expect(chainsOf([], false).lengths).toHaveLength(0);
  });
});
