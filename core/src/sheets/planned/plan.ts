import { groupBy, pathKey, pathOf, type PathKey, type RowIndex } from '../../assembly/index.ts';
import {
  anchorChoices,
  arrangeRing,
  BARRED_RADIUS,
  convexHull,
  firstRow,
  roomEnough,
  type Balloon,
  type AnchorChoice,
} from '../../balloons/index.ts';
import type { Bill } from '../../bill/index.ts';
import { boxHeight, boxWidth, uniteBoxes2, type Box2, type Vec2, type Vec3 } from '../../geometry/index.ts';
import type { Column } from '../../columns/index.ts';
import {
  isPictorial,
  linesWithin,
  spotsWithin,
  type LookRequest,
  type Spots,
  type ViewLines,
} from '../../views/index.ts';
import { lookOf, reachOf } from '../laid/balloonsOnSheet.ts';
import type { LaidView } from '../laid/laidView.ts';
import { layOutSheet, placeView, type SheetLayout } from '../laid/layout.ts';
import type { SheetInputs } from '../sheetInputs.ts';
import { rowOfPath } from '../laid/places.ts';
import {
  USUAL_TABLE,
  type BalloonLook,
  type Sheet,
  type SheetProblem,
  type SheetTable,
  type SheetView,
} from '../records.ts';
import { rowsWithoutRepeats } from '../laid/repeats.ts';
import { besideFirst, stacksOf } from '../laid/stacks.ts';
import { pictorialScales, proposeScale, standardScales } from '../laid/scales.ts';

/**
 * Balloon looks from the usual one (ISO 6433: numbers twice as high as dimension text in 12 mm circles) down to what
 * still reads.
 */
const usualLooks: readonly BalloonLook[] = [
  { lettering: 5, radius: 6 },
  { lettering: 3.5, radius: 4.5 },
  { lettering: 2.5, radius: 3.2 },
];
const SLACK = 1.25; // free places per balloon, so that each can stand near its part
const DISTANCE = 22; // mm from the view to the ring; 20–25 is usual
const LEAST_MARGIN = 8; // mm beside a balloon between view and frame; the ring runs nearer to the machine where it must
/** Below a view, for its caption; mm. */
export const CAPTION = 10;

/**
 * The sheet with a list, on the title block where it has none, and these views in the room that is left, at a common
 * standard scale; without balloons.
 */
export function planSheet(inputs: SheetInputs): Sheet {
  const { bill, lines } = inputs;
  const tables = withUsualTable(inputs.sheet.tables);
  const empty: Sheet = {
    ...inputs.sheet,
    views: [],
    tables,
    balloons: [],
    balloonLook: barred(
      { ...usualLooks[0], ...shapeOf(inputs.sheet.balloonLook) },
      inputs.sheet.balloonLook.quantity ?? false,
    ),
  };
  const layout = layOutSheet({ ...inputs, sheet: empty });
  const room = largestRoom(layout.frame, obstaclesOf(layout));
  // Enlarged details stay beside what they enlarge, projected views aligned with theirs.
  const shown = inputs.sheet.views.filter(
    ({ id, detail, projectedFrom }) => lines.has(id) && !detail && !projectedFrom,
  );
  const needed = bill.rows.filter((row) => !row.opened).length;
  const { balloonLook: own } = inputs.sheet;
  const tries = (
    own.fixed ? [own] : usualLooks.map((look) => barred({ ...look, ...shapeOf(own) }, own.quantity ?? false))
  ).map((chosen) => {
    const extra = longestReach(bill, chosen, inputs.columns);
    const views = placeViews(room, shown, lines, 2 * (chosen.radius + extra) + LEAST_MARGIN);
    const capacity = views.reduce((sum, view) => {
      const { hull } = placeView(view, lines.get(view.id)!);
      return (
        sum +
        firstRow({
          hull,
          frame: layout.frame,
          obstacles: obstaclesOf(layout),
          radius: chosen.radius,
          extra,
          distance: ringDistance(chosen),
          ...(own.arrangement ? { arrangement: own.arrangement } : {}),
        }).length
      );
    }, 0);
    return { chosen, views, enough: capacity >= needed * SLACK };
  });
  const { chosen, views } = tries.find(({ enough }) => enough) ?? tries[tries.length - 1];
  return { ...empty, views, balloonLook: chosen };
}

const usualTable = { id: USUAL_TABLE, place: 'title-block' } as const;
/** With a list on the title block where none shows a bill. */
export const withUsualTable = (tables: readonly SheetTable[]): readonly SheetTable[] =>
  tables.some(({ typed }) => !typed) ? tables : [...tables, usualTable];

/** What of a look is kept whatever the size of balloons. */
export function shapeOf({
  lettering: _,
  radius: __,
  fixed: ___,
  quantity: ____,
  ...rest
}: BalloonLook): Omit<BalloonLook, 'lettering' | 'radius' | 'fixed' | 'quantity'> {
  return rest;
}

/** In heights of the number. */
const USUAL_RADIUS = 1.25;
/** Balloons with numbers of this height, in the usual proportion. */
export const lookOfLettering = (lettering: number, quantity = false): BalloonLook =>
  barred({ lettering, radius: lettering * USUAL_RADIUS, fixed: true }, quantity);

/** The look with or without quantities below numbers: balloons high enough for both, or as high as is usual for one again. */
export function barred({ quantity: was, ...look }: BalloonLook, quantity: boolean): BalloonLook {
  const { lettering, radius } = look;
  if (quantity) return { ...look, quantity: true, radius: Math.max(radius, lettering * BARRED_RADIUS) };
  const usual = usualLooks.find((one) => one.lettering === lettering)?.radius ?? lettering * USUAL_RADIUS;
  return was ? { ...look, radius: usual } : look;
}

/** How far the widest of these balloons reaches to each side beyond a circle: room for that is kept everywhere. */
export const longestReach = (bill: Bill, look: BalloonLook, columns: readonly Column[]): number =>
  bill.rows.reduce((most, _, row) => Math.max(most, reachOf(bill, row, look, columns)), 0);

const ringDistance = ({ lettering, distance }: BalloonLook): number =>
  distance ?? (DISTANCE * Math.min(lettering, usualLooks[0].lettering)) / usualLooks[0].lettering;

/**
 * Views in a grid of the room, its columns and rows chosen so that they come out as large as they can. All at the
 * largest common scale that lets each fit with its margin, or each at its own.
 */
export function placeViews(
  room: Box2,
  views: readonly SheetView[],
  lines: ReadonlyMap<string, ViewLines>,
  margin: number,
  {
    ownScales = false,
    captions = views.length > 1,
    largest = [],
  }: {
    readonly ownScales?: boolean;
    readonly captions?: boolean;
    /** Longest side that each may have on paper; mm. */
    readonly largest?: readonly number[];
  } = {},
): SheetView[] {
  const caption = captions ? CAPTION : 0;
  const sizes = views.map(({ id }): Vec2 => {
    const { box } = lines.get(id)!;
    return [Math.max(boxWidth(box), 1e-3), Math.max(boxHeight(box), 1e-3)];
  });
  const fits = (columns: number) => {
    const rows = Math.ceil(views.length / columns);
    const cell: Vec2 = [boxWidth(room) / columns, boxHeight(room) / rows];
    const free: Vec2 = [Math.max(10, cell[0] - 2 * margin), Math.max(10, cell[1] - 2 * margin - caption)];
    const fit = sizes.map(([width, height], at) =>
      Math.min(free[0] / width, free[1] / height, (largest[at] ?? Infinity) / Math.max(width, height)),
    );
    const worth = ownScales ? fit.reduce((sum, one) => sum + Math.log(one), 0) : Math.min(...fit);
    return { columns, cell, free, worth };
  };
  const grids = views.map((_, at) => fits(at + 1));
  const { columns, cell, free } = grids.reduce((best, grid) => (grid.worth > best.worth + 1e-9 ? grid : best));
  const scales = views.map(({ direction }, at) =>
    proposeScale(
      sizes[at],
      free.map((side) => Math.min(side, largest[at] ?? Infinity)) as never,
      isPictorial(direction) ? pictorialScales : standardScales,
    ),
  );
  const common = Math.min(...scales);
  return views.map((view, at) => ({
    ...view,
    scale: ownScales ? scales[at] : common,
    byHand: false,
    centre: [
      room[0] + ((at % columns) + 0.5) * cell[0],
      room[1] + (Math.floor(at / columns) + 0.5) * cell[1] - caption / 2,
    ],
  }));
}

/** Title block and strips of the list: what views and balloons keep clear of. */
export const obstaclesOf = ({ titleBlock, tables }: Pick<SheetLayout, 'titleBlock' | 'tables'>): Box2[] => [
  titleBlock,
  ...tables.flatMap(({ measured }) => measured.strips.map((strip) => strip.box)),
];

/** How much larger a detail is drawn than what it is a piece of, at least and at most. */
export const LEAST_ENLARGED = 2,
  MOST_ENLARGED = 10;

/**
 * An enlarged detail of a view: a round piece in its middle until it is put elsewhere, at the largest scale at which it
 * fits the largest free room, under the next free letter.
 * @param lines of the view
 */
export function proposeDetail(inputs: SheetInputs, view: SheetView, lines: ViewLines, id: string): SheetView {
  const { box } = lines;
  const radius = Math.max(boxWidth(box), boxHeight(box)) / 12 || 1;
  const letter = freeLetter(inputs.sheet.views);
  const centre: Vec2 = [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2];
  const { caption: _, ...like } = view;
  const detail: SheetView = { ...like, id, detail: { of: view.id, letter, centre, radius }, byHand: true };
  const proposed = proposeView(inputs, detail, linesWithin(lines, detail.detail!));
  const scale = Math.max(LEAST_ENLARGED * view.scale, Math.min(proposed.scale, MOST_ENLARGED * view.scale));
  // Where there is little room, a smaller piece is shown.
  const fitted = Math.min(radius, (radius * proposed.scale) / scale);
  return { ...proposed, byHand: true, scale, detail: { ...detail.detail!, radius: fitted } };
}

/**
 * The first letter under which none of these views shows a detail or section, doubled after Z; I and O are left out, since they
 * read as digits.
 */
export function freeLetter(views: readonly SheetView[]): string {
  const taken = new Set(views.flatMap(({ detail, section }) => [detail?.letter ?? [], section?.letter ?? []].flat()));
  const letters = [...'ABCDEFGHJKLMNPQRSTUVWXYZ'];
  return [...letters, ...letters.map((one) => one + one)].find((one) => !taken.has(one)) ?? 'A';
}

/** The largest upright rectangle of the frame that touches no obstacle. */
export function largestRoom(frame: Box2, obstacles: readonly Box2[]): Box2 {
  const xs = [...new Set([frame[0], frame[2], ...obstacles.flatMap((box) => [box[0], box[2]])])]
    .filter((x) => x >= frame[0] && x <= frame[2])
    .sort((a, b) => a - b);
  const ys = [...new Set([frame[1], frame[3], ...obstacles.flatMap((box) => [box[1], box[3]])])]
    .filter((y) => y >= frame[1] && y <= frame[3])
    .sort((a, b) => a - b);
  let best: Box2 = [frame[0], frame[1], frame[0] + 1, frame[1] + 1];
  let bestWorth = 0;
  for (const x0 of xs)
    for (const x1 of xs)
      for (const y0 of ys)
        for (const y1 of ys) {
          if (x1 <= x0 || y1 <= y0) continue;
          // A long narrow room holds a view badly: its shorter side counts more.
          const worth = (x1 - x0) * (y1 - y0) * Math.min(x1 - x0, y1 - y0);
          if (
            worth > bestWorth &&
            obstacles.every((box) => box[2] <= x0 || box[0] >= x1 || box[3] <= y0 || box[1] >= y1)
          ) {
            best = [x0, y0, x1, y1];
            bestWorth = worth;
          }
        }
  return best;
}

/** A view that has no place yet. */
export const unplacedView = (
  id: string,
  look: Omit<LookRequest, 'moves' | 'cut'> & Pick<SheetView, 'pose' | 'section'>,
): SheetView => ({
  id,
  ...look,
  scale: 1,
  centre: [0, 0],
  byHand: false,
});

/** Scale and centre for one more view on a sheet: in the largest free room, at the proposed scale. */
export function proposeView(inputs: SheetInputs, view: SheetView, lines: ViewLines): SheetView {
  const layout = layOutSheet(inputs);
  const room = largestRoom(layout.frame, [
    ...obstaclesOf(layout),
    ...layout.views.map((one) => withBalloons(one, layout)),
  ]);
  const { balloonLook: look } = inputs.sheet;
  const margin = LEAST_MARGIN + 2 * (look.radius + longestReach(inputs.bill, look, inputs.columns));
  return placeViews(room, [view], new Map([[view.id, lines]]), inputs.sheet.views.length ? 12 : margin)[0];
}

/** Around a view, its balloons, its dimensions and its caption. */
export const withBalloons = ({ view, box, captionBox }: LaidView, { balloons, dimensions }: SheetLayout): Box2 =>
  [
    ...(captionBox ? [captionBox] : []),
    ...dimensions.filter(({ dimension }) => dimension.view === view.id).map((one) => one.box),
    ...balloons.filter(({ balloon }) => balloon.view === view.id).map((one) => one.box),
  ].reduce(uniteBoxes2, box);

interface BalloonPlan {
  /** All balloons of the sheet: those by hand as they were, the others placed anew. */
  readonly balloons: readonly Balloon[];
  readonly problems: readonly SheetProblem[];
}

/** Pieces of a leader, each from where it comes to where it goes. */
const leaderPieces = ({ centre, anchor, bends }: SheetLayout['balloons'][number]): { centre: Vec2; anchor: Vec2 }[] =>
  [centre, ...bends].map((from, at) => ({ centre: from, anchor: bends[at] ?? anchor }));

/** What balloons have of their own, by row: it is kept. */
const ownLooksOn = ({ balloons }: SheetLayout) =>
  new Map(balloons.flatMap(({ balloon: { look }, row }) => (look ? [[row, look] as const] : [])));

/** A balloon as the first of its stack, with the others; its place is the middle of the whole stack. */
function asStack(balloon: Balloon, { toHead, rest }: LooseStack, newId: () => string): Balloon[] {
  // It begins at the side of the view's middle.
  const sign = balloon.offset[0] < 0 ? -1 : 1;
  const offset: Vec2 = [balloon.offset[0] - sign * toHead, balloon.offset[1]];
  const head: Balloon = { ...balloon, stack: balloon.id, offset };
  const others = besideFirst(head, rest, { axis: 0, sign });
  return [head, ...others.map((one) => ({ ...one, id: newId(), stack: head.id }))];
}

/** In which of the views each row is ballooned: the first in which it may be. @param anyhow also where it is a sliver */
function firstViews(
  views: readonly SeenView[],
  mayStand: (row: RowIndex, view: string) => boolean,
  anyhow: boolean,
): Map<number, SeenView> {
  const found = new Map<number, SeenView>();
  for (const one of views)
    for (const [row, choices] of one.choices)
      if (!found.has(row) && mayStand(row, one.laid.view.id) && (anyhow || choices.some(roomEnough)))
        found.set(row, one);
  return found;
}

/** What balloons around these views keep clear of. */
const besideViews = (layout: SheetLayout, own: ReadonlySet<LaidView>): Box2[] => [
  ...obstaclesOf(layout),
  ...layout.dimensions.map(({ box }) => box),
  ...layout.cuttingLines.flatMap(({ endBoxes }) => endBoxes),
  ...layout.views.flatMap((other) => [
    ...(own.has(other) ? [] : [other.box]),
    ...(other.captionBox ? [other.captionBox] : []),
  ]),
];

/** What a balloon points at that ends at a place of a view. */
const pointing = (
  { laid, own }: SeenView,
  { spot, end }: AnchorChoice,
): Pick<Balloon, 'view' | 'path' | 'end' | 'byHand' | 'anchor'> => ({
  view: laid.view.id,
  path: pathOf(own.paths[own.occurrences[spot]]),
  end,
  byHand: false,
  anchor: [...own.anchors.subarray(spot * 3, spot * 3 + 3)] as unknown as Vec3,
});

/** A view with what can be pointed at in it. */
interface SeenView {
  readonly laid: LaidView;
  readonly own: Spots;
  /** Where a balloon of a row may end, best first, by row. */
  readonly choices: ReturnType<typeof anchorChoices>;
}

function seenViews(
  inputs: SheetInputs,
  layout: SheetLayout,
  spots: ReadonlyMap<string, Spots>,
  stacks: ReturnType<typeof looseStacks>,
): SeenView[] {
  return layout.views.flatMap((laid): SeenView[] => {
    const all = spots.get(laid.view.id);
    if (!all) return [];
    const { detail } = laid.view;
    const own = detail ? spotsWithin(all, detail) : all;
    // What a stack points at is one with the others of it: not every occurrence of its line is.
    const pointed = new Set(own.occurrences);
    const among = rowsWithoutRepeats(own, rowsOfSpots(own, inputs), laid.view, inputs);
    const rows = among.map((row, at) => {
      const path = stacks.of(row)?.path;
      const isSeen = path !== undefined && pointed.has(own.paths.indexOf(path));
      return isSeen && own.paths[at] !== path ? -1 : row;
    });
    return [{ laid, own, choices: anchorChoices(own, rows, laid.toPaper, laid.view.scale, laid.hull) }];
  });
}

/**
 * One balloon for every line that can be seen in one of the views, in the first in which it is seen well; opened
 * subassemblies need none. Those of views of one group stand around all of these together.
 * Balloons set by hand stay, unless what they point at is gone.
 * @param spots by view id
 * @param wanted rows that get one; all where absent. Of the others nothing is said
 * @param inView rows that a view may have one for, by view id; all where absent
 */
export function planBalloons(
  inputs: SheetInputs,
  spots: ReadonlyMap<string, Spots>,
  newId: () => string,
  wanted?: ReadonlySet<number>,
  inView?: ReadonlyMap<string, ReadonlySet<number>>,
): BalloonPlan {
  const { sheet, bill } = inputs;
  const layout = layOutSheet(inputs);
  const standing = layout.balloons.filter(({ balloon, row }) => balloon.byHand && row >= 0);
  const stacks = looseStacks(layout);
  // One that names its line once more leaves that its own.
  const done = new Set(standing.flatMap(({ balloon, row }) => (balloon.also ? [] : [row])));
  const seen = new Set(done);
  const balloons: Balloon[] = standing.map(({ balloon }) => balloon);
  const tight: number[] = [],
    crowded: number[] = [];
  const taken = standing.flatMap(leaderPieces);
  const ownLooks = ownLooksOn(layout);
  const lookFor = (row: RowIndex) => lookOf(sheet.balloonLook, { look: ownLooks.get(row) });
  const seenIn = seenViews(inputs, layout, spots, stacks);
  stacks.keepOnly(
    (row) => !done.has(row) && (!wanted || wanted.has(row)) && seenIn.some(({ choices }) => choices.has(row)),
  );
  // What is a sliver in one view may be seen well in a later one.
  const passes = seenIn.length > 1 ? (['well', 'anyhow'] as const) : (['anyhow'] as const);
  const groups = [...groupBy(seenIn, ({ laid: { view } }) => view.group ?? `view ${view.id}`).values()];
  for (const { group, pass } of passes.flatMap((one) => groups.map((views) => ({ group: views, pass: one })))) {
    const mayStand = (row: RowIndex, view: string) =>
      !done.has(row) &&
      !stacks.isFollower(row) &&
      (!wanted || wanted.has(row)) &&
      (!inView || inView.get(view)?.has(row) === true);
    const viewOf = firstViews(group, mayStand, pass === 'anyhow');
    const rows = [...viewOf.keys()].sort((a, b) => a - b);
    if (rows.length === 0) continue;
    rows.forEach((row) => seen.add(row));
    const boxes = new Map(group.map(({ laid }) => [laid, laid.box] as const));
    const { arrangement } = sheet.balloonLook;
    const placed = arrangeRing({
      items: rows.map((row) => ({
        choices: viewOf.get(row)!.choices.get(row)!,
        extra: stacks.extraOf(row) ?? reachOf(bill, row, lookFor(row), inputs.columns),
        ...(group.length > 1
          ? { avoid: [...boxes].flatMap(([other, box]) => (other === viewOf.get(row)!.laid ? [] : [box])) }
          : {}),
      })),
      standing: taken,
      hull: group.length === 1 ? group[0].laid.hull : convexHull(group.flatMap(({ laid }) => laid.hull)),
      frame: layout.frame,
      obstacles: besideViews(layout, new Set(boxes.keys())),
      radius: Math.max(...[sheet.balloonLook, ...rows.map(lookFor)].map(({ radius }) => radius)),
      extra: longestReach(bill, sheet.balloonLook, inputs.columns),
      distance: ringDistance(sheet.balloonLook),
      ...(arrangement ? { arrangements: [arrangement] } : {}),
    });
    placed.forEach((place, at) => {
      const row = rows[at];
      if (!place) {
        const squeezed = [row, ...(stacks.of(row)?.rows ?? [])];
        crowded.push(...squeezed);
        squeezed.forEach((one) => seen.add(one));
        return;
      }
      const { laid, choices } = viewOf.get(row)!;
      const choice = choices.get(row)![place.choice];
      if (!roomEnough(choice)) tight.push(row);
      done.add(row);
      taken.push({ centre: place.centre, anchor: choice.point });
      const stack = stacks.of(row);
      const offset: Vec2 = [place.centre[0] - laid.view.centre[0], place.centre[1] - laid.view.centre[1]];
      const look = ownLooks.get(row);
      const balloon: Balloon = {
        id: newId(),
        ...pointing(viewOf.get(row)!, choice),
        offset,
        ...(look ? { look } : {}),
      };
      if (!stack) {
        balloons.push(balloon);
        return;
      }
      balloons.push(...asStack(balloon, stack, newId));
      stack.rows.forEach((one) => {
        done.add(one);
        seen.add(one);
      });
    });
  }
  return { balloons, problems: planProblems(bill, seen, done, crowded, tight, wanted) };
}

/** A stack that is arranged with its first balloon. */
interface LooseStack {
  /** Of its first balloon: that is what it points at, while it can be seen. */
  readonly path: PathKey;
  readonly rest: readonly Balloon[];
  /** Of the rest. */
  readonly rows: readonly number[];
  /** How far it reaches to each side of its middle beyond a circle; mm. */
  readonly extra: number;
  /** From its middle to that of its first balloon; mm. */
  readonly toHead: number;
}

/** Stacks that were not put by hand, by the row of their first balloon. They stay together in a row. */
function looseStacks({ balloons }: SheetLayout) {
  const byRow = new Map<number, LooseStack>();
  const laidOf = new Map(balloons.map((one) => [one.balloon.id, one]));
  for (const stack of stacksOf(balloons.map(({ balloon }) => balloon))) {
    const laid = stack.map(({ id }) => laidOf.get(id)!).filter(({ row }) => row >= 0);
    const [head, ...rest] = laid;
    if (!head || rest.length === 0 || head.balloon.byHand) continue;
    const width = laid.reduce((sum, { box }) => sum + boxWidth(box), 0);
    byRow.set(head.row, {
      path: pathKey(head.balloon.path),
      rest: rest.map(({ balloon }) => balloon),
      rows: rest.map(({ row }) => row),
      extra: width / 2 - head.radius,
      toHead: (width - boxWidth(head.box)) / 2,
    });
  }
  return {
    of: (row: RowIndex) => byRow.get(row),
    extraOf: (row: RowIndex) => byRow.get(row)?.extra,
    isFollower: (row: RowIndex) => [...byRow.values()].some(({ rows }) => rows.includes(row)),
    /** The rest of the others get leaders of their own. */
    keepOnly: (isPlaced: (row: RowIndex) => boolean) => {
      for (const row of [...byRow.keys()]) if (!isPlaced(row)) byRow.delete(row);
    },
  };
}

/** The row per entry of `spots.paths`; −1 for none. */
export const rowsOfSpots = ({ paths }: Spots, { assembly, bill }: Pick<SheetInputs, 'assembly' | 'bill'>): number[] =>
  paths.map((path) => rowOfPath(bill, assembly, pathOf(path)));

function planProblems(
  bill: Bill,
  seen: ReadonlySet<number>,
  done: ReadonlySet<number>,
  crowded: readonly number[],
  tight: readonly number[],
  wanted?: ReadonlySet<number>,
): SheetProblem[] {
  const items = (rows: readonly number[]) => rows.map((row) => bill.rows[row].item);
  const hidden = bill.rows.flatMap((row, at) =>
    row.opened || seen.has(at) || (wanted && !wanted.has(at)) ? [] : [at],
  );
  const squeezed = crowded.filter((row) => !done.has(row));
  const problems: SheetProblem[] = [];
  if (hidden.length > 0)
    problems.push({
      code: 'hidden-everywhere',
      message: `${hidden.length} lines cannot be seen in any view of this sheet; add a view that shows them.`,
      items: items(hidden),
    });
  if (squeezed.length > 0)
    problems.push({
      code: 'no-room-for-balloon',
      message: `${squeezed.length} balloons found no free place around the views; choose larger paper, a smaller scale or another depth.`,
      items: items(squeezed),
    });
  if (tight.length > 0)
    problems.push({
      code: 'tight-anchor',
      message: `${tight.length} leaders end where less than a 1.5 mm circle of the part can be seen; look at them, or add a larger view.`,
      items: items(tight),
    });
  return problems;
}
