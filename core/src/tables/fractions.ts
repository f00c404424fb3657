import { measureText, textMark, type Alignment, type Mark, type MarkSource, type Face } from '../marks/index.ts';

/** A fraction in a text: its figures around a fraction slash (U+2044), as it comes from formatted values. */
const FRACTION = /(\d+)\u2044(\d+)/u;
/** Of figures above and below a bar, in heights of the others; by as much they are raised and lowered. */
const SMALL = 0.62,
  RAISED = 0.38;

interface Piece {
  readonly text: string;
  /** mm */
  readonly height: number;
  /** Upwards; mm. */
  readonly raised: number;
}

/** The text in pieces of one height each. */
function piecesOf(text: string, height: number): Piece[] {
  const pieces: Piece[] = [];
  const put = (piece: string, size = height, raised = 0) => {
    if (piece !== '') pieces.push({ text: piece, height: size, raised });
  };
  let rest = text;
  for (let found = FRACTION.exec(rest); found; found = FRACTION.exec(rest)) {
    // The whole number stands close to it.
    put(rest.slice(0, found.index).replace(/(\d) $/, '$1'));
    put(found[1], height * SMALL, height * RAISED);
    put('\u2044');
    put(found[2], height * SMALL, -height * RAISED);
    rest = rest.slice(found.index + found[0].length);
  }
  put(rest);
  return pieces;
}

/** A line of text as `textMark` sets it, but for fractions: their figures stand small, above and below the bar. */
export function textMarks(
  source: MarkSource,
  text: string,
  x: number,
  y: number,
  height: number,
  align: Alignment,
  face: Face,
): Mark[] {
  if (!FRACTION.test(text)) return [textMark(source, text, x, y, height, align, face)];
  const pieces = piecesOf(text, height);
  const widths = pieces.map((piece) => measureText(piece.text, piece.height, face).width);
  const whole = widths.reduce((sum, width) => sum + width, 0);
  let at = align === 'left' ? x : align === 'right' ? x - whole : x - whole / 2;
  return pieces.map((piece, one) => {
    const mark = textMark(source, piece.text, at, y - piece.raised, piece.height, 'left', face);
    at += widths[one];
    return mark;
  });
}
