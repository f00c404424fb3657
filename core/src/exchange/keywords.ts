import { Refusal } from '../assembly/index.ts';

/** 1 for letters, digits, _ and the ! of user-defined names: what entity names are made of. */
export const WORD = new Uint8Array(256);
for (const letter of 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789_!') WORD[letter.charCodeAt(0)] = 1;

const LONGEST = 500; // letters
const MOST = 65_536; // different names; their indices are kept in 16 bits
const TABLE = 4096;

/** The different entity names of an exchange structure, numbered as they are met. */
export class KeywordTable {
  /** In capitals; those of complex instances joined by `+`. The first is empty and stands for no name. */
  readonly keywords: string[] = [];
  /** Offset just after the name read last. */
  end = 0;
  /** Letters of each name, the name that stood after it last, and the partial names of complex ones. */
  private readonly words: Uint8Array[] = [];
  private readonly followers: number[] = [];
  private readonly partials: (readonly number[])[] = [];
  private last = 0;
  private readonly byText = new Map<string, number>();
  /** Indices by hash, a first guess that is checked letter by letter. */
  private readonly guesses = new Int32Array(TABLE).fill(-1);
  private readonly complexGuesses = new Int32Array(TABLE).fill(-1);

  constructor(private readonly bytes: Uint8Array) {
    this.indexOf('');
  }

  /**
   * Index of the name standing at `at`; −1 where none stands there (`end` is `at` then) or it is too long for one.
   * Writers repeat themselves, so what followed the last name the time before is tried first, then what was last seen
   * with this hash; both are compared letter by letter.
   */
  read(at: number): number {
    const expected = this.followers[this.last];
    let index = expected >= 0 && this.standsAt(expected, at) ? expected : -1;
    if (index < 0) {
      index = this.lookUp(at);
      if (index < 0) return -1;
      this.followers[this.last] = index;
    }
    return (this.last = index);
  }

  private lookUp(from: number): number {
    const { bytes } = this;
    let at = from;
    let hash = 0;
    for (; WORD[bytes[at]] === 1; at++) hash = (Math.imul(hash, 31) + (bytes[at] & 0xdf)) | 0;
    const guess = this.guesses[hash & (TABLE - 1)];
    if (guess >= 0 && this.standsAt(guess, from)) return guess;
    this.end = at;
    if (at === from || at - from > LONGEST) return -1;
    return (this.guesses[hash & (TABLE - 1)] = this.indexOf(
      String.fromCharCode(...bytes.subarray(from, at)).toUpperCase(),
    ));
  }

  /** Whether this name stands at `from`, in capitals, and ends there; then `end` is just after it. */
  private standsAt(index: number, from: number): boolean {
    const { bytes } = this;
    const word = this.words[index];
    const size = word.length;
    for (let at = 0; at < size; at++) if (bytes[from + at] !== word[at]) return false;
    if (WORD[bytes[from + size]] === 1) return false;
    this.end = from + size;
    return size > 0;
  }

  /** Indices of the partial names of a complex instance's name; empty for other names. */
  partialsOf(index: number): readonly number[] {
    return this.partials[index];
  }

  /** @throws Refusal beyond MOST different names */
  indexOf(name: string): number {
    const known = this.byText.get(name);
    if (known !== undefined) return known;
    const index = this.keywords.length;
    if (index >= MOST)
      throw new Refusal(
        'too-many-names',
        `The file uses more than ${MOST - 1} different entity names, so it is no product model.`,
      );
    this.keywords.push(name);
    this.words.push(Uint8Array.from(name, (letter) => letter.charCodeAt(0)));
    this.followers.push(-1);
    this.partials.push([]);
    this.byText.set(name, index);
    return index;
  }

  /**
   * Index of the joined name of a complex instance. @param hash any hash of the partial names' indices; @param
   * partial not kept
   */
  indexOfComplex(partial: readonly number[], hash: number): number {
    const guess = this.complexGuesses[hash & (TABLE - 1)];
    if (guess >= 0 && sameNumbers(this.partials[guess], partial)) return guess;
    const index = this.indexOf(partial.map((one) => this.keywords[one]).join('+') + (partial.length === 1 ? '+' : ''));
    this.partials[index] = partial.slice();
    return (this.complexGuesses[hash & (TABLE - 1)] = index);
  }
}

function sameNumbers(one: readonly number[], other: readonly number[]): boolean {
  if (one.length !== other.length) return false;
  for (let at = 0; at < one.length; at++) if (one[at] !== other[at]) return false;
  return true;
}
