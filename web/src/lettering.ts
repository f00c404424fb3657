import { fontFamily } from '../../core/src/formats/index.ts';
import { letteringFonts } from '../../core/src/marks/index.ts';

const files = import.meta.glob<string>(
  [
    '../../node_modules/@fontsource/b612/files/b612-latin-{400,700}-normal.woff',
    '../../node_modules/@fontsource/barlow-semi-condensed/files/barlow-semi-condensed-*-{400,700}-normal.woff',
    '../../node_modules/@fontsource/source-sans-3/files/source-sans-3-*-{400,700}-normal.woff',
    '../../node_modules/@fontsource/noto-sans-arabic/files/noto-sans-arabic-arabic-400-normal.woff',
    '../../node_modules/@fontsource/noto-sans-hebrew/files/noto-sans-hebrew-hebrew-400-normal.woff',
    '../../node_modules/@fontsource/noto-sans-{sc,kr}/files/noto-sans-*-[0-9]*-400-normal.{woff,woff2}',
  ],
  { query: '?url', import: 'default', eager: true },
);

/** Registers the fonts that sheets are lettered with; each loads when a text first asks for it. */
export function loadLettering(): void {
  letteringFonts.forEach(({ file, weight }, font) => {
    const url = files[`../../node_modules/${file}`];
    if (!url) throw new Error(`The lettering font ${file} is not shipped with the page.`);
    const face = new FontFace(fontFamily(font), `url(${url})`, { weight: weight === 'bold' ? '700' : '400' });
    document.fonts.add(face);
    if (font === 0 || weight === 'bold') void face.load();
  });
}
