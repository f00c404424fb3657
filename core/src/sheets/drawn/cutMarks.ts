import { hypot, type Box2, type Vec2 } from '../../geometry/index.ts';
import { lineMark, textMark, type Mark, type MarkSource } from '../../marks/index.ts';
import type { HatchStyle } from '../../sections/index.ts';
import { ARROW, arrowhead } from '../laid/arrows.ts';
import { chain } from '../laid/chains.ts';
import type { LaidCuttingLine } from '../laid/cuttingLines.ts';
import { hatchingOf, type CutArea } from '../laid/hatching.ts';
import type { LaidView } from '../laid/laidView.ts';
import { usualSectionLook, type SectionLook } from '../section.ts';

/** How far a cutting line is wide at its ends and on both sides of its bends; mm. */
const WIDE_END = 6,
  WIDE_BEND = 4;

/** A cutting line: long-dashed dotted narrow, wide at ends and bends, with arrows and letters (ISO 128-3). */
export function drawCuttingLine(
  { section, letter, points, arrows, letters, lettering }: LaidCuttingLine,
  { thick, thin }: { readonly thick: number; readonly thin: number },
): Mark[] {
  const source: MarkSource = { kind: 'section', id: section };
  const wide = points.flatMap((point, at) => {
    const ends = at === 0 || at === points.length - 1;
    return [points[at - 1], points[at + 1]].flatMap((next) =>
      next ? piece(point, next, ends ? WIDE_END : WIDE_BEND) : [],
    );
  });
  return [
    { kind: 'stretches', source, ends: Float64Array.from(chain(points, thin)), pen: thin },
    { kind: 'stretches', source, ends: Float64Array.from(wide), pen: thick },
    ...arrows.flatMap(({ tail, tip }): Mark[] => [
      lineMark(source, tail, shortOf(tail, tip), thin),
      arrowhead(source, tail, tip),
    ]),
    ...letters.map(([x, y]) => textMark(source, letter, x, y, lettering, 'centre')),
  ];
}

/** The first so many mm of the way from one point to another, at most half of it. */
function piece(from: Vec2, to: Vec2, most: number): number[] {
  const size = hypot(to[0] - from[0], to[1] - from[1]);
  const share = Math.min(most / (size || 1), 0.5);
  return [from[0], from[1], from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])];
}

/** Where the shaft of an arrow ends: within its head. */
function shortOf(tail: Vec2, tip: Vec2): Vec2 {
  const size = hypot(tip[0] - tail[0], tip[1] - tail[1]) || 1;
  const share = 1 - ARROW / 2 / size;
  return [tail[0] + share * (tip[0] - tail[0]), tail[1] + share * (tip[1] - tail[1])];
}

/** Round a place or in a box nothing is hatched. */
export type HatchGap = { readonly at: Vec2; readonly radius: number } | { readonly box: Box2 };

const known = new WeakMap<
  readonly CutArea[],
  { readonly name: string; readonly styles: ReadonlyMap<string, HatchStyle>; readonly marks: readonly Mark[] }
>();

/**
 * The hatching of a section, interrupted where something is to be read. The same marks where nothing about it changed: a page
 * draws at every move of the pointer.
 */
export function drawHatching(
  { view, toPaper }: Pick<LaidView, 'view' | 'toPaper'>,
  areas: readonly CutArea[],
  styles: ReadonlyMap<string, HatchStyle>,
  gaps: readonly HatchGap[],
  { pen, look = usualSectionLook }: { readonly pen: number; readonly look?: SectionLook | undefined },
): readonly Mark[] {
  if (areas.length === 0 || view.section?.unhatched) return [];
  const byMaterial = view.section?.byMaterial ?? look.byMaterial === true;
  const { pitch } = look;
  const name = JSON.stringify([view.id, view.scale, toPaper(0, 0), pen, byMaterial, pitch, gaps]);
  const before = known.get(areas);
  if (before?.name === name && before.styles === styles) return before.marks;
  const { hatched, filled } = hatchingOf(areas, styles, { scale: view.scale, pen, byMaterial, pitch });
  const source: MarkSource = { kind: 'hatching', id: view.id };
  const placed = (ends: readonly number[]): number[] => {
    const out: number[] = [];
    for (let at = 0; at < ends.length; at += 2) out.push(...toPaper(ends[at], ends[at + 1]));
    return out;
  };
  const marks: readonly Mark[] = [
    { kind: 'stretches', source, ends: Float64Array.from(interrupted(placed(hatched), gaps)), pen },
    { kind: 'stretches', source, ends: Float64Array.from(placed(filled)), pen },
  ];
  known.set(areas, { name, styles, marks });
  return marks;
}

/** Lines without what of them lies in gaps. */
function interrupted(ends: readonly number[], gaps: readonly HatchGap[]): number[] {
  const boxes = gaps.map((gap): Box2 =>
    'box' in gap
      ? gap.box
      : [gap.at[0] - gap.radius, gap.at[1] - gap.radius, gap.at[0] + gap.radius, gap.at[1] + gap.radius],
  );
  const kept: number[] = [];
  for (let at = 0; at < ends.length; at += 4) {
    const [x0, y0, x1, y1] = [ends[at], ends[at + 1], ends[at + 2], ends[at + 3]];
    let shares: (readonly [number, number])[] = [[0, 1]];
    for (const [g, box] of boxes.entries()) {
      if (Math.min(x0, x1) > box[2] || Math.max(x0, x1) < box[0]) continue;
      if (Math.min(y0, y1) > box[3] || Math.max(y0, y1) < box[1]) continue;
      const gap = gaps[g];
      const off = 'box' in gap ? throughBox([x0, y0], [x1, y1], gap.box) : throughCircle([x0, y0], [x1, y1], gap);
      if (off)
        shares = shares.flatMap(([from, to]) =>
          [[from, Math.min(to, off[0])] as const, [Math.max(from, off[1]), to] as const].filter(([a, b]) => b > a),
        );
    }
    for (const [from, to] of shares)
      kept.push(x0 + from * (x1 - x0), y0 + from * (y1 - y0), x0 + to * (x1 - x0), y0 + to * (y1 - y0));
  }
  return kept;
}

function throughCircle([x0, y0]: Vec2, [x1, y1]: Vec2, { at: [cx, cy], radius }: { at: Vec2; radius: number }) {
  const [dx, dy, x, y] = [x1 - x0, y1 - y0, x0 - cx, y0 - cy];
  const a = dx * dx + dy * dy,
    b = x * dx + y * dy,
    square = b * b - a * (x * x + y * y - radius * radius);
  if (a === 0 || square <= 0) return null;
  const root = Math.sqrt(square);
  return within((-b - root) / a, (-b + root) / a);
}

function throughBox([x0, y0]: Vec2, [x1, y1]: Vec2, box: Box2): readonly [number, number] | null {
  let from = -Infinity,
    to = Infinity;
  for (const [start, way, low, high] of [
    [x0, x1 - x0, box[0], box[2]],
    [y0, y1 - y0, box[1], box[3]],
  ]) {
    if (way === 0) {
      if (start <= low || start >= high) return null;
      continue;
    }
    from = Math.max(from, Math.min((low - start) / way, (high - start) / way));
    to = Math.min(to, Math.max((low - start) / way, (high - start) / way));
  }
  return within(from, to);
}

const within = (from: number, to: number): readonly [number, number] | null =>
  from < to && to > 0 && from < 1 ? [Math.max(0, from), Math.min(1, to)] : null;
