import type { Box2 } from '../geometry/index.ts';
import { boxMark, lineMark, measureText, textMark, type Mark, type MarkSource } from '../marks/index.ts';
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
export interface SheetFacts {
  /** As it reads, or N/A. */
  readonly scale: string;
  /** Number in the set, from 1. */
  readonly sheet: number;
  /** Count of sheets in the set. */
  readonly of: number;
  /** Where projected views stand. */
  readonly projection: 'first' | 'third';
}

const WIDTH = 180; // ISO 7200
const HEIGHT = 42;

/** In the lower right corner of the frame; a point there where the paper has none. */
export function titleBlockBox(paper: Paper): Box2 {
  const [, , x1, y1] = frameBox(paper);
  if (paper.blank) return [x1, y1, x1, y1];
  return [x1 - WIDTH, y1 - HEIGHT, x1, y1];
}

/** Cells as [x0, y0, x1, y1] from the block's upper left corner, label, value, height of capitals. */
function cells(fields: TitleFields, facts: SheetFacts, paper: Paper): [Box2, string, string, number][] {
  return [
    [[0, 0, 50, 10.5], 'Owner', fields.owner, 2.5],
    [[0, 10.5, 50, 21], 'Created by', fields.createdBy, 2.5],
    [[0, 21, 50, 31.5], 'Approved by', fields.approvedBy, 2.5],
    [[0, 31.5, 50, 42], 'Date', fields.date, 2.5],
    [[50, 0, 180, 15], 'Title', fields.title, 5],
    [[50, 15, 122, 28], 'Document', fields.documentType, 3.5],
    [[122, 15, 180, 28], 'Drawing number', fields.drawingNumber, 3.5],
    [[50, 28, 78, 42], 'Scale', facts.scale, 3.5],
    [[78, 28, 104, 42], 'Projection', '', 3.5],
    [[104, 28, 122, 42], 'Paper', paperLabel(paper), 3.5],
    [[122, 28, 150, 42], 'Revision', fields.revision, 3.5],
    [[150, 28, 180, 42], 'Sheet', `${facts.sheet} / ${facts.of}`, 3.5],
  ];
}

/** The title block with its fields; a value too long for its cell is set smaller until it fits. */
export function drawTitleBlock(fields: TitleFields, facts: SheetFacts, paper: Paper): Mark[] {
  if (paper.blank) return [];
  const source: MarkSource = { kind: 'titleBlock', id: 'titleBlock' };
  const box = titleBlockBox(paper);
  const marks: Mark[] = [];
  for (const [cell, label, value, height] of cells(fields, facts, paper)) {
    const own: Box2 = [box[0] + cell[0], box[1] + cell[1], box[0] + cell[2], box[1] + cell[3]];
    marks.push(boxMark(source, own, 0.25), textMark(source, label, own[0] + 1.5, own[1] + 2.3, 1.8));
    if (!value) continue;
    const room = own[2] - own[0] - 3;
    const fitted = Math.min(height, (height * room) / measureText(value, height).width);
    marks.push(textMark(source, value, own[0] + 1.5, own[3] - 1.8 - height / 2, fitted));
  }
  marks.push(...projectionSymbol(source, box[0] + 78, box[1] + 31, facts.projection), boxMark(source, box, 0.7));
  return marks;
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
