import { boxHeight, boxWidth, type Box2, type Vec2 } from '../../geometry/index.ts';
import { isPictorial, spotsWithin, type Region, type Spots } from '../../views/index.ts';
import { layOutSheet, type SheetLayout } from '../laid/layout.ts';
import type { SheetInputs } from '../sheetInputs.ts';
import {
  CAPTION,
  freeLetter,
  largestRoom,
  LEAST_ENLARGED,
  longestReach,
  MOST_ENLARGED,
  obstaclesOf,
  rowsOfSpots,
  withBalloons,
} from './plan.ts';
import { MOST_VIEWS, type Sheet, type SheetView } from '../records.ts';
import { pictorialScales, standardScales } from '../laid/scales.ts';
import { goodSpots, rowsSeenWell } from './seenWell.ts';

/** Enlarged details that are put on one sheet. */
const MOST_DETAILS = 4;
/** Diameter of the border of a detail on paper; mm. */
const LEAST_DIAMETER = 36,
  LARGEST_DIAMETER = 110;
/** A leader ends at least so far inside the border; mm on paper. */
const INSIDE = 6;
/** What is shown around the ends of leaders, so that the place is recognised; mm on paper. */
const AROUND = 18;
/** What is enlarged is to be more than just large enough: it would be at this share of the scale already. */
const CLEARLY = 0.6;
/** Room around the end of a leader beyond which more is no better; mm on paper. */
const AMPLE = 3;
/** Of the breadth of a thing: where less of it is free, a slit in front of it is seen and not the thing. */
const LEAST_SHARE = 0.025;
/** Places that are tried as the middle of a detail. */
const MOST_TRIED = 2000,
  MOST_OF_A_ROW = 24;

/** A round piece of a view, how large it has to be drawn, and what is seen well in it then. */
interface ChosenRegion {
  readonly region: Region;
  /** Paper mm per model mm. */
  readonly scale: number;
  readonly rows: ReadonlySet<number>;
}

/**
 * The round piece of a view that, enlarged, shows most of what is seen too small in it: of all circles around spots, at
 * the scales at which details are drawn, the one with most rows, and of those the one with most room for leaders' ends.
 * @param rowOf row per entry of `spots.paths`, −1 for none
 * @param missing rows that are wanted
 * @param view its scale and direction
 * @param diameter largest that the border may have on paper; mm
 * @returns null where no enlargement helps
 */
export function chooseRegion(
  spots: Spots,
  rowOf: readonly number[],
  missing: ReadonlySet<number>,
  { scale: of, direction }: Pick<SheetView, 'scale' | 'direction'>,
  diameter: number,
): ChosenRegion | null {
  const isGood = goodSpots(spots);
  const tried = roomiest(spots, rowOf, missing);
  const at = (spot: number): Vec2 => [spots.points[spot * 2], spots.points[spot * 2 + 1]];
  const scales = (isPictorial(direction) ? pictorialScales : standardScales)
    .filter((scale) => scale >= LEAST_ENLARGED * of * (1 - 1e-9) && scale <= MOST_ENLARGED * of * (1 + 1e-9))
    .reverse();
  let best: { rows: number; worth: number; scale: number; members: number[]; middle: Vec2 } | null = null;
  for (const scale of scales) {
    const good = tried.filter((spot) => isGood(spot, scale * CLEARLY));
    const reach = diameter / 2 / scale - INSIDE / scale;
    for (const centre of good) {
      const [x, y] = at(centre);
      // Of every row the spot nearest to the middle.
      const nearest = new Map<number, { spot: number; distance: number }>();
      for (const spot of good) {
        const [px, py] = at(spot);
        const distance = Math.hypot(px - x, py - y);
        const row = rowOf[spots.occurrences[spot]];
        if (distance <= reach && distance < (nearest.get(row)?.distance ?? Infinity))
          nearest.set(row, { spot, distance });
      }
      const worth = [...nearest.values()].reduce((sum, { spot }) => sum + Math.min(spots.room[spot] * scale, AMPLE), 0);
      // Of several that show as many the one with most room, at a larger scale too: what is barely seen well is still small.
      if (!best || nearest.size > best.rows || (nearest.size === best.rows && worth > best.worth))
        best = {
          rows: nearest.size,
          worth,
          scale,
          members: [...nearest.values()].map(({ spot }) => spot),
          middle: [x, y],
        };
    }
  }
  if (!best) return null;
  const { scale, members } = best;
  const region = around(members.map(at), best.middle, scale, diameter);
  const inside = spotsWithin(spots, region);
  const rows = new Set([...rowsSeenWell(inside, rowOf, scale)].filter((row) => missing.has(row)));
  return rows.size > 0 ? { region, scale, rows } : null;
}

/** The circle around these points with something of what is beside them. */
function around(points: readonly Vec2[], middle: Vec2, scale: number, diameter: number): Region {
  const xs = points.map(([x]) => x),
    ys = points.map(([, y]) => y);
  const centre: Vec2 = [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
  const reachFrom = ([x, y]: Vec2) => Math.max(...points.map(([px, py]) => Math.hypot(px - x, py - y))) * scale;
  // Points in three directions may lie farther from the middle of their box than from the one that was found.
  const chosen = reachFrom(centre) <= reachFrom(middle) ? centre : middle;
  const radius = Math.min(Math.max(reachFrom(chosen) + AROUND, LEAST_DIAMETER / 2), diameter / 2);
  return { centre: chosen, radius: radius / scale };
}

/** Spots of wanted rows, of every row as many, those with most room first. */
function roomiest(spots: Spots, rowOf: readonly number[], missing: ReadonlySet<number>): number[] {
  const byRow = new Map<number, number[]>();
  spots.occurrences.forEach((occurrence, spot) => {
    const row = rowOf[occurrence];
    if (!missing.has(row) || spots.room[spot] < spots.breadths[occurrence] * LEAST_SHARE) return;
    const list = byRow.get(row);
    if (list) list.push(spot);
    else byRow.set(row, [spot]);
  });
  const each = Math.max(1, Math.min(MOST_OF_A_ROW, Math.floor(MOST_TRIED / byRow.size)));
  return [...byRow.values()]
    .flatMap((list) => list.sort((a, b) => spots.room[b] - spots.room[a] || a - b).slice(0, each))
    .slice(0, MOST_TRIED);
}

/**
 * The sheet with enlarged details of its views, in the room that views, balloons and lists leave, as long as there is
 * room and one shows what is wanted; details that the program placed are placed anew first, since what stands beside them
 * may have moved.
 * @param inputs with the balloons that the sheet has anyway
 * @param spots by view id
 * @param missing rows that are wanted
 * @returns also the rows that they show
 */
export function withDetails(
  inputs: SheetInputs,
  spots: ReadonlyMap<string, Spots>,
  missing: ReadonlySet<number>,
  newId: () => string,
): { readonly sheet: Sheet; readonly rows: ReadonlySet<number> } {
  const own = inputs.sheet.views.filter(({ detail, byHand }) => detail && !byHand);
  const { balloonLook } = inputs.sheet;
  const margin = 2 * (balloonLook.radius + longestReach(inputs.bill, balloonLook, inputs.columns)) + 8;
  let views = inputs.sheet.views.filter((view) => !own.includes(view));
  let lines = inputs.lines;
  const layout = () => layOutSheet({ ...inputs, lines, sheet: { ...inputs.sheet, views } });
  for (const view of own) {
    const laid = layout();
    const box = roomBeside(laid, margin);
    views = [...views, put(view, laid, box, margin) ?? view];
  }
  const left = new Set(missing);
  const rows = new Set<number>();
  const isFull = () => views.filter(({ detail }) => detail).length >= MOST_DETAILS || views.length >= MOST_VIEWS;
  while (!isFull() && left.size > 0) {
    const laid = layout();
    const room = roomBeside(laid, margin);
    const diameter = Math.min(LARGEST_DIAMETER, boxWidth(room) - 2 * margin, boxHeight(room) - 2 * margin - CAPTION);
    if (diameter < LEAST_DIAMETER) break;
    const chosen = views.flatMap((view) => {
      const seen = spots.get(view.id);
      const found = seen && !view.detail && chooseRegion(seen, rowsOfSpots(seen, inputs), left, view, diameter);
      return found ? [{ view, found }] : [];
    });
    if (chosen.length === 0) break;
    const { view, found } = chosen.reduce((most, one) => (one.found.rows.size > most.found.rows.size ? one : most));
    const { caption: _, ...like } = view;
    const detail: SheetView = {
      ...like,
      id: newId(),
      scale: found.scale,
      detail: { of: view.id, letter: freeLetter(views), ...found.region },
      byHand: false,
    };
    const placed = put(detail, laid, room, margin);
    if (!placed) break;
    views = [...views, placed];
    lines = new Map([...lines, [placed.id, lines.get(view.id)!]]);
    for (const row of found.rows) {
      left.delete(row);
      rows.add(row);
    }
  }
  return { sheet: { ...inputs.sheet, views }, rows };
}

/** The largest room beside what stands on the sheet; around details without balloons there is room for some. */
function roomBeside(layout: SheetLayout, margin: number): Box2 {
  return largestRoom(layout.frame, [
    ...obstaclesOf(layout),
    ...layout.views.map((one) => {
      const [x0, y0, x1, y1] = withBalloons(one, layout);
      return one.view.detail
        ? ([x0 - margin, y0 - margin, x1 + margin, y1 + margin] as const)
        : ([x0, y0, x1, y1] as const);
    }),
  ]);
}

/** In the room as near as may be to what it enlarges; null where it does not fit. */
function put(view: SheetView, { views }: SheetLayout, room: Box2, margin: number): SheetView | null {
  const { centre, radius } = view.detail!;
  const parent = views.find((one) => one.view.id === view.detail!.of);
  const keep = radius * view.scale + margin;
  const inner: Box2 = [room[0] + keep, room[1] + keep, room[2] - keep, room[3] - keep - CAPTION];
  if (inner[0] > inner[2] + 1e-6 || inner[1] > inner[3] + 1e-6) return null;
  const [x, y] = parent ? parent.toPaper(...centre) : view.centre;
  return {
    ...view,
    centre: [Math.min(Math.max(x, inner[0]), inner[2]), Math.min(Math.max(y, inner[1]), inner[3])],
  };
}
