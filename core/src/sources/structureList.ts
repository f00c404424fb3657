import Papa from 'papaparse';
import {
  keyGraph,
  NO_KEY,
  refuseBrokenGraph,
  Refusal,
  type ComponentDraft,
  type DraftUsage,
  type Finding,
  type PropertyValue,
} from '../assembly/index.ts';
import { identityPlacement } from '../geometry/index.ts';
import type { ModelContent } from '../step/index.ts';
import { shareAlike, type TreeNode } from './shareAlike.ts';
import { columnRoles, type ColumnRole } from './columnRoles.ts';

/** Cells as text, row by row; rows may differ in length. */
export type Table = readonly (readonly string[])[];

/** How a table is read: which row holds the headings, and what each column says. */
export interface ListMapping {
  /** Index of the heading row, −1 where there is none. */
  readonly headingRow: number;
  readonly roles: readonly ColumnRole[];
}

const MOST_ROWS = 500_000;
const MOST_LEVELS = 512;

/**
 * CSV or TSV text as a table: UTF-8 or UTF-16 by its mark, else UTF-8 where it is valid, else Windows-1252; the
 * separator is found by looking (comma, semicolon, tab or bar).
 */
export function parseTable(bytes: Uint8Array): Table {
  const text = decode(bytes);
  if (/[\0\x01-\x08\x0e-\x1f]/.test(text.slice(0, 4000)))
    throw new Refusal('not-a-table', 'The file holds binary data, so it is no table of text. Save it as CSV or XLSX.');
  const { data } = Papa.parse<string[]>(text, { skipEmptyLines: 'greedy', delimitersToGuess: [',', ';', '\t', '|'] });
  if (data.length > MOST_ROWS)
    throw new Refusal('too-many-rows', `The list has ${data.length} rows; up to ${MOST_ROWS} can be read.`);
  return data.map((row) => row.map((cell) => cell.trim()));
}

function decode(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}

/** Headings by which writers call their columns, in small letters without marks; English, German, French. */
const HEADINGS: Readonly<Record<Exclude<ColumnRole, 'property' | 'ignore'>, readonly string[]>> = {
  level: ['level', 'lvl', 'indent', 'ebene', 'stufe', 'niveau'],
  item: ['item', 'itemno', 'itemnumber', 'pos', 'position', 'posno', 'find', 'findno', 'repere'],
  parent: [
    'parent',
    'parentnumber',
    'parentpartnumber',
    'parentno',
    'assembly',
    'usedin',
    'ubergeordnet',
    'baugruppe',
    'ensemble',
  ],
  partNumber: [
    'partnumber',
    'partno',
    'number',
    'partnr',
    'component',
    'child',
    'childnumber',
    'componentnumber',
    'articlenumber',
    'teilenummer',
    'sachnummer',
    'artikelnummer',
    'reference',
    'id',
  ],
  name: ['name', 'partname', 'title', 'benennung', 'bezeichnung', 'designation', 'nom'],
  description: ['description', 'desc', 'beschreibung'],
  revision: ['revision', 'rev', 'index', 'version'],
  quantity: [
    'quantity',
    'qty',
    'count',
    'pieces',
    'pcs',
    'number off',
    'noff',
    'menge',
    'anzahl',
    'stuck',
    'quantite',
    'qte',
  ],
  source: ['source', 'madeorbought', 'makeorbuy', 'makebuy', 'beschaffung'],
};
const plainWord = (text: string): string =>
  text
    .normalize('NFD')
    .toLowerCase()
    .replace(/[^a-z0-9]/g, '');

/** The mapping that headings and cells suggest; always one role per column. */
export function proposeMapping(table: Table): ListMapping {
  const rolesOf = (row: readonly string[]) => {
    const taken = new Set<ColumnRole>();
    return row.map((cell): ColumnRole => {
      const word = plainWord(cell);
      const role = (Object.keys(HEADINGS) as (keyof typeof HEADINGS)[]).find(
        (one) => !taken.has(one) && HEADINGS[one].includes(word),
      );
      if (role) taken.add(role);
      return role ?? (cell ? 'property' : 'ignore');
    });
  };
  const known = (roles: readonly ColumnRole[]) =>
    roles.filter((role) => role !== 'property' && role !== 'ignore').length;
  const first = table.slice(0, 20).map(rolesOf);
  const headingRow = first.reduce(
    (best, roles, at) => (known(roles) > (best < 0 ? 0 : known(first[best])) ? at : best),
    -1,
  );
  const width = table.reduce((most, row) => Math.max(most, row.length), 0);
  const roles: ColumnRole[] = headingRow >= 0 ? [...first[headingRow]] : ['partNumber', 'name', 'quantity'];
  while (roles.length < width) roles.push('ignore');
  // One column of numbers and one of parents: parents win, an item number alone gives levels.
  if (roles.includes('level') && roles.includes('item')) roles[roles.indexOf('item')] = 'ignore';
  return { headingRow, roles: roles.slice(0, width) };
}

/** Why a mapping cannot be used yet, in words; null where it can. */
export function mappingProblem({ roles }: ListMapping): string | null {
  const twice = columnRoles.find(
    (role) => role !== 'property' && role !== 'ignore' && roles.filter((one) => one === role).length > 1,
  );
  if (twice) return `Two columns say “${twice}”; choose one.`;
  if (!roles.includes('partNumber') && !roles.includes('name'))
    return 'No column says which part a row is; choose the one with part numbers or names.';
  if (roles.includes('parent') && (roles.includes('level') || roles.includes('item')))
    return 'A list goes by level or by parent, not both; ignore one of the columns.';
  return null;
}

/**
 * The structure that a list describes: by a level column, by item numbers (1, 1.1, 1.2), by parent and part, or flat.
 * A row with the number of a part seen before is a further use of it.
 * @throws Refusal naming the row, where level, quantity or parent make no sense
 */
export function readStructureList(table: Table, mapping: ListMapping): ModelContent {
  const problem = mappingProblem(mapping);
  if (problem) throw new Refusal('mapping', problem);
  const findings: Finding[] = [];
  const rows = readRows(table, mapping);
  if (rows.length === 0)
    throw new Refusal('no-products', 'The list has no rows with a part, so there is nothing to list.');
  const drafts = mapping.roles.includes('parent') ? byParent(rows, findings) : byLevel(rows);
  const assembly = { version: 1 as const, schema: 'structure list', sourceUnit: 'mm', ...keyGraph(drafts), findings };
  refuseBrokenGraph(assembly);
  return { assembly, slices: [], meshes: [] };
}

interface ListRow {
  /** From 1, as a table program counts. */
  readonly row: number;
  readonly level: number;
  readonly parent: string;
  readonly quantity: number;
  readonly facts: Omit<TreeNode, 'usage' | 'children'>;
}

function readRows(table: Table, { headingRow, roles }: ListMapping): ListRow[] {
  const headings = headingRow >= 0 ? table[headingRow] : [];
  const rows: ListRow[] = [];
  table.forEach((cells, at) => {
    if (at <= headingRow) return;
    const cell = (role: ColumnRole) => cells[roles.indexOf(role)] ?? '';
    const properties: Record<string, PropertyValue> = {};
    roles.forEach((role, column) => {
      if (role === 'property' && cells[column])
        properties[headings[column] || `Column ${column + 1}`] = { value: cells[column] };
    });
    const partNumber = cell('partNumber'),
      name = cell('name');
    if (!partNumber && !name) return; // headings of groups, totals, empty rows
    rows.push({
      row: at + 1,
      level: levelOf(cell('level'), cell('item'), at + 1),
      parent: cell('parent'),
      quantity: quantityOf(cell('quantity'), at + 1),
      facts: {
        partNumber,
        name,
        description: cell('description'),
        revision: cell('revision'),
        source: sourceOf(cell('source')),
        shape: null,
        properties,
      },
    });
  });
  return rows;
}

function levelOf(level: string, item: string, row: number): number {
  // Levels are also written as "..2" or "+2".
  const digits = /^[.\s+>-]*(\d+)$/.exec(level);
  if (level) {
    if (!digits || Number(digits[1]) > MOST_LEVELS)
      throw new Refusal(
        'level',
        `Row ${row}: the level “${level}” is no whole number up to ${MOST_LEVELS}. Mend it, or choose another column.`,
      );
    return Number(digits[1]);
  }
  return item ? item.replace(/\.0*$/, '').split(/[.\-/]/).length : 0;
}

function quantityOf(text: string, row: number): number {
  const bare = text
    .replace(/\s*(pcs?|pieces?|x|×|stk|off|ea)\.?$/i, '')
    .replace(/[.,]0+$/, '')
    .trim();
  if (!bare) return 1;
  const value = Number(bare);
  if (!Number.isSafeInteger(value) || value < 0)
    throw new Refusal(
      'quantity-not-whole',
      `Row ${row}: the quantity “${text}” is no whole number of pieces, so it cannot be counted. Mend it, or choose another column.`,
    );
  return value;
}

const sourceOf = (text: string): 'made' | 'bought' | null =>
  /^(made?|make|eigen|fertigung)/i.test(text) ? 'made' : /^(b(ou|uy)|purch|kauf|zukauf)/i.test(text) ? 'bought' : null;

const placeOf = (quantity: number): TreeNode['usage'] => ({ label: '', quantity, placement: identityPlacement });

/**
 * Rows under the last row of the level above. The least level of all is the top; several tops stand under an unnamed
 * one.
 */
function byLevel(rows: readonly ListRow[]): ComponentDraft[] {
  const least = rows.reduce((low, row) => Math.min(low, row.level), Infinity);
  const nodes: (TreeNode & { children: number[] })[] = rows.map(({ facts, quantity }) => ({
    ...facts,
    usage: placeOf(quantity),
    children: [],
  }));
  const open: number[] = [];
  const tops: number[] = [];
  rows.forEach(({ level, row, quantity }, at) => {
    const depth = level - least;
    if (depth > open.length)
      throw new Refusal(
        'level',
        `Row ${row}: level ${level} follows level ${open.length - 1 + least}; a level is missing between them.`,
      );
    open.length = depth;
    if (quantity > 0) (depth === 0 ? tops : nodes[open[depth - 1]].children).push(at);
    open.push(at);
  });
  if (tops.length === 0)
    throw new Refusal('no-products', 'Every part of the list has quantity 0, so there is nothing to list.');
  // One top row is the machine itself only when something stands below it.
  const top: TreeNode = {
    partNumber: '',
    name: '',
    description: '',
    revision: '',
    source: null,
    shape: null,
    properties: {},
    usage: placeOf(1),
    children: tops.map((at) => at + 1),
  };
  const single = tops.length === 1 && nodes[tops[0]].children.length > 0;
  const tree = single
    ? nodes
    : [top, ...nodes.map((node) => ({ ...node, children: node.children.map((child) => child + 1) }))];
  const { drafts, draftOf } = shareAlike(tree);
  return keepReachable(drafts, draftOf[single ? tops[0] : 0]);
}

/** Drafts below the root only, parents first: rows of quantity 0 leave loose ones behind. */
function keepReachable(drafts: readonly ComponentDraft[], root: number): ComponentDraft[] {
  const order = [root];
  const at = new Map([[root, 0]]);
  for (const index of order)
    for (const { child } of drafts[index].usages) {
      if (at.has(child)) continue;
      at.set(child, order.length);
      order.push(child);
    }
  return order.map((index) => ({
    ...drafts[index],
    usages: drafts[index].usages.map((usage) => ({ ...usage, child: at.get(usage.child)! })),
  }));
}

/** Parent and part: every part is one component; each row is a usage. Rows without a parent only describe a part. */
function byParent(rows: readonly ListRow[], findings: Finding[]): ComponentDraft[] {
  const drafts: (ComponentDraft & { usages: DraftUsage[] })[] = [];
  const indexOf = new Map<string, number>();
  const described = new Set<number>();
  const add = (key: string, facts: ListRow['facts'] | null): number => {
    let index = indexOf.get(key);
    if (index === undefined) {
      indexOf.set(key, (index = drafts.length));
      drafts.push({
        partNumber: key,
        name: '',
        description: '',
        revision: '',
        source: null,
        shape: null,
        properties: {},
        ...facts,
        usages: [],
      });
    } else if (facts && !described.has(index)) drafts[index] = { ...drafts[index], ...facts };
    if (facts) described.add(index);
    return index;
  };
  for (const { parent, quantity, facts } of rows) {
    const child = add(facts.partNumber || facts.name, facts);
    if (parent && quantity > 0) drafts[add(parent, null)].usages.push({ key: NO_KEY, child, ...placeOf(quantity) });
  }
  const bare = [...drafts.keys()].filter((index) => !described.has(index) && drafts[index].usages.length > 0);
  const inner = bare.filter((index) => drafts.some(({ usages }) => usages.some(({ child }) => child === index)));
  if (inner.length > 0)
    findings.push({
      code: 'undescribed-parent',
      message: `${inner.length} parents have no row of their own (first: “${drafts[inner[0]].partNumber}”); only their number is known.`,
    });
  return drafts;
}
