export { letteringFonts, measureText, wordPieces, wrapText } from './fonts.ts';
export type { TextRun, Face, Weight } from './fonts.ts';
export { textAlong, textMark, turnOf, lineMark, boxMark, missingGlyphs, DASHES } from './marks.ts';
export type { Alignment, Mark, MarkSource, Scene } from './marks.ts';
