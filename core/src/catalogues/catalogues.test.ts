import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import {
  editAssembly,
  layersAt,
  type Assembly,
  type Properties,
  type ShapeKey,
  type StructureEdits,
} from '../assembly/index.ts';
import { formatValue } from '../columns/index.ts';
import { newComponentEdits } from '../documents/index.ts';
import {
  catalogueIndex,
  catalogueSays,
  changedSince,
  compareCatalogue,
  catalogueText,
  typedItems,
  doubledKeys,
  headingRowOf,
  itemKey,
  keyText,
  lineProperties,
  looseKey,
  newCatalogue,
  offerChange,
  offerValues,
  proposeCatalogue,
  readAmount,
  readCatalogue,
  saidBy,
  unmatched,
  valuesToKeep,
  withCatalogues,
  withOfferColumns,
  type Catalogue,
  type CatalogueItem,
  type Linked,
} from './index.ts';

const catalogue = (rows: readonly Properties[], more: Partial<Catalogue> = {}): Catalogue => ({
  ...newCatalogue,
  columns: [
    { id: 'number', heading: 'Part number', kind: 'text', unit: '' },
    { id: 'name', heading: 'Name', kind: 'text', unit: '' },
    { id: 'price', heading: 'Unit cost', kind: 'money', unit: 'EUR' },
    { id: 'maker', heading: 'Supplier', kind: 'text', unit: '' },
  ],
  items: rows.map((values, at) => ({ id: `i${at}`, values })),
  ...more,
});
const numbered = (...numbers: string[]): Catalogue => catalogue(numbers.map((value) => ({ number: { value } })));

describe('finding parts', () => {
  const findIn = (of: Catalogue, key: string) => catalogueIndex(of).find(key);
  test('by the number as it is written; other cases, blanks and dashes are said, not taken', () => {
    const of = numbered('BN-0860', 'WS 08', 'ÄX-1');
    expect(findIn(of, 'WS 08')).toEqual({ how: 'found', item: 1 });
    for (const key of ['bn-0860', 'BN 0860', 'BN0860', 'BN–0860', 'BN_08 60'])
      expect(findIn(of, key)).toEqual({ how: 'alike', items: [0] });
    expect(findIn(of, 'A\u0308X-1')).toEqual({ how: 'alike', items: [2] });
    expect(findIn(of, 'BN-0861')).toEqual({ how: 'none' });
  });
  test('a number that stands there twice is no answer; one that was accepted is', () => {
    const of = numbered('A', 'B', 'A');
    expect(findIn(of, 'A')).toEqual({ how: 'several', items: [0, 2] });
    expect([...doubledKeys(of)]).toEqual([['A', [0, 2]]]);
    expect(findIn({ ...of, aliases: { 'b.': 'i1' } }, 'b.')).toEqual({ how: 'found', item: 1 });
    expect(findIn({ ...of, aliases: { 'b.': 'gone' } }, 'b.')).toEqual({ how: 'alike', items: [1] });
  });
  test('names that objects have of their own are numbers like others', () => {
    expect(findIn(numbered('constructor'), 'constructor')).toEqual({ how: 'found', item: 0 });
    expect(findIn(numbered('A'), 'toString')).toEqual({ how: 'none' });
  });
  test('what is found is what looking at every item finds', () => {
    const key = fc.constantFrom('A-1', 'a 1', 'A1', 'B', ' B', 'b', '', 'C-2', 'c_2');
    fc.assert(
      fc.property(fc.array(key, { maxLength: 12 }), key, (numbers, wanted) => {
        const of = numbered(...numbers);
        const text = keyText([wanted]);
        if (text === null) return;
        const same = of.items.flatMap(({ values }, at) => (itemKey(of, values) === text ? [at] : []));
        const alike = of.items.flatMap(({ values }, at) => {
          const own = itemKey(of, values);
          return own !== null && looseKey(own) === looseKey(text) ? [at] : [];
        });
        const found = findIn(of, text);
        if (same.length === 1) expect(found).toEqual({ how: 'found', item: same[0] });
        else if (same.length > 1) expect(found).toEqual({ how: 'several', items: same });
        else expect(found.how).toBe(alike.length > 0 ? 'alike' : 'none');
        // Of equal keys the first stands for all.
        if (found.how === 'alike') for (const at of found.items) expect(alike).toContain(at);
      }),
      { seed: 13 },
    );
  });
});

describe('what catalogues say of a machine', () => {
  const machine = assemblyOf(
    node(
      'TOP',
      [2, leaf('BN-0860', { name: 'Bolt', material: 'A4-70' })],
      [1, leaf('SL-1', { name: 'Slat', material: 'Ash' })],
      [1, leaf('ws 08', { name: 'Washer' })],
    ),
  );
  const prices = catalogue([
    { number: { value: 'BN-0860' }, name: { value: 'Hexagon bolt' }, price: { value: 0.4, unit: 'EUR' } },
    { number: { value: 'WS 08' }, price: { value: 0.05, unit: 'EUR' } },
  ]);
  const makers = catalogue([
    { number: { value: 'BN-0860' }, price: { value: 9, unit: 'EUR' }, maker: { value: 'Fjellskrue' } },
    { number: { value: 'SL-1' }, maker: { value: 'own' } },
  ]);
  const link = (of: Catalogue, more: Partial<Linked['link']> = {}): Linked => ({
    catalogue: of,
    link: { catalogue: 'x', ...more },
  });
  const said = (linked: readonly Linked[], edits: Partial<StructureEdits> = {}, of: Assembly = machine) => {
    const all = { ...newComponentEdits, ...edits };
    const { assembly } = withCatalogues(editAssembly(of, all, new Map()), linked);
    return assembly.components.map(({ partNumber, name, properties }) =>
      [partNumber, name, properties['Unit cost']?.value, properties.Supplier?.value].filter(Boolean).join(' '),
    );
  };
  test('is laid over what the file says, the first catalogue first', () => {
    expect(said([link(prices), link(makers)])).toEqual([
      'TOP',
      'BN-0860 Hexagon bolt 0.4 Fjellskrue',
      'SL-1 Slat own',
      'ws 08 Washer',
    ]);
    expect(said([link(makers), link(prices)])[1]).toBe('BN-0860 Hexagon bolt 9 Fjellskrue');
  });
  test('of chosen columns alone, where a link says which', () => {
    expect(said([link(makers, { columns: ['maker'] }), link(prices, { columns: ['price'] })])[1]).toBe(
      'BN-0860 Bolt 0.4 Fjellskrue',
    );
  });
  test('stands below what was typed, for the part or for one place of it; the typed number is looked up', () => {
    const [, bolt, , washer] = machine.components;
    const typed: StructureEdits['typed'] = {
      [bolt.key]: { 'Unit cost': { value: 1, unit: 'EUR' }, Name: { value: 'My bolt' } },
      [washer.key]: { 'Part number': { value: 'WS 08' } },
    };
    expect(said([link(prices)], { typed })).toEqual(['TOP', 'BN-0860 My bolt 1', 'SL-1 Slat', 'WS 08 Washer 0.05']);
    const [place] = machine.components[machine.root].usages;
    const there = said([link(prices)], { typedAt: { [place.key]: { Name: { value: 'This one' } } } as never });
    expect(there).toContain('BN-0860 This one 0.4');
    expect(there).toContain('BN-0860 Hexagon bolt 0.4');
  });
  test('which catalogue says something is told, unless something typed stands above it', () => {
    const linked = [link(prices), { catalogue: makers, link: { catalogue: 'y' } }];
    const told = (edits: Partial<StructureEdits>, name: string) => {
      const all = { ...newComponentEdits, ...edits };
      return saidBy(editAssembly(machine, all, new Map()), 1, name, linked)?.catalogue ?? null;
    };
    expect(told({}, 'Unit cost')).toBe('x');
    expect(told({}, 'Supplier')).toBe('y');
    expect(told({}, 'Material')).toBe(null);
    const typed: StructureEdits['typed'] = { [machine.components[1].key]: { 'Unit cost': { value: 1, unit: 'EUR' } } };
    expect(told({ typed }, 'Unit cost')).toBe(null);
  });
  describe('and mass', () => {
    const shape = 'shape' as ShapeKey;
    const facts = new Map([[shape, { volume: 1_000_000, sizes: {} }]]);
    const materials = (material: string, more: Properties = {}): Catalogue => ({
      ...catalogue([{ number: { value: 'SL-1' }, material: { value: material }, ...more }]),
      columns: [
        { id: 'number', heading: 'Number', kind: 'text', unit: '' },
        { id: 'material', heading: 'Material', kind: 'text', unit: '' },
        { id: 'mass', heading: 'Mass', kind: 'number', unit: 'kg' },
      ],
    });
    const slat = (material: string | undefined, from: Catalogue, edits: Partial<StructureEdits> = {}) => {
      const made = assemblyOf(node('TOP', [1, leaf('SL-1', material === undefined ? {} : { material })]));
      const shaped = {
        ...made,
        components: made.components.map((one) => (one.partNumber === 'SL-1' ? { ...one, shape } : one)),
      };
      const edited = editAssembly(shaped, { ...newComponentEdits, ...edits }, facts);
      const { components } = withCatalogues(edited, [link(from)]).assembly;
      const at = components.findIndex(({ partNumber }) => partNumber === 'SL-1');
      return [components[at].properties.Material?.value, components[at].properties.Mass?.value];
    };
    test('is that of the material that counts, whoever says it', () => {
      expect(slat('Ash', materials('Steel'))).toEqual(['Steel', 7.85]);
      expect(slat(undefined, materials('Steel'))).toEqual(['Steel', 7.85]);
      expect(slat('Ash', materials('Unobtainium'))).toEqual(['Unobtainium', undefined]);
      expect(slat('Ash', materials('Steel'), { densities: { Steel: 8000 } })).toEqual(['Steel', 8]);
    });
    test('is what a catalogue says it is, where one does', () =>
      expect(slat('Ash', materials('Steel', { mass: { value: 7, unit: 'kg' } }))).toEqual(['Steel', 7]));
    test('is that of a typed material, for a part and for one place', () => {
      const [top] = assemblyOf(node('TOP', [1, leaf('SL-1')])).components.filter(({ usages }) => usages.length > 0);
      const child = assemblyOf(node('TOP', [1, leaf('SL-1')])).components[top.usages[0].child];
      const oak: Properties = { Material: { value: 'Oak' } };
      expect(slat('Ash', materials('Steel'), { typed: { [child.key]: oak } })).toEqual(['Oak', 0.72]);
      const made = assemblyOf(node('TOP', [1, leaf('SL-1')]));
      const shaped = { ...made, components: made.components.map((one) => ({ ...one, shape })) };
      const edited = editAssembly(
        shaped,
        { ...newComponentEdits, typedAt: { [top.usages[0].key]: oak } as never },
        facts,
      );
      const { assembly } = withCatalogues(edited, [link(materials('Steel'))]);
      const [place] = assembly.components[assembly.root].usages;
      expect(assembly.components[place.child].properties).toMatchObject({
        Material: { value: 'Oak' },
        Mass: { value: 0.72 },
      });
    });
    test('stays one layer above what the file says of a place', () => {
      const edited = editAssembly(machine, newComponentEdits, new Map());
      const says = catalogueSays(edited, [link(prices), link(makers)]);
      expect(layersAt(edited, 1, says.get(1)).find(({ name }) => name === 'Name')).toMatchObject({
        origin: 'catalogue',
        layers: [
          { origin: 'catalogue', value: { value: 'Hexagon bolt' } },
          { origin: 'file', value: { value: 'Bolt' } },
        ],
      });
    });
  });
  test('laid on twice it is the same, and without links nothing is touched', () => {
    const edited = editAssembly(machine, newComponentEdits, new Map());
    const linked = [link(prices), link(makers)];
    const once = withCatalogues(edited, linked);
    expect(withCatalogues(once, linked)).toEqual(once);
    expect(withCatalogues(edited, [])).toBe(edited);
  });
  test('what finds nothing, or several, is told by its key, each once', () => {
    const all = machine.components.map((_, at) => at);
    const twice = { ...prices, items: [...prices.items, { ...prices.items[0], id: 'again' }] };
    expect(unmatched(machine, link(twice), all).map(({ key, how, items }) => [key, how, items])).toEqual([
      ['TOP', 'none', []],
      ['BN-0860', 'several', [0, 2]],
      ['SL-1', 'none', []],
      ['ws 08', 'alike', [1]],
    ]);
  });
  test('values of a day are those of what is used, and stay; what has changed since is told', () => {
    const live = new Map([['x', prices]]);
    const linked = [link(prices)];
    const kept = valuesToKeep(machine, linked, new Map([['x', new Set(['i1'])]]), live, '2026-03-02');
    expect(kept.catalogues.x.items.map(({ id }) => id)).toEqual(['i0', 'i1']);
    expect(valuesToKeep(machine, linked, new Map(), live, '2026-03-02').catalogues.x.items).toHaveLength(1);
    expect(changedSince(kept, live)).toEqual([]);
    const dearer = { ...prices.items[0], values: { ...prices.items[0].values, price: { value: 0.5, unit: 'EUR' } } };
    expect(changedSince(kept, new Map([['x', { ...prices, items: [dearer] }]]))).toEqual([
      { catalogue: 'Catalogue', item: 'BN-0860', heading: 'Unit cost', was: '0.40 EUR', is: '0.50 EUR' },
      { catalogue: 'Catalogue', item: 'WS 08', heading: '', was: '', is: null },
    ]);
    // Laid over the machine, what was kept says what was said that day.
    expect(said([link(kept.catalogues.x)])[1]).toBe('BN-0860 Hexagon bolt 0.4');
  });
  test('a key of two columns: both have to agree', () => {
    const of = { ...prices, key: ['number', 'name'] };
    const by = ['Part number', 'Name'];
    expect(said([link(of, { by })])[1]).toBe('BN-0860 Bolt');
    const renamed = { [machine.components[1].key]: { Name: { value: 'Hexagon bolt' } } };
    expect(said([link(of, { by })], { typed: renamed })[1]).toBe('BN-0860 Hexagon bolt 0.4');
  });
  test('a line of its own says all of its item, its number too', () => {
    expect(lineProperties(prices, prices.items[0])).toEqual({
      'Part number': { value: 'BN-0860' },
      Name: { value: 'Hexagon bolt' },
      'Unit cost': { value: 0.4, unit: 'EUR' },
    });
    const article = prices.columns.map((column) => (column.id === 'name' ? { ...column, heading: 'Article' } : column));
    expect(lineProperties({ ...prices, columns: article }, prices.items[0])).toMatchObject({
      Article: { value: 'Hexagon bolt' },
      Name: { value: 'Hexagon bolt' },
    });
  });
});

describe('a table read as a catalogue', () => {
  const table = [
    ['Price list of the camp workshop', '', '', '', '', ''],
    ['Part number', 'Name', 'Unit cost [EUR]', 'Length', 'Checked', 'Since'],
    ['0860', 'Hexagon bolt', '1.234,50', '60 mm', 'yes', '5.3.2026'],
    ['WS-08', 'Washer', '0,05 €', '1,6 mm', 'no', '2026-01-31'],
  ];
  test('headings, kinds, units and the decimal sign are told by the table itself', () => {
    const row = headingRowOf(table);
    expect(row).toBe(1);
    const { columns, key, decimalSign, isUnsure } = proposeCatalogue(table, row);
    expect(columns.map(({ heading, kind, unit }) => [heading, kind, unit].join(' ').trim())).toEqual([
      'Part number text',
      'Name text',
      'Unit cost money EUR',
      'Length number mm',
      'Checked yes or no',
      'Since date',
    ]);
    expect([key, decimalSign, isUnsure]).toEqual([[0], ',', false]);
    let id = 0;
    const read = readCatalogue(table, { headingRow: row, columns, key, decimalSign }, [], () => `c${++id}`);
    expect(read.items).toEqual([
      {
        c1: { value: '0860' },
        c2: { value: 'Hexagon bolt' },
        c3: { value: 1234.5, unit: 'EUR' },
        c4: { value: 60, unit: 'mm' },
        c5: { value: true },
        c6: { value: '2026-03-05' },
      },
      {
        c1: { value: 'WS-08' },
        c2: { value: 'Washer' },
        c3: { value: 0.05, unit: 'EUR' },
        c4: { value: 1.6, unit: 'mm' },
        c5: { value: false },
        c6: { value: '2026-01-31' },
      },
    ]);
    expect(read.problems).toEqual([]);
  });
  test.each([
    ['1.234,50', ',', 1234.5, ''],
    ['1,234.50', '.', 1234.5, ''],
    ['1 234,5 €', ',', 1234.5, '€'],
    ["1'234.5", '.', 1234.5, ''],
    ['€ 12', '.', 12, '€'],
    ['−3.5 mm', '.', -3.5, 'mm'],
    ['1,234', '.', 1234, ''],
    ['1,234', ',', 1.234, ''],
    ['12,34', '.', null, ''],
    ['1.2.3', '.', null, ''],
    ['M8', '.', null, ''],
  ] as const)('%s with %s for decimals', (text, sign, value, unit) => {
    expect(readAmount(text, sign)).toEqual(value === null ? null : { value, unit });
  });
  test('numbers that may be read both ways have to be asked about', () => {
    const unsure = proposeCatalogue(
      [
        ['No', 'Price €'],
        ['A', '1,234'],
        ['B', '2,500'],
      ],
      0,
    );
    expect(unsure.isUnsure).toBe(true);
  });
  test('what is not of its kind stays as it is written, and that is said by row', () => {
    const columns = [
      { use: true, heading: 'No', kind: 'text', unit: '' },
      { use: true, heading: 'Price', kind: 'money', unit: 'EUR' },
      { use: false, heading: 'Secret', kind: 'text', unit: '' },
    ] as const;
    const mapping = { headingRow: 0, columns, key: [0], decimalSign: '.' } as const;
    const rows = [
      ['No', 'Price', 'Secret'],
      ['A', 'on request', 'x'],
      ['', '', ''],
      ['', '3'],
      ['A', '4'],
    ];
    let id = 0;
    const read = readCatalogue(
      rows,
      mapping,
      [{ id: 'p', heading: 'price', kind: 'money', unit: '' }],
      () => `n${++id}`,
    );
    expect(read.items).toEqual([
      { n1: { value: 'A' }, p: { value: 'on request' } },
      { p: { value: 3, unit: 'EUR' } },
      { n1: { value: 'A' }, p: { value: 4, unit: 'EUR' } },
    ]);
    expect(read.problems).toEqual([
      'Row 2: what stands under “Price” is not of its kind and was kept as text.',
      'Row 4: no key, so no part will be found by it.',
      'Row 5: a key that stands further up already; parts with it find several.',
    ]);
  });
});

test('a second import tells what is new, changed and gone; carried out, nothing is left to tell', () => {
  const value = fc.option(fc.constantFrom('x', 'y').map((text) => ({ value: text })));
  const items = fc
    .uniqueArray(fc.tuple(fc.constantFrom('A', 'B', 'C', 'D'), value), { selector: ([name]) => name })
    .map((rows) => rows.map(([name, price]): Properties => ({ number: { value: name }, ...(price ? { price } : {}) })));
  const columns = catalogue([]).columns;
  fc.assert(
    fc.property(items, items, (before, read) => {
      const known = before.map((values, at): CatalogueItem => ({ id: `i${at}`, values }));
      const input = { columns, key: ['number'], items: read };
      const { added, changed, gone, same } = compareCatalogue(known, input);
      expect(added.length + changed.length + same).toBe(read.length);
      const away = new Set(gone.map(({ id }) => id));
      const next = new Map(changed.map(({ item, values }) => [item.id, values]));
      const after = [
        ...known.filter(({ id }) => !away.has(id)).map(({ id, values }) => ({ id, values: next.get(id) ?? values })),
        ...added.map((values, at) => ({ id: `n${at}`, values })),
      ];
      const again = compareCatalogue(after, input);
      expect([again.added, again.changed, again.gone]).toEqual([[], [], []]);
      expect(again.same).toBe(read.length);
    }),
    { seed: 13 },
  );
});

describe('typing into cells', () => {
  const of = catalogue([{ number: { value: 'A' }, price: { value: 1.5, unit: 'EUR' } }]);
  const [item] = of.items;
  const [, name, price] = of.columns;
  const type = (text: string, column = price) => typedItems([{ item, column, text }]);
  test.each([
    ['2,50', { value: 2.5, unit: 'EUR' }],
    ['3 USD', { value: 3, unit: 'USD' }],
    ['$ 4', { value: 4, unit: 'USD' }],
    ['', null],
  ])('%s as a price', (text, value) => expect(type(text)).toEqual({ items: { i0: { price: value } }, refused: [] }));
  test('what is there already changes nothing; what is none is refused with a sentence', () => {
    expect(type('1.50 EUR')).toEqual({ items: {}, refused: [] });
    expect(type('', name)).toEqual({ items: {}, refused: [] });
    expect(type('dear')).toEqual({
      items: {},
      refused: ['“dear” is not a price, such as 12.50 or 12.50 EUR; Unit cost stays as it was.'],
    });
  });
  test('prices read with two decimals at least, as they are typed again', () => {
    for (const [value, text] of [
      [1.5, '1.50 EUR'],
      [0.005, '0.005 EUR'],
      [1234, '1234.00 EUR'],
    ] as const) {
      expect(catalogueText({ value, unit: 'EUR' }, 'money')).toBe(text);
      expect(type(text).items).toEqual(value === 1.5 ? {} : { i0: { price: { value, unit: 'EUR' } } });
    }
  });
});

test('an offer is news where price or lead time differs; taken over it says of whom and when, and is no news', () => {
  const of = catalogue([{ number: { value: 'A' }, price: { value: 1.5, unit: 'EUR' } }]);
  const { columns, ids } = withOfferColumns(of.columns, () => 'new');
  expect(columns.slice(of.columns.length).map(({ heading }) => heading)).toEqual(['Lead time', 'Asked of', 'Asked on']);
  let id = 0;
  const told = withOfferColumns(of.columns, () => `n${++id}`);
  expect(ids['Unit cost']).toBe('price');
  const offer = { number: 'A', firm: 'Kaldvik', unitCost: 1.5, currency: 'EUR', leadDays: 4 };
  const change = offerChange(of.items[0], offer, told.ids);
  expect(change.isNews).toBe(true);
  const values = offerValues([change], told.ids, '2026-03-02');
  expect(values).toEqual({
    i0: {
      price: { value: 1.5, unit: 'EUR' },
      n1: { value: 4, unit: 'days' },
      n2: { value: 'Kaldvik' },
      n3: { value: '2026-03-02' },
    },
  });
  const after = { ...of.items[0], values: { ...of.items[0].values, ...values.i0 } };
  expect(offerChange(after, offer, told.ids).isNews).toBe(false);
  expect(withOfferColumns(told.columns, () => 'never').columns).toEqual(told.columns);
});

describe('a column of pictures', () => {
  const column = { id: 'p', heading: 'Photo', kind: 'picture', unit: '' } as const;
  const name = `picture:${'ab'.repeat(32)}`;
  const item = { id: 'i', values: {} };
  test('takes the name of a kept picture, and nothing else', () => {
    expect(typedItems([{ item, column, text: name }]).items).toEqual({ i: { p: { value: name } } });
    const { items, refused } = typedItems([{ item, column, text: 'photo.jpg' }]);
    expect(items).toEqual({});
    expect(refused[0]).toMatch(/“photo.jpg” is not a picture; bring one in/);
  });
  test('reads as a word where no picture can stand', () => {
    expect(catalogueText({ value: name }, 'picture')).toBe('picture');
    expect(formatValue({ kind: 'text', text: name })).toBe('picture');
    expect(formatValue({ kind: 'text', text: 'picture:abc' })).toBe('picture:abc');
  });
});
