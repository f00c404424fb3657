import type { PropertyValue } from '../assembly/index.ts';
import { isSameValue } from './reading.ts';
import type { CatalogueColumn, CatalogueItem } from './records.ts';

/** What a supplier asks for a part. */
interface PartOffer {
  readonly number: string;
  readonly firm: string;
  readonly unitCost: number;
  /** ISO 4217. */
  readonly currency: string;
  readonly leadDays: number;
}

/** Columns of a catalogue that say what suppliers ask. */
const offerColumns = ['Unit cost', 'Lead time', 'Asked of', 'Asked on'] as const;
type OfferColumn = (typeof offerColumns)[number];
const kinds: Readonly<Record<OfferColumn, Pick<CatalogueColumn, 'kind' | 'unit'>>> = {
  'Unit cost': { kind: 'money', unit: '' },
  'Lead time': { kind: 'number', unit: 'days' },
  'Asked of': { kind: 'text', unit: '' },
  'Asked on': { kind: 'date', unit: '' },
};

/** The catalogue's columns with those that say what suppliers ask, and which of them each is. */
export function withOfferColumns(
  columns: readonly CatalogueColumn[],
  newId: () => string,
): { readonly columns: readonly CatalogueColumn[]; readonly ids: Readonly<Record<OfferColumn, string>> } {
  const next = [...columns];
  const ids = Object.fromEntries(
    offerColumns.map((heading) => {
      const known = columns.find((column) => column.heading.toLowerCase() === heading.toLowerCase());
      if (known) return [heading, known.id];
      const column = { id: newId(), heading, ...kinds[heading] };
      next.push(column);
      return [heading, column.id];
    }),
  ) as Record<OfferColumn, string>;
  return { columns: next, ids };
}

/** What an offer says otherwise than an item: its price, its lead time. */
interface OfferChange {
  readonly item: CatalogueItem;
  readonly offer: PartOffer;
  readonly cost: readonly [was: PropertyValue | undefined, is: PropertyValue];
  readonly lead: readonly [was: PropertyValue | undefined, is: PropertyValue];
  /** Whether price or lead time is another one. */
  readonly isNews: boolean;
}

export function offerChange(
  item: CatalogueItem,
  offer: PartOffer,
  ids: Readonly<Record<OfferColumn, string>>,
): OfferChange {
  const cost = [item.values[ids['Unit cost']], { value: offer.unitCost, unit: offer.currency }] as const;
  const lead = [item.values[ids['Lead time']], { value: offer.leadDays, unit: 'days' }] as const;
  return { item, offer, cost, lead, isNews: !isSameValue(...cost) || !isSameValue(...lead) };
}

/** Values by item and column that take offers over, with whom was asked and when. @param date ISO */
export const offerValues = (
  changes: readonly OfferChange[],
  ids: Readonly<Record<OfferColumn, string>>,
  date: string,
): Record<string, Record<string, PropertyValue>> =>
  Object.fromEntries(
    changes.map(({ item, offer, cost, lead }) => [
      item.id,
      {
        [ids['Unit cost']]: cost[1],
        [ids['Lead time']]: lead[1],
        [ids['Asked of']]: { value: offer.firm },
        [ids['Asked on']]: { value: date },
      },
    ]),
  );
