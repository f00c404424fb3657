import type { Box2, Vec2 } from '../../geometry/index.ts';
import { boxMark, lineMark, textMark, type Mark, type MarkSource } from '../../marks/index.ts';

/** Sheets after ISO 216, and after ASME Y14.1 (engineering sheets of the ANSI series). */
export const paperNames = ['A4', 'A3', 'A2', 'A1', 'A0', 'ANSI A', 'ANSI B', 'ANSI C', 'ANSI D', 'ANSI E'] as const;
export type PaperName = (typeof paperNames)[number];
export interface Paper {
  /** Which size; `own` for one that is given in mm. */
  readonly size: PaperName | 'own';
  /** Whether the longer side lies across. */
  readonly landscape: boolean;
  /** Shorter and longer side of a size of one's own; mm. */
  readonly sides?: readonly [number, number];
  /** Without frame and title block: for figures in a document. */
  readonly blank?: true;
}

const INCH = 25.4;
/** Portrait; mm. */
const sizes: Readonly<Record<PaperName, readonly [number, number]>> = {
  A4: [210, 297],
  A3: [297, 420],
  A2: [420, 594],
  A1: [594, 841],
  A0: [841, 1189],
  'ANSI A': [8.5 * INCH, 11 * INCH],
  'ANSI B': [11 * INCH, 17 * INCH],
  'ANSI C': [17 * INCH, 22 * INCH],
  'ANSI D': [22 * INCH, 34 * INCH],
  'ANSI E': [34 * INCH, 44 * INCH],
};
/** Border across and upright (ASME Y14.1, table 1), and fields across and upright; landscape. */
const american: Readonly<Partial<Record<PaperName | 'own', readonly [number, number, number, number]>>> = {
  'ANSI A': [0.25 * INCH, 0.38 * INCH, 2, 2],
  'ANSI B': [0.62 * INCH, 0.38 * INCH, 4, 2],
  'ANSI C': [0.5 * INCH, 0.75 * INCH, 4, 4],
  'ANSI D': [1 * INCH, 0.5 * INCH, 8, 4],
  'ANSI E': [0.5 * INCH, 1 * INCH, 8, 8],
};
/** Sides that a sheet of one's own may have: with a frame it has to hold the title block. mm */
export const OWN_SIDES = { leastBlank: 50, leastFramed: 210, most: 5000 } as const;

/** Landscape but for the smallest, as drawings usually lie (ISO 5457, ASME Y14.1). */
export const usualPaper = (size: PaperName): Paper => ({ size, landscape: size !== 'A4' && size !== 'ANSI A' });

/** As it is called in lists and in the title block. */
export function paperLabel(paper: Paper): string {
  if (paper.size !== 'own') return paper.size;
  const { widthMm, heightMm } = paperSize(paper);
  return `${Math.round(widthMm)} × ${Math.round(heightMm)}`;
}

export function paperSize({ size, landscape, sides }: Paper): { widthMm: number; heightMm: number } {
  const [short, long] = size === 'own' ? (sides ?? sizes.A4) : sizes[size];
  return landscape ? { widthMm: long, heightMm: short } : { widthMm: short, heightMm: long };
}

/** White around a drawing without a frame; mm. */
const BLANK_MARGIN = 5;

/**
 * Border of the drawing space: 20 mm to the left for filing, 10 mm elsewhere (ISO 5457), or as ASME Y14.1 has it; without
 * a frame a little white.
 */
export function frameBox(paper: Paper): Box2 {
  const { widthMm, heightMm } = paperSize(paper);
  if (paper.blank) return [BLANK_MARGIN, BLANK_MARGIN, widthMm - BLANK_MARGIN, heightMm - BLANK_MARGIN];
  const own = american[paper.size];
  if (!own) return [20, 10, widthMm - 10, heightMm - 10];
  const [x, y] = paper.landscape ? own : [own[1], own[0]];
  return [x, y, widthMm - x, heightMm - y];
}

/** From this shorter side on a sheet is drawn with wider pens; mm. */
const LARGE = 550;
/** Thick and thin line of the sheet (ISO 128): 0.5/0.25 up to A2, 0.7/0.35 for A1 and A0 and their like. */
export function penPair(paper: Paper): { thick: number; thin: number } {
  const { widthMm, heightMm } = paperSize(paper);
  return Math.min(widthMm, heightMm) > LARGE ? { thick: 0.7, thin: 0.35 } : { thick: 0.5, thin: 0.25 };
}

const FIELD = 50; // mm, length of a zone counted from the centre (ISO 5457)
const STRIP = 5; // mm, the band around the frame that carries letters and numbers
const LETTERS = 'ABCDEFGHJKLMNPQRSTUVWXYZ';
/** Letters of a row of zones, from 0: A to Z without I and O, then AA, AB … (ISO 5457). */
const zoneLetters = (at: number): string =>
  (at < LETTERS.length ? '' : zoneLetters(Math.floor(at / LETTERS.length) - 1)) + LETTERS[at % LETTERS.length];

/** Borders of zones from low to high along one side, both frame ends included; the outermost take the remainder. */
function zoneBorders(from: number, to: number, centre: number): number[] {
  const borders = [centre];
  for (let at = centre + FIELD; at < to - FIELD / 2; at += FIELD) borders.push(at);
  for (let at = centre - FIELD; at > from + FIELD / 2; at -= FIELD) borders.unshift(at);
  return [from, ...borders, to];
}

/** Equal fields along one side, both frame ends included. */
const equalBorders = (from: number, to: number, fields: number): number[] =>
  Array.from({ length: fields + 1 }, (_, at) => from + ((to - from) * at) / fields);

function zones(paper: Paper): { columns: number[]; rows: number[] } {
  const { widthMm, heightMm } = paperSize(paper);
  const [x0, y0, x1, y1] = frameBox(paper);
  const own = american[paper.size];
  if (!own) return { columns: zoneBorders(x0, x1, widthMm / 2), rows: zoneBorders(y0, y1, heightMm / 2) };
  const [across, upright] = paper.landscape ? [own[2], own[3]] : [own[3], own[2]];
  return { columns: equalBorders(x0, x1, across), rows: equalBorders(y0, y1, upright) };
}

/** Name of a field: letters from the top and numbers from the left (ISO 5457), or from below and right (ASME Y14.1). */
function zoneNames(paper: Paper, { columns, rows }: ReturnType<typeof zones>) {
  const isAmerican = american[paper.size] !== undefined;
  return {
    column: (at: number) => String(isAmerican ? columns.length - 1 - at : at + 1),
    row: (at: number) => zoneLetters(isAmerican ? rows.length - 2 - at : at),
  };
}

/** The zone of a point, like `C4`; letters without I and O. */
export function zoneOf(paper: Paper, [x, y]: Vec2): string {
  const all = zones(paper);
  const { columns, rows } = all;
  const { column, row } = zoneNames(paper, all);
  const within = (borders: readonly number[], value: number) =>
    Math.min(borders.length - 2, Math.max(0, borders.findIndex((border) => border > value) - 1));
  return `${row(within(rows, Math.min(y, rows[rows.length - 1] - 1e-9)))}${column(within(columns, Math.min(x, columns[columns.length - 1] - 1e-9)))}`;
}

/** On the smallest sheet zones stand at the top and right only (ISO 5457). */
const hasFewZones = ({ size }: Paper): boolean => size === 'A4';

/** Frame, centring marks, and the zone band around it; on A4 zones stand at the top and right only (ISO 5457). */
export function drawFrame(paper: Paper): Mark[] {
  if (paper.blank) return [];
  const source: MarkSource = { kind: 'frame', id: 'frame' };
  const { widthMm, heightMm } = paperSize(paper);
  const [x0, y0, x1, y1] = frameBox(paper);
  const all = zones(paper);
  const { columns, rows } = all;
  const name = zoneNames(paper, all);
  const marks: Mark[] = [
    boxMark(source, [x0, y0, x1, y1], 0.7),
    boxMark(source, [x0 - STRIP, y0 - STRIP, x1 + STRIP, y1 + STRIP], 0.35),
  ];
  const sidesX = hasFewZones(paper) ? [y0] : [y0, y1],
    sidesY = hasFewZones(paper) ? [x1] : [x0, x1];
  const outwards = (edge: number, low: number) => (edge === low ? -STRIP : STRIP);
  columns.forEach((x, at) => {
    for (const y of sidesX) {
      if (at > 0 && at < columns.length - 1) marks.push(lineMark(source, [x, y], [x, y + outwards(y, y0)], 0.35));
      if (at + 1 < columns.length)
        marks.push(
          textMark(source, name.column(at), (x + columns[at + 1]) / 2, y + outwards(y, y0) / 2, 2.5, 'centre'),
        );
    }
  });
  rows.forEach((y, at) => {
    for (const x of sidesY) {
      if (at > 0 && at < rows.length - 1) marks.push(lineMark(source, [x, y], [x + outwards(x, x0), y], 0.35));
      if (at + 1 < rows.length)
        marks.push(textMark(source, name.row(at), x + outwards(x, x0) / 2, (y + rows[at + 1]) / 2, 2.5, 'centre'));
    }
  });
  for (const y of [
    [y0 - STRIP, y0 + STRIP],
    [y1 - STRIP, y1 + STRIP],
  ])
    marks.push(lineMark(source, [widthMm / 2, y[0]], [widthMm / 2, y[1]], 0.7));
  for (const x of [
    [x0 - STRIP, x0 + STRIP],
    [x1 - STRIP, x1 + STRIP],
  ])
    marks.push(lineMark(source, [x[0], heightMm / 2], [x[1], heightMm / 2], 0.7));
  return marks;
}

/** The nearest centre inside the frame: a view dragged off the paper could not be taken hold of again. */
export function keepOnPaper(paper: Paper, centre: Vec2): Vec2 {
  const frame = frameBox(paper);
  return [Math.min(frame[2], Math.max(frame[0], centre[0])), Math.min(frame[3], Math.max(frame[1], centre[1]))];
}
