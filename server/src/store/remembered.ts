import type { DataSource } from 'typeorm';

/** What was remembered under this key; null for nothing. The reader checks what it is. */
export async function recall(database: DataSource, key: string): Promise<unknown> {
  const [row] = (await database.query('SELECT content FROM remembered WHERE id = ?', [key])) as { content: string }[];
  return row ? (JSON.parse(row.content) as unknown) : null;
}

export const remember = (database: DataSource, key: string, content: unknown): Promise<void> =>
  rememberText(database, key, JSON.stringify(content));

/** The same of what is JSON already. */
export async function rememberText(database: DataSource, key: string, content: string): Promise<void> {
  await database.query(
    'INSERT INTO remembered (id, content, changed) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE content = VALUES(content), changed = VALUES(changed)',
    [key, content, new Date()],
  );
}
