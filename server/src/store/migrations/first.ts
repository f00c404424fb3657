import type { MigrationInterface, QueryRunner } from 'typeorm';

// Character set and collation are said with every table: the server's own may be latin1, where M6-a equals M6-A.
const TEXT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin';
export const TABLE = `ENGINE=InnoDB DEFAULT ${TEXT}`;

/** Projects, revisions, documents, edits, jobs and blobs. */
export class First1764000000000 implements MigrationInterface {
  readonly name = 'First1764000000000';

  async up(runner: QueryRunner): Promise<void> {
    const statements = [
      `CREATE TABLE project (id CHAR(36) PRIMARY KEY, name VARCHAR(400) NOT NULL, created DATETIME(3) NOT NULL, changed DATETIME(3) NOT NULL) ${TABLE}`,
      `CREATE TABLE revision (id CHAR(36) PRIMARY KEY, project CHAR(36) NOT NULL, label VARCHAR(191) NOT NULL, fileName VARCHAR(400) NOT NULL, fileBlob VARCHAR(191) NOT NULL, assemblyBlob VARCHAR(191) NOT NULL, parts INT NOT NULL, leafOccurrences DOUBLE NOT NULL, created DATETIME(3) NOT NULL, KEY (project), FOREIGN KEY (project) REFERENCES project (id) ON DELETE CASCADE) ${TABLE}`,
      `CREATE TABLE document (id CHAR(36) PRIMARY KEY, project CHAR(36) NOT NULL, kind VARCHAR(20) NOT NULL, version INT NOT NULL, content LONGTEXT NOT NULL, position INT NOT NULL, KEY (project), FOREIGN KEY (project) REFERENCES project (id) ON DELETE CASCADE) ${TABLE}`,
      `CREATE TABLE edit (id INT AUTO_INCREMENT PRIMARY KEY, project CHAR(36) NOT NULL, gesture VARCHAR(64) NOT NULL, session VARCHAR(64) NOT NULL, document CHAR(36) NOT NULL, fromVersion INT NOT NULL, label VARCHAR(200) NOT NULL, command LONGTEXT NOT NULL, inverse LONGTEXT NOT NULL, mode VARCHAR(8) NOT NULL, undoes VARCHAR(64) NULL, made DATETIME(3) NOT NULL, UNIQUE KEY oneEditPerVersion (document, fromVersion), KEY (project, session), KEY (gesture), FOREIGN KEY (project) REFERENCES project (id) ON DELETE CASCADE) ${TABLE}`,
      `CREATE TABLE job (id CHAR(36) PRIMARY KEY, kind VARCHAR(20) NOT NULL, state VARCHAR(12) NOT NULL, payload LONGTEXT NOT NULL, progress LONGTEXT NOT NULL, owner VARCHAR(191) NULL, leaseUntil DATETIME(3) NULL, attempts INT NOT NULL, cancel TINYINT(1) NOT NULL, reason TEXT NULL, project CHAR(36) NULL, created DATETIME(3) NOT NULL, KEY (state, created)) ${TABLE}`,
      `CREATE TABLE \`blob\` (id VARCHAR(191) PRIMARY KEY, size BIGINT NOT NULL, created DATETIME(3) NOT NULL) ${TABLE}`,
      `CREATE TABLE blob_chunk (\`blob\` VARCHAR(191) NOT NULL, part INT NOT NULL, bytes MEDIUMBLOB NOT NULL, PRIMARY KEY (\`blob\`, part), FOREIGN KEY (\`blob\`) REFERENCES \`blob\` (id) ON DELETE CASCADE) ${TABLE}`,
    ];
    for (const statement of statements) await runner.query(statement);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['blob_chunk', '`blob`', 'job', 'edit', 'document', 'revision', 'project'])
      await runner.query(`DROP TABLE ${table}`);
  }
}
