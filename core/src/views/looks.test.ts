import { describe, expect, test } from 'vitest';
import { listOccurrences, orientationTurn, pathKey, type Assembly } from '../assembly/index.ts';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import { lookAt } from './index.ts';

const machine = (number = 'B-1'): Assembly => {
  const assembly = assemblyOf(node('TOP', [2, node('FOOT', [2, leaf(number)])], [1, leaf('PLATE')]));
  return {
    ...assembly,
    components: assembly.components.map((component) =>
      component.usages.length ? component : { ...component, shape: `shape ${component.partNumber}` as never },
    ),
  };
};
const key = (assembly: Assembly, more: object = {}) => lookAt(assembly, { direction: 'front', ...more }).key;

describe('what is looked at has one name', () => {
  test('the same for the same content, whoever asks', () => expect(key(machine())).toBe(key(machine())));
  test('another for another direction, shape, place, turn, or with something left out', () => {
    const one = machine();
    const [first] = listOccurrences(one, () => true)[0].path.length ? [] : listOccurrences(one, () => true).slice(1);
    const moved: Assembly = {
      ...one,
      components: one.components.map((component, at) =>
        at === one.root
          ? {
              ...component,
              usages: component.usages.map((usage) => ({ ...usage, placement: usage.placement.with(3, 12.5) })),
            }
          : component,
      ),
    };
    const names = [
      key(one),
      lookAt(one, { direction: 'top' }).key,
      key(machine('B-2')),
      key(moved),
      key({ ...one, turn: orientationTurn({ up: '+y', front: '+z' })! }),
      key(one, { without: [pathKey(first.path)] }),
    ];
    expect(new Set(names).size).toBe(names.length);
  });
  test('noise below a millionth of a millimetre makes no other', () => {
    const one = machine();
    const noisy: Assembly = {
      ...one,
      components: one.components.map((component) => ({
        ...component,
        usages: component.usages.map((usage) => ({
          ...usage,
          placement: usage.placement.map((value) => value + 1e-9),
        })),
      })),
    };
    expect(key(noisy)).toBe(key(one));
  });
  test('what is left out takes everything below it along', () => {
    const one = machine();
    const foot = listOccurrences(one, (index) => one.components[index].partNumber === 'FOOT')[0];
    const { things } = lookAt(one, { direction: 'front', without: [pathKey(foot.path)] });
    expect(things.map(({ shape }) => shape).sort()).toEqual(['shape B-1', 'shape B-1', 'shape PLATE']);
  });
});
