import type { DataSource } from 'typeorm';
import type { ProjectSummary, StoredText } from '../../../contract/src/index.ts';
import type { ShapeKey } from '../../../core/src/assembly/index.ts';
import { keysOfShape, viewKeys } from '../../../engine/src/index.ts';
import { blobId, type BlobStore } from '../store/blobs.ts';
import { NotFound } from '../errors.ts';
import { recall, remember } from '../store/remembered.ts';
import type { OutputTask } from '../desk/outputs.ts';
import { ProjectEntity, type RevisionRow } from '../store/entities.ts';
import { catalogueTexts } from './catalogues.ts';
import { documentJson } from '../log/documentJson.ts';
import { historyOf } from '../log/history.ts';
import { presentRevision, revisionsOf } from '../store/revisions.ts';
import { presentOrAgain } from '../log/unreadable.ts';
import type { Asked } from '../desk/questions.ts';
import type { Desk } from '../desk/desk.ts';
import type { Services } from '../http/http.ts';
import { inTransaction } from '../store/database.ts';
import { cataloguesNamed } from '../store/references.ts';

/** The project's revision: the one that its set names, else its first. */
const OWN_REVISION = `COALESCE((SELECT s.target FROM document d JOIN reference s ON s.document = d.id AND s.what = 'revision' WHERE d.project = p.id AND d.kind = 'set' LIMIT 1),
  (SELECT f.id FROM revision f WHERE f.project = p.id ORDER BY f.created, f.id LIMIT 1))`;
const FIRST_REVISION = '(SELECT f.id FROM revision f WHERE f.project = p.id ORDER BY f.created, f.id LIMIT 1)';
const NEWEST_REVISION =
  '(SELECT f.id FROM revision f WHERE f.project = p.id ORDER BY f.created DESC, f.id DESC LIMIT 1)';
const SUMMARY = `SELECT p.id, p.name, p.changed, r.fileName, r.label AS revision, r.parts, r.leafOccurrences,
  (SELECT COUNT(*) FROM document d WHERE d.project = p.id AND d.kind = 'sheet' AND d.away = 0) AS sheets,
  IF((SELECT COUNT(*) FROM revision c WHERE c.project = p.id) > 1 AND EXISTS (SELECT 1 FROM document d LEFT JOIN reference s ON s.document = d.id AND s.what = 'revision' WHERE d.project = p.id AND d.kind IN ('sheet', 'bill', 'set') AND d.away = 0
    AND COALESCE(s.target, ${FIRST_REVISION}) <> ${NEWEST_REVISION}),
    GREATEST(1, COALESCE((SELECT JSON_VALUE(n.matches, '$.changes') FROM revision n WHERE n.id = ${NEWEST_REVISION}), 1) + 0),
    0) AS behind
  FROM project p JOIN revision r ON r.id = ${OWN_REVISION}`;

type SummaryRow = Omit<ProjectSummary, 'changed' | 'sheets' | 'behind'> & {
  changed: Date;
  sheets: number | string;
  behind: number | string;
};
const summary = ({
  id,
  name,
  fileName,
  revision,
  parts,
  leafOccurrences,
  sheets,
  behind,
  changed,
}: SummaryRow): ProjectSummary => ({
  id,
  name,
  fileName,
  revision,
  parts,
  leafOccurrences: Number(leafOccurrences),
  sheets: Number(sheets),
  behind: Number(behind),
  changed: changed.toISOString(),
});

export async function listProjects(database: DataSource): Promise<ProjectSummary[]> {
  return ((await database.query(`${SUMMARY} ORDER BY p.changed DESC`)) as SummaryRow[]).map(summary);
}

/** @throws NotFound */
async function findSummary(database: DataSource, id: string): Promise<SummaryRow> {
  const [found] = (await database.query(`${SUMMARY} WHERE p.id = ?`, [id])) as SummaryRow[];
  if (!found) throw new NotFound('There is no such project; it may have been deleted.');
  return found;
}

/** JSON of a project as it is open in a window; documents go out as they are stored. @throws NotFound */
export async function projectJson(
  database: DataSource,
  blobs: BlobStore,
  desk: Desk,
  id: string,
  session: string,
): Promise<string> {
  const found = await findSummary(database, id);
  const documents = await Promise.all(
    (await storedDocuments(database, id)).map((stored) => presentOrAgain(database, desk, stored)),
  );
  const asked = { assemblyBlob: await structureOf(database, id), edits: null };
  const findings = await desk.question(asked, { what: 'findings' }, blobs);
  const revisions = (await revisionsOf(database, id)).map(presentRevision);
  const rest = {
    summary: summary(found),
    revisions,
    history: await historyOf(database.manager, id, session),
    findings,
  };
  return `{"documents":[${documents.map(documentJson).join()}],${JSON.stringify(rest).slice(1)}`;
}

/** Documents of a project in their order, away ones too. */
export const storedDocuments = (database: DataSource, project: string): Promise<StoredText[]> =>
  database.query('SELECT id, kind, version, content FROM document WHERE project = ? ORDER BY position, id', [project]);

/** A project as it is stored, for those who work with all of it. @throws NotFound */
export async function storedProject(
  database: DataSource,
  id: string,
): Promise<Pick<OutputTask, 'documents' | 'revisions' | 'catalogues' | 'projectName'>> {
  const { name } = await findSummary(database, id);
  const documents = await storedDocuments(database, id);
  return {
    documents,
    catalogues: await catalogueTexts(database, await cataloguesNamed(database, id)),
    revisions: (await revisionsOf(database, id)).map(({ id: of, assemblyBlob, fileName }) => ({
      id: of,
      assemblyBlob,
      fileName,
    })),
    projectName: name,
  };
}

/** A revision of a project; its own where null is asked for. @throws NotFound */
export async function findRevision(
  database: DataSource,
  project: string,
  revision: string | null = null,
): Promise<RevisionRow> {
  const [found] = (await database.query(
    `SELECT r.* FROM project p JOIN revision r ON r.project = p.id AND r.id = COALESCE(?, ${OWN_REVISION}) WHERE p.id = ?`,
    [revision, project],
  )) as RevisionRow[];
  if (!found)
    throw new NotFound(
      revision === null
        ? 'There is no such project; it may have been deleted.'
        : 'There is no such revision; it may have been taken away, or the project was deleted.',
    );
  return found;
}
/** Name in the store of its structure. @throws NotFound */
export const structureOf = async (
  database: DataSource,
  project: string,
  revision: string | null = null,
): Promise<string> => (await findRevision(database, project, revision)).assemblyBlob;

/** Takes a project away, with all bytes that no other one needs. @throws NotFound */
export async function deleteProject(
  { database, blobs, desk, jobs }: Pick<Services, 'database' | 'blobs' | 'desk' | 'jobs'>,
  id: string,
): Promise<void> {
  if ((await revisionsOf(database, id)).length === 0)
    throw new NotFound('There is no such project; it may have been deleted.');
  await jobs.endAllFor(id); // what is at work for it writes nothing more
  const ofAssembly = new Map<string, readonly string[]>();
  for (const { assemblyBlob } of await revisionsOf(database, id))
    ofAssembly.set(
      assemblyBlob,
      await desk.question({ assemblyBlob, edits: null }, { what: 'keys' }, blobs).catch(() => []),
    );
  await inTransaction(database, async (manager) => {
    const revisions = (await manager.query(
      'SELECT fileBlob, assemblyBlob, sourceBlob FROM revision WHERE project = ?',
      [id],
    )) as Pick<RevisionRow, 'fileBlob' | 'assemblyBlob' | 'sourceBlob'>[];
    const shapes = (await manager.query(
      'SELECT shape FROM shape_use WHERE project = ? AND shape NOT IN (SELECT shape FROM shape_use WHERE project <> ?)',
      [id, id],
    )) as { shape: ShapeKey }[];
    const { affected } = await manager.getRepository(ProjectEntity).delete({ id });
    if (!affected) throw new NotFound('There is no such project; it may have been deleted already.');
    const keys = shapes.flatMap(({ shape }) => keysOfShape(shape));
    for (const { fileBlob, assemblyBlob, sourceBlob } of revisions) {
      const isUsed = async (column: 'fileBlob' | 'assemblyBlob' | 'sourceBlob', name: string) =>
        ((await manager.query(`SELECT id FROM revision WHERE ${column} = ? LIMIT 1`, [name])) as unknown[]).length > 0;
      if (!(await isUsed('fileBlob', fileBlob))) keys.push(fileBlob);
      for (const name of sourceBlob ? [assemblyBlob, sourceBlob] : [assemblyBlob])
        if (!(await isUsed('assemblyBlob', name)) && !(await isUsed('sourceBlob', name)))
          keys.push(name, ...(ofAssembly.get(name) ?? []));
    }
    for (let at = 0; at < keys.length; at += 100)
      await manager.query('DELETE FROM `blob` WHERE id IN (?)', [keys.slice(at, at + 100).map(blobId)]);
    await manager.query('DELETE FROM `blob` WHERE project = ?', [id]);
    await manager.query('DELETE FROM remembered WHERE id = ?', [pictureName(id)]);
  });
  await jobs.endAllFor(id); // and what was ordered meanwhile
}

const pictureName = (project: string): string => `picture ${project}`;
/** Notes under which key the machine is drawn as the list of projects shows it. */
export const keepPicture = (database: DataSource, project: string, look: string): Promise<void> =>
  remember(database, pictureName(project), look);
/** Lines of the machine as it was drawn last; null before. */
export async function loadPicture(database: DataSource, blobs: BlobStore, project: string): Promise<Uint8Array | null> {
  const look = await recall(database, pictureName(project));
  return typeof look === 'string' ? blobs.get(viewKeys(look).lines) : null;
}

/** The document of component edits. */
async function componentEdits(database: DataSource, project: string): Promise<StoredText | null> {
  const [row] = (await database.query(
    "SELECT id, kind, version, content FROM document WHERE project = ? AND kind = 'components'",
    [project],
  )) as StoredText[];
  return row ?? null;
}
/** What a question about a project is asked of. @throws NotFound */
export const askedOf = async (
  database: DataSource,
  project: string,
  revision: string | null = null,
): Promise<Asked> => ({
  assemblyBlob: await structureOf(database, project, revision),
  edits: await componentEdits(database, project),
});
