import { moveBox, uniteBoxes2, type Box2, type Vec2 } from '../../geometry/index.ts';
import type { Mark, MarkSource, Scene } from '../../marks/index.ts';
import type { DrawnSheet } from './drawSheet.ts';

/** White around a view that stands alone; mm. */
const MARGIN = 5;

/**
 * One view of a sheet by itself, with its caption and balloons, as large as on the sheet: a figure for a document.
 * @returns null where the view is not on the sheet
 */
export function figureOf({ scene, layout }: DrawnSheet, view: string): Scene | null {
  const laid = layout.views.find((one) => one.view.id === view);
  if (!laid) return null;
  const balloons = layout.balloons.filter(({ balloon }) => balloon.view === view);
  const dimensions = layout.dimensions.filter(({ dimension }) => dimension.view === view);
  const box = [
    laid.captionBox,
    ...dimensions.map((one) => one.box),
    ...balloons.flatMap(({ box: own, leader }): Box2[] => [own, ...leader.map(([px, py]): Box2 => [px, py, px, py])]),
  ].reduce<Box2>((all, one) => (one ? uniteBoxes2(all, one) : all), laid.box);
  const own = new Set([
    ...balloons.map(({ balloon }) => `balloon ${balloon.id}`),
    ...dimensions.map(({ dimension }) => `dimension ${dimension.id}`),
  ]);
  const isOwn = ({ kind, id }: MarkSource): boolean =>
    ((kind === 'view' || kind === 'centreLine' || kind === 'hatching') && id === view) || own.has(`${kind} ${id}`);
  const [dx, dy] = [MARGIN - box[0], MARGIN - box[1]];
  const framed = moveBox(box, dx, dy);
  return {
    widthMm: framed[2] + MARGIN,
    heightMm: framed[3] + MARGIN,
    title: laid.captionText || scene.title,
    marks: scene.marks.filter(({ source }) => isOwn(source)).map((mark) => moved(mark, dx, dy)),
  };
}

function moved(mark: Mark, dx: number, dy: number): Mark {
  const by = ([x, y]: Vec2): Vec2 => [x + dx, y + dy];
  switch (mark.kind) {
    case 'stretches':
      return { ...mark, ends: mark.ends.map((value, at) => value + (at % 2 === 0 ? dx : dy)) };
    case 'path':
      return { ...mark, points: mark.points.map(by) };
    case 'circle':
      return { ...mark, centre: by(mark.centre) };
    case 'picture':
      return {
        ...mark,
        box: moveBox(mark.box, dx, dy),
        ...(mark.within ? { within: mark.within.map(by) } : {}),
      };
    case 'text':
      return { ...mark, at: by(mark.at) };
  }
}
