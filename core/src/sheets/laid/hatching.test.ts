import { describe, expect, test } from 'vitest';
import type { Vec2 } from '../../geometry/index.ts';
import type { MaterialFamily } from '../../assembly/index.ts';
import { hatchingOf, type CutArea } from './hatching.ts';

const area = (family: MaterialFamily | null): CutArea => ({
  part: 'part',
  plane: 0,
  occurrence: 0,
  rings: [
    [
      [0, 0],
      [60, 0],
      [60, 40],
      [0, 40],
    ],
  ],
  family,
});
const styles = new Map([['part', { angle: Math.PI / 4, pitch: 1 }]]);
const hatched = (family: MaterialFamily | null, byMaterial: boolean) =>
  hatchingOf([area(family)], styles, { scale: 1, pen: 0.25, byMaterial }).hatched;
const ways = (lines: readonly number[]): number[] => {
  const found = new Set<number>();
  for (let at = 0; at < lines.length; at += 4)
    found.add(
      Math.round((Math.atan2(lines[at + 3] - lines[at + 1], lines[at + 2] - lines[at]) * 180) / Math.PI + 180) % 180,
    );
  return [...found].sort((a, b) => a - b);
};
const length = (lines: readonly number[]): number => {
  let sum = 0;
  for (let at = 0; at < lines.length; at += 4)
    sum += Math.hypot(lines[at + 2] - lines[at], lines[at + 3] - lines[at + 1]);
  return sum;
};

describe('hatching by material', () => {
  const general = hatched('metal', false);
  test('is general where it is not asked for, and where nobody knows the material', () => {
    for (const family of ['plastic', 'wood', 'insulation', null] as const)
      expect(hatched(family, false)).toEqual(general);
    expect(hatched(null, true)).toEqual(general);
    expect(hatched('metal', true)).toEqual(general);
  });
  test('crosses in plastic, pairs in wood, breaks in insulation, and stays within the area', () => {
    expect(ways(general)).toEqual([45]);
    expect(ways(hatched('plastic', true))).toEqual([45, 135]);
    expect(ways(hatched('wood', true))).toEqual([45]);
    expect(length(hatched('wood', true)) / length(general)).toBeCloseTo(2, 1);
    expect(length(hatched('insulation', true)) / length(general)).toBeCloseTo(2 / 3, 1);
    for (const family of ['plastic', 'wood', 'insulation'] as const) {
      const lines = hatched(family, true);
      for (let at = 0; at < lines.length; at += 2) {
        const [x, y]: Vec2 = [lines[at], lines[at + 1]];
        expect(x > -1e-6 && x < 60 + 1e-6 && y > -1e-6 && y < 40 + 1e-6).toBe(true);
      }
    }
  });
});
