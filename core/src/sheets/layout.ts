import { componentsAlong, fullLabel, pathOf, type Assembly } from '../assembly/index.ts';
import { checkCoverage, convexHull, type Coverage } from '../balloons/index.ts';
import { printedColumns, printedLines, printedTexts, type Bill } from '../bill/index.ts';
import { alignmentOf, headingOf, type Column } from '../columns/index.ts';
import { boxesOverlap, moveBox, type Box2, type Vec2 } from '../geometry/index.ts';
import { measureText } from '../marks/index.ts';
import type { Pose } from '../poses/index.ts';
import { layOutTable, type MeasuredTable, type TableContent, type TableRoom } from '../tables/index.ts';
import { directionName, linesForPen, linesWithin, type ViewLines } from '../views/index.ts';
import { layOutBalloon, type LaidBalloon } from './balloonsOnSheet.ts';
import type { LaidView } from './laidView.ts';
import { layOutDimension, type DimensionFacts, type LaidDimension } from './dimensions.ts';
import { frameBox, penPair, type Paper } from './paper.ts';
import { rowOfPath } from './places.ts';
import type {
  BalloonRail,
  DimensionLook,
  Projection,
  Sheet,
  SheetSet,
  SheetTable,
  SheetView,
  TablePlace,
  TypedTable,
} from './records.ts';
import { saidText, type NoteFacts } from './notes.ts';
import { commonScale, scaleText } from './scales.ts';
import { blockOf, titleBlockBox, type TitleBlock, type TitleFields } from './titleBlock.ts';
import { withStacks } from './stacks.ts';

/** Everything that a sheet is computed from. */
export interface SheetInputs {
  readonly sheet: Sheet;
  /** Other sheets of the set that show the same bill: what is ballooned there is not missing here. */
  readonly others?: readonly Sheet[];
  /** Texts of the title block that all sheets of the project share. */
  readonly shared: TitleFields;
  /** What the title blocks of the project have besides. */
  readonly block?: TitleBlock | undefined;
  /** PNG of the logo of that, where it is to be written into a file. */
  readonly logo?: Uint8Array | null;
  /** Of the project; first angle where absent. */
  readonly projection?: Projection | undefined;
  /** Of the project; none where absent. */
  readonly poses?: readonly Pose[];
  /** Of the project. */
  readonly dimensionLook?: DimensionLook | undefined;
  readonly assembly: Assembly;
  readonly bill: Bill;
  readonly columns: readonly Column[];
  /** Other bills that lists of the sheet show, by document id; none where absent. */
  readonly lists?: ReadonlyMap<string, ShownBill>;
  /** Lines of each view on the sheet, by view id; a view without lines yet is left empty. */
  readonly lines: ReadonlyMap<string, ViewLines>;
  /** What of them is drawn (see `viewPen`), where that is worked out elsewhere: it takes too long for a page. */
  readonly drawn?: ReadonlyMap<string, ViewLines>;
}

/** A bill that a list shows. */
export interface ShownBill {
  readonly bill: Bill;
  /** Of the bill. */
  readonly columns: readonly Column[];
  /** The machine that it lists. */
  readonly assembly: Assembly;
}

/** What a sheet takes over from its set. */
export const setInputs = ({
  fields,
  poses,
  projection,
  dimensionLook,
  block,
}: SheetSet): Pick<SheetInputs, 'shared' | 'projection' | 'dimensionLook' | 'block'> & {
  readonly poses: readonly Pose[];
} => ({
  shared: fields,
  poses: poses ?? nothing,
  projection,
  dimensionLook,
  block,
});
const nothing: readonly Pose[] = [];

export interface LaidTable extends ListContent {
  readonly table: SheetTable;
  /** Its lines are lines of this bill. */
  readonly bill: Bill;
  /** Item number of each line; empty for headings and sums. */
  readonly items: readonly string[];
  /** Lines of the whole list, shown here or not. */
  readonly of: number;
  readonly measured: MeasuredTable;
  /** What its columns are, in their order. */
  readonly columns: readonly Column[];
  /** The corner from which it grows. */
  readonly corner: Vec2;
  /** Where that would be if it had not been put somewhere. */
  readonly home: Vec2;
  /** The side that stays where it is when it becomes wider. */
  readonly side: 'left' | 'right';
}
/** Where everything on the sheet lies, in paper mm. */
export interface SheetLayout {
  readonly frame: Box2;
  readonly titleBlock: Box2;
  readonly views: readonly LaidView[];
  readonly tables: readonly LaidTable[];
  readonly balloons: readonly LaidBalloon[];
  /** Lines on which balloons sit, on paper. */
  readonly rails: readonly { readonly rail: BalloonRail; readonly from: Vec2; readonly to: Vec2 }[];
  readonly dimensions: readonly LaidDimension[];
  readonly coverage: Coverage;
}

/**
 * Places everything; draws nothing.
 * @param place the how manyth sheet of how many it is, for texts that say so
 */
export function layOutSheet(inputs: SheetInputs, place = { sheet: 1, of: 1 }): SheetLayout {
  const { sheet } = inputs;
  const placed = sheet.views.flatMap((view) => {
    const lines = ownLines(view, inputs.lines);
    return lines
      ? [
          {
            ...placeView(view, lines, {
              alone: sheet.views.length === 1,
              poses: inputs.poses,
              assembly: inputs.assembly,
            }),
            drawn: inputs.drawn?.get(view.id) ?? drawnAt(view, lines, sheet.paper),
          },
        ]
      : [];
  });
  const dimensions = (sheet.dimensions ?? []).flatMap((dimension) => {
    const laid = placed.find(({ view }) => view.id === dimension.view);
    return laid ? [layOutDimension(dimension, laid, dimensionFacts(inputs))] : [];
  });
  const views = placed.map((laid) =>
    belowDimensions(
      laid,
      dimensions.filter(({ dimension }) => dimension.view === laid.view.id),
    ),
  );
  const balloons = withStacks(
    sheet.balloons.flatMap((balloon) => {
      const view = views.find((laid) => laid.view.id === balloon.view);
      return view ? [layOutBalloon(balloon, view, inputs)] : [];
    }),
  );
  return {
    frame: frameBox(sheet.paper),
    titleBlock: titleBlockBox(sheet.paper, blockOf(inputs.block)),
    views,
    balloons,
    rails: (sheet.rails ?? []).flatMap((rail) => {
      const middle = views.find(({ view }) => view.id === rail.view)?.view.centre;
      const at = ([x, y]: Vec2): Vec2 => [middle![0] + x, middle![1] + y];
      return middle ? [{ rail, from: at(rail.from), to: at(rail.to) }] : [];
    }),
    dimensions,
    tables: layOutLists(inputs, balloons, place),
    coverage: checkCoverage(
      inputs.bill.rows,
      new Map(balloons.map(({ balloon, row }) => [balloon.id, row])),
      inputs.others ? rowsOn(inputs.bill, inputs.assembly, inputs.others) : undefined,
      alsoOn(sheet),
    ),
  };
}

/** The view with its caption below the dimensions that would lie on it, unless it was put somewhere. */
function belowDimensions(laid: LaidView, dimensions: readonly LaidDimension[]): LaidView {
  if (laid.view.captionBy) return laid;
  let { captionBox: box } = laid;
  // Farther down with every one that it meets: at most once each.
  for (const { box: other } of dimensions.toSorted((a, b) => a.box[1] - b.box[1]))
    if (box && boxesOverlap(box, other)) box = moveBox(box, 0, other[3] + CAPTION_DOWN / 2 - box[1]);
  if (!box || box === laid.captionBox) return laid;
  return { ...laid, captionBox: box, captionAt: [laid.captionAt[0], (box[1] + box[3]) / 2] };
}

/** What dimensions of a sheet are laid out with. */
export const dimensionFacts = ({ assembly, poses, dimensionLook, sheet: { paper } }: SheetInputs): DimensionFacts => ({
  assembly,
  poses,
  look: dimensionLook,
  pen: penPair(paper).thin,
});

/** Ids of balloons that name their line once more. */
const alsoOn = ({ balloons }: Pick<Sheet, 'balloons'>): Set<string> =>
  new Set(balloons.flatMap(({ id, also }) => (also ? [id] : [])));

/** Rows of the bill that have a balloon on any of these sheets. */
const rowsOn = (bill: Bill, assembly: Assembly, sheets: readonly Sheet[]): Set<number> =>
  new Set(sheets.flatMap(({ balloons }) => balloons.map(({ path }) => rowOfPath(bill, assembly, path))));

/** Width of the pen of a view at the scale of its lines (1:1); mm. */
export const viewPen = ({ scale }: Pick<SheetView, 'scale'>, paper: Paper): number => penPair(paper).thick / scale;
/** The lines of a view; of an enlarged detail those of its piece. */
export function ownLines(view: SheetView, lines: ReadonlyMap<string, ViewLines>): ViewLines | undefined {
  const whole = lines.get(view.id);
  return whole && view.detail ? linesWithin(whole, view.detail) : whole;
}
const drawnAt = (view: SheetView, lines: ViewLines, paper: Paper): ViewLines =>
  linesForPen(lines, viewPen(view, paper));

/** What the caption of a view depends on besides itself. */
interface CaptionFacts {
  /** Whether it is the only view of its sheet, which needs no name. */
  readonly alone?: boolean;
  readonly poses?: readonly Pose[] | undefined;
  /** For the name of what is shown alone. */
  readonly assembly?: Assembly;
}

/** Where a view lies on paper, without a look at what of it is drawn. */
export function placeView(view: SheetView, lines: ViewLines, facts: CaptionFacts = {}): Omit<LaidView, 'drawn'> {
  const { box } = lines;
  const middle: Vec2 = [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2];
  const toPaper = (x: number, y: number): Vec2 => [
    view.centre[0] + (x - middle[0]) * view.scale,
    view.centre[1] - (y - middle[1]) * view.scale,
  ];
  const [x0, y1] = toPaper(box[0], box[1]),
    [x1, y0] = toPaper(box[2], box[3]);
  const captionText = captionOf(view, facts);
  const [byX, byY] = view.captionBy ?? [0, 0];
  const captionAt: Vec2 = [(x0 + x1) / 2 + byX, y1 + CAPTION_DOWN + byY];
  const half = captionText === '' ? 0 : measureText(captionText, CAPTION_LETTERING).width / 2;
  return {
    view,
    lines,
    box: [x0, y0, x1, y1],
    toPaper,
    hull: view.detail?.half
      ? boxCorners([x0, y0, x1, y1])
      : view.detail
        ? roundHull(view, view.detail.radius)
        : outlineOf(lines).map(([x, y]) => toPaper(x, y)),
    captionText,
    captionAt,
    captionBox:
      half === 0
        ? null
        : [
            captionAt[0] - half,
            captionAt[1] - CAPTION_LETTERING / 2,
            captionAt[0] + half,
            captionAt[1] + CAPTION_LETTERING / 2,
          ],
  };
}

/** Height of capitals of a caption, and how far below the view its middle is; mm. */
export const CAPTION_LETTERING = 3.5;
const CAPTION_DOWN = 6;

/** Words that stand for what they name in a caption. */
export const captionWords = ['scale', 'direction', 'pose', 'part'] as const;

/** What stands below a view: its own words with what they name put in, else direction and scale where there are several. */
function captionOf(view: SheetView, { alone = false, poses = [], assembly }: CaptionFacts): string {
  const scale = view.notToScale ? 'NOT TO SCALE' : scaleText(view.scale);
  if (view.caption === undefined)
    return view.detail
      ? `DETAIL ${view.detail.letter}  ${scale}`
      : !alone
        ? `${directionName(view.direction).toUpperCase()}  ${scale}`
        : view.notToScale
          ? scale
          : '';
  const pose = poses.find(({ id }) => id === view.pose)?.name ?? 'as assembled';
  const said: Readonly<Record<(typeof captionWords)[number], string>> = {
    scale,
    direction: directionName(view.direction),
    pose,
    part: assembly ? partShown(view, assembly) : '',
  };
  return view.caption.replace(
    /\{(scale|direction|pose|part)\}/gi,
    (_, word: string) => said[word.toLowerCase() as 'scale'],
  );
}

/** A caption is no place for a story. */
const MOST_OF_NAME = 160;
/** Part number and name of what a view shows: of the one place that it shows alone, else of the machine. */
function partShown({ only }: SheetView, assembly: Assembly): string {
  const along = componentsAlong(assembly, only?.length === 1 ? pathOf(only[0]) : []);
  return along ? fullLabel(assembly.components[along[along.length - 1]]).slice(0, MOST_OF_NAME) : '';
}

const boxCorners = ([x0, y0, x1, y1]: Box2): Vec2[] => [
  [x0, y0],
  [x1, y0],
  [x1, y1],
  [x0, y1],
];

const CORNERS = 32;
/** A circle as a polygon around it. */
function roundHull({ centre, scale }: SheetView, radius: number): Vec2[] {
  const far = (radius * scale) / Math.cos(Math.PI / CORNERS);
  return Array.from({ length: CORNERS }, (_, at): Vec2 => {
    const turn = (2 * Math.PI * at) / CORNERS;
    return [centre[0] + far * Math.cos(turn), centre[1] + far * Math.sin(turn)];
  });
}

const outlines = new WeakMap<ViewLines, readonly Vec2[]>();

/** Convex outline on the view plane; kept with the lines, since it is asked for at every move of the pointer. */
function outlineOf(lines: ViewLines): readonly Vec2[] {
  let outline = outlines.get(lines);
  if (!outline) {
    const points: Vec2[] = [];
    for (let at = 0; at < lines.ends.length; at += 2) points.push([lines.ends[at], lines.ends[at + 1]]);
    outlines.set(lines, (outline = convexHull(points)));
  }
  return outline;
}

/** A list on paper, and the row of the bill that each of its lines is; −1 for headings and sums. */
interface ListContent {
  readonly content: TableContent;
  readonly billRows: readonly number[];
}

/** The bill as a table. @param only rows that are shown; all of them when absent */
export function tableContent(bill: Bill, columns: readonly Column[], only?: ReadonlySet<number>): ListContent {
  const shown = printedColumns(columns);
  const has = (from: number, to: number) => [...only!].some((row) => row >= from && row < to);
  const lines = printedLines(bill, shown).filter(
    ({ kind, row, from, to }) => !only || (kind === 'row' ? only.has(row) : kind === 'heading' && has(from, to)),
  ); // a sum over other lines than are shown would mislead
  return {
    billRows: lines.map(({ row }) => row),
    content: {
      // Units keep their case: kg is not KG
      headings: shown.map((column) => headingOf({ ...column, heading: column.heading.toUpperCase() })),
      alignments: shown.map(alignmentOf),
      levels: lines.map(({ row }) => (row < 0 ? 0 : bill.rows[row].level - 1)),
      indented: shown.findIndex(({ source }) => source === 'name'),
      whole: new Set(shown.flatMap(({ source }, at) => (source === 'partNumber' || source === 'item' ? [at] : []))),
      rows: lines.map((line) =>
        printedTexts(bill, shown, line, (text, values) => `${text} (${values} values)`).map(onPaper),
      ),
      bold: new Set(lines.flatMap(({ kind }, at) => (kind === 'row' ? [] : [at]))),
      across: new Set(lines.flatMap(({ kind }, at) => (kind === 'heading' ? [at] : []))),
    },
  };
}

/** Of a list the lines after so many, up to so many. */
function linesOf(
  { billRows, content }: ListContent,
  { after = 0, upTo }: NonNullable<SheetTable['lines']>,
): ListContent {
  const kept = (lines: ReadonlySet<number> = new Set()) =>
    new Set([...lines].map((line) => line - after).filter((line) => line >= 0));
  return {
    billRows: billRows.slice(after, upTo),
    content: {
      ...content,
      rows: content.rows.slice(after, upTo),
      levels: content.levels?.slice(after, upTo) ?? [],
      bold: kept(content.bold),
      across: kept(content.across),
    },
  };
}

const RAISED = '⁰¹²³⁴⁵⁶⁷⁸⁹',
  LOWERED = '₀₁₂₃₄₅₆₇₈₉';
const figures = (text: string, set: string): string => [...text].map((figure) => set.indexOf(figure)).join('');

/**
 * As the fonts for paper can letter it: they have neither raised and lowered figures, which are drawn small around the
 * fraction slash (see `textMarks`), nor blanks that do not break.
 */
const onPaper = (text: string): string =>
  text
    .replace(/\u00a0/g, ' ')
    .replace(
      /(\d?)([⁰¹²³⁴-⁹]+)⁄([₀-₉]+)/gu,
      (_, whole: string, top: string, bottom: string) =>
        `${whole}${whole ? ' ' : ''}${figures(top, RAISED)}\u2044${figures(bottom, LOWERED)}`,
    );

/** The how manyth sheet of how many. */
interface Place {
  readonly sheet: number;
  readonly of: number;
}

const typedColumns = ({ columns }: TypedTable): Column[] =>
  columns.map(({ id, heading }) => ({ id, source: `property:${id}`, heading }));

/** What is typed into a table, with what its words stand for put in. */
function typedContent({ columns, rows }: TypedTable, inputs: SheetInputs, place: Place): ListContent {
  const { sheet, shared, bill, assembly } = inputs;
  const facts: NoteFacts = {
    fields: { ...shared, ...sheet.fields },
    scale: commonScale(sheet),
    ...place,
    bill,
    assembly,
    block: blockOf(inputs.block, sheet.further),
  };
  return {
    billRows: rows.map(() => -1),
    content: {
      headings: columns.map(({ heading }) => saidText(heading, facts)),
      alignments: columns.map(() => 'left'),
      rows: rows.map((texts) => texts.map((text) => onPaper(saidText(text, facts)))),
    },
  };
}

/** Document ids of the bills that lists of a sheet show besides its own. */
export const otherBills = ({ tables }: Pick<Sheet, 'tables'>): string[] => [
  ...new Set(tables.flatMap(({ bill }) => (bill === undefined ? [] : [bill]))),
];

/** The bill that a list shows. */
const billOf = ({ bill, columns, assembly, lists }: SheetInputs, table: SheetTable): ShownBill =>
  (table.bill === undefined ? undefined : lists?.get(table.bill)) ?? { bill, columns, assembly };

/** All lists; one that hangs on another one after that. */
function layOutLists(inputs: SheetInputs, balloons: readonly LaidBalloon[], place: Place): LaidTable[] {
  const { tables } = inputs.sheet;
  const laid = new Map<string, LaidTable>();
  const layOut = (table: SheetTable, waiting: ReadonlySet<string>): LaidTable => {
    const done = laid.get(table.id);
    if (done) return done;
    const other =
      table.onList === undefined || waiting.has(table.onList)
        ? undefined
        : tables.find(({ id }) => id === table.onList);
    const on = other && layOut(other, new Set([...waiting, table.id]));
    const made = layOutList(inputs, table, { balloons, on, place });
    laid.set(table.id, made);
    return made;
  };
  return tables.map((table) => layOut(table, new Set([table.id])));
}

function layOutList(
  inputs: SheetInputs,
  table: SheetTable,
  {
    balloons,
    on,
    place,
  }: { readonly balloons: readonly LaidBalloon[]; readonly on: LaidTable | undefined; readonly place: Place },
): LaidTable {
  const { sheet, block } = inputs;
  const shownBill = billOf(inputs, table);
  const { bill } = shownBill;
  const columns = table.typed ? typedColumns(table.typed) : shownBill.columns;
  const only = table.onlyBallooned
    ? new Set(
        balloons.map(({ balloon, row }) =>
          bill === inputs.bill ? row : rowOfPath(bill, shownBill.assembly, balloon.path),
        ),
      )
    : undefined;
  const all = table.typed ? typedContent(table.typed, inputs, place) : tableContent(bill, columns, only);
  const list = table.lines ? linesOf(all, table.lines) : all;
  const roomOf = (one: Pick<SheetTable, 'place' | 'at'>) => {
    const room = tableRoom(sheet, one, titleBlockBox(sheet.paper, blockOf(block)));
    return on && !one.at ? roomOn(on, room) : room;
  };
  const room = roomOf(table);
  const shown = table.typed ? columns : printedColumns(columns);
  const byColumn = <One extends { readonly column: string }>(all: readonly One[] = []) =>
    new Map(
      all.flatMap((one) => {
        const at = shown.findIndex(({ id }) => id === one.column);
        return at < 0 ? [] : [[at, one] as const];
      }),
    );
  return {
    ...list,
    table,
    bill,
    columns: shown,
    measured: layOutTable(list.content, room, {
      ...table,
      widths: byColumn(table.columnWidths),
      texts: byColumn(table.columnTexts),
      goesOnFrom: (table.lines?.after ?? 0) > 0,
      goesOn: list.content.rows.length + (table.lines?.after ?? 0) < all.content.rows.length,
    }),
    of: all.content.rows.length,
    items: list.billRows.map((row) => (row < 0 ? '' : bill.rows[row].item)),
    corner: cornerOf(room),
    home: cornerOf(roomOf({ place: table.place })),
    side: room.side,
  };
}

/** Between a list and one that hangs on it; mm. */
const BETWEEN_LISTS = 4;

/** The room at the end of a list, for another one that grows the same way. */
function roomOn({ measured: { box, grows }, side }: LaidTable, { box: whole }: TableRoom): TableRoom {
  const [x0, x1] = side === 'right' ? [whole[0], box[2]] : [box[0], whole[2]];
  const [y0, y1] = grows === 'up' ? [whole[1], box[1] - BETWEEN_LISTS] : [box[3] + BETWEEN_LISTS, whole[3]];
  return { box: [x0, y0, x1, y1], grows, side, fullWidth: box[2] - box[0], share: 1 };
}

const GAP = 8; // mm between a list in a corner and the title block

const cornerOf = ({ box, side, grows }: TableRoom): Vec2 => [
  side === 'right' ? box[2] : box[0],
  grows === 'up' ? box[3] : box[1],
];

/** The room that a list may take from where it hangs, or from where it was put. */
export function tableRoom(
  { paper }: Pick<Sheet, 'paper'>,
  { place, at }: Pick<SheetTable, 'place' | 'at'>,
  block: Box2,
): TableRoom {
  const frame = frameBox(paper);
  const room = hangingRoom(frame, place, block);
  if (!at) return room;
  const [x, y] = at;
  const [x0, x1] = room.side === 'right' ? [frame[0], x] : [x, frame[2]],
    [y0, y1] = room.grows === 'up' ? [frame[1], y] : [y, frame[3]];
  return { ...room, box: [x0, y0, x1, y1], fullWidth: Math.min(room.fullWidth, x1 - x0), share: 1 };
}

function hangingRoom(frame: Box2, place: TablePlace, block: Box2): TableRoom {
  const share = 0.62;
  if (place === 'title-block')
    return {
      box: [frame[0], frame[1], frame[2], block[1]],
      grows: 'up',
      side: 'right',
      fullWidth: block[2] - block[0],
      share,
    };
  if (place === 'top-right')
    return { box: [frame[0], frame[1], frame[2], block[1] - GAP], grows: 'down', side: 'right', fullWidth: 0, share };
  if (place === 'bottom-right')
    return { box: [frame[0], frame[1], frame[2], block[1] - GAP], grows: 'up', side: 'right', fullWidth: 0, share };
  if (place === 'top-left')
    return { box: [frame[0], frame[1], frame[2], block[1] - GAP], grows: 'down', side: 'left', fullWidth: 0, share };
  return {
    box: [frame[0], frame[1], Math.max(frame[0] + 1, block[0] - GAP), frame[3]],
    grows: 'up',
    side: 'left',
    fullWidth: 0,
    share: 1,
  };
}
