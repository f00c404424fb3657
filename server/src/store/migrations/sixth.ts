import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Further revisions of a project: what each was recognised against, what it was read as, who brought it and why. */
export class Sixth1765000000000 implements MigrationInterface {
  readonly name = 'Sixth1765000000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      "ALTER TABLE revision ADD COLUMN sourceBlob VARCHAR(191) NULL, ADD COLUMN base CHAR(36) NULL, ADD COLUMN remark VARCHAR(400) NOT NULL DEFAULT '', ADD COLUMN who VARCHAR(191) NOT NULL DEFAULT '', ADD COLUMN matches LONGTEXT NULL",
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE revision DROP COLUMN sourceBlob, DROP COLUMN base, DROP COLUMN remark, DROP COLUMN who, DROP COLUMN matches',
    );
  }
}
