import * as v from 'valibot';
import {
  buyingRoles,
  type BuyingPlan,
  type BuyingSources,
  type GroupChoice,
  type IssuedOrder,
  type LineChoice,
} from '../../../core/src/buying/index.ts';
import { MOST_MACHINES, type BuyingCommand, type OrderCommand } from '../../../core/src/documents/index.ts';
import { address, entriesOf, finite, holds, id, listOf, shortText, whole, type Same } from './shared.ts';

/** Lengths of bars and what is lost of them, mm: none is longer than a kilometre. */
const length = v.pipe(finite, v.minValue(0.001), v.maxValue(1e6));
const loss = v.pipe(finite, v.minValue(0), v.maxValue(1e5));
const price = v.pipe(finite, v.minValue(0), v.maxValue(1e9));
const amount = v.pipe(finite, v.minValue(0), v.maxValue(1e9));
/** Reference of a column. */
const columnSource = v.pipe(v.string(), v.minLength(1), v.maxLength(400));
const currency = v.pipe(v.string(), v.regex(/^[A-Z]{3}$/));
const groupKey = v.pipe(
  v.string(),
  v.minLength(1),
  v.maxLength(200),
  v.check((key) => key !== '__proto__', 'This is no key of a section.'),
);

const lineChoice = v.strictObject({
  spares: v.optional(v.strictObject({ by: v.picklist(['percent', 'pieces']), value: amount })),
  onHand: v.optional(amount),
  supplier: v.optional(shortText),
  unitCost: v.optional(price),
  leadDays: v.optional(v.pipe(finite, v.minValue(0), v.maxValue(36_500))),
});
holds<Same<typeof lineChoice, LineChoice>>();
const groupChoice = v.strictObject({
  kerfMm: v.optional(loss),
  trimMm: v.optional(loss),
  leastLeftOverMm: v.optional(v.pipe(finite, v.minValue(0), v.maxValue(1e6))),
  bars: v.optional(
    listOf(
      v.strictObject({
        lengthMm: length,
        price: v.nullable(price),
        available: v.nullable(v.pipe(whole, v.maxValue(1e9))),
      }),
      40,
    ),
  ),
  otherwise: v.optional(v.literal(true)),
});
holds<Same<typeof groupChoice, GroupChoice>>();
const sources = v.partial(
  v.strictObject(
    Object.fromEntries(buyingRoles.map((role) => [role, columnSource])) as Record<
      (typeof buyingRoles)[number],
      typeof columnSource
    >,
  ),
);
holds<Same<typeof sources, BuyingSources>>();

const fields = {
  bill: v.nullable(id),
  builds: listOf(v.strictObject({ variant: v.nullable(id), count: v.pipe(whole, v.maxValue(MOST_MACHINES)) }), 100, 1),
  sparePercent: v.pipe(finite, v.minValue(0), v.maxValue(1000)),
  currency,
  catalogues: listOf(id, 20),
  stock: listOf(id, 20),
  kerfMm: loss,
  trimMm: loss,
  leastLeftOverMm: v.pipe(finite, v.minValue(0), v.maxValue(1e6)),
};
const rate = v.pipe(finite, v.minValue(1e-9), v.maxValue(1e9));

export const buyingSchema = v.strictObject({
  version: v.literal(1),
  name: shortText,
  ...fields,
  rates: v.record(currency, rate),
  sources,
  lines: entriesOf(address, lineChoice),
  groups: v.record(groupKey, groupChoice),
  away: v.optional(v.literal(true)),
});
holds<Same<typeof buyingSchema, BuyingPlan>>();

export const buyingCommandSchema = v.variant('kind', [
  v.strictObject({ kind: v.literal('renamePlan'), name: shortText }),
  v.strictObject({ kind: v.literal('setAway'), away: v.boolean() }),
  v.strictObject({ kind: v.literal('changePlan'), change: v.partial(v.strictObject(fields)) }),
  v.strictObject({
    kind: v.literal('setEntries'),
    entries: v.strictObject({
      rates: v.optional(v.record(currency, v.nullable(rate))),
      sources: v.optional(
        v.partial(
          v.strictObject(
            Object.fromEntries(buyingRoles.map((role) => [role, v.nullable(columnSource)])) as Record<
              (typeof buyingRoles)[number],
              v.NullableSchema<typeof columnSource, undefined>
            >,
          ),
        ),
      ),
      lines: v.optional(entriesOf(address, v.nullable(lineChoice))),
      groups: v.optional(v.record(groupKey, v.nullable(groupChoice))),
    }),
  }),
]);
holds<Same<typeof buyingCommandSchema, BuyingCommand>>();

const steps = v.array(
  v.strictObject({ size: v.pipe(whole, v.minValue(1)), count: v.pipe(whole, v.minValue(1)), price }),
);
const cost = v.pipe(finite, v.minValue(0));
const orderLine = v.strictObject({
  key: v.pipe(v.string(), v.maxLength(50_000)),
  kind: v.picklist(['buy', 'bar', 'make']),
  address: v.nullable(address),
  group: v.nullable(groupKey),
  supplier: v.pipe(v.string(), v.maxLength(10_000)),
  orderNumber: v.pipe(v.string(), v.maxLength(10_000)),
  partNumber: v.pipe(v.string(), v.maxLength(10_000)),
  name: v.pipe(v.string(), v.maxLength(10_000)),
  material: v.pipe(v.string(), v.maxLength(10_000)),
  items: v.array(v.pipe(v.string(), v.maxLength(10_000))),
  quantity: v.nullable(cost),
  unit: v.pipe(v.string(), v.maxLength(40)),
  mix: v.nullable(
    v.strictObject({
      packs: steps,
      singles: whole,
      singlePrice: cost,
      pieces: whole,
      cost,
      over: cost,
      exactly: v.nullable(cost),
    }),
  ),
  unitPrice: v.nullable(cost),
  cost: v.nullable(cost),
  leadDays: v.nullable(cost),
  massKg: v.nullable(cost),
});

export const orderSchema = v.strictObject({
  version: v.literal(1),
  number: v.pipe(v.string(), v.minLength(1), v.maxLength(100)),
  date: v.pipe(v.string(), v.regex(/^\d{4}-\d{2}-\d{2}$/)),
  plan: shortText,
  what: shortText,
  revision: shortText,
  currency,
  lines: v.array(orderLine),
  away: v.optional(v.literal(true)),
});
holds<Same<typeof orderSchema, IssuedOrder>>();

export const orderCommandSchema = v.strictObject({ kind: v.literal('setAway'), away: v.boolean() });
holds<Same<typeof orderCommandSchema, OrderCommand>>();
