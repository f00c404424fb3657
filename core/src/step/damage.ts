import { Refusal, type Finding } from '../assembly/index.ts';
import { type StepFile, lineAt } from '../exchange/index.ts';
import { PRODUCT_DEFINITIONS } from './shapes.ts';

/** What structure is made of. An entity whose name was damaged would be passed over, and with it its parts. */
const STRUCTURE = [
  'PRODUCT',
  ...PRODUCT_DEFINITIONS,
  'PRODUCT_DEFINITION_FORMATION',
  'PRODUCT_DEFINITION_FORMATION_WITH_SPECIFIED_SOURCE',
  'NEXT_ASSEMBLY_USAGE_OCCURRENCE',
  'QUANTIFIED_ASSEMBLY_COMPONENT_USAGE',
  'ASSEMBLY_COMPONENT_USAGE',
];
const USAGES = STRUCTURE.slice(-3);
/** Parameters that structural entities have at most (ISO 10303-41, -44). */
const SIZES: ReadonlyMap<string, number> = new Map([
  ['PRODUCT', 4],
  ['PRODUCT_DEFINITION', 4],
  ['PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS', 5],
  ['PRODUCT_DEFINITION_FORMATION', 3],
  ['PRODUCT_DEFINITION_FORMATION_WITH_SPECIFIED_SOURCE', 4],
  ['NEXT_ASSEMBLY_USAGE_OCCURRENCE', 6],
  ['ASSEMBLY_COMPONENT_USAGE', 6],
  ['QUANTIFIED_ASSEMBLY_COMPONENT_USAGE', 7],
]);
/** Names of the standard that join two product definitions and are no usages. */
const OTHER_JOINS = new Set([
  'PRODUCT_DEFINITION_RELATIONSHIP',
  'PRODUCT_DEFINITION_USAGE',
  'MAKE_FROM_USAGE_OPTION',
  'PROMISSORY_USAGE_OCCURRENCE',
  'SPECIFIED_HIGHER_USAGE_OCCURRENCE',
  'ASSEMBLY_COMPONENT_USAGE_SUBSTITUTE',
  'PRODUCT_DEFINITION_SUBSTITUTE',
  'DESIGN_MAKE_FROM_RELATIONSHIP',
  'SUPPLIED_PART_RELATIONSHIP',
  'COMPOSITE_ASSEMBLY_DEFINITION',
]);
/** Parameters that a usage has at least: three texts and what it joins. */
const USAGE_SIZE = 5;
/** So many letters may differ for a name to be a damaged one of STRUCTURE. */
const DAMAGE = 2;
/** For an entity that joins two product definitions as a usage does: this share of the letters. */
const JOIN_DAMAGE = 0.5;

/**
 * Findings about entities of other names that join two product definitions as a usage does: what they say is not counted.
 * @throws Refusal naming line and entity where a structural entity's name looks damaged
 */
export function refuseMisspelt(file: StepFile): Finding[] {
  const {
    index: { keywords, keywordOf, count, references, referenceStarts },
  } = file;
  // A writer's own names begin with !; so may a name of which the first letter was damaged.
  const simple = keywords.map(
    (keyword) => !keyword.includes('+') && !STRUCTURE.includes(keyword) && !OTHER_JOINS.has(keyword),
  );
  const damaged = keywords.map(
    (keyword, at) => simple[at] && STRUCTURE.some((known) => isNear(keyword, known, DAMAGE)),
  );
  const asUsage = keywords.map(
    (keyword, at) => simple[at] && USAGES.some((known) => isNear(keyword, known, known.length * JOIN_DAMAGE)),
  );
  const defines = Uint8Array.from(keywords, (keyword) =>
    keyword.split('+').some((part) => (PRODUCT_DEFINITIONS as readonly string[]).includes(part)) ? 1 : 0,
  );
  // Asked of every instance of a file, so in the fewest steps.
  const looked = Uint8Array.from(simple, Number);
  const isDefinition = (slot: number) => slot >= 0 && defines[keywordOf[slot]] === 1;
  const others = new Map<string, number[]>();
  for (let slot = 0; slot < count; slot++) {
    const kind = keywordOf[slot];
    if (looked[kind] === 0) continue;
    if (damaged[kind]) refuse(file, slot);
    const from = referenceStarts[slot];
    if (referenceStarts[slot + 1] - from < 2 || !isDefinition(references[from]) || !isDefinition(references[from + 1]))
      continue;
    if (asUsage[kind]) refuse(file, slot);
    const keyword = keywords[kind];
    if (file.size(slot, keyword) < USAGE_SIZE || !file.isText(slot, keyword, 0)) continue;
    const found = others.get(keyword);
    if (found) found.push(slot);
    else others.set(keyword, [slot]);
  }
  return [...others].map(([keyword, slots]) => ({
    code: 'unknown-join',
    message: `Line ${lineAt(file.index.bytes, file.index.starts[slots[0]])}: ${file.nameOf(slots[0])} is called ${keyword} and joins two parts as a usage does${slots.length > 1 ? `, as do ${slots.length - 1} more` : ''}; it is not counted. Look whether parts are missing.`,
  }));
}

function refuse(file: StepFile, slot: number): never {
  const { bytes, starts, keywords, keywordOf } = file.index;
  throw new Refusal(
    'damaged-name',
    `Line ${lineAt(bytes, starts[slot])}: ${file.nameOf(slot)} is called ${keywords[keywordOf[slot]]}, which looks like a damaged name of an entity that parts or quantities hang on. Export the file again; nothing was stored.`,
  );
}

/**
 * A statement whose end was lost takes the next one in, and with it a part or a place.
 * @throws Refusal naming line and entity
 */
export function refuseRunTogether(file: StepFile, slot: number, keyword: string): void {
  const most = SIZES.get(keyword);
  if (most === undefined) return;
  const size = file.size(slot, keyword);
  if (size <= most || file.keywordsOf(slot).length > 1) return;
  throw new Refusal(
    'run-together',
    `Line ${lineAt(file.index.bytes, file.index.starts[slot])}: ${file.nameOf(slot)} (${keyword}) has ${size} parameters where ${most} belong; a piece of the file is missing there and the next statement has run into it. Copy or export the file again; nothing was stored.`,
  );
}

/** Zero bytes within the data are a piece of the file that was lost, even where what is left reads well. */
export function findZeroBytes({ index }: StepFile): Finding[] {
  const at = index.bytes.indexOf(0);
  if (at < 0 || index.count === 0 || at > index.ends[index.count - 1]) return [];
  return [
    {
      code: 'zero-bytes',
      message: `Line ${lineAt(index.bytes, at)}: the file holds empty bytes there, so a piece of it may have been lost when it was copied. Compare the bill with the model, or export the file again.`,
    },
  ];
}

/**
 * Whether one text becomes the other by at most `most` letters changed, put in or taken out. Source: V. Levenshtein
 * 1966, by rows.
 */
function isNear(one: string, other: string, most: number): boolean {
  if (Math.abs(one.length - other.length) > most) return false;
  let before = Array.from({ length: other.length + 1 }, (_, at) => at);
  for (let row = 1; row <= one.length; row++) {
    const now = [row];
    for (let column = 1; column <= other.length; column++) {
      const same = one[row - 1] === other[column - 1] ? 0 : 1;
      now.push(Math.min(before[column] + 1, now[column - 1] + 1, before[column - 1] + same));
    }
    before = now;
  }
  return before[other.length] <= most;
}
