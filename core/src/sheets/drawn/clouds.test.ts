import { describe, expect, test } from 'vitest';
import { seeded } from '../../../../testkit/revisions.ts';
import type { PathKey } from '../../assembly/index.ts';
import type { Box2, Vec2 } from '../../geometry/index.ts';
import type { ViewLines } from '../../views/index.ts';
import { cloudOutlines, drawClouds } from './clouds.ts';
import type { LaidView } from '../laid/laidView.ts';

/** A view at 1:1 with one line per place, y upward on its plane. */
function viewOf(lines: readonly (readonly [path: string, from: Vec2, to: Vec2, visible?: boolean])[]): LaidView {
  const paths = [...new Set(lines.map(([path]) => path))] as PathKey[];
  return {
    view: { id: 'v' },
    lines: {
      ends: Float64Array.from(lines.flatMap(([, from, to]) => [...from, ...to])),
      kinds: new Uint8Array(lines.length),
      visible: Uint8Array.from(lines, ([, , , visible = true]) => (visible ? 1 : 0)),
      occurrences: Int32Array.from(lines, ([path]) => paths.indexOf(path as PathKey)),
      paths,
    } as unknown as ViewLines,
    toPaper: (x: number, y: number) => [x + 100, 100 - y],
  } as unknown as LaidView;
}
const asPaths = (...paths: string[]) => paths as PathKey[];
const sheet: Box2 = [0, 0, 420, 297];

const isIn = ([x, y]: Vec2, outline: readonly Vec2[]): boolean =>
  outline.reduce((inside, [x0, y0], at) => {
    const [x1, y1] = outline[(at + 1) % outline.length];
    return y0 > y !== y1 > y && x < x0 + ((x1 - x0) * (y - y0)) / (y1 - y0) ? !inside : inside;
  }, false);

describe('clouds', () => {
  const view = viewOf([
    ['a', [0, 0], [10, 5]],
    ['b/c', [60, 0], [70, 20]],
    ['b/d', [66, 2], [76, 10]],
    ['e', [-50, 0], [-40, 5], false],
  ]);
  const around = (...paths: string[]) => cloudOutlines(asPaths(...paths), view);
  test('stand around what is seen of changed places and of all that these hold, and around nothing else', () => {
    expect(around('a')).toHaveLength(1);
    expect(around('b')).toHaveLength(1);
    expect(around('e', 'none')).toEqual([]);
    const [outline] = around('a');
    expect([isIn([105, 97.5], outline), isIn([165, 90], outline)]).toEqual([true, false]);
  });
  test('what lies near together has one, what lies apart has one each', () => {
    expect(around('b/c', 'b/d')).toHaveLength(1);
    expect(around('a', 'b/c')).toHaveLength(2);
  });
  test('a long slanted part has a slim one: not all that stands beside it is within', () => {
    const laid = viewOf([['rail', [0, 0], [150, 150]]]);
    const [outline] = cloudOutlines(asPaths('rail'), laid);
    expect([isIn([175, 25], outline), isIn([200, 80], outline), isIn([130, 20], outline)]).toEqual([
      true,
      false,
      false,
    ]);
  });
  test.each([1, 2, 3, 4, 5])('all that changed lies in one, and in one only (seed %i)', (seed) => {
    const random = seeded(seed);
    const lines = Array.from({ length: 30 }, (_, at) => {
      const [x, y] = [random() * 300 - 90, random() * 180 - 100];
      return [`p${at}`, [x, y], [x + random() * 40 - 20, y + random() * 40 - 20]] as const;
    });
    const laid = viewOf(lines);
    const outlines = cloudOutlines(asPaths(...lines.map(([path]) => path)), laid);
    for (const [, from, to] of lines)
      for (const [x, y] of [from, to, [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2]])
        expect(outlines.filter((outline) => isIn(laid.toPaper(x, y), outline))).toHaveLength(1);
  });
  test('are drawn as closed arcs, with the letter in a triangle on the sheet', () => {
    const corner = viewOf([['a', [310, 90], [318, 98]]]);
    const marks = drawClouds({ letter: 'B', paths: asPaths('a') }, [corner], { within: sheet, pen: 0.25 });
    expect(marks.map(({ kind, source }) => [kind, source.kind])).toEqual([
      ['path', 'cloud'],
      ['path', 'cloud'],
      ['text', 'cloud'],
    ]);
    const [cloud, triangle] = marks.map((mark) => (mark.kind === 'path' ? mark.points : []));
    const [outline] = cloudOutlines(asPaths('a'), corner);
    // Bulging outward: more is within than within the corners.
    expect(areaOf(cloud)).toBeGreaterThan(areaOf(outline));
    for (const [x, y] of triangle) expect(x >= 0 && y >= 0 && x <= 420 && y <= 297).toBe(true);
  });
  test('the triangle keeps off balloons, lists and lines', () => {
    const laid = viewOf([
      ['a', [0, 0], [10, 0]],
      ['b', [10, 14], [60, 14]],
    ]);
    const right: Box2 = [112, 80, 150, 120];
    const [, triangle] = drawClouds({ letter: 'B', paths: asPaths('a') }, [laid], {
      within: sheet,
      obstacles: [right],
      pen: 0.25,
    }).map((mark) => (mark.kind === 'path' ? mark.points : []));
    for (const [x, y] of triangle) expect([x > 112, y > 84 && y < 88 && x > 110]).toEqual([false, false]);
  });
});

const areaOf = (outline: readonly Vec2[]): number =>
  outline.reduce((sum, [x, y], at) => {
    const [x1, y1] = outline[(at + 1) % outline.length];
    return sum + (x * y1 - x1 * y) / 2;
  }, 0);
