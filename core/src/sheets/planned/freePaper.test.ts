import fc from 'fast-check';
import { expect, test } from 'vitest';
import { boxesOverlap, boxHeight, boxWidth, type Box2 } from '../../geometry/index.ts';
import { cellIn, largestFree } from './freePaper.ts';

const FRAME: Box2 = [20, 10, 410, 287];

test('beside one view in the middle of the left half the right half is free', () => {
  expect(largestFree([0, 0, 400, 200], [[20, 40, 197, 150]])).toEqual([200, 0, 400, 200]);
  expect(largestFree([0, 0, 400, 200], [])).toEqual([0, 0, 400, 200]);
  expect(largestFree([0, 0, 400, 200], [[-10, -10, 500, 500]])).toBeNull();
});

test('the room that is found is in the frame, holds nothing, and no square room is larger (against all of them)', () => {
  const box = fc
    .tuple(fc.integer({ min: 0, max: 400 }), fc.integer({ min: 0, max: 280 }), fc.integer({ min: 1, max: 150 }))
    .chain(([x, y, size]) => fc.integer({ min: 1, max: 150 }).map((high): Box2 => [x, y, x + size, y + high]));
  fc.assert(
    fc.property(fc.array(box, { maxLength: 12 }), (obstacles) => {
      const found = largestFree(FRAME, obstacles);
      let largest = 0;
      for (let x = FRAME[0]; x < FRAME[2]; x += 5)
        for (let y = FRAME[1]; y < FRAME[3]; y += 5)
          for (let side = largest + 5; x + side <= FRAME[2] && y + side <= FRAME[3]; side += 5) {
            if (obstacles.some((one) => boxesOverlap(one, [x, y, x + side, y + side]))) break;
            largest = side;
          }
      if (!found) return expect(largest).toBe(0);
      expect(obstacles.filter((one) => boxesOverlap(one, found))).toEqual([]);
      expect(found[0] >= FRAME[0] && found[1] >= FRAME[1] && found[2] <= FRAME[2] && found[3] <= FRAME[3]).toBe(true);
      const [width, height] = [boxWidth(found), boxHeight(found)];
      expect(width * height * Math.min(width, height)).toBeGreaterThanOrEqual(largest ** 3);
    }),
    { numRuns: 60 },
  );
});

test('a picture stands in the outer corner of its room, no larger than it is worth', () => {
  expect(cellIn([200, 0, 400, 200], [0, 0, 400, 200], 60, 110)).toEqual([290, 0, 400, 110]);
  expect(cellIn([0, 120, 100, 200], [0, 0, 400, 200], 60, 110)).toEqual([0, 120, 100, 200]);
  expect(cellIn([0, 150, 100, 200], [0, 0, 400, 200], 60, 110)).toBeNull();
});
