import { useDrag } from '@use-gesture/react';
import { useRef, useState, type PointerEvent } from 'react';
import type { Box2, Vec2 } from '../../../../../core/src/geometry/index.ts';
import {
  drawThing,
  isSameThing,
  kindOfThing,
  movedBend,
  moveByHand,
  moveThings,
  snapView,
  thingAt,
  thingsWithin,
  type DrawnSheet,
  type Guide,
  type PlacedThing,
  type SheetThing,
  type Ways,
} from '../../../../../core/src/sheets/index.ts';
import { count } from '../../../count.ts';
import { usePicking } from '../../../data/openProject.ts';
import type { OnPaper } from './paperTool.ts';
import type { useHeadings } from './useHeadings.ts';
import type { useLeaderEnds } from './useLeaderEnds.ts';

/** Less than this is a click; CSS pixels. */
const MOVES_PX = 4;
/** On screen: a dragged view that is nearer than this to being in line comes to lie in line. */
const SNAP_PX = 6;

/** Where everything was when dragging began: what is drawn meanwhile has moved. */
interface Start {
  readonly drawn: DrawnSheet;
  readonly placed: readonly PlacedThing[];
}
/** One drag, from pressing to letting go. */
interface Drag extends Start {
  /** Nothing where a frame is drawn around things; null where pressing was all. */
  readonly things: readonly SheetThing[] | null;
  readonly from: Vec2;
  moved: boolean;
}
/** Where a drag is: how far it has gone on paper, and whether Ctrl is held. */
interface DragAt {
  readonly drag: Drag;
  readonly at: Vec2;
  readonly by: Vec2;
  readonly free: boolean;
}
/** How things of a kind follow the pointer, and what comes of letting go: what is picked then. */
interface Following {
  readonly look: (where: DragAt) => void;
  readonly drop: (where: DragAt) => readonly SheetThing[] | void;
}

const boxOf = ([x0, y0]: Vec2, [x1, y1]: Vec2): Box2 => [
  Math.min(x0, x1),
  Math.min(y0, y1),
  Math.max(x0, x1),
  Math.max(y0, y1),
];
const plus = ([x, y]: Vec2, [dx, dy]: Vec2): Vec2 => [x + dx, y + dy];

interface HoldingProps {
  readonly on: OnPaper;
  readonly placed: readonly PlacedThing[];
  /** A point of the window in mm of the paper. */
  readonly toMm: (point: { readonly clientX: number; readonly clientY: number }) => Vec2;
  readonly ends: ReturnType<typeof useLeaderEnds>;
  readonly heads: ReturnType<typeof useHeadings>;
  readonly onGuides: (guides: readonly Guide[]) => void;
  /** Whether a tool is at work, so that nothing is picked. */
  readonly isOff: boolean;
}

/** The sheet at rest: things are picked by a press or a frame around them, and dragged. */
export function useHolding({ on, placed, toMm, ends, heads, onGuides, isOff }: HoldingProps) {
  const { pick } = usePicking();
  const { sheet, drawn, paper, things, choose, onDraft, change } = on;
  const [band, setBand] = useState<Box2 | null>(null);
  const [dragged, setDragged] = useState<{ readonly things: readonly SheetThing[]; readonly start: Start } | null>(
    null,
  );
  /** What a handle said that it is, a moment before the paper hears of the press too. */
  const pressed = useRef<{ readonly thing: SheetThing; readonly withShift: boolean } | null>(null);
  const stop = useRef<(() => void) | null>(null);
  const { take, inLine } = useMoves(on, onGuides);
  const isPicked = (one: SheetThing) => things.some((other) => isSameThing(one, other));

  const framing: Following = {
    look: ({ drag, at }) => setBand(boxOf(drag.from, at)),
    drop: ({ drag, at }) => thingsWithin(placed, boxOf(drag.from, at)),
  };
  const moving: Following = {
    look: ({ drag: { things: all, drawn: was }, by, free }) =>
      onDraft(
        moveThings(
          sheet,
          all!.map((thing) => ({ thing, by: inLine(all!, by, free) })),
          was.layout,
        ),
      ),
    drop: ({ drag, by, free }) => {
      const [first, ...more] = drag.things!;
      const way = inLine(drag.things!, by, free);
      take(
        more.length === 0 ? (kindOfThing(first.kind).moving ?? 'move') : `move ${count(more.length + 1, 'thing')}`,
        drag.things!.map((thing) => ({ thing, by: way })),
        drag,
      );
      if (first.kind === 'bend') return [movedBend(first)];
    },
  };
  const drawing: Following = {
    look: ({ drag, by, free }) => onDraft(drawThing(sheet, drag.things![0], by, drag.drawn.layout, free)),
    drop: ({ drag, by, free }) => {
      const [thing] = drag.things!;
      const after = drawThing(sheet, thing, by, drag.drawn.layout, free);
      onDraft(null);
      change(kindOfThing(thing.kind).drawing!(after, thing), after);
      if (thing.kind === 'viewSize') return [{ kind: 'view', id: thing.id }];
    },
  };
  const pointing: Following = {
    look: ({ at }) => onDraft(ends.draftAt(at)?.draft ?? null),
    drop: ({ drag, at }) => {
      const found = ends.draftAt(at);
      ends.clearSaid();
      onDraft(null);
      if (found) ends.keep(found.place);
      return [{ kind: 'balloon', id: drag.things![0].id }];
    },
  };
  const heading: Following = {
    look: ({ drag: { things: all }, at }) => all![0].kind === 'columnHead' && heads.lookAt(all![0], at[0]),
    drop: ({ drag: { things: all }, at }) => {
      if (all![0].kind === 'columnHead') heads.drop(all![0], at[0]);
      return [{ kind: 'table', id: all![0].id }];
    },
  };
  const followingOf = (all: readonly SheetThing[]): Following => {
    if (all.length === 0) return framing;
    if (all[0].kind === 'leaderEnd') return pointing;
    if (all[0].kind === 'columnHead') return heading;
    return kindOfThing(all[0].kind).draw ? drawing : moving;
  };

  /** What a press takes hold of. */
  const press = (event: { readonly shiftKey: boolean }): Drag['things'] => {
    const by = pressed.current;
    pressed.current = null;
    if (!by) {
      if (!event.shiftKey) {
        choose([]);
        pick(null);
      }
      return [];
    }
    if (by.withShift) {
      choose(isPicked(by.thing) ? things.filter((one) => !isSameThing(one, by.thing)) : [...things, by.thing]);
      return null;
    }
    // Several that are picked go together; which one is meant shows when the pointer is let go.
    if (isPicked(by.thing)) return things;
    choose([by.thing]);
    return [by.thing];
  };
  /** A press that has not moved: of several that are picked, the one under it is meant. */
  const click = ({ drag, at }: DragAt): void => {
    if (drag.things!.length === 0) return choose([]);
    const under = drag.things!.length > 1 ? thingAt(drag.placed, at) : undefined;
    if (under) choose([under]);
  };
  const letGo = (where: DragAt, shift: boolean) => {
    const { things: all, moved } = where.drag;
    if (!all) return;
    if (!moved && !(all.length === 0 && shift)) return click(where);
    if (!moved) return;
    const picked = followingOf(all).drop(where);
    if (!picked) return;
    choose(all.length === 0 && shift ? [...things, ...picked.filter((one) => !isPicked(one))] : picked);
  };

  const bind = useDrag<globalThis.PointerEvent | PointerEvent>(
    ({ first, last, canceled, event, xy: [clientX, clientY], memo, cancel }) => {
      const at = toMm({ clientX, clientY });
      if (first) {
        paper.current?.focus({ preventScroll: true });
        stop.current = cancel;
        return { drawn, placed, things: press(event), from: at, moved: false } satisfies Drag;
      }
      const drag = memo as Drag | undefined;
      if (!drag || canceled) return drag;
      const by: Vec2 = [at[0] - drag.from[0], at[1] - drag.from[1]];
      if (!drag.moved && drag.things && Math.hypot(...by) * on.zoom >= MOVES_PX) {
        drag.moved = true;
        setDragged({ things: drag.things, start: drag });
      }
      const where = { drag, at, by, free: event.ctrlKey };
      if (last) {
        setBand(null);
        setDragged(null);
        letGo(where, event.shiftKey);
      } else if (drag.moved) followingOf(drag.things!).look(where);
      return drag;
    },
    { pointer: { keys: false } },
  );
  return {
    bind,
    /** On a handle: what is under the pointer. */
    start: (thing: SheetThing) => (event: PointerEvent) => {
      if (event.button === 0 && !isOff) pressed.current = { thing, withShift: event.shiftKey };
    },
    band,
    /** What is on its way; its start, and where it lies over something. */
    dragged,
    take: (label: string, ways: Ways) => take(label, ways, { drawn, placed }),
    leave: () => {
      stop.current?.();
      setBand(null);
      setDragged(null);
      ends.clearSaid();
      onDraft(null);
      onGuides([]);
      choose([]);
    },
  };
}

/** Moves as they are stored: off the title block, a single view in line with others. */
function useMoves({ sheet, layout, zoom, onDraft, change }: OnPaper, onGuides: HoldingProps['onGuides']) {
  /** The step of a dragged view that brings it in line with others, unless Ctrl is held. */
  const inLine = ([{ kind, id }, ...more]: readonly SheetThing[], by: Vec2, free: boolean): Vec2 => {
    const view = kind === 'view' && more.length === 0 && !free ? sheet.views.find((each) => each.id === id) : undefined;
    if (!view) return by;
    const found = snapView(layout, id, plus(view.centre, by), SNAP_PX / zoom);
    onGuides(found.guides);
    return [found.centre[0] - view.centre[0], found.centre[1] - view.centre[1]];
  };
  /** Nothing may lie over the title block: what would is put beside it. */
  const take = (label: string, ways: Ways, start: Start) => {
    onDraft(null);
    onGuides([]);
    change(label, moveByHand(sheet, ways, start.placed, start.drawn.layout));
  };
  return { inLine, take };
}
