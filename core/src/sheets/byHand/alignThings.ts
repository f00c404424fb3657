import { uniteBoxes2, type Box2, type Vec2 } from '../../geometry/index.ts';
import type { Sheet } from '../records.ts';
import { isSameThing, type PlacedThing, type SheetThing, type Ways } from './thing.ts';
import { kindOfThing } from './things.ts';

export const alignments = ['left', 'centre', 'right', 'top', 'middle', 'bottom'] as const;
export type ThingAlignment = (typeof alignments)[number];

/** Of what is picked what can be brought in line: balloons of views that are picked too come along with them. */
export function inLineThings(
  sheet: Sheet,
  placed: readonly PlacedThing[],
  picked: readonly SheetThing[],
): PlacedThing[] {
  const isPicked = (thing: SheetThing) => picked.some((one) => isSameThing(one, thing));
  const comesAlong = ({ kind, id }: SheetThing) => {
    const balloon = kind === 'balloon' && sheet.balloons.find((one) => one.id === id);
    return balloon && isPicked({ kind: 'view', id: balloon.view });
  };
  return placed.filter(({ thing }) => kindOfThing(thing.kind).isAligned && isPicked(thing) && !comesAlong(thing));
}

/** Brings things in line: by an edge, the outermost of them has it; by the middle, that of all of them together. */
export function alignThings(things: readonly PlacedThing[], how: ThingAlignment): Ways {
  if (things.length === 0) return [];
  const all = things.map(({ box }) => box).reduce(uniteBoxes2);
  const by = (box: Box2): Vec2 => {
    switch (how) {
      case 'left':
        return [all[0] - box[0], 0];
      case 'right':
        return [all[2] - box[2], 0];
      case 'centre':
        return [(all[0] + all[2] - box[0] - box[2]) / 2, 0];
      case 'top':
        return [0, all[1] - box[1]];
      case 'bottom':
        return [0, all[3] - box[3]];
      case 'middle':
        return [0, (all[1] + all[3] - box[1] - box[3]) / 2];
    }
  };
  return things.map(({ thing, box }) => ({ thing, by: by(box) }));
}

/** Puts things at equal gaps between the two outermost, which stay. @param axis 0 from left to right, 1 downwards */
export function distributeThings(things: readonly PlacedThing[], axis: 0 | 1): Ways {
  if (things.length < 3) return [];
  const low = ({ box }: PlacedThing) => box[axis],
    high = ({ box }: PlacedThing) => box[axis + 2];
  const sorted = things.toSorted((a, b) => low(a) + high(a) - low(b) - high(b));
  const free =
    high(sorted[sorted.length - 1]) - low(sorted[0]) - sorted.reduce((sum, one) => sum + high(one) - low(one), 0);
  const gap = free / (sorted.length - 1);
  let at = low(sorted[0]);
  return sorted.map((one) => {
    const by = at - low(one);
    at += high(one) - low(one) + gap;
    return { thing: one.thing, by: axis === 0 ? [by, 0] : [0, by] };
  });
}
