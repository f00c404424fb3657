import { expose, transfer } from 'comlink';
import type { Assembly, FactsByShape } from '../../../../core/src/assembly/index.ts';
import {
  buyingOf,
  cutPlanKey,
  type BuildInput,
  type BuyingNeed,
  type BuyingPlan,
} from '../../../../core/src/buying/index.ts';
import type { CutPlan } from '../../../../core/src/cutting/index.ts';
import { billTotals, packBill } from '../../../../core/src/bill/index.ts';
import { readyForFormulas } from '../../../../core/src/columns/index.ts';
import {
  buildsOf,
  editedFor,
  needOf,
  projectBill,
  type BillDocument,
  type ComponentEdits,
  type ProjectBillInput,
} from '../../../../core/src/documents/index.ts';

let held: { original: Assembly; facts: FactsByShape } | null = null;
/** The edited assembly of the last run: most choices change the bill alone. */
let last: { edits: ComponentEdits; text: string; variant: string | null; edited: ReturnType<typeof editedFor> } | null =
  null;

let catalogues: ProjectBillInput['catalogues'];
/** What the last plan of buying needs: its cut plans arrive later, one after the other. */
let needed: { text: string; builds: BuildInput[]; need: BuyingNeed } | null = null;

const worker = {
  /** They may be large, and change seldom. */
  takeCatalogues(taken: ProjectBillInput['catalogues']): void {
    catalogues = taken;
    needed = null;
  },
  /** Everything that a plan of buying comes to, as JSON bytes. @param plans by key of their problem */
  async buying(
    edits: ComponentEdits,
    document: string,
    planned: string,
    fileName: string,
    plans: ReadonlyMap<string, CutPlan>,
  ): Promise<Uint8Array> {
    if (!held) throw new Error('The structure must be taken before buying is planned.');
    const text = JSON.stringify([edits, document, planned, fileName]);
    if (needed?.text !== text) {
      const bill = JSON.parse(document) as BillDocument;
      if (bill.columns.some(({ source }) => source === 'formula')) await readyForFormulas();
      const input = { ...held, edits, bill, fileName, catalogues, plan: JSON.parse(planned) as BuyingPlan };
      const builds = buildsOf(input);
      needed = { text, builds, need: needOf(input, builds) };
    }
    const { builds, need } = needed;
    const ofGroups = new Map<string, CutPlan>();
    for (const { key, problem } of need.groups) {
      const plan = problem && plans.get(cutPlanKey(problem));
      if (plan) ofGroups.set(key, plan);
    }
    const bytes = new TextEncoder().encode(JSON.stringify(buyingOf(builds, need, ofGroups)));
    return transfer(bytes, [bytes.buffer]);
  },
  take(original: Assembly, facts: FactsByShape): void {
    held = { original, facts };
    last = null;
    needed = null;
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
