// Writes core/src/marks/advances.json: the advance of every glyph in the shipped lettering fonts, in the order in which
// they are asked for a glyph. Run after a font package changes: npm run fonts
import { readFileSync, writeFileSync } from 'node:fs';
import * as fontkit from 'fontkit';

const files: Record<'regular' | 'bold', string[]> = { regular: [], bold: [] };
for (const [weight, number] of [
  ['regular', 400],
  ['bold', 700],
] as const) {
  files[weight].push(`@fontsource/b612/files/b612-latin-${number}-normal.woff`);
  for (const subset of ['latin', 'latin-ext', 'greek', 'greek-ext', 'cyrillic', 'cyrillic-ext', 'vietnamese']) {
    files[weight].push(`@fontsource/source-sans-3/files/source-sans-3-${subset}-${number}-normal.woff`);
  }
}

/** From the hmtx table itself: glyph.advanceWidth also reads the outline, which some subset files cut short. */
function advanceOf(font: fontkit.Font, glyph: number): number {
  const { metrics } = (
    font as unknown as { hmtx: { metrics: { length: number; get(at: number): { advance: number } } } }
  ).hmtx;
  return metrics.get(Math.min(glyph, metrics.length - 1)).advance;
}

const fonts = (['regular', 'bold'] as const).flatMap((weight) =>
  files[weight].map((file) => {
    const font = fontkit.create(readFileSync(`node_modules/${file}`)) as fontkit.Font;
    const runs: [first: number, ...advances: number[]][] = [];
    for (const code of [...font.characterSet].sort((a, b) => a - b)) {
      if (code < 32) continue;
      const advance = Math.round((advanceOf(font, font.glyphForCodePoint(code).id) * 1000) / font.unitsPerEm);
      const last = runs[runs.length - 1];
      if (last && last[0] + last.length - 1 === code) last.push(advance);
      else runs.push([code, advance]);
    }
    return {
      name: file.replace(/^.*\/|-normal\.woff$/g, ''),
      file,
      weight,
      capHeight: Math.round((font.capHeight * 1000) / font.unitsPerEm),
      runs,
    };
  }),
);
writeFileSync('core/src/marks/advances.json', `${JSON.stringify(fonts)}\n`);
console.log(
  `${fonts.length} fonts, ${fonts.reduce((sum, font) => sum + font.runs.reduce((all, run) => all + run.length - 1, 0), 0)} glyphs`,
);
