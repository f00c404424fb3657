import { ActionIcon, Tooltip } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { IconMaximize, IconMinus, IconPlus } from '@tabler/icons-react';
import { useCallback, useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { listOccurrences, pathKey, type PathKey } from '../../../core/src/assembly/index.ts';
import { boxHeight, boxWidth, type Vec2 } from '../../../core/src/geometry/index.ts';
import type { MarkSource } from '../../../core/src/marks/index.ts';
import {
  keepOnPaper,
  paperLabel,
  snapView,
  placeView,
  type Detail,
  type DrawnSheet,
  type Guide,
  type LaidTable,
  type Sheet,
  type SheetInputs,
  type SheetView,
} from '../../../core/src/sheets/index.ts';
import { directionName } from '../../../core/src/views/index.ts';
import type { Command, SheetCommand } from '../../../core/src/documents/index.ts';
import { useProject } from '../data/ProjectContext.tsx';
import { useViewLines } from '../data/views.ts';
import { Hints } from './Hints.tsx';
import { usePaperView } from './usePaperView.ts';
import { removeView } from './removeView.ts';
import { SceneMarks } from './SceneMarks.tsx';
import { ViewCanvas } from './ViewCanvas.tsx';

/** What is picked on paper. */
export interface PickedThing {
  /** `region` and `regionSize`: the piece of a view that the detail of this id enlarges. */
  readonly kind: 'view' | 'balloon' | 'table' | 'note' | 'titleBlock' | 'region' | 'regionSize';
  readonly id: string;
}

export interface PaperSurfaceProps {
  readonly id: string;
  /** As stored; while dragging, `drawn` shows the draft. */ readonly sheet: Sheet;
  readonly drawn: DrawnSheet;
  readonly inputs: SheetInputs;
  /** The sheet as it reads while something is dragged; null when it ends. */ readonly onDraft: (
    draft: Sheet | null,
  ) => void;
  readonly thing: PickedThing | null;
  readonly onThing: (thing: PickedThing | null) => void;
  /** A view on its way to its place, following the pointer. */ readonly ghost: SheetView | null;
  readonly onGhost: (ghost: SheetView | null) => void;
  readonly waiting: boolean;
  readonly failed: string | null;
}

/** What Undo says of a move. */
const moveWords: Readonly<Partial<Record<PickedThing['kind'], string>>> = {
  view: 'move view',
  balloon: 'move balloon',
  note: 'move note',
  region: 'move what the detail shows',
  regionSize: 'size of the detail',
};

/** On screen: a dragged view that is nearer than this to being in line comes to lie in line. */
const SNAP_PX = 6;
/** The view that was copied last, also from another sheet. */
let copied: SheetView | null = null;

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
  thing,
  onThing,
  ghost,
  onGhost,
  waiting,
  failed,
}: PaperSurfaceProps) {
  const { assembly, picked, pick, perform } = useProject();
  const { ref: desk, width, height } = useElementSize();
  const drag = useRef<{ thing: PickedThing; from: Vec2; moved: boolean } | null>(null);
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
  useEffect(() => {
    if (ghostId) paper.current?.focus(); // so that Enter puts the view down and arrow keys move it
  }, [ghostId]);

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
  const start = (picking: PickedThing) => (event: PointerEvent) => {
    if (event.button !== 0 || ghost) return;
    event.stopPropagation();
    (event.target as Element).setPointerCapture(event.pointerId);
    drag.current = { thing: picking, from: toMm(event), moved: false };
    choose(picking);
  };
  const choose = (picking: PickedThing) => {
    onThing(picking);
    const balloon =
      picking.kind === 'balloon' ? layout.balloons.find(({ balloon: one }) => one.id === picking.id) : undefined;
    if (balloon && balloon.row >= 0) pick(inputs.bill.rows[balloon.row].components[0] ?? null);
  };
  const move = (event: PointerEvent) => {
    if (ghost) return onGhost({ ...ghost, centre: keepOnPaper(sheet.paper, toMm(event)) });
    const dragging = drag.current;
    if (!dragging) return;
    const [x, y] = toMm(event);
    const by: Vec2 = [x - dragging.from[0], y - dragging.from[1]];
    if (!dragging.moved && Math.hypot(...by) * zoom < 4) return;
    dragging.moved = true;
    onDraft(moved(sheet, dragging.thing, inLine(dragging.thing, by, event)));
  };
  const end = (event: PointerEvent) => {
    // Where the pointer is now: the ghost on screen may be a frame behind it.
    if (ghost) return dropGhost({ ...ghost, centre: keepOnPaper(sheet.paper, toMm(event)) });
    const dragging = drag.current;
    drag.current = null;
    if (!dragging?.moved) return;
    const [x, y] = toMm(event);
    commit(dragging.thing, inLine(dragging.thing, [x - dragging.from[0], y - dragging.from[1]], event));
  };
  /** The step of a dragged view that brings it in line with others, unless Ctrl is held. */
  const inLine = ({ kind, id: one }: PickedThing, by: Vec2, { ctrlKey }: PointerEvent): Vec2 => {
    const view = kind === 'view' && !ctrlKey ? sheet.views.find((each) => each.id === one) : undefined;
    if (!view) return by;
    const found = snapView(layout, one, add(view.centre, by, 1), SNAP_PX / zoom);
    setGuides(found.guides);
    return [found.centre[0] - view.centre[0], found.centre[1] - view.centre[1]];
  };
  const commit = (what: PickedThing, by: Vec2) => {
    onDraft(null);
    setGuides([]);
    const command = moveCommand(sheet, what, by);
    if (command) perform(moveWords[what.kind] ?? 'move', { document: id, command });
  };
  const dropGhost = (view: SheetView) => {
    perform(`place ${directionName(view.direction)} view`, {
      document: id,
      command: { kind: 'addView', view: { ...view, byHand: true } },
    });
    onThing({ kind: 'view', id: view.id });
    onGhost(null);
  };
  const viewOf = (one: string) => sheet.views.find((view) => view.id === one) ?? null;
  /** A view of its own that shows the same; on its own sheet a little aside. */
  const paste = (view: SheetView) => {
    const { detail: _, projectedFrom: __, ...alone } = view;
    const aside = sheet.views.some((one) => one.centre[0] === view.centre[0] && one.centre[1] === view.centre[1]);
    const made: SheetView = {
      ...alone,
      id: crypto.randomUUID(),
      centre: keepOnPaper(sheet.paper, aside ? add(view.centre, [1, 1], 15) : view.centre),
      byHand: true,
    };
    perform(`paste ${directionName(view.direction)} view`, { document: id, command: { kind: 'addView', view: made } });
    onThing({ kind: 'view', id: made.id });
  };
  const takeAway = (what: PickedThing) => {
    const commands = removeCommands(sheet, what);
    if (commands.length === 0) return;
    perform(
      `take away ${what.kind === 'table' ? 'list' : what.kind}`,
      ...commands.map((command) => ({ document: id, command })),
    );
    onThing(null);
  };
  /** Everything that can be picked, as it is met from the title block over views and lists to the balloons. */
  const things: PickedThing[] = [
    ...(sheet.paper.blank ? [] : [{ kind: 'titleBlock', id: 'titleBlock' } as const]),
    ...layout.views.map(({ view: one }): PickedThing => ({ kind: 'view', id: one.id })),
    ...layout.tables.map(({ table }): PickedThing => ({ kind: 'table', id: table.id })),
    ...drawn.notes.map(({ note }): PickedThing => ({ kind: 'note', id: note.id })),
    ...layout.balloons.map(({ balloon }): PickedThing => ({ kind: 'balloon', id: balloon.id })),
  ];
  const step = (way: 1 | -1) => {
    const at = things.findIndex(({ kind, id: one }) => thing?.kind === kind && thing.id === one);
    const next = at < 0 ? (way > 0 ? 0 : things.length - 1) : (at + way + things.length) % things.length;
    choose(things[next]);
  };
  const onKey = (event: KeyboardEvent) => {
    if (ghost && event.key === 'Enter') dropGhost(ghost);
    else if (event.key === 'Escape') {
      drag.current = null;
      onDraft(null);
      setGuides([]);
      if (ghost) onGhost(null);
      else onThing(null);
    } else if (ARROWS[event.key] && ghost)
      onGhost({
        ...ghost,
        centre: keepOnPaper(sheet.paper, add(ghost.centre, ARROWS[event.key], event.shiftKey ? 20 : 5)),
      });
    else if (ARROWS[event.key] && thing && thing.kind in moveWords)
      commit(thing, add([0, 0], ARROWS[event.key], event.shiftKey ? 10 : event.altKey ? 0.1 : 1));
    else if ((event.ctrlKey || event.metaKey) && event.key === 'c' && thing?.kind === 'view') copied = viewOf(thing.id);
    else if ((event.ctrlKey || event.metaKey) && event.key === 'v' && copied) paste(copied);
    else if (event.key.toLowerCase() === 'n' && !ghost && !event.ctrlKey && !event.metaKey)
      step(event.shiftKey ? -1 : 1);
    else if ((event.key === 'Delete' || event.key === 'Backspace') && thing && !ghost) takeAway(thing);
    else return;
    event.preventDefault();
  };
  return (
    <div className="desk" ref={desk}>
      <div
        className="paper"
        ref={paper}
        tabIndex={0}
        role="application"
        aria-roledescription="sheet"
        aria-label={`Sheet ${sheet.name}, ${paperLabel(sheet.paper)}. N and Shift N go from thing to thing on it, arrows move what is picked.`}
        style={{ width: widthMm * zoom, height: heightMm * zoom, cursor: ghost ? 'copy' : undefined }}
        onPointerMove={move}
        onPointerUp={end}
        onPointerDown={() => {
          if (!ghost) {
            onThing(null);
            pick(null);
          }
        }}
        onKeyDown={onKey}
      >
        <ViewCanvas
          views={layout.views}
          paper={sheet.paper}
          widthMm={widthMm}
          heightMm={heightMm}
          zoom={zoom}
          lit={lit}
        />
        <svg viewBox={`0 0 ${widthMm} ${heightMm}`}>
          <SceneMarks marks={marks} isLit={isLit} />
          <Handles
            drawn={drawn}
            inputs={inputs}
            start={start}
            onRow={(row) => pick(inputs.bill.rows[row].components[0] ?? null)}
            thing={thing}
          />
          {guides.map(({ axis, at }) => (
            <line
              key={axis}
              {...(axis === 'x' ? { x1: at, x2: at, y1: 0, y2: heightMm } : { x1: 0, x2: widthMm, y1: at, y2: at })}
              stroke="#d9541e"
              strokeWidth={1 / zoom}
              pointerEvents="none"
              data-guide={axis}
            />
          ))}
          {ghost && <Ghost view={ghost} />}
        </svg>
        {ghost && (
          <p className="problem calm" style={{ position: 'absolute', left: 30, top: 30 }}>
            Click where it belongs. Enter puts it down here, Esc leaves it.
          </p>
        )}
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
        {sheet.balloons.length > 0 && layout.views.length > 0 && <Hints layout={layout} zoom={zoom} />}
      </div>
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

/** The sheet with a thing moved, for showing while it is dragged. */
function moved(sheet: Sheet, { kind, id }: PickedThing, by: Vec2): Sheet {
  if (kind === 'view')
    return {
      ...sheet,
      views: sheet.views.map((view) =>
        view.id === id ? { ...view, centre: keepOnPaper(sheet.paper, add(view.centre, by, 1)) } : view,
      ),
    };
  if (kind === 'note')
    return {
      ...sheet,
      notes: sheet.notes.map((note) =>
        note.id === id ? { ...note, at: keepOnPaper(sheet.paper, add(note.at, by, 1)) } : note,
      ),
    };
  if (kind === 'region' || kind === 'regionSize') return { ...sheet, views: withRegion(sheet, id, kind, by) };
  if (kind === 'balloon')
    return {
      ...sheet,
      balloons: sheet.balloons.map((balloon) =>
        balloon.id === id ? { ...balloon, offset: add(balloon.offset, by, 1), byHand: true } : balloon,
      ),
    };
  return sheet;
}

/** The views with the piece that a detail shows moved, or its border drawn out, by so much on paper. */
function withRegion({ views }: Sheet, id: string, kind: 'region' | 'regionSize', by: Vec2): readonly SheetView[] {
  return views.map((view) => {
    const parent = view.id === id && view.detail ? views.find((one) => one.id === view.detail!.of) : undefined;
    if (!parent || !view.detail) return view;
    const { centre, radius } = view.detail;
    const [dx, dy] = [by[0] / parent.scale, -by[1] / parent.scale];
    const detail =
      kind === 'region'
        ? { ...view.detail, centre: [centre[0] + dx, centre[1] + dy] as Vec2 }
        : { ...view.detail, radius: Math.max(radius / 20, radius + dx) };
    return { ...view, detail };
  });
}

/** What takes a picked thing off the sheet; a view goes with its balloons. */
function removeCommands(sheet: Sheet, { kind, id }: PickedThing): SheetCommand[] {
  if (kind === 'table') return [{ kind: 'changeTables', remove: [id], put: [] }];
  if (kind === 'balloon') return [{ kind: 'changeBalloons', remove: [id], put: [] }];
  if (kind === 'note') return [{ kind: 'changeNotes', remove: [id], put: [] }];
  if (kind === 'titleBlock') return [];
  return removeView(sheet, id);
}

function moveCommand(sheet: Sheet, what: PickedThing, by: Vec2): Command | null {
  const after = moved(sheet, what, by);
  if (what.kind === 'note') {
    const note = after.notes.find(({ id }) => id === what.id);
    return note ? { kind: 'changeNotes', remove: [], put: [note] } : null;
  }
  if (what.kind === 'region' || what.kind === 'regionSize') {
    const detail = after.views.find(({ id }) => id === what.id)?.detail;
    return detail ? { kind: 'changeView', id: what.id, change: { detail } } : null;
  }
  if (what.kind === 'view') {
    const view = after.views.find(({ id }) => id === what.id);
    return view ? { kind: 'changeView', id: view.id, change: { centre: view.centre, byHand: true } } : null;
  }
  const balloon = after.balloons.find(({ id }) => id === what.id);
  return what.kind === 'balloon' && balloon ? { kind: 'changeBalloons', remove: [], put: [balloon] } : null;
}

interface HandlesProps {
  readonly drawn: DrawnSheet;
  readonly inputs: SheetInputs;
  readonly thing: PickedThing | null;
  readonly start: (thing: PickedThing) => (event: PointerEvent) => void;
  readonly onRow: (row: number) => void;
}

/** Invisible shapes over what can be picked and dragged. */
function Handles({ drawn: { layout, notes }, inputs, thing, start, onRow }: HandlesProps) {
  const [x0, y0, x1, y1] = layout.titleBlock;
  return (
    <g>
      {x1 > x0 && (
        <rect
          className="grab"
          role="button"
          style={{ cursor: 'pointer' }}
          x={x0}
          y={y0}
          width={x1 - x0}
          height={y1 - y0}
          aria-label="Title block"
          onPointerDown={start({ kind: 'titleBlock', id: 'titleBlock' })}
        />
      )}
      {layout.views.map(({ view, box }) => (
        <rect
          key={view.id}
          className="grab"
          role="button"
          x={box[0]}
          y={box[1]}
          width={boxWidth(box)}
          height={boxHeight(box)}
          aria-label={`View ${directionName(view.direction)}`}
          data-view={view.id}
          onPointerDown={start({ kind: 'view', id: view.id })}
          style={
            thing?.kind === 'view' && thing.id === view.id
              ? { stroke: '#d9541e', strokeWidth: 0.5, strokeDasharray: '2 1.5' }
              : undefined
          }
        />
      ))}
      {layout.views.map(({ view: { id, detail } }) => (
        <RegionHandles key={id} id={id} detail={detail} views={layout.views} thing={thing} start={start} />
      ))}
      {layout.tables.map((table) => (
        <TableHandles key={table.table.id} table={table} bill={inputs.bill} start={start} onRow={onRow} />
      ))}
      {notes.map(({ note, box }) => (
        <rect
          key={note.id}
          className="grab"
          role="button"
          x={box[0]}
          y={box[1]}
          width={boxWidth(box)}
          height={Math.max(boxHeight(box), note.lettering)}
          aria-label={`Note ${note.text.slice(0, 40)}`}
          onPointerDown={start({ kind: 'note', id: note.id })}
          style={
            thing?.kind === 'note' && thing.id === note.id
              ? { stroke: '#d9541e', strokeWidth: 0.4, strokeDasharray: '2 1.5' }
              : undefined
          }
        />
      ))}
      {layout.balloons.map(({ balloon, centre, radius, item }) => (
        <circle
          key={balloon.id}
          className="grab"
          role="button"
          cx={centre[0]}
          cy={centre[1]}
          r={radius}
          aria-label={`Balloon ${item}`}
          data-balloon={balloon.id}
          onPointerDown={start({ kind: 'balloon', id: balloon.id })}
        />
      ))}
    </g>
  );
}

/** The piece of its view that a detail shows: taken hold of to move it, at its right end to make it larger or smaller. */
function RegionHandles({
  id,
  detail,
  views,
  thing,
  start,
}: Pick<HandlesProps, 'start' | 'thing'> & {
  id: string;
  detail: Detail | undefined;
  views: DrawnSheet['layout']['views'];
}) {
  const parent = detail && views.find(({ view }) => view.id === detail.of);
  if (!parent) return null;
  const [x, y] = parent.toPaper(...detail.centre);
  const radius = detail.radius * parent.view.scale;
  const isPicked = thing?.id === id && thing.kind !== 'view';
  return (
    <g>
      <circle
        className="grab"
        role="button"
        cx={x}
        cy={y}
        r={radius}
        aria-label={`What detail ${detail.letter} shows`}
        onPointerDown={start({ kind: 'region', id })}
        style={isPicked ? { stroke: '#d9541e', strokeWidth: 0.7 } : undefined}
      />
      {isPicked && (
        <circle
          role="button"
          cx={x + radius}
          cy={y}
          r={2.2}
          fill="#fff"
          stroke="#d9541e"
          strokeWidth={0.6}
          style={{ cursor: 'ew-resize', pointerEvents: 'all' }}
          aria-label={`Border of what detail ${detail.letter} shows`}
          onPointerDown={start({ kind: 'regionSize', id })}
        />
      )}
    </g>
  );
}

function TableHandles({
  table: { table, measured, grows, billRows },
  bill,
  start,
  onRow,
}: Pick<HandlesProps, 'start' | 'onRow'> & { table: LaidTable; bill: SheetInputs['bill'] }) {
  const picking = start({ kind: 'table', id: table.id });
  return measured.strips.map((strip, at) => {
    let y = grows === 'up' ? strip.box[3] - measured.headingHeight : strip.box[1] + measured.headingHeight;
    return (
      <g key={at}>
        <rect
          className="grab"
          role="button"
          style={{ cursor: 'pointer' }}
          x={strip.box[0]}
          y={strip.box[1]}
          width={boxWidth(strip.box)}
          height={boxHeight(strip.box)}
          aria-label="List"
          onPointerDown={picking}
        />
        {Array.from({ length: strip.to - strip.from }, (_, row) => {
          const size = measured.rowHeights[strip.from + row];
          const top = grows === 'up' ? (y -= size) : (y += size) - size;
          const billRow = billRows[strip.from + row];
          if (billRow < 0) return null; // a heading or a sum
          return (
            <rect
              key={row}
              className="grab"
              role="button"
              style={{ cursor: 'pointer' }}
              x={strip.box[0]}
              y={top}
              width={boxWidth(strip.box)}
              height={size}
              aria-label={`Line ${bill.rows[billRow].item}`}
              onPointerDown={(event) => {
                picking(event);
                onRow(billRow);
              }}
            />
          );
        })}
      </g>
    );
  });
}

function Ghost({ view }: { view: SheetView }) {
  const lines = useViewLines(useProject(), [view]).lines.get(view.id);
  if (!lines) return null;
  const { box } = placeView(view, lines);
  return (
    <rect
      x={box[0]}
      y={box[1]}
      width={boxWidth(box)}
      height={boxHeight(box)}
      fill="rgb(217 84 30 / 12%)"
      stroke="#d9541e"
      strokeWidth={0.5}
      pointerEvents="none"
      data-ghost
    />
  );
}
