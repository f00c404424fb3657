import { boxesOverlap, stretchMeetsBox, type Box2, type Vec2 } from '../../geometry/index.ts';
import { boxMark, measureText, textMark, type Mark, type MarkSource } from '../../marks/index.ts';
import type { LaidView } from '../laid/laidView.ts';
import type { SheetLayout } from '../laid/layout.ts';
import type { SheetView } from '../records.ts';

/** Height of the letter of a detail; mm. */
const LETTER = 5;
/** How far from the border the middle of its letter may stand, nearest first; mm. */
const LETTER_AWAY = [0.7, 1.3, 2.2].map((share) => share * LETTER);
/** Places around the border that are tried, anticlockwise from the upper right. */
const LETTER_PLACES = 16;

/** Borders of enlarged details, and of what they enlarge with the letter beside it. */
export function drawRegions(layout: Pick<SheetLayout, 'views' | 'balloons' | 'dimensions'>, pen: number): Mark[] {
  const marks: Mark[] = [];
  const letters: Box2[] = [];
  for (const { view, toPaper, drawn } of layout.views) {
    const source: MarkSource = { kind: 'view', id: view.id };
    if (view.detail) marks.push(borderMark(source, view.detail, view.centre, view.scale, pen));
    for (const { view: other } of layout.views) {
      const { detail } = other;
      if (detail?.of !== view.id) continue;
      const at = toPaper(...detail.centre);
      marks.push(borderMark(source, detail, at, view.scale, pen));
      const { width } = measureText(detail.letter, LETTER);
      const stretches = { ends: drawn().ends, toPaper };
      const [x, y] = letterPlace(at, detail, view.scale, width, stretches, layout, letters);
      letters.push(letterBox([x, y], width));
      marks.push(textMark(source, detail.letter, x, y, LETTER, 'centre'));
    }
  }
  return marks;
}

function borderMark(
  source: MarkSource,
  { radius, half }: Pick<NonNullable<SheetView['detail']>, 'radius' | 'half'>,
  centre: Vec2,
  scale: number,
  pen: number,
): Mark {
  if (!half) return { kind: 'circle', source, centre, radius: radius * scale, pen };
  const [x, y] = centre,
    [dx, dy] = half.map((side) => side * scale);
  return boxMark(source, [x - dx, y - dy, x + dx, y + dy], pen);
}

const letterBox = ([x, y]: Vec2, width: number): Box2 => [x - width, y - LETTER * 0.75, x + width, y + LETTER * 0.75];

/** Beside the border, where it lies on the fewest lines; of places alike the nearest to the upper right. */
function letterPlace(
  [cx, cy]: Vec2,
  { radius, half, centre: [mx, my] }: NonNullable<SheetView['detail']>,
  scale: number,
  width: number,
  { ends, toPaper }: { ends: Float64Array; toPaper: LaidView['toPaper'] },
  { balloons, dimensions }: Pick<SheetLayout, 'balloons' | 'dimensions'>,
  letters: readonly Box2[],
): Vec2 {
  const places = LETTER_AWAY.flatMap((away) =>
    Array.from({ length: LETTER_PLACES }, (_, at): Vec2 => {
      // To both sides of the upper right in turn.
      const turn = Math.PI / 4 + ((at % 2 === 0 ? -1 : 1) * Math.ceil(at / 2) * 2 * Math.PI) / LETTER_PLACES;
      const [across, up] = [Math.cos(turn), Math.sin(turn)];
      const [dx, dy] = (half ?? [radius, radius]).map((side) => side * scale);
      // On a box the ray ends where it leaves the sides.
      const reach = half ? Math.min(dx / Math.abs(across), dy / Math.abs(up)) : dx;
      return [cx + across * (reach + away), cy - up * (reach + away)];
    }),
  );
  const boxes = places.map((place) => letterBox(place, width));
  const far = (radius * scale + LETTER_AWAY[LETTER_AWAY.length - 1] + LETTER) * 1.5;
  const crossed = boxes.map((box): number => (letters.some((other) => boxesOverlap(box, other)) ? 1000 : 0));
  const cross = (a: Vec2, b: Vec2, weight: number) =>
    boxes.forEach((box, at) => {
      if (stretchMeetsBox(a, b, box)) crossed[at] += weight;
    });
  // A view has tens of thousands of lines, and this is done at every move of the pointer: most are told apart by numbers.
  const reach = far / scale;
  for (let at = 0; at < ends.length; at += 4) {
    const x0 = ends[at] - mx,
      y0 = ends[at + 1] - my,
      x1 = ends[at + 2] - mx,
      y1 = ends[at + 3] - my;
    if ((x0 > reach && x1 > reach) || (x0 < -reach && x1 < -reach)) continue;
    if ((y0 > reach && y1 > reach) || (y0 < -reach && y1 < -reach)) continue;
    cross(toPaper(ends[at], ends[at + 1]), toPaper(ends[at + 2], ends[at + 3]), 1);
  }
  for (const { leader, box: balloon } of balloons) {
    leader.slice(1).forEach((to, at) => cross(leader[at], to, 10));
    boxes.forEach((box, at) => {
      if (boxesOverlap(box, balloon)) crossed[at] += 1000;
    });
  }
  for (const { box } of dimensions)
    boxes.forEach((own, at) => {
      if (boxesOverlap(own, box)) crossed[at] += 100;
    });
  return places[crossed.indexOf(Math.min(...crossed))];
}

/** The border of an enlarged detail on paper. */
export function borderOf({ detail, centre: [x, y], scale }: SheetView): Vec2[] {
  const [dx, dy] = (detail?.half ?? [0, 0]).map((side) => side * scale);
  if (detail?.half)
    return [
      [x - dx, y - dy],
      [x + dx, y - dy],
      [x + dx, y + dy],
      [x - dx, y + dy],
    ];
  const radius = (detail?.radius ?? 0) * scale;
  return Array.from({ length: 96 }, (_, at): Vec2 => {
    const turn = (2 * Math.PI * at) / 96;
    return [x + radius * Math.cos(turn), y + radius * Math.sin(turn)];
  });
}
