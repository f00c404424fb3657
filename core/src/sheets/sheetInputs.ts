import type { Assembly } from '../assembly/index.ts';
import type { Bill } from '../bill/index.ts';
import type { Column } from '../columns/index.ts';
import type { Pose } from '../poses/index.ts';
import type { ViewLines } from '../views/index.ts';
import type { DimensionLook, Projection, Sheet, SheetSet, SheetView } from './records.ts';
import type { SectionLook } from './section.ts';
import type { TitleBlock, TitleFields } from './paper/titleBlock.ts';

/** A bill with the columns that it shows and the machine that it lists: none of them means anything without the others. */
export interface ShownBill {
  readonly bill: Bill;
  /** Of the bill. */
  readonly columns: readonly Column[];
  /** The machine that it lists. */
  readonly assembly: Assembly;
}

/** Everything that a sheet is computed from, first of all the bill whose numbers it shows. */
export interface SheetInputs extends ShownBill {
  readonly sheet: Sheet;
  /** Other sheets of the set that show the same bill: what is ballooned there is not missing here. */
  readonly others?: readonly Sheet[];
  /** Texts of the title block that all sheets of the project share. */
  readonly shared: TitleFields;
  /** What the title blocks of the project have besides. */
  readonly block?: TitleBlock | undefined;
  /** PNG of the logo of that, where it is to be written into a file. */
  readonly logo?: Uint8Array | null;
  /** Of the project; first angle where absent. */
  readonly projection?: Projection | undefined;
  /** Of the project; none where absent. */
  readonly poses?: readonly Pose[];
  /** Of the project. */
  readonly dimensionLook?: DimensionLook | undefined;
  /** Of the project. */
  readonly sectionLook?: SectionLook | undefined;
  /** Other bills that lists of the sheet show, by document id; none where absent. */
  readonly lists?: ReadonlyMap<string, ShownBill>;
  /** Small pictures of parts (PNG) by shape, where lists with them are to be written into a file. */
  readonly pictures?: ReadonlyMap<string, Uint8Array> | undefined;
  /** Lines of each view on the sheet, by view id; a view without lines yet is left empty. */
  readonly lines: ReadonlyMap<string, ViewLines>;
  /** What of them is drawn (see `viewPen`), where that is worked out elsewhere: it takes too long for a page. */
  readonly drawn?: ReadonlyMap<string, ViewLines>;
  /** Of the sections on other sheets, as far as they are drawn: a part is hatched alike on all of them. */
  readonly sectionsElsewhere?: readonly ViewLines[];
}

/** Views on other sheets that cut the same machine as this sheet. */
export const sectionsOf = (others: readonly Sheet[], { revision }: Sheet): SheetView[] =>
  others.filter((other) => other.revision === revision).flatMap(({ views }) => views.filter(({ section }) => section));

/** What a sheet takes over from its set. */
export const setInputs = ({
  fields,
  poses,
  projection,
  dimensionLook,
  sectionLook,
  block,
}: SheetSet): Pick<SheetInputs, 'shared' | 'projection' | 'dimensionLook' | 'sectionLook' | 'block'> & {
  readonly poses: readonly Pose[];
} => ({
  shared: fields,
  poses: poses ?? nothing,
  projection,
  dimensionLook,
  sectionLook,
  block,
});
const nothing: readonly Pose[] = [];
