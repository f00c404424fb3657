import {
  layersOf,
  pathOf,
  usageAt,
  type PathKey,
  type Assembly,
  type FactsByShape,
  type LayeredValue,
  type Properties,
  type PropertyValue,
  type StructureEdits,
} from '../../../../core/src/assembly/index.ts';
import { propertyText } from '../../../../core/src/columns/index.ts';

/** What several components say under one name. */
export interface SelectionValue {
  readonly name: string;
  /** The value that all of them have; null where they differ. */
  readonly common: LayeredValue | null;
  /** Different values, as text, the most frequent first. */
  readonly texts: readonly string[];
  /** Whether any of them was typed, so that it can be taken back. */
  readonly typed: boolean;
}

/**
 * Values of all names known to any of the picked components; a component that has none of a name has the empty text.
 * @param picked indices into the original assembly
 * @param path the one place that is asked about, with what the file and the drafter say of it alone; null for every
 * place
 * @param said what catalogues say, by index in the original assembly
 */
export function selectionValues(
  original: Assembly,
  picked: readonly number[],
  edits: StructureEdits,
  facts: FactsByShape,
  ownNames: readonly string[],
  path: PathKey | null,
  said: ReadonlyMap<number, Properties> = new Map(),
): SelectionValue[] {
  const usage = path === null ? undefined : usageAt(original, pathOf(path))?.properties;
  const layered = picked.map(
    (index) =>
      new Map(
        layersOf(original.components[index], {
          edits,
          facts,
          said: said.get(index),
          usage,
          typedAt: path === null ? undefined : edits.typedAt[path],
        }).map((value) => [value.name, value]),
      ),
  );
  const names = [...new Set([...layered.flatMap((values) => [...values.keys()]), ...ownNames])];
  return names.map((name) => {
    const values = layered.map((one) => one.get(name) ?? null);
    const counts = new Map<string, number>();
    for (const value of values) {
      const text = propertyText(value?.value);
      counts.set(text, (counts.get(text) ?? 0) + 1);
    }
    const texts = [...counts].sort((a, b) => b[1] - a[1]).map(([text]) => text);
    return {
      name,
      texts,
      typed: values.some((value) => value?.origin.startsWith('typed')),
      common: texts.length === 1 ? (values[0] ?? empty(name)) : null,
    };
  });
}

const empty = (name: string): LayeredValue => ({ name, value: { value: '' }, origin: 'file', layers: [] });

/**
 * What was typed, as a value of the property: a number where it is one and the property has been a number, else text.
 */
export function asTyped(
  text: string,
  before: PropertyValue | undefined,
  upperCase: boolean,
  type?: 'text' | 'number' | 'yes or no',
  unit?: string,
): PropertyValue {
  const bare = text.trim();
  const number = /^[+-]?\d+([.,]\d+)?$/.test(bare) ? Number(bare.replace(',', '.')) : null;
  const isNumber = type === 'number' || (type === undefined && typeof before?.value === 'number');
  const withUnit = unit ?? before?.unit;
  if (isNumber && number !== null) return withUnit ? { value: number, unit: withUnit } : { value: number };
  if (type === 'yes or no' || (type === undefined && typeof before?.value === 'boolean')) {
    if (/^(yes|true|1)$/i.test(bare)) return { value: true };
    if (/^(no|false|0)$/i.test(bare)) return { value: false };
  }
  return { value: upperCase ? bare.toUpperCase() : bare };
}
