import * as v from 'valibot';
import {
  COMMAND_VERSION,
  kindOf,
  upgradeCommand,
  upgradeDocument,
  type Command,
  type DocumentKind,
  type DocumentKinds,
  type ProjectDocument,
} from '../../../core/src/documents/index.ts';
import { billCommandSchema, billSchema } from './bill.ts';
import { buyingCommandSchema, buyingSchema, orderCommandSchema, orderSchema } from './buying.ts';
import { catalogueCommandSchema, catalogueSchema } from './catalogue.ts';
import { componentCommandSchema, componentsSchema } from './components.ts';
import { sheetCommandSchema, sheetSchema, sheetSetCommandSchema, sheetSetSchema, withinBounds } from './sheet.ts';
import { refuseNewer } from './versions.ts';

/** Of each kind the document and its commands; a kind without them does not compile. */
const schemas: {
  readonly [Kind in DocumentKind]: {
    readonly document: v.GenericSchema<unknown, DocumentKinds[Kind]['document']>;
    readonly command: v.GenericSchema<unknown, DocumentKinds[Kind]['command']>;
    /** Brings one whose numbers lie beyond their bounds within them. */
    readonly within?: (value: unknown) => unknown;
  };
} = {
  components: { document: componentsSchema, command: componentCommandSchema },
  bill: { document: billSchema, command: billCommandSchema },
  sheet: { document: sheetSchema, command: sheetCommandSchema, within: withinBounds },
  set: { document: sheetSetSchema, command: sheetSetCommandSchema },
  catalogue: { document: catalogueSchema, command: catalogueCommandSchema },
  buying: { document: buyingSchema, command: buyingCommandSchema },
  order: { document: orderSchema, command: orderCommandSchema },
};

/** A command for a document of this kind. @throws v.ValiError where it is none */
export const parseCommand = (kind: DocumentKind, value: unknown): Command => v.parse(schemas[kind].command, value);

/**
 * A command, or the inverse of one, as read from the database.
 * @param version form in which it was stored
 * @throws v.ValiError where it is none, Refusal where a newer program stored it
 */
export function parseStoredCommand(kind: DocumentKind, version: number, value: unknown): Command {
  refuseNewer('edit', { version }, COMMAND_VERSION);
  return parseCommand(kind, upgradeCommand(kind, version, value));
}

/**
 * A document of this kind, as read from the database.
 * @throws v.ValiError where it is none, Refusal where a newer program stored it
 */
export function parseDocument(kind: DocumentKind, value: unknown): ProjectDocument {
  const { called, version } = kindOf(kind);
  refuseNewer(called, value, version);
  const { document, within } = schemas[kind];
  const upgraded = upgradeDocument(kind, value);
  if (!within) return v.parse(document, upgraded);
  const read = v.safeParse(document, upgraded);
  return read.success ? read.output : v.parse(document, within(upgraded));
}
