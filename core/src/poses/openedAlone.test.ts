import { expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import { collisions, part } from '../../../testkit/joints.ts';
import { seeded } from '../../../testkit/mutants.ts';
import { at, boxMesh, latheMesh } from '../../../testkit/shapes.ts';
import { listOccurrences, pathOf } from '../assembly/index.ts';
import { explode, openedAlone, type Part } from './index.ts';

const tube = latheMesh([
  [6, 0],
  [10, 0],
  [10, 80],
  [6, 80],
]);
const axle = latheMesh([
  [0, -10],
  [6, -10],
  [6, 90],
  [0, 90],
]);

/** A plate with rollers on it, each an axle in a tube. */
function rollers(count: number) {
  const roller = node('ROLLER', [1, leaf('TUBE', { shape: 'tube' })], [1, leaf('AXLE', { shape: 'axle' })]);
  const assembly = assemblyOf(node('BED', [1, leaf('PLATE', { shape: 'plate' })], [count, roller]));
  let rank = 0;
  const parts = listOccurrences(assembly, (index) => assembly.components[index].shape !== null).map(
    ({ path, components }): Part => {
      const shape = assembly.components[components[components.length - 1]].shape!;
      if (shape === 'plate') return part(path.join('/'), boxMesh(40 * count, 5, 80), at(-20, -15, 0), shape);
      const x = 40 * Math.floor(rank++ / 2);
      return part(path.join('/'), shape === 'tube' ? tube : axle, at(x, 0, 0), shape);
    },
  );
  return { assembly, parts };
}

test('of twenty rollers the one at the right is taken apart, the others leave together as they are', () => {
  const { assembly, parts } = rollers(20);
  const exploded = explode(parts);
  const inner = exploded.moves.filter(({ path }) => pathOf(path).length > 1);
  expect(inner).toHaveLength(1);
  expect(exploded.moves.filter(({ path }) => pathOf(path).length === 1)).toHaveLength(20);
  expect(exploded.locked).toEqual([]);
  expect(collisions(parts, exploded, seeded(5), 60)).toEqual([]);
  const [alone, ...more] = openedAlone(exploded.moves, assembly);
  expect(more).toEqual([]);
  expect([assembly.components[alone.component].partNumber, alone.of, alone.others.length]).toEqual(['ROLLER', 20, 19]);
  expect(inner[0].path.startsWith(`${alone.path}/`)).toBe(true);
  const rollersThere = assembly.components[assembly.root].usages.slice(1);
  expect(alone.path).toBe(rollersThere[19].key);
});

test('every one is taken apart where that is asked for, and then none is alone', () => {
  const { assembly, parts } = rollers(4);
  const exploded = explode(parts, { every: true });
  expect(exploded.moves.filter(({ path }) => pathOf(path).length > 1)).toHaveLength(4);
  expect(openedAlone(exploded.moves, assembly)).toEqual([]);
});

test('what stands alone is not one of several, and places that are gone say nothing', () => {
  const { assembly, parts } = rollers(1);
  expect(openedAlone(explode(parts).moves, assembly)).toEqual([]);
  expect(openedAlone([{ path: 'gone/too' as never, steps: [[1, 0, 0]] }], assembly)).toEqual([]);
});
