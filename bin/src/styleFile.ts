import * as v from 'valibot';
import { parseHouseStyle, type HouseStyle } from '../../contract/src/index.ts';
import { jsonFault, Refusal } from '../../core/src/assembly/index.ts';
import { readBytes } from './files.ts';

/** A house style as a file. @throws Refusal where it is none */
export async function readStyle(path: string): Promise<HouseStyle> {
  const text = new TextDecoder().decode(await readBytes(path));
  try {
    return parseHouseStyle(JSON.parse(text));
  } catch (error) {
    if (error instanceof SyntaxError)
      throw new Refusal(
        'style-unread',
        `${path} is no JSON (${jsonFault(text, error)}). Write it anew, or mend it there.`,
      );
    if (!(error instanceof v.ValiError)) throw error;
    const [issue] = (error as v.ValiError<v.GenericSchema>).issues;
    throw new Refusal(
      'style-unread',
      `${path} is no house style that can be read: ${v.getDotPath(issue) ?? 'its top'}: ${issue.message}`,
    );
  }
}
