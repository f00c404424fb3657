import { describe, expect, test } from 'vitest';
import type { Vec2 } from '../../geometry/index.ts';
import type { Mark } from '../../marks/index.ts';
import { stylesFor, type CutArea } from '../laid/hatching.ts';
import { unplacedView } from '../planned/plan.ts';
import { usualSectionLook, type SectionLook } from '../section.ts';
import { drawCuttingLine, drawHatching, type HatchGap } from './cutMarks.ts';

const square: CutArea = {
  part: 'plate',
  plane: 0,
  occurrence: 0,
  family: null,
  rings: [
    [
      [0, 0],
      [60, 0],
      [60, 40],
      [0, 40],
    ],
  ],
};
const areas = [square];
const view = { ...unplacedView('v', { direction: 'front', section: { letter: 'A' } }), centre: [100, 100] as Vec2 };
const toPaper = (x: number, y: number): Vec2 => [100 + x, 100 - y];
const hatch = (gaps: readonly HatchGap[] = [], of: readonly CutArea[] = areas) =>
  drawHatching({ view, toPaper }, of, stylesFor([of]), gaps, { pen: 0.25 });
const pieces = (marks: readonly Mark[]) =>
  marks.flatMap((mark) => {
    if (mark.kind !== 'stretches') return [];
    return Array.from({ length: mark.ends.length / 4 }, (_, at) => [...mark.ends.subarray(at * 4, at * 4 + 4)]);
  });
const lengthOf = (marks: readonly Mark[]) =>
  pieces(marks).reduce((sum, [x0, y0, x1, y1]) => sum + Math.hypot(x1 - x0, y1 - y0), 0);

describe('hatching on paper', () => {
  test('lies in its area, at 45°, in the narrow pen', () => {
    const marks = hatch();
    expect(pieces(marks).length).toBeGreaterThan(10);
    for (const [x0, y0, x1, y1] of pieces(marks)) {
      expect(Math.min(x0, x1)).toBeGreaterThanOrEqual(100 - 1e-9);
      expect(Math.max(y0, y1)).toBeLessThanOrEqual(100 + 1e-9);
      expect(Math.abs(x1 - x0)).toBeCloseTo(Math.abs(y1 - y0), 9);
    }
  });
  test('is clear around what is to be read: a dot, a text', () => {
    const at: Vec2 = [130, 80];
    const box = [105, 65, 125, 70] as const;
    const marks = hatch([{ at, radius: 5 }, { box }]);
    expect(lengthOf(marks)).toBeLessThan(lengthOf(hatch()));
    for (const [x0, y0, x1, y1] of pieces(marks))
      for (const share of [0.001, 0.25, 0.5, 0.75, 0.999]) {
        const [x, y] = [x0 + share * (x1 - x0), y0 + share * (y1 - y0)];
        expect(Math.hypot(x - at[0], y - at[1])).toBeGreaterThan(5 - 0.05);
        expect(x > box[0] + 0.05 && x < box[2] - 0.05 && y > box[1] + 0.05 && y < box[3] - 0.05).toBe(false);
      }
    // What is cut out is what lies there, and nothing else.
    const hidden = lengthOf(hatch()) - lengthOf(marks);
    const pitch = (60 * 40) / lengthOf(hatch());
    expect(hidden * pitch).toBeCloseTo(Math.PI * 25 + 100, -1.5);
  });
  test('is the same object while nothing about it changes', () => {
    const gaps = [{ at: [130, 80] as Vec2, radius: 2 }];
    expect(hatch(gaps)).toBe(hatch([...gaps]));
    expect(hatch([{ at: [131, 80], radius: 2 }])).not.toBe(hatch(gaps));
  });
  test('is as wide, and by material, as the set says, unless its section says otherwise', () => {
    const plastic = [{ ...square, family: 'plastic' as const }];
    const drawn = (byMaterial: boolean | undefined, look: Partial<SectionLook>) =>
      lengthOf(
        drawHatching(
          { view: { ...view, section: { letter: 'A', ...(byMaterial === undefined ? {} : { byMaterial }) } }, toPaper },
          plastic,
          stylesFor([plastic]),
          [],
          { pen: 0.25, look: { ...usualSectionLook, ...look } },
        ),
      );
    const usual = drawn(undefined, {});
    expect(drawn(undefined, { pitch: 2 }) / usual).toBeCloseTo(1 / 2, 1);
    expect(drawn(undefined, { byMaterial: true }) / usual).toBeCloseTo(2, 1);
    expect(drawn(true, {}) / usual).toBeCloseTo(2, 1);
    expect(drawn(false, { byMaterial: true })).toBe(usual);
  });
  test('is none in an outline drawing, nor where nothing is cut', () => {
    const white = { ...view, section: { letter: 'A', unhatched: true as const } };
    expect(drawHatching({ view: white, toPaper }, areas, stylesFor([areas]), [], { pen: 0.25 })).toEqual([]);
    expect(hatch([], [])).toEqual([]);
  });
});

test('a cutting line is narrow between its ends and wide at ends and bends, with a letter at each end', () => {
  const marks = drawCuttingLine(
    {
      section: 's',
      on: 'v',
      letter: 'B',
      points: [
        [0, 0],
        [50, 0],
        [50, 30],
      ],
      arrows: [{ tail: [0, 10], tip: [0, 0] }],
      letters: [
        [0, 14],
        [50, 34],
      ],
      lettering: 5,
      box: [0, 0, 50, 34],
      endBoxes: [],
    },
    { thick: 0.7, thin: 0.35 },
  );
  const of = (pen: number) => marks.filter((mark) => mark.kind === 'stretches' && mark.pen === pen);
  expect([of(0.35).length, of(0.7).length]).toEqual([1, 1]);
  expect(pieces(of(0.7)).map((piece) => piece.map((value) => Math.round(value)))).toEqual([
    [0, 0, 6, 0],
    [50, 0, 46, 0],
    [50, 0, 50, 4],
    [50, 30, 50, 24],
  ]);
  expect(marks.filter((mark) => mark.kind === 'text').map((mark) => mark.kind === 'text' && mark.text)).toEqual([
    'B',
    'B',
  ]);
  expect(marks.every(({ source }) => source.kind === 'section' && source.id === 's')).toBe(true);
});
