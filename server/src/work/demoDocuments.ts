// What the demo project has besides a drawing's list and a sheet.
import { treatmentFor, type Assembly, type Treatment, type Treatments } from '../../../core/src/assembly/index.ts';
import { firstNumbers, makeBill } from '../../../core/src/bill/index.ts';
import { defaultColumns, newColumn } from '../../../core/src/columns/index.ts';
import { newBill, type BillDocument, type ComponentEdits } from '../../../core/src/documents/index.ts';

/** The demo sledge is built with a long mast, or with a short one that has no upper tube. */
export function mastVariants({ components }: Assembly): ComponentEdits['variants'] {
  const keysOf = (...numbers: string[]) =>
    components.filter(({ partNumber }) => numbers.includes(partNumber)).map(({ key }) => key);
  const variant = { withoutPlaces: [], exchanged: {}, typed: {} };
  return {
    'long-mast': { ...variant, name: 'Long mast', without: [] },
    'short-mast': {
      ...variant,
      name: 'Short mast',
      without: keysOf('SL-3122'),
      typed: Object.fromEntries(keysOf('SL-3000').map((key) => [key, { Name: { value: 'Drill mast, short' } }])),
    },
  };
}

/** The demo's second list: what is bought, by material, with masses. */
export function buyersList(assembly: Assembly, treatments: readonly (Treatment | undefined)[]): BillDocument {
  const columns = [...defaultColumns(assembly), newColumn('massEach'), { ...newColumn('massTotal'), total: true }];
  const bill = newBill(assembly, 'Buyer’s list', columns);
  const recipe: BillDocument['recipe'] = {
    ...bill.recipe,
    filter: { holds: 'all', of: [{ source: 'source', comparison: 'is', operand: 'bought' }] },
    groups: [{ source: 'property:Material', subtotal: true }],
    sort: [{ source: 'name' }],
  };
  return { ...bill, recipe, ledger: firstNumbers(makeBill(assembly, recipe, { treatments, ledger: {} }, { columns })) };
}

/** In the demo what is bought whole is listed whole; in a file of the drafter's own that is the drafter's to say. */
export function boughtWhole(assembly: Assembly): Treatments {
  const bought = assembly.components.filter(({ source, usages }) => source === 'bought' && usages.length > 0);
  return Object.fromEntries(bought.map(({ key }) => [key, treatmentFor('listed whole')]));
}
