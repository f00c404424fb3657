import type { Properties, PropertyValue } from '../assembly/index.ts';
import type { Catalogue } from './records.ts';

/** What stands between the texts of a key of two columns; in no text that a person types. */
const BETWEEN = '\u001f';

/** The texts of a key as one, by which items are found; null where none of them says anything. */
export function keyText(parts: readonly string[]): string | null {
  if (parts.length === 1) return parts[0].trim() || null;
  const trimmed = parts.map((part) => part.trim());
  return trimmed.every((part) => part === '') ? null : trimmed.join(BETWEEN);
}
/** A key as it reads in a sentence. */
export const keyWords = (key: string): string => key.split(BETWEEN).join(', ');

/** Case, blanks, dashes and full forms of letters: keys that differ in these alone are written alike. */
export function looseKey(key: string): string {
  // Most part numbers are of plain letters, figures and dashes: twenty times as quick.
  if (PLAIN.test(key)) return key.toLowerCase().replace(/[-_.\s]/g, '');
  return key
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[\s\p{Pd}_.]+/gu, '');
}
const PLAIN = /^[\x00-\x7f]*$/;

const textOf = (value: PropertyValue | undefined): string =>
  value === undefined ? '' : typeof value.value === 'string' ? value.value : String(value.value);
/** The key of an item; null where it has none. */
export const itemKey = ({ key }: Pick<Catalogue, 'key'>, values: Properties): string | null =>
  key.length === 1 ? textOf(values[key[0]]).trim() || null : keyText(key.map((id) => textOf(values[id])));

/** What a key leads to. `alike`: items of which it is another way to write the key; nothing is taken from them. */
export type Match =
  | { readonly how: 'found'; readonly item: number }
  | { readonly how: 'alike' | 'several'; readonly items: readonly number[] }
  | { readonly how: 'none' };

/** Items of a catalogue by their keys. */
interface CatalogueIndex {
  /** @param key see `keyText` */
  readonly find: (key: string) => Match;
}

const NONE: Match = { how: 'none' };
const indices = new WeakMap<readonly unknown[], { readonly of: Catalogue; readonly index: CatalogueIndex }>();

/** The index of a catalogue; made once for what its items, key and accepted keys are. */
export function catalogueIndex(catalogue: Catalogue): CatalogueIndex {
  const known = indices.get(catalogue.items);
  if (known && known.of.key === catalogue.key && known.of.aliases === catalogue.aliases) return known.index;
  const index = makeIndex(catalogue);
  indices.set(catalogue.items, { of: catalogue, index });
  return index;
}

function makeIndex(catalogue: Catalogue): CatalogueIndex {
  const { items, aliases } = catalogue;
  const exact = new Map<string, number>();
  /** Keys that several items have. */
  const twice = new Map<string, number[]>();
  for (let at = 0; at < items.length; at++) {
    const key = itemKey(catalogue, items[at].values);
    if (key === null) continue;
    const first = exact.get(key);
    if (first === undefined) {
      exact.set(key, at);
      continue;
    }
    const more = twice.get(key);
    if (more) more.push(at);
    else twice.set(key, [first, at]);
  }
  // Only asked for what is not found; most parts are.
  let loose: Map<string, number[]> | null = null;
  const allLoose = () => {
    const found = new Map<string, number[]>();
    for (const [key, at] of exact) {
      const name = looseKey(key);
      const known = found.get(name);
      if (known) known.push(at);
      else found.set(name, [at]);
    }
    return found;
  };
  let places: Map<string, number> | null = null;
  const placeOf = (id: string) => (places ??= new Map(items.map((item, at) => [item.id, at]))).get(id);
  return {
    find: (key) => {
      const item = exact.get(key);
      if (item !== undefined) {
        const several = twice.size > 0 ? twice.get(key) : undefined;
        return several ? { how: 'several', items: several } : { how: 'found', item };
      }
      const accepted = Object.hasOwn(aliases, key) ? placeOf(aliases[key]) : undefined;
      if (accepted !== undefined) return { how: 'found', item: accepted };
      const name = looseKey(key);
      const alike = name === '' ? undefined : (loose ??= allLoose()).get(name);
      return alike ? { how: 'alike', items: alike } : NONE;
    },
  };
}
