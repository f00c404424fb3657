import { hypot } from '../geometry/index.ts';
import type { SvgAttributes, SvgNode } from './svgNodes.ts';
import { identity, numbersIn, type Affine } from './transforms.ts';

/** mm to a unit of length (CSS Values 4, 6.2: 96 px to the inch). */
const UNITS: Readonly<Record<string, number>> = {
  mm: 1,
  cm: 10,
  m: 1000,
  in: 25.4,
  pt: 25.4 / 72,
  pc: 25.4 / 6,
  px: 25.4 / 96,
  '': 25.4 / 96,
};

/** From units of the file to mm, and the diagonal of its page in mm. */
export function pageOf({ attributes: a }: SvgNode): { transform: Affine; diagonal: number } {
  const box = numbersIn(a.viewBox ?? '');
  const size = (text: string | undefined): number | null => {
    const match = /^\s*([\d.]+)\s*(mm|cm|m|in|pt|pc|px|)\s*$/.exec(text ?? '');
    const value = match ? Number(match[1]) * UNITS[match[2]] : NaN;
    return value > 0 && Number.isFinite(value) ? value : null;
  };
  const [width, height] = [size(a.width), size(a.height)];
  const [x = 0, y = 0, w = 0, h = 0] = box;
  if (!(w > 0 && h > 0)) {
    const px = UNITS.px;
    return { transform: [px, 0, 0, px, 0, 0], diagonal: hypot(width ?? 1000, height ?? 1000) };
  }
  const scale =
    width !== null
      ? height !== null
        ? Math.min(width / w, height / h)
        : width / w
      : height !== null
        ? height / h
        : UNITS.px;
  return { transform: [scale, 0, 0, scale, -x * scale, -y * scale], diagonal: hypot(w, h) * scale };
}
export const mmOnly = ([a, , , d]: Affine): Affine => [a, 0, 0, d, 0, 0];
export const inverseScale = ([a, , , d]: Affine): Affine => [1 / a, 0, 0, 1 / d, 0, 0];

/** How a symbol's own box is fitted into the size of its use (SVG 2, 8.7, the usual preserveAspectRatio). */
export function viewBoxOf({ attributes }: SvgNode, use: SvgAttributes): Affine {
  const [x = 0, y = 0, w = 0, h = 0] = numbersIn(attributes.viewBox ?? '');
  const length = (name: 'width' | 'height'): number => {
    const said = use[name] ?? attributes[name];
    return said === undefined || said.endsWith('%') ? NaN : (numbersIn(said)[0] ?? NaN);
  };
  const [width, height] = [length('width'), length('height')];
  if (!(w > 0 && h > 0)) return identity;
  const scale = Math.min(...[width / w, height / h].filter((value) => value > 0 && Number.isFinite(value)), Infinity);
  const by = Number.isFinite(scale) ? scale : 1;
  const [restX, restY] = [
    Number.isFinite(width) ? (width - w * by) / 2 : 0,
    Number.isFinite(height) ? (height - h * by) / 2 : 0,
  ];
  return [by, 0, 0, by, restX - x * by, restY - y * by];
}
