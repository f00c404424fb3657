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
 * came before; until when somebody waits for a view; for which project lines and spots were drawn.
 */
export class Fifth1764900000000 implements MigrationInterface {
  readonly name = 'Fifth1764900000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE history (id INT AUTO_INCREMENT PRIMARY KEY, project CHAR(36) NOT NULL, session VARCHAR(64) NOT NULL, stack VARCHAR(8) NOT NULL, gesture VARCHAR(64) NOT NULL, label VARCHAR(200) NOT NULL, KEY (project, session, stack), FOREIGN KEY (project) REFERENCES project (id) ON DELETE CASCADE) ${TABLE}`,
    );
    await runner.query('ALTER TABLE job ADD COLUMN wanted DATETIME(3) NULL');
    await runner.query('ALTER TABLE `blob` ADD COLUMN project CHAR(36) NULL, ADD KEY (project)');
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
    await runner.query('ALTER TABLE job DROP COLUMN wanted');
    await runner.query('ALTER TABLE `blob` DROP COLUMN project');
  }
}
