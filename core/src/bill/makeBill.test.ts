import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { listOccurrences, treatmentFor, type Assembly } from '../assembly/index.ts';
import { assemblyOf, leaf, node, type Plan } from '../../../testkit/assemblies.ts';
import { addressOf, makeBill, noDecisions, numbersToKeep, type Bill, type Depth } from './index.ts';

const structured = { depth: 'structured', identity: 'part-number' } as const;
const partsOnly = { depth: 'parts-only', identity: 'part-number' } as const;
const firstLevel = { depth: 'single-level', identity: 'part-number' } as const;

/** `item number quantity/total` per row. */
const lines = (assembly: Assembly, bill: Bill) =>
  bill.rows.map(
    ({ item, components, quantity, totalQuantity }) =>
      `${item} ${assembly.components[components[0]].partNumber} ${quantity}/${totalQuantity}`,
  );
const keyOf = (assembly: Assembly, number: string) =>
  assembly.components.find((component) => component.partNumber === number)!.key;

const bolt = leaf('BOLT'),
  plate = leaf('PLATE');
const foot = node('FOOT', [2, bolt], [1, plate]);
const table = assemblyOf(node('TABLE', [3, foot], [1, plate], [4, bolt]));

describe('depths', () => {
  test('level by level: quantities per parent, totals over the machine', () => {
    expect(lines(table, makeBill(table, structured))).toEqual([
      '1 FOOT 3/3',
      '1.1 BOLT 2/6',
      '1.2 PLATE 1/3',
      '2 PLATE 1/1',
      '3 BOLT 4/4',
    ]);
  });
  test('every part once: counted over the whole machine', () => {
    expect(lines(table, makeBill(table, partsOnly))).toEqual(['1 BOLT 10/10', '2 PLATE 4/4']);
  });
  test('the first level only', () => {
    expect(lines(table, makeBill(table, firstLevel))).toEqual(['1 FOOT 3/3', '2 PLATE 1/1', '3 BOLT 4/4']);
  });
  test('a file that is one part gives one line', () => {
    const one = assemblyOf(leaf('ONLY'));
    for (const recipe of [structured, partsOnly, firstLevel])
      expect(lines(one, makeBill(one, recipe))).toEqual(['1 ONLY 1/1']);
  });
  test('a structured bill of too many lines is refused with a way out; every part once can still be made', () => {
    let deep: Plan = leaf('L0');
    for (let at = 1; at < 40; at++)
      deep = {
        number: `N${at}`,
        contents: [
          [1, { number: `M${at}`, contents: [[1, deep]] }],
          [1, deep],
        ],
      };
    const assembly = assemblyOf(deep);
    expect(() => makeBill(assembly, structured)).toThrow(/up to 500000 can be shown. Choose “every part once”/);
    expect(makeBill(assembly, partsOnly).rows[0].totalQuantity).toBe(2 ** 39);
  });
});

describe('merging', () => {
  test('definitions with one part number are one line', () => {
    const assembly = assemblyOf(node('TOP', [2, leaf('A', { name: 'Left' })], [3, leaf('A', { name: 'Right' })]));
    expect(lines(assembly, makeBill(assembly, structured))).toEqual(['1 A 5/5']);
    expect(lines(assembly, makeBill(assembly, { ...structured, identity: 'name' }))).toEqual(['1 A 2/2', '2 A 3/3']);
  });
  test('where there is no number the name decides, and a number is no name', () => {
    const assembly = assemblyOf(
      node('TOP', [1, leaf('', { name: 'A' })], [1, leaf('', { name: 'A' })], [1, leaf('A', { name: 'A' })]),
    );
    expect(makeBill(assembly, partsOnly).rows.map(({ quantity }) => quantity)).toEqual([2, 1]);
  });
  test('assemblies with one number and the same contents are one line with the contents of one', () => {
    const assembly = assemblyOf(node('TOP', [1, node('F', [2, bolt])], [2, node('F', [2, leaf('BOLT')])]));
    expect(lines(assembly, makeBill(assembly, structured))).toEqual(['1 F 3/3', '1.1 BOLT 2/6']);
  });
  test('assemblies with one number and different contents stay apart, with a finding', () => {
    const assembly = assemblyOf(node('TOP', [1, node('F', [2, bolt])], [1, node('F', [3, bolt])]));
    const bill = makeBill(assembly, structured);
    expect(lines(assembly, bill)).toEqual(['1 F 1/1', '1.1 BOLT 2/2', '2 F 1/1', '2.1 BOLT 3/3']);
    expect(bill.findings.map(({ code }) => code)).toEqual(['same-identity-different-contents']);
  });
});

describe('treatments', () => {
  const winch = node('WINCH', [1, leaf('DRUM')], [4, bolt]);
  const sledge = assemblyOf(node('SLEDGE', [1, winch], [1, foot]));
  const withFoot = (word: Parameters<typeof treatmentFor>[0], number = 'WINCH') => ({
    ...noDecisions,
    treatments: sledge.components.map(({ partNumber }) => (partNumber === number ? treatmentFor(word) : undefined)),
  });
  test('listed whole: one line, never opened, its contents not counted', () => {
    expect(lines(sledge, makeBill(sledge, structured, withFoot('listed whole')))).toEqual([
      '1 WINCH 1/1',
      '2 FOOT 1/1',
      '2.1 BOLT 2/2',
      '2.2 PLATE 1/1',
    ]);
    expect(lines(sledge, makeBill(sledge, partsOnly, withFoot('listed whole')))).toEqual([
      '1 WINCH 1/1',
      '2 BOLT 2/2',
      '3 PLATE 1/1',
    ]);
  });
  test('opened up: its contents take its place', () => {
    expect(lines(sledge, makeBill(sledge, structured, withFoot('opened up')))).toEqual([
      '1 DRUM 1/1',
      '2 BOLT 4/4',
      '3 FOOT 1/1',
      '3.1 BOLT 2/2',
      '3.2 PLATE 1/1',
    ]);
  });
  test('left out: gone with everything in it', () => {
    expect(lines(sledge, makeBill(sledge, partsOnly, withFoot('left out')))).toEqual(['1 BOLT 2/2', '2 PLATE 1/1']);
    expect(lines(sledge, makeBill(sledge, partsOnly, withFoot('left out', 'BOLT')))).toEqual([
      '1 DRUM 1/1',
      '2 PLATE 1/1',
    ]);
  });
});

describe('numbers', () => {
  const one = assemblyOf(node('TOP', [1, leaf('A')], [1, leaf('B')], [1, leaf('C')]));
  const grown = {
    ...one,
    components: assemblyOf(node('TOP', [1, leaf('NEW')], [1, leaf('C')], [1, leaf('B')])).components,
  };
  test('a number once issued stays with its part; a new line gets the next one, as a proposal', () => {
    const ledger = Object.fromEntries(
      Object.values({ B: 1, C: 2 }).map((number, at) => [
        addressOf(grown.components.find(({ partNumber }) => partNumber === ['B', 'C'][at])!.key, null),
        { number },
      ]),
    );
    const bill = makeBill(grown, partsOnly, { ...noDecisions, ledger });
    expect(bill.rows.map(({ item, provisional }) => [item, provisional])).toEqual([
      ['3', true],
      ['2', false],
      ['1', false],
    ]);
  });
  test('a retired number is not given out again', () => {
    const ledger = { [addressOf(keyOf(one, 'A'), null)]: { number: 9, retired: true } };
    expect(makeBill(one, partsOnly, { ...noDecisions, ledger }).rows.map(({ item }) => item)).toEqual([
      '10',
      '11',
      '12',
    ]);
  });
  test('changing depth and back gives the same numbers', () => {
    let ledger = { ...numbersToKeep(makeBill(table, structured)) };
    ledger = { ...ledger, ...numbersToKeep(makeBill(table, partsOnly, { ...noDecisions, ledger })) };
    const again = makeBill(table, structured, { ...noDecisions, ledger });
    expect(again.rows.map(({ item }) => item)).toEqual(makeBill(table, structured).rows.map(({ item }) => item));
    expect(again.rows.some(({ provisional }) => provisional)).toBe(false);
  });
  test('a number that two lines claim stays with the first, and is told', () => {
    const ledger = {
      [addressOf(keyOf(one, 'A'), null)]: { number: 5 },
      [addressOf(keyOf(one, 'B'), null)]: { number: 5 },
    };
    const bill = makeBill(one, partsOnly, { ...noDecisions, ledger });
    expect(bill.rows.map(({ item }) => item)).toEqual(['5', '6', '7']);
    expect(bill.findings.map(({ code }) => code)).toEqual(['number-claimed-twice', 'number-gap']);
  });
});

/** Random shared structures, built from the bottom: each assembly holds some of what was built before it. */
const anyAssembly = fc
  .array(fc.array(fc.tuple(fc.integer({ min: 1, max: 3 }), fc.nat()), { minLength: 1, maxLength: 4 }), {
    minLength: 1,
    maxLength: 6,
  })
  .map((levels) => {
    const built: Plan[] = [leaf('P1'), leaf('P2'), leaf('P2', { name: 'again' }), leaf('P3')];
    levels.forEach((contents, at) =>
      built.push(node(`N${at}`, ...contents.map(([count, pick]) => [count, built[pick % built.length]] as const))),
    );
    return assemblyOf(built[built.length - 1]);
  });

describe('against counting every occurrence one by one', () => {
  const leaves = (assembly: Assembly) =>
    listOccurrences(assembly, (index) => assembly.components[index].usages.length === 0);
  test('totals are right, and every occurrence belongs to exactly the line that counts it', () => {
    fc.assert(
      fc.property(
        anyAssembly,
        fc.constantFrom<Depth>('structured', 'parts-only', 'single-level'),
        (assembly, depth) => {
          const bill = makeBill(assembly, { depth, identity: 'part-number' });
          const counted = new Map<number, number>();
          for (const { components } of leaves(assembly)) {
            const row = bill.rowOf(components);
            counted.set(row, (counted.get(row) ?? 0) + 1);
          }
          if (depth === 'single-level')
            expect([...counted.keys()].every((row) => bill.rows[row].level === 1)).toBe(true);
          else
            for (const [row, count] of counted)
              expect([bill.rows[row].item, count]).toEqual([bill.rows[row].item, bill.rows[row].totalQuantity]);
          expect(counted.has(-1)).toBe(false);
        },
      ),
      { numRuns: 150 },
    );
  });
});
