import * as v from 'valibot';
import { describe, expect, test } from 'vitest';
import { newBill, newComponentEdits, newSheetSet, styleSteps, type Command } from '../../core/src/documents/index.ts';
import type { ComponentKey, PathKey } from '../../core/src/assembly/index.ts';
import { blankSheet, shippedStyles, usualPaper } from '../../core/src/sheets/index.ts';
import { assemblyOf, leaf, node } from '../../testkit/assemblies.ts';
import { api, parseCommand, parseDocument, parseHouseStyle, parseRecipeFile, parseStoredCommand } from './index.ts';
import { holds, type Same } from './documents/shared.ts';

const key = '0123456789abcdef0123456789abcdef';
const balloon = {
  id: 'b',
  view: 'v',
  path: [`${key}.0`],
  anchor: [1, 2, 3],
  end: 'dot',
  offset: [1, 2],
  byHand: false,
};

describe('documents from the database', () => {
  test('a bill and component edits come back as they were', () => {
    const bill = newBill(assemblyOf(node('TOP', [1, leaf('A', { material: 'Ash' })])), 'list');
    expect(parseDocument('bill', JSON.parse(JSON.stringify(bill)))).toEqual(bill);
    expect(parseDocument('components', newComponentEdits)).toEqual(newComponentEdits);
  });
  test.each([
    [
      'a bill without columns',
      'bill',
      { version: 1, name: '', recipe: { depth: 'structured', identity: 'name' }, columns: [], ledger: {} },
    ],
    [
      'a bill of an unknown depth',
      'bill',
      {
        version: 1,
        name: '',
        recipe: { depth: 'deep', identity: 'name' },
        columns: [{ id: 'a', source: 'item', heading: '' }],
        ledger: {},
      },
    ],
    ['a bill that has nothing but its version', 'bill', { version: 2 }],
    ['a treatment that is half said', 'components', { version: 1, treatments: { [key]: { ownLine: true } } }],
    ['nothing at all', 'sheet', null],
  ] as const)('%s is refused', (_, kind, value) => expect(() => parseDocument(kind, value)).toThrow(v.ValiError));
});

describe('commands from the page', () => {
  test.each([
    ['bill', { kind: 'setDepth', depth: 'structured' }],
    ['bill', { kind: 'addColumn', column: { id: 'm', source: 'property:Mass', heading: 'Mass' }, at: 2 }],
    ['bill', { kind: 'setNumbers', numbers: { [key]: { number: 3 }, [`${key}@${key}`]: null } }],
    ['sheet', { kind: 'changeView', id: 'v', change: { scale: 0.1 } }],
    ['sheet', { kind: 'changeTables', remove: ['list'], put: [] }],
    ['set', { kind: 'orderSheets', order: ['a', 'b'] }],
    ['sheet', { kind: 'changeBalloons', remove: ['a'], put: [balloon] }],
    ['components', { kind: 'setTreatment', component: key, treatment: null }],
    [
      'components',
      {
        kind: 'typeValues',
        name: 'Material',
        components: { [key]: { value: 'Ash' } },
        places: { [`${key}.0/${key}.12`]: null },
      },
    ],
    ['components', { kind: 'setOrientation', orientation: { up: '+y', front: '+z' } }],
    ['components', { kind: 'decide', finding: 'same-shape x', decision: { answer: 'same' }, sameAs: { [key]: key } }],
    [
      'components',
      { kind: 'decide', finding: 'same-number x', decision: { answer: 'apart' }, sameAs: {}, apart: { [key]: 'M6' } },
    ],
  ] as const)('%s: %j', (kind, command) => expect(parseCommand(kind, command)).toEqual(command));
  test.each([
    ['a command of another document', 'bill', { kind: 'setPaper', paper: { size: 'A3', landscape: true } }],
    ['an unknown source', 'bill', { kind: 'addColumn', column: { id: 'm', source: 'weight', heading: '' }, at: 0 }],
    ['a number that is none', 'bill', { kind: 'setNumbers', numbers: { [key]: { number: 0 } } }],
    ['an address that is none', 'bill', { kind: 'setNumbers', numbers: { A1: { number: 1 } } }],
    ['a scale of nothing', 'sheet', { kind: 'changeView', id: 'v', change: { scale: 0 } }],
    ['a place beyond all paper', 'sheet', { kind: 'changeView', id: 'v', change: { centre: [Infinity, 0] } }],
    [
      'a path that is no path',
      'sheet',
      { kind: 'changeBalloons', remove: [], put: [{ ...balloon, path: ['../etc'] }] },
    ],
    ['a title of a million characters', 'sheet', { kind: 'setField', field: 'title', value: 'x'.repeat(1e6) }],
    [
      'a value for a place that is none',
      'components',
      { kind: 'typeValues', name: 'X', components: {}, places: { '../etc': { value: '' } } },
    ],
    ['a property of a name that is none', 'components', { kind: 'setOwnProperty', name: '', property: null }],
    ['a material heavier than any', 'components', { kind: 'setDensity', material: 'X', density: 1e9 }],
    [
      'an answer that nobody asked for',
      'components',
      { kind: 'decide', finding: 'f', decision: { answer: 'maybe' }, sameAs: {} },
    ],
    [
      'a turn that is none',
      'sheet',
      { kind: 'changeView', id: 'v', change: { direction: [1, 0, 0, 0, 1, 0, 0, 1, 0] } },
    ],
    ['one sheet at two places', 'set', { kind: 'orderSheets', order: ['a', 'a'] }],
    ['a field that does not exist', 'sheet', { kind: 'setField', field: 'constructor', value: 'x' }],
  ] as const)('%s is refused', (_, kind, command) => expect(() => parseCommand(kind, command)).toThrow(v.ValiError));
});

test('a gesture without steps, or with too many, is none', () => {
  const gesture = {
    gesture: 'g',
    session: 's',
    label: 'x',
    steps: [{ document: 'd', version: 1, command: { kind: 'setDepth' } }],
  };
  expect(v.safeParse(api.gestureSchema, gesture).success).toBe(true);
  for (const steps of [[], Array<unknown>(101).fill(gesture.steps[0])])
    expect(v.safeParse(api.gestureSchema, { ...gesture, steps }).success).toBe(false);
});

/** One of every command there is: a kind that is added without a sample here does not compile. */
const samples: { readonly [Kind in Command['kind']]: Extract<Command, { kind: Kind }> } = {
  setTreatment: { kind: 'setTreatment', component: key as never, treatment: null },
  setTreatments: { kind: 'setTreatments', components: { [key as ComponentKey]: null }, places: {} },
  typeValues: {
    kind: 'typeValues',
    name: 'Finish',
    components: { [key as ComponentKey]: { value: 'Oiled' } },
    places: {},
  },
  setOwnProperty: { kind: 'setOwnProperty', name: 'Finish', property: { type: 'text', unit: '' } },
  setUpperCase: { kind: 'setUpperCase', on: true },
  setVariant: {
    kind: 'setVariant',
    id: 'short',
    variant: { name: 'Short', without: [key as never], withoutPlaces: [], exchanged: {}, typed: {} },
  },
  setOrientation: { kind: 'setOrientation', orientation: null },
  setDensity: { kind: 'setDensity', material: 'Ash', density: 680 },
  decide: { kind: 'decide', finding: 'same-shape', decision: null, sameAs: {} },
  setDepth: { kind: 'setDepth', depth: 'structured' },
  setIdentity: { kind: 'setIdentity', identity: 'name' },
  addColumn: { kind: 'addColumn', column: { id: 'm', source: 'massEach', heading: 'Mass', total: 'one each' }, at: 0 },
  removeColumn: { kind: 'removeColumn', id: 'm' },
  moveColumn: { kind: 'moveColumn', id: 'm', to: 2 },
  renameColumn: { kind: 'renameColumn', id: 'm', heading: 'Weight' },
  changeColumn: { kind: 'changeColumn', id: 'm', change: { total: true, hidden: null, format: { decimals: 1 } } },
  setColumns: { kind: 'setColumns', columns: [{ id: 'n', source: 'name', heading: 'Name' }] },
  changeRecipe: { kind: 'changeRecipe', change: { machines: 2, variant: null, filter: null } },
  renameBill: { kind: 'renameBill', name: 'Buyer' },
  setAway: { kind: 'setAway', away: true },
  showRevision: { kind: 'showRevision', revision: 'b' },
  setCatalogues: {
    kind: 'setCatalogues',
    links: [{ catalogue: 'c', by: ['Part number', 'Revision'], columns: ['price'] }, { catalogue: 'd' }],
  },
  keepValues: { kind: 'keepValues', kept: { date: '2026-03-02', catalogues: {} } },
  renameCatalogue: { kind: 'renameCatalogue', name: 'Fasteners' },
  typeItems: { kind: 'typeItems', items: { a: { price: { value: 1.2, unit: 'EUR' }, name: null } } },
  changeItems: { kind: 'changeItems', remove: ['a'], put: [{ item: { id: 'b', values: {} }, at: 0 }] },
  setCatalogueColumns: {
    kind: 'setCatalogueColumns',
    columns: [{ id: 'number', heading: 'Part number', kind: 'text', unit: '' }],
    key: ['number'],
  },
  acceptKeys: { kind: 'acceptKeys', aliases: { 'bn 0860': 'a', 'BN-1': null } },
  setNumbers: { kind: 'setNumbers', numbers: { [key]: { number: 10, pinned: true } } as never },
  decideLines: { kind: 'decideLines', joins: { [key]: null } as never, apart: { [key]: '1' } as never },
  noteOvertaken: {
    kind: 'noteOvertaken',
    cells: { [key]: { name: { typed: 'Slat', was: 'Plank' }, 'property:Finish': null } } as never,
  },
  typeCells: { kind: 'typeCells', cells: { [key]: { name: 'Slat', 'property:Finish': null } } as never },
  changeLines: {
    kind: 'changeLines',
    remove: ['wax'],
    put: [
      {
        at: 0,
        line: { id: 'oil', parent: null, after: null, quantity: { kind: 'as required' }, properties: {} },
      },
    ],
  },
  renamePlan: { kind: 'renamePlan', name: 'Ten sledges' },
  changePlan: {
    kind: 'changePlan',
    change: { bill: null, builds: [{ variant: null, count: 3 }], stock: ['c'], kerfMm: 2.5, currency: 'NOK' },
  },
  setEntries: {
    kind: 'setEntries',
    entries: {
      rates: { USD: 0.92, CHF: null },
      sources: { unitCost: 'property:Price', section: null },
      lines: { [key]: { onHand: 4, spares: { by: 'pieces', value: 2 }, unitCost: 1.2 }, 'line:oil': null } as never,
      groups: { 'al 6082|tube 40 3': { bars: [{ lengthMm: 6000, price: 44.1, available: null }] } },
    },
  },
  setPaper: { kind: 'setPaper', paper: { size: 'A1', landscape: true } },
  setClouds: { kind: 'setClouds', clouds: { letter: 'B', paths: [`${key}.0` as never] } },
  setField: { kind: 'setField', field: 'title', value: 'Sledge' },
  setFurther: { kind: 'setFurther', id: 'order', value: 'A-77' },
  renameSheet: { kind: 'renameSheet', name: 'Assembly' },
  setBill: { kind: 'setBill', bill: null },
  addView: { kind: 'addView', view: { id: 'v', direction: 'top', scale: 0.1, centre: [10, 20], byHand: false } },
  removeView: { kind: 'removeView', id: 'v' },
  changeView: { kind: 'changeView', id: 'v', change: { scale: 0.5, byHand: true } },
  changeTables: {
    kind: 'changeTables',
    remove: ['list'],
    put: [{ id: 'list', place: 'top-left', onlyBallooned: true }],
  },
  changeNotes: {
    kind: 'changeNotes',
    remove: ['a'],
    put: [{ id: 'n', at: [20, 30], width: 90, lettering: 3.5, text: 'All {pieces} of {title}' }],
  },
  changeDimensions: {
    kind: 'changeDimensions',
    remove: ['d'],
    put: [
      { id: 'w', view: 'v', kind: 'width', offset: 60 },
      { id: 'o', view: 'v', kind: 'diameter', offset: -20, from: { path: [], point: [1, 2, 3] }, radius: 40 },
    ],
  },
  changeRails: { kind: 'changeRails', remove: ['r'], put: [{ id: 's', view: 'v', from: [60, -40], to: [60, 40] }] },
  setBalloonLook: { kind: 'setBalloonLook', look: { lettering: 5, radius: 6 } },
  changeBalloons: { kind: 'changeBalloons', remove: [], put: [balloon as never] },
  setSharedField: { kind: 'setSharedField', field: 'owner', value: 'Camp workshop' },
  putPose: {
    kind: 'putPose',
    pose: { id: 'apart', name: 'Exploded', moves: [{ path: `${key}.0` as PathKey, steps: [[0, 0, 12.5]] }] },
    at: 0,
  },
  removePose: { kind: 'removePose', id: 'apart' },
  setProjection: { kind: 'setProjection', projection: 'third' },
  setTitleBlock: {
    kind: 'setTitleBlock',
    block: {
      further: [{ id: 'order', label: 'Order', value: 'A-12' }],
      revisions: [{ revision: 'B', text: 'Longer mast', date: '2026-02-03', by: 'T. H.' }],
      logo: { blob: '0f'.repeat(32), ratio: 2.5 },
    },
  },
  setDimensionLook: { kind: 'setDimensionLook', look: { unit: 'in', decimals: 3, comma: true } },
  setSectionLook: {
    kind: 'setSectionLook',
    look: { byMaterial: true, pitch: 1.5, lettering: 7, arrows: 'off' },
  },
  orderSheets: { kind: 'orderSheets', order: ['one', 'two'] },
};
const kindsOf: Readonly<Record<string, 'components' | 'sheet' | 'set' | 'catalogue' | 'buying'>> = {
  ...Object.fromEntries(
    Object.keys(samples)
      .slice(0, 9)
      .map((kind) => [kind, 'components' as const]),
  ),
  ...Object.fromEntries(
    Object.keys(samples)
      .slice(-23, -8)
      .map((kind) => [kind, 'sheet' as const]),
  ),
  renamePlan: 'buying',
  changePlan: 'buying',
  setEntries: 'buying',
  renameCatalogue: 'catalogue',
  typeItems: 'catalogue',
  changeItems: 'catalogue',
  setCatalogueColumns: 'catalogue',
  acceptKeys: 'catalogue',
  setSharedField: 'set',
  putPose: 'set',
  removePose: 'set',
  orderSheets: 'set',
  setProjection: 'set',
  setTitleBlock: 'set',
  setDimensionLook: 'set',
  setSectionLook: 'set',
};

describe('every command', () => {
  test.each(Object.values(samples))(
    '$kind goes through the door unchanged, and not with a field that nobody knows',
    (command) => {
      const document = kindsOf[command.kind] ?? 'bill';
      expect(parseCommand(document, command)).toEqual(command);
      expect(() => parseCommand(document, { ...command, colour: 'red' })).toThrow(/colour/);
    },
  );
});

test('a stored document with a field that this program does not know is refused by the name of the field', () => {
  const bill = newBill(assemblyOf(node('TOP', [1, leaf('A')])), 'list');
  expect(() => parseDocument('bill', { ...bill, tint: 'red' })).toThrow(/tint/);
  expect(() => parseDocument('components', { ...newComponentEdits, tint: 'red' })).toThrow(/tint/);
});

test('what a newer program stored is refused with a sentence, never read by half', () => {
  expect(() => parseDocument('bill', { version: 3, shine: true })).toThrow(
    'This bill was stored by a newer version of the program (version 3; up to 2 can be read). Update the program; nothing was changed.',
  );
  expect(() => parseDocument('sheet', { version: 3 })).toThrow('This sheet was stored by a newer version');
  expect(() => parseDocument('components', { version: 5 })).toThrow('This set of component edits was stored');
});

test('edits, recipe files and house styles of a newer program are refused with a sentence', () => {
  expect(() => parseStoredCommand('sheet', 3, { kind: 'setAway', away: true })).toThrow(
    'This edit was stored by a newer version of the program (version 3; up to 2 can be read).',
  );
  expect(parseStoredCommand('sheet', 1, { kind: 'setTable', table: null })).toEqual({
    kind: 'changeTables',
    remove: ['list'],
    put: [],
  });
  expect(() => parseRecipeFile({ kind: 'sledgeboard recipe', version: 2 })).toThrow('This recipe file was stored');
  expect(() => parseHouseStyle({ kind: 'sledgeboard house style', version: 2 })).toThrow('This house style was stored');
});

test.each([
  ['lettering of 0', { lettering: 0 }],
  ['lettering of 100 mm', { lettering: 100 }],
  ['a pitch of nothing', { pitch: 0 }],
  ['a thousand strips', { strips: 1000 }],
  ['half a strip', { strips: 0.5 }],
  ['a column of 1 mm', { columnWidths: [{ column: 'name', width: 1 }] }],
  ['a place far off the paper', { at: [1e300, 0] }],
  ['a heading aside', { heading: 'left' }],
])('a list with %s is refused at the door', (_, look) => {
  const usual = { id: 't', place: 'top-left', at: [10, 20], lettering: 2.5, pitch: 5, title: 'Parts', heading: 'top' };
  const put = (table: object) => parseCommand('sheet', { kind: 'changeTables', remove: [], put: [table] });
  expect(() => put(usual)).not.toThrow();
  expect(() => put({ ...usual, ...look })).toThrow();
});

test.each(shippedStyles.map(({ name, sheet }) => [name, sheet] as const))(
  'what the style %s does to sheets is let through',
  (name, style) => {
    const sheet = {
      ...blankSheet('Drawing', usualPaper('A3')),
      tables: [{ id: 't', place: 'top-right', lines: { upTo: 5 } } as const],
    };
    const steps = styleSteps({ id: 'set', content: newSheetSet }, [{ id: 's', content: sheet }], style, name);
    expect(steps.length).toBe(2);
    for (const { command } of steps) expect(parseCommand('sheet', command)).toEqual(command);
    expect(
      parseHouseStyle({
        kind: 'sledgeboard house style',
        version: 1,
        name,
        columns: [{ id: 'n', source: 'name', heading: '' }],
        sheet: style,
      }).sheet,
    ).toEqual(style);
  },
);

describe('a record has room for more than is drawn today', () => {
  test.each([
    ['a turn', { kind: 'addView', view: { ...samples.addView.view, turn: 0.5 } }, /turn.* does not draw it yet/],
    ['the bill of another list', { kind: 'changeBalloons', remove: [], put: [{ ...balloon, table: 't' }] }, /table/],
    [
      'a list that says from where it goes on',
      {
        kind: 'changeTables',
        remove: [],
        put: [{ id: 't', place: 'top-left', continuedFrom: { sheet: 's', table: 't' } }],
      },
      /continuedFrom/,
    ],
  ])('%s is refused at the door', (_, command, sentence) => {
    expect(() => parseCommand('sheet', command)).toThrow(sentence);
  });
  test('what such a sheet holds comes back whole from the database', () => {
    const sheet = {
      ...blankSheet('Cover', usualPaper('A3')),
      views: [{ ...samples.addView.view, pose: 'exploded', turn: 0.5 }],
      notes: [{ id: 'n', at: [10, 20], width: 80, lettering: 3.5, text: 'Grease' }],
    };
    expect(parseDocument('sheet', sheet)).toEqual(sheet);
    expect(parseDocument('set', newSheetSet)).toEqual(newSheetSet);
  });
});

test('a schema that lets other fields through than a record of core has does not compile', () => {
  const record = v.strictObject({ a: v.string(), b: v.optional(v.number()) });
  holds<Same<typeof record, { readonly a: string; readonly b?: number }>>();
  // @ts-expect-error -- the record lacks a field of the schema, though one that may be left out
  holds<Same<typeof record, { readonly a: string }>>();
  // @ts-expect-error -- the schema lacks a field of the record
  holds<Same<typeof record, { readonly a: string; readonly b?: number; readonly c?: number }>>();
  expect(v.is(record, { a: '', c: 1 })).toBe(false);
});

test('a house style is taken for a recipe file: its columns and numbering', () => {
  const columns = [{ id: 'n', source: 'name', heading: 'Name' }];
  expect(parseRecipeFile({ kind: 'sledgeboard house style', version: 1, name: 'Usual', columns })).toEqual({ columns });
});
