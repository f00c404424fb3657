import table from './advances.json' with { type: 'json' };

/** One shipped font file and what it can set. */
export interface LetteringFont {
  readonly name: string;
  /** Path below node_modules, a .woff. */
  readonly file: string;
  readonly weight: Weight;
  /** Height of capitals in thousandths of the size. */
  readonly capHeight: number;
}
export type Weight = 'regular' | 'bold';

/** All lettering fonts; text runs name them by index. The first that has a glyph sets it. */
export const letteringFonts: readonly LetteringFont[] = table as unknown as LetteringFont[];

const advances: readonly ReadonlyMap<number, number>[] = table.map(({ runs }) => {
  const map = new Map<number, number>();
  for (const [first, ...widths] of runs as number[][]) widths.forEach((width, at) => map.set(first + at, width));
  return map;
});
const order: Readonly<Record<Weight, readonly number[]>> = {
  regular: letteringFonts.flatMap((font, at) => (font.weight === 'regular' ? [at] : [])),
  bold: letteringFonts.flatMap((font, at) => (font.weight === 'bold' ? [at] : [])),
};
/** Width of the box drawn for a character that no shipped font has; thousandths of the size. */
const BOX_ADVANCE = 600;

/** A piece of text set in one font. */
export interface TextRun {
  /** Index into letteringFonts; -1 for characters that no shipped font has, to be drawn as boxes. */
  readonly font: number;
  readonly text: string;
  /** x of each character (code point), mm from the start of the whole text, ascending. */
  readonly x: readonly number[];
}
export interface MeasuredText {
  readonly runs: readonly TextRun[];
  readonly width: number;
}

/** Fonts are set by the size of their body; a drafter means the height of capitals (ISO 3098). */
export const bodySize = (capitalHeightMm: number): number => (capitalHeightMm * 1000) / letteringFonts[0].capHeight;

/**
 * Sets a single line of text: each character in the first font that has it, side by side without kerning or ligatures.
 * @param height height of capitals in mm
 */
export function measureText(text: string, height: number, weight: Weight = 'regular'): MeasuredText {
  const size = bodySize(height) / 1000;
  const runs: { font: number; text: string; x: number[] }[] = [];
  let x = 0;
  for (const char of text) {
    const code = char.codePointAt(0)!;
    const font = order[weight].find((candidate) => advances[candidate].has(code)) ?? -1;
    const last = runs[runs.length - 1];
    const run = last?.font === font ? last : { font, text: '', x: [] };
    if (run !== last) runs.push(run);
    run.text += char;
    run.x.push(x);
    x += (font < 0 ? BOX_ADVANCE : advances[font].get(code)!) * size;
  }
  return { runs, width: x };
}

/**
 * Breaks a text into lines no wider than `width`, at spaces where it can, inside a word where it must; nothing is
 * lost.
 */
export function wrapText(text: string, height: number, width: number, weight: Weight = 'regular'): string[] {
  const fits = (line: string) => measureText(line, height, weight).width <= width;
  const lines: string[] = [];
  let line = '';
  for (const word of text.split(/\s+/).filter(Boolean)) {
    const joined = line ? `${line} ${word}` : word;
    if (fits(joined)) {
      line = joined;
      continue;
    }
    if (line) lines.push(line);
    line = '';
    for (const char of word) {
      if (line && !fits(line + char)) {
        lines.push(line);
        line = '';
      }
      line += char;
    }
  }
  if (line || lines.length === 0) lines.push(line);
  return lines;
}
