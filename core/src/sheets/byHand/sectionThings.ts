import { hypot, type Vec2, type Vec3 } from '../../geometry/index.ts';
import { pathFault, type CutPath } from '../../sections/index.ts';
import { viewPlacement } from '../../views/index.ts';
import type { Sheet, SheetView } from '../records.ts';
import type { CutPiece } from '../section.ts';
import { pieceLeft } from '../planned/cutPieces.ts';
import type { KindOfThing, PlacedThing } from './thing.ts';
import { withoutViews } from './viewThings.ts';

/** A way on paper as one of the machine, on the view that shows a cutting line. */
function machineWay({ direction, scale }: SheetView, [x, y]: Vec2): Vec3 {
  const m = viewPlacement(direction);
  const [u, v] = [x / scale, -y / scale];
  return [u * m[0] + v * m[4], u * m[1] + v * m[5], u * m[2] + v * m[6]];
}

/** The sheet with the cutting line of a section changed; as it was where no section could be cut along it. */
function changePath(sheet: Sheet, id: string, by: Vec2, change: (path: CutPath, way: Vec3) => CutPath): Sheet {
  const own = sheet.views.find((one) => one.id === id);
  const parent = sheet.views.find((one) => one.id === own?.section?.of);
  const path = own?.section?.path;
  if (!own?.section || !parent || !path) return sheet;
  const changed = change(path, machineWay(parent, by));
  if (pathFault(changed)) return sheet;
  return {
    ...sheet,
    views: sheet.views.map((view) =>
      view.id === id ? { ...view, section: { ...own.section!, path: changed } } : view,
    ),
  };
}

const plus = (a: Vec3, b: Vec3): Vec3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];

/** A cutting line: moved as a whole, its section cuts elsewhere; taken away with its section. */
export const cuttingLineThing: KindOfThing<'cuttingLine'> = {
  called: 'cutting line',
  about: 'view',
  placed: ({ layout }) =>
    layout.cuttingLines.map(({ section: id, points, box }): PlacedThing => {
      const outline = points.length === 2 ? alongLine(points[0], points[1]) : undefined;
      return { thing: { kind: 'cuttingLine', id }, box, ...(outline ? { outline } : {}) };
    }),
  isPickedAlone: true,
  moving: 'move a cutting line',
  move: (sheet, moves) =>
    moves.reduce(
      (moved, { thing, by }) =>
        changePath(moved, thing.id, by, (path, way) => ({
          ...path,
          points: path.points.map((point) => plus(point, way)),
        })),
      sheet,
    ),
  remove: withoutViews,
};

/** So far beside a line it is still taken hold of; mm. */
const GRIP = 1.5;
function alongLine([x0, y0]: Vec2, [x1, y1]: Vec2): Vec2[] {
  const size = hypot(x1 - x0, y1 - y0) || 1;
  const [dx, dy] = [((y1 - y0) / size) * GRIP, (-(x1 - x0) / size) * GRIP];
  return [
    [x0 + dx, y0 + dy],
    [x1 + dx, y1 + dy],
    [x1 - dx, y1 - dy],
    [x0 - dx, y0 - dy],
  ];
}

/** An end or corner of a cutting line. */
export const cuttingPointThing: KindOfThing<'cuttingPoint'> = {
  called: 'cutting line',
  about: 'view',
  moving: 'move a corner of a cutting line',
  move: (sheet, moves) =>
    moves.reduce(
      (moved, { thing, by }) =>
        changePath(moved, thing.id, by, (path, way) => ({
          ...path,
          points: path.points.map((point, at) => (at === thing.at ? plus(point, way) : point)),
        })),
      sheet,
    ),
};

/** The sheet with a piece that is cut open changed. @param by on paper; mm */
function changePiece(
  sheet: Sheet,
  { id, piece: at }: { readonly id: string; readonly piece: number },
  by: Vec2,
  change: (piece: CutPiece, way: Vec3, by: Vec2) => CutPiece,
): Sheet {
  const own = sheet.views.find((one) => one.id === id);
  const piece = own?.section?.pieces?.[at];
  if (!own?.section?.pieces || !piece) return sheet;
  const changed = change(piece, machineWay(own, by), [by[0] / own.scale, -by[1] / own.scale]);
  const section = { ...own.section, pieces: own.section.pieces.with(at, changed) };
  return { ...sheet, views: sheet.views.map((view) => (view.id === id ? { ...view, section } : view)) };
}

/** A piece of a view that is cut open: moved on its view, as deep as it was. */
export const cutPieceThing: KindOfThing<'cutPiece'> = {
  called: 'piece cut open',
  about: 'view',
  moving: 'move a piece that is cut open',
  move: (sheet, moves) =>
    moves.reduce(
      (moved, { thing, by }) => changePiece(moved, thing, by, (piece, way) => ({ ...piece, at: plus(piece.at, way) })),
      sheet,
    ),
  remove: (sheet, things) => ({
    ...sheet,
    views: sheet.views.map((view) => {
      const gone = things.filter(({ id }) => id === view.id).map(({ piece }) => piece);
      return gone.length > 0 ? pieceLeft(view, (at) => !gone.includes(at)) : view;
    }),
  }),
};

/** The border of that piece, drawn out. */
export const cutPieceSizeThing: KindOfThing<'cutPieceSize'> = {
  called: 'piece cut open',
  about: 'view',
  moving: 'size of a piece that is cut open',
  move: (sheet, moves) =>
    moves.reduce(
      (moved, { thing, by }) =>
        changePiece(moved, thing, by, (piece, _, [dx, dy]) => {
          const [x, y] = piece.half;
          return { ...piece, half: [Math.max(x / 20, x + dx), Math.max(y / 20, y - dy)] };
        }),
      sheet,
    ),
  remove: (sheet, things) =>
    cutPieceThing.remove!(
      sheet,
      things.map(({ id, piece }) => ({ kind: 'cutPiece', id, piece })),
      () => [],
    ),
};
