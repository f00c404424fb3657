import type { Box2, Vec2 } from '../geometry/index.ts';
import { boxMark, lineMark, textMark, type Mark, type MarkSource } from '../marks/index.ts';

export const paperNames = ['A4', 'A3', 'A2', 'A1', 'A0'] as const;
export type PaperName = (typeof paperNames)[number];
export interface Paper {
  /** Name after ISO 216. */
  readonly size: PaperName;
  /** Whether the longer side lies across. */
  readonly landscape: boolean;
}

/** ISO 216, portrait; mm. */
const sizes: Readonly<Record<PaperName, readonly [number, number]>> = {
  A4: [210, 297],
  A3: [297, 420],
  A2: [420, 594],
  A1: [594, 841],
  A0: [841, 1189],
};
/** Landscape but for A4, as drawings usually lie (ISO 5457). */
export const usualPaper = (size: PaperName): Paper => ({ size, landscape: size !== 'A4' });

export function paperSize({ size, landscape }: Paper): { widthMm: number; heightMm: number } {
  const [short, long] = sizes[size];
  return landscape ? { widthMm: long, heightMm: short } : { widthMm: short, heightMm: long };
}

/** Border of the drawing space: 20 mm to the left for filing, 10 mm elsewhere (ISO 5457). */
export function frameBox(paper: Paper): Box2 {
  const { widthMm, heightMm } = paperSize(paper);
  return [20, 10, widthMm - 10, heightMm - 10];
}

/** Thick and thin line of the sheet (ISO 128): 0.5/0.25 up to A2, 0.7/0.35 for A1 and A0. */
export const penPair = ({ size }: Paper): { thick: number; thin: number } =>
  size === 'A1' || size === 'A0' ? { thick: 0.7, thin: 0.35 } : { thick: 0.5, thin: 0.25 };

const FIELD = 50; // mm, length of a zone counted from the centre (ISO 5457)
const STRIP = 5; // mm, the band around the frame that carries letters and numbers
const LETTERS = 'ABCDEFGHJKLMNPQRSTUVWXYZ';

/** Borders of zones from low to high along one side, both frame ends included; the outermost take the remainder. */
function zoneBorders(from: number, to: number, centre: number): number[] {
  const borders = [centre];
  for (let at = centre + FIELD; at < to - FIELD / 2; at += FIELD) borders.push(at);
  for (let at = centre - FIELD; at > from + FIELD / 2; at -= FIELD) borders.unshift(at);
  return [from, ...borders, to];
}

function zones(paper: Paper): { columns: number[]; rows: number[] } {
  const { widthMm, heightMm } = paperSize(paper);
  const [x0, y0, x1, y1] = frameBox(paper);
  return { columns: zoneBorders(x0, x1, widthMm / 2), rows: zoneBorders(y0, y1, heightMm / 2) };
}

/**
 * The zone of a point, like `C4`: letters from top to bottom without I and O, numbers from left to right (ISO 5457).
 */
export function zoneOf(paper: Paper, [x, y]: Vec2): string {
  const { columns, rows } = zones(paper);
  const within = (borders: readonly number[], value: number) =>
    Math.min(borders.length - 2, Math.max(0, borders.findIndex((border) => border > value) - 1));
  return `${LETTERS[within(rows, Math.min(y, rows[rows.length - 1] - 1e-9))]}${within(columns, Math.min(x, columns[columns.length - 1] - 1e-9)) + 1}`;
}

/** Frame, centring marks, and the zone band around it; on A4 zones stand at the top and right only (ISO 5457). */
export function drawFrame(paper: Paper): Mark[] {
  const source: MarkSource = { kind: 'frame', id: 'frame' };
  const { widthMm, heightMm } = paperSize(paper);
  const [x0, y0, x1, y1] = frameBox(paper);
  const { columns, rows } = zones(paper);
  const marks: Mark[] = [
    boxMark(source, [x0, y0, x1, y1], 0.7),
    boxMark(source, [x0 - STRIP, y0 - STRIP, x1 + STRIP, y1 + STRIP], 0.35),
  ];
  const sidesX = paper.size === 'A4' ? [y0] : [y0, y1],
    sidesY = paper.size === 'A4' ? [x1] : [x0, x1];
  const outwards = (edge: number, low: number) => (edge === low ? -STRIP : STRIP);
  columns.forEach((x, at) => {
    for (const y of sidesX) {
      if (at > 0 && at < columns.length - 1) marks.push(lineMark(source, [x, y], [x, y + outwards(y, y0)], 0.35));
      if (at + 1 < columns.length)
        marks.push(textMark(source, String(at + 1), (x + columns[at + 1]) / 2, y + outwards(y, y0) / 2, 2.5, 'centre'));
    }
  });
  rows.forEach((y, at) => {
    for (const x of sidesY) {
      if (at > 0 && at < rows.length - 1) marks.push(lineMark(source, [x, y], [x + outwards(x, x0), y], 0.35));
      if (at + 1 < rows.length)
        marks.push(textMark(source, LETTERS[at], x + outwards(x, x0) / 2, (y + rows[at + 1]) / 2, 2.5, 'centre'));
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
