export { letteringFonts, measureText, wrapText, bodySize } from './fonts.ts';
export type { LetteringFont, MeasuredText, TextRun, Weight } from './fonts.ts';
export { textMark, lineMark, boxMark, missingGlyphs, DASHES } from './marks.ts';
export type { Alignment, Mark, MarkSource, Scene } from './marks.ts';
