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

/** What classes of a style sheet say about fill and stroke; other selectors are passed over. */
export function readClasses(sheets: readonly string[]): ReadonlyMap<string, string> {
  const classes = new Map<string, string>();
  for (const sheet of sheets)
    for (const [, selectors, body] of sheet.slice(0, 200_000).matchAll(/([^{}]+)\{([^{}]*)\}/g))
      for (const selector of selectors.split(',')) {
        const name = /^\s*(?:[a-z]+)?\.([\w-]+)\s*$/.exec(selector)?.[1];
        if (name) classes.set(name, `${classes.get(name) ?? ''};${body}`);
      }
  return classes;
}

/** What an element says, over what it is in. */
export function paintOf({ attributes: a }: SvgNode, outer: Paint, classes: ReadonlyMap<string, string>): Paint {
  if (a.fill === undefined && a.stroke === undefined && a.style === undefined && a.class === undefined) return outer;
  const said = [...(a.class ?? '').split(/\s+/).map((name) => classes.get(name) ?? ''), a.style ?? ''].join(';');
  const last = (name: string): string | undefined =>
    [...said.matchAll(new RegExp(`(?:^|;)\\s*${name}\\s*:\\s*([^;!]+)`, 'g'))].at(-1)?.[1] ?? a[name];
  const fill = last('fill'),
    stroke = last('stroke');
  const taken = (text: string | undefined, before: number | null): number | null =>
    text === undefined || /^(inherit|currentcolor)$/i.test(text.trim()) ? before : colourOf(text);
  return { fill: taken(fill, outer.fill), stroke: taken(stroke, outer.stroke) };
}
/** Whether an element is not shown. */
export const isHidden = ({ attributes: a }: SvgNode): boolean =>
  a.display === 'none' || a.visibility === 'hidden' || /display\s*:\s*none|visibility\s*:\s*hidden/.test(a.style ?? '');
