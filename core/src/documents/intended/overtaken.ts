import { ownValue } from '../../assembly/index.ts';
import { headingOf, referenceOf, type Column } from '../../columns/index.ts';
import type { Address, Bill, BillFinding, Row } from '../../bill/index.ts';
import type { BillDocument, OvertakenCell } from '../kinds/bill.ts';

/** A cell that was typed over, whose model says something else than it did when that was typed. */
export interface Overtaken {
  /** Under which it was typed. */
  readonly address: Address;
  /** Of its column. */
  readonly reference: string;
  /** Item number of its line. */
  readonly item: string;
  /** Of its column. */
  readonly heading: string;
  /** What was typed, as it reads. */
  readonly typed: string;
  /** The same as it was typed. */
  readonly text: string;
  /** What the model said and says. */
  readonly was: string;
  readonly is: string;
}

/** Cells of a bill that were typed over and whose model changed between two revisions. */
export function overtaken(before: Bill, after: Bill, document: BillDocument): Overtaken[] {
  if (Object.keys(document.overrides).length === 0) return [];
  const earlier = new Map(before.rows.flatMap((row) => row.addresses.map((address) => [address, row] as const)));
  return after.rows.flatMap((row) =>
    document.columns.flatMap((column) => {
      const cell = typedIn(row, column, document);
      const was = row.addresses.map((address) => earlier.get(address)).find((one) => one !== undefined);
      if (!cell || !was) return [];
      const [one, other] = [before.cell(was, column), after.cell(row, column)];
      if (one.model === undefined || other.model === undefined || one.model === other.model) return [];
      return [
        { ...cell, item: row.item, heading: headingOf(column), typed: other.text, was: one.model, is: other.model },
      ];
    }),
  );
}

/** Where the text of a typed cell stands: at the place of its line first, then at the component wherever it is listed. */
function typedIn(
  { addresses }: Row,
  column: Column,
  { overrides }: BillDocument,
): Pick<Overtaken, 'address' | 'reference' | 'text'> | null {
  const reference = referenceOf(column);
  for (const address of [...addresses, ...addresses.map((one) => one.split('@')[0] as Address)]) {
    const text = ownValue(ownValue(overrides, address) ?? {}, reference);
    if (text !== undefined) return { address, reference, text };
  }
  return null;
}

/** What is remembered of them, so that it can be said until it is dealt with. */
export function notesOf(found: readonly Overtaken[]): Record<Address, Record<string, OvertakenCell>> {
  const cells: Record<Address, Record<string, OvertakenCell>> = {};
  for (const { address, reference, text, was } of found)
    cells[address] = { ...cells[address], [reference]: { typed: text, was } };
  return cells;
}

/** A sentence for the drafter. */
export const overtakenWords = ({ item, heading, typed, was, is }: Omit<Overtaken, 'address' | 'reference' | 'text'>) =>
  `Item ${item}, ${heading}: you wrote “${typed}”, the model now says “${is}” (it said “${was}”).`;

/**
 * Cells whose model was overtaken by a revision, for as long as what was typed then stands there and the model says
 * something else than it said.
 */
export function overtakenFindings(bill: Bill, document: BillDocument): BillFinding[] {
  const noted = document.overtaken;
  if (!noted) return [];
  return bill.rows.flatMap((row) =>
    document.columns.flatMap((column): BillFinding[] => {
      const cell = typedIn(row, column, document);
      const note = cell && ownValue(ownValue(noted, cell.address) ?? {}, cell.reference);
      if (!cell || !note || note.typed !== cell.text) return [];
      const { text, model } = bill.cell(row, column);
      if (model === undefined || model === note.was) return [];
      return [
        {
          code: 'cell-overtaken',
          message: overtakenWords({
            item: row.item,
            heading: headingOf(column),
            typed: text,
            was: note.was,
            is: model,
          }),
          overtaken: { address: cell.address, reference: cell.reference },
        },
      ];
    }),
  );
}
