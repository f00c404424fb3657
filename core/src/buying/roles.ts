import { currencies } from '../columns/index.ts';
import { buyingRoles, type BuyingRole, type BuyingSources } from './records.ts';

/** What a property may be called that says it; the first that exists counts. */
const NAMES: Readonly<Record<BuyingRole, RegExp>> = {
  supplier: /^(supplier|vendor|lieferant)$/i,
  orderNumber: /^(order (number|no\.?)|supplier.s number|supplier number)$/i,
  unitCost: /^(unit cost|unit price|price|cost|price each|cost each)$/i,
  breaks: /^(price breaks?|breaks|quantity prices?)$/i,
  packOf: /^(pack of|pack size|sold in|multiple)$/i,
  packs: /^(packs|pack prices?)$/i,
  minimum: /^(minimum order|min(imum)?\.? (order )?(qty|quantity)|least order)$/i,
  leadTime: /^(lead time|delivery time)$/i,
  length: /^(length|cut length|l)$/i,
  section: /^(section|profile|cross.section|stock size)$/i,
  material: /^material$/i,
  ends: /^(ends|end cuts|mitre|mitres|miter)$/i,
  thickness: /^thickness$/i,
  area: /^area$/i,
};

/** Units that stand behind a heading without brackets: `length_mm`, `Price EUR`. */
const BEHIND = new RegExp(`\\s(mm|${currencies.join('|')})$`, 'i');
/** A heading as people write it, without the unit that stands behind it: `Packs [EUR]`, `stock_length_mm`, `unitCost`. */
export const bareHeading = (name: string): string =>
  name
    .replace(/\s*[[(][^\])]{0,40}[\])]\s*$/, '')
    .replace(/_/g, ' ')
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .replace(BEHIND, '')
    .trim();

/** What people call it. */
export const roleWords: Readonly<Record<BuyingRole, string>> = {
  supplier: 'Supplier',
  orderNumber: 'Supplier’s number',
  unitCost: 'Unit cost',
  breaks: 'Price breaks',
  packOf: 'Sold in multiples of',
  packs: 'Packs',
  minimum: 'Least order',
  leadTime: 'Lead time',
  length: 'Length',
  section: 'Section',
  material: 'Material',
  ends: 'Mitred ends',
  thickness: 'Thickness',
  area: 'Area',
};

/** Where each role is found among properties of these names, unless it was said. A role that nothing says is absent. */
export function sourcesFor(given: BuyingSources, properties: readonly string[]): BuyingSources {
  const found: Partial<Record<BuyingRole, string>> = {};
  for (const role of buyingRoles) {
    const own = given[role];
    const name = own === undefined ? properties.find((one) => NAMES[role].test(bareHeading(one))) : undefined;
    if (own !== undefined) found[role] = own;
    else if (name !== undefined) found[role] = `property:${name}`;
  }
  return found;
}

/** Which of these headings says what a role asks for; −1 for none. */
export const headingFor = (role: BuyingRole, headings: readonly string[]): number =>
  headings.findIndex((heading) => NAMES[role].test(bareHeading(heading)));
