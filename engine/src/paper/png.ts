import { readFileSync } from 'node:fs';
import type * as Fontkit from 'fontkit';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { sceneToSvg } from '../../../core/src/formats/index.ts';
import { turnOf, type Mark, type Scene } from '../../../core/src/marks/index.ts';
import { fontFile } from './fontFiles.ts';
import { MOST_PIXELS, renderSvg } from './rendering.ts';

/** Dots per inch that a picture may have. */
export const FEWEST_DOTS = 20,
  MOST_DOTS = 1200;
const MM_PER_INCH = 25.4;

/**
 * A scene as a PNG picture on white. Texts are drawn as outlines of the shipped fonts, so that it looks alike whatever is
 * installed; the same scene gives the same bytes.
 * @throws Refusal where the picture would be too large
 */
export async function sceneToPng(scene: Scene, dotsPerInch: number): Promise<Uint8Array> {
  const scale = dotsPerInch / MM_PER_INCH;
  const pixels = scene.widthMm * scale * scene.heightMm * scale;
  if (!(dotsPerInch >= FEWEST_DOTS && dotsPerInch <= MOST_DOTS) || pixels > MOST_PIXELS)
    throw new Refusal(
      'too-many-dots',
      `A picture of ${Math.round(scene.widthMm)} × ${Math.round(scene.heightMm)} mm at ${dotsPerInch} dots per inch has too many dots; ${Math.floor(Math.min(MOST_DOTS, Math.sqrt(MOST_PIXELS / (scene.widthMm * scene.heightMm)) * MM_PER_INCH))} per inch is the most (${FEWEST_DOTS} the least).`,
    );
  // Loaded when it is needed: it takes longer to load than to use.
  const fontkit = await import('fontkit');
  const outlined: Scene = { ...scene, marks: scene.marks.filter(({ kind }) => kind !== 'text') };
  const texts = scene.marks.flatMap((mark) => {
    if (mark.kind !== 'text') return [];
    const turn = turnOf(mark);
    return turn ? [`<g transform="${turn}">`, ...textOutlines(mark, fontkit), '</g>'] : textOutlines(mark, fontkit);
  });
  const svg = sceneToSvg(outlined).replace('</svg>', `<g fill="#000">${texts.join('')}</g></svg>`);
  const { png } = await renderSvg(
    svg,
    { mode: 'width', value: Math.max(1, Math.round(scene.widthMm * scale)) },
    '#fff',
  );
  return png;
}

const fonts = new Map<number, Fontkit.Font>();
function fontOf(font: number, fontkit: typeof Fontkit): Fontkit.Font {
  let known = fonts.get(font);
  if (!known) fonts.set(font, (known = fontkit.create(readFileSync(fontFile(font))) as Fontkit.Font));
  return known;
}

function textOutlines(mark: Mark & { kind: 'text' }, fontkit: typeof Fontkit): string[] {
  return mark.runs.flatMap((run) => {
    if (run.font < 0)
      return run.x.map(
        (x) =>
          `<rect x="${mark.at[0] + x + 0.1 * mark.height}" y="${mark.at[1] - mark.height}" width="${0.6 * mark.height}" height="${mark.height}" fill="none" stroke="#000" stroke-width="${mark.height / 12}"/>`,
      );
    const font = fontOf(run.font, fontkit);
    const size = mark.size / font.unitsPerEm;
    return [...run.text].map((char, at) => {
      const outline = font.glyphForCodePoint(char.codePointAt(0)!).path.toSVG();
      return `<path transform="translate(${mark.at[0] + run.x[at]} ${mark.at[1]}) scale(${size} ${-size})" d="${outline}"/>`;
    });
  });
}
