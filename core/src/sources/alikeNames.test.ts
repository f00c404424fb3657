import { expect, test } from 'vitest';
import { namesAgree } from './alikeNames.ts';

test.each([
  ['hauling-sledge-A.step', 'hauling-sledge-B.step', true],
  ['table.step', 'table-B.step', true],
  ['Drill mast rev 3.stp', 'drill_mast_rev_4.stp', true],
  ['mast_2026-03-02.step', 'mast_2026-04-01.step', true],
  ['mast (2).step', 'mast.step', true],
  ['mast copy.glb', 'mast.glb', true],
  ['table.step', 'crane.step', false],
  ['drill mast.step', 'drill base.step', false],
  ['A.step', 'B.step', false],
  ['', '', false],
])('%s and %s: %s', (one, other, agree) => {
  expect(namesAgree(one, other)).toBe(agree);
});
