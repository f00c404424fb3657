import { numberFindings, Refusal } from '../assembly/index.ts';
import { describeStart } from '../exchange/index.ts';
import { readStep, type ModelContent } from '../step/index.ts';
import { readLayout } from '../layouts/index.ts';
import { fitTexts } from './fitTexts.ts';
import { readGltf } from './gltf.ts';
import type { ListMapping, Table } from './listRows.ts';
import { proposeMapping, readStructureList, readTable, type ListFacts } from './structureList.ts';
import { read3mf } from './threeMf.ts';

type SourceKind = 'step' | 'gltf' | '3mf' | 'svg' | 'table' | 'workbook';

interface ModelOptions {
  /** False leaves out shapes and placements where the source has them apart; see readStep. */
  readonly shapes: boolean;
  /** For structure lists; absent: what their headings suggest. */
  readonly mapping?: ListMapping;
  /** First sheet of a workbook as a table: unpacking one needs a library that the core does not have. */
  readonly workbook?: (bytes: Uint8Array) => Promise<Table>;
}

/**
 * What a file is, by its first bytes, and only where these leave it open by its name; null where it is none that can
 * be read.
 */
export function kindOfSource(bytes: Uint8Array, fileName: string): SourceKind | null {
  const start = String.fromCharCode(...bytes.subarray(0, 200))
    .replace(/^\u00ef\u00bb\u00bf/, '')
    .trimStart();
  if (/^(\/\*|ISO-10303-21)/i.test(start)) return 'step';
  if (start.startsWith('glTF')) return 'gltf';
  const ending = /\.([a-z0-9]+)$/i.exec(fileName)?.[1].toLowerCase() ?? '';
  if (start.startsWith('PK\x03\x04'))
    return ending === 'xlsx' || ending === 'xlsm' ? 'workbook' : ending === '3mf' ? '3mf' : null;
  if (start.startsWith('{')) return 'gltf';
  if (start.startsWith('<') && (ending === 'svg' || /^<(?:\?xml|!--|!DOCTYPE svg|(?:\w+:)?svg)\b/.test(start)))
    return 'svg';
  // In two bytes to a letter, with the mark that says so.
  if (ending === 'svg' && (bytes[0] === 0xff || bytes[0] === 0xfe)) return 'svg';
  if (['csv', 'tsv', 'tab', 'txt'].includes(ending)) return 'table';
  return null;
}

/** What a file holds. */
export interface ReadModel extends ModelContent {
  /** Of a structure list: its numbers and columns. */
  readonly list?: ListFacts;
}

/**
 * Reads any file that can be brought in.
 * @throws Refusal with a sentence where it is none, or where anything of structure, name or quantity may be lost
 */
export async function readModel(bytes: Uint8Array, fileName: string, options: ModelOptions): Promise<ReadModel> {
  const read = await readByKind(bytes, fileName, options);
  const assembly = fitTexts(read.assembly);
  // Lines of a list that name one part are lines of that part: where they disagree, the bill that shows it says so.
  const shared = numberFindings(assembly).filter(({ code }) => !read.list || code === 'number-of-several');
  return { ...read, assembly: { ...assembly, findings: [...assembly.findings, ...shared] } };
}

async function readByKind(bytes: Uint8Array, fileName: string, options: ModelOptions): Promise<ReadModel> {
  if (bytes.length === 0)
    throw new Refusal('empty-file', 'The file is empty (0 bytes). Export it again and check that it was copied whole.');
  switch (kindOfSource(bytes, fileName)) {
    case 'step':
      return readStep(bytes, { shapes: options.shapes });
    case 'gltf':
      return readGltf(bytes);
    case 'svg':
      return readLayout(bytes, { shapes: options.shapes });
    case '3mf':
      return read3mf(bytes);
    case 'table': {
      const { table, findings } = readTable(bytes);
      const read = readList(table, options);
      return { ...read, assembly: { ...read.assembly, findings: [...findings, ...read.assembly.findings] } };
    }
    case 'workbook':
      if (options.workbook) return readList(await options.workbook(bytes), options);
  }
  // By name it should be one of these: their own reader says best what is wrong.
  if (/\.(step|stp|p21)$/i.test(fileName)) return readStep(bytes, { shapes: options.shapes });
  throw new Refusal(
    'unknown-kind',
    `This is no file that can be read: it begins with ${describeStart(bytes)}. STEP (.step, .stp), glTF 2.0 (.glb, .gltf), 3MF, layouts (.svg) and structure lists (.csv, .xlsx) can be.`,
  );
}

const readList = (table: Table, { mapping }: ModelOptions): ReadModel =>
  readStructureList(table, mapping ?? proposeMapping(table));
