import { createRequire } from 'node:module';
import { letteringFonts } from '../../../core/src/marks/index.ts';

const resolveFrom = createRequire(import.meta.url);

/** Path of a shipped font file. */
export const fontFile = (font: number): string => resolveFrom.resolve(letteringFonts[font].file);
