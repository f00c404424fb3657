import { basename } from 'node:path';
import { Refusal } from '../../core/src/assembly/index.ts';
import { buyingOf, drawCutList, newBuyingPlan, type BuyingPlan } from '../../core/src/buying/index.ts';
import type { Catalogue, CatalogueLink } from '../../core/src/catalogues/index.ts';
import { readyForFormulas } from '../../core/src/columns/index.ts';
import type { CutPlan } from '../../core/src/cutting/index.ts';
import { buildsOf, needOf, openRecipe, type ProjectBuyingInput } from '../../core/src/documents/index.ts';
import { buyingJson, orderCsv, orderTable } from '../../core/src/formats/index.ts';
import { kindOfSource } from '../../core/src/sources/index.ts';
import {
  folderStore,
  measureShapes,
  scenesToPdf,
  startPool,
  writeBillWorkbook,
  type Pool,
  type Tools,
} from '../../engine/src/index.ts';
import { measuredNames, type FactsByShape } from '../../core/src/assembly/index.ts';
import { readRecipe } from './recipeArgument.ts';
import { json, readBytes, write } from './files.ts';

export interface BuyOptions {
  readonly machines: number;
  /** Tables of bars. */
  readonly stock: readonly string[];
  /** Tables of parts, the first the strongest. */
  readonly catalogue: readonly string[];
  readonly recipe?: string;
  readonly variant?: string;
  readonly spares: number;
  readonly kerf: number;
  readonly trim: number;
  readonly leastLeftOver: number;
  readonly currency: string;
  /** `USD=0.92` each. */
  readonly rate: readonly string[];
  readonly format: 'json' | 'csv' | 'xlsx' | 'pdf';
  readonly output?: string;
}

/** What to buy for so many machines: the order list, cut plans, or the workshop’s cut list. */
export async function buyCommand(file: string, options: BuyOptions, workerFile: string): Promise<void> {
  const tools: Tools = { pool: startPool(workerFile), store: folderStore() };
  try {
    await readyForFormulas();
    const input = await inputOf(file, options, tools);
    const builds = buildsOf(input);
    const need = needOf(input, builds);
    const plans = new Map<string, CutPlan>();
    for (const { key, problem } of need.groups) if (problem) plans.set(key, await tools.pool.planCuts(problem));
    const buying = buyingOf(builds, need, plans);
    for (const { message } of buying.problems) process.stderr.write(`${message}\n`);
    const { currency } = input.plan;
    const what = `${options.machines} ${options.machines === 1 ? 'machine' : 'machines'}`;
    const title = input.fileName.replace(/\.[^.]+$/, '');
    switch (options.format) {
      case 'json':
        return await write(json(buyingJson(buying, currency, options.machines)), options.output);
      case 'csv':
        return await write(orderCsv({ lines: buying.order, currency }), options.output);
      case 'xlsx': {
        const table = orderTable({ lines: buying.order, currency });
        return await write(await writeBillWorkbook(table, `Order, ${what}`, new Map()), options.output);
      }
      case 'pdf': {
        const scenes = drawCutList(buying.planned, buying.requirement.lines, { title, what, date: '', currency });
        return await write(
          await scenesToPdf(scenes, { title: `${title}, cut list`, author: '', date: '' }),
          options.output,
        );
      }
    }
  } finally {
    await tools.pool.close();
  }
}

async function inputOf(file: string, options: BuyOptions, tools: Tools): Promise<ProjectBuyingInput> {
  const fileName = basename(file);
  const bytes = await readBytes(file);
  const model = await tools.pool.read({ bytes, fileName });
  const hasShapes = !['table', 'workbook'].includes(kindOfSource(bytes, fileName) ?? '');
  const facts: FactsByShape = hasShapes ? (await measureShapes(model, tools)).facts : new Map();
  const { assembly } = model;
  const recipe = options.recipe ? await readRecipe(options.recipe) : {};
  const { bill, edits } = openRecipe(recipe, assembly, [...measuredNames, 'Author', 'Created']);
  const catalogues = new Map<string, Catalogue>();
  const read = async (path: string, prefix: string, at: number) => {
    const id = `${prefix}${at}`;
    catalogues.set(id, await readTable(path, tools.pool, prefix === 'parts'));
    return id;
  };
  const parts = await Promise.all(options.catalogue.map((path, at) => read(path, 'parts', at)));
  const stock = await Promise.all(options.stock.map((path, at) => read(path, 'stock', at)));
  const links = parts.map((catalogue): CatalogueLink => ({ catalogue }));
  const variant =
    options.variant === undefined
      ? null
      : (Object.keys(edits.variants).find(
          (one) => one === options.variant || edits.variants[one].name === options.variant,
        ) ?? refuseVariant(options.variant));
  const plan: BuyingPlan = {
    ...newBuyingPlan,
    builds: [{ variant, count: options.machines }],
    sparePercent: options.spares,
    currency: options.currency,
    rates: Object.fromEntries(options.rate.map(rateOf)),
    stock,
    kerfMm: options.kerf,
    trimMm: options.trim,
    leastLeftOverMm: options.leastLeftOver,
  };
  return {
    original: assembly,
    edits,
    facts,
    fileName,
    catalogues,
    bill: links.length > 0 ? { ...bill, catalogues: links } : bill,
    plan,
  };
}

const refuseVariant = (name: string): never => {
  throw new Refusal('no-variant', `There is no variant “${name}”; variants stand in the recipe file (--recipe).`);
};

/**
 * A table of parts or bars, as its headings suggest. What of it cannot be read goes to standard error.
 * @param ofParts that are found by a key
 */
async function readTable(path: string, pool: Pool, ofParts: boolean): Promise<Catalogue> {
  const source = { bytes: await readBytes(path), fileName: basename(path) };
  const { mapping, isUnsure } = await pool.previewCatalogue(source);
  if (isUnsure)
    process.stderr.write(
      `${source.fileName}: nothing in it tells whether 1,234 is a thousand and more; it was read as 1234.\n`,
    );
  const { text, problems } = await pool.readCatalogue({ ...source, mapping, current: null });
  // Several bars of one number, or of none, are nothing to look at.
  for (const problem of problems)
    if (ofParts || !/\bkey\b/.test(problem)) process.stderr.write(`${source.fileName}: ${problem}\n`);
  return JSON.parse(text) as Catalogue;
}

function rateOf(text: string): [string, number] {
  const [, code, value] = /^([A-Za-z]{3})=(\d+(?:[.,]\d+)?)$/.exec(text.trim()) ?? [];
  if (code === undefined || !(Number(value.replace(',', '.')) > 0))
    throw new Refusal('no-rate', `“${text}” is no rate; write what one unit costs as --rate USD=0.92.`);
  return [code.toUpperCase(), Number(value.replace(',', '.'))];
}
