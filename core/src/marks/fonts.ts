import table from './advances.json' with { type: 'json' };
import { inVisualOrder, isTurned } from './order.ts';

/** One shipped font file and what it can set. */
interface LetteringFont {
  readonly name: string;
  /** Path below node_modules, a .woff or .woff2. */
  readonly file: string;
  readonly weight: Weight;
  /** Height of capitals in thousandths of the size. */
  readonly capHeight: number;
}
export type Weight = 'regular' | 'bold';
/**
 * How a text is lettered: in the usual family or in the narrow one, in either weight. A character that the family does not
 * have is set by the next one that does.
 */
export type Face = Weight | 'narrow' | 'narrowBold';
const weightIn: Record<Face, Weight> = { regular: 'regular', bold: 'bold', narrow: 'regular', narrowBold: 'bold' };
/** Fonts of the narrow family begin so. */
const NARROW = 'barlow-semi-condensed-';
const isNarrow = (face: Face): boolean => face === 'narrow' || face === 'narrowBold';

/** All lettering fonts; text runs name them by index. The first that has a glyph sets it. */
export const letteringFonts: readonly LetteringFont[] = table as unknown as LetteringFont[];

/** What is known of a font's glyphs: pieces of neighbouring characters, and scattered ones that are all equally wide. */
interface Glyphs {
  readonly runs: readonly (readonly number[])[];
  /** Advance, then first character and count of each piece, each counted from the end of the piece before. */
  readonly alike?: readonly number[];
  /** Marks that stand on another character: character and the middle of what is drawn, from where it is drawn. */
  readonly marks?: readonly (readonly [number, number])[];
}

/** One glyph: the font that has it, its advance, and of marks the middle of what is drawn; thousandths of the size. */
interface Glyph {
  readonly font: number;
  readonly advance: number;
  readonly middle?: number;
}

const allGlyphs: Record<Face, ReadonlyMap<number, Glyph> | null> = {
  regular: null,
  bold: null,
  narrow: null,
  narrowBold: null,
};

/** Of each character the first font that has it; where none is bold, a regular one. */
function glyphsOf(face: Face): ReadonlyMap<number, Glyph> {
  const known = allGlyphs[face];
  if (known) return known;
  const weight = weightIn[face];
  const found = new Map<number, Glyph>();
  const order = letteringFonts.map((_, at) => at).filter((at) => letteringFonts[at].weight === weight);
  const others = weight === 'bold' ? letteringFonts.map((_, at) => at).filter((at) => !order.includes(at)) : [];
  const isOther = (at: number) => isNarrow(face) && !letteringFonts[at].name.startsWith(NARROW);
  for (const font of [...order, ...others].toSorted((a, b) => Number(isOther(a)) - Number(isOther(b)))) {
    const { runs, alike = [], marks = [] } = (table as unknown as Glyphs[])[font];
    const add = (code: number, glyph: Glyph) => {
      if (!found.has(code)) found.set(code, glyph);
    };
    for (const [code, middle] of marks) add(code, { font, advance: 0, middle });
    for (const [first, ...widths] of runs) widths.forEach((advance, at) => add(first + at, { font, advance }));
    const [advance, ...pieces] = alike;
    for (let at = 0, end = 0; at < pieces.length; at += 2) {
      const first = end + pieces[at];
      end = first + pieces[at + 1];
      for (let code = first; code < end; code++) add(code, { font, advance });
    }
  }
  return (allGlyphs[face] = found);
}

/** Width of the box drawn for a character that no shipped font has; thousandths of the size. */
const BOX_ADVANCE = 600;

/** A piece of text set in one font. */
export interface TextRun {
  /** Index into letteringFonts; -1 for characters that no shipped font has, to be drawn as boxes. */
  readonly font: number;
  readonly text: string;
  /** x of each character (code point), mm from the start of the whole text. */
  readonly x: readonly number[];
}
interface MeasuredText {
  readonly runs: readonly TextRun[];
  readonly width: number;
  /** Of the body of its fonts; mm. */
  readonly size: number;
}

const capHeights = { usual: letteringFonts[0].capHeight, narrow: firstNarrow().capHeight };
function firstNarrow(): LetteringFont {
  const found = letteringFonts.find(({ name }) => name.startsWith(NARROW));
  if (!found) throw new Error(`No lettering font is called ${NARROW}…`);
  return found;
}

/** Fonts are set by the size of their body; a drafter means the height of capitals (ISO 3098). */
const bodySize = (capitalHeightMm: number, face: Face): number =>
  (capitalHeightMm * 1000) / capHeights[isNarrow(face) ? 'narrow' : 'usual'];

/**
 * Sets a single line of text: each character in the first font that has it, side by side without kerning or ligatures.
 * Characters come as they stand on paper from left to right; a mark stands on the middle of the character before it.
 * @param height height of capitals in mm
 */
export function measureText(text: string, height: number, face: Face = 'regular'): MeasuredText {
  const body = bodySize(height, face);
  const size = body / 1000;
  const glyphs = glyphsOf(face);
  const runs: { font: number; text: string; x: number[] }[] = [];
  let x = 0,
    /** Of the last character that is no mark. */
    base = { from: 0, advance: 0 };
  for (const char of isTurned(text) ? inVisualOrder(composed(text)) : composed(text)) {
    const { font, advance, middle } = glyphs.get(char.codePointAt(0)!) ?? noGlyph;
    const last = runs[runs.length - 1];
    const run = last?.font === font ? last : { font, text: '', x: [] };
    if (run !== last) runs.push(run);
    run.text += char;
    if (middle !== undefined) {
      run.x.push(base.from + (base.advance / 2 - middle) * size);
      continue;
    }
    run.x.push(x);
    base = { from: x, advance };
    x += advance * size;
  }
  return { runs, width: x, size: body };
}
const noGlyph: Glyph = { font: -1, advance: BOX_ADVANCE };

/** Letters and their marks in one character where there is one; most texts have no marks. */
const composed = (text: string): string => (/\p{M}/u.test(text) ? text.normalize('NFC') : text);

/** Where a word may be broken: behind a dash or a slash with something on both sides. */
const BREAK = /(?<=[^\s\-–—/\\][-–—/\\])(?=[^\s\-–—/\\])/u;
/** What of a text stays together on a line: words, broken behind dashes and slashes. */
export const wordPieces = (text: string): string[] => text.split(/\s+/).flatMap((word) => word.split(BREAK));

/**
 * Breaks a text into lines no wider than `width`: at spaces where it can, in a word that is too long behind dashes and
 * slashes, else where it must; nothing is lost.
 */
export function wrapText(text: string, height: number, width: number, face: Face = 'regular'): string[] {
  const fits = (line: string) => measureText(line, height, face).width <= width;
  const lines: string[] = [];
  let line = '';
  const end = () => {
    if (line) lines.push(line);
    line = '';
  };
  for (const word of text.split(/\s+/).filter(Boolean)) {
    const joined = line ? `${line} ${word}` : word;
    if (fits(joined)) {
      line = joined;
      continue;
    }
    end();
    if (fits(word)) {
      line = word;
      continue;
    }
    for (const piece of word.split(BREAK)) {
      if (fits(line + piece)) {
        line += piece;
        continue;
      }
      end();
      for (const char of piece) {
        if (line && !fits(line + char)) end();
        line += char;
      }
    }
  }
  if (line || lines.length === 0) lines.push(line);
  return lines;
}
