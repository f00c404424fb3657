import type { ComponentKey } from '../assembly/index.ts';
import {
  applyToDirection,
  applyToPoint,
  dot,
  hypot,
  invertPlacement,
  type Vec2,
  type Vec3,
} from '../geometry/index.ts';
import { alignedCuts, cutsAlong, wavyBorder, type Cut, type CutPath } from '../sections/index.ts';
import { pointSeen, viewAt, viewPlacement, type CutRequest, type Direction, type Pane } from '../views/index.ts';

/** What of the machine a view takes away, so that its inside is seen (ISO 128-3). */
export interface Section {
  /** Under which it and its cutting line are found. */
  readonly letter: string;
  /** Id of the view, on the same sheet, that shows the cutting line; no view does where absent. */
  readonly of?: string;
  /** By a cutting line, in machine coordinates; what lies before it is taken away. */
  readonly path?: CutPath;
  /** Pieces of the view that are cut open, each within a border drawn by hand. */
  readonly pieces?: readonly CutPiece[];
  /** By planes, in machine coordinates; all that lies on these sides of all planes of one cut is taken away. */
  readonly cuts?: readonly Cut[];
  /** Shafts, screws and their like are cut too; they stay whole where absent. */
  readonly cutsAll?: true;
  /** Parts that stay whole though they would be cut. */
  readonly whole?: readonly ComponentKey[];
  /** Parts that are cut though they would stay whole. */
  readonly through?: readonly ComponentKey[];
  /** Whether parts are hatched by what they are made of: metal, plastic, wood, insulation; as in the whole set where absent. */
  readonly byMaterial?: boolean;
  /** Cut faces are left white: an outline drawing. */
  readonly unhatched?: true;
}

/** How sections and their cutting lines look on all sheets of a set. */
export interface SectionLook {
  /** Parts are hatched by what they are made of, where a section says nothing else; all alike where absent. */
  readonly byMaterial?: true;
  /** Between lines of hatching, as a share of what the size of an area asks for; 0.5 to 3. */
  readonly pitch: number;
  /** Height of the letters; mm. */
  readonly lettering: number;
  /** Arrows end on the line (ISO 128-3), or leave it at its ends (ASME Y14.3). */
  readonly arrows: 'onto' | 'off';
}
export const usualSectionLook: SectionLook = { pitch: 1, lettering: 5, arrows: 'onto' };

/** A piece of a view in which matter is taken away, as deep as a plane square to the sight (local section, ISO 128-3). */
export interface CutPiece {
  /** A point of that plane in the middle of the piece; machine coordinates, mm. */
  readonly at: Vec3;
  /** Half width and half height on the view plane; mm. */
  readonly half: Vec2;
}
/** A view has so many such pieces at most. */
export const MOST_PIECES = 8;

const known = new WeakMap<Section, { readonly direction: Direction; readonly cut: CutRequest }>();

/** What a section asks to be taken away. Kept with the record: a page asks for its views at every move of the pointer. */
export function cutOf(section: Section, direction: Direction): CutRequest {
  const before = known.get(section);
  if (before?.direction === direction) return before.cut;
  const { cutsAll, whole, through } = section;
  const cut: CutRequest = {
    ...takenBy(section, direction),
    ...(cutsAll ? {} : { lengthwise: true }),
    ...(whole ? { whole } : {}),
    ...(through ? { through } : {}),
  };
  known.set(section, { direction, cut });
  return cut;
}

const noPanes: readonly Pane[] = [];
const panesOf = ({ direction, section }: Sight): readonly Pane[] =>
  (section && cutOf(section, direction).panes) ?? noPanes;
/** What of a view says where in it something is seen. */
interface Sight {
  readonly direction: Direction;
  readonly section?: Section;
}

/** Where a point of the machine is seen in a view; view coordinates. */
export const seenIn = (view: Sight, point: Vec3): Vec3 =>
  pointSeen(viewPlacement(view.direction), panesOf(view), point);

/** The point of the machine that is seen there in a view; null where that point is seen at another place of it too. */
export function pointAt(view: Sight, seen: Vec3): Vec3 | null {
  const point = applyToPoint(invertPlacement(viewAt(viewPlacement(view.direction), panesOf(view), seen)), seen);
  const again = seenIn(view, point);
  return hypot(again[0] - seen[0], again[1] - seen[1]) <= 1e-6 * (1 + hypot(...seen)) ? point : null;
}

function takenBy({ path, cuts = [], pieces }: Section, direction: Direction): Pick<CutRequest, 'cuts' | 'panes'> {
  if (pieces) return { cuts, panes: pieces.map((piece) => paneOf(piece, direction)) };
  if (!path) return { cuts };
  return aligned(path, direction) ?? { cuts: [...cutsAlong(path), ...cuts] };
}

/** The way towards the viewer; machine coordinates. */
function sightOf(direction: Direction): Vec3 {
  const m = viewPlacement(direction);
  return [m[8], m[9], m[10]];
}

function paneOf({ at, half }: CutPiece, direction: Direction): Pane {
  const [x, y, depth] = applyToPoint(viewPlacement(direction), at);
  const [i, j, k] = sightOf(direction);
  return { border: wavyBorder([x, y], half), cuts: [[{ normal: [0 - i, 0 - j, 0 - k], offset: 0 - depth }]] };
}

/** A section whose second stretch is turned; null where it is not looked at square to its plane, or nothing is to be turned. */
function aligned(path: CutPath, direction: Direction): Pick<CutRequest, 'cuts' | 'panes'> | null {
  const found = alignedCuts(path);
  if (!found || dot(sightOf(direction), path.towards) < 1 - 1e-9) return null;
  const { first, second, turn } = found;
  const placement = viewPlacement(direction);
  const [x, y] = applyToPoint(placement, turn.about);
  const [dx, dy] = applyToDirection(placement, turn.way);
  const size = hypot(dx, dy);
  return {
    cuts: [first],
    panes: [
      {
        cuts: [second],
        beyond: { from: [x, y], way: [dx / size, dy / size] },
        turned: { about: turn.about, along: path.along, by: turn.by },
      },
    ],
  };
}
