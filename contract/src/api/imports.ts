import * as v from 'valibot';
import { columnRoles } from '../../../core/src/sources/index.ts';
import { id, listOf, wellFormed } from '../documents/index.ts';

/** A file that comes in: its name, and where it is a further revision of a project, which, why and by whom. */
export const importSchema = v.object({
  /** Of the file. */
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(400)),
  /** Project that it is a further revision of; one of its own where absent. */
  into: v.optional(id),
  /** Why it is brought in. */
  remark: v.optional(v.pipe(v.string(), v.maxLength(400)), ''),
  /** By whom; as typed. */
  who: v.optional(v.pipe(v.string(), v.maxLength(190)), ''),
});

/** Largest file that can be brought in; bytes. */
export const MAX_FILE = 600 * 1024 * 1024;

/** How a structure list is read. */
export const listMappingSchema = v.object({
  /** Index, −1 for none. */
  headingRow: v.pipe(v.number(), v.integer(), v.minValue(-1)),
  /** One per column. */
  roles: listOf(v.picklist(columnRoles), 500),
});
/** An uploaded list before it is brought in: its first rows, how many there are, and what the headings suggest. */
export const listPreviewSchema = v.object({
  /** The first of them, as text. */
  rows: v.array(v.array(v.string())),
  /** How many there are. */
  of: v.number(),
  /** What the headings suggest, or what was chosen before. */
  mapping: listMappingSchema,
  /** True where the mapping was used for a list with these headings before. */ remembered: v.boolean(),
});
export type ListPreview = v.InferOutput<typeof listPreviewSchema>;

/** Query of a list's import; the mapping as JSON text. */
export const listImportSchema = v.object({
  /** File name. */
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(400)),
  /** JSON of how it is read. */
  mapping: v.pipe(v.string(), v.maxLength(20_000), v.parseJson(), v.transform(wellFormed), listMappingSchema),
});

/** Query of what comes with a file. */
export const fileNameSchema = v.object({
  /** With its ending, by which its kind is told. */ name: v.pipe(v.string(), v.minLength(1), v.maxLength(400)),
});
