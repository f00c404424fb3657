import {
  keyGraph,
  NO_KEY,
  refuseBrokenGraph,
  Refusal,
  unnamed,
  type ComponentDraft,
  type DraftUsage,
  type Finding,
  type ComponentIndex,
} from '../assembly/index.ts';
import { identityPlacement } from '../geometry/index.ts';
import type { ModelContent } from '../step/index.ts';
import { shareAlike, type TreeNode } from './shareAlike.ts';
import type { ColumnRole } from './columnRoles.ts';
import { isBlank, separatorOf, splitRows } from './csvRows.ts';
import {
  mappingProblem,
  readRows,
  type ListAmount,
  type ListColumn,
  type ListMapping,
  type ListRow,
  type Table,
} from './listRows.ts';

const MOST_ROWS = 500_000;

/**
 * CSV or TSV text as a table: UTF-8 or UTF-16 by its mark, else UTF-8 where it is valid, else Windows-1252; the
 * separator is found by looking (comma, semicolon, tab or bar).
 */
export const parseTable = (bytes: Uint8Array): Table => readTable(bytes).table;

/**
 * The same, with what was noticed: another encoding, rows with more cells than headings, a last row that is cut short.
 * @throws Refusal where a quotation mark is never closed, so that rows would be swallowed
 */
export function readTable(bytes: Uint8Array): { table: Table; findings: Finding[] } {
  const { text, coding } = decode(bytes);
  if (/[\0\x01-\x08\x0e-\x1f]/.test(text.slice(0, 4000)))
    throw new Refusal('not-a-table', 'The file holds binary data, so it is no table of text. Save it as CSV or XLSX.');
  const { rows, openIn } = splitRows(text, separatorOf(text));
  if (openIn !== null)
    throw new Refusal(
      'open-quote',
      `Row ${openIn + 1}: a quotation mark that opens a cell is not closed before the next one begins, so rows would be lost. Mend the cell (a mark inside a text is doubled) and bring the list in again.`,
    );
  const data = rows.filter((row) => !isBlank(row));
  if (data.length > MOST_ROWS)
    throw new Refusal('too-many-rows', `The list has ${data.length} rows; up to ${MOST_ROWS} can be read.`);
  const table = data.map((row) => row.map((cell) => unescaped(cell.trim())));
  const findings = rowFindings(table);
  if (coding !== 'UTF-8')
    findings.push({ code: 'text-coding', message: `The list is not UTF-8; its texts were read as ${coding}.` });
  return { table, findings };
}

/** Rows that do not have as many cells as there are headings, where that may mean that something is lost. */
function rowFindings(table: Table): Finding[] {
  const { headingRow } = proposeMapping(table);
  if (headingRow < 0) return [];
  const width = table[headingRow].length;
  const findings: Finding[] = [];
  const filled = (row: readonly string[]) => row.reduce((last, cell, at) => (cell === '' ? last : at + 1), 0);
  const wide = [...table.keys()].filter((at) => at > headingRow && filled(table[at]) > width);
  if (wide.length > 0)
    findings.push({
      code: 'more-cells-than-headings',
      message: `${wide.length === 1 ? 'Row' : 'Rows'} ${wide
        .slice(0, 8)
        .map((at) => at + 1)
        .join(
          ', ',
        )} of the list ${wide.length === 1 ? 'has' : 'have'} more cells than there are headings (${width}); a separator inside a text may have moved the others.`,
    });
  const last = table.length - 1;
  if (
    last > headingRow + 1 &&
    table[last].length < width &&
    table.slice(headingRow + 1, last).every((row) => row.length === width)
  )
    findings.push({
      code: 'last-row-short',
      message: `Row ${last + 1}, the last of the list, has ${table[last].length} of ${width} cells; the file may be cut off.`,
    });
  return findings;
}

/** Without the apostrophe by which writers keep spreadsheets from running a text as a formula. */
const unescaped = (cell: string): string => (cell.startsWith("'") && mayRun(cell.slice(1)) ? cell.slice(1) : cell);

/** Whether a spreadsheet would run a text as a formula, or a line of it. */
export const mayRun = (text: string): boolean => /(^|[\r\n])[^\S\r\n]*[=+\-@\t]/.test(text);

function decode(bytes: Uint8Array): { text: string; coding: string } {
  const as = (coding: string, name: string) => ({ text: new TextDecoder(coding).decode(bytes), coding: name });
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return as('utf-16le', 'UTF-16');
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return as('utf-16be', 'UTF-16');
  // Without a mark: of every second byte most are empty.
  const start = bytes.subarray(0, 400);
  const empty = (from: number) => start.filter((byte, at) => at % 2 === from && byte === 0).length;
  if (empty(1) > start.length / 4 && empty(0) === 0) return as('utf-16le', 'UTF-16');
  if (empty(0) > start.length / 4 && empty(1) === 0) return as('utf-16be', 'UTF-16');
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), coding: 'UTF-8' };
  } catch {
    return as('windows-1252', 'Windows-1252');
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

/**
 * The structure that a list describes: by a level column, by item numbers (1, 1.1, 1.2), by parent and part, or flat.
 * A row with the number of a part seen before is a further use of it.
 * @throws Refusal naming the row, where level, quantity or parent make no sense
 */
export function readStructureList(table: Table, mapping: ListMapping): ModelContent & { readonly list: ListFacts } {
  const problem = mappingProblem(mapping);
  if (problem) throw new Refusal('mapping', problem);
  const { rows, columns, findings: noticed } = readRows(table, mapping);
  if (rows.length === 0)
    throw new Refusal('no-products', 'The list has no rows with a part, so there is nothing to list.');
  const findings = [...noticed];
  const { drafts, placeOf: place } = mapping.roles.includes('parent') ? byParent(rows, findings) : byLevel(rows);
  const assembly = { version: 1 as const, schema: 'structure list', sourceUnit: 'mm', ...keyGraph(drafts), findings };
  refuseBrokenGraph(assembly);
  const lines = rows.flatMap(({ item, amount }, at) => {
    const found = place(at);
    return found ? [{ ...found, item, amount }] : [];
  });
  const least = rows.reduce((low, { level }) => Math.min(low, level), Infinity);
  const indented = mapping.roles.includes('parent') || rows.some(({ level }) => level > least);
  return { assembly, slices: [], meshes: [], list: { indented, columns, lines } };
}

/** What a list says besides the structure: its columns, and how its lines are numbered and counted. */
export interface ListFacts {
  /** Whether parts stand below others. */
  readonly indented: boolean;
  readonly columns: readonly ListColumn[];
  readonly lines: readonly {
    /** Index of the component. */
    readonly component: ComponentIndex;
    /** Index of the component that it stands in; null for the top. */
    readonly parent: number | null;
    /** Item number as it is written; empty where there is none. */
    readonly item: string;
    readonly amount: ListAmount | null;
  }[];
}
/** Components of a list, and which of them a row is; null for one that counts nothing. */
interface Placed {
  readonly drafts: ComponentDraft[];
  readonly placeOf: (row: number) => { component: ComponentIndex; parent: number | null } | null;
}

const placeOf = (quantity: number): TreeNode['usage'] => ({ label: '', quantity, placement: identityPlacement });

/**
 * Rows under the last row of the level above. The least level of all is the top; several tops stand under an unnamed
 * one.
 */
function byLevel(rows: readonly ListRow[]): Placed {
  const least = rows.reduce((low, row) => Math.min(low, row.level), Infinity);
  const nodes: (TreeNode & { children: number[] })[] = rows.map(({ facts, quantity }) => ({
    ...facts,
    usage: placeOf(quantity),
    children: [],
  }));
  const open: number[] = [];
  const above: (number | null)[] = [];
  const tops: number[] = [];
  rows.forEach(({ level, row, quantity }, at) => {
    const depth = level - least;
    if (depth > open.length)
      throw new Refusal(
        'level',
        `Row ${row}: level ${level} follows level ${open.length - 1 + least}; a level is missing between them.`,
      );
    open.length = depth;
    above.push(depth === 0 ? null : open[depth - 1]);
    if (quantity > 0) (depth === 0 ? tops : nodes[open[depth - 1]].children).push(at);
    open.push(at);
  });
  if (tops.length === 0)
    throw new Refusal('no-products', 'Every part of the list has quantity 0, so there is nothing to list.');
  // One top row is the machine itself only when something stands below it, and when it is one and has no number as a line
  // has one: of two of it the list would count one.
  const top: TreeNode = {
    ...unnamed,
    usage: placeOf(1),
    children: tops.map((at) => at + 1),
  };
  const single =
    tops.length === 1 &&
    nodes[tops[0]].children.length > 0 &&
    rows[tops[0]].item === '' &&
    rows[tops[0]].quantity === 1;
  const tree = single
    ? nodes
    : [top, ...nodes.map((node) => ({ ...node, children: node.children.map((child) => child + 1) }))];
  const { drafts, draftOf } = shareAlike(tree);
  const { kept, indexOf } = keepReachable(drafts, draftOf[single ? tops[0] : 0]);
  const index = (row: number) => indexOf.get(draftOf[single ? row : row + 1]);
  return {
    drafts: kept,
    placeOf: (row) => {
      const component = index(row),
        parent = above[row] === null ? null : index(above[row]);
      return component === undefined || parent === undefined || (single && row === tops[0])
        ? null
        : { component, parent };
    },
  };
}

/** Drafts below the root only, parents first: rows of quantity 0 leave loose ones behind. */
function keepReachable(
  drafts: readonly ComponentDraft[],
  root: number,
): { kept: ComponentDraft[]; indexOf: ReadonlyMap<number, number> } {
  const order = [root];
  const at = new Map([[root, 0]]);
  for (const index of order)
    for (const { child } of drafts[index].usages) {
      if (at.has(child)) continue;
      at.set(child, order.length);
      order.push(child);
    }
  const kept = order.map((index) => ({
    ...drafts[index],
    usages: drafts[index].usages.map((usage) => ({ ...usage, child: at.get(usage.child)! })),
  }));
  return { kept, indexOf: at };
}

/** Parent and part: every part is one component; each row is a usage. Rows without a parent only describe a part. */
function byParent(rows: readonly ListRow[], findings: Finding[]): Placed {
  const drafts: (ComponentDraft & { usages: DraftUsage[] })[] = [];
  const indexOf = new Map<string, number>();
  const described = new Set<number>();
  const add = (key: string, facts: ListRow['facts'] | null): number => {
    let index = indexOf.get(key);
    if (index === undefined) {
      indexOf.set(key, (index = drafts.length));
      drafts.push({
        ...unnamed,
        partNumber: key,
        ...facts,
        usages: [],
      });
    } else if (facts && !described.has(index)) drafts[index] = { ...drafts[index], ...facts };
    if (facts) described.add(index);
    return index;
  };
  const places = rows.map(({ parent, quantity, facts }) => {
    const component = add(facts.partNumber || facts.name, facts);
    if (!parent || quantity === 0) return null;
    const above = add(parent, null);
    drafts[above].usages.push({ key: NO_KEY, child: component, ...placeOf(quantity) });
    return { component, parent: above };
  });
  const bare = [...drafts.keys()].filter((index) => !described.has(index) && drafts[index].usages.length > 0);
  const inner = bare.filter((index) => drafts.some(({ usages }) => usages.some(({ child }) => child === index)));
  if (inner.length > 0)
    findings.push({
      code: 'undescribed-parent',
      message: `${inner.length} parents have no row of their own (first: “${drafts[inner[0]].partNumber}”); only their number is known.`,
    });
  return { drafts, placeOf: (row) => places[row] };
}
