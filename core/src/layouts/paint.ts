import type { SvgNode } from './svgNodes.ts';

/** How an element is painted; null for nothing. */
export interface Paint {
  /** 0xRRGGBB; −1 for a colour that is not known. */
  readonly fill: number | null;
  readonly stroke: number | null;
}
/** As SVG has it where nothing is said: filled in black, without a line. */
export const usualPaint: Paint = { fill: 0, stroke: null };

/** The sixteen names of HTML 4 and some that drawings use. */
const NAMED: ReadonlyMap<string, number> = new Map(
  Object.entries({
    black: 0x000000,
    white: 0xffffff,
    gray: 0x808080,
    grey: 0x808080,
    silver: 0xc0c0c0,
    lightgray: 0xd3d3d3,
    lightgrey: 0xd3d3d3,
    red: 0xff0000,
    maroon: 0x800000,
    orange: 0xffa500,
    yellow: 0xffff00,
    olive: 0x808000,
    lime: 0x00ff00,
    green: 0x008000,
    aqua: 0x00ffff,
    cyan: 0x00ffff,
    teal: 0x008080,
    blue: 0x0000ff,
    navy: 0x000080,
    fuchsia: 0xff00ff,
    magenta: 0xff00ff,
    purple: 0x800080,
    brown: 0xa52a2a,
  }),
);

function colourOf(text: string): number | null {
  const word = text.trim().toLowerCase();
  if (word === 'none' || word === 'transparent') return null;
  const hex = /^#([0-9a-f]{3}|[0-9a-f]{6})$/.exec(word)?.[1];
  if (hex) return parseInt(hex.length === 3 ? [...hex].map((one) => one + one).join('') : hex, 16);
  const rgb = /^rgb\(\s*(\d{1,3})[\s,]+(\d{1,3})[\s,]+(\d{1,3})/.exec(word);
  if (rgb) return (Number(rgb[1]) << 16) | (Number(rgb[2]) << 8) | Number(rgb[3]);
  return NAMED.get(word) ?? -1;
}

/** What a class or a style says of fill and stroke, as written; what it does not say is absent. */
export interface Said {
  readonly fill?: string;
  readonly stroke?: string;
}

/** Letters of style sheets that are read; more is no style of a drawing. */
const MOST_SHEET = 200_000;
/** What classes of style sheets say about fill and stroke; other selectors are passed over. */
export function readClasses(sheets: readonly string[]): ReadonlyMap<string, Said> {
  const classes = new Map<string, Said>();
  for (const sheet of sheets)
    for (const [selectors, body] of rulesOf(sheet.slice(0, MOST_SHEET))) {
      const said = saidIn(body);
      for (const selector of selectors.split(',')) {
        const name = /^\s*(?:[a-z]+)?\.([\w-]+)\s*$/.exec(selector)?.[1];
        if (name) classes.set(name, { ...classes.get(name), ...said });
      }
    }
  return classes;
}

/** Selectors and bodies of the innermost rules of a style sheet, brace by brace: one look, however they stand. */
function* rulesOf(sheet: string): Generator<readonly [selectors: string, body: string]> {
  let selectors: string | null = null,
    from = 0;
  for (const { 0: brace, index } of sheet.matchAll(/[{}]/g)) {
    if (brace === '{') selectors = sheet.slice(from, index);
    else if (selectors !== null) {
      yield [selectors, sheet.slice(from, index)];
      selectors = null;
    }
    from = index + 1;
  }
}

/** The last that declarations say of fill and stroke. */
function saidIn(declarations: string): Said {
  const said: { fill?: string; stroke?: string } = {};
  for (const declaration of declarations.split(';')) {
    const colon = declaration.indexOf(':');
    const name = declaration.slice(0, Math.max(0, colon)).trim();
    if (name === 'fill' || name === 'stroke')
      said[name] = declaration
        .slice(colon + 1)
        .split('!')[0]
        .trim();
  }
  return said;
}

/** What an element says, over what it is in. */
export function paintOf({ attributes: a }: SvgNode, outer: Paint, classes: ReadonlyMap<string, Said>): Paint {
  if (a.fill === undefined && a.stroke === undefined && a.style === undefined && a.class === undefined) return outer;
  const said: Said = Object.assign(
    { ...(a.fill === undefined ? {} : { fill: a.fill }), ...(a.stroke === undefined ? {} : { stroke: a.stroke }) },
    ...(a.class ?? '').split(/\s+/).map((name) => classes.get(name)),
    saidIn(a.style ?? ''),
  );
  const taken = (text: string | undefined, before: number | null): number | null =>
    text === undefined || /^(inherit|currentcolor)$/i.test(text.trim()) ? before : colourOf(text);
  return { fill: taken(said.fill, outer.fill), stroke: taken(said.stroke, outer.stroke) };
}
/** Whether an element is not shown. */
export const isHidden = ({ attributes: a }: SvgNode): boolean =>
  a.display === 'none' || a.visibility === 'hidden' || /display\s*:\s*none|visibility\s*:\s*hidden/.test(a.style ?? '');
