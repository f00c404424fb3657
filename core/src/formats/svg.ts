import { withFitSigns } from '../assembly/index.ts';
import type { Box2 } from '../geometry/index.ts';
import { DASHES, letteringFonts, turnOf, type Mark, type Scene } from '../marks/index.ts';
import type { TangentLook } from '../views/index.ts';

/** How fonts are named in the SVG, and the `@font-face` rules that make them available, if any. */
interface SvgFonts {
  readonly css: string;
}

/** Family name under which a lettering font is asked for. */
export const fontFamily = (font: number): string => `lettering-${letteringFonts[font].name}`;

/** A scene as SVG in mm, one unit per mm; text stays text, each character at its own x. */
export function sceneToSvg(scene: Scene, fonts: SvgFonts = { css: '' }): string {
  const body = scene.marks.map(markToSvg).join('\n');
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${scene.widthMm}mm" height="${scene.heightMm}mm" viewBox="0 0 ${scene.widthMm} ${scene.heightMm}">`,
    `<title>${escapeXml(scene.title)}</title>`,
    `<style>${fonts.css}text{font-kerning:none;font-variant-ligatures:none;white-space:pre;direction:ltr;unicode-bidi:bidi-override}</style>`,
    `<rect width="${scene.widthMm}" height="${scene.heightMm}" fill="#fff"/>`,
    `<g fill="none" stroke="#000" stroke-linecap="round" stroke-linejoin="round">`,
    body,
    '</g>',
    '</svg>',
    '',
  ].join('\n');
}

const DIGITS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
/** RFC 4648; the same in the page and outside of it. */
function base64(bytes: Uint8Array): string {
  const pieces: string[] = [];
  for (let at = 0; at < bytes.length; at += 3) {
    const three = (bytes[at] << 16) | ((bytes[at + 1] ?? 0) << 8) | (bytes[at + 2] ?? 0);
    pieces.push(
      DIGITS[three >> 18] +
        DIGITS[(three >> 12) & 63] +
        (at + 1 < bytes.length ? DIGITS[(three >> 6) & 63] : '=') +
        (at + 2 < bytes.length ? DIGITS[three & 63] : '='),
    );
  }
  return pieces.join('');
}

const n = (value: number): string => String(Number(value.toFixed(3)));

function markToSvg(mark: Mark): string {
  const id = `data-of="${mark.source.kind} ${escapeXml(mark.source.id)}"`;
  switch (mark.kind) {
    case 'stretches':
      return mark.ends.length === 0
        ? ''
        : `<path ${id} d="${stretchesPath(mark.ends)}" stroke-width="${n(mark.pen)}"${mark.grey ? ' stroke="#777"' : ''}${mark.dashed ? ` stroke-dasharray="${DASHES.map((dash) => n(dash * mark.pen)).join(' ')}"` : ''}/>`;
    case 'path': {
      const d = mark.points.map(([x, y], at) => `${at ? 'L' : 'M'}${n(x)} ${n(y)}`).join('') + (mark.closed ? 'Z' : '');
      return mark.filled
        ? `<path ${id} d="${d}" fill="#000" stroke="none"/>`
        : `<path ${id} d="${d}" stroke-width="${n(mark.pen)}"${mark.opaque ? ' fill="#fff"' : ''}/>`;
    }
    case 'circle': {
      const look = mark.filled
        ? 'fill="#000" stroke="none"'
        : `stroke-width="${n(mark.pen)}"${mark.opaque ? ' fill="#fff"' : ''}`;
      return `<circle ${id} cx="${n(mark.centre[0])}" cy="${n(mark.centre[1])}" r="${n(mark.radius)}" ${look}/>`;
    }
    case 'picture': {
      if (mark.png.length === 0) return '';
      const [x0, y0, x1, y1] = mark.box;
      const name = `within-${mark.source.id.replace(/[^\w-]/g, '_')}`;
      const clip = mark.within ? ` clip-path="url(#${name})"` : '';
      const border = mark.within
        ? `<clipPath id="${name}"><polygon points="${mark.within.map(([x, y]) => `${n(x)},${n(y)}`).join(' ')}"/></clipPath>`
        : '';
      return `${border}<image ${id} x="${n(x0)}" y="${n(y0)}" width="${n(x1 - x0)}" height="${n(y1 - y0)}" preserveAspectRatio="none"${clip} href="data:image/png;base64,${base64(mark.png)}"/>`;
    }
    case 'text': {
      const turn = turnOf(mark);
      const texts = mark.runs
        .map((run) => {
          if (run.font < 0)
            return run.x
              .map(
                (x) =>
                  `<rect ${id} x="${n(mark.at[0] + x + 0.1 * mark.height)}" y="${n(mark.at[1] - mark.height)}" width="${n(0.6 * mark.height)}" height="${n(mark.height)}" stroke-width="${n(mark.height / 12)}"/>`,
              )
              .join('');
          const weight = letteringFonts[run.font].weight === 'bold' ? ' font-weight="700"' : '';
          return `<text ${id} x="${run.x.map((x) => n(mark.at[0] + x)).join(' ')}" y="${n(mark.at[1])}" font-family="${fontFamily(run.font)},sans-serif"${weight} font-size="${n(mark.size)}" fill="#000" stroke="none">${escapeXml(run.text)}</text>`;
        })
        .join('');
      return turn ? `<g transform="${turn}">${texts}</g>` : texts;
    }
  }
}

/** Neighbouring stretches that meet are joined into one run. */
export function stretchesPath(ends: Float64Array): string {
  let path = '';
  let lastX = NaN,
    lastY = NaN;
  for (let at = 0; at < ends.length; at += 4) {
    const [x1, y1, x2, y2] = [ends[at], ends[at + 1], ends[at + 2], ends[at + 3]];
    if (x1 !== lastX || y1 !== lastY) path += `M${n(x1)} ${n(y1)}`;
    path += `L${n(x2)} ${n(y2)}`;
    lastX = x2;
    lastY = y2;
  }
  return path;
}

const escapeXml = (text: string): string =>
  withFitSigns(text).replace(/[&<>"]/g, (char) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[char]!);

/** Lines of a view at 1:1 as SVG, cropped to them; hidden lines dashed. */
export function viewToSvg(
  ends: Float64Array,
  kinds: Uint8Array,
  visible: Uint8Array,
  box: Box2,
  title: string,
  {
    hidden = true,
    tangent = 'thin',
    shade,
    hatch,
  }: {
    readonly hidden?: boolean;
    readonly tangent?: TangentLook;
    /** A PNG that fills the box, under the lines. */
    readonly shade?: Uint8Array | undefined;
    /** Lines of cut faces: x1, y1, x2, y2 each. */
    readonly hatch?: Float64Array;
  } = {},
): string {
  const size = Math.max(box[2] - box[0], box[3] - box[1], 1);
  const margin = size * 0.02;
  const pen = size / 800;
  const groups = { full: [] as number[], smooth: [] as number[], hidden: [] as number[] };
  for (let at = 0; at < kinds.length; at++) {
    const isTangent = kinds[at] === 2;
    if (visible[at] ? isTangent && tangent === 'none' : isTangent || !hidden) continue;
    groups[visible[at] ? (isTangent && tangent === 'thin' ? 'smooth' : 'full') : 'hidden'].push(
      ends[at * 4],
      -ends[at * 4 + 1],
      ends[at * 4 + 2],
      -ends[at * 4 + 3],
    );
  }
  const path = (list: number[], look: string) =>
    list.length ? `<path d="${stretchesPath(Float64Array.from(list))}" ${look}/>` : '';
  const width = box[2] - box[0] + 2 * margin,
    height = box[3] - box[1] + 2 * margin;
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${n(width)}mm" height="${n(height)}mm" viewBox="${n(box[0] - margin)} ${n(-box[3] - margin)} ${n(width)} ${n(height)}">`,
    `<title>${escapeXml(title)}</title>`,
    ...(shade
      ? [
          `<image x="${n(box[0])}" y="${n(-box[3])}" width="${n(box[2] - box[0])}" height="${n(box[3] - box[1])}" preserveAspectRatio="none" href="data:image/png;base64,${base64(shade)}"/>`,
        ]
      : []),
    '<g fill="none" stroke="#000" stroke-linecap="round">',
    path(groups.hidden, `stroke-width="${n(pen / 2)}" stroke="#999" stroke-dasharray="${n(pen * 6)} ${n(pen * 3)}"`),
    path(groups.smooth, `stroke-width="${n(pen / 2)}" stroke="#777"`),
    path(
      Array.from(hatch ?? [], (value, at) => (at % 2 === 0 ? value : -value)),
      `stroke-width="${n(pen / 2)}"`,
    ),
    path(groups.full, `stroke-width="${n(pen)}"`),
    '</g>',
    '</svg>',
    '',
  ].join('\n');
}
