import type { PathKey } from '../assembly/index.ts';
import { hypot, type Box2, type Mesh, type Placement } from '../geometry/index.ts';
import type { CutShape } from '../sections/index.ts';

/** One shape standing in the machine. */
export interface Body {
  /** In its own coordinates; mm. */
  readonly mesh: Mesh;
  /** Own coordinates to machine coordinates. */
  readonly placement: Placement;
  /** Its place in the machine. */
  readonly path: PathKey;
  /** Where matter was taken away: `mesh` is what is left, and this is how it came about. */
  readonly cut?: BodyCut;
  /** A plane goes through it, and it is shown whole. */
  readonly leftWhole?: true;
}
export interface BodyCut extends Omit<CutShape, 'mesh'> {
  /** The shape before. */
  readonly whole: Mesh;
}

/**
 * What a line of a view is. An edge where two faces meet at an angle is a feature; an outline is where a face turns
 * away.
 */
export const lineKinds = ['feature', 'outline', 'tangent'] as const;
/** What a way is in a scene; it is no kind of line of the machine. */
export const WAY = lineKinds.length;

/** How edges at which two faces meet smoothly are drawn: with the narrow pen, like all others, or not at all. */
export const tangentLooks = ['thin', 'full', 'none'] as const;
export type TangentLook = (typeof tangentLooks)[number];

/** The axes of the round features of which something is seen in a view. Arrays are parallel, `axisEnds` has six numbers each. */
export interface ViewAxes {
  /** x, y, z of both ends in view coordinates; mm at 1:1. A bend has an axis for each of its pieces, one after the other. */
  readonly axisEnds: Float64Array;
  /** Of the feature; mm at 1:1. */
  readonly axisRadii: Float64Array;
  /** What it belongs to: index into `paths` of the lines. */
  readonly axisOccurrences: Int32Array;
  /** Which feature of its shape it is, see `roundsOf`. */
  readonly axisFeatures: Int32Array;
}

/** What is seen of cut faces that are turned to the viewer, and what there is to say of the cut. */
export interface ViewCuts {
  /** x, y of the corners of all outlines; around matter to the left, around holes to the right; mm at 1:1. */
  readonly cutCorners: Float64Array;
  /** First corner of each outline, and the count of all. */
  readonly cutRingStarts: Int32Array;
  /** Which cut face each outline bounds. */
  readonly cutRingFaces: Int32Array;
  /** What each cut face belongs to: index into `paths` of the lines. */
  readonly cutOccurrences: Int32Array;
  /** Which plane made it, through all planes of all cuts. */
  readonly cutPlanes: Int32Array;
  /** What is open where it was cut, so that it has no cut face: indices into `paths`. */
  readonly cutOpen: Int32Array;
  /** What a plane goes through and is shown whole: indices into `paths`. */
  readonly cutWhole: Int32Array;
}

/** The lines of one view at 1:1; view plane, mm, y up. Arrays are parallel, `ends` has four numbers per line. */
export interface ViewLines extends Partial<ViewAxes>, Partial<ViewCuts> {
  /** x1, y1, x2, y2 */
  readonly ends: Float64Array;
  /** z of both ends, towards the viewer. */
  readonly depths: Float64Array;
  /** Index into `lineKinds`. */
  readonly kinds: Uint8Array;
  /** 1 visible, 0 hidden. */
  readonly visible: Uint8Array;
  /** 1 where a line bounds what is seen of its occurrence: another one, or nothing, is seen on its other side. None does where absent. */
  readonly outer?: Uint8Array;
  /** What each line belongs to: index into `paths`. */
  readonly occurrences: Int32Array;
  /** Places of the machine of which there is a line. */
  readonly paths: readonly PathKey[];
  /** Around everything, visible or not; zeros for a view without lines. */
  readonly box: Box2;
  /** What is seen of the ways on which things left their seats: x1, y1, x2, y2 each; absent where nothing has left. */
  readonly wayEnds?: Float64Array;
  /** Full lines that cannot be seen: x1, y1, x2, y2 each; absent where they were not asked for. */
  readonly hiddenEnds?: Float64Array;
  /** What is drawn of the borders of pieces that are cut open: x1, y1, x2, y2 each; absent where there are none. */
  readonly borderEnds?: Float64Array;
  /** Tangent edges as the narrow pen draws them, short of full lines: x1, y1, x2, y2 each; absent until a pen is known. */
  readonly smoothEnds?: Float64Array;
  /** A PNG of the shaded faces, filling `shadeBox`; absent where it was not asked for. */
  readonly shade?: Uint8Array;
  /** Left, lower, right and upper end of that picture on the view plane; mm. */
  readonly shadeBox?: Float64Array;
}

/** Summed lengths at 1:1 in mm. Outlines count with features. */
export interface ViewSums {
  /** Length of visible lines, tangent ones apart. */
  readonly visibleMm: number;
  /** Length of visible tangent edges. */
  readonly tangentMm: number;
  /** Length of hidden lines. */
  readonly hiddenMm: number;
}

export function sumLines(lines: ViewLines): ViewSums {
  const sums = { visibleMm: 0, tangentMm: 0, hiddenMm: 0 };
  const { ends, kinds, visible } = lines;
  for (let at = 0; at < kinds.length; at++) {
    const size = hypot(ends[at * 4 + 2] - ends[at * 4], ends[at * 4 + 3] - ends[at * 4 + 1]);
    const tangent = lineKinds[kinds[at]] === 'tangent';
    if (visible[at]) sums[tangent ? 'tangentMm' : 'visibleMm'] += size;
    else if (!tangent) sums.hiddenMm += size;
  }
  return sums;
}

const asideNames = [
  'wayEnds',
  'hiddenEnds',
  'borderEnds',
  'shade',
  'shadeBox',
  'axisEnds',
  'axisRadii',
  'axisOccurrences',
  'axisFeatures',
  'cutCorners',
  'cutRingStarts',
  'cutRingFaces',
  'cutOccurrences',
  'cutPlanes',
  'cutOpen',
  'cutWhole',
] as const;
type Aside = Pick<ViewLines, (typeof asideNames)[number]>;
/** What stands beside the lines of a view. */
export const asideOf = (lines: ViewLines): Aside =>
  Object.fromEntries(asideNames.flatMap((name) => (lines[name] ? [[name, lines[name]]] : [])));

/** The same view with its hidden lines aside, but for tangent edges, which are never drawn hidden. */
export function withHiddenAside(lines: ViewLines): ViewLines {
  const hidden: number[] = [];
  for (let at = 0; at < lines.kinds.length; at++)
    if (!lines.visible[at] && lineKinds[lines.kinds[at]] !== 'tangent')
      hidden.push(...lines.ends.subarray(at * 4, at * 4 + 4));
  return { ...visibleLines(lines), hiddenEnds: Float64Array.from(hidden) };
}

/** The same view without its hidden lines; the box stays. */
export function visibleLines(lines: ViewLines): ViewLines {
  const kept = Int32Array.from(lines.kinds.keys()).filter((at) => lines.visible[at] === 1);
  const pick = <T extends Float64Array | Uint8Array | Int32Array>(from: T, stride: number, into: T): T => {
    kept.forEach((line, at) => {
      for (let k = 0; k < stride; k++) into[at * stride + k] = from[line * stride + k];
    });
    return into;
  };
  return {
    ends: pick(lines.ends, 4, new Float64Array(kept.length * 4)),
    depths: pick(lines.depths, 2, new Float64Array(kept.length * 2)),
    kinds: pick(lines.kinds, 1, new Uint8Array(kept.length)),
    visible: new Uint8Array(kept.length).fill(1),
    ...(lines.outer ? { outer: pick(lines.outer, 1, new Uint8Array(kept.length)) } : {}),
    occurrences: pick(lines.occurrences, 1, new Int32Array(kept.length)),
    paths: lines.paths,
    box: lines.box,
    ...asideOf(lines),
  };
}
