import { Refusal, type Finding } from '../assembly/index.ts';
import { numberOf, type StepFile, isEnumeration } from '../exchange/index.ts';
import { refuseRunTogether } from './damage.ts';
import { PRODUCT_DEFINITIONS } from './shapes.ts';

/** A product definition as the file has it, before keys are made. */
export interface Definition {
  /** Slot of the product definition. */
  readonly slot: number;
  readonly partNumber: string;
  readonly name: string;
  readonly description: string;
  readonly revision: string;
  readonly source: 'made' | 'bought' | null;
  /** Slots of its formation and product, −1 for a definition that another file holds. */
  readonly formation: number;
  readonly product: number;
}

/** Usages as the file has them, in file order, as columns: a large file has hundreds of thousands. */
export interface RawUsages {
  readonly count: number;
  readonly slots: Int32Array;
  /** Slots of the product definitions that they join. */
  readonly parents: Int32Array;
  readonly children: Int32Array;
  readonly quantities: Float64Array;
  readonly labels: readonly string[];
  /** Slots of those whose label is no text. */
  readonly oddLabels: readonly number[];
}

/** PRODUCT_DEFINITION → PRODUCT_DEFINITION_FORMATION → PRODUCT, in file order. */
export function readDefinitions(file: StepFile): Definition[] {
  return Array.from(file.ofType(...PRODUCT_DEFINITIONS), (slot) => {
    const keyword = PRODUCT_DEFINITIONS.find((name) => file.size(slot, name) >= 4) ?? 'PRODUCT_DEFINITION';
    const formation = file.ref(slot, keyword, 2);
    const kind = file
      .keywordsOf(formation)
      .find((name) => name.startsWith('PRODUCT_DEFINITION_FORMATION') && file.size(formation, name) >= 3);
    for (const [part, name] of [
      [slot, keyword],
      [formation, kind],
    ] as const)
      if (name) refuseRunTogether(file, part, name);
    const product = kind === undefined ? -1 : file.ref(formation, kind, 2);
    if (kind === undefined || !file.is(product, 'PRODUCT')) {
      throw new Refusal(
        'no-product',
        `${file.nameOf(slot)} (PRODUCT_DEFINITION) leads to no PRODUCT, so its part has neither number nor name. Export the file again; nothing was stored.`,
      );
    }
    return {
      slot,
      formation,
      product,
      partNumber: file.text(product, 'PRODUCT', 0).trim(),
      name: file.text(product, 'PRODUCT', 1).trim(),
      description: file.text(product, 'PRODUCT', 2).trim(),
      revision: file.text(formation, kind, 0).trim(),
      source: sourceOf(file, formation),
    };
  });
}

function sourceOf(file: StepFile, formation: number): Definition['source'] {
  const keyword = 'PRODUCT_DEFINITION_FORMATION_WITH_SPECIFIED_SOURCE';
  const size = file.size(formation, keyword);
  const given = size > 0 ? file.value(formation, keyword, size - 1) : null; // 4th, or alone in a complex instance
  const word = isEnumeration(given) ? given.enumeration : '';
  return word === 'MADE' ? 'made' : word === 'BOUGHT' ? 'bought' : null;
}

/** Definitions that a usage joins but another file holds (edition 3 reference section), named after that file. */
export function readExternalDefinitions(file: StepFile, { parents, children }: RawUsages): Definition[] {
  if (file.index.external.size === 0) return [];
  const used = new Set([...parents, ...children]);
  return [...file.index.external]
    .filter(([slot]) => used.has(slot))
    .map(([slot, where]) => ({
      slot,
      formation: -1,
      product: -1,
      partNumber: '',
      name: fileNameIn(where),
      description: '',
      revision: '',
      source: null,
    }));
}

/** Last piece of a resource name, without what stands after #: `parts/bolt.step#id` is bolt.step. */
function fileNameIn(resource: string): string {
  const path = resource.split('#')[0] || resource;
  const last = path.split(/[/\\]/).filter(Boolean).at(-1) ?? resource;
  try {
    return decodeURIComponent(last);
  } catch {
    return last;
  }
}

const USAGE = [
  'NEXT_ASSEMBLY_USAGE_OCCURRENCE',
  'QUANTIFIED_ASSEMBLY_COMPONENT_USAGE',
  'ASSEMBLY_COMPONENT_USAGE',
] as const;
const BASE = [...USAGE, 'PRODUCT_DEFINITION_RELATIONSHIP'] as const;

/**
 * Usages in file order. A specified higher usage (a second name for a usage further down) is none of its own.
 * @throws Refusal where a usage joins something else than two product definitions, or its quantity cannot be counted
 */
export function readUsages(file: StepFile): RawUsages {
  const { external, keywords, keywordOf, references, referenceStarts } = file.index;
  // Asked twice for each of hundreds of thousands of usages, so by keyword, once.
  const defines = keywords.map((keyword) =>
    keyword.split('+').some((part) => (PRODUCT_DEFINITIONS as readonly string[]).includes(part)),
  );
  const isDefinition = (slot: number) => slot >= 0 && (defines[keywordOf[slot]] || external.has(slot));
  const usual = keywords.indexOf(USAGE[0]);
  const all = file.ofType(...USAGE);
  const slots = new Int32Array(all.length),
    parents = new Int32Array(all.length),
    children = new Int32Array(all.length);
  const quantities = new Float64Array(all.length);
  const labels: string[] = [];
  const oddLabels: number[] = [];
  let count = 0;
  for (let at = 0; at < all.length; at++) {
    const slot = all[at];
    // Nearly every usage is of the first kind; its first two references are what it joins.
    const isUsual =
      keywordOf[slot] === usual &&
      referenceStarts[slot + 1] - referenceStarts[slot] === 2 &&
      file.size(slot, USAGE[0]) === 6;
    if (!isUsual && file.is(slot, 'SPECIFIED_HIGHER_USAGE_OCCURRENCE')) continue;
    const base = isUsual ? USAGE[0] : BASE.find((keyword) => file.size(slot, keyword) >= 5);
    const parent = isUsual ? references[referenceStarts[slot]] : base === undefined ? -1 : file.ref(slot, base, 3);
    const child = isUsual ? references[referenceStarts[slot] + 1] : base === undefined ? -1 : file.ref(slot, base, 4);
    if (base === undefined || !isDefinition(parent) || !isDefinition(child)) {
      throw new Refusal(
        'broken-usage',
        `${file.nameOf(slot)} (${file.keywordsOf(slot).join(', ')}) does not join two product definitions. Parts would be missing from the bill, so the file is refused.`,
      );
    }
    if (!isUsual) refuseRunTogether(file, slot, base);
    if (isOdd(file, slot, base, 0) || isOdd(file, slot, base, 1)) oddLabels.push(slot);
    slots[count] = slot;
    parents[count] = parent;
    children[count] = child;
    labels.push(file.text(slot, base, 1).trim() || file.text(slot, base, 0).trim());
    quantities[count++] = isUsual ? 1 : readQuantity(file, slot);
  }
  return {
    count,
    slots: slots.subarray(0, count),
    parents: parents.subarray(0, count),
    children: children.subarray(0, count),
    quantities,
    labels,
    oddLabels,
  };
}

/** Neither a text nor absent. */
const isOdd = (file: StepFile, slot: number, keyword: string, n: number): boolean =>
  !file.isText(slot, keyword, n) && typeof file.value(slot, keyword, n) === 'number';

function readQuantity(file: StepFile, slot: number): number {
  const keyword = 'QUANTIFIED_ASSEMBLY_COMPONENT_USAGE';
  if (!file.is(slot, keyword)) return 1;
  const measure = file.ref(slot, keyword, file.size(slot, keyword) - 1);
  const withUnit = file
    .keywordsOf(measure)
    .find((name) => name.endsWith('MEASURE_WITH_UNIT') && file.size(measure, name) >= 2);
  const value = withUnit === undefined ? null : numberOf(file.value(measure, withUnit, 0));
  if (value === null || !Number.isSafeInteger(value) || value < 1) {
    const given = value === null ? 'is not given in a form that can be read' : `${value} is no whole number of pieces`;
    throw new Refusal(
      'quantity-not-whole',
      `${file.nameOf(slot)}: the quantity ${given}, so it cannot be counted. Mend it in the model and export again.`,
    );
  }
  return value;
}

/** Findings about things that stand in other files: one for each file. */
export function findExternalFiles(file: StepFile): Finding[] {
  const names = new Set<string>([...file.index.external.values()].map((where) => fileNameIn(where)));
  const identified = externalIdentifications(file);
  for (const slot of file.ofType('DOCUMENT_FILE')) names.add(externalName(file, slot, identified));
  names.delete('');
  const all = [...names];
  const shown = all.slice(0, MOST_EXTERNAL).map((name) => ({
    code: 'external-file',
    message: `The model refers to another file, “${name}”, that was not given; what stands only there is missing. Bring that file in too if its parts matter.`,
  }));
  if (all.length > MOST_EXTERNAL)
    shown.push({ code: 'external-file', message: `… and to ${all.length - MOST_EXTERNAL} further files.` });
  return shown;
}
const MOST_EXTERNAL = 30;

/** An external identification says the file's name best; else the document's own name or id. */
function externalName(file: StepFile, document: number, identified: ReadonlyMap<number, string>): string {
  const kind = file.keywordsOf(document).find((keyword) => file.size(document, keyword) >= 4) ?? 'DOCUMENT_FILE';
  return fileNameIn(
    identified.get(document) || file.text(document, kind, 0).trim() || file.text(document, kind, 1).trim(),
  );
}

/** Names by which other files are identified, by what is identified. */
function externalIdentifications(file: StepFile): Map<number, string> {
  const keyword = 'APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT';
  const names = new Map<number, string>();
  for (const slot of file.ofType(keyword)) {
    const name = file.text(slot, keyword, 0).trim();
    if (name) for (const document of file.refs(slot)) names.set(document, name);
  }
  return names;
}
