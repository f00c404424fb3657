import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Which project a job is for, so that it ends with it and waits for its own alone. */
export class Seventh1765200000000 implements MigrationInterface {
  readonly name = 'Seventh1765200000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE job ADD COLUMN ofProject CHAR(36) NULL, ADD KEY (ofProject)');
    await runner.query(
      "UPDATE job SET ofProject = LEFT(COALESCE(JSON_VALUE(payload, '$.project'), JSON_VALUE(payload, '$.into')), 36) WHERE state IN ('queued', 'running') AND JSON_VALID(payload)",
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE job DROP COLUMN ofProject');
  }
}
