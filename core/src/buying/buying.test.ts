import { beforeAll, describe, expect, test } from 'vitest';
import { linearSolver } from '../../../engine/src/pool/linearSolver.ts';
import { assemblyOf, leaf, node, type Plan } from '../../../testkit/assemblies.ts';
import type { ComponentKey, PropertyValue, Treatment } from '../assembly/index.ts';
import { makeBill, type Recipe } from '../bill/index.ts';
import { newCatalogue, type Catalogue } from '../catalogues/index.ts';
import { newColumn } from '../columns/index.ts';
import { planCuts, type LinearSolver } from '../cutting/index.ts';
import {
  buyingNeed,
  buyingOf,
  comparePlans,
  compareOrder,
  driversOf,
  drawCutList,
  newBuyingPlan,
  planWorth,
  type BuildInput,
  type Buying,
  type BuyingPlan,
} from './index.ts';

let solver: LinearSolver;
beforeAll(async () => {
  solver = await linearSolver();
});

const value = (given: string | number, unit?: string): PropertyValue => ({ value: given, ...(unit ? { unit } : {}) });
const tube = (number: string, lengthMm: number, more: Partial<Plan> = {}): Plan =>
  leaf(number, {
    source: 'made',
    material: 'Steel',
    properties: { Length: value(lengthMm, 'mm'), Section: value('Tube 30 × 2') },
    ...more,
  });
const bolt = (number: string, properties: Plan['properties'] = {}): Plan =>
  leaf(number, { source: 'bought', properties: { 'Unit cost': value(0.5, 'EUR'), ...properties } });
const bars = (
  ...rows: readonly (readonly [section: string, lengthMm: number, price: number | null, available?: number])[]
): Catalogue => ({
  ...newCatalogue,
  name: 'Bars',
  columns: [
    { id: 'number', heading: 'Part number', kind: 'text', unit: '' },
    { id: 'section', heading: 'Section', kind: 'text', unit: '' },
    { id: 'length', heading: 'Stock length', kind: 'number', unit: 'mm' },
    { id: 'price', heading: 'Unit cost', kind: 'money', unit: 'EUR' },
    { id: 'there', heading: 'On hand', kind: 'number', unit: '' },
    { id: 'days', heading: 'Lead time', kind: 'number', unit: 'days' },
  ],
  items: rows.map(([section, lengthMm, price, available], at) => ({
    id: `i${at}`,
    values: {
      number: value(`B${at}`),
      section: value(section),
      length: value(lengthMm),
      days: value(9),
      ...(price === null ? {} : { price: value(price, 'EUR') }),
      ...(available === undefined ? {} : { there: value(available) }),
    },
  })),
});

interface Wish {
  readonly plan?: Partial<BuyingPlan>;
  readonly recipe?: Partial<Recipe>;
  readonly treatments?: readonly (Treatment | undefined)[];
  readonly catalogues?: readonly Catalogue[];
}
function buying(
  top: Plan | readonly (readonly [Plan, number])[],
  { plan: change, recipe, treatments = [], catalogues = [] }: Wish = {},
): Buying {
  const plan: BuyingPlan = { ...newBuyingPlan, kerfMm: 0, leastLeftOverMm: 0, ...change };
  const tops = Array.isArray(top)
    ? (top as readonly (readonly [Plan, number])[])
    : ([[top as Plan, plan.builds[0].count]] as const);
  const builds = tops.map(([one, machines]): BuildInput => {
    const assembly = assemblyOf(one);
    const columns = [newColumn('partNumber')];
    const bill = makeBill(
      assembly,
      { depth: 'parts-only', identity: 'part-number', ...recipe },
      { treatments, ledger: {} },
      { columns },
    );
    const days = (index: number) => {
      const found = assembly.components[index].properties['Lead time']?.value;
      return typeof found === 'number' ? found : null;
    };
    return { bill, columns, assembly, machines, treatments, daysOf: days };
  });
  const items = new Map(
    builds.flatMap(({ bill, assembly }) =>
      bill.rows.flatMap(({ components, item }) =>
        components.map((index) => [assembly.components[index].key as string, item] as const),
      ),
    ),
  );
  const need = buyingNeed(builds, plan, catalogues, (key) => (items.has(key) ? [items.get(key)!] : []));
  const plans = new Map(
    need.groups.flatMap(({ key, problem }) => (problem ? [[key, planCuts(problem, solver)] as const] : [])),
  );
  return buyingOf(builds, need, plans);
}
const line = (of: Buying, partNumber: string) => of.requirement.lines.find((one) => one.partNumber === partNumber)!;
const ordered = (of: Buying, partNumber: string) => of.order.find((one) => one.partNumber === partNumber);
const keyOf = (top: Plan, number: string) =>
  assemblyOf(top).components.find(({ partNumber }) => partNumber === number)!.key as ComponentKey;

describe('what is needed', () => {
  const b = bolt('B');
  const frame = node('TOP', [2, node('FOOT', [3, b], [1, tube('T', 700)])], [1, b]);
  test('for n machines, counted over the whole structure, exactly', () => {
    const five = buying(frame, { plan: { builds: [{ variant: null, count: 5 }] } });
    expect(line(five, 'B')).toMatchObject({ needed: 35, toGet: 35, source: 'bought' });
    expect(line(five, 'T')).toMatchObject({ needed: 10, pieces: [{ lengthMm: 700, count: 10 }] });
  });
  test('spares are more, stock on hand is less, and nothing is bought that is there', () => {
    const address = keyOf(frame, 'B') as never as string;
    const lines = { [address]: { spares: { by: 'percent', value: 10 }, onHand: 2 } } as BuyingPlan['lines'];
    expect(line(buying(frame, { plan: { lines } }), 'B')).toMatchObject({ needed: 7, spares: 1, onHand: 2, toGet: 6 });
    const there = { [address]: { onHand: 100 } } as BuyingPlan['lines'];
    const none = buying(frame, { plan: { lines: there } });
    expect(line(none, 'B').toGet).toBe(0);
    expect(ordered(none, 'B')).toBeUndefined();
  });
  test('spares of bought parts in per cent are for those that say nothing else, whole pieces, rounded up', () => {
    const spared = buying(frame, { plan: { sparePercent: 5 } });
    expect(line(spared, 'B')).toMatchObject({ spares: 1, toGet: 8 });
    expect(line(spared, 'T')).toMatchObject({ spares: 0, toGet: 2 });
  });
  test('what is bought whole is one line and never opened', () => {
    const winch: Plan = { number: 'WINCH', source: 'bought', contents: [[1, bolt('INSIDE')]] };
    const machine = node('TOP', [1, winch]);
    const closed = buying(machine, { treatments: [undefined, { ownLine: true, countContents: false }] });
    expect(closed.requirement.lines.map(({ partNumber }) => partNumber)).toEqual(['WINCH']);
  });
  test('variants are counted each by itself, and a part of both is one line', () => {
    const long = node('TOP', [2, b], [1, tube('T', 900)]);
    const short = node('TOP', [2, b], [1, tube('T', 500)]);
    const both = buying([
      [long, 2],
      [short, 3],
    ]);
    expect(line(both, 'B').needed).toBe(10);
    expect(
      both.requirement.lines.filter(({ partNumber }) => partNumber === 'T').flatMap(({ pieces }) => pieces),
    ).toEqual([
      { lengthMm: 900, ends: [0, 0], count: 2 },
      { lengthMm: 500, ends: [0, 0], count: 3 },
    ]);
  });
  test('what is on hand is there once, also where variants make two lines of a part', () => {
    const [long, short] = [node('TOP', [1, tube('T', 900)]), node('TOP', [1, tube('T', 900, { material: 'Brass' })])];
    const address = keyOf(long, 'T');
    expect(keyOf(short, 'T')).toBe(address);
    const both = buying(
      [
        [long, 2],
        [short, 3],
      ],
      { plan: { lines: { [address]: { onHand: 3 } } as unknown as BuyingPlan['lines'] } },
    );
    expect(both.requirement.lines.map(({ toGet }) => toGet)).toEqual([0, 2]);
  });
  test('a line of which one part has no length is not cut by half: that is told, and its cost is not known', () => {
    const half = node('TOP', [2, tube('T', 900)], [3, leaf('T', { source: 'made', material: 'Steel' })]);
    const made = buying(half, { catalogues: [bars(['Tube 30 × 2', 6000, 40])] });
    expect(made.planned).toEqual([]);
    expect(made.problems.map(({ code }) => code)).toEqual(['no-length']);
    expect(made.cost.unknown).toHaveLength(1);
  });
  test('what is as required has no number, and its cost is not known', () => {
    const grease = buying(node('TOP', [1, bolt('G')]), {
      recipe: { quantityOf: { [keyOf(node('TOP', [1, bolt('G')]), 'G')]: { kind: 'as required' } } },
    });
    expect(line(grease, 'G')).toMatchObject({ needed: null, toGet: null });
    expect(grease.cost).toEqual({ known: 0, unknown: [ordered(grease, 'G')!.key] });
  });
});

describe('what it costs', () => {
  test('packs, breaks and what is not known: the sum has no line that nobody priced', () => {
    const made = buying(
      node(
        'TOP',
        [85, bolt('PACKED', { Packs: value('25: 9.00; 100: 30') })],
        [60, bolt('BROKEN', { 'Price breaks': value('100: 0.25') })],
        [3, leaf('DEAR', { source: 'bought' })],
      ),
    );
    expect(ordered(made, 'PACKED')).toMatchObject({ cost: 30, quantity: 100 });
    expect(ordered(made, 'BROKEN')).toMatchObject({ cost: 25, quantity: 100 });
    expect(made.cost).toEqual({ known: 55, unknown: [ordered(made, 'DEAR')!.key] });
  });
  test('another currency counts at its rate; without one the cost is not known and that is said', () => {
    const dollars = node('TOP', [2, bolt('D', { 'Unit cost': value(3, 'USD') })]);
    expect(buying(dollars, { plan: { rates: { USD: 0.9 } } }).cost.known).toBeCloseTo(5.4, 9);
    const without = buying(dollars);
    expect(without.cost).toMatchObject({ known: 0, unknown: [expect.any(String)] });
    expect(without.problems.map(({ message }) => message)).toEqual([
      'D: There is no rate for USD; say what one USD is in EUR.',
    ]);
  });
  test('a price of nothing is a price; a price that is none is told', () => {
    expect(buying(node('TOP', [2, bolt('F', { 'Unit cost': value(0, 'EUR') })])).cost).toEqual({
      known: 0,
      unknown: [],
    });
    const odd = buying(
      node('TOP', [1, bolt('O', { 'Unit cost': value('ask for it') })], [1, bolt('N', { 'Unit cost': value(-3) })]),
    );
    expect(odd.cost.unknown).toHaveLength(2);
    expect(odd.problems.map(({ message }) => message)).toEqual([
      'O: “ask for it” is no price; write it as 12.50 or 12.50 EUR.',
      'N: “−3” is no price; write it as 12.50 or 12.50 EUR.',
    ]);
  });
  test('what was typed for a line counts before what its column says', () => {
    const top = node('TOP', [4, bolt('B')]);
    const lines = {
      [keyOf(top, 'B')]: { unitCost: 2, supplier: 'Fjord', leadDays: 4 },
    } as unknown as BuyingPlan['lines'];
    expect(ordered(buying(top, { plan: { lines } }), 'B')).toMatchObject({ cost: 8, supplier: 'Fjord', leadDays: 4 });
  });
  test('what drives it: largest first, with the share of all up to there, and how many are not known', () => {
    const made = buying(node('TOP', [6, bolt('SIX')], [2, bolt('TWO')], [1, leaf('NONE', { source: 'bought' })]));
    expect(driversOf('cost', made.order, made.requirement.lines)).toMatchObject({
      drivers: [
        { title: 'SIX', amount: 3, share: 0.75, cumulative: 0.75 },
        { title: 'TWO', amount: 1, share: 0.25, cumulative: 1 },
      ],
      unknown: 1,
    });
  });
});

describe('bars', () => {
  const frame = node('TOP', [4, tube('A', 1400)], [2, tube('B', 900)]);
  const stock = [bars(['tube 30x2', 6000, 40], ['Tube 30 × 2', 3000, 22], ['Tube 30 × 3', 6000, 1])];
  test('pieces are cut from bars of their section, however that is written', () => {
    const made = buying(frame, { plan: { stock: ['s'] }, catalogues: stock });
    const [{ group, plan }] = made.planned;
    expect(group.stock.map(({ lengthMm }) => lengthMm)).toEqual([6000, 3000]);
    expect(plan).toMatchObject({ cost: 62, optimal: true, piecesMm: 7400 });
    expect(
      made.order.filter(({ kind }) => kind === 'bar').map(({ name, quantity, cost }) => [name, quantity, cost]),
    ).toEqual([
      ['Tube 30 × 2, L = 6000 mm', 1, 40],
      ['Tube 30 × 2, L = 3000 mm', 1, 22],
    ]);
    // A cut part costs its bars and nothing more that is not known
    expect(made.cost).toEqual({ known: 62, unknown: [] });
  });
  test.each([
    ['Square tube 40x40x3', 'rectangular tube 40 × 40 × 3', []],
    ['SHS 40 × 40 × 3.0', 'rectangular tube 40 × 40 × 3', []],
    ['Ø33,7 x 2,60', 'round tube 33.7 × 2.6', []],
    ['Flat 40x6', 'rectangular bar 40 × 6', []],
    ['Rechteckrohr 40x40x3', 'rectangular tube 40 × 40 × 3', ['other-words']],
    ['Hexagon bar 16', 'round bar 16', ['no-bars']],
    ['HEB 100', 'HEA 100', ['no-bars']],
    ['HEA100', 'HEA 100', []],
    ['Angle 40x40', 'rectangular bar 40 × 40', ['no-bars']],
    ['Tube 40 × 4', 'round tube 40 × 3', ['no-bars']],
  ] as const)('bars called “%s” for %s', (called, section, codes) => {
    const piece = tube('P', 900, { properties: { Length: value(900, 'mm'), Section: value(section) } });
    const made = buying(node('TOP', [2, piece]), { catalogues: [bars([called, 6000, 40])] });
    expect(made.problems.map(({ code }) => code)).toEqual(codes);
    expect(made.planned[0].plan === null).toBe((codes as readonly string[]).includes('no-bars'));
  });
  test('without bars nothing is invented: it asks', () => {
    const made = buying(frame);
    expect(made.planned.map(({ plan }) => plan)).toEqual([null]);
    expect(made.problems.map(({ message }) => message)).toEqual([
      'Tube 30 × 2, Steel: which bars are there for these 6 pieces (the longest 1400 mm)? Nothing is planned before that is said.',
    ]);
    expect(made.cost.unknown).toHaveLength(2);
  });
  test('a piece that no bar is long enough for is named', () => {
    const made = buying(node('TOP', [1, tube('LONG', 7000)], [1, tube('B', 900)]), { catalogues: stock });
    expect(made.problems.map(({ message }) => message)).toEqual([
      'Tube 30 × 2, Steel: item 1, LONG takes 7000 mm and is longer than any bar gives (6000 mm with its ends trimmed).',
    ]);
  });
  test('a part of which pieces find no bar has no cost, since that of the others is not all', () => {
    const made = buying(node('TOP', [1, tube('LONG', 7000)], [1, tube('B', 900)]), { catalogues: stock });
    expect(made.cost.unknown).toEqual([ordered(made, 'LONG')!.key]);
  });
  test('a length of nothing, or one that is none, is told and not cut', () => {
    const odd = (given: PropertyValue) =>
      buying(node('TOP', [1, tube('X', 1, { properties: { Length: given, Section: value('Tube 30 × 2') } })]), {
        catalogues: stock,
      });
    for (const given of [value(0, 'mm'), value(-5, 'mm'), value(12, 'kg')]) {
      expect(odd(given).planned).toEqual([]);
      expect(odd(given).problems[0].message).toContain('is no length above 0');
    }
    expect(odd(value(1, 'm')).planned[0].group.pieces[0].lengthMm).toBe(1000);
    expect(odd(value(10, 'in')).planned[0].group.pieces[0].lengthMm).toBe(254);
  });
  test('bars without a price are bought by length, and that is said', () => {
    const made = buying(frame, { catalogues: [bars(['Tube 30 × 2', 6000, null])] });
    expect(made.planned[0].plan).toMatchObject({ measure: 'length', cost: 12000 });
    expect(made.problems.map(({ message }) => message)).toEqual([
      'Tube 30 × 2, Steel: no bar has a price, so the plan buys the least length.',
    ]);
    expect(made.cost.unknown).toHaveLength(1);
  });
  test('bars that were typed stand in place of those of catalogues; a section can be made otherwise', () => {
    const [{ group }] = buying(frame, { catalogues: stock }).planned;
    const typed = { [group.key]: { bars: [{ lengthMm: 1500, price: 9, available: null }], kerfMm: 2 } };
    const made = buying(frame, { catalogues: stock, plan: { groups: typed } });
    expect(made.planned[0].plan).toMatchObject({ cost: 54 });
    expect(made.planned[0].group.problem).toMatchObject({ kerfMm: 2 });
    const otherwise = buying(frame, { catalogues: stock, plan: { groups: { [group.key]: { otherwise: true } } } });
    expect(otherwise.planned).toEqual([]);
  });
  test('mitred ends are read from their column', () => {
    const mitred = tube('M', 800, {
      properties: { Length: value(800), Section: value('Tube 30 × 2'), Ends: value('45/0') },
    });
    const made = buying(node('TOP', [2, mitred]), { catalogues: stock, plan: { kerfMm: 3 } });
    expect(made.planned[0].group.pieces).toMatchObject([{ ends: [45, 0], count: 2 }]);
  });
  test('measured shapes have a section too; a plate has none, and its area is summed', () => {
    const measured = leaf('R', {
      source: 'made',
      properties: {
        Stock: value('round tube'),
        Length: value(300, 'mm'),
        Diameter: value(30, 'mm'),
        Wall: value(2, 'mm'),
      },
    });
    const plate = leaf('P', {
      source: 'made',
      material: 'Steel',
      properties: {
        Stock: value('plate'),
        Thickness: value(6, 'mm'),
        Length: value(500, 'mm'),
        Width: value(200, 'mm'),
      },
    });
    const made = buying(node('TOP', [2, measured], [3, plate]), { catalogues: stock });
    expect(made.planned.map(({ group }) => group.section)).toEqual(['round tube 30 × 2']);
    expect(made.plates).toMatchObject([{ material: 'Steel', thicknessMm: 6, pieces: 3, areaM2: 0.3 }]);
  });
  test('bars on hand are used up to their number; none on hand means that they are bought', () => {
    const some = buying(frame, { catalogues: [bars(['Tube 30 × 2', 6000, 40, 0], ['Tube 30 × 2', 1500, 0, 3])] });
    expect(some.planned[0].plan).toMatchObject({ cost: 40, optimal: true });
    expect(some.order.filter(({ kind }) => kind === 'bar').map(({ quantity }) => quantity)).toEqual([1, 3]);
  });
  test.each([
    ['Section', 'Stock length [mm]', 'Unit cost [EUR]', 'Available'],
    ['section', 'length_mm', 'price_eur', 'qty'],
    ['profile', 'stockLengthMm', 'unitCost', 'limit'],
    ['Cross section', 'Bar length', 'Price', 'count'],
  ])('bars are found under %s, %s, %s and %s', (...headings) => {
    const [given] = [bars(['Tube 30 × 2', 6000, 40, 2])];
    const named = ['section', 'length', 'price', 'there'];
    const columns = given.columns.map((column) => ({
      ...column,
      heading: headings[named.indexOf(column.id)] ?? column.heading,
    }));
    const [{ group }] = buying(frame, { catalogues: [{ ...given, columns }] }).planned;
    expect(group.stock).toMatchObject([{ lengthMm: 6000, price: 40, available: 2 }]);
  });
  test('a catalogue that has no bars says what it lacks', () => {
    const made = buying(frame, { catalogues: [newCatalogue] });
    expect(made.problems[0].message).toBe(
      'Catalogue has no bars: it lacks a column Section and a column Stock length.',
    );
  });
});

describe('how long it takes', () => {
  const slow = (number: string, days: number, more: Partial<Plan> = {}): Plan =>
    leaf(number, { source: 'bought', ...more, properties: { 'Lead time': value(days), ...more.properties } });
  test('the longest way through the structure, with what it waits for', () => {
    const head: Plan = {
      ...node('HEAD', [1, slow('WHEEL', 20)], [1, slow('PIN', 5)]),
      name: 'Mast head',
      properties: { 'Lead time': value(3) },
    };
    expect(buying(node('TOP', [1, head], [1, slow('BOLT', 21)])).lead).toEqual({
      days: 23,
      because: [
        { name: 'Mast head', days: 3 },
        { name: 'WHEEL', days: 20 },
      ],
    });
  });
  test('a made part waits for its bars', () => {
    const made = buying(
      node(
        'TOP',
        [
          1,
          tube('T', 700, { properties: { Length: value(700), Section: value('Tube 30 × 2'), 'Lead time': value(4) } }),
        ],
        [1, slow('B', 10)],
      ),
      {
        catalogues: [bars(['Tube 30 × 2', 6000, 40])],
      },
    );
    expect(made.lead).toEqual({
      days: 13,
      because: [
        { name: 'T', days: 4 },
        { name: 'bars of Tube 30 × 2', days: 9 },
      ],
    });
  });
  test('what is there keeps nobody waiting, and where nothing is known nothing is told', () => {
    const top = node('TOP', [1, slow('B', 10)]);
    expect(
      buying(top, { plan: { lines: { [keyOf(top, 'B')]: { onHand: 1 } } as unknown as BuyingPlan['lines'] } }).lead
        .days,
    ).toBe(0);
    expect(buying(node('TOP', [1, bolt('B')])).lead).toEqual({ days: null, because: [] });
  });
});

describe('orders', () => {
  const machine = (count: number) => node('TOP', [count, bolt('B')], [1, bolt('GONE')]);
  test('lines of one part that are kept apart stay two lines of the order', () => {
    const twins = node('TOP', [2, bolt('B')], [3, bolt('B')]);
    const made = buying(twins, { recipe: { identity: 'shape' } });
    expect(new Set(made.order.map(({ key }) => key)).size).toBe(made.order.length);
    expect(compareOrder({ lines: made.order }, made.order)).toEqual([]);
  });
  test('an order is compared with what is needed now, in words', () => {
    const before = buying(machine(12)),
      now = buying(node('TOP', [14, bolt('B')], [3, bolt('NEW')]));
    expect(compareOrder({ lines: before.order }, now.order).map(({ words }) => words)).toEqual([
      'two more of item 1',
      'item 2 is new: three',
      'item 2 is not needed any more',
    ]);
    expect(compareOrder({ lines: before.order }, buying(machine(12)).order)).toEqual([]);
  });
});

test('two plans side by side: cost, bars and waste, section by section', () => {
  const frame = node('TOP', [1, tube('A', 2100)]);
  const with1 = buying(frame, { catalogues: [bars(['Tube 30 × 2', 6000, 40])] });
  const with10 = buying(frame, { catalogues: [bars(['Tube 30 × 2', 2200, 18])] });
  expect(comparePlans(with1, with10)).toMatchObject({
    cost: [40, 18],
    bars: [1, 1],
    wasteMm: [0, 0],
    boughtMm: [6000, 2200],
    sections: [{ title: 'Tube 30 × 2, Steel', bars: ['1 × 6000', '1 × 2200'], cost: [40, 18] }],
  });
});

test('how good a plan is, is never told better than it is', () => {
  const plan = {
    cost: 100.05,
    lowerBound: 100,
    optimal: false,
    measure: 'price',
    missing: [],
    stopped: false,
  } as never;
  expect(planWorth(plan)).toBe('at most 0.1 % above the cheapest possible');
  expect(planWorth({ ...(plan as object), optimal: true } as never)).toBe('cheapest possible');
  expect(planWorth({ ...(plan as object), lowerBound: 0, stopped: true } as never)).toBe(
    'stopped before its worth was known',
  );
});

test('many equal pieces of a bar are marked by their step, which adds up to the last of them', () => {
  const made = buying(node('TOP', [30, tube('T', 190)]), {
    catalogues: [bars(['Tube 30 × 2', 6000, 40])],
    plan: { kerfMm: 2.33 },
  });
  const facts = { title: '', what: '', date: '', currency: 'EUR' };
  const texts = drawCutList(made.planned, made.requirement.lines, facts).flatMap(({ marks }) =>
    marks.flatMap((mark) => (mark.kind === 'text' ? [mark.text] : [])),
  );
  expect(texts.join(' ')).toContain('30 marks from 190 to 5767.6, every 192.33');
});

test('the cut list has every bar with its pieces, on as many pages as it takes, and nothing beyond them', () => {
  const frame = node('TOP', ...Array.from({ length: 30 }, (_, at) => [3, tube(`T${at}`, 700 + 61 * at)] as const));
  const made = buying(frame, { catalogues: [bars(['Tube 30 × 2', 6000, 40])], plan: { kerfMm: 2.5 } });
  const scenes = drawCutList(made.planned, made.requirement.lines, {
    title: 'Frame',
    what: '1 machine',
    date: '2026-03-02',
    currency: 'EUR',
  });
  const texts = scenes.flatMap(({ marks }) => marks.flatMap((mark) => (mark.kind === 'text' ? [mark.text] : [])));
  for (let at = 0; at < 30; at++) expect(texts.some((text) => new RegExp(`· T${at} ·`).test(text))).toBe(true);
  expect(scenes.length).toBeGreaterThan(1);
  for (const { marks, widthMm, heightMm } of scenes)
    for (const mark of marks) {
      const points =
        mark.kind === 'text'
          ? [mark.at, [mark.at[0] + mark.width, mark.at[1]] as const]
          : mark.kind === 'path'
            ? mark.points
            : [];
      for (const [x, y] of points) {
        expect(x).toBeGreaterThanOrEqual(0);
        expect(x).toBeLessThanOrEqual(widthMm);
        expect(y).toBeLessThanOrEqual(heightMm);
      }
    }
});
