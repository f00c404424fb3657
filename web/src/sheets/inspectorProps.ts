import type { DrawnSheet, Sheet, SheetInputs } from '../../../core/src/sheets/index.ts';
import type { PickedThing } from './PaperSurface.tsx';

export interface SheetInspectorProps {
  readonly id: string;
  /** The how manyth of how many in the set. */
  readonly place: { readonly sheet: number; readonly of: number };
  readonly sheet: Sheet;
  readonly inputs: SheetInputs;
  readonly drawn: DrawnSheet;
  readonly thing: PickedThing | null;
  readonly onThing: (thing: PickedThing | null) => void;
}
