import {
  listOccurrences,
  partLabel,
  pathKey,
  pathOf,
  placementAlong,
  Refusal,
  type Assembly,
  type ComponentKey,
  type PathKey,
} from '../../assembly/index.ts';
import {
  applyToDirection,
  boxHeight,
  boxWidth,
  cross,
  normalize,
  type Box2,
  type Placement,
  type Vec2,
  type Vec3,
} from '../../geometry/index.ts';
import {
  projectedDirection,
  viewPlacement,
  type Direction,
  type DrawnView,
  type ProjectionSide,
  type Turn,
  type ViewLines,
} from '../../views/index.ts';
import { usualOffset, type DimensionFacts } from '../laid/dimensions.ts';
import { layOutSheet, placeView } from '../laid/layout.ts';
import type { SheetInputs } from '../sheetInputs.ts';
import type { ViewWish } from './makeDrawing.ts';
import { frameBox, type Paper } from '../paper/paper.ts';
import { alignedWith, placeProjected } from '../laid/projected.ts';
import { blankSheet, type Sheet, type SheetDimension, type SheetView } from '../records.ts';
import { pictorialScales, proposeScale, standardScales } from '../laid/scales.ts';
import { blockOf, titleBlockBox } from '../paper/titleBlock.ts';

/** Parts that are to have sheets of their own, and what these are made from. */
export interface DetailRequest extends Omit<SheetInputs, 'sheet' | 'lines' | 'drawn' | 'others'> {
  /** Components, in the order of their sheets. */
  readonly parts: readonly ComponentKey[];
  readonly paper: Paper;
  /** Several small ones on one sheet instead of a sheet each. */
  readonly together: boolean;
  /** Draws a look. Rejects with a Refusal where nothing of it has a shape. */
  readonly look: (wish: ViewWish) => Promise<DrawnView>;
  readonly newId: () => string;
}

/** Sheets of single parts. */
interface DetailSheets {
  readonly sheets: readonly Sheet[];
  /** Numbers that are proposed for the drawings, by part. */
  readonly numbers: ReadonlyMap<ComponentKey, string>;
  /** Parts of which nothing has a shape. */
  readonly without: readonly string[];
}

const MARGIN = 16; // mm between the frame and a view, with room for a dimension
const BETWEEN = 24; // between two views
/** Of the extents of a part along its own axes: a difference below this makes no other view. */
const ALIKE = 1e-3;
/** Parts on one sheet where they stand together. */
const MOST_TOGETHER = 6;
const CENTRE_LINES = { smallest: 4 } as const;

/**
 * A sheet for each of the parts, or several on one: each part seen as its own axes lie, from the side that shows most of it,
 * with the one or two views projected from that which show something else, and a pictorial; at the largest standard scale
 * that fits, with its outer dimensions and centre lines.
 * @throws Refusal where none of the parts has a shape
 */
export async function makeDetailSheets(request: DetailRequest): Promise<DetailSheets> {
  const { assembly, parts } = request;
  const places = firstPlaces(assembly, parts);
  const without: string[] = [];
  const drawn: PartViews[] = [];
  for (const part of parts) {
    const path = places.get(part);
    const made = path === undefined ? null : await partViews(path, part, request);
    if (made) drawn.push(made);
    else without.push(labelOf(assembly, part));
  }
  if (drawn.length === 0)
    throw new Refusal('no-shape', 'None of these parts has a shape, so there is nothing to draw of them.');
  const numbers = new Map(drawn.map(({ part }, at) => [part, numberOf(request, at + 1)]));
  const sheets = request.together
    ? inGroups(drawn, MOST_TOGETHER).map((some) => together(some, request))
    : drawn.map((one) => alone(one, numbers.get(one.part)!, request));
  return { sheets, numbers: request.together ? new Map() : numbers, without };
}

/** Behind the drawing's own number: -01, -02 … */
const numberOf = ({ shared: { drawingNumber } }: DetailRequest, at: number): string =>
  `${drawingNumber || 'D'}-${String(at).padStart(2, '0')}`;

const inGroups = <One>(all: readonly One[], most: number): One[][] =>
  Array.from({ length: Math.ceil(all.length / most) }, (_, at) => all.slice(at * most, (at + 1) * most));

function labelOf(assembly: Assembly, key: ComponentKey): string {
  const component = assembly.components.find((one) => one.key === key);
  return component ? partLabel(component) : 'A part that is gone';
}

/** The first place of each part. */
function firstPlaces(assembly: Assembly, parts: readonly ComponentKey[]): Map<ComponentKey, PathKey> {
  const wanted = new Set(parts);
  const places = new Map<ComponentKey, PathKey>();
  for (const { path, components } of listOccurrences(assembly, (index) => wanted.has(assembly.components[index].key))) {
    const { key } = assembly.components[components[components.length - 1]];
    if (wanted.has(key) && !places.has(key)) places.set(key, pathKey(path));
  }
  return places;
}

/** What there is to see of a part. */
interface PartViews {
  readonly part: ComponentKey;
  readonly path: PathKey;
  /** The side that shows most of it. */
  readonly main: Drawn;
  /** What is projected from it and shows something else. */
  readonly beside: readonly (Drawn & { readonly side: ProjectionSide })[];
  readonly pictorial: Drawn;
}
interface Drawn {
  readonly direction: Direction;
  readonly lines: ViewLines;
}

async function partViews(path: PathKey, part: ComponentKey, request: DetailRequest): Promise<PartViews | null> {
  const placement = placementAlong(request.assembly, pathOf(path));
  if (!placement) return null;
  const draw = async (direction: Direction): Promise<Drawn> => ({
    direction,
    lines: (await request.look({ direction, only: [path] })).lines,
  });
  try {
    const sides = await Promise.all(
      (['front', 'top', 'right'] as const).map((name) => draw(ownDirection(name, placement))),
    );
    const area = ({ lines: { box } }: Drawn) => boxWidth(box) * boxHeight(box);
    // The first of the largest, so that a cube is seen from its front.
    const main = sides.reduce((best, one) => (area(one) > area(best) * (1 + ALIKE) ? one : best));
    // In first angle what is seen from the left stands to the right, and from above below; in third angle the others.
    const third = request.projection === 'third';
    const [aside, upright]: ProjectionSide[] = third ? ['right', 'above'] : ['left', 'above'];
    const beside = await Promise.all(
      [aside, upright].map(async (side) => ({ ...(await draw(projectedDirection(main.direction, side))), side })),
    );
    // What is as wide and as high, and has as much in it, shows nothing else: a turned part needs no third view.
    const others = beside.filter(({ lines }) => !sameLook(lines, main.lines));
    const kept = others.length === 2 && sameLook(others[0].lines, turned(others[1].lines)) ? [others[0]] : others;
    return { part, path, main, beside: kept, pictorial: await draw(projectedDirection(main.direction, 'above-right')) };
  } catch (error) {
    if (error instanceof Refusal) return null;
    throw error;
  }
}

/** The width and height of a view the other way round, for what stands above instead of beside. */
const turned = (lines: ViewLines): ViewLines => ({
  ...lines,
  box: [lines.box[1], lines.box[0], lines.box[3], lines.box[2]],
});

function sameLook(one: ViewLines, other: ViewLines): boolean {
  const near = (a: number, b: number) => Math.abs(a - b) <= ALIKE * Math.max(Math.abs(a), Math.abs(b), 1e-9);
  return (
    near(boxWidth(one.box), boxWidth(other.box)) &&
    near(boxHeight(one.box), boxHeight(other.box)) &&
    near(inked(one), inked(other))
  );
}
/** Summed length of what is seen; mm. */
function inked({ ends, visible }: ViewLines): number {
  let sum = 0;
  for (let at = 0; at < visible.length; at++)
    if (visible[at]) sum += Math.hypot(ends[at * 4 + 2] - ends[at * 4], ends[at * 4 + 3] - ends[at * 4 + 1]);
  return sum;
}

/** A standard direction as the part's own axes lie, however it stands in the machine. */
function ownDirection(name: 'front' | 'top' | 'right', placement: Placement): Direction {
  const own = viewPlacement(name);
  const axis = (at: number): Vec3 => normalize(applyToDirection(placement, [own[at], own[at + 1], own[at + 2]]));
  const [x, y] = [axis(0), axis(4)];
  // A mirrored placement would make a left-handed turn: what is towards the viewer follows from the other two.
  const z = cross(x, y);
  return [...x, ...y, ...z].map((value) => Math.round(value * 1e12) / 1e12 + 0) as unknown as Turn;
}

const sizeOf = ({ lines: { box } }: Drawn): Vec2 => [Math.max(boxWidth(box), 1e-3), Math.max(boxHeight(box), 1e-3)];

/** The room of a sheet without a list: beside or above the title block, whichever is larger. */
function roomOf(paper: Paper, request: DetailRequest): Box2 {
  const frame = frameBox(paper);
  const block = titleBlockBox(paper, blockOf(request.block));
  const above: Box2 = [frame[0], frame[1], frame[2], block[1]];
  const beside: Box2 = [frame[0], frame[1], Math.max(frame[0] + 1, block[0]), frame[3]];
  const area = (box: Box2) => boxWidth(box) * boxHeight(box);
  return area(above) >= area(beside) ? above : beside;
}

/** One part on a sheet of its own. */
function alone({ part, path, main, beside, pictorial }: PartViews, number: string, request: DetailRequest): Sheet {
  const { assembly, paper, newId, projection = 'first' } = request;
  const room = roomOf(paper, request);
  const [mainSize, pictorialSize] = [sizeOf(main), sizeOf(pictorial)];
  const across = beside.find(({ side }) => side === 'left' || side === 'right');
  const upright = beside.find(({ side }) => side === 'above');
  const widths = [mainSize[0], ...(across ? [sizeOf(across)[0]] : []), pictorialSize[0]];
  const heights = [Math.max(mainSize[1], pictorialSize[1]), ...(upright ? [sizeOf(upright)[1]] : [])];
  const sum = (values: readonly number[]) => values.reduce((all, one) => all + one, 0);
  const free: Vec2 = [
    boxWidth(room) - 2 * MARGIN - BETWEEN * (widths.length - 1),
    boxHeight(room) - 2 * MARGIN - BETWEEN * (heights.length - 1),
  ];
  const scale = proposeScale([sum(widths), sum(heights)], [Math.max(free[0], 10), Math.max(free[1], 10)]);
  // Everything stands together in the middle of its room.
  const left = room[0] + MARGIN + (free[0] - scale * sum(widths)) / 2;
  const top = room[1] + MARGIN + (free[1] - scale * sum(heights)) / 2;
  const below = upright && (projection === 'first' ? 1 : -1);
  const mainTop = below === -1 ? top + scale * heights[1] + BETWEEN : top;
  const common = { only: [path], scale, byHand: false } as const;
  const mainView: SheetView = {
    ...common,
    id: newId(),
    direction: main.direction,
    centre: [left + (scale * mainSize[0]) / 2, mainTop + (scale * heights[0]) / 2],
    centreLines: CENTRE_LINES,
    caption: '',
  };
  const projected = beside.map(({ side, lines }) => {
    const { caption: _, ...view } = placeProjected(mainView, main.lines, side, projection, newId(), lines);
    return { ...view, byHand: false, caption: '', centre: alignedWith(side, mainView.centre, view.centre) };
  });
  const pictorialView: SheetView = {
    ...common,
    id: newId(),
    direction: pictorial.direction,
    centre: [left + scale * (sum(widths) - pictorialSize[0] / 2) + BETWEEN * (widths.length - 1), mainView.centre[1]],
    caption: '',
  };
  const component = assembly.components.find(({ key }) => key === part)!;
  const title = component.name || component.partNumber;
  const sheet: Sheet = {
    ...blankSheet(component.partNumber || title, paper),
    fields: { title, drawingNumber: number, documentType: 'Part drawing' },
    views: [mainView, ...projected, pictorialView],
  };
  const lines = new Map([
    [mainView.id, main.lines],
    ...projected.map(({ id }, at) => [id, beside[at].lines] as const),
    [pictorialView.id, pictorial.lines],
  ]);
  return withDimensions(sheet, [mainView, ...projected], lines, request);
}

/** Width and height of the first view, and what the others have besides. */
function withDimensions(
  sheet: Sheet,
  views: readonly SheetView[],
  lines: ReadonlyMap<string, ViewLines>,
  request: DetailRequest,
): Sheet {
  const facts: DimensionFacts = { assembly: request.assembly, poses: [], look: request.dimensionLook, pen: 0.25 };
  const dimensions: SheetDimension[] = [];
  const put = (view: SheetView, kind: 'width' | 'height') => {
    const own = lines.get(view.id)!;
    const laid = { ...placeView(view, own), drawn: () => own };
    const made: SheetDimension = { id: request.newId(), view: view.id, kind, offset: 0 };
    const taken = layOutSheet({ ...request, sheet: { ...sheet, dimensions }, lines }).dimensions.map(({ box }) => box);
    dimensions.push({ ...made, offset: usualOffset(laid, made, facts, taken) });
  };
  const [main, ...others] = views;
  put(main, 'width');
  put(main, 'height');
  // Depth once, on whichever of the others shows it.
  const [second] = others;
  if (second) put(second, second.projectedFrom?.side === 'above' ? 'height' : 'width');
  return { ...sheet, dimensions };
}

/** Several parts on one sheet: each from its main side and as a pictorial, at a scale of its own, with its number below. */
function together(parts: readonly PartViews[], request: DetailRequest): Sheet {
  const { paper, newId } = request;
  const room = roomOf(paper, request);
  const columns = parts.length > 3 ? 3 : parts.length > 1 ? 2 : 1;
  const rows = Math.ceil(parts.length / columns);
  const cell: Vec2 = [boxWidth(room) / columns, boxHeight(room) / rows];
  const views = parts.flatMap(({ path, main, pictorial }, at): SheetView[] => {
    const [mainSize, pictorialSize] = [sizeOf(main), sizeOf(pictorial)];
    const free: Vec2 = [Math.max(cell[0] - 2 * MARGIN - BETWEEN / 2, 10), Math.max(cell[1] - 2 * MARGIN, 10)];
    const wide = mainSize[0] + pictorialSize[0];
    const high = Math.max(mainSize[1], pictorialSize[1]);
    const scale = proposeScale([wide, high], free, wide * high > 0 ? standardScales : pictorialScales);
    const left = room[0] + (at % columns) * cell[0] + (cell[0] - scale * wide - BETWEEN / 2) / 2;
    const middle = room[1] + (Math.floor(at / columns) + 0.5) * cell[1] - 4;
    const common = { only: [path], scale, byHand: false } as const;
    const caption = '{part}  {scale}';
    return [
      {
        ...common,
        id: newId(),
        direction: main.direction,
        centre: [left + (scale * mainSize[0]) / 2, middle],
        centreLines: CENTRE_LINES,
        caption,
      },
      {
        ...common,
        id: newId(),
        direction: pictorial.direction,
        centre: [left + scale * (mainSize[0] + pictorialSize[0] / 2) + BETWEEN / 2, middle],
        caption: '',
      },
    ];
  });
  return { ...blankSheet('Parts', paper), fields: { documentType: 'Part drawings' }, views };
}
