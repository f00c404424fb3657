import * as v from 'valibot';
import type { FormLook, FormMap } from '../../core/src/forms/index.ts';
import { holds, listOf, refuseNewer, type Same } from './documents/index.ts';

const text = (most: number) => v.pipe(v.string(), v.maxLength(most));
const name = v.pipe(text(200), v.minLength(1));
const cell = v.pipe(v.string(), v.regex(/^\$?[A-Za-z]{1,3}\$?[1-9]\d{0,6}$/, 'Write a cell as B12.'));
const letters = v.pipe(v.string(), v.regex(/^[A-Za-z]{1,3}$/, 'Write a column by its letters, as C.'));

/** How a form is filled. */
export const formMapSchema = v.strictObject({
  version: v.literal(1),
  start: v.union([v.strictObject({ sheet: name, cell }), v.strictObject({ name })]),
  rows: v.picklist(['insert', 'fill']),
  ready: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(10_000)),
  columns: listOf(
    v.strictObject({
      to: letters,
      heading: text(200),
      from: name,
      unit: v.optional(v.pipe(text(40), v.minLength(1))),
    }),
    200,
    1,
    'Name at least one column.',
  ),
  fields: listOf(v.strictObject({ sheet: name, cell, text: text(2000) }), 200),
  groups: v.boolean(),
  overwrite: v.boolean(),
  fileName: v.pipe(text(300), v.minLength(1)),
});
holds<Same<typeof formMapSchema, FormMap>>();

/** A map from a file. @throws v.ValiError; Refusal for one of a newer program */
export function parseFormMap(value: unknown): FormMap {
  refuseNewer('map of a form', value, 1);
  return v.parse(formMapSchema, value) as FormMap;
}

/** A form that is kept for all projects. */
export const formSchema = v.object({
  name,
  /** Of the workbook as it came in. */
  fileName: text(400),
  /** Null while nobody said how it is filled. */
  map: v.nullable(formMapSchema),
});
export type Form = v.InferOutput<typeof formSchema>;
export const formsSchema = v.array(formSchema);
export const formNameSchema = v.object({ name, fileName: name });
export const cellSchema = v.object({ sheet: name, cell });

const found = v.object({
  to: v.string(),
  heading: v.string(),
  unit: v.optional(v.string()),
  isFormula: v.optional(v.boolean()),
});
export const headingsSchema = v.array(found);
/** What a form looks like. It is drawn by the same program; only its shape at the top is looked at. */
export const formLookSchema = v.custom<FormLook>((given) =>
  v.is(v.looseObject({ sheets: v.array(v.looseObject({ name: v.string() })), headings: headingsSchema }), given),
);

const list = (most: number) =>
  v.pipe(
    v.optional(text(100_000), ''),
    v.transform((names) => names.split(',').filter(Boolean)),
    v.maxLength(most),
  );
/**
 * What is handed over in a form: ids of bills, and for the first of them keys of subassemblies that get a file each; or an issued
 * order, of it what one supplier delivers.
 */
export const handedOverSchema = v.object({
  bills: list(100),
  assemblies: list(500),
  order: v.optional(v.pipe(v.string(), v.maxLength(64))),
  supplier: v.optional(v.pipe(v.string(), v.maxLength(10_000))),
});
const problem = v.object({
  code: v.string(),
  message: v.string(),
  at: v.nullable(v.string()),
  stops: v.boolean(),
});
/** What there is to know before forms are written, by file. */
export const formCheckSchema = v.array(
  v.object({ fileName: v.string(), problems: v.array(problem), /** Of all. */ count: v.number() }),
);
export type FormCheck = v.InferOutput<typeof formCheckSchema>;
