import { pathOf, type PathKey, type RowIndex } from '../../assembly/index.ts';
import { dot, length, normalize, subtract, type Vec3 } from '../../geometry/index.ts';
import type { ViewLines } from '../../views/index.ts';
import { layOutSheet, type SheetLayout } from '../laid/layout.ts';
import type { SheetInputs } from '../sheetInputs.ts';
import { rowOfPath } from '../laid/places.ts';
import type { Sheet } from '../records.ts';
import { stackBalloons } from '../laid/stacks.ts';

/** Larger round things than this are no fasteners; radius and length in mm on paper. */
const MOST_RADIUS = 3,
  MOST_LENGTH = 15;
/** Axes turned less against each other than this are parallel; sine. */
const PARALLEL = 1e-3;
/** Parallel axes nearer than this share of the radius are one. */
const ONE_AXIS = 0.05;

/** Something round about one axis. View coordinates; mm. */
interface OnAxis {
  readonly path: PathKey;
  readonly row: RowIndex;
  readonly at: Vec3;
  readonly along: Vec3;
  readonly half: number;
  readonly radius: number;
}

/** Lines whose parts sit on one axis and touch, such as a bolt with its washer and nut; from the viewer on. */
interface FastenerStack {
  /** Id of the view in which they are seen so. */
  readonly view: string;
  readonly members: readonly { readonly row: RowIndex; readonly path: PathKey }[];
}

/**
 * Which balloons of a sheet can share a leader: those of small parts that are round about one axis only, share it, and touch.
 * Each line stands in one stack at most; larger stacks first. Only balloons that are not by hand and have their own leader.
 * @param lines with their axes, by view id
 */
export function fastenerStacks(
  { views, balloons }: Pick<SheetLayout, 'views' | 'balloons'>,
  lines: ReadonlyMap<string, ViewLines>,
  inputs: Pick<SheetInputs, 'assembly' | 'bill'>,
): FastenerStack[] {
  return views.flatMap(({ view }) => {
    const own = balloons.filter(({ balloon }) => balloon.view === view.id);
    const free = new Set(
      own.flatMap(({ balloon, row }) => (balloon.byHand || balloon.stack !== undefined || row < 0 ? [] : [row])),
    );
    const round = roundThings(lines.get(view.id), view.scale, free, inputs);
    const stacks = groupsThatTouch(round)
      .map((group) => distinctRows(fromTheViewer(group)))
      .filter((members) => members.length > 1)
      .sort((a, b) => b.length - a.length);
    const taken = new Set<number>();
    return stacks.flatMap((members): FastenerStack[] => {
      const left = members.filter(({ row }) => !taken.has(row));
      if (left.length < 2) return [];
      left.forEach(({ row }) => taken.add(row));
      return [{ view: view.id, members: left.map(({ row, path }) => ({ row, path })) }];
    });
  });
}

/** Small parts that are round about one axis only. */
function roundThings(
  lines: ViewLines | undefined,
  scale: number,
  rows: ReadonlySet<number>,
  { assembly, bill }: Pick<SheetInputs, 'assembly' | 'bill'>,
): OnAxis[] {
  const { axisEnds: ends, axisRadii: radii, axisOccurrences: occurrences } = lines ?? {};
  if (!lines || !ends || !radii || !occurrences) return [];
  const byOccurrence = new Map<number, number[]>();
  occurrences.forEach((occurrence, at) => {
    const own = byOccurrence.get(occurrence);
    if (own) own.push(at);
    else byOccurrence.set(occurrence, [at]);
  });
  const point = (at: number): Vec3 => [ends[at * 3], ends[at * 3 + 1], ends[at * 3 + 2]];
  return [...byOccurrence].flatMap(([occurrence, own]): OnAxis[] => {
    const path = lines.paths[occurrence];
    const row = rowOfPath(bill, assembly, pathOf(path));
    if (!rows.has(row)) return [];
    const longest = own.reduce((best, at) => (sizeOf(at) > sizeOf(best) ? at : best));
    const along = normalize(subtract(point(longest * 2 + 1), point(longest * 2)));
    const origin = point(longest * 2);
    const radius = Math.max(...own.map((at) => radii[at]));
    if (radius * scale > MOST_RADIUS || !Number.isFinite(along[0])) return [];
    let from = 0,
      to = 0;
    for (const at of own)
      for (const end of [point(at * 2), point(at * 2 + 1)]) {
        const by = subtract(end, origin);
        const t = dot(by, along);
        if (Math.sqrt(Math.max(0, dot(by, by) - t * t)) > ONE_AXIS * radius) return [];
        from = Math.min(from, t);
        to = Math.max(to, t);
      }
    if ((to - from) * scale > MOST_LENGTH) return [];
    const middle = (from + to) / 2;
    const at: Vec3 = [origin[0] + middle * along[0], origin[1] + middle * along[1], origin[2] + middle * along[2]];
    return [{ path, row, at, along, half: (to - from) / 2, radius }];
  });

  function sizeOf(at: number): number {
    return length(subtract(point(at * 2 + 1), point(at * 2)));
  }
}

/** Groups of things on one axis that touch, directly or over others. */
function groupsThatTouch(things: readonly OnAxis[]): OnAxis[][] {
  const groupOf = things.map((_, at) => at);
  const rootOf = (at: number): number => (groupOf[at] === at ? at : (groupOf[at] = rootOf(groupOf[at])));
  for (let i = 0; i < things.length; i++)
    for (let j = i + 1; j < things.length; j++) if (touch(things[i], things[j])) groupOf[rootOf(j)] = rootOf(i);
  const groups = new Map<number, OnAxis[]>();
  things.forEach((thing, at) => {
    const root = rootOf(at);
    groups.set(root, [...(groups.get(root) ?? []), thing]);
  });
  return [...groups.values()];
}

function touch(one: OnAxis, other: OnAxis): boolean {
  const by = subtract(other.at, one.at);
  const t = dot(by, one.along);
  const radius = Math.min(one.radius, other.radius);
  // A washer lies within the head's height and so on: less than a radius between them still touches.
  if (Math.abs(t) > one.half + other.half + radius) return false;
  if (Math.sqrt(Math.max(0, dot(by, by) - t * t)) > ONE_AXIS * radius) return false;
  return 1 - dot(one.along, other.along) ** 2 < PARALLEL ** 2;
}

/** Along their axis, the end that is nearer to the viewer first. */
function fromTheViewer(group: readonly OnAxis[]): OnAxis[] {
  const [{ at, along }] = group;
  const sign = along[2] < 0 || (along[2] === 0 && along[1] < 0) ? -1 : 1;
  const far = (one: OnAxis) => sign * dot(subtract(one.at, at), along);
  return [...group].sort((a, b) => far(b) - far(a));
}

function distinctRows(group: readonly OnAxis[]): OnAxis[] {
  const seen = new Set<number>();
  return group.filter(({ row }) => !seen.has(row) && seen.add(row));
}

/** The sheet with these stacks, each pointing at the first of its parts; arrange it to have them placed. */
export function withFastenerStacks(
  sheet: Sheet,
  { balloons }: Pick<SheetLayout, 'balloons'>,
  stacks: readonly FastenerStack[],
): Sheet {
  return stacks.reduce((made, { view, members }) => {
    const ids = members.flatMap(
      ({ row }) => balloons.find((one) => one.row === row && one.balloon.view === view)?.balloon.id ?? [],
    );
    const [first] = ids;
    const path = pathOf(members[0].path);
    const stacked = stackBalloons(made, ids, 'row');
    return { ...stacked, balloons: stacked.balloons.map((one) => (one.id === first ? { ...one, path } : one)) };
  }, sheet);
}

/**
 * The sheet with what `fastenerStacks` finds on it on one leader each; null where there is nothing to find.
 */
export function sheetWithFastenerStacks(inputs: SheetInputs): Sheet | null {
  const layout = layOutSheet(inputs);
  const found = fastenerStacks(layout, inputs.lines, inputs);
  return found.length === 0 ? null : withFastenerStacks(inputs.sheet, layout, found);
}
