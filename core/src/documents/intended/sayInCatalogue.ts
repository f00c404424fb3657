import { headingFor } from '../../buying/index.ts';
import { catalogueIndex, type Catalogue } from '../../catalogues/index.ts';
import type { PropertyValue } from '../../assembly/index.ts';
import { refused, type Refused } from '../kinds/applied.ts';
import type { CatalogueCommand } from '../kinds/catalogue.ts';

const WORDS = { unitCost: 'Unit cost', leadTime: 'Lead time' } as const;

/**
 * Writes what a part costs, or how long it takes, into a catalogue: of the item of its number, or of a new one.
 * @param said with its unit: a currency, or days
 */
export function sayInCatalogue(
  catalogue: Catalogue,
  partNumber: string,
  what: keyof typeof WORDS,
  said: PropertyValue,
  newId: () => string,
): { readonly ok: true; readonly command: CatalogueCommand } | Refused {
  const { name, columns, items, key } = catalogue;
  const at = headingFor(
    what,
    columns.map(({ heading }) => heading),
  );
  if (at < 0) return refused(`${name} has no column ${WORDS[what]}; add it there first.`);
  if (partNumber === '')
    return refused('It has no part number, so no catalogue can find it; keep what is typed for this plan.');
  const match = catalogueIndex(catalogue).find(partNumber);
  if (match.how === 'several') return refused(`${name} has ${partNumber} several times; settle that there first.`);
  const values = { [columns[at].id]: said };
  return {
    ok: true,
    command:
      match.how === 'found'
        ? { kind: 'typeItems', items: { [items[match.item].id]: values } }
        : {
            kind: 'changeItems',
            remove: [],
            put: [{ item: { id: newId(), values: { [key[0]]: { value: partNumber }, ...values } }, at: items.length }],
          },
  };
}
