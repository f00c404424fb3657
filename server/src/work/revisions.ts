import { createHash } from 'node:crypto';
import type { DataSource, EntityManager } from 'typeorm';
import * as v from 'valibot';
import type { api } from '../../../contract/src/index.ts';
import {
  Refusal,
  structureTotals,
  type Assembly,
  type Component,
  type ComponentKey,
} from '../../../core/src/assembly/index.ts';
import {
  changesBetween,
  isNoChange,
  nothingAlike,
  recognise,
  withProjectKeys,
  type Answer,
  type Pair,
} from '../../../core/src/revisions/index.ts';
import { makePrints, makeShapes, type PackedModel, type Pool, type Tools } from '../../../engine/src/index.ts';
import type { BlobStore } from '../store/blobs.ts';
import { execute, inTransaction } from '../store/database.ts';
import type { RevisionRow } from '../store/entities.ts';
import { jobPayloads } from '../jobs/jobs.ts';
import { openStructure } from '../opened/openedStructure.ts';
import { packAssembly } from '../opened/packedAssembly.ts';
import { findRevision } from '../projects/projects.ts';
import { matchesOf, refuseShown, revisionsOf, titleOf } from '../store/revisions.ts';
import { allShapes } from './drawing.ts';
import { JobCancelled, type JobContext } from './jobRunner.ts';

interface Services {
  readonly database: DataSource;
  readonly blobs: BlobStore;
  readonly pool: Pool;
}

/** A further file of a project's machine, as it is to be stored. */
interface Recognised {
  readonly assembly: Assembly;
  readonly matches: api.Matches;
}

/**
 * Adds a revision to a project: what is recognised has the keys that the project's documents know. Nothing shows it before
 * it is taken over. The revision has the id of the job, so that doing it again makes no second one.
 * @throws Refusal where it is another machine, or the same one without any change
 */
export async function importRevision(
  project: string,
  given: { fileName: string; fileBlob: string; remark: string; who: string; model: PackedModel },
  { id, signal, report }: Pick<JobContext, 'id' | 'signal' | 'report'>,
  services: Services,
): Promise<void> {
  const { database, blobs, pool } = services;
  const earlier = await revisionsOf(database, project);
  const base = earlier.at(-1);
  if (!base) throw new Refusal('not-there', 'There is no such project; it may have been deleted.');
  const tools = { pool, store: blobs.forProject(project), signal };
  // What is compared must be there; a project that was opened only just may still be making its shapes.
  await allShapes(project, { signal, report }, services, base.id);
  const { assembly: after } = given.model;
  const pair = await pairOf(base, after, given.model, tools, services, report);
  report({ step: 'Recognising the parts', done: 0, of: 1 });
  const { assembly, matches } = recogniseAs(pair, rememberedAnswers(base), await componentsEver(earlier, services));
  const same = await sameAs(assembly, earlier, services);
  if (same)
    throw new Refusal(
      'no-change',
      `No change: ${given.fileName} has the same parts at the same places as ${titleOf(same)}. Nothing was stored.`,
    );
  await makeShapes(neededOf(given.model, assembly), tools, (done, of) =>
    report({ step: 'Making the shapes', done, of }),
  );
  signal.throwIfAborted();
  const [assemblyBlob, sourceBlob] = [await keep(assembly, blobs), await keep(after, blobs)];
  await inTransaction(database, async (manager) => {
    // Cancelled until here: nothing is stored. Who cancels from here on waits for this lock, and it is too late.
    const [job] = (await manager.query('SELECT cancel FROM job WHERE id = ? FOR UPDATE', [id])) as { cancel: number }[];
    if (job?.cancel) throw new JobCancelled();
    await manager.query('SELECT id FROM project WHERE id = ? FOR UPDATE', [project]);
    const newest = (await revisionsOf(manager, project)).at(-1);
    if (newest?.id !== base.id)
      throw new Refusal(
        'not-now',
        'Another revision came into the project meanwhile. Bring this one in again if it is still wanted; nothing was stored.',
      );
    const totals = structureTotals(assembly);
    await execute(
      manager,
      'INSERT INTO revision (id, project, label, fileName, fileBlob, assemblyBlob, parts, leafOccurrences, created, sourceBlob, base, remark, who, matches) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
      [
        id,
        project,
        assembly.components[assembly.root].revision.slice(0, 191),
        given.fileName.slice(0, 400),
        given.fileBlob,
        assemblyBlob,
        totals.parts,
        totals.leafOccurrences,
        // Later than the one before, however quick the clock.
        new Date(Math.max(Date.now(), base.created.getTime() + 1)),
        sourceBlob,
        base.id,
        given.remark,
        given.who,
        JSON.stringify(matches),
      ],
    );
    await noteShapes(manager, project, assembly);
    await manager.query('UPDATE project SET changed = ? WHERE id = ?', [new Date(), project]);
  });
}

/**
 * The job: recognises a revision anew with what the drafter says about its parts. Only one that nothing shows: the keys of
 * others are in documents already.
 */
export async function recogniseAgain(
  payload: unknown,
  { signal, report }: Pick<JobContext, 'signal' | 'report'>,
  services: Services,
): Promise<string> {
  const { project, revision, answers } = v.parse(jobPayloads.recognise, payload);
  const { database, blobs, pool } = services;
  const row = await findRevision(database, project, revision);
  const revisions = await revisionsOf(database, project);
  const base = revisions.find(({ id }) => id === row.base);
  if (!base || !row.sourceBlob)
    throw new Refusal('refused', 'The first revision of a project was not recognised against anything.');
  await refuseShown(database, project, row);
  if (revisions.some((one) => one.base === row.id))
    throw new Refusal('refused', `A later revision was recognised against ${titleOf(row)}; nothing was changed.`);
  const after = await openStructure(row.sourceBlob, blobs);
  const bytes = await blobs.get(row.fileBlob);
  if (!bytes) throw new Refusal('file-gone', 'The file of this revision is no longer stored; bring it in again.');
  report({ step: 'Reading the structure', done: 0, of: 1 });
  const model = await pool.read({ bytes, fileName: row.fileName }, signal);
  const tools = { pool, store: blobs.forProject(project), signal };
  const pair = await pairOf(base, after, model, tools, services, report);
  // What is said now holds: about this part, and about what it is said to be.
  const known = matchesOf(row).answers.filter(
    ({ was, is, same }) => !answers.some((one) => one.is === is || (same && one.same && one.was === was)),
  );
  const earlier = revisions.filter(({ created }) => created < row.created);
  const { assembly, matches } = recogniseAs(
    pair,
    [...known, ...answers] as unknown as Answer[],
    await componentsEver(earlier, services),
  );
  await makeShapes(neededOf(model, assembly), tools, (done, of) => report({ step: 'Making the shapes', done, of }));
  const assemblyBlob = await keep(assembly, blobs);
  await inTransaction(database, async (manager) => {
    await manager.query('SELECT id FROM project WHERE id = ? FOR UPDATE', [project]);
    await refuseShown(manager, project, row);
    await execute(manager, 'UPDATE revision SET assemblyBlob = ?, matches = ? WHERE id = ? AND project = ?', [
      assemblyBlob,
      JSON.stringify(matches),
      row.id,
      project,
    ]);
    await noteShapes(manager, project, assembly);
  });
  return project;
}

async function pairOf(
  base: RevisionRow,
  after: Assembly,
  model: PackedModel,
  tools: Tools,
  { blobs }: Services,
  report: JobContext['report'],
): Promise<Pair> {
  const before = await openStructure(base.assemblyBlob, blobs);
  const prints = await makePrints(before, after, [model], tools, (done, of) =>
    report({ step: 'Making the shapes that are new', done, of }),
  );
  return { before, after, prints };
}

/** @throws Refusal where nothing is alike */
function recogniseAs(pair: Pair, answers: readonly Answer[], ever: ReadonlyMap<ComponentKey, Component>): Recognised {
  const recognition = recognise(pair, answers);
  if (nothingAlike(recognition, pair))
    throw new Refusal(
      'nothing-alike',
      'Nothing in this file is like the machine of this project: it is another machine. Bring it in as a project of its own; nothing was stored.',
    );
  const assembly = withProjectKeys(pair, recognition, ever);
  const { components } = changesBetween(pair.before, assembly);
  const keys: Record<string, string> = {};
  const unsure: api.Matches['unsure'] = [];
  for (const [index, { key }] of pair.after.components.entries()) {
    const now = assembly.components[index].key;
    if (now !== key) keys[key] = now;
    const confidence = recognition.confidence[index];
    if (confidence === 'likely' || confidence === 'doubtful')
      unsure.push({
        is: key,
        was: pair.before.components[recognition.components[index]].key,
        confidence,
        why: recognition.why[index],
      });
  }
  return { assembly, matches: { version: 1, answers: [...answers], changes: components.length, keys, unsure } };
}

/** What was said about the revision before holds for what has the same key as it was read. */
function rememberedAnswers(base: RevisionRow): Answer[] {
  const { answers, keys } = matchesOf(base);
  return answers.flatMap(({ is, same }) =>
    same ? [{ was: (keys[is] ?? is) as ComponentKey, is: is as ComponentKey, same }] : [],
  );
}

/** The earlier revision in which nothing is otherwise; the newest of them. */
async function sameAs(
  assembly: Assembly,
  earlier: readonly RevisionRow[],
  { blobs }: Services,
): Promise<RevisionRow | null> {
  for (const row of earlier.toReversed())
    if (isNoChange(changesBetween(await openStructure(row.assemblyBlob, blobs), assembly))) return row;
  return null;
}

/** All components that the project's documents may know, by their keys. */
async function componentsEver(
  rows: readonly RevisionRow[],
  { blobs }: Services,
): Promise<Map<ComponentKey, Component>> {
  const keys = new Map<ComponentKey, Component>();
  for (const { assemblyBlob } of rows)
    for (const component of (await openStructure(assemblyBlob, blobs)).components) keys.set(component.key, component);
  return keys;
}

/** Of a file what its shapes are made of that are not what they were. */
function neededOf(model: PackedModel, assembly: Assembly): PackedModel {
  const shapes = new Set(assembly.components.map(({ shape }) => shape));
  return {
    ...model,
    assembly,
    slices: model.slices.filter(({ key }) => shapes.has(key)),
    meshes: model.meshes.filter(({ key }) => shapes.has(key)),
  };
}

async function keep(assembly: Assembly, blobs: BlobStore): Promise<string> {
  const packed = packAssembly(assembly);
  const name = `assembly ${createHash('sha256').update(packed).digest('hex')}`;
  await blobs.put(name, packed);
  return name;
}

async function noteShapes(manager: EntityManager, project: string, { components }: Assembly): Promise<void> {
  const shapes = [...new Set(components.flatMap(({ shape }) => (shape ? [shape] : [])))];
  if (shapes.length > 0)
    await manager.query('INSERT IGNORE INTO shape_use (project, shape) VALUES ?', [
      shapes.map((shape) => [project, shape]),
    ]);
}
