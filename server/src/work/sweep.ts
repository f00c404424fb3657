import type { DataSource } from 'typeorm';
import type { Assembly, ShapeKey } from '../../../core/src/assembly/index.ts';
import { keysOfAssembly, keysOfShape } from '../../../engine/src/index.ts';
import { blobId } from '../store/blobs.ts';
import { fromNow, withRetry } from '../store/database.ts';
import { logError, whyAway } from '../errors.ts';

/**
 * What nobody needs any more and nothing took along: bytes of work that was cut off by a kill, of a project that was deleted
 * while something was made for it, pictures that no sheet or catalogue names. A day old: what is being made is left alone.
 */
const AGE = 24 * 3_600_000; // ms
/** Pictures are looked for in all texts, undone edits too, so only a few at a time; a week old. */
const PICTURE_AGE = 7 * AGE,
  PICTURES = 20;
/** Rows that are looked at in one statement. */
const PAGE = 2000;

/** @returns how many were removed @param ahead ms by which it is later than the database's clock says */
export async function sweep(database: DataSource, ahead = 0): Promise<number> {
  const before = fromNow(ahead - AGE);
  let removed = await removeWhere(
    database,
    `project IS NOT NULL AND project NOT IN (SELECT id FROM project) AND created < ${before}`,
  );
  const used = await usedIds(database);
  for (const beginning of ['mesh', 'stand-in', 'measure-1-mesh', 'thumbnail', 'file', 'assembly'])
    removed += await removeUnused(database, beginning, before, used);
  return removed + (await removePictures(database, fromNow(ahead - PICTURE_AGE)));
}

/** The same, unless another server is at it, or the database is away. */
export async function sweepAlone(database: DataSource): Promise<void> {
  const runner = database.createQueryRunner();
  const lock = `sweep of ${database.driver.database ?? ''}`.slice(0, 64);
  try {
    const [{ got }] = (await runner.query('SELECT GET_LOCK(?, 0) AS got', [lock])) as [{ got: number | string | null }];
    if (Number(got) !== 1) return;
    try {
      await sweep(database);
    } finally {
      await runner.query('SELECT RELEASE_LOCK(?)', [lock]);
    }
  } catch (error) {
    if (whyAway(error) === null) logError(error, 'clearing away what nothing needs');
  } finally {
    await runner.release().catch(() => {});
  }
}

/** Rows of blobs that a revision names, one that comes in, or a shape of a project. */
async function usedIds(database: DataSource): Promise<ReadonlySet<string>> {
  const used = new Set<string>();
  const revisions = (await database.query('SELECT fileBlob, assemblyBlob, sourceBlob FROM revision')) as Record<
    string,
    string | null
  >[];
  for (const row of revisions) for (const name of Object.values(row)) if (name !== null) used.add(blobId(name));
  const coming = (await database.query(
    "SELECT about FROM job WHERE kind = 'import' AND state IN ('queued', 'running') AND about IS NOT NULL",
  )) as { about: string }[];
  for (const { about } of coming) used.add(blobId(about));
  for (let last = ''; ;) {
    const shapes = (await database.query(
      'SELECT DISTINCT shape FROM shape_use WHERE shape > ? ORDER BY shape LIMIT ?',
      [last, PAGE],
    )) as { shape: ShapeKey }[];
    if (shapes.length === 0) return used;
    for (const { shape } of shapes) for (const key of keysOfShape(shape)) used.add(blobId(key));
    last = shapes[shapes.length - 1].shape;
  }
}

/** @param before SQL of a time */
async function removeUnused(
  database: DataSource,
  beginning: string,
  before: string,
  used: ReadonlySet<string>,
): Promise<number> {
  let removed = 0;
  for (let last = ''; ;) {
    const rows = (await database.query(
      `SELECT id FROM \`blob\` WHERE id LIKE ? AND id > ? AND created < ${before} ORDER BY id LIMIT ?`,
      [`${beginning}-%`, last, PAGE],
    )) as { id: string }[];
    if (rows.length === 0) return removed;
    last = rows[rows.length - 1].id;
    const unused = rows.map(({ id }) => id).filter((id) => !used.has(id));
    if (unused.length > 0) removed += await removeWhere(database, 'id IN (?)', [unused]);
  }
}

/** A picture is named by its hash in documents, in edits that can be taken back, and in house styles. */
async function removePictures(database: DataSource, before: string): Promise<number> {
  const pictures = (await database.query(
    `SELECT id FROM \`blob\` WHERE id LIKE 'picture-%' AND created < ${before} ORDER BY RAND() LIMIT ?`,
    [PICTURES],
  )) as { id: string }[];
  let removed = 0;
  for (const { id } of pictures) {
    const hash = /^picture-([0-9a-f]{16,})/.exec(id)?.[1];
    if (hash === undefined) continue;
    const [named] = (await database.query(
      'SELECT 1 FROM document WHERE INSTR(content, ?) > 0 UNION ALL SELECT 1 FROM remembered WHERE INSTR(content, ?) > 0 UNION ALL SELECT 1 FROM edit WHERE INSTR(command, ?) > 0 OR INSTR(inverse, ?) > 0 LIMIT 1',
      [hash, hash, hash, hash],
    )) as unknown[];
    if (!named) removed += await removeWhere(database, 'id = ?', [id]);
  }
  return removed;
}

async function removeWhere(database: DataSource, where: string, values: readonly unknown[] = []): Promise<number> {
  const { affectedRows } = (await withRetry(() =>
    database.query(`DELETE FROM \`blob\` WHERE ${where}`, [...values]),
  )) as {
    affectedRows: number;
  };
  return affectedRows;
}

/**
 * Takes away what was made of the shapes of a structure and no project uses: after work for a project that is no longer
 * there, or a revision that did not come in.
 */
export async function removeShapes(database: DataSource, assembly: Assembly): Promise<void> {
  const shapes = [...new Set(assembly.components.flatMap(({ shape }) => (shape ? [shape] : [])))];
  for (let at = 0; at < shapes.length; at += 100) {
    const some = shapes.slice(at, at + 100);
    const used = new Set(
      (
        (await database.query('SELECT DISTINCT shape FROM shape_use WHERE shape IN (?)', [some])) as { shape: string }[]
      ).map(({ shape }) => shape),
    );
    const ids = some.filter((shape) => !used.has(shape)).flatMap((shape) => keysOfShape(shape).map(blobId));
    if (ids.length > 0) await removeWhere(database, 'id IN (?)', [ids]);
    if (at === 0 && used.size === 0) await removeWhere(database, 'id IN (?)', [keysOfAssembly(assembly).map(blobId)]);
  }
}
