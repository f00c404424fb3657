import { basename } from 'node:path';
import {
  asInFile,
  measuredNames,
  ownValue,
  Refusal,
  type Assembly,
  type FactsByShape,
  type Finding,
} from '../../core/src/assembly/index.ts';
import {
  columnFindings,
  faultFindings,
  recipeSentence,
  recipeWords,
  sourcesUsed,
  type Bill,
  type BillDecisions,
  type Depth,
  type Identity,
} from '../../core/src/bill/index.ts';
import {
  readFormula,
  newColumn,
  propertyNames,
  readyForFormulas,
  referenceOf,
  sourceName,
  type Column,
  type ColumnSource,
} from '../../core/src/columns/index.ts';
import {
  editedFor,
  openRecipe,
  projectBill,
  recipeFileOf,
  type BillDocument,
  type ComponentEdits,
  type OpenedRecipe,
  type RecipeFile,
} from '../../core/src/documents/index.ts';
import { billJson, billTable, billToText } from '../../core/src/formats/index.ts';
import { kindOfSource, readModel } from '../../core/src/sources/index.ts';
import type { Tools } from '../../engine/src/index.ts';
import { collectGarbage, json, readBytes, write } from './files.ts';

export interface BillOptions {
  readonly depth: Depth;
  readonly merge: Identity;
  readonly format: 'json' | 'csv' | 'tsv' | 'xlsx' | 'recipe';
  readonly output?: string;
  readonly recipe?: string;
  readonly columns?: string;
  readonly sort?: string;
  readonly group?: string;
  readonly filter?: string;
  readonly variant?: string;
  /** Names of properties that must agree too before two lines are one. */
  readonly split?: string;
  readonly machines?: number;
  readonly explain?: boolean;
  /** A workbook that the list is filled into. */
  readonly form?: string;
  readonly formMap?: string;
  /** `Name=text` for what the form asks for. */
  readonly field: readonly string[];
}

/** @param given names of the options that were typed; others leave the recipe's choice alone */
export async function billCommand(
  file: string,
  options: BillOptions,
  given: ReadonlySet<string>,
  workerFile: string,
): Promise<void> {
  const recipe = options.recipe ? await (await import('./recipeArgument.ts')).readRecipe(options.recipe) : {};
  const wanted = mergeOptions(recipe, options, given);
  const fileName = basename(file);
  // Keys of single places, and of parts that only their shape tells apart, need what a bill alone does not read.
  const namesKeys = /"[0-9a-f]{32}/.test(JSON.stringify(wanted));
  const read = await readStructure(file, namesKeys);
  if (read.size > MUCH) collectGarbage();
  let { assembly } = read;
  let opened = open(wanted, assembly, options);
  let shapes: Shapes = { facts: new Map(), pictures: new Map() };
  if (opened.bill.columns.some(({ source }) => source === 'formula')) await checkFormulas(opened.bill.columns);
  if (read.hasShapes && needsShapes(opened.bill)) {
    const wantsPictures = options.format === 'xlsx' || options.form !== undefined;
    ({ assembly, shapes } = await withShapes(file, workerFile, wantsPictures));
    opened = open(wanted, assembly, options);
  }
  const { facts, pictures } = shapes;
  const { bill: document, edits, findings } = opened;
  if (options.format === 'recipe') return write(json(recipeFileOf(document, edits)), options.output);
  const input = { original: assembly, edits, facts, bill: document, fileName };
  // A plain bill of a large file needs no second copy of its structure.
  const edited =
    Object.keys(wanted).some((key) => EDITING.has(key)) || facts.size > 0 || asksPlaces(assembly, document)
      ? editedFor(input, document.recipe.variant ?? null)
      : asInFile(assembly);
  const { bill, decisions } = projectBill(input, edited);
  if (options.explain) return write(explained(document, edits, edited.assembly, bill, decisions), options.output);
  const noticed = [...findings, ...columnFindings(bill, document.columns), ...faultFindings(bill, document.columns)];
  const { form, format } = options;
  if (format !== 'json' || form) tell([...assembly.findings, ...noticed, ...bill.findings]);
  if (form) {
    const { formCommand } = await import('./formCommand.ts');
    return formCommand({ ...options, form }, { bill, document, assembly: edited.assembly, pictures, fileName });
  }
  if (options.format === 'xlsx') {
    const { writeBillWorkbook } = await import('../../engine/src/index.ts');
    return write(await writeBillWorkbook(billTable(bill, document.columns), document.name, pictures), options.output);
  }
  if (options.format !== 'json')
    return write(billToText(bill, document.columns, options.format === 'csv' ? ',' : '\t'), options.output);
  await write(
    billJson(
      edited.assembly,
      bill,
      fileName,
      wanted.columns || options.recipe || options.group || options.split ? document.columns : null,
      noticed,
    ),
    options.output,
  );
}

/** Says what was noticed, where the result itself does not. */
const tell = (findings: readonly Finding[]): void => {
  for (const { message } of findings) process.stderr.write(`${message}\n`);
};

/** The recipe as a sentence. */
function explained(
  { recipe, columns }: BillDocument,
  edits: ComponentEdits,
  assembly: Assembly,
  { rows }: Bill,
  decisions: BillDecisions,
): string {
  const variantName = recipe.variant ? ownValue(edits.variants, recipe.variant)?.name : undefined;
  const nameOf = (source: ColumnSource) =>
    columns.find((column) => referenceOf(column) === source)?.heading ?? sourceName(source);
  return `${recipeSentence(recipeWords(recipe, { assembly, decisions, nameOf, variantName }), rows.length)}\n`;
}

interface Shapes {
  readonly facts: FactsByShape;
  /** By component. */
  readonly pictures: ReadonlyMap<number, Uint8Array>;
}

/** The same with what is measured on its shapes. The engine is loaded for those lists alone that need it. */
async function withShapes(
  file: string,
  workerFile: string,
  wantsPictures: boolean,
): Promise<{ assembly: Assembly; shapes: Shapes }> {
  const { folderStore, loadThumbnails, measureShapes, startPool } = await import('../../engine/src/index.ts');
  const tools: Tools = { pool: startPool(workerFile), store: folderStore() };
  try {
    const model = await tools.pool.read({ bytes: await readBytes(file), fileName: basename(file) });
    const { facts, findings } = await measureShapes(model, tools);
    const assembly = { ...model.assembly, findings: [...model.assembly.findings, ...findings] };
    return { assembly, shapes: { facts, pictures: wantsPictures ? await loadThumbnails(assembly, tools) : new Map() } };
  } finally {
    await tools.pool.close();
  }
}

/** What a bill needs; nothing keeps hold of the file's bytes, which may be many. */
async function readStructure(
  file: string,
  shapes: boolean,
): Promise<{ assembly: Assembly; hasShapes: boolean; size: number }> {
  const bytes = await readBytes(file),
    fileName = basename(file);
  const workbook = async (of: Uint8Array) => (await import('../../engine/src/index.ts')).readWorkbook(of);
  const { assembly } = await readModel(bytes, fileName, { shapes, workbook });
  return {
    assembly,
    size: bytes.length,
    hasShapes: !['table', 'workbook'].includes(kindOfSource(bytes, fileName) ?? ''),
  };
}

/** Beyond so many bytes of a file memory is counted. */
const MUCH = 20e6;
const EDITING = new Set<string>([
  'treatments',
  'placeTreatments',
  'typed',
  'typedAt',
  'densities',
  'sameAs',
  'keptApart',
  'variants',
]);

/** Whether the list says something that single places have and their components have not. */
const asksPlaces = ({ components }: Assembly, { recipe, columns }: BillDocument): boolean =>
  components.some(({ drawn }) => drawn) ||
  (sourcesUsed(recipe, columns).some((source) => !isCounted(source)) &&
    components.some(({ usages }) => usages.some(({ properties }) => properties !== undefined)));
const isCounted = (source: string): boolean => source === 'item' || source === 'quantity';
const namesIn = (text: string): string[] =>
  text
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean);

/** What was typed on the command line wins over the recipe file. */
function mergeOptions(
  file: RecipeFile,
  { depth, merge, columns, sort, group, filter, machines, split }: BillOptions,
  given: ReadonlySet<string>,
): RecipeFile {
  const { recipe = {} } = file;
  return {
    ...file,
    ...(columns ? { columns } : {}),
    recipe: {
      ...recipe,
      depth: given.has('depth') ? depth : (recipe.depth ?? depth),
      identity: given.has('merge') ? merge : (recipe.identity ?? merge),
      ...(sort ? { sort } : {}),
      ...(group ? { groups: group } : {}),
      ...(filter ? { filter } : {}),
      ...(machines ? { machines } : {}),
      ...(split ? { identityWith: namesIn(split) } : {}),
    },
  };
}

function open(wanted: RecipeFile, assembly: Assembly, { variant, split }: BillOptions): OpenedRecipe {
  const asked = openRecipe(wanted, assembly, [...measuredNames, 'Author', 'Created']);
  // What lines are told apart by stands in them.
  const apart = split === undefined || wanted.columns ? [] : namesIn(split);
  const known = new Set(propertyNames(assembly));
  const strange = split === undefined ? undefined : namesIn(split).find((name) => !known.has(name));
  if (strange !== undefined)
    throw new Refusal(
      'no-property',
      `No part or place has “${strange}”; there is ${[...known].slice(0, 20).join(', ') || 'nothing like it'}.`,
    );
  const opened = {
    ...asked,
    bill: {
      ...asked.bill,
      columns: [...asked.bill.columns, ...apart.map((name) => newColumn(`property:${name}` as ColumnSource))],
    },
  };
  if (variant === undefined) return opened;
  const { variants } = opened.edits;
  const id = Object.keys(variants).find((one) => one === variant || variants[one].name === variant);
  if (id === undefined)
    throw new Refusal(
      'no-variant',
      `There is no variant “${variant}”; ${
        Object.keys(variants).length === 0
          ? 'variants stand in the recipe file (--recipe)'
          : `the recipe has ${Object.values(variants)
              .map(({ name }) => `“${name}”`)
              .join(', ')}`
      }.`,
    );
  return { ...opened, bill: { ...opened.bill, recipe: { ...opened.bill.recipe, variant: id } } };
}

/**
 * A formula that cannot be read is refused before anything is made; one that has no value for some lines is a
 * finding.
 */
async function checkFormulas(columns: readonly Column[]): Promise<void> {
  await readyForFormulas();
  for (const { source, heading, expression = '' } of columns) {
    if (source !== 'formula') continue;
    const read = readFormula(expression);
    if (!read.ok) throw new Refusal('formula-unread', `The formula of “${heading}”: ${read.fault.message}`);
  }
}

/** Whether anything that the bill shows or rests on is measured on shapes. */
function needsShapes({ recipe, columns }: BillDocument): boolean {
  if (recipe.identity === 'shape') return true;
  const measured = new Set<string>([
    'massEach',
    'massTotal',
    'picture',
    ...measuredNames.map((name) => `property:${name}`),
  ]);
  return sourcesUsed(recipe, columns).some((source) => measured.has(source));
}
