import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { listOccurrences, type Assembly } from '../assembly/index.ts';
import { assemblyOf, leaf, node, type Plan } from '../../../testkit/assemblies.ts';
import {
  computeBill,
  makeBill,
  noDecisions,
  numbersToKeep,
  openBill,
  packBill,
  renumber,
  unpackBill,
  usualNumbering,
  type Bill,
  type Recipe,
} from './index.ts';

const structured: Recipe = { depth: 'structured', identity: 'part-number' };
const partsOnly: Recipe = { depth: 'parts-only', identity: 'part-number' };

/** Random shared structures, built from the bottom: each assembly holds some of what was built before it. */
const anyPlan = fc
  .array(fc.array(fc.tuple(fc.integer({ min: 1, max: 3 }), fc.nat()), { minLength: 1, maxLength: 4 }), {
    minLength: 1,
    maxLength: 6,
  })
  .map((levels) => {
    const built: Plan[] = [
      leaf('P1', { material: 'Ash' }),
      leaf('P2'),
      leaf('P2', { name: 'again', material: 'Oak' }),
      leaf('p 10'),
    ];
    levels.forEach((contents, at) =>
      built.push(node(`N${at}`, ...contents.map(([count, pick]) => [count, built[pick % built.length]] as const))),
    );
    return built[built.length - 1];
  });
const anyAssembly = anyPlan.map(assemblyOf);

const number = (assembly: Assembly, bill: Bill, at: number) =>
  assembly.components[bill.rows[at].components[0]].partNumber;
/** Total pieces by part number over the lines that are not opened. */
function totals(assembly: Assembly, bill: Bill): Record<string, number> {
  const sums: Record<string, number> = {};
  bill.rows.forEach((row, at) => {
    if (!row.opened) sums[number(assembly, bill, at)] = (sums[number(assembly, bill, at)] ?? 0) + row.totalQuantity;
  });
  return sums;
}
/** Lines without their place: level, number, quantity, in no order. */
const multiset = (assembly: Assembly, bill: Bill) =>
  bill.rows.map((row, at) => `${row.level} ${number(assembly, bill, at)} ${row.quantity} ${row.totalQuantity}`).sort();

const reversed = (assembly: Assembly): Assembly => ({
  ...assembly,
  components: assembly.components.map((component) => ({ ...component, usages: component.usages.toReversed() })),
});
const ledgerOf = (bill: Bill) => ({ ...noDecisions, ledger: numbersToKeep(bill) });

describe('laws of bills, for random shared structures', () => {
  test('the parts of the fully opened indented bill, merged over the machine, are every part once', () => {
    fc.assert(
      fc.property(anyAssembly, (assembly) => {
        expect(totals(assembly, makeBill(assembly, structured))).toEqual(
          totals(assembly, makeBill(assembly, partsOnly)),
        );
      }),
    );
  });
  test('lines do not depend on the order of usages', () => {
    fc.assert(
      fc.property(anyAssembly, fc.constantFrom(structured, partsOnly), (assembly, recipe) => {
        expect(multiset(assembly, makeBill(reversed(assembly), recipe))).toEqual(
          multiset(assembly, makeBill(assembly, recipe)),
        );
      }),
    );
  });
  test('the first level only is the first level of the indented bill', () => {
    fc.assert(
      fc.property(anyAssembly, (assembly) => {
        const first = makeBill(assembly, structured).rows.filter(({ level }) => level === 1);
        const single = makeBill(assembly, { ...structured, depth: 'single-level' }).rows;
        expect(single.map(({ item, quantity }) => [item, quantity])).toEqual(
          first.map(({ item, quantity }) => [item, quantity]),
        );
      }),
    );
  });
  test('what is closed has one line for all in it, and opening it again changes nothing', () => {
    fc.assert(
      fc.property(anyAssembly, fc.nat(), (assembly, pick) => {
        const open = makeBill(assembly, structured);
        const foldable = open.rows.filter(({ opened }) => opened);
        if (foldable.length === 0) return;
        const { key } = assembly.components[foldable[pick % foldable.length].components[0]];
        const closed = makeBill(assembly, { ...structured, closed: { [key]: true } as Recipe['closed'] });
        expect(closed.rows.every((row) => row.parent < 0 || closed.rows[row.parent].opened)).toBe(true);
        expect(closed.rows.some((row) => !row.opened && row.canOpen)).toBe(true);
        expect(makeBill(assembly, { ...structured, closed: {} }).rows).toEqual(open.rows);
      }),
    );
  });
  test('no order, group or filter changes a number that was issued', () => {
    fc.assert(
      fc.property(
        anyAssembly,
        fc.constantFrom(structured, partsOnly),
        fc.constantFrom('name', 'partNumber', 'quantity', 'property:Material' as const),
        fc.boolean(),
        (assembly, recipe, source, descending) => {
          const decisions = ledgerOf(makeBill(assembly, recipe));
          const items = (bill: Bill) => new Map(bill.rows.map(({ key, item }) => [key, item]));
          const before = items(makeBill(assembly, recipe, decisions));
          const sorted = makeBill(
            assembly,
            {
              ...recipe,
              sort: [{ source, descending } as never],
              groups: [{ source: 'property:Material' }],
              filter: { holds: 'all', of: [{ source: 'partNumber', comparison: 'is not', operand: 'P1' }] },
            },
            decisions,
          );
          for (const [key, item] of items(sorted)) expect(before.get(key)).toBe(item);
        },
      ),
    );
  });
  test('renumbering gives every line another number than its siblings, and spares what is pinned', () => {
    fc.assert(
      fc.property(anyAssembly, fc.constantFrom(structured, partsOnly), fc.nat(), (assembly, recipe, pick) => {
        const bill = makeBill(assembly, recipe);
        const ledger = { ...numbersToKeep(bill) };
        const pinned = bill.rows[pick % bill.rows.length];
        for (const address of pinned.addresses) ledger[address] = { number: 7, pinned: true };
        const now = makeBill(assembly, recipe, { ...noDecisions, ledger });
        const numbering = { ...usualNumbering, start: 2, step: 5, reserved: [{ from: 10, to: 14 }] };
        const { numbers } = renumber({ bill: now, structure: now, ledger, numbering, order: 'shown' });
        const after = makeBill(
          assembly,
          { ...recipe, numbering },
          { ...noDecisions, ledger: { ...ledger, ...(numbers as typeof ledger) } },
        );
        const seen = new Set(after.rows.map((row) => `${row.parent} ${row.number}`));
        expect(seen.size).toBe(after.rows.length);
        expect(after.rows.some(({ number: given }) => given >= 10 && given <= 14)).toBe(false);
        expect(after.rows.find(({ addresses }) => addresses[0] === pinned.addresses[0])!.number).toBe(7);
        expect(after.rows.every(({ provisional }) => !provisional)).toBe(true);
      }),
    );
  });
  test('a bill on its way between threads reads the same', () => {
    fc.assert(
      fc.property(anyAssembly, (assembly) => {
        const bill = makeBill(assembly, structured);
        const { recipe, rows, sections, findings } = bill;
        const there = openBill(assembly, JSON.parse(JSON.stringify({ recipe, rows, sections, findings })), noDecisions);
        expect(there.rows).toEqual(bill.rows);
        for (const { components } of listOccurrences(assembly, () => true))
          expect(there.rowOf(components)).toBe(bill.rowOf(components));
      }),
      { numRuns: 20 },
    );
  });
  test('a bill handed over between threads is the bill again', () => {
    const lines = [
      {
        id: 'g',
        parent: null,
        after: null,
        quantity: { kind: 'as required' as const },
        properties: { Name: { value: 'Grease' } },
      },
    ];
    const recipes: Recipe[] = [
      structured,
      partsOnly,
      {
        depth: 'single-level',
        identity: 'name',
        quantityRules: [
          {
            when: { holds: 'all', of: [{ source: 'partNumber', comparison: 'is', operand: 'P1' }] },
            is: { kind: 'as required' },
          },
        ],
      },
    ];
    fc.assert(
      fc.property(anyAssembly, fc.constantFrom(...recipes), fc.boolean(), (assembly, recipe, issued) => {
        const first = computeBill(assembly, recipe, { ...noDecisions, lines });
        const bill = issued
          ? computeBill(assembly, recipe, { ...ledgerOf(openBill(assembly, first, noDecisions)), lines })
          : first;
        expect(unpackBill(JSON.parse(JSON.stringify(packBill(bill))), assembly)).toEqual(bill);
      }),
    );
  });
});
