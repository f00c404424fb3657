import { componentsAlong, fullLabel, partLabel, pathOf, type Assembly } from '../../assembly/index.ts';
import { checkCoverage, convexHull, type Coverage } from '../../balloons/index.ts';
import { type Bill } from '../../bill/index.ts';
import { boxesOverlap, moveBox, type Box2, type Vec2 } from '../../geometry/index.ts';
import { measureText } from '../../marks/index.ts';
import type { Pose } from '../../poses/index.ts';
import { directionName, linesForPen, linesWithin, type ViewLines } from '../../views/index.ts';
import { cuttingLineOn, type LaidCuttingLine } from './cuttingLines.ts';
import { layOutBalloon, type LaidBalloon } from './balloonsOnSheet.ts';
import type { LaidView } from './laidView.ts';
import { layOutLists, type LaidTable } from './listsOnSheet.ts';
import type { SheetInputs } from '../sheetInputs.ts';
import { layOutDimension, type DimensionFacts, type LaidDimension } from './dimensions.ts';
import { frameBox, penPair, type Paper } from '../paper/paper.ts';
import { rowOfPath } from './places.ts';
import type { BalloonRail, Sheet, SheetView } from '../records.ts';
import { repeatsShown } from './repeats.ts';
import { scaleText } from './scales.ts';
import { blockOf, blockShownBy, titleBlockBox } from '../paper/titleBlock.ts';
import { withStacks } from './stacks.ts';

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
  /** Of sections, on the views that show them. */
  readonly cuttingLines: readonly LaidCuttingLine[];
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
            drawn: () => inputs.drawn?.get(view.id) ?? linesForPen(lines, viewPen(view, sheet.paper)),
          },
        ]
      : [];
  });
  const dimensions = (sheet.dimensions ?? []).flatMap((dimension) => {
    const laid = placed.find(({ view }) => view.id === dimension.view);
    return laid ? [layOutDimension(dimension, laid, dimensionFacts(inputs))] : [];
  });
  const cuttingLines = placed.flatMap((laid) =>
    sheet.views.flatMap((view) => cuttingLineOn(view, laid, inputs.sectionLook) ?? []),
  );
  const views = placed.map((laid) =>
    belowAll(laid, [
      ...dimensions.flatMap(({ dimension, box }) => (dimension.view === laid.view.id ? [box] : [])),
      ...cuttingLines.flatMap(({ on, endBoxes }) => (on === laid.view.id ? endBoxes : [])),
    ]),
  );
  const balloons = withStacks(
    sheet.balloons.flatMap((balloon) => {
      const view = views.find((laid) => laid.view.id === balloon.view);
      return view ? [layOutBalloon(balloon, view, inputs)] : [];
    }),
  );
  return {
    frame: frameBox(sheet.paper),
    titleBlock: titleBlockBox(sheet.paper, blockOf(blockShownBy(inputs.block, sheet))),
    views,
    balloons,
    rails: (sheet.rails ?? []).flatMap((rail) => {
      const middle = views.find(({ view }) => view.id === rail.view)?.view.centre;
      const at = ([x, y]: Vec2): Vec2 => [middle![0] + x, middle![1] + y];
      return middle ? [{ rail, from: at(rail.from), to: at(rail.to) }] : [];
    }),
    dimensions,
    cuttingLines,
    tables: layOutLists(inputs, balloons, place),
    coverage: checkCoverage(
      inputs.bill.rows,
      new Map(balloons.map(({ balloon, row }) => [balloon.id, row])),
      inputs.others ? rowsOn(inputs.bill, inputs.assembly, inputs.others) : undefined,
      alsoOn(sheet),
    ),
  };
}

/** The view with its caption below what would lie on it, unless it was put somewhere. */
function belowAll(laid: LaidView, others: readonly Box2[]): LaidView {
  if (laid.view.captionBy) return laid;
  let { captionBox: box } = laid;
  // Farther down with every one that it meets: at most once each.
  for (const other of others.toSorted((a, b) => a[1] - b[1]))
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

/** What stands below a view: its own words with what they name put in, else direction and scale where there are several. */
function captionOf(view: SheetView, { alone = false, poses = [], assembly }: CaptionFacts): string {
  const scale = view.notToScale ? 'NOT TO SCALE' : scaleText(view.scale);
  if (view.caption === undefined)
    return view.detail
      ? `DETAIL ${view.detail.letter}  ${scale}`
      : view.section?.letter
        ? `${view.section.letter}–${view.section.letter}  ${scale}`
        : !alone
          ? `${directionName(view.direction).toUpperCase()}  ${scale}`
          : view.notToScale
            ? scale
            : '';
  const pose = poses.find(({ id }) => id === view.pose);
  const said: Readonly<Record<'scale' | 'direction' | 'pose' | 'part' | 'within' | 'repeats', string>> = {
    scale,
    direction: directionName(view.direction),
    pose: pose?.name ?? 'as assembled',
    part: assembly ? partShown(view, assembly) : '',
    within: assembly ? withinShown(view, assembly) : '',
    repeats: assembly && pose ? repeatsShown(view, pose, assembly).slice(0, MOST_OF_NAME) : '',
  };
  return view.caption
    .replace(
      /\{(scale|direction|pose|part|within|repeats)\}/gi,
      (_, word: string) => said[word.toLowerCase() as 'scale'],
    )
    .trimEnd();
}

/** A caption is no place for a story. */
const MOST_OF_NAME = 160;
/** Part number and name of what a view shows: of the one place that it shows alone, else of the machine. */
function partShown({ only }: SheetView, assembly: Assembly): string {
  const along = componentsAlong(assembly, only?.length === 1 ? pathOf(only[0]) : []);
  return along ? fullLabel(assembly.components[along[along.length - 1]]).slice(0, MOST_OF_NAME) : '';
}

/** What the one place that a view shows alone stands in: “in SL-3200”; nothing where that is the machine. */
function withinShown({ only }: SheetView, assembly: Assembly): string {
  const along = only?.length === 1 ? componentsAlong(assembly, pathOf(only[0])) : null;
  if (!along || along.length < 3) return '';
  return `in ${partLabel(assembly.components[along[along.length - 2]])}`.slice(0, MOST_OF_NAME);
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
