import type { SpreadsheetValue } from '../columns/index.ts';

/** Where the list begins in the workbook. */
type ListStart =
  | { readonly sheet: string; readonly cell: string }
  /** A name that the workbook gives to the cell. */
  | { readonly name: string };

/** Which column of the bill goes into which one of the workbook. */
export interface FormColumn {
  /** Letters of the workbook's column. */
  readonly to: string;
  /** Heading in the form, or whatever the drafter calls it; for sentences. */
  readonly heading: string;
  /** Heading of the bill's column, or what it shows (`partNumber`, `property:Length`). */
  readonly from: string;
  /** Unit that the form's heading says: numbers are converted and stand without it. Units stand in cells where absent. */
  readonly unit?: string;
}
/** A text of the project in a cell of the workbook. */
export interface FormField {
  /** Name of the sheet. */
  readonly sheet: string;
  /** See there. */
  readonly cell: string;
  /** With `{Title}` and so on in it. */
  readonly text: string;
}

/** How a form is filled. */
export interface FormMap {
  /** Of this record, as it is stored. */
  readonly version: 1;
  /** The cell where the first line begins. */
  readonly start: ListStart;
  /** Whether what stands below moves down, or rows that are there are filled. */
  readonly rows: 'insert' | 'fill';
  /** Rows that the form keeps ready, from the first on; more are put in behind them. */
  readonly ready: number;
  /** From left to right. */
  readonly columns: readonly FormColumn[];
  /** Besides `{…}` in the workbook itself. */
  readonly fields: readonly FormField[];
  /** Whether headings of groups and sums stand in the list, as the bill has them. */
  readonly groups: boolean;
  /** Whether formulas and texts in cells that the list takes are written over. */
  readonly overwrite: boolean;
  /** With `{Drawing number}` and so on in it. */
  readonly fileName: string;
}

/** Something to know before the form is written. */
export interface FormProblem {
  /** What kind it is, for programs. */
  readonly code:
    | 'no-such-column'
    | 'too-long'
    | 'formula-overwritten'
    | 'text-overwritten'
    | 'unknown-field'
    | 'empty-field'
    | 'not-in-unit'
    | 'kept-out'
    | 'sends-data'
    | 'no-picture';
  /** A sentence for the drafter. */
  readonly message: string;
  /** Name of the sheet and cell; null where it is about no cell. */
  readonly at: string | null;
  /** Whether the form is not written because of it. */
  readonly stops: boolean;
}

/** A line of the list as it goes into the form. */
export interface FormLine {
  /** See `PrintedLine`. */
  readonly kind: 'row' | 'heading' | 'subtotal' | 'total';
  /** What a sentence calls it. */
  readonly label: string;
  /** One per column of the map; null where nothing stands. */
  readonly cells: readonly (SpreadsheetValue | null)[];
  /** PNG for columns of pictures; null for none. */
  readonly picture: Uint8Array | null;
}
/** A list as it goes into a form. */
export interface FormList {
  /** Of every column of the map whether the bill has it, and whether it shows pictures. */
  readonly columns: readonly { readonly isThere: boolean; readonly isPicture: boolean }[];
  /** See there. */
  readonly lines: readonly FormLine[];
  /** What was noticed when it was made. */
  readonly problems: readonly FormProblem[];
}
/** Texts of the project by their names: Title, Drawing number. */
export type FormFields = ReadonlyMap<string, string>;

/** Name and range of a cell as sentences write it. */
export const placeText = (sheet: string, cell: string): string => `${cell} on “${sheet}”`;
