import type { Box2 } from '../geometry/index.ts';
import { wrapText, type Face } from '../marks/index.ts';
import { cellText } from './cellText.ts';
import {
  boldOf,
  LINE_PITCH,
  PICTURE_MARGIN,
  tableStyles,
  usualPens,
  faceOf,
  type CellText,
  type MeasuredTable,
  type Strip,
  type TableContent,
  type TableLook,
  type TableRoom,
  type TableStyle,
} from './model.ts';
import { breakIntoStrips } from './strips.ts';
import { sum } from './sum.ts';
import { fitWidths, stretch } from './widths.ts';

const USUAL_LETTERING = 2.5; // mm, least height on drawings that are to be copied (ISO 3098)
const PAD = 1.4; // mm between text and line, each side
const STRIP_GAP = 3; // mm
/** Stands where a table without title goes on with the lines of another, and where another goes on with its own. */
const CONTINUED = 'Continued';
/** Room for that at the end of a table; mm. */
export const ENDING = 4.5;
/** Row pitches in heights of capitals, where only the lettering is said: the roomier one where that takes no more strips. */
const PITCHES = [2, 1.68] as const;

/**
 * Measures a table for a room: lettering, column widths so that every row is one line where it can be, and strips.
 * Lettering that is said stays, whatever the room.
 */
export function layOutTable(content: TableContent, room: TableRoom, look: TableLook = {}): MeasuredTable {
  const { lettering, pitch } = look;
  const styles =
    lettering !== undefined
      ? (pitch === undefined ? PITCHES.map((share) => share * lettering) : [pitch]).map((one) => ({
          lettering,
          pitch: one,
        }))
      : tableStyles.map((style) => (pitch === undefined ? style : { ...style, pitch }));
  const tries = styles.map((style) => layOutWith(content, style, room, look));
  const width = ({ box }: MeasuredTable) => box[2] - box[0];
  const modest = tries.filter((made) => made.fits && width(made) <= (room.box[2] - room.box[0]) * room.share);
  // A list in one piece reads better than larger lettering in two, as long as the lettering is usual.
  const usual = modest.filter(({ style }) => style.lettering >= USUAL_LETTERING);
  const fewest = Math.min(...usual.map(({ strips }) => strips.length));
  const inOnePiece = usual.filter(({ strips }) => strips.length === fewest);
  // … and a row that is one line reads better than a larger one that wraps.
  return (
    inOnePiece.find(({ cells }) => cells.every((row) => row.every(({ lines }) => lines.length <= 1))) ??
    inOnePiece[0] ??
    modest[0] ??
    tries.find(({ fits }) => fits) ??
    tries[tries.length - 1]
  );
}

function layOutWith(content: TableContent, style: TableStyle, room: TableRoom, look: TableLook): MeasuredTable {
  const roomWidth = room.box[2] - room.box[0];
  const { headingLettering = style.lettering, title = '', padding = PAD, totalWidth } = look;
  const { heading = room.grows === 'up' ? 'bottom' : 'top', rows = room.grows } = look;
  const faces = {
    rows: faceIn(look.boldRows ?? false, look.narrowRows ?? false),
    heading: faceIn(!look.plainHeading, look.narrowHeading ?? false),
  } as const;
  const fullWidth = totalWidth ?? room.fullWidth;
  const asked = { content, look, style, headingLettering, padding, faces };
  const { widths, fixed } = fitWidths(asked, fullWidth || roomWidth);
  const indentOf = (row: number, column: number) =>
    column === content.indented ? (look.indent ?? 0) * (content.levels?.[row] ?? 0) : 0;
  const linesHigh = (count: number, size: number) =>
    Math.max(style.pitch, size * LEAST_PITCH) + (Math.max(1, count) - 1) * size * LINE_PITCH;
  const highest = (cells: readonly { readonly lines: readonly string[] }[]) =>
    Math.max(...cells.map(({ lines }) => lines.length));
  const cells = content.rows.map((row, at): CellText[] =>
    content.across?.has(at)
      ? acrossCells(row, style.lettering, sum(widths) - 2 * padding, boldOf(faces.rows))
      : row.map((text, column) =>
          cellText(text, {
            width: widths[column] - 2 * padding - indentOf(at, column),
            indent: indentOf(at, column),
            lettering: style.lettering,
            face: faceOf(content, at, faces.rows),
            overflow: look.texts?.get(column)?.overflow ?? (content.whole?.has(column) ? 'shrink' : 'wrap'),
          }),
        ),
  );
  const { pictures = 0 } = look;
  const rowHeights = cells.map((row, at) =>
    Math.max(
      linesHigh(highest(row), style.lettering),
      content.pictures?.of.has(at) ? pictures + 2 * PICTURE_MARGIN : 0,
    ),
  );
  const headingLines =
    heading === 'none'
      ? []
      : content.headings.map((text, column) =>
          wrapText(text, headingLettering, widths[column] - 2 * padding + 1e-6, faces.heading),
        );
  const headingHeight =
    heading === 'none' ? 0 : linesHigh(highest(headingLines.map((lines) => ({ lines }))), headingLettering) + 1;
  const further = title === '' ? CONTINUED : `${title} (continued)`;
  const titles =
    title === '' && !look.goesOnFrom
      ? []
      : [look.goesOnFrom ? further : title, further].map((text) =>
          wrapText(text, headingLettering, sum(widths) - 2 * padding + 1e-6, faces.heading),
        );
  const titleHeight =
    titles.length === 0 ? 0 : linesHigh(Math.max(...titles.map(({ length }) => length)), headingLettering) + 1;
  const runs = breakIntoStrips(
    rowHeights,
    content.across ?? new Set(),
    room.box[3] - room.box[1] - headingHeight - titleHeight - (look.goesOn ? ENDING : 0),
    look,
  );
  if ((runs.length === 1 || totalWidth !== undefined) && fullWidth > sum(widths))
    stretch(widths, content.alignments, fullWidth - sum(widths), fixed);
  const width = sum(widths);
  const strips = runs.map(({ from, to, height }, at): Strip => {
    const away = at * (width + STRIP_GAP);
    const x0 = room.side === 'right' ? room.box[2] - away - width : room.box[0] + away;
    const total = height + headingHeight + titleHeight;
    return {
      from,
      to,
      box:
        room.grows === 'up'
          ? [x0, room.box[3] - total, x0 + width, room.box[3]]
          : [x0, room.box[1], x0 + width, room.box[1] + total],
    };
  });
  const box = strips.reduce<Box2>(
    (all, { box: b }) => [
      Math.min(all[0], b[0]),
      Math.min(all[1], b[1]),
      Math.max(all[2], b[2]),
      Math.max(all[3], b[3]),
    ],
    [Infinity, Infinity, -Infinity, -Infinity],
  );
  const fits =
    box[0] >= room.box[0] - 1e-6 &&
    box[1] >= room.box[1] - 1e-6 &&
    box[2] <= room.box[2] + 1e-6 &&
    box[3] <= room.box[3] + 1e-6;
  const at = { headingLettering, heading, rows, titles, titleHeight, goesOn: look.goesOn ?? false, grows: room.grows };
  const { pens = usualPens } = look;
  return {
    ...(look.texts ? { texts: look.texts } : {}),
    style,
    pens,
    padding,
    faces,
    pictures,
    ...at,
    widths,
    cells,
    rowHeights,
    headingLines,
    headingHeight,
    strips,
    box,
    fits,
  };
}

/** Rows are at least so many heights of capitals high. */
const LEAST_PITCH = 1.3;

const faceIn = (isBold: boolean, isNarrow: boolean): Face =>
  isNarrow ? (isBold ? 'narrowBold' : 'narrow') : isBold ? 'bold' : 'regular';

/** The heading of a group: all that it says in one cell as wide as the list, whichever column it stood in. */
const acrossCells = (row: readonly string[], lettering: number, width: number, face: Face): CellText[] => {
  const lines = wrapText(row.filter(Boolean).join('  '), lettering, width + 1e-6, face);
  return row.map((_, at) => ({ lines: at === 0 ? lines : [], lettering, indent: 0, isCut: false }));
};

/** Where a band of a table lies on paper; mm. */
export interface Band {
  readonly top: number;
  readonly bottom: number;
}

/** Where title, heading and rows of a strip lie. */
export function bandsOf(
  { titleHeight, heading, headingHeight, rows, rowHeights }: MeasuredTable,
  { box, from, to }: Strip,
): { readonly title: Band; readonly heading: Band; readonly rows: readonly (Band & { readonly row: number })[] } {
  let y = box[1];
  const take = (height: number): Band => ({ top: y, bottom: (y += height) });
  // The title stands beyond the heading.
  const head = heading === 'bottom' ? null : { title: take(titleHeight), heading: take(headingHeight) };
  const order = Array.from({ length: to - from }, (_, at) => (rows === 'down' ? from + at : to - 1 - at));
  const bands = order.map((row) => ({ row, ...take(rowHeights[row]) }));
  const foot = head ? null : { heading: take(headingHeight), title: take(titleHeight) };
  return { ...(head ?? foot!), rows: bands };
}
