import { expose, transfer } from 'comlink';
import type { Assembly, FactsByShape } from '../../../core/src/assembly/index.ts';
import { billTotals, packBill } from '../../../core/src/bill/index.ts';
import { readyForFormulas } from '../../../core/src/columns/index.ts';
import {
  editedFor,
  projectBill,
  type BillDocument,
  type ComponentEdits,
  type ProjectBillInput,
} from '../../../core/src/documents/index.ts';

let held: { original: Assembly; facts: FactsByShape } | null = null;
/** The edited assembly of the last run: most choices change the bill alone. */
let last: { edits: ComponentEdits; text: string; variant: string | null; edited: ReturnType<typeof editedFor> } | null =
  null;

const worker = {
  take(original: Assembly, facts: FactsByShape): void {
    held = { original, facts };
    last = null;
  },
  /** The bill as JSON bytes: many times faster to hand over than its records. */
  async make(
    edits: ComponentEdits,
    document: string,
    fileName: string,
    catalogues: ProjectBillInput['catalogues'],
  ): Promise<Uint8Array> {
    if (!held) throw new Error('The structure must be taken before a bill is made.');
    const bill = JSON.parse(document) as BillDocument;
    if (bill.columns.some(({ source }) => source === 'formula')) await readyForFormulas();
    const variant = bill.recipe.variant ?? null,
      text = JSON.stringify(edits);
    if (!last || last.text !== text || last.variant !== variant)
      last = { edits, text, variant, edited: editedFor({ ...held, edits }, variant) };
    const made = projectBill({ ...held, edits: last.edits, bill, fileName, catalogues }, last.edited).bill;
    const { recipe, rows, sections, findings, retired } = made;
    const bytes = new TextEncoder().encode(
      JSON.stringify(
        packBill({
          recipe,
          rows,
          sections,
          findings,
          totals: billTotals(made, bill.columns),
          ...(retired ? { retired } : {}),
        }),
      ),
    );
    return transfer(bytes, [bytes.buffer]);
  },
};
export type BillWorker = typeof worker;
expose(worker);
