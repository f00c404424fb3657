import { expect, test } from 'vitest';
import { stretchMeetsBox, type Box2, type Vec2 } from '../../geometry/index.ts';
import type { LaidView } from '../index.ts';
import { drawRegions } from './regionMarks.ts';

/** A view of these lines at 1:2 around (100, 100) on paper, with a detail of its origin. */
function lettered(lines: readonly (readonly [Vec2, Vec2])[], balloons: readonly Box2[] = [], half?: Vec2) {
  const toPaper = (x: number, y: number): Vec2 => [100 + x / 2, 100 - y / 2];
  const detail = { of: 'v', letter: 'A', centre: [0, 0], radius: 20, ...(half ? { half } : {}) };
  const views = [
    { view: { id: 'v', scale: 0.5 }, toPaper, drawn: () => ({ ends: Float64Array.from(lines.flat(2)) }) },
    { view: { id: 'd', scale: 2, centre: [200, 100], detail }, toPaper, drawn: () => ({ ends: new Float64Array() }) },
  ] as unknown as LaidView[];
  const marks = drawRegions(
    { views, dimensions: [], balloons: balloons.map((box) => ({ box, leader: [] })) as never },
    0.25,
  );
  const [letter] = marks.flatMap((mark) => (mark.kind === 'text' ? [mark] : []));
  return { at: letter.at, marks };
}

test('the letter of a detail stands at the upper right of its border where nothing is in the way', () => {
  const { at, marks } = lettered([]);
  expect(at[0]).toBeGreaterThan(105);
  expect(at[1]).toBeLessThan(98);
  // One border around what is enlarged, one around the detail.
  expect(marks.filter(({ kind }) => kind === 'circle')).toHaveLength(2);
  expect(lettered([], [], [20, 10]).marks.filter(({ kind }) => kind === 'path')).toHaveLength(2);
});

test('else where no line of the view runs through it, and on no balloon', () => {
  // Lines everywhere to the right of the middle, and a balloon above on the left.
  const lines = Array.from({ length: 60 }, (_, at): [Vec2, Vec2] => [
    [2 * at, -200],
    [2 * at, 200],
  ]);
  const balloon: Box2 = [70, 70, 98, 92];
  const { at } = lettered(lines, [balloon]);
  const box: Box2 = [at[0] - 3, at[1] - 5, at[0] + 3, at[1] + 2];
  for (const [from, to] of lines)
    expect(stretchMeetsBox([100 + from[0] / 2, 100 - from[1] / 2], [100 + to[0] / 2, 100 - to[1] / 2], box)).toBe(
      false,
    );
  expect(box[2] < balloon[0] || box[0] > balloon[2] || box[1] > balloon[3] || box[3] < balloon[1]).toBe(true);
});
