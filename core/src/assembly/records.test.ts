import { expect, test } from 'vitest';
import type { ComponentIndex, RowIndex } from './index.ts';

test('a row of a bill is no component, for the compiler', () => {
  const nameOf = (component: ComponentIndex) => `component ${component}`;
  const row: RowIndex = 3;
  // @ts-expect-error -- what this is about
  expect(nameOf(row)).toBe('component 3');
  expect(nameOf(4)).toBe('component 4'); // any plain number will do
});
