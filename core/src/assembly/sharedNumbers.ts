import { groupBy } from './groups.ts';
import { hashKey } from './keys.ts';
import { isAssembly, partLabel, type Assembly, type Component, type ComponentKey, type Finding } from './records.ts';

/** Values of one field that a finding names; further ones are only counted. */
const NAMED_VALUES = 3;
/** Fields that a finding names. */
const NAMED_FIELDS = 5;

/**
 * What makes two products one line in an ordinary list: the number, else the name; null for what has neither, which is
 * never one line with another.
 */
export const listedAs = ({ partNumber, name }: Pick<Component, 'partNumber' | 'name'>): string | null =>
  partNumber ? `Number “${partNumber}”` : name ? `Name “${name}” (without a number)` : null;

/**
 * Products of one file (not uses of one product) that would be one line: known from the file alone, before any shape is
 * made. Each finding says what they differ in as far as the file says it; those of which it says nothing different, shape
 * included, are told together.
 */
export function numberFindings({ components }: Pick<Assembly, 'components'>): Finding[] {
  const shared = [...groupBy(components, listedAs)].filter(([label, { length }]) => label !== null && length > 1);
  const alike: Component[][] = [];
  const findings = shared.flatMap(([label, members]): Finding[] => {
    const named = firsts(members, ({ name }) => name);
    if (named.length > 1)
      return [
        about(
          'number-of-several',
          named,
          `${label} stands on ${named.length} different products: ${named.map(({ name }) => `“${name}”`).join(', ')}. Counted by number they are one line; give one of them another number, or count by name.`,
        ),
      ];
    const differences = differencesOf(members, components);
    if (differences.length === 0 && members.every(({ shape }) => shape !== null)) {
      alike.push(members);
      return [];
    }
    return [about('one-number-on-products', members, sameNameSentence(label!, members, differences))];
  });
  return alike.length === 0 ? findings : [...findings, alikeFinding(alike)];
}

function sameNameSentence(label: string, members: readonly Component[], differences: readonly string[]): string {
  const [{ partNumber, name }] = members;
  const called = partNumber && name ? `, all called “${name}”` : '';
  const start = `${label} stands on ${members.length} products${called}`;
  if (differences.length === 0)
    return `${start}; the file says nothing that tells them apart. They are counted as one part: give one of them another number if they are not.`;
  const more = differences.length > NAMED_FIELDS ? ` and ${differences.length - NAMED_FIELDS} further values` : '';
  const differ = `they differ in ${inWords(differences.slice(0, NAMED_FIELDS))}${more}`;
  return members.every(isAssembly)
    ? `${start}; ${differ}. What holds different things stays a line of its own.`
    : `${start}${called ? ',' : ''} and is counted as one part, but ${differ}. Keep them apart if they are different parts.`;
}

/** One sentence for all: a writer that makes a product of every place would fill a page. */
function alikeFinding(groups: readonly (readonly Component[])[]): Finding {
  const examples = groups.slice(0, 6).map(([first, ...others]) => `“${partLabel(first)}” (${others.length + 1})`);
  return {
    code: 'alike-products',
    message: `The file has several products of one number, alike in everything it says, shape included: ${examples.join(', ')}${groups.length > examples.length ? ` and ${groups.length - examples.length} more` : ''}. Each is counted as one part.`,
  };
}

const MEASURES = new Set(['volume', 'area']);
const inWords = (parts: readonly string[]): string =>
  parts.length < 2 ? parts.join() : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`;

/** Field by field what is not the same on all of them, with the values where they are short. */
function differencesOf(members: readonly Component[], components: Assembly['components']): string[] {
  const fields: [string, (component: Component) => string | null][] = [
    ['description', ({ description }) => description],
    ['revision', ({ revision }) => revision],
    ['made or bought', ({ source }) => source ?? ''],
    ...[...new Set(members.flatMap(({ properties }) => Object.keys(properties)))].map(
      (name): [string, (component: Component) => string] => [
        name,
        ({ properties }) => {
          const given = Object.hasOwn(properties, name) ? properties[name] : null;
          return given === null ? '' : `${given.value}${given.unit ? ` ${given.unit}` : ''}`;
        },
      ],
    ),
    ['volume', ({ validation }) => measured(validation?.volume, 'mm³')],
    ['area', ({ validation }) => measured(validation?.area, 'mm²')],
  ];
  const told = fields.flatMap(([name, valueOf]) => {
    const values = [...new Set(members.map((member) => valueOf(member) ?? ''))];
    return values.length < 2 ? [] : [`${name} (${shortList(values, !MEASURES.has(name))})`];
  });
  const hidden: [string, (component: Component) => string][] = [
    ['shape', ({ shape }) => shape ?? ''],
    ['contents', ({ usages }) => contentsOf(usages, components)],
  ];
  return [...told, ...hidden.flatMap(([name, of]) => (new Set(members.map(of)).size > 1 ? [name] : []))];
}

/** As far as it is worth telling apart: what writers measure differs in the last figures. */
const measured = (value: number | undefined, unit: string): string =>
  value === undefined ? '' : `${Number(value.toPrecision(4))} ${unit}`;

const shortList = (values: readonly string[], quoted: boolean): string =>
  values
    .slice(0, NAMED_VALUES)
    .map((value) =>
      value === '' ? 'none' : quoted ? `“${value.length > 40 ? `${value.slice(0, 40)}…` : value}”` : value,
    )
    .join(', ') + (values.length > NAMED_VALUES ? `, … ${values.length} in all` : '');

function contentsOf(usages: Component['usages'], components: Assembly['components']): string {
  const quantities = new Map<string, number>();
  for (const { child, quantity } of usages) {
    const label = listedAs(components[child]) ?? components[child].key;
    quantities.set(label, (quantities.get(label) ?? 0) + quantity);
  }
  return [...quantities]
    .map(([label, quantity]) => `${label} ${quantity}`)
    .sort()
    .join('\n');
}

/** Name of a finding about components: the same after a fresh import, whatever the order in the file. */
export const findingKey = (code: string, components: readonly ComponentKey[]): string =>
  `${code} ${hashKey(...[...components].sort())}`;

/**
 * What was noticed in a file together with what its shapes showed. Of products of one number both may speak: then the
 * shapes have the word, and what was decided about the products stays decided.
 */
export function withShapeFindings(ofFile: readonly Finding[], ofShapes: readonly Finding[]): Finding[] {
  const products = ofFile.filter(({ code }) => code === 'one-number-on-products');
  const told = new Set<Finding>();
  const shapes = ofShapes.map((finding) => {
    if (finding.code !== 'same-number' || !finding.groups) return finding;
    const [known] = finding.groups.flat();
    const product = products.find(({ components }) => components?.includes(known));
    if (!product) return finding;
    told.add(product);
    return { ...finding, ...(product.key === undefined ? {} : { key: product.key }) };
  });
  return [...ofFile.filter((finding) => !told.has(finding)), ...shapes];
}

/** The first of each group. */
export const firsts = <Item>(items: readonly Item[], keyOf: (item: Item) => unknown): Item[] =>
  [...groupBy(items, keyOf).values()].map(([first]) => first);

/** @param groups what belongs together, where keeping groups apart is proposed */
export const about = (
  code: string,
  components: readonly Component[],
  message: string,
  groups?: readonly (readonly Component[])[],
): Finding => ({
  code,
  message,
  key: findingKey(
    code,
    components.map(({ key }) => key),
  ),
  components: components.map(({ key }) => key),
  ...(groups ? { groups: groups.map((members) => members.map(({ key }) => key)) } : {}),
});
