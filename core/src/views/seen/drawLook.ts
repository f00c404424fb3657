import {
  boxesOverlap,
  composePlacements,
  growBox,
  invertPlacement,
  meshBox,
  type Box2,
  type Placement,
} from '../../geometry/index.ts';
import { ownCut } from '../../sections/index.ts';
import { boxOfScene, drawScene, helpWithScene } from '../lines/hiddenLines.ts';
import type { PackedLot, SharedWork } from '../lines/lots.ts';
import type { Body } from '../records.ts';
import { seenAxes } from '../scene/axes.ts';
import { bodiesLeft, type LookCut, type Pane } from '../scene/cutBodies.ts';
import { buildScene, type ViewScene } from '../scene/scene.ts';
import { stepsOf } from '../scene/steps.ts';
import type { PathWay } from '../scene/ways.ts';
import { labelCutFaces } from './cutLabels.ts';
import { bodyOfLabel, drawItemBuffer, type ItemBuffer } from './itemBuffer.ts';
import { outerLines } from './outerLines.ts';
import { borderOf, ownSpots, throughPane, turnedView } from './panes.ts';
import { seenCuts } from './seenCuts.ts';
import { labelsOf, spotsOfPicture, type DrawnView } from './spots.ts';

interface DrawOptions {
  /** On which things left their seats, see pathWays. */
  readonly ways?: readonly PathWay[];
  /** Whether hidden lines are kept. */
  readonly hidden?: boolean;
  /** What is taken away. */
  readonly cut?: LookCut;
  /** The piece of the view plane that is looked at, as fine as its size asks for; everything where absent. */
  readonly window?: Box2;
}
interface SharedOptions extends DrawOptions {
  /** Who else works on its lines, those within panes left out: see helpWithLook. */
  readonly shared?: SharedWork;
}

/** A view as it is drawn, and which body is seen where. */
interface Picture extends DrawnView {
  readonly bodies: readonly Body[];
  readonly buffer: ItemBuffer;
  readonly firstLabel: Int32Array;
}

/**
 * Lines and spots of one look: from one scene, and one more for each of its panes.
 * @param view machine to view coordinates, z towards the viewer (see viewPlacement)
 */
export function drawLook(
  machine: readonly Body[],
  view: Placement,
  { shared, ...options }: SharedOptions = {},
): DrawnView {
  const picture = drawPicture(machine, view, options, shared);
  const { cut, window } = options;
  let drawn: DrawnView = { lines: picture.lines, spots: picture.spots };
  let planes = cut?.cuts.flat().length ?? 0;
  for (const pane of cut?.panes ?? []) {
    const piece = pieceOf(pane, window, picture.lines.box);
    if (piece === null) continue;
    const { panes: _, ...shared } = cut!;
    const inside = drawPicture(machine, turnedView(view, pane), {
      ...options,
      cut: { ...shared, cuts: pane.cuts },
      ...(piece ? { window: piece } : {}),
    });
    const border = borderOf(pane, [drawn.lines.box, inside.lines.box]);
    const own = { ...inside, spots: ownSpots(inside.spots, inside.bodies, view, pane) };
    drawn = throughPane(drawn, own, border, {
      planes,
      keepsBox: window !== undefined || pane.border !== undefined,
      isBorderDrawn: pane.border ? takenFrom(picture, inside, view, pane) : null,
      pixel: picture.buffer.pixel,
    });
    planes += pane.cuts.flat().length;
  }
  return drawn;
}

/**
 * Works on lots of lines of a look that another thread draws with the same machine, view and options.
 * @param take see SharedWork
 * @param give takes what was made of a lot
 */
export function helpWithLook(
  machine: readonly Body[],
  view: Placement,
  options: DrawOptions,
  take: SharedWork['take'],
  give: (lot: number, made: PackedLot) => void,
): void {
  helpWithScene(sceneOf(machine, view, options).scene, take, give);
}

/** What is to be drawn of a pane: a piece of the view plane, all where undefined; null where nothing of it is looked at. */
function pieceOf({ border }: Pane, window: Box2 | undefined, [x0, y0, x1, y1]: Box2): Box2 | null | undefined {
  if (!border) return window;
  const own: Box2 = [Infinity, Infinity, -Infinity, -Infinity].map((far, side) =>
    border.reduce((most, corner) => (side < 2 ? Math.min(most, corner[side]) : Math.max(most, corner[side - 2])), far),
  ) as unknown as Box2;
  // Beyond the machine there is nothing, however large the piece is.
  const all = window ?? growBox([x0, y0, x1, y1], 0.01 * Math.max(x1 - x0, y1 - y0));
  const shared: Box2 = [
    Math.max(own[0], all[0]),
    Math.max(own[1], all[1]),
    Math.min(own[2], all[2]),
    Math.min(own[3], all[3]),
  ];
  return shared[0] < shared[2] && shared[1] < shared[3] ? shared : null;
}

/** Tells where matter that is seen was taken away: there the border of the piece is seen. */
function takenFrom(
  { buffer: { width, height, pixel, originX, originY, labels, depth }, firstLabel, bodies }: Picture,
  inside: Picture,
  view: Placement,
  { cuts }: Pane,
): (x: number, y: number) => boolean {
  const toMachine = invertPlacement(view);
  const own = cuts.map((cut) => ownCut(cut, toMachine));
  const whole = new Set(inside.bodies.filter(({ leftWhole }) => leftWhole).map(({ path }) => path));
  return (x, y) => {
    const column = Math.floor((x - originX) / pixel),
      row = Math.floor((y - originY) / pixel);
    if (column < 0 || row < 0 || column >= width || row >= height) return false;
    const at = row * width + column;
    if (labels[at] < 0 || whole.has(bodies[bodyOfLabel(firstLabel, labels[at])].path)) return false;
    return own.some((cut) =>
      cut.every(({ normal, offset }) => normal[0] * x + normal[1] * y + normal[2] * depth[at] < offset - pixel),
    );
  };
}

/** What is left of a machine in a view. */
function sceneOf(
  machine: readonly Body[],
  view: Placement,
  { ways = [], hidden = false, cut, window }: DrawOptions,
): { readonly scene: ViewScene; readonly bodies: readonly Body[] } {
  const cuts = cut?.cuts ?? [];
  const left = cuts.length > 0 ? bodiesLeft(machine, cut!) : machine;
  const bodies = window ? left.filter((body) => boxesOverlap(viewBoxOf(body, view), window)) : left;
  const steps = stepsOf(cuts, view);
  return { scene: buildScene(bodies, view, { ways, hidden, steps, ...(window ? { window } : {}) }), bodies };
}

function drawPicture(machine: readonly Body[], view: Placement, options: DrawOptions, shared?: SharedWork): Picture {
  const { scene, bodies } = sceneOf(machine, view, options);
  const { cut } = options;
  const firstLabel = labelsOf(bodies);
  // First, so that others have begun with the lines when this thread takes some.
  const buffer = drawItemBuffer(scene, boxOfScene(scene), firstLabel);
  const seen = drawScene(scene, bodies, shared);
  const cutsSeen = cut && seenCuts(bodies, view, scene, seen.paths);
  const lines = cutsSeen ? { ...seen, ...cutsSeen } : seen;
  if (cutsSeen) labelCutFaces(buffer, { ...seen, ...cutsSeen }, bodies, firstLabel);
  const pixels = new Int32Array(firstLabel[bodies.length]);
  for (const label of buffer.labels) if (label >= 0) pixels[label]++;
  const outer = outerLines(lines, buffer, firstLabel);
  const axes = seenAxes(bodies, view, lines, (body, face) => pixels[firstLabel[body] + face]);
  return {
    lines: { ...lines, outer, ...axes },
    spots: spotsOfPicture(buffer, firstLabel, bodies, view, lines),
    bodies,
    buffer,
    firstLabel,
  };
}

/** The box around a body as it is seen. */
function viewBoxOf({ mesh, placement }: Body, view: Placement): Box2 {
  const [x0, y0, , x1, y1] = meshBox(mesh, composePlacements(view, placement));
  return [x0, y0, x1, y1];
}
