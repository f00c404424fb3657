import type { TangentLook } from '../../../core/src/views/index.ts';
import type { Arrangement, BalloonShape, LeaderEnd, LeaderMark } from '../../../core/src/balloons/index.ts';
import type { LeaderScore, TablePlace, ThingAlignment, TitleFields } from '../../../core/src/sheets/index.ts';

export const placeWords: Readonly<Record<TablePlace, string>> = {
  'title-block': 'on the title block',
  'top-right': 'upper right corner',
  'top-left': 'upper left corner',
  'bottom-right': 'lower right corner, clear of the title block',
  'bottom-left': 'lower left corner',
};

export const tangentWords: Readonly<Record<TangentLook, string>> = {
  thin: 'thin',
  full: 'like all others',
  none: 'left out',
};

export const fieldWords: Readonly<Record<keyof TitleFields, string>> = {
  title: 'Title',
  drawingNumber: 'Drawing number',
  revision: 'Revision',
  owner: 'Owner',
  createdBy: 'Created by',
  approvedBy: 'Approved by',
  date: 'Date',
  documentType: 'Document',
};

export const shadeWords = [
  { value: '', label: 'lines only' },
  { value: 'colours', label: 'shaded in part colours' },
  { value: 'greys', label: 'shaded in greys' },
];

/** Where a leader ends, in words. */
export const leaderEndWords = (end: LeaderEnd): string => (end === 'dot' ? 'a visible face' : 'a line of the part');

/** How clearly a leader ends, in words that can be checked on the paper. */
export const leaderScoreWords = ({ kind, freeMm, nearest }: LeaderScore): string =>
  freeMm === null
    ? `${kind}, nothing near`
    : `${kind}, ${freeMm.toFixed(1)} mm ${nearest === null ? 'free' : `from item ${nearest}`}`;

export const arrangementWords: Readonly<Record<Arrangement, string>> = {
  ring: 'along the outline',
  box: 'in a box around',
  rows: 'in rows above and below',
  columns: 'in columns at the sides',
  mixed: 'in rows and columns',
};

export const shapeWords: Readonly<Record<BalloonShape, string>> = {
  circle: 'circle',
  hexagon: 'hexagon',
  square: 'square',
  lozenge: 'lozenge',
  underlined: 'a line below',
  none: 'nothing',
};

export const markWords: Readonly<Record<LeaderMark, string>> = {
  dot: 'with a dot',
  arrow: 'with an arrowhead',
  none: 'bare',
};

export const alignWords: Readonly<Record<ThingAlignment, string>> = {
  left: 'In line at the left',
  centre: 'In line from top to bottom',
  right: 'In line at the right',
  top: 'In line at the top',
  middle: 'In line from left to right',
  bottom: 'In line at the bottom',
};
