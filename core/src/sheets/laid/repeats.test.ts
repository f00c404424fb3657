import { expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../../testkit/assemblies.ts';
import { listOccurrences, pathKey, type PathKey } from '../../assembly/index.ts';
import { repeatsShown, rowsWithoutRepeats } from './repeats.ts';

const roller = { ...node('CV-10', [1, leaf('TUBE')], [1, leaf('AXLE')]), name: 'Roller' };
const assembly = assemblyOf(node('BED', [1, leaf('RAIL')], [3, roller]));
const paths = listOccurrences(assembly, () => true)
  .map(({ path }) => pathKey(path))
  .filter((path) => path.includes('/'));
const [firstTube, firstAxle] = paths;
const first = firstTube.split('/')[0] as PathKey;
const pose = { id: 'p', name: 'Exploded', moves: [{ path: firstAxle, steps: [[0, 0, 9]] as const }] };

test('a view says which of things that are alike is taken apart, of how many', () => {
  expect(repeatsShown({}, pose, assembly)).toBe('Roller 1 of 3');
  expect(repeatsShown({}, { ...pose, moves: [] }, assembly)).toBe('');
  const rail = assembly.components[assembly.root].usages[0].key as unknown as PathKey;
  expect(repeatsShown({ only: [rail] }, pose, assembly)).toBe('');
  // Of the one that is looked at alone there are no others.
  expect(repeatsShown({ only: [first] }, pose, assembly)).toBe('');
  expect(repeatsShown({ only: ['' as PathKey] }, pose, assembly)).toBe('Roller 1 of 3');
});

test('balloons point at the parts of that one, at others only for what is not seen of it', () => {
  const rows = paths.map((_, at) => at % 2);
  const all = { paths, occurrences: Int32Array.from(paths.keys()) };
  const inputs = { assembly, poses: [pose] };
  expect(rowsWithoutRepeats(all, rows, { pose: 'p' }, inputs)).toEqual([0, 1, -1, -1, -1, -1]);
  const withoutFirstAxle = { paths, occurrences: Int32Array.of(0, 2, 3, 4, 5) };
  expect(rowsWithoutRepeats(withoutFirstAxle, rows, { pose: 'p' }, inputs)).toEqual([0, 1, -1, 1, -1, 1]);
  expect(rowsWithoutRepeats(all, rows, {}, inputs)).toEqual(rows);
});
