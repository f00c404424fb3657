import type { Sheet } from '../sheets/index.ts';
import type { Applied, Refused } from './applied.ts';
import { applyBillCommand, billTouches, type BillCommand, type BillDocument } from './bill.ts';
import { applyComponentCommand, componentTouches, type ComponentCommand, type ComponentEdits } from './edits.ts';
import { applySheetCommand, sheetTouches, type SheetCommand } from './sheet.ts';

export const documentKinds = ['components', 'bill', 'sheet'] as const;
export type DocumentKind = (typeof documentKinds)[number];
/** Everything that a drafter edits. */
export type ProjectDocument = ComponentEdits | BillDocument | Sheet;
export type Command = ComponentCommand | BillCommand | SheetCommand;

/** Carries out a command on a document of this kind. Pure; the server and the page run the same. */
export function applyCommand(
  kind: DocumentKind,
  document: ProjectDocument,
  command: Command,
): Applied<ProjectDocument, Command> | Refused {
  if (kind === 'bill') return applyBillCommand(document as BillDocument, command as BillCommand);
  if (kind === 'sheet') return applySheetCommand(document as Sheet, command as SheetCommand);
  return applyComponentCommand(document as ComponentEdits, command as ComponentCommand);
}

/** What a command changes, by name. */
export function touches(kind: DocumentKind, command: Command): string[] {
  if (kind === 'bill') return billTouches(command as BillCommand);
  if (kind === 'sheet') return sheetTouches(command as SheetCommand);
  return componentTouches(command as ComponentCommand);
}

/** Whether two sets of names have one in common; `view 3` takes in `view 3 scale`. */
export function overlap(one: readonly string[], two: readonly string[]): boolean {
  return one.some((a) => two.some((b) => a === b || a.startsWith(`${b} `) || b.startsWith(`${a} `)));
}
