import Papa from 'papaparse';
import { fullLabel, groupBy, ownValue, type Assembly, type Component, type ShapeKey } from '../assembly/index.ts';
import { compareBills, type ComparedBill } from '../bill/index.ts';
import { editedFor, projectBill, type BillDocument, type ProjectBillInput } from '../documents/index.ts';
import type { SpreadsheetValue } from '../columns/index.ts';
import {
  changesBetween,
  countChanges,
  isNoChange,
  type ChangedComponent,
  type ChangedUsage,
  type Confidence,
  type ModelChanges,
  type ShapePrint,
} from '../revisions/index.ts';
import type { BillTable } from './billTable.ts';
import { neutral } from './billText.ts';

/** Of shapes that differ. */
export type ShapeSizes = ReadonlyMap<ShapeKey, Pick<ShapePrint, 'volume' | 'box'>>;

/** What one side of a comparison says of a component; what does not differ is left out but for names and quantity. */
export interface ComparedSide {
  /** Product id. */
  readonly partNumber: string;
  /** As the file has it. */
  readonly name: string;
  /** Pieces in the whole machine. */
  readonly quantity: number;
  /** Of another shape, mm³. */
  readonly volume?: number;
  /** Of another shape: box along its own axes, mm. */
  readonly size?: readonly [number, number, number];
  /** Those that differ, as they read. */
  readonly properties?: Readonly<Record<string, string | null>>;
}
interface ComparedComponent {
  /** Whether it is only in the later one, only in the earlier one, or in both. */
  readonly kind: 'new' | 'gone' | 'changed';
  /** As it is now; as it was where it is gone. */
  readonly partNumber: string;
  /** As it is now; as it was where it is gone. */
  readonly name: string;
  /** null where it is new. */
  readonly was: ComparedSide | null;
  /** null where it is gone. */
  readonly is: ComparedSide | null;
  /** `shape`, `name`, `number`, `quantity`, `property:` and its name. */
  readonly changes: readonly string[];
  /** How well it is recognised; of what is new or gone, that nothing like it was found. */
  readonly confidence: Confidence;
  /** What speaks for its being the same; empty for what is new or gone. */
  readonly why: string;
}
interface ComparedPlace {
  /** What became of it. */
  readonly kind: ChangedUsage['kind'];
  /** Product id of what is used. */
  readonly partNumber: string;
  /** Its name. */
  readonly name: string;
  /** In which it stands. */
  readonly parent: string;
  /** In which it stood, where that is another. */
  readonly from?: string;
  /** Given to this usage. */
  readonly label: string;
  /** How many it stands for. */
  readonly quantity: number;
  /** How far it moved; mm. */
  readonly distance?: number;
  /** Whether it was turned. */
  readonly turned?: boolean;
}
export interface ComparedLine {
  /** Whether the line is only in the later bill, only in the earlier one, or in both. */
  readonly kind: 'added' | 'removed' | 'changed';
  /** As it is now; as it was where the line is removed. */
  readonly item: string;
  /** Of the line's component. */
  readonly partNumber: string;
  /** Of the line's component. */
  readonly name: string;
  /** In one machine; 0 where it is not there. */
  readonly quantityWas: number;
  /** In one machine; 0 where it is not there. */
  readonly quantityIs: number;
  /** Cells that differ, by heading. */
  readonly cells: Readonly<Record<string, { readonly was: string; readonly is: string }>>;
}
/** Two assemblies and their bills, compared, for other programs. */
export interface Comparison {
  /** What is compared, in the words of who asked: file names, revisions, variants. */
  readonly files: { readonly was: string; readonly is: string };
  /** What matters most first. */
  readonly components: readonly ComparedComponent[];
  /** How many usages are new, gone and elsewhere; another parent counts as elsewhere. */
  readonly usages: { readonly added: number; readonly removed: number; readonly moved: number };
  /** The same one by one. */
  readonly places: readonly ComparedPlace[];
  /** Lines of the bills that differ. */
  readonly bill: readonly ComparedLine[];
  /** How often each kind of change occurs, and whether anything is different. */
  readonly summary: {
    /** Whether nothing differs. */
    readonly same: boolean;
    /** By kind of change. */
    readonly changes: Readonly<Record<string, number>>;
    /** In one sentence. */
    readonly text: string;
  };
}

/** One side of a comparison: an assembly under keys that both share, and its bill. */
export interface CompareSide extends ComparedBill {
  /** What it is called. */
  readonly title: string;
}
/** How well the components of the later side are recognised; by their index there. */
interface RecognisedAs {
  readonly confidence: readonly (Confidence | null)[];
  readonly why: readonly string[];
}

/**
 * A list of a project, to be compared with another one.
 * @param variant id of the variant that it is looked at in, null for the machine as a whole; its own where absent
 */
export function listSide(input: ProjectBillInput, variant = input.bill.recipe.variant ?? null): CompareSide {
  const { variant: _, ...recipe } = input.bill.recipe;
  const bill: BillDocument = { ...input.bill, recipe: variant === null ? recipe : { ...recipe, variant } };
  const made = projectBill({ ...input, bill }, editedFor(input, variant));
  const named = variant === null ? undefined : ownValue(input.edits.variants, variant);
  return {
    title: named ? `${bill.name}, ${named.name}` : bill.name,
    assembly: made.edited.assembly,
    bill: made.bill,
    columns: bill.columns,
  };
}

/**
 * Compares two sides whose keys mean the same things.
 * @param lines where the lists are of other assemblies than the sides, such as with edits laid over them
 * @param recognised for sides that come from two files; two revisions or variants of a project are sure
 */
export function compareSides(
  before: CompareSide,
  after: CompareSide,
  prints: ShapeSizes = new Map(),
  recognised: RecognisedAs | null = null,
  lines: readonly ComparedLine[] = comparedLines(before, after),
): Comparison {
  const changes = changesBetween(before.assembly, after.assembly);
  const components = changes.components.map((one) => comparedComponent(one, before, after, prints, recognised));
  const counts = countChanges(changes);
  const same = isNoChange(changes) && lines.length === 0;
  return {
    files: { was: before.title, is: after.title },
    components,
    usages: { added: counts.added, removed: counts.removed, moved: counts.moved + counts.otherParent },
    places: comparedPlaces(changes, before.assembly, after.assembly),
    bill: lines,
    summary: { same, changes: counts, text: changesInWords(counts, lines.length) },
  };
}

function comparedComponent(
  { kind, was, is, quantityWas, quantityIs, changes }: ChangedComponent,
  before: CompareSide,
  after: CompareSide,
  prints: ShapeSizes,
  recognised: RecognisedAs | null,
): ComparedComponent {
  const properties = changes.filter(({ what }) => what.startsWith('property:'));
  const reshaped = changes.some(({ what }) => what === 'shape');
  const side = (component: Component | undefined, quantity: number, which: 'from' | 'to'): ComparedSide | null => {
    if (!component) return null;
    const print = reshaped && component.shape ? prints.get(component.shape) : undefined;
    return {
      partNumber: component.partNumber,
      name: component.name,
      quantity,
      ...(print ? { volume: print.volume, size: print.box } : {}),
      ...(properties.length > 0
        ? { properties: Object.fromEntries(properties.map((one) => [one.what.slice('property:'.length), one[which]])) }
        : {}),
    };
  };
  const now = is >= 0 ? after.assembly.components[is] : before.assembly.components[was];
  return {
    kind,
    partNumber: now.partNumber,
    name: now.name,
    was: side(before.assembly.components[was], quantityWas, 'from'),
    is: side(after.assembly.components[is], quantityIs, 'to'),
    changes: changes.map(({ what }) => what),
    confidence: (kind === 'changed' && recognised?.confidence[is]) || 'sure',
    why: kind === 'changed' ? (recognised?.why[is] ?? '') : '',
  };
}

function comparedPlaces({ usages }: ModelChanges, before: Assembly, after: Assembly): ComparedPlace[] {
  const byKey = new Map([...before.components, ...after.components].map((component) => [component.key, component]));
  return usages.map(({ kind, component, parent, fromParent, label, quantity, distanceMm, turned }) => {
    const { partNumber, name } = byKey.get(component)!;
    return {
      kind,
      partNumber,
      name,
      parent: fullLabel(byKey.get(parent)!),
      ...(fromParent ? { from: fullLabel(byKey.get(fromParent)!) } : {}),
      label,
      quantity,
      ...(distanceMm !== undefined ? { distance: Number(distanceMm.toFixed(3)) } : {}),
      ...(turned !== undefined ? { turned } : {}),
    };
  });
}

/** Lines of two bills that differ. */
export function comparedLines(before: CompareSide, after: CompareSide): ComparedLine[] {
  return compareBills(before, after).map(({ kind, before: was, after: is, changes }) => {
    const [side, at] = is >= 0 ? [after, is] : [before, was];
    const row = side.bill.rows[at];
    const component = row.components.length > 0 ? side.assembly.components[row.components[0]] : null;
    return {
      kind,
      item: row.item,
      partNumber: component?.partNumber ?? '',
      name: component?.name ?? '',
      quantityWas: was >= 0 ? before.bill.rows[was].totalQuantity : 0,
      quantityIs: is >= 0 ? after.bill.rows[is].totalQuantity : 0,
      cells: Object.fromEntries(
        changes.filter(({ what }) => what !== 'Quantity').map(({ what, from, to }) => [what, { was: from, is: to }]),
      ),
    };
  });
}

const WORDS: readonly (readonly [count: string, one: string, several: string])[] = [
  ['new', 'new part', 'new parts'],
  ['gone', 'part gone', 'parts gone'],
  ['reshaped', 'other shape', 'other shapes'],
  ['renumbered', 'other number', 'other numbers'],
  ['renamed', 'other name', 'other names'],
  ['properties', 'part with other properties', 'parts with other properties'],
  ['quantities', 'other quantity', 'other quantities'],
  ['moved', 'place moved', 'places moved'],
  ['otherParent', 'place under another parent', 'places under other parents'],
];
/** What changed, counted by kind, in one sentence. */
function changesInWords(counts: Readonly<Record<string, number>>, lines: number): string {
  const said = WORDS.flatMap(([count, one, several]) =>
    counts[count] > 0 ? [`${counts[count]} ${counts[count] === 1 ? one : several}`] : [],
  );
  if (lines > 0) said.push(`${lines} ${lines === 1 ? 'line' : 'lines'} of the bill differ${lines === 1 ? 's' : ''}`);
  return said.length === 0 ? 'No change.' : `${said.join(', ')}.`;
}

const HEADINGS = ['Change', 'Item', 'Part number', 'Name', 'What', 'Was', 'Is', 'Recognised'] as const;

/** A comparison as rows of texts under headings: one per thing that differs. */
function comparisonRows({ components, places, bill }: Comparison): { headings: string[]; rows: string[][] } {
  const rows: string[][] = [];
  const number = (value: number | undefined) => (value === undefined ? '' : String(value));
  const sizeText = (side: ComparedSide | null) =>
    side?.size ? `${side.size.map((value) => Number(value.toFixed(2))).join(' × ')} mm` : '';
  for (const { kind, partNumber, name, was, is, changes, confidence } of components) {
    if (kind !== 'changed') {
      rows.push([kind, '', partNumber, name, 'part', number(was?.quantity), number(is?.quantity), '']);
      continue;
    }
    for (const what of changes) {
      const property = what.slice('property:'.length);
      const read = (side: ComparedSide | null): string =>
        what === 'shape'
          ? sizeText(side)
          : what === 'number'
            ? (side?.partNumber ?? '')
            : what === 'name'
              ? (side?.name ?? '')
              : what === 'quantity'
                ? number(side?.quantity)
                : (side?.properties?.[property] ?? '');
      const heading = what.startsWith('property:') ? property : what;
      rows.push(['changed', '', partNumber, name, heading, read(was), read(is), confidence]);
    }
  }
  const alike = groupBy(places, ({ kind, partNumber, name, parent, from, distance, turned }) =>
    JSON.stringify([kind, partNumber, name, parent, from, distance?.toFixed(1), turned]),
  );
  for (const [{ kind, partNumber, name, parent, from = '', distance, turned }, ...others] of alike.values()) {
    const times = others.length > 0 ? `${others.length + 1} × in ${parent}` : parent;
    const away = distance === undefined ? '' : ` (${distance} mm away${turned ? ', turned' : ''})`;
    const was = kind === 'removed' ? times : kind === 'moved' ? parent : from;
    rows.push([kind, '', partNumber, name, 'place', was, kind === 'removed' ? '' : `${times}${away}`, '']);
  }
  for (const { kind, item, partNumber, name, quantityWas, quantityIs, cells } of bill) {
    if (quantityWas !== quantityIs)
      rows.push([`line ${kind}`, item, partNumber, name, 'Quantity', String(quantityWas), String(quantityIs), '']);
    for (const [heading, { was, is }] of Object.entries(cells))
      rows.push([`line ${kind}`, item, partNumber, name, heading, was, is, '']);
    if (quantityWas === quantityIs && Object.keys(cells).length === 0)
      rows.push([`line ${kind}`, item, partNumber, name, 'Quantity', String(quantityWas), String(quantityIs), '']);
  }
  return { headings: [...HEADINGS], rows };
}

/** CSV; a text that a spreadsheet would run is written so that it does not. */
export function comparisonCsv(comparison: Comparison): string {
  const { headings, rows } = comparisonRows(comparison);
  return `${Papa.unparse([headings, ...rows.map((row) => row.map(neutral))], { newline: '\r\n' })}\r\n`;
}

/** For people, at a terminal. */
export function comparisonText(comparison: Comparison): string {
  const { rows } = comparisonRows(comparison);
  const lines = rows.map(([kind, item, partNumber, name, what, was, is, confidence]) => {
    const label = [...new Set([partNumber, name])].filter(Boolean).join(' ');
    const how = kind === 'new' || kind === 'gone' ? `${kind === 'new' ? is : was} pieces` : `${what}: ${was} → ${is}`;
    const unsure = confidence === 'likely' || confidence === 'doubtful' ? ` (${confidence} the same part)` : '';
    return `${kind}: ${item ? `${item} ` : ''}${label}: ${how}${unsure}`;
  });
  return `${[comparison.summary.text, ...lines].join('\n')}\n`;
}

/** A comparison as the cells of a spreadsheet; what is a number is one. */
export function comparisonTable(comparison: Comparison): BillTable {
  const { headings, rows } = comparisonRows(comparison);
  const cell = (text: string): SpreadsheetValue | null =>
    text === ''
      ? null
      : /^-?\d{1,15}(\.\d{1,6})?$/.test(text) && !/^0\d/.test(text)
        ? { kind: 'number', value: Number(text), pattern: 'General' }
        : { kind: 'text', value: text };
  return {
    columns: headings.map((heading, at) => ({
      heading,
      align: 'left',
      isPicture: false,
      width: Math.min(
        60,
        rows.reduce((most, row) => Math.max(most, row[at].length + 2), heading.length + 3),
      ),
    })),
    // Numbers of parts and items are texts, whatever they look like.
    lines: rows.map((row) => ({
      kind: 'row',
      outline: 0,
      component: -1,
      cells: row.map((text, at) =>
        at === 5 || at === 6 ? cell(text) : text === '' ? null : { kind: 'text' as const, value: text },
      ),
    })),
  };
}
