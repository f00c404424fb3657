import type { Box2 } from '../../geometry/index.ts';
import { boxMark, lineMark, measureText, textMark, type Mark, type MarkSource } from '../../marks/index.ts';
import { frameBox, paperLabel, type Paper } from './paper.ts';

/** Texts of the title block (data fields of ISO 7200); empty ones stay blank. */
export interface TitleFields {
  /** What the drawing shows. */
  readonly title: string;
  /** Identification number of the document. */
  readonly drawingNumber: string;
  /** Revision index. */
  readonly revision: string;
  /** Legal owner. */
  readonly owner: string;
  /** Who drew it. */
  readonly createdBy: string;
  /** Who let it go out. */
  readonly approvedBy: string;
  /** Date of issue, as it is to read. */
  readonly date: string;
  /** What kind of document it is. */
  readonly documentType: string;
}
export const titleFieldNames = [
  'title',
  'drawingNumber',
  'revision',
  'owner',
  'createdBy',
  'approvedBy',
  'date',
  'documentType',
] as const;
export const noTitleFields: TitleFields = {
  title: '',
  drawingNumber: '',
  revision: '',
  owner: '',
  createdBy: '',
  approvedBy: '',
  date: '',
  documentType: '',
};

/** What the sheet itself knows. */
interface SheetFacts {
  /** As it reads, or N/A. */
  readonly scale: string;
  /** Number in the set, from 1. */
  readonly sheet: number;
  /** Count of sheets in the set. */
  readonly of: number;
  /** Where projected views stand. */
  readonly projection: 'first' | 'third';
}

/** A field of one's own in the title block. */
export interface FurtherField {
  /** Of its own in the project. */
  readonly id: string;
  /** Small, above the text. */
  readonly label: string;
  /** On all sheets that have none of their own. */
  readonly value: string;
}

/** A line of the revision table. */
export interface RevisionLine {
  /** Index. */
  readonly revision: string;
  /** What changed. */
  readonly text: string;
  /** As it is to read. */
  readonly date: string;
  /** By whom. */
  readonly by: string;
  /**
   * Revision of the model that it tells of, where it was written when that was taken over; sheets that show an earlier one
   * do without it.
   */
  readonly of?: string;
}

/** What a title block has besides the fields of ISO 7200; the same on all sheets but for texts of a sheet's own. */
export interface TitleBlock {
  /** Three in a row, on top of the fields. */
  readonly further: readonly FurtherField[];
  /** On top of everything, the oldest lowest. */
  readonly revisions: readonly RevisionLine[];
  /** At the right of the title; none where absent. */
  readonly logo?: TitleLogo;
}

/**
 * What the title block of a sheet has: of lines that tell of revisions of the model only those up to the one that the sheet
 * shows, so that it stays as it was printed.
 */
export function blockShownBy(
  block: TitleBlock | undefined,
  { revision }: { readonly revision?: string },
): TitleBlock | undefined {
  if (!block || block.revisions.every(({ of }) => of === undefined)) return block;
  const last = block.revisions.findLastIndex(({ of }) => of !== undefined && of === revision);
  const revisions = block.revisions.filter(({ of }, at) => of === undefined || at <= last);
  return { ...block, revisions };
}

/** A picture that stands in every title block. */
export interface TitleLogo {
  /** Under which its PNG is kept. */
  readonly blob: string;
  /** Width over height. */
  readonly ratio: number;
}
export const plainTitleBlock: TitleBlock = { further: [], revisions: [] };
/** What fits on a sheet. */
export const MOST_FURTHER = 12,
  MOST_REVISIONS = 20;
/** The set's title block as one sheet has it. @param own texts that it has instead of the set's */
export const blockOf = (
  block: TitleBlock = plainTitleBlock,
  own: readonly { readonly id: string; readonly value: string }[] = [],
): TitleBlock =>
  own.length === 0
    ? block
    : {
        ...block,
        further: block.further.map((field) => ({
          ...field,
          value: own.find(({ id }) => id === field.id)?.value ?? field.value,
        })),
      };

const WIDTH = 180; // ISO 7200
const HEIGHT = 42;
const FURTHER_ROW = 10.5,
  IN_A_ROW = 3;
const REVISION_ROW = 5.5;
/** Left end of the cell of a logo, which is as high as that of the title. */
const LOGO_LEFT = 140,
  LOGO_HEIGHT = 15,
  LOGO_MARGIN = 1.2;
/** Right ends of the columns of the revision table. */
const REVISION_COLUMNS = [16, 122, 150, 180] as const;

const furtherHeight = ({ further }: TitleBlock): number => Math.ceil(further.length / IN_A_ROW) * FURTHER_ROW;
const revisionHeight = ({ revisions }: TitleBlock): number =>
  revisions.length === 0 ? 0 : (revisions.length + 1) * REVISION_ROW;

/** In the lower right corner of the frame; a point there where the paper has none. */
export function titleBlockBox(paper: Paper, block: TitleBlock = plainTitleBlock): Box2 {
  const [, , x1, y1] = frameBox(paper);
  if (paper.blank) return [x1, y1, x1, y1];
  return [x1 - WIDTH, y1 - HEIGHT - furtherHeight(block) - revisionHeight(block), x1, y1];
}

/** A cell of the title block, on paper. */
export interface TitleCell {
  /** mm. */
  readonly box: Box2;
  /** Small, in its upper left. */
  readonly label: string;
  /** Empty where there is nothing to say. */
  readonly value: string;
  /** Of capitals; mm. */
  readonly height: number;
  /** What can be typed there; absent where the sheet itself knows it. */
  readonly field?: { readonly name: keyof TitleFields } | { readonly further: string };
}

/** The cells of a title block. */
export function titleCells(fields: TitleFields, facts: SheetFacts, paper: Paper, block = plainTitleBlock): TitleCell[] {
  if (paper.blank) return [];
  const [x0, top, , y1] = titleBlockBox(paper, block);
  const cell = (
    [left, upper, right, lower]: Box2,
    label: string,
    value: string,
    height: number,
    field?: TitleCell['field'],
  ): TitleCell => ({
    box: [x0 + left, y1 - HEIGHT + upper, x0 + right, y1 - HEIGHT + lower],
    label,
    value,
    height,
    ...(field ? { field } : {}),
  });
  const own = (box: Box2, label: string, name: keyof TitleFields, height: number) =>
    cell(box, label, fields[name], height, { name });
  const rows = Math.ceil(block.further.length / IN_A_ROW);
  const further = block.further.map(({ id, label, value }, at): TitleCell => {
    const row = Math.floor(at / IN_A_ROW);
    // The last row is shared by as many as it has.
    const inRow = Math.min(IN_A_ROW, block.further.length - row * IN_A_ROW);
    const width = WIDTH / inRow;
    const left = x0 + (at % IN_A_ROW) * width;
    const upper = top + revisionHeight(block) + (rows - 1 - row) * FURTHER_ROW;
    return { box: [left, upper, left + width, upper + FURTHER_ROW], label, value, height: 2.5, field: { further: id } };
  });
  return [
    own([0, 0, 50, 10.5], 'Owner', 'owner', 2.5),
    own([0, 10.5, 50, 21], 'Created by', 'createdBy', 2.5),
    own([0, 21, 50, 31.5], 'Approved by', 'approvedBy', 2.5),
    own([0, 31.5, 50, 42], 'Date', 'date', 2.5),
    own([50, 0, block.logo ? LOGO_LEFT : 180, 15], 'Title', 'title', 5),
    own([50, 15, 122, 28], 'Document', 'documentType', 3.5),
    own([122, 15, 180, 28], 'Drawing number', 'drawingNumber', 3.5),
    cell([50, 28, 78, 42], 'Scale', facts.scale, 3.5),
    cell([78, 28, 104, 42], 'Projection', '', 3.5),
    cell([104, 28, 122, 42], 'Paper', paperLabel(paper), 3.5),
    own([122, 28, 150, 42], 'Revision', 'revision', 3.5),
    cell([150, 28, 180, 42], 'Sheet', `${facts.sheet} / ${facts.of}`, 3.5),
    ...further,
  ];
}

/** The title block with its fields; a value too long for its cell is set smaller until it fits. */
export function drawTitleBlock(
  fields: TitleFields,
  facts: SheetFacts,
  paper: Paper,
  block: TitleBlock = plainTitleBlock,
  logo: Uint8Array | null = null,
): Mark[] {
  if (paper.blank) return [];
  const source: MarkSource = { kind: 'titleBlock', id: 'titleBlock' };
  const box = titleBlockBox(paper, block);
  const marks: Mark[] = [];
  for (const { box: own, label, value, height } of titleCells(fields, facts, paper, block)) {
    marks.push(boxMark(source, own, 0.25), fitted(source, label, own, own[1] + 2.3, 1.8));
    if (value) marks.push(fitted(source, value, own, own[3] - 1.8 - height / 2, height));
  }
  if (block.logo) marks.push(...drawLogo(source, block.logo, logo, box));
  marks.push(...drawRevisions(source, block.revisions, box));
  marks.push(
    ...projectionSymbol(source, box[0] + 78, box[3] - HEIGHT + 31, facts.projection),
    boxMark(source, box, 0.7),
  );
  return marks;
}

/** A text at the left of a cell, smaller where it would not fit. */
function fitted(source: MarkSource, text: string, [x0, , x1]: Box2, y: number, height: number): Mark {
  const room = x1 - x0 - 3;
  return textMark(source, text, x0 + 1.5, y, Math.min(height, (height * room) / measureText(text, height).width));
}

/** In the middle of its cell, as large as it fits. @param png null where the picture is shown another way */
function drawLogo(
  source: MarkSource,
  { blob, ratio }: TitleLogo,
  png: Uint8Array | null,
  [x0, , x1, y1]: Box2,
): Mark[] {
  const cell: Box2 = [x0 + LOGO_LEFT, y1 - HEIGHT, x1, y1 - HEIGHT + LOGO_HEIGHT];
  const room = [cell[2] - cell[0] - 2 * LOGO_MARGIN, LOGO_HEIGHT - 2 * LOGO_MARGIN] as const;
  const height = Math.min(room[1], room[0] / ratio);
  const [x, y] = [(cell[0] + cell[2]) / 2, (cell[1] + cell[3]) / 2];
  return [
    boxMark(source, cell, 0.25),
    {
      kind: 'picture',
      source,
      blob,
      png: png ?? new Uint8Array(),
      box: [x - (height * ratio) / 2, y - height / 2, x + (height * ratio) / 2, y + height / 2],
    },
  ];
}

/** The heading lowest, the oldest revision above it. */
function drawRevisions(source: MarkSource, revisions: readonly RevisionLine[], [x0, y0]: Box2): Mark[] {
  if (revisions.length === 0) return [];
  const rows = [
    ...revisions.toReversed().map(({ revision, text, date, by }) => [revision, text, date, by]),
    ['Rev.', 'Change', 'Date', 'By'],
  ];
  return rows.flatMap((texts, row) =>
    texts.flatMap((text, column): Mark[] => {
      const left = x0 + (column === 0 ? 0 : REVISION_COLUMNS[column - 1]);
      const upper = y0 + row * REVISION_ROW;
      const cell: Box2 = [left, upper, x0 + REVISION_COLUMNS[column], upper + REVISION_ROW];
      const height = row === rows.length - 1 ? 1.8 : 2.5;
      return [
        boxMark(source, cell, 0.25),
        ...(text ? [fitted(source, text, cell, (cell[1] + cell[3]) / 2, height)] : []),
      ];
    }),
  );
}

/**
 * A frustum and what is seen from its left: to its right in first-angle, to its left in third-angle projection
 * (ISO 5456-2).
 */
function projectionSymbol(source: MarkSource, left: number, y: number, projection: SheetFacts['projection']): Mark[] {
  const middle = y + 5.6;
  const pen = 0.25;
  const [frustum, circles] = projection === 'first' ? [left + 1.5, left + 13] : [left + 13, left + 1.5];
  return [
    {
      kind: 'path',
      source,
      points: [
        [frustum + 1.5, middle - 1.75],
        [frustum + 8.5, middle - 3.5],
        [frustum + 8.5, middle + 3.5],
        [frustum + 1.5, middle + 1.75],
      ],
      closed: true,
      pen,
    },
    { kind: 'circle', source, centre: [circles + 5, middle], radius: 3.5, pen },
    { kind: 'circle', source, centre: [circles + 5, middle], radius: 1.75, pen },
    lineMark(source, [frustum, middle], [frustum + 10, middle], 0.18),
    lineMark(source, [circles, middle], [circles + 10, middle], 0.18),
    lineMark(source, [circles + 5, middle - 5], [circles + 5, middle + 5], 0.18),
  ];
}
