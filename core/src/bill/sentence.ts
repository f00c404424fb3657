import { wordFor, type Assembly, type Treatment, type TreatmentWord } from '../assembly/index.ts';
import { rulesText, type ColumnSource } from '../columns/index.ts';
import {
  usualNumbering,
  type BillDecisions,
  type Depth,
  type Identity,
  type QuantityKind,
  type Recipe,
} from './records.ts';

export const depthWords: Readonly<Record<Depth, string>> = {
  'single-level': 'the first level only',
  structured: 'indented, level by level',
  'parts-only': 'every part once',
};
export const identityWords: Readonly<Record<Identity, string>> = {
  'part-number': 'part number',
  name: 'name',
  shape: 'shape',
};
/** What counts where the key is empty. */
export const identityFallbacks: Readonly<Record<Identity, string>> = {
  'part-number': 'the name where there is no number',
  name: 'the number where there is no name',
  shape: 'the number where there is no shape',
};

/** How a quantity is counted, in words. */
export function quantityWords(kind: QuantityKind): string {
  switch (kind.kind) {
    case 'each':
      return 'by the piece';
    case 'sum':
      return `by ${kind.size} in ${kind.unit}`;
    case 'as required':
      return 'as required';
    case 'fixed':
      return `${kind.value}${kind.unit ? ` ${kind.unit}` : ''} fixed`;
  }
}

/** What the sentence is about besides the recipe. */
interface SentenceContext {
  readonly assembly: Assembly;
  readonly decisions: Pick<BillDecisions, 'treatments' | 'ledger' | 'lines' | 'joins' | 'apart'>;
  readonly nameOf: (source: ColumnSource) => string;
  /** Of the variant that is listed; undefined where it is gone. */
  readonly variantName: string | undefined;
}

/** The choices of a recipe, each in the words that stand for it in the sentence. */
type SentenceWords = Readonly<
  Record<'depth' | 'identity' | 'quantity' | 'variant' | 'filter' | 'order' | 'rest' | 'numbers', string>
>;

export function recipeWords(
  recipe: Recipe,
  { assembly, decisions, nameOf, variantName }: SentenceContext,
): SentenceWords {
  const {
    identityWith = [],
    machines = 1,
    quantityRules = [],
    quantityOf = {},
    filter,
    sort = [],
    groups = [],
    numbering = usualNumbering,
  } = recipe;
  const keys = (of: readonly { source: ColumnSource; descending?: boolean }[]) =>
    of.map(({ source, descending }) => `${nameOf(source)}${descending ? ' downwards' : ''}`).join(', then ');
  const counted = [
    ...new Set([
      ...quantityRules.map(({ is }) => quantityWords(is)),
      ...(Object.keys(quantityOf).length > 0 ? [`${Object.keys(quantityOf).length} by choice`] : []),
    ]),
  ];
  const pinned = Object.values(decisions.ledger).filter((entry) => entry.pinned).length;
  return {
    depth: depthWords[recipe.depth],
    identity: [identityWords[recipe.identity], ...identityWith].join(' and '),
    quantity: `counted ${counted.length > 0 ? `by the piece or ${counted.join(', ')}, ` : ''}over ${machines === 1 ? 'one whole machine' : `${machines} machines`}`,
    variant: recipe.variant ? `as ${variantName ?? 'a variant that is gone'}` : 'with everything in it',
    filter: filter && filter.of.length > 0 ? `where ${rulesText(filter, nameOf)}` : 'showing every line',
    order:
      groups.length + sort.length === 0
        ? 'in the order of structure'
        : [groups.length > 0 ? `grouped by ${keys(groups)}` : '', sort.length > 0 ? `sorted by ${keys(sort)}` : '']
            .filter(Boolean)
            .join(' and '),
    rest: treatedWords(assembly, decisions.treatments) + decidedWords(decisions),
    numbers: `Numbers ${numbering.prefix ? `with ${numbering.prefix} ` : ''}from ${numbering.start}${numbering.step === 1 ? '' : ` in steps of ${numbering.step}`}${numbering.levels && numbering.levels.length > 0 ? ', lower levels on their own' : ''}; they stay with their parts${pinned > 0 ? `, ${pinned} pinned` : ''}.`,
  };
}

/** The whole sentence as text. */
export const recipeSentence = (words: SentenceWords, lines: number): string =>
  `List ${words.depth}, merging lines with the same ${words.identity}, ${words.quantity}, ${words.variant}, ${words.filter}, ${words.order}${words.rest}. ${words.numbers} ${lines} ${lines === 1 ? 'line' : 'lines'}.`;

const NAMED = 4;

function treatedWords(assembly: Assembly, treatments: readonly (Treatment | undefined)[]): string {
  const words = (word: TreatmentWord, begin: string) => {
    const names = [
      ...new Set(
        assembly.components.flatMap((component, index) =>
          treatments[index] && wordFor(treatments[index]) === word ? [component.name || component.partNumber] : [],
        ),
      ),
    ];
    return names.length === 0
      ? ''
      : `, ${begin} ${names.length > NAMED ? `${names.length} components` : names.join(', ')}`;
  };
  return words('listed whole', 'listing whole') + words('opened up', 'opening up') + words('left out', 'leaving out');
}

function decidedWords({ lines = [], joins = {}, apart = {} }: SentenceContext['decisions']): string {
  const count = (number: number, one: string, more: string) =>
    number === 0 ? '' : `, with ${number} ${number === 1 ? one : more}`;
  return (
    count(Object.keys(joins).length, 'line joined by hand', 'lines joined by hand') +
    count(Object.keys(apart).length, 'line kept apart', 'lines kept apart') +
    count(lines.length, 'line that has no shape', 'lines that have no shape')
  );
}
