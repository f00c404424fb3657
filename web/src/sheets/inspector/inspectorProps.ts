import type { DrawnSheet, Sheet, SheetInputs, SheetThing } from '../../../../core/src/sheets/index.ts';
import type { Measuring } from '../surface/tools/useMeasuring.ts';

export interface SheetInspectorProps {
  readonly id: string;
  /** The how manyth of how many in the set. */
  readonly place: { readonly sheet: number; readonly of: number };
  readonly sheet: Sheet;
  readonly inputs: SheetInputs;
  readonly drawn: DrawnSheet;
  /** What is picked, where it is one thing. */
  readonly thing: SheetThing | null;
  /** All that is picked. */
  readonly things: readonly SheetThing[];
  readonly onThing: (thing: SheetThing | null) => void;
  readonly onMeasuring: (measuring: Measuring) => void;
}
