import type { Sheet, SheetSet } from '../sheets/index.ts';
import type { BuyingPlan, IssuedOrder } from '../buying/index.ts';
import type { Catalogue } from '../catalogues/index.ts';
import type { Applied, Refused } from './applied.ts';
import { applyBillCommand, billTouches, type BillCommand, type BillDocument } from './bill.ts';
import {
  applyBuyingCommand,
  applyOrderCommand,
  buyingTouches,
  type BuyingCommand,
  type OrderCommand,
} from './buying.ts';
import { applyCatalogueCommand, catalogueTouches, type CatalogueCommand } from './catalogue.ts';
import { applyComponentCommand, componentTouches, type ComponentCommand, type ComponentEdits } from './components.ts';
import { applySheetCommand, sheetTouches, upgradeSheetCommand, type SheetCommand } from './sheet.ts';
import { applySheetSetCommand, sheetSetTouches, type SheetSetCommand } from './sheetSet.ts';

/**
 * What can be stored: component edits and the set once per project, bills, sheets, plans of buying and issued orders as many
 * as wanted; catalogues stand alone, all projects share them.
 */
export const documentKinds = ['components', 'bill', 'sheet', 'set', 'catalogue', 'buying', 'order'] as const;
export type DocumentKind = (typeof documentKinds)[number];
/** Everything that a drafter edits. */
export type ProjectDocument = ComponentEdits | BillDocument | Sheet | SheetSet | Catalogue | BuyingPlan | IssuedOrder;
export type Command =
  ComponentCommand | BillCommand | SheetCommand | SheetSetCommand | CatalogueCommand | BuyingCommand | OrderCommand;

/** Form in which commands and their inverses are stored now; see `upgradeCommand`. */
export const COMMAND_VERSION = 2;

/** Brings a command that was stored in an older form to the present one. Form 1 knew one list per sheet. */
export const upgradeCommand = (kind: DocumentKind, version: number, stored: unknown): unknown =>
  version < 2 && kind === 'sheet' ? upgradeSheetCommand(stored) : stored;

/** Carries out a command on a document of this kind. Pure; the server and the page run the same. */
export function applyCommand(
  kind: DocumentKind,
  document: ProjectDocument,
  command: Command,
): Applied<ProjectDocument, Command> | Refused {
  if (kind === 'bill') return applyBillCommand(document as BillDocument, command as BillCommand);
  if (kind === 'sheet') return applySheetCommand(document as Sheet, command as SheetCommand);
  if (kind === 'set') return applySheetSetCommand(document as SheetSet, command as SheetSetCommand);
  if (kind === 'catalogue') return applyCatalogueCommand(document as Catalogue, command as CatalogueCommand);
  if (kind === 'buying') return applyBuyingCommand(document as BuyingPlan, command as BuyingCommand);
  if (kind === 'order') return applyOrderCommand(document as IssuedOrder, command as OrderCommand);
  return applyComponentCommand(document as ComponentEdits, command as ComponentCommand);
}

/** What a command changes, by name. */
export function touches(kind: DocumentKind, command: Command): string[] {
  if (kind === 'bill') return billTouches(command as BillCommand);
  if (kind === 'sheet') return sheetTouches(command as SheetCommand);
  if (kind === 'set') return sheetSetTouches(command as SheetSetCommand);
  if (kind === 'catalogue') return catalogueTouches(command as CatalogueCommand);
  if (kind === 'buying') return buyingTouches(command as BuyingCommand);
  if (kind === 'order') return ['away'];
  return componentTouches(command as ComponentCommand);
}

/** Whether two sets of names have one in common; `view 3` takes in `view 3 scale`. Linear in their letters. */
export const overlap = (one: readonly string[], two: readonly string[]): boolean => overlapping(two)(one);

/** The same for many sets beside one. */
export function overlapping(two: readonly string[]): (one: readonly string[]) => boolean {
  const whole = new Set(two);
  const beginnings = new Set(two.flatMap(beginningsOf));
  return (one) =>
    one.some((name) => beginnings.has(name) || beginningsOf(name).some((beginning) => whole.has(beginning)));
}

/** `view 3 scale`: itself, `view 3` and `view`. */
function beginningsOf(name: string): string[] {
  const all = [name];
  for (let at = name.lastIndexOf(' '); at > 0; at = name.lastIndexOf(' ', at - 1)) all.push(name.slice(0, at));
  return all;
}
