import { describe, expect, test } from 'vitest';
import { applyVariant, listOccurrences, orientationTurn, pathKey, type Assembly } from '../../assembly/index.ts';
import { assemblyOf, leaf, node } from '../../../../testkit/assemblies.ts';
import { applyToPoint } from '../../geometry/index.ts';
import {
  directionNames,
  isTurn,
  lookAt,
  projectedDirection,
  turnAxes,
  turnedBy,
  viewPlacement,
  type Direction,
} from '../index.ts';

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
      key(one, { moves: [{ path: pathKey(first.path), steps: [[0, 0, 12]] }] }),
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
  test('only some places are looked at, each with everything below it', () => {
    const one = machine();
    const [foot] = listOccurrences(one, (index) => one.components[index].partNumber === 'FOOT');
    const { things } = lookAt(one, { direction: 'front', only: [pathKey(foot.path)] });
    expect(things.map(({ path }) => path.startsWith(pathKey(foot.path)))).toEqual([true, true]);
    const [first] = things;
    const less = lookAt(one, { direction: 'front', only: [pathKey(foot.path)], without: [first.path] });
    expect(less.things.map(({ path }) => path)).toEqual([things[1].path]);
  });
  test('as turned by hand it has a name of its own, and the same view under a name is another one', () => {
    const one = machine();
    const turned = [1, 0, 0, 0, 0, 1, 0, -1, 0] as const;
    expect(isTurn(turned)).toBe(true);
    expect(viewPlacement(turned)).toEqual(viewPlacement('front').map((value) => value + 0));
    expect(lookAt(one, { direction: turned }).key).not.toBe(key(one));
    expect([isTurn([1, 0, 0, 0, 0, -1, 0, -1, 0]), isTurn([2, 0, 0, 0, 0, 1, 0, -1, 0])]).toEqual([false, false]);
  });
  test('what a variant lacks is not there to be looked at', () => {
    const one = machine();
    const bolt = one.components.find(({ partNumber }) => partNumber === 'B-1')!.key;
    const [, second] = listOccurrences(one, (index) => one.components[index].partNumber === 'FOOT');
    const variant = { name: 'Bare', withoutPlaces: [], without: [bolt], exchanged: {}, typed: {} };
    const numbers = (assembly: Assembly) =>
      listOccurrences(assembly, (index) => assembly.components[index].shape !== null).map(
        ({ components }) => assembly.components[components.at(-1)!].partNumber,
      );
    const noEdits = ['treatments', 'placeTreatments', 'typed', 'typedAt', 'densities', 'sameAs', 'keptApart'];
    const edits = { ...Object.fromEntries(noEdits.map((name) => [name, {}])), orientation: null } as never;
    expect(numbers(applyVariant(one, edits, variant).assembly)).toEqual(['PLATE']);
    const place = { ...variant, without: [], withoutPlaces: [pathKey(second.path)] };
    expect(numbers(applyVariant(one, edits, place).assembly)).toEqual(['B-1', 'B-1', 'PLATE']);
  });
});

describe('a projected view', () => {
  test.each([
    ['front', 'left', 'left'],
    ['front', 'right', 'right'],
    ['front', 'above', 'top'],
    ['front', 'below', 'bottom'],
    ['right', 'right', 'back'],
    ['left', 'left', 'back'],
  ] as const)('of %s, seen from %s, is %s', (from, side, is) => expect(projectedDirection(from, side)).toBe(is));
  test('four times round is where it began; there and back too; every one is a turn', () => {
    for (const direction of directionNames) {
      const round = [1, 2, 3, 4].reduce<Direction>((at) => projectedDirection(at, 'right'), direction);
      expect(round).toBe(direction);
      expect(projectedDirection(projectedDirection(direction, 'above'), 'below')).toBe(direction);
      const turned = projectedDirection(direction, 'above');
      expect(typeof turned === 'string' || isTurn(turned)).toBe(true);
    }
  });
  test('beside its view everything is as high up as there, above it as far to the right', () => {
    const point = [3, -5, 11] as const;
    for (const direction of directionNames) {
      const at = (of: Direction) => applyToPoint(viewPlacement(of), point);
      expect(at(projectedDirection(direction, 'left'))[1]).toBeCloseTo(at(direction)[1], 9);
      expect(at(projectedDirection(direction, 'above'))[0]).toBeCloseTo(at(direction)[0], 9);
    }
  });
});

describe('a view turned further', () => {
  test.each([
    ['front', 'upright', -90, 'right'],
    ['front', 'level', -90, 'bottom'],
    ['front', 'level', 90, 'top'],
    ['top', 'sight', 360, 'top'],
  ] as const)('%s about the %s line by %d° is %s', (from, about, degrees, is) =>
    expect(turnedBy(from, about, degrees)).toBe(is),
  );
  test('about the line of sight what was to the right is up: anticlockwise by a quarter', () => {
    const before = viewPlacement('front'),
      after = viewPlacement(turnedBy('front', 'sight', 90));
    const row = (of: readonly number[], at: number) => of.slice(at, at + 3).map((value) => value + 0);
    expect(row(after, 4)).toEqual(row(before, 0));
    expect(row(after, 8)).toEqual(row(before, 8));
  });
  test('there and back is where it was, and every one is a turn', () => {
    for (const direction of directionNames)
      for (const about of turnAxes) {
        const turned = turnedBy(direction, about, 33.3);
        expect(typeof turned === 'string' || isTurn(turned)).toBe(true);
        expect(turnedBy(turned, about, -33.3)).toBe(direction);
      }
  });
  test('seen from a corner of the front it shows three sides at once; upright stays upright', () => {
    expect(projectedDirection('front', 'above-right')).toBe('isometric');
    expect(projectedDirection('front', 'above-left')).toBe('isometric-left');
    expect(projectedDirection('front', 'below-right')).toBe('isometric-below');
    expect(projectedDirection('back', 'above-left')).toBe('isometric-back');
  });
});
