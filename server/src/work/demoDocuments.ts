// What the demo project has besides a drawing's list and a sheet.
import { randomUUID } from 'node:crypto';
import {
  listOccurrences,
  pathKey,
  treatmentFor,
  type Assembly,
  type Treatment,
  type Treatments,
} from '../../../core/src/assembly/index.ts';
import { firstNumbers, makeBill, type Bill } from '../../../core/src/bill/index.ts';
import { defaultColumns, newColumn, type Column } from '../../../core/src/columns/index.ts';
import type { Pose } from '../../../core/src/poses/index.ts';
import {
  blankSheet,
  makeSet,
  sheetKinds,
  usualPaper,
  viewRequest,
  type Sheet,
  type TitleFields,
} from '../../../core/src/sheets/index.ts';
import { lookAt } from '../../../core/src/views/index.ts';
import { explodeLook, makeView, type Tools } from '../../../engine/src/index.ts';
import type { JobContext } from './jobRunner.ts';
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

/** What a project is finished with before it opens. */
export interface Finishing {
  readonly tools: Tools;
  readonly report: JobContext['report'];
}

/** What the sheets of the demo are made from. */
interface DemoInputs {
  readonly assembly: Assembly;
  readonly bill: Bill;
  readonly columns: readonly Column[];
  readonly shared: TitleFields;
  readonly treatments: readonly (Treatment | undefined)[];
}

/** The demo's set: a cover, the drawing with its list, mast head and winch taken apart, and details of what is hidden in them. */
export async function demoSheets(
  { assembly, bill, columns, shared, treatments }: DemoInputs,
  { tools, report }: Finishing,
): Promise<{ sheets: readonly Sheet[]; poses: readonly Pose[] }> {
  const placesOf = (partNumber: string) =>
    listOccurrences(assembly, (index) => assembly.components[index].partNumber === partNumber).map(({ path }) =>
      pathKey(path),
    );
  const whole = listOccurrences(assembly, (index) => treatments[index]?.countContents === false);
  const made = await makeSet({
    sheet: blankSheet('Assembly', usualPaper('A2')),
    others: [],
    shared,
    poses: [],
    assembly,
    bill,
    columns,
    kinds: sheetKinds,
    opened: [...placesOf('SL-3200'), ...placesOf('WN-350')],
    look: (wish, poses) => {
      report({ step: 'Drawing the sheets', done: 0, of: 1 });
      return makeView(lookAt(assembly, viewRequest(wish, poses)), tools);
    },
    apart: () =>
      explodeLook(
        lookAt(assembly, { direction: 'front' }),
        {
          levels: 100,
          whole: whole.map(({ path }) => pathKey(path)).filter((path) => !placesOf('WN-350').includes(path)),
        },
        tools,
      ),
    newId: randomUUID,
  });
  return {
    sheets: [...(made.cover ? [made.cover] : []), made.sheet, ...made.further],
    poses: made.pose ? [made.pose] : [],
  };
}
