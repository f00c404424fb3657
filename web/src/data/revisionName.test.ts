import { expect, test } from 'vitest';
import { letterFor, revisionName } from './revisionName.ts';

const revision = (label: string, fileName: string, created = '2026-03-02T10:00:00Z') => ({
  id: `${label} ${fileName} ${created}`,
  label,
  fileName,
  created,
});

test('a revision is called by its letter where no other has it, else by its file, else by when it came', () => {
  const [a, b] = [revision('A', 'one.step'), revision('B', 'two.step')];
  expect([a, b].map((one) => revisionName(one, [a, b]))).toEqual(['revision A', 'revision B']);
  const again = revision('A', 'two.step');
  expect([a, again].map((one) => revisionName(one, [a, again]))).toEqual(['one.step', 'two.step']);
  expect(revisionName(revision('', 'one.step'), [revision('', 'one.step')])).toBe('one.step');
  const later = revision('A', 'one.step', '2026-04-01T10:00:00Z');
  expect(revisionName(later, [a, later])).toMatch(/^one\.step of .*2026/);
});

test('the letter of a revision table is that of the file, else the next one', () => {
  const [a, b] = [revision('A', 'one.step'), revision('B', 'two.step')];
  expect(letterFor(b, [a, b], [])).toBe('B');
  expect(letterFor(revision('A', 'two.step'), [a], ['A'])).toBe('B');
  expect(letterFor(revision('A', 'three.step'), [a], ['A', 'B'])).toBe('C');
  expect(letterFor(revision('', 'two.step'), [revision('', 'one.step')], [])).toBe('A');
  expect(letterFor(revision('07', 'x.step'), [revision('07', 'w.step')], ['07'])).toBe('8');
});
