import { componentsAlong, pathKey, placementAlong, type Assembly, type RowIndex } from '../../assembly/index.ts';
import {
  balloonBox,
  borderPoints,
  extraFor,
  leaves,
  widthInside,
  type Balloon,
  type BalloonShape,
  type LeaderMark,
} from '../../balloons/index.ts';
import type { Bill } from '../../bill/index.ts';
import type { Column } from '../../columns/index.ts';
import { applyToPoint, type Box2, type Vec2 } from '../../geometry/index.ts';
import { lineMark, measureText, textMark, type Mark, type MarkSource } from '../../marks/index.ts';
import { displacements, movedBy, type Pose } from '../../poses/index.ts';
import { ARROW, arrowhead } from './arrows.ts';
import type { LaidView } from './laidView.ts';
import { movesOf, type BalloonLook } from '../records.ts';
import { seenIn } from '../section.ts';

/** A balloon as it lies on paper; mm. */
export interface LaidBalloon {
  readonly balloon: Balloon;
  /** Row index in the bill, -1 when it hangs. */
  readonly row: RowIndex;
  readonly item: string;
  /** Part number, else name, of the occurrence; empty when it hangs. */
  readonly part: string;
  readonly centre: Vec2;
  readonly radius: number;
  /** What stands in it: its item number, or what stands in the column that was chosen for that. */
  readonly above: string;
  /** What stands below that and a bar; null where there is none. */
  readonly below: string | null;
  /** Height of the number; as is wanted unless it is very long. */
  readonly lettering: number;
  /** How far it is drawn out to each side for a long number. */
  readonly extra: number;
  /** What is drawn around its number. */
  readonly shape: BalloonShape;
  /** Texts to the left and to the right of it, often empty. */
  readonly before: string;
  /** See there. */
  readonly after: string;
  /** Around it, with the texts beside it. */
  readonly box: Box2;
  readonly anchor: Vec2;
  /** The same on the view plane. */
  readonly seen: Vec2;
  /** Corners of its leader between circle and anchor. */
  readonly bends: readonly Vec2[];
  /** From the circle over its corners to the anchor; nothing where it shares that of another one. */
  readonly leader: readonly Vec2[];
  /** What is drawn where it ends. */
  readonly end: LeaderMark;
}

/** What balloons of a sheet say and how large they are, for one row of the bill. */
interface Said {
  readonly above: string;
  readonly below: string | null;
  readonly before: string;
  readonly after: string;
}

/** Words that texts beside balloons may hold. */
const QUANTITY = /\{quantity\}/gi;

/** What balloons of a row say. @param columns of the bill */
function saidOf(bill: Bill, row: RowIndex, look: BalloonLook, columns: readonly Column[]): Said {
  const of = bill.rows[row];
  const cell = (id: string | undefined) => {
    const column = columns.find((one) => one.id === id);
    return column && bill.cell(of, column).text;
  };
  const quantity = String(of.quantity);
  const beside = (text = '') => text.replace(QUANTITY, quantity);
  return {
    above: cell(look.columns?.above) ?? of.item,
    below: look.quantity ? (cell(look.columns?.below) ?? quantity) : null,
    before: beside(look.before),
    after: beside(look.after),
  };
}
const NOTHING_SAID: Said = { above: '?', below: null, before: '', after: '' };

/** Between a balloon and the text beside it; mm. */
const BESIDE_GAP = 1;
/** Height of the text beside a balloon; mm. */
const besideLettering = (lettering: number): number => Math.max(2.5, 0.7 * lettering);
/** Room for a text beside a balloon; mm. */
const besideWidth = (text: string, lettering: number): number =>
  text === '' ? 0 : BESIDE_GAP + measureText(text, besideLettering(lettering)).width;

/** How far a balloon is drawn out to each side for what stands in it; mm. */
function drawnOut({ above, below }: Said, { lettering, radius, shape }: BalloonLook): number {
  const extra = (text: string) => extraFor(measureText(text, lettering).width, radius, below === null ? 1 : 2, shape);
  return Math.max(extra(above), extra(below ?? ''));
}

/** How far a balloon of a row reaches to each side beyond a circle, with what stands beside it; mm. */
export function reachOf(bill: Bill, row: RowIndex, look: BalloonLook, columns: readonly Column[]): number {
  const said = saidOf(bill, row, look, columns);
  const beside = Math.max(besideWidth(said.before, look.lettering), besideWidth(said.after, look.lettering));
  return drawnOut(said, look) + beside;
}

/** The balloon's own look over that of its sheet. */
export const lookOf = (sheet: BalloonLook, { look }: Pick<Balloon, 'look'>): BalloonLook =>
  look ? { ...sheet, ...look } : sheet;

/** Around a balloon and what stands beside it. */
export function boxAround(
  centre: Vec2,
  laid: Pick<LaidBalloon, 'radius' | 'extra' | 'before' | 'after' | 'lettering'>,
): Box2 {
  const [x0, y0, x1, y1] = balloonBox(centre, laid);
  return [x0 - besideWidth(laid.before, laid.lettering), y0, x1 + besideWidth(laid.after, laid.lettering), y1];
}

/** What a balloon is laid out with. */
interface BalloonInputs {
  readonly sheet: { readonly balloonLook: BalloonLook };
  readonly assembly: Assembly;
  readonly bill: Bill;
  readonly columns: readonly Column[];
  readonly poses?: readonly Pose[];
}

export function layOutBalloon(
  balloon: Balloon,
  laid: LaidView,
  { sheet, assembly, bill, columns, poses }: BalloonInputs,
): LaidBalloon {
  const { view } = laid;
  const onPaper = ([x, y]: Vec2): Vec2 => [view.centre[0] + x, view.centre[1] + y];
  const centre = onPaper(balloon.offset);
  const look = lookOf(sheet.balloonLook, balloon);
  const { radius, shape = 'circle', mark } = look;
  const drawn = (item: string, said: Said) => {
    const extra = drawnOut(said, look);
    const width = Math.max(...[said.above, said.below ?? ''].map((text) => measureText(text, look.lettering).width));
    const inside = widthInside({ radius, extra, shape }, said.below === null ? 1 : 2);
    const lettering = width > inside ? (look.lettering * inside) / width : look.lettering;
    const outline = { ...said, item, centre, radius, extra, shape, lettering };
    return { ...outline, box: boxAround(centre, outline), end: mark ?? balloon.end };
  };
  const components = componentsAlong(assembly, balloon.path);
  const seat = placementAlong(assembly, balloon.path);
  const by = displacements(movesOf(view.pose, poses))(pathKey(balloon.path));
  const placement = seat && by ? movedBy(seat, by) : seat;
  if (!components || !placement)
    return {
      ...drawn('?', NOTHING_SAID),
      balloon,
      row: -1,
      part: '',
      anchor: centre,
      seen: [0, 0],
      bends: [],
      leader: [],
    };
  const seen = seenIn(view, applyToPoint(placement, balloon.anchor));
  const anchor = laid.toPaper(seen[0], seen[1]);
  const row = bill.rowOf(components);
  const component = assembly.components[components[components.length - 1]];
  const outline = row < 0 ? drawn('?', NOTHING_SAID) : drawn(bill.rows[row].item, saidOf(bill, row, look, columns));
  const owner =
    row < 0 || bill.rows[row].components.length === 0 ? component : assembly.components[bill.rows[row].components[0]];
  const bends = (balloon.bends ?? []).map(onPaper);
  return {
    ...outline,
    balloon,
    row,
    part: owner.partNumber || owner.name,
    anchor,
    seen: [seen[0], seen[1]],
    bends,
    leader: [leaves(centre, outline, bends[0] ?? anchor), ...bends, anchor],
  };
}

const DOT = 0.6; // mm, radius

export function drawBalloon(laid: LaidBalloon, pen: number): Mark[] {
  const { balloon, centre, radius, extra, shape, lettering, above, below } = laid;
  const source: MarkSource = { kind: 'balloon', id: balloon.id };
  const marks: Mark[] = drawLeader(laid, source, pen);
  const points = borderPoints(centre, { radius, extra, shape });
  const isOpen = shape === 'underlined';
  const half = points.length > 0 && shape === 'square' ? points[0][0] - centre[0] : radius + extra;
  const border: Mark[] =
    shape === 'circle' && extra === 0
      ? [{ kind: 'circle', source, centre, radius, pen, opaque: true }]
      : points.length === 0
        ? []
        : [{ kind: 'path', source, points, closed: !isOpen, pen, ...(isOpen ? {} : { opaque: true }) }];
  marks.push(
    ...border,
    ...(below === null
      ? [textMark(source, above, centre[0], centre[1], lettering, 'centre')]
      : [
          lineMark(source, [centre[0] - half, centre[1]], [centre[0] + half, centre[1]], pen),
          textMark(source, above, centre[0], centre[1] - radius / 2, lettering, 'centre'),
          textMark(source, below, centre[0], centre[1] + radius / 2, lettering, 'centre'),
        ]),
  );
  const beside = radius + extra + BESIDE_GAP;
  const height = besideLettering(lettering);
  if (laid.before) marks.push(textMark(source, laid.before, centre[0] - beside, centre[1], height, 'right'));
  if (laid.after) marks.push(textMark(source, laid.after, centre[0] + beside, centre[1], height, 'left'));
  return marks;
}

function drawLeader({ leader, end }: LaidBalloon, source: MarkSource, pen: number): Mark[] {
  if (leader.length < 2) return [];
  const [from, to] = [leader[leader.length - 2], leader[leader.length - 1]];
  // The stroke ends inside the arrowhead, so that its round end does not blunt the point.
  const until = end === 'arrow' ? towards(to, from, ARROW / 2) : to;
  const line: Mark = { kind: 'path', source, points: leader.with(-1, until), closed: false, pen };
  if (end === 'none') return [line];
  return [
    line,
    end === 'dot'
      ? { kind: 'circle', source, centre: to, radius: DOT, pen: 0, filled: true }
      : arrowhead(source, from, to),
  ];
}

/** The point this far from `from` on the way to `to`. */
function towards(from: Vec2, to: Vec2, far: number): Vec2 {
  const share = Math.min(1, far / (Math.hypot(to[0] - from[0], to[1] - from[1]) || 1));
  return [from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])];
}
