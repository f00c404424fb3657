import * as v from 'valibot';
import type { Address } from '../../../core/src/bill/index.ts';
import type { ComponentKey, PathKey, UsageKey } from '../../../core/src/assembly/index.ts';
import { useOwnWords } from './words.ts';

useOwnWords();

/** So many things, counted before any of them is looked into. */
export const listOf = <Item extends v.GenericSchema>(
  item: Item,
  most: number,
  least = 0,
  tooFew?: string,
): v.GenericSchema<v.InferInput<Item>[], v.InferOutput<Item>[]> =>
  v.pipe(
    v.custom<unknown[]>((value) => Array.isArray(value), 'This is no list.'),
    tooFew === undefined ? v.minLength(least) : v.minLength(least, tooFew),
    v.maxLength(most),
    v.array(item),
  ) as never;

/** Letters of an id. */
export const MOST_ID = 64;

/** Texts that people type in one line: names, headings. */
export const shortText = v.pipe(v.string(), v.maxLength(400));
/** Texts of cells and properties. */
export const longText = v.pipe(v.string(), v.maxLength(10_000));
export const unitText = v.pipe(v.string(), v.maxLength(40));
const notTheChain = v.check((text: string) => text !== '__proto__', 'This is no name.');
/** An id that the program gives out: of documents, what is in them, gestures and windows. One rule at every door. */
export const id = v.pipe(v.string(), v.minLength(1), v.maxLength(MOST_ID), notTheChain);
/** An id of a bill's column: mostly the source that it shows, so as long as a source is. */
export const columnId = v.pipe(shortText, notTheChain);
export const finite = v.pipe(v.number(), v.finite());
/** A place in a list, from 0. */
export const whole = v.pipe(v.number(), v.integer(), v.minValue(0));

const written = <Text extends string>(form: RegExp, sentence: string) =>
  v.custom<Text>((value) => typeof value === 'string' && form.test(value), sentence);
export const componentKey = written<ComponentKey>(/^[0-9a-f]{32}$/, 'This is no key of a component.');
export const usageKey = written<UsageKey>(/^[0-9a-f]{32}\.\d+$/, 'This is no key of a usage.');
/** One occurrence: keys of usages from the top down. */
export const pathKey = written<PathKey>(
  /^[0-9a-f]{32}\.\d+(\/[0-9a-f]{32}\.\d+){0,511}$/,
  'This is no path of an occurrence.',
);
const ADDRESS = /^([0-9a-f]{32}|line:[0-9a-zA-Z-]{1,64})(@[0-9a-f]{32})?$/;
export const address = written<Address>(ADDRESS, 'An address is one or two component keys, or a line of its own.');
/** An id of a line without a shape, which stands in its address. */
export const lineId = v.pipe(
  id,
  v.check((text) => ADDRESS.test(`line:${text}`), 'This is no id of a line.'),
);

/** Entries under keys of their own kind. */
export const entriesOf = <Key extends string, Content extends v.GenericSchema>(
  key: v.GenericSchema<Key>,
  content: Content,
) =>
  v.record(key as unknown as v.GenericSchema<string>, content) as v.GenericSchema<unknown> as v.GenericSchema<
    Record<Key, v.InferOutput<Content>>
  >;

export const propertyName = v.pipe(
  v.string(),
  v.minLength(1),
  v.maxLength(200),
  v.check((name) => name !== '__proto__', 'This is no name for a property.'),
);
export const propertyValue = v.strictObject({
  value: v.union([longText, finite, v.boolean()]),
  unit: v.optional(unitText),
});
/** Typed values by name of property. */
export const properties = v.record(propertyName, propertyValue);
/** How a component counts. */
export const treatment = v.strictObject({ ownLine: v.boolean(), countContents: v.boolean() });
/** kg per m³. */
export const density = v.pipe(finite, v.minValue(1), v.maxValue(30_000));

type Known = string | number | boolean | null | undefined;
/** The same content without `readonly`, so that a record of core and what a schema lets through can be compared. */
type Plain<Content> = Content extends Known ? Content : { -readonly [Key in keyof Content]: Plain<Content[Key]> };
/**
 * `true` where a schema lets through what a record of core is, no field more or less on either side. A line
 * `holds<Same<typeof schema, Record>>()` does not compile where they differ.
 */
export type Same<Schema extends v.GenericSchema, Record> = Alike<Plain<v.InferOutput<Schema>>, Plain<Record>>;
type Alike<One, Other> =
  (<Any>() => Any extends One ? 1 : 2) extends <Any>() => Any extends Other ? 1 : 2 ? true : false;
/** Says something about types that the compiler checks. */
export const holds = <Claim extends true>(): Claim | void => undefined;

/** The same fields, each of them left out, or null to take it back to the usual. */
export const nullable = <Entries extends v.ObjectEntries>(entries: Entries) =>
  v.partial(
    v.strictObject(
      Object.fromEntries(
        Object.entries(entries).map(([key, schema]) => [key, v.nullable(schema as v.GenericSchema)]),
      ) as {
        [Key in keyof Entries]: v.NullableSchema<Entries[Key] & v.GenericSchema, undefined>;
      },
    ),
  );
