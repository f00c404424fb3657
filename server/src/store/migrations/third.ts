import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What jobs are about, in columns; of some kinds one at a time is enough, which the database holds. */
export class Third1764500000000 implements MigrationInterface {
  readonly name = 'Third1764500000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE job ADD COLUMN about VARCHAR(191) NULL, ADD COLUMN claim VARCHAR(191) NULL, ADD UNIQUE KEY oneLiveJob (claim), ADD KEY (about)',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE job DROP KEY oneLiveJob, DROP COLUMN claim, DROP COLUMN about');
  }
}
