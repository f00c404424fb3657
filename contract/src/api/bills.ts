import * as v from 'valibot';
import { houseStyleSchema, id } from '../documents/index.ts';

/** A picture that is kept, and what it is called. */
export const pictureSchema = v.object({
  /** Its name: SHA-256 of the bytes. */
  blob: v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/)),
  /** Width over height. */
  ratio: v.number(),
});

/** A new bill: a copy of another one, what a recipe file asks for, or blank with the usual house style. */
export const newBillSchema = v.object({
  /** At least one letter. */
  name: v.pipe(v.string(), v.trim(), v.minLength(1, 'A bill needs a name.'), v.maxLength(400)),
  /** Document id of the bill that is copied. */
  from: v.optional(id),
  /** Content of a recipe file. */
  recipe: v.optional(v.unknown()),
  /** Given by the client: a repeated request is answered as the first time. */
  gesture: id,
  /** Window that makes it. */
  session: id,
});
/** A new sheet: a copy of another one or blank, behind the one named or the last. */
export const newSheetSchema = v.strictObject({
  /** At least one letter. */
  name: v.pipe(v.string(), v.trim(), v.minLength(1, 'A sheet needs a name.'), v.maxLength(400)),
  /** Document id of the sheet that is copied; blank where absent. */
  from: v.optional(id),
  /** Document id; behind the last where absent. */
  behind: v.optional(id),
  /** Given by the client: a repeated request is answered as the first time. */
  gesture: id,
  /** Window that makes it. */
  session: id,
});
export const madeSheetSchema = v.object({ /** Id of the sheet. */ document: id });
/** What was made, and what a recipe file names that this machine lacks. */
export const madeDocumentSchema = v.object({
  /** Id of it. */ document: id,
  /** Names of properties and columns. */ missing: v.array(v.string()),
});
/** House styles kept for all projects, and the name of the one that new bills begin with. */
export const stylesSchema = v.object({
  /** In alphabetical order. */
  styles: v.array(houseStyleSchema),
  /** Name of one of them; null for none. */
  usual: v.nullable(v.string()),
  /** Names of styles that cannot be read, each with a sentence why. */
  unread: v.array(v.object({ name: v.string(), why: v.string() })),
});
export type Styles = v.InferOutput<typeof stylesSchema>;
export const usualStyleSchema = v.object({
  /** Of a style that is kept; null for none. */ name: v.nullable(v.pipe(v.string(), v.maxLength(150))),
});
