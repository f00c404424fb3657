import { catalogueText, type Catalogue } from '../catalogues/index.ts';
import { valueOfProperty } from '../columns/index.ts';
import type { PropertyValue } from '../assembly/index.ts';
import { daysOf, lengthOf, NotKnown, priceOf, type Exchange } from './offers.ts';
import type { BuyingProblem } from './records.ts';
import { bareHeading, headingFor } from './roles.ts';

/** A bar that can be bought or lies there. */
export interface StockItem {
  /** Names it in orders; empty where it was typed. */
  readonly number: string;
  readonly material: string;
  readonly section: string;
  readonly lengthMm: number;
  /** Of one bar, in the currency of the plan; null where not known. */
  readonly price: number | null;
  /** Null for as many as wanted. */
  readonly available: number | null;
  /** Days; null where not known. */
  readonly leadDays: number | null;
  readonly supplier: string;
}

const STOCK_LENGTH = /^(stock|bar)?\s?length$|^(stock|bar)$/i;
const AVAILABLE = /^(available|bars|count|limit|quantity|qty)$/i;
/** There are so many; where there are none, they can still be had. */
const ON_HAND = /^(on hand|in stock)$/i;
const NUMBER = /^(part number|stock number|article|number|code)$/i;

/** The bars of a catalogue: lines with a section and a stock length. What cannot be read is told. */
export function stockOf(catalogue: Catalogue, exchange: Exchange): { items: StockItem[]; problems: BuyingProblem[] } {
  const headings = catalogue.columns.map(({ heading }) => heading);
  const byName = (name: RegExp) => headings.findIndex((heading) => name.test(bareHeading(heading)));
  const at = {
    number: byName(NUMBER),
    material: headingFor('material', headings),
    section: headingFor('section', headings),
    length: byName(STOCK_LENGTH),
    price: headingFor('unitCost', headings),
    available: byName(AVAILABLE),
    onHand: byName(ON_HAND),
    leadTime: headingFor('leadTime', headings),
    supplier: headingFor('supplier', headings),
  };
  const lacking = (['section', 'length'] as const).filter((role) => at[role] < 0);
  if (lacking.length > 0)
    return {
      items: [],
      problems: [
        {
          code: 'no-bars',
          message: `${catalogue.name} has no bars: it lacks ${lacking.map((role) => (role === 'section' ? 'a column Section' : 'a column Stock length')).join(' and ')}.`,
        },
      ],
    };
  const problems: BuyingProblem[] = [];
  const items = catalogue.items.flatMap(({ values }, row): StockItem[] => {
    const property = (column: number): PropertyValue | undefined => {
      if (column < 0) return undefined;
      const { id, unit } = catalogue.columns[column];
      const found = Object.hasOwn(values, id) ? values[id] : undefined;
      return found && typeof found.value === 'number' && !found.unit && unit ? { ...found, unit } : found;
    };
    const value = (column: number) => valueOfProperty(property(column));
    const text = (column: number) => (column < 0 ? '' : catalogueText(property(column), 'text').trim());
    const section = text(at.section);
    const name = text(at.number) || `line ${row + 1}`;
    const tell = (one: NotKnown) => {
      problems.push({ code: one.code, message: `${catalogue.name}, ${name}: ${one.message}` });
      return null;
    };
    const known = <Of>(one: Of | NotKnown) => (one instanceof NotKnown ? tell(one) : one);
    const lengthMm = known(lengthOf(value(at.length), 'length'));
    if (section === '' || lengthMm === null) return [];
    const there = value(at.available >= 0 ? at.available : at.onHand);
    const isNone = at.available < 0 && there?.kind === 'number' && there.value === 0;
    const available = there?.kind === 'number' && !isNone ? there.value : null;
    if (available !== null && (available < 0 || !Number.isInteger(available)))
      tell(new NotKnown('unread', `“${available}” is no number of bars.`));
    return [
      {
        number: text(at.number),
        material: text(at.material),
        section,
        lengthMm,
        price: known(priceOf(value(at.price), exchange)),
        available: available === null ? null : Math.max(0, Math.floor(available)),
        leadDays: known(daysOf(value(at.leadTime))),
        supplier: text(at.supplier),
      },
    ];
  });
  return { items, problems };
}

/** Numbers and words of a section, written alike: `Round tube 33,7x2.60` is `round tube 33.7 × 2.6`. */
function partsOf(text: string): { readonly words: ReadonlySet<string>; readonly numbers: string } {
  const plain = text
    .toLowerCase()
    .normalize('NFKC')
    .replace(/(\d),(\d)/g, '$1.$2');
  const numbers = [...plain.matchAll(/\d+(?:\.\d+)?/g)].map(([number]) => String(Number(number)));
  const words = plain.replace(/\d+(?:\.\d+)?/g, ' ').split(/[^\p{L}]+/u);
  return {
    words: new Set(words.filter((word) => word !== '' && word !== 'x' && word !== 'mm')),
    numbers: numbers.join(' '),
  };
}

/** Other words of the trade for the kinds of stock; empty where a word says nothing of its shape. */
const KINDS: Readonly<Record<string, string>> = {
  chs: 'round tube',
  pipe: 'tube',
  rhs: 'rectangular tube',
  shs: 'rectangular tube',
  square: 'rectangular',
  flat: 'rectangular bar',
  rod: 'bar',
  solid: 'bar',
  ø: 'round',
  dia: 'round',
  hollow: 'tube',
  section: '',
  sections: '',
  tubes: 'tube',
  bars: 'bar',
};
const KNOWN = new Set(['round', 'rectangular', 'tube', 'bar', 'profile', 'hexagon', 'angle', 'channel', 'beam']);
const kindsIn = (words: ReadonlySet<string>): ReadonlySet<string> =>
  new Set(
    [...words]
      .flatMap((word) => (Object.hasOwn(KINDS, word) ? KINDS[word].split(' ') : [word]))
      .filter((word) => word !== ''),
  );

/** How well bars fit pieces: by the words of both, or by their measures alone since their words are not known. */
export type Fit = 'words' | 'measures' | null;

/**
 * Whether a bar is one for these pieces: the same material and measures, and no word that the other has another for. Words
 * of other languages or firms say nothing here, so measures alone decide then, which is told.
 */
function fitOf(bar: Pick<StockItem, 'section' | 'material'>, section: string, material: string): Fit {
  if (bar.material !== '' && material !== '' && !isSameText(bar.material, material)) return null;
  const [one, other] = [partsOf(bar.section), partsOf(section)];
  if (one.numbers !== other.numbers || one.numbers === '') return isSameText(bar.section, section) ? 'words' : null;
  const [kinds, wanted] = [kindsIn(one.words), kindsIn(other.words)];
  if (isSubset(kinds, wanted) || isSubset(wanted, kinds)) return 'words';
  const agree = (pick: (word: string) => boolean): boolean => {
    const [some, others] = [kinds, wanted].map((words) => new Set([...words].filter(pick)));
    return isSubset(some, others) || isSubset(others, some);
  };
  // HEA 100 and HEB 100 are both words that are not known here, and two things.
  return agree((word) => KNOWN.has(word)) && agree((word) => !KNOWN.has(word)) ? 'measures' : null;
}

/** The bars for these pieces; those that fit by words where there are any. */
export function barsFor(
  stock: readonly StockItem[],
  section: string,
  material: string,
): { readonly bars: readonly StockItem[]; readonly byMeasures: boolean } {
  const fits = stock.map((bar) => fitOf(bar, section, material));
  const byWords = stock.filter((_, at) => fits[at] === 'words');
  return byWords.length > 0
    ? { bars: byWords, byMeasures: false }
    : { bars: stock.filter((_, at) => fits[at] === 'measures'), byMeasures: true };
}
const isSubset = (one: ReadonlySet<string>, other: ReadonlySet<string>) => [...one].every((word) => other.has(word));
const plainText = (text: string) => text.trim().toLowerCase().replace(/\s+/g, ' ');
const isSameText = (one: string, other: string) => plainText(one) === plainText(other);

/** Names a section of a material: pieces under one key are cut from the same bars. */
export function sectionKey(material: string, section: string): string {
  const { words, numbers } = partsOf(section);
  return `${plainText(material)}|${[...words].sort().join(' ')} ${numbers}`.trim().slice(0, 200);
}
