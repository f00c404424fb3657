import { gunzipSync } from 'node:zlib';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { TABLE } from './first.ts';

interface Gesture {
  readonly project: string;
  readonly session: string;
  readonly gesture: string;
  readonly label: string;
  readonly mode: 'do' | 'undo' | 'redo';
}

/**
 * What each window can take back and do again as rows of its own, so that the cost of an edit does not grow with what
 * came before; which shapes a project uses; until when somebody waits for a view; for which project lines and spots were drawn.
 */
export class Fifth1764900000000 implements MigrationInterface {
  readonly name = 'Fifth1764900000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE history (id INT AUTO_INCREMENT PRIMARY KEY, project CHAR(36) NOT NULL, session VARCHAR(64) NOT NULL, stack VARCHAR(8) NOT NULL, gesture VARCHAR(64) NOT NULL, label VARCHAR(200) NOT NULL, KEY (project, session, stack), FOREIGN KEY (project) REFERENCES project (id) ON DELETE CASCADE) ${TABLE}`,
    );
    await runner.query('ALTER TABLE job ADD COLUMN wanted DATETIME(3) NULL');
    await runner.query('ALTER TABLE `blob` ADD COLUMN project CHAR(36) NULL, ADD KEY (project)');
    await runner.query(
      `CREATE TABLE shape_use (project CHAR(36) NOT NULL, shape VARCHAR(191) NOT NULL, PRIMARY KEY (project, shape), KEY (shape), FOREIGN KEY (project) REFERENCES project (id) ON DELETE CASCADE) ${TABLE}`,
    );
    await noteShapes(runner);
    // For whom they were drawn is not known; they are drawn again when they are looked at.
    await runner.query("DELETE FROM `blob` WHERE id LIKE 'lines-%' OR id LIKE 'spots-%'");
    const gestures = (await runner.query(
      'SELECT project, session, gesture, MIN(label) AS label, MIN(mode) AS mode FROM edit GROUP BY project, session, gesture ORDER BY MAX(id)',
    )) as Gesture[];
    const windows = new Map<string, { undo: Gesture[]; redo: Gesture[] }>();
    for (const one of gestures) {
      const name = `${one.project} ${one.session}`;
      let stacks = windows.get(name);
      if (!stacks) windows.set(name, (stacks = { undo: [], redo: [] }));
      const { undo, redo } = stacks;
      if (one.mode === 'undo') {
        undo.pop();
        redo.push(one);
        continue;
      }
      if (one.mode === 'redo') redo.pop();
      else redo.length = 0;
      undo.push(one);
    }
    for (const stacks of windows.values())
      for (const stack of ['undo', 'redo'] as const)
        for (const { project, session, gesture, label } of stacks[stack])
          await runner.query('INSERT INTO history (project, session, stack, gesture, label) VALUES (?, ?, ?, ?, ?)', [
            project,
            session,
            stack,
            gesture,
            label,
          ]);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE history');
    await runner.query('DROP TABLE shape_use');
    await runner.query('ALTER TABLE job DROP COLUMN wanted');
    await runner.query('ALTER TABLE `blob` DROP COLUMN project');
  }
}

/** Which shapes the projects use that are there, as their structures say. */
async function noteShapes(runner: QueryRunner): Promise<void> {
  const revisions = (await runner.query(
    'SELECT r.project, b.id FROM revision r JOIN `blob` b ON b.id = CONCAT(LEFT(REPLACE(r.assemblyBlob, " ", "-"), 40), " ", LEFT(SHA2(r.assemblyBlob, 256), 40))',
  )) as { project: string; id: string }[];
  for (const { project, id } of revisions) {
    const chunks = (await runner.query('SELECT bytes FROM blob_chunk WHERE `blob` = ? ORDER BY part', [id])) as {
      bytes: Buffer;
    }[];
    const { components } = JSON.parse(gunzipSync(Buffer.concat(chunks.map(({ bytes }) => bytes))).toString('utf8')) as {
      components: { shape: string | null }[];
    };
    for (const shape of new Set(components.flatMap(({ shape: used }) => (used ? [used] : []))))
      await runner.query('INSERT IGNORE INTO shape_use (project, shape) VALUES (?, ?)', [project, shape]);
  }
}
