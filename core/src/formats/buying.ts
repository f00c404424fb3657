import Papa from 'papaparse';
import type { Buying, IssuedOrder, OrderLine } from '../buying/index.ts';
import type { CutPlan } from '../cutting/index.ts';
import type { SpreadsheetValue } from '../columns/index.ts';
import type { BillTable, TableLine } from './billTable.ts';
import { neutral } from './billText.ts';

const rounded = (value: number): number => Math.round(value * 1e6) / 1e6;

/** A buying plan for other programs; lengths in mm, masses in kg, money in the currency of the plan. */
export function buyingJson(buying: Buying, currency: string, machines: number): object {
  const { requirement, planned, order, plates, cost, lead, problems } = buying;
  const itemOf = new Map(
    requirement.lines.map(({ key, items, partNumber, name }) => [key, items.join(', ') || partNumber || name]),
  );
  const titles = new Map(order.map((line) => [line.key, line.partNumber || line.name]));
  return {
    machines,
    currency,
    requirement: requirement.lines.map((line) => ({
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
    })),
    order: order.map((line) => ({
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
    })),
    cutPlans: planned.flatMap(({ group, plan }) =>
      plan
        ? [
            {
              material: group.material,
              section: group.section,
              kerfMm: group.problem!.kerfMm,
              trimMm: group.problem!.trimMm,
              measure: plan.measure,
              bars: plan.bars.map((bar) => ({
                stockMm: group.stock[bar.stock].lengthMm,
                stock: group.stock[bar.stock].number,
                count: bar.count,
                pieces: bar.pieces.map(({ piece, count }) => ({
                  item: itemOf.get(group.pieces[piece].line) ?? '',
                  lengthMm: group.pieces[piece].lengthMm,
                  count,
                })),
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
              tooLong: plan.tooLong.map((piece) => ({
                item: itemOf.get(group.pieces[piece].line) ?? '',
                lengthMm: group.pieces[piece].lengthMm,
                count: group.pieces[piece].count,
              })),
              missing: plan.missing.map(({ piece, count }) => ({
                item: itemOf.get(group.pieces[piece].line) ?? '',
                lengthMm: group.pieces[piece].lengthMm,
                count,
              })),
            },
          ]
        : [],
    ),
    /** Sections that no bars are said for. */
    withoutStock: planned.flatMap(({ group, plan }) =>
      plan
        ? []
        : [
            {
              material: group.material,
              section: group.section,
              pieces: group.pieces.map(({ line, lengthMm, count }) => ({
                item: itemOf.get(line) ?? '',
                lengthMm,
                count,
              })),
            },
          ],
    ),
    plates,
    packs: order.flatMap(({ mix, partNumber, name, items }) =>
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
        : [],
    ),
    cost: { known: cost.known, unknownLines: cost.unknown.map((key) => titles.get(key) ?? key) },
    leadTime: lead,
    findings: problems.map(({ code, message }) => ({ code, message })),
  };
}

/** How far a plan may be above the cheapest, per cent; null where nothing is known. */
export const gapPercent = ({ cost, lowerBound, optimal }: CutPlan): number | null =>
  optimal ? 0 : lowerBound > 0 ? rounded((cost / lowerBound - 1) * 100) : null;

/** How pieces are bought: `2 packs of 200, 1 pack of 50, 13 single`. */
export function mixWords({ mix }: Pick<OrderLine, 'mix'>): string {
  if (!mix || mix.packs.length === 0) return '';
  const packs = mix.packs.map(({ size, count }) => `${count} ${count === 1 ? 'pack' : 'packs'} of ${size}`);
  return [...packs, ...(mix.singles > 0 ? [`${mix.singles} single`] : [])].join(', ');
}

const KINDS: Readonly<Record<OrderLine['kind'], string>> = { buy: 'Bought', bar: 'Bar', make: 'Made' };

/** An order as the cells of a spreadsheet, with a sum of what is known. */
export function orderTable({ lines, currency }: Pick<IssuedOrder, 'lines' | 'currency'>): BillTable {
  const text = (value: string): SpreadsheetValue | null => (value === '' ? null : { kind: 'text', value });
  const number = (value: number | null, pattern: string): SpreadsheetValue | null =>
    value === null ? null : { kind: 'number', value: rounded(value), pattern };
  const columns: readonly (readonly [
    string,
    BillTable['columns'][number]['align'],
    (line: OrderLine) => SpreadsheetValue | null,
  ])[] = [
    ['Supplier', 'left', ({ supplier }) => text(supplier)],
    ['Kind', 'left', ({ kind }) => text(KINDS[kind])],
    ['Item', 'left', ({ items }) => text(items.join(', '))],
    ['Part number', 'left', ({ partNumber }) => text(partNumber)],
    ['Supplier’s number', 'left', ({ orderNumber }) => text(orderNumber)],
    ['Name', 'left', ({ name }) => text(name)],
    ['Material', 'left', ({ material }) => text(material)],
    ['Qty', 'right', ({ quantity }) => (quantity === null ? text('as required') : number(quantity, 'General'))],
    ['Unit', 'left', ({ unit }) => text(unit)],
    ['Bought as', 'left', (line) => text(mixWords(line))],
    [`Unit cost [${currency}]`, 'right', ({ unitPrice }) => number(unitPrice, '0.00##')],
    [`Cost [${currency}]`, 'right', ({ cost }) => number(cost, '0.00')],
    ['Lead time [days]', 'right', ({ leadDays }) => number(leadDays, 'General')],
  ];
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
        ? text(
            unknown === 0
              ? 'Sum'
              : `Sum without ${unknown} ${unknown === 1 ? 'line' : 'lines'} whose cost is not known`,
          )
        : heading.startsWith('Cost')
          ? number(known, '0.00')
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
