import type { Box2, Vec2 } from '../geometry/index.ts';
import { measureText, type Face, type TextRun } from './fonts.ts';

/** What a mark on paper belongs to, so that it can be picked; a centre line to its view. */
export interface MarkSource {
  readonly kind:
    | 'frame'
    | 'titleBlock'
    | 'note'
    | 'view'
    | 'table'
    | 'balloon'
    | 'dimension'
    | 'centreLine'
    | 'hatching'
    | 'section'
    | 'cloud';
  readonly id: string;
}

interface MarkBase {
  readonly source: MarkSource;
}
/** All coordinates are paper mm, origin top left, y down. Pens are widths in mm. */
export type Mark =
  | (MarkBase & {
      readonly kind: 'stretches';
      /** x1, y1, x2, y2 each */ readonly ends: Float64Array;
      readonly pen: number;
      readonly grey?: boolean;
      /** Dashed, for what cannot be seen. */ readonly dashed?: boolean;
    })
  | (MarkBase & {
      readonly kind: 'path';
      readonly points: readonly Vec2[];
      readonly closed: boolean;
      readonly pen: number;
      /** Filled black instead of drawn. */ readonly filled?: boolean;
      /** White inside, where it is closed. */ readonly opaque?: boolean;
    })
  | (MarkBase & {
      readonly kind: 'circle';
      readonly centre: Vec2;
      readonly radius: number;
      readonly pen: number;
      readonly filled?: boolean;
      /** White inside, so that lines below end at it. */ readonly opaque?: boolean;
    })
  | (MarkBase & {
      readonly kind: 'picture';
      /** PNG; empty where it is got by its name. */ readonly png: Uint8Array;
      /** Under which it is kept, where it is. */ readonly blob?: string;
      /** Of which it is the small picture, where it is one. */ readonly shape?: string;
      readonly box: Box2;
      /** Nothing of it is seen outside of these points. */ readonly within?: readonly Vec2[];
    })
  | (MarkBase & {
      readonly kind: 'text';
      /** Left end of the base line. */ readonly at: Vec2;
      readonly runs: readonly TextRun[];
      /** Height of capitals, mm. */ readonly height: number;
      /** Of the body of its fonts, mm. */ readonly size: number;
      readonly width: number;
      readonly text: string;
      /** Turned about `at`, anticlockwise as it is looked at; radian, 0 where absent. */ readonly turn?: number;
    });

/** Dash and gap of hidden edges in widths of the pen (ISO 128-2, line 02.1). */
export const DASHES = [12, 3] as const;

/** Everything on one sheet, ready to be written. */
export interface Scene {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly title: string;
  readonly marks: readonly Mark[];
}

export type Alignment = 'left' | 'centre' | 'right';

/** A line of text whose left end, middle or right end stands at x, with its capitals centred on y. */
export function textMark(
  source: MarkSource,
  text: string,
  x: number,
  y: number,
  height: number,
  align: Alignment = 'left',
  face: Face = 'regular',
): Mark {
  const { runs, width, size } = measureText(text, height, face);
  const left = align === 'left' ? x : align === 'right' ? x - width : x - width / 2;
  return { kind: 'text', source, text, at: [left, y + height / 2], runs, height, size, width };
}

/** A line of text along a direction on paper, its middle at a point. @param way unit vector in which it reads */
export function textAlong(source: MarkSource, text: string, [x, y]: Vec2, way: Vec2, height: number): Mark {
  const { runs, width, size } = measureText(text, height);
  const down: Vec2 = [-way[1], way[0]];
  return {
    kind: 'text',
    source,
    text,
    at: [x - (way[0] * width) / 2 + (down[0] * height) / 2, y - (way[1] * width) / 2 + (down[1] * height) / 2],
    runs,
    height,
    size,
    width,
    turn: -Math.atan2(way[1], way[0]),
  };
}

/** For SVG: what turns a text as it is turned on paper; empty where it is not. */
export const turnOf = ({ at, turn = 0 }: Mark & { kind: 'text' }): string =>
  turn === 0 ? '' : `rotate(${((-turn * 180) / Math.PI).toFixed(4)} ${at[0].toFixed(4)} ${at[1].toFixed(4)})`;

export const lineMark = (source: MarkSource, from: Vec2, to: Vec2, pen: number): Mark => ({
  kind: 'path',
  source,
  points: [from, to],
  closed: false,
  pen,
});

export const boxMark = (source: MarkSource, [x0, y0, x1, y1]: Box2, pen: number): Mark => ({
  kind: 'path',
  source,
  points: [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
  ],
  closed: true,
  pen,
});

/** Characters that no shipped font has, in the order met. */
export function missingGlyphs(marks: readonly Mark[]): string[] {
  const missing = new Set<string>();
  for (const mark of marks)
    if (mark.kind === 'text')
      for (const run of mark.runs) if (run.font < 0) for (const char of run.text) missing.add(char);
  return [...missing];
}
