import { hypot, type Box2, type Placement } from '../../geometry/index.ts';
import { Cutter } from './cutter.ts';
import {
  LOTS,
  lotsOf,
  packPieces,
  unpackPieces,
  type Lot,
  type LotPieces,
  type PackedLot,
  type SharedWork,
} from './lots.ts';
import { overlayPieces, type Piece } from './overlay.ts';
import { PathList } from './paths.ts';
import { WAY, type Body, type ViewLines } from '../records.ts';
import { buildScene, SAME_POINT_SHARE, type SceneLines, type ViewScene } from '../scene/scene.ts';
import type { PathWay } from '../scene/ways.ts';

/** Visible or hidden runs shorter than this are the noise of thin triangles and are joined to their neighbours. */
const SHORTEST_RUN_SHARE = 2e-5;

/**
 * The lines of the machine seen along a view placement, each cut into visible and hidden runs that carry their
 * occurrence. Exact on the triangles: every line is cut by every triangle that covers it and lies nearer. Lines lying
 * on one another are drawn once, the nearest in front. Source: A. Appel, "The notion of quantitative invisibility and
 * the machine rendering of solids", Proc. ACM 1967 (cutting each line by covering faces); intervals instead of
 * counts.
 * @param view machine to view coordinates, z towards the viewer (see viewPlacement)
 * @param ways on which things left their seats, see pathWays
 */
export function drawView(bodies: readonly Body[], view: Placement, ways: readonly PathWay[] = []): ViewLines {
  return drawScene(buildScene(bodies, view, { ways }), bodies);
}

/**
 * The lines of a scene that has been built already; see `drawView`. Hidden ones only where the scene has them.
 * @param bodies that the scene was built of
 * @param shared who else works on it; the result is the same whoever does which lot
 */
export function drawScene(scene: ViewScene, bodies: readonly Body[], shared?: SharedWork): ViewLines {
  const pieces = allPieces(scene, shared);
  const drawn = overlayPieces(
    pieces.filter(({ kind }) => kind !== WAY),
    scene.size * SAME_POINT_SHARE,
    scene.size * SHORTEST_RUN_SHARE,
  );
  const lines = packLines(drawn, bodies, boxOfScene(scene));
  if (!scene.hasWays) return lines;
  const seen = pieces.filter(({ kind, visible }) => kind === WAY && visible);
  return { ...lines, wayEnds: Float64Array.from(seen.flatMap(({ x1, y1, x2, y2 }) => [x1, y1, x2, y2])) };
}

/** Works on lots of a scene that somebody else draws, as long as there are any. @param take see SharedWork */
export function helpWithScene(
  scene: ViewScene,
  take: SharedWork['take'],
  give: (lot: number, made: PackedLot) => void,
): void {
  const worker = new LotWorker(scene, LOTS);
  for (let lot = take(); lot < LOTS; lot = take()) {
    const { lines, meetings } = worker.make(lot);
    give(lot, { lines: packPieces(lines), meetings: packPieces(meetings) });
  }
}

/** The pieces of all lots, in their order. */
function allPieces(scene: ViewScene, shared?: SharedWork): Piece[] {
  const count = shared ? LOTS : 1;
  const worker = new LotWorker(scene, count);
  const made = new Map<number, LotPieces>();
  if (shared) {
    for (let lot = shared.take(); lot < count; lot = shared.take()) made.set(lot, worker.make(lot));
    for (const [lot, { lines, meetings }] of shared.others())
      made.set(lot, { lines: unpackPieces(lines), meetings: unpackPieces(meetings) });
  }
  const lots = Array.from({ length: count }, (_, lot) => made.get(lot) ?? worker.make(lot));
  return [...lots.flatMap(({ lines }) => lines), ...lots.flatMap(({ meetings }) => meetings)];
}

/** Makes pieces of lots of one scene. */
class LotWorker {
  private readonly lots: readonly Lot[];
  private cutter: Cutter | null = null;

  constructor(
    private readonly scene: ViewScene,
    count: number,
  ) {
    this.lots = lotsOf(scene, count);
  }

  make(lot: number): LotPieces {
    const { bodies, lines } = this.lots[lot];
    const meetings = this.scene.meetings(...bodies);
    return {
      lines: this.cut(this.scene.lines, ...lines),
      meetings: this.cut(meetings, 0, meetings.edgeKind.length),
    };
  }

  /** Lines from one to before another as runs; positions on the view plane. */
  private cut(lines: SceneLines, from: number, to: number): Piece[] {
    const { scene } = this;
    this.cutter ??= new Cutter(scene, scene.size * SAME_POINT_SHARE);
    const pieces: Piece[] = [];
    for (let edge = from; edge < to; edge++) cutLine(scene, this.cutter, lines, edge, pieces);
    return pieces;
  }
}

/** Adds the runs of a line that are wanted. */
function cutLine(scene: ViewScene, cutter: Cutter, lines: SceneLines, edge: number, pieces: Piece[]): void {
  const { edges, edgeKind, edgeBody, edgeRegions, edgeShifts, edgeTurnedAway, edgeContour, edgeSagitta } = lines;
  const at = edge * 6;
  if (isPoint(edges, at, scene.size * SAME_POINT_SHARE)) return;
  const size = hypot(edges[at + 3] - edges[at], edges[at + 4] - edges[at + 1]);
  const covered = cutter.start();
  if (edgeTurnedAway[edge]) covered.add(0, 1);
  else if (!cutter.cut(lines, edge, 0, 0, -1)) {
    // Against its own regions a line is looked up a little beside itself.
    for (let own = 0; own < 2; own++) {
      const region = edgeRegions[edge * 2 + own];
      if (region < 0) continue;
      if (cutter.cut(lines, edge, edgeShifts[edge * 4 + own * 2], edgeShifts[edge * 4 + own * 2 + 1], region)) break;
    }
  }
  covered.runs((scene.size * SHORTEST_RUN_SHARE) / size, (from, to, hidden) => {
    if (hidden && !scene.hidden) return;
    const x = (s: number) => edges[at] + s * (edges[at + 3] - edges[at]);
    const y = (s: number) => edges[at + 1] + s * (edges[at + 4] - edges[at + 1]);
    const z = (s: number) => edges[at + 2] + s * (edges[at + 5] - edges[at + 2]);
    pieces.push({
      x1: x(from),
      y1: y(from),
      z1: z(from),
      x2: x(to),
      y2: y(to),
      z2: z(to),
      kind: edgeKind[edge],
      visible: !hidden,
      body: edgeBody[edge],
      sagitta: edgeSagitta[edge],
      isContour: edgeContour[edge] === 1,
    });
  });
}

/** What a scene is drawn in: its window, else around all lines, seen or not. */
export const boxOfScene = (scene: ViewScene): Box2 => scene.window ?? boxOfLines(scene);

/** Zeros where there is none. */
function boxOfLines({ lines: { edges, edgeKind }, size }: ViewScene): Box2 {
  let x0 = Infinity,
    y0 = Infinity,
    x1 = -Infinity,
    y1 = -Infinity;
  for (let edge = 0; edge < edgeKind.length; edge++) {
    const at = edge * 6;
    if (edgeKind[edge] === WAY || isPoint(edges, at, size * SAME_POINT_SHARE)) continue;
    x0 = Math.min(x0, edges[at], edges[at + 3]);
    y0 = Math.min(y0, edges[at + 1], edges[at + 4]);
    x1 = Math.max(x1, edges[at], edges[at + 3]);
    y1 = Math.max(y1, edges[at + 1], edges[at + 4]);
  }
  return x0 > x1 ? [0, 0, 0, 0] : [x0, y0, x1, y1];
}

const isPoint = (edges: Float64Array, at: number, samePoint: number): boolean =>
  hypot(edges[at + 3] - edges[at], edges[at + 4] - edges[at + 1]) <= samePoint;

function packLines(drawn: readonly Piece[], bodies: readonly Body[], box: Box2): ViewLines {
  const ends = new Float64Array(drawn.length * 4),
    depths = new Float64Array(drawn.length * 2);
  const kinds = new Uint8Array(drawn.length),
    visible = new Uint8Array(drawn.length),
    outer = new Uint8Array(drawn.length);
  const occurrences = new Int32Array(drawn.length);
  const paths = new PathList();
  drawn.forEach((piece, at) => {
    ends.set([piece.x1, piece.y1, piece.x2, piece.y2], at * 4);
    depths.set([piece.z1, piece.z2], at * 2);
    kinds[at] = piece.kind;
    visible[at] = piece.visible ? 1 : 0;
    outer[at] = piece.isContour ? 1 : 0;
    occurrences[at] = paths.indexOf(bodies[piece.body].path);
  });
  return { ends, depths, kinds, visible, outer, occurrences, paths: paths.paths, box };
}
