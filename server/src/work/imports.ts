import { createHash, randomUUID } from 'node:crypto';
import { basename, extname } from 'node:path';
import type { DataSource } from 'typeorm';
import * as v from 'valibot';
import { readStored, type HouseStyle } from '../../../contract/src/index.ts';
import { editAssembly, Refusal, structureTotals, type Assembly } from '../../../core/src/assembly/index.ts';
import { makeBill, numbersToKeep } from '../../../core/src/bill/index.ts';
import type { ListFacts } from '../../../core/src/sources/index.ts';
import {
  billOfList,
  newBill,
  newComponentEdits,
  newSheetSet,
  type DocumentKind,
  type ProjectDocument,
  namesIn,
} from '../../../core/src/documents/index.ts';
import {
  setWithStyle,
  sheetWithStyle,
  usualPaper,
  type SheetSet,
  type SheetStyle,
} from '../../../core/src/sheets/index.ts';
import { topLabel } from '../../../core/src/step/index.ts';
import { loadMeasures, makeShapes, type PackedModel, type Pool } from '../../../engine/src/index.ts';
import type { BlobStore } from '../store/blobs.ts';
import { boughtWhole, buyersList, demoSheets, mastVariants, type Finishing } from './demoDocuments.ts';
import { JobCancelled, ServerStopping, type JobContext } from './jobRunner.ts';
import { execute, inTransaction } from '../store/database.ts';
import { keepReferences } from '../store/references.ts';
import { jobPayloads } from '../jobs/jobs.ts';
import { packAssembly } from '../opened/packedAssembly.ts';
import { importRevision } from './revisions.ts';
import { removeShapes } from './sweep.ts';
import { usualStyle } from '../projects/styles.ts';
import { withStyle } from '../desk/withStyle.ts';

/**
 * Reads a stored file, makes its shapes, and adds a project with a bill and a sheet; all of the project or nothing. The
 * project has the id of the job, so that doing it again makes no second one.
 * The result is the project's id, and whether shapes are left to be made.
 */
export async function importFile(
  payload: unknown,
  { id, signal, report, sized }: Pick<JobContext, 'id' | 'signal' | 'report'> & Partial<Pick<JobContext, 'sized'>>,
  { database, blobs, pool }: { database: DataSource; blobs: BlobStore; pool: Pool },
): Promise<{ project: string; hasShapes: boolean; revision: string | null }> {
  const { fileName, fileBlob, finished, mapping, into, remark = '', who = '' } = v.parse(jobPayloads.import, payload);
  // A server that was killed between storing the project and ending the job: the project is there.
  const [made] = (await database.query('SELECT id, project FROM revision WHERE project = ? OR id = ? LIMIT 1', [
    id,
    id,
  ])) as { id: string; project: string }[];
  if (made) return { project: made.project, hasShapes: !finished, revision: made.id };
  let read: Assembly | null = null;
  try {
    report({ step: 'Reading the structure', done: 0, of: 1 });
    const bytes = await blobs.get(fileBlob);
    if (!bytes) throw new Refusal('file-gone', 'The uploaded file is no longer stored; upload it again.');
    sized?.(bytes.length / 1e6);
    const model = await pool.read({ bytes, fileName, mapping }, signal);
    read = model.assembly;
    if (into !== undefined) {
      const given = { fileName, fileBlob, remark, who, model };
      await importRevision(into, given, { id, signal, report }, { database, blobs, pool });
      return { project: into, hasShapes: false, revision: id };
    }
    const assembly = withLostNumbers(model);
    const tools = { pool, store: blobs.forProject(id), signal };
    // The demo opens on a finished sheet; a drafter's own file can be worked on while its shapes are still being made.
    if (finished) await makeShapes(model, tools, (done, of) => report({ step: 'Making the shapes', done, of }));
    signal.throwIfAborted();
    const packed = packAssembly(assembly);
    const assemblyBlob = `assembly ${createHash('sha256').update(packed).digest('hex')}`;
    await blobs.put(assemblyBlob, packed);
    const documents = await firstDocuments(
      assembly,
      fileName,
      finished ? { tools, report } : null,
      finished ? null : await usualStyle(database),
      model.list ?? null,
    );
    signal.throwIfAborted();
    const revision = randomUUID();
    const project = await store(database, id, { revision, fileName, fileBlob, assemblyBlob, assembly, documents });
    return { project, hasShapes: !finished && model.slices.length + model.meshes.length > 0, revision };
  } catch (error) {
    if (!(signal.reason instanceof ServerStopping)) {
      await removeUnused(fileBlob, database, blobs);
      if (read) await removeShapes(database, read); // of a revision that did not come in
    }
    throw error;
  }
}

/** The structure, with a finding where lines of a list cannot keep their item numbers. */
function withLostNumbers({ assembly, list }: PackedModel): Assembly {
  const lost = list ? billOfList(assembly, list, '').lost : [];
  if (lost.length === 0) return assembly;
  const message = `${lost.length} item numbers of the list cannot be kept as they are written (${lost.slice(0, 8).join(', ')}${lost.length > 8 ? ' …' : ''}); these lines show the next free ones.`;
  return { ...assembly, findings: [...assembly.findings, { code: 'numbers-not-kept', message }] };
}

/** Takes a refused file away, unless a project or another import of the same bytes needs it. */
async function removeUnused(fileBlob: string, database: DataSource, blobs: BlobStore): Promise<void> {
  const [used] = (await database.query('SELECT id FROM revision WHERE fileBlob = ? LIMIT 1', [fileBlob])) as unknown[];
  const imports = (await database.query(
    "SELECT id FROM job WHERE kind = 'import' AND state IN ('queued', 'running') AND about = ? LIMIT 2",
    [fileBlob],
  )) as unknown[];
  if (!used && imports.length < 2) await blobs.remove(fileBlob); // this import itself is still among the running ones
}

/** @param project id that it gets, and what is made for it once: storing it a second time fails */
async function store(
  database: DataSource,
  project: string,
  {
    revision,
    fileName,
    fileBlob,
    assemblyBlob,
    assembly,
    documents,
  }: {
    revision: string;
    fileName: string;
    fileBlob: string;
    assemblyBlob: string;
    assembly: Assembly;
    documents: [DocumentKind, ProjectDocument][];
  },
): Promise<string> {
  const now = new Date();
  const totals = structureTotals(assembly);
  const top = assembly.components[assembly.root];
  await inTransaction(database, async (manager) => {
    // Cancelled until here: nothing is stored. Who cancels from here on waits for this lock, and it is too late.
    const [job] = (await manager.query('SELECT cancel FROM job WHERE id = ? FOR UPDATE', [project])) as {
      cancel: number;
    }[];
    if (job?.cancel) throw new JobCancelled();
    await manager.query('INSERT INTO project (id, name, created, changed) VALUES (?, ?, ?, ?)', [
      project,
      projectName(assembly, fileName).slice(0, 400),
      now,
      now,
    ]);
    await manager.query(
      'INSERT INTO revision (id, project, label, fileName, fileBlob, assemblyBlob, parts, leafOccurrences, created) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)',
      [
        revision,
        project,
        top.revision.slice(0, 191),
        fileName.slice(0, 400),
        fileBlob,
        assemblyBlob,
        totals.parts,
        totals.leafOccurrences,
        now,
      ],
    );
    const shapes = [...new Set(assembly.components.flatMap(({ shape }) => (shape ? [shape] : [])))];
    if (shapes.length > 0)
      await manager.query('INSERT INTO shape_use (project, shape) VALUES ?', [shapes.map((shape) => [project, shape])]);
    for (const [position, [kind, content]] of documents.entries()) {
      refuseUnkept(kind, content);
      const id = randomUUID();
      await execute(
        manager,
        'INSERT INTO document (id, project, kind, version, content, position) VALUES (?, ?, ?, 1, ?, ?)',
        [id, project, kind, JSON.stringify(content), position],
      );
      await keepReferences(manager, [{ id, names: namesIn(kind, content) }]);
    }
  });
  return project;
}

/** What was accepted must open again. @throws Refusal */
function refuseUnkept(kind: DocumentKind, content: ProjectDocument): void {
  try {
    readStored({ kind, content: JSON.stringify(content) });
  } catch (error) {
    if (error instanceof Refusal)
      throw new Refusal(
        'too-much',
        `The file holds more than a project can keep (${error.message}); nothing was stored.`,
      );
    throw error;
  }
}

const projectName = (assembly: Assembly, fileName: string): string =>
  assembly.components[assembly.root].name || topLabel(assembly) || basename(fileName, extname(fileName));

/** Component edits, a bill whose numbers are issued, a sheet (blank, or finished for the demo), and its set. */
async function firstDocuments(
  original: Assembly,
  fileName: string,
  finishing: Finishing | null,
  style: HouseStyle | null,
  list: ListFacts | null,
): Promise<[DocumentKind, ProjectDocument][]> {
  const edits = finishing
    ? { ...newComponentEdits, treatments: boughtWhole(original), variants: mastVariants(original) }
    : newComponentEdits;
  const { assembly, treatments } = editAssembly(
    original,
    edits,
    finishing ? await loadMeasures(original, finishing.tools) : new Map(),
  );
  // A list comes back as it reads; a house style has its say on the columns only.
  const own = list && billOfList(assembly, list, 'Drawing list').bill;
  const blank = own
    ? { ...own, columns: style?.columns ?? own.columns }
    : withStyle(newBill(assembly, 'Drawing list'), style);
  const made = makeBill(
    assembly,
    blank.recipe,
    { treatments, ledger: blank.ledger },
    { columns: blank.columns, fileName },
  );
  const bill = { ...blank, ledger: { ...blank.ledger, ...numbersToKeep(made) } };
  const { name, partNumber, revision } = assembly.components[assembly.root];
  const title = name || projectName(assembly, fileName);
  const demo = finishing
    ? { owner: 'Camp workshop', createdBy: 'T. Halvorsdal', approvedBy: 'I. Maarsund', date: '2026-03-02' }
    : { owner: '', createdBy: '', approvedBy: '', date: new Date().toISOString().slice(0, 10) };
  const fields = { title, drawingNumber: partNumber, revision, documentType: 'Assembly drawing', ...demo };
  const more: [DocumentKind, ProjectDocument][] = finishing ? [['bill', buyersList(assembly, treatments)]] : [];
  const says = (style?.sheet ?? {}) as SheetStyle;
  const { sheets, poses } = finishing
    ? await demoSheets({ assembly, bill: made, columns: bill.columns, shared: fields, treatments }, finishing)
    : { sheets: [sheetWithStyle('Assembly', usualPaper('A3'), says)], poses: [] };
  const plain: SheetSet = { ...newSheetSet, fields, ...(poses.length > 0 ? { poses } : {}) };
  const set = setWithStyle(plain, says);
  return [
    ['components', edits],
    ['bill', bill],
    ...more,
    ...sheets.map((sheet): [DocumentKind, ProjectDocument] => ['sheet', sheet]),
    ['set', set],
  ];
}
