/**
 * Forms of joining Arabic letters (Unicode, chapter 9.2, and the compatibility blocks Arabic Presentation Forms-A and -B):
 * letter, then isolated and final form, and initial and medial form where it joins on both sides.
 */
const FORMS: readonly (readonly number[])[] = [
  // Of the basic letters the forms follow one another from U+FE80 on.
  ...inOrder(0xfe80, [
    [0x621, 1],
    [0x622, 2],
    [0x623, 2],
    [0x624, 2],
    [0x625, 2],
    [0x626, 4],
    [0x627, 2],
    [0x628, 4],
    [0x629, 2],
    [0x62a, 4],
    [0x62b, 4],
    [0x62c, 4],
    [0x62d, 4],
    [0x62e, 4],
    [0x62f, 2],
    [0x630, 2],
    [0x631, 2],
    [0x632, 2],
    ...range(0x633, 0x63a, 4),
    ...range(0x641, 0x647, 4),
    [0x648, 2],
    [0x649, 2],
    [0x64a, 4],
  ]),
  // Persian, Urdu and their like
  ...inOrder(0xfb56, [[0x67e, 4]]),
  ...inOrder(0xfb66, [[0x679, 4]]),
  ...inOrder(0xfb7a, [[0x686, 4]]),
  ...inOrder(0xfb88, [
    [0x688, 2],
    [0x698, 2],
    [0x691, 2],
    [0x6a9, 4],
    [0x6af, 4],
  ]),
  ...inOrder(0xfb9e, [[0x6ba, 2]]),
  ...inOrder(0xfba6, [
    [0x6c1, 4],
    [0x6be, 4],
    [0x6d2, 2],
  ]),
  ...inOrder(0xfbfc, [[0x6cc, 4]]),
];

function inOrder(first: number, letters: readonly (readonly [number, number])[]): number[][] {
  let next = first;
  return letters.map(([letter, count]) => [letter, ...Array.from({ length: count }, () => next++)]);
}
function range(from: number, to: number, forms: number): [number, number][] {
  return Array.from({ length: to - from + 1 }, (_, at) => [from + at, forms]);
}

const formsOf = new Map(FORMS.map(([letter, ...forms]) => [letter, forms]));
const LAM = 0x644,
  TATWEEL = 0x640;
/** Lam and an alef behind it are one letter: alef, then isolated and final form. */
const LAM_ALEF = new Map([
  [0x622, [0xfef5, 0xfef6]],
  [0x623, [0xfef7, 0xfef8]],
  [0x625, [0xfef9, 0xfefa]],
  [0x627, [0xfefb, 0xfefc]],
]);
const isMark = (code: number): boolean => /\p{M}/u.test(String.fromCodePoint(code));

/**
 * Arabic letters as they join their neighbours, in logical order; everything else as it is. Letters whose forms have no
 * characters of their own stay isolated.
 */
export function joinArabic(codes: readonly number[]): number[] {
  const joined: number[] = [];
  /** Where the letter before stands in `joined`, if it joins to what follows it. */
  let open = -1;
  for (let at = 0; at < codes.length; at++) {
    const code = codes[at];
    if (isMark(code)) {
      joined.push(code);
      continue;
    }
    const forms = formsOf.get(code);
    if (!forms) {
      if (code === TATWEEL && open >= 0) toOpenForm(joined, open);
      open = code === TATWEEL ? joined.length : -1;
      joined.push(code);
      continue;
    }
    const joinsBefore = open >= 0 && forms.length > 1;
    if (joinsBefore) toOpenForm(joined, open);
    const alef = code === LAM ? LAM_ALEF.get(codes[at + 1]) : undefined;
    if (alef) {
      joined.push(alef[joinsBefore ? 1 : 0]);
      at++;
      open = -1;
      continue;
    }
    joined.push(forms[joinsBefore ? 1 : 0]);
    open = forms.length === 4 ? joined.length - 1 : -1;
  }
  return joined;
}

/** The letter there joins to what follows: isolated becomes initial, final becomes medial; both stand two further. */
function toOpenForm(joined: number[], at: number): void {
  if (joined[at] !== TATWEEL) joined[at] += 2;
}
