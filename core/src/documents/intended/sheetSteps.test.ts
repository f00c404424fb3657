import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { blankSheet, usualPaper, type Sheet } from '../../sheets/index.ts';
import { applyCommand, sheetSteps } from '../index.ts';

const views = fc.uniqueArray(
  fc.record({
    id: fc.constantFrom('v1', 'v2', 'v3'),
    direction: fc.constantFrom('front' as const, 'top' as const),
    scale: fc.constantFrom(0.1, 0.5),
    centre: fc.tuple(fc.nat(200), fc.nat(200)),
    byHand: fc.boolean(),
    caption: fc.option(fc.constantFrom('', 'From behind'), { nil: undefined }),
    notToScale: fc.constantFrom(true as const, undefined),
  }),
  { selector: ({ id }) => id },
);
const sheets: fc.Arbitrary<Sheet> = views.chain((drawn) =>
  fc
    .record({
      tables: fc.uniqueArray(
        fc.record({
          id: fc.constantFrom('list', 'second'),
          place: fc.constantFrom('title-block' as const, 'top-left' as const),
        }),
        { selector: ({ id }) => id },
      ),
      lettering: fc.constantFrom(2.5, 5),
      notes: fc.uniqueArray(
        fc.record({
          id: fc.constantFrom('n1', 'n2'),
          at: fc.tuple(fc.nat(200), fc.nat(200)),
          width: fc.constant(80),
          lettering: fc.constant(3.5),
          text: fc.constantFrom('Wax', 'Oil'),
        }),
        { selector: ({ id }) => id },
      ),
      dimensions: drawn.length
        ? fc.uniqueArray(
            fc.record({
              id: fc.constantFrom('d1', 'd2'),
              view: fc.constantFrom(...drawn.map(({ id }) => id)),
              kind: fc.constantFrom('width' as const, 'height' as const),
              offset: fc.nat(50),
            }),
            { selector: ({ id }) => id },
          )
        : fc.constant([]),
      rails: drawn.length
        ? fc.uniqueArray(
            fc.record({
              id: fc.constantFrom('r1', 'r2'),
              view: fc.constantFrom(...drawn.map(({ id }) => id)),
              from: fc.tuple(fc.nat(9), fc.nat(9)),
              to: fc.constant([60, 40] as const),
            }),
            { selector: ({ id }) => id },
          )
        : fc.constant([]),
      balloons: drawn.length
        ? fc.uniqueArray(
            fc.record({
              id: fc.constantFrom('b1', 'b2', 'b3', 'b4'),
              view: fc.constantFrom(...drawn.map(({ id }) => id)),
              path: fc.constant([]),
              end: fc.constantFrom('dot' as const, 'arrow' as const),
              byHand: fc.boolean(),
              anchor: fc.constant([0, 0, 0] as const),
              offset: fc.tuple(fc.nat(99), fc.nat(99)),
            }),
            { selector: ({ id }) => id },
          )
        : fc.constant([]),
    })
    // As they come out of JSON: with a prototype.
    .map((made) => structuredClone(made))
    .map(({ tables, lettering, notes, dimensions, rails, balloons }) => ({
      ...blankSheet('S', usualPaper('A3')),
      views: structuredClone(drawn),
      tables,
      notes,
      ...(dimensions.length > 0 ? { dimensions } : {}),
      ...(rails.length > 0 ? { rails } : {}),
      balloons,
      balloonLook: { lettering, radius: 6 },
    })),
);

const byId = <One extends { id: string }>(list: readonly One[]) => [...list].sort((a, b) => (a.id < b.id ? -1 : 1));

/** Views, lists and balloons are sets here: the order in which they came is no matter. */
const asSets = (sheet: Sheet) =>
  JSON.parse(
    JSON.stringify({
      ...sheet,
      views: byId(sheet.views),
      tables: byId(sheet.tables),
      balloons: byId(sheet.balloons),
      notes: byId(sheet.notes),
      dimensions: byId(sheet.dimensions ?? []),
      rails: byId(sheet.rails ?? []),
    }),
  ) as unknown;

describe('the steps from one sheet to another', () => {
  test('carried out in order they lead there, and their inverses back', () => {
    fc.assert(
      fc.property(sheets, sheets, (before, after) => {
        let now: Sheet = before;
        const inverses = [];
        for (const command of sheetSteps(before, after)) {
          const applied = applyCommand('sheet', now, command);
          if (!applied.ok) throw new Error(applied.reason);
          now = applied.document as Sheet;
          inverses.unshift(applied.inverse);
        }
        expect(asSets(now)).toEqual(asSets(after));
        for (const inverse of inverses) {
          const applied = applyCommand('sheet', now, inverse);
          if (!applied.ok) throw new Error(applied.reason);
          now = applied.document as Sheet;
        }
        expect(asSets(now)).toEqual(asSets(before));
      }),
    );
  });
  test('there are none between two that are alike', () => {
    fc.assert(
      fc.property(sheets, (sheet) => {
        expect(sheetSteps(sheet, structuredClone(sheet))).toEqual([]);
      }),
    );
  });
});

test('a view goes with its rails, whoever made the sheet without it', () => {
  const view = { id: 'v1', direction: 'front', scale: 1, centre: [100, 100], byHand: false } as const;
  const rail = { id: 'r', view: 'v1', from: [60, -40], to: [60, 40] } as const;
  const before: Sheet = { ...blankSheet('Sheet', usualPaper('A3')), views: [view], rails: [rail] };
  const made = sheetSteps(before, { ...before, views: [] }).reduce<Sheet>((sheet, command) => {
    const applied = applyCommand('sheet', sheet, command);
    if (!applied.ok) throw new Error(applied.reason);
    return applied.document as Sheet;
  }, before);
  expect([made.views, 'rails' in made]).toEqual([[], false]);
});
