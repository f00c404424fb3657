import * as v from 'valibot';
import type { DataSource } from 'typeorm';
import { api, houseStyleSchema, type HouseStyle, type Styles } from '../../contract/src/index.ts';
import type { BillDocument } from '../../core/src/documents/index.ts';
import { recall, remember } from './remembered.ts';

const PREFIX = 'house style ',
  USUAL = 'usual house style';

/** House styles in the order of their names. One that can no longer be read is passed over. */
export async function listStyles(database: DataSource): Promise<Styles> {
  const rows = (await database.query('SELECT content FROM remembered WHERE id LIKE ? ORDER BY id', [`${PREFIX}%`])) as {
    content: string;
  }[];
  const styles = rows.flatMap(({ content }) => {
    const read = v.safeParse(houseStyleSchema, JSON.parse(content));
    return read.success ? [read.output] : [];
  });
  const usual = v.safeParse(api.usualStyleSchema, await recall(database, USUAL));
  const name = usual.success ? usual.output.name : null;
  return { styles, usual: styles.some((style) => style.name === name) ? name : null };
}

/** Keeps a style under its name; one of that name is replaced. */
export const keepStyle = (database: DataSource, style: HouseStyle): Promise<void> =>
  remember(database, PREFIX + style.name.slice(0, 150), style);
export const setUsualStyle = (database: DataSource, name: string | null): Promise<void> =>
  remember(database, USUAL, { name });
export const dropStyle = async (database: DataSource, name: string): Promise<void> =>
  void (await database.query('DELETE FROM remembered WHERE id = ?', [PREFIX + name.slice(0, 150)]));

/** The style that new bills begin with. */
export async function usualStyle(database: DataSource): Promise<HouseStyle | null> {
  const { styles, usual } = await listStyles(database);
  return styles.find(({ name }) => name === usual) ?? null;
}

/** The bill with the columns and the way of numbering of a style. */
export const withStyle = (bill: BillDocument, style: HouseStyle | null): BillDocument =>
  style
    ? {
        ...bill,
        columns: style.columns as BillDocument['columns'],
        recipe: { ...bill.recipe, ...(style.numbering ? { numbering: style.numbering } : {}) },
      }
    : bill;
