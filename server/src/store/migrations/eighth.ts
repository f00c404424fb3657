import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What a document has alone in its project, such as the number of an order. */
export class Eighth1765300000000 implements MigrationInterface {
  readonly name = 'Eighth1765300000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE document ADD COLUMN claim VARCHAR(191) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL, ADD UNIQUE KEY claimed (project, claim)',
    );
    // Of orders that took one number before, the first has it; the others keep theirs on paper.
    await runner.query(
      `UPDATE document d JOIN (
         SELECT MIN(CONCAT(LPAD(position, 10, '0'), id)) AS first, project, TRIM(JSON_VALUE(content, '$.number')) COLLATE utf8mb4_bin AS number
         FROM document WHERE kind = 'order' AND JSON_VALID(content) GROUP BY project, number
       ) one ON one.project = d.project AND one.first = CONCAT(LPAD(d.position, 10, '0'), d.id)
       SET d.claim = CONCAT('order ', one.number) WHERE one.number IS NOT NULL`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE document DROP KEY claimed, DROP COLUMN claim');
  }
}
