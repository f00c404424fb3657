import { randomUUID } from 'node:crypto';
import type { MigrationInterface, QueryRunner } from 'typeorm';

interface StoredRow {
  readonly id: string;
  readonly project: string;
  readonly content: string;
}
interface FirstSheet {
  readonly version: number;
  readonly fields: Readonly<Record<string, string>>;
  readonly table?: object | null;
}

/**
 * Several sheets per project: what they share in a document of its own (the texts of the first sheet's title block),
 * sheets of version 1 as version 2; which documents are away in a column; in which form an edit is stored.
 */
export class Fourth1764700000000 implements MigrationInterface {
  readonly name = 'Fourth1764700000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE document ADD COLUMN away TINYINT NOT NULL DEFAULT 0');
    await runner.query("UPDATE document SET away = JSON_CONTAINS_PATH(content, 'one', '$.away')");
    await runner.query('ALTER TABLE edit ADD COLUMN form INT NOT NULL DEFAULT 1');
    for (const { id: project } of (await runner.query('SELECT id FROM project')) as { id: string }[]) {
      const sheets = (await runner.query(
        "SELECT id, project, content FROM document WHERE project = ? AND kind = 'sheet' ORDER BY position, id",
        [project],
      )) as StoredRow[];
      const contents = sheets.map(({ content }) => JSON.parse(content) as FirstSheet);
      const shared = contents[0]?.fields ?? noFields;
      const set = { version: 1, fields: { ...noFields, ...shared }, order: sheets.map(({ id }) => id) };
      for (const [at, sheet] of contents.entries()) {
        if (sheet.version !== 1) continue;
        const { table, ...rest } = sheet;
        const next = {
          ...rest,
          version: 2,
          fields: Object.fromEntries(Object.entries(sheet.fields).filter(([key, text]) => shared[key] !== text)),
          tables: table ? [{ id: 'list', ...table }] : [],
          notes: [],
          pictures: [],
        };
        await runner.query('UPDATE document SET content = ? WHERE id = ?', [JSON.stringify(next), sheets[at].id]);
      }
      await runner.query(
        "INSERT INTO document (id, project, kind, version, content, position) SELECT ?, ?, 'set', 1, ?, COALESCE(MAX(position), 0) + 1 FROM document WHERE project = ?",
        [randomUUID(), project, JSON.stringify(set), project],
      );
    }
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query("DELETE FROM document WHERE kind = 'set'");
    await runner.query('ALTER TABLE edit DROP COLUMN form');
    await runner.query('ALTER TABLE document DROP COLUMN away');
  }
}

// As the set was when this migration was written: what core says later is no matter of it.
const noFields = {
  title: '',
  drawingNumber: '',
  revision: '',
  owner: '',
  createdBy: '',
  approvedBy: '',
  date: '',
  documentType: '',
};
