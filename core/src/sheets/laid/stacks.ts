import type { Balloon } from '../../balloons/index.ts';
import { moveBox, type Box2, type Vec2 } from '../../geometry/index.ts';
import type { Sheet } from '../records.ts';

/** So that balloons that touch do not lie over one another by rounding; mm. */
const TOUCHING = 0.01;

/** Balloons of a sheet that share a leader, in their order; the first has it. By view and stack. */
export function stacksOf<One extends Pick<Balloon, 'view' | 'stack'>>(balloons: readonly One[]): One[][] {
  const stacks = new Map<string, One[]>();
  for (const balloon of balloons) {
    if (balloon.stack === undefined) continue;
    const name = `${balloon.view} ${balloon.stack}`;
    const stack = stacks.get(name);
    if (stack) stack.push(balloon);
    else stacks.set(name, [balloon]);
  }
  return [...stacks.values()].filter((stack) => stack.length > 1);
}

/** Whether the rest of a stack stands above or below its first one, not beside it; and on which side. */
function wayOf([first, second]: readonly Balloon[]): { readonly axis: 0 | 1; readonly sign: 1 | -1 } {
  const [dx, dy] = [second.offset[0] - first.offset[0], second.offset[1] - first.offset[1]];
  const axis = Math.abs(dy) > Math.abs(dx) ? 1 : 0;
  return { axis, sign: (axis === 0 ? dx : dy) < 0 ? -1 : 1 };
}

/** A balloon as it lies on paper. */
interface Laid {
  readonly balloon: Balloon;
  readonly centre: Vec2;
  readonly radius: number;
  readonly leader: readonly Vec2[];
  readonly box: Box2;
}

/**
 * The balloons with those of stacks in a row or column beside the first one, touching, and without leaders of their own.
 * On which side is told by where they were put.
 */
export function withStacks<One extends Laid>(laid: readonly One[]): One[] {
  const stacks = stacksOf(laid.map(({ balloon }) => balloon));
  if (stacks.length === 0) return [...laid];
  const byId = new Map(laid.map((one) => [one.balloon.id, one]));
  for (const stack of stacks) {
    const { axis, sign } = wayOf(stack);
    let before = byId.get(stack[0].id)!;
    for (const { id } of stack.slice(1)) {
      const one = byId.get(id)!;
      const apart =
        TOUCHING +
        (axis === 1
          ? before.radius + one.radius
          : sign > 0
            ? before.box[2] - before.centre[0] + one.centre[0] - one.box[0]
            : before.centre[0] - before.box[0] + one.box[2] - one.centre[0]);
      const centre: Vec2 =
        axis === 0
          ? [before.centre[0] + sign * apart, before.centre[1]]
          : [before.centre[0], before.centre[1] + sign * apart];
      const box = moveBox(one.box, centre[0] - one.centre[0], centre[1] - one.centre[1]);
      before = { ...one, centre, leader: [], box };
      byId.set(id, before);
    }
  }
  return laid.map(({ balloon: { id } }) => byId.get(id)!);
}

/** The rest of a stack beside its first balloon, for `withStacks` to put them exactly. */
export const besideFirst = (
  first: Balloon,
  rest: readonly Balloon[],
  { axis, sign }: { readonly axis: 0 | 1; readonly sign: 1 | -1 },
): Balloon[] =>
  rest.map((one, at) => ({
    ...one,
    view: first.view,
    byHand: first.byHand,
    offset:
      axis === 0
        ? [first.offset[0] + sign * (at + 1), first.offset[1]]
        : [first.offset[0], first.offset[1] + sign * (at + 1)],
  }));

/**
 * The sheet with these balloons on the leader of the first of them; in its view, in a row away from its middle or in a
 * column below. Balloons that have a leader of their own already are taken out of what they shared.
 * @param ids at least two, of balloons of one view
 */
export function stackBalloons(sheet: Sheet, ids: readonly string[], as: 'row' | 'column'): Sheet {
  const [first, ...rest] = ids.flatMap((id) => sheet.balloons.find((one) => one.id === id) ?? []);
  if (!first || rest.length === 0) return sheet;
  const way =
    as === 'column' ? ({ axis: 1, sign: 1 } as const) : ({ axis: 0, sign: first.offset[0] < 0 ? -1 : 1 } as const);
  // Arranging makes rows: a column stays as it was put.
  const head = { ...first, stack: first.id, byHand: first.byHand || as === 'column' };
  const stacked = [head, ...besideFirst(head, rest, way).map((one) => ({ ...one, stack: first.id }))];
  // They follow one another in the sheet as on paper.
  const others = sheet.balloons.filter(({ id }) => !ids.includes(id));
  return { ...sheet, balloons: [...others, ...stacked] };
}

/** Where a balloon comes to stand that gets its own leader again; mm from where it was. */
const ASIDE = 3;
/** The sheet with each balloon of this one's stack on a leader of its own again, near where it stands. */
export function unstack(sheet: Sheet, id: string, laid: readonly Pick<Laid, 'balloon' | 'centre'>[]): Sheet {
  const own = sheet.balloons.find((one) => one.id === id);
  if (own?.stack === undefined) return sheet;
  const freed = ({ stack: _, ...balloon }: Balloon): Balloon => {
    const found = laid.find((one) => one.balloon.id === balloon.id);
    const first = laid.find((one) => one.balloon.stack === own.stack && one.balloon.view === own.view);
    if (!found || !first || found === first) return balloon;
    const by = [found.centre[0] - first.centre[0], found.centre[1] - first.centre[1]];
    const far = Math.hypot(by[0], by[1]) || 1;
    const share = (far + ASIDE) / far;
    const head = first.balloon.offset;
    return { ...balloon, offset: [head[0] + by[0] * share, head[1] + by[1] * share] };
  };
  return {
    ...sheet,
    balloons: sheet.balloons.map((one) => (one.stack === own.stack && one.view === own.view ? freed(one) : one)),
  };
}
