import { pathKey, pathOf, type RowIndex } from '../../assembly/index.ts';
import { roomEnough, type Balloon, type LeaderEnd } from '../../balloons/index.ts';
import { distanceToStretch, type Vec2, type Vec3 } from '../../geometry/index.ts';
import { spotsWithin, type Spots, type ViewLines } from '../../views/index.ts';
import type { LaidView } from '../laid/laidView.ts';
import type { SheetView } from '../records.ts';
import type { LaidBalloon } from '../laid/balloonsOnSheet.ts';
import type { SheetInputs } from '../sheetInputs.ts';
import { rowOfPath } from '../laid/places.ts';
import { rowsOfSpots } from '../planned/plan.ts';

/** A place on paper where a leader can end. */
export interface LeaderPlace {
  /** On paper; mm. */
  readonly point: Vec2;
  /** Row of the bill of what lies there. */
  readonly row: RowIndex;
  readonly end: LeaderEnd;
  /** Free radius on the face, or distance from the lines of other parts; mm on paper. */
  readonly room: number;
  /** Whether that is as much as a reader needs. */
  readonly isClear: boolean;
  /** What a balloon stores of it. */
  readonly path: Balloon['path'];
  readonly anchor: Vec3;
}

/**
 * All places of a view where leaders can end on something that has a line.
 * @param spots of what the view looks at
 */
export function leaderPlaces(
  { view, toPaper }: LaidView,
  spots: Spots,
  inputs: Pick<SheetInputs, 'assembly' | 'bill'>,
): LeaderPlace[] {
  const own = view.detail ? spotsWithin(spots, view.detail) : spots;
  const rowOf = rowsOfSpots(own, inputs);
  return Array.from(own.occurrences).flatMap((occurrence, spot): LeaderPlace[] => {
    const row = rowOf[occurrence];
    if (row < 0) return [];
    const end = own.onFace[spot] ? 'dot' : 'arrow';
    const point = toPaper(own.points[spot * 2], own.points[spot * 2 + 1]);
    const room = own.room[spot] * view.scale;
    const anchor = [...own.anchors.subarray(spot * 3, spot * 3 + 3)] as unknown as Vec3;
    const isClear = roomEnough({ point, end, room, spot });
    return [{ point, row, end, room, isClear, path: pathOf(own.paths[occurrence]), anchor }];
  });
}

/**
 * The most room that a leader to a line has anywhere in a view, free of other lines; mm on paper, 0 where the line is not
 * seen in it.
 * @param spots of what the view looks at
 */
export function roomInView(
  view: Pick<SheetView, 'detail' | 'scale'>,
  spots: Spots,
  inputs: Pick<SheetInputs, 'assembly' | 'bill'>,
  row: RowIndex,
): number {
  const own = view.detail ? spotsWithin(spots, view.detail) : spots;
  const rowOf = rowsOfSpots(own, inputs);
  return own.occurrences.reduce(
    (most, occurrence, spot) => (rowOf[occurrence] === row ? Math.max(most, own.room[spot] * view.scale) : most),
    0,
  );
}

/** A place that is less clear counts as so much farther away; mm. */
const UNCLEAR = 3;

/**
 * Where a leader dragged to a point ends: the nearest place of its own line, and, where something else is nearer, of which
 * line that is.
 * @param row of the bill; any where absent
 * @returns null where the line has no place in the view
 */
export function leaderEndAt(
  places: readonly LeaderPlace[],
  [x, y]: Vec2,
  row?: RowIndex,
): { readonly place: LeaderPlace; readonly over: number | null } | null {
  let own: LeaderPlace | null = null,
    any: LeaderPlace | null = null;
  let ownFar = Infinity,
    anyFar = Infinity;
  for (const place of places) {
    const away = Math.hypot(place.point[0] - x, place.point[1] - y);
    const far = away + (place.isClear ? 0 : UNCLEAR);
    if ((row === undefined || place.row === row) && far < ownFar) [own, ownFar] = [place, far];
    if (away < anyFar) [any, anyFar] = [place, away];
  }
  if (!own) return null;
  return { place: own, over: any && any.row !== own.row && anyFar < ownFar - UNCLEAR ? any.row : null };
}

/** The next place of a line from a point in a direction: near, and not far aside of it; null where there is none. */
export function nextLeaderEnd(
  places: readonly LeaderPlace[],
  [x, y]: Vec2,
  [dx, dy]: Vec2,
  row: RowIndex,
): LeaderPlace | null {
  let best: LeaderPlace | null = null;
  let least = Infinity;
  for (const place of places) {
    const [ax, ay] = [place.point[0] - x, place.point[1] - y];
    const along = ax * dx + ay * dy,
      aside = Math.abs(ax * dy - ay * dx);
    if (place.row !== row || along < 0.2 || aside > 2 * along || along + 2 * aside >= least) continue;
    [best, least] = [place, along + 2 * aside];
  }
  return best;
}

/** How clearly a leader ends; what a person can check on the paper. */
export interface LeaderScore {
  /** On a face of the part, or on a line of it. */
  readonly kind: 'face' | 'edge';
  /** On paper, to the nearest line that is seen, on an edge to the nearest one of another part; mm. Null where there is none. */
  readonly freeMm: number | null;
  /** The item that line belongs to; null where it is the part's own or has no item. */
  readonly nearest: string | null;
}

/**
 * How clearly the leader of a balloon ends, measured on the lines as they are drawn.
 * @param lines of its view
 */
export function leaderScore(
  { balloon, seen: [x, y] }: Pick<LaidBalloon, 'balloon' | 'seen'>,
  { view }: Pick<LaidView, 'view'>,
  { ends, visible, occurrences, paths }: ViewLines,
  { assembly, bill }: Pick<SheetInputs, 'assembly' | 'bill'>,
): LeaderScore {
  const { end } = balloon;
  const own = pathKey(balloon.path);
  const isOwn = paths.map((path) => path === own || path.startsWith(own === '' ? '' : `${own}/`));
  let least = Infinity,
    nearest = -1;
  for (let line = 0; line < visible.length; line++) {
    if (!visible[line] || (end === 'arrow' && isOwn[occurrences[line]])) continue;
    const at = line * 4;
    const away = distanceToStretch([x, y], [ends[at], ends[at + 1]], [ends[at + 2], ends[at + 3]]);
    if (away < least) [least, nearest] = [away, occurrences[line]];
  }
  const row = nearest < 0 || isOwn[nearest] ? -1 : rowOfPath(bill, assembly, pathOf(paths[nearest]));
  return {
    kind: end === 'dot' ? 'face' : 'edge',
    freeMm: nearest < 0 ? null : least * view.scale,
    nearest: row < 0 ? null : bill.rows[row].item,
  };
}

/** The balloon with its leader ending there, set by hand. */
export const withLeaderEnd = (balloon: Balloon, { path, anchor, end }: LeaderPlace): Balloon => ({
  ...balloon,
  path,
  anchor,
  end,
  byHand: true,
});
