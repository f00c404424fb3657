import { measureText, wordPieces, type Alignment, type Face } from '../marks/index.ts';
import { leastHeight, type BreakableRow, type BreakableText } from './leastHeight.ts';
import { sum } from './sum.ts';
import {
  faceOf,
  LINE_PITCH,
  PICTURE_MARGIN,
  WIDTH_RANGE,
  type TableContent,
  type TableLook,
  type TableStyle,
} from './model.ts';

/** What a table is laid out from. */
export interface Asked {
  readonly content: TableContent;
  readonly look: TableLook;
  readonly style: TableStyle;
  readonly headingLettering: number;
  /** mm */
  readonly padding: number;
  readonly faces: { readonly rows: Face; readonly heading: Face };
}

/**
 * Each column as wide as its widest text, or as is said; where all of them together are too wide, those of the others with
 * @param most together; mm
 * @returns the widths, and the columns of which they are said
 */
export function fitWidths(
  asked: Asked,
  most: number,
): { readonly widths: number[]; readonly fixed: ReadonlySet<number> } {
  const { content, look, style, headingLettering, padding, faces } = asked;
  const { headings, alignments, whole, indented, levels } = content;
  const rows = content.rows.map((row, at) => (content.across?.has(at) ? row.map(() => '') : row));
  const indent = (row: number, column: number) => (column === indented ? (look.indent ?? 0) * (levels?.[row] ?? 0) : 0);
  const headingWidth = (text: string) => measureText(text, headingLettering, faces.heading).width + 2 * padding;
  const widthOf = (text: string, face: Face) => measureText(text, style.lettering, face).width + 2 * padding;
  const face = (at: number) => faceOf(content, at, faces.rows);
  const natural = headings.map((heading, column) =>
    rows.reduce(
      (widest, row, at) => Math.max(widest, widthOf(row[column], face(at)) + indent(at, column)),
      headingWidth(heading),
    ),
  );
  const { said, fixed } = saidWidths(asked, natural, most);
  const widths = natural.map((width, column) => said.get(column) ?? width);
  if (sum(widths) <= most) return { widths, fixed };
  // What must stay together: words, and in columns of numbers the number with its unit. What is cut or shrunk gives way.
  const isWhole = (column: number) => {
    const overflow = look.texts?.get(column)?.overflow;
    return overflow === undefined && ((whole?.has(column) ?? false) || alignments[column] === 'right');
  };
  const pieces = (text: string, column: number) => (isWhole(column) ? [text] : wordPieces(text));
  const widestPiece = (texts: readonly string[], of: Face) =>
    texts.reduce((widest, text) => Math.max(widest, widthOf(text, of)), 0);
  const together = headings.map((heading, column) =>
    rows.reduce(
      (widest, row, at) => Math.max(widest, widestPiece(pieces(row[column], column), face(at)) + indent(at, column)),
      Math.max(...heading.split(/\s+/).map(headingWidth)),
    ),
  );
  const least = 6 * style.lettering + 2 * padding;
  const kept = (given: readonly number[]) => given.map((width, column) => said.get(column) ?? width);
  // A width that is said is not taken from.
  const unbroken = kept(together);
  if (sum(unbroken) > most) {
    giveWay(widths, kept(together.map((width, column) => (isWhole(column) ? width : Math.min(least, width)))), most);
    giveWay(widths, kept(together.map((width) => Math.min(least, width))), most);
    return { widths, fixed };
  }
  giveWay(widths, unbroken, most);
  const wraps = headings.map(
    (_, column) => (look.texts?.get(column)?.overflow ?? 'wrap') === 'wrap' && !isWhole(column) && !said.has(column),
  );
  const lines = rows.map((row, at) => breakableRow(asked, row, at, (column) => wraps[column], indent));
  const found = leastHeight(look.heading === 'none' ? lines : [...lines, breakableHeadings(asked)], {
    least: kept(together),
    most: kept(natural),
    room: most,
    start: widths,
  });
  return { widths: found.widths, fixed };
}

const spaceIn = (lettering: number, of: Face): number => measureText(' ', lettering, of).width;

/** A row as texts that can be broken into lines. */
function breakableRow(
  { content, style, padding, faces }: Asked,
  row: readonly string[],
  at: number,
  wraps: (column: number) => boolean,
  indent: (row: number, column: number) => number,
): BreakableRow {
  const face = faceOf(content, at, faces.rows);
  const texts = row.map((text, column): BreakableText => ({
    words: (wraps(column) ? text.split(/\s+/).map(wordPieces) : [[text]]).map((pieces) =>
      pieces.map((piece) => measureText(piece, style.lettering, face).width),
    ),
    space: spaceIn(style.lettering, face),
    beside: 2 * padding + indent(at, column),
  }));
  return { texts, perLine: style.lettering * LINE_PITCH };
}

/** The same of the headings. */
const breakableHeadings = ({ content, headingLettering, padding, faces }: Asked): BreakableRow => ({
  texts: content.headings.map((heading) => ({
    words: heading.split(/\s+/).map((word) => [measureText(word, headingLettering, faces.heading).width]),
    space: spaceIn(headingLettering, faces.heading),
    beside: 2 * padding,
  })),
  perLine: headingLettering * LINE_PITCH,
});

/** Widths of columns in mm that are said in mm, in figures, or as shares of what the others leave. */
function saidWidths(
  { content, look, headingLettering, style, padding, faces }: Asked,
  natural: readonly number[],
  most: number,
): { readonly said: ReadonlyMap<number, number>; readonly fixed: ReadonlySet<number> } {
  const said = new Map<number, number>();
  if (content.pictures) {
    const heading = measureText(content.headings[content.pictures.column], headingLettering, faces.heading).width;
    said.set(
      content.pictures.column,
      Math.max((look.pictures ?? 0) + 2 * PICTURE_MARGIN, look.heading === 'none' ? 0 : heading + 2 * padding),
    );
  }
  const shares = new Map<number, number>();
  for (const [column, width] of look.widths ?? []) {
    if ('width' in width) said.set(column, width.width);
    else if ('characters' in width)
      said.set(column, width.characters * measureText('0', style.lettering, faces.rows).width + 2 * padding);
    else shares.set(column, width.share);
  }
  const others = natural.reduce(
    (total, width, column) => total + (shares.has(column) ? 0 : (said.get(column) ?? width)),
    0,
  );
  const total = sum([...shares.values()]);
  for (const [column, share] of shares) said.set(column, Math.max(WIDTH_RANGE[0], ((most - others) * share) / total));
  return { said, fixed: new Set(said.keys()) };
}
/** Takes from the columns that have most above their least, until they are together as wide as they may be. */
function giveWay(widths: number[], least: readonly number[], most: number): void {
  for (let excess = sum(widths) - most; excess > 1e-6; excess = sum(widths) - most) {
    const spare = widths.map((width, at) => width - least[at]);
    const richest = spare.indexOf(Math.max(...spare));
    if (spare[richest] <= 1e-6) return;
    const second = Math.max(...spare.filter((_, at) => at !== richest), 0);
    const gives = second < spare[richest] - 1e-6 ? spare[richest] - second : 1;
    widths[richest] -= Math.min(excess, gives, spare[richest]);
  }
}

/** Gives spare width to the text columns whose width is not said, in proportion to what they have. */
export function stretch(
  widths: number[],
  alignments: readonly Alignment[],
  spare: number,
  said: ReadonlySet<number>,
): void {
  const free = widths.map((_, at) => at).filter((at) => !said.has(at));
  const flexible = free.filter((at) => alignments[at] === 'left');
  const takers = flexible.length > 0 ? flexible : free;
  const total = sum(takers.map((at) => widths[at]));
  for (const at of takers) widths[at] += (spare * widths[at]) / total;
}
