import { readFile } from 'node:fs/promises';
import { fontFamily } from '../../../core/src/formats/index.ts';
import { letteringFonts, type Scene } from '../../../core/src/marks/index.ts';
import { fontFile } from './fontFiles.ts';

/** `@font-face` rules with the fonts that a scene uses inside, so that the SVG looks alike wherever it is opened. */
export async function embeddedFonts(scene: Scene): Promise<{ css: string }> {
  const used = new Set(
    scene.marks
      .flatMap((mark) => (mark.kind === 'text' ? mark.runs.map((run) => run.font) : []))
      .filter((font) => font >= 0),
  );
  const rules = await Promise.all(
    [...used]
      .sort((a, b) => a - b)
      .map(async (font) => {
        const data = (await readFile(fontFile(font))).toString('base64');
        const kind = letteringFonts[font].file.endsWith('.woff2') ? 'woff2' : 'woff';
        return `@font-face{font-family:"${fontFamily(font)}";font-weight:${letteringFonts[font].weight === 'bold' ? 700 : 400};src:url(data:font/${kind};base64,${data}) format("${kind}")}`;
      }),
  );
  return { css: rules.join('') };
}
