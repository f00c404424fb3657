import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../../testkit/assemblies.ts';
import { makeBill } from '../../bill/index.ts';
import { defaultColumns } from '../../columns/index.ts';
import { boxesOverlap, boxInside, growBox } from '../../geometry/index.ts';
import {
  blankSheet,
  divideList,
  drawSheet,
  usualPaper,
  linesLeftOut,
  linesShownTwice,
  listSheets,
  noTitleFields,
  type Sheet,
  type SheetInputs,
  type SheetTable,
} from '../index.ts';

/** A machine of so many parts, its list on A4. */
function machine(parts: number, list: Partial<SheetTable> = {}): SheetInputs & { readonly list: SheetTable } {
  const assembly = assemblyOf(
    node(
      'TOP',
      ...Array.from(
        { length: parts },
        (_, at) => [1, leaf(`P-${at + 1}`, { name: `Plate number ${at + 1}` })] as const,
      ),
    ),
  );
  const columns = defaultColumns(assembly);
  const bill = makeBill(assembly, { depth: 'parts-only', identity: 'part-number' });
  const table: SheetTable = { id: 'list', place: 'title-block', ...list };
  const sheet: Sheet = { ...blankSheet('Drawing', usualPaper('A4')), tables: [table] };
  return { sheet, shared: noTitleFields, assembly, bill, columns, lines: new Map(), list: table };
}
const ids = () => {
  let next = 0;
  return () => `new ${++next}`;
};

describe('a list that is too long for its sheet', () => {
  test('stays whole where it fits', () => {
    const inputs = machine(20);
    expect(divideList(inputs, inputs.list, ids())).toBeNull();
  });
  test('stays with its first strip where that is asked for', () => {
    const inputs = machine(20, { strips: 2 });
    const { here, rest } = divideList(inputs, inputs.list, ids(), true, true)!;
    expect(here.lines).toEqual({ upTo: 10 });
    expect(rest.map(({ lines }) => lines)).toEqual([{ after: 10 }]);
  });
  test('goes on on further sheets: every line stands once, all within the frame, lettered alike', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 150, max: 420 }),
        fc.boolean(),
        fc.constantFrom(2.5, 3.5, undefined),
        (parts, isBeside, lettering) => {
          const inputs = machine(parts, lettering === undefined ? {} : { lettering });
          const divided = divideList(inputs, inputs.list, ids(), isBeside)!;
          const sheets = [
            { ...inputs.sheet, tables: [divided.here] },
            ...listSheets(inputs.sheet, 'Parts list', divided.rest),
          ];
          const drawn = sheets.map((sheet, at) => drawSheet({ ...inputs, sheet, others: sheets.toSpliced(at, 1) }));
          const shown = drawn.flatMap(({ layout }) => layout.tables[0].billRows);
          expect(shown).toEqual(Array.from({ length: parts }, (_, at) => at));
          for (const { layout, problems } of drawn) {
            const [{ measured }] = layout.tables;
            expect(measured.fits && boxInside(measured.box, growBox(layout.frame, 0.01))).toBe(true);
            expect(boxesOverlap(measured.box, layout.titleBlock)).toBe(false);
            expect(measured.style).toEqual(drawn[0].layout.tables[0].measured.style);
            expect(problems.map(({ code }) => code)).not.toContain('list-gap');
          }
          expect(drawn[0].layout.tables[0].measured.style.lettering).toBe(lettering ?? 2.5);
        },
      ),
      { numRuns: 12, seed: 11 },
    );
  });
  test('says so at its end, and on the sheet where it goes on', () => {
    const inputs = machine(200);
    const { here, rest } = divideList(inputs, inputs.list, ids())!;
    const textsOf = (sheet: Sheet) =>
      drawSheet({ ...inputs, sheet }).scene.marks.flatMap((mark) => (mark.kind === 'text' ? [mark.text] : []));
    expect(textsOf({ ...inputs.sheet, tables: [here] })).toContain('Continued on a further sheet');
    const further = textsOf(listSheets(inputs.sheet, 'Parts list', rest).at(-1)!);
    expect(further).toContain('Continued');
    expect(further).not.toContain('Continued on a further sheet');
  });
  test('leaves room for views beside it', () => {
    const inputs = machine(200);
    const beside = divideList(inputs, inputs.list, ids(), true)!.here.lines!.upTo!;
    expect(beside).toBeLessThan(divideList(inputs, inputs.list, ids(), false)!.here.lines!.upTo!);
  });
  test('is not divided where not one line fits', () => {
    const inputs = machine(5, { lettering: 14, pitch: 50 });
    const low: Sheet = { ...inputs.sheet, paper: { size: 'own', landscape: true, sides: [110, 120] } };
    expect(divideList({ ...inputs, sheet: low }, inputs.list, ids())).toBeNull();
  });
});

describe('lines that stand on no list', () => {
  const part = (after?: number, upTo?: number): SheetTable => ({
    id: 'list',
    place: 'title-block',
    lines: { ...(after === undefined ? {} : { after }), ...(upTo === undefined ? {} : { upTo }) },
  });
  test('are told, from the first to the last of each gap', () => {
    expect(linesLeftOut([part(undefined, 10), part(10)], 30)).toEqual([]);
    expect(linesLeftOut([part(20), part(undefined, 10)], 30)).toEqual([[11, 20]]);
    expect(linesLeftOut([part(undefined, 10)], 30)).toEqual([[11, 30]]);
    expect(linesLeftOut([part(5, 10)], 30)).toEqual([
      [1, 5],
      [11, 30],
    ]);
  });
  test('so are those that stand on two, as by slow counting', () => {
    const end = fc.option(fc.integer({ min: 1, max: 12 }), { nil: undefined });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(end, end), { minLength: 1, maxLength: 2 }),
        fc.integer({ min: 1, max: 12 }),
        (ends, of) => {
          const parts = ends.map(([after, upTo]) => part(after, upTo));
          const times = Array.from(
            { length: of },
            (_, line) => ends.filter(([after = 0, upTo = of]) => line >= after && line < upTo).length,
          );
          const lines = (gaps: readonly (readonly [number, number])[]) =>
            gaps.flatMap(([from, to]) => Array.from({ length: to - from + 1 }, (_, at) => from + at));
          expect(lines(linesLeftOut(parts, of))).toEqual(times.flatMap((count, at) => (count === 0 ? [at + 1] : [])));
          expect(lines(linesShownTwice(parts, of))).toEqual(times.flatMap((count, at) => (count > 1 ? [at + 1] : [])));
        },
      ),
    );
  });
  test('there are none where a whole list stands beside them, or the list has become shorter', () => {
    expect(linesLeftOut([part(5, 10), { id: 'whole', place: 'top-left' }], 30)).toEqual([]);
    expect(linesLeftOut([part(undefined, 10), part(10)], 4)).toEqual([]);
    expect(linesLeftOut([], 4)).toEqual([]);
  });
});
