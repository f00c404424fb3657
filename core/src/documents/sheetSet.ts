import { noTitleFields, type SheetSet, type TitleFields } from '../sheets/index.ts';
import type { Applied } from './applied.ts';

export type SheetSetCommand =
  | { readonly kind: 'setSharedField'; readonly field: keyof TitleFields; readonly value: string }
  /** Document ids of all sheets in their new order. */
  | { readonly kind: 'orderSheets'; readonly order: readonly string[] };

export const newSheetSet: SheetSet = { version: 1, fields: noTitleFields, order: [] };

export function applySheetSetCommand(set: SheetSet, command: SheetSetCommand): Applied<SheetSet, SheetSetCommand> {
  if (command.kind === 'orderSheets')
    return {
      ok: true,
      document: { ...set, order: command.order },
      inverse: { kind: 'orderSheets', order: set.order },
    };
  return {
    ok: true,
    document: { ...set, fields: { ...set.fields, [command.field]: command.value } },
    inverse: { kind: 'setSharedField', field: command.field, value: set.fields[command.field] },
  };
}

export const sheetSetTouches = (command: SheetSetCommand): string[] =>
  command.kind === 'orderSheets' ? ['order'] : [`field ${command.field}`];
