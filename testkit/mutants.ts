/** A stream of numbers in [0, 1), always the same for a seed. */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** How a file is damaged. `letters` stays inside quoted texts. */
export const mutationKinds = [
  'byte',
  'bit',
  'lost block',
  'zeroed block',
  'doubled block',
  'moved block',
  'cut off',
  'lost line',
  'doubled line',
  'swapped lines',
  'number',
  'reference',
  'nesting',
  'missing value',
  'keyword',
  'sign in text',
  'letters in text',
] as const;
export type MutationKind = (typeof mutationKinds)[number];

export interface Mutant {
  readonly kind: MutationKind;
  readonly bytes: Uint8Array;
}

/**
 * A file with one damage of a seeded kind; the same for the same seed. Kinds that do not apply to the file (no quoted
 * texts in it) fall back to a changed byte.
 */
export function mutant(original: Uint8Array, seed: number): Mutant {
  const random = seeded(seed);
  const below = (most: number) => Math.floor(random() * most);
  const kind = mutationKinds[below(mutationKinds.length)];
  const text = () => new TextDecoder('latin1').decode(original);
  const fromText = (changed: string) => Uint8Array.from(changed, (sign) => sign.charCodeAt(0) & 255);
  const block = () => {
    const from = below(original.length);
    return { from, to: Math.min(original.length, from + 1 + below(Math.max(2, Math.min(512, original.length / 4)))) };
  };
  const splice = (from: number, to: number, put: Uint8Array = new Uint8Array()) => {
    const made = new Uint8Array(original.length - (to - from) + put.length);
    made.set(original.subarray(0, from));
    made.set(put, from);
    made.set(original.subarray(to), from + put.length);
    return made;
  };
  const oneByte = () => {
    const made = original.slice();
    made[below(made.length)] = below(256);
    return made;
  };
  /** Changes one of the places where a pattern is found. */
  const oneOf = (pattern: RegExp, change: (found: string) => string): Uint8Array => {
    const whole = text();
    const found = [...whole.matchAll(pattern)];
    if (found.length === 0) return oneByte();
    const { 0: match, index } = found[below(found.length)];
    return fromText(whole.slice(0, index) + change(match) + whole.slice(index + match.length));
  };
  const lines = (change: (all: string[]) => void): Uint8Array => {
    const all = text().split('\n');
    change(all);
    return fromText(all.join('\n'));
  };
  const pick = <Item>(...items: Item[]) => items[below(items.length)];
  const make = (): Uint8Array => {
    switch (kind) {
      case 'byte':
        return oneByte();
      case 'bit': {
        const made = original.slice();
        made[below(made.length)] ^= 1 << below(8);
        return made;
      }
      case 'lost block': {
        const { from, to } = block();
        return splice(from, to);
      }
      case 'zeroed block': {
        const { from, to } = block();
        return original.slice().fill(0, from, to);
      }
      case 'doubled block': {
        const { from, to } = block();
        return splice(from, from, original.slice(from, to));
      }
      case 'moved block': {
        const { from, to } = block();
        const piece = original.slice(from, to);
        const rest = splice(from, to);
        const at = below(rest.length + 1);
        return Uint8Array.from([...rest.subarray(0, at), ...piece, ...rest.subarray(at)]);
      }
      case 'cut off':
        return original.slice(0, below(original.length));
      case 'lost line':
        return lines((all) => void all.splice(below(all.length), 1));
      case 'doubled line':
        return lines((all) => {
          const at = below(all.length);
          all.splice(at, 0, all[at]);
        });
      case 'swapped lines':
        return lines((all) => {
          const [one, other] = [below(all.length), below(all.length)];
          [all[one], all[other]] = [all[other], all[one]];
        });
      case 'number':
        return oneOf(/(?<![#\w])-?\d+(\.\d*)?/g, () =>
          pick('0', '-1', '1e309', '4294967296', '9007199254740993', '1e-320', '100000000', '.5.', '', 'NaN'),
        );
      case 'reference':
        return oneOf(/#\d+/g, () => pick('#1', '#0', '#999999', '#', '#4', `#${below(400)}`, '$'));
      case 'nesting':
        return oneOf(/[()[\]{}<>]/g, (sign) => pick('', sign + sign, sign.repeat(3000), '(', ')'));
      case 'missing value':
        return oneOf(/'[^'\n]*'|"[^"\n]*"|(?<=[,(=])[^,()'=\n]+(?=[,)])/g, () => pick('$', '*', '', '0', 'null', '()'));
      case 'keyword':
        return oneOf(/[A-Za-z_]{4,}/g, (word) => {
          const at = below(word.length);
          return word.slice(0, at) + pick('', 'X', 'x_', word[at] + word[at]) + word.slice(at + 1);
        });
      case 'sign in text':
        return oneOf(/(?<=['">])[\w -]+(?=['"<])/g, (found) => {
          const at = below(found.length + 1);
          const sign = pick(
            '\0',
            '\x07',
            '\x1b',
            '\\X2\\00E',
            '\\X\\',
            '\\S',
            '\\',
            "'",
            '"',
            '\x85',
            '\xff\xfe',
            '\r',
          );
          return found.slice(0, at) + sign + found.slice(at);
        });
      case 'letters in text':
        return oneOf(/(?<=['">])[\w -]+(?=['"<])/g, (found) => {
          const at = below(found.length);
          return found.slice(0, at) + pick('Q', 'q', '7', '-') + found.slice(at + 1);
        });
    }
  };
  return { kind, bytes: make() };
}
