import type { Paper } from './paper.ts';
import {
  blankSheet,
  type BalloonLook,
  type DimensionLook,
  type Projection,
  type Sheet,
  type SheetSet,
  type SheetTable,
} from '../records.ts';
import type { SectionLook } from '../section.ts';
import { MOST_FURTHER, plainTitleBlock, type FurtherField, type TitleBlock, type TitleLogo } from './titleBlock.ts';

/** What of a list a house style says: all of this, so that what is absent is chosen by itself. */
const listLookKeys = [
  'place',
  'title',
  'lettering',
  'headingLettering',
  'pitch',
  'heading',
  'rows',
  'strips',
  'stripLines',
  'pens',
  'padding',
  'boldRows',
  'plainHeading',
  'narrowRows',
  'narrowHeading',
  'pictures',
  'struckRetired',
  'indent',
  'totalWidth',
] as const;
type ListLook = Pick<SheetTable, (typeof listLookKeys)[number]>;

/** What of sheets a house style says; what is absent it leaves alone. */
export interface SheetStyle {
  /** Of sheets on which nothing stands yet. */
  readonly paper?: Paper;
  /** Where projected views stand. */
  readonly projection?: Projection;
  /** Legal owner, in every title block. */
  readonly owner?: string;
  /** Further fields of the title block, with the texts that they begin with. */
  readonly further?: readonly FurtherField[];
  /** Picture in the title block. */
  readonly logo?: TitleLogo;
  /** How dimensions say lengths. */
  readonly dimensionLook?: DimensionLook;
  /** How sections look. */
  readonly sectionLook?: SectionLook;
  /** How lists look and where they hang. */
  readonly list?: ListLook;
  /** How balloons look and stand. */
  readonly balloons?: BalloonLook;
}

/** What is said of the look of a list, without what it shows and where it was put by hand. */
const listLookOf = (table: SheetTable): ListLook =>
  Object.fromEntries(
    listLookKeys.flatMap((key) => (table[key] === undefined ? [] : [[key, table[key]]])),
  ) as unknown as ListLook;

/** A list that looks like those that there are, the first that is found on these sheets; hung at this place. */
export function newList(sheets: readonly Pick<Sheet, 'tables'>[], id: string, place: SheetTable['place']): SheetTable {
  const like = sheets.flatMap(({ tables }) => tables).find(({ typed }) => !typed);
  if (!like) return { id, place };
  return { ...listLookOf(like), ...(like.look === undefined ? {} : { look: like.look }), id, place };
}

/** A sheet with its lists and balloons as a style says; where lists were put by hand they stay unless it hangs them. */
export function sheetInStyle(sheet: Sheet, { list, balloons }: SheetStyle, name: string): Sheet {
  const styled = (table: SheetTable): SheetTable => {
    const kept = Object.entries(table).filter(([key]) => !(listLookKeys as readonly string[]).includes(key));
    const { at, ...rest } = Object.fromEntries(kept) as unknown as SheetTable;
    return { ...rest, ...(at && list!.place === table.place ? { at } : {}), ...list!, look: name };
  };
  return {
    ...sheet,
    ...(list ? { tables: sheet.tables.map((table) => (table.typed ? table : styled(table))) } : {}),
    ...(balloons ? { balloonLook: balloons } : {}),
  };
}

/** What a house style would say of this set and sheet. */
export const sheetStyleOf = (
  { fields, projection, block, dimensionLook, sectionLook }: SheetSet,
  { paper, tables, balloonLook }: Sheet,
): SheetStyle => ({
  paper,
  ...(tables.some(({ typed }) => !typed) ? { list: listLookOf(tables.find(({ typed }) => !typed)!) } : {}),
  balloons: balloonLook,
  projection: projection ?? 'first',
  ...(fields.owner ? { owner: fields.owner } : {}),
  ...(block && block.further.length > 0 ? { further: block.further } : {}),
  ...(block?.logo ? { logo: block.logo } : {}),
  ...(dimensionLook ? { dimensionLook } : {}),
  ...(sectionLook ? { sectionLook } : {}),
});

/** The title block with the fields of a style; texts of fields with the same label stay, as do revisions and other fields. */
export function blockWithStyle(block: TitleBlock = plainTitleBlock, { further = [], logo }: SheetStyle): TitleBlock {
  const labelled = (label: string) => block.further.find((one) => one.label === label);
  const styled = further.map((field) => labelled(field.label) ?? field);
  const others = block.further.filter(({ label }) => !further.some((one) => one.label === label));
  return {
    ...block,
    further: [...styled, ...others].slice(0, MOST_FURTHER),
    ...(logo ? { logo } : {}),
  };
}

/** Whether a title block has nothing but its usual fields. */
export const isPlain = ({ further, revisions, logo }: TitleBlock): boolean =>
  further.length + revisions.length === 0 && !logo;

/** A new set as a style says. */
export function setWithStyle(set: SheetSet, style: SheetStyle): SheetSet {
  const { projection, owner, dimensionLook, sectionLook } = style;
  const block = blockWithStyle(set.block, style);
  return {
    ...set,
    fields: { ...set.fields, ...(owner === undefined ? {} : { owner }) },
    ...(projection ? { projection } : {}),
    ...(dimensionLook ? { dimensionLook } : {}),
    ...(sectionLook ? { sectionLook } : {}),
    ...(isPlain(block) ? {} : { block }),
  };
}

/** Whether nothing stands on a sheet, so that its paper may change. */
export const isBlank = ({ views, tables, notes, pictures }: Sheet): boolean =>
  views.length + tables.length + notes.length + pictures.length === 0;

/** A new sheet as a style says. */
export const sheetWithStyle = (name: string, usual: Paper, { paper = usual, balloons }: SheetStyle): Sheet => ({
  ...blankSheet(name, paper),
  ...(balloons ? { balloonLook: balloons } : {}),
});
