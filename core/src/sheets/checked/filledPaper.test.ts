import { expect, test } from 'vitest';
import { drawing } from '../../../../testkit/blocks.ts';
import type { Box2 } from '../../geometry/index.ts';
import { checkReport, drawSheet } from '../index.ts';
import { filledShare } from './filledPaper.ts';

const NOTHING = { titleBlock: [0, 0, 0, 0] as Box2, views: [], tables: [], balloons: [] };
const frame: Box2 = [0, 0, 400, 200];
const listAt = (box: Box2) => [{ measured: { strips: [{ box }] } }] as never;

test('an empty sheet is not filled; a list fills itself and 15 mm around it', () => {
  expect(filledShare({ ...NOTHING, frame })).toBe(0);
  // 100 × 60 in a corner, grown by 15 to two sides, its corner round: π/4 · 15² ≈ 177 of 225.
  const share = filledShare({ ...NOTHING, frame, tables: listAt([0, 0, 100, 60]) });
  expect(share * 400 * 200).toBeGreaterThan(115 * 75 - 225);
  expect(share * 400 * 200).toBeLessThanOrEqual(115 * 75);
});

test('the title block is no drawing area, and a view fills its outline, not the box around it', () => {
  const titleBlock: Box2 = [200, 0, 400, 200];
  expect(filledShare({ ...NOTHING, frame, titleBlock, tables: listAt([0, 0, 200, 200]) })).toBe(1);
  expect(filledShare({ ...NOTHING, frame, titleBlock: frame })).toBe(0);
  const hull = [
    [0, 0],
    [400, 0],
    [0, 200],
  ];
  const share = filledShare({ ...NOTHING, frame, views: [{ hull, captionBox: null }] as never });
  expect(share).toBeGreaterThan(0.55);
  expect(share).toBeLessThan(0.7);
});

test('the report says it of each sheet', () => {
  const { sheet, inputs } = drawing(12);
  const drawn = drawSheet({ ...inputs, sheet });
  const [{ filled }] = checkReport([{ drawn, inputs }], 'Blocks', '').sheets;
  expect(filled).toBe(Math.round(100 * filledShare(drawn.layout)) / 100);
  const bare = drawSheet({ ...inputs, sheet: { ...sheet, views: [], balloons: [] } });
  expect(checkReport([{ drawn: bare, inputs }], 'Blocks', '').sheets[0].filled).toBeLessThan(filled);
});
