/** Entities that only colour or arrange the picture: a missing one of these changes no line of a bill. */
const PRESENTATION = /STYLE|COLOUR|PRESENTATION|LAYER|INVISIBILITY|CAMERA|DRAUGHTING|ANNOTATION|VIEW_VOLUME/;

/** Writers number densely: up to so many numbers per instance, an array indexed by the number serves. */
const DENSE = 8;

/** Entity instance names; 32 bits while all of them fit. */
export type Names = Uint32Array | Float64Array;
/** Stands for a name that no instance has. */
export const NO_NAME = 0xffffffff;

interface Finder {
  /** Slot of an entity instance name, −1 for an unknown one. */
  readonly find: (id: number) => number;
  /** Slot per name where names are dense, else null. */
  readonly table: Int32Array | null;
}

/**
 * @param twice called with the slot of an instance whose name is taken already
 */
export function makeFinder(ids: Names, twice: (slot: number) => never): Finder {
  const count = ids.length;
  let highest = 0;
  for (let slot = 0; slot < count; slot++) if (ids[slot] > highest) highest = ids[slot];
  if (highest > count * DENSE + 65536) return { find: makeSparseFinder(ids, twice), table: null };
  const slots = new Int32Array(highest + 1).fill(-1);
  for (let slot = 0; slot < count; slot++) {
    const id = ids[slot];
    if (slots[id] >= 0) twice(slot);
    slots[id] = slot;
  }
  return { find: (id) => (id >= 0 && id <= highest ? slots[id] : -1), table: slots };
}

/** Open addressing with linear probing over a table at most half full: small beside a Map of as many numbers. */
function makeSparseFinder(ids: Names, twice: (slot: number) => never): (id: number) => number {
  let size = 1024;
  while (size < ids.length * 2) size *= 2;
  const table = new Int32Array(size).fill(-1);
  const placeOf = (id: number) =>
    (Math.imul((id % 4294967296) ^ Math.floor(id / 4294967296), 0x9e3779b1) >>> 0) & (size - 1);
  for (let slot = 0; slot < ids.length; slot++) {
    let place = placeOf(ids[slot]);
    for (; table[place] >= 0; place = (place + 1) & (size - 1)) if (ids[table[place]] === ids[slot]) twice(slot);
    table[place] = slot;
  }
  return (id) => {
    for (let place = placeOf(id); table[place] >= 0; place = (place + 1) & (size - 1))
      if (ids[table[place]] === id) return table[place];
    return -1;
  };
}

interface Unresolved {
  readonly ids: Names;
  /** Entity instance names as they are referred to, by slot from `referenceStarts[slot]`. */
  readonly referred: Names;
  readonly referenceStarts: Uint32Array;
  readonly keywordOf: Uint16Array;
  readonly keywords: readonly string[];
  readonly finder: Finder;
  readonly remarks: { code: string; message: string }[];
}

/**
 * The slots that are referred to. One that is missing is refused unless it stands in an entity that only colours.
 * @param refuse called with the slot of the entity that refers to something missing, and a sentence
 */
export function resolveReferences(unresolved: Unresolved, refuse: (slot: number, words: string) => never): Int32Array {
  const {
    referred,
    finder: { find, table },
  } = unresolved;
  const references = new Int32Array(referred.length);
  let missing = false;
  if (table) {
    for (let at = 0; at < referred.length; at++) {
      const id = referred[at];
      const slot = id < table.length ? table[id] : -1;
      references[at] = slot;
      if (slot < 0) missing = true;
    }
  } else {
    for (let at = 0; at < referred.length; at++) if ((references[at] = find(referred[at])) < 0) missing = true;
  }
  if (missing) judgeMissing(unresolved, references, refuse);
  return references;
}

function judgeMissing(
  { ids, referred, referenceStarts, keywordOf, keywords, remarks }: Unresolved,
  references: Int32Array,
  refuse: (slot: number, words: string) => never,
): void {
  let first = -1,
    styles = 0;
  for (let slot = 0; slot < ids.length; slot++) {
    const from = referenceStarts[slot],
      to = referenceStarts[slot + 1];
    const at = references.subarray(from, to).indexOf(-1);
    if (at < 0) continue;
    const keyword = keywords[keywordOf[slot]];
    if (!PRESENTATION.test(keyword))
      refuse(
        slot,
        `#${ids[slot]} (${keyword}) refers to ${Number.isSafeInteger(referred[from + at]) ? `#${referred[from + at]}` : 'an entity'}, which the file does not define. Parts may be missing, so the file is refused; export it again.`,
      );
    styles++;
    if (first < 0) first = slot;
  }
  remarks.push({
    code: 'dangling-style',
    message: `${styles} ${styles === 1 ? 'entity that gives' : 'entities that give'} colours or layers refer to something missing (first: #${ids[first]}); they were left out.`,
  });
}
