import { readFile } from 'node:fs/promises';
import * as v from 'valibot';
import { parseRecipeFile } from '../../contract/src/index.ts';
import { jsonFault, Refusal } from '../../core/src/assembly/index.ts';
import type { RecipeFile } from '../../core/src/documents/index.ts';

/** The choices of `--recipe`. @throws Refusal where the file is none */
export async function readRecipe(path: string): Promise<RecipeFile> {
  const text = await readFile(path, 'utf8').catch((error: NodeJS.ErrnoException) => {
    throw Object.assign(error, { path });
  });
  try {
    return parseRecipeFile(JSON.parse(text));
  } catch (error) {
    if (error instanceof SyntaxError)
      throw new Refusal(
        'recipe-unread',
        `${path} is no JSON (${jsonFault(text, error)}). Write it anew, or mend it there.`,
      );
    if (!(error instanceof v.ValiError)) throw error;
    const [issue] = error.issues as v.BaseIssue<unknown>[];
    throw new Refusal(
      'recipe-unread',
      `${path} is no recipe that can be read: ${v.getDotPath(issue) ?? 'its top'}: ${issue.message}`,
    );
  }
}
