import { expect, test } from 'vitest';
import { materialFamily } from './materialFamily.ts';

test.each([
  ['Steel S235JR', 'metal'],
  ['S355J2', 'metal'],
  ['1.4301', 'metal'],
  ['X5CrNi18-10', 'metal'],
  ['EN AW-6060', 'metal'],
  ['cast iron', 'metal'],
  ['A2-70', 'metal'],
  ['PA6 black', 'plastic'],
  ['PE-UHMW', 'plastic'],
  ['Rubber, 60 Shore', 'plastic'],
  ['Ash', 'wood'],
  ['Birch ply 9 mm', 'wood'],
  ['Mineral wool', 'insulation'],
])('%s is %s', (material, family) => expect(materialFamily(material)).toBe(family));

test.each(['', '  ', 'Ashlar', 'pear', 'glass', '42', 'Allen key', 'constructor', '木材'])(
  'nothing is made up of “%s”',
  (material) => expect(materialFamily(material)).toBeNull(),
);
