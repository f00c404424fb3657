import type { Workbook } from './workbook.ts';
import { childOf, childrenOf, within, type XmlElement } from './xml.ts';

/** The first colours that a number names (ECMA-376 part 1, 18.8.27); later ones are rare. */
const INDEXED =
  '000000 FFFFFF FF0000 00FF00 0000FF FFFF00 FF00FF 00FFFF 000000 FFFFFF FF0000 00FF00 0000FF FFFF00 FF00FF 00FFFF 800000 008000 000080 808000 800080 008080 C0C0C0 808080'.split(
    ' ',
  );

/** CSS colours of a workbook; null for the usual one. */
export function formColours(workbook: Workbook): (colour: XmlElement | undefined) => string | null {
  const [part] = workbook.related(workbook.bookPart, 'theme');
  const theme = themeColours(part === undefined ? null : workbook.look(part));
  return (colour) => {
    if (!colour) return null;
    const { attributes } = colour;
    const rgb = attributes.get('rgb');
    const found =
      rgb !== undefined
        ? rgb.slice(-6)
        : attributes.has('theme')
          ? theme[Number(attributes.get('theme'))]
          : INDEXED[Number(attributes.get('indexed') ?? -1)];
    if (!found || !/^[0-9a-f]{6}$/i.test(found)) return null;
    return tinted(found, Number(attributes.get('tint') ?? 0));
  };
}

/** In the order that cells name them: light and dark are changed about (18.8.3). */
function themeColours(theme: XmlElement | null): (string | undefined)[] {
  const scheme = theme ? [...within(theme, 'clrScheme')][0] : undefined;
  if (!scheme) return ['FFFFFF', '000000'];
  const all = childrenOf(scheme).map((one) => {
    const [system] = [childOf(one, 'sysClr')];
    return system?.attributes.get('lastClr') ?? childOf(one, 'srgbClr')?.attributes.get('val');
  });
  return [all[1], all[0], all[3], all[2], ...all.slice(4)];
}

/** Lighter (above 0) or darker; by each part of the colour, which is near enough for a picture. */
function tinted(rgb: string, tint: number): string {
  const parts = [0, 2, 4].map((at) => {
    const value = parseInt(rgb.slice(at, at + 2), 16);
    const made = tint < 0 ? value * (1 + tint) : value + (255 - value) * tint;
    return Math.round(Math.min(255, Math.max(0, made)))
      .toString(16)
      .padStart(2, '0');
  });
  return `#${parts.join('')}`;
}
