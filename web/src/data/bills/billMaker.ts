import equal from 'fast-deep-equal';
import { wrap, type Remote } from 'comlink';
import type { Assembly, FactsByShape } from '../../../../core/src/assembly/index.ts';
import { unpackBill, type BillData, type Ledger, type PackedBill } from '../../../../core/src/bill/index.ts';
import type { Buying } from '../../../../core/src/buying/index.ts';
import type { CutPlan } from '../../../../core/src/cutting/index.ts';
import type { BillDocument, ProjectBillInput, ProjectBuyingInput } from '../../../../core/src/documents/index.ts';
import type { BillWorker } from './bill.worker.ts';

type Catalogues = ProjectBillInput['catalogues'];
let started: Remote<BillWorker> | null = null;
let sent: { original: Assembly; facts: FactsByShape } | null = null;
let sentCatalogues: Catalogues;
/** The last bills made, newest first: the server's answer to a choice is the document that is shown already. */
let known: { edits: ProjectBillInput['edits']; catalogues: Catalogues; document: BillDocument; data: BillData }[] = [];
const KEPT = 3;
const keep = (one: (typeof known)[number]): void => void (known = [one, ...known].slice(0, KEPT));

interface BillMaker {
  /** What a plan of buying comes to. @param plans by key of their problem */
  readonly buying: (input: ProjectBuyingInput, plans: ReadonlyMap<string, CutPlan>) => Promise<Buying>;
  /**
   * The same data again for a document that says the same.
   * @param edited the assembly of the bill's variant, which the worker works out for itself
   */
  readonly make: (input: ProjectBillInput, edited: Assembly) => Promise<BillData>;
  /**
   * Says that a document with these numbers taken over will be asked for next; its bill is then there without
   * another run.
   * @param data of the same document before they were
   */
  readonly foresee: (
    from: Pick<ProjectBillInput, 'edits' | 'catalogues'>,
    document: BillDocument,
    data: BillData,
  ) => void;
}

/** Makes bills of large machines in a worker, which keeps the structure so that it travels once. */
export function billMaker(): BillMaker {
  started ??= wrap<BillWorker>(new Worker(new URL('./bill.worker.ts', import.meta.url), { type: 'module' }));
  const worker = started;
  const take = async ({ original, facts }: Pick<ProjectBillInput, 'original' | 'facts'>) => {
    if (sent?.original === original && sent.facts === facts) return;
    sent = { original, facts };
    known = [];
    await worker.take(original, facts);
  };
  return {
    buying: async ({ edits, bill, plan, fileName, catalogues, ...machine }, plans) => {
      await take(machine);
      if (sentCatalogues !== catalogues) {
        sentCatalogues = catalogues;
        await worker.takeCatalogues(catalogues);
      }
      const bytes = await worker.buying(edits, JSON.stringify(bill), JSON.stringify(plan), fileName, plans);
      return JSON.parse(new TextDecoder().decode(bytes)) as Buying;
    },
    make: async ({ original, facts, edits, bill, fileName, catalogues }, edited) => {
      await take({ original, facts });
      const before = known.find(
        (one) => one.edits === edits && one.catalogues === catalogues && sameBill(one.document, bill),
      );
      if (before) return before.data;
      // As text: its ledger has an entry for every line, and cloning records takes several times as long.
      const packed = JSON.parse(
        new TextDecoder().decode(await worker.make(edits, JSON.stringify(bill), fileName, catalogues)),
      ) as PackedBill;
      const data = unpackBill(packed, edited);
      keep({ edits, catalogues, document: bill, data });
      return data;
    },
    foresee: ({ edits, catalogues }, document, { rows, ...rest }) =>
      keep({
        edits,
        catalogues,
        document,
        data: { ...rest, rows: rows.map((row) => (row.provisional ? { ...row, provisional: false } : row)) },
      }),
  };
}

function sameBill({ ledger, ...one }: BillDocument, { ledger: otherLedger, ...other }: BillDocument): boolean {
  return equal(one, other) && sameLedger(ledger, otherLedger);
}

function sameLedger(one: Ledger, other: Ledger): boolean {
  const addresses = Object.keys(one) as (keyof Ledger)[];
  return (
    addresses.length === Object.keys(other).length &&
    addresses.every(
      (address) =>
        other[address] &&
        one[address].number === other[address].number &&
        one[address].retired === other[address].retired,
    )
  );
}
