import { expect, test } from 'vitest';
import { identityPlacement } from '../geometry/index.ts';
import { componentsAlong, listOccurrences, MAX_LEVELS, structureTotals, unnamed } from './index.ts';
import type { Assembly, Component, ComponentKey, UsageKey } from './records.ts';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';

/** A chain of assemblies, each holding the next one `width` times. */
function chain(levels: number, width: number): Assembly {
  const components = Array.from({ length: levels + 1 }, (_, at): Component => ({
    ...unnamed,
    key: `k${at}` as ComponentKey,
    partNumber: `N${at}`,
    usages:
      at === levels
        ? []
        : Array.from({ length: width }, (__, rank) => ({
            key: `u${at}.${rank}` as UsageKey,
            child: at + 1,
            label: '',
            quantity: 1,
            placement: identityPlacement,
          })),
  }));
  return { version: 1, schema: '', sourceUnit: 'mm', root: 0, components, findings: [] };
}

test('a shared structure of 10¹⁴ occurrences is counted, not expanded', () => {
  expect(structureTotals(chain(14, 10))).toEqual({ leafOccurrences: 1e14, parts: 1, assemblies: 14 });
});

test('more than 2⁵³−1 pieces are refused, since they could not be counted exactly', () => {
  expect(() => structureTotals(chain(16, 10))).toThrow(/occurs more often than can be counted exactly/);
});

test(`structures of ${MAX_LEVELS} levels are read, deeper ones refused`, () => {
  expect(structureTotals(chain(MAX_LEVELS, 1)).leafOccurrences).toBe(1);
  expect(() => structureTotals(chain(MAX_LEVELS + 1, 1))).toThrow(
    'The structure is 513 levels deep; up to 512 can be read.',
  );
});

test('a picture of more occurrences than fit is refused before it is begun', () => {
  expect(() => listOccurrences(chain(14, 10), () => true)).toThrow(/can be drawn. The bill can still be made./);
});

test('occurrences stand in structure order, and their paths lead back to them', () => {
  const bolt = leaf('B');
  const assembly = assemblyOf(node('TOP', [2, node('FOOT', [2, bolt])], [1, bolt]));
  const numbers = (components: readonly number[]) =>
    components.map((index) => assembly.components[index].partNumber).join('/');
  const found = listOccurrences(assembly, (index) => assembly.components[index].usages.length === 0);
  expect(found.map(({ components }) => numbers(components))).toEqual([
    'TOP/FOOT/B',
    'TOP/FOOT/B',
    'TOP/FOOT/B',
    'TOP/FOOT/B',
    'TOP/B',
  ]);
  for (const { path, components } of found) expect(componentsAlong(assembly, path)).toEqual(components);
  expect(componentsAlong(assembly, ['gone.0' as UsageKey])).toBeNull();
});
