import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { assemblyOf, leaf, node, type Plan } from '../../../testkit/assemblies.ts';
import { firstNumbers, makeBill, noDecisions, renumber, type Bill, type Recipe } from '../bill/index.ts';
import { newColumn, type Column } from '../columns/index.ts';
import { billOfList } from '../documents/index.ts';
import { parseTable, proposeMapping, readStructureList } from '../sources/index.ts';
import { billToText } from './index.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
/** The list that comes of reading a list. */
function again(text: string): { text: string; findings: string[]; lost: string[]; bill: Bill } {
  const table = parseTable(bytes(text));
  const { assembly, list } = readStructureList(table, proposeMapping(table));
  const { bill: document, lost } = billOfList(assembly, list, 'list');
  const { ledger, columns, recipe } = document;
  const bill = makeBill(assembly, recipe, { treatments: [], ledger }, { columns });
  return {
    text: billToText(bill, columns, ','),
    findings: assembly.findings.map(({ message }) => message),
    lost,
    bill,
  };
}

const columns: readonly Column[] = [
  newColumn('item'),
  newColumn('quantity'),
  newColumn('partNumber'),
  newColumn('name'),
  newColumn('property:Material'),
  { ...newColumn('property:Mass'), heading: 'Mass each', format: { unit: 'kg', decimals: 3 }, total: true },
];
const part = (number: string, material: string, kg: number) =>
  leaf(number, { name: `Part, “${number}”`, material, properties: { Mass: { value: kg, unit: 'kg' } } });
const machine = assemblyOf(
  node(
    'TOP',
    [2, node('FOOT', [4, part('M10', 'Steel', 0.02)], [1, part('PAD', 'Rubber', 0.1)])],
    [3, part('M2', 'Steel', 0.004)],
    [1, part('-7', 'Ash', 1.5)],
  ),
);

describe('a list that this program wrote, read again', () => {
  const written = (recipe: Partial<Recipe>, own: readonly Column[] = columns) => {
    const whole: Recipe = { depth: 'parts-only', identity: 'part-number', ...recipe };
    const made = makeBill(machine, whole);
    const ledger = firstNumbers(made, {});
    return billToText(makeBill(machine, whole, { treatments: [], ledger }, { columns: own }), own, ',');
  };
  test('every part once, with its sum: the same text', () => {
    const text = written({});
    expect(again(text)).toMatchObject({ text, lost: [] });
    expect(again(text).findings).toEqual(['Row 6 of the list is a heading or a sum and was not read as parts.']);
  });
  test('indented, with numbers by level', () => {
    const text = written({ depth: 'structured' }, columns.slice(0, 5));
    expect(text).toContain('\n1.2,1,PAD');
    expect(again(text)).toMatchObject({ text, lost: [], findings: [] });
  });
  test('groups with headings and subtotals are told, and their parts keep their numbers', () => {
    const text = written({ groups: [{ source: 'property:Material', subtotal: true }] });
    const { bill, findings } = again(text);
    expect(bill.rows.map(({ item }) => item).toSorted()).toEqual(['1', '2', '3', '4']);
    expect(findings[0]).toMatch(/^Rows 2, 4, .* are headings or sums and were not read as parts\.$/);
  });
  test('the same without a column of numbers: headings are known by their sums, or by their column', () => {
    for (const subtotal of [true, false]) {
      const text = written({ groups: [{ source: 'property:Material', subtotal }] }, columns.slice(1));
      const { bill, findings } = again(text);
      expect(bill.rows).toHaveLength(4);
      expect(findings[0]).toContain('headings or sums');
    }
  });
  test('a part number alone in its row stays a part', () => {
    const { bill, findings } = again('Part number,Qty\r\nA-1,\r\nA-2,3\r\n');
    expect([bill.rows.length, findings]).toEqual([2, []]);
  });
  test('numbers in tens, with a prefix and leading zeros', () => {
    const numbering = {
      start: 10,
      step: 10,
      prefix: 'P-',
      width: 3,
      separator: '.',
      letters: false,
      groupRange: 0,
      reserved: [],
    };
    const recipe: Recipe = { depth: 'parts-only', identity: 'part-number', numbering };
    const made = makeBill(machine, recipe);
    const { numbers } = renumber({ bill: made, structure: made, ledger: {}, numbering, order: 'structure' });
    const ledger = numbers as never;
    const text = billToText(makeBill(machine, recipe, { treatments: [], ledger }, { columns }), columns, ',');
    expect(text).toContain('P-030');
    expect(again(text)).toMatchObject({ text, lost: [] });
  });
  test('as required and measured quantities are kept as what they are', () => {
    const text = 'Item,Qty,Name\r\n1,4,Tube\r\n2,as required,Grease\r\n3,2.66 m,Rope\r\n';
    expect(again(text)).toMatchObject({ text, lost: [], findings: [] });
  });
  test('texts that would run as a formula have no apostrophe of their own', () => {
    expect(written({})).toContain("'-7");
    expect(again(written({})).bill.rows.map((row) => again(written({})).bill.cell(row, columns[2]).text)).toContain(
      '-7',
    );
  });
  test.each(['=1+1', '+49', '-7', '@x', ' =1', '\u00a0=1', 'Slat\n=cmd', '\t=1'])(
    '%j never runs, and comes back',
    (name) => {
      const own = [newColumn('item'), newColumn('quantity'), newColumn('name')];
      const named = assemblyOf(node('TOP', [1, leaf('', { name })], [1, leaf('', { name: 'Beam' })]));
      const recipe: Recipe = { depth: 'parts-only', identity: 'name' };
      const text = billToText(makeBill(named, recipe, noDecisions, { columns: own }), own, ',');
      expect(text).toMatch(/[",]'/);
      expect(
        parseTable(bytes(text))
          .flat()
          .map((cell) => cell.trim()),
      ).toContain(name.replaceAll('\u00a0', ' ').trim());
    },
  );
  test('a sum over pieces comes back as one, a sum over lines as that', () => {
    const cells = 'Qty,Part number,Mass [kg]\r\n2,A,1.50\r\n1,B,2.00\r\n';
    for (const sum of ['5.00', '3.50 (one each)'])
      expect(again(`${cells},Total,${sum}\r\n`).text).toBe(`${cells},Total,${sum}\r\n`);
    expect(again(`${cells},Total,9.00\r\n`).text).toBe(cells); // adds neither: it is told, and not claimed again
  });
  test('any machine, indented or every part once, whatever its numbers', () => {
    const plan: fc.Arbitrary<Plan> = fc.letrec<{ plan: Plan; leaf: Plan }>((tie) => ({
      leaf: fc.nat(12).map((at) => leaf(`N${at}`, { name: `Name ${at}`, material: ['Ash', 'Steel', 'Brass'][at % 3] })),
      plan: fc.oneof(
        { depthSize: 'small', withCrossShrink: true },
        tie('leaf'),
        fc
          .tuple(
            fc.nat(500),
            fc.uniqueArray(fc.tuple(fc.integer({ min: 1, max: 9 }), tie('leaf')), {
              minLength: 1,
              maxLength: 4,
              selector: ([, one]) => JSON.stringify(one),
            }),
          )
          .map(([at, parts]) => node(`G${at}-${JSON.stringify(parts).length}`, ...(parts as [number, Plan][]))),
      ),
    })).plan;
    fc.assert(
      fc.property(
        fc.uniqueArray(plan, { minLength: 1, maxLength: 5, selector: (one) => JSON.stringify(one) }),
        fc.constantFrom('structured' as const, 'parts-only' as const),
        fc.shuffledSubarray([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20], { minLength: 20 }),
        (plans, depth, order) => {
          const assembly = assemblyOf(node('TOP', ...plans.map((one): [number, Plan] => [1, one])));
          const recipe: Recipe = { depth, identity: 'part-number' };
          const ledger: Record<string, { number: number }> = {};
          makeBill(assembly, recipe).rows.forEach(({ addresses }, at) => {
            for (const address of addresses) ledger[address] ??= { number: order[at % 20] + 20 * Math.floor(at / 20) };
          });
          const own = columns.slice(0, 5);
          const text = billToText(makeBill(assembly, recipe, { treatments: [], ledger }, { columns: own }), own, ',');
          expect(again(text).text).toBe(text);
        },
      ),
    );
  });
});
