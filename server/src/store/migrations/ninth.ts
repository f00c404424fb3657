import type { MigrationInterface, QueryRunner } from 'typeorm';
import { TABLE } from './first.ts';

/** What documents name by id, in rows of its own: catalogues, revisions of the machine, bills. */
export class Ninth1765400000000 implements MigrationInterface {
  readonly name = 'Ninth1765400000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE reference (
         document CHAR(36) NOT NULL,
         what VARCHAR(12) NOT NULL,
         target VARCHAR(64) NOT NULL,
         PRIMARY KEY (document, what, target),
         KEY named (what, target),
         FOREIGN KEY (document) REFERENCES document (id) ON DELETE CASCADE
       ) ${TABLE}`,
    );
    await runner.query(
      `INSERT INTO reference (document, what, target)
       SELECT id, 'revision', JSON_VALUE(content, '$.revision') FROM document
       WHERE kind IN ('bill', 'sheet', 'set') AND JSON_VALID(content) AND JSON_VALUE(content, '$.revision') IS NOT NULL`,
    );
    await runner.query(
      `INSERT INTO reference (document, what, target)
       SELECT d.id, 'catalogue', c.id FROM document d JOIN document c ON c.kind = 'catalogue' AND INSTR(d.content, CONCAT('"', c.id, '"')) > 0
       WHERE d.kind IN ('bill', 'buying')`,
    );
    await runner.query(
      `INSERT INTO reference (document, what, target)
       SELECT d.id, 'bill', b.id FROM document d JOIN document b ON b.kind = 'bill' AND b.project = d.project AND INSTR(d.content, CONCAT('"bill":"', b.id, '"')) > 0
       WHERE d.kind IN ('sheet', 'buying')`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE reference');
  }
}
