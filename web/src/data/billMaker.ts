import { wrap, type Remote } from 'comlink';
import type { Assembly, FactsByShape } from '../../../core/src/assembly/index.ts';
import type { BillData } from '../../../core/src/bill/index.ts';
import type { ProjectBillInput } from '../../../core/src/documents/index.ts';
import type { BillWorker } from './bill.worker.ts';

let started: Remote<BillWorker> | null = null;
let sent: { original: Assembly; facts: FactsByShape } | null = null;

/** Makes bills of large machines in a worker, which keeps the structure so that it travels once. */
export function billMaker(): { make: (input: ProjectBillInput) => Promise<BillData> } {
  started ??= wrap<BillWorker>(new Worker(new URL('./bill.worker.ts', import.meta.url), { type: 'module' }));
  const worker = started;
  return {
    make: async ({ original, facts, edits, bill, fileName }) => {
      if (sent?.original !== original || sent.facts !== facts) {
        sent = { original, facts };
        await worker.take(original, facts);
      }
      return JSON.parse(new TextDecoder().decode(await worker.make(edits, bill, fileName))) as BillData;
    },
  };
}
