import * as v from 'valibot';
import type { DataSource } from 'typeorm';
import { api, parseHouseStyle, type HouseStyle, type Styles } from '../../../contract/src/index.ts';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { recall, remember, rememberText } from '../store/remembered.ts';

const PREFIX = 'house style ',
  USUAL = 'usual house style';

/** House styles in the order of their names; those that cannot be read, such as one of a newer program, with the reason. */
export async function listStyles(database: DataSource): Promise<Styles> {
  const rows = (await database.query('SELECT id, content FROM remembered WHERE id LIKE ? ORDER BY id', [
    `${PREFIX}%`,
  ])) as {
    id: string;
    content: string;
  }[];
  const styles: HouseStyle[] = [];
  const unread: Styles['unread'] = [];
  for (const { id, content } of rows) {
    try {
      styles.push(parseHouseStyle(JSON.parse(content)));
    } catch (error) {
      const why = error instanceof Refusal ? error.message : 'What is stored under this name is no house style.';
      unread.push({ name: id.slice(PREFIX.length), why });
    }
  }
  const usual = v.safeParse(api.usualStyleSchema, await recall(database, USUAL));
  const name = usual.success ? usual.output.name : null;
  return { styles, usual: styles.some((style) => style.name === name) ? name : null, unread };
}

/**
 * Keeps a style under its name; one of that name is replaced.
 * @throws Refusal where that one cannot be read: it may say more than this program knows
 */
export async function keepStyle(
  database: DataSource,
  style: { readonly name: string; readonly style: string },
): Promise<void> {
  const name = style.name.slice(0, 150);
  const { unread } = await listStyles(database);
  const other = unread.find((one) => one.name === name);
  if (other) throw new Refusal('unread-style', `${other.why} Keep yours under another name.`);
  await rememberText(database, PREFIX + name, style.style);
}
export const setUsualStyle = (database: DataSource, name: string | null): Promise<void> =>
  remember(database, USUAL, { name });
export const dropStyle = async (database: DataSource, name: string): Promise<void> =>
  void (await database.query('DELETE FROM remembered WHERE id = ?', [PREFIX + name.slice(0, 150)]));

/** The style that new bills begin with. */
export async function usualStyle(database: DataSource): Promise<HouseStyle | null> {
  const { styles, usual } = await listStyles(database);
  return styles.find(({ name }) => name === usual) ?? null;
}
