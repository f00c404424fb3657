import { listOccurrences, pathKey, pathOf, Refusal, type PathKey, type RowIndex } from '../../assembly/index.ts';
import { boxHeight, boxWidth } from '../../geometry/index.ts';
import { isLayout } from '../../layouts/index.ts';
import type { Exploded, Pose } from '../../poses/index.ts';
import { spotsWithin, type DirectionName, type DrawnView, type ViewLines } from '../../views/index.ts';
import { layOutSheet } from '../laid/layout.ts';
import type { SheetInputs } from '../sheetInputs.ts';
import { withDetails } from './enlarge.ts';
import { divideList, isLong, listSheets } from '../laid/longList.ts';
import { cellIn, freeRoom } from './freePaper.ts';
import { makeDrawing, type ViewWish } from './makeDrawing.ts';
import { frameBox } from '../paper/paper.ts';
import { coverageOn, rowOfPath } from '../laid/places.ts';
import {
  freeLetter,
  largestRoom,
  longestReach,
  obstaclesOf,
  placeViews,
  planBalloons,
  planSheet,
  rowsOfSpots,
  unplacedView,
  withUsualTable,
} from './plan.ts';
import { blankSheet, type BalloonLook, type Sheet, type SheetProblem, type SheetView } from '../records.ts';
import { bareSection, candidatePlanes, parentOf, placePair, roughScale, sectionIn } from './sectionSheet.ts';
import { middleOf, quarterBefore, type AxisPlane } from './sectionView.ts';
import { clearness, rowsSeenWell } from './seenWell.ts';

/** What a set may be made of: a picture of the whole, the drawing with its list, a section, things taken apart, single parts. */
export const sheetKinds = ['cover', 'assembly', 'section', 'exploded', 'details'] as const;
export type SheetKind = (typeof sheetKinds)[number];

/** A drawing that is to become a set, and what it is made from. */
interface SetRequest extends Omit<SheetInputs, 'lines' | 'drawn' | 'others'> {
  /** The drawing: its views, list and what was placed by hand stay. */
  readonly sheet: Sheet;
  /** The other sheets of the set that show the same bill: what is ballooned there needs no further picture. */
  readonly others: readonly Sheet[];
  readonly poses: readonly Pose[];
  /** Which sheets there are to be; where absent the drawing, and of the others as many as it takes. */
  readonly kinds?: readonly SheetKind[];
  /** Where the section is; where it shows most where absent. None is made where null. */
  readonly plane?: AxisPlane | null;
  /** Places that the exploded sheet shows taken apart, side by side; the whole machine where there are none. */
  readonly opened?: readonly PathKey[];
  /** Draws a look, in the poses given. Rejects with a Refusal where nothing of it has a shape. */
  readonly look: (wish: ViewWish, poses: readonly Pose[]) => Promise<DrawnView>;
  /** How the machine comes apart. */
  readonly apart: () => Promise<Exploded>;
  readonly newId: () => string;
}

/** A set as it was made. */
export interface MadeSet {
  /** The drawing. */
  readonly sheet: Sheet;
  /** Comes before it; null where none was asked for. */
  readonly cover: Sheet | null;
  /** Come behind it, in their order. */
  readonly further: readonly Sheet[];
  /** A new pose that their views are in; null where none was needed. */
  readonly pose: Pose | null;
  /** What cannot leave its seat along any straight way in it. */
  readonly locked: readonly PathKey[];
  readonly problems: readonly SheetProblem[];
  /** What was done, in a sentence. */
  readonly said: string;
}

/** A layout is seen as it is drawn. */
const FLAT: readonly DirectionName[] = ['top'];
/** Upper corners from which a machine may be shown, the usual one first. */
const corners: readonly DirectionName[] = ['isometric', 'isometric-left', 'isometric-back', 'isometric-back-left'];
/** Rows that another corner has to show more of than the usual one before it is taken. */
const BETTER_BY = 2;
/** The whole machine taken apart gets a sheet where it shows at least this share of what is missing. */
const WORTH_A_SHEET = 1 / 3;
/** A section gets a sheet where it shows at least so many lines that are seen nowhere else. */
const LEAST_IN_SECTION = 3;
/** A quarter is taken away where that shows at least this share of what is missing: a large frame is better taken apart. */
const WORTH_A_QUARTER = 1 / 2;
/** Subassemblies that are looked at, those with most missing lines. */
const MOST_PLACES = 24;
/** Further sheets of single parts; beyond them it is said what is missing. */
const MOST_SHEETS = 20;
/** Pictures on one sheet. */
const MOST_PICTURES = 48;
/** Least cell of a picture with a ring of balloons, and of a single part with one; mm. */
const WIDE_CELL = 135,
  NARROW_CELL = 75;
/** Least cell on free paper of another sheet of a picture of one part, and of several; mm. */
const LEAST_CELL = 60,
  LEAST_CELL_OF_SEVERAL = 100;
/** More pictures than these get sheets of their own. */
const MOST_ON_FREE_PAPER = 4;
/** What a picture of a subassembly has to show more than a picture of one part. */
const LEAST_GAIN = 2;
/** A picture of one part is at most so long; mm. */
const LARGEST_SINGLE = 80;
/** Around a single part, with its one balloon beside it; mm. */
const NARROW_MARGIN = 16;

/** A view with what is seen in it. */
interface Picture {
  readonly view: SheetView;
  readonly drawn: DrawnView;
  /** What it is there for. */
  readonly rows: ReadonlySet<number>;
}

/** A sheet with its views placed, what they show, and the rows that are seen well in them. */
interface Drawing {
  readonly sheet: Sheet;
  readonly drawn: ReadonlyMap<string, DrawnView>;
  readonly rows: ReadonlySet<number>;
}

/**
 * Makes of a drawing a set in which every line of the bill is seen well somewhere: the drawing with its list, then, for
 * what is hidden or a sliver there, the machine taken apart, subassemblies taken apart that each show most of what is
 * still missing at the scale that they get (greedy cover), and single parts. What was placed by hand stays; other sheets
 * are left as they are.
 */
export async function makeSet(request: SetRequest): Promise<MadeSet> {
  const { sheet, lists } = withoutLongList(request);
  return new SetMaker({ ...request, sheet }, lists).make();
}

/** The drawing with as much of its list as it has room for, and the sheets on which that goes on. */
function withoutLongList({ sheet, others, newId, ...rest }: SetRequest): { sheet: Sheet; lists: readonly Sheet[] } {
  const tables = withUsualTable(sheet.tables);
  const inputs = { ...rest, others, sheet: { ...sheet, tables }, lines: new Map<string, ViewLines>() };
  const { tables: laid, frame } = layOutSheet(inputs);
  const long = laid.find((one) => isLong(one, frame));
  const divided = long ? divideList(inputs, long.table, newId, true) : null;
  if (!divided) return { sheet, lists: [] };
  return {
    sheet: { ...sheet, tables: tables.map((one) => (one === long!.table ? divided.here : one)) },
    lists: listSheets(sheet, 'Parts list', divided.rest),
  };
}

class SetMaker {
  private readonly needed: ReadonlySet<number>;
  private readonly problems: SheetProblem[] = [];
  private poses: readonly Pose[];
  private taken: Promise<Pose | null> | null = null;
  private newPose: Pose | null = null;
  private locked: readonly PathKey[] = [];
  /** Of the drawing's balloons, and so of all. */
  private look: BalloonLook;
  /** What the views of the set show, by their ids. */
  private readonly drawnAs = new Map<string, DrawnView>();

  /** @param lists sheets on which its list goes on */
  constructor(
    private readonly request: SetRequest,
    private readonly lists: readonly Sheet[],
  ) {
    const { bill, poses } = request;
    this.needed = new Set(bill.rows.flatMap((row, at) => (row.opened ? [] : [at])));
    this.poses = poses;
    this.look = request.sheet.balloonLook;
  }

  async make(): Promise<MadeSet> {
    const { kinds, others } = this.request;
    const wants = (kind: SheetKind) => kinds?.includes(kind) ?? false;
    const plain = await this.drawing();
    this.look = plain.sheet.balloonLook;
    const elsewhere = this.rowsOn(others);
    const well = new Set([...plain.rows, ...elsewhere]);
    const missing = new Set([...this.needed].filter((row) => !well.has(row)));
    const drawing = this.enlarged(plain, missing);
    const further: Sheet[] = [];
    // A layout does not come apart, and shows nothing from another side.
    const { plane } = this.request;
    const isAsked = wants('section') || (plane !== undefined && plane !== null);
    if (!this.isFlat && plane !== null && (isAsked || (!kinds && missing.size > 0))) {
      const section = await this.section(missing, isAsked);
      if (section) further.push(section);
    }
    if (!this.isFlat && (missing.size > 0 || wants('exploded'))) {
      const whole = !kinds || wants('exploded') ? await this.wholeApart(missing, wants('exploded')) : null;
      if (whole) further.push(this.wholeBallooned(whole, missing));
    }
    const isDetailed = !this.isFlat && missing.size > 0 && (!kinds || wants('details'));
    const { pictures, sheets } = isDetailed ? await this.details(missing) : { pictures: [], sheets: [] };
    const own = [...further.splice(0), this.finishDrawing(drawing, missing)];
    // Nobody unfolds a sheet for one washer.
    const filled = kinds ? null : this.onFreePaper(own, pictures);
    const finished = (filled ?? own).pop()!;
    const [sheet, ...shown] = this.onceEach([finished, ...(filled ?? own), ...(filled ? [] : sheets)]);
    further.push(...shown);
    const cover = wants('cover') ? await this.cover() : null;
    further.push(...this.lists);
    return {
      sheet,
      cover,
      further,
      pose: this.newPose,
      locked: this.locked,
      problems: this.problems,
      said: this.sentence(sheet, cover ? [cover, ...further] : further, missing),
    };
  }

  /** The sheet that was asked for, with its views placed, and what is seen well in them. */
  private async drawing(): Promise<Drawing> {
    const { sheet } = this.request;
    if (sheet.views.length > 0) return this.withRows(sheet, await this.drawAll(sheet.views));
    const tried = await Promise.all(
      (this.isFlat ? FLAT : corners).map(async (direction) => {
        const view = unplacedView(this.request.newId(), { direction });
        return this.withRows({ ...sheet, views: [view] }, await this.drawAll([view]));
      }),
    );
    return tried.reduce((best, one) => (one.rows.size >= best.rows.size + BETTER_BY ? one : best));
  }

  private withRows(sheet: Sheet, drawn: Map<string, DrawnView>): Drawing {
    const planned = planSheet(this.inputs(sheet, drawn));
    const placed = new Map(planned.views.map((view) => [view.id, view]));
    const views = sheet.views.map((view) => (!view.byHand && placed.get(view.id)) || view);
    const seenIn = this.seenIn({ ...sheet, views }, drawn);
    const rows = new Set([...seenIn.values()].flatMap((own) => [...own]));
    return { sheet: { ...sheet, views, balloonLook: planned.balloonLook }, drawn, rows };
  }

  /** The drawing with enlarged details of what is seen too small in it; where sheets of certain kinds are asked for without. */
  private enlarged(drawing: Drawing, missing: Set<number>): Drawing {
    if (this.request.kinds) return drawing;
    const { sheet, drawn } = drawing;
    const { sheet: usual } = makeDrawing({
      ...this.inputs({ ...sheet, views: sheet.views.filter(({ detail, byHand }) => !detail || byHand) }, drawn),
      spots: spotsOf(drawn),
      newId: this.request.newId,
      wanted: drawing.rows,
      inView: this.seenIn(sheet, drawn),
    });
    const { sheet: detailed, rows } = this.withDetails({ ...usual, views: sheet.views }, drawn, missing);
    return {
      sheet: { ...sheet, views: detailed.views },
      drawn: withParents(drawn, detailed.views),
      rows: new Set([...drawing.rows, ...rows]),
    };
  }

  /** What is seen well in each view of a sheet, by view id. */
  private seenIn({ views }: Sheet, drawn: ReadonlyMap<string, DrawnView>): Map<string, Set<number>> {
    return new Map(views.map((view) => [view.id, this.seenWell(drawn.get(view.id)!, view)]));
  }

  private withDetails(sheet: Sheet, drawn: ReadonlyMap<string, DrawnView>, missing: Set<number>) {
    const made = withDetails(this.inputs(sheet, drawn), spotsOf(drawn), missing, this.request.newId);
    made.rows.forEach((row) => missing.delete(row));
    return made;
  }

  /** Balloons for what is seen well on it, and for what no other sheet shows better. */
  private finishDrawing({ sheet, drawn, rows }: Drawing, missing: ReadonlySet<number>): Sheet {
    drawn.forEach((one, id) => this.drawnAs.set(id, one));
    const seenIn = this.seenIn(sheet, drawn);
    const made = makeDrawing({
      ...this.inputs(sheet, drawn),
      spots: spotsOf(drawn),
      newId: this.request.newId,
      wanted: new Set([...rows, ...missing]),
      // What is a speck in one view has its balloon where it is enlarged.
      inView: new Map([...seenIn].map(([id, own]) => [id, new Set([...own, ...missing])])),
    });
    this.problems.push(...made.problems);
    return made.sheet;
  }

  /**
   * The sheets with one balloon per line: on the sheet where its part is clearest, the first of those that are as clear. One
   * that would have none left keeps its own; balloons placed by hand stay.
   */
  private onceEach(sheets: readonly Sheet[]): Sheet[] {
    const rowsOf = sheets.map((sheet) => {
      const clear = new Map(sheet.views.map((view) => [view.id, this.clearIn(view)]));
      return new Map(
        sheet.balloons.map(({ path, view, byHand }) => {
          const row = rowOfPath(this.request.bill, this.request.assembly, path);
          return [row, byHand ? Infinity : (clear.get(view)?.get(row) ?? 0)] as const;
        }),
      );
    });
    const best = (row: number) =>
      rowsOf.reduce((most, rows, at) => ((rows.get(row) ?? -1) > (rowsOf[most].get(row) ?? -1) ? at : most), 0);
    return sheets.map((sheet, at) => {
      const kept = [...rowsOf[at].keys()].filter((row) => best(row) === at);
      return kept.length === 0 || kept.length === rowsOf[at].size ? sheet : this.withOnly(sheet, new Set(kept));
    });
  }

  /** A sheet with balloons of these rows alone: arranged anew where they all find a place, else those that it has. */
  private withOnly(sheet: Sheet, rows: ReadonlySet<number>): Sheet {
    const { bill, assembly, newId } = this.request;
    const rowsIn = (balloons: Sheet['balloons']) => balloons.map(({ path }) => rowOfPath(bill, assembly, path));
    const drawn = new Map(sheet.views.flatMap(({ id }) => (this.drawnAs.has(id) ? [[id, this.drawnAs.get(id)!]] : [])));
    const { balloons } = planBalloons(
      this.inputs(sheet, drawn),
      spotsOf(drawn),
      newId,
      rows,
      this.seenIn(sheet, drawn),
    );
    const found = new Set(rowsIn(balloons));
    if ([...rows].every((row) => found.has(row))) return { ...sheet, balloons };
    const all = rowsIn(sheet.balloons);
    return { ...sheet, balloons: sheet.balloons.filter(({ byHand }, at) => byHand || rows.has(all[at])) };
  }

  /** How clearly rows can be pointed at in a view; an enlarged detail or a picture of one place is there to be pointed into. */
  private clearIn(view: SheetView): Map<number, number> {
    const drawn = this.drawnAs.get(view.id);
    if (!drawn) return new Map();
    const own = view.detail ? spotsWithin(drawn.spots, view.detail) : drawn.spots;
    const clear = clearness(own, rowsOfSpots(own, this.request), view.scale);
    return view.detail || view.only ? new Map([...clear.keys()].map((row) => [row, Infinity])) : clear;
  }

  /**
   * A sheet with what shows most of what is missing: a section beside its view, or the machine with a quarter taken away; null
   * where that is too little.
   */
  private async section(missing: Set<number>, anyhow: boolean): Promise<Sheet | null> {
    const sheet = this.further('Section');
    const room = this.roomOf(sheet);
    const quarter = this.request.plane ? null : this.quarter(sheet, missing);
    const tried = await Promise.all(
      (await this.planes()).map(async (plane) => {
        const drawn = await this.draw(bareSection(plane, this.request.newId()));
        const scale = roughScale(room, drawn.lines, this.margin(sheet));
        const rows = [...this.seenWell(drawn, { scale })].filter((row) => missing.has(row)).length;
        return { plane, drawn, rows: (drawn.lines.cutOccurrences?.length ?? 0) === 0 ? -1 : rows };
      }),
    );
    const best = tried.reduce((most, one) => (one.rows > most.rows ? one : most));
    if (anyhow && best.rows < 0)
      this.problems.push({
        code: 'section-misses',
        message: 'The section that was asked for cuts nothing of the machine, so there is none.',
        items: [],
      });
    const open = await quarter;
    if (open && open.rows.size >= Math.max(best.rows + BETTER_BY, LEAST_IN_SECTION, missing.size * WORTH_A_QUARTER))
      return this.balloon({ ...sheet, views: [open.view] }, [open], missing, true);
    if (best.rows < (anyhow ? 0 : LEAST_IN_SECTION)) return null;
    const parent = parentOf(best.plane, this.request.newId());
    const shown = { view: parent, drawn: await this.draw(parent) };
    const letter = freeLetter([...this.request.others, this.request.sheet].flatMap(({ views }) => views));
    const view = sectionIn(best.plane, letter, this.request.newId(), { view: parent, lines: shown.drawn.lines });
    // What it takes away is the same, so it is drawn already.
    const cut = { view, drawn: best.drawn };
    const [placed, placedCut] = placePair(room, shown, cut, this.request.projection ?? 'first', this.margin(sheet));
    const rows = new Set([...this.seenWell(best.drawn, placedCut)].filter((row) => missing.has(row)));
    const pictures = [
      { ...cut, view: placedCut, rows },
      { ...shown, view: placed, rows },
    ];
    return this.balloon({ ...sheet, views: [placedCut, placed] }, pictures, missing, true);
  }

  /** The machine from a corner without the quarter that is nearest, on a sheet of its own. */
  private async quarter(sheet: Sheet, missing: ReadonlySet<number>): Promise<Picture> {
    const direction = 'isometric';
    const section = quarterBefore(direction, middleOf(direction, await this.fromCorner()));
    const view = unplacedView(this.request.newId(), { direction, section });
    const drawn = await this.draw(view);
    const [placed] = placeViews(this.roomOf(sheet), [view], new Map([[view.id, drawn.lines]]), this.margin(sheet), {
      captions: true,
    });
    return { view: placed, drawn, rows: new Set([...this.seenWell(drawn, placed)].filter((row) => missing.has(row))) };
  }

  /** Planes in which a section may be. */
  private async planes(): Promise<readonly AxisPlane[]> {
    if (this.request.plane) return [this.request.plane];
    const direction = 'isometric';
    const lines = await this.fromCorner();
    return candidatePlanes(direction, lines, middleOf(direction, lines));
  }

  private async fromCorner(): Promise<ViewLines> {
    return (await this.draw(unplacedView(this.request.newId(), { direction: 'isometric' }))).lines;
  }

  private get isFlat(): boolean {
    return isLayout(this.request.assembly);
  }

  private async cover(): Promise<Sheet> {
    const { sheet, newId } = this.request;
    const view = unplacedView(newId(), { direction: this.isFlat ? 'top' : 'isometric' });
    const blank: Sheet = { ...this.further('Cover'), views: [{ ...view, caption: '' }] };
    const drawn = await this.drawAll([view]);
    const inputs = this.inputs({ ...blank, paper: sheet.paper }, drawn);
    return { ...blank, views: placeViews(this.roomOf(blank), blank.views, inputs.lines, NARROW_MARGIN) };
  }

  /** A sheet with the whole machine taken apart; null where that shows too little of what is missing. */
  private async wholeApart(
    missing: ReadonlySet<number>,
    anyhow: boolean,
  ): Promise<{ sheet: Sheet; pictures: Picture[] } | null> {
    const pose = await this.exploded();
    if (!pose) return null;
    const sheet = this.further('Exploded');
    const { opened = [] } = this.request;
    if (opened.length > 0) return this.placesApart(sheet, opened, pose);
    const tried = await Promise.all(
      corners.map(async (direction) => {
        const view = {
          ...unplacedView(this.request.newId(), { direction, pose: pose.id }),
          caption: '{pose}  {scale}  {repeats}',
          pathLines: true as const,
        };
        const drawn = await this.draw(view);
        const [placed] = placeViews(this.roomOf(sheet), [view], new Map([[view.id, drawn.lines]]), this.margin(sheet), {
          captions: true,
        });
        const rows = new Set([...this.seenWell(drawn, placed)].filter((row) => missing.has(row)));
        return { view: placed, drawn, rows };
      }),
    );
    const best = tried.reduce((most, one) => (one.rows.size >= most.rows.size + BETTER_BY ? one : most));
    if (!anyhow && best.rows.size < missing.size * WORTH_A_SHEET) return null;
    return { sheet: { ...sheet, views: [best.view] }, pictures: [best] };
  }

  /** Balloons for what is missing and there is room for what is not, and enlarged details of what is too small there. */
  private wholeBallooned({ sheet, pictures }: { sheet: Sheet; pictures: Picture[] }, missing: Set<number>): Sheet {
    const left = new Set(missing);
    const usual = this.balloon(sheet, pictures, left, true);
    const drawn = new Map(pictures.map(({ view, drawn: made }) => [view.id, made]));
    const { sheet: detailed } = this.request.kinds ? { sheet: usual } : this.withDetails(usual, drawn, left);
    const all = withParents(drawn, detailed.views);
    const details = detailed.views
      .filter(({ detail }) => detail)
      .map((view): Picture => ({ view, drawn: all.get(view.id)!, rows: new Set() }));
    return this.balloon({ ...detailed, balloons: sheet.balloons }, [...pictures, ...details], missing, true);
  }

  /** These places taken apart, side by side. */
  private async placesApart(sheet: Sheet, places: readonly PathKey[], pose: Pose) {
    const pictures = await Promise.all(places.map((place) => this.openedPlace(place, pose)));
    const lines = new Map(pictures.map(({ view, drawn }) => [view.id, drawn.lines]));
    const views = placeViews(
      this.roomOf(sheet),
      pictures.map(({ view }) => view),
      lines,
      this.margin(sheet),
      { ownScales: true, captions: true },
    );
    return { sheet: { ...sheet, views }, pictures: pictures.map((one) => ({ ...one, rows: new Set<number>() })) };
  }

  private async openedPlace(place: PathKey, pose: Pose | null): Promise<Omit<Picture, 'rows'>> {
    const view = {
      ...unplacedView(this.request.newId(), {
        direction: 'isometric',
        only: [place],
        ...(pose ? { pose: pose.id } : {}),
      }),
      caption: `{part}  {scale}  {within}${pose ? '  {repeats}' : ''}`,
      ...(pose ? { pathLines: true as const } : {}),
    };
    return { view, drawn: await this.draw(view) };
  }

  /**
   * Sheets of subassemblies taken apart, and of single parts, until nothing is missing, with all pictures that stand on them.
   */
  private async details(missing: Set<number>): Promise<{ pictures: readonly Picture[]; sheets: Sheet[] }> {
    const seats = this.seatsOf(missing);
    const bySubassembly = await this.subassemblies(missing, seats);
    // On its sheet a picture may come out smaller, or a balloon find no place: what is left then is shown by itself.
    const alone = new Set<number>([...missing].filter((row) => !bySubassembly.some(({ rows }) => rows.has(row))));
    for (;;) {
      const single = await this.singles(alone, seats);
      const left = new Set(missing);
      const sheets = this.detailSheets(bySubassembly, single, left);
      const more = [...left].filter((row) => seats.has(row) && !alone.has(row));
      if (more.length > 0) {
        more.forEach((row) => alone.add(row));
        continue;
      }
      for (const row of [...missing]) if (!left.has(row)) missing.delete(row);
      return {
        pictures: [...bySubassembly, ...single].filter(({ view }) =>
          sheets.some(({ views }) => views.some(({ id }) => id === view.id)),
        ),
        sheets: sheets.map((sheet, at) => ({ ...sheet, name: sheets.length > 1 ? `Details ${at + 1}` : 'Details' })),
      };
    }
  }

  /**
   * The sheets with a few pictures more, each on free paper of the first that has room for it with its balloons; null where not
   * all find room.
   */
  private onFreePaper(sheets: readonly Sheet[], pictures: readonly Picture[]): Sheet[] | null {
    if (pictures.length > MOST_ON_FREE_PAPER) return null;
    const filled = [...sheets];
    for (const picture of pictures) {
      const at = filled.findIndex((sheet, index) => {
        const added = this.withPicture(sheet, picture);
        if (added) filled[index] = added;
        return added !== null;
      });
      if (at < 0) return null;
    }
    return filled;
  }

  /** A sheet with one picture more on its free paper; null where that, its balloons or those that are there find no room. */
  private withPicture(sheet: Sheet, picture: Picture): Sheet | null {
    const drawn = new Map(
      [...sheet.views, picture.view].map(({ id }) => [
        id,
        id === picture.view.id ? picture.drawn : this.drawnAs.get(id)!,
      ]),
    );
    const layout = layOutSheet(this.inputs(sheet, drawn));
    const isSingle = picture.rows.size === 1;
    const margin = isSingle ? NARROW_MARGIN : this.margin(sheet);
    const most = LARGEST_SINGLE + 2 * margin;
    const room = freeRoom(layout);
    const cell = room && cellIn(room, layout.frame, isSingle ? LEAST_CELL : LEAST_CELL_OF_SEVERAL, most);
    if (!cell) return null;
    const [view] = placeViews(cell, [picture.view], new Map([[picture.view.id, picture.drawn.lines]]), margin, {
      captions: true,
      largest: [LARGEST_SINGLE],
    });
    const left = new Set([...layout.balloons.map(({ row }) => row).filter((row) => row >= 0), ...picture.rows]);
    const views = [...sheet.views, view];
    const pictures = views.map((one) => ({ view: one, drawn: drawn.get(one.id)!, rows: picture.rows }));
    const made = this.balloon({ ...sheet, views }, pictures, left);
    return left.size === 0 ? made : null;
  }

  private readonly alone = new Map<number, Promise<Picture | null>>();

  private async singles(rows: ReadonlySet<number>, seats: ReadonlyMap<number, PathKey>): Promise<Picture[]> {
    const found: Picture[] = [];
    for (const row of [...rows].sort((a, b) => a - b)) {
      const path = seats.get(row);
      if (!path) continue;
      if (!this.alone.has(row)) this.alone.set(row, this.single(row, path));
      const picture = await this.alone.get(row);
      if (picture) found.push(picture);
    }
    return found;
  }

  /** In a common grid where they fit one sheet. */
  private detailSheets(several: readonly Picture[], single: readonly Picture[], missing: Set<number>): Sheet[] {
    const wide = this.cells(WIDE_CELL);
    const groups =
      several.length + single.length <= wide
        ? inGroups([...several, ...single], wide)
        : [...inGroups(several, wide), ...inGroups(single, this.cells(NARROW_CELL))];
    return groups.slice(0, MOST_SHEETS).map((pictures) => this.sheetOf(pictures, missing));
  }

  /** Pictures of subassemblies, the one that shows most first, each for what those before it do not show. */
  private async subassemblies(missing: ReadonlySet<number>, seats: ReadonlyMap<number, PathKey>): Promise<Picture[]> {
    const places = new Map<PathKey, number>();
    for (const [row, seat] of seats) {
      if (!missing.has(row)) continue;
      const path = pathOf(seat);
      for (let length = 1; length < path.length; length++) {
        const place = pathKey(path.slice(0, length));
        places.set(place, (places.get(place) ?? 0) + 1);
      }
    }
    const worth = [...places].filter(([, rows]) => rows >= LEAST_GAIN).sort((a, b) => b[1] - a[1]);
    if (worth.length === 0) return [];
    const pose = await this.exploded();
    const found = await Promise.all(
      worth.slice(0, MOST_PLACES).map(async ([place]): Promise<Picture | null> => {
        const opened = await this.openedPlace(place, pose).catch(unlessRefused);
        if (!opened) return null;
        const { drawn } = opened;
        const rows = new Set(
          [...this.seenWell(drawn, { scale: this.scaleInCell(drawn, WIDE_CELL) })].filter((row) => missing.has(row)),
        );
        return { ...opened, rows };
      }),
    );
    const taken: Picture[] = [];
    let left = found.filter((one) => one !== null);
    for (;;) {
      const best = left.reduce<Picture | null>(
        (most, one) => (one.rows.size > (most?.rows.size ?? 0) ? one : most),
        null,
      );
      if (!best || best.rows.size < LEAST_GAIN) return taken;
      taken.push(best);
      left = left
        .filter((one) => one !== best)
        .map((one) => ({ ...one, rows: new Set([...one.rows].filter((row) => !best.rows.has(row))) }));
    }
  }

  /** A picture of one part alone; null where it has no shape. */
  private async single(row: RowIndex, place: PathKey): Promise<Picture | null> {
    const view = {
      ...unplacedView(this.request.newId(), { direction: 'isometric', only: [place] }),
      caption: '{part}  {scale}  {within}',
    };
    const drawn = await this.draw(view).catch(unlessRefused);
    return drawn && { view, drawn, rows: new Set([row]) };
  }

  /**
   * A further sheet with these pictures in a grid, and balloons for what is missing; what gets one is missing no more.
   * Pictures that turn out to have none, since another one shows it, are left out.
   */
  private sheetOf(pictures: readonly Picture[], missing: Set<number>): Sheet {
    const sheet = this.further('Details');
    const isNarrow = pictures.every(({ rows }) => rows.size === 1);
    const views = placeViews(
      this.roomOf(sheet),
      pictures.map(({ view }) => view),
      new Map(pictures.map(({ view, drawn }) => [view.id, drawn.lines])),
      isNarrow ? NARROW_MARGIN : this.margin(sheet),
      {
        ownScales: true,
        captions: true,
        largest: pictures.map(({ rows }) => (rows.size === 1 ? LARGEST_SINGLE : Infinity)),
      },
    );
    const left = new Set(missing);
    const made = this.balloon({ ...sheet, views }, pictures, left);
    const used = pictures.filter(({ view }) => made.balloons.some((balloon) => balloon.view === view.id));
    if (used.length > 0 && used.length < pictures.length) return this.sheetOf(used, missing);
    for (const row of [...missing]) if (!left.has(row)) missing.delete(row);
    return made;
  }

  /** @param all whether also what other sheets show gets a balloon, where there is room for all */
  private balloon(sheet: Sheet, pictures: readonly Picture[], missing: Set<number>, all = false): Sheet {
    const drawn = new Map(pictures.map(({ view, drawn: made }) => [view.id, made]));
    drawn.forEach((one, id) => this.drawnAs.set(id, one));
    const seenIn = this.seenIn(sheet, drawn);
    const seen = [...new Set([...seenIn.values()].flatMap((rows) => [...rows]))];
    const spots = spotsOf(drawn);
    const inputs = this.inputs(sheet, drawn);
    const withBalloons = (rows: readonly number[]) => {
      const { balloons } = planBalloons(inputs, spots, this.request.newId, new Set(rows), seenIn);
      const made = { ...sheet, balloons };
      return { made, rows: new Set(layOutSheet({ ...inputs, sheet: made }).balloons.map(({ row }) => row)) };
    };
    const needed = seen.filter((row) => missing.has(row));
    const everything = all ? withBalloons(seen) : null;
    const { made, rows } =
      everything && seen.every((row) => everything.rows.has(row)) ? everything : withBalloons(needed);
    for (const row of rows) missing.delete(row);
    return made;
  }

  /** A blank sheet of the set, on the drawing's paper with its bill. */
  private further(name: string): Sheet {
    const { paper, bill } = this.request.sheet;
    return { ...blankSheet(name, paper), ...(bill === undefined ? {} : { bill }), balloonLook: this.look };
  }

  private exploded(): Promise<Pose | null> {
    this.taken ??= this.takeApart();
    return this.taken;
  }

  /** The first pose of the project in which anything has moved, else a new one; null where it cannot be taken apart. */
  private async takeApart(): Promise<Pose | null> {
    const known = this.poses.find(({ moves }) => moves.length > 0);
    if (known) return known;
    const found = await this.request.apart().catch((error: unknown) => {
      // Too many things at one place: subassemblies and parts are shown as they are.
      if (error instanceof Refusal) this.problems.push({ code: 'not-apart', message: error.message, items: [] });
      return unlessRefused(error);
    });
    if (!found || found.moves.length === 0) return null;
    this.locked = found.locked.map(({ path }) => path);
    this.newPose = { id: this.request.newId(), name: 'Exploded', moves: found.moves };
    this.poses = [...this.poses, this.newPose];
    return this.newPose;
  }

  private draw(view: SheetView): Promise<DrawnView> {
    const { direction, only, without, pose, section } = view;
    return this.request.look(
      {
        direction,
        ...(section ? { section } : {}),
        ...(only ? { only } : {}),
        ...(without ? { without } : {}),
        ...(pose === undefined ? {} : { pose }),
      },
      this.poses,
    );
  }

  private async drawAll(views: readonly SheetView[]): Promise<Map<string, DrawnView>> {
    return new Map(await Promise.all(views.map(async (view) => [view.id, await this.draw(view)] as const)));
  }

  private inputs(sheet: Sheet, drawn: ReadonlyMap<string, DrawnView>): SheetInputs {
    const { shared, projection, dimensionLook, sectionLook, block, assembly, bill, columns, others, lists } =
      this.request;
    const lines = new Map([...drawn].map(([id, one]) => [id, one.lines]));
    const ofSet = { shared, projection, dimensionLook, sectionLook, block, poses: this.poses };
    return { sheet, ...ofSet, assembly, bill, columns, others, lines, ...(lists ? { lists } : {}) };
  }

  /** Rows that are seen well in a view, at this scale; in an enlarged detail those in its border. */
  private seenWell({ spots }: DrawnView, { scale, detail }: Pick<SheetView, 'scale' | 'detail'>): Set<number> {
    const own = detail ? spotsWithin(spots, detail) : spots;
    return rowsSeenWell(own, rowsOfSpots(own, this.request), scale);
  }

  /** The first place of each row's thing, where it has one. */
  private seatsOf(rows: ReadonlySet<number>): Map<number, PathKey> {
    const { assembly, bill } = this.request;
    const wanted = new Set([...rows].flatMap((row) => bill.rows[row].components));
    const seats = new Map<number, PathKey>();
    for (const { path } of listOccurrences(assembly, (component) => wanted.has(component))) {
      const row = rowOfPath(bill, assembly, path);
      if (rows.has(row) && !seats.has(row)) seats.set(row, pathKey(path));
    }
    return seats;
  }

  private rowsOn(sheets: readonly Sheet[]): number[] {
    const { assembly, bill } = this.request;
    return sheets.flatMap(({ balloons }) => balloons.map(({ path }) => rowOfPath(bill, assembly, path)));
  }

  private roomOf(sheet: Sheet) {
    const layout = layOutSheet(this.inputs({ ...sheet, views: [], balloons: [] }, new Map()));
    return largestRoom(layout.frame, obstaclesOf(layout));
  }

  private margin({ balloonLook }: Sheet): number {
    return 2 * (balloonLook.radius + longestReach(this.request.bill, balloonLook, this.request.columns)) + 8;
  }

  /** How many pictures a further sheet has room for, each at least so wide and high. */
  private cells(least: number): number {
    const room = this.roomOf(this.further(''));
    const across = Math.max(1, Math.floor(boxWidth(room) / least)),
      down = Math.max(1, Math.floor(boxHeight(room) / least));
    return Math.min(MOST_PICTURES, across * down);
  }

  private scaleInCell(drawn: DrawnView, least: number): number {
    const frame = frameBox(this.request.sheet.paper);
    const cell = Math.min(least, boxWidth(frame), boxHeight(frame)) - 2 * this.margin(this.request.sheet);
    return Math.max(cell, 10) / Math.max(boxWidth(drawn.lines.box), boxHeight(drawn.lines.box), 1e-3);
  }

  private sentence(sheet: Sheet, further: readonly Sheet[], missing: ReadonlySet<number>): string {
    const { bill, assembly, others } = this.request;
    const { missing: without } = coverageOn(bill, assembly, [sheet, ...further, ...others]);
    const of = this.needed.size;
    const sheets =
      further.length === 0
        ? `No further sheet was ${this.request.kinds ? 'made' : 'needed'}`
        : `${further.length === 1 ? 'One further sheet was' : `${further.length} further sheets were`} made`;
    const detailsOn = (all: readonly Sheet[]) =>
      all.flatMap(({ views }) => views.filter(({ detail }) => detail)).length;
    const added = detailsOn([sheet, ...further]) - detailsOn([this.request.sheet]);
    const details =
      added === 0
        ? ''
        : `, ${added === 1 ? 'one enlarged detail shows' : `${added} enlarged details show`} what is small`;
    const lines = `${of - without.length} of ${of} lines have a balloon`;
    const hidden =
      missing.size === 0
        ? ''
        : `; ${without.length > 0 ? `not ${without.slice(0, 8).join(', ')}${without.length > 8 ? ' …' : ''}` : `${missing.size} are seen only a little`}`;
    return `${sheets}${details}: ${lines}${hidden}.`;
  }
}

const spotsOf = (drawn: ReadonlyMap<string, DrawnView>) => new Map([...drawn].map(([id, { spots }]) => [id, spots]));

/** Enlarged details show what the view shows that they are a piece of. */
const withParents = (drawn: ReadonlyMap<string, DrawnView>, views: readonly SheetView[]) =>
  new Map([
    ...drawn,
    ...views.flatMap(({ id, detail }) => {
      const parent = detail && drawn.get(detail.of);
      return parent ? [[id, parent] as const] : [];
    }),
  ]);

/** Without shapes there is no picture. */
function unlessRefused(error: unknown): null {
  if (error instanceof Refusal) return null;
  throw error;
}

function inGroups<One>(all: readonly One[], most: number): One[][] {
  const groups = Math.ceil(all.length / most);
  // Evenly: two sheets of four pictures and not one of seven and one of one.
  return Array.from({ length: groups }, (_, at) =>
    all.slice(Math.round((at * all.length) / groups), Math.round(((at + 1) * all.length) / groups)),
  );
}
