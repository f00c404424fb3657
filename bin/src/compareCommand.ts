import { basename } from 'node:path';
import { asInFile, Refusal, type Assembly } from '../../core/src/assembly/index.ts';
import type { Depth, Identity } from '../../core/src/bill/index.ts';
import { newBill, newComponentEdits, projectBill, withFirstNumbers } from '../../core/src/documents/index.ts';
import {
  compareSides,
  comparisonCsv,
  comparisonTable,
  comparisonText,
  type CompareSide,
} from '../../core/src/formats/index.ts';
import { nothingAlike, recognise, withProjectKeys } from '../../core/src/revisions/index.ts';
import { folderStore, makePrints, startPool, writeBillWorkbook } from '../../engine/src/index.ts';
import { json, readBytes, write } from './files.ts';

export interface CompareOptions {
  readonly depth: Depth;
  readonly merge: Identity;
  readonly format: 'json' | 'csv' | 'xlsx' | 'text';
  readonly output?: string;
}

/** Whether two files are of the same machine, down to the last place; what differs is written. */
export async function compareCommand(
  was: string,
  is: string,
  { depth, merge, format, output }: CompareOptions,
  workerFile: string,
): Promise<boolean> {
  const tools = { pool: startPool(workerFile), store: folderStore() };
  try {
    const read = async (file: string) => tools.pool.read({ bytes: await readBytes(file), fileName: basename(file) });
    const [earlier, later] = [await read(was), await read(is)];
    for (const [file, { assembly }] of [
      [was, earlier],
      [is, later],
    ] as const)
      for (const { message } of assembly.findings) process.stderr.write(`${basename(file)}: ${message}\n`);
    const before = earlier.assembly;
    const prints = await makePrints(before, later.assembly, [earlier, later], tools);
    const pair = { before, after: later.assembly, prints };
    const recognition = recognise(pair);
    if (nothingAlike(recognition, pair))
      throw new Refusal('nothing-alike', `Nothing in ${is} is like anything in ${was}: these are two machines.`);
    const after = withProjectKeys(pair, recognition);
    const usual = newBill(before, 'Bill');
    const document = { ...usual, recipe: { ...usual.recipe, depth, identity: merge } };
    const numbered = withFirstNumbers(document, asInFile(before));
    const side = (assembly: Assembly, file: string): CompareSide => {
      const input = { original: assembly, edits: newComponentEdits, facts: new Map(), bill: numbered, fileName: file };
      const { bill } = projectBill(input, asInFile(assembly));
      return { title: file, assembly, bill, columns: numbered.columns };
    };
    const comparison = compareSides(side(before, basename(was)), side(after, basename(is)), prints, recognition);
    if (format === 'xlsx')
      await write(await writeBillWorkbook(comparisonTable(comparison), 'Changes', new Map()), output);
    else if (format === 'json') await write(json(comparison), output);
    else await write(format === 'csv' ? comparisonCsv(comparison) : comparisonText(comparison), output);
    return comparison.summary.same;
  } finally {
    await tools.pool.close();
  }
}
