import { ActionIcon, Menu, Tooltip } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { IconMaximize, IconMinus, IconPlus } from '@tabler/icons-react';
import {
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type MouseEvent,
  type PointerEvent,
  type ReactNode,
} from 'react';
import { listOccurrences, pathKey, type PathKey } from '../../../../core/src/assembly/index.ts';
import type { Box2, Vec2 } from '../../../../core/src/geometry/index.ts';
import type { MarkSource } from '../../../../core/src/marks/index.ts';
import {
  alignments,
  alignThings,
  bendName,
  centreLinesOf,
  distributeThings,
  inLineThings,
  isMovable,
  isSameThing,
  keepOnPaper,
  movedThings,
  moveThings,
  offTitleBlock,
  overlapsOf,
  paperLabel,
  penPair,
  readBend,
  readingOrder,
  resizeView,
  scaleText,
  snapView,
  severalOf,
  thingAt,
  thingsOn,
  thingsWithin,
  withColumnWidth,
  type DrawnSheet,
  sizeColumn,
  type Guide,
  type PlacedThing,
  type Sheet,
  type SheetInputs,
  type SheetThing,
  type SheetView,
  type Ways,
} from '../../../../core/src/sheets/index.ts';
import { directionName } from '../../../../core/src/views/index.ts';
import { removeSteps, sheetSteps } from '../../../../core/src/documents/index.ts';
import { count } from '../../count.ts';
import { useProject } from '../../data/ProjectContext.tsx';
import { Handles } from './Handles.tsx';
import { Hints } from './Hints.tsx';
import { useCopies } from './useCopies.ts';
import { ListAddColumn } from './ListAddColumn.tsx';
import { useHeadings } from './useHeadings.ts';
import { useLeaderEnds } from './useLeaderEnds.ts';
import { useMeasuring, type Measuring } from './useMeasuring.ts';
import { useBestSeen } from './useBestSeen.ts';
import { usePlacing } from './usePlacing.ts';
import { usePaperTyping } from './usePaperTyping.ts';
import { usePaperView } from './usePaperView.ts';
import { liftedOf, LiftedViews } from './Lifted.tsx';
import { PaperOverlays, PaperWords } from './PaperOverlays.tsx';
import { PaperText } from './PaperText.tsx';
import { SceneMarks } from './SceneMarks.tsx';
import { ViewCanvas } from './ViewCanvas.tsx';
import { balloonActions } from '../balloonActions.ts';
import { alignWords } from '../words.ts';

export interface PaperSurfaceProps {
  readonly id: string;
  /** As stored; while dragging, `drawn` shows the draft. */ readonly sheet: Sheet;
  readonly drawn: DrawnSheet;
  readonly inputs: SheetInputs;
  /** The sheet as it reads while something is dragged; null when it ends. */ readonly onDraft: (
    draft: Sheet | null,
  ) => void;
  /** What is picked, the last of them last. */ readonly things: readonly SheetThing[];
  readonly onThings: (things: readonly SheetThing[]) => void;
  /** A dimension on its way: what it is to measure is picked on paper. */ readonly measuring: Measuring | null;
  readonly onMeasuring: (measuring: Measuring | null) => void;
  /** A view on its way to its place, following the pointer. */ readonly ghost: SheetView | null;
  readonly onGhost: (ghost: SheetView | null) => void;
  readonly waiting: boolean;
  readonly failed: string | null;
}

/** What Undo says of a move. */
const moveWords: Readonly<Partial<Record<SheetThing['kind'], string>>> = {
  view: 'move view',
  caption: 'move caption',
  balloon: 'move balloon',
  bend: 'corner of a leader',
  rail: 'move rail',
  railEnd: 'end of a rail',
  note: 'move note',
  dimension: 'move dimension',
  table: 'move list',
  region: 'move what the detail shows',
  regionSize: 'size of the detail',
};
/** As Undo and menus name them. */
const thingWords: Readonly<Record<SheetThing['kind'], string>> = {
  view: 'view',
  caption: 'caption',
  balloon: 'balloon',
  bend: 'corner of the leader',
  rail: 'rail',
  railEnd: 'rail',
  note: 'note',
  dimension: 'dimension',
  centreLine: 'centre line',
  table: 'list',
  columnEdge: 'column',
  columnHead: 'heading',
  leaderEnd: 'end of the leader',
  titleBlock: 'title block',
  region: 'detail',
  regionSize: 'detail',
  viewSize: 'view',
};

/** On screen: a dragged view that is nearer than this to being in line comes to lie in line. */
const SNAP_PX = 6;
const ARROWS: Readonly<Record<string, Vec2>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The sheet on the desk: everything on it is picked and dragged directly. */
export function PaperSurface({
  id,
  sheet,
  drawn,
  inputs,
  onDraft,
  things,
  onThings,
  measuring,
  onMeasuring,
  ghost,
  onGhost,
  waiting,
  failed,
}: PaperSurfaceProps) {
  const { assembly, picked, pick, perform } = useProject();
  const { ref: desk, width, height } = useElementSize();
  const drag = useRef<{
    /** Nothing where a frame is drawn around things. */
    readonly things: readonly SheetThing[];
    readonly from: Vec2;
    moved: boolean;
  } | null>(null);
  const thing = things.length === 1 ? things[0] : null;
  const [band, setBand] = useState<Box2 | null>(null);
  const [menuAt, setMenuAt] = useState<Vec2 | null>(null);
  const paper = useRef<HTMLDivElement>(null);
  const [guides, setGuides] = useState<readonly Guide[]>([]);
  const {
    scene: { widthMm, heightMm, marks },
    layout,
  } = drawn;
  const fit = Math.max(0.2, Math.min((width - 40) / widthMm, (height - 40) / heightMm));
  const view = usePaperView(paper, fit);
  const { zoom } = view;
  const lit = useMemo(() => litPlaces(assembly, picked), [assembly, picked]);
  const litRows = useMemo(
    () =>
      new Set(inputs.bill.rows.flatMap((row, at) => (picked !== null && row.components.includes(picked) ? [at] : []))),
    [inputs.bill, picked],
  );
  const litBalloons = useMemo(
    () => new Set(layout.balloons.filter(({ row }) => litRows.has(row)).map(({ balloon }) => balloon.id)),
    [layout.balloons, litRows],
  );
  const isLit = useCallback(
    (source: MarkSource) =>
      (source.kind === 'balloon' &&
        (litBalloons.has(source.id) || (thing?.kind === 'balloon' && thing.id === source.id))) ||
      (source.kind === 'table' && litRows.has(Number(source.id))),
    [litBalloons, litRows, thing],
  );

  const ghostId = ghost?.id;
  const isMeasuring = measuring !== null;
  useEffect(() => {
    if (ghostId || isMeasuring) paper.current?.focus(); // so that Enter and arrow keys go there
  }, [ghostId, isMeasuring]);

  // A tile of the strip, or a line picked elsewhere, leads to its balloon also when only a part of the paper is seen.
  const first = layout.balloons.find(({ balloon }) => litBalloons.has(balloon.id))?.centre;
  const target = first ? `${first[0]} ${first[1]}` : '';
  useEffect(() => {
    if (first && !drag.current) view.travelTo(first);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- when another balloon is lit, not at every zoom
  }, [target, picked]);

  const toMm = (event: { clientX: number; clientY: number }): Vec2 => {
    const box = paper.current!.getBoundingClientRect();
    return [(event.clientX - box.left) / zoom, (event.clientY - box.top) / zoom];
  };
  const placed = useMemo(() => thingsOn(drawn, sheet.paper), [drawn, sheet.paper]);
  const centreLines = new Map(
    layout.views.map(({ view: one, lines }) => [
      one.id,
      one.centreLines ? centreLinesOf(one, lines, penPair(sheet.paper).thin) : [],
    ]),
  );
  const start = (picking: SheetThing) => (event: PointerEvent) => {
    if (event.button !== 0 || ghost || measuring) return;
    event.stopPropagation();
    paper.current?.focus({ preventScroll: true });
    const isPicked = things.some((one) => isSameThing(one, picking));
    if (event.shiftKey)
      return onThings(isPicked ? things.filter((one) => !isSameThing(one, picking)) : [...things, picking]);
    (event.target as Element).setPointerCapture(event.pointerId);
    // Several that are picked go together; which one is meant shows when the pointer is let go.
    const moving = isPicked ? things : [picking];
    stored.current = null;
    drag.current = { things: moving, from: toMm(event), moved: false };
    if (!isPicked) choose([picking]);
  };
  const choose = (picking: readonly SheetThing[]) => {
    onThings(picking);
    const [only] = picking.length === 1 ? picking : [];
    const balloon =
      only?.kind === 'balloon' ? layout.balloons.find(({ balloon: one }) => one.id === only.id) : undefined;
    if (balloon && balloon.row >= 0) pick(inputs.bill.rows[balloon.row].components[0] ?? null);
  };
  /** Where everything was when dragging began: what is drawn meanwhile has moved. */
  const stored = useRef<{
    readonly drawn: DrawnSheet;
    readonly layout: DrawnSheet['layout'];
    readonly placed: readonly PlacedThing[];
  } | null>(null);
  const began = () => stored.current?.layout ?? layout;
  const resized = (view: string, by: Vec2, free: boolean) => {
    const box = began().views.find((laid) => laid.view.id === view)?.box;
    return box ? resizeView(sheet, view, box, by, free) : sheet;
  };
  const columnSized = (edge: string, by: number) => {
    const at = edge.lastIndexOf(' ');
    const laid = began().tables.find(({ table }) => table.id === edge.slice(0, at));
    return laid ? sizeColumn(sheet, laid, Number(edge.slice(at + 1)), by) : sheet;
  };
  const toMoved = (what: readonly SheetThing[], by: Vec2, free: boolean) =>
    what[0].kind === 'viewSize'
      ? resized(what[0].id, by, free)
      : what[0].kind === 'columnEdge'
        ? columnSized(what[0].id, by[0])
        : moveThings(
            sheet,
            what.map((one) => ({ thing: one, by })),
            began(),
          );
  const move = (event: PointerEvent) => {
    if (ghost) return onGhost({ ...ghost, centre: keepOnPaper(sheet.paper, toMm(event)) });
    if (placing.isOn) return placing.lookAt(toMm(event));
    if (measuring) return lookAt(toMm(event));
    const dragging = drag.current;
    if (!dragging) return;
    const [x, y] = toMm(event);
    const by: Vec2 = [x - dragging.from[0], y - dragging.from[1]];
    if (!dragging.moved && Math.hypot(...by) * zoom < 4) return;
    dragging.moved = true;
    stored.current ??= { drawn, layout, placed };
    if (dragging.things.length === 0) return setBand(boxOf(dragging.from, [x, y]));
    if (dragging.things[0].kind === 'leaderEnd') return onDraft(ends.draftAt([x, y])?.draft ?? null);
    if (dragging.things[0].kind === 'columnHead') return heads.lookAt(dragging.things[0].id, x);
    onDraft(toMoved(dragging.things, inLine(dragging.things, by, event), event.ctrlKey));
  };
  const end = (event: PointerEvent) => {
    // Where the pointer is now: the ghost on screen may be a frame behind it.
    if (ghost) return dropGhost({ ...ghost, centre: keepOnPaper(sheet.paper, toMm(event)) });
    if (placing.isOn) return event.button === 0 ? placing.takeAt(toMm(event)) : undefined;
    if (measuring) return event.button === 0 ? takeAt(toMm(event)) : undefined;
    const dragging = drag.current;
    drag.current = null;
    setBand(null);
    if (!dragging) return;
    const [x, y] = toMm(event);
    if (dragging.things.length === 0) {
      const found = dragging.moved ? thingsWithin(placed, boxOf(dragging.from, [x, y])) : [];
      const more = found.filter((one) => !things.some((other) => isSameThing(one, other)));
      return choose(event.shiftKey ? [...things, ...more] : found);
    }
    if (!dragging.moved) {
      const under = dragging.things.length > 1 ? thingAt(placed, [x, y]) : undefined;
      if (under) choose([under]);
      return;
    }
    if (dragging.things[0].kind === 'leaderEnd') {
      const found = ends.draftAt([x, y]);
      ends.clearSaid();
      onDraft(null);
      if (found) ends.keep(found.place);
      return choose([{ kind: 'balloon', id: dragging.things[0].id }]);
    }
    if (dragging.things[0].kind === 'columnHead') {
      heads.drop(dragging.things[0].id, x);
      return choose([{ kind: 'table', id: dragging.things[0].id.slice(0, dragging.things[0].id.lastIndexOf(' ')) }]);
    }
    if (dragging.things[0].kind === 'columnEdge') {
      const after = columnSized(dragging.things[0].id, x - dragging.from[0]);
      onDraft(null);
      perform('width of a column', ...sheetSteps(sheet, after).map((command) => ({ document: id, command })));
      return;
    }
    if (dragging.things[0].kind === 'viewSize') {
      const [{ id: view }] = dragging.things;
      const after = resized(view, [x - dragging.from[0], y - dragging.from[1]], event.ctrlKey);
      onDraft(null);
      const scale = after.views.find((one) => one.id === view)!.scale;
      perform(`scale ${scaleText(scale)}`, {
        document: id,
        command: { kind: 'changeView', id: view, change: { scale, byHand: true } },
      });
      return choose([{ kind: 'view', id: view }]);
    }
    commit(dragging.things, inLine(dragging.things, [x - dragging.from[0], y - dragging.from[1]], event));
    // A new corner has the number of the piece that it broke.
    if (dragging.things[0].kind === 'bend') {
      const { balloon, at } = readBend(dragging.things[0].id);
      choose([{ kind: 'bend', id: bendName(balloon, at) }]);
    }
  };
  /** The step of a dragged view that brings it in line with others, unless Ctrl is held. */
  const inLine = ([{ kind, id: one }, ...more]: readonly SheetThing[], by: Vec2, { ctrlKey }: PointerEvent): Vec2 => {
    const view =
      kind === 'view' && more.length === 0 && !ctrlKey ? sheet.views.find((each) => each.id === one) : undefined;
    if (!view) return by;
    const found = snapView(layout, one, add(view.centre, by, 1), SNAP_PX / zoom);
    setGuides(found.guides);
    return [found.centre[0] - view.centre[0], found.centre[1] - view.centre[1]];
  };
  const commit = (what: readonly SheetThing[], by: Vec2) =>
    take(
      what.length === 1 ? (moveWords[what[0].kind] ?? 'move') : `move ${count(what.length, 'thing')}`,
      what.filter(isMovable).map((one) => ({ thing: one, by })),
    );
  /** Things go their ways, but not over the title block. */
  const take = (label: string, ways: Ways) => {
    onDraft(null);
    setGuides([]);
    const { layout: from, placed: stood } = stored.current ?? { layout, placed };
    stored.current = null;
    const aside = offTitleBlock(sheet.paper, layout.titleBlock, movedThings(stood, ways));
    const whole = ways.map(({ thing: one, by }) => {
      const more = aside.find((other) => isSameThing(other.thing, one));
      return { thing: one, by: more ? add(by, more.by, 1) : by };
    });
    const commands = sheetSteps(sheet, moveThings(sheet, whole, from));
    if (commands.length > 0) perform(label, ...commands.map((command) => ({ document: id, command })));
  };
  const dropGhost = (view: SheetView) => {
    perform(`place ${directionName(view.direction)} view`, {
      document: id,
      command: { kind: 'addView', view: { ...view, byHand: true } },
    });
    choose([{ kind: 'view', id: view.id }]);
    onGhost(null);
  };
  const {
    hit,
    cross,
    lookAt,
    takeAt,
    step: stepSpot,
    takeHere,
  } = useMeasuring({ id, sheet, layout, inputs, zoom, measuring, onMeasuring, choose });
  const placing = usePlacing({ id, sheet, layout, inputs, measuring, onMeasuring, onDraft, choose });
  const elsewhere = useBestSeen(
    id,
    measuring?.kind === 'balloon' && !placing.waits && !placing.hasPlaces ? measuring.row : null,
    inputs,
  );
  const ends = useLeaderEnds({ id, sheet, layout, inputs, thing });
  const { copy, paste, hasCopies } = useCopies({ id, sheet, things, choose });
  const heads = useHeadings({ layout, onGuides: setGuides });
  const { typing, openText, close } = usePaperTyping({ id, sheet, drawn, thing });
  const several = balloonActions({ sheet, layout, things });
  const takeAway = (what: readonly SheetThing[]) => {
    const members = new Map([...centreLines.values()].flat().map((line) => [line.id, line.members]));
    const commands = removeSteps(sheet, what, (line) => members.get(line) ?? [line]);
    if (commands.length === 0) return;
    perform(
      `take away ${what.length === 1 ? thingWords[what[0].kind] : count(what.length, 'thing')}`,
      ...commands.map((command) => ({ document: id, command })),
    );
    onThings([]);
  };
  const step = (way: 1 | -1) => {
    const all = placed.map((one) => one.thing);
    const last = things.at(-1);
    const at = last ? all.findIndex((one) => isSameThing(one, last)) : -1;
    const next = at < 0 ? (way > 0 ? 0 : all.length - 1) : (at + way + all.length) % all.length;
    if (all.length > 0) choose([all[next]]);
  };
  /** Whether a list, or what belongs to it, shows the bill whose columns can be changed here. */
  const isOfOwnList = ({ kind, id: of }: SheetThing): boolean =>
    ['table', 'columnEdge', 'columnHead'].includes(kind) &&
    layout.tables.some(
      ({ table, bill }) => bill === inputs.bill && !table.typed && (table.id === of || of.startsWith(`${table.id} `)),
    );
  /** Round and round; where nothing is picked any more Tab leaves the sheet, as everywhere. */
  const nextBalloon = (of: string, way: 1 | -1): string => {
    const order = readingOrder(layout.balloons);
    return order[(order.indexOf(of) + way + order.length) % order.length];
  };
  /** From a balloon to the end of its leader, to the corners of that, and back. */
  const nextOfBalloon = ({ kind, id: of }: SheetThing): SheetThing | null => {
    if (!['balloon', 'leaderEnd', 'bend'].includes(kind)) return null;
    const balloon = kind === 'bend' ? readBend(of).balloon : of;
    const bends = sheet.balloons.find((one) => one.id === balloon)?.bends ?? [];
    const next = kind === 'balloon' ? -1 : kind === 'leaderEnd' ? 0 : readBend(of).at + 1;
    if (next < 0) return { kind: 'leaderEnd', id: balloon };
    return next < bends.length ? { kind: 'bend', id: bendName(balloon, next) } : { kind: 'balloon', id: balloon };
  };
  const onKey = (event: KeyboardEvent) => {
    const withCtrl = event.ctrlKey || event.metaKey;
    if (ghost && event.key === 'Enter') dropGhost(ghost);
    else if (placing.isOn && event.key === 'Enter') placing.takeHere();
    else if (placing.isOn && ARROWS[event.key])
      placing.step(add([0, 0], ARROWS[event.key], event.shiftKey ? 10 : event.altKey ? 0.2 : 2));
    else if (measuring && event.key === 'Enter') takeHere();
    else if (measuring && ARROWS[event.key])
      stepSpot(add([0, 0], ARROWS[event.key], event.shiftKey ? 10 : event.altKey ? 0.2 : 2));
    else if (event.key === 'Escape') {
      drag.current = null;
      stored.current = null;
      setBand(null);
      ends.clearSaid();
      onDraft(null);
      setGuides([]);
      if (ghost) onGhost(null);
      else if (measuring) onMeasuring(null);
      else onThings([]);
    } else if (ARROWS[event.key] && ghost)
      onGhost({
        ...ghost,
        centre: keepOnPaper(sheet.paper, add(ghost.centre, ARROWS[event.key], event.shiftKey ? 20 : 5)),
      });
    else if (ARROWS[event.key] && things.some(isMovable)) {
      stored.current = null;
      commit(things, add([0, 0], ARROWS[event.key], event.shiftKey ? 10 : event.altKey ? 0.1 : 1));
    } else if (ARROWS[event.key] && thing?.kind === 'leaderEnd') ends.step(ARROWS[event.key]);
    else if (event.key === 'Enter' && thing && nextOfBalloon(thing)) choose([nextOfBalloon(thing)!]);
    else if (event.key === 'Tab' && thing?.kind === 'balloon')
      choose([{ kind: 'balloon', id: nextBalloon(thing.id, event.shiftKey ? -1 : 1) }]);
    else if (event.key === 'Enter' && thing) openText(null);
    else if (withCtrl && event.key === 'c') copy();
    else if (withCtrl && event.key === 'v') paste();
    else if (withCtrl && event.key === 'a') choose(severalOf(placed));
    else if (event.key.toLowerCase() === 'n' && !ghost && !withCtrl) step(event.shiftKey ? -1 : 1);
    else if ((event.key === 'Delete' || event.key === 'Backspace') && !ghost) takeAway(things);
    else return;
    event.preventDefault();
  };
  const openMenu = (event: MouseEvent) => {
    event.preventDefault();
    // From the keyboard there is no place of the pointer: then it opens on what is picked.
    const byPointer = event.button === 2;
    const spot = toMm(event);
    const under = byPointer ? thingAt(placed, spot) : undefined;
    if (under && !things.some((one) => isSameThing(one, under))) choose([under]);
    const first = placed.find((one) => things.some((each) => isSameThing(each, one.thing)));
    setMenuAt(byPointer || !first ? spot : [(first.box[0] + first.box[2]) / 2, (first.box[1] + first.box[3]) / 2]);
  };
  const toWindow = ([x, y]: Vec2): Vec2 => {
    const box = paper.current!.getBoundingClientRect();
    return [box.left + x * zoom, box.top + y * zoom];
  };
  /** Of what is picked what can be brought in line. */
  const aligned = inLineThings(sheet, placed, things);
  const overlaps = drag.current?.moved ? overlapsOf(placed, things) : [];
  const lifted =
    stored.current && drag.current?.things.every(({ kind }) => kind === 'view')
      ? liftedOf(stored.current.drawn, drawn)
      : null;
  return (
    <div className="desk" ref={desk}>
      <div
        className="paper"
        ref={paper}
        tabIndex={0}
        role="application"
        aria-roledescription="sheet"
        aria-label={`Sheet ${sheet.name}, ${paperLabel(sheet.paper)}. N and Shift N go from thing to thing on it, Tab from balloon to balloon until Escape, arrows move what is picked, Enter types its text, Ctrl A picks everything.`}
        style={{
          width: widthMm * zoom,
          height: heightMm * zoom,
          cursor: ghost ? 'copy' : measuring ? 'crosshair' : undefined,
        }}
        onPointerMove={move}
        onPointerUp={end}
        onPointerDown={(event) => {
          if (ghost || measuring || event.button !== 0) return;
          if (!event.shiftKey) {
            onThings([]);
            pick(null);
          }
          stored.current = null;
          drag.current = { things: [], from: toMm(event), moved: false };
          event.currentTarget.setPointerCapture(event.pointerId);
        }}
        onDoubleClick={(event) => {
          if (!ghost && !measuring) openText(toMm(event));
        }}
        onContextMenu={openMenu}
        onKeyDown={onKey}
      >
        <ViewCanvas
          views={lifted ? layout.views.filter(({ view: one }) => !lifted.views.has(one.id)) : layout.views}
          paper={sheet.paper}
          widthMm={widthMm}
          heightMm={heightMm}
          zoom={zoom}
          lit={lit}
        />
        <svg viewBox={`0 0 ${widthMm} ${heightMm}`}>
          <SceneMarks marks={lifted ? marks.filter(({ source }) => !lifted.isOf(source)) : marks} isLit={isLit} />
          <Handles
            drawn={lifted ? lifted.start : drawn}
            start={start}
            onRow={({ bill }, row) => bill === inputs.bill && pick(bill.rows[row].components[0] ?? null)}
            onFit={(list, column) =>
              perform(
                'fit a column',
                ...sheetSteps(sheet, withColumnWidth(sheet, list, column, null)).map((command) => ({
                  document: id,
                  command,
                })),
              )
            }
            zoom={zoom}
            things={things}
            centreLines={centreLines}
          />
          <PaperOverlays
            width={widthMm}
            height={heightMm}
            zoom={zoom}
            overlaps={overlaps}
            band={band}
            placing={placing}
            measured={measuring ? [measuring.kind === 'distance' ? measuring.first : undefined, hit] : []}
            cross={cross}
            guides={guides}
            ghost={ghost}
          />
        </svg>
        {lifted && <LiftedViews lifted={lifted} paper={sheet.paper} zoom={zoom} lit={lit} />}
        <PaperWords
          zoom={zoom}
          said={ends.said}
          ghost={ghost}
          measuring={measuring}
          placing={placing}
          elsewhere={elsewhere}
          item={measuring?.kind === 'balloon' ? (inputs.bill.rows[measuring.row]?.item ?? '') : ''}
        />
        {waiting && (
          <p className="problem calm" style={{ position: 'absolute', left: 30, top: 30 }}>
            Drawing the view …
          </p>
        )}
        {failed && (
          <p className="problem" style={{ position: 'absolute', left: 30, top: 30 }}>
            {failed}
          </p>
        )}
        {sheet.views.length === 0 && !ghost && (
          <p className="problem calm" style={{ position: 'absolute', left: '12%', top: '30%', width: 300 }}>
            An empty sheet. Place a view, a list and balloons with the verbs above, or let “Make the drawing” do all
            three.
          </p>
        )}
        {typing && (
          <PaperText
            key={typing.key ?? typing.label}
            {...typing}
            zoom={zoom}
            onClose={() => {
              close();
              paper.current?.focus({ preventScroll: true });
            }}
          />
        )}
        {thing && isOfOwnList(thing) && (
          <ListAddColumn
            layout={layout}
            list={thing.kind === 'table' ? thing.id : thing.id.slice(0, thing.id.lastIndexOf(' '))}
            zoom={zoom}
          />
        )}
        {sheet.balloons.length > 0 && layout.views.length > 0 && <Hints layout={layout} zoom={zoom} />}
      </div>
      <PaperMenu
        at={menuAt && toWindow(menuAt)}
        onClose={() => {
          setMenuAt(null);
          paper.current?.focus({ preventScroll: true });
        }}
      >
        {things.some(({ kind }) => kind === 'view' || kind === 'note') && <Menu.Item onClick={copy}>Copy</Menu.Item>}
        {hasCopies() && <Menu.Item onClick={paste}>Paste</Menu.Item>}
        {thing && thing.kind !== 'titleBlock' && (
          <Menu.Item onClick={() => choose(placed.map((one) => one.thing).filter(({ kind }) => kind === thing.kind))}>
            Pick every {thingWords[thing.kind]}
          </Menu.Item>
        )}
        {several.map(({ label, undo, after }) => (
          <Menu.Item
            key={label}
            onClick={() => perform(undo, ...sheetSteps(sheet, after()).map((command) => ({ document: id, command })))}
          >
            {label}
          </Menu.Item>
        ))}
        {aligned.length > 1 &&
          alignments.map((how) => (
            <Menu.Item key={how} onClick={() => take(alignWords[how], alignThings(aligned, how))}>
              {alignWords[how]}
            </Menu.Item>
          ))}
        {aligned.length > 2 && (
          <>
            <Menu.Item onClick={() => take('equal gaps from left to right', distributeThings(aligned, 0))}>
              Equal gaps from left to right
            </Menu.Item>
            <Menu.Item onClick={() => take('equal gaps downwards', distributeThings(aligned, 1))}>
              Equal gaps downwards
            </Menu.Item>
          </>
        )}
        {things.some(({ kind }) => kind !== 'titleBlock') ? (
          <Menu.Item onClick={() => takeAway(things)}>Take away</Menu.Item>
        ) : (
          <Menu.Item onClick={() => choose(severalOf(placed))}>Pick everything</Menu.Item>
        )}
      </PaperMenu>
      <div className="zoom">
        <Tooltip label="Smaller">
          <ActionIcon variant="subtle" color="ink" aria-label="Zoom out" onClick={() => view.zoomBy(1 / 1.25)}>
            <IconMinus size={16} />
          </ActionIcon>
        </Tooltip>
        <Tooltip label="Fit the paper">
          <ActionIcon variant="subtle" color="ink" aria-label="Fit the paper" onClick={view.fit}>
            <IconMaximize size={16} />
          </ActionIcon>
        </Tooltip>
        <Tooltip label="Larger">
          <ActionIcon variant="subtle" color="ink" aria-label="Zoom in" onClick={() => view.zoomBy(1.25)}>
            <IconPlus size={16} />
          </ActionIcon>
        </Tooltip>
      </div>
    </div>
  );
}

const add = (to: Vec2, way: Vec2, by: number): Vec2 => [to[0] + way[0] * by, to[1] + way[1] * by];

/** Places of a component and of everything in it. */
function litPlaces(assembly: SheetInputs['assembly'], picked: number | null): ReadonlySet<PathKey> {
  if (picked === null) return new Set();
  return new Set(
    listOccurrences(assembly, (index) => assembly.components[index].shape !== null).flatMap(({ path, components }) =>
      components.slice(1).includes(picked) ? [pathKey(path)] : [],
    ),
  );
}

const boxOf = ([x0, y0]: Vec2, [x1, y1]: Vec2): Box2 => [
  Math.min(x0, x1),
  Math.min(y0, y1),
  Math.max(x0, x1),
  Math.max(y0, y1),
];

/** What can be done with what is picked, beside the pointer. */
function PaperMenu({ at, onClose, children }: { at: Vec2 | null; onClose: () => void; children: ReactNode }) {
  return (
    <Menu opened={at !== null} onClose={onClose} position="right-start" shadow="md" returnFocus={false}>
      <Menu.Target>
        <button
          className="menuspot"
          tabIndex={-1}
          aria-label="What can be done with what is picked"
          style={{ left: at?.[0] ?? 0, top: at?.[1] ?? 0 }}
        />
      </Menu.Target>
      <Menu.Dropdown>{children}</Menu.Dropdown>
    </Menu>
  );
}
