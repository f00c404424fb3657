import Papa from 'papaparse';
import type { Buying, IssuedOrder, OrderLine } from '../buying/index.ts';
import type { CutPlan } from '../cutting/index.ts';
import type { SpreadsheetValue } from '../columns/index.ts';
import type { BillTable, TableLine } from './billTable.ts';
import { neutral } from './billText.ts';

const rounded = (value: number): number => Math.round(value * 1e6) / 1e6;

type ItemOf = (line: string) => string;
type Planned = Buying['planned'][number];

const requirementJson = (line: Buying['requirement']['lines'][number]) => ({
  item: line.items.join(', '),
  partNumber: line.partNumber,
  name: line.name,
  material: line.material,
  source: line.source || null,
  supplier: line.supplier,
  needed: line.needed,
  spares: line.spares,
  onHand: line.onHand,
  toGet: line.toGet,
  unit: line.unit,
  asRequired: line.kind === 'as required',
  ...(line.section ? { section: line.section } : {}),
});

const orderJson = (line: OrderLine) => ({
  kind: line.kind,
  supplier: line.supplier,
  orderNumber: line.orderNumber,
  item: line.items.join(', '),
  partNumber: line.partNumber,
  name: line.name,
  material: line.material,
  quantity: line.quantity,
  unit: line.unit,
  unitPrice: line.unitPrice,
  cost: line.cost,
  leadDays: line.leadDays,
});

/** Of a section that bars are planned for. */
function cutPlanJson(group: Planned['group'], plan: CutPlan, itemOf: ItemOf) {
  const pieceJson = (piece: number, count: number) => ({
    item: itemOf(group.pieces[piece].line),
    lengthMm: group.pieces[piece].lengthMm,
    count,
  });
  return {
    material: group.material,
    section: group.section,
    kerfMm: group.problem!.kerfMm,
    trimMm: group.problem!.trimMm,
    measure: plan.measure,
    bars: plan.bars.map((bar) => ({
      stockMm: group.stock[bar.stock].lengthMm,
      stock: group.stock[bar.stock].number,
      count: bar.count,
      pieces: bar.pieces.map(({ piece, count }) => pieceJson(piece, count)),
      leftOverMm: bar.leftOverMm,
    })),
    cost: plan.measure === 'price' ? plan.cost : null,
    boughtMm: plan.boughtMm,
    piecesMm: plan.piecesMm,
    keptMm: plan.keptMm,
    wasteMm: plan.wasteMm,
    wastePercent: rounded((100 * plan.wasteMm) / Math.max(1e-9, plan.boughtMm)),
    lowerBound: plan.lowerBound,
    gapPercent: gapPercent(plan),
    optimal: plan.optimal,
    tooLong: plan.tooLong.map((piece) => pieceJson(piece, group.pieces[piece].count)),
    missing: plan.missing.map(({ piece, count }) => pieceJson(piece, count)),
  };
}

/** Of a section that no bars are said for. */
const withoutStockJson = ({ material, section, pieces }: Planned['group'], itemOf: ItemOf) => ({
  material,
  section,
  pieces: pieces.map(({ line, lengthMm, count }) => ({ item: itemOf(line), lengthMm, count })),
});

/** How a line is bought in packs; nothing where it is not. */
const packsJson = ({ mix, partNumber, name, items }: OrderLine) =>
  mix && (mix.packs.length > 0 || mix.over > 0)
    ? [
        {
          item: items.join(', '),
          partNumber,
          name,
          ...mix,
          saving: mix.exactly === null ? null : rounded(mix.exactly - mix.cost),
        },
      ]
    : [];

/** A buying plan for other programs; lengths in mm, masses in kg, money in the currency of the plan. */
export function buyingJson(buying: Buying, currency: string, machines: number): object {
  const { requirement, planned, order, plates, cost, lead, problems } = buying;
  const items = new Map(
    requirement.lines.map((line) => [line.key, line.items.join(', ') || line.partNumber || line.name]),
  );
  const itemOf: ItemOf = (line) => items.get(line) ?? '';
  const titles = new Map(order.map((line) => [line.key, line.partNumber || line.name]));
  return {
    machines,
    currency,
    requirement: requirement.lines.map(requirementJson),
    order: order.map(orderJson),
    cutPlans: planned.flatMap(({ group, plan }) => (plan ? [cutPlanJson(group, plan, itemOf)] : [])),
    withoutStock: planned.flatMap(({ group, plan }) => (plan ? [] : [withoutStockJson(group, itemOf)])),
    plates,
    packs: order.flatMap(packsJson),
    cost: { known: cost.known, unknownLines: cost.unknown.map((key) => titles.get(key) ?? key) },
    leadTime: lead,
    findings: problems.map(({ code, message }) => ({ code, message })),
  };
}

/** How far a plan may be above the cheapest, per cent; null where nothing is known. */
const gapPercent = ({ cost, lowerBound, optimal }: CutPlan): number | null =>
  optimal ? 0 : lowerBound > 0 ? rounded((cost / lowerBound - 1) * 100) : null;

/** How pieces are bought: `2 packs of 200, 1 pack of 50, 13 single`. */
export function mixWords({ mix }: Pick<OrderLine, 'mix'>): string {
  if (!mix || mix.packs.length === 0) return '';
  const packs = mix.packs.map(({ size, count }) => `${count} ${count === 1 ? 'pack' : 'packs'} of ${size}`);
  return [...packs, ...(mix.singles > 0 ? [`${mix.singles} single`] : [])].join(', ');
}

const KINDS: Readonly<Record<OrderLine['kind'], string>> = { buy: 'Bought', bar: 'Bar', make: 'Made' };

const textCell = (value: string): SpreadsheetValue | null => (value === '' ? null : { kind: 'text', value });
const numberCell = (value: number | null, pattern: string): SpreadsheetValue | null =>
  value === null ? null : { kind: 'number', value: rounded(value), pattern };

/** Columns of an order: heading, side, and the cell of a line. */
const orderColumns = (
  currency: string,
): readonly (readonly [
  string,
  BillTable['columns'][number]['align'],
  (line: OrderLine) => SpreadsheetValue | null,
])[] => [
  ['Supplier', 'left', ({ supplier }) => textCell(supplier)],
  ['Kind', 'left', ({ kind }) => textCell(KINDS[kind])],
  ['Item', 'left', ({ items }) => textCell(items.join(', '))],
  ['Part number', 'left', ({ partNumber }) => textCell(partNumber)],
  ['Supplier’s number', 'left', ({ orderNumber }) => textCell(orderNumber)],
  ['Name', 'left', ({ name }) => textCell(name)],
  ['Material', 'left', ({ material }) => textCell(material)],
  ['Qty', 'right', ({ quantity }) => (quantity === null ? textCell('as required') : numberCell(quantity, 'General'))],
  ['Unit', 'left', ({ unit }) => textCell(unit)],
  ['Bought as', 'left', (line) => textCell(mixWords(line))],
  [`Unit cost [${currency}]`, 'right', ({ unitPrice }) => numberCell(unitPrice, '0.00##')],
  [`Cost [${currency}]`, 'right', ({ cost }) => numberCell(cost, '0.00')],
  ['Lead time [days]', 'right', ({ leadDays }) => numberCell(leadDays, 'General')],
];

/** An order as the cells of a spreadsheet, with a sum of what is known. */
export function orderTable({ lines, currency }: Pick<IssuedOrder, 'lines' | 'currency'>): BillTable {
  const columns = orderColumns(currency);
  const rows = lines.map((line): TableLine => ({
    kind: 'row',
    outline: 0,
    component: -1,
    cells: columns.map(([, , cell]) => cell(line)),
  }));
  const known = lines.reduce((sum, { cost }) => sum + (cost ?? 0), 0);
  const unknown = lines.filter(({ cost }) => cost === null).length;
  const total: TableLine = {
    kind: 'total',
    outline: 0,
    component: -1,
    cells: columns.map(([heading], at) =>
      at === 0
        ? textCell(
            unknown === 0
              ? 'Sum'
              : `Sum without ${unknown} ${unknown === 1 ? 'line' : 'lines'} whose cost is not known`,
          )
        : heading.startsWith('Cost')
          ? numberCell(known, '0.00')
          : null,
    ),
  };
  const all = lines.length > 0 ? [...rows, total] : rows;
  return {
    columns: columns.map(([heading, align], at) => ({
      heading,
      align,
      isPicture: false,
      width: Math.min(
        60,
        rows.reduce((most, { cells }) => Math.max(most, String(cells[at]?.value ?? '').length + 2), heading.length + 2),
      ),
    })),
    lines: all,
  };
}

/** The same as CSV; texts that a spreadsheet would take for formulas are made harmless. */
export function orderCsv(order: Pick<IssuedOrder, 'lines' | 'currency'>): string {
  const { columns, lines } = orderTable(order);
  return `${Papa.unparse(
    [
      columns.map(({ heading }) => heading),
      ...lines.map(({ cells }) =>
        cells.map((cell) => (cell === null ? '' : cell.kind === 'text' ? neutral(cell.value) : cell.value)),
      ),
    ],
    { newline: '\n' },
  )}\n`;
}
