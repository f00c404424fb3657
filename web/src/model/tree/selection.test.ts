import { describe, expect, test } from 'vitest';
import { newComponentEdits } from '../../../../core/src/documents/index.ts';
import { assemblyOf, leaf, node } from '../../../../testkit/assemblies.ts';
import { selectionValues, asTyped } from './selection.ts';

const assembly = assemblyOf(
  node(
    'TOP',
    [1, leaf('A', { material: 'Ash' })],
    [1, leaf('B', { material: 'Ash' })],
    [1, leaf('C', { material: 'Birch' })],
    [1, leaf('D')],
  ),
);
const at = (number: string) => assembly.components.findIndex(({ partNumber }) => partNumber === number);
const values = (numbers: string[], edits = newComponentEdits) =>
  new Map(
    selectionValues(assembly, numbers.map(at), edits, new Map(), ['Coating'], null).map((value) => [value.name, value]),
  );

describe('what several parts say', () => {
  test('one value where all have it, with its origin', () =>
    expect(values(['A', 'B']).get('Material')!.common).toMatchObject({ value: { value: 'Ash' }, origin: 'file' }));
  test('several values, the most frequent first; a part that has none counts as empty', () => {
    expect(values(['C', 'A', 'B']).get('Material')).toMatchObject({ common: null, texts: ['Ash', 'Birch'] });
    expect(values(['A', 'D']).get('Material')).toMatchObject({ common: null, texts: ['Ash', ''] });
  });
  test('what was typed wins over the file, and both are known', () => {
    const edits = {
      ...newComponentEdits,
      typed: { [assembly.components[at('A')].key]: { Material: { value: 'Oak' } } },
    };
    expect(values(['A'], edits).get('Material')!.common).toMatchObject({
      value: { value: 'Oak' },
      origin: 'typed',
      layers: [{ origin: 'typed' }, { origin: 'file', value: { value: 'Ash' } }],
    });
  });
  test('own properties are there before anybody has typed one', () =>
    expect(values(['A']).get('Coating')!.common!.value.value).toBe(''));
});

describe('what is typed', () => {
  test('a number stays one, with its unit and with a comma or point', () =>
    expect([
      asTyped('760,5', { value: 1, unit: 'mm' }, false),
      asTyped(' 3 ', undefined, false, 'number', 'kg'),
    ]).toEqual([
      { value: 760.5, unit: 'mm' },
      { value: 3, unit: 'kg' },
    ]));
  test('text may be kept in capitals; numbers are untouched', () =>
    expect([asTyped('Ash', undefined, true), asTyped('12', undefined, true)]).toEqual([
      { value: 'ASH' },
      { value: '12' },
    ]));
  test('yes and no', () =>
    expect([
      asTyped('Yes', undefined, false, 'yes or no'),
      asTyped('no', { value: true }, false),
      asTyped('maybe', { value: true }, false),
    ]).toEqual([{ value: true }, { value: false }, { value: 'maybe' }]));
  test('empty text is a value', () => expect(asTyped('', { value: 'Ash' }, false)).toEqual({ value: '' }));
});

test('of one place, also what the file says of that place alone', () => {
  const top = assembly.components[assembly.root];
  const [first] = top.usages;
  const marked = {
    ...assembly,
    components: assembly.components.with(assembly.root, {
      ...top,
      usages: top.usages.with(0, { ...first, properties: { Torque: { value: '25 Nm' } } }),
    }),
  };
  const torque = (path: string | null) =>
    selectionValues(marked, [first.child], newComponentEdits, new Map(), [], path as never).find(
      ({ name }) => name === 'Torque',
    )?.common;
  expect(torque(first.key)).toMatchObject({ value: { value: '25 Nm' }, origin: 'file, this one' });
  expect(torque(null)).toBeUndefined();
});
