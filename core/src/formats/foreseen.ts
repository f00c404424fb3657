import { pathKey, type PathKey } from '../assembly/index.ts';
import { boxInside, type Box2 } from '../geometry/index.ts';
import { changedPlaces } from '../documents/index.ts';
import { cloudOutlines, type CheckedSheet, type SheetLayout, type SheetProblem } from '../sheets/index.ts';

/** A place on paper where a picture changes. */
export interface ChangedBox {
  /** Number of the view on its sheet, from 1. */
  readonly view: number;
  /** mm on paper. */
  readonly box: Box2;
}
/** A list on a sheet as it is and as it will be. */
interface ForeseenList {
  readonly rows: readonly [was: number, is: number];
  /** Of its strips one below the other; mm. */
  readonly heightMm: readonly [was: number, is: number];
  /** Whether all of it stands within the frame. */
  readonly fits: readonly [was: boolean, is: boolean];
}
/** A sheet before and after a revision of the model is taken over, worked out before anything is touched. */
export interface ForeseenSheet {
  /** Around what is gone or is otherwise, as the sheet is printed now. */
  readonly goes: readonly ChangedBox[];
  /** Around what is new or otherwise, as it will be. */
  readonly comes: readonly ChangedBox[];
  /** Of lists on the sheet whose lines change. */
  readonly lists: readonly ForeseenList[];
  /** Items whose leaders will end elsewhere. */
  readonly leaders: readonly string[];
  /** What there will be to look at that there is not now. */
  readonly problems: readonly SheetProblem[];
}

/** A leader that ends nearer than this to where it ended stays; mm. */
const STAYS = 1;

/**
 * What becomes of a sheet.
 * @param was as it is
 * @param is as it will be: the same balloons under the same ids
 */
export function foreseenSheet(was: CheckedSheet, is: CheckedSheet): ForeseenSheet {
  const [before, after] = [was.inputs.assembly, is.inputs.assembly];
  const listsAfter = new Map(is.drawn.layout.tables.map((laid) => [laid.table.id, laid]));
  const known = new Set(was.drawn.problems.map(sameProblem));
  return {
    goes: boxesOf(changedPlaces(after, before), was.drawn.layout),
    comes: boxesOf(changedPlaces(before, after), is.drawn.layout),
    lists: was.drawn.layout.tables.flatMap((laid) => {
      const later = listsAfter.get(laid.table.id);
      if (!later) return [];
      const both = [laid, later] as const;
      return [
        {
          rows: [laid.of, later.of],
          heightMm: both.map(heightOf) as [number, number],
          fits: [fits(laid, was.drawn.layout), fits(later, is.drawn.layout)],
        },
      ];
    }),
    leaders: movedLeaders(was.drawn.layout, is.drawn.layout),
    problems: is.drawn.problems.filter((problem) => !known.has(sameProblem(problem))),
  };
}

const sameProblem = ({ code, items, message }: SheetProblem): string =>
  `${code} ${items.length > 0 ? items.join() : message}`;

const boxesOf = (paths: readonly PathKey[], { views }: SheetLayout): ChangedBox[] =>
  views.flatMap((laid, at) =>
    cloudOutlines(paths, laid).map((outline) => {
      const [xs, ys] = [outline.map(([x]) => x), outline.map(([, y]) => y)];
      return { view: at + 1, box: [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)] as Box2 };
    }),
  );

type Laid = SheetLayout['tables'][number];
const heightOf = ({ measured: { strips } }: Laid): number => strips.reduce((sum, { box }) => sum + box[3] - box[1], 0);
const fits = ({ measured }: Laid, { frame }: SheetLayout): boolean =>
  measured.fits && measured.strips.every(({ box }) => boxInside(box, frame));

/** Items of balloons that will point at another place of the machine, or whose leader moves on its part. */
function movedLeaders(was: SheetLayout, is: SheetLayout): string[] {
  const later = new Map(is.balloons.map((laid) => [laid.balloon.id, laid]));
  return was.balloons.flatMap(({ balloon, item }) => {
    const other = later.get(balloon.id);
    if (!other) return [];
    const [one, two] = [balloon, other.balloon];
    const away = Math.hypot(...one.anchor.map((value, axis) => value - two.anchor[axis]));
    return pathKey(one.path) !== pathKey(two.path) || away > STAYS ? [item] : [];
  });
}
