// AssemblyScript, compiled by `npm run wasm` into core/src/exchange/scanInstances.generated.ts.
//
// The hot loop of reading an exchange structure (ISO 10303-21): ordinary instances of a DATA section, one after another,
// from a window on the file. It decides nothing: at whatever is not ordinary (a comment, an entity name not met before, a
// quote followed by something odd, the end of the window, any mistake) it stops in front of that instance, and
// core/src/exchange/scan.ts reads it, refuses it with a sentence, or teaches the new name and comes back.

const SPACE: u8 = 32, QUOTE: u8 = 39, DOUBLE_QUOTE: u8 = 34, HASH: u8 = 35, OPEN: u8 = 40, CLOSE: u8 = 41, COMMA: u8 = 44, SLASH: u8 = 47, SEMICOLON: u8 = 59, EQUALS: u8 = 61;

// What lies where; scan.ts reads these addresses from the exports.
const INSTANCES: usize = 32768, REFERENCES: usize = 131072, NAMES: usize = 4096, TABLE: usize = 4096, WINDOW: usize = 1 << 20;
const CLASSES: usize = 1024; // 256 × u8: 1 = tells something inside a list, 2 = belongs to an entity name
const IDS: usize = 2048; // u32 each, per instance
const STARTS: usize = IDS + 4 * INSTANCES;
const ENDS: usize = STARTS + 4 * INSTANCES;
const FIRST_REFERENCES: usize = ENDS + 4 * INSTANCES;
const KEYWORDS: usize = FIRST_REFERENCES + 4 * INSTANCES; // u16 each
const REFERRED: usize = KEYWORDS + 2 * INSTANCES; // u32 each
const WORD_AT: usize = REFERRED + 4 * REFERENCES; // u32 per name: address of its letters, or of its partial names
const WORD_SIZE: usize = WORD_AT + 4 * NAMES; // u16 per name: letters, or partial names
const FOLLOWERS: usize = WORD_SIZE + 2 * NAMES; // u16 per name: the name that stood after it last
const GUESSES: usize = FOLLOWERS + 2 * NAMES; // u16 by hash of the letters, 0 for none
const COMPLEX: usize = GUESSES + 2 * TABLE; // u16 by hash of the partial names, 0 for none
const PARTIAL: usize = COMPLEX + 2 * TABLE; // u16 × 64: partial names of the instance being read
const LETTERS: usize = PARTIAL + 128; // what WORD_AT points to
const TEXT: usize = LETTERS + (1 << 18); // the window

export const ids: usize = IDS;
export const starts: usize = STARTS;
export const ends: usize = ENDS;
export const firstReferences: usize = FIRST_REFERENCES;
export const keywords: usize = KEYWORDS;
export const referred: usize = REFERRED;
export const letters: usize = LETTERS;
export const text: usize = TEXT;
export const windowSize: usize = WINDOW;

/** Results of the last call. */
export let count: i32 = 0;
export let referenceCount: i32 = 0;

let last: u32 = 0; // the name read last
let lettersEnd: usize = LETTERS;
let at: usize = 0;
let fileStart: u32 = 0; // of the file, beside the addresses in the window
let firstReference: u32 = 0;
let end: usize = 0;

/** Once, before anything else. */
export function prepare(): void {
  memory.fill(IDS, 0, TEXT - IDS);
  for (let byte: usize = 0; byte < 256; byte++) {
    const b = <u8>byte;
    const telling = b == QUOTE || b == DOUBLE_QUOTE || b == OPEN || b == CLOSE || b == SLASH || b == SEMICOLON || b == EQUALS || b == HASH;
    const word = (b >= 48 && b <= 57) || (b >= 65 && b <= 90) || (b >= 97 && b <= 122) || b == 95 || b == 33;
    store<u8>(CLASSES + byte, telling ? 1 : word ? 2 : 0);
  }
  last = 0;
  lettersEnd = LETTERS;
}

/** Teaches the name of this index, whose letters were written at `nameRoom()`; false where there is no more room. */
export function addName(index: u32, size: u32): bool {
  if (index >= <u32>NAMES || lettersEnd + size + 8 > TEXT - 1024) return false;
  let hash: u32 = 0;
  for (let i: u32 = 0; i < size; i++) hash = hash * 31 + load<u8>(lettersEnd + i);
  keep(index, size, size);
  store<u16>(GUESSES + ((hash & <u32>(TABLE - 1)) << 1), <u16>index);
  return true;
}

/** Teaches a complex instance's name by its partial names (u16 each), written at `nameRoom()`. */
export function addComplex(index: u32, size: u32): bool {
  if (index >= <u32>NAMES || size > 64 || lettersEnd + size * 2 + 8 > TEXT - 1024) return false;
  let hash: u32 = 0;
  for (let i: u32 = 0; i < size; i++) hash = hash * 33 + load<u16>(lettersEnd + (i << 1));
  keep(index, size, size << 1);
  store<u16>(COMPLEX + ((hash & <u32>(TABLE - 1)) << 1), <u16>index);
  return true;
}

export function nameRoom(): usize {
  return lettersEnd;
}

function keep(index: u32, size: u32, bytes: u32): void {
  store<u32>(WORD_AT + (index << 2), <u32>lettersEnd);
  store<u16>(WORD_SIZE + (index << 1), <u16>size);
  lettersEnd = (lettersEnd + bytes + 8) & ~7;
}

/**
 * Reads whole ordinary instances from offset `from` of the window, which holds `size` bytes; the offset just after the
 * last of them. Offsets are noted from `origin` on, first references from `referenceOrigin` on.
 */
export function scan(from: u32, size: u32, origin: u32, referenceOrigin: u32): u32 {
  at = TEXT + from;
  end = TEXT + size;
  fileStart = origin - <u32>TEXT;
  firstReference = referenceOrigin;
  count = 0;
  referenceCount = 0;
  let before = at, references = referenceCount;
  while (count < <i32>INSTANCES) {
    skipBlank();
    if (!instance()) break;
    count++;
    before = at;
    references = referenceCount;
  }
  referenceCount = references;
  return <u32>(before - TEXT);
}

// @ts-ignore: a decorator of AssemblyScript
@inline
function skipBlank(): void {
  while (at < end && load<u8>(at) <= SPACE && load<u8>(at) != 0 && load<u8>(at) != 26) at++;
}

/** False where it is not ordinary, or not wholly in the window. */
function instance(): bool {
  if (at >= end || load<u8>(at) != HASH) return false;
  at++;
  const digits = at;
  let id: u64 = 0;
  while (at < end && isDigit(load<u8>(at))) id = id * 10 + (load<u8>(at++) - 48);
  if (at == digits || at - digits > 10 || id >= 0xffffffff) return false;
  skipBlank();
  if (at >= end || load<u8>(at) != EQUALS) return false;
  at++;
  const slot = <usize>count << 2;
  store<u32>(IDS + slot, <u32>id);
  store<u32>(STARTS + slot, <u32>at + fileStart);
  store<u32>(FIRST_REFERENCES + slot, <u32>referenceCount + firstReference);
  skipBlank();
  if (at >= end) return false;
  const keyword = load<u8>(at) == OPEN ? complex() : simple();
  if (keyword == 0) return false;
  skipBlank();
  if (at >= end || load<u8>(at) != SEMICOLON) return false;
  store<u16>(KEYWORDS + (<usize>count << 1), <u16>keyword);
  store<u32>(ENDS + slot, <u32>at + fileStart);
  at++;
  return true;
}

// @ts-ignore: a decorator of AssemblyScript
@inline
function isDigit(byte: u8): bool {
  return byte - 48 <= 9;
}

/** A name and its list; index of the name, 0 where it is unknown or the list is not ordinary. */
function simple(): u32 {
  const index = name();
  if (index == 0) return 0;
  skipBlank();
  return list() ? index : 0;
}

function complex(): u32 {
  at++;
  let partials: u32 = 0, hash: u32 = 0;
  for (;;) {
    skipBlank();
    if (at >= end) return 0;
    if (load<u8>(at) == CLOSE) break;
    const index = simple();
    if (index == 0 || partials == 64) return 0;
    store<u16>(PARTIAL + (partials << 1), <u16>index);
    partials++;
    hash = hash * 33 + index;
  }
  at++;
  const found = <u32>load<u16>(COMPLEX + ((hash & <u32>(TABLE - 1)) << 1));
  if (found == 0 || <u32>load<u16>(WORD_SIZE + (found << 1)) != partials) return 0;
  const own = <usize>load<u32>(WORD_AT + (found << 2));
  for (let i: u32 = 0; i < partials; i++) if (load<u16>(own + (i << 1)) != load<u16>(PARTIAL + (i << 1))) return 0;
  return found;
}

/** Writers repeat themselves: what followed the last name the time before is tried first, then its hash. */
function name(): u32 {
  let found = <u32>load<u16>(FOLLOWERS + (last << 1));
  if (found == 0 || !stands(found)) {
    let hash: u32 = 0;
    for (let p = at; p < end && load<u8>(CLASSES + load<u8>(p)) == 2; p++) hash = hash * 31 + load<u8>(p);
    found = <u32>load<u16>(GUESSES + ((hash & <u32>(TABLE - 1)) << 1));
    if (found == 0 || !stands(found)) return 0;
    store<u16>(FOLLOWERS + (last << 1), <u16>found);
  }
  last = found;
  at += load<u16>(WORD_SIZE + (found << 1));
  return found;
}

/** Whether exactly this name stands at `at`; eight letters at a time. */
function stands(index: u32): bool {
  const size = <usize>load<u16>(WORD_SIZE + (index << 1));
  const own = <usize>load<u32>(WORD_AT + (index << 2));
  if (at + size >= end) return false;
  let i: usize = 0;
  for (; i + 8 <= size; i += 8) if (load<u64>(at + i) != load<u64>(own + i)) return false;
  for (; i < size; i++) if (load<u8>(at + i) != load<u8>(own + i)) return false;
  return load<u8>(CLASSES + load<u8>(at + size)) != 2;
}

/** From `(` to just after its `)`; notes the references in it. */
function list(): bool {
  if (at >= end || load<u8>(at) != OPEN) return false;
  let p = at + 1;
  const stop = end;
  let depth: i32 = 1;
  while (p < stop) {
    const byte = load<u8>(p);
    if (load<u8>(CLASSES + byte) != 1) {
      p++;
    } else if (byte == HASH) {
      const digits = ++p;
      let id: u64 = 0;
      while (p < stop && isDigit(load<u8>(p))) id = id * 10 + (load<u8>(p++) - 48);
      if (p == digits || p - digits > 10 || id >= 0xffffffff || referenceCount == <i32>REFERENCES) return false;
      store<u32>(REFERRED + ((<usize>referenceCount) << 2), <u32>id);
      referenceCount++;
    } else if (byte == OPEN) {
      depth++;
      p++;
    } else if (byte == CLOSE) {
      p++;
      if (--depth == 0) {
        at = p;
        return true;
      }
    } else if (byte == QUOTE) {
      p++;
      while (p < stop && load<u8>(p) != QUOTE) p++;
      p++;
      let next = p;
      while (next < stop && load<u8>(next) <= SPACE && load<u8>(next) != 0 && load<u8>(next) != 26) next++;
      if (next >= stop) return false;
      const follows = load<u8>(next);
      if (follows != COMMA && follows != CLOSE && (follows != QUOTE || next != p)) return false;
    } else if (byte == SLASH && p + 1 < stop && load<u8>(p + 1) != 42) {
      p++;
    } else return false;
  }
  return false;
}
