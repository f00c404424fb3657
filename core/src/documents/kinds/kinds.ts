import { unnamed } from '../../assembly/index.ts';
import { newBuyingPlan, type BuyingPlan, type IssuedOrder } from '../../buying/index.ts';
import { newCatalogue, type Catalogue } from '../../catalogues/index.ts';
import { blankSheet, upgradeFirstSheet, usualPaper, type Sheet, type SheetSet } from '../../sheets/index.ts';
import { applyFrom, touchesFrom, wordsFrom, type Applied, type CommandTable, type Refused } from './applied.ts';
import { billCommands, newBill, type BillCommand, type BillDocument } from './bill.ts';
import { buyingCommands, emptyOrder, orderCommands, type BuyingCommand, type OrderCommand } from './buying.ts';
import { catalogueCommands, type CatalogueCommand } from './catalogue.ts';
import { componentCommands, newComponentEdits, type ComponentCommand, type ComponentEdits } from './components.ts';
import { sheetCommands, upgradeSheetCommand, type SheetCommand } from './sheet.ts';
import { newSheetSet, sheetSetCommands, type SheetSetCommand } from './sheetSet.ts';

/**
 * What can be stored, and what can be done to it: component edits and the set once per project, bills, sheets, plans of
 * buying and issued orders as many as wanted; catalogues stand alone, all projects share them.
 */
export interface DocumentKinds {
  /** What the drafter says of components, once per project. */
  readonly components: { readonly document: ComponentEdits; readonly command: ComponentCommand };
  /** A list; its first is the drawing’s. */
  readonly bill: { readonly document: BillDocument; readonly command: BillCommand };
  /** A sheet of the set. */
  readonly sheet: { readonly document: Sheet; readonly command: SheetCommand };
  /** What all sheets share, once per project. */
  readonly set: { readonly document: SheetSet; readonly command: SheetSetCommand };
  /** A table of parts, shared by all projects. */
  readonly catalogue: { readonly document: Catalogue; readonly command: CatalogueCommand };
  /** A plan of buying. */
  readonly buying: { readonly document: BuyingPlan; readonly command: BuyingCommand };
  /** An order as it was issued; it never changes. */
  readonly order: { readonly document: IssuedOrder; readonly command: OrderCommand };
}
export type DocumentKind = keyof DocumentKinds;
/** Everything that a drafter edits. */
export type ProjectDocument = DocumentKinds[DocumentKind]['document'];
export type Command = DocumentKinds[DocumentKind]['command'];

/** Brings a record that was stored in one form to the next; its `version` is set by who calls it. */
type Upgrade = (stored: Readonly<Record<string, unknown>>) => object;

/** Something besides itself that a document names by id: a catalogue, a revision of the machine, a bill. */
export interface Reference {
  /** What it is that is named. */
  readonly what: 'catalogue' | 'revision' | 'bill';
  /** Of the document or the revision. */
  readonly id: string;
}

/** All that the program knows of a kind of document. */
interface KindOfDocument<Document, Command extends { readonly kind: string }> {
  /** What it is called in a sentence. */
  readonly called: string;
  /** Form in which it is stored now. */
  readonly version: number;
  /** From each form to the next, the first form first. */
  readonly upgrades: readonly Upgrade[];
  /** From each form of commands to the next (see COMMAND_VERSION), where they changed. */
  readonly commandUpgrades?: readonly ((stored: unknown) => unknown)[];
  /** A new one, of a machine of which nothing is known. */
  readonly fresh: () => Document;
  /** What it names by id, in any order and any number of times; absent where it names nothing. */
  readonly names?: (document: Document) => readonly Reference[];
  /**
   * Every command: how it is carried out, with what takes it back, and what it changes, or claims as one line's own, by
   * name: two with no name in common go in either order.
   */
  readonly commands: CommandTable<Document, Command>;
}

const nobody = {
  version: 1,
  schema: '',
  sourceUnit: 'mm',
  root: 0,
  components: [{ ...unnamed, key: '' as never, usages: [] }],
  findings: [],
} as const;

const one = (what: Reference['what'], id: string | null | undefined): Reference[] =>
  id === null || id === undefined ? [] : [{ what, id }];

/** A kind that is not complete does not compile. */
const kinds: {
  readonly [Kind in DocumentKind]: KindOfDocument<DocumentKinds[Kind]['document'], DocumentKinds[Kind]['command']>;
} = {
  components: {
    called: 'set of component edits',
    version: 4,
    upgrades: [
      // The first knew treatments of components only.
      (stored) => {
        const { variants: _variants, keptApart: _keptApart, ...second } = newComponentEdits;
        return { ...second, ...stored };
      },
      (stored) => ({ variants: {}, ...stored }),
      (stored) => ({ keptApart: {}, ...stored }),
    ],
    fresh: () => newComponentEdits,
    commands: componentCommands,
  },
  bill: {
    called: 'bill',
    version: 2,
    // The first knew depth, identity, columns and numbers only.
    upgrades: [(stored) => ({ joins: {}, apart: {}, overrides: {}, lines: [], ...stored })],
    fresh: () => newBill(nobody, 'List'),
    names: ({ revision, catalogues = [], lines }) => [
      ...one('revision', revision),
      ...catalogues.flatMap(({ catalogue }) => one('catalogue', catalogue)),
      ...lines.flatMap(({ from }) => one('catalogue', from?.catalogue)),
    ],
    commands: billCommands,
  },
  sheet: {
    called: 'sheet',
    version: 2,
    upgrades: [upgradeFirstSheet],
    commandUpgrades: [upgradeSheetCommand],
    fresh: () => blankSheet('Sheet', usualPaper('A3')),
    names: ({ revision, bill, tables }) => [
      ...one('revision', revision),
      ...one('bill', bill),
      ...tables.flatMap((table) => one('bill', table.bill)),
    ],
    commands: sheetCommands,
  },
  set: {
    called: 'set of sheets',
    version: 1,
    upgrades: [],
    fresh: () => newSheetSet,
    names: ({ revision }) => one('revision', revision),
    commands: sheetSetCommands,
  },
  catalogue: {
    called: 'catalogue',
    version: 1,
    upgrades: [],
    fresh: () => newCatalogue,
    commands: catalogueCommands,
  },
  buying: {
    called: 'plan of buying',
    version: 1,
    upgrades: [],
    fresh: () => newBuyingPlan,
    names: ({ bill, stock, catalogues }) => [
      ...one('bill', bill),
      ...[...stock, ...catalogues].flatMap((id) => one('catalogue', id)),
    ],
    commands: buyingCommands,
  },
  order: {
    called: 'order',
    version: 1,
    upgrades: [],
    fresh: () => emptyOrder,
    commands: orderCommands,
  },
};
export const documentKinds = Object.keys(kinds) as DocumentKind[];

/** What is known of a kind, for documents and commands of which no more is known than that they are of it. */
export const kindOf = (kind: DocumentKind): KindOfDocument<ProjectDocument, Command> =>
  kinds[kind] as unknown as KindOfDocument<ProjectDocument, Command>;

/** What a document names by id, each once. */
export const namesIn = (kind: DocumentKind, document: ProjectDocument): Reference[] => [
  ...new Map((kindOf(kind).names?.(document) ?? []).map((name) => [`${name.what} ${name.id}`, name])).values(),
];

/** Form in which commands and their inverses are stored now. Form 1 knew one list per sheet. */
export const COMMAND_VERSION = 2;

/** Brings a command that was stored in an older form to the present one. */
export const upgradeCommand = (kind: DocumentKind, version: number, stored: unknown): unknown =>
  (kindOf(kind).commandUpgrades ?? []).slice(Math.max(0, version - 1)).reduce((command, step) => step(command), stored);

/** Brings a record that was stored in an older form to the present one; what is no such record stays as it is. */
export function upgradeDocument(kind: DocumentKind, stored: unknown): unknown {
  const { upgrades } = kindOf(kind);
  if (!stored || typeof stored !== 'object' || !('version' in stored)) return stored;
  const { version } = stored;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1 || version > upgrades.length)
    return stored;
  return upgrades
    .slice(version - 1)
    .reduce<object>(
      (record, step, at) => ({ ...step(record as Record<string, unknown>), version: version + at + 1 }),
      stored,
    );
}

/** Carries out a command on a document of this kind. Pure; the server and the page run the same. */
export const applyCommand = (
  kind: DocumentKind,
  document: ProjectDocument,
  command: Command,
): Applied<ProjectDocument, Command> | Refused => applyFrom(kindOf(kind).commands)(document, command);

/** What a command changes or claims, by name. */
export const touches = (kind: DocumentKind, command: Command): string[] => touchesFrom(kindOf(kind).commands)(command);

/** What undo says of a command, where nobody says it better. */
export const wordsFor = (kind: DocumentKind, command: Command): string =>
  wordsFrom(kindOf(kind).commands)(command).trim();
