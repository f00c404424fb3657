// Writes core/src/marks/advances.json: the advance of every glyph in the shipped lettering fonts, in the order in which
// they are asked for a glyph. Run after a font package changes: npm run fonts
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
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

// Scripts that drawings are lettered in besides, in one weight.
for (const name of ['arabic', 'hebrew'])
  files.regular.push(`@fontsource/noto-sans-${name}/files/noto-sans-${name}-${name}-400-normal.woff`);
for (const name of ['sc', 'kr']) {
  const folder = `@fontsource/noto-sans-${name}/files`;
  const numbers = readdirSync(`node_modules/${folder}`)
    .flatMap((file) => /-(\d+)-400-normal\.woff$/.exec(file)?.[1] ?? [])
    .map(Number)
    .sort((a, b) => a - b);
  for (const number of numbers) files.regular.push(readable(`${folder}/noto-sans-${name}-${number}-400-normal`));
}

// The narrow family: what it lacks the others have.
for (const [weight, number] of [
  ['regular', 400],
  ['bold', 700],
] as const)
  for (const subset of ['latin', 'latin-ext', 'vietnamese'])
    files[weight].push(`@fontsource/barlow-semi-condensed/files/barlow-semi-condensed-${subset}-${number}-normal.woff`);

/** The .woff, unless that is cut short. */
function readable(file: string): string {
  try {
    void (fontkit.create(readFileSync(`node_modules/${file}.woff`)) as fontkit.Font).characterSet;
    return `${file}.woff`;
  } catch {
    return `${file}.woff2`;
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
    const widths = [...font.characterSet]
      .sort((a, b) => a - b)
      .filter((code) => code >= 32)
      .map((code) => ({ code, glyph: font.glyphForCodePoint(code) }))
      .map(({ code, glyph }) => ({
        code,
        glyph,
        advance: Math.round((advanceOf(font, glyph.id) * 1000) / font.unitsPerEm),
      }));
    const isMark = ({ code, advance }: { code: number; advance: number }) =>
      advance === 0 && /\p{M}/u.test(String.fromCodePoint(code));
    const marks = widths.filter(isMark).map(({ code, glyph }): [number, number] => {
      const { minX, maxX } = glyph.bbox;
      return [code, Math.round(((minX + maxX) * 500) / font.unitsPerEm)];
    });
    // Ideographs and their like: thousands of scattered characters, all equally wide.
    const common = commonest(widths.map(({ advance }) => advance));
    const isAlike = common.count > 50;
    const runs: [first: number, ...advances: number[]][] = [];
    const pieces: [first: number, end: number][] = [];
    for (const one of widths) {
      if (isMark(one)) continue;
      const { code, advance } = one;
      if (isAlike && advance === common.value) {
        const last = pieces.at(-1);
        if (last?.[1] === code) last[1]++;
        else pieces.push([code, code + 1]);
        continue;
      }
      const last = runs[runs.length - 1];
      if (last && last[0] + last.length - 1 === code) last.push(advance);
      else runs.push([code, advance]);
    }
    const alike = [
      common.value,
      ...pieces.flatMap(([first, end], at) => [first - (pieces[at - 1]?.[1] ?? 0), end - first]),
    ];
    return {
      name: file.replace(/^.*\/|-normal\.woff2?$/g, ''),
      file,
      weight,
      capHeight: Math.round((font.capHeight * 1000) / font.unitsPerEm),
      runs,
      ...(isAlike ? { alike } : {}),
      ...(marks.length > 0 ? { marks } : {}),
    };
  }),
);
function commonest(values: readonly number[]): { value: number; count: number } {
  const counts = new Map<number, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  const [value, count] = [...counts].reduce((most, one) => (one[1] > most[1] ? one : most), [0, 0]);
  return { value, count };
}

writeFileSync('core/src/marks/advances.json', `${JSON.stringify(fonts)}\n`);
console.log(`${fonts.length} fonts`);
