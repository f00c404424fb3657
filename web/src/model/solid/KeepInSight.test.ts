// @vitest-environment jsdom
import { expect, test } from 'vitest';
import { shiftInto } from './KeepInSight.tsx';

test.each([
  ['inside: nothing moves', 100, 200, 800, 0],
  ['behind the right edge, where an inspector has opened', 700, 820, 800, -44],
  ['left of the picture', -50, 10, 800, 74],
  ['larger than the picture: its middle', -100, 1100, 800, -100],
])('%s', (_, from, to, room, shift) => expect(shiftInto(from, to, room)).toBe(shift));
