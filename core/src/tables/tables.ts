import { boxInside, uniteBoxes2, type Box2 } from '../geometry/index.ts';
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
import { fitWidths, stretch, type Asked } from './widths.ts';

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

/** Texts of the rows, laid into their columns. */
function cellsIn({ content, look, style, padding, faces }: Asked, widths: readonly number[]): CellText[][] {
  const indentOf = (row: number, column: number) =>
    column === content.indented ? (look.indent ?? 0) * (content.levels?.[row] ?? 0) : 0;
  return content.rows.map((row, at): CellText[] =>
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
}

/** So many lines of capitals of this height, one below the other; mm. */
const linesHigh = ({ pitch }: TableStyle, count: number, size: number): number =>
  Math.max(pitch, size * LEAST_PITCH) + (Math.max(1, count) - 1) * size * LINE_PITCH;
const highest = (cells: readonly { readonly lines: readonly string[] }[]): number =>
  Math.max(...cells.map(({ lines }) => lines.length));

/** What stands above the rows (or below them): headings, and the title of the first strip and of those behind it. */
function headsIn(
  { content, look, style, headingLettering, padding, faces }: Asked,
  widths: readonly number[],
  heading: string,
) {
  const wrapped = (text: string, width: number) =>
    wrapText(text, headingLettering, width - 2 * padding + 1e-6, faces.heading);
  const headingLines = heading === 'none' ? [] : content.headings.map((text, column) => wrapped(text, widths[column]));
  const { title = '' } = look;
  const further = title === '' ? CONTINUED : `${title} (continued)`;
  const titles =
    title === '' && !look.goesOnFrom
      ? []
      : [look.goesOnFrom ? further : title, further].map((text) => wrapped(text, sum(widths)));
  const high = (count: number) => linesHigh(style, count, headingLettering) + 1;
  return {
    headingLines,
    headingHeight: heading === 'none' ? 0 : high(highest(headingLines.map((lines) => ({ lines })))),
    titles,
    titleHeight: titles.length === 0 ? 0 : high(Math.max(...titles.map(({ length }) => length))),
  };
}

/** Where strips of this width stand, one beside the other. @param above what stands above the rows of each; mm */
function standingStrips(
  runs: readonly { readonly from: number; readonly to: number; readonly height: number }[],
  { box, side, grows }: TableRoom,
  width: number,
  above: number,
): Strip[] {
  return runs.map(({ from, to, height }, at): Strip => {
    const away = at * (width + STRIP_GAP);
    const x0 = side === 'right' ? box[2] - away - width : box[0] + away;
    const total = height + above;
    return {
      from,
      to,
      box: grows === 'up' ? [x0, box[3] - total, x0 + width, box[3]] : [x0, box[1], x0 + width, box[1] + total],
    };
  });
}

/** What rounding may reach over. */
const widened = ([x0, y0, x1, y1]: Box2): Box2 => [x0 - 1e-6, y0 - 1e-6, x1 + 1e-6, y1 + 1e-6];

function layOutWith(content: TableContent, style: TableStyle, room: TableRoom, look: TableLook): MeasuredTable {
  const { headingLettering = style.lettering, padding = PAD, totalWidth, pictures = 0, pens = usualPens } = look;
  const { heading = room.grows === 'up' ? 'bottom' : 'top', rows = room.grows } = look;
  const faces = {
    rows: faceIn(look.boldRows ?? false, look.narrowRows ?? false),
    heading: faceIn(!look.plainHeading, look.narrowHeading ?? false),
  } as const;
  const fullWidth = totalWidth ?? room.fullWidth;
  const asked: Asked = { content, look, style, headingLettering, padding, faces };
  const { widths, fixed } = fitWidths(asked, fullWidth || room.box[2] - room.box[0]);
  const cells = cellsIn(asked, widths);
  const rowHeights = cells.map((row, at) =>
    Math.max(
      linesHigh(style, highest(row), style.lettering),
      content.pictures?.of.has(at) ? pictures + 2 * PICTURE_MARGIN : 0,
    ),
  );
  const heads = headsIn(asked, widths, heading);
  const above = heads.headingHeight + heads.titleHeight;
  const runs = breakIntoStrips(
    rowHeights,
    content.across ?? new Set(),
    room.box[3] - room.box[1] - above - (look.goesOn ? ENDING : 0),
    look,
  );
  if ((runs.length === 1 || totalWidth !== undefined) && fullWidth > sum(widths))
    stretch(widths, content.alignments, fullWidth - sum(widths), fixed);
  const strips = standingStrips(runs, room, sum(widths), above);
  const box = strips.map((strip) => strip.box).reduce<Box2>(uniteBoxes2, [Infinity, Infinity, -Infinity, -Infinity]);
  return {
    ...(look.texts ? { texts: look.texts } : {}),
    style,
    pens,
    padding,
    faces,
    pictures,
    headingLettering,
    heading,
    rows,
    goesOn: look.goesOn ?? false,
    grows: room.grows,
    ...heads,
    widths,
    cells,
    rowHeights,
    strips,
    box,
    fits: boxInside(box, widened(room.box)),
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
