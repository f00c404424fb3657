import { readFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import * as v from 'valibot';
import { parseFormMap } from '../../contract/src/index.ts';
import { jsonFault, Refusal, type Assembly } from '../../core/src/assembly/index.ts';
import type { Bill } from '../../core/src/bill/index.ts';
import type { BillDocument } from '../../core/src/documents/index.ts';
import { fillForm, formFields, formList, lookAtForm, proposedMap, type FormMap } from '../../core/src/forms/index.ts';
import { readBytes, write } from './files.ts';

interface FormOptions {
  readonly form: string;
  readonly formMap?: string;
  readonly field: readonly string[];
  readonly machines?: number;
  /** Pattern of the file's name; standard output where absent. */
  readonly output?: string;
}

/**
 * Fills a company's workbook with a list. What there is to know is said on standard error beforehand; where something stands in the
 * way, nothing is written.
 */
export async function formCommand(
  options: FormOptions,
  {
    bill,
    document,
    assembly,
    pictures,
    fileName,
  }: {
    readonly bill: Bill;
    readonly document: BillDocument;
    readonly assembly: Assembly;
    readonly pictures: ReadonlyMap<number, Uint8Array>;
    readonly fileName: string;
  },
): Promise<void> {
  const bytes = await readBytes(options.form);
  const map = await mapFor(options, bytes, document);
  const fields = new Map(
    formFields(assembly, {
      file: fileName,
      project: fileName.replace(/\.[^.]+$/, ''),
      bill: document.name,
      machines: options.machines ?? 1,
      variant: '',
      today: new Date().toISOString().slice(0, 10),
      set: null,
      isPart: false,
    }),
  );
  for (const [name, text] of options.field.map(fieldOf)) fields.set(name, text);
  const pattern = options.output === undefined ? map : { ...map, fileName: basename(options.output) };
  const filled = fillForm(bytes, pattern, formList(bill, document.columns, map, pictures), fields);
  for (const { message } of filled.problems) process.stderr.write(`${message}\n`);
  if (filled.problems.some(({ stops }) => stops))
    throw new Refusal('form-not-written', 'Nothing was written: see what stands in the way above.');
  await write(
    filled.write(),
    options.output === undefined ? undefined : join(dirname(options.output), filled.fileName),
  );
}

function fieldOf(text: string): [string, string] {
  const at = text.indexOf('=');
  if (at < 1) throw new Refusal('no-field', `“${text}” is no field; write it as --field "Drawing number=HS-1".`);
  return [text.slice(0, at).trim(), text.slice(at + 1).trim()];
}

/** The map that was given, else what the form's headings suggest. */
async function mapFor({ form, formMap }: FormOptions, bytes: Uint8Array, { columns }: BillDocument): Promise<FormMap> {
  if (formMap === undefined) {
    const map = proposedMap(lookAtForm(bytes), columns);
    if (map) return map;
    throw new Refusal(
      'no-start',
      `${form} has no headings that say where its list begins; say it in a map (--form-map).`,
    );
  }
  const text = await readFile(formMap, 'utf8').catch((error: NodeJS.ErrnoException) => {
    throw Object.assign(error, { path: formMap });
  });
  try {
    return parseFormMap(JSON.parse(text));
  } catch (error) {
    if (error instanceof SyntaxError)
      throw new Refusal(
        'map-unread',
        `${formMap} is no JSON (${jsonFault(text, error)}). Write it anew, or mend it there.`,
      );
    if (!(error instanceof v.ValiError)) throw error;
    const [issue] = error.issues as v.BaseIssue<unknown>[];
    throw new Refusal(
      'map-unread',
      `${formMap} is no map of a form: ${v.getDotPath(issue) ?? 'its top'}: ${issue.message}`,
    );
  }
}
