import {
  hashKey,
  unnamed,
  type Assembly,
  type Component,
  type ComponentKey,
  type PropertyValue,
  type UsageKey,
} from '../assembly/index.ts';
import { makeBill, type Bill, type QuantityKind } from '../bill/index.ts';
import { newColumn, type Column } from '../columns/index.ts';
import { identityPlacement } from '../geometry/index.ts';
import type { IssuedOrder } from './orders.ts';

const MONEY = { decimals: 2, unitPlace: 'heading' } as const;

/**
 * An order as a list of parts, so that whatever takes a list takes an order too, the company's form among it. Item numbers are
 * those of the order; those of the drawing stand under `Drawing item`.
 */
export function orderBill({ lines, currency }: Pick<IssuedOrder, 'lines' | 'currency'>): {
  readonly bill: Bill;
  readonly columns: readonly Column[];
  readonly assembly: Assembly;
} {
  const quantityOf: Record<ComponentKey, QuantityKind> = {};
  const components = lines.map((line, at): Component => {
    const key = hashKey('order line', String(at), line.key) as ComponentKey;
    if (line.quantity === null) quantityOf[key] = { kind: 'as required' };
    else if (line.unit !== '') quantityOf[key] = { kind: 'fixed', value: line.quantity, unit: line.unit };
    const properties: Record<string, PropertyValue> = {};
    const say = (name: string, value: string | number | null, unit?: string) => {
      if (value !== null && value !== '') properties[name] = { value, ...(unit ? { unit } : {}) };
    };
    say('Material', line.material);
    say('Supplier', line.supplier);
    say('Order number', line.orderNumber);
    say('Drawing item', line.items.join(', '));
    say('Unit cost', line.unitPrice, currency);
    say('Cost', line.cost, currency);
    say('Lead time', line.leadDays, 'days');
    return {
      ...unnamed,
      key,
      partNumber: line.partNumber,
      name: line.name,
      source: line.kind === 'make' ? 'made' : 'bought',
      properties,
      usages: [],
    };
  });
  const root: Component = {
    ...unnamed,
    key: hashKey('order', String(lines.length)) as ComponentKey,
    usages: lines.map(({ quantity, unit }, child) => ({
      key: `${hashKey('order usage', String(child))}.0` as UsageKey,
      child,
      label: '',
      quantity: unit === '' && quantity !== null && quantity >= 1 ? Math.round(quantity) : 1,
      placement: identityPlacement,
    })),
  };
  const assembly: Assembly = {
    version: 1,
    schema: 'order',
    sourceUnit: 'mm',
    root: components.length,
    components: [...components, root],
    findings: [],
  };
  const property = (name: string, more: Partial<Column> = {}): Column => ({
    ...newColumn(`property:${name}`),
    ...more,
  });
  const columns: Column[] = [
    newColumn('item'),
    newColumn('quantity'),
    newColumn('unit'),
    newColumn('partNumber'),
    property('Order number'),
    newColumn('name'),
    property('Material'),
    property('Supplier'),
    property('Unit cost', { format: { ...MONEY, unit: currency } }),
    // A line's cost is that of all its pieces already.
    property('Cost', { format: { ...MONEY, unit: currency }, total: 'one each' }),
    property('Lead time', { format: { unit: 'days', unitPlace: 'heading' } }),
    newColumn('source'),
    property('Drawing item'),
  ];
  // Every line is a line of its own, whatever its number.
  const apart = Object.fromEntries(components.map(({ key }, at) => [key, String(at)]));
  const bill = makeBill(
    assembly,
    { depth: 'parts-only', identity: 'part-number', quantityOf },
    { treatments: [], ledger: {}, apart },
    { columns },
  );
  return { bill, columns, assembly };
}
