import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { assemblyOf, leaf, node, type Plan } from '../../../testkit/assemblies.ts';
import { makeBill, noDecisions } from '../bill/index.ts';
import { newComponentEdits, type ComponentEdits } from '../documents/index.ts';
import { applyToPoint, type Vec3 } from '../geometry/index.ts';
import {
  alikeCandidates,
  alikeFindings,
  componentsAlong,
  densityOf,
  editAssembly,
  isOrientation,
  layersOf,
  listOccurrences,
  modelAxes,
  orientationTurn,
  partLabel,
  pathKey,
  pathOf,
  treatmentFor,
  type Assembly,
  type ComponentKey,
  type FactsByShape,
  type ShapeKey,
} from './index.ts';

const bolt = leaf('BOLT', { material: 'A4-70' }),
  plate = leaf('PLATE', { material: 'Steel S355' });
const foot = node('FOOT', [2, bolt], [1, plate]);
const table = assemblyOf(node('TABLE', [2, foot], [3, bolt]));
const key = (number: string) => table.components.find(({ partNumber }) => partNumber === number)!.key;
const places = (number: string) =>
  listOccurrences(table, (index) => table.components[index].partNumber === number).map(({ path }) => pathKey(path));
const none: FactsByShape = new Map();
const edit = (changes: Partial<ComponentEdits>, facts = none) =>
  editAssembly(table, { ...newComponentEdits, ...changes }, facts);
const lines = ({ assembly, treatments }: ReturnType<typeof edit>, depth: 'parts-only' | 'structured' = 'parts-only') =>
  makeBill(assembly, { depth, identity: 'part-number' }, { ...noDecisions, treatments }).rows.map(
    (row) => `${row.totalQuantity} ${partLabel(assembly.components[row.components[0]])}`,
  );

describe('without edits', () => {
  test('the assembly is the file’s, and shares everything', () => {
    const { assembly, originals } = edit({});
    expect(assembly.components.map(({ key: own }) => own)).toEqual(table.components.map(({ key: own }) => own));
    expect(originals).toEqual([...table.components.keys()]);
    expect(assembly.turn).toBeUndefined();
  });
});

describe('for every occurrence', () => {
  test('a typed value wins over the file, and empty text is a value', () => {
    const { assembly } = edit({
      typed: { [key('BOLT')]: { Material: { value: 'Steel 8.8' } }, [key('PLATE')]: { Material: { value: '' } } },
    });
    expect(
      assembly.components
        .filter(({ usages }) => usages.length === 0)
        .map(({ partNumber, properties }) => [partNumber, properties.Material.value]),
    ).toEqual([
      ['BOLT', 'Steel 8.8'],
      ['PLATE', ''],
    ]);
  });
  test('number and name can be typed too, and lines merge by what was typed', () => {
    expect(lines(edit({ typed: { [key('PLATE')]: { 'Part number': { value: 'BOLT' } } } }))).toEqual(['9 BOLT']);
  });
  test('two components decided to be one are one line', () =>
    expect(lines(edit({ sameAs: { [key('PLATE')]: key('BOLT') } }))).toEqual(['9 BOLT']));
  test('a treatment by component', () =>
    expect(lines(edit({ treatments: { [key('FOOT')]: treatmentFor('listed whole') } }))).toEqual(['2 FOOT', '3 BOLT']));
});

describe('for one occurrence', () => {
  test('left out here, it counts everywhere else', () => {
    const [first] = places('PLATE');
    expect(lines(edit({ placeTreatments: { [first]: treatmentFor('left out') } }))).toEqual(['7 BOLT', '1 PLATE']);
  });
  test('in an indented list its parent is no longer the same as the others, so no quantity is wrong', () => {
    const [first] = places('PLATE');
    expect(lines(edit({ placeTreatments: { [first]: treatmentFor('left out') } }), 'structured').sort()).toEqual([
      '1 FOOT',
      '1 FOOT',
      '1 PLATE',
      '2 BOLT',
      '2 BOLT',
      '3 BOLT',
    ]);
  });
  test('a value typed here makes the merged line say that values differ', () => {
    const [first] = places('BOLT');
    const { assembly, treatments } = edit({ typedAt: { [first]: { Material: { value: 'Brass' } } } });
    const row = makeBill(assembly, { depth: 'parts-only', identity: 'part-number' }, { ...noDecisions, treatments })
      .rows[0];
    expect([
      row.quantity,
      new Set(row.components.map((index) => assembly.components[index].properties.Material.value)),
    ]).toEqual([7, new Set(['Brass', 'A4-70'])]);
  });
  test('only what lies on the way gets components of its own; paths and keys stay', () => {
    const [first] = places('PLATE');
    const { assembly, originals } = edit({ placeTreatments: { [first]: treatmentFor('left out') } });
    expect(assembly.components.length - table.components.length).toBe(3); // plate, its foot, the table
    const along = componentsAlong(assembly, pathOf(first))!;
    expect(along.map((index) => assembly.components[index].key)).toEqual(
      componentsAlong(table, pathOf(first))!.map((index) => table.components[index].key),
    );
    expect(along.map((index) => originals[index])).toEqual(componentsAlong(table, pathOf(first)));
  });
  test('a property that the file gives one usage holds for that one, wherever its parent stands', () => {
    const withUsage: Assembly = {
      ...table,
      components: table.components.map((component) =>
        component.partNumber === 'FOOT'
          ? {
              ...component,
              usages: component.usages.map((usage, at) =>
                at === 0 ? { ...usage, properties: { Torque: { value: '25 Nm' } } } : usage,
              ),
            }
          : component,
      ),
    };
    const { assembly } = editAssembly(withUsage, newComponentEdits, none);
    expect(
      listOccurrences(assembly, () => true).filter(
        ({ components }) => assembly.components[components.at(-1)!].properties.Torque,
      ).length,
    ).toBe(2); // in both feet
  });
});

/** Counts by walking every occurrence with its own treatment: slow and plain. */
function countBySight(assembly: Assembly, edits: ComponentEdits): Record<string, number> {
  const counts: Record<string, number> = {};
  const walk = (at: number, path: string[]) => {
    for (const usage of assembly.components[at].usages) {
      const here = [...path, usage.key],
        child = assembly.components[usage.child];
      const { ownLine, countContents } =
        edits.placeTreatments[pathKey(here as never)] ?? edits.treatments[child.key] ?? treatmentFor('listed');
      if (child.usages.length > 0 && countContents) walk(usage.child, here);
      else if (ownLine) counts[child.partNumber] = (counts[child.partNumber] ?? 0) + 1;
    }
  };
  walk(assembly.root, []);
  return counts;
}

test('whatever is edited where, the list of parts counts what counting by sight finds', () => {
  const leaves = ['A', 'B', 'C'].map((number) => leaf(number));
  const plan = fc.letrec<{ plan: Plan }>((tie) => ({
    plan: fc.oneof(
      { maxDepth: 3 },
      fc.constantFrom(...leaves),
      fc
        .tuple(
          fc.constantFrom('X', 'Y', 'Z'),
          fc.array(fc.tuple(fc.integer({ min: 1, max: 2 }), tie('plan')), { minLength: 1, maxLength: 3 }),
        )
        .map(([number, contents]) => node(number, ...contents)),
    ),
  })).plan;
  const word = fc.constantFrom('listed', 'listed whole', 'opened up', 'left out' as const);
  fc.assert(
    fc.property(
      fc.array(plan, { minLength: 1, maxLength: 4 }),
      fc.array(fc.tuple(fc.nat(), word), { maxLength: 3 }),
      fc.array(fc.tuple(fc.nat(), word), { maxLength: 4 }),
      (inside, everywhere, here) => {
        const assembly = assemblyOf(node('TOP', ...inside.map((one) => [1, one] as const)));
        const all = listOccurrences(assembly, (index) => index !== assembly.root);
        const edits: ComponentEdits = {
          ...newComponentEdits,
          treatments: Object.fromEntries(
            everywhere.map(([at, chosen]) => [
              assembly.components[all[at % all.length].components.at(-1)!].key,
              treatmentFor(chosen),
            ]),
          ),
          placeTreatments: Object.fromEntries(
            here.map(([at, chosen]) => [pathKey(all[at % all.length].path), treatmentFor(chosen)]),
          ),
        };
        const { assembly: edited, treatments } = editAssembly(assembly, edits, none);
        const counted: Record<string, number> = {};
        for (const row of makeBill(
          edited,
          { depth: 'parts-only', identity: 'part-number' },
          { ...noDecisions, treatments },
        ).rows) {
          const number = edited.components[row.components[0]].partNumber;
          counted[number] = (counted[number] ?? 0) + row.quantity;
        }
        expect(counted).toEqual(countBySight(assembly, edits));
      },
    ),
    { numRuns: 300 },
  );
});

describe('layers of values', () => {
  const shape = 's' as ShapeKey;
  const part = {
    ...table.components[table.components.findIndex(({ partNumber }) => partNumber === 'PLATE')],
    shape,
    properties: { Material: { value: 'Steel S355' }, Length: { value: 99, unit: 'mm' } },
  };
  const facts: FactsByShape = new Map([
    [
      shape,
      { volume: 1_000_000, sizes: { Length: { value: 100, unit: 'mm', how: 'measured along the straight sides' } } },
    ],
  ]);
  const value = (name: string, edits = newComponentEdits, more = {}) =>
    layersOf(part, { edits, facts, ...more }).find((one) => one.name === name);

  test('file, measured, typed, usage, this one: the later wins, and all are kept', () => {
    const edits = { ...newComponentEdits, typed: { [part.key]: { Length: { value: 101 } } } };
    expect(value('Length')).toMatchObject({
      value: { value: 100 },
      origin: 'measured',
      how: 'measured along the straight sides',
    });
    expect(value('Length', edits)).toMatchObject({ value: { value: 101 }, origin: 'typed' });
    const all = value('Length', edits, { usage: { Length: { value: 102 } }, typedAt: { Length: { value: 103 } } })!;
    expect(all.layers.map((layer) => [layer.origin, layer.value.value])).toEqual([
      ['typed, this one', 103],
      ['file, this one', 102],
      ['typed', 101],
      ['measured', 100],
      ['file', 99],
    ]);
  });
  test('mass is volume times the density of the material, and says so', () => {
    expect(value('Mass')).toMatchObject({
      value: { value: 7.85, unit: 'kg' },
      origin: 'measured',
      how: 'volume of the shape × 7850 kg/m³ (steel)',
    });
    expect(value('Mass', { ...newComponentEdits, densities: { 'Steel S355': 8000 } })).toMatchObject({
      value: { value: 8 },
    });
  });
  test('the file’s own volume is better than that of facets; a mass in the file is better than either', () => {
    expect(
      layersOf({ ...part, validation: { volume: 2_000_000 } }, { edits: newComponentEdits, facts }).find(
        ({ name }) => name === 'Mass',
      ),
    ).toMatchObject({ value: { value: 15.7 }, how: 'volume given by the file × 7850 kg/m³ (steel)' });
    expect(
      layersOf(
        { ...part, properties: { ...part.properties, Mass: { value: 3, unit: 'kg' } } },
        { edits: newComponentEdits, facts },
      ).find(({ name }) => name === 'Mass'),
    ).toMatchObject({ value: { value: 3 }, origin: 'file' });
  });
  test('an unknown material has no mass, not none', () => {
    expect(
      value('Mass', { ...newComponentEdits, typed: { [part.key]: { Material: { value: 'Unobtainium' } } } }),
    ).toBeUndefined();
  });
  test.each([
    ['Steel S355', 'steel'],
    ['Al 6082', 'al'],
    ['Birch ply', 'birch ply'],
    ['birch', 'birch'],
    ['Alder', null],
    ['', null],
    ['A4-70', 'a4-70'],
  ])('the density of “%s” is that of %s', (material, entry) =>
    expect(densityOf(material, {})?.entry ?? null).toBe(entry),
  );
});

describe('how the machine stands', () => {
  test('up comes to z and front to −y, whatever they are, without mirroring', () => {
    const vector = (axis: string): Vec3 =>
      ['x', 'y', 'z'].map((one) => (axis[1] === one ? (axis[0] === '-' ? -1 : 1) : 0)) as unknown as Vec3;
    for (const up of modelAxes)
      for (const front of modelAxes) {
        if (!isOrientation({ up, front })) continue;
        const turn = orientationTurn({ up, front });
        if (!turn) continue;
        expect([up, front, applyToPoint(turn, vector(up)), applyToPoint(turn, vector(front))]).toEqual([
          up,
          front,
          [0, 0, 1],
          [0, -1, 0],
        ]);
      }
    expect(orientationTurn({ up: '+z', front: '-y' })).toBeNull();
  });
  test('every occurrence is turned', () => {
    const { assembly } = edit({ orientation: { up: '+y', front: '+z' } });
    expect(
      listOccurrences(assembly, () => true).every(({ placement }) => placement[6] === -1 || placement[9] === 1),
    ).toBe(true);
  });
});

describe('alike shapes', () => {
  const shaped = (number: string, name: string, shape: string) => ({
    ...table.components[0],
    key: `key ${number} ${name}` as ComponentKey,
    partNumber: number,
    name,
    shape: shape as ShapeKey,
    usages: [],
  });
  const of = (...components: ReturnType<typeof shaped>[]): Assembly => ({ ...table, components });
  test('one shape under two numbers, also where only laying on one another tells', () => {
    const two = of(shaped('A', 'Left', 's'), shaped('B', 'Right', 't'), shaped('C', 'Other', 'u'));
    expect(
      alikeFindings(two, [{ shapes: ['s' as ShapeKey, 't' as ShapeKey], likeness: 'same' }]).map(
        ({ code, message }) => [code, message],
      ),
    ).toEqual([['same-shape', '“A” and “B” have the same shape under different numbers.']]);
    expect(alikeFindings(two, [])).toEqual([]);
  });
  test('one number on two shapes', () =>
    expect(
      alikeFindings(of(shaped('A', 'Short', 's'), shaped('A', 'Long', 't')), []).map(({ message }) => message),
    ).toEqual([
      'Number “A” is used for 2 different shapes: “Short” and “Long”. In lists they are one line until you keep them apart.',
    ]));
  test('a mirrored pair', () =>
    expect(
      alikeFindings(of(shaped('L', '', 's'), shaped('R', '', 't')), [
        { shapes: ['s' as ShapeKey, 't' as ShapeKey], likeness: 'mirrored' },
      ]).map(({ code }) => code),
    ).toEqual(['mirrored-pair']));
  test('findings keep their key when the file is read anew in another order', () => {
    const one = alikeFindings(of(shaped('A', '', 's'), shaped('B', '', 's')), []),
      other = alikeFindings(of(shaped('B', '', 's'), shaped('A', '', 's')), []);
    expect(one.map(({ key: own }) => own)).toEqual(other.map(({ key: own }) => own));
  });
  test('only shapes of equal measures are looked at', () => {
    const measured = (name: string, volume: number, area = 6) => ({
      key: name as ShapeKey,
      moments: { volume, area, principal: [1, 2, 3] as const },
    });
    expect(
      alikeCandidates([
        measured('a', 1),
        measured('b', 1.0000001),
        measured('c', 1, 7),
        measured('d', 2),
        measured('e', 0),
      ]),
    ).toEqual([['a', 'b']]);
  });
});
