import { boxHeight, boxWidth, type Vec2 } from '../../geometry/index.ts';
import { viewPlacement, type Direction, type ViewLines } from '../../views/index.ts';
import type { SheetView } from '../records.ts';
import { MOST_PIECES, type CutPiece, type Section } from '../section.ts';
import { middleOf, saidOfParts, type AxisPlane } from './sectionView.ts';

/** Half width and half height of a new piece that is cut open, as a share of those of what is seen. */
const PIECE_SHARE = 0.4;

/**
 * What a view takes away with one more piece cut open: about the axis of the largest round feature that is seen, as deep as that, beside
 * pieces that are there; a sentence where it has as many as it may have.
 * @param views of all sheets, those of its own sheet last
 */
export function cutOpen(view: SheetView, lines: ViewLines, views: readonly SheetView[]): Section | string {
  const { section } = view;
  if (section && !section.pieces) return 'This view is a section already; cut a piece open in another one.';
  const pieces = section?.pieces ?? [];
  if (pieces.length >= MOST_PIECES) return `A view takes ${MOST_PIECES} pieces that are cut open at most.`;
  const half: Vec2 = [(boxWidth(lines.box) / 2) * PIECE_SHARE, (boxHeight(lines.box) / 2) * PIECE_SHARE].map((side) =>
    Math.max(side, 1e-3),
  ) as unknown as Vec2;
  const m = viewPlacement(view.direction);
  const at = middleOf(view.direction, lines);
  // Pieces beside one another, to the right.
  const aside = (2.2 * half[0] * pieces.length) % (boxWidth(lines.box) || 1);
  const piece: CutPiece = { at: [at[0] + aside * m[0], at[1] + aside * m[1], at[2] + aside * m[2]], half };
  return { ...(section ?? { letter: '', ...saidOfParts(views) }), pieces: [...pieces, piece] };
}

/** A view with some of its pieces that are cut open; without any it is no section. */
export function pieceLeft(view: SheetView, isLeft: (at: number) => boolean): SheetView {
  const { section, ...rest } = view;
  const pieces = section?.pieces?.filter((_, at) => isLeft(at)) ?? [];
  return section && pieces.length > 0 ? { ...view, section: { ...section, pieces } } : rest;
}

/** Where the plane of a piece that is cut open stands along an axis of the machine; null where it is square to none. */
export function depthOf(direction: Direction, { at }: CutPiece): AxisPlane | null {
  const m = viewPlacement(direction);
  const axis = [0, 1, 2].find((one) => Math.abs(Math.abs(m[8 + one]) - 1) < 1e-9);
  return axis === undefined ? null : { axis: axis as AxisPlane['axis'], at: at[axis] };
}
