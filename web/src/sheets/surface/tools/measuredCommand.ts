import type { RowIndex } from '../../../../../core/src/assembly/index.ts';
import type { SheetCommand } from '../../../../../core/src/documents/index.ts';
import {
  roomTaken,
  usualOffset,
  USUAL_SMALLEST,
  type dimensionFacts,
  type Measurable,
  type Sheet,
  type SheetDimension,
  type SheetLayout,
} from '../../../../../core/src/sheets/index.ts';
import type { Vec2 } from '../../../../../core/src/geometry/index.ts';

/** What a new dimension is to measure, as far as it is known, or a leader to point at. */
export type Measuring =
  | { readonly kind: 'distance'; readonly view: string; readonly first?: Measurable }
  | { readonly kind: 'diameter'; readonly view: string }
  /** What is to have a centre line though it is small. */
  | { readonly kind: 'centreLine'; readonly view: string }
  /** A balloon for a line of the list: where its leader ends, once that is known; see usePlacing. */
  | {
      readonly kind: 'balloon';
      readonly row: RowIndex;
      readonly place?: { readonly view: string; readonly point: Vec2 };
    }
  /** A cutting line on a view, as far as it is drawn; mm of the paper. */
  | { readonly kind: 'cut'; readonly view: string; readonly points: readonly Vec2[] }
  /** What a note is to point at, in any view. */
  | { readonly kind: 'leader'; readonly note: string };

/** What is measured with, besides where balloons point. */
type Wanted = Exclude<Measuring, { readonly kind: 'balloon' | 'cut' }>;
interface MeasuredCommand {
  /** What Undo says. */
  readonly label: string;
  /** Null where there is nothing to do. */
  readonly command: SheetCommand | null;
  /** Id of the dimension that comes of it. */
  readonly dimension?: string;
}

/**
 * What comes of something that was picked to be measured; null where its view is not there.
 * @param wanted a distance has its first point
 */
export function measuredCommand(
  wanted: Wanted,
  found: Measurable,
  sheet: Sheet,
  layout: SheetLayout,
  facts: ReturnType<typeof dimensionFacts>,
): MeasuredCommand | null {
  if (wanted.kind === 'leader') {
    const note = sheet.notes.find((one) => one.id === wanted.note);
    const leader = { view: found.view, point: found.point };
    return {
      label: 'leader of a note',
      command: note ? { kind: 'changeNotes', remove: [], put: [{ ...note, leader }] } : null,
    };
  }
  const laid = layout.views.find(({ view }) => view.id === wanted.view);
  if (!laid) return null;
  if (wanted.kind === 'centreLine') return centreLineCommand(laid.view, found);
  const made = dimensionOf(wanted, found);
  const offset = usualOffset(laid, made, facts, roomTaken(layout));
  return {
    label: 'place a dimension',
    command: { kind: 'changeDimensions', remove: [], put: [{ ...made, offset }] },
    dimension: made.id,
  };
}

function centreLineCommand(view: SheetLayout['views'][number]['view'], { axis }: Measurable): MeasuredCommand {
  const { smallest = USUAL_SMALLEST, on = [], off = [] } = view.centreLines ?? {};
  const left = off.filter((one) => one !== axis);
  const centreLines =
    axis === undefined
      ? null
      : { smallest, on: [...new Set([...on, axis])], ...(left.length > 0 ? { off: left } : {}) };
  return {
    label: 'a centre line of its own',
    command: centreLines && { kind: 'changeView', id: view.id, change: { centreLines } },
  };
}

function dimensionOf(
  wanted: Extract<Wanted, { readonly kind: 'distance' | 'diameter' }>,
  found: Measurable,
): SheetDimension {
  const own = { id: crypto.randomUUID(), view: wanted.view, offset: 0 };
  if (wanted.kind === 'diameter') return { ...own, kind: 'diameter', from: found.point, radius: found.radius ?? 0 };
  const { point, at } = wanted.first!;
  return { ...own, kind: 'distance', from: point, to: found.point, along: directionOf(at, found.at) };
}

/** Level or upright where two points are nearly so, else between them. */
export function directionOf([x0, y0]: Vec2, [x1, y1]: Vec2): 'x' | 'y' | 'between' {
  const [dx, dy] = [Math.abs(x1 - x0), Math.abs(y1 - y0)];
  return dy < dx * 0.05 ? 'x' : dx < dy * 0.05 ? 'y' : 'between';
}
