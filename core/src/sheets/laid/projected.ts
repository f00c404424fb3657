import { boxHeight, boxWidth, type Vec2 } from '../../geometry/index.ts';
import { projectedDirection, type ProjectionSide, type ViewLines } from '../../views/index.ts';
import type { Projection, Sheet, SheetView } from '../records.ts';

/** Between a view and one that is projected from it: room for a balloon and its leader on both sides; mm. */
const BETWEEN = 24;

/** Which way from its view a projected one stands on paper; y down. */
const ways: Readonly<Record<ProjectionSide, Vec2>> = {
  left: [-1, 0],
  right: [1, 0],
  above: [0, -1],
  below: [0, 1],
  'above-left': [-1, -1],
  'above-right': [1, -1],
  'below-left': [-1, 1],
  'below-right': [1, 1],
};

/** What is seen from a side of a view, standing where first or third angle puts it, aligned with it and at its scale. */
export function placeProjected(
  view: SheetView,
  lines: ViewLines,
  side: ProjectionSide,
  projection: Projection,
  id: string,
  drawn: ViewLines,
): SheetView {
  const [x, y] = ways[side].map((way) => (projection === 'third' ? way : -way));
  const half = (of: ViewLines): Vec2 => [(boxWidth(of.box) * view.scale) / 2, (boxHeight(of.box) * view.scale) / 2];
  const [own, other] = [half(lines), half(drawn)];
  const { caption: _, detail: __, section: ___, ...like } = view;
  return {
    ...like,
    id,
    direction: projectedDirection(view.direction, side),
    centre: [view.centre[0] + x * (own[0] + other[0] + BETWEEN), view.centre[1] + y * (own[1] + other[1] + BETWEEN)],
    byHand: true,
    projectedFrom: { of: view.id, side },
  };
}

/** A place of a projected view that is in line with what it is projected from; one seen from a corner stands anywhere. */
export function alignedWith(side: ProjectionSide, parent: Vec2, [x, y]: Vec2): Vec2 {
  const [across, down] = ways[side];
  return down === 0 ? [x, parent[1]] : across === 0 ? [parent[0], y] : [x, y];
}

/** Where projected views of a sheet stand in the other angle: on the other side of what they are projected from. */
export function swapSides({ views }: Sheet): { readonly id: string; readonly centre: Vec2 }[] {
  const moved = new Map<string, Vec2>();
  // A view may be projected from one that is projected itself, and comes along with it.
  const by = (view: SheetView): Vec2 => {
    const parent = view.projectedFrom && views.find(({ id }) => id === view.projectedFrom!.of);
    if (!parent) return [0, 0];
    const [px, py] = by(parent);
    return [px + 2 * (parent.centre[0] - view.centre[0]), py + 2 * (parent.centre[1] - view.centre[1])];
  };
  for (const view of views) if (view.projectedFrom) moved.set(view.id, by(view));
  return views.flatMap((view) => {
    const step = moved.get(view.id);
    return step ? [{ id: view.id, centre: [view.centre[0] + step[0], view.centre[1] + step[1]] as Vec2 }] : [];
  });
}
