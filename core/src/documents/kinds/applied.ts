/** A command that was carried out: the new document, and the command that takes it back. */
export interface Applied<Document, Command> {
  /** It was carried out. */
  readonly ok: true;
  /** As it reads now; the one before is as it was. */
  readonly document: Document;
  /** Carried out on that, it leads back. */
  readonly inverse: Command;
}
/** A command that cannot be carried out, with a sentence that says why. */
export interface Refused {
  /** It was not carried out. */
  readonly ok: false;
  /** A sentence. */
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

/** Of every command of a kind of document how it is carried out, and what it touches; none can be left out. */
export type CommandTable<Document, Command extends { readonly kind: string }> = {
  readonly [Kind in Command['kind']]: {
    readonly apply: (
      document: Document,
      command: Extract<Command, { readonly kind: Kind }>,
    ) => Applied<Document, Command> | Refused;
    /** What undo says of it, where nobody says it better. */
    readonly words: (command: Extract<Command, { readonly kind: Kind }>) => string;
    /** What it changes, or claims as one line's own, by name. */
    readonly touches: (command: Extract<Command, { readonly kind: Kind }>) => string[];
  };
};

/** Carries a command of a table out. */
export const applyFrom =
  <Document, Command extends { readonly kind: string }>(table: CommandTable<Document, Command>) =>
  (document: Document, command: Command): Applied<Document, Command> | Refused =>
    table[command.kind as Command['kind']].apply(document, command as never);
/** What undo says of a command of a table. */
export const wordsFrom =
  <Document, Command extends { readonly kind: string }>(table: CommandTable<Document, Command>) =>
  (command: Command): string =>
    table[command.kind as Command['kind']].words(command as never);
/** What a command of a table touches. */
export const touchesFrom =
  <Document, Command extends { readonly kind: string }>(table: CommandTable<Document, Command>) =>
  (command: Command): string[] =>
    table[command.kind as Command['kind']].touches(command as never);

/** The document with these fields, and what takes them back. */
export const done = <Document extends object, Command>(
  document: Document,
  changed: Partial<Document>,
  inverse: Command,
): Applied<Document, Command> => ({ ok: true, document: { ...document, ...changed }, inverse });
/** The same with fields that need not be there: null takes one out. */
export const withFields = <Document extends object, Command>(
  document: Document,
  change: FieldChange<Document>,
  inverse: Command,
): Applied<Document, Command> => ({ ok: true, document: changeFields(document, change).changed, inverse });

/** Things with ids that leave a list and come into it; one with a known id is put anew where it stands. */
export interface ListChange<One> {
  /** Ids. */
  readonly remove: readonly string[];
  /** New ones, or known ones as they are to be. */
  readonly put: readonly One[];
}
/** The list after a change, and the change that leads back. */
export function changeList<One extends { readonly id: string }>(
  list: readonly One[],
  { remove, put }: ListChange<One>,
): { list: readonly One[]; inverse: { remove: string[]; put: readonly One[] } } {
  const gone = new Set([...remove, ...put.map(({ id }) => id)]);
  const before = list.filter(({ id }) => gone.has(id));
  const known = new Set(before.map(({ id }) => id));
  const putById = new Map(put.map((one) => [one.id, one]));
  const taken = new Set(remove.filter((id) => !putById.has(id)));
  return {
    // What is put anew stays where it stands, so that taking it back leaves no trace.
    list: [
      ...list.filter(({ id }) => !taken.has(id)).map((one) => putById.get(one.id) ?? one),
      ...[...putById.values()].filter(({ id }) => !known.has(id)),
    ],
    inverse: { remove: put.map(({ id }) => id).filter((id) => !known.has(id)), put: before },
  };
}
/** Ids that a change of a list touches. */
export const idsIn = ({ remove, put }: ListChange<{ readonly id: string }>): string[] => [
  ...remove,
  ...put.map(({ id }) => id),
];
/** What undo says of a change of a list of these. */
export const wordsOfList =
  (what: string) =>
  ({ put }: ListChange<{ readonly id: string }>): string =>
    `${put.length > 0 ? 'change' : 'take away'} ${what}`;
