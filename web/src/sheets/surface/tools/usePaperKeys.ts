import type { KeyboardEvent } from 'react';
import {
  isMovable,
  isSameThing,
  kindOfThing,
  nextOfBalloon,
  readingOrder,
  severalOf,
  type PlacedThing,
  type Ways,
} from '../../../../../core/src/sheets/index.ts';
import { count } from '../../../count.ts';
import { ARROWS, arrowWay, type OnPaper, type PaperTool } from './paperTool.ts';
import type { useCopies } from './useCopies.ts';
import type { useLeaderEnds } from './useLeaderEnds.ts';

/** Plainly, with Shift, with Alt; mm. */
const STEPS = [1, 10, 0.1] as const;

interface PaperKeysProps {
  readonly on: OnPaper;
  readonly placed: readonly PlacedThing[];
  /** What is at work; null while things are picked. */
  readonly tool: PaperTool | null;
  readonly ends: ReturnType<typeof useLeaderEnds>;
  readonly copies: ReturnType<typeof useCopies>;
  readonly take: (label: string, ways: Ways) => void;
  readonly takeAway: () => void;
  readonly openText: () => void;
  /** Leaves what is going on: a drag, or what is picked. */
  readonly leave: () => void;
}

/** What keys do on the sheet: the same as the pointer. */
export function usePaperKeys({ on, placed, tool, ends, copies, take, takeAway, openText, leave }: PaperKeysProps) {
  const { sheet, layout, things, thing, choose } = on;
  /** From thing to thing, round and round. */
  const step = (way: 1 | -1) => {
    const all = placed.map((one) => one.thing);
    const last = things.at(-1);
    const at = last ? all.findIndex((one) => isSameThing(one, last)) : -1;
    const next = at < 0 ? (way > 0 ? 0 : all.length - 1) : (at + way + all.length) % all.length;
    if (all.length > 0) choose([all[next]]);
  };
  /** Round and round; where nothing is picked any more Tab leaves the sheet, as everywhere. */
  const nextBalloon = (of: string, way: 1 | -1): string => {
    const order = readingOrder(layout.balloons);
    return order[(order.indexOf(of) + way + order.length) % order.length];
  };
  const moveBy = (by: readonly [number, number]) =>
    take(
      thing ? (kindOfThing(thing.kind).moving ?? 'move') : `move ${count(things.length, 'thing')}`,
      things.filter(isMovable).map((one) => ({ thing: one, by })),
    );

  const ofTool = (event: KeyboardEvent, at: PaperTool): boolean => {
    const way = arrowWay(event, at.steps);
    if (event.key === 'Enter') at.takeHere(event.shiftKey);
    else if (event.key === 'Escape') {
      leave();
      at.leave();
    } else if (way) at.step(way);
    else return false;
    return true;
  };
  const withCtrl: Readonly<Record<string, () => void>> = {
    c: copies.copy,
    v: copies.paste,
    a: () => choose(severalOf(placed)),
  };
  const ofPicked = (event: KeyboardEvent): boolean => {
    const way = arrowWay(event, STEPS);
    const next = event.key === 'Enter' && thing && nextOfBalloon(sheet, thing);
    if (event.key === 'Escape') leave();
    else if (way && things.some(isMovable)) moveBy(way);
    else if (way && thing?.kind === 'leaderEnd') ends.step(ARROWS[event.key]);
    else if (next) choose([next]);
    else if (event.key === 'Tab' && thing?.kind === 'balloon')
      choose([{ kind: 'balloon', id: nextBalloon(thing.id, event.shiftKey ? -1 : 1) }]);
    else if (event.key === 'Enter' && thing) openText();
    else if (event.ctrlKey || event.metaKey) {
      const act = Object.hasOwn(withCtrl, event.key) ? withCtrl[event.key] : undefined;
      if (!act) return false;
      act();
    } else if (event.key.toLowerCase() === 'n') step(event.shiftKey ? -1 : 1);
    else if (event.key === 'Delete' || event.key === 'Backspace') takeAway();
    else return false;
    return true;
  };
  return (event: KeyboardEvent) => {
    if (tool ? ofTool(event, tool) : ofPicked(event)) event.preventDefault();
  };
}
