import type { MigrationInterface, QueryRunner } from 'typeorm';
import { TABLE } from './first.ts';

/** What the program remembers for the drafter between projects: how a list with these headings was read. */
export class Second1764300000000 implements MigrationInterface {
  readonly name = 'Second1764300000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE remembered (id VARCHAR(191) PRIMARY KEY, content LONGTEXT NOT NULL, changed DATETIME(3) NOT NULL) ${TABLE}`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE remembered');
  }
}
