import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { newBuyingPlan } from '../buying/index.ts';
import { newCatalogue, type Catalogue } from '../catalogues/index.ts';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import type { ComponentKey } from '../assembly/index.ts';
import { projectedDirection } from '../views/index.ts';
import { blankSheet, swapSides, usualPaper, type Sheet } from '../sheets/index.ts';
import {
  applyCommand,
  newBill,
  newComponentEdits,
  newSheetSet,
  projectBill,
  overlap,
  touches,
  upgradeCommand,
  upgradeDocument,
  wordsFor,
  type Command,
  type DocumentKind,
  type ProjectDocument,
} from './index.ts';

const assembly = assemblyOf(node('TOP', [1, leaf('A', { material: 'Ash' })]));
const bill = newBill(assembly, 'Drawing list');
const sheet: Sheet = {
  ...blankSheet('Assembly', usualPaper('A3')),
  views: [{ id: 'v1', direction: 'front', scale: 1, centre: [100, 100], byHand: false }],
};
const balloon = (id: string, x: number) => ({
  id,
  view: 'v1',
  path: [],
  anchor: [0, 0, 0] as const,
  end: 'dot' as const,
  offset: [x, 0] as const,
  byHand: false,
});

const key = '0123456789abcdef0123456789abcdef';
const billCommand: fc.Arbitrary<Command> = fc.oneof(
  fc.constantFrom('structured', 'parts-only', 'single-level').map((depth) => ({ kind: 'setDepth', depth }) as Command),
  fc.constantFrom('part-number', 'name').map((identity) => ({ kind: 'setIdentity', identity }) as Command),
  fc
    .tuple(fc.constantFrom('item', 'mass', 'name', 'partNumber'), fc.nat(9))
    .map(([id, at]) => ({ kind: 'addColumn', column: { id, source: 'name', heading: id }, at }) as Command),
  fc.constantFrom('item', 'mass', 'name', 'gone').map((id) => ({ kind: 'removeColumn', id }) as Command),
  fc
    .tuple(fc.constantFrom('item', 'mass', 'name'), fc.nat(9))
    .map(([id, to]) => ({ kind: 'moveColumn', id, to }) as Command),
  fc
    .tuple(fc.constantFrom('item', 'name'), fc.string())
    .map(([id, heading]) => ({ kind: 'renameColumn', id, heading }) as Command),
  fc
    .record(
      {
        machines: fc.option(fc.integer({ min: 1, max: 9 })),
        closed: fc.option(fc.constant({ [key]: true })),
        sort: fc.option(fc.constant([{ source: 'name' }])),
        filter: fc.option(fc.constant({ holds: 'all', of: [] })),
      },
      { requiredKeys: [] },
    )
    .map((change) => ({ kind: 'changeRecipe', change }) as Command),
  fc.string().map((name) => ({ kind: 'renameBill', name }) as Command),
  fc
    .tuple(fc.constantFrom('item', 'name', 'gone'), fc.option(fc.boolean()), fc.option(fc.constant({ decimals: 2 })))
    .map(([id, hidden, format]) => ({ kind: 'changeColumn', id, change: { hidden, format } }) as Command),
  fc
    .subarray(['item', 'name', 'mass'])
    .map((ids) => ({ kind: 'setColumns', columns: ids.map((id) => ({ id, source: 'name', heading: id })) }) as Command),
  fc
    .tuple(fc.option(fc.constant(`${key}@${key}`)), fc.option(fc.string()))
    .map(([to, tag]) => ({ kind: 'decideLines', joins: { [key]: to }, apart: { [key]: tag } }) as Command),
  fc
    .tuple(
      fc.constantFrom(key, `${key}@${key}`),
      fc.dictionary(fc.constantFrom('name', 'property:A'), fc.option(fc.string())),
    )
    .map(([address, texts]) => ({ kind: 'typeCells', cells: { [address]: texts } }) as Command),
  fc
    .tuple(
      fc.constantFrom(key, `${key}@${key}`),
      fc.constantFrom('name', 'property:A'),
      fc.option(fc.record({ typed: fc.string(), was: fc.string() })),
    )
    .map(([address, column, note]) => ({ kind: 'noteOvertaken', cells: { [address]: { [column]: note } } }) as Command),
  fc.tuple(fc.subarray(['x', 'y']), fc.subarray(['x', 'z']), fc.nat(3), fc.string()).map(
    ([remove, put, at, name]) =>
      ({
        kind: 'changeLines',
        remove,
        put: put.map((id) => ({
          at,
          line: {
            id,
            parent: null,
            after: null,
            quantity: { kind: 'as required' },
            properties: { Name: { value: name } },
          },
        })),
      }) as Command,
  ),
  fc.option(fc.constantFrom('a', 'b')).map((revision) => ({ kind: 'showRevision', revision }) as Command),
  fc
    .option(fc.subarray(['c', 'd']).map((ids) => ids.map((catalogue) => ({ catalogue }))))
    .map((links) => ({ kind: 'setCatalogues', links }) as Command),
  fc
    .option(fc.constantFrom('2026-03-02', '2026-03-03'))
    .map((date) => ({ kind: 'keepValues', kept: date && { date, catalogues: {} } }) as Command),
  fc
    .option(fc.nat(50))
    .map((number) => ({ kind: 'setNumbers', numbers: { [key]: number === null ? null : { number } } }) as Command),
);
const sheetCommand: fc.Arbitrary<Command> = fc.oneof(
  fc.constantFrom('A4', 'A1').map((size) => ({ kind: 'setPaper', paper: { size, landscape: true } }) as Command),
  fc.option(fc.string()).map((value) => ({ kind: 'setField', field: 'title', value }) as Command),
  fc.string().map((name) => ({ kind: 'renameSheet', name }) as Command),
  fc.boolean().map((away) => ({ kind: 'setAway', away }) as Command),
  fc.option(fc.constant('bill')).map((shown) => ({ kind: 'setBill', bill: shown }) as Command),
  fc.option(fc.constantFrom('a', 'b')).map((revision) => ({ kind: 'showRevision', revision }) as Command),
  fc.constantFrom('v1', 'v2').map((id) => ({ kind: 'addView', view: { ...sheet.views[0], id } }) as Command),
  fc.constantFrom('v1', 'v2').map((id) => ({ kind: 'removeView', id }) as Command),
  fc.nat(200).map((x) => ({ kind: 'changeView', id: 'v1', change: { centre: [x, 5], byHand: true } }) as Command),
  fc
    .record({ caption: fc.option(fc.string()), notToScale: fc.option(fc.constant(true)) }, { requiredKeys: [] })
    .map((change) => ({ kind: 'changeView', id: 'v1', change }) as Command),
  fc
    .tuple(fc.subarray(['list', 'x']), fc.subarray(['list', 'y']), fc.constantFrom('title-block', 'top-left'))
    .map(
      ([remove, put, hangs]) =>
        ({ kind: 'changeTables', remove, put: put.map((id) => ({ id, place: hangs })) }) as Command,
    ),
  fc
    .tuple(fc.subarray(['a', 'b', 'c']), fc.subarray(['a', 'b', 'd']), fc.nat(40))
    .map(([remove, put, x]) => ({ kind: 'changeBalloons', remove, put: put.map((id) => balloon(id, x)) }) as Command),
);
const setCommand: fc.Arbitrary<Command> = fc.oneof(
  fc.string().map((value) => ({ kind: 'setSharedField', field: 'title', value }) as Command),
  fc.subarray(['a', 'b', 'c']).map((order) => ({ kind: 'orderSheets', order }) as Command),
  fc.option(fc.constantFrom('a', 'b')).map((revision) => ({ kind: 'showRevision', revision }) as Command),
);
const catalogue: Catalogue = {
  ...newCatalogue,
  columns: [...newCatalogue.columns, { id: 'price', heading: 'Price', kind: 'money', unit: 'EUR' }],
  items: ['a', 'b', 'c'].map((id) => ({ id, values: { number: { value: id } } })),
};
const catalogueCommand: fc.Arbitrary<Command> = fc.oneof(
  fc.string().map((name) => ({ kind: 'renameCatalogue', name }) as Command),
  fc
    .dictionary(
      fc.constantFrom('a', 'b', 'gone'),
      fc.dictionary(fc.constantFrom('number', 'price'), fc.option(fc.record({ value: fc.string() }))),
    )
    .map((items) => ({ kind: 'typeItems', items }) as Command),
  fc.tuple(fc.subarray(['a', 'c']), fc.subarray(['b', 'd', 'e']), fc.nat(4), fc.string()).map(
    ([remove, put, at, name]) =>
      ({
        kind: 'changeItems',
        remove,
        put: put.map((id, one) => ({ item: { id, values: { number: { value: name } } }, at: at + one })),
      }) as Command,
  ),
  fc.subarray(['number', 'price', 'more'], { minLength: 1 }).map(
    (ids) =>
      ({
        kind: 'setCatalogueColumns',
        columns: ids.map((id) => ({ id, heading: id, kind: 'text', unit: '' })),
        key: [ids[0]],
      }) as Command,
  ),
  fc
    .dictionary(fc.constantFrom('A', 'B'), fc.option(fc.constantFrom('a', 'b')))
    .map((aliases) => ({ kind: 'acceptKeys', aliases }) as Command),
);
const treatment = fc.option(fc.record({ ownLine: fc.boolean(), countContents: fc.boolean() }));
const componentKey = fc.constantFrom(key, key.replace('0', 'f')),
  place = fc.constantFrom(`${key}.0`, `${key}.0/${key}.1`);
const value = fc.option(
  fc
    .oneof(fc.string(), fc.double({ noNaN: true, noDefaultInfinity: true }), fc.boolean())
    .map((one) => ({ value: one })),
);
const componentCommand: fc.Arbitrary<Command> = fc.oneof(
  fc
    .tuple(componentKey, treatment)
    .map(([component, one]) => ({ kind: 'setTreatment', component, treatment: one }) as Command),
  fc
    .tuple(fc.dictionary(componentKey, treatment), fc.dictionary(place, treatment))
    .map(([components, places]) => ({ kind: 'setTreatments', components, places }) as Command),
  fc
    .tuple(
      fc.constantFrom('Material', 'Name', 'constructor'),
      fc.dictionary(componentKey, value),
      fc.dictionary(place, value),
    )
    .map(([name, components, places]) => ({ kind: 'typeValues', name, components, places }) as Command),
  fc
    .option(fc.constantFrom({ type: 'text', unit: '' }, { type: 'number', unit: 'kg' }))
    .map((property) => ({ kind: 'setOwnProperty', name: 'Coating', property }) as Command),
  fc.boolean().map((on) => ({ kind: 'setUpperCase', on }) as Command),
  fc
    .option(
      fc.record({
        name: fc.string(),
        without: fc.array(componentKey),
        withoutPlaces: fc.array(place),
        exchanged: fc.constant({}),
        typed: fc.constant({}),
      }),
    )
    .map((variant) => ({ kind: 'setVariant', id: 'short', variant }) as Command),
  fc
    .constantFrom(null, { up: '+y', front: '+z' }, { up: '+y', front: '-y' })
    .map((orientation) => ({ kind: 'setOrientation', orientation }) as Command),
  fc
    .option(fc.integer({ min: 1, max: 9000 }))
    .map((density) => ({ kind: 'setDensity', material: 'Ash', density }) as Command),
  fc
    .tuple(
      fc.option(fc.constantFrom('same', 'apart', 'seen')),
      fc.dictionary(componentKey, fc.option(componentKey)),
      fc.option(fc.dictionary(componentKey, fc.option(fc.constantFrom('M6', 'M10')))),
    )
    .map(
      ([answer, sameAs, apart]) =>
        ({
          kind: 'decide',
          finding: 'same-shape x',
          decision: answer && { answer },
          sameAs,
          ...(apart ? { apart } : {}),
        }) as Command,
    ),
);

const someOf = <Of>(names: readonly string[], value: fc.Arbitrary<Of>) =>
  fc.dictionary(fc.constantFrom(...names), fc.option(value), { minKeys: 1, maxKeys: 2 });
const buyingCommand: fc.Arbitrary<Command> = fc.oneof(
  fc.constantFrom('Three sledges', '', 'Ten').map((name) => ({ kind: 'renamePlan', name }) as Command),
  fc.boolean().map((away) => ({ kind: 'setAway', away }) as Command),
  fc
    .record(
      {
        builds: fc.array(fc.record({ variant: fc.constantFrom(null, 'short'), count: fc.nat(3) }), { maxLength: 3 }),
        currency: fc.constantFrom('EUR', 'NOK', 'XXX'),
        kerfMm: fc.nat(4),
        bill: fc.constantFrom(null, 'b'),
      },
      { requiredKeys: [] },
    )
    .map((change) => ({ kind: 'changePlan', change }) as Command),
  fc
    .record(
      {
        rates: someOf(['USD', 'CHF'], fc.constantFrom(0.9, 1.1)),
        lines: someOf(['a', 'b'], fc.record({ onHand: fc.nat(3) })),
        groups: someOf(['tube', '__proto'], fc.record({ kerfMm: fc.nat(3) })),
        sources: someOf(['unitCost', 'section'], fc.constantFrom('property:Price', 'property:Profile')),
      },
      { requiredKeys: [] },
    )
    .map((entries) => ({ kind: 'setEntries', entries }) as Command),
);

/** Balloons, views and lists are sets: taking one away and putting it back may change their order, nothing else. */
const asSets = (document: ProjectDocument) =>
  'balloons' in document
    ? {
        ...document,
        balloons: [...document.balloons].sort((a, b) => a.id.localeCompare(b.id)),
        views: [...document.views].sort((a, b) => a.id.localeCompare(b.id)),
        tables: [...document.tables].sort((a, b) => a.id.localeCompare(b.id)),
      }
    : document;

/** Items that two put at the same place of a catalogue stand there in the order in which they came. */
const placesApart = (document: ProjectDocument) =>
  'items' in document ? { ...document, items: [...document.items].sort((a, b) => a.id.localeCompare(b.id)) } : document;

describe.each<[DocumentKind, ProjectDocument, fc.Arbitrary<Command>]>([
  ['bill', bill, billCommand],
  ['sheet', sheet, sheetCommand],
  ['components', newComponentEdits, componentCommand],
  ['set', newSheetSet, setCommand],
  ['catalogue', catalogue, catalogueCommand],
  ['buying', newBuyingPlan, buyingCommand],
])('commands for %s', (kind, start, command) => {
  test('undoing every step in turn leads back to the beginning', () => {
    fc.assert(
      fc.property(fc.array(command, { maxLength: 12 }), (commands) => {
        let document = start;
        const inverses: Command[] = [];
        for (const one of commands) {
          const applied = applyCommand(kind, document, one);
          if (!applied.ok) continue;
          document = applied.document;
          inverses.unshift(applied.inverse);
        }
        // An inverse is stored as JSON before it is carried out: what it does not say there is lost.
        for (const inverse of JSON.parse(JSON.stringify(inverses)) as Command[]) {
          const applied = applyCommand(kind, document, inverse);
          if (!applied.ok) throw new Error(applied.reason);
          document = applied.document;
        }
        // Strictly: a field that was absent is absent again, not there without a value.
        expect(asSets(document)).toStrictEqual(asSets(start));
      }),
    );
  });
  test('edits that touch nothing in common can be done in either order', () => {
    fc.assert(
      fc.property(command, command, (one, two) => {
        if (overlap(touches(kind, one), touches(kind, two))) return;
        const both = (first: Command, second: Command) => {
          const a = applyCommand(kind, start, first);
          const b = a.ok ? applyCommand(kind, a.document, second) : a;
          return b.ok ? asSets(b.document) : null;
        };
        const there = both(one, two),
          back = both(two, one);
        if (there && back) expect(placesApart(there)).toEqual(placesApart(back));
      }),
    );
  });
  test('every command, and what takes it back, has words for undo', () => {
    fc.assert(
      fc.property(command, (one) => {
        const applied = applyCommand(kind, start, one);
        for (const each of applied.ok ? [one, applied.inverse] : [one])
          expect(wordsFor(kind, each)).toMatch(/^\S.*\S$/s);
      }),
    );
  });
});

test('what cannot be done is refused with a sentence', () => {
  expect(applyCommand('bill', bill, { kind: 'removeColumn', id: 'gone' })).toEqual({
    ok: false,
    reason: 'That column is no longer in the bill.',
  });
  expect(
    applyCommand('sheet', { ...sheet, balloons: [balloon('a', 1)] } as Sheet, { kind: 'removeView', id: 'v1' }),
  ).toEqual({ ok: false, reason: 'The view still has balloons; take them away first.' });
});

test('an enlarged detail looks at what its view looks at, also when that changes and changes back; the view stays while it is there', () => {
  const region = { of: 'v1', letter: 'A', centre: [0, 0], radius: 5 } as const;
  const [view] = sheet.views;
  const detailed: Sheet = { ...sheet, views: [...sheet.views, { ...view, id: 'd', detail: region }] };
  const turned = applyCommand('sheet', detailed, {
    kind: 'changeView',
    id: view.id,
    change: { direction: 'back', only: ['x' as never], scale: 0.25, pathLines: true },
  });
  if (!turned.ok) throw new Error(turned.reason);
  const after = (turned.document as Sheet).views.at(-1)!;
  expect(after).toEqual({
    ...view,
    id: 'd',
    detail: { ...region, of: view.id },
    direction: 'back',
    only: ['x'],
    pathLines: true,
  });
  const back = applyCommand('sheet', turned.document, turned.inverse);
  expect(back).toMatchObject({ ok: true, document: detailed });
  expect(applyCommand('sheet', { ...detailed, balloons: [] }, { kind: 'removeView', id: view.id })).toEqual({
    ok: false,
    reason: 'The view still has enlarged details; take them away first.',
  });
});

describe('a view that is projected from another', () => {
  const [view] = sheet.views;
  const beside = {
    ...view,
    id: 'left',
    direction: 'left',
    centre: [200, 100],
    projectedFrom: { of: 'v1', side: 'left' },
  } as const;
  const under = {
    ...view,
    id: 'under',
    direction: projectedDirection('left', 'below'),
    centre: [200, 200],
    projectedFrom: { of: 'left', side: 'below' },
  } as const;
  const set: Sheet = { ...sheet, views: [view, beside, under] };
  const after = (command: Command) => {
    const done = applyCommand('sheet', set, command);
    if (!done.ok) throw new Error(done.reason);
    expect(applyCommand('sheet', done.document, done.inverse)).toMatchObject({ ok: true, document: set });
    return (done.document as Sheet).views;
  };
  test('moves with it, has its scale, and is seen from its side when it turns; and so do those projected from it', () => {
    const moved = after({ kind: 'changeView', id: 'v1', change: { centre: [110, 90], scale: 0.5 } });
    expect(moved.map(({ centre, scale }) => [centre, scale])).toEqual([
      [[110, 90], 0.5],
      [[210, 90], 0.5],
      [[210, 190], 0.5],
    ]);
    const turned = after({ kind: 'changeView', id: 'v1', change: { direction: 'right' } });
    expect(turned.map(({ direction }) => direction).slice(0, 2)).toEqual(['right', 'front']);
    expect(after({ kind: 'changeView', id: 'v1', change: { pose: 'p' } }).map(({ pose }) => pose)).toEqual([
      'p',
      'p',
      'p',
    ]);
  });
  test('is moved in line with it only, until it is freed', () => {
    expect(after({ kind: 'changeView', id: 'left', change: { centre: [250, 333] } })[1].centre).toEqual([250, 100]);
    const freed = after({ kind: 'changeView', id: 'left', change: { projectedFrom: null } });
    expect(freed[1]).not.toHaveProperty('projectedFrom');
    expect(applyCommand('sheet', set, { kind: 'removeView', id: 'v1' })).toMatchObject({ ok: false });
  });
  test('is projected from what is on the sheet, and never in a ring', () => {
    const change = (id: string, of: string) =>
      applyCommand('sheet', set, { kind: 'changeView', id, change: { projectedFrom: { of, side: 'left' } } });
    for (const [id, of] of [
      ['v1', 'v1'],
      ['v1', 'left'],
      ['v1', 'under'],
      ['under', 'gone'],
    ])
      expect(change(id, of)).toMatchObject({ ok: false, reason: expect.stringMatching(/not on the sheet/) });
    expect(change('under', 'v1')).toMatchObject({ ok: true });
    const lost = { ...view, id: 'lost', detail: { of: 'gone', letter: 'A', centre: [0, 0], radius: 1 } } as const;
    expect(applyCommand('sheet', set, { kind: 'addView', view: lost })).toMatchObject({ ok: false });
  });
  test('changes sides with the angle, and so do those projected from it', () => {
    const swapped = new Map(swapSides(set).map(({ id, centre }) => [id, centre]));
    expect([swapped.get('left'), swapped.get('under')]).toEqual([
      [0, 100],
      [0, 0],
    ]);
  });
});

test('what was stored before single places could be edited is brought to the present shape', () => {
  const stored = { version: 1, treatments: { [key]: { ownLine: true, countContents: false } } };
  expect(upgradeDocument('components', stored)).toEqual({ ...newComponentEdits, treatments: stored.treatments });
  expect(upgradeDocument('components', newComponentEdits)).toBe(newComponentEdits);
  expect(upgradeDocument('components', null)).toBeNull();
});

test('an edit that was stored when a sheet had one list reads as one of today', () => {
  const old = (table: object | null) => upgradeCommand('sheet', 1, { kind: 'setTable', table });
  expect(old({ place: 'top-left' })).toEqual({
    kind: 'changeTables',
    remove: [],
    put: [{ id: 'list', place: 'top-left' }],
  });
  expect(old(null)).toEqual({ kind: 'changeTables', remove: ['list'], put: [] });
  const other = { kind: 'setTable', table: null };
  expect(upgradeCommand('bill', 1, other)).toBe(other);
  expect(upgradeCommand('sheet', 2, other)).toBe(other);
});

test('up and front on one axis are refused with a sentence', () => {
  expect(
    applyCommand('components', newComponentEdits, { kind: 'setOrientation', orientation: { up: '+x', front: '-x' } }),
  ).toEqual({ ok: false, reason: 'Up and front cannot lie on one axis of the model.' });
});

test('taking the last typed value of a part away leaves no trace of it', () => {
  const typed = applyCommand('components', newComponentEdits, {
    kind: 'typeValues',
    name: 'Material',
    components: { [key as ComponentKey]: { value: 'Ash' } },
    places: {},
  });
  if (!typed.ok) throw new Error(typed.reason);
  const back = applyCommand('components', typed.document, {
    kind: 'typeValues',
    name: 'Material',
    components: { [key as ComponentKey]: null },
    places: {},
  });
  expect(back.ok && back.document).toEqual(newComponentEdits);
});

test('bills stored before joining and typing were known, and edits without variants, are brought to the present shape', () => {
  const { joins: _joins, apart: _apart, overrides: _overrides, lines: _lines, ...old } = bill;
  expect(upgradeDocument('bill', { ...old, version: 1 })).toEqual(bill);
  expect(upgradeDocument('bill', bill)).toBe(bill);
  const { variants: _variants, ...edits } = newComponentEdits;
  expect(upgradeDocument('components', { ...edits, version: 2 })).toEqual(newComponentEdits);
});

describe('columns made of others', () => {
  const formula = (id: string, expression: string) => ({
    id,
    source: 'formula' as const,
    heading: id.toUpperCase(),
    expression,
  });
  const withColumns = (...columns: ReturnType<typeof formula>[]) => ({ ...bill, columns });
  test('one that leads back to itself is refused with the way round', () => {
    expect(
      applyCommand('bill', withColumns(formula('a', '{quantity}'), formula('b', '{column:a}')), {
        kind: 'changeColumn',
        id: 'a',
        change: { expression: '2 × {column:b}' },
      }),
    ).toEqual({ ok: false, reason: '“A” is made from “B” is made from “A”: that leads back to itself.' });
  });
  test('a column that another one is made of is not taken away', () => {
    expect(
      applyCommand('bill', withColumns(formula('a', '{quantity}'), formula('b', '{column:a}')), {
        kind: 'removeColumn',
        id: 'a',
      }),
    ).toEqual({ ok: false, reason: '“B” is made from this column; change that one first, or hide this one.' });
  });
});

test('a variant column of a bill is computed with the drafter’s edits laid under the variant', () => {
  const machine = assemblyOf(node('TOP', [2, leaf('A')], [1, leaf('B')]));
  const [, a, b] = machine.components.map((component) => component.key);
  const variant = { name: 'Short', without: [b], withoutPlaces: [], exchanged: {}, typed: {} };
  const edits = { ...newComponentEdits, typed: { [a]: { Name: { value: 'Slat' } } }, variants: { short: variant } };
  const columns = [
    { id: 'name', source: 'name' as const, heading: 'Name' },
    { id: 'v', source: 'variant:short' as const, heading: 'Short' },
  ];
  const read = (recipe: Partial<typeof bill.recipe>) => {
    const { bill: made } = projectBill({
      original: machine,
      edits,
      facts: new Map(),
      fileName: '',
      bill: { ...newBill(machine, 'x', columns), recipe: { ...bill.recipe, ...recipe } },
    });
    return made.rows.map((row) => columns.map((column) => made.cell(row, column).text));
  };
  expect(read({})).toEqual([
    ['Slat', '2'],
    ['', '–'],
  ]);
  expect(read({ variant: 'short' })).toEqual([['Slat', '2']]);
  expect(read({ variant: 'gone' })).toHaveLength(2);
});
