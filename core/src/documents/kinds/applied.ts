/** A command that was carried out: the new document, and the command that takes it back. */
export interface Applied<Document, Command> {
  readonly ok: true;
  readonly document: Document;
  readonly inverse: Command;
}
/** A command that cannot be carried out, with a sentence that says why. */
export interface Refused {
  readonly ok: false;
  readonly reason: string;
}
/** Fields to set; null takes one that need not be there away. */
export type FieldChange<Of> = { readonly [Key in keyof Of]?: Of[Key] | null };

/** The record with these fields set, or with null taken out, and what they were. */
export function changeFields<Of extends object>(
  record: Of,
  change: FieldChange<Of>,
): { changed: Of; before: Record<string, never> } {
  const changed = { ...record } as Record<string, unknown>;
  const before: Record<string, unknown> = {};
  for (const [key, value] of Object.entries(change)) {
    before[key] = changed[key] ?? null;
    if (value === null || value === undefined) delete changed[key];
    else changed[key] = value;
  }
  return { changed: changed as Of, before: before as Record<string, never> };
}

/** The entries with these set, or with null taken out, and what they were. */
export function changeEntries<Key extends string, Content>(
  map: Readonly<Record<Key, Content>>,
  changes: Readonly<Record<Key, Content | null>>,
): { map: Record<Key, Content>; before: Record<Key, Content | null> } {
  const after = { ...map } as Record<Key, Content>;
  const before = {} as Record<Key, Content | null>;
  for (const [key, value] of Object.entries(changes) as [Key, Content | null][]) {
    before[key] = Object.hasOwn(after, key) ? after[key] : null;
    if (value === null) delete after[key];
    else after[key] = value;
  }
  return { map: after, before };
}

export const refused = (reason: string): Refused => ({ ok: false, reason });
