import type { DataSource } from 'typeorm';
import * as v from 'valibot';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { makeShapes, type Pool } from '../../../engine/src/index.ts';
import type { BlobStore } from '../store/blobs.ts';
import { jobPayloads } from '../jobs/jobs.ts';
import { openStructure } from '../opened/openedStructure.ts';
import { findRevision } from '../projects/projects.ts';
import type { JobContext } from './jobRunner.ts';
import { removeShapes } from './sweep.ts';

/** Makes the shapes of a project that are not there yet; the project is worked on meanwhile. */
export async function makeProjectShapes(
  payload: unknown,
  { signal, report, sized }: Pick<JobContext, 'signal' | 'report'> & Partial<Pick<JobContext, 'sized'>>,
  { database, blobs, pool }: { database: DataSource; blobs: BlobStore; pool: Pool },
): Promise<string> {
  const { project, revision: wanted = null } = v.parse(jobPayloads.shapes, payload);
  const revision = await findRevision(database, project, wanted);
  const bytes = await blobs.get(revision.fileBlob);
  if (!bytes)
    throw new Refusal(
      'file-gone',
      'The file of this project is no longer stored, so its shapes cannot be made; import it again.',
    );
  report({ step: 'Cutting out the shapes', done: 0, of: 1 });
  const model = await pool.read({ bytes, fileName: revision.fileName }, signal);
  sized?.(model.slices.length);
  // Findings about shapes name parts by the keys of the project.
  const assembly = await openStructure(revision.assemblyBlob, blobs);
  try {
    await makeShapes({ ...model, assembly }, { pool, store: blobs, signal }, (done, of) =>
      report({ step: 'Making the shapes', done, of }),
    );
  } finally {
    // Deleted meanwhile: what was made for it since goes after it.
    const [there] = (await database.query('SELECT id FROM project WHERE id = ?', [project])) as unknown[];
    if (!there) await removeShapes(database, assembly);
  }
  return project;
}
