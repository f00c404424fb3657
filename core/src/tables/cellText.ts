import { measureText, wrapText, type Face } from '../marks/index.ts';
import { LEAST_SHRUNK, type CellText, type Overflow } from './model.ts';

/** Behind what is cut off. */
const CUT = '…';

/**
 * A text in a cell of a width: broken into lines, or lettered smaller, as far as that can be read, or cut.
 * @param width room for it; mm
 */
export function cellText(
  text: string,
  {
    width,
    indent,
    lettering,
    face,
    overflow,
  }: {
    readonly width: number;
    readonly indent: number;
    readonly lettering: number;
    readonly face: Face;
    readonly overflow: Overflow;
  },
): CellText {
  const room = width + 1e-6;
  const plain = { lettering, indent, isCut: false };
  if (overflow === 'wrap') return { ...plain, lines: wrapText(text, lettering, room, face) };
  const wide = measureText(text, lettering, face).width;
  if (wide <= room) return { ...plain, lines: [text] };
  if (overflow === 'cut') return { ...plain, lines: [cut(text, lettering, room, face)], isCut: true };
  const shrunk = (lettering * Math.max(0, room)) / wide;
  if (shrunk >= LEAST_SHRUNK) return { ...plain, lines: [text], lettering: shrunk };
  // Smaller than can be read: it is broken, at that least height.
  const least = Math.min(lettering, LEAST_SHRUNK);
  return { ...plain, lines: wrapText(text, least, room, face), lettering: least };
}

/** As much of the beginning as there is room for before the mark that something is missing. */
function cut(text: string, lettering: number, room: number, face: Face): string {
  const characters = [...text];
  let [low, high] = [0, characters.length];
  while (low < high) {
    const middle = Math.ceil((low + high) / 2);
    const kept = characters.slice(0, middle).join('').trimEnd() + CUT;
    if (measureText(kept, lettering, face).width <= room) low = middle;
    else high = middle - 1;
  }
  return characters.slice(0, low).join('').trimEnd() + CUT;
}
