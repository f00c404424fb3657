import * as v from 'valibot';
import {
  COMMAND_VERSION,
  upgradeBill,
  upgradeCommand,
  upgradeComponentEdits,
  type BillDocument,
  type Command,
  type ComponentEdits,
  type DocumentKind,
  type ProjectDocument,
} from '../../../core/src/documents/index.ts';
import type { Catalogue } from '../../../core/src/catalogues/index.ts';
import { upgradeSheet, type Sheet, type SheetSet } from '../../../core/src/sheets/index.ts';
import { catalogueCommandSchema, catalogueSchema } from './catalogue.ts';
import type { BuyingPlan, IssuedOrder } from '../../../core/src/buying/index.ts';
import { billCommandSchema, billSchema } from './bill.ts';
import { buyingCommandSchema, buyingSchema, orderCommandSchema, orderSchema } from './buying.ts';
import { componentCommandSchema, componentsSchema } from './components.ts';
import { refuseNewer } from './versions.ts';
import { sheetCommandSchema, sheetSchema, sheetSetCommandSchema, sheetSetSchema, withinBounds } from './sheet.ts';

const commandSchemas = {
  components: componentCommandSchema,
  bill: billCommandSchema,
  sheet: sheetCommandSchema,
  set: sheetSetCommandSchema,
  catalogue: catalogueCommandSchema,
  buying: buyingCommandSchema,
  order: orderCommandSchema,
} as const;

/** A command for a document of this kind. @throws v.ValiError where it is none */
export const parseCommand = (kind: DocumentKind, value: unknown): Command =>
  v.parse(commandSchemas[kind] as v.GenericSchema<Command>, value);

/**
 * A command, or the inverse of one, as read from the database.
 * @param version form in which it was stored
 * @throws v.ValiError where it is none, Refusal where a newer program stored it
 */
export function parseStoredCommand(kind: DocumentKind, version: number, value: unknown): Command {
  refuseNewer('edit', { version }, COMMAND_VERSION);
  return parseCommand(kind, upgradeCommand(kind, version, value));
}

/** One whose numbers lie beyond their bounds is brought within them; any other fault is one. @throws v.ValiError */
function parseSheet(value: unknown): Sheet {
  const read = v.safeParse(sheetSchema, value);
  return read.success ? read.output : v.parse(sheetSchema, withinBounds(value));
}

/**
 * A document of this kind, as read from the database.
 * @throws v.ValiError where it is none, Refusal where a newer program stored it
 */
export function parseDocument(kind: DocumentKind, value: unknown): ProjectDocument {
  switch (kind) {
    case 'bill':
      refuseNewer('bill', value, 2);
      return v.parse(billSchema, upgradeBill(value)) satisfies BillDocument;
    case 'sheet':
      refuseNewer('sheet', value, 2);
      return parseSheet(upgradeSheet(value));
    case 'set':
      refuseNewer('set of sheets', value, 1);
      return v.parse(sheetSetSchema, value) satisfies SheetSet;
    case 'catalogue':
      refuseNewer('catalogue', value, 1);
      return v.parse(catalogueSchema, value) satisfies Catalogue;
    case 'buying':
      refuseNewer('plan of buying', value, 1);
      return v.parse(buyingSchema, value) satisfies BuyingPlan;
    case 'order':
      refuseNewer('order', value, 1);
      return v.parse(orderSchema, value) satisfies IssuedOrder;
    case 'components':
      refuseNewer('set of component edits', value, 4);
      return v.parse(componentsSchema, upgradeComponentEdits(value)) satisfies ComponentEdits;
  }
}
