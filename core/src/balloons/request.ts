import type { Box2, Vec2 } from '../geometry/index.ts';
import { COST, leaderCost } from './costs.ts';
import type { RailRoom } from './rails.ts';
import { roomEnough, type AnchorChoice, type Arrangement } from './records.ts';

/** A balloon to be placed: the first choices are the better places for its leader to end. */
interface Unplaced {
  readonly choices: readonly AnchorChoice[];
  /** How far it is drawn out to each side; as far as the longest where absent. */
  readonly extra?: number;
  /** What its leader keeps clear of besides: other views of the group. */
  readonly avoid?: readonly Box2[];
}
export interface Placed {
  readonly centre: Vec2;
  /** Index into the choices. */
  readonly choice: number;
}
/** A balloon that stays where it is. */
export interface Standing {
  readonly centre: Vec2;
  readonly anchor: Vec2;
}
export interface RingRequest extends Omit<RailRoom, 'arrangement'> {
  readonly items: readonly Unplaced[];
  readonly standing: readonly Standing[];
  /** Distance of the first rail from the outline; mm. */
  readonly distance: number;
  /** What is tried, each only where those before it leave something wrong; all where absent. */
  readonly arrangements?: readonly Arrangement[];
}

/** Cost of the leader of an item from a place to one of its choices. */
export const costOfChoice = (
  { obstacles, radius, extra = 0 }: RingRequest,
  item: Unplaced,
  centre: Vec2,
  choice: AnchorChoice,
): number =>
  leaderCost(centre, choice.point, {
    obstacles: item.avoid ? [...obstacles, ...item.avoid] : obstacles,
    radius,
    extra: item.extra ?? extra,
  }) + (roomEnough(choice) ? 0 : COST.room);
